"""Benchmarks, each beside what a user would otherwise run. Prints a table and writes JSON."""

import http.cookiejar
import json
import os
import resource
import statistics
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import django

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
django.setup()

import duckdb  # noqa: E402
import numpy as np  # noqa: E402
import pandas as pd  # noqa: E402
import polars as pl  # noqa: E402
import psycopg  # noqa: E402
from django.core.management import call_command  # noqa: E402

from bench import (  # noqa: E402
    backups,
    beside,
    coding,
    desk,
    files,
    gather,
    growth,
    labels,
    line,
    lists,
    meeting,
    pages,
    roster,
    rule,
    sound,
    team,
    topics,
)
from bench.world import Size, fill  # noqa: E402
from core.compare import counts  # noqa: E402
from core.compare.groups import (  # noqa: E402
    Groups,
    by_documents,
    crossed,
)
from core.compare.question import Comparison  # noqa: E402
from core.snapshot.snapshot import Snapshot  # noqa: E402
from server.gather.models import Document  # noqa: E402
from server.people.models import Variable  # noqa: E402
from server.projects.models import Account, Project  # noqa: E402
from server.scope import axes  # noqa: E402
from server.snapshots import queries as snapshots  # noqa: E402

PASSWORD = "a bench of its own"
results: dict[str, dict[str, float]] = {}


def timed(work: Callable[[], object], runs: int, warm: int = 1) -> list[float]:
    """Seconds of each run, after ``warm`` runs that aren't counted."""
    for _ in range(warm):
        work()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return times


def report(name: str, ours: float, unit: str = "s", **beside: float) -> None:
    """Print one figure with its peers (and how many times longer they take) and keep it."""
    peers = "".join(
        f"   {peer.replace('_', ' ')} {value:.4g} {unit} ({value / ours:.1f}×)" for peer, value in beside.items()
    )
    print(f"{name:<58}{ours:>10.4g} {unit}{peers}", flush=True)
    results[name] = {"ours": ours, **beside, **{f"{peer}_ratio": value / ours for peer, value in beside.items()}}


def database() -> psycopg.Connection:
    settings = django.db.connections["default"].settings_dict
    return psycopg.connect(
        host=settings["HOST"],
        port=settings["PORT"],
        user=settings["USER"],
        password=settings["PASSWORD"],
        dbname=settings["NAME"],
    )


def prepare() -> int:
    call_command("migrate", interactive=False, verbosity=0)
    held = Project.objects.filter(name="Bench").first()
    if held:
        return held.pk
    print("Making the project: 1,000 cases, 1,000 documents, 8 million words, 400 codes, 500,000 codings …", flush=True)
    account, _ = Account.objects.get_or_create(username="bench", defaults={"display_name": "Bench"})
    account.set_password(PASSWORD)
    account.save()
    with database() as connection:
        return fill(connection, Size())


