"""The desk, themes, memos and finding over HTTP, as the interface asks for them."""

import pytest
from django.db import connection, transaction
from django.test.utils import CaptureQueriesContext

from server.coding import actions as coding
from server.coding.models import Code, Coding, Passage
from server.common.errors import Refusal
from server.gather.models import Document
from server.people.models import Case, Value, Variable
from server.projects.models import Touched
from server.projects.trail import act, undo
from tests.server.conftest import put


@pytest.fixture
def client(world):
    return world.client(world.owner.account)


def pier(world):
    return Document.objects.get(title="P1_pier")


def test_passages_come_with_their_codings_ratings_and_memos(world, client):
    document, late = pier(world), Code.objects.get(name="Late")
    coding.change_code(world.owner, late.pk, scale_low="a little", scale_high="very")
    own = Coding.objects.get(code=late)
    assert client.patch(world.url(f"/codings/{own.pk}"), {"rating": 5}, format="json").status_code == 204
    said = {"text": "Which boat?", "kinds": ["team"], "passage": own.passage_id}
    assert client.post(world.url("/memos"), said, format="json").status_code == 200
    first, second = client.get(world.url(f"/documents/{document.pk}/passages")).data
    assert [(one["code"], one["rating"], one["initials"]) for one in first["codings"]] == [(late.pk, 5, "O")]
    assert [(memo["text"], memo["kind"], memo["author"]) for memo in first["memos"]] == [
        ("Which boat?", "team", "Owner")
    ]
    assert second["memos"] == []
    assert client.patch(world.url(f"/codings/{own.pk}"), {"rating": 6}, format="json").status_code == 400


def test_a_text_with_many_passages_is_read_in_few_questions(world, client):
    document, home = pier(world), Code.objects.get(name="Home")
    for start in range(0, 40, 2):
        coding.apply_codes(world.owner, document.pk, start, start + 9, [home.pk])
    with CaptureQueriesContext(
        connection,
    ) as asked:
        answer = client.get(world.url(f"/documents/{document.pk}"))
    assert len(answer.data["passages"]) >= 20
    assert len(asked) < 25


def test_the_ends_of_a_passage_are_moved_and_the_passage_answered(world, client):
    document = pier(world)
    start = document.text.index("I walked home")
    passage = Passage.objects.get(document=document, start=start)
    body = {"start": start - 5, "end": start + 8}
    answer = client.patch(world.url(f"/passages/{passage.pk}"), body, format="json")
    assert (answer.data["start"], answer.data["end"]) == (start - 5, start + 8)
    gone = client.patch(world.url(f"/passages/{passage.pk}"), {"start": 0, "end": 10**7}, format="json")
    assert gone.status_code == 400
    assert "isn’t in the document" in gone.data["error"]


def test_themes_and_questions_live_through_their_addresses(world, client):
    late, home = Code.objects.get(name="Late"), Code.objects.get(name="Home")
    question = client.post(world.url("/questions"), {"text": " Who  waits? "}, format="json").data["id"]
    body = {"name": "Tied to the clock", "question": question, "codes": [late.pk]}
    theme = client.post(world.url("/themes"), body, format="json").data["id"]
    client.patch(world.url(f"/themes/{theme}"), {"codes": [home.pk, late.pk], "statement": "They wait."}, format="json")
    client.patch(world.url(f"/questions/{question}"), {"text": "Who waits longest?"}, format="json")
    shown = client.get(world.url("/themes")).data
    assert shown["questions"] == [{"id": question, "text": "Who waits longest?"}]
    (one,) = shown["themes"]
    assert (one["statement"], one["question"], one["codes"]) == ("They wait.", question, [home.pk, late.pk])
    read = client.post(world.url(f"/themes/{theme}/passages"), {}, format="json").data
    assert (read["passages"], read["people"]) == (one["passages"], one["people"]) == (3, 2)
    paper = read["persons"][0]["passages"][0]["document"]
    (counts,) = client.post(world.url("/themes/counts"), {"documents": [paper]}, format="json").json()
    here = client.post(world.url(f"/themes/{theme}/passages"), {"documents": [paper]}, format="json").json()
    assert (counts["theme"], counts["passages"], counts["people"]) == (theme, here["passages"], here["people"])
    assert 0 < counts["passages"] < 3
    assert client.delete(world.url(f"/questions/{question}")).status_code == 204
    assert client.delete(world.url(f"/themes/{theme}")).status_code == 204
    assert client.get(world.url("/themes")).data == {"questions": [], "themes": []}
    assert client.post(world.url("/questions"), {"text": "  "}, format="json").status_code == 400


