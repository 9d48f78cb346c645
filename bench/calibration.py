"""Whether the numbers bear what is said of them: false *sure*, coverage, power and false discoveries over made projects.

``bin/bench calibration [projects]``. Every figure is over so many made projects in which the truth is known.
"""

import json
import os
import sys
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from pathlib import Path

import numpy as np

from bench.made import Setting, made
from core.compare import sure
from core.compare.by_part import family_of
from core.compare.sure import widened
from core.statistics import intervals, layers, power, regression
from core.statistics.stepdown import LEVEL

ROOT = Path(__file__).resolve().parent.parent
SHUFFLES = 999
"""Shuffles of a made project: p = (b + 1) / (m + 1) holds its level for any number."""
UNEVEN = (12, 7, 4, 3)

NOTHING_DIFFERS = (
    Setting("2 groups of 12, 1 row", (12, 12), 1),
    Setting("2 groups of 12, 20 rows", (12, 12), 20),
    Setting("2 groups of 30, 60 rows", (30, 30), 60),
    Setting("4 groups of 10, 20 rows", (10,) * 4, 20),
    Setting("6 groups of 8, 60 rows", (8,) * 6, 60),
    Setting("uneven groups down to 3, 20 rows", UNEVEN, 20),
    Setting("rare rows, 2 groups of 20, 20 rows", (20, 20), 20, share=0.08),
    Setting("passages, share of row, 2 groups, 20 rows", (20, 12), 20, "passages"),
    Setting("passages, share of group, 4 groups, 20 rows", (10,) * 4, 20, "passages", "column"),
    Setting("words, share of talk, 2 groups, 20 rows", (14, 14), 20, "words"),
    Setting("words, share of row, 2 groups, 20 rows", (14, 9), 20, "words", "row"),
    Setting("passages a person, 4 uneven groups, 20 rows", UNEVEN, 20, "per_person"),
    Setting("passages a person, 6 groups, 60 rows", (8,) * 6, 60, "per_person"),
    Setting("rate, 2 groups of 12, 20 rows", (12, 12), 20, "rate"),
    Setting("rate, 4 uneven groups, 20 rows", UNEVEN, 20, "rate"),
    Setting("rating, 2 groups of 15, 20 rows", (15, 15), 20, "rating"),
    Setting("3 layers that differ, 2 groups of 8, 20 rows", (8, 8), 20, layers=3),
    Setting("3 layers that differ, rate, 2 groups of 8, 20 rows", (8, 8), 20, "rate", layers=3),
    Setting("conversations of one group, ICC .3, 20 rows", (20, 20), 20, conversations=(4,) * 6),
    Setting("conversations of one group, ICC .3, rate", (20, 20), 20, "rate", conversations=(4,) * 6),
    Setting("asked: .9 and .5 of 2 groups of 20, 21 rows", (20, 20), 21, base="asked", asked=(0.9, 0.5)),
    Setting(
        "asked: .9, .6, .4 of 3 groups of 12, a person", (12,) * 3, 21, "per_person", "asked", asked=(0.9, 0.6, 0.4)
    ),
    Setting(
        "asked, in conversations of one group, ICC .3",
        (20, 20),
        21,
        base="asked",
        conversations=(4,) * 6,
        asked=(0.9, 0.5),
    ),
    Setting("conversations over groups, ICC .3, 20 rows", (14, 14, 12), 20, conversations=(4, 4, 5, 5), whole=False),
)
SOME_DIFFER = (
    Setting("people, 5 of 20 rows differ, 2 groups of 20", (20, 20), 20, differ=5, gap=0.45),
    Setting("people, 5 of 20 rows differ, 4 groups of 15", (15,) * 4, 20, differ=5, gap=0.5),
    Setting(
        "asked: .9 and .6, 5 of 21 rows differ, 2 groups of 25",
        (25, 25),
        21,
        base="asked",
        differ=5,
        gap=0.5,
        asked=(0.9, 0.6),
    ),
    Setting("rate, 5 of 20 rows differ, 2 groups of 20", (20, 20), 20, "rate", differ=5, gap=0.5),
    Setting("passages a person, 5 of 20 rows differ, 4 groups of 15", (15,) * 4, 20, "per_person", differ=5, gap=0.55),
)


