"""Comparisons over HTTP: figures, evidence, exports, and snapshots that are never stale."""

import csv
import io
import json
import math
import zipfile

import docx
import openpyxl
import pandas as pd
import pytest

from server.coding import actions as coding
from server.coding.models import Code, Passage
from server.compare.exports import tidy
from server.gather import actions as gather
from server.gather.models import Document, Speaker
from server.people import actions as people
from server.people.models import Case, Variable
from server.snapshots import queries as snapshots
from tests.server.conftest import put


@pytest.fixture
def ask(world, crosses):
    """Ask something of the comparison of all codes across *Crosses*."""
    client = world.client(world.viewer.account)

    def asking(path="/compare", **said):
        question = {
            "codes": list(
                Code.objects.filter(project=world.project).order_by("position", "id").values_list("id", flat=True)
            ),
            "variable": crosses.pk,
        }
        return client.post(world.url(path), {**question, **said}, format="json")

    return asking


def rows(answer):
    return {row["name"]: row for row in answer.json()["rows"]}


def test_a_first_honest_cross_tabulation(ask):
    answer = ask()
    found = rows(answer)
    assert [group["name"] for group in answer.json()["groups"]] == ["never", "daily"]
    assert [group["people"] for group in answer.json()["groups"]] == [1, 1]
    assert [cell["count"] for cell in found["Getting across"]["cells"]] == [0, 1]
    assert [cell["count"] for cell in found["Home"]["cells"]] == [1, 1]
    assert found["Late"]["difference"]["difference"] == 1
    assert answer.json()["left_out_line"] == "Adds up: 3 passages in scope = 3 in this table."


def test_roll_up_and_bases(ask):
    assert rows(ask(roll_up=False))["Getting across"]["total"]["passages"] == 0
    assert [group["people"] for group in ask(base="everyone").json()["groups"]] == [2, 1]
    rate = rows(ask(measure="rate"))["Late"]["cells"][1]
    # P1 says "The boat was late again. I waited. Then I walked home." in the pier talk: 11 words.
    assert (rate["count"], rate["base"]) == (1, 11)
    assert rate["figure"] == pytest.approx(1000 / 11)


def test_every_write_is_seen_at_once(world, ask):
    pier = Document.objects.get(title="P1_pier")
    ask()
    put(world.owner, pier, "I waited", Code.objects.get(name="Late"))
    assert rows(ask())["Late"]["total"]["passages"] == 2
    gather.change_speaker(world.owner, Speaker.objects.get(label="P1").pk, case_id=None)
    left = {part["reason"]: part["passages"] for part in ask().json()["left_out"]}
    assert left == {"in_table": 1, "not_linked": 3}
    people.set_value(
        world.owner, Case.objects.get(identifier="P2").pk, Variable.objects.get(name="Crosses").pk, "", "not_asked"
    )
    left = {part["reason"]: part["passages"] for part in ask().json()["left_out"]}
    assert left == {"in_table": 0, "not_linked": 3, "not_asked": 1}


def test_an_interviewers_words_are_nobodys(world, ask):
    put(world.owner, Document.objects.get(title="P1_pier"), "And then?", Code.objects.get(name="Late"))
    answer = ask()
    assert rows(answer)["Late"]["left_out"]["interviewer_only"] == 1
    found = ask("/compare/evidence", left_out="interviewer_only").json()
    assert [(person["case"], person["passages"][0]["text"]) for person in found["persons"]] == [(None, "And then?")]


def test_evidence_shows_who_said_it_and_who_did_not(ask):
    order = [row["name"] for row in ask().json()["rows"]]
    found = ask("/compare/evidence", row=order.index("Late"), group=1).json()
    person = found["persons"][0]
    assert (person["identifier"], person["total"]) == ("P1", 1)
    assert {"variable": "Island", "text": "Holm", "missing": None} in person["facts"]
    quote = person["passages"][0]
    assert (quote["text"], quote["after"], quote["turn"]) == ("The boat was late 🚢 again.", " I waited.", 2)
    silent = ask("/compare/evidence", row=order.index("Late"), group=0).json()
    assert [person["identifier"] for person in silent["silent"]] == ["P2"]
    assert ask("/compare/evidence", row=99, group=0).status_code == 400


