"""A project as one file: out and in again it is equal in everything, and a file that isn't one is refused."""

import hashlib
import json
import random
import zipfile
from collections.abc import Callable, Iterator
from contextlib import suppress
from pathlib import Path

import jsonschema
import pytest
from django.apps import apps
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import models, transaction
from django.test import override_settings

from server.coding import actions as coding
from server.coding.models import Coding, Topic, TopicHits, TopicPhrase, TopicUnticked
from server.common.errors import Conflict, Refusal
from server.compare.frozen import changes_since
from server.compare.models import FrozenResult, KeptComparison, SavedQuery
from server.compare.queries import comparison
from server.compare.query_words import sentence_of_query
from server.gather import media
from server.gather.models import Document
from server.projects import running, trail
from server.projects.actions import create_project
from server.projects.models import Account, Job, JobState, Membership, Project, TrailEntry
from server.report import actions as report
from server.shell.management.commands.prepare_demo import PEOPLE, _account, load_demo
from server.shell.models import ArrivedProject
from server.shell.project_file import arrivals, parts, rows, steps
from server.shell.project_file.bringing import Wish, bring_in
from server.shell.project_file.opening import NotOurs, Opened
from server.shell.project_file.writing import FORMAT, write
from tests.server.conftest import World
from tests.server.player import Player

KEPT_PARTS = (*parts.PARTS, steps.TRAIL)


def taken_out(member: Membership, folder: Path, trail: bool = True) -> Path:
    path = folder / f"project-{member.project_id}.zip"
    path.unlink(missing_ok=True)
    write(member, path, trail)
    return path


def lines(path: Path) -> dict[str, list[dict]]:
    """Every row of every part."""
    with zipfile.ZipFile(path) as file:
        names = [name for name in file.namelist() if name.startswith("data/")]
        return {name[5:-6]: [json.loads(line) for line in file.read(name).splitlines()] for name in names}


def brought_in(path: Path, owner: Account, trail: bool = True, people: dict[str, Account] | None = None) -> Membership:
    """The project of a file, with everybody who has an account here as themselves."""
    known = people if people is not None else {one.username: one for one in Account.objects.filter(is_active=True)}
    chosen = {one["id"]: known[one["username"]] for one in Opened(path).people() if one["username"] in known}
    project = bring_in(path, Wish(owner, chosen, trail), lambda done, said: None)
    return Membership.objects.get(project=project, account=owner)


def rewritten(path: Path, change: Callable[[str, bytes], bytes | None]) -> Path:
    """The file with its parts changed; None takes one out. The list of parts is made to fit again."""
    found: dict[str, bytes] = {}
    with zipfile.ZipFile(path) as file:
        for name in file.namelist():
            content = change(name, file.read(name))
            if content is not None:
                found[name] = content
    said = json.loads(found["project.json"])
    for name, listed in said["parts"].items():
        content = found.get(f"data/{name}.jsonl", b"")
        listed.update(rows=content.count(b"\n"), sha256=hashlib.sha256(content).hexdigest())
        listed["numbers"] = max(listed["numbers"], listed["rows"])
    found["project.json"] = json.dumps(said).encode()
    changed = path.with_name("changed.zip")
    with zipfile.ZipFile(changed, "w", zipfile.ZIP_DEFLATED) as file:
        for name, content in found.items():
            file.writestr(name, content)
    return changed


def with_row(path: Path, part: str, **fields) -> Path:
    """The first row of a part said otherwise."""

    def change(name: str, content: bytes) -> bytes:
        if name != f"data/{part}.jsonl":
            return content
        first, rest = content.split(b"\n", 1)
        return json.dumps({**json.loads(first), **fields}).encode() + b"\n" + rest

    return rewritten(path, change)


