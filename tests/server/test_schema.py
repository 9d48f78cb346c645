"""Requests made at random from the API's own schema, by every role, on a project that has one of each thing: never a server error."""

import json
from typing import Any
from urllib.parse import urlencode

import pytest
import schemathesis
import yaml
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from hypothesis import HealthCheck, Phase, given
from hypothesis import settings as hypothesis_settings
from rest_framework.test import APIClient

from server.projects.models import Account
from tests.server.conftest import World
from tests.server.test_routes import filled as filled_with

filled = filled_with
EXAMPLES = {"owner": 3, "coder": 2, "viewer": 1}
"""Requests of each address and method, by role: who may do more does more."""
SCHEMA = schemathesis.openapi.from_dict(yaml.safe_load((settings.ROOT / "server" / "schema.yaml").read_text()))


class Undone(Exception):
    """Whatever a request has done is taken back, so that the next one finds one of each thing again."""


def send(client: APIClient, case: Any, ids: dict[str, int], world: World, valid: bool) -> tuple[int, Any]:
    path = case.path
    for name, value in (case.path_parameters or {}).items():
        known = world.project.pk if name == "project_id" else ids.get(name) if valid else None
        path = path.replace("{" + name + "}", str(value if known is None else known))
    body = case.body if not isinstance(case.body, schemathesis.core.NotSet) else None
    asked: dict[str, Any] = {"QUERY_STRING": _query(case.query or {})}
    if body is not None:
        if (case.media_type or "application/json") == "application/json":
            asked |= {"data": json.dumps(body, default=str), "content_type": "application/json"}
        else:
            asked |= {"data": _form(body), "format": "multipart"}
    answered: list[tuple[int, Any]] = []
    try:
        with transaction.atomic():
            answer = getattr(client, case.method.lower())(path, **asked)
            content = b"".join(answer.streaming_content) if answer.streaming else answer.content
            answered.append((answer.status_code, content))
            raise Undone
    except Undone:
        pass
    return answered[0]


def _form(body: Any) -> dict[str, Any]:
    """As a browser sends a form: files, and words."""
    found: dict[str, Any] = {}
    for name, value in body.items() if isinstance(body, dict) else ():
        values = value if isinstance(value, list) else [value]
        found[name] = [SimpleUploadedFile("made.txt", one) if isinstance(one, bytes) else str(one) for one in values]
    return found


def _query(query: dict[str, Any]) -> str:
    return urlencode(query, doseq=True, errors="replace")


def roles(world: World) -> dict[str, Account]:
    return {"owner": world.owner.account, "coder": world.coder.account, "viewer": world.viewer.account}


def asked_at_random(
    operation: Any, client: APIClient, world: World, ids: dict[str, int], faults: list[str], examples: int
) -> int:
    """How many requests were made."""
    done = 0

    @hypothesis_settings(
        max_examples=examples,
        deadline=None,
        database=None,
        derandomize=True,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(case=operation.as_strategy())
    def ask(case: Any) -> None:
        nonlocal done
        done += 1
        status, content = send(client, case, ids, world, valid=done % 4 != 0)
        if status >= 500 and status not in (503, 507):
            faults.append(f"{case.method} {case.path} {status} {case.path_parameters} {case.query} {case.body!r:.300}")
        elif status >= 400:
            assert json.loads(content)["error"], case.path

    ask()
    return done


@pytest.mark.parametrize("role", ["owner", "coder", "viewer"])
def test_no_request_that_the_schema_allows_ends_in_a_server_error(filled: tuple[World, dict[str, int]], role: str):
    world, ids = filled
    client = APIClient(raise_request_exception=False)
    client.force_login(roles(world)[role], backend="django.contrib.auth.backends.ModelBackend")
    faults: list[str] = []
    count, operations = 0, 0
    for found in SCHEMA.get_all_operations():
        operations += 1
        count += asked_at_random(found.ok(), client, world, ids, faults, EXAMPLES[role])
    assert faults == []
    assert operations > 120
    assert count >= operations
