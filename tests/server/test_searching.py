"""Queries on passages and scopes: what every condition keeps, saved and used as row and scope."""

import io

import docx
import openpyxl
import pytest
from django.db import IntegrityError, transaction

from server.coding import actions as coding
from server.coding.models import Code, Coding, Passage
from server.compare import actions
from server.compare.models import SavedQuery
from server.compare.query_words import sentence_of_query
from server.gather.models import Document
from server.people import actions as people
from server.people.models import Case
from server.projects import trail
from server.report.models import Memo


@pytest.fixture
def client(world):
    return world.client(world.owner.account)


def code(name: str) -> int:
    return Code.objects.get(name=name).pk


def search(world, client, *parts, join="all", negated=False, **more):
    body = {"blocks": {"join": join, "negated": negated, "parts": list(parts)}, **more}
    return client.post(world.url("/compare/search"), body, format="json")


def texts(answer) -> list[str]:
    assert answer.status_code == 200, answer.content
    return sorted(one["text"] for person in answer.json()["persons"] for one in person["passages"])


LATE, WALKED, STAYED = "The boat was late 🚢 again.", "I walked home", "I stayed at home"


def test_every_condition_keeps_what_it_says(world, client, crosses):
    late, home, top = code("Late"), code("Home"), code("Getting across")
    passage = Coding.objects.get(code=late).passage
    Memo.objects.create(project=world.project, author=world.owner.account, text="Look again", passage=passage)
    island = {"join": "all", "parts": [{"variable": crosses.pk, "operator": "is", "values": ["never"]}]}
    pier = Document.objects.get(title="P1_pier").pk
    ways = [
        ({"what": "coded", "how": "any", "codes": [home]}, [STAYED, WALKED]),
        ({"what": "coded", "how": "any", "codes": [top]}, [LATE]),
        ({"what": "coded", "how": "any", "codes": [top], "beneath": False}, []),
        ({"what": "coded", "how": "none", "codes": [home]}, [LATE]),
        ({"what": "placed", "relation": "near", "codes": [home], "unit": "turns", "within": 2}, [LATE, STAYED, WALKED]),
        ({"what": "placed", "relation": "near", "codes": [home], "unit": "turns", "within": 1}, [STAYED, WALKED]),
        ({"what": "placed", "relation": "before", "codes": [home], "unit": "paragraphs", "within": 2}, [LATE]),
        ({"what": "placed", "relation": "after", "codes": [late], "unit": "turns", "within": 5}, [WALKED]),
        ({"what": "said", "condition": island}, [STAYED]),
        ({"what": "said", "condition": {"join": "all", "parts": [{"codes": [late], "how": "any"}]}}, [LATE, WALKED]),
        ({"what": "within", "documents": [pier]}, [LATE, WALKED]),
        ({"what": "text", "text": "HOME"}, [STAYED, WALKED]),
        ({"what": "text", "text": "🚢"}, [LATE]),
        ({"what": "memo", "text": "look"}, [LATE]),
        ({"what": "memo", "text": "nothing"}, []),
        ({"what": "made", "coders": [world.coder.account.pk]}, [STAYED]),
        ({"what": "made", "since": "2020-01-01", "until": "2020-12-31"}, []),
        ({"what": "made", "since": "2020-01-01"}, [STAYED, LATE, WALKED]),
    ]
    for condition, expected in ways:
        assert texts(search(world, client, condition)) == sorted(expected), condition
    coding.change_code(world.owner, home, scale_low="little", scale_high="much")
    coding.rate_coding(
        world.owner, Coding.objects.get(passage__start__gt=0, code=home, coder=world.owner.account).pk, 4
    )
    assert texts(search(world, client, {"what": "made", "rating": [3, 5]})) == [WALKED]


def test_blocks_join_and_the_one_that_empties_is_named(world, client):
    home, late = code("Home"), code("Late")
    both = {"what": "coded", "how": "any", "codes": [home]}
    assert texts(search(world, client, both, {"what": "text", "text": "walked"})) == [WALKED]
    group = {"join": "any", "negated": True, "parts": [{"what": "text", "text": "walked"}]}
    assert texts(search(world, client, both, group)) == [STAYED]
    empty = search(
        world, client, both, {"what": "text", "text": "home"}, {"what": "coded", "how": "any", "codes": [late]}
    ).json()
    assert empty["emptied_by"] == [2]
    assert [part["so_far"] for part in empty["counts"]["parts"]] == [2, 2, 0]
    assert search(world, client, both, scope={"documents": []}).json()["passages"] == 0


