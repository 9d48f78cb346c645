"""Nothing is read wrong or left out in silence: each of these comes out right, or is said before anything is brought in."""

import io
import zipfile

import docx
import openpyxl
import pytest
from docx.oxml import OxmlElement, parse_xml
from docx.oxml.ns import nsdecls

from server.gather import media
from server.gather.models import Document, StagedFile
from server.gather.readers import reader, word
from server.gather.readers.sheets import read_grid
from server.imports import actions as imports
from server.people.models import Case, Value
from server.projects.models import JobState
from tests.server.conftest import bring_in, upload

RUSSIAN = "Интервьюер: Как дела?\nП1: Паром опять опоздал, и мы ждали на причале до вечера.\n"


@pytest.fixture
def read(tmp_path):
    """What a file is read as: its content, or the sentence that refuses it."""

    def read(name: str, data: bytes) -> dict:
        path, out = tmp_path / "file", tmp_path / "out"
        path.write_bytes(data)
        out.mkdir(exist_ok=True)
        answer = reader.answer({"name": name, "path": str(path), "out": str(out)})
        if "stored" in answer:
            answer["content"]["rows"] = [[column.cell(row) for column in grid.columns] for grid in [read_grid(out / "cells")] for row in range(grid.rows)]  # fmt: skip
        return answer.get("content", answer)

    return read


def said(content: dict) -> str:
    return " ".join(content["warnings"])


def words_of(content: dict) -> str:
    return "\n".join(line[0] for line in content["lines"])


def test_letters_are_guessed_said_and_shown_in_other_ways(read):
    found = read("talk.txt", RUSSIAN.encode("koi8-r"))
    assert words_of(found) == RUSSIAN.strip()
    assert "It is read as koi8-r (Cyrillic)" in said(found)
    assert found["encoding"]["read_as"] == "koi8-r"
    samples = {one["id"]: one["sample"] for one in found["encoding"]["choices"]}
    assert samples["koi8-r"] == "Интервьюер: Как дела?"
    assert len(samples) > 3
    assert len(set(samples.values())) > 2
    assert read("talk.txt", RUSSIAN.encode())["encoding"] == {}


def test_one_bad_byte_is_placed(read):
    found = read("talk.txt", ("P1: schön war’s, über alles\n" * 9).encode() + b"P1: so \x96 late\n")
    assert "One byte doesn’t fit utf-8 and stands as � in the text: it is in line 10, column 8 (byte 0x96)." in said(
        found
    )
    assert found["encoding"]["read_as"] == "utf-8"


def test_letters_are_read_again_as_somebody_chooses(world, django_capture_on_commit_callbacks):
    data = "Badacz: Jak było?\nP1: źle\n".encode("cp1250")
    (row,) = imports.stage(world.owner, [upload("talk.txt", data)])
    client = world.client(world.owner.account)
    staged = next(one for one in client.get(world.url("/staged")).json() if one["id"] == row.pk)
    assert staged["encoding"]["read_as"] == "cp1250"
    address = world.url(f"/staged/{row.pk}")
    wrong = client.patch(address, {"choices": {"encoding": "cp1251"}}, format="json").json()
    assert wrong["encoding"]["read_as"] == "cp1251"
    assert "џle" in wrong["transcript"]["first_turns"][1]["text"]
    assert client.patch(address, {"choices": {"encoding": "klingon"}}, format="json").status_code == 400
    right = client.patch(address, {"choices": {"encoding": "cp1250"}}, format="json").json()
    assert right["transcript"]["first_turns"][1]["text"] == "źle"
    source = StagedFile.objects.get(pk=row.pk).content["source"]
    assert media.path_of(source).exists()
    imports.discard_staged(world.owner, StagedFile.objects.filter(pk=row.pk))
    assert not media.path_of(source).exists()


