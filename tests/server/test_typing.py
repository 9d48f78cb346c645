"""The typing desk: empty turns typed, cut, added, moved in time; a text brought later. All taken back by undo."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import IntegrityError, connection, transaction

from server.coding import actions as coding
from server.coding.models import Code, Passage
from server.common.errors import Conflict, NotAllowed, Refusal
from server.gather import actions as gather
from server.gather import sound
from server.gather.models import Document, Medium, Section, Speaker, Turn
from server.gather.word_index import WordIndex
from server.people.models import Case
from server.projects import trail
from server.projects.models import TrailEntry
from server.snapshots.queries import snapshot
from tests.server.conftest import put
from tests.server.test_texts import whole

TIMES = [(1.0, 4.0), (6.0, 9.5), (12.0, 14.0)]


@pytest.fixture
def talk(world):
    """A recording with three empty turns."""
    document = Document.objects.create(
        project=world.project, title="Lift", kind="recording", text="\n\n", length=2, words=0, seconds=16.0
    )
    Medium.objects.create(document=document, role="recording", digest="0" * 64, content_type="audio/wav")
    speaker = Speaker.objects.create(document=document, label="Whole document", role="participant")
    for number, (begin, finish) in enumerate(TIMES):
        at = {"start": number, "end": min(number + 1, 2), "ink_start": number, "ink_end": number}
        times = {"begin": begin, "finish": finish, "time": "0:01"}
        Turn.objects.create(document=document, speaker=speaker, number=number + 1, words=0, **at, **times)
    return document


def typed(document):
    """What stands in each turn, which must cover the text in order."""
    document.refresh_from_db()
    turns = list(Turn.objects.filter(document=document))
    assert [turn.number for turn in turns] == list(range(1, len(turns) + 1))
    assert [turn.start for turn in turns] == [0, *(turn.end for turn in turns[:-1])]
    assert turns[-1].end == document.length == len(document.text)
    assert document.words == sum(turn.words for turn in turns)
    said = [document.text[turn.ink_start : turn.ink_end] for turn in turns]
    assert all(one == one.strip() for one in said)
    return said


def test_what_is_typed_is_its_turns_whatever_stands_beside_it(world, talk):
    before = whole(talk)
    coding.edit_turn(world.owner, talk.pk, 2, "It was late, again.", {})
    coding.edit_turn(world.owner, talk.pk, 1, "How was it?", {})
    coding.edit_turn(world.owner, talk.pk, 3, "Well.", {})
    assert typed(talk) == ["How was it?", "It was late, again.", "Well."]
    assert talk.text == "How was it?\nIt was late, again.\nWell."
    late = Code.objects.get(name="Late")
    put(world.owner, talk, "late, again", late)
    coding.edit_turn(world.owner, talk.pk, 1, "So: how was it, the crossing?", {})
    passage = Passage.objects.get(document=talk)
    talk.refresh_from_db()
    assert talk.text[passage.start : passage.end] == "late, again"
    assert "crossing" in WordIndex.objects.get(document=talk).words
    for _ in range(5):
        trail.undo(world.owner)
    assert whole(talk) == before
    assert "crossing" not in WordIndex.objects.get(document=talk).words
    assert trail.redo(world.owner).summary == "Typed turn 2 of “Lift”"
    assert typed(talk) == ["", "It was late, again.", ""]


def test_what_undo_keeps_is_what_was_typed_and_not_the_whole_text(world, talk):
    coding.edit_turn(world.owner, talk.pk, 1, "word " * 3000, {})
    coding.edit_turn(world.owner, talk.pk, 2, "Well.", {})
    entry = TrailEntry.objects.filter(project=world.project).latest("revision")
    assert len(json.dumps(entry.inverse)) < 2000


def test_what_is_typed_goes_to_the_turn_that_begins_then_whatever_its_number_is_by_now(world, talk):
    """Somebody cuts a turn before it meanwhile: by its number it would be typed over another."""
    client = world.client(world.owner.account)

    def put(number, **said):
        return client.put(world.url(f"/documents/{talk.pk}/turns/{number}/text"), said, format="json")

    coding.edit_turn(world.owner, talk.pk, 1, "Now. Then.", {})
    coding.split_at(world.owner, talk.pk, 1, 4, 2.0)
    third = Turn.objects.get(document=talk, number=3)
    assert put(2, text="It was late.", decisions={}, begin=third.begin).status_code == 204
    assert typed(talk) == ["Now.", "Then.", "It was late.", ""]
    answer = put(2, text="Lost", decisions={}, begin=5.125)
    assert answer.status_code == 400
    assert "nothing was changed" in answer.json()["error"]
    assert typed(talk) == ["Now.", "Then.", "It was late.", ""]


def test_a_turn_is_cut_where_one_types_and_listens(world, talk):
    # Into the words of the turn, wherever it stands by now: the first may have been typed just before.
    coding.edit_turn(world.owner, talk.pk, 1, "Now.", {})
    coding.edit_turn(world.owner, talk.pk, 2, "It was late. How so?", {})
    talk.refresh_from_db()
    before = whole(talk)
    at = len("It was late. ")
    with pytest.raises(Refusal, match="outside this turn"):
        coding.split_at(world.owner, talk.pk, 2, at, 11.0)
    with pytest.raises(Refusal, match="middle of a word"):
        coding.split_at(world.owner, talk.pk, 2, at + 1, 8.0)
    coding.split_at(world.owner, talk.pk, 2, at, 8.0)
    assert typed(talk) == ["Now.", "It was late.", "How so?", ""]
    times = list(Turn.objects.filter(document=talk).values_list("begin", "finish"))
    assert times == [(1.0, 4.0), (6.0, 8.0), (8.0, 9.5), (12.0, 14.0)]
    # At the end of its words: the second is empty, and typed as any other.
    coding.split_at(world.owner, talk.pk, 3, 99, 8.75)
    coding.edit_turn(world.owner, talk.pk, 4, "The wind.", {})
    assert typed(talk) == ["Now.", "It was late.", "How so?", "The wind.", ""]
    for _ in range(3):
        trail.undo(world.owner)
    assert whole(talk) == before


@pytest.mark.parametrize(
    ("begin", "finish", "number"), [(0.1, 0.8, 1), (4.5, 5.5, 2), (14.5, 15.5, 4)], ids=["first", "between", "last"]
)
def test_a_turn_is_added_in_order_of_time_and_taken_away(world, talk, begin, finish, number):
    for at, said in enumerate(["One.", "Two.", "Three."], start=1):
        coding.edit_turn(world.owner, talk.pk, at, said, {})
    talk.refresh_from_db()
    put(world.owner, talk, "Two", Code.objects.get(name="Late"))
    Section.objects.create(document=talk, kind="heading", title="All", start=0, end=talk.length)
    before = whole(talk)
    assert coding.add_turn(world.owner, talk.pk, begin, finish) == number
    expected = ["One.", "Two.", "Three."]
    expected.insert(number - 1, "")
    assert typed(talk) == expected
    coding.edit_turn(world.owner, talk.pk, number, "New", {})
    expected[number - 1] = "New"
    assert typed(talk) == expected
    passage = Passage.objects.get(document=talk)
    assert talk.text[passage.start : passage.end] == "Two"
    assert Section.objects.get(document=talk).end == talk.length
    with pytest.raises(Refusal, match="has words"):
        coding.remove_turn(world.owner, talk.pk, number)
    trail.undo(world.owner)
    coding.remove_turn(world.owner, talk.pk, number)
    assert typed(talk) == ["One.", "Two.", "Three."]
    trail.undo(world.owner)
    trail.undo(world.owner)
    assert whole(talk) == before


def test_a_turn_added_among_empty_ones_keeps_its_words_apart(world, talk):
    before = whole(talk)
    assert coding.add_turn(world.owner, talk.pk, 10.5, 11.5) == 3
    assert typed(talk) == ["", "", "", ""]
    for number, said in enumerate(["One.", "Two.", "Three.", "Four."], start=1):
        coding.edit_turn(world.owner, talk.pk, number, said, {})
    assert typed(talk) == ["One.", "Two.", "Three.", "Four."]
    assert talk.text == "One.\nTwo.\nThree.\nFour."
    for _ in range(5):
        trail.undo(world.owner)
    assert whole(talk) == before


def test_times_are_moved_between_those_of_the_neighbours(world, talk):
    coding.retime_turn(world.owner, talk.pk, 2, 5.0, 10.25)
    assert Turn.objects.get(document=talk, number=2).time == "0:05"
    for begin, finish, said in [
        (0.5, 2.0, "order in which they begin"),
        (13.0, 14.0, "order in which they begin"),
        (6.0, 5.0, "its end comes after"),
        (6.0, 40.0, "ends at 0:16"),
    ]:
        with pytest.raises(Refusal, match=said):
            coding.retime_turn(world.owner, talk.pk, 2, begin, finish)
    with pytest.raises(Refusal, match="Only turns of a recording"):
        coding.add_turn(world.owner, Document.objects.get(title="P1_pier").pk, 1.0, 2.0)


def test_numbers_move_on_at_once_and_two_turns_never_share_one(world, talk):
    with pytest.raises(IntegrityError), transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
        Turn.objects.filter(document=talk, number=1).update(number=2)
    gather.join_turn(world.owner, talk.pk, 1)
    assert typed(talk) == ["", ""]
    trail.undo(world.owner)
    assert typed(talk) == ["", "", ""]


def test_empty_turns_are_laid_only_where_nothing_is_typed(world, talk, monkeypatch, tmp_path):
    from core.gather.stretches import Stretch

    found = sound.Sound(16.0, (Stretch(2.0, 3.0), Stretch(5.0, 7.0)), (), "", tmp_path)
    monkeypatch.setattr("server.coding.actions.typing.heard", lambda digest: None)
    with pytest.raises(Refusal, match="Nobody has listened"):
        coding.lay_turns(world.owner, talk.pk)
    monkeypatch.setattr("server.coding.actions.typing.heard", lambda digest: found)
    assert coding.lay_turns(world.owner, talk.pk) == 2
    assert list(Turn.objects.filter(document=talk).values_list("begin", flat=True)) == [2.0, 5.0]
    coding.edit_turn(world.owner, talk.pk, 1, "Words", {})
    with pytest.raises(Conflict, match="words already"):
        coding.lay_turns(world.owner, talk.pk)


def test_nobody_but_coders_types(world, talk):
    for refused in (
        lambda: coding.edit_turn(world.viewer, talk.pk, 1, "No", {}),
        lambda: coding.add_turn(world.viewer, talk.pk, 4.5, 5.0),
        lambda: coding.remove_turn(world.viewer, talk.pk, 1),
        lambda: coding.lay_turns(world.viewer, talk.pk),
    ):
        with pytest.raises(NotAllowed):
            refused()
    url = world.url(f"/documents/{talk.pk}/turns")
    assert world.client(world.stranger).post(url, {"begin": 4.5, "finish": 5.0}, format="json").status_code == 404


def test_a_snapshot_carried_on_is_what_a_load_gives(world, talk):
    """Typing shifts positions of many turns: what everything is counted from follows."""
    put(world.owner, Document.objects.get(title="P1_pier"), "I waited", Code.objects.get(name="Late"))
    Speaker.objects.filter(document=talk).update(case=Case.objects.get(identifier="P3"))
    snapshot(world.project.pk)
    coding.edit_turn(world.owner, talk.pk, 1, "It was late again.", {})
    coding.edit_turn(world.owner, talk.pk, 3, "I waited, and waited.", {})
    talk.refresh_from_db()
    put(world.owner, talk, "waited, and", Code.objects.get(name="Late"))
    coding.add_turn(world.owner, talk.pk, 4.5, 5.0)
    held = snapshot(world.project.pk)
    cases = {held.case_ids[case] for case in held.attributions.case}
    assert Case.objects.get(identifier="P3").pk in cases


VTT = """WEBVTT