@pytest.fixture(scope="module")
def demo_project(django_db_setup, django_db_blocker, tmp_path_factory) -> Iterator[tuple[int, Path]]:
    """The demo, made once for all tests here: the key of its owner's membership, and where its media lie."""
    folder = tmp_path_factory.mktemp("media")
    with (
        django_db_blocker.unblock(),
        override_settings(MEDIA_FOLDER=folder, PROGRESS_DATABASE="default"),
        transaction.atomic(),
    ):
        accounts = {username: _account(username, name, role) for username, name, role in PEOPLE}
        project = create_project(accounts["rana"], "After the winter timetable")
        load_demo(project, accounts)
        yield Membership.objects.get(project=project, account=accounts["rana"]).pk, folder
        transaction.set_rollback(True)


@pytest.fixture
def demo(demo_project, db, settings) -> Membership:
    key, settings.MEDIA_FOLDER = demo_project
    return Membership.objects.select_related("project", "account").get(pk=key)


def test_the_demo_out_and_in_again_is_equal_in_everything(demo, tmp_path):
    first = taken_out(demo, tmp_path)
    before = lines(first)
    assert all(before[part] for part in before.keys() - {"proposed", "picks", "became", "published"})
    held = set(media.named())
    there = brought_in(first, demo.account)
    # What is the same file has the same rows under the same numbers: only the last line of the trail is new.
    after = lines(taken_out(there, tmp_path))
    last = after["trail"].pop()
    assert last["summary"].startswith("Brought in the whole project from a file made on ")
    assert before == after
    assert media.named() == held
    assert there.role == "owner"
    assert {one.account.username: one.role for one in there.project.memberships.all()} == dict(
        (username, role) for username, _, role in PEOPLE
    )
    for kept in KeptComparison.objects.filter(project=demo.project):
        asked = KeptComparison.objects.get(project=there.project, name=kept.name).asked
        assert told(comparison(there, asked)) == told(comparison(demo, kept.asked))
    # Nothing in the one names anything in the other.
    assert not ids_named(there.project) & ids_named(demo.project)


@pytest.mark.parametrize("seed", range(4))
def test_whatever_people_do_in_a_project_comes_back_equal(world, tmp_path, seed):
    player = Player([world.owner, world.coder], seed)
    player.play(250)
    assert len(set(player.done)) > 30
    owner = Membership.objects.select_related("project", "account").get(pk=world.owner.pk)
    first = taken_out(owner, tmp_path)
    there = brought_in(first, owner.account)
    before, after = lines(first), lines(taken_out(there, tmp_path))
    after["trail"].pop()
    assert before == after
    kept = {row.name: row for row in KeptComparison.objects.filter(project=there.project)}
    for row in KeptComparison.objects.filter(project=owner.project):
        assert answered(there, kept[row.name].asked) == answered(owner, row.asked)
    queries = {row.name: row for row in SavedQuery.objects.filter(project=there.project)}
    for query in SavedQuery.objects.filter(project=owner.project):
        assert sentence_of_query(there, queries[query.name].blocks) == sentence_of_query(owner, query.blocks)
    for row in FrozenResult.objects.filter(project=there.project, kind="comparison"):
        other = FrozenResult.objects.get(project=owner.project, name=row.name)
        assert told(row.result) == told(other.result)
        now, then = changes_since(there, row), changes_since(owner, other)
        assert [{**cell, "id": 0} for cell in now["cells"]] == [{**cell, "id": 0} for cell in then["cells"]]


def answered(member: Membership, asked: dict) -> dict | str:
    """What a question is answered with, or why it can't be."""
    try:
        return told(comparison(member, asked))
    except Refusal as refusal:
        return refusal.sentence


def told(result: dict) -> dict:
    """A comparison but for its keys and its revision."""
    return {
        **result,
        "revision": 0,
        "rows": [{**row, "id": 0} for row in result["rows"]],
    }


