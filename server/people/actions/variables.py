"""Writes on variables and their categories."""

from typing import Any

from core.language import say, worded
from core.people.columns import read_cell
from core.people.participants import written
from core.text.missing import IN_WORDS, REASONS
from server.common.errors import Conflict, NotFound, Refusal
from server.people import facts, queries
from server.people.actions.values import GROUPED, categories_for, cleared, held_as
from server.people.models import Category, Subject, Value, Variable, VariableKind
from server.projects.becoming import tell
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act

_MADE_AS = {
    "bands": VariableKind.ORDERED,
    "crossing": VariableKind.CATEGORY,
    "count": VariableKind.NUMBER,
    "cohort": VariableKind.YES_NO,
}


def make_variable(
    member: Membership, name: str, kind: str = "", of: str = Subject.CASE, definition: dict[str, Any] | None = None
) -> Variable:
    """A new variable: empty, of a kind; or made of others as ``definition`` says, following them."""
    with act(member, "variable.make") as change:
        name = free_name(member, name, of)
        if definition is not None:
            kind = _MADE_AS[definition["kind"]]
            check_definition(member, definition)
        position = queries.variables(member, of).count()
        row = change.create(
            Variable(
                project_id=member.project_id, name=name, kind=kind, of=of, position=position, definition=definition
            )
        )
        if definition is None:
            key = "case_id" if of == Subject.CASE else "document_id"
            ids = (
                facts.case_ids(member.project_id)
                if of == Subject.CASE
                else list(member.project.documents.values_list("id", flat=True))
            )
            change.create_many([Value(**{key: pk}, variable=row, missing=row.when_empty) for pk in ids])
        change.summary = say("Made the variable “{name}”", name=name)
    return row


def _check_bands(source: Variable, definition: dict[str, Any]) -> None:
    if source.kind not in (VariableKind.NUMBER, VariableKind.DATE):
        raise Refusal(
            say(
                "“{name}” is {kind}: only numbers and dates are cut into bands.",
                name=source.name,
                kind=worded(source.get_kind_display()),
            )
        )
    try:
        cuts = facts.cuts_of(definition)
    except (ValueError, TypeError) as error:
        raise Refusal(say("A cut point has to be a number, or a date such as 2026-01-31.")) from error
    if any(isinstance(cut, float) is (source.kind == VariableKind.DATE) for cut in cuts):
        raise Refusal(
            say("A cut point has to be a date such as 2026-01-31.")
            if cuts and isinstance(cuts[0], float)
            else say("A cut point has to be a number.")
        )
    if len(set(cuts)) != len(cuts) or not 1 <= len(cuts) <= 50:
        raise Refusal(say("Give one to fifty different cut points."))


def check_definition(member: Membership, definition: dict[str, Any], own: int = 0) -> None:
    """Refuse a definition whose sources are not there, or not of a kind that it can be made of."""
    kind = definition["kind"]
    if kind == "bands":
        _check_bands(queries.variable(member, definition["of"]), definition)
    elif kind == "crossing":
        for pk in definition["of"]:
            source = queries.variable(member, pk)
            if source.kind not in (*GROUPED, VariableKind.YES_NO):
                raise Refusal(
                    say(
                        "“{name}” is {kind}; cut it into bands first.",
                        name=source.name,
                        kind=worded(source.get_kind_display()),
                    )
                )
        if len(set(definition["of"])) != 2:
            raise Refusal(say("Choose two different variables to cross."))
    elif kind == "cohort":
        queries.cohort(member, definition["cohort"], Subject.CASE)
    elif definition.get("code") and not member.project.codes.filter(pk=definition["code"]).exists():
        raise NotFound(say("This code isn’t in the codebook any more; somebody has deleted it."))
    if own and own in _sources(member, definition):
        raise Refusal(say("A variable can’t be made of itself."))