00:01.000 --> 00:04.000
<v Ana>How was the boat?

00:06.000 --> 00:09.500
<v Bo>It was late, again. I waited long.
"""


def preview(world, talk, name="talk.vtt", text=VTT, path="text/preview", **more):
    file = SimpleUploadedFile(name, text.encode())
    return world.client(world.owner.account).post(world.url(f"/documents/{talk.pk}/{path}"), {"file": file, **more})


@pytest.fixture
def _here(monkeypatch):
    from tests.server.conftest import read_here

    monkeypatch.setattr("server.gather.texts.read_files", read_here)


@pytest.mark.usefixtures("_here")
class TestATextThatComesLater:
    def test_it_is_shown_first_and_then_taken_with_its_times(self, world, talk):
        before = whole(talk)
        would = preview(world, talk).data
        assert (would["words_before"], would["words"], would["turns"], would["lost"]) == (0, 11, 2, [])
        assert [speaker["label"] for speaker in would["speakers"]] == ["Ana", "Bo"]
        assert whole(talk) == before
        assert preview(world, talk, path="text").status_code == 204
        assert typed(talk) == ["How was the boat?", "It was late, again. I waited long."]
        assert list(Turn.objects.filter(document=talk).values_list("begin", "speaker__label")) == [
            (1.0, "Ana"),
            (6.0, "Bo"),
        ]
        assert not Speaker.objects.filter(document=talk, label="Whole document").exists()
        trail.undo(world.owner)
        assert whole(talk) == before

    def test_passages_go_with_their_words_and_those_that_lose_all_are_asked_about(self, world, talk):
        preview(world, talk, path="text")
        talk.refresh_from_db()
        late = Code.objects.get(name="Late")
        put(world.owner, talk, "late, again", late)
        put(world.owner, talk, "waited long", late)
        corrected = VTT.replace(" I waited long.", "").replace("How was", "So how was")
        would = preview(world, talk, text=corrected).data
        (lost,) = would["lost"]
        assert lost["text"] == "waited long"
        assert preview(world, talk, text=corrected, path="text").status_code == 409
        assert preview(world, talk, text=corrected, path="text", decisions="[1]").status_code == 400
        kept = json.dumps({lost["passage"]: "remove"})
        assert preview(world, talk, text=corrected, path="text", decisions=kept).status_code == 204
        talk.refresh_from_db()
        (passage,) = Passage.objects.filter(document=talk)
        assert talk.text[passage.start : passage.end] == "late, again"

    def test_who_was_linked_stays_linked(self, world, talk):
        case = Case.objects.get(identifier="P3")
        Speaker.objects.filter(document=talk).update(case=case)
        preview(world, talk, text=VTT.replace("<v Ana>", "<v Interviewer>"), path="text")
        assert set(Speaker.objects.filter(document=talk).values_list("label", "case")) == {
            ("Interviewer", None),
            ("Bo", case.pk),
        }

    @pytest.mark.parametrize(
        ("name", "text", "said"),
        [
            ("talk.vtt", "WEBVTT\n\n", "No cue"),
            ("sheet.csv", "a;b\n1;2", "That is no text"),
            ("talk.exe", "MZ", "none of them"),
        ],
    )
    def test_what_is_no_text_of_it_is_refused_in_a_sentence(self, world, talk, name, text, said):
        answer = preview(world, talk, name, text)
        assert answer.status_code == 400
        assert said in answer.json()["error"]

    def test_a_text_of_another_recording_is_said(self, world, talk):
        longer = VTT.replace("00:09.500", "00:59.500")
        assert any("another recording" in said for said in preview(world, talk, text=longer).data["warnings"])
        plain = preview(world, talk, "talk.txt", "Ana: How was it?\nBo: Late.\nAna: And?\nBo: Later.").data
        assert any("no times" in said for said in plain["warnings"])

    def test_only_a_recording_is_given_one(self, world):
        pier = Document.objects.get(title="P1_pier")
        assert "Only a recording" in preview(world, pier, path="text").json()["error"]