def ids_named(project: Project) -> set[tuple[str, int]]:
    """Every row that a project's rows, JSON and steps name."""
    found: set[tuple[str, int]] = set()

    class Listening:
        def __call__(self, part: str, one: int) -> int:
            if part != "people" and one:
                found.add((part, one))
            return one

        def digest(self, said: str) -> str:
            return said

    for part in KEPT_PARTS:
        names = [column.attname for column in rows.columns_of(part)]
        for values in part.model.objects.filter(**{part.project: project.pk}).values_list(*names):
            rows.out(part, zip(names, values, strict=True), Listening())
    return found


def test_what_is_brought_in_goes_on_living(demo, tmp_path):
    there = brought_in(taken_out(demo, tmp_path), demo.account)
    mika = Membership.objects.get(project=there.project, account__username="mika")
    own, whole = (
        Coding.objects.filter(code__project=there.project),
        Coding.objects.filter(code__project=demo.project).count(),
    )
    back = 0
    while own.count() == whole:
        assert trail.undo(mika)
        back += 1
    for _ in range(back):
        assert trail.redo(mika)
    assert own.count() == whole
    # All of it could be taken back; the last hundred of each are.
    for member in (mika, there):
        for _ in range(100):
            with suppress(Conflict):
                trail.undo(member)
    assert own.count() < whole - 100
    # The one that it came from is untouched.
    assert Coding.objects.filter(code__project=demo.project).count() == whole


def test_each_line_is_as_its_schema_says_and_the_tables_are_there(demo, tmp_path):
    with zipfile.ZipFile(taken_out(demo, tmp_path)) as file:
        assert file.testzip() is None
        for name, found in lines(Path(file.filename)).items():
            schema = json.loads(file.read(f"schemas/{name}.schema.json"))
            validator = jsonschema.Draft7Validator(schema)
            validator.check_schema(schema)
            for row in found[:50]:
                validator.validate(row)
        people, codings = (file.read(f"tables/{name}.csv").decode("utf-8-sig") for name in ("people", "codings"))
        assert people.splitlines()[0].startswith("person,Island,")
        assert len(codings.splitlines()) > Coding.objects.count()
        assert "After the winter timetable" in file.read("README.txt").decode()
        assert "passages" in file.read("README.txt").decode()


def test_without_the_trail_nothing_of_it_goes_along(world, tmp_path):
    code = coding.create_code(world.owner, "A word that was thought better of", None)
    coding.change_code(world.owner, code.pk, name="Another")
    whole = taken_out(world.owner, tmp_path).read_bytes()
    path = taken_out(world.owner, tmp_path, trail=False)
    with zipfile.ZipFile(path) as file:
        assert "data/trail.jsonl" not in file.namelist()
        assert not any(b"thought better of" in file.read(name) for name in file.namelist())
    assert len(whole) > path.stat().st_size
    there = brought_in(path, world.owner.account)
    assert [entry.verb for entry in TrailEntry.objects.filter(project=there.project)] == ["project.bring_in"]
    assert trail.undo(there) is None


def test_every_table_of_a_project_is_in_its_file_or_said_to_be_left_out():
    known = {part.model for part in KEPT_PARTS} | parts.LEFT_OUT.keys() | {parts.WORDS.model, Project, Account}
    ours = {model for app in apps.get_app_configs() if app.name.startswith("server.") for model in app.get_models()}
    beside = {"Backup", "ArrivedProject", "StandInMail"}
    assert {model.__name__ for model in ours - known} == beside


def test_every_json_field_says_what_it_names():
    """JSON with IDs in it that nobody says anew would name somebody else's rows."""
    names_nothing = {("readings", "choices")}
    for part in KEPT_PARTS:
        for column in rows.columns_of(part):
            if isinstance(column.field, models.JSONField) and part.row is parts.WHOLE_ROW:
                assert column.within or (part.name, column.name) in names_nothing, (part.name, column.name)


