"""Regions of pictures and pages, spans of recordings: put, moved, undone, counted, refused."""

import pytest
from django.db import IntegrityError, connection, transaction

from core.coding.places import Region, Span
from server.coding import actions as coding
from server.coding.models import Code, Passage
from server.common.errors import Refusal
from server.gather import actions as gather
from server.gather import queries
from server.gather.models import Document, Medium, Speaker, Turn
from server.gather.shelf import shelf
from server.people.models import Case
from server.projects import trail
from server.report import actions as report
from server.snapshots.queries import snapshot

NOTICE = {"page": 2, "left": 1000, "top": 2000, "right": 5000, "bottom": 4000}


@pytest.fixture
def shown(world):
    """A drawing by P1, a notice of two pages by nobody, a recording in which P2 speaks from 2 to 5 seconds."""
    one, two = Case.objects.get(identifier="P1"), Case.objects.get(identifier="P2")

    def document(title, kind, role, case=None, media=(), text="", seconds=None):
        row = Document.objects.create(
            project=world.project, title=title, kind=kind, text=text, length=len(text), words=0, seconds=seconds
        )
        speaker = Speaker.objects.create(document=row, label="Whole document", role=role, case=case)
        for medium, number in media:
            Medium.objects.create(document=row, role=medium, number=number, digest="0" * 64, content_type="image/webp")
        return row, speaker

    drawing, _ = document("Drawing", "image", "participant", one, [("picture", 1)])
    notice, _ = document("Notice", "pdf", "other", None, [("pages", 2)], "Timetable")
    talk, speaker = document("Talk", "recording", "participant", two, [("recording", 1)], "Hear this", 9.5)
    times = {"begin": 2.0, "finish": 5.0}
    Turn.objects.create(
        document=talk, speaker=speaker, number=1, start=0, end=9, ink_start=0, ink_end=9, words=2, **times
    )
    world.drawing, world.notice, world.talk = drawing, notice, talk
    return world


def post(world, document, **body):
    code = Code.objects.get(name="Late").pk
    return world.client(world.owner.account).post(
        world.url(f"/documents/{document.pk}/passages"), {"codes": [code], **body}, format="json"
    )


def test_codes_are_put_on_regions_and_spans_and_count_for_whom_they_belong_to(shown):
    said = post(shown, shown.notice, region=NOTICE).data
    assert said["region"] == NOTICE
    assert post(shown, shown.drawing, region={**NOTICE, "page": 1, "left": 9000, "right": 100}).status_code == 200
    said = post(shown, shown.talk, span={"begin": 4.999, "finish": 1.5}).data
    assert said["span"] == {"begin": 1.5, "finish": 5.0}
    assert post(shown, shown.talk, span={"begin": 6, "finish": 70}).data["span"]["finish"] == 9.5
    held = snapshot(shown.project.pk)
    who = {
        Passage.objects.get(pk=held.passage_ids[p]).document.title: Case.objects.get(pk=held.case_ids[c]).identifier
        for p, c in zip(held.attributions.passage, held.attributions.case, strict=True)
    }
    assert who == {"P1_pier": "P1", "P2_garden": "P2", "Drawing": "P1", "Talk": "P2"}
    turned = Passage.objects.get(document=shown.drawing)
    assert (turned.left, turned.right) == (100, 9000)
    reading = (
        shown.client(shown.viewer.account)
        .post(shown.url(f"/codes/{Code.objects.get(name='Late').pk}/passages"), {}, format="json")
        .data
    )
    texts = {one["text"]: one["region"] or one["span"] for person in reading["persons"] for one in person["passages"]}
    assert texts["0:01–0:05: Hear this"] == {"begin": 1.5, "finish": 5.0}
    assert texts["a region of page 2"] == NOTICE
    assert texts["a region of the picture"]["bottom"] == 4000


