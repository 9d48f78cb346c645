"""A project with its members, material, people and codes, made through the same actions as a user's."""

import tempfile
from dataclasses import dataclass
from pathlib import Path
from types import ModuleType

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.test import override_settings
from pytest_django.plugin import blocking_manager_key
from rest_framework.test import APIClient

from server.coding import actions as coding
from server.gather.models import Document
from server.gather.readers import reader, sandbox
from server.imports import actions as imports
from server.imports import jobs as importing
from server.imports.actions import staging
from server.people.models import Variable
from server.projects import running
from server.projects.actions import create_project
from server.projects.models import Account, Job, JobState, Membership
from server.snapshots import queries as snapshots

TALK = "Interviewer: How was it?\nP1: The boat was late 🚢 again. I waited.\nInterviewer: And then?\nP1: Then I walked home."
OTHER = "I: How was it?\nMaren: Fine, really. I never cross.\nI: And then?\nMaren: I stayed at home."
SHEET = "ID;Island;Crosses;Age\nP1;Holm;daily;34\nP2;Ytter;never;71\nP3;Holm;never;\n"


def upload(name: str, content: str | bytes) -> SimpleUploadedFile:
    return SimpleUploadedFile(name, content.encode() if isinstance(content, str) else content)


def bring_in(member: Membership, *files: tuple[str, str | bytes]) -> Job:
    """Stage files and run the import at once, in this process."""
    imports.stage(member, [upload(name, content) for name, content in files])
    job = Job.objects.create(project=member.project, account=member.account, title="test")
    running.run(job.pk, importing.bring_in)
    job.refresh_from_db()
    return job


@dataclass
class World:
    owner: Membership
    coder: Membership
    viewer: Membership
    stranger: Account

    @property
    def project(self):
        return self.owner.project

    def client(self, account: Account | None) -> APIClient:
        client = APIClient()
        if account:
            client.force_login(account, backend="django.contrib.auth.backends.ModelBackend")
        return client

    def url(self, path: str = "") -> str:
        return f"/api/projects/{self.project.pk}{path}"


class SharedWorld:
    """One world for all tests of a file that start from it, each within a transaction of its own that is taken back: made
    anew for each, they would take three times as long. A file may put more into it (``also_there``)."""

    def __init__(self) -> None:
        self.ready = False
        """Whether the database is there: the first test that asks makes its own."""
        self.of: ModuleType | None = None
        self.whole: transaction.Atomic | None = None

    def be(self, module: ModuleType | None) -> None:
        """Be there for this file's tests, or for none."""
        if module is self.of:
            return
        if self.whole is not None:
            transaction.set_rollback(True)
            self.whole.__exit__(None, None, None)
        self.of = self.whole = None
        if module is not None and self.ready:
            self.whole = transaction.atomic()
            self.whole.__enter__()
            self.of = module
            with pytest.MonkeyPatch.context() as patched, override_settings(PROGRESS_DATABASE="default"):
                patched.setattr(staging, "read_files", read_here)
                fill(make_empty())
                if also := getattr(module, "also_there", None):
                    also(as_it_is())


shared = SharedWorld()


def starts_from_world(item: pytest.Item) -> bool:
    return "world" in getattr(item, "fixturenames", ())


def seen_by_others(item: pytest.Item) -> bool:
    """Whether what the test writes is seen by other connections."""
    marker = item.get_closest_marker("django_db")
    transactional = marker is not None and bool(marker.kwargs.get("transaction"))
    return transactional or "transactional_db" in getattr(item, "fixturenames", ())


@pytest.hookimpl(tryfirst=True)
def pytest_runtest_setup(item: pytest.Item) -> None:
    """Before a test has its own transaction."""
    with item.config.stash[blocking_manager_key].unblock():
        shares = starts_from_world(item) and not seen_by_others(item)
        shared.be(item.module if shares else None)  # type: ignore[attr-defined]


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """In each file first what starts from nothing, then what starts from the shared world; last whatever leaves traces."""
    files = {item.path: at for at, item in reversed(list(enumerate(items)))}
    items.sort(key=lambda item: (seen_by_others(item), files[item.path], starts_from_world(item)))


@pytest.fixture(autouse=True)
def _one_connection(settings, tmp_path):
    """A test's own transaction is seen only by its own connection: progress goes over it too. Its media
    lie in a folder of its own."""
    settings.PROGRESS_DATABASE = "default"
    settings.MEDIA_FOLDER = tmp_path / "media"
    snapshots.forget()


def read_here(files, keep, **more):
    """Well-meant files read in this process: starting one for each test would take minutes."""
    with tempfile.TemporaryDirectory() as folder:
        for name, source in files:
            out = Path(folder)
            path = source if isinstance(source, Path) else out / "source"
            if isinstance(source, bytes):
                path.write_bytes(source)
            yield sandbox._kept(reader.answer({"name": name, "path": str(path), "out": str(out), **more}), out, keep)


def make_empty() -> World:
    accounts = [
        Account.objects.create(username=name, display_name=name.title())
        for name in ("owner", "coder", "viewer", "stranger")
    ]
    project = create_project(accounts[0], "Crossings")
    for place, role in ((1, "coder"), (2, "viewer")):
        Membership.objects.create(project=project, account=accounts[place], role=role)
    create_project(accounts[3], "Elsewhere")
    return as_it_is()


def as_it_is() -> World:
    members = [Membership.objects.get(account__username=name) for name in ("owner", "coder", "viewer")]
    return World(*members, Account.objects.get(username="stranger"))


def fill(empty: World) -> None:
    job = bring_in(empty.owner, ("people.csv", SHEET), ("P1_pier.txt", TALK), ("P2_garden.txt", OTHER))
    assert job.state == JobState.DONE, job.message
    pier, garden = Document.objects.get(title="P1_pier"), Document.objects.get(title="P2_garden")
    top = coding.create_code(empty.owner, "Getting across", None, definition="The crossing itself")
    late = coding.create_code(empty.owner, "Late", top.pk)
    home = coding.create_code(empty.owner, "Home", None)
    put(empty.owner, pier, "The boat was late 🚢 again.", late)
    put(empty.owner, pier, "I walked home", home)
    put(empty.coder, garden, "I stayed at home", home)


@pytest.fixture
def empty(db) -> World:
    """A project with members and nothing in it."""
    return make_empty()


@pytest.fixture
def world(db, monkeypatch) -> World:
    """Two talks, three people, a branch of two codes, three codings."""
    monkeypatch.setattr(staging, "read_files", read_here)
    if shared.of is None:
        fill(make_empty())
        shared.ready = True
    return as_it_is()


def put(member: Membership, document: Document, quote: str, *codes) -> object:
    start = document.text.index(quote)
    return coding.apply_codes(member, document.pk, start, start + len(quote), [code.pk for code in codes])


@pytest.fixture
def crosses(world) -> Variable:
    return Variable.objects.get(project=world.project, name="Crosses")
