"""The codebook kept in order: merging, splitting, themes, memos, what wants a look."""

import csv
import io

import openpyxl
import pyrefiqda
import pytest
from django.db import IntegrityError, transaction

from core.coding.places import Stretch
from server.coding import actions as coding
from server.coding import overview, queries
from server.coding.actions import Move, NewCode
from server.coding.models import Code, Coding, Passage
from server.common.errors import Conflict, NotFound, Refusal
from server.gather.models import Document, WordIndex
from server.gather.word_index import indexed
from server.projects import trail
from server.report import actions as report
from server.report import queries as written
from tests.server.conftest import put


def code(world, name):
    return Code.objects.get(project=world.project, name=name)


def pier(world):
    return Document.objects.get(title="P1_pier")


def quoted(code):
    return sorted(row.passage.document.text[row.passage.start : row.passage.end] for row in code.codings.all())


def test_merging_carries_everything_over_and_counts_a_passage_once(world):
    late, home = code(world, "Late"), code(world, "Home")
    put(world.owner, pier(world), "I walked home", late)
    put(world.coder, pier(world), "I walked home", home)
    coding.change_code(world.owner, home.pk, definition="Being at home", scale_low="never", scale_high="always")
    beneath = coding.create_code(world.owner, "At the window", home.pk)
    theme = coding.create_theme(world.owner, "Staying", code_ids=[home.pk])
    memo = report.write_memo(world.owner, "Is it a place?", ["codebook"], code=home.pk)
    said = overview.merge_preview(world.owner, late.pk, [home.pk])
    assert said["codes"] == [{"code": home.pk, "passages": 2, "both": 1, "beneath": 1, "rated_otherwise": 0}]
    coding.change_code(world.owner, home.pk, kind="interpreting")
    coding.merge_codes(world.owner, late.pk, [home.pk])
    late.refresh_from_db()
    assert late.kind == "interpreting"
    beneath.refresh_from_db()
    memo.refresh_from_db()
    assert not Code.objects.filter(name="Home").exists()
    # The owner had both on one passage: once now; the other coder’s coding of it stays theirs.
    assert quoted(late) == ["I stayed at home", "I walked home", "I walked home", "The boat was late 🚢 again."]
    assert said["together"] == late.codings.values("passage").distinct().count() == 3
    assert (beneath.parent_id, memo.code_id) == (late.pk, late.pk)
    assert [row.code_id for row in theme.placings.all()] == [late.pk]
    assert late.definition == "Being at home"
    assert (late.scale_low, late.scale_high) == ("never", "always")


def test_ratings_on_another_scale_are_asked_about_before_a_merge(world):
    late, home = code(world, "Late"), code(world, "Home")
    put(world.owner, pier(world), "I walked home", late)
    put(world.owner, pier(world), "I walked home", home)
    coding.change_code(world.owner, late.pk, scale_low="mild", scale_high="grave")
    coding.change_code(world.owner, home.pk, scale_low="never", scale_high="always")
    rated = Coding.objects.get(code=home, passage__start=pier(world).text.index("I walked home"))
    coding.rate_coding(world.owner, rated.pk, 4)
    assert overview.merge_preview(world.owner, late.pk, [home.pk])["codes"][0]["rated_otherwise"] == 1
    with pytest.raises(Refusal, match="keep their numbers or are dropped"):
        coding.merge_codes(world.owner, late.pk, [home.pk])
    coding.merge_codes(world.owner, late.pk, [home.pk], "keep")
    assert list(late.codings.exclude(rating=None).values_list("rating", flat=True)) == [4]
    trail.undo(world.owner)
    coding.merge_codes(world.owner, late.pk, [home.pk], "drop")
    assert not late.codings.exclude(rating=None).exists()
    trail.undo(world.owner)
    rated.refresh_from_db()
    assert rated.rating == 4


