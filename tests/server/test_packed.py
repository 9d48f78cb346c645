"""Values in the database's own form: whatever a sheet can hold comes out as it went in, packed or written as text."""

from datetime import date

import pytest

from server.people.models import Case, Category, Value, Variable
from server.projects.packed import MOST_WORDS, packable
from server.projects.trail import act, redo, undo

KINDS = {
    "number": ("number", [0.0, -1.5, 1e300, 12345678.25]),
    "yes_no": ("truth", [True, False]),
    "date": ("day", [date(2026, 11, 30), date(1999, 12, 31), date(1848, 3, 18), date(9999, 1, 1)]),
    "text": ("words", ["", "tab\there", "line\nend\r", "back\\slash", "\\N", "’ 🚢 é", "plain"]),
}


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("many", [False, True])
def test_values_come_out_as_they_went_in_and_are_taken_back(world, kind, many):
    column, values = KINDS[kind]
    if many and kind == "text":
        values = [*values, *(f"word {at}" for at in range(MOST_WORDS))]
    with act(world.owner, "material.bring_in") as change:
        variable = change.create(Variable(project=world.project, name="New", kind=kind, position=9))
        shared = [
            *((variable.pk, value, None) for value in values),
            (variable.pk, None, "not_asked"),
            (variable.pk, None, "unknown"),
        ]
        made = change.create_many(
            [Case(project=world.project, identifier=f"X{at:03}") for at in range(3 * len(shared))]
        )
        which = [at % len(shared) for at in range(len(made))]
        fields = [Value._meta.get_field(name) for name in ("variable", column, "missing")]
        assert packable(fields, shared) is not (many and kind == "text")
        change.copy_alike(Value, ("case_id", "variable_id", column, "missing"), [row.pk for row in made], shared, which)
    rows = lambda: list(  # noqa: E731
        Value.objects.filter(variable__name="New").order_by("case__identifier").values_list(column, "missing")
    )
    right = [shared[at][1:] for at in which]
    assert rows() == right
    undo(world.owner)
    assert rows() == []
    assert not Case.objects.filter(identifier="X000").exists()
    redo(world.owner)
    assert rows() == right


def test_categories_and_reasons_of_one_column_are_packed_apart_and_belong_to_whom_they_are_of(world):
    with act(world.owner, "material.bring_in") as change:
        variable = change.create(Variable(project=world.project, name="Town", kind="category", position=9))
        towns = change.create_many(
            [Category(variable=variable, label=label, position=at) for at, label in enumerate(("Å", "B"))]
        )
        keys = change.copy(Case, ("project_id", "identifier"), [(world.project.pk, f"Y{at:03}") for at in range(40)])
        shared = [
            (variable.pk, towns[0].pk, None),
            (variable.pk, None, "not_answered"),
            (variable.pk, towns[1].pk, None),
        ]
        which = [at * at % 3 for at in range(40)]
        change.copy_alike(Value, ("case_id", "variable_id", "category_id", "missing"), keys, shared, which)
    assert dict(Case.objects.filter(pk__in=keys).values_list("id", "identifier")) == {
        pk: f"Y{at:03}" for at, pk in enumerate(keys)
    }
    held = list(
        Value.objects.filter(variable=variable).order_by("case__identifier").values_list("category__label", "missing")
    )
    assert held == [[("Å", None), (None, "not_answered"), ("B", None)][at] for at in which]


def test_what_isnt_of_its_columns_plain_kind_is_written_as_text():
    number, day = Value._meta.get_field("number"), Value._meta.get_field("day")
    assert packable([number, day], [(1.5, None), (None, date(2026, 1, 1))])
    assert not packable([number], [(1,)])
    assert not packable([day], [("2026-01-01",)])
