"""How a comparison grows with the project: from 50,000 codings to 5,000,000 by 10,000 people, the same question of each, fresh
after a coding, beside polars and DuckDB on the same arrays. Each size is a process of its own, so that its memory is its own."""

import json
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from bench.rule import answered
from core.compare.groups import Groups
from core.compare.question import Comparison
from core.snapshot.carried import carried
from core.snapshot.carrying import News, Touched
from core.snapshot.snapshot import Snapshot

Report = Callable[..., None]
SIZES = (50_000, 500_000, 1_000_000, 2_000_000, 5_000_000)
CODES, GROUPS, TURNS = 400, 6, 80


def made(codings: int) -> Snapshot:
    """A project of so many codings: 500 a document (from a hundred documents on), as many people as documents."""
    dice = np.random.default_rng(codings)
    documents = codings // 500
    each = 300
    length = 40_000
    turn_start = np.tile(np.arange(TURNS) * (length // TURNS), documents)
    passages = documents * each
    start = np.sort(dice.integers(0, length - 400, (documents, each)), axis=1).ravel()
    coded = np.sort(dice.choice(passages * CODES, codings, replace=False)) if codings < 1_000_000 else _distinct(dice, passages * CODES, codings)  # fmt: skip
    dice.shuffle(coded)
    codes = np.arange(CODES)
    columns = {
        "document_ids": np.arange(1, documents + 1),
        "turn_document": np.repeat(np.arange(documents), TURNS),
        "turn_start": turn_start,
        "turn_end": turn_start + length // TURNS - 1,
        "turn_speaker": np.repeat(2 * np.arange(documents), TURNS) + np.tile(np.arange(TURNS) % 8 != 0, documents),
        "turn_words": np.full(documents * TURNS, 100),
        "speaker_role": np.tile([1, 0], documents).astype(np.int8),
        "speaker_case": np.stack([np.full(documents, -1), np.arange(documents)], axis=1).ravel(),
        "case_ids": np.arange(1, documents + 1),
        "passage_ids": np.arange(1, passages + 1),
        "passage_document": np.repeat(np.arange(documents), each),
        "passage_start": start,
        "passage_end": start + dice.integers(20, 300, passages),
        "coding_passage": coded // CODES,
        "coding_code": coded % CODES,
        "coding_coder": np.zeros(codings),
        "code_ids": np.arange(1, CODES + 1),
        "code_parent": np.where(codes < 20, -1, codes % 20),
        "coder_ids": np.array([1]),
        "speaker_ids": np.arange(1, 2 * documents + 1),
        "coding_ids": np.arange(1, codings + 1),
        "speaker_document": np.repeat(np.arange(documents), 2),
        "coding_rating": np.zeros(codings, np.int8),
        "coding_day": np.full(codings, 20_000),
    }
    kept = {name: array if name.endswith("_ids") or array.dtype == np.int8 else array.astype(np.int32) for name, array in columns.items()}  # fmt: skip
    return Snapshot(revision=1, **kept)  # type: ignore[arg-type]


def _distinct(dice: np.random.Generator, most: int, count: int) -> Any:
    return dice.permutation(np.unique(dice.integers(0, most, count + count // 4)))[:count]


def measured(codings: int) -> dict[str, float]:
    """Seconds, and MiB, at one size."""
    snapshot = made(codings)
    dice = np.random.default_rng(1)
    groups = Groups(tuple(f"Region {one}" for one in range(GROUPS)), dice.integers(0, GROUPS, len(snapshot.case_ids)).astype(np.int32))  # fmt: skip
    every = tuple(range(CODES))
    asked = Comparison(every, groups)
    begun = time.perf_counter()
    answered(snapshot, asked)
    found: dict[str, float] = {"first": time.perf_counter() - begun}
    found["again"] = _median(lambda: answered(snapshot, asked), 5)
    after, carrying = [], []
    for number in range(7):
        begun = time.perf_counter()
        snapshot = carried(snapshot, _coding(snapshot, int(dice.integers(len(snapshot.passage_ids))), number))
        carrying.append(time.perf_counter() - begun)
        answered(snapshot, asked)
        after.append(time.perf_counter() - begun)
    found["carried on"] = statistics.median(carrying)
    found["after a coding"] = statistics.median(after)
    found["memory"] = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    found["files"] = _from_files(snapshot)
    rows = snapshot.branch_rows
    arrays = {"code": rows.entry_row, "case": rows.entry_case, "group": groups.labels[rows.entry_case]}
    found |= _beside(arrays)
    return found


def _coding(snapshot: Snapshot, passage: int, number: int) -> News:
    """Somebody puts one code on one passage."""
    key = int(snapshot.coding_ids.max()) + 1
    row = {"id": [key], "passage": [int(snapshot.passage_ids[passage])], "code": [number + 1], "coder": [1], "rating": [0], "day": [20_000]}  # fmt: skip
    rows = {name: np.array(value, np.int64) for name, value in row.items()}
    return News(snapshot.revision + 1, {}, None, Touched(rows["id"], rows), {"coding.coding": snapshot.revision + 1})


def _from_files(snapshot: Snapshot) -> float:
    """A second process ready from the files: read, checked, mapped."""
    from uuid import uuid4

    from django.conf import settings

    from server.snapshots import files

    with tempfile.TemporaryDirectory() as folder:
        settings.SNAPSHOT_FOLDER, mark = Path(folder), uuid4()
        files.write(1, snapshot, mark)
        return _median(lambda: files.newest(1, lambda at, one: True), 5)


def _beside(arrays: dict[str, Any]) -> dict[str, float]:
    """People who mention each code, by group: no interval, no test."""
    import duckdb
    import pandas as pd
    import polars as pl

    frame = pd.DataFrame(arrays)
    table = pl.from_pandas(frame)
    duck = duckdb.connect()
    duck.execute("SET threads TO 2")
    duck.register("entries", frame)
    return {
        "polars": _median(lambda: table.group_by("code", "group").agg(pl.col("case").n_unique()), 3),
        "duckdb": _median(
            lambda: duck.execute('SELECT code, "group", count(DISTINCT "case") FROM entries GROUP BY ALL').fetchall(), 3
        ),
    }


def _median(does: Callable[[], Any], times: int) -> float:
    taken = []
    for _ in range(times):
        begun = time.perf_counter()
        does()
        taken.append(time.perf_counter() - begun)
    return statistics.median(taken)


def run(report: Report) -> None:
    for size in SIZES:
        command = [sys.executable, "-m", "bench.growth", str(size)]
        found = json.loads(subprocess.run(command, capture_output=True, check=True, text=True).stdout.splitlines()[-1])
        name = f"{size:,} codings, {size // 500:,} people"
        report(f"{name}: first question", found["first"])
        report(f"{name}: the same again", found["again"], polars=found["polars"], duckdb=found["duckdb"])
        report(f"{name}: after somebody’s coding", found["after a coding"])
        report(f"{name}: of that, carried on", found["carried on"])
        report(f"{name}: a second process ready from the files", found["files"])
        report(f"{name}: memory", found["memory"], "MiB")


if __name__ == "__main__":
    import django

    django.setup()
    print(json.dumps(measured(int(sys.argv[1]))))