def test_finding_obeys_the_scope(world, client):
    first, second = Case.objects.get(identifier="P1"), Case.objects.get(identifier="P2")

    def found(**more):
        answer = client.post(world.url("/find"), {"text": "home", **more}, format="json").data
        return answer["total"], [person["identifier"] for person in answer["people"]]

    assert found() == (2, ["P1", "P2"])
    assert found(cases=[first.pk]) == (1, ["P1"])
    assert found(documents=[Document.objects.get(title="P2_garden").pk]) == (1, ["P2"])
    assert found(cases=[second.pk], documents=[pier(world).pk]) == (0, [])


def test_a_merge_of_many_codings_is_few_statements_and_one_undo(world):
    document = pier(world)
    late, home = Code.objects.get(name="Late"), Code.objects.get(name="Home")
    for start in range(0, 60, 2):
        coding.apply_codes(world.owner, document.pk, start, start + 7, [home.pk])
    before = sorted(home.codings.values_list("id", "passage_id"))
    with CaptureQueriesContext(connection) as asked:
        coding.merge_codes(world.owner, late.pk, [home.pk])
    assert len(asked) < 60
    assert late.codings.count() == len(before) + 1
    undo(world.owner)
    assert sorted(Code.objects.get(name="Home").codings.values_list("id", "passage_id")) == before


def test_values_copied_alike_keep_every_sign_and_are_taken_back(world):
    odd = ["tab\there", "line\nend\r", "back\\slash", "\\N", "’ 🚢 é", "", "plain"]
    with act(world.owner, "material.bring_in") as change:
        words = change.create(Variable(project=world.project, name="Words", kind="text", position=9))
        made = change.create_many(
            [Case(project=world.project, identifier=f"X{place}") for place in range(len(odd) * 3)]
        )
        which = [place % len(odd) for place in range(len(made))]
        shared = [(words.pk, text) for text in odd]
        change.copy_alike(Value, ("case_id", "variable_id", "words"), [row.pk for row in made], shared, which)
    held = dict(Value.objects.filter(variable=words).values_list("case__identifier", "words"))
    assert held == {f"X{place}": odd[place % len(odd)] for place in range(len(odd) * 3)}
    undo(world.owner)
    assert not Value.objects.filter(variable=words.pk).exists()
    assert not Case.objects.filter(identifier="X0").exists()


def test_the_same_coding_twice_and_codes_alike_but_for_case_are_one(world, client):
    document = pier(world)
    put(world.owner, document, "I waited", Code.objects.get(name="Late"))
    put(world.owner, document, "I waited", Code.objects.get(name="Late"))
    assert Coding.objects.filter(passage__document=document, code__name="Late").count() == 2
    body = {"start": 0, "end": 4, "codes": [], "new_codes": [{"name": " home "}]}
    answer = client.post(world.url(f"/documents/{document.pk}/passages"), body, format="json")
    home = Code.objects.get(name__iexact="home")
    assert [one["code"] for one in answer.data["codings"]] == [home.pk]
    refused = client.post(world.url("/codebook"), {"name": " home "}, format="json")
    assert (refused.status_code, "“Home”" in refused.data["error"]) == (409, True)


def test_the_pulse_tells_of_others_work_and_of_what_was_touched(world):
    owner, viewer = world.client(world.owner.account), world.client(world.viewer.account)
    before = viewer.get(world.url("/pulse")).data
    assert before["moves"] == []
    mine = owner.get(world.url("/pulse")).data
    coding.create_code(world.owner, "Meanwhile")
    now = viewer.get(world.url("/pulse"), {"since": before["revision"]}).data
    assert (now["others"] - before["others"], now["by"], now["summary"]) == (1, "Owner", "Made the code Meanwhile")
    assert now["moves"] == [{"revision": before["revision"] + 1, "touched": ["coding.code"]}]
    # One’s own work isn’t news to oneself, but another page of one’s own has to hear of it.
    same = owner.get(world.url("/pulse"), {"since": mine["revision"]}).data
    assert same["others"] == mine["others"]
    assert same["moves"] == now["moves"]
    undo(world.owner)
    later = viewer.get(world.url("/pulse"), {"since": now["revision"]}).data
    assert [move["touched"] for move in later["moves"]] == [["coding.code"]]
    # Of what went by unseen, anything may have moved.
    Touched.objects.filter(project=world.project).delete()
    assert viewer.get(world.url("/pulse"), {"since": 1}).data["moves"][0]["touched"] is None
    assert viewer.get(world.url("/pulse"), {"since": later["revision"] + 5}).data["moves"][0]["touched"] is None
    assert viewer.get(world.url("/pulse"), {"since": "x"}).status_code == 400


