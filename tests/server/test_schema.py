"""Requests made at random from the API's own schema, by every role, on a project that has one of each thing: never a server error."""

import json
from typing import Any
from urllib.parse import urlencode

import schemathesis
import yaml
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from hypothesis import HealthCheck, Phase, given
from hypothesis import settings as hypothesis_settings
from rest_framework.test import APIClient

from tests.server.conftest import World
from tests.server.test_routes import filled as filled_with

filled = filled_with
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


ASKED_AS = ("owner", "coder", "viewer", "owner", "coder", "owner")
"""By whom each address and method is asked, one request after the other: who may do more does more."""


def clients(world: World) -> dict[str, APIClient]:
    accounts = {"owner": world.owner.account, "coder": world.coder.account, "viewer": world.viewer.account}
    found = {}
    for role, account in accounts.items():
        found[role] = APIClient(raise_request_exception=False)
        found[role].force_login(account, backend="django.contrib.auth.backends.ModelBackend")
    return found


def asked_at_random(
    operation: Any, by: dict[str, APIClient], world: World, ids: dict[str, int], faults: list[str]
) -> list[str]:
    """As whom it was asked."""
    done: list[str] = []
    cases: list[Any] = []

    def send_next(case: Any) -> None:
        role = ASKED_AS[len(done) % len(ASKED_AS)]
        done.append(role)
        status, content = send(by[role], case, ids, world, valid=len(done) % 4 != 0)
        if status >= 500 and status not in (503, 507):
            faults.append(
                f"{role} {case.method} {case.path} {status} {case.path_parameters} {case.query} {case.body!r:.300}"
            )
        elif status >= 400:
            assert json.loads(content)["error"], case.path

    @hypothesis_settings(
        max_examples=len(ASKED_AS),
        deadline=None,
        database=None,
        derandomize=True,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(case=operation.as_strategy())
    def ask(case: Any) -> None:
        cases.append(case)
        send_next(case)

    ask()
    # Where there is only one thing to ask, every role asks it.
    while len(done) < len(by):
        send_next(cases[-1])
    return done


def test_no_request_that_the_schema_allows_ends_in_a_server_error(filled: tuple[World, dict[str, int]]):
    world, ids = filled
    by, faults = clients(world), list[str]()
    asked = [asked_at_random(found.ok(), by, world, ids, faults) for found in SCHEMA.get_all_operations()]
    assert faults == []
    assert len(asked) > 120
    assert all(set(one) == set(by) for one in asked)