def test_people_are_members_by_their_account_or_only_names(world, tmp_path):
    path = taken_out(world.owner, tmp_path)
    me = Account.objects.create(username="me", display_name="Me")
    there = brought_in(path, me, people={"coder": world.coder.account})
    roles = {one.account.username: one.role for one in there.project.memberships.all()}
    assert roles == {"me": "owner", "coder": "coder"}
    coders = {row.coder.display_name: row.coder for row in Coding.objects.filter(code__project=there.project)}
    assert set(coders) == {"Owner", "Coder"}
    assert coders["Coder"] == world.coder.account
    assert coders["Owner"] != world.owner.account
    assert not coders["Owner"].is_active
    assert not coders["Owner"].has_usable_password()


def test_only_an_owner_takes_a_project_out(world, tmp_path):
    for account, status in (
        (world.owner.account, 200),
        (world.coder.account, 403),
        (world.viewer.account, 403),
        (world.stranger, 404),
        (None, 403),
    ):
        assert world.client(account).get(world.url("/file")).status_code == status
    with pytest.raises(Refusal, match="needs an owner"):
        write(world.coder, tmp_path / "it.zip", True)


def test_names_of_accounts_that_have_no_part_in_it_stay_here(world, tmp_path):
    """A condition may name any number: who that is elsewhere on the server is nobody's business."""
    url = world.url("/compare/scopes")
    world.client(world.coder.account).post(
        url, {"name": "All", "scope": {"coders": [world.stranger.pk]}}, format="json"
    )
    path = taken_out(world.owner, tmp_path)
    assert {one["username"] for one in Opened(path).people()} == {"owner", "coder", "viewer"}
    (scope,) = lines(path)["scopes"]
    assert scope["scope"]["coders"] == [4]
    assert brought_in(path, world.owner.account).project.saved_scopes.get().scope["coders"] == [0]


def sent(world: World, account: Account, path: Path):
    upload = SimpleUploadedFile("it.zip", path.read_bytes(), "application/zip")
    return world.client(account).post("/api/project-files", {"file": upload}, format="multipart")


def test_the_whole_way_over_http(world, tmp_path, monkeypatch):
    client = world.client(world.owner.account)
    answer = client.get(world.url("/file?trail=true"))
    assert answer["Content-Disposition"] == 'attachment; filename="crossings-project.zip"'
    path = tmp_path / "it.zip"
    path.write_bytes(b"".join(answer.streaming_content))
    said = sent(world, world.owner.account, path).json()
    assert (said["name"], said["counts"]["documents"], said["counts"]["codings"], said["trail"]) == (
        "Crossings",
        2,
        3,
        True,
    )
    first = said["people"][0]
    assert (first["name"], first["role"], first["me"]) == ("Owner", "owner", True)
    assert (
        world.client(world.coder.account)
        .post(f"/api/project-files/{said['id']}/bring-in", {"people": [], "trail": True}, format="json")
        .status_code
        == 404
    )
    from server.shell.jobs import bring_in_project

    monkeypatch.setattr(type(bring_in_project), "defer", lambda self, **asked: self(**asked) or 1)
    wish = {"people": [{"id": one["id"], "becomes": "account"} for one in said["people"]], "trail": True}
    job = client.post(f"/api/project-files/{said['id']}/bring-in", wish, format="json").json()
    done = client.get(f"/api/jobs/{job['id']}").json()
    assert (done["state"], done["message"]) == ("done", "Brought in “Crossings”.")
    assert client.get(f"/api/projects/{done['project']}").json()["name"] == "Crossings"
    assert not ArrivedProject.objects.exists()
    assert world.client(world.stranger).get(f"/api/jobs/{job['id']}").status_code == 404


def test_a_file_that_waits_is_let_go(world, tmp_path, django_capture_on_commit_callbacks):
    path = taken_out(world.owner, tmp_path)
    first, second = (sent(world, world.stranger, path).json() for _ in range(2))
    assert ArrivedProject.objects.get().pk == second["id"] != first["id"]
    digest = ArrivedProject.objects.get().digest
    assert media.path_of(digest).exists()
    assert world.client(world.owner.account).delete(f"/api/project-files/{second['id']}").status_code == 404
    assert world.client(world.stranger).delete(f"/api/project-files/{second['id']}").status_code == 204
    assert not media.path_of(digest).exists()


