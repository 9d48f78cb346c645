"""Kinds of memos that a project has of its own, and which kinds each memo is of."""

from collections.abc import Iterable, Sequence

from core.language import say
from server.common.errors import Conflict, NotFound, Refusal
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act
from server.report.models import Kind, Memo, MemoOfKind, OwnMemoKind

MOST = 40


def make_memo_kind(member: Membership, name: str) -> OwnMemoKind:
    with act(member, "memo.kind") as change:
        if OwnMemoKind.objects.filter(project=member.project_id).count() >= MOST:
            raise Refusal(say("There are {most} kinds already: as many as can be told apart, and more.", most=MOST))
        made = change.create(OwnMemoKind(project_id=member.project_id, name=_free_name(member, name)))
        change.summary = say("Made the kind of memo “{name}”", name=made.name)
    return made


def rename_memo_kind(member: Membership, kind_id: int, name: str) -> OwnMemoKind:
    with act(member, "memo.kind") as change:
        kind = _own_kind(member, kind_id)
        before = kind.name
        if change.update(kind, name=_free_name(member, name, kind)):
            change.summary = say("Called the kind of memo “{before}” “{name}”", before=before, name=kind.name)
    return kind


def delete_memo_kind(member: Membership, kind_id: int) -> None:
    """Delete a kind; memos of it stay."""
    with act(member, "memo.kind") as change:
        kind = _own_kind(member, kind_id)
        change.summary = say("Deleted the kind of memo “{name}”; the memos stay", name=kind.name)
        change.delete(OwnMemoKind.objects.filter(pk=kind.pk))


def _own_kind(member: Membership, kind_id: int) -> OwnMemoKind:
    found = OwnMemoKind.objects.filter(project=member.project_id, pk=kind_id).first()
    if found is None:
        raise NotFound(say("This kind of memo isn’t here any more."))
    return found


def _free_name(member: Membership, name: str, but: OwnMemoKind | None = None) -> str:
    name = " ".join(name.split())
    if not name:
        raise Refusal(say("Give the kind a name."))
    if len(name) > 60:
        raise Refusal(say("A kind’s name may have up to 60 characters."))
    others = OwnMemoKind.objects.filter(project=member.project_id, name__iexact=name)
    if (others.exclude(pk=but.pk) if but else others).exists():
        raise Conflict(say("There is a kind “{name}” already.", name=name))
    return name


def known_kinds(member: Membership, kinds: Iterable[Kind]) -> list[Kind]:
    """The same, each once; refused where one isn't of this project."""
    found = list(dict.fromkeys(kinds))
    own = {kind for kind in found if isinstance(kind, int)}
    if OwnMemoKind.objects.filter(project=member.project_id, pk__in=own).count() < len(own):
        raise NotFound(say("This kind of memo isn’t here any more."))
    return found


def first_kind(kinds: Sequence[Kind]) -> str:
    """The one that stands in the memo itself: the first, where every project has it."""
    return kinds[0] if kinds and isinstance(kinds[0], str) else ""


def set_kinds(change: Change, memo: Memo, kinds: Sequence[Kind]) -> None:
    """Have a memo be of these kinds and no other."""
    if list(kinds) == memo.kinds:
        return
    first = first_kind(kinds)
    rest = kinds[1:] if first else kinds
    change.update(memo, kind=first)
    change.delete(MemoOfKind.objects.filter(memo=memo))
    change.create_many(
        [
            MemoOfKind(
                memo=memo, kind="" if isinstance(one, int) else one, own_id=one if isinstance(one, int) else None
            )
            for one in rest
        ]
    )