def test_what_is_coded_around_a_number(world, ask):
    pier = Document.objects.get(title="P1_pier")
    put(world.coder, pier, "late 🚢 again", Code.objects.get(name="Home"))
    rows = {row["name"]: place for place, row in enumerate(ask("/compare").json()["rows"])}
    found = ask("/compare/evidence/around", row=rows["Late"], group=None).json()["codes"]
    assert [(one["name"], one["people"], one["passages"]) for one in found] == [("Home", 1, 1)]
    # Rolled up, what lies beneath the row is of the row.
    assert ask("/compare/evidence/around", row=rows["Getting across"], group=None).json()["codes"] == found
    assert ask("/compare/evidence/around", row=rows["Home"], group=0).json()["codes"] == []


def test_numbers_are_cut_into_bands_and_groups_chosen(world, ask):
    age = Variable.objects.get(name="Age")
    answer = ask(variable=age.pk, cuts=[40]).json()
    assert [group["name"] for group in answer["groups"]] == ["under 40", "40 and over"]
    chosen = ask(variable=age.pk, cuts=[40], groups=["40 and over"]).json()
    assert [part["reason"] for part in chosen["left_out"]] == ["in_table", "outside"]
    text = Variable.objects.get(name="Island")
    people.change_variable(world.owner, text.pk, kind="text")
    refused = ask(variable=text.pk)
    assert "doesn’t make groups" in refused.json()["error"]


def test_dates_are_groups_by_month_quarter_or_year(world, ask):
    came = people.make_variable(world.owner, "Came", "date")
    for name, day in (("P1", "2001-03-31"), ("P2", "1999-04-01")):
        people.set_value(world.owner, Case.objects.get(identifier=name).pk, came.pk, day)
    answer = ask(variable=came.pk).json()
    # The shortest period that makes few groups is proposed.
    assert (answer["period"], answer["ordered"]) == ("month", True)
    named = {
        period: [group["name"] for group in ask(variable=came.pk, period=period).json()["groups"]]
        for period in ("month", "quarter", "year")
    }
    assert named == {"month": ["1999-04", "2001-03"], "quarter": ["1999 Q2", "2001 Q1"], "year": ["1999", "2001"]}
    chosen = ask(variable=came.pk, period="year", groups=["2001"]).json()
    assert [(group["name"], group["people"]) for group in chosen["groups"]] == [("2001", 1)]
    assert ask(variable=Variable.objects.get(name="Age").pk).json()["period"] is None
    # A fact about documents is an axis too, and holds its people in all of their periods.
    held = people.make_variable(world.owner, "Held", "date", "document")
    for title, day in (("P1_pier", "2026-01-05"), ("P2_garden", "2026-11-06")):
        cell = people.Typed(Document.objects.get(title=title).pk, held.pk, day)
        people.set_values(world.owner, [cell], "document")
    answer = ask(variable=held.pk, period="quarter").json()
    assert [(group["name"], group["people"]) for group in answer["groups"]] == [("2026 Q1", 1), ("2026 Q4", 1)]
    assert ask(variable=came.pk, period="week").status_code == 400


def test_scope_narrows_and_says_so(world, ask):
    only = [Document.objects.get(title="P1_pier").pk]
    answer = ask(scope={"documents": only, "coders": [world.owner.account.pk]}).json()
    assert answer["in_scope"] == 2
    assert "only 1 of 2 documents and 1 of 2 coders" in "".join(part["text"] for part in answer["sentence"])