def _sources(member: Membership, definition: dict[str, Any]) -> set[int]:
    """Every variable that a definition rests on, however deep."""
    waiting = {definition["of"]} if definition["kind"] == "bands" else set(definition.get("of") or [])
    found: set[int] = set()
    while waiting:
        pk = waiting.pop()
        if pk in found:
            continue
        found.add(pk)
        row = queries.variables(member).filter(pk=pk).first()
        if row is not None and row.definition is not None:
            waiting |= (
                {row.definition["of"]} if row.definition["kind"] == "bands" else set(row.definition.get("of") or [])
            )
    return found


def change_variable(member: Membership, variable_id: int, **fields: Any) -> Variable:
    """Name, description, the reason for empty cells, or the order of categories (``order``: labels)."""
    with act(member, "variable.change") as change:
        variable = queries.variable(member, variable_id, None)
        order = fields.pop("order", None)
        if "name" in fields:
            fields["name"] = free_name(member, fields["name"], variable.of, variable_id)
        if fields.get("definition") is not None:
            if variable.definition is None or variable.definition["kind"] != fields["definition"]["kind"]:
                raise Refusal(say("How this variable is made can’t be changed to that."))
            check_definition(member, fields["definition"], variable_id)
        else:
            fields.pop("definition", None)
        if fields.get("kind", variable.kind) != variable.kind:
            if variable.definition is not None:
                raise Refusal(
                    say("“{name}” is made of other variables; its type follows from them.", name=variable.name)
                )
            _change_kind(change, variable, fields.pop("kind"))
        change.update(variable, **fields)
        if order is not None:
            places = {label: place for place, label in enumerate(order)}
            for category in variable.categories.all():
                change.update(category, position=places.get(category.label, len(places)))
        change.summary = say("Changed the variable “{name}”", name=variable.name)
    return queries.variable(member, variable_id, None)


def _change_kind(change: Change, variable: Variable, kind: str) -> None:
    """Read every value again as the new type; refused, with an example, where one doesn't fit."""
    held = list(Value.objects.filter(variable=variable).select_related("category", "case", "document"))
    as_text = [(value, written(queries.value_of(value))) for value in held if value.missing is None]
    cells = [(value, read_cell(text, kind, variable.when_empty)) for value, text in as_text]  # type: ignore[arg-type]
    for value, cell in cells:
        if cell.problem:
            shown = written(queries.value_of(value))
            raise Refusal(
                say(
                    "“{shown}” ({whose}) can’t be read as {label}; nothing was changed.",
                    shown=shown,
                    whose=_whose(value),
                    label=VariableKind(kind).label,
                )
            )
    old_categories = list(variable.categories.all()) if kind not in GROUPED else []
    change.update(variable, kind=kind)
    categories = categories_for(change, variable, (), [cell for _, cell in cells])
    for value, cell in cells:
        change.update(value, **cleared(held_as(cell, variable, categories)))
    if old_categories:
        change.delete(Category.objects.filter(pk__in=[row.pk for row in old_categories]))


def delete_variable(member: Membership, variable_id: int) -> str:
    """Says what went with it."""
    with act(member, "variable.delete") as change:
        variable = queries.variable(member, variable_id, None)
        resting = [
            row.name
            for row in queries.variables(member).exclude(definition__isnull=True)
            if row.pk != variable_id and variable_id in _sources(member, row.definition or {"kind": ""})
        ]
        if resting:
            raise Conflict(
                say("“{resting}” is made of “{name}”; delete that first.", resting=resting[0], name=variable.name)
            )
        values = Value.objects.filter(variable=variable, missing=None).count()
        change.summary = say("Deleted the variable “{name}”", name=variable.name) + (
            say(", with {values, plural, one {# value} other {# values}}", values=values) if values else ""
        )
        change.delete(queries.variables(member, variable.of).filter(pk=variable_id))
    return change.summary


def _whose(value: Value) -> str:
    return value.case.identifier if value.case else value.document.title if value.document else ""


def rename_category(member: Membership, variable_id: int, label: str, name: str) -> Variable:
    """Another label for a category; the label of another one merges the two."""
    name = name.strip()
    if not name:
        raise Refusal(say("A category needs a label."))
    variable = queries.variable(member, variable_id, None)
    if name != label and variable.categories.filter(label=name).exists():
        return merge_categories(member, variable_id, [label], name)
    with act(member, "category.rename") as change:
        change.update(_category(variable, label), label=name[:200])
        _remember(change, variable, label, name[:200])
        change.summary = say("Renamed “{label}” of “{name}” to “{name2}”", label=label, name=variable.name, name2=name)
    return queries.variable(member, variable_id, None)


