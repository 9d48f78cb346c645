"""Codes, passages and codings: actions, undo and redo, two coders at once."""

import threading

import pytest
from django.db import IntegrityError, connection, transaction

from core.coding.places import Stretch
from server.coding import actions as coding
from server.coding.actions import Move, NewCode
from server.coding.models import Code, Coding, Passage, Pin, ResearchQuestion, Theme, ThemeCode
from server.common.errors import Conflict, NotAllowed, NotFound, Refusal
from server.gather.models import Document
from server.projects import trail
from server.projects.models import Project, TrailEntry
from server.report import actions as report
from server.report.models import Memo
from tests.server.conftest import bring_in, put


def everything(project):
    """All that coding can change, as plain values."""
    return (
        list(Code.objects.filter(project=project).order_by("id").values()),
        list(Passage.objects.filter(document__project=project).order_by("id").values()),
        list(
            Coding.objects.filter(code__project=project)
            .order_by("id")
            .values("id", "passage_id", "code_id", "coder_id", "rating")
        ),
        list(Theme.objects.filter(project=project).order_by("id").values()),
        list(ThemeCode.objects.filter(theme__project=project).order_by("id").values()),
        list(ResearchQuestion.objects.filter(project=project).order_by("id").values()),
        list(Memo.objects.filter(project=project).order_by("id").values("id", "text", "kind", "passage_id", "code_id")),
        list(Pin.objects.filter(project=project).order_by("key").values("key", "code_id")),
    )


def code(world, name):
    return Code.objects.get(project=world.project, name=name)


def pier(world):
    return Document.objects.get(title="P1_pier")


def ends(world, quote):
    start = pier(world).text.index(quote)
    return start, start + len(quote)


def on(world, quote):
    start, end = ends(world, quote)
    return Passage.objects.get(document=pier(world), start=start, end=end)


ACTIONS = {
    "apply": lambda w: put(w.owner, pier(w), "again. I waited", code(w, "Late"), code(w, "Home")),
    "apply to a passage that exists": lambda w: put(w.owner, pier(w), "I walked home", code(w, "Late")),
    "apply a new code": lambda w: coding.apply_codes(w.owner, pier(w).pk, 0, 9, [], [NewCode("How it was")]),
    "remove": lambda w: coding.remove_coding(w.owner, Coding.objects.filter(coder=w.owner.account).first().pk),
    "create": lambda w: coding.create_code(w.owner, "Fresh", code(w, "Home").pk),
    "rename and define": lambda w: coding.change_code(
        w.owner, code(w, "Late").pk, name="Too late", definition="After time"
    ),
    "nest": lambda w: coding.change_code(w.owner, code(w, "Home").pk, parent_id=code(w, "Getting across").pk),
    "reorder": lambda w: coding.change_code(w.owner, code(w, "Home").pk, before_id=code(w, "Getting across").pk),
    "recolour a branch": lambda w: coding.change_code(w.owner, code(w, "Getting across").pk, colour=9),
    "delete a branch": lambda w: coding.delete_code(w.owner, code(w, "Getting across").pk),
    "delete a code two coders use": lambda w: coding.delete_code(w.owner, code(w, "Home").pk),
    "scale": lambda w: coding.change_code(w.owner, code(w, "Late").pk, scale_low="a little", scale_high="very"),
    "park": lambda w: coding.change_code(w.owner, code(w, "Late").pk, parked=True),
    "merge": lambda w: coding.merge_codes(w.owner, code(w, "Late").pk, [code(w, "Home").pk]),
    "merge a branch into another": lambda w: coding.merge_codes(
        w.owner, code(w, "Home").pk, [code(w, "Getting across").pk]
    ),
    "split": lambda w: coding.split_code(
        w.owner,
        code(w, "Home").pk,
        ["On foot", "Never left"],
        [Move(row.passage_id, (0, 1)) for row in code(w, "Home").codings.all()],
    ),
    "stretch": lambda w: coding.move_passage(
        w.owner, on(w, "I walked home").pk, Stretch(*ends(w, "Then I walked home."))
    ),
    "memo on words": lambda w: report.write_memo(w.owner, "Why?", stretch=(pier(w).pk, *ends(w, "I waited"))),
    "memo on a code": lambda w: report.write_memo(w.owner, "Too wide", ["codebook"], code=code(w, "Home").pk),
    "code hits": lambda w: coding.code_hits(
        w.owner, [(pier(w).pk, *ends(w, "waited"))], "turn", [code(w, "Late").pk], [NewCode("Waiting")]
    ),
    "theme": lambda w: coding.create_theme(w.owner, "Tied", "They wait.", None, [code(w, "Late").pk]),
    "question": lambda w: coding.create_question(w.owner, "Who waits?"),
    "pin": lambda w: coding.pin_code(w.owner, 1, code(w, "Late").pk),
}