def test_a_code_can_not_be_merged_into_one_beneath_it(world):
    with pytest.raises(Refusal, match="lies beneath"):
        coding.merge_codes(world.owner, code(world, "Late").pk, [code(world, "Getting across").pk])
    with pytest.raises(Refusal, match="another code"):
        coding.merge_codes(world.owner, code(world, "Late").pk, [code(world, "Late").pk])


def test_codes_beneath_of_one_name_are_told_apart_by_a_merge(world):
    top, home = code(world, "Getting across"), code(world, "Home")
    coding.create_code(world.owner, "late", home.pk)
    coding.merge_codes(world.owner, top.pk, [home.pk])
    assert sorted(top.children.values_list("name", flat=True)) == ["Late", "late (Home)"]


def test_a_merge_is_not_undone_over_what_has_changed_since(world):
    late, home = code(world, "Late"), code(world, "Home")
    coding.merge_codes(world.owner, late.pk, [home.pk])
    theirs = Coding.objects.get(code=late, coder=world.coder.account)
    coding.remove_coding(world.coder, theirs.pk)
    with pytest.raises(Conflict):
        trail.undo(world.owner)
    assert late.codings.count() == 2


def test_splitting_moves_each_passage_where_it_was_read_to(world):
    home = code(world, "Home")
    home = coding.change_code(world.owner, home.pk, kind="describing")
    walked, stayed = (row.passage_id for row in home.codings.order_by("id"))
    on_foot, never = coding.split_code(
        world.owner, home.pk, ["On foot", "Never left"], [Move(walked, (0,)), Move(stayed, (1, 0))]
    )
    assert on_foot.kind == never.kind == home.kind == "describing"
    assert quoted(on_foot) == ["I stayed at home", "I walked home"]
    assert quoted(never) == ["I stayed at home"]
    assert never.codings.get().coder == world.coder.account
    assert home.codings.count() == 0
    with pytest.raises(Refusal, match="among the new ones"):
        coding.split_code(world.owner, on_foot.pk, ["Third"], [Move(walked, (3,))])


def test_a_passage_shared_with_another_coder_is_not_moved_from_under_them(world):
    document, home = pier(world), code(world, "Home")
    put(world.coder, document, "I walked home", home)
    start = document.text.index("I walked home")
    shared = Passage.objects.get(document=document, start=start)
    moved = coding.move_passage(world.owner, shared.pk, Stretch(start - 5, start + len("I walked home")))
    assert document.text[moved.start : moved.end] == "Then I walked home"
    assert [row.coder for row in moved.codings.all()] == [world.owner.account]
    assert [row.coder for row in shared.codings.all()] == [world.coder.account]


def test_two_passages_that_come_to_the_same_words_become_one(world):
    document, late = pier(world), code(world, "Late")
    put(world.owner, document, "Then I walked home", late, code(world, "Home"))
    start = document.text.index("I walked home")
    shorter = Passage.objects.get(document=document, start=start)
    moved = coding.move_passage(world.owner, shorter.pk, Stretch(start - 5, start + len("I walked home")))
    assert sorted(row.code.name for row in moved.codings.all()) == ["Home", "Late"]
    assert not Passage.objects.filter(pk=shorter.pk).exists()
    trail.undo(world.owner)
    assert Passage.objects.get(pk=shorter.pk).codings.get().code.name == "Home"


def test_nobody_moves_or_rates_what_is_anothers(world):
    theirs = Coding.objects.get(coder=world.coder.account)
    with pytest.raises(Refusal, match="Nothing of yours"):
        coding.move_passage(world.owner, theirs.passage_id, Stretch(0, 3))
    coding.change_code(world.owner, theirs.code_id, scale_low="little", scale_high="much")
    with pytest.raises(Refusal, match="each rates their own"):
        coding.rate_coding(world.owner, theirs.pk, 3)
    assert coding.rate_coding(world.coder, theirs.pk, 4).rating == 4
    with pytest.raises(Refusal, match="rated"):
        coding.change_code(world.owner, theirs.code_id, scale_low="", scale_high="")


