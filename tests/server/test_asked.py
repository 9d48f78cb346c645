"""People who were asked as the base of a comparison, and what was said of their own accord: over HTTP, in evidence, frozen, out."""

import io

import docx
import openpyxl
import pytest

from server.coding import actions as coding
from server.coding.models import Code
from server.gather.models import Turn
from tests.server.test_compare import ask, rows  # noqa: F401

HOW, THEN = "How was it?", "And then?"


@pytest.fixture
def guide(world):
    """Both talks ask both; *How* asks about all of Getting across, *Then* about Home; the second talk's *Then* is said not to ask."""
    world.how, world.then = coding.set_guide(world.owner, [(None, HOW), (None, THEN)])
    coding.match_guide(world.owner)
    world.home = Code.objects.get(name="Home")
    coding.tie_codes(world.owner, world.how.pk, [Code.objects.get(name="Late").parent_id])
    coding.tie_codes(world.owner, world.then.pk, [world.home.pk])
    coding.put_asked(world.owner, [Turn.objects.get(document__title="P2_garden", number=3).pk], None)
    return world


def test_without_a_guide_nobody_can_be_said_to_have_been_asked(ask):  # noqa: F811
    found = ask().json()
    assert [base["id"] for base in found["bases"]] == ["with_material", "everyone"]
    assert found["accords"] == []
    for wrong in ({"base": "asked"}, {"accord": "own_accord"}):
        refused = ask(**wrong)
        assert refused.status_code == 400
        assert "before questions of the guide name their codes" in refused.content.decode()


def test_each_row_is_a_share_of_those_who_were_asked_about_it(guide, ask):  # noqa: F811
    answer = ask(base="asked")
    found, by_name = answer.json(), rows(answer)
    assert [base["id"] for base in found["bases"]] == ["with_material", "everyone", "asked"]
    sentence = "".join(part["text"] for part in found["sentence"])
    assert "as a share of each group’s people who were asked about it" in sentence
    # Never, daily: both were asked how it was; only who crosses daily was asked on, though both speak of home.
    assert [(cell["count"], cell["base"]) for cell in by_name["Late"]["cells"]] == [(0, 1), (1, 1)]
    assert [(cell["count"], cell["base"]) for cell in by_name["Home"]["cells"]] == [(0, 0), (1, 1)]
    assert by_name["Home"]["cells"][0]["figure"] is None
    assert by_name["Home"]["left_out"]["unasked"] == 1
    assert "1 by people who weren’t asked about it" in found["left_out_line"]
    assert "asked_as_matched" in {one["kind"] for one in found["cautions"]}
    # What a change of the guide moves is moved at once.
    coding.tie_codes(guide.owner, guide.how.pk, [Code.objects.get(name="Late").parent_id, guide.home.pk])
    assert [(cell["count"], cell["base"]) for cell in rows(ask(base="asked"))["Home"]["cells"]] == [(1, 1), (1, 1)]
    for path in ("/compare/stands-out", "/compare/stands-out/steady"):
        assert ask(path, base="asked").status_code == 200


def test_what_is_said_of_their_own_accord_is_counted_by_itself(guide, ask):  # noqa: F811
    own = rows(ask(accord="own_accord"))
    assert [cell["count"] for cell in own["Home"]["cells"]] == [1, 0]
    assert [cell["count"] for cell in own["Late"]["cells"]] == [0, 0]
    when = rows(ask(accord="when_asked"))
    assert [cell["count"] for cell in when["Home"]["cells"]] == [0, 1]
    refused = ask(accord="when_asked", measure="rating")
    assert refused.status_code == 400
    assert "Ratings aren’t told apart" in refused.content.decode()


