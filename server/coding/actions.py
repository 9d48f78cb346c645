"""Writes on codes, passages and codings."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from core.coding.tree import would_loop
from core.gather.transcript import FoundMark
from core.text.normalise import ink_bounds
from server.coding import queries
from server.coding.models import COLOURS, Code, Coding, Passage, Pin
from server.common.errors import Conflict, NotFound, Refusal
from server.gather import queries as gather
from server.gather.models import Document
from server.projects.models import Membership
from server.projects.trail import Change, act
from server.report.models import Memo

LONGEST_CODE_COMMENT = 80
"""Characters up to which a comment can be taken for a code's name."""


@dataclass(frozen=True)
class NewCode:
    """A code to be made on the spot, at the top or beneath ``parent_id``."""

    name: str
    parent_id: int | None = None


def apply_codes(
    member: Membership,
    document_id: int,
    start: int,
    end: int,
    code_ids: list[int],
    new_codes: list[NewCode] | None = None,
) -> Passage:
    """Put codes on ``[start, end)`` (code points), making codes that don't exist yet.

    The stretch is drawn in to non-space characters. A code already there by this coder stays once.
    """
    with act(member, "coder", "coding") as change:
        document = gather.document(member, document_id)
        if not 0 <= start < end <= document.length:
            raise Refusal("This stretch isn’t in the document; reload it and select again.")
        start, end = ink_bounds(document.text, start, end)
        if start == end:
            raise Refusal("Only spaces are selected; select the words.")
        wanted = [queries.code(member, code_id) for code_id in dict.fromkeys(code_ids)]
        wanted += [_new_code(change, new.name, new.parent_id) for new in new_codes or []]
        if not wanted:
            raise Refusal("Choose a code first.")
        passage = Passage.objects.filter(document=document, start=start, end=end).first()
        if passage is None:
            passage = change.create(Passage(document=document, start=start, end=end), if_unused=True)
        held = set(Coding.objects.filter(passage=passage, coder=member.account).values_list("code_id", flat=True))
        for code in wanted:
            if code.pk not in held:
                change.create(Coding(passage=passage, code=code, coder=member.account))
        names = ", ".join(code.name for code in wanted)
        change.summary = f"Put {names} on “{_short(document.text[start:end])}”"
    return passage


def remove_coding(member: Membership, coding_id: int) -> None:
    """Take one code off a passage; a passage without codes goes too."""
    with act(member, "coder", "coding") as change:
        coding = (
            queries.codings(member).filter(pk=coding_id).select_related("code", "passage__document", "coder").first()
        )
        if coding is None:
            raise NotFound("This coding is gone already.")
        if coding.coder_id != member.account_id and not member.may("owner"):
            raise Refusal(f"This coding is {coding.coder.display_name}’s; only they or an owner can take it off.")
        passage = coding.passage
        text = passage.document.text[passage.start : passage.end]
        change.summary = f"Took {coding.code.name} off “{_short(text)}”"
        if Coding.objects.filter(passage=passage).count() == 1 and not passage.memos.exists():
            change.delete(Passage.objects.filter(pk=passage.pk))
        else:
            change.delete(Coding.objects.filter(pk=coding_id))


def create_code(member: Membership, name: str, parent_id: int | None = None, **fields: Any) -> Code:
    with act(member, "coder", "code") as change:
        code = _new_code(change, name, parent_id, **fields)
        change.summary = f"Made the code {code.name}"
    return code


def change_code(member: Membership, code_id: int, **fields: Any) -> Code:
    """Rename, define, colour, nest (``parent_id``) or re-order (``before_id``: stand before that sibling)."""
    with act(member, "coder", "code") as change:
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
                raise Refusal(f"“{code.name}” can’t lie beneath itself.")
        was = code.name
        if fields.get("colour", code.colour) != code.colour:
            _recolour(change, member, code, fields["colour"])
        change.update(code, **fields)
        if moving:
            _place(change, member, code, before_id)
        change.summary = (
            f"Renamed the code {was} to {name}"
            if was != name
            else f"Moved the code {name}"
            if moving
            else f"Changed the code {name}"
        )
    return code