def test_a_rating_needs_a_scale_with_two_named_ends(world):
    own = Coding.objects.filter(coder=world.owner.account).first()
    with pytest.raises(Refusal, match="has no scale"):
        coding.rate_coding(world.owner, own.pk, 2)
    with pytest.raises(Refusal, match="both its ends"):
        coding.change_code(world.owner, own.code_id, scale_low="little")


def test_a_theme_is_read_by_person(world):
    top, home = code(world, "Getting across"), code(world, "Home")
    question = coding.create_question(world.owner, "Who waits?")
    theme = coding.create_theme(world.owner, "Tied to the clock", "They wait.", question.pk, [top.pk, home.pk])
    (shown,) = overview.themes(world.owner)["themes"]
    assert (shown["passages"], shown["documents"], shown["codes"]) == (3, 2, [top.pk, home.pk])
    read = overview.reading(world.owner, [row.code_id for row in theme.placings.all()], {})
    assert [(person["identifier"], len(person["passages"])) for person in read["persons"]] == [
        ("P1", 2),
        ("P2", 1),
    ]
    assert read["persons"][0]["passages"][0]["text"] == "The boat was late 🚢 again."
    coding.change_theme(world.owner, theme.pk, codes=[home.pk])
    assert overview.themes(world.owner)["themes"][0]["codes"] == [home.pk]
    coding.delete_question(world.owner, question.pk)
    theme.refresh_from_db()
    assert theme.question_id is None
    with pytest.raises(Conflict, match="already"):
        coding.create_theme(world.owner, "tied to the CLOCK")


def test_what_wants_a_look(world):
    coding.create_code(world.owner, "Being late", code(world, "Getting across").pk)
    coding.create_code(world.owner, "Late, being", None, definition="d")
    look = overview.wants_a_look(world.owner)
    names = {row.pk: row.name for row in queries.codes(world.owner)}
    assert sorted(names[pk] for pk in look["unused"]) == ["Being late", "Late, being"]
    assert [names[pk] for pk in look["one_person"]] == ["Late"]
    assert "Getting across" not in [names[pk] for pk in look["undefined"]]
    assert [{names[one["left"]], names[one["right"]]} for one in look["alike"]] == [{"Being late", "Late, being"}]


def test_memos_are_on_one_thing_and_their_writers_own(world):
    home = code(world, "Home")
    memo = report.write_memo(world.owner, "  Too wide? ", ["codebook"], code=home.pk)
    start = pier(world).text.index("I waited")
    report.write_memo(world.owner, "Long", stretch=(pier(world).pk, start, start + 8))
    shown = written.memos(world.coder)
    assert [(one["on"], one["name"], one["text"]) for one in shown] == [
        ("passage", "I waited", "Long"),
        ("code", "Home", "Too wide?"),
    ]
    with pytest.raises(Refusal, match="only they or an owner"):
        report.change_memo(world.coder, memo.pk, "Mine")
    with pytest.raises(Refusal, match="one thing"):
        report.write_memo(world.owner, "x", code=home.pk, document=pier(world).pk)
    with pytest.raises(Refusal, match="Write something"):
        report.write_memo(world.owner, "  ")
    report.change_memo(world.owner, memo.pk, "Wide enough")
    assert written.memos(world.coder)[1]["text"] == "Wide enough"
    with pytest.raises(NotFound):
        report.write_memo(world.owner, "x", code=10**6)


@pytest.mark.parametrize(
    ("extent", "expected"),
    [("hit", "late"), ("sentence", "The boat was late 🚢 again."), ("turn", "The boat was late 🚢 again. I waited.")],
)
def test_hits_are_coded_as_found_or_widened(world, extent, expected):
    document = pier(world)
    start = document.text.index("late")
    fresh = coding.code_hits(world.owner, [(document.pk, start, start + 4)], extent, [], [NewCode("Found")])
    assert fresh == 1
    assert quoted(code(world, "Found")) == [expected]