def job_for(world: World, path: Path, account: Account) -> tuple[Job, int]:
    row = ArrivedProject.objects.get(pk=sent(world, account, path).json()["id"])
    return Job.objects.create(account=account, title="test", total=arrivals.size_of(row.said)), row.pk


def test_stopped_on_the_way_nothing_is_there(world, tmp_path):
    job, arrived = job_for(world, taken_out(world.owner, tmp_path), world.owner.account)
    projects = Project.objects.count()

    class Stopped(running.Progress):
        def step(self, done: int, message: str | None = None) -> None:
            if done > 10:
                raise running.Cancelled

    running.run(job.pk, lambda job, progress: arrivals.carry_out(job, Stopped(job.pk), arrived, {}, True))
    job.refresh_from_db()
    assert (job.state, job.project) == (JobState.CANCELLED, None)
    assert Project.objects.count() == projects
    assert ArrivedProject.objects.filter(pk=arrived).exists()


def refused(path: Path, owner: Account) -> str:
    projects, accounts = Project.objects.count(), Account.objects.count()
    with pytest.raises(NotOurs) as refusal, transaction.atomic():
        brought_in(path, owner)
    assert (Project.objects.count(), Account.objects.count()) == (projects, accounts)
    return refusal.value.sentence


def test_a_newer_version_is_refused_in_a_sentence(world, tmp_path):
    def newer(name: str, content: bytes) -> bytes:
        return json.dumps({**json.loads(content), "format": FORMAT + 1}).encode() if name == "project.json" else content

    said = refused(rewritten(taken_out(world.owner, tmp_path), newer), world.owner.account)
    assert said.startswith(
        f"This file was made by a newer version of Cohortia (format {FORMAT + 1}; this one reads up to {FORMAT})."
    )


def test_a_file_from_before_a_part_was_there_comes_in_without_it(world, tmp_path):
    coding.drop_words(world.owner, ["island"])

    coding.change_code(world.owner, world.project.codes.get(name="Home").pk, kind="describing")
    later = ["chosen", "dropped", "guide", "tied", "asked", "topics", "phrases", "hits", "unticked"]
    later += ["kinds", "given", "links"]
    doubts = report.make_memo_kind(world.owner, "Doubts")
    report.write_memo(world.owner, "See [[Home]].", kinds=["team", doubts.pk, "method"])
    without = {"data/codes.jsonl": "kind", "data/codings.jsonl": "by_words", "data/cohorts.jsonl": "of"}
    waiting = Topic.objects.create(project=world.project, name="Waiting", language="english")
    phrase = TopicPhrase.objects.create(topic=waiting, said="late again")
    talk = Document.objects.get(title="P1_pier")
    TopicHits.objects.create(phrase=phrase, document=talk, starts=[3, 20], ends=[9, 31])
    TopicUnticked.objects.create(topic=waiting, document=talk, start=3, end=9)

    def older(name: str, content: bytes) -> bytes | None:
        if name in [f"data/{part}.jsonl" for part in later]:
            return None
        if name in without:
            rows = [json.loads(line) for line in content.splitlines()]
            lines = [{field: row[field] for field in row if field != without[name]} for row in rows]
            return "".join(f"{json.dumps(line)}\n" for line in lines).encode()
        if name != "project.json":
            return content
        said = json.loads(content)
        for part in later:
            del said["parts"][part]
        return json.dumps({**said, "format": 1}).encode()

    path = taken_out(world.owner, tmp_path, trail=False)
    now = brought_in(path, world.owner.account, trail=False).project
    assert list(now.dropped_words.values_list("word", flat=True)) == ["island"]
    then = brought_in(rewritten(path, older), world.owner.account, trail=False).project
    assert not then.dropped_words.exists()
    assert dict(now.codes.values_list("name", "kind"))["Home"] == "describing"
    assert set(then.codes.values_list("kind", flat=True)) == {""}
    (hits,) = TopicHits.objects.filter(phrase__topic__project=now)
    assert (hits.starts, hits.ends, hits.document.title) == ([3, 20], [9, 31], "P1_pier")
    assert now.topics.get().unticked.get().end == 9
    assert not then.topics.exists()
    memo = now.memos.get()
    assert [memo.kind, *memo.of_kinds.values_list("kind", "own__name")] == ["team", ("", "Doubts"), ("method", None)]
    assert memo.links.get().code == now.codes.get(name="Home")
    assert then.memos.get().kind == "team"
    assert then.codes.count() == now.codes.count()


