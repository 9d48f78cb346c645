"""Every write goes through here: permission, one transaction, the trail, the project's revision; and undo."""

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from typing import TypeVar

from django.db import IntegrityError, OperationalError, connection, models, transaction

from core.language import message, say, worded
from server.common.errors import Conflict, NotAllowed, Refusal
from server.projects.change import Change
from server.projects.holding import hold, one_after_the_other
from server.projects.models import ROLES, MemberRole, Membership, Project, TrailEntry, TrailState
from server.projects.revisions import Rows, moved_since, raise_revision, revision_of, touched_by
from server.projects.steps import carry_out, plain, weight

Found = TypeVar("Found")
Told = Callable[[int, int], None]
BESIDE = 500
"""Rows from which taking back goes on beside others' writes."""
_TRIES = 3


@contextmanager
def act(member: Membership, verb: str, needs: MemberRole = MemberRole.CODER) -> Iterator[Change]:
    """The frame of every write. ``verb`` says what is done to what: ``coding.put``."""
    member.demand(needs)
    with transaction.atomic():
        project = hold(member)
        member.demand(needs)
        change = Change(member, verb, needs)
        yield change
        _keep(project, change)


class Beside(Change):
    """The changes of long work, which others write beside."""

    def at_last(self, work: Callable[[], Found], rests_on: Sequence[str]) -> Found:
        """Do what rests on what others may change meanwhile (models whose labels begin so), and hold the project. Where it
        moved, do it anew; at the last try while the project is held."""
        for left in reversed(range(_TRIES)):
            before = list(self.inverse)
            try:
                with transaction.atomic():
                    return self._tried(work, rests_on, held=not left)
            except _Overtaken:
                self.inverse[:] = before
        raise AssertionError("the last try holds the project")

    def _tried(self, work: Callable[[], Found], rests_on: Sequence[str], held: bool) -> Found:
        if held:
            hold(self.member)
        begun = revision_of(self.project_id)
        try:
            found = work()
            self.settle()
            hold(self.member)
            self.member.demand(self.needs)
            moved = not held and moved_since(self.project_id, begun, rests_on)
        except (IntegrityError, OperationalError) as problem:
            if held or (isinstance(problem, OperationalError) and not _in_hand(problem)):
                raise
            raise _Overtaken from problem
        if moved:
            raise _Overtaken
        return found


def _in_hand(problem: OperationalError) -> bool:
    """Whether somebody else, or the database’s own housekeeping, had in hand for a moment what was needed."""
    return getattr(problem.__cause__, "sqlstate", None) == "55P03"


class _Overtaken(Exception):
    """Somebody changed meanwhile what this rests on."""


@contextmanager
def act_beside(member: Membership, verb: str, needs: MemberRole = MemberRole.CODER) -> Iterator[Beside]:
    """The same for what takes long: others write meanwhile, see nothing of it, and wait only for its end."""
    member.demand(needs)
    with transaction.atomic():
        one_after_the_other(member.project_id)
        change = Beside(member, verb, needs)
        yield change
        change.settle()
        project = hold(member)
        member.demand(needs)
        _keep(project, change)


def _keep(project: Project, change: Change) -> None:
    if not change.inverse:
        return
    # What was undone before can't be redone on top of something new.
    undone = TrailEntry.objects.filter(project=project, actor=change.member.account, state=TrailState.UNDONE)
    undone.update(state=TrailState.GONE)
    TrailEntry.objects.create(
        project=project,
        actor=change.member.account,
        revision=raise_revision(project, touched_by(change.inverse)),
        verb=change.verb,
        needs=change.needs,
        summary=change.summary,
        inverse=change.inverse,
    )


def last_done(member: Membership) -> TrailEntry | None:
    """What undo would take back for this member."""
    return _own(member, TrailState.DONE).order_by("-revision").first()


def last_undone(member: Membership) -> TrailEntry | None:
    """What redo would do again for this member."""
    return _own(member, TrailState.UNDONE).order_by("revision").first()