@pytest.mark.parametrize(
    "parts",
    [
        [{"what": "coded", "codes": []}],
        [{"what": "nonsense"}],
        [{"what": "placed", "codes": [1], "relation": "under"}],
        [{"what": "placed", "codes": [1], "relation": "near", "within": -1}],
        [{"what": "text", "text": " "}],
        [{"what": "made", "rating": [1]}],
        [{"what": "said"}],
        "x",
    ],
)
def test_unfinished_conditions_are_refused_in_words(world, client, parts):
    answer = client.post(world.url("/compare/search"), {"blocks": {"parts": parts}}, format="json")
    assert answer.status_code == 400
    assert answer.json()["error"]


def test_conditions_are_told_as_a_sentence(world, crosses):
    late, home = code("Late"), code("Home")
    member, pier = world.owner, Document.objects.get(title="P1_pier").pk
    cohort = people.make_cohort(member, "Island folk", None, [])
    who = {
        "join": "any",
        "parts": [
            {"variable": crosses.pk, "operator": "is", "values": ["never", "daily"]},
            {"codes": [late], "how": "none"},
            {
                "join": "all",
                "negated": True,
                "parts": [{"variable": crosses.pk, "operator": "is_missing", "values": []}],
            },
        ],
    }
    near = {"what": "placed", "relation": "near", "codes": [home], "beneath": False, "unit": "turns", "within": 2}
    told = {
        "coded with any of “Late”, “Home” or a code beneath": {"what": "coded", "codes": [late, home]},
        "coded with none of “Late”": {"what": "coded", "how": "none", "codes": [late], "beneath": False},
        "lying near a passage of “Home”, within 2 turns of each other, itself among them": near,
        "lying inside a passage of “Late”, itself among them": {"what": "placed", "relation": "inside", "codes": [late], "beneath": False},
        "said by people for whom (Crosses is never or daily or they mention none of “Late” or it isn’t so "
        "that Crosses is missing)": {"what": "said", "condition": who},
        "said by the cohort “Island folk”": {"what": "said", "cohort": cohort.pk},
        "said by 2 people chosen one by one": {"what": "said", "cases": [1, 2]},
        "in “P1_pier”": {"what": "within", "documents": [pier]},
        "in documents whose a deleted variable is winter": {"what": "within", "variable": 10**7, "groups": ["winter"]},
        "whose words hold “boat”": {"what": "text", "text": " boat "},
        "with a memo": {"what": "memo", "text": ""},
        "coded by “Coder” rated 4 to 5 since 2026-03-01": {
            "what": "made", "coders": [world.coder.account.pk], "rating": [4, 5], "since": "2026-03-01"},
    }  # fmt: skip
    for words, condition in told.items():
        assert sentence_of_query(member, {"join": "all", "parts": [condition]}) == f"Passages {words}."
    whole = {"join": "any", "negated": True, "parts": [{"what": "memo"}, {"join": "all", "parts": [near, near]}]}
    near_words = "lying near a passage of “Home”, within 2 turns of each other, itself among them"
    expected = f"Passages not (with a memo, or {near_words}, and {near_words})."
    assert sentence_of_query(member, whole) == expected


def test_what_is_found_leaves_person_by_person(world, client):
    body = {"blocks": {"join": "all", "parts": [{"what": "coded", "codes": [code("Home"), code("Late")]}]}}
    asked = world.url("/compare/search/export")
    answer = client.post(asked, {**body, "format": "xlsx"}, format="json")
    assert 'filename="crossings-passages.xlsx"' in answer["Content-Disposition"]
    sheet = openpyxl.load_workbook(io.BytesIO(answer.content)).active
    heads, *lines = [[cell.value for cell in row] for row in sheet.iter_rows(min_row=3)]
    assert heads == ["Person", "Document", "Turn", "Passage", "Codes", "Where it stands"]
    assert sorted((line[0], line[3], line[4]) for line in lines) == [
        ("P1", WALKED, "Home"), ("P1", LATE, "Late"), ("P2", STAYED, "Home"),
    ]  # fmt: skip
    document = docx.Document(io.BytesIO(client.post(asked, {**body, "format": "docx"}, format="json").content))
    assert any(f"P1: {WALKED}" in paragraph.text for paragraph in document.paragraphs)


