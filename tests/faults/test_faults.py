"""Parts of the server killed at random moments, connections used up, a full disk, many people at once: no 500, nothing lost,
nothing half-written. The moments are drawn from a seed, so that a run that fails can be had again."""

import os
import random
import subprocess
import sys
import threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import psycopg
import pytest

from tests.faults.lab import PASSWORD, ROOT, Lab, Person, talk, wait_until

PEOPLE, DOCUMENTS, KILLS = 20, 120, 9


@pytest.fixture(scope="module")
def lab(tmp_path_factory):
    found = Lab(tmp_path_factory.mktemp("lab") / "data")
    try:
        found.begin()
        yield found
    finally:
        found.stop()


@pytest.fixture(scope="module")
def owner(lab: Lab) -> Person:
    return Person(lab, "owner").sign_in()


@pytest.fixture(scope="module")
def project(owner: Person) -> int:
    status, said = owner.ask("POST", "/api/projects", {"name": "Faults"})
    assert status == 200, said
    return int(said["id"])


def stage(owner: Person, project: int, seeds: range) -> None:
    for first in range(seeds.start, seeds.stop, 40):
        some = range(first, min(first + 40, seeds.stop))
        status, said = owner.ask(
            "POST", f"/api/projects/{project}/staged", files={f"P{one}.txt": talk(one) for one in some}
        )
        assert status == 200, said


def finished(owner: Person, project: int, job: int) -> dict[str, Any]:
    found: dict[str, Any] = {}

    def done() -> bool:
        status, said = owner.ask("GET", f"/api/projects/{project}/jobs/{job}")
        if status == 200:
            found.update(said)
        return status == 200 and said["state"] not in ("waiting", "running")

    wait_until(done, f"the job stands still: {found}")
    return found


def bring_in(owner: Person, project: int) -> dict[str, Any]:
    status, job = owner.ask("POST", f"/api/projects/{project}/bring-in")
    assert status == 200, job
    return finished(owner, project, job["id"])


def turn(owner: Person, project: int, which: str) -> None:
    status, said = owner.ask("POST", f"/api/projects/{project}/{which}")
    assert status == 200, said
    if said["job"]:
        assert finished(owner, project, said["job"]["id"])["state"] == "done"


def nothing_half(lab: Lab, project: int) -> None:
    """What belongs together is there together, and the folder of what is being read or written is empty of what nobody holds."""
    state = lab.state(project)
    assert state["documents"] == state["indexes"], state
    lonely = lab.rows(
        "SELECT count(*) FROM gather_document d WHERE project_id = %s AND NOT EXISTS (SELECT 1 FROM gather_turn t WHERE t.document_id = d.id)",
        project,
    )
    assert lonely == [(0,)], state


def test_twenty_people_code_and_compare_while_much_is_brought_in_and_taken_back(lab: Lab, owner: Person, project: int):
    stage(owner, project, range(3))
    assert bring_in(owner, project)["state"] == "done"
    documents = [
        one for (one,) in lab.rows("SELECT id FROM gather_document WHERE project_id = %s ORDER BY id", project)
    ]
    people = []
    for number in range(PEOPLE):
        status, said = owner.ask(
            "POST",
            f"/api/projects/{project}/members",
            {"username": f"coder{number}", "role": "coder", "password": PASSWORD},
        )
        assert status == 200, said
        people.append(Person(lab, f"coder{number}").sign_in())
    before = lab.state(project)
    stage(owner, project, range(10, 10 + DOCUMENTS))
    ended, kept = threading.Event(), []

    def work(number: int) -> None:
        person, at = people[number], number * 40
        _, code = person.ask("POST", f"/api/projects/{project}/codebook", {"name": f"Code {number}", "parent": None})
        while not ended.is_set():
            body = {"start": at, "end": at + 30, "codes": [code["id"]]}
            status, said = person.ask(
                "POST", f"/api/projects/{project}/documents/{documents[number % 3]}/passages", body
            )
            if status == 200:
                kept.append((said["id"], code["id"]))
            person.ask("GET", f"/api/projects/{project}/codebook")
            person.ask(
                "POST",
                f"/api/projects/{project}/compare",
                {"codes": [code["id"]], "columns": "documents", "measure": "passages", "permutations": False},
            )
            at = (at + 7) % 4_000

    with ThreadPoolExecutor(PEOPLE) as pool:
        working = [pool.submit(work, number) for number in range(PEOPLE)]
        try:
            assert bring_in(owner, project)["state"] == "done"
            during = lab.state(project)
            turn(owner, project, "undo")
        finally:
            ended.set()
        for one in working:
            one.result()
    assert during["documents"] == before["documents"] + DOCUMENTS
    after = lab.state(project)
    assert (after["documents"], after["turns"]) == (before["documents"], before["turns"])
    assert [fault for person in [*people, owner] for fault in person.faults] == []
    # Everything that was answered with "kept" is kept, and nobody was left without an answer.
    there = set(lab.rows("SELECT passage_id, code_id FROM coding_coding"))
    assert len(kept) > PEOPLE
    assert set(kept) <= there
    assert [status for person in people for status in person.statuses if status in (0, 500)] == []
    nothing_half(lab, project)