@pytest.fixture
def dangerous(world):
    """Names that a spreadsheet would take for formulas."""
    for name in ("=HYPERLINK(1)", "+1", "-1+2", "@SUM(A1)"):
        code = coding.create_code(world.owner, name)
        put(world.owner, Document.objects.get(title="P1_pier"), "I waited", code)


def test_export_to_xlsx_reads_back(ask, dangerous):
    shown = ask().json()
    book = openpyxl.load_workbook(io.BytesIO(ask("/compare/export", format="xlsx").content))
    sheet = book.active
    assert sheet["A1"].value == "".join(part["text"] for part in shown["sentence"])
    table = [[cell.value for cell in row] for row in sheet.iter_rows(min_row=3, max_row=3 + len(shown["rows"]))]
    for line, row in zip(table[1:], shown["rows"], strict=True):
        held = dict(zip(table[0], line, strict=True))
        assert held["Row"] == row["name"]
        assert held["daily: people"] == row["cells"][1]["count"]
        assert held["daily: share"] == pytest.approx(row["cells"][1]["figure"])
    tests = [[cell.value for cell in row] for row in book["Tests"].iter_rows(min_row=3)]
    for line, row in zip(tests[1:], shown["rows"], strict=True):
        held = dict(zip(tests[0], line, strict=True))
        wanted = row["test"]["holm"]
        assert held["p, Holm"] == (None if wanted is None else pytest.approx(wanted))
    methods = [cell.value for cell in book["Methods"]["A"]]
    assert shown["methods"] in methods
    assert set(shown["sources"]) <= set(methods)
    assert all(cell.data_type != "f" for row in sheet.iter_rows() for cell in row)
    texts = [cell.value for row in sheet.iter_rows() for cell in row if isinstance(cell.value, str)]
    assert shown["left_out_line"] in texts
    assert {"=HYPERLINK(1)", "+1", "-1+2", "@SUM(A1)"} <= set(texts)


def test_export_to_csv_reads_back(ask, dangerous):
    answer = ask("/compare/export", format="csv")
    assert 'filename="crossings-comparison.csv"' in answer["Content-Disposition"]
    lines = list(csv.reader(io.StringIO(answer.content.decode("utf-8-sig"))))
    assert lines[0][0].startswith("Compare all 7 codes across Crosses")
    first = [line[0] for line in lines if line]
    assert "'=HYPERLINK(1)" in first
    assert not any(cell[:1] in ("=", "+", "@") for line in lines for cell in line)
    assert any(line and line[0].startswith("Adds up: ") for line in lines)


def tidy_of(ask, **asked):
    """The tidy export as other programs read it: two tables, and what is said of them."""
    answer = ask("/compare/export", format="zip", **asked)
    assert 'filename="crossings-comparison.zip"' in answer["Content-Disposition"]
    with zipfile.ZipFile(io.BytesIO(answer.content)) as file:
        assert file.namelist() == ["cells.csv", "rows.csv", "about.txt"]
        tables = [pd.read_csv(file.open(name)) for name in ("cells.csv", "rows.csv")]
        return *tables, file.read("about.txt").decode()


def test_the_tidy_export_is_one_header_and_numbers(ask, dangerous):
    shown = ask().json()
    cells, rows, about = tidy_of(ask)
    assert len(cells) == len(shown["rows"]) * len(shown["groups"])
    at = cells.set_index(["row_id", "group"])
    for row in shown["rows"]:
        for group, cell in zip(shown["groups"], row["cells"], strict=True):
            line = at.loc[(row["id"], group["label"])]
            assert (line["count"], line["base"], line["group_size"]) == (cell["count"], cell["base"], group["people"])
            assert line["figure"] == pytest.approx(cell["figure"], nan_ok=True)
    assert rows["row_id"].tolist() == [row["id"] for row in shown["rows"]]
    assert rows["everyone_count"].tolist() == [row["total"]["count"] for row in shown["rows"]]
    p = [row["test"]["p"] for row in shown["rows"]]
    assert rows["p"].tolist() == pytest.approx([math.nan if one is None else one for one in p], nan_ok=True)
    assert "'=HYPERLINK(1)" in rows["row"].tolist()
    assert "".join(part["text"] for part in shown["sentence"]) in about
    assert shown["left_out_line"] in about
    assert all(f"{name}" in about for name in ("group_size", "residual", "everyone_", shown["methods"]))