def test_what_isnt_there_any_more_is_said(world, client):
    assert search(world, client, {"what": "coded", "codes": [10**6], "how": "any"}).status_code == 404
    assert search(world, client, {"what": "made", "since": "yesterday"}).status_code == 400
    assert search(world, client, {"what": "said", "cohort": 10**6}).status_code == 404


def test_a_saved_query_is_a_row_and_a_scope(world, client, crosses):
    blocks = {"join": "all", "parts": [{"what": "text", "text": "home"}]}
    saved = client.post(world.url("/compare/queries"), {"name": "Homewards", "blocks": blocks}, format="json").json()[
        "count"
    ]
    asked = {"codes": [code("Home"), code("Late")], "queries": [saved], "variable": crosses.pk}
    rows = client.post(world.url("/compare"), asked, format="json").json()["rows"]
    assert [(row["kind"], row["name"]) for row in rows][-1] == ("query", "Homewards")
    assert [cell["people"] for cell in rows[2]["cells"]] == [cell["people"] for cell in rows[0]["cells"]]
    opened = client.post(world.url("/compare/evidence"), {**asked, "row": 2}, format="json").json()
    assert opened["passages"] == 2
    scoped = client.post(
        world.url("/compare"), {**asked, "queries": [], "scope": {"query": saved}}, format="json"
    ).json()
    assert [row["total"]["passages"] for row in scoped["rows"]] == [2, 0]
    assert "passages of “Homewards”" in "".join(part["text"] for part in scoped["sentence"])
    again = client.post(world.url("/compare/queries"), {"name": " homewards ", "blocks": blocks}, format="json")
    assert again.status_code == 409
    one = world.url(f"/compare/queries/{saved}")
    assert client.patch(one, {"name": "Home"}, format="json").status_code == 204
    assert client.delete(one).status_code == 204
    trail.undo(world.owner)
    assert SavedQuery.objects.get().name == "Home"
    with pytest.raises(IntegrityError), transaction.atomic():
        SavedQuery.objects.create(project=world.project, name="x", blocks={}, author=world.owner.account)


def test_a_scope_by_what_people_mention_by_codes_and_days(world, client, crosses):
    asked = {"codes": [code("Home"), code("Late")], "variable": crosses.pk}

    def people_of(scope):
        found = client.post(world.url("/compare"), {**asked, "scope": scope}, format="json")
        assert found.status_code == 200, found.content
        return [row["total"]["people"] for row in found.json()["rows"]]

    who = {"join": "all", "parts": [{"codes": [code("Late")], "how": "any"}]}
    assert people_of({}) == [2, 1]
    assert people_of({"who": who}) == [1, 1]
    assert people_of({"who": {"join": "any", "negated": True, "parts": who["parts"]}}) == [1, 0]
    assert people_of({"codes": [code("Home")]}) == [2, 0]
    late = people.make_cohort(world.owner, "Late ones", who, []).pk
    assert people_of({"who": {"join": "all", "parts": [{"cohorts": [late], "how": "any"}]}}) == [1, 1]
    others = {"join": "all", "parts": [{"cohorts": [late], "how": "none"}]}
    assert people_of({"who": others}) == [1, 0]
    block = {"join": "all", "parts": [{"what": "said", "condition": others}]}
    assert sentence_of_query(world.owner, block) == "Passages said by people for whom they are not in “Late ones”."
    people.delete_cohort(world.owner, late)
    gone = client.post(world.url("/compare"), {**asked, "scope": {"who": others}}, format="json")
    assert (gone.status_code, "cohort that this asks about" in gone.json()["error"]) == (400, True)
    assert people_of({"until": "2020-01-01"}) == [0, 0]
    counts = client.post(world.url("/compare/scopes/count"), {"who": who, "until": "2020-01-01"}, format="json").json()
    assert (counts["cases"], counts["passages"], counts["emptied_by"]) == (1, 0, "until")
    (mentions,) = counts["play_cases"]
    papers = set(Case.objects.get(pk=mentions).speakers.values_list("document_id", flat=True))
    assert set(counts["play_documents"]) == papers
    whole = client.post(world.url("/compare/scopes/count"), {}, format="json").json()
    assert (whole["play_cases"], whole["play_documents"]) == (None, None)
    paper = papers.pop()
    of_one = client.post(world.url("/compare/scopes/count"), {"documents": [paper]}, format="json").json()
    assert (of_one["play_cases"], of_one["play_documents"]) == ([mentions], [paper])
    in_play = world.url(f"/compare/scopes/passages/{paper}")
    every = set(Passage.objects.filter(document=paper).values_list("pk", flat=True))
    late_ones = set(Passage.objects.filter(document=paper, codings__code=code("Late")).values_list("pk", flat=True))
    assert set(client.post(in_play, {}, format="json").json()["passages"]) == every
    assert set(client.post(in_play, {"codes": [code("Late")]}, format="json").json()["passages"]) == late_ones < every
    assert client.post(in_play, {"until": "2020-01-01"}, format="json").json()["passages"] == []
    reading = client.post(world.url(f"/codes/{code('Late')}/passages"), {"documents": [paper]}, format="json").json()
    assert (reading["passages"], [one["case"] for one in reading["persons"]]) == (len(late_ones), [mentions])
    assert client.post(world.url("/compare/scopes/passages/999999"), {}, format="json").status_code == 404
    made = client.post(world.url("/compare/scopes"), {"name": "Late ones", "scope": {"who": who}}, format="json")
    assert made.status_code == 200
    kept = client.get(world.url("/compare/scopes")).json()[0]["scope"]
    assert {name: part for name, part in kept.items() if part is not None} == {"who": who}
    assert (
        client.post(world.url("/compare"), {**asked, "scope": {"who": {"codes": []}}}, format="json").status_code == 400
    )


