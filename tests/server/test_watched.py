"""What is written down of requests and failures, and whom figures and addresses are told."""

import io
import json
import logging
import logging.config

import pytest
from django.conf import settings as django_settings
from django.db import connection, transaction
from django.test import RequestFactory

from server.coding import actions as coding
from server.common import proxies, watched
from server.common.logs import request_id
from server.projects import running
from server.projects.models import Job
from tests.server.conftest import World

SAID = "never tell anybody about the boat"


@pytest.fixture
def written():
    """What is written to the log, as it is set up, line by line."""
    stream = io.StringIO()
    handler = logging.StreamHandler(stream)
    handlers = logging.config.DictConfigurator(django_settings.LOGGING)
    handlers.configure()
    root = logging.getLogger()
    handler.setFormatter(root.handlers[-1].formatter)
    handler.filters = root.handlers[-1].filters
    root.addHandler(handler)
    logging.getLogger("cohortia").setLevel(logging.INFO)
    yield lambda: [json.loads(line) for line in stream.getvalue().splitlines()]
    root.removeHandler(handler)
    logging.getLogger("cohortia").setLevel(logging.WARNING)


def test_a_request_is_one_line_with_its_route_and_never_its_address(world: World, written):
    client = world.client(world.owner.account)
    answer = client.get(world.url("/find"), {"text": SAID}, headers={"X-Request-ID": "from-the-proxy-1"})
    assert answer.headers["X-Request-ID"] == "from-the-proxy-1"
    (line,) = [one for one in written() if one["of"] == "cohortia.requests"]
    assert line["route"] == "api/projects/<int:project_id>/find"
    assert (line["method"], line["status"], line["account"]) == ("GET", answer.status_code, world.owner.account.pk)
    assert line["request"] == "from-the-proxy-1"
    assert "boat" not in json.dumps(written())
    # A number that could break the line out of its place isn't taken.
    other = client.get(world.url("/status"), headers={"X-Request-ID": 'x"} {"of": "forged'})
    assert len(other.headers["X-Request-ID"]) == 32


def test_a_failure_is_written_down_without_the_row_that_it_happened_on(world: World, written, monkeypatch):
    def broken(*asked, **more):
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SELECT %s::int", [SAID])

    monkeypatch.setattr("server.shell.queries.status", broken)
    client = world.client(world.owner.account)
    client.raise_request_exception = False
    answer = client.get(world.url("/status"))
    assert answer.status_code in (400, 500)
    job = Job.objects.create(project=world.project, account=world.owner.account, title="t")
    running.run(job.pk, lambda job, progress: broken())
    lines = written()
    assert "boat" not in json.dumps(lines)
    (failed,) = [one for one in lines if one["of"] == "server.projects.running"]
    assert failed["request"] == f"job-{job.pk}"
    told = json.loads(failed["exc_info"])
    assert told["kinds"] == ["DataError", "InvalidTextRepresentation 22P02"]
    assert any("test_watched.py" in place and "broken" in place for place in told["places"])


def test_a_500_names_the_number_under_which_it_is_written_down(world: World, monkeypatch, written):
    monkeypatch.setattr("server.shell.queries.status", lambda member: 1 / 0)
    client = world.client(world.owner.account)
    client.raise_request_exception = False
    answer = client.get(world.url("/status"))
    assert answer.status_code == 500
    assert f"as {answer.headers['X-Request-ID']}. Nothing was kept" in answer.json()["error"]
    assert [one["exc_info"] for one in written() if one["of"] == "django.request"]


def test_a_slow_question_is_named_by_who_asked_it_without_what_was_filled_in(world: World, settings, written):
    settings.SLOW_QUERY = 0
    with watched.slow_questions_named():
        coding.create_code(world.owner, SAID, None)
    lines = [one for one in written() if one["of"] == "cohortia.slow"]
    assert any(
        one["asked_by"] == "server.projects.holding.hold" and "FOR NO KEY UPDATE" in one["statement"] for one in lines
    )
    assert "boat" not in json.dumps(lines)


def test_figures_are_for_the_machine_itself_or_whoever_has_the_token(world: World, settings):
    client = world.client(None)
    world.client(world.owner.account).get(world.url("/status"))
    answer = client.get("/api/metrics")
    assert answer.status_code == 200
    said = answer.content.decode()
    assert 'route="api/projects/<int:project_id>/status"' in said
    for name in (
        "cohortia_workers",
        "cohortia_queue_oldest_seconds",
        "cohortia_backup_age_seconds -1.0",
        "cohortia_database_up 1.0",
    ):
        assert name in said
    assert client.get("/api/metrics", REMOTE_ADDR="203.0.113.9").status_code == 404
    settings.METRICS_TOKEN = "a token of its own"
    assert client.get("/api/metrics").status_code == 404
    assert client.get("/api/metrics", headers={"Authorization": "Bearer a token of its own"}).status_code == 200


@pytest.mark.parametrize(
    ("believed", "nearest", "forwarded", "client"),
    [
        ([], "127.0.0.1", "203.0.113.9", "127.0.0.1"),
        (["127.0.0.1"], "127.0.0.1", "203.0.113.9", "203.0.113.9"),
        # What the client says of itself stands first, and isn't believed.
        (["127.0.0.1"], "127.0.0.1", "10.9.9.9, 203.0.113.9", "203.0.113.9"),
        (["127.0.0.1", "10.0.0.0/8"], "127.0.0.1", "198.51.100.1, 203.0.113.9, 10.1.2.3", "203.0.113.9"),
        (["127.0.0.1"], "198.51.100.7", "203.0.113.9", "198.51.100.7"),
        (["localhost"], "127.0.0.1", "203.0.113.9", "203.0.113.9"),
        (["no-such-machine.invalid"], "127.0.0.1", "203.0.113.9", "127.0.0.1"),
        (["127.0.0.1"], "127.0.0.1", "", "127.0.0.1"),
    ],
)
def test_only_proxies_that_are_named_are_believed(settings, believed, nearest, forwarded, client):
    settings.PROXIES = believed
    seen = {}
    request = RequestFactory().get(
        "/", REMOTE_ADDR=nearest, HTTP_X_FORWARDED_FOR=forwarded, HTTP_X_FORWARDED_PROTO="https"
    )
    proxies.Proxies(lambda request: seen.update(request.META))(request)
    assert seen["REMOTE_ADDR"] == client
    assert ("HTTP_X_FORWARDED_PROTO" in seen) == (client != nearest or (believed == ["127.0.0.1"] and not forwarded))


def test_the_number_of_a_request_ends_with_it(world: World):
    world.client(None).get("/api/health")
    assert request_id.get() == ""
