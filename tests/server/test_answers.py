"""The answers sheet: answers to one question in several orders, equal ones offered the same codes, coded at once."""

import pytest

from server.coding import actions as coding
from server.coding.models import Code, Coding
from server.imports.actions import staging
from server.people.models import Variable
from server.projects import trail
from server.projects.models import JobState
from server.projects.trail import last_done, undo
from tests.server.conftest import bring_in, read_here

HARDEST, HELP = "What is hardest this winter, in your own words?", "What would help most, in your own words?"
SURVEY = f"ID,Age,{HARDEST.replace(',', '')},{HELP.replace(',', '')}\n" + "\n".join(
    [
        "H1,40,The boat is always late in the morning,A bus that waits for the boat",
        "H2,30,The price of it all,a bus that waits - for the boat!",
        "H3,50,Boats that are late every single morning,Lower fares for families here",
        "H4,,,A bus that waits for the boat",
        "H5,20,Waiting in the cold,Nothing helps us any more now",
    ]
)
HARDEST, HELP = HARDEST.replace(",", ""), HELP.replace(",", "")


@pytest.fixture
def survey(empty, monkeypatch):
    monkeypatch.setattr(staging, "read_files", read_here)
    job = bring_in(empty.owner, ("survey.csv", SURVEY))
    assert job.state == JobState.DONE, job.message
    coding.create_code(empty.owner, "Bus waits")
    return empty


def asked(world, **more):
    answer = world.client(world.viewer.account).post(
        world.url("/answers"), {"question": HELP, **more}, format="json"
    )  # fmt: skip
    assert answer.status_code == 200, answer.data
    return answer.data["answers"]


def test_every_answer_stands_once_with_who_gave_it(survey):
    said = survey.client(survey.viewer.account).get(survey.url("/answers")).data
    assert [(one["question"], one["answers"], one["coded"]) for one in said] == [(HARDEST, 4, 0), (HELP, 5, 0)]
    rows = asked(survey)
    assert [row["identifier"] for row in rows] == ["H1", "H2", "H3", "H4", "H5"]
    assert rows[2]["text"] == "Lower fares for families here"
    assert [row["same"] for row in rows] == [2, 2, 0, 2, 0]


def test_orders(survey):
    age = Variable.objects.get(name="Age")
    by_age = asked(survey, order="variable", variable=age.pk)
    assert [(row["identifier"], row["value"]) for row in by_age] == [
        ("H5", "20"), ("H2", "30"), ("H1", "40"), ("H3", "50"), ("H4", ""),
    ]  # fmt: skip
    assert by_age[-1]["missing"]
    alike = [row["identifier"] for row in asked(survey, order="likeness")]
    assert {"H1", "H2", "H4"} in [set(alike[at : at + 3]) for at in range(3)]
    words = [row["words"] for row in asked(survey, order="longest")]
    assert words == sorted(words, reverse=True)
    assert [row["words"] for row in asked(survey, order="shortest")] == words[::-1]
    one = asked(survey)[1]
    assert [row["identifier"] for row in asked(survey, cases=[one["case"]])] == ["H2"]


def test_many_are_coded_at_once_and_equal_answers_are_offered_the_same(survey):
    code = Code.objects.get(name="Bus waits")
    rows = asked(survey)
    chosen = [{name: row[name] for name in ("document", "start", "end")} for row in rows[:1] + rows[4:]]
    body = {"hits": chosen, "extent": "hit", "codes": [code.pk], "new_codes": [{"name": "More"}]}
    assert survey.client(survey.owner.account).put(survey.url("/find"), body, format="json").data["count"] == 2
    more = Code.objects.get(name="More").pk
    rows = asked(survey)
    assert [sorted(one["code"] for one in row["codings"]) for row in rows] == [
        [code.pk, more],
        [],
        [],
        [],
        [code.pk, more],
    ]
    assert [sorted(row["offered"]) for row in rows] == [[], [code.pk, more], [], [code.pk, more], []]
    assert survey.client(survey.viewer.account).get(survey.url("/answers")).data[1]["coded"] == 2
    trail.undo(survey.owner)
    assert (Coding.objects.count(), asked(survey)[1]["offered"]) == (0, [])


