"""Lines and cells as they come out of files, and the process that reads them."""

import io
import json
import os
import resource
import signal
import subprocess
import sys
import zipfile
from datetime import date, datetime
from pathlib import Path

import docx
import numpy as np
import openpyxl
import pytest

from core.gather.labels import Line
from core.gather.transcript import read_transcript
from core.snapshot.tables import places
from server.coding.models import Coding, Passage
from server.common.columns import integer_columns
from server.common.errors import Refusal
from server.common.folders import one_of
from server.gather import media
from server.gather.models import Turn
from server.gather.readers import forks, reader, sandbox
from server.gather.readers.kinds import Unreadable, check_container, kind_of
from server.gather.readers.sheets import read_grid, read_sheet
from server.gather.readers.transcripts import read_lines
from server.gather.readers.word import docx_lines
from server.snapshots.queries import load


def saved(document) -> bytes:
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


@pytest.fixture
def lines_of(tmp_path):
    """The lines that are read from bytes of this name, and the format said."""

    def read(name, data):
        path = tmp_path / "given"
        path.write_bytes(data)
        content = read_lines(name, path)
        return [Line(*line) for line in content["lines"]], content["format"]

    return read


@pytest.fixture
def rows_of(tmp_path):
    """The rows that are read from bytes of this name, and what is said of them."""

    def read(name, data):
        path = tmp_path / "given"
        path.write_bytes(data)
        found = read_sheet(name, path, tmp_path)
        grid = read_grid(tmp_path / "cells")
        return grid.top(grid.rows), found

    return read


def test_word_paragraphs_breaks_tabs_and_tables(lines_of):
    document = docx.Document()
    paragraph = document.add_paragraph()
    paragraph.add_run("Anna:").bold = True
    paragraph.add_run("\tWell")
    paragraph.add_run(" then").bold = True
    paragraph.add_run().add_break()
    paragraph.add_run("next line")
    document.add_table(1, 2).cell(0, 1).text = "in a cell"
    lines, kind = lines_of("a.docx", saved(document))
    assert kind == "docx"
    assert [(line.text, line.bold) for line in lines if line.text] == [
        ("Anna:\tWell then", 5),
        ("next line", 0),
        ("in a cell", 0),
    ]


def test_a_bold_label_may_end_in_a_plain_colon(lines_of):
    document = docx.Document()
    for label, said in (("Anna", ": Hm?"), ("Bo", ": Yes: no."), ("Anna", ": Oh.")):
        paragraph = document.add_paragraph()
        paragraph.add_run(label).bold = True
        paragraph.add_run(said)
    found = read_transcript(lines_of("a.docx", saved(document))[0])
    assert [found.text[turn.ink_start : turn.ink_end] for turn in found.turns] == ["Hm?", "Yes: no.", "Oh."]


def test_bold_names_within_paragraphs_of_a_word_file_begin_turns(lines_of):
    document = docx.Document()
    for said in (("Anna Roe", " Hello. ", "Bo Lind", " Yes?"), ("Bo Lind", " Well. ", "Anna Roe", " Good.")):
        paragraph = document.add_paragraph()
        for place, piece in enumerate(said):
            paragraph.add_run(piece).bold = place % 2 == 0
    found = read_transcript(lines_of("a.docx", saved(document))[0])
    assert [found.speakers[turn.speaker].label for turn in found.turns] == [
        "Anna Roe",
        "Bo Lind",
        "Bo Lind",
        "Anna Roe",
    ]


def test_bold_switched_off_is_not_bold(lines_of):
    document = docx.Document()
    document.add_paragraph().add_run("plain").bold = False
    assert lines_of("a.docx", saved(document))[0][0].bold == 0


def test_cells_are_the_text_a_researcher_sees(rows_of):
    book = openpyxl.Workbook()
    book.active.append(["ID", "Number", "Share", "Yes", "Day", "Time", "Code"])
    book.active.append(["P1", 3.0, 0.25, True, date(2025, 12, 31), datetime(2025, 1, 2, 3, 4), "007"])
    book.active.append(["P2", None, -1, False, None, None, " x\u00a0y "])
    out = io.BytesIO()
    book.save(out)
    rows, _ = rows_of("s.xlsx", out.getvalue())
    assert rows[1] == ["P1", "3", "0.25", "yes", "2025-12-31", "2025-01-02 03:04:00", "007"]
    assert rows[2] == ["P2", "", "-1", "no", "", "", "x y"]


def test_the_first_sheet_with_content_is_read(rows_of):
    book = openpyxl.Workbook()
    second = book.create_sheet("People")
    second.append(["ID", "Age"])
    second.append(["P1", 30])
    out = io.BytesIO()
    book.save(out)
    rows, found = rows_of("s.xlsx", out.getvalue())
    assert rows[1] == ["P1", "30"]
    assert found["format"] == "sheet “People”"