def undo(member: Membership, tell: Told | None = None) -> TrailEntry | None:
    """Take back the member's own last action; None where there is none. ``tell`` hears of steps done and of all."""
    return _turn(member, TrailState.UNDONE, tell)


def redo(member: Membership, tell: Told | None = None) -> TrailEntry | None:
    """Do again what the member last took back; None where there is nothing."""
    return _turn(member, TrailState.DONE, tell)


def next_turned(member: Membership, state: TrailState) -> TrailEntry | None:
    """What would be turned into this state."""
    return last_done(member) if state == TrailState.UNDONE else last_undone(member)


def _own(member: Membership, state: TrailState) -> models.QuerySet[TrailEntry]:
    # Whoever only asks what would be turned needn't read all of it.
    entries = TrailEntry.objects.filter(project=member.project_id, actor=member.account_id, state=state)
    return entries.defer("inverse")


def _turn(member: Membership, state: TrailState, tell: Told | None) -> TrailEntry | None:
    if not member.may(MemberRole.CODER):
        raise NotAllowed(say("A viewer has nothing to undo."))
    entry: TrailEntry | None = None
    try:
        with transaction.atomic():
            entry = next_turned(member, state)
            beside = entry is not None and weight(entry.inverse) > BESIDE
            if beside:
                one_after_the_other(member.project_id)
            else:
                hold(member)
            entry = next_turned(member, state)
            if entry is None:
                return None
            _check(member, entry)
            touched = _carry_out(entry, state, tell)
            project = hold(member)
            _check(member, entry)
            _end(member, project, entry, state, touched)
            return entry
    except (Conflict, IntegrityError) as problem:
        raise Conflict(_set_aside(entry, state, problem)) from problem


def _check(member: Membership, entry: TrailEntry) -> None:
    if not member.may(MemberRole.CODER):
        raise Refusal(say("A viewer has nothing to undo."))
    if not member.may(entry.needs):
        raise Conflict(
            say(
                "{summary}: that takes an owner, and your role is now {role}.",
                summary=entry.summary,
                role=worded(ROLES[member.role]),
            )
        )


def _carry_out(entry: TrailEntry, state: TrailState, tell: Told | None) -> Rows:
    # Nobody turns the same one meanwhile.
    TrailEntry.objects.select_for_update().get(pk=entry.pk)
    back = carry_out(entry.inverse, tell)
    touched = touched_by([*entry.inverse, *back])
    swept = any(step["do"] == "swept" for step in back)
    entry.inverse = [] if swept else plain(back)
    entry.state = TrailState.GONE if swept else state
    entry.save(update_fields=["inverse", "state"])
    with connection.cursor() as cursor:
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
        cursor.execute("SET CONSTRAINTS ALL DEFERRED")
    return touched


def _end(member: Membership, project: Project, entry: TrailEntry, state: TrailState, touched: Rows) -> None:
    newer = _own(member, TrailState.DONE).filter(revision__gt=entry.revision)
    if state == TrailState.UNDONE and newer.exists():
        # They went on meanwhile: it can't be done again on top of that.
        entry.state = TrailState.GONE
    entry.turned = raise_revision(project, touched)
    entry.save(update_fields=["turned", "state"])


def _set_aside(entry: TrailEntry | None, state: TrailState, problem: Exception) -> str:
    """What can't be turned doesn't stand in the way of what came before it; the sentence that says so."""
    assert entry is not None
    undoing = state == TrailState.UNDONE
    stays = TrailState.STAYS if undoing else TrailState.GONE
    TrailEntry.objects.filter(pk=entry.pk).update(state=stays, inverse=[])
    said = problem.sentence if isinstance(problem, Conflict) else _RESTS
    if undoing:
        return say(
            "{said} “{summary}” stays; undo once more takes back what you did before it.",
            said=said,
            summary=entry.summary,
        )
    return say("{said} “{summary}” isn’t done again.", said=said, summary=entry.summary)


_RESTS = message("This can’t be taken back any more: something it rests on has been changed or deleted since.")
