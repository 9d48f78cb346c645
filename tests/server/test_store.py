"""Media in a store that several machines share, against a small simulation of one."""

from datetime import timedelta
from pathlib import Path

import pytest
from django.core.files.storage import storages

from server.gather import media
from tests.stand_ins.store import store


@pytest.fixture
def shared(settings, tmp_path, db):
    with store() as (address, objects):
        options = {"bucket_name": "cohortia", "endpoint_url": address, "access_key": "key", "secret_key": "secret",
                   "region_name": "eu", "addressing_style": "path", "file_overwrite": True}  # fmt: skip
        settings.STORAGES = {
            **settings.STORAGES,
            "media": {"BACKEND": "storages.backends.s3.S3Storage", "OPTIONS": options},
        }
        storages._storages.pop("media", None)
        yield objects
        storages._storages.pop("media", None)


def kept(tmp_path: Path, content: bytes = b"a picture") -> str:
    (tmp_path / "source").write_bytes(content)
    return media.keep(tmp_path / "source")


def another_machine(settings, tmp_path: Path) -> None:
    settings.MEDIA_FOLDER = tmp_path / "elsewhere"


def test_what_one_machine_keeps_another_has(shared, settings, tmp_path):
    digest = kept(tmp_path)
    assert shared[digest][0] == b"a picture"
    another_machine(settings, tmp_path)
    assert not media.path_of(digest).exists()
    assert media.here(digest).read_bytes() == b"a picture"
    # Once asked for, it lies here: the store isn't asked again.
    shared.clear()
    assert media.here(digest).read_bytes() == b"a picture"


def test_what_the_store_has_lost_is_missing_and_leaves_nothing_half_written(shared, settings, tmp_path):
    digest = kept(tmp_path)
    shared.clear()
    another_machine(settings, tmp_path)
    with pytest.raises(FileNotFoundError):
        media.here(digest)
    assert [path for path in Path(settings.MEDIA_FOLDER).rglob("*") if path.is_file()] == []


def test_what_is_let_go_of_goes_from_the_store_too(shared, tmp_path):
    digest, other = kept(tmp_path), kept(tmp_path, b"another")
    assert media.forget([digest]) == 1
    assert list(shared) == [other]


def test_sweeping_reaches_what_lies_in_the_store_only(shared, settings, tmp_path):
    old, new = kept(tmp_path), kept(tmp_path, b"just sent")
    another_machine(settings, tmp_path)
    Path(settings.MEDIA_FOLDER).mkdir()
    content, at = shared[old]
    shared[old] = (content, at - timedelta(hours=2))
    assert media.sweep() == 1
    assert list(shared) == [new]


def test_a_store_that_refuses_keeps_nothing_here_either(shared, settings, tmp_path, monkeypatch):
    monkeypatch.setattr("server.gather.store.put", lambda *asked: (_ for _ in ()).throw(OSError(28, "no room")))
    with pytest.raises(OSError, match="no room"):
        kept(tmp_path)
    assert [path for path in Path(settings.MEDIA_FOLDER).rglob("*") if path.is_file() and path.name != ".lock"] == []