@pytest.mark.parametrize("name", ACTIONS)
def test_undo_restores_everything_and_redo_does_it_again(world, name):
    before = everything(world.project)
    revision = Project.objects.get(pk=world.project.pk).revision
    ACTIONS[name](world)
    after = everything(world.project)
    assert after != before
    for _ in range(2):
        assert trail.undo(world.owner) is not None
        assert everything(world.project) == before
        assert trail.redo(world.owner) is not None
        assert everything(world.project) == after
    assert Project.objects.get(pk=world.project.pk).revision == revision + 5


def test_undo_goes_back_step_by_step_to_an_empty_codebook(world):
    done = TrailEntry.objects.filter(actor=world.owner.account, state="done").count()
    assert done > 3
    # The other coder's coding rests on what the owner made: that step is refused, nothing lost.
    with pytest.raises(Conflict, match="added to it since"):
        for _ in range(done):
            trail.undo(world.owner)
    assert Coding.objects.filter(coder=world.coder.account).count() == 1


def test_something_new_ends_what_could_be_redone(world):
    coding.create_code(world.owner, "One")
    trail.undo(world.owner)
    coding.create_code(world.owner, "Two")
    assert trail.redo(world.owner) is None


def test_undo_takes_back_ones_own_only(world):
    coding.create_code(world.coder, "Theirs")
    trail.undo(world.owner)
    assert Code.objects.filter(name="Theirs").exists()


def test_a_passage_is_drawn_in_and_stored_once(world):
    document = pier(world)
    start = document.text.index(" I walked home")
    passage = coding.apply_codes(
        world.owner, document.pk, start, start + len(" I walked home"), [code(world, "Late").pk]
    )
    assert document.text[passage.start : passage.end] == "I walked home"
    assert Passage.objects.filter(document=document, start=passage.start, end=passage.end).count() == 1


def test_words_whose_text_was_changed_meanwhile_are_coded_where_they_stand_by_now_or_not_at_all(world):
    """A coding may wait for its line for hours; positions alone would put it on other words."""
    client = world.client(world.owner.account)
    start, end = ends(world, "late 🚢 again")
    late = code(world, "Late").pk

    def post(begins="late 🚢 again", closes="late 🚢 again", at=(start, end)):
        said = {"start": at[0], "end": at[1], "codes": [late], "begins": begins, "ends": closes}
        return client.post(world.url(f"/documents/{pier(world).pk}/passages"), said, format="json")

    Passage.objects.all().delete()
    assert post().status_code == 200
    Passage.objects.all().delete()
    # Somebody adds words before them: they are found.
    coding.edit_turn(world.owner, pier(world).pk, 1, "How was it, that winter morning at the pier?", {})
    assert pier(world).text[start:end] != "late 🚢 again"
    assert post().status_code == 200
    assert [passage.said for passage in Passage.objects.all()] == ["late 🚢 again"]
    # They are there twice, or not any more: nothing is coded, and it is said.
    coding.edit_turn(world.owner, pier(world).pk, 3, "Then late 🚢 again?", {})
    Passage.objects.all().delete()
    for begins in ("late 🚢 again", "punctual as ever"):
        answer = post(begins, begins, at=(2, 15))
        assert answer.status_code == 409
        assert "nothing was coded" in answer.json()["error"]
    assert not Passage.objects.exists()


def test_emoji_count_as_one_position(world):
    document = pier(world)
    passage = Passage.objects.filter(document=document).order_by("start").first()
    assert document.text[passage.start : passage.end] == "The boat was late 🚢 again."


