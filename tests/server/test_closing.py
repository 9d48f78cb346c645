"""An account is closed: its work stays under a neutral name, and no table holds the old one."""

import pytest
from axes.models import AccessAttempt
from django.contrib.sessions.models import Session
from django.db import connection

from server.coding import actions as coding
from server.coding.models import Coding
from server.common.errors import Refusal
from server.gather.models import StagedFile
from server.imports import actions as imports
from server.projects.actions import add_member, change_member, create_project
from server.projects.models import Account, Job, Membership, Project
from server.shell.closing import NEUTRAL, close_account
from tests.server.conftest import upload

PASSWORD = "an island of many words"


@pytest.fixture
def coder(world) -> Membership:
    """Somebody with a name that stands nowhere else."""
    return add_member(world.owner, "wilhelmina", "coder", "Wilhelmina Oddname", PASSWORD)


def tables() -> str:
    found = []
    with connection.cursor() as cursor:
        cursor.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public'")
        for (name,) in cursor.fetchall():
            cursor.execute(f'SELECT one::text FROM "{name}" one')
            found += [f"{name}: {row}" for (row,) in cursor.fetchall()]
    return "\n".join(found)


def test_the_work_stays_and_the_name_goes(world, coder):
    document = world.project.documents.first()
    code = world.project.codes.first()
    coding.apply_codes(coder, document.pk, 0, 12, [code.pk])
    imports.stage(coder, [upload("mine.txt", "P1: hello")])
    change_member(world.owner, coder.pk, "owner")
    AccessAttempt.objects.create(username="wilhelmina", ip_address="10.0.0.1", failures_since_start=1)
    client = world.client(None)
    signed_in = client.post("/api/session", {"username": "wilhelmina", "password": PASSWORD}, format="json")
    assert signed_in.status_code == 200
    assert "wilhelmina" in tables().casefold()
    refused = client.post("/api/account/close", {"password": "another"}, format="json")
    assert refused.json()["error"].startswith("The current password isn’t right")
    assert client.post("/api/account/close", {"password": PASSWORD}, format="json").status_code == 204
    left = [
        line[:200] for line in tables().splitlines() if "wilhelmina" in line.casefold() or "oddname" in line.casefold()
    ]
    assert left == []
    assert client.get("/api/projects").status_code == 403
    assert Coding.objects.filter(coder=coder.account_id).count() == 1
    assert Account.objects.get(pk=coder.account_id).display_name == NEUTRAL
    assert not Membership.objects.filter(account=coder.account_id).exists()
    assert not StagedFile.objects.filter(account=coder.account_id).exists()
    assert not Session.objects.exists()
    assert (
        client.post("/api/session", {"username": "wilhelmina", "password": PASSWORD}, format="json").status_code == 400
    )
    said = [one["summary"] for one in world.client(world.owner.account).get(world.url("/trail")).json()]
    assert f"{NEUTRAL} left: the account was closed" in said
    assert f"Let {NEUTRAL} in as coder" in said


def test_a_project_isn_t_left_without_an_owner_nor_work_under_way(world, coder):
    create_project(coder.account, "Only mine")
    with pytest.raises(Refusal, match="the only owner of “Only mine”"):
        close_account(coder.account, PASSWORD)
    assert Membership.objects.filter(account=coder.account).count() == 2
    Project.objects.get(name="Only mine").delete()
    Job.objects.create(project=world.project, account=coder.account, title="busy")
    with pytest.raises(Refusal, match="under way"):
        close_account(coder.account, PASSWORD)
    assert Account.objects.get(pk=coder.account_id).is_active