def _remember(change: Change, variable: Variable, gone: str, now: str) -> None:
    """What a category became: comparisons that name it offer that instead."""
    if gone != now:
        tell(change, "category", gone, now, within=variable.pk)


def merge_categories(member: Membership, variable_id: int, labels: list[str], into: str) -> Variable:
    """Several categories become one, which may be one of them or new."""
    with act(member, "category.merge") as change:
        variable = queries.variable(member, variable_id, None)
        merged = [_category(variable, label) for label in dict.fromkeys(labels)]
        target = variable.categories.filter(label=into.strip()).first()
        if target is None:
            if not into.strip():
                raise Refusal(say("Give the merged category a label."))
            target = change.create(
                Category(variable=variable, label=into.strip()[:200], position=min(row.position for row in merged))
            )
        going = [row for row in merged if row.pk != target.pk]
        change.update_all(Value.objects.filter(category__in=going), category_id=target.pk)
        change.delete(Category.objects.filter(pk__in=[row.pk for row in going]))
        for row in going:
            _remember(change, variable, row.label, target.label)
        change.summary = say(
            "Merged {merged} categories of “{name}” into “{label}”",
            merged=len(merged),
            name=variable.name,
            label=target.label,
        )
    return queries.variable(member, variable_id, None)


def split_category(member: Membership, variable_id: int, label: str, name: str, case_ids: list[int]) -> Variable:
    """Give these cases of one category another, new one."""
    name = name.strip()
    with act(member, "category.split") as change:
        variable = queries.variable(member, variable_id, None)
        category = _category(variable, label)
        if not name or variable.categories.filter(label=name).exists():
            raise Conflict(
                say("“{name}” has a category “{name2}” already.", name=variable.name, name2=name)
                if name
                else say("Give the new category a label.")
            )
        chosen = Value.objects.filter(category=category, case__in=case_ids)
        if not chosen.exists():
            raise Refusal(say("None of those chosen is “{label}”.", label=label))
        for row in variable.categories.filter(position__gt=category.position):
            change.update(row, position=row.position + 1)
        made = change.create(Category(variable=variable, label=name[:200], position=category.position + 1))
        count = change.update_all(chosen, category_id=made.pk)
        change.summary = say(
            "Split “{name}” from “{label}” of “{name2}” ({rows})",
            name=name,
            label=label,
            name2=variable.name,
            rows=count,
        )
    return queries.variable(member, variable_id, None)


def category_to_missing(member: Membership, variable_id: int, label: str, reason: str) -> Variable:
    """A category that is really no value (such as *refused*) becomes missing, for a reason."""
    if reason not in REASONS:
        raise Refusal(say("This isn’t a reason for a missing value."))
    with act(member, "category.make_missing") as change:
        variable = queries.variable(member, variable_id, None)
        category = _category(variable, label)
        count = change.update_all(Value.objects.filter(category=category), **cleared({"missing": reason}))
        change.delete(Category.objects.filter(pk=category.pk))
        change.summary = say(
            "Made “{label}” of “{name}” missing: {reason} ({rows})",
            label=label,
            name=variable.name,
            reason=worded(IN_WORDS[reason]),
            rows=count,
        )
    return queries.variable(member, variable_id, None)


def _category(variable: Variable, label: str) -> Category:
    found = variable.categories.filter(label=label).first()
    if found is None:
        raise NotFound(say("“{name}” has no category “{label}” any more.", name=variable.name, label=label))
    return found


def free_name(member: Membership, name: str, of: str, but: int = 0) -> str:
    name = name.strip()[:200]
    if not name:
        raise Refusal(say("A variable needs a name."))
    if queries.variables(member, of).filter(name__iexact=name).exclude(pk=but).exists():
        raise Conflict(say("There is a variable called “{name}” already.", name=name))
    return name