@pytest.mark.parametrize(("start", "end"), [(5, 5), (9, 4), (-1, 4), (0, 10**6)])
def test_impossible_stretches_are_refused(world, start, end):
    with pytest.raises(Refusal):
        coding.apply_codes(world.owner, pier(world).pk, start, end, [code(world, "Late").pk])


def test_a_code_deleted_while_another_applies_it_is_said(world):
    late = code(world, "Late")
    coding.delete_code(world.owner, late.pk)
    before = everything(world.project)
    with pytest.raises(NotFound, match="somebody has deleted it"):
        put(world.coder, pier(world), "I waited", late)
    assert everything(world.project) == before


def test_names_and_nesting_are_checked(world):
    late, top = code(world, "Late"), code(world, "Getting across")
    with pytest.raises(Conflict):
        coding.create_code(world.owner, "  late ", top.pk)
    with pytest.raises(Refusal, match="beneath itself"):
        coding.change_code(world.owner, top.pk, parent_id=late.pk)
    with pytest.raises(Refusal):
        coding.create_code(world.owner, "   ")
    odd = coding.create_code(world.owner, "<script>alert('x')</script> 🚢 שלום")
    assert odd.name == "<script>alert('x')</script> 🚢 שלום"


def test_a_viewer_changes_nothing(world):
    with pytest.raises(NotAllowed):
        coding.create_code(world.viewer, "No")
    with pytest.raises(NotAllowed):
        trail.undo(world.viewer)


def test_only_its_coder_or_an_owner_takes_a_coding_off(world):
    theirs = Coding.objects.filter(coder=world.owner.account).first()
    with pytest.raises(Refusal, match="only they or an owner"):
        coding.remove_coding(world.coder, theirs.pk)
    coding.remove_coding(world.owner, Coding.objects.get(coder=world.coder.account).pk)


def test_the_database_refuses_what_cant_be_true(world):
    elsewhere = Code.objects.create(project=world.stranger.memberships.get().project, name="x", colour=0)
    document = pier(world)
    passage = Passage.objects.filter(document=document).first()

    def immediately(make):
        with pytest.raises(IntegrityError), transaction.atomic():
            make()
            connection.cursor().execute("SET CONSTRAINTS ALL IMMEDIATE")

    immediately(lambda: Coding.objects.create(passage=passage, code=elsewhere, coder=world.owner.account))
    bring_in(world.stranger.memberships.get(), ("far.txt", "Q1: I swim."))
    far = Document.objects.get(title="far")
    theirs = Passage.objects.create(document=far, start=0, end=4)
    own = Coding.objects.filter(pk=passage.codings.first().pk)
    for wrong in ({"code": elsewhere}, {"passage": theirs}):
        immediately(lambda wrong=wrong: own.update(**wrong))
    immediately(lambda: Coding.objects.filter(passage__document=document).update(code=elsewhere))
    immediately(lambda: Passage.objects.create(document=document, start=3, end=document.length + 1))
    immediately(lambda: Passage.objects.create(document=document, start=3, end=3))
    immediately(
        lambda: Coding.objects.create(passage=passage, code=passage.codings.first().code, coder=world.owner.account)
    )
    immediately(lambda: Code.objects.create(project=world.project, name="y", colour=0, parent=elsewhere))


@pytest.mark.django_db(transaction=True)
def test_two_people_coding_one_document_at_once_lose_nothing(world):
    """The same words, the same code, at the same moment: one passage, a coding each, no error."""
    late, document, errors = code(world, "Late"), pier(world), []
    ready = threading.Barrier(2)

    def work(member):
        try:
            ready.wait()
            for _ in range(5):
                put(member, document, "I waited", late)
                put(member, document, "How was it", late)
        except Exception as error:
            errors.append(error)
        finally:
            connection.close()

    threads = [threading.Thread(target=work, args=[member]) for member in (world.owner, world.coder)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert errors == []
    for quote in ("I waited", "How was it"):
        start = document.text.index(quote)
        passage = Passage.objects.get(document=document, start=start, end=start + len(quote))
        assert passage.codings.filter(code=late).count() == 2
