"""What may leave a project: every way out obeys the limit its owners set, and what left before is kept in mind."""

import csv
import io

import openpyxl
import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from core.statistics.disclosure import hidden_cells
from server.coding.models import Code
from server.compare import publishing
from server.people import actions as people
from server.people.models import Variable
from server.projects import trail
from server.projects.models import Project, Published


def limit(world, **fields) -> None:
    answer = world.client(world.owner.account).patch(world.url(""), fields, format="json")
    assert answer.status_code == 200, answer.content


@pytest.fixture
def send(world):
    """Ask for a file, or for JSON, as a viewer."""
    client = world.client(world.viewer.account)

    def sending(path: str, **said):
        return client.post(world.url(path), said, format="json")

    return sending


def every_code(world) -> list[int]:
    rows = Code.objects.filter(project=world.project).order_by("position", "id")
    return list(rows.values_list("id", flat=True))


def cells(content: bytes, sheet: int = 0) -> list[list[object]]:
    book = openpyxl.load_workbook(io.BytesIO(content))
    return [[cell.value for cell in row] for row in book.worksheets[sheet].iter_rows()]


def test_only_owners_set_the_limit_and_it_is_in_the_trail_and_undone(world):
    coder = world.client(world.coder.account)
    assert coder.patch(world.url(""), {"hide_below": 3}, format="json").status_code == 403
    limit(world, hide_below=3)
    world.project.refresh_from_db()
    assert Project.objects.get(pk=world.project.pk).hide_below == 3
    trail.undo(world.owner)
    assert Project.objects.get(pk=world.project.pk).hide_below == 0


@pytest.mark.parametrize(
    "wrong", [{"hide_below": -1}, {"hide_below": 51}, {"hide_below": "many"}, {"round_to": 4}, {"round_to": "x"}]
)
def test_a_limit_that_makes_no_sense_is_refused_in_words(world, wrong):
    answer = world.client(world.owner.account).patch(world.url(""), wrong, format="json")
    assert answer.status_code == 400
    assert answer.json()["error"]
    assert Project.objects.get(pk=world.project.pk).hide_below == 0


def test_the_database_itself_refuses_such_a_limit(world):
    from django.db import IntegrityError, transaction

    for fields in ({"hide_below": 60}, {"round_to": 2}):
        with pytest.raises(IntegrityError), transaction.atomic():
            Project.objects.filter(pk=world.project.pk).update(**fields)


def test_codes_with_codes_leave_without_pairs_that_few_say(world, send):
    asked = {"codes": every_code(world), "format": "xlsx", "unit": "turns", "within": 3}
    before = cells(send("/compare/together/export", **asked).content)
    limit(world, hide_below=3)
    for measure in ("people", "passages", "pairs", "documents"):
        after = cells(send("/compare/together/export", **asked, measure=measure).content)
        assert any("hidden" in row for row in after)
        assert not any(cell in (1, 2) for row in after[3:] for cell in row[1:])
    assert any(cell in (1, 2) for row in before[3:] for cell in row[1:])


def test_likeness_goes_with_the_counts_it_is_made_of(world, send):
    limit(world, hide_below=2)
    content = send("/compare/together/export", codes=every_code(world), format="xlsx").content
    counts, likeness = cells(content, 0), cells(content, 1)
    hidden = [(row, at) for row, line in enumerate(counts[:6]) for at, cell in enumerate(line) if cell == "hidden"]
    assert hidden
    assert all(likeness[row][at] is None for row, at in hidden)


def test_the_overview_leaves_without_small_counts_and_coding_by_document_not_at_all(world, send, crosses):
    plain = cells(send("/compare/holdings/export", variable=crosses.pk).content)
    limit(world, hide_below=3)
    held = cells(send("/compare/holdings/export", variable=crosses.pk).content)
    assert len(held) == len(plain)
    assert any(cell == "hidden" for row in held for cell in row)
    people_at = [at for at, name in enumerate(held[2]) if name and "people" in str(name).lower()]
    assert people_at
    assert not any(row[at] in (1, 2) for row in held[3:] if len(row) > max(people_at) for at in people_at)
    refused = send("/compare/progress/export")
    assert refused.status_code == 400
    assert "document by document" in refused.json()["error"]


