"""Codes with codes, conditions on passages, words, a layer with a scope, many users at once, and a large table drawn."""

import json
import statistics
import threading
import time
from collections import defaultdict
from collections.abc import Callable
from typing import Any

import numpy as np
import pandas as pd

from bench.browser import signed_in
from bench.rule import answered
from core.compare.groups import Groups, crossed
from core.compare.question import Comparison
from core.passages.search import Blocks, Coded, Made, Placed, Said, Search, Within
from core.passages.together import meetings
from core.snapshot.nearness import Nearness
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from server.snapshots.texts import texture_of

Report = Callable[..., None]
Timed = Callable[..., list[float]]
USERS, EACH = 20, 5
WARM = 10
"""Rounds before any is timed: both processes have the project then."""


def core(report: Report, timed: Timed, snapshot: Snapshot, groups: Groups, project: int) -> None:
    _together(report, timed, snapshot)
    _conditions(report, timed, snapshot)
    every = tuple(range(len(snapshot.code_ids)))
    start = time.perf_counter()
    texture = texture_of(project, snapshot)
    report("words of all texts looked up, once", time.perf_counter() - start)
    asked = Comparison(every, groups, measure="words", base="talk", permutations=10_000, texture=texture)
    report(
        "words: all tests, intervals, 10,000 permutations",
        statistics.median(timed(lambda: answered(snapshot, asked), 3)),
    )
    dice = np.random.default_rng(2)
    scope = Scope(
        documents=dice.random(len(snapshot.document_ids)) < 0.8,
        cases=dice.random(len(snapshot.case_ids)) < 0.8,
        codings=dice.random(len(snapshot.coding_code)) < 0.8,
    )
    site = Groups(("a", "b", "c"), (np.arange(len(snapshot.case_ids)) % 3).astype(np.int32))
    layered = Comparison(every, crossed(site, groups, snapshot.talks), layers=3, scope=scope)
    report(
        "people in 6 groups within 3 layers, scope of documents, people and codings",
        statistics.median(timed(lambda: answered(snapshot, layered), 5)),
    )


def _together(report: Report, timed: Timed, snapshot: Snapshot) -> None:
    """Beside a merge in pandas of codings on the same passage, which finds no overlap of different passages."""
    codes = np.arange(len(snapshot.code_ids))
    frame = pd.DataFrame({"passage": snapshot.coding_passage, "code": snapshot.coding_code})

    def merged() -> Any:
        return frame.merge(frame, on="passage").groupby(["code_x", "code_y"]).size()

    beside = statistics.median(timed(merged, 3))
    for name, nearness in (("overlapping", Nearness()), ("within 1 turn", Nearness("turns", 1))):
        for measures in (("people",), ("pairs", "passages", "documents", "people")):

            def counted(nearness: Nearness = nearness, measures: tuple[str, ...] = measures) -> Any:
                found = meetings(snapshot, codes, nearness=nearness).among()
                return [getattr(found, measure) for measure in measures]

            report(
                f"co-occurrence of 500,000 codings, {name}, {'all measures' if len(measures) > 1 else measures[0]}",
                statistics.median(timed(counted, 3)),
                pandas_merge_same_passage=beside,
            )


def _conditions(report: Report, timed: Timed, snapshot: Snapshot) -> None:
    dice = np.random.default_rng(3)
    blocks = Blocks(
        "all",
        (
            Coded("any", tuple(range(40))),
            Coded("none", (300, 301)),
            Placed("near", tuple(range(100, 140)), True, Nearness("turns", 3)),
            Said(dice.random(len(snapshot.case_ids)) < 0.5),
            Blocks("any", (Within(dice.random(len(snapshot.document_ids)) < 0.5), Made(days=(0, 40_000)))),
        ),
    )
    report(
        "a query of five conditions, with the count of each",
        statistics.median(timed(lambda: Search(snapshot, Scope()).kept(blocks), 7)),
    )


