"""Cases, variables and values: every action undone and redone, and the roster as it is shown."""

import pytest

from server.common.errors import Conflict, NotAllowed, NotFound, Refusal
from server.gather import actions as gather
from server.gather.models import Document, Speaker, Turn
from server.people import actions as people
from server.people import queries
from server.people.models import Case, Category, Value, Variable
from server.projects import trail


def everything(project):
    """All that actions on people and material can change, as plain values."""
    return (
        list(Case.objects.filter(project=project).order_by("id").values()),
        list(Variable.objects.filter(project=project).order_by("id").values()),
        list(Category.objects.filter(variable__project=project).order_by("id").values()),
        list(Value.objects.filter(case__project=project).order_by("id").values()),
        list(Speaker.objects.filter(document__project=project).order_by("id").values()),
        list(Document.objects.filter(project=project).order_by("id").values("id", "title")),
        list(Turn.objects.filter(document__project=project).order_by("id").values()),
    )


def case(name):
    return Case.objects.get(identifier=name).pk


def variable(name):
    return Variable.objects.get(name=name).pk


def speaker(label):
    return Speaker.objects.get(label=label).pk


ACTIONS = {
    "add a case": lambda w: people.add_case(w.owner, "P9"),
    "rename a case": lambda w: people.rename_case(w.owner, case("P1"), "Person 1"),
    "delete a case": lambda w: people.delete_case(w.owner, case("P1")),
    "set a number": lambda w: people.set_value(w.owner, case("P3"), variable("Age"), "44", None),
    "set a new category": lambda w: people.set_value(w.owner, case("P3"), variable("Island"), "Norrby", None),
    "set a reason": lambda w: people.set_value(w.owner, case("P1"), variable("Age"), "", "not_applicable"),
    "rename a variable": lambda w: people.change_variable(
        w.owner, variable("Age"), name="Years", description="In full"
    ),
    "reorder categories": lambda w: people.change_variable(w.owner, variable("Crosses"), order=["daily", "never"]),
    "number to text": lambda w: people.change_variable(w.owner, variable("Age"), kind="text"),
    "category to text": lambda w: people.change_variable(w.owner, variable("Island"), kind="text"),
    "delete a variable": lambda w: people.delete_variable(w.owner, variable("Island")),
    "unlink a speaker": lambda w: gather.change_speaker(w.owner, speaker("P1"), case_id=None),
    "link a speaker elsewhere": lambda w: gather.change_speaker(w.owner, speaker("P1"), case_id=case("P3")),
    "make an interviewer": lambda w: gather.change_speaker(w.owner, speaker("P1"), role="interviewer"),
    "relabel a speaker": lambda w: gather.change_speaker(w.owner, speaker("Maren"), label="Maren L."),
    "rename a document": lambda w: gather.rename_document(w.owner, Document.objects.first().pk, "At the pier"),
    "delete documents": lambda w: gather.delete_documents(w.owner, list(Document.objects.values_list("id", flat=True))),
}


@pytest.mark.parametrize("name", ACTIONS)
def test_undo_restores_everything_and_redo_does_it_again(world, name):
    before = everything(world.project)
    ACTIONS[name](world)
    after = everything(world.project)
    assert after != before
    for _ in range(2):
        trail.undo(world.owner)
        assert everything(world.project) == before
        trail.redo(world.owner)
        assert everything(world.project) == after


@pytest.mark.parametrize("name", ACTIONS)
def test_a_viewer_does_none_of_it(world, name):
    before = everything(world.project)
    viewing = type(world)(world.viewer, world.coder, world.viewer, world.stranger)
    with pytest.raises(NotAllowed):
        ACTIONS[name](viewing)
    assert everything(world.project) == before


@pytest.mark.parametrize("name", ACTIONS)
def test_each_action_says_what_it_did(world, name):
    ACTIONS[name](world)
    summary = trail.last_done(world.owner).summary
    assert summary
    assert summary[0].isupper()


def test_undo_is_refused_where_somebody_changed_it_since(world):
    people.set_value(world.owner, case("P3"), variable("Age"), "44", None)
    people.set_value(world.coder, case("P3"), variable("Age"), "45", None)
    with pytest.raises(Conflict, match="changed again since"):
        trail.undo(world.owner)
    assert Value.objects.get(case__identifier="P3", variable__name="Age").number == 45


def test_names_stay_unlike(world):
    with pytest.raises(Conflict):
        people.add_case(world.owner, " P1 ")
    with pytest.raises(Conflict):
        people.rename_case(world.owner, case("P1"), "P2")
    with pytest.raises(Refusal):
        people.add_case(world.owner, "  ")
    with pytest.raises(Refusal):
        people.add_case(world.owner, "x" * 121)
    with pytest.raises(Conflict):
        people.change_variable(world.owner, variable("Age"), name="island")
    with pytest.raises(Conflict):
        gather.rename_document(world.owner, Document.objects.get(title="P1_pier").pk, "P2_garden")
    with pytest.raises(Conflict):
        gather.change_speaker(world.owner, speaker("P1"), label="Interviewer")