def test_the_tidy_export_tells_which_groups_differ_by_how_much(ask):
    shown = ask(difference=["never", "daily"]).json()
    _, rows, _ = tidy_of(ask, difference=["never", "daily"])
    assert set(rows["first_group"]) == {"never"}
    assert set(rows["second_group"]) == {"daily"}
    assert rows["difference"].tolist() == pytest.approx([row["difference"]["difference"] for row in shown["rows"]])
    assert rows["difference_low"].tolist() == pytest.approx([row["difference"]["low"] for row in shown["rows"]])


def test_the_tidy_export_hides_small_cells(ask):
    cells, _, about = tidy_of(ask, least=3)
    hidden = cells[cells["hidden"] == 1]
    assert len(hidden)
    assert hidden[["figure", "count", "base", "people", "passages"]].isna().all(axis=None)
    assert "of fewer than 3 people" in about


def test_the_tidy_export_tells_no_size_that_may_not_leave(ask):
    """Of a group, and of all: a base of 0 would be read as nobody."""
    shown = ask().json()
    small = {**shown["groups"][0], "hidden": True, "people": 0}
    guarded = {**shown, "guarded": True, "everyone": 0, "groups": [small, *shown["groups"][1:]]}
    (head, first, second, *_), (over, line, *_) = tidy.cells_of(guarded), tidy.rows_of(guarded)
    told = dict(zip(head, first, strict=True))
    assert (told["group_size"], told["base"]) == (None, None)
    assert dict(zip(head, second, strict=True))["base"] == shown["rows"][0]["cells"][1]["base"]
    assert dict(zip(over, line, strict=True))["everyone_base"] is None


def test_what_is_pasted_is_one_header_with_figure_count_and_base_apart(ask, dangerous):
    shown = ask().json()
    answer = ask("/compare/export", format="tsv")
    table = pd.read_csv(io.BytesIO(answer.content), sep="\t")
    assert table["Row"].tolist()[:2] == [row["name"] for row in shown["rows"]][:2]
    for line, row in zip(table.to_dict("records"), shown["rows"], strict=True):
        for group, cell in zip(shown["groups"], row["cells"], strict=True):
            assert (line[f"{group['name']}: people"], line[f"{group['name']}: base"]) == (cell["count"], cell["base"])
            assert line[f"{group['name']}: share"] == pytest.approx(cell["figure"], nan_ok=True)
    assert "'=HYPERLINK(1)" in table["Row"].tolist()


def test_export_to_docx_reads_back(ask, dangerous):
    shown = ask().json()
    document = docx.Document(io.BytesIO(ask("/compare/export", format="docx").content))
    texts = [paragraph.text for paragraph in document.paragraphs]
    assert "".join(part["text"] for part in shown["sentence"]) in texts
    assert shown["methods"] in texts
    table = [[cell.text for cell in row.cells] for row in document.tables[0].rows]
    assert [line[0] for line in table[1:]] == [row["name"] for row in shown["rows"]]
    cell = shown["rows"][0]["cells"][1]
    assert table[1][2] == f"{100 * cell['figure']:.0f} % ({cell['count']} of {cell['base']})"


def hidden_in(ask, **asked) -> tuple[list[list[int]], list[str]]:
    """Which figures of each row are hidden in a spreadsheet, everyone's last; and all its texts."""
    book = openpyxl.load_workbook(io.BytesIO(ask("/compare/export", format="xlsx", **asked).content))
    rows = [[cell.value for cell in row] for row in book.active.iter_rows(min_row=3)]
    shares = [at for at, name in enumerate(rows[0]) if name and str(name).endswith(": share")]
    texts = [value for line in rows for value in line if isinstance(value, str)]
    return [[int(line[at] == "hidden") for at in shares] for line in rows[1:4]], texts