def test_a_code_describes_or_interprets_or_neither_and_nothing_else(world):
    client, late = world.client(world.owner.account), code(world, "Late")
    assert client.patch(world.url(f"/codes/{late.pk}"), {"kind": "interpreting"}, format="json").status_code == 200
    held = {row["name"]: row["kind"] for row in client.get(world.url("/codebook")).data["codes"]}
    assert (held["Late"], held["Home"]) == ("interpreting", "")
    assert client.patch(world.url(f"/codes/{late.pk}"), {"kind": "vague"}, format="json").status_code == 400
    with pytest.raises(IntegrityError), transaction.atomic():
        type(late).objects.filter(pk=late.pk).update(kind="vague")
    trail.undo(world.owner)
    assert code(world, "Late").kind == ""


def test_the_codebook_goes_out_as_a_sheet(world):
    home = code(world, "Home")
    coding.change_code(world.owner, home.pk, definition="=1+1", scale_low="little", scale_high="much", parked=True)
    coding.create_theme(world.owner, "Staying", code_ids=[home.pk])
    client = world.client(world.viewer.account)
    sheet = openpyxl.load_workbook(io.BytesIO(client.get(world.url("/codebook/file/xlsx")).content)).active
    written = [list(row) for row in sheet.iter_rows(values_only=True)]
    assert [row[0] for row in written] == ["Code", "Getting across", "Late", "Home"]
    assert written[2][1] == "Getting across"
    assert written[3][2:] == ["=1+1", None, None, None, "little", "much", None, "yes", 2, 2, 2, "Staying"]
    answer = client.get(world.url("/codebook/file/csv"))
    plain = list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))
    assert plain[2]["What it means"] == "'=1+1"
    assert "crossings-codebook.csv" in answer["Content-Disposition"]
    assert client.get(world.url("/codebook/file/exe")).status_code == 404


def test_another_program_reads_the_exchanged_codebook(world, tmp_path):
    """Read by pyrefiqda, an independent reader of the exchange standard."""
    late, home = code(world, "Late"), code(world, "Home")
    coding.change_code(world.owner, late.pk, definition="After its time & <more>", covers="Waiting")
    coding.create_theme(world.owner, "Tied to the clock", "They wait.", code_ids=[late.pk, home.pk])
    path = tmp_path / "codebook.qdc"
    path.write_bytes(world.client(world.viewer.account).get(world.url("/codebook/file/qdc")).content)
    read = pyrefiqda.RefiCodebook.load(path)
    top, alone = read.codes.code
    assert (top.name, alone.name) == ("Getting across", "Home")
    (beneath,) = top.code
    assert beneath.name == "Late"
    assert beneath.description == "After its time & <more>\n\nCovers: Waiting"
    assert beneath.is_codable
    assert beneath.color.startswith("#")
    (theme,) = read.sets.set
    assert (theme.name, theme.description) == ("Tied to the clock", "They wait.")
    assert [member.guid for member in theme.member_code] == [beneath.guid, alone.guid]


@pytest.mark.parametrize(
    ("asked", "expected"),
    [
        ({"text": "home"}, ["home", "home"]),
        ({"text": "WAS"}, ["was"]),
        ({"text": "was", "everyone": True}, ["was", "was", "was"]),
        ({"text": "boat was", "how": "phrase"}, ["boat was"]),
        ({"text": "waiting", "how": "forms"}, ["waited"]),
        ({"text": "boat again", "how": "near"}, ["boat was late 🚢 again"]),
        ({"text": "boat again", "how": "near", "within": 1}, []),
        ({"text": "at [a-z]+$", "how": "pattern"}, []),
        ({"text": "(?:never|then) i?", "how": "pattern"}, ["never ", "Then I"]),
    ],
)
def test_finding(world, asked, expected):
    answer = world.client(world.viewer.account).post(world.url("/find"), asked, format="json")
    assert answer.status_code == 200, answer.data
    assert sorted(hit["text"] for hit in answer.data["hits"]) == sorted(expected)
    assert answer.data["total"] == sum(person["count"] for person in answer.data["people"]) == len(expected)