def test_distributions_leave_without_small_counts(world, crosses):
    client = world.client(world.viewer.account)

    def table() -> list[list[str]]:
        answer = client.post(world.url(f"/variables/{crosses.pk}/distribution/export"), {}, format="json")
        assert answer.status_code == 200, answer.content
        return list(csv.reader(io.StringIO(answer.content.decode("utf-8-sig"))))

    before = table()
    small = [row for row in before[3:] if len(row) > 1 and row[1] in ("1", "2")]
    assert small
    limit(world, hide_below=3)
    after = table()
    assert not any(row[1] in ("1", "2") for row in after[3:] if len(row) > 1)
    assert any("hidden" in row for row in after)
    limit(world, hide_below=0, round_to=3)
    near = table()
    assert all(int(row[1]) % 3 == 0 for row in near[3:] if len(row) > 1 and row[1].isdigit())


def test_passages_of_fewer_people_than_the_limit_stay(world, send):
    late = Code.objects.get(name="Late").pk
    blocks = {"join": "all", "parts": [{"what": "coded", "how": "any", "codes": [late]}]}
    asked = {"blocks": blocks, "format": "xlsx"}
    assert send("/compare/search/export", **asked).status_code == 200
    limit(world, hide_below=4)
    refused = send("/compare/search/export", **asked)
    assert refused.status_code == 400
    assert "passages of fewer than 4 people" in refused.json()["error"]
    # On screen they are found as before.
    assert send("/compare/search", blocks=blocks).json()["passages"] >= 1


def test_a_frozen_result_leaves_by_todays_limit(world, send, crosses):
    owner = world.client(world.owner.account)
    asked = {"codes": every_code(world), "variable": crosses.pk}
    made = owner.post(world.url("/compare/frozen"), {"name": "Then", "asked": asked, "shown": {}}, format="json")
    assert made.status_code == 200, made.content
    path = world.url(f"/compare/frozen/{made.json()['count']}/file/csv")
    before = owner.get(path).content.decode("utf-8-sig")
    assert "hidden" not in before
    assert "Adds up" in before
    limit(world, hide_below=3)
    after = owner.get(path).content.decode("utf-8-sig")
    assert "hidden" in after
    assert "Adds up" not in after
    # The result itself stays as it was frozen.
    shown = owner.get(world.url(f"/compare/frozen/{made.json()['count']}")).json()
    assert shown["result"]["left_out_line"].startswith("Adds up")


def test_what_leaves_is_noted_and_later_files_are_checked_against_it(world, send, crosses):
    asked = {"codes": every_code(world), "variable": crosses.pk, "format": "csv"}
    assert send("/compare/export", **asked).status_code == 200
    noted = Published.objects.get(project=world.project)
    assert noted.account == world.viewer.account
    assert noted.hide_below == 0
    assert all(shown for numbers in noted.lines.values() for _, _, shown, _ in numbers)
    limit(world, hide_below=3)
    assert send("/compare/export", **asked).status_code == 200
    later = Published.objects.filter(project=world.project).last()
    assert later.hide_below == 3
    assert set(later.lines) == set(noted.lines)
    # The same rows are the same people, whoever is in scope.
    cases = [row["id"] for row in world.client(world.viewer.account).get(world.url("/roster")).json()["cases"]]
    assert send("/compare/export", **asked, scope={"cases": cases[:3]}).status_code == 200
    assert set(Published.objects.filter(project=world.project).last().lines) == set(noted.lines)


def test_a_file_is_checked_against_all_that_is_out_however_much_came_since(world, send, crosses, monkeypatch):
    asked = {"codes": every_code(world), "variable": crosses.pk}
    full = send("/compare/leaving", **asked).json()
    noise = {"account": world.viewer.account, "what": "a figure", "hide_below": 0, "lines": {"none": []}, "sets": {}}
    Published.objects.bulk_create(Published(project=world.project, **noise) for _ in range(400))
    limit(world, hide_below=3)
    known = []

    def spied(people, groups, least, whole, earlier):
        known.append(earlier)
        return hidden_cells(people, groups, least, whole, earlier)

    monkeypatch.setattr(publishing, "hidden_cells", spied)
    assert send("/compare/leaving", **asked).status_code == 200
    # Every number of every row, as it went out in full.
    out = [[cell["people"] for cell in (*row["cells"], row["total"])] for row in full["rows"]]
    assert any(any(row) for row in out)
    assert [[one.count for one in row if one.shown] for row in known[0]] == out