def core_counts(snapshot: Snapshot, groups: Groups) -> None:
    """People and passages against pandas on the same arrays, and against one bare bincount."""
    rows = snapshot.own_rows
    frame = pd.DataFrame(
        {
            "code": rows.entry_row,
            "case": rows.entry_case,
            "passage": rows.entry_passage,
            "group": groups.labels[rows.entry_case],
        }
    )
    keys = snapshot.coding_code.astype(np.int64)
    bare = statistics.median(timed(lambda: np.bincount(keys, minlength=400), 15))
    people = statistics.median(timed(lambda: counts.people(counts.case_counts(snapshot, rows), groups), 15))
    passages = statistics.median(
        timed(lambda: counts.passages(snapshot, rows, counts.case_counts(snapshot, rows), groups), 15)
    )
    unique = statistics.median(timed(lambda: frame.groupby(["code", "group"])["case"].nunique(), 5))
    cross = statistics.median(timed(lambda: pd.crosstab(frame["code"], frame["group"]), 5))
    distinct = statistics.median(timed(lambda: frame.groupby(["code", "group"])["passage"].nunique(), 5))
    table = pl.from_pandas(frame)
    duck = duckdb.connect()
    duck.execute("SET threads TO 2")
    duck.register("entries", frame)
    lazily = {
        what: statistics.median(
            timed(lambda what=what: table.group_by("code", "group").agg(pl.col(what).n_unique()), 5)
        )
        for what in ("case", "passage")
    }
    by_sql = {
        what: statistics.median(
            timed(
                lambda what=what: duck.execute(
                    f'SELECT code, "group", count(DISTINCT "{what}") FROM entries GROUP BY ALL'
                ).fetchall(),
                5,
            )
        )
        for what in ("case", "passage")
    }
    expected = frame.groupby(["code", "group"])["case"].nunique().unstack(fill_value=0).to_numpy()
    assert (counts.people(counts.case_counts(snapshot, rows), groups) == expected).all()
    report(
        "people, 400 codes × 6 groups, core",
        people,
        pandas_nunique=unique,
        polars=lazily["case"],
        duckdb=by_sql["case"],
        bare_bincount=bare,
    )
    report(
        "passages, 400 codes × 6 groups, core",
        passages,
        pandas_crosstab=cross,
        pandas_nunique=distinct,
        polars=lazily["passage"],
        duckdb=by_sql["passage"],
        bare_bincount=bare,
    )


def core_comparisons(snapshot: Snapshot, groups: Groups) -> None:
    every = tuple(range(len(snapshot.code_ids)))
    for measure, base in (("people", "with_material"), ("passages", "column"), ("rate", "words")):
        asked = Comparison(every, groups, measure=measure, base=base, permutations=10_000)  # type: ignore[arg-type]
        report(
            f"{measure}: all tests, intervals, 10,000 permutations",
            statistics.median(timed(lambda asked=asked: rule.answered(snapshot, asked), 3)),
        )  # type: ignore[misc]


def core_columns(snapshot: Snapshot, groups: Groups) -> None:
    """Two facts at once: nested in a fact about documents, and held apart in layers, beside pandas on the same arrays."""
    every, talks = tuple(range(len(snapshot.code_ids))), snapshot.talks
    wave = np.arange(len(snapshot.document_ids), dtype=np.int32) % 2
    nested = crossed(groups, by_documents(Groups(("winter", "spring"), wave), talks), talks)
    site = Groups(("a", "b", "c"), (np.arange(len(snapshot.case_ids)) % 3).astype(np.int32))
    layered = crossed(site, groups, talks)
    rows = snapshot.branch_rows
    document = snapshot.passage_document[rows.entry_passage]
    label = groups.labels[rows.entry_case] * 2 + wave[document]
    frame = pd.DataFrame({"code": rows.entry_row, "case": rows.entry_case, "group": label})
    beside = statistics.median(timed(lambda: frame.groupby(["code", "group"])["case"].nunique(), 3))
    for name, asked, peers in (
        (
            "people by a fact about documents in 6 groups, nested, tests",
            Comparison(every, nested),
            {"pandas_nunique": beside},
        ),
        ("people in 6 groups within 3 layers, tests", Comparison(every, layered, layers=3), {}),
    ):
        report(name, statistics.median(timed(lambda asked=asked: rule.answered(snapshot, asked), 5)), **peers)  # type: ignore[misc]


def cold_snapshot(project: int) -> Snapshot:
    def load() -> Snapshot:
        snapshot = snapshots.load(project)
        assert len(snapshot.own_rows.pair_passage)
        assert len(snapshot.branch_rows.pair_passage)
        return snapshot

    report("cold snapshot from PostgreSQL, rows built", statistics.median(timed(load, 3)))
    return load()