def test_a_sheet_is_read_again_too_and_lets_go_of_its_first_reading(world):
    (row,) = imports.stage(world.owner, [upload("people.csv", "ID;Miejsce\nP8;Łódź\nP9;Żary\n".encode("cp1250"))])
    before = row.stored
    answer = world.client(world.owner.account).patch(
        world.url(f"/staged/{row.pk}"), {"choices": {"encoding": "cp1252"}}, format="json"
    )
    assert "£ódŸ" in answer.json()["sheet"]["columns"][1]["first_values"]
    assert not media.path_of(before).exists()
    utf = imports.stage(world.owner, [upload("plain.txt", "P1: hello")])[0]
    refused = world.client(world.owner.account).patch(
        world.url(f"/staged/{utf.pk}"), {"choices": {"encoding": "cp1252"}}, format="json"
    )
    assert "nothing to choose" in refused.json()["error"]


def test_a_quote_that_never_closes_is_placed(read):
    found = read("a.csv", b'ID,Town,Say\nP1,Holm,"a ""b"" c"\nP2,Ytter,"never closed\nP3,Holm,ok\n')
    assert found["problem"].startswith("In line 3, column 10, a quotation mark opens a cell and never closes.")
    # One that stands inside a cell opens nothing.
    assert read("a.csv", b'ID,Height\nP1,5 ft 6"\nP2,6 ft\n')["rows"][1] == ["P1", '5 ft 6"']


def test_a_quote_that_swallows_rows_is_told(read):
    found = read("a.csv", b'ID,Town,Say\nP1,Holm,"open\nP2,Ytter,fine\nP3,Holm,closed"\nP4,Holm,ok\nP5,Holm,ok\n')
    assert "A cell that begins in line 2 goes over 3 lines that look like rows of their own" in said(found)
    fine = read("a.csv", b'ID,Say\nP1,"Well, yes\nno, I mean"\nP2,ok\n')
    assert "rows of their own" not in said(fine)
    large = "ID,Town,Say\n" + "".join(f"P{n},Holm,something or other\n" for n in range(90_000))
    swallowing = large + 'P100000,Holm,"open\nP100001,Holm,x"\n'
    assert "A cell that begins in line 90,002 goes over 2 lines" in said(read("a.csv", swallowing.encode()))


def test_ragged_rows_are_told_with_their_lines(read):
    found = read("a.csv", b"ID,Town,Say\nP1,Holm\nP2,Ytter,ok,extra,more\nP3,Holm,ok\nP4,Holm,ok\n")
    assert "Line 3 has more than the usual 3 cells" in said(found)
    assert "Line 2 has fewer than the usual 3 cells; what lacks is read as empty." in said(found)
    assert found["rows"][2] == ["P2", "Ytter", "ok", "extra", "more"]
    assert read("a.csv", b"ID,Town\nP1,Holm\n\nP2,Ytter\n")["warnings"] == []


def test_formulas_that_failed_are_unknown_and_said(world):
    rows = b"ID,Town,Score\nP8,Holm,#DIV/0!\nP9,#REF!,4\nP10,Holm,3\n"
    (row,) = imports.stage(world.owner, [upload("people.csv", rows)])
    answer = world.client(world.owner.account).get(world.url("/staged")).json()
    sheet = next(one for one in answer if one["id"] == row.pk)["sheet"]
    assert (
        "“Score” holds formulas that failed: #DIV/0! (1), the first in row 2. They are read as unknown."
        in sheet["warnings"]
    )
    assert next(one for one in sheet["columns"] if one["name"] == "Score")["kind"] == "number"
    assert "#REF!" not in next(one for one in sheet["columns"] if one["name"] == "Town")["categories"]


def workbook(change=lambda sheet: None) -> bytes:
    book = openpyxl.Workbook()
    sheet = book.active
    for line in (["ID", "Age", "Twice"], ["P1", 4, "=B2*2"], ["P2", 5, "=B3*2"]):
        sheet.append(line)
    change(sheet)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def test_formulas_without_a_kept_value_are_named(read):
    found = read("a.xlsx", workbook())
    assert said(found).startswith(
        "2 formulas hold no value (C2, C3): the program that wrote the file didn’t work them out"
    )
    assert read("a.xlsx", workbook(lambda sheet: sheet.delete_cols(3)))["warnings"] == []
    # With a value kept beside each, as a spreadsheet program writes it.
    kept = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(workbook())) as source, zipfile.ZipFile(kept, "w") as out:
        for name in source.namelist():
            content = source.read(name)
            if name.endswith("sheet1.xml"):
                content = (
                    content.replace(b"<v></v>", b"<v>8</v>")
                    .replace(b"<v />", b"<v>8</v>")
                    .replace(b"<v/>", b"<v>8</v>")
                )
            out.writestr(name, content)
    found = read("a.xlsx", kept.getvalue())
    assert (found["warnings"], found["rows"][1][2]) == ([], "8")