def sure_by_chance(setting: Setting, projects: int, seed: int = 1) -> float:
    """Share of projects in which anything is called sure though nothing differs. Where that comes out over the level
    itself, three times as many more are made: chance alone moves 2,000 by half a point."""
    generator = np.random.default_rng(seed)
    found = sum(bool(_family(setting, generator).sure.any()) for _ in range(projects))
    if found <= LEVEL * projects:
        return found / projects
    found += sum(bool(_family(setting, generator).sure.any()) for _ in range(3 * projects))
    return found / (4 * projects)


def false_discoveries(setting: Setting, projects: int, seed: int = 2) -> tuple[float, float]:
    """Of what is called sure: the mean share that doesn't differ; and the share of real differences that are found."""
    generator = np.random.default_rng(seed)
    wrong, right = [], []
    for _ in range(projects):
        family = _family(setting, generator)
        last = len(setting.sizes) - 1
        real = (
            np.array([last in pair for pair in family.pairs])[None, :]
            & (np.arange(setting.rows) < setting.differ)[:, None]
        )
        wrong.append((family.sure & ~real).sum() / max(family.sure.sum(), 1))
        right.append((family.sure & real).sum() / real.sum())
    return float(np.mean(wrong)), float(np.mean(right))


def _family(setting: Setting, generator: np.random.Generator) -> sure.Family:
    return replace(family_of(made(setting, generator)), shuffles=SHUFFLES)


def coverage_of_figures(kind: str, people: int, projects: int, seed: int = 3) -> float:
    """How often the interval of one group's figure holds the true one, over rows where it is told. Amounts are uneven:
    gamma-mixed Poisson of shapes .3, .7, 2 and plain, means .5, 1.5 and 4, over lognormal exposure for a rate."""
    generator = np.random.default_rng(seed + people)
    told = held = 0
    for mean in (0.5, 1.5, 4.0):
        for shape in (0.3, 0.7, 2.0, np.inf):
            x, e, true = _amounts(kind, mean, shape, people, projects, generator)
            low, high = intervals.studentised(x, e)
            known = np.isfinite(low)
            told += int(known.sum())
            held += int(((low <= true) & (true <= high))[known].sum())
    return held / told if told else float("nan")


def _amounts(
    kind: str, mean: float, shape: float, people: int, projects: int, generator: np.random.Generator
) -> tuple[np.ndarray, np.ndarray, float]:
    size = (projects, people)
    e = np.ones(size) if kind in ("mean",) else generator.lognormal(0, 0.4, size)
    rate = np.full(size, mean) if np.isinf(shape) else generator.gamma(shape, mean / shape, size)
    if kind == "rating":
        times = generator.poisson(mean, size)
        own = generator.normal(3, 0.7, size)
        drawn = np.clip(np.rint(own[:, :, None] + generator.normal(0, 0.7, (*size, int(times.max(initial=1))))), 1, 5)
        kept = np.arange(drawn.shape[2])[None, None, :] < times[:, :, None]
        return (drawn * kept).sum(axis=2), times.astype(float), 3.0
    if kind == "talk":
        # Words come in passages of ten or so.
        return generator.poisson(rate * e) * 10.0, e * 400, mean * 10 / 400
    return generator.poisson(rate * e).astype(float), e, mean