@pytest.mark.parametrize("seed", range(KILLS))
def test_killed_at_any_moment_all_of_it_is_there_or_nothing(
    lab: Lab, owner: Person, project: int, seed: int, tmp_path: Path
):
    dice = random.Random(8321 + seed)
    what, victim = [
        (one, part) for one in ("import", "undo", "forget", "backup") for part in ("worker", "web", "database")
    ][seed * 5 % 12]
    base = 1_000 + seed * 100
    stage(owner, project, range(base, base + 30))
    before = lab.state(project)
    if what != "import":
        assert bring_in(owner, project)["state"] == "done"
    full = lab.state(project)
    job, backup = 0, None
    if what == "import":
        job = owner.ask("POST", f"/api/projects/{project}/bring-in")[1]["id"]
    elif what == "undo":
        status, said = owner.ask("POST", f"/api/projects/{project}/undo") if victim == "worker" else (0, None)
        job = said["job"]["id"] if status == 200 and said["job"] else 0
    asking: threading.Thread | None = None
    if what == "forget" or (what == "undo" and victim != "worker"):
        document, title = lab.rows("SELECT id, title FROM gather_document WHERE title = %s", f"P{base}")[0]
        path = "forget" if what == "forget" else "undo"
        body = {"document": document, "typed": title, "keep_figures": True} if what == "forget" else None
        asking = threading.Thread(target=lambda: owner.ask("POST", f"/api/projects/{project}/{path}", body))
        asking.start()
    elif what == "backup":
        backup = subprocess.Popen(
            [sys.executable, ROOT / "server/manage.py", "backup", tmp_path / "all.backup"], env=lab.environment, cwd=ROOT,
            stderr=subprocess.DEVNULL, stdout=subprocess.DEVNULL,
        )  # fmt: skip
    threading.Event().wait(dice.uniform(0.02, 1.2))
    lab.kill(victim)
    if asking:
        asking.join()
    if backup is not None:
        backup.wait()
        whole = tmp_path / "all.backup"
        # A backup has its name only when it is whole.
        assert whole.exists() == (backup.returncode == 0)
        assert [path.name for path in tmp_path.iterdir() if path != whole] == []
    if job:
        assert finished(owner, project, job)["state"] in ("done", "failed")
    for query in ("status", "documents", "codebook"):
        wait_until(
            lambda query=query: owner.ask("GET", f"/api/projects/{project}/{query}")[0] == 200, "it doesn’t come back"
        )
    after = lab.state(project)
    nothing_half(lab, project)
    one_less = {name: after[name] for name in ("documents", "indexes")} == {
        name: full[name] - 1 for name in ("documents", "indexes")
    }
    assert (
        after in (before, full)
        or (what == "import" and after["documents"] == before["documents"] + 30)
        or (what == "forget" and one_less)
    )
    assert owner.faults == []
    # And it goes on: what was killed can be done.
    stage(owner, project, range(base + 50, base + 52))
    assert bring_in(owner, project)["state"] == "done"


def test_when_all_connections_are_used_up_a_sentence_is_answered_and_then_all_is_well(
    lab: Lab, owner: Person, project: int
):
    held: list[psycopg.Connection] = []
    try:
        while len(held) < 60:
            try:
                held.append(lab.connect())
            except psycopg.OperationalError:
                break
        people = [Person(lab, "owner") for _ in range(12)]
        with ThreadPoolExecutor(12) as pool:
            found = list(pool.map(lambda person: person.ask("GET", "/api/session"), people))
            found += pool.map(lambda person: person.ask("GET", f"/api/projects/{project}/codebook"), people)
    finally:
        for one in held:
            one.close()
    assert [fault for person in people for fault in person.faults] == []
    assert {status for status, _ in found} <= {200, 403, 503}
    assert owner.ask("GET", f"/api/projects/{project}/codebook")[0] == 200


@pytest.mark.skipif(os.geteuid() != 0, reason="a small disk is mounted, which takes root")
def test_a_full_disk_is_said_and_nothing_is_half_kept(lab: Lab, owner: Person, project: int):
    """The folder of what is being read lies on a disk of 1 MB; the file is larger than what a connection holds on its way."""
    small = lab.folder / "tmp"
    media = lab.folder / "media"
    media.mkdir(exist_ok=True)
    kept = {path for path in media.rglob("*") if path.is_file()}
    mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=1m,mode=700", "tmpfs", small], check=False).returncode
    if mounted != 0:
        pytest.skip("no disk can be mounted here")
    try:
        before = lab.rows("SELECT count(*) FROM gather_stagedfile")
        status, said = owner.ask("POST", f"/api/projects/{project}/staged", files={"large.txt": talk(5, 200_000)})
        assert status == 507, said
        assert "disk is full" in said["error"]
        assert lab.rows("SELECT count(*) FROM gather_stagedfile") == before
        assert {path for path in media.rglob("*") if path.is_file()} - kept <= {media / ".lock"}
    finally:
        subprocess.run(["umount", "-l", small], check=True)
    stage(owner, project, range(9_000, 9_001))
    assert owner.faults == []