def test_cohorts_of_each_other_are_told_instead_of_asked_for_ever(world, client):
    first = people.make_cohort(world.owner, "One", {"join": "all", "parts": []}, []).pk
    second = people.make_cohort(world.owner, "Two", {"join": "all", "parts": [{"cohorts": [first]}]}, []).pk
    people.change_cohort(world.owner, first, condition={"join": "all", "parts": [{"cohorts": [second]}]})
    listed = {one["name"]: one["problem"] for one in client.get(world.url("/cohorts")).json()["cohorts"]}
    assert listed == {name: "This is made of too many cohorts in a row." for name in ("One", "Two")}


def test_a_cohort_may_be_made_of_what_people_mention(world):
    cohort = people.make_cohort(
        world.owner, "Late", {"join": "all", "parts": [{"codes": [code("Late")], "how": "none"}]}, None
    )
    from server.people import queries

    names = {row.pk: row.identifier for row in queries.cases(world.owner)}
    assert [names[pk] for pk in queries.cohort_members(world.owner, cohort)] == ["P2", "P3"]
    coding.delete_code(world.owner, code("Late"))
    from server.common.errors import Refusal

    with pytest.raises(Refusal, match="isn’t in the codebook"):
        queries.cohort_members(world.owner, cohort)


def test_themes_words_and_ratings_are_rows_and_measures(world, client, crosses):
    theme = coding.create_theme(world.owner, "Tied to the clock")
    coding.change_theme(world.owner, theme.pk, codes=[code("Home"), code("Late")])
    asked = {"codes": [code("Home")], "themes": [theme.pk], "variable": crosses.pk}
    rows = client.post(world.url("/compare"), {**asked, "measure": "words"}, format="json").json()["rows"]
    # By hand: "The boat was late again" (the ship is no word) and "I walked home", 5 and 3 of P1's 11; P2 4 of 9.
    by_group = {row["name"]: [(cell["count"], cell["base"]) for cell in row["cells"]] for row in rows}
    assert sorted(by_group["Tied to the clock"]) == [(4, 9), (8, 11)]
    assert sorted(by_group["Home"]) == [(3, 11), (4, 9)]
    coding.change_code(world.owner, code("Home"), scale_low="little", scale_high="much")
    for one, rating in zip(Coding.objects.filter(code__name="Home").order_by("id"), (2, 5), strict=True):
        coding.rate_coding(world.owner if one.coder == world.owner.account else world.coder, one.pk, rating)
    rated = client.post(world.url("/compare"), {**asked, "measure": "rating"}, format="json").json()
    assert sorted(cell["figure"] for cell in rated["rows"][0]["cells"]) == [2, 5]
    assert rated["left_out_line"].startswith("Adds up: 2 rated passages")
    saved = actions.save_query(world.owner, "x", {"parts": []})
    refused = client.post(world.url("/compare"), {**asked, "queries": [saved.pk], "measure": "rating"}, format="json")
    assert (refused.status_code, "no ratings" in refused.json()["error"]) == (400, True)
