"""Writes on the codebook: codes made, changed, deleted, pinned."""

from collections.abc import Sequence
from typing import Any

from core.language import say
from core.snapshot.lineage import would_loop
from server.coding import queries
from server.coding.models import COLOURS, Code, Coding, Passage, Pin
from server.common.errors import Conflict, Refusal
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act


def create_code(member: Membership, name: str, parent_id: int | None = None, **fields: Any) -> Code:
    with act(member, "code.create") as change:
        code = new_code(change, name, parent_id, **fields)
        change.summary = say("Made the code {name}", name=code.name)
    return code


def change_code(member: Membership, code_id: int, **fields: Any) -> Code:
    """Rename, define, colour, nest (``parent_id``) or re-order (``before_id``: stand before that sibling)."""
    with act(member, "code.change") as change:
        code = queries.code(member, code_id)
        before_id = fields.pop("before_id", None)
        moving = "parent_id" in fields or before_id is not None
        name = fields["name"] = " ".join(fields.get("name", code.name).split())
        parent_id = fields.get("parent_id", code.parent_id)
        _check_name(member, name, parent_id, but=code_id)
        if parent_id is not None:
            queries.code(member, parent_id)
            parents = dict(queries.codes(member).values_list("id", "parent_id"))
            if would_loop(parents, code_id, parent_id):
                raise Refusal(say("“{name}” can’t lie beneath itself.", name=code.name))
        scale = {name: " ".join(fields.get(name, getattr(code, name)).split()) for name in ("scale_low", "scale_high")}
        if bool(scale["scale_low"]) != bool(scale["scale_high"]):
            raise Refusal(say("A scale needs a name for both its ends, or for none."))
        if code.scale_low and not scale["scale_low"] and code.codings.exclude(rating=None).exists():
            raise Refusal(say("Codings of this code are rated; take their ratings off first, or leave the scale."))
        fields |= scale
        was = code.name
        if fields.get("colour", code.colour) != code.colour:
            _recolour(change, member, code, fields["colour"])
        change.update(code, **fields)
        if moving:
            _place(change, member, code, before_id)
        change.summary = (
            say("Renamed the code {was} to {name}", was=was, name=name)
            if was != name
            else say("Moved the code {name}", name=name)
            if moving
            else say("Changed the code {name}", name=name)
        )
    return code


def change_codes(member: Membership, code_ids: Sequence[int], **fields: Any) -> int:
    """Say of these codes at once their ``kind`` (describing, interpreting, or "" for neither), or whether they are ``parked``.
    How many changed."""
    with act(member, "code.change_many") as change:
        rows = [queries.code(member, pk) for pk in dict.fromkeys(code_ids)]
        count = sum(change.update(row, **fields) for row in rows)
        change.summary = say("Changed {codes, plural, one {# code} other {# codes}}", codes=count)
    return count


def delete_code(member: Membership, code_id: int) -> None:
    """Delete a code, the codes beneath it, their codings, and passages left without any."""
    with act(member, "code.delete") as change:
        code = queries.code(member, code_id)
        branch = branch_of(member, code_id)
        passages = set(Coding.objects.filter(code__in=branch).values_list("passage_id", flat=True))
        count = Coding.objects.filter(code__in=branch).count()
        change.delete(queries.codes(member).filter(pk=code_id))
        left = Passage.objects.filter(pk__in=passages).idle()
        change.delete(left)
        beneath = say(" with {branch} beneath it", branch=len(branch) - 1) if len(branch) > 1 else ""
        change.summary = say(
            "Deleted the code {name}{beneath}, {count} {count, plural, one {coding} other {codings}}",
            name=code.name,
            beneath=beneath,
            count=count,
        )


def pin_code(member: Membership, key: int, code_id: int | None) -> None:
    """Put a code under one of the member's own keys 1 to 9, or clear the key."""
    if not 1 <= key <= 9:
        raise Refusal(say("Codes are pinned to the keys 1 to 9."))
    with act(member, "code.pin") as change:
        own = Pin.objects.filter(project=member.project_id, account=member.account)
        change.delete(own.filter(key=key))
        if code_id is None:
            change.summary = say("Cleared key {key}", key=key)
            return
        code = queries.code(member, code_id)
        change.delete(own.filter(code=code))
        change.create(Pin(project_id=member.project_id, account=member.account, code=code, key=key))
        change.summary = say("Pinned {name} to key {key}", name=code.name, key=key)


def new_code(change: Change, name: str, parent_id: int | None, **fields: Any) -> Code:
    member = change.member
    name = " ".join(name.split())
    parent = queries.code(member, parent_id) if parent_id is not None else None
    _check_name(member, name, parent_id)
    if "colour" not in fields:
        # Codes of one branch share its colour; a new branch takes the next one.
        tops = queries.codes(member).filter(parent=None).count()
        fields["colour"] = parent.colour if parent else (tops * 5) % COLOURS
    siblings = queries.codes(member).filter(parent=parent_id)
    last = siblings.order_by("-position").values_list("position", flat=True).first()
    fields["position"] = 0 if last is None else last + 1
    return change.create(Code(project_id=change.project_id, parent=parent, name=name, **fields))


def _check_name(member: Membership, name: str, parent_id: int | None, but: int = 0) -> None:
    if not name:
        raise Refusal(say("Give the code a name."))
    if len(name) > 160:
        raise Refusal(say("A code’s name may have up to 160 characters; put the rest into its definition."))
    same = queries.codes(member).filter(parent=parent_id, name__iexact=name).exclude(pk=but).first()
    if same:
        raise Conflict(say("There is a code “{name}” here already.", name=same.name))


def _recolour(change: Change, member: Membership, code: Code, colour: int) -> None:
    """A branch keeps one colour: codes beneath that had their parent's follow it."""
    for child in queries.codes(member).filter(parent=code, colour=code.colour):
        _recolour(change, member, child, colour)
        change.update(child, colour=colour)


def _place(change: Change, member: Membership, code: Code, before_id: int | None) -> None:
    siblings = [row for row in queries.codes(member).filter(parent=code.parent_id) if row.pk != code.pk]
    place = next((at for at, row in enumerate(siblings) if row.pk == before_id), len(siblings))
    for position, row in enumerate([*siblings[:place], code, *siblings[place:]]):
        change.update(row, position=position)


def branch_of(member: Membership, code_id: int) -> list[int]:
    """The code and all beneath it."""
    children: dict[int | None, list[int]] = {}
    for pk, parent in queries.codes(member).values_list("id", "parent_id"):
        children.setdefault(parent, []).append(pk)
    branch = [code_id]
    for pk in branch:
        branch.extend(children.get(pk, []))
    return branch