@contextmanager
def serving() -> Iterator[tuple[str, int]]:
    """The server as it is started for users: its address and the process."""
    port = os.environ["COHORTIA_BENCH_PORT"]
    settings = ROOT / "server" / "gunicorn_settings.py"
    command = [sys.executable, "-m", "gunicorn", "--config", str(settings), "--chdir", str(ROOT), "--log-level", "error", "server.wsgi"]  # fmt: skip
    # A line a request is for whoever looks after a server; here it would bury the figures.
    bound = {**os.environ, "COHORTIA_BIND": f"127.0.0.1:{port}"}
    server = subprocess.Popen(command, env=bound, stderr=subprocess.DEVNULL, stdout=subprocess.DEVNULL)
    home = f"http://127.0.0.1:{port}"
    try:
        _wait_for(home)
        yield home, server.pid
    finally:
        server.terminate()
        server.wait()


def _wait_for(home: str) -> None:
    for _ in range(100):
        try:
            urllib.request.urlopen(f"{home}/api/session", timeout=120).read()
            return
        except OSError:
            time.sleep(0.1)


def over_http(project: int) -> None:
    """The whole request on a warm snapshot, and the server's peak memory."""
    with serving() as (home, server):
        _requests(project, home)
        meeting.drawn(report, home, project, PASSWORD)
        report("peak memory of the server", _peak_of_children(server) / 1024, "MiB")


@contextmanager
def known() -> Iterator[str]:
    """The server’s address, with the password of whoever measures."""
    account = Account.objects.get(username="bench")
    account.set_password(PASSWORD)
    account.save()
    with serving() as (home, _):
        yield home


def scrolled() -> None:
    """The roster in a browser."""
    held = roster.prepare()
    with known() as home:
        roster.run(report, home, held, PASSWORD)


def chosen() -> None:
    """A folder of files in a browser."""
    with known() as home:
        files.run(report, home, PASSWORD)


def read_and_coded() -> None:
    """The reading desk in a browser."""
    held, document = desk.prepare()
    with known() as home:
        desk.run(report, home, held, document, PASSWORD)
        line.run(report, home, held, PASSWORD)


def gone_to() -> None:
    """Every page of the demo in a browser."""
    project = team.demo()
    with serving() as (home, _):
        pages.run(report, home, project, PASSWORD)


def listed() -> None:
    """Long lists in a browser."""
    held = lists.prepare()
    with known() as home:
        lists.run(report, home, held, PASSWORD)


def _signed_in(home: str, username: str = "bench") -> Callable[..., bytes]:
    """A session of its own: a function that asks the server."""
    jar = http.cookiejar.CookieJar()
    opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))

    def call(path: str, body: dict | None = None) -> bytes:  # type: ignore[type-arg]
        token = next((cookie.value or "" for cookie in jar if cookie.name == "csrftoken"), "")
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            home + path, data, {"Content-Type": "application/json", "X-CSRFToken": token, "Referer": home}
        )
        return opener.open(request, timeout=120).read()

    call("/api/session")
    call("/api/session", {"username": username, "password": PASSWORD})
    return call


def _requests(project: int, home: str) -> None:
    call = _signed_in(home)
    codebook = json.loads(call(f"/api/projects/{project}/codebook"))
    asked = {"codes": [code["id"] for code in codebook["codes"]], "variable": Variable.objects.get(project=project).pk}
    for name, more in (("people", {}), ("passages", {"measure": "passages"}), ("rate", {"measure": "rate"})):
        question = {**asked, **more, "permutations": False}
        times = timed(lambda question=question: call(f"/api/projects/{project}/compare", question), 60, warm=5)  # type: ignore[misc]
        report(f"HTTP, whole, warm, {name}: median", statistics.median(times))
        report(f"HTTP, whole, warm, {name}: p95", float(np.quantile(times, 0.95)))
    times = timed(lambda: call(f"/api/projects/{project}/compare", {**asked, "measure": "rate"}), 3)
    report("HTTP, whole, warm, rate with 10,000 permutations: median", statistics.median(times))
    meeting.at_once(report, lambda: _signed_in(home), project, asked)
    document = Document.objects.filter(project=project, kind="transcript").values_list("pk", flat=True)[0]
    meeting.after_a_coding(report, lambda: _signed_in(home), project, asked, document)


