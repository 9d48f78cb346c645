"""Media in an S3-like store that several machines share (COHORTIA_MEDIA_BUCKET). The media folder of each machine then holds
copies of what it has asked for; where no store is set, the folder is all there is."""

import shutil
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.files import File
from django.core.files.storage import storages


def there_is_one() -> bool:
    return "media" in settings.STORAGES


def put(digest: str, path: Path) -> None:
    """Keep the bytes in the store as well; the same bytes are sent once."""
    if there_is_one() and not _store().exists(digest):
        with path.open("rb") as file:
            _store().save(digest, File(file))


def fetch(digest: str, target: Path) -> None:
    """Write the store's bytes to the file; FileNotFoundError where it has none."""
    with _store().open(digest, "rb") as source, target.open("wb") as file:
        shutil.copyfileobj(source, file, 1024 * 1024)


def delete(digest: str) -> None:
    if there_is_one():
        _store().delete(digest)


def kept() -> Iterator[tuple[str, datetime]]:
    """Digest, and when it was last sent, of all that the store holds."""
    if there_is_one():
        for one in _store().bucket.objects.all():
            yield one.key, one.last_modified


def _store() -> Any:
    return storages["media"]
