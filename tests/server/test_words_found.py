"""Single words found by where each word stands, against going through the texts; and the file that processes share."""

import json
from pathlib import Path
from uuid import uuid4

import numpy as np
import pytest

from core.coding.find import query
from server.coding import finding
from server.coding.actions import create_code
from server.coding.actions.texts import edit_turn
from server.coding.finding import Asked, hits
from server.coding.models import Passage
from server.common import memory
from server.gather.actions import change_speaker, delete_documents, split_turn
from server.gather.models import Document, Speaker
from server.people.models import Case
from server.projects.models import Touched
from server.projects.trail import undo
from server.shell.forgetting.actions import forget
from server.snapshots import words
from server.snapshots.queries import snapshot
from tests.server.conftest import bring_in

ODD = "I: Straße, STRASSE, strasse? don’t\nP9: Die Straße; late-night boats 🚢 boat.\nP9: Boat\u0301 boat_boat boat’s BOAT"


@pytest.fixture(autouse=True)
def _shared_by_nobody(settings, tmp_path):
    settings.SNAPSHOT_FOLDER, settings.TEMPORARY_FOLDER = tmp_path / "snapshots", tmp_path / "tmp"
    settings.TEMPORARY_FOLDER.mkdir()
    memory.forget()
    yield
    memory.forget()


@pytest.fixture
def at_once(monkeypatch):
    """What goes on beside is done here, so that it sees this test's transaction."""

    class Here:
        def __init__(self, target, args, daemon):
            self.start = lambda: target(*args)

    monkeypatch.setattr(words.threading, "Thread", Here)
    monkeypatch.setattr(words.connections, "close_all", lambda: None)
    monkeypatch.setattr(words, "LEAST_KEPT", 1)


def both_ways(member, asked):
    """The same question by words and by texts."""
    wanted = query(asked.text, asked.how)
    by_words, by_texts = (
        finding._by_words(member, snapshot(member.project_id), asked, wanted),
        finding._by_texts(member, asked, wanted),
    )
    assert by_words is not None
    return by_words, by_texts


@pytest.mark.parametrize("text", ["boat", "late home", "straße", "STRASSE", "crossed", "i", "how was it"])
def test_words_are_counted_and_listed_as_by_going_through_the_texts(world, text):
    bring_in(world.owner, ("odd.txt", ODD))
    case = Case.objects.get(identifier="P1", project=world.project)
    documents = tuple(Document.objects.filter(project=world.project).order_by("-pk").values_list("pk", flat=True)[:2])
    for narrowed in ({}, {"everyone": True}, {"cases": (case.pk,)}, {"documents": documents}, {"skip": 1}):
        by_words, by_texts = both_ways(world.owner, Asked(text, **narrowed))
        assert by_words == by_texts, narrowed


def test_the_words_follow_every_change_of_texts_turns_and_people(world):
    def same():
        for text in ("boat", "ferry", "late", "walked"):
            for everyone in (False, True):
                by_words, by_texts = both_ways(world.owner, Asked(text, everyone=everyone))
                assert by_words == by_texts, text
        return finding._by_words(world.owner, snapshot(world.project.pk), Asked("ferry"), query("ferry", "words")).total

    assert same() == 0
    document = Document.objects.get(title="P1_pier")
    turn = document.turns.get(number=2)
    edit_turn(world.owner, document.pk, 2, document.text[turn.start : turn.end].replace("boat", "ferry ferry"), {})
    assert same() == 2
    document.refresh_from_db()
    split_turn(world.owner, document.pk, 2, document.text.index("ferry ferry") + 6)
    same()
    speaker = Speaker.objects.get(document=document, label="P1")
    change_speaker(world.owner, speaker.pk, role="interviewer")
    assert same() == 0
    for _ in range(3):
        undo(world.owner)
    assert same() == 0
    bring_in(world.owner, ("more.txt", "I: And?\nP2: A ferry, late."))
    assert same() == 1