def test_a_region_is_moved_rated_remarked_on_and_taken_back(shown):
    made = coding.put_codes(
        shown.owner, shown.drawing.pk, Region(1, 0, 0, 500, 500), [Code.objects.get(name="Late").pk]
    ).passage
    client = shown.client(shown.owner.account)
    url = shown.url(f"/passages/{made.pk}")
    moved = client.patch(url, {"region": {**NOTICE, "page": 1}}, format="json").data
    assert (moved["id"], moved["region"]["left"]) == (made.pk, 1000)
    assert client.patch(url, {"start": 0, "end": 1}, format="json").status_code == 400
    memo = report.write_memo(shown.owner, "The pier", passage=made.pk)
    assert client.get(shown.url("/memos")).data[0]["name"] == "a region of the picture"
    report.delete_memo(shown.owner, memo.pk)
    for _ in range(4):
        trail.undo(shown.owner)
    assert not Passage.objects.filter(document=shown.drawing).exists()


@pytest.mark.parametrize(
    ("where", "place", "sentence"),
    [
        ("drawing", Region(2, 0, 0, 900, 900), "no such page"),
        ("notice", Region(3, 0, 0, 900, 900), "no such page"),
        ("talk", Region(1, 0, 0, 900, 900), "no such page"),
        ("drawing", Region(1, 50, 50, 60, 900), "smaller than"),
        ("drawing", Span(0, 3), "no recording"),
        ("talk", Span(3, 3.01), "no length"),
        ("talk", Span(float("nan"), 3), "seconds"),
        ("talk", Span(20, 30), "no length"),
    ],
)
def test_places_that_are_not_there_are_refused(shown, where, place, sentence):
    before = Passage.objects.count()
    with pytest.raises(Refusal, match=sentence):
        coding.put_codes(shown.owner, getattr(shown, where).pk, place, [Code.objects.get(name="Late").pk])
    assert Passage.objects.count() == before


@pytest.mark.parametrize(
    "columns",
    [
        {"page": 3, "left": 0, "top": 0, "right": 9, "bottom": 9},
        {"page": 1, "left": 9, "top": 0, "right": 9, "bottom": 9},
        {"page": 1, "left": 0, "top": 0, "right": 10_001, "bottom": 9},
        {"begin": 3.0, "finish": 2.0},
        {"start": 0, "end": 4, "begin": 1.0, "finish": 2.0},
        {"start": 0, "end": 0},
        {"start": 2, "end": 4, "page": 1, "left": 0, "top": 0, "right": 9, "bottom": 9},
    ],
)
def test_the_database_refuses_what_is_no_place(shown, columns):
    with pytest.raises(IntegrityError), transaction.atomic():
        Passage.objects.create(document=shown.notice, **columns)
        with connection.cursor() as cursor:
            cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")


def test_a_place_is_one_thing(shown):
    for body in [{}, {"start": 0}, {"start": 0, "end": 3, "region": NOTICE}, {"region": {**NOTICE, "left": 10_001}}]:
        assert post(shown, shown.notice, **body).status_code == 400


def test_text_that_is_edited_leaves_regions_where_they_are(shown):
    post(shown, shown.notice, region=NOTICE)
    speaker = Speaker.objects.get(document=shown.notice)
    Turn.objects.create(
        document=shown.notice, speaker=speaker, number=1, start=0, end=9, ink_start=0, ink_end=9, words=1
    )
    answer = shown.client(shown.owner.account).put(
        shown.url(f"/documents/{shown.notice.pk}/turns/1/text"), {"text": "The new timetable"}, format="json"
    )
    assert answer.status_code in (200, 204), answer.data
    assert Passage.objects.get(document=shown.notice).place == Region(**NOTICE)


def test_regions_and_spans_count_where_nobody_is_linked_too(shown):
    """The number beside a speaker to be linked is the one the shelf has."""
    assert post(shown, shown.drawing, region={**NOTICE, "page": 1}).status_code == 200
    assert post(shown, shown.talk, span={"begin": 1, "finish": 3}).status_code == 200
    alone = {row.document.title: row for row in Speaker.objects.filter(document__in=[shown.drawing, shown.talk])}
    for row in alone.values():
        gather.change_speaker(shown.owner, row.pk, case_id=None)
    touched = queries.passages_touched(shown.owner)
    assert {title: touched[row.pk] for title, row in alone.items()} == {"Drawing": 1, "Talk": 1}
    listed = {row["title"]: row["passages"] for row in shelf(shown.owner)}
    assert (listed["Drawing"], listed["Talk"]) == (1, 1)
