"""One file that holds parts, each with its digest, and a list of them; encrypted, if wished, in the open age format.

A plain archive is a .tar: the parts, then ``manifest.json``, which says what each must be. An encrypted one is a .tar of
``README.txt``, ``identity.age`` (a key, locked with the passphrase) and ``archive.tar.age`` (the plain archive, locked with
that key): ``age -d -i identity.age archive.tar.age`` opens it without Cohortia. Source: age-encryption.org/v1.
"""

import hashlib
import io
import json
import os
import tarfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO, Any, cast

from server.common.errors import Refusal

MANIFEST = "manifest.json"
_CHUNK = 1024 * 1024
_LARGEST_MANIFEST = 200 * 1024 * 1024
_LOCKED = "archive.tar.age"
_README = """An encrypted backup of Cohortia, in open formats.
With the program age (an open standard, age-encryption.org) and the passphrase:
    age -d -i identity.age archive.tar.age > archive.tar
archive.tar holds database.dump (PostgreSQL's own format, for pg_restore), the folder media, and manifest.json, which lists
the SHA-256 of each.
"""


class Damaged(Refusal):
    """The file isn't what was written: what it says can't be trusted."""


class Writing:
    """Parts written one after the other into an archive that is being made."""

    def __init__(self, tar: tarfile.TarFile) -> None:
        self._tar = tar
        self.parts: dict[str, dict[str, Any]] = {}

    def add(self, name: str, path: Path) -> str:
        """Put a file in; its digest."""
        with path.open("rb") as file:
            size = os.fstat(file.fileno()).st_size
            listening = _Listening(file)
            self._put(name, size, listening)
        self.parts[name] = {"bytes": size, "sha256": listening.digest.hexdigest()}
        return str(self.parts[name]["sha256"])

    def close(self, said: dict[str, Any]) -> None:
        """Put in the list of parts, with what is said of the whole."""
        listed = json.dumps({**said, "parts": self.parts}, ensure_ascii=False, indent=1).encode()
        self._put(MANIFEST, len(listed), io.BytesIO(listed))

    def _put(self, name: str, size: int, file: Any) -> None:
        entry = tarfile.TarInfo(name)
        entry.size, entry.mode, entry.mtime = size, 0o600, int(time.time())
        self._tar.addfile(entry, file)


class _Listening:
    """A file that takes the digest of what is read from it."""

    def __init__(self, file: IO[bytes]) -> None:
        self._file = file
        self.digest = hashlib.sha256()

    def read(self, size: int = -1) -> bytes:
        found = self._file.read(size)
        self.digest.update(found)
        return found


@contextmanager
def written(target: Path, passphrase: str = "") -> Iterator[Writing]:
    """An archive in the making: it takes ``target``'s name when it is whole and on the disk, not before."""
    beside = target.with_name(f".{target.name}.unfinished")
    try:
        with beside.open("wb") as file:
            os.fchmod(file.fileno(), 0o600)
            with _locked(file, passphrase) if passphrase else _plain(file) as writing:
                yield writing
            file.flush()
            os.fsync(file.fileno())
        os.replace(beside, target)
    finally:
        beside.unlink(missing_ok=True)


@contextmanager
def _plain(file: IO[bytes]) -> Iterator[Writing]:
    with tarfile.open(fileobj=file, mode="w|", bufsize=_CHUNK, format=tarfile.PAX_FORMAT) as tar:
        yield Writing(tar)


@contextmanager
def _locked(file: IO[bytes], passphrase: str) -> Iterator[Writing]:
    from pyrage import passphrase as locking
    from pyrage import x25519

    identity = x25519.Identity.generate()
    key = locking.encrypt(str(identity).encode(), passphrase)
    beside = Path(file.name).with_name(f"{Path(file.name).name}.locked")
    try:
        with beside.open("wb") as locked:
            os.fchmod(locked.fileno(), 0o600)
            with _encrypting(locked, identity.to_public()) as inner, _plain(inner) as writing:
                yield writing
        with tarfile.open(fileobj=file, mode="w", format=tarfile.PAX_FORMAT) as tar:
            outer = Writing(tar)
            for name, content in (("README.txt", _README.encode()), ("identity.age", key)):
                outer._put(name, len(content), io.BytesIO(content))
            outer.add(_LOCKED, beside)
    finally:
        beside.unlink(missing_ok=True)


@contextmanager
def _encrypting(target: IO[bytes], recipient: Any) -> Iterator[IO[bytes]]:
    """What is written comes out encrypted in ``target``: the library takes a file to read from, so a pipe lies between."""
    from pyrage import encrypt_io

    with _through_a_pipe(lambda source: encrypt_io(source, target, [recipient])) as inner:
        yield inner