def at_once(
    report: Report, call: Callable[[], Callable[[str, dict[str, Any]], bytes]], project: int, asked: dict[str, Any]
) -> None:
    """Twenty users, each with a session of their own, asking different comparisons one after the other."""
    times: list[float] = []
    errors: list[str] = []
    calls = [call() for _ in range(USERS)]
    gate = threading.Barrier(USERS)

    def use(place: int) -> None:
        gate.wait()
        for turn in range(EACH):
            some = asked["codes"][place : place + 30 + turn]
            start = time.perf_counter()
            try:
                json.loads(
                    calls[place](f"/api/projects/{project}/compare", {**asked, "codes": some, "permutations": False})
                )
            except Exception as error:
                errors.append(repr(error))
            times.append(time.perf_counter() - start)

    users = [threading.Thread(target=use, args=(place,)) for place in range(USERS)]
    for user in users:
        user.start()
    for user in users:
        user.join()
    report(f"{USERS} users comparing at once, 30 codes × 6 groups: median", statistics.median(times))
    report(f"{USERS} users comparing at once: p95", float(np.quantile(times, 0.95)))
    report(f"{USERS} users comparing at once: errors", float(len(errors)), "")


def after_a_coding(
    report: Report, call: Callable[[], Callable[..., bytes]], project: int, asked: dict[str, Any], document: int
) -> None:
    """One person codes, then another asks for a comparison and the codebook, at once and a moment later: neither answer may be
    older than the coding."""
    # Of no seed: what an earlier run has put on would change nothing.
    coder, reader, dice = call(), call(), np.random.default_rng()
    took: dict[str, list[float]] = defaultdict(list)
    base = f"/api/projects/{project}"
    for turn in range(2 * 60 + WARM):
        later = turn % 2 == 1
        start = int(dice.integers(4_000))
        put = {"start": start, "end": start + 30 + turn, "codes": [int(dice.choice(asked["codes"]))]}
        for name, ask in (
            ("a coding", lambda put=put: coder(f"{base}/documents/{document}/passages", put)),
            ("then a comparison", lambda: reader(f"{base}/compare", {**asked, "permutations": False})),
            ("then the codebook", lambda: reader(f"{base}/codebook")),
        ):
            begun = time.perf_counter()
            ask()
            if turn >= WARM:
                took[f"{name}{', half a second later' if later and name != 'a coding' else ''}"].append(
                    time.perf_counter() - begun
                )
            if later and name == "a coding":
                time.sleep(0.5)
    for name, times in took.items():
        report(f"HTTP, 500,000 codings, {name}: median", statistics.median(times))
        report(f"HTTP, 500,000 codings, {name}: p95", float(np.quantile(times, 0.95)))


def drawn(report: Report, home: str, project: int, password: str) -> None:
    """A table of 300 rows × 60 groups: from the answer's arrival until it stands, and the longest frame of scrolling it."""
    with signed_in(home, password) as page:
        codes = page.evaluate(f"fetch('/api/projects/{project}/codebook').then(a => a.json())")["codes"][:300]
        address = f"{home}/projects/{project}/compare?variable=cases&codes={'.'.join(str(one['id']) for one in codes)}"
        times, frames = [], []
        for _ in range(4):
            page.goto(f"{home}/projects/{project}/people")
            page.goto(address)
            page.locator("[data-form] tbody tr").nth(5).wait_for(timeout=120_000)
            times.append(page.evaluate(_SINCE_ANSWER))
            frames.append(page.evaluate(_LONGEST_FRAME))
    report("a table of 300 × 60, from the answer to the page", statistics.median(times[1:]) / 1000)
    report("a table of 300 × 60, scrolled: longest frame", statistics.median(frames[1:]), "ms")


_SINCE_ANSWER = """() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(() => {
  const answers = performance.getEntriesByType('resource').filter(one => one.name.endsWith('/compare'));
  done(performance.now() - answers.at(-1).responseEnd);
})))"""
_LONGEST_FRAME = """() => new Promise(done => {
  const box = document.querySelector('[data-form] [data-in-view]');
  if (!box) throw new Error('nothing there to scroll');
  let last = performance.now(), longest = 0, steps = 0;
  const step = now => {
    longest = Math.max(longest, now - last); last = now;
    if (++steps > 60) return done(longest);
    box.scrollTop += 120; box.scrollLeft += 60; requestAnimationFrame(step);
  };
  requestAnimationFrame(step);
})"""
