"""A codebook brought in from a file: merged into the one there is, or put in its place."""

from typing import Any

from core.coding.exchange import FoundCode, FoundCodebook, How, Plan
from core.language import say
from server.coding import queries
from server.coding.actions.codes import new_code
from server.coding.models import Code, Coding, Passage, Theme, ThemeCode
from server.common.errors import Conflict
from server.projects.change import Change
from server.projects.models import Membership, Project
from server.projects.trail import act


def bring_in_codebook(member: Membership, found: FoundCodebook, how: How, revision: int) -> Plan:
    """Merge a file's codebook into the project's, or put it in its place; all of it undone at once.
    ``revision``: the project's when the researcher saw what would happen."""
    with act(member, "codebook.bring_in") as change:
        if Project.objects.values_list("revision", flat=True).get(pk=member.project_id) != revision:
            raise Conflict(say("Somebody changed the project since; look at what would happen once more."))
        outcome = queries.codebook_plan(member, found, how)
        rows = {row.pk: row for row in queries.codes(member)}
        if how == "replace":
            # Out of the way of codes that take their names; deleted once those they hold have moved.
            for pk in outcome.gone:
                change.update(rows[pk], name=f"{rows[pk].name[:140]} ({pk})")
        made = _put(change, found.codes, outcome, rows, how)
        _draw_together(change, found, made, how)
        if outcome.gone:
            _delete(change, outcome.gone)
        fresh = sum(one is None for one in outcome.matched)
        changed = outcome.changes.keys() | {outcome.matched[place] for place in outcome.moved}
        change.summary = (
            say("Brought in a codebook: {fresh} new, {changes} changed", fresh=fresh, changes=len(changed))
            + (say(", {gone} gone", gone=len(outcome.gone)) if outcome.gone else "")
        )  # fmt: skip
    return outcome


def _put(change: Change, codes: tuple[FoundCode, ...], outcome: Plan, rows: dict[int, Code], how: How) -> list[int]:
    """Make and change codes; the ID of each of the file's. Parents stand before those beneath them."""
    made: list[int] = []
    places: dict[int | None, int] = {}
    for place, (code, held) in enumerate(zip(codes, outcome.matched, strict=True)):
        above = made[code.above] if code.above >= 0 else None
        if held is None:
            fields: dict[str, Any] = dict(code.said)
            if code.colour >= 0:
                fields["colour"] = code.colour
            row = new_code(change, code.name, above, parked=bool(code.parked), **fields)
        else:
            row = rows[held]
            beneath = {"parent_id": above} if place in outcome.moved else {}
            change.update(row, **_fields(row, code, outcome, how), **beneath)
        if how == "replace":
            change.update(row, position=places.setdefault(above, 0))
            places[above] += 1
        made.append(row.pk)
    return made


def _fields(row: Code, code: FoundCode, outcome: Plan, how: How) -> dict[str, Any]:
    fields: dict[str, Any] = dict(outcome.changes.get(row.pk, {}))
    if fields.get("scale_low") == "" and row.codings.exclude(rating=None).exists():
        fields = {name: text for name, text in fields.items() if not name.startswith("scale")}
    if code.parked is not None:
        fields["parked"] = code.parked
    if how == "replace":
        fields["name"] = code.name
        if code.colour >= 0:
            fields["colour"] = code.colour
    return fields


def _draw_together(change: Change, found: FoundCodebook, made: list[int], how: How) -> None:
    """Themes of the file, made or added to; those it doesn't name stay as they are."""
    held = {row.name.casefold(): row for row in queries.themes(change.member)}
    for one in found.themes:
        theme = held.get(one.name.casefold())
        if theme is None:
            theme = change.create(
                Theme(project_id=change.project_id, name=one.name, statement=one.statement, position=len(held))
            )
            held[one.name.casefold()] = theme
        elif one.statement and (how == "replace" or not theme.statement):
            change.update(theme, statement=one.statement)
        there = set(theme.placings.values_list("code_id", flat=True))
        for place in dict.fromkeys(one.codes):
            if made[place] not in there:
                there.add(made[place])
                change.create(ThemeCode(theme=theme, code_id=made[place], position=len(there)))


def _delete(change: Change, gone: tuple[int, ...]) -> None:
    passages = set(Coding.objects.filter(code__in=gone).values_list("passage_id", flat=True))
    change.delete(Code.objects.filter(project=change.project_id, pk__in=gone))
    change.delete(Passage.objects.filter(pk__in=passages).idle())