def test_cells_and_labels_beyond_a_limit_are_counted(read, world):
    long = "x" * 20_001
    found = read("a.csv", f"ID,Say\nP1,{long}\nP2,ok\n".encode())
    assert said(found) == "A cell holds more than 20,000 characters; what is beyond is left out: it is B2."
    label = "y" * 201
    rows = "ID,Town\n" + "".join(f"P{n},{label if n % 2 else 'Holm'}\n" for n in range(10))
    (row,) = imports.stage(world.owner, [upload("people.csv", rows)])
    world.client(world.owner.account).patch(world.url(f"/staged/{row.pk}"), {"choices": {"columns": {"Town": {"kind": "category"}}}}, format="json")  # fmt: skip
    staged = world.client(world.owner.account).get(world.url("/staged")).json()
    assert "more than 200 characters, too long for groups" in " ".join(
        next(one for one in staged if one["id"] == row.pk)["sheet"]["problems"]
    )


def test_an_id_that_stands_twice_is_told_and_another_column_isn_t_taken_for_it(world):
    (row,) = imports.stage(world.owner, [upload("people.csv", b"ID,Town\nANNA,Skerry\nANNA,Other\nBEA,Third\n")])
    sheet = next(
        one for one in world.client(world.owner.account).get(world.url("/staged")).json() if one["id"] == row.pk
    )["sheet"]
    assert [one["role"] for one in sheet["columns"]] == ["case_id", "variable"]
    assert sheet["problems"][0].startswith("The ID “ANNA” stands in rows 2 and 3.")


def test_a_value_that_doesn_t_fit_the_projects_variable_is_shown_before(world):
    """“Age” is a number here: a sheet in which it is words once failed as a whole, after minutes."""
    rows = b"ID,Age\nP1,young\nP2,71\nP8,old\n"
    (row,) = imports.stage(world.owner, [upload("more.csv", rows)])
    client = world.client(world.owner.account)
    sheet = next(one for one in client.get(world.url("/staged")).json() if one["id"] == row.pk)["sheet"]
    problem = "“young”, “old” don’t fit “Age”, which is a number here. Give the column another name, or leave it out."
    assert problem in sheet["problems"]
    assert problem in client.post(world.url("/bring-in")).json()["error"]
    client.patch(
        world.url(f"/staged/{row.pk}"), {"choices": {"columns": {"Age": {"name": "Age in words"}}}}, format="json"
    )
    job = bring_in(world.owner)
    assert job.state == JobState.DONE, job.message
    assert (
        Value.objects.filter(variable__name="Age in words", words="young").exists()
        or Case.objects.filter(identifier="P8").exists()
    )


def made_docx(change) -> bytes:
    document = docx.Document()
    document.add_paragraph("P1: We waited on the quay.")
    change(document)
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def test_hidden_words_of_a_docx_are_left_out_and_counted(read):
    def hide(document):
        run = document.paragraphs[0].add_run(" nobody may read this")
        run.font.hidden = True

    found = read("a.docx", made_docx(hide))
    assert words_of(found) == "P1: We waited on the quay."
    assert "4 words are hidden in Word and left out" in said(found)


def test_a_text_box_is_read_once_though_the_file_says_it_twice(read):
    inner = "<w:txbxContent><w:p><w:r><w:t>P2: In a box.</w:t></w:r></w:p></w:txbxContent>"
    box = (
        f'<w:r {nsdecls("w")} xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006"><mc:AlternateContent>'
        f'<mc:Choice Requires="wps">{inner}</mc:Choice><mc:Fallback>{inner}</mc:Fallback></mc:AlternateContent></w:r>'
    )
    found = read("a.docx", made_docx(lambda document: document.paragraphs[0]._p.append(parse_xml(box))))
    assert words_of(found) == "P1: We waited on the quay.\nP2: In a box."