def test_quoted_cells_keep_separators_and_line_breaks(rows_of):
    rows, _ = rows_of("s.csv", b'ID;Said\nP1;"one; two\nthree"\nP2;"a ""b"""\n')
    assert rows[1:] == [["P1", "one; two\nthree"], ["P2", 'a "b"']]


@pytest.mark.parametrize("name", ["a.webp", "a", "a.doc", "a.svg", "a.exe", ".txt.gz"])
def test_other_kinds_are_refused_with_what_to_do(name):
    with pytest.raises(Unreadable, match=r"Cohortia reads|[Ss]ave"):
        kind_of(name)


@pytest.mark.parametrize(
    ("name", "kind"),
    [
        ("A.TXT", "transcript"),
        ("b.Md", "transcript"),
        ("c.xlsx", "sheet"),
        ("d.tsv", "sheet"),
        ("e.TIF", "image"),
        ("f.sas7bdat", "sheet"),
        ("g.webm", "recording"),
    ],
)
def test_kinds_go_by_the_ending(name, kind):
    assert kind_of(name) == kind


def test_content_that_is_not_what_the_name_says():
    for magic in (b"\x89PNG", b"OggS", b"{\\rtf", b"PK\x03\x04"):
        with pytest.raises(Unreadable, match="but the content is"):
            check_container("a.txt", magic + b"0" * 40)


def test_the_reading_process_answers_in_order_and_survives_bad_files():
    files = [("a.txt", b"P1: x\nI: y\nP1: z"), ("b.docx", b"PK\x03\x04broken"), ("c.csv", b"ID,Age\nP1,2\n")]
    answers = list(sandbox.read_files(files, media.keep))
    assert [sorted(answer) for answer in answers] == [["content"], ["problem"], ["content", "stored"]]
    assert answers[0]["content"]["lines"][1] == ["I: y", 0]
    json.dumps(answers)


def test_a_reading_process_that_dies_is_said_and_the_next_file_is_read(monkeypatch):
    started = []

    def start(folder, seconds):
        child = real(folder, seconds)
        if not started:
            os.kill(child.pid, signal.SIGKILL)
        started.append(child)
        return child

    real = sandbox._start
    monkeypatch.setattr(sandbox, "_start", start)
    answers = list(sandbox.read_files([("a.txt", b"one"), ("b.txt", b"two")], media.keep))
    assert "within the limits" in answers[0]["problem"]
    assert answers[1]["content"]["lines"] == [["two", 0]]
    assert len(started) == 2


def test_each_reading_process_is_forked_anew_within_limits_and_knows_no_secret(tmp_path):
    file = tmp_path / "a.txt"
    file.write_text("P1: hello")
    asked = json.dumps({"name": "a.txt", "path": str(file), "out": str(tmp_path)})
    first, second = (forks.start(tmp_path, 7) for _ in range(2))
    try:
        for child in (first, second):
            child.stdin.write(asked + "\n")
            child.stdin.flush()
            assert "hello" in child.stdout.readline()
            assert os.getsid(child.pid) == child.pid != os.getsid(0)
            assert resource.prlimit(child.pid, resource.RLIMIT_AS)[0] == reader.MEMORY
            assert resource.prlimit(child.pid, resource.RLIMIT_CPU)[0] == 28
            said = (Path("/proc") / str(child.pid) / "environ").read_text().split("\0")
            assert {one.split("=")[0] for one in said if one} == {"PATH", "PYTHONPATH", "PYTHONUTF8", "OPENBLAS_NUM_THREADS"}  # fmt: skip
        first.kill()
        first.kill()
        assert first.stdout.read() == ""
        with pytest.raises(ProcessLookupError):
            os.kill(first.pid, 0)
        # The other goes on until nothing more is asked.
        second.stdin.write(asked + "\n")
        second.stdin.close()
        assert "hello" in second.stdout.read()
    finally:
        for child in (first, second):
            child.kill()
            child.stdout.close()


def test_where_the_one_that_forks_has_gone_another_takes_its_place(tmp_path):
    first = forks.start(tmp_path, 7)
    gone = forks._server.process
    gone.kill()
    gone.wait()
    first.kill()
    assert first.stdout.read() == ""
    (found,) = sandbox.read_files([("a.txt", b"P1: hello")], lambda path: "")
    assert found["content"]["lines"] == [["P1: hello", 0]]
    assert forks._server.process is not gone


def test_a_part_that_unpacks_to_too_much_is_refused_before_any_library_sees_it(lines_of):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("word/document.xml", b" " * (90 * 1024 * 1024))
    assert len(out.getvalue()) < 200_000
    with pytest.raises(Unreadable, match="unpacks to far more"):
        lines_of("a.docx", out.getvalue())