def test_what_isn_t_whole_is_refused(world, tmp_path):
    path, owner = taken_out(world.owner, tmp_path), world.owner.account
    other = tmp_path / "other.zip"
    other.write_bytes(b"not a zip")
    assert "can’t be opened as a .zip" in refused(other, owner)
    other.write_bytes(path.read_bytes()[:-200])
    assert "can’t be opened" in refused(other, owner)
    with zipfile.ZipFile(other, "w") as file:
        file.writestr("hello.txt", "x")
    assert "no project.json" in refused(other, owner)
    assert "isn’t whole" in refused(
        rewritten(path, lambda name, content: None if "codes.jsonl" in name else content), owner
    )
    assert "out of order" in refused(with_row(path, "codes", id=7), owner)
    assert "isn’t a row of a project" in refused(with_row(path, "codes", colour="red"), owner)
    assert "isn’t a row of a project" in refused(with_row(path, "codes", unheard_of=1), owner)
    assert "speakers has no row 99" in refused(with_row(path, "turns", speaker=99), owner)
    assert "aren’t those that it holds" in refused(
        rewritten(path, lambda name, content: content.replace(b'"media": {}', b'"media": {"%s": 1}' % (b"0" * 64))),
        owner,
    )
    for seed in range(10):
        # Whatever byte is another: a sentence, or it is one that nobody reads.
        damaged = bytearray(path.read_bytes())
        damaged[random.Random(seed).randrange(len(damaged))] ^= 255
        other.write_bytes(damaged)
        with suppress(NotOurs), transaction.atomic():
            brought_in(other, owner)
            transaction.set_rollback(True)
    damaged = bytearray(path.read_bytes())
    with zipfile.ZipFile(path) as file:
        at = file.getinfo("data/documents.jsonl").header_offset + 100
    damaged[at] ^= 255
    other.write_bytes(damaged)
    assert "can’t be read as it was written" in refused(other, owner)


@pytest.mark.parametrize(
    ("part", "fields", "said"),
    [
        ("documents", {"length": 5}, "isn’t a whole project: a turn"),
        ("documents", {"text": "short"}, "isn’t as long as it says"),
        ("turns", {"start": 0, "end": 3, "ink_start": 0, "ink_end": 2}, "don’t cover its text"),
        ("codes", {"parent": 1}, "code_not_beneath_itself"),
        ("codes", {"parent": 2}, "lies beneath itself"),
        ("speakers", {"role": "owner"}, "isn’t a row of a project"),
        ("codings", {"coder": 99}, "isn’t a whole project"),
        ("cases", {"identifier": "a\u0000b"}, "holds a character without a meaning"),
        ("trail", {"inverse": [{"do": "a\u0000b"}]}, "holds a character without a meaning"),
        ("values", {"number": 3.0}, "value_is_one_thing"),
    ],
)
def test_what_can_t_be_true_is_refused(world, tmp_path, part, fields, said):
    assert said in refused(with_row(taken_out(world.owner, tmp_path), part, **fields), world.owner.account)


