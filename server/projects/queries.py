"""Reads on projects, the trail and jobs."""

from hashlib import sha256
from typing import Any

from django.db.models import Count, IntegerField, OuterRef, QuerySet, Subquery

from core.language import say
from server.common.errors import NotFound
from server.projects.models import Account, Job, Membership, Project, Touched, TrailEntry
from server.projects.revisions import revision_of
from server.projects.running import mark_interrupted


def membership(account: Account, project_id: int) -> Membership:
    """The account's membership; not found for a stranger, as if the project weren't there."""
    # Asked by every request: being a member is what makes a project visible (``visible_to``), and who asks is known.
    found = Membership.objects.filter(account=account, project=project_id).select_related("project").order_by().first()
    if found is None:
        raise NotFound(say("There is no such project among yours."))
    found.account = account
    return found


def projects(account: Account) -> QuerySet[Membership]:
    """The account's projects, newest first, as memberships."""
    visible = Project.objects.visible_to(account)
    return (
        Membership.objects.filter(account=account, project__in=visible)
        .select_related("project")
        .annotate(**{name: _how_many(name) for name in ("documents", "cases", "codes")})
        .order_by("-project__created_at", "-project_id")
    )


def _how_many(name: str) -> Any:
    """Counted by itself: joined together, a large project's counts would multiply each other."""
    counted = Project.objects.filter(pk=OuterRef("project")).annotate(held=Count(name)).values("held")
    return Subquery(counted, output_field=IntegerField())


def members(member: Membership) -> QuerySet[Membership]:
    return (
        Membership.objects.filter(project=member.project_id).select_related("account").order_by("account__display_name")
    )


def trail_entries(member: Membership, limit: int = 100) -> QuerySet[TrailEntry]:
    return TrailEntry.objects.filter(project=member.project_id).select_related("actor")[:limit]


def state_of(member: Membership) -> str:
    """What is the same only while nothing moves in the project, nor in its members’ names and roles."""
    revision = revision_of(member.project_id)
    mark = Touched.objects.filter(project=member.project_id, revision=revision).values_list("mark", flat=True).first()
    people = list(members(member).values_list("account", "role", "account__display_name"))
    return f"{revision}.{mark}.{member.account_id}.{sha256(repr(people).encode()).hexdigest()[:16]}"


MOST_MOVES = 200
"""Revisions that the pulse lists; of more it says that anything may have moved."""


def pulse(member: Membership, since: int | None) -> dict[str, Any]:
    """What has changed in the project since a revision: quick, since every open page asks every few seconds."""
    revision = revision_of(member.project_id)
    entries = TrailEntry.objects.filter(project=member.project_id).order_by("-revision")
    theirs = entries.exclude(actor=member.account_id).select_related("actor").defer("inverse").first()
    return {
        "revision": revision,
        "moves": _moves(member.project_id, revision if since is None else since, revision),
        "others": theirs.revision if theirs else 0,
        "by": theirs.actor.display_name if theirs else "",
        "summary": theirs.summary if theirs else "",
    }


def _moves(project_id: int, since: int, now: int) -> list[dict[str, Any]]:
    """Each revision and the kinds of rows that it touched, None for any."""
    if since == now:
        return []
    rows = Touched.objects.filter(project=project_id, revision__gt=since, revision__lte=now).order_by("revision")
    found = list(rows.values_list("revision", "rows")) if 0 < now - since <= MOST_MOVES else []
    if len(found) != now - since:
        return [{"revision": now, "touched": None}]
    return [{"revision": at, "touched": None if held is None else sorted(held)} for at, held in found]


def one_member(member: Membership, membership_id: int) -> Membership:
    found = members(member).filter(pk=membership_id).first()
    if found is None:
        raise NotFound(say("This member isn’t in the project any more."))
    return found


def jobs(member: Membership) -> QuerySet[Job]:
    return Job.objects.filter(project=member.project_id)


def job(member: Membership, job_id: int) -> Job:
    mark_interrupted(member.project_id)
    found = jobs(member).filter(pk=job_id).first()
    if found is None:
        raise NotFound(say("There is no such job."))
    return found


def own_job(account: Account, job_id: int) -> Job:
    """A job that somebody has started themselves, of no project yet or of the one that it made."""
    mark_interrupted()
    found = Job.objects.filter(account=account, pk=job_id).first()
    if found is None or (
        found.project_id and not Project.objects.visible_to(account).filter(pk=found.project_id).exists()
    ):
        raise NotFound(say("There is no such job."))
    return found