def test_what_of_a_docx_isn_t_read_is_said(read):
    def more(document):
        chunk = OxmlElement("w:altChunk")
        document.element.body.insert(1, chunk)
        document.paragraphs[0]._p.append(
            parse_xml(f'<w:del {nsdecls("w")} w:id="1"><w:r><w:delText>taken back</w:delText></w:r></w:del>')
        )

    found = read("a.docx", made_docx(more))
    assert "1 part of the text is another file put inside this one, and is not read." in said(found)
    assert "2 words are marked as deleted (tracked changes) and left out." in said(found)
    assert "taken back" not in words_of(found)


def test_comments_beyond_the_limit_are_counted(read, monkeypatch):
    monkeypatch.setattr(word, "MAX_REMARKS", 3)

    def comment(document):
        for number in range(5):
            run = document.add_paragraph("P1: word").runs[0]
            document.add_comment(run, text=f"look {number}", author="Bea")

    found = read("a.docx", made_docx(comment))
    assert len(found["remarks"]) == 3
    assert "The file has 5 comments: the first 3 are read, 2 left out." in said(found)


def test_hidden_words_and_notes_of_an_rtf_are_counted(read):
    body = rb"{\rtf1\ansi P1: seen {\v not for you}again\v hidden too\v0  and on{\footnote a note}\par P2: yes\par}"
    found = read("a.rtf", body)
    assert words_of(found) == "P1: seen again and on\nP2: yes"
    assert "5 words are hidden in the file and left out." in said(found)
    assert "1 footnote is not read." in said(found)
    assert "breaks off before its end" in said(read("a.rtf", rb"{\rtf1\ansi P1: cut {\b off"))


def test_hundreds_of_thousands_of_empty_lines_hide_nothing(read):
    found = read("a.txt", b"\n" * 400_000 + b"P1: here\n\n\n\n\n\nI: and here" + b"\n" * 200_000)
    assert [line[0] for line in found["lines"]] == ["P1: here", "", "", "I: and here"]
    assert read("a.txt", b" \n" * 400_000)["problem"] == "The file is empty."


def test_a_sheet_without_names_offers_to_name_its_columns(world):
    (row,) = imports.stage(world.owner, [upload("people.csv", b"P11,Holm,34\nP12,Ytter,71\nP13,Holm,22\n")])
    sheet = next(
        one for one in world.client(world.owner.account).get(world.url("/staged")).json() if one["id"] == row.pk
    )["sheet"]
    assert (sheet["header"], sheet["rows"]) == (-1, 3)
    assert "No row of column names was found" in sheet["warnings"][0]
    assert [one["name"] for one in sheet["columns"]] == ["Column 1", "Column 2", "Column 3"]


def test_texts_in_old_encodings_come_in_as_they_were(world):
    job = bring_in(world.owner, ("old.txt", RUSSIAN.encode("cp1251")))
    assert job.state == JobState.DONE, job.message
    assert "Паром опять опоздал" in Document.objects.get(title="old").text
    assert not Document.objects.get(title="old").media.exists()


def test_an_open_quote_is_found_however_many_others_there_are(read):
    """With a sign for inches before it the quotation marks are even in number, and the rest was once one cell."""
    found = read("a.csv", b'ID,Height,Say\nP1,5 ft 6",ok\nP2,6 ft,"never closed\nP3,6 ft,ok\n')
    assert found["problem"].startswith("In line 3, column 9, a quotation mark opens a cell and never closes.")
    assert read("a.csv", b'ID,Say\nP1,"two\nlines"')["rows"][1] == ["P1", "two\nlines"]
    assert read("a.csv", b'ID,Say\r\nP1,"two\r\nlines ""so"""\r\n')["rows"][1] == ["P1", 'two\r\nlines "so"']