def test_a_write_says_what_it_touched_and_a_coding_what_undo_takes_back(world):
    pier, late = Document.objects.get(title="P1_pier"), Code.objects.get(name="Late")
    client = world.client(world.owner.account)
    start = pier.text.index("I waited")
    body = {"start": start, "end": start + 8, "codes": [late.pk]}
    answer = client.post(world.url(f"/documents/{pier.pk}/passages"), body, format="json")
    world.project.refresh_from_db()
    assert answer["X-Revision"] == str(world.project.revision)
    assert answer["X-Touched"] == "coding.coding coding.passage"
    assert answer.json()["undo"] == "Put Late on “I waited”"
    # The same once more changes nothing, and says so.
    again = client.post(world.url(f"/documents/{pier.pk}/passages"), body, format="json")
    assert "X-Revision" not in again
    undone = client.post(world.url("/undo"))
    assert undone["X-Touched"] == "coding.coding coding.passage"
    assert "X-Touched" not in client.get(world.url("/codebook"))


def test_the_answer_to_a_coding_is_what_the_document_then_shows(world):
    """Of a passage made just now nothing is asked: what is said of it from memory is what reading it gives."""
    client, pier, late = world.client(world.owner.account), Document.objects.get(title="P1_pier"), Code.objects.first()
    for member, codes in ((world.owner, 2), (world.coder, 1), (world.owner, 1)):
        body = {"start": 3, "end": 11, "codes": [late.pk], "new_codes": [{"name": f"One of {member}"}] * (codes - 1)}
        answer = (
            world.client(member.account).post(world.url(f"/documents/{pier.pk}/passages"), body, format="json").json()
        )
        undo = answer.pop("undo")
        assert undo == world.client(member.account).get(world.url("/status")).json()["undo"]
        read = client.get(world.url(f"/documents/{pier.pk}/passages")).json()
        assert answer == next(one for one in read if one["id"] == answer["id"])
    assert len(answer["codings"]) == 3


def test_a_revision_that_is_taken_back_in_the_end_isnt_told(world, monkeypatch):
    """Somebody else makes one of that number: the page would take it for its own."""
    really_put = coding.put_codes

    def refused(*asked: object) -> None:
        with transaction.atomic():
            really_put(*asked)
            raise Refusal("In the end, no.")

    monkeypatch.setattr("server.coding.api.passages.actions.put_codes", refused)
    pier, late = Document.objects.get(title="P1_pier"), Code.objects.get(name="Late")
    body = {"start": 0, "end": 11, "codes": [late.pk]}
    answer = world.client(world.owner.account).post(world.url(f"/documents/{pier.pk}/passages"), body, format="json")
    assert answer.status_code == 400
    assert "X-Revision" not in answer


def test_codes_sent_twice_or_made_by_two_at_once_are_one(world):
    pier = Document.objects.get(title="P1_pier")
    body = {"start": 5, "end": 12, "codes": [], "new_codes": [{"name": "Ice  on the quay"}]}
    url = world.url(f"/documents/{pier.pk}/passages")
    for member in (world.owner, world.owner, world.coder):
        assert world.client(member.account).post(url, body, format="json").status_code == 200
    made = Code.objects.get(name="Ice on the quay")
    assert sorted(made.codings.values_list("coder__username", flat=True)) == ["coder", "owner"]


def test_codes_are_proposed_for_a_document_and_for_a_speaker(world, client):
    document, late = pier(world), Code.objects.get(name="Late")
    home = Code.objects.get(name="Home")
    speaker = document.speakers.get(label="P1")
    url = world.url(f"/documents/{document.pk}/proposed")
    assert client.put(url, {"speaker": None, "codes": [late.pk]}, format="json").status_code == 204
    assert client.put(url, {"speaker": speaker.pk, "codes": [home.pk, late.pk]}, format="json").status_code == 204
    assert client.put(url, {"speaker": speaker.pk, "codes": [home.pk]}, format="json").status_code == 204
    shown = client.get(world.url(f"/documents/{document.pk}")).data["proposed"]
    assert shown == [{"code": late.pk, "speaker": None}, {"code": home.pk, "speaker": speaker.pk}]
    # Proposed is not put.
    assert Coding.objects.filter(passage__document=document).count() == 2
    stranger = Document.objects.get(title="P2_garden").speakers.get(label="Maren")
    assert client.put(url, {"speaker": stranger.pk, "codes": [home.pk]}, format="json").status_code == 404
    undo(world.owner)
    assert len(client.get(world.url(f"/documents/{document.pk}")).data["proposed"]) == 3