def test_of_two_files_made_at_once_the_second_waits_for_the_first(world, send, crosses):
    with CaptureQueriesContext(connection) as made:
        assert send("/compare/leaving", codes=every_code(world), variable=crosses.pk).status_code == 200
    said = [one["sql"] for one in made.captured_queries]
    locked = next(at for at, sql in enumerate(said) if "FOR NO KEY UPDATE" in sql)
    noted = next(at for at, sql in enumerate(said) if sql.startswith("INSERT") and "published" in sql)
    assert locked < noted


def test_a_tighter_limit_asked_for_hides_more_and_a_looser_one_no_less(world, send, crosses):
    asked = {"codes": every_code(world), "variable": crosses.pk}
    limit(world, hide_below=2)

    def gone(least: int) -> set[tuple[int, int]]:
        drawn = send("/compare/leaving", **asked, least=least).json()
        return {
            (at, place)
            for at, row in enumerate(drawn["rows"])
            for place, cell in enumerate([*row["cells"], row["total"]])
            if cell.get("hidden")
        }

    usual = gone(0)
    assert gone(1) >= usual
    assert len(gone(6)) > len(usual)
    assert send("/compare/leaving", **asked, least=99).status_code == 400


def test_people_in_several_groups_have_small_cells_hidden_too(world, send):
    first = people.make_cohort(world.owner, "All", {"join": "all", "parts": []}, None)
    every = [row["id"] for row in world.client(world.viewer.account).get(world.url("/roster")).json()["cases"]]
    second = people.make_cohort(world.owner, "Some", None, every[:3])
    limit(world, hide_below=3)
    drawn = send("/compare/leaving", codes=every_code(world), columns="cohorts", cohorts=[first.pk, second.pk]).json()
    small = [cell for row in drawn["rows"] for cell in row["cells"] if not cell.get("hidden")]
    assert all(cell["people"] == 0 or cell["people"] >= 3 for cell in small)


def test_rounding_is_the_same_everywhere_and_tells_nothing_exact(world, send, crosses):
    limit(world, round_to=5)
    asked = {"codes": every_code(world), "variable": crosses.pk}
    drawn = send("/compare/leaving", **asked).json()
    for row in drawn["rows"]:
        for cell in (*row["cells"], row["total"]):
            assert cell["people"] % 5 == 0
            assert cell["base"] % 5 == 0
            assert cell["most_by"] is None
        assert row["difference"] is None
        assert all(cell["low"] is None for cell in row["cells"])
    assert drawn["everyone"] % 5 == 0
    assert not drawn["left_out"]
    held = cells(send("/compare/holdings/export").content)
    numbers = [cell for row in held[3:] for cell in row[2:] if isinstance(cell, int)]
    assert numbers
    assert all(number % 5 == 0 for number in numbers)


def test_facts_about_documents_and_people_one_by_one_are_answered_in_words(world, send):
    """Odd questions get a figure or a sentence, never an error of the server."""
    codes = every_code(world)
    for said in (
        {"columns": "cases"},
        {"columns": "documents"},
        {"columns": "cases", "measure": "rate"},
        {"columns": "documents", "measure": "words"},
        {"columns": "cases", "measure": "rating"},
    ):
        for path in (
            "/compare",
            "/compare/stands-out",
            "/compare/stands-out/steady",
            "/compare/adjusted",
            "/compare/leaving",
        ):
            answer = send(path, codes=codes, adjusted=[], **said)
            assert answer.status_code in (200, 400), (path, said, answer.content)
            if answer.status_code == 400:
                assert answer.json()["error"]


def test_a_variable_that_is_gone_or_of_documents_cant_be_held(world, send, crosses):
    made = people.make_variable(world.owner, "Place of talk", "category", of="document")
    for pk, status, words in ((made.pk, 400, "fact about documents"), (10**8, 404, "")):
        answer = send("/compare/adjusted", codes=every_code(world), variable=crosses.pk, adjusted=[pk])
        assert answer.status_code == status
        assert words in answer.json()["error"]
    assert Variable.objects.filter(pk=made.pk).exists()
    seven = send("/compare", codes=every_code(world), variable=crosses.pk, adjusted=[1, 2, 3, 4, 5, 6, 7])
    assert seven.status_code == 400
