"""Writes on accounts, projects and members."""

from django.contrib.auth import password_validation
from django.core.exceptions import ValidationError
from django.db import transaction

from core.language import say, worded
from server.common.errors import Conflict, NotAllowed, Refusal
from server.projects import queries
from server.projects.models import ROLES, Account, MemberRole, Membership, Project
from server.projects.rows import rows_of
from server.projects.trail import act


def create_account(username: str, display_name: str, password: str) -> Account:
    """A new account; whoever has it may begin projects."""
    username = username.strip()
    try:
        Account.username_validator(username)
    except ValidationError as error:
        raise Refusal(say("A name to sign in with has letters, digits and @ . + - _ only.")) from error
    if Account.objects.filter(username__iexact=username).exists():
        raise Conflict(say("Somebody signs in as “{username}” already; nothing was changed.", username=username))
    account = Account(username=username, display_name=display_name.strip() or username)
    check_password(password, account)
    account.set_password(password)
    account.save()
    return account


def create_project(
    account: Account, name: str, case_one: str = "person", case_many: str = "people", **limits: int
) -> Project:
    """A new project; whoever makes it owns it."""
    check_may_begin(account)
    if not name.strip():
        raise Refusal(say("Give the project a name."))
    with transaction.atomic():
        project = Project.objects.create(
            name=name.strip(), case_one=case_one.strip() or "person", case_many=case_many.strip() or "people", **limits
        )
        Membership.objects.create(project=project, account=account, role=MemberRole.OWNER)
    return project


def check_may_begin(account: Account) -> None:
    if not account.may_begin:
        raise NotAllowed(
            say("You read in projects of others. An owner of one of them can allow you to begin your own.")
        )


def allow_to_begin(member: Membership, membership_id: int, allowed: bool) -> Membership:
    """Let a member of the project make projects of their own, or not any more."""
    member.demand(MemberRole.OWNER)
    check_may_begin(member.account)
    other = queries.one_member(member, membership_id)
    if other.pk == member.pk:
        raise Refusal(say("What you yourself may do is for another owner to say."))
    other.account.may_begin = allowed
    other.account.save(update_fields=["may_begin"])
    return other


def change_project(member: Membership, **fields: str | int) -> Project:
    with act(member, "project.change", needs=MemberRole.OWNER) as change:
        project = Project.objects.get(pk=member.project_id)
        fields = {name: value.strip() if isinstance(value, str) else value for name, value in fields.items()}
        if "" in fields.values():
            raise Refusal(say("A name can’t be empty."))
        if change.update(project, **fields):
            change.summary = say(
                "Changed the project to “{name}”, counting {many}", name=project.name, many=project.case_many
            )
    return project


def delete_project(member: Membership, name: str) -> None:
    """Delete a project for good; the owner types its name."""
    member.demand(MemberRole.OWNER)
    if name.strip() != member.project.name:
        raise Refusal(say("The name typed isn’t the project’s; nothing was deleted."))
    with transaction.atomic():
        # By way of the project, which is indexed: by lists of a hundred thousand people the database may look for hours.
        for rows in rows_of(member.project_id):
            rows._raw_delete("default")
        member.project.delete()


def add_member(member: Membership, username: str, role: str, display_name: str = "", password: str = "") -> Membership:
    """Let an account in. Where none has this name, one is made with the first password given."""
    username = username.strip()
    if not username:
        raise Refusal(say("Give the name that the new member signs in with."))
    with act(member, "member.add", needs=MemberRole.OWNER) as change:
        account = Account.objects.filter(username__iexact=username).first()
        if account is None:
            if not password:
                raise Refusal(
                    say(
                        "Nobody signs in as “{username}” yet. Give a first password to make the account.",
                        username=username,
                    )
                )
            account = create_account(username, display_name, password)
            account.may_begin = role != MemberRole.VIEWER
            account.save(update_fields=["may_begin"])
        if Membership.objects.filter(project=member.project_id, account=account).exists():
            raise Conflict(say("{display_name} is a member already.", display_name=account.display_name))
        change.summary = say(
            "Let {display_name} in as {role}", display_name=account.display_name, role=worded(ROLES[role])
        )
        return change.create(Membership(project_id=member.project_id, account=account, role=role))


def change_member(member: Membership, membership_id: int, role: str) -> Membership:
    with act(member, "member.change", needs=MemberRole.OWNER) as change:
        other = queries.one_member(member, membership_id)
        change.update(other, role=role)
        _keep_an_owner(member)
        change.summary = say(
            "Made {display_name} {role}", display_name=other.account.display_name, role=worded(ROLES[role])
        )
    return other


def remove_member(member: Membership, membership_id: int) -> None:
    with act(member, "member.remove", needs=MemberRole.OWNER) as change:
        other = queries.one_member(member, membership_id)
        change.delete(Membership.objects.filter(pk=other.pk))
        _keep_an_owner(member)
        change.summary = say("Removed {display_name}", display_name=other.account.display_name)


def _keep_an_owner(member: Membership) -> None:
    """The database sees to it as well: two owners may each take the other's place at once."""
    if not Membership.objects.filter(project=member.project_id, role=MemberRole.OWNER).exists():
        raise Refusal(say("A project needs an owner: make somebody else owner first."))


def check_password(password: str, account: Account) -> None:
    try:
        password_validation.validate_password(password, account)
    except ValidationError as error:
        raise Refusal(" ".join(error.messages)) from error