@contextmanager
def _through_a_pipe(work: Callable[[IO[bytes]], None]) -> Iterator[IO[bytes]]:
    """``work`` reads, in a thread of its own, what is written here."""
    reading, writing = os.pipe()
    problems: list[BaseException] = []

    def run() -> None:
        with os.fdopen(reading, "rb") as source:
            try:
                work(source)
            except BaseException as problem:
                problems.append(problem)

    thread = threading.Thread(target=run)
    thread.start()
    try:
        with os.fdopen(writing, "wb", buffering=_CHUNK) as inner:
            yield inner
    except BrokenPipeError:
        if not problems:
            raise
    finally:
        thread.join()
    if problems:
        raise problems[0]


def unpacked(source: Path, folder: Path, passphrase: str = "") -> dict[str, Any]:
    """Take an archive apart into ``folder``, every part held to its digest; what it says of itself.

    Raises ``Damaged`` where it isn't whole, and a refusal where a passphrase is missing or wrong. ``folder`` then holds
    what was read so far, and is to be thrown away.
    """
    try:
        with source.open("rb") as file, tarfile.open(fileobj=file, mode="r:") as tar:
            names = tar.getnames() if _is_locked(tar) else []
    except (tarfile.TarError, EOFError, OSError) as problem:
        raise Damaged(f"{source.name} can’t be read as a backup: {problem}.") from problem
    if not names:
        with source.open("rb") as file:
            return _checked(file, source.name, folder)
    if not passphrase:
        raise Refusal(f"{source.name} is encrypted: its passphrase is needed.")
    return _opened(source, folder, passphrase)


def _is_locked(tar: tarfile.TarFile) -> bool:
    first = tar.next()
    return first is not None and first.name == "README.txt"


def _opened(source: Path, folder: Path, passphrase: str) -> dict[str, Any]:
    from pyrage import DecryptError, decrypt_io, x25519
    from pyrage import passphrase as locking

    with source.open("rb") as file, tarfile.open(fileobj=file, mode="r:") as tar:
        try:
            key = cast(IO[bytes], tar.extractfile("identity.age")).read()
            identity = x25519.Identity.from_str(locking.decrypt(key, passphrase).decode())
        except DecryptError as problem:
            raise Refusal(f"The passphrase doesn’t open {source.name}.") from problem
        except (KeyError, ValueError, tarfile.TarError) as problem:
            raise Damaged(f"{source.name} is damaged: {problem}.") from problem
        plain = folder / ".archive"
        try:
            with plain.open("wb") as out:
                os.fchmod(out.fileno(), 0o600)
                decrypt_io(cast(IO[bytes], tar.extractfile(_LOCKED)), out, [identity])
            with plain.open("rb") as inner:
                return _checked(inner, source.name, folder)
        except (DecryptError, KeyError, OSError, tarfile.TarError) as problem:
            raise Damaged(f"{source.name} is damaged: {problem}.") from problem
        finally:
            plain.unlink(missing_ok=True)


def _checked(file: IO[bytes], name: str, folder: Path) -> dict[str, Any]:
    found: dict[str, dict[str, Any]] = {}
    said: dict[str, Any] | None = None
    try:
        with tarfile.open(fileobj=file, mode="r|", bufsize=_CHUNK) as tar:
            for entry in tar:
                content = tar.extractfile(entry)
                if content is None or said is not None:
                    raise Damaged(f"{name} holds something that no backup holds: {entry.name}.")
                if entry.name == MANIFEST:
                    said = dict(json.loads(content.read(_LARGEST_MANIFEST)))
                    continue
                found[entry.name] = _taken(content, _inside(folder, entry.name, name))
    except (tarfile.TarError, EOFError, ValueError) as problem:
        raise Damaged(f"{name} is damaged: {problem}.") from problem
    if said is None:
        raise Damaged(f"{name} isn’t whole: it breaks off before its end.")
    for part in sorted(found.keys() | said["parts"].keys()):
        if found.get(part) != said["parts"].get(part):
            raise Damaged(f"{name} is damaged: {part} isn’t what was written.")
    return said


def _inside(folder: Path, entry: str, name: str) -> Path:
    """Where a part goes: inside the folder, whatever its name says."""
    target = folder / entry
    if not target.resolve().is_relative_to(folder.resolve()) or entry.startswith("."):
        raise Damaged(f"{name} holds a part with a name that no backup has: {entry}.")
    target.parent.mkdir(parents=True, exist_ok=True)
    return target


def _taken(content: IO[bytes], target: Path) -> dict[str, Any]:
    digest, size = hashlib.sha256(), 0
    with target.open("wb") as out:
        while chunk := content.read(_CHUNK):
            digest.update(chunk)
            size += len(chunk)
            out.write(chunk)
    return {"bytes": size, "sha256": digest.hexdigest()}
