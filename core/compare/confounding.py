"""Whether a difference between two groups may come from another fact: held apart by it, how much is left."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from core.compare.groups import Groups
from core.compare.result import Result
from core.statistics import association, layers

Bools = npt.NDArray[np.bool_]
Standing = Literal["stays", "shrinks", "vanishes", "reverses", "inseparable"]
FEWEST_KNOWN = 1 / 2
"""Below this share of the two groups' people with a value, a fact tells nothing of them."""
FEWEST_TOGETHER = 1 / 2
"""Below this share of the two groups' people in groups of the other fact that hold both, they can't be told apart."""
_LARGE_ODDS = 2.0
_LEFT, _HARDLY = 1 / 2, 1 / 3


@dataclass(frozen=True)
class Layering:
    """Another fact about people that a difference may come from: its name, and its groups."""

    name: str
    groups: Groups


@dataclass(frozen=True)
class HeldApart:
    """What is left of a difference within the groups of another fact. ``difference`` of standardised shares (each group's
    share if both had the same people in each group of the fact; the plain one in ``plain``), over the ``people`` of ``all``
    who are in groups that hold both; common odds ``ratio`` with its interval (0, infinite or NaN as it is)."""

    fact: str
    standing: Standing
    plain: float
    difference: float
    people: int
    all: int
    ratio: float
    low: float
    high: float


def held_apart(result: Result, row: int, high: int, low: int, others: list[Layering]) -> list[HeldApart]:
    """For each other fact; of people who mention a row, in two groups of different people.

    Standardised over the people of both (direct standardisation: Fleiss, Levin & Paik 2003, 19.1); common odds ratio:
    Mantel & Haenszel 1959.
    """
    counted = result.counted
    pair = counted.base[:, [high, low]]
    says = counted.counts[row] > 0 if counted.said is None else counted.said[row].sum(axis=0) > 0
    found = (_by(other, pair, says) for other in others)
    return [one for one in found if one is not None]


def _by(other: Layering, pair: Bools, says: Bools) -> HeldApart | None:
    layer = other.groups.labels[:, None] == np.arange(other.groups.count)[None, :]
    known = layer.any(axis=1)
    among = pair.any(axis=1)
    if (known & among).sum() < FEWEST_KNOWN * among.sum():
        return None
    base = layer.astype(np.int64).T @ pair.astype(np.int64)
    count = (layer & says[:, None]).astype(np.int64).T @ pair.astype(np.int64)
    plain_count, plain_base = (pair & (says & known)[:, None]).sum(axis=0), (pair & known[:, None]).sum(axis=0)
    with np.errstate(invalid="ignore", divide="ignore"):
        plain = float(plain_count[0] / plain_base[0] - plain_count[1] / plain_base[1])
    both = (base > 0).all(axis=1)
    everyone, together = int(base.sum()), int(base[both].sum())
    nan = float("nan")
    if not everyone or together < FEWEST_TOGETHER * everyone:
        return HeldApart(other.name, "inseparable", plain, nan, together, everyone, nan, nan, nan)
    share = count[both] / base[both]
    weight = base[both].sum(axis=1) / together
    left = float((weight * (share[:, 0] - share[:, 1])).sum())
    odds = layers.common_odds_ratio(count[None, both], base[both])
    ratio = float(odds.ratio[0])
    crude = float(association.odds_ratio(plain_count[None], plain_base)[0])
    test = layers.cochran_mantel_haenszel(count[None, both], base[both])
    standing = _standing(plain, left, crude, ratio, float(test.p[0]))
    return HeldApart(
        other.name, standing, plain, left, together, everyone, ratio, float(odds.low[0]), float(odds.high[0])
    )


def _standing(plain: float, left: float, crude: float, ratio: float, p: float) -> Standing:
    """The size decides, with the common odds ratio; an undefined one leaves it to the shares."""
    if np.isnan(ratio):
        return "inseparable"
    if left * plain < 0 and (ratio - 1) * plain < 0:
        return "reverses"
    with np.errstate(divide="ignore", invalid="ignore"):
        odds_left, odds_plain = abs(np.log(ratio)), abs(np.log(crude))
    hardly = bool(odds_left < odds_plain * _HARDLY and odds_left < np.log(_LARGE_ODDS))
    if p > 0.05 and (hardly or abs(left) < _HARDLY * abs(plain)):
        return "vanishes"
    return "shrinks" if abs(left) < _LEFT * abs(plain) else "stays"