def test_small_cells_leave_neither_by_themselves_nor_by_a_total(ask):
    hidden, texts = hidden_in(ask, least=3)
    assert any(map(any, hidden))
    # Never one alone: the others and the total would tell it.
    assert all(sum(row) != 1 for row in hidden)
    assert any("of fewer than 3 people" in text for text in texts)
    assert not any(text.startswith("Adds up") for text in texts)
    assert "P1" not in texts


def test_the_limit_of_the_project_holds_for_all_that_leaves_and_is_only_tightened(world, ask):
    owner = world.client(world.owner.account)
    assert owner.patch(world.url(""), {"hide_below": 4}, format="json").status_code == 200
    for least in (0, 2, 5):
        hidden, texts = hidden_in(ask, least=least)
        assert any(map(any, hidden))
        assert any(f"of fewer than {max(least, 4)} people" in text for text in texts)
    drawn = ask("/compare/leaving").json()
    assert drawn["guarded"]
    small = [cell for row in drawn["rows"] for cell in (*row["cells"], row["total"]) if cell.get("hidden")]
    assert small
    assert all((cell["people"], cell["count"], cell["figure"]) == (0, 0, None) for cell in small)
    told = json.dumps(drawn["cautions"], ensure_ascii=False)
    assert "spoke in a conversation" not in told
    # What a coder or viewer may not change.
    coder = world.client(world.coder.account)
    assert coder.patch(world.url(""), {"hide_below": 0}, format="json").status_code == 403


def test_counts_may_leave_rounded_the_same_everywhere(world, ask):
    world.client(world.owner.account).patch(world.url(""), {"round_to": 3}, format="json")
    drawn = ask("/compare/leaving").json()
    counts = [cell[name] for row in drawn["rows"] for cell in row["cells"] for name in ("people", "count", "base")]
    assert all(count % 3 == 0 for count in counts)
    assert all(row["test"]["p"] is None for row in drawn["rows"])
    assert any(one["kind"] == "rounded" for one in drawn["cautions"])


def test_passages_of_hidden_cells_stay(world, ask):
    every = ask("/compare/export", format="docx", what="passages").content
    world.client(world.owner.account).patch(world.url(""), {"hide_below": 5}, format="json")
    kept = ask("/compare/export", format="docx", what="passages").content
    words = [" ".join(p.text for p in docx.Document(io.BytesIO(one)).paragraphs) for one in (every, kept)]
    assert "The boat was late" in words[0]
    assert "The boat was late" not in words[1]
    assert "lines of hidden cells are left out" in words[1]


@pytest.mark.parametrize("kind", ["xlsx", "docx"])
def test_all_passages_leave_by_row_group_and_person(ask, kind):
    content = io.BytesIO(ask("/compare/export", format=kind, what="passages").content)
    if kind == "xlsx":
        rows = list(openpyxl.load_workbook(content).active.iter_rows(min_row=4))
        lines = [[cell.value for cell in row] for row in rows]
        late = lines.index(["Late", "daily", "P1", "P1_pier", 2, "The boat was late 🚢 again.", "Late", "Open it"])
        # The way back opens the text at these words.
        passage = Passage.objects.get(document__title="P1_pier", codings__code__name="Late")
        way = f"/projects/{passage.document.project_id}/code/{passage.document_id}?passage={passage.pk}"
        assert rows[late][-1].hyperlink.target.endswith(way)
    else:
        document = docx.Document(content)
        texts = [paragraph.text for paragraph in document.paragraphs]
        ways = [link.address for paragraph in document.paragraphs for link in paragraph.hyperlinks]
        assert all("/code/" in way and "?passage=" in way for way in ways)
        assert len(ways) >= 3
        assert "P1: The boat was late 🚢 again.  (P1_pier, turn 2)" in texts
        assert (
            texts.index("Getting across")
            < texts.index("Late")
            < texts.index("P2: I stayed at home  (P2_garden, turn 4)")
        )
    assert ask("/compare/export", format="csv", what="passages").status_code == 400


