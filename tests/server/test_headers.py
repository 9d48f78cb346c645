"""What answers say to browsers and to whatever lies between."""

import os
from pathlib import Path

import pytest
from django.conf import settings

from server.gather import media
from server.gather.models import Medium
from server.projects.models import Project
from tests.server.conftest import World


@pytest.fixture
def recording(world: World) -> tuple[str, bytes]:
    """The address of a recording, and its bytes, which could be pressed small."""
    source = Path(settings.MEDIA_FOLDER).parent / "sound"
    source.write_bytes(os.urandom(10) + b"silence " * 5000)
    content = source.read_bytes()
    document = Project.objects.get(pk=world.project.pk).documents.first()
    Medium.objects.create(document=document, role="recording", digest=media.keep(source), content_type="audio/ogg")
    return world.url(f"/documents/{document.pk}/media/recording/1"), content


def test_nothing_of_a_project_is_kept_on_the_way(world: World):
    client = world.client(world.owner.account)
    for path in ("", "/status", "/codebook", "/roster", "/documents"):
        answer = client.get(world.url(path))
        assert answer.status_code == 200
        assert answer.headers["Cache-Control"] == "no-store"
    refused = world.client(None).get(world.url("/codebook"))
    assert refused.status_code == 403
    assert refused.headers["Cache-Control"] == "no-store"


def test_every_answer_gives_up_what_the_application_never_uses(world: World):
    for path in ("/api/session", "/api/nothing", "/"):
        answer = world.client(world.owner.account).get(path)
        for name in ("camera=()", "microphone=()", "geolocation=()"):
            assert name in answer.headers["Permissions-Policy"]
        assert answer.headers["Cross-Origin-Resource-Policy"] == "same-origin"
        assert answer.headers["X-Content-Type-Options"] == "nosniff"
        assert answer.headers["X-Frame-Options"] == "DENY"


def test_a_part_of_a_recording_is_its_bytes_as_they_lie(world: World, recording: tuple[str, bytes]):
    address, content = recording
    client = world.client(world.viewer.account)
    part = client.get(address, headers={"Range": "bytes=100-8099", "Accept-Encoding": "gzip"})
    assert part.status_code == 206
    assert "Content-Encoding" not in part.headers
    assert part.headers["Content-Range"] == f"bytes 100-8099/{len(content)}"
    assert b"".join(part.streaming_content) == content[100:8100]
    whole = client.get(address, headers={"Accept-Encoding": "gzip"})
    assert "Content-Encoding" not in whole.headers
    assert whole.headers["Cache-Control"] == "private, max-age=86400"
    assert b"".join(whole.streaming_content) == content


def test_long_answers_are_pressed(world: World):
    answer = world.client(world.owner.account).get(world.url("/documents"), headers={"Accept-Encoding": "gzip"})
    assert answer.headers["Content-Encoding"] == "gzip"