@pytest.mark.parametrize(
    ("asked", "sentence"),
    [
        ({"text": "(a", "how": "pattern"}, "can’t be read"),
        ({"text": "?!"}, "no word"),
        ({"text": "one", "how": "near"}, "two words"),
    ],
)
def test_what_can_not_be_found_is_said(world, asked, sentence):
    answer = world.client(world.viewer.account).post(world.url("/find"), asked, format="json")
    assert answer.status_code == 400
    assert sentence in str(answer.data)


def test_a_memo_is_made_into_a_document_that_counts_for_nobody(world):
    memo = report.write_memo(world.coder, "The pier is a stage.\nP1: plays to it. 🚢", ["reflexive"])
    client = world.client(world.owner.account)
    made = Document.objects.get(pk=client.post(world.url(f"/memos/{memo.pk}/document")).data["count"])
    assert made.title.endswith("The pier is a stage. P1: plays to it. 🚢")
    assert made.text.split() == memo.text.split()
    assert [(one.label, one.role) for one in made.speakers.all()] == [("Coder", "other")]
    assert made.turns.count() == 1
    again = report.memo_into_document(world.owner, memo.pk)
    assert again.title == f"{made.title} (2)"
    put(world.owner, made, "a stage", code(world, "Late"))
    trail.undo(world.owner)
    trail.undo(world.owner)
    assert not Document.objects.filter(pk=again.pk).exists()
    assert client.post(world.url("/memos/999999/document")).status_code == 404


def test_what_is_edited_is_found_by_its_new_words_and_taken_back_by_its_old(world):
    client = world.client(world.owner.account)
    document = pier(world)

    def found(text, how="words"):
        return client.post(world.url("/find"), {"text": text, "how": how}, format="json").data["total"]

    assert (found("boat"), found("ferries"), found("ferry", "forms")) == (1, 0, 0)
    edited = {"text": "The ferries’ landing was late 🚢 again. I waited."}
    assert client.put(world.url(f"/documents/{document.pk}/turns/2/text"), edited, format="json").status_code < 300
    assert (found("boat"), found("ferries'"), found("ferry", "forms")) == (0, 1, 1)
    trail.undo(world.owner)
    assert (found("boat"), found("ferries"), found("waiting", "forms")) == (1, 0, 1)
    WordIndex.objects.filter(document=document).update(words=None)
    # A text of too many different words has no index and is read.
    assert found("boat") == 1
    assert indexed(" ".join(f"{number:0150}" for number in range(9000))) is None


def test_many_codes_are_changed_in_one_step_to_undo(world):
    client = world.client(world.coder.account)
    ids = list(Code.objects.filter(project=world.project).values_list("id", flat=True))
    said = client.patch(world.url("/codebook"), {"codes": ids, "kind": "describing"}, format="json")
    assert (said.status_code, said.data["count"]) == (200, len(ids))
    client.patch(world.url("/codebook"), {"codes": ids[:2], "parked": True}, format="json")
    assert Code.objects.filter(parked=True, kind="describing").count() == 2
    trail.undo(world.coder)
    trail.undo(world.coder)
    assert set(Code.objects.values_list("kind", "parked")) == {("", False)}
    assert (
        client.patch(world.url("/codebook"), {"codes": [*ids, 10**6], "kind": "describing"}, format="json").status_code
        == 404
    )
    assert client.patch(world.url("/codebook"), {"codes": ids, "kind": "guessing"}, format="json").status_code == 400
    assert set(Code.objects.values_list("kind", flat=True)) == {""}