def test_evidence_says_who_was_asked_and_what_came_when_asked(guide, ask):  # noqa: F811
    codes = list(Code.objects.filter(project=guide.project).order_by("position", "id").values_list("name", flat=True))
    home, late = codes.index("Home"), codes.index("Late")
    found = ask("/compare/evidence", row=home).json()
    (p1,) = [one for one in found["persons"] if one["identifier"] == "P1"]
    (p2,) = [one for one in found["persons"] if one["identifier"] == "P2"]
    assert found["asks"] is True
    assert (found["asked"], found["not_asked"]) == ([p1["case"]], [p2["case"]])
    assert found["own_accord"] == [passage["id"] for passage in p2["passages"]]
    assert found["when_asked"] == [passage["id"] for passage in p1["passages"]]
    assert p2["passages"]
    # Who didn't say it: asked, or not.
    silent = ask("/compare/evidence", row=late, group=0).json()
    assert [one["identifier"] for one in silent["silent"]] == ["P2"]
    assert silent["asked"] == [silent["silent"][0]["case"]]
    # Opened from a table of those asked: nobody who wasn't; and those left out, one click away.
    among = ask("/compare/evidence", row=home, base="asked").json()
    assert [one["identifier"] for one in among["persons"]] == ["P1"]
    lost = ask("/compare/evidence", row=home, base="asked", left_out="unasked").json()
    assert [one["identifier"] for one in lost["persons"]] == ["P2"]
    assert ask("/compare/evidence", base="asked").json()["asks"] is False


def test_one_by_one_and_by_a_number_only_those_asked_count(guide, ask):  # noqa: F811
    codes = list(Code.objects.filter(project=guide.project).order_by("position", "id").values_list("name", flat=True))
    home, late = codes.index("Home"), codes.index("Late")
    every = {one["name"]: one["counts"] for one in ask("/compare/one-by-one", base="asked").json()["each"]}
    assert (every["P1"][home], every["P2"][home], every["P2"][late]) == ([1], [None], [0])
    age = guide.project.variables.get(name="Age").pk
    found = ask("/compare/spread", base="asked", number=age).json()["rows"]
    assert [len(found[home][which]["values"]) for which in ("mention", "silent")] == [1, 0]
    assert [len(found[late][which]["values"]) for which in ("mention", "silent")] == [1, 1]
    assert found[home]["holm"] is None


def test_it_goes_out_with_what_came_when_asked(guide, ask):  # noqa: F811
    answer = ask("/compare/export", format="xlsx", what="passages")
    sheet = openpyxl.load_workbook(
        io.BytesIO(b"".join(answer.streaming_content) if answer.streaming else answer.content)
    ).active
    lines = [[cell.value for cell in row] for row in sheet.iter_rows()]
    (head,) = [line for line in lines if "Passage" in line and "Asked" in line]
    at = {name: head.index(name) for name in ("Row", "Person", "Asked")}
    told = {(line[at["Row"]], line[at["Person"]]): line[at["Asked"]] for line in lines[lines.index(head) + 1 :]}
    assert told["Home", "P1"] == "when asked"
    assert told["Home", "P2"] == "of their own accord"
    answer = ask("/compare/export", format="docx", what="passages", base="asked")
    words = "\n".join(one.text for one in docx.Document(io.BytesIO(answer.content)).paragraphs)
    assert "who were asked about it" in words
    assert ", when asked)" in words
    assert "of their own accord" not in words
    table = ask("/compare/export", format="csv", base="asked").content.decode()
    assert "people who were asked about it" in table


def test_small_figures_of_those_asked_are_hidden_row_by_row(guide, ask):  # noqa: F811
    answer = ask("/compare/export", format="csv", base="asked", least=5)
    assert answer.status_code == 200
    assert "hidden" in answer.content.decode()


def test_frozen_it_says_who_was_asked_since(guide, crosses):
    client = guide.client(guide.owner.account)
    question = {"codes": [guide.home.pk], "variable": crosses.pk, "base": "asked"}
    frozen = client.post(
        guide.url("/compare/frozen"), {"name": "As asked", "asked": question, "shown": {}}, format="json"
    )
    assert frozen.status_code == 200, frozen.content
    at = guide.url(f"/compare/frozen/{frozen.json()['count']}")
    assert client.get(at).json()["changes"]["cells"] == []
    coding.put_asked(guide.owner, [Turn.objects.get(document__title="P2_garden", number=3).pk], guide.then.pk)
    (moved,) = client.get(at).json()["changes"]["cells"]
    assert (moved["group"], moved["joined"], moved["left"], moved["gained"]) == ("never", 1, 0, 1)