def test_a_bomb_is_told_by_its_size(world, tmp_path):
    def bomb(name: str, content: bytes) -> bytes:
        return content + b" " * 30_000_000 if name == "data/codes.jsonl" else content

    assert "far larger than it can be" in refused(
        rewritten(taken_out(world.owner, tmp_path), bomb), world.owner.account
    )


def test_a_file_can_t_lay_hands_on_others_bytes_or_bring_a_page_that_runs(world, tmp_path):
    world_document = Document.objects.get(title="P1_pier")
    secret = tmp_path / "secret"
    secret.write_bytes(b"somebody else's picture")
    digest = media.keep(secret)
    own = tmp_path / "own"
    own.write_bytes(b"a picture of one's own")
    mine = media.keep(own)
    world_document.media.create(role="picture", digest=mine, content_type="image/webp")
    path = taken_out(world.owner, tmp_path)
    there = brought_in(with_row(path, "media", digest=digest), world.owner.account)
    kept = Document.objects.get(project=there.project, title="P1_pier").media.get()
    assert kept.digest not in (digest, mine)
    assert "no kind of picture" in refused(with_row(path, "media", content_type="text/html"), world.owner.account)


@pytest.mark.parametrize(
    ("step", "said"),
    [
        ({"do": "insert", "part": "members", "rows": [{}]}, "'members'"),
        ({"do": "delete", "part": "project", "ids": [1]}, "makes or takes away a project"),
        ({"do": "delete", "part": "codes", "ids": [-1]}, "no number of a row"),
        ({"do": "delete", "part": "codes", "ids": [10**9]}, "has no row"),
        ({"do": "delete", "part": "codes", "spans": [[1, 10**12]]}, "more rows than can be taken back"),
        ({"do": "update", "part": "codes", "id": 1, "now": {"project": 1}, "then": {}}, "project"),
        ({"do": "update", "part": "codes", "id": 1, "now": {"colour": "x"}, "then": {}}, "colour"),
        ({"do": "drop", "part": "codes"}, "trail.jsonl, line 1"),
        ({"do": "insert", "part": "media", "rows": [{"id": 1, "document": 1, "role": "picture", "number": 1, "digest": "0" * 64,
          "content_type": "text/html", "width": 0, "height": 0}]}, "no kind of picture"),
    ],
)  # fmt: skip
def test_a_trail_can_t_reach_beyond_its_project(world, tmp_path, step, said):
    path = with_row(taken_out(world.owner, tmp_path), "trail", inverse=[step])
    assert said in refused(path, world.owner.account)


def test_conditions_that_no_request_could_have_kept_are_refused(world, tmp_path):
    world.client(world.owner.account).post(
        world.url("/compare/scopes"), {"name": "Early", "scope": {"until": "2026-01-31"}}, format="json"
    )
    path = taken_out(world.owner, tmp_path)
    deep: dict = {"join": "all", "parts": []}
    for _ in range(400):
        deep = {"join": "all", "parts": [deep]}
    for scope in (
        {"who": deep},
        {"documents": "all"},
        {"documents": [{}]},
        {"until": "yesterday"},
        [],
        {"query": {"a": 1}},
    ):
        assert "scopes.jsonl, line 1" in refused(with_row(path, "scopes", scope=scope), world.owner.account)


def test_a_lost_medium_is_told_and_leaves_the_rest_whole(world, tmp_path):
    gone = tmp_path / "gone"
    gone.write_bytes(b"lost since")
    digest = media.keep(gone)
    Document.objects.get(title="P1_pier").media.create(role="picture", digest=digest, content_type="image/webp")
    media.path_of(digest).unlink()
    path = taken_out(world.owner, tmp_path)
    assert Opened(path).said["missing"] == [digest]
    assert sent(world, world.owner.account, path).json()["missing"] == 1
    assert brought_in(path, world.owner.account).project.documents.count() == 2