def test_hits_are_listed_a_page_at_a_time(world, monkeypatch):
    monkeypatch.setattr(finding, "MOST", 2)
    client = world.client(world.viewer.account)
    pages = [client.post(world.url("/find"), {"text": "how i", "how": "words", "everyone": True, "skip": skip}, format="json").data for skip in (0, 2, 4)]  # fmt: skip
    assert len({page["total"] for page in pages}) == 1
    listed = [(hit["document"], hit["start"]) for page in pages for hit in page["hits"]]
    assert len(listed) == len(set(listed)) == min(6, pages[0]["total"])
    assert [page["more"] for page in pages] == [max(0, pages[0]["total"] - done) for done in (2, 4, 6)]
    # What takes the texts is paged as well.
    monkeypatch.setattr(finding, "MOST", 1)
    said = {"text": "how was", "how": "phrase", "everyone": True}
    phrases = [client.post(world.url("/find"), {**said, "skip": skip}, format="json").data for skip in (0, 1)]
    assert [(page["total"], page["more"], len(page["hits"])) for page in phrases] == [(2, 1, 1), (2, 0, 1)]
    assert phrases[0]["hits"] != phrases[1]["hits"]


@pytest.mark.parametrize("text", ["don’t", "na\u0308\u0323ive"])
def test_what_is_no_single_word_goes_through_the_texts(world, text):
    assert finding._by_words(world.owner, snapshot(world.project.pk), Asked(text), query(text, "words")) is None
    assert hits(world.owner, Asked(text))["total"] == 0


def test_another_process_starts_from_the_file(world, at_once, monkeypatch):
    first = words.words_of(world.project.pk, snapshot(world.project.pk))
    memory.forget()
    monkeypatch.setattr(words, "places_in", lambda text: pytest.fail("gone through again") if text else real(text))
    again = words.words_of(world.project.pk, snapshot(world.project.pk))
    assert again.key.tolist() == first.key.tolist()
    assert again.first.tolist() == first.first.tolist()


def test_texts_that_nobody_touched_are_not_even_looked_at(world, at_once, monkeypatch):
    first = words.words_of(world.project.pk, snapshot(world.project.pk))
    memory.forget()
    monkeypatch.setattr(words, "_digests", lambda *_: pytest.fail("looked at"))
    again = words.words_of(world.project.pk, snapshot(world.project.pk))
    assert again.key.tolist() == first.key.tolist()


def test_a_file_of_another_past_is_not_believed(world, at_once):
    """A backup took back a revision, and one of the same number changed the text in another way."""
    pier = Document.objects.get(title="P1_pier")
    words.words_of(world.project.pk, snapshot(world.project.pk))
    assert hits(world.owner, Asked("zeppelin", everyone=True))["total"] == 0
    Document.objects.filter(pk=pier.pk).update(text=pier.text.replace("walked", "zeppel", 1))
    Touched.objects.filter(project=world.project).update(mark=uuid4())
    memory.forget()
    assert hits(world.owner, Asked("zeppel", everyone=True))["total"] == 1


real = words.places_in


@pytest.mark.parametrize("damage", ["flipped", "cut", "other list", "no list", "no array"])
def test_a_damaged_file_is_put_aside_and_the_texts_gone_through(world, at_once, settings, damage):
    wanted, asked = query("boat", "words"), Asked("boat")
    before = finding._by_words(world.owner, snapshot(world.project.pk), asked, wanted)
    folder = Path(settings.SNAPSHOT_FOLDER) / str(world.project.pk) / "words"
    keys = folder / "key.npy"
    if damage == "flipped":
        held = bytearray(keys.read_bytes())
        held[-3] ^= 8
        keys.write_bytes(held)
    elif damage == "cut":
        keys.write_bytes(keys.read_bytes()[:-20])
    elif damage == "other list":
        said = json.loads((folder / "list.json").read_text())
        (folder / "list.json").write_text(json.dumps({**said, "arrays": {}}))
    elif damage == "no list":
        (folder / "list.json").write_text("{")
    else:
        keys.unlink()
    memory.forget()
    assert finding._by_words(world.owner, snapshot(world.project.pk), asked, wanted) == before