def delete_code(member: Membership, code_id: int) -> None:
    """Delete a code, the codes beneath it, their codings, and passages left without any."""
    with act(member, "coder", "code") as change:
        code = queries.code(member, code_id)
        branch = _branch(member, code_id)
        passages = set(Coding.objects.filter(code__in=branch).values_list("passage_id", flat=True))
        count = Coding.objects.filter(code__in=branch).count()
        change.delete(queries.codes(member).filter(pk=code_id))
        left = Passage.objects.filter(pk__in=passages, codings=None, memos=None)
        change.delete(left)
        beneath = f" with {len(branch) - 1} beneath it" if len(branch) > 1 else ""
        change.summary = f"Deleted the code {code.name}{beneath}, {count} coding{'' if count == 1 else 's'}"


def pin_code(member: Membership, key: int, code_id: int | None) -> None:
    """Put a code under one of the member's own keys 1 to 9, or clear the key."""
    if not 1 <= key <= 9:
        raise Refusal("Codes are pinned to the keys 1 to 9.")
    with act(member, "coder", "pin") as change:
        own = Pin.objects.filter(project=member.project_id, account=member.account)
        change.delete(own.filter(key=key))
        if code_id is None:
            change.summary = f"Cleared key {key}"
            return
        code = queries.code(member, code_id)
        change.delete(own.filter(code=code))
        change.create(Pin(project_id=member.project_id, account=member.account, code=code, key=key))
        change.summary = f"Pinned {code.name} to key {key}"


def _new_code(change: Change, name: str, parent_id: int | None, **fields: Any) -> Code:
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
        raise Refusal("Give the code a name.")
    if len(name) > 160:
        raise Refusal("A code’s name may have up to 160 characters; put the rest into its definition.")
    same = queries.codes(member).filter(parent=parent_id, name__iexact=name).exclude(pk=but).first()
    if same:
        raise Conflict(f"There is a code “{same.name}” here already.")


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


def _branch(member: Membership, code_id: int) -> list[int]:
    children: dict[int | None, list[int]] = {}
    for pk, parent in queries.codes(member).values_list("id", "parent_id"):
        children.setdefault(parent, []).append(pk)
    branch = [code_id]
    for pk in branch:
        branch.extend(children.get(pk, []))
    return branch


def _short(text: str) -> str:
    text = " ".join(text.split())
    return text if len(text) <= 40 else f"{text[:38].rstrip()}…"


def mark_comments(change: Change, document: Document, marks: Sequence[FoundMark], what: str) -> int:
    """Comments of a file, on their passages: as memos, or (``what`` is ``codes``) short ones as codes.
    Inside the import's action; returns how many."""
    codes: dict[str, Code] = {row.name.casefold(): row for row in queries.codes(change.member)}
    passages: dict[tuple[int, int], Passage] = {}
    held: set[tuple[int, int]] = set()
    count = 0
    for mark in marks:
        start, end = ink_bounds(document.text, mark.start, mark.end)
        if start == end:
            continue
        passage = passages.get((start, end))
        if passage is None:
            passage = passages[start, end] = change.create(Passage(document=document, start=start, end=end))
        name = " ".join(mark.text.split())
        if what == "codes" and len(name) <= LONGEST_CODE_COMMENT:
            code = codes.get(name.casefold())
            if code is None:
                code = codes[name.casefold()] = _new_code(change, name, None)
            if (passage.pk, code.pk) not in held:
                held.add((passage.pk, code.pk))
                change.create(Coding(passage=passage, code=code, coder=change.member.account))
        else:
            change.create(
                Memo(
                    project_id=change.project_id,
                    author=change.member.account,
                    text=mark.text,
                    source=mark.author,
                    passage=passage,
                )
            )
        count += 1
    return count


def delete_memo(member: Membership, memo_id: int) -> None:
    """Delete a memo on a passage; a passage that carries nothing else goes too."""
    with act(member, "coder", "memo") as change:
        memo = Memo.objects.filter(project=member.project_id, pk=memo_id).select_related("author", "passage").first()
        if memo is None:
            raise NotFound("This memo is gone already.")
        if memo.author_id != member.account_id and not member.may("owner"):
            raise Refusal(f"This memo is {memo.author.display_name}’s; only they or an owner can delete it.")
        change.summary = f"Deleted the memo “{_short(memo.text)}”"
        change.delete(Memo.objects.filter(pk=memo_id))
        passage = memo.passage
        if passage and not passage.codings.exists() and not passage.memos.exists():
            change.delete(Passage.objects.filter(pk=passage.pk))