def test_columns_read_whole_agree_with_reading_them_row_by_row(world):
    found = integer_columns(
        "SELECT id::bigint, number::bigint FROM gather_turn WHERE id > %s ORDER BY id", [0], ["id", "number"]
    )
    assert list(zip(found["id"].tolist(), found["number"].tolist(), strict=True)) == list(
        Turn.objects.order_by("id").values_list("id", "number")
    )
    none = integer_columns("SELECT id::bigint FROM gather_turn WHERE id < %s", [0], ["id"])
    assert none["id"].tolist() == []


def test_a_snapshot_holds_the_project_as_the_database_does(world):
    held = load(world.project.pk)
    pairs = {
        (int(held.passage_ids[p]), int(held.code_ids[c]))
        for p, c in zip(held.coding_passage, held.coding_code, strict=True)
    }
    assert pairs == set(Coding.objects.values_list("passage_id", "code_id"))
    bounds = list(zip(held.passage_ids.tolist(), held.passage_start.tolist(), held.passage_end.tolist(), strict=True))
    assert sorted(bounds) == sorted(Passage.objects.values_list("id", "start", "end"))
    assert held.turn_words.sum() == sum(Turn.objects.values_list("words", flat=True))
    assert held.memory > 0


def test_places_of_ids():
    assert places(np.array([30, 10, 20]), np.array([10, 30, 99, -1])).tolist() == [1, 0, -1, -1]
    assert places(np.array([], np.int64), np.array([1])).tolist() == [-1]


def test_no_more_are_read_at_once_than_the_machine_bears(settings, monkeypatch, tmp_path):
    """Four bombs at once would need the memory of four."""
    settings.READERS, settings.LOCAL = 1, tmp_path
    monkeypatch.setattr(sandbox, "PATIENCE", 0.1)
    with one_of(1, "reader", 0) as free:
        assert free
        with pytest.raises(Refusal, match="Many files are being read just now"):
            list(sandbox.read_files([("a.txt", b"P1: hello")], lambda path: ""))
        settings.READERS = 2
        (found,) = sandbox.read_files([("a.txt", b"P1: hello")], lambda path: "")
        assert found["content"]["lines"] == [["P1: hello", 0]]
    settings.READERS = 1
    (found,) = sandbox.read_files([("a.txt", b"P1: hello")], lambda path: "")
    assert "content" in found
    # Who is killed while reading takes no slot along.
    code = (
        "import os, sys, django; sys.path.insert(0, '.'); django.setup(); from server.common.folders import one_of\n"
        "with one_of(1, 'reader', 0) as free:\n    print(free, flush=True); os.kill(os.getpid(), 9)"
    )
    surroundings = {**os.environ, "DJANGO_SETTINGS_MODULE": "server.settings", "COHORTIA_LOCAL": str(tmp_path)}
    killed = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, env=surroundings, check=False)
    assert (killed.stdout.strip(), killed.returncode) == ("True", -9)
    with one_of(1, "reader", 0) as free:
        assert free


def test_a_table_of_speakers_is_read_as_turns_and_comments_stay_on_their_words():
    document = docx.Document()
    document.add_paragraph("Second evening")
    rows = [
        ("Time", "Who", "What"),
        ("0:01", "Ana", "Was it late?"),
        ("0:09", "Ben", "It was, as ever, late again."),
        ("0:20", "Ana", "And what then, tell us all?"),
        ("0:31", "", "Go on, please, all of you."),
    ]
    table = document.add_table(rows=len(rows), cols=3)
    for place, row in enumerate(rows):
        for column, text in enumerate(row):
            table.cell(place, column).text = text
    document.add_comment(table.cell(2, 2).paragraphs[0].runs[0], text="Lateness", author="Kim", initials="K")
    # A cell over time and speaker: whoever spoke goes on.
    table.cell(4, 0).merge(table.cell(4, 1))
    out = io.BytesIO()
    document.save(out)
    lines, remarks, told = docx_lines(out.getvalue())
    assert told == ["A table says who speaks: 4 rows of it are read as turns."]
    found = read_transcript(lines, None, remarks)
    turns = [
        (found.speakers[one.speaker].label, one.time, found.text[one.ink_start : one.ink_end]) for one in found.turns
    ]
    assert turns[1:3] == [("Ana", "0:01", "Was it late?"), ("Ben", "0:09", "It was, as ever, late again.")]
    assert turns[3][2].endswith("Go on, please, all of you.")
    assert [found.text[mark.start : mark.end] for mark in found.marks] == ["It was, as ever, late again."]
    # A table of facts stays as it is.
    facts = docx.Document()
    sheet = facts.add_table(rows=3, cols=2)
    for place, (name, value) in enumerate([("Name", "Ana Voss"), ("Place", "the outer island"), ("Age", "fifty-two")]):
        sheet.cell(place, 0).text, sheet.cell(place, 1).text = name, value
    out = io.BytesIO()
    facts.save(out)
    assert not any(line.voice for line in docx_lines(out.getvalue())[0])