def test_only_a_participant_is_linked(world):
    interviewer = Speaker.objects.filter(role="interviewer").first()
    with pytest.raises(Refusal, match="Only a participant"):
        gather.change_speaker(world.owner, interviewer.pk, case_id=case("P1"))
    with pytest.raises(NotFound):
        gather.change_speaker(world.owner, speaker("P1"), case_id=10**9)


def test_the_roster_shows_values_and_reasons(world):
    shown = world.client(world.viewer.account).get(world.url("/roster")).json()
    assert [row["name"] for row in shown["variables"]] == ["Island", "Crosses", "Age"]
    crosses = shown["variables"][1]
    assert crosses["kind"] == "ordered"
    assert crosses["bars"] == [{"label": "never", "count": 2}, {"label": "daily", "count": 1}]
    age = shown["variables"][2]
    assert age["missing"] == [{"label": "not_answered", "count": 1}]
    last = shown["cases"][2]
    assert (last["identifier"], last["documents"]) == ("P3", 0)
    ages = next(column for column in shown["columns"] if column["variable"] == age["id"])
    cells = [ages["cells"][code] for code in ages["codes"]]
    assert cells[2] == {"text": "", "missing": "not_answered"}
    assert cells[0] == {"text": "34", "missing": None}


def test_a_new_case_says_from_the_start_why_it_has_no_values(world):
    added = people.add_case(world.owner, "P9")
    assert set(Value.objects.filter(case=added).values_list("missing", flat=True)) == {"not_answered"}


def test_values_are_one_thing_each(world):
    for value in Value.objects.all():
        held = [value.category_id, value.number, value.truth, value.day, value.words, value.missing]
        assert sum(part is not None for part in held) == 1
        assert (queries.value_of(value) is None) == (value.missing is not None)


def settle(world, labels, settled, **more):
    return gather.settle_speakers(world.owner, [speaker(label) for label in labels], settled, **more)


def test_many_speakers_are_settled_at_once_and_taken_back_at_once(world):
    first, second = Document.objects.order_by("pk")[:2]
    for document, labels in ((first, ["Ana Voss", "Speaker 7"]), (second, ["Ana Voss", "Speaker 7", "Hall"])):
        for label in labels:
            Speaker.objects.create(document=document, label=label, role="participant")
    rows = list(Speaker.objects.filter(label__in=["Ana Voss", "Speaker 7"]).order_by("pk"))
    before = everything(world.project)
    assert gather.settle_speakers(world.owner, [row.pk for row in rows], "new_case") == 4
    now = dict(Speaker.objects.filter(pk__in=[row.pk for row in rows]).values_list("pk", "case__identifier"))
    # A name is one person in both, a label that anybody may have somebody else in each.
    assert [now[row.pk] for row in rows] == [
        "Ana Voss",
        f"{first.title} Speaker 7",
        "Ana Voss",
        f"{second.title} Speaker 7",
    ]
    variables = Variable.objects.filter(project=world.project, of="case", definition__isnull=True).count()
    assert Value.objects.filter(case__identifier="Ana Voss").count() == variables
    assert settle(world, ["Hall"], "other") == 1
    assert trail.last_done(world.owner).summary == "Took 1 speaker for nobody in particular"
    assert Speaker.objects.get(label="Hall").role == "other"
    trail.undo(world.owner)
    trail.undo(world.owner)
    assert everything(world.project) == before
    trail.redo(world.owner)
    assert Case.objects.filter(identifier="Ana Voss").count() == 1


def test_speakers_of_one_document_cant_all_be_one_person(world):
    document = Document.objects.order_by("pk").first()
    pair = [Speaker.objects.create(document=document, label=label, role="participant").pk for label in ("Ana", "Ben")]
    with pytest.raises(Refusal, match="can’t both be P1"):
        gather.settle_speakers(world.owner, pair, "case", case("P1"))
    with pytest.raises(NotFound):
        gather.settle_speakers(world.owner, [*pair, 10**9], "other")
    with pytest.raises(NotFound):
        gather.settle_speakers(world.owner, pair[:1], "case", 10**9)
    with pytest.raises(NotAllowed):
        gather.settle_speakers(world.viewer, pair, "other")
    assert gather.settle_speakers(world.owner, pair[:1], "case", case("P1")) == 1
    assert trail.last_done(world.owner).summary == "Linked 1 speaker to P1"
    # An ID that somebody has already is left to them.
    Case.objects.create(project=world.project, identifier="Ben")
    gather.settle_speakers(world.owner, pair[1:], "new_case")
    assert Speaker.objects.get(pk=pair[1]).case.identifier == "Ben (2)"


def test_the_tray_says_which_labels_are_one_person_everywhere(world):
    document = Document.objects.order_by("pk").first()
    for label in ("Ana Voss", "Speaker 7", "Participant"):
        Speaker.objects.create(document=document, label=label, role="participant")
    rows = world.client(world.owner.account).get(world.url("/unlinked")).json()
    named = {row["label"]: row["named"] for row in rows}
    assert (named["Ana Voss"], named["Speaker 7"], named["Participant"]) == (True, False, False)
    body = {"speakers": [row["speaker"] for row in rows if row["label"] == "Ana Voss"], "settled": "interviewer"}
    assert world.client(world.owner.account).post(world.url("/speakers/settle"), body, format="json").json() == {
        "count": 1
    }
    assert Speaker.objects.get(label="Ana Voss").role == "interviewer"