def coverage_of_differences(people: int, projects: int, seed: int = 4) -> dict[str, float]:
    """The same for differences: of shares, of means and rates."""
    generator = np.random.default_rng(seed + people)
    found = {}
    p, q = generator.uniform(0.05, 0.95, (2, projects))
    a, b = generator.binomial(people, p), generator.binomial(people, q)
    _, low, high = intervals.newcombe_difference(a, people, b, people)
    found["difference of shares"] = float(((low <= p - q) & (p - q <= high)).mean())
    share_low, share_high = intervals.wilson(a, people)
    found["share"] = float(((share_low <= p) & (p <= share_high)).mean())
    for kind in ("mean", "rate"):
        told = held = 0
        for mean, other in ((0.8, 0.8), (1.5, 3.0), (4.0, 2.0)):
            for shape in (0.3, 0.7, 2.0):
                ends = []
                for centre in (mean, other):
                    x, e, _ = _amounts(kind, centre, shape, people, projects // 4, generator)
                    ends += [x.sum(axis=1) / np.broadcast_to(e, x.shape).sum(axis=1), *intervals.studentised(x, e)]
                low, high = intervals.recovered_difference(*ends)
                known = np.isfinite(low)
                told, held = (
                    told + int(known.sum()),
                    held + int(((low <= mean - other) & (mean - other <= high))[known].sum()),
                )
        found[f"difference of {kind}s"] = held / told if told else float("nan")
    odds = 2.5
    base = np.full((projects, 3, 2), people)
    control = generator.uniform(0.15, 0.6, (projects, 3))
    case = odds * control / (1 - control + odds * control)
    says = generator.binomial(base, np.stack([case, control], axis=2))
    common = layers.common_odds_ratio(says, base[0])
    known = np.isfinite(common.ratio) & ~np.isnan(common.low)
    found["common odds ratio"] = float(((common.low <= odds) & (odds <= common.high))[known].mean())
    return found | {"who changed": _changes(people, projects, generator)}


def _changes(people: int, projects: int, generator: np.random.Generator) -> float:
    changed = generator.binomial(people, 0.5, projects)
    up = generator.binomial(changed, 0.65)
    low, high = intervals.clopper_pearson(up, changed)
    return float(((low <= 0.65) & (high >= 0.65)).mean())


def coverage_of_adjusted(people: int, projects: int, seed: int = 5) -> float:
    """Profile intervals of one group's odds ratio, three facts held."""
    generator = np.random.default_rng(seed + people)
    held = 0
    for _ in range(projects):
        facts = np.column_stack(
            [np.ones(people), np.arange(people) % 2, generator.integers(0, 2, people), generator.normal(size=people)]
        )
        true = np.array([-0.4, 1.0, 0.5, 0.3])
        says = (generator.random(people) < 1 / (1 + np.exp(-facts @ true)))[None]
        fit = regression.firth(facts, says)
        ends = regression.profile(facts, says, fit, 1)
        held += bool(ends.low[0] <= 1.0 <= ends.high[0])
    return held / projects


def coverage_of_told(setting: Setting, projects: int, seed: int = 6) -> float:
    """How many of the intervals that are told, widened for having been picked, hold the true difference of shares."""
    generator = np.random.default_rng(seed)
    told = missed = 0.0
    for _ in range(projects):
        family = _family(setting, generator)
        picked = [(row, pair) for row, pair in zip(*np.nonzero(family.sure | family.look), strict=True)]
        if not picked:
            continue
        _, low, high = family.interval(widened(len(picked), family.looked_at))
        last = len(setting.sizes) - 1
        true = np.array([-setting.gap if last == b else 0.0 for _, b in family.pairs])
        misses = sum(
            not low[row, pair] <= (true[pair] if row < setting.differ else 0.0) <= high[row, pair]
            for row, pair in picked
        )
        told, missed = told + 1, missed + misses / len(picked)
    return 1 - missed / projects if told else float("nan")


def power_told(projects: int, seed: int = 7) -> float:
    """The largest distance, in shares, between 80 % and the simulated power at the difference that is told to show, over
    sizes 5 to 60; more than that is never missed."""
    generator = np.random.default_rng(seed)
    worst = 0.0
    for first in (5, 8, 13, 21, 34, 60):
        for second in (5, 8, 13, 21, 34, 60):
            gap = power.smallest_difference(0.4, first, second)
            if np.isnan(gap):
                continue
            people, least = first + second, 1.0
            rejected = power.rejected(first, second)
            for high, low, turned in ((first, second, False), (second, first, True)):
                one, other = 0.4 + gap * low / people, 0.4 - gap * high / people
                if one > 1 + 1e-9 or other < -1e-9:
                    continue
                a, b = generator.binomial(high, min(one, 1), projects), generator.binomial(low, max(other, 0), projects)
                least = min(least, float((rejected[b, a] if turned else rejected[a, b]).mean()))
            worst = max(worst, 0.8 - least)
    return worst


def lines(projects: int) -> list[tuple[str, str, Callable[[], float | tuple[float, float]], float, bool]]:
    """What is measured: part, name, how, the limit, and whether it is an upper one."""
    found: list[tuple[str, str, Callable[[], float | tuple[float, float]], float, bool]] = []
    for setting in NOTHING_DIFFERS:
        found.append(
            ("anything sure where nothing differs", setting.name, Job(sure_by_chance, setting, projects), 0.055, True)
        )
    for setting in SOME_DIFFER:
        found.append(
            (
                "not real among sure (and real ones found)",
                setting.name,
                Job(false_discoveries, setting, projects // 4),
                0.05,
                True,
            )
        )
    for people in (8, 12, 20, 40):
        limit = 0.92 if people == 8 else 0.93
        for kind in ("mean", "rate", "talk", "rating"):
            found.append(
                (
                    "coverage, figure of a group",
                    f"{kind}, {people} people",
                    Job(coverage_of_figures, kind, people, projects),
                    limit,
                    False,
                )
            )
        for kind in (
            "share",
            "difference of shares",
            "difference of means",
            "difference of rates",
            "common odds ratio",
            "who changed",
        ):
            found.append(
                (
                    "coverage, differences",
                    f"{kind}, {people} people a group",
                    Job(_one_of, people, projects, kind),
                    limit,
                    False,
                )
            )
    for people in (40, 80):
        found.append(
            (
                "coverage, adjusted odds ratio",
                f"{people} people, three facts",
                Job(coverage_of_adjusted, people, projects // 4),
                0.93,
                False,
            )
        )
    for setting in SOME_DIFFER[:2]:
        found.append(
            (
                "coverage of what is told (picked)",
                setting.name,
                Job(coverage_of_told, setting, projects // 4),
                0.93,
                False,
            )
        )
    found.append(
        ("power: 80 % told minus simulated, at worst", "sizes 5 to 60", Job(power_told, projects * 10), 0.03, True)
    )
    return found


def _one_of(people: int, projects: int, kind: str) -> float:
    return coverage_of_differences(people, projects * 2)[kind]


class Job:
    """A call that another process can make."""

    def __init__(self, work: Callable[..., float | tuple[float, float]], *arguments: object) -> None:
        self.work, self.arguments = work, arguments

    def __call__(self) -> float | tuple[float, float]:
        return self.work(*self.arguments)


def measured(projects: int) -> Iterator[tuple[str, str, float | tuple[float, float], float, bool]]:
    every = lines(projects)
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        for (part, name, _, limit, upper), value in zip(
            every, pool.map(_call, [job for _, _, job, _, _ in every]), strict=True
        ):
            yield part, name, value, limit, upper


def _call(job: Callable[[], float | tuple[float, float]]) -> float | tuple[float, float]:
    return job()


def run(projects: int = 2000) -> bool:
    """Print all of it and write it beside the other figures; whether everything holds."""
    holds, kept, before = True, {}, ""
    for part, name, value, limit, upper in measured(projects):
        first = value[0] if isinstance(value, tuple) else value
        fine = first <= limit if upper else first >= limit
        holds &= fine
        if part != before:
            print(f"\n{part} ({'at most' if upper else 'at least'} {100 * limit:.1f} %)", flush=True)
            before = part
        more = f"   found {100 * value[1]:.0f} %" if isinstance(value, tuple) else ""
        print(f"  {name:<58}{100 * first:>7.1f} %{more}{'' if fine else '   ← doesn’t hold'}", flush=True)
        kept[f"{part}: {name}"] = {"share": round(first, 4), "limit": limit, "holds": bool(fine)}
    out = ROOT / "bench" / "results.json"
    held = json.loads(out.read_text()) if out.exists() else {}
    held["calibration"] = {"projects": projects, "shuffles": SHUFFLES, "figures": kept}
    out.write_text(json.dumps(held, indent=2) + "\n")
    print(f"\n{'Everything holds' if holds else 'Not everything holds'}, over {projects:,} made projects each.")
    return holds


if __name__ == "__main__":
    sys.exit(0 if run(int(sys.argv[1]) if len(sys.argv) > 1 else 2000) else 1)