def test_undoing_many_leaves_passages_that_somebody_else_has_coded_since(survey):
    code = Code.objects.get(name="Bus waits")
    hits = [(row["document"], row["start"], row["end"]) for row in asked(survey)]
    coding.code_hits(survey.owner, hits, "hit", [code.pk])
    coding.apply_codes(survey.coder, *hits[1], [code.pk])
    trail.undo(survey.owner)
    assert list(Coding.objects.values_list("coder__username", flat=True)) == ["coder"]


def test_what_is_refused(survey):
    viewer = survey.client(survey.viewer.account)
    for body, status in [({"question": "Never asked"}, 404), ({"question": HELP, "order": "shuffled"}, 400)]:
        assert viewer.post(survey.url("/answers"), body, format="json").status_code == status


def test_the_words_used_most_are_counted_by_group_and_lead_to_their_hits(world):
    client = world.client(world.viewer.account)
    island = Variable.objects.get(project=world.project, name="Island")
    said = client.post(world.url("/words"), {"variable": island.pk, "everybodys": True}, format="json").data
    assert [group["name"] for group in said["groups"]] == ["Holm", "Ytter"]
    words = {one["word"]: one for one in said["words"]}
    # The interviewer’s “how was it” is nobody’s word.
    assert "how" not in words
    assert (words["home"]["by_group"], words["home"]["people"]) == ([1, 1], 2)
    for word in ("home", "late"):
        found = client.post(world.url("/find"), {"text": word, "how": "words"}, format="json").data
        assert found["total"] == words[word]["count"]
    first = client.post(
        world.url("/words"), {"variable": island.pk, "by": "Ytter", "everybodys": True}, format="json"
    ).data
    assert first["words"][0]["by_group"][1] > first["words"][0]["by_group"][0]
    only = client.post(world.url("/words"), {"cases": []}, format="json").data
    assert (only["words"], only["people"]) == ([], 0)


def test_words_that_say_nothing_and_those_left_out_by_hand_arent_listed(world):
    client, coder = world.client(world.viewer.account), world.client(world.coder.account)

    def listed(**asked):
        said = client.post(world.url("/words"), {"everybodys": True, **asked}, format="json").data
        return said, {one["word"] for one in said["words"]}

    every, words = listed()
    plain, kept = listed(idle="english")
    assert "at" in words - kept
    assert {"home", "late"} <= kept
    assert (every["unsaid"], plain["unsaid"], plain["groups"]) == (0, len(words - kept), every["groups"])
    assert client.put(world.url("/words"), {"drop": ["home"]}, format="json").status_code == 403
    assert coder.put(world.url("/words"), {"drop": ["Home", "home"]}, format="json").data == {"count": 1}
    left, now = listed(idle="english")
    assert (now, left["dropped"], left["unsaid"]) == (kept - {"home"}, ["home"], plain["unsaid"] + 1)
    assert last_done(world.coder).summary == "Left “home” out of the lists of words"
    assert coder.put(world.url("/words"), {"keep": ["home", "never"]}, format="json").data == {"count": 1}
    undo(world.coder)
    assert listed()[0]["dropped"] == ["home"]
    undo(world.coder)
    assert listed()[1] == words


def test_turns_like_a_passage_are_suggested_and_its_own_is_not(world):
    walked = Coding.objects.get(code__name="Home", coder=world.owner.account).passage
    found = world.client(world.viewer.account).get(world.url(f"/passages/{walked.pk}/like")).data
    assert "stayed at home" in found[0]["text"]
    assert found[0]["codes"] == [Code.objects.get(name="Home").pk]
    assert all("walked home" not in one["text"] for one in found)
    assert 0 < found[0]["likeness"] < 1