@pytest.mark.parametrize(
    "path", ["/compare", "/compare/stands-out", "/compare/together", "/compare/map", "/compare/evidence"]
)
def test_numbers_beyond_any_key_are_refused_in_words(ask, path):
    answer = ask(path, codes=[2**70, 2**70 + 1])
    assert (answer.status_code, "larger than anything" in answer.json()["error"]) == (400, True)
    assert ask(path, variable=2**70).status_code in (400, 404)


def test_nothing_at_all_is_answered_calmly(world, ask):
    assert ask(codes=[]).json()["rows"] == []
    assert ask(groups=[]).json()["groups"] == []
    assert ask(groups=["daily"]).json()["rows"][0]["test"]["kind"] == "none"
    gone = ask(codes=[10**9])
    assert gone.status_code == 404
    assert "isn’t in the codebook any more" in gone.json()["error"]


def test_snapshots_are_bounded_in_memory(world, settings):
    settings.SNAPSHOT_MEMORY = 1
    other = world.stranger.memberships.get().project
    snapshots.snapshot(world.project.pk)
    snapshots.snapshot(other.pk)
    assert list(snapshots._kept) == [other.pk]


def test_what_stands_out_is_marked_and_tells_how_steady_it_is(world, ask):
    found = ask("/compare/stands-out").json()
    assert found["looked_at"] > 0
    assert {mark["standing"] for mark in found["marks"]} <= {"sure", "look"}
    assert found["otherwise"] or found["findings"]
    for one in found["findings"]:
        assert {"kind", "text"} == set(one["cautions"][0]) if one["cautions"] else True
    steady = ask("/compare/stands-out/steady").json()
    assert [one["row"] for one in steady] == [one["row"] for one in found["findings"] if one["standing"] != "one_voice"]


def test_facts_that_cant_be_held_are_refused_or_said(world, ask, crosses):
    assert "makes the groups" in ask("/compare/adjusted", adjusted=[crosses.pk]).json()["error"]
    assert ask("/compare/adjusted", adjusted=[10**7]).status_code == 404
    told = ask("/compare/adjusted", adjusted=[], measure="rate").json()
    assert told["problem"].startswith("Only people who mention a row")
    few = ask("/compare/adjusted", adjusted=[]).json()
    assert few["problem"] == ""
    assert {row["why_not"] for row in few["rows"]} <= {"few", "all", "nobody"}
    assert all(cell["plain"] is not None for row in few["rows"] for cell in row["cells"] if few["people"])


def test_the_rule_and_what_is_adjusted_leave_with_the_table(world, ask):
    from server.people.models import Variable

    other = Variable.objects.filter(project=world.project, of="case").exclude(name="Crosses").first()
    book = openpyxl.load_workbook(io.BytesIO(ask("/compare/export", format="xlsx", adjusted=[other.pk]).content))
    heads = [cell.value for cell in book["Tests"][3]]
    assert heads[-1] == "Among all differences shown" or "step-down" not in book["Methods"]["A2"].value
    assert book["Adjusted"]["A3"].value == "Row"
    assert f"adjusted for {other.name}" in book["Comparison"]["A1"].value
    csv = ask("/compare/export", format="csv", adjusted=[other.pk]).content.decode("utf-8-sig")
    assert f"If the groups were alike in {other.name}" in csv
    # With a limit the exact shares of the adjustment stay.
    world.client(world.owner.account).patch(world.url(""), {"hide_below": 3}, format="json")
    book = openpyxl.load_workbook(io.BytesIO(ask("/compare/export", format="xlsx", adjusted=[other.pk]).content))
    assert "Adjusted" not in book.sheetnames