def worked_at_once() -> None:
    """Twenty people in a large project, and in the demo."""
    for where, project in (("500,000 codings", prepare()), ("the demo", team.demo())):
        names = team.prepare(project, PASSWORD)
        with serving() as (home, server):
            team.run(report, lambda name, home=home: _signed_in(home, name), project, names, where)  # type: ignore[misc]
            report(f"{where}: peak memory of the server", _peak_of_children(server) / 1024, "MiB")


def _peak_of_children(pid: int) -> float:
    """The largest resident sets of a process and its children together, in KiB, as the kernel kept them."""
    children = Path(f"/proc/{pid}/task/{pid}/children").read_text().split()
    peaks = []
    for one in [str(pid), *children]:
        lines = Path(f"/proc/{one}/status").read_text().splitlines()
        peaks += [float(line.split()[1]) for line in lines if line.startswith("VmHWM")]
    return sum(peaks)


def main() -> None:
    parts: dict[str, Callable[[], object]] = {
        "labels": lambda: labels.run(report),
        "sound": lambda: sound.run(report),
        "topics": lambda: topics.run(report),
        "gather": lambda: gather.run(report),
        "files": chosen,
        "beside": lambda: beside.run(report),
        "roster": scrolled,
        "lists": listed,
        "coding": lambda: coding.run(report),
        "desk": read_and_coded,
        "pages": gone_to,
        "team": worked_at_once,
        "growth": lambda: growth.run(report),
        "backups": lambda: backups.run(report, prepare()),
    }
    part = next((one for one in sys.argv[1:] if one in parts), "compare")
    speed(part, "before")
    before = ticks()
    if part in parts:
        call_command("migrate", interactive=False, verbosity=0)
        parts[part]()
    else:
        compared()
    speed(part, "after")
    taken, all_of_it = (after - was for was, after in zip(before, ticks(), strict=True))
    report(f"the machine, during {part}: time that others took of it", 100 * taken / max(all_of_it, 1), "%")
    keep(part)


def ticks() -> tuple[int, int]:
    """What other machines on the same metal took of this one's time, and all of its time, as Linux counts it (proc(5))."""
    counted = [int(one) for one in Path("/proc/stat").read_text("ascii").splitlines()[0].split()[1:]]
    return counted[7], sum(counted)


def speed(part: str, when: str) -> None:
    """How quick the machine is at this moment: others work on it too, and every figure goes with it."""

    def turns() -> int:
        total = 0
        for one in range(3_000_000):
            total += one
        return total

    report(f"the machine, {when} {part}: 3,000,000 turns of a Python loop", statistics.median(timed(turns, 5)))


def compared() -> None:
    """Comparisons, in the core and over HTTP."""
    project = prepare()
    snapshot = cold_snapshot(project)
    groups = axes.groups_of(snapshot, Variable.objects.get(project=project)).groups
    core_counts(snapshot, groups)
    core_comparisons(snapshot, groups)
    core_columns(snapshot, groups)
    rule.core(report, timed, snapshot, groups)
    meeting.core(report, timed, snapshot, groups, project)
    report("peak memory of this process", resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024, "MiB")
    del snapshot
    over_http(project)


def keep(part: str) -> None:
    """Write this part's figures beside those of the others."""
    out = ROOT / "bench" / "results.json"
    held = json.loads(out.read_text()) if out.exists() else {}
    figures = held.get("figures", {})
    figures[part] = results
    machine = {"cores": os.cpu_count(), "python": sys.version.split()[0]}
    out.write_text(json.dumps({**held, "figures": figures, **machine}, indent=2) + "\n")
    print(f"\nWritten to {out.relative_to(ROOT)}")


if __name__ == "__main__":
    main()