def test_a_large_project_is_gone_through_beside_and_answers_meanwhile(world, monkeypatch):
    begun = []

    class Beside:
        def __init__(self, target, args, daemon):
            self.start = lambda: begun.append(args[0])

    monkeypatch.setattr(words.threading, "Thread", Beside)
    monkeypatch.setattr(words, "MOST_AT_ONCE", 10)
    expected = finding._by_texts(world.owner, Asked("boat"), query("boat", "words")).total
    assert finding._by_words(world.owner, snapshot(world.project.pk), Asked("boat"), query("boat", "words")) is None
    assert hits(world.owner, Asked("boat"))["total"] == expected > 0
    # Once for all who ask meanwhile.
    assert begun == [world.project.pk]
    words._beside.clear()


def test_nothing_of_whoever_is_forgotten_stays(world, at_once, settings):
    folder = Path(settings.SNAPSHOT_FOLDER) / str(world.project.pk)
    words.words_of(world.project.pk, snapshot(world.project.pk))
    key = np.uint64(words.places_in("walked").key[0])
    assert key in np.load(folder / "words" / "key.npy")
    held = snapshot(world.project.pk)
    digests, _ = words._digests(world.project.pk, held)
    forget(world.owner, "P1", True, case=Case.objects.get(identifier="P1", project=world.project).pk)
    assert not (folder / "words").exists()
    # Somebody had it in hand, and writes it only now.
    late = words._Gone(held.since("gather.document"), digests, words.together([words.places_in("walked")]), None)
    words._write(world.project.pk, late)
    assert not (folder / "words").exists()


def test_a_text_that_is_deleted_leaves_the_file_with_the_next_question(world, at_once, settings):
    key = Path(settings.SNAPSHOT_FOLDER) / str(world.project.pk) / "words" / "key.npy"
    pier = Document.objects.get(title="P1_pier")
    words.words_of(world.project.pk, snapshot(world.project.pk))
    walked = np.uint64(words.places_in("walked").key[0])
    assert walked in np.load(key)
    delete_documents(world.owner, [pier.pk])
    words.words_of(world.project.pk, snapshot(world.project.pk))
    assert walked not in np.load(key)


def test_what_was_brought_in_is_gone_through_before_anybody_asks(world, at_once, monkeypatch):
    words.prepare(world.project.pk)
    memory.forget()
    monkeypatch.setattr(words, "MOST_AT_ONCE", 0)
    assert finding._by_words(world.owner, snapshot(world.project.pk), Asked("boat"), query("boat", "words")).total > 0


def test_every_hit_is_coded_at_once_listed_or_not_but_those_left_out(world, monkeypatch):
    monkeypatch.setattr(finding, "MOST", 1)
    client = world.client(world.owner.account)
    code = create_code(world.owner, "How").pk
    question = {"text": "how", "how": "words", "everyone": True}
    found = client.post(world.url("/find"), question, format="json").data
    assert found["total"] > 1 == len(found["hits"])
    (first,) = ({name: hit[name] for name in ("document", "start", "end")} for hit in found["hits"])
    body = {"hits": [first], "all_of": question, "extent": "hit", "codes": [code]}
    assert client.put(world.url("/find"), body, format="json").data == {"count": found["total"] - 1}
    coded = set(Passage.objects.filter(codings__code=code).values_list("document_id", "start", "end"))
    assert len(coded) == found["total"] - 1
    assert tuple(first.values()) not in coded
    assert {
        document.text[start:end].lower() for pk, start, end in coded for document in Document.objects.filter(pk=pk)
    } == {"how"}
    undo(world.owner)
    assert not Passage.objects.filter(codings__code=code).exists()
    bad = {**body, "all_of": {"text": "(", "how": "pattern"}}
    assert client.put(world.url("/find"), bad, format="json").status_code == 400


def test_where_little_is_found_words_written_nearly_so_are_offered(world):
    client = world.client(world.viewer.account)
    bring_in(world.owner, ("more.txt", "I: And?\nP2: A ferry, late. The ferry again."))
    found = client.post(world.url("/find"), {"text": "fery", "how": "words"}, format="json").data
    assert (found["total"], found["near"][0]) == (0, {"word": "ferry", "count": 2})
    there = client.post(world.url("/find"), {"text": "fer.", "how": "pattern"}, format="json").data
    assert there["near"] == []
