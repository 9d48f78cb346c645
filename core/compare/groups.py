"""The columns of a comparison: a label on cases, or, where a person may be in more than one group (by a fact about
documents, by cohorts that overlap), a membership of talks."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cached_property
from typing import Literal

import numpy as np
import numpy.typing as npt

from core.people.derived import band_names
from core.snapshot.talks import Talks
from core.text.missing import REASONS, MissingReason

Bools = npt.NDArray[np.bool_]

OUTSIDE = -100
"""Label of a case whose group exists but was not chosen."""
UNASKED = -101
"""Label of a case that is in a group shown, but wasn't asked about the row."""
Period = Literal["month", "quarter", "year"]
PERIODS: tuple[Period, ...] = ("month", "quarter", "year")
FEW_PERIODS = 8
"""Groups of a date up to which a shorter period is proposed."""


@dataclass(frozen=True)
class Groups:
    """``labels`` (cases,): position in ``names``, ``OUTSIDE``, or ``missing_label(reason)``. ``ranks`` are the places of
    the groups in the variable's own order, in whatever order they are asked for; empty: as they stand."""

    names: tuple[str, ...]
    labels: npt.NDArray[np.int32]
    ordered: bool = False
    ranks: tuple[int, ...] = ()

    @property
    def count(self) -> int:
        return len(self.names)

    @property
    def sizes(self) -> npt.NDArray[np.int64]:
        """Cases in each group, shape (groups,)."""
        return np.bincount(self.labels[self.labels >= 0], minlength=self.count)

    def indicator(self, keep: npt.NDArray[np.bool_] | None = None) -> npt.NDArray[np.float32]:
        """Shape (cases, groups): 1 where the case is of the group (and kept)."""
        member = self.labels[:, None] == np.arange(self.count)[None, :]
        if keep is not None:
            member &= keep[:, None]
        return member.astype(np.float32)

    def asked(self, who: Bools) -> "Groups":
        """Only cases of ``who`` (cases,) stay in their groups."""
        labels = np.where((self.labels >= 0) & ~who, UNASKED, self.labels)
        return Groups(self.names, labels.astype(np.int32), self.ordered, self.ranks)

    def choose(self, chosen: list[int]) -> "Groups":
        """Only these groups, in this order; cases of the others become ``OUTSIDE``."""
        place = np.full(self.count + 1, OUTSIDE, np.int32)
        place[chosen] = np.arange(len(chosen))
        labels = np.where(self.labels >= 0, place[np.maximum(self.labels, 0)], self.labels)
        names = tuple(self.names[place] for place in chosen)
        return Groups(names, labels.astype(np.int32), self.ordered, _ranks_of(self, chosen))


def missing_label(reason: MissingReason) -> int:
    """The label of a case without a value, for this reason."""
    return -1 - REASONS.index(reason)


def bands(values: npt.NDArray[np.float64], missing: npt.NDArray[np.int32], cuts: list[float]) -> Groups:
    """Groups of a number variable. ``missing`` (cases,) holds missing labels where a value
    is absent (there ``values`` is ignored); a value on a cut belongs to the band above it."""
    place = np.searchsorted(np.asarray(sorted(set(cuts)), float), values, side="right")
    return Groups(tuple(band_names(sorted(set(cuts)))), np.where(missing < 0, missing, place).astype(np.int32), True)


def proposed_cuts(values: npt.NDArray[np.float64]) -> list[float]:
    """Two round cut points that part the values in about equal thirds."""
    if len(values) < 3:
        return []
    low, high = np.quantile(values, [1 / 3, 2 / 3])
    spread = float(values.max() - values.min())
    step = 10 ** np.floor(np.log10(spread / 5)) if spread > 0 else 1.0
    if np.all(values == np.round(values)):
        step = max(step, 1.0)
    cuts = sorted({float(np.round(cut / step) * step) for cut in (low, high)})
    return [cut for cut in cuts if values.min() < cut <= values.max()]


def period_of(day: date, by: Period) -> str:
    """How a month, quarter or year is named; names stand in their own order."""
    if by == "year":
        return f"{day.year:04}"
    return f"{day.year:04}-{day.month:02}" if by == "month" else f"{day.year:04} Q{(day.month + 2) // 3}"


def proposed_period(days: Iterable[date]) -> Period:
    """The shortest that makes few enough groups to be read side by side."""
    known = list(days)
    return next((by for by in PERIODS if len({period_of(day, by) for day in known}) <= FEW_PERIODS), "year")


def periods(days: Sequence[date | None], missing: npt.NDArray[np.int32], by: Period) -> Groups:
    """Groups of a date variable: those periods in which a day lies. ``missing`` as for ``bands``."""
    named = [None if day is None or label < 0 else period_of(day, by) for day, label in zip(days, missing, strict=True)]
    every = tuple(sorted({name for name in named if name is not None}))
    place = {name: at for at, name in enumerate(every)}
    labels = [label if name is None else place[name] for name, label in zip(named, missing.tolist(), strict=True)]
    return Groups(every, np.array(labels, np.int32), True)


@dataclass(frozen=True)
class SharedGroups:
    """``member`` (talks, groups): what each talk belongs to; ``missing`` (talks,): why it belongs to none, ``OUTSIDE``
    or ``missing_label(reason)``, and 0 where it belongs to some.

    ``panel``: the groups are occasions on which the same people may have spoken, as waves are.
    """

    names: tuple[str, ...]
    member: Bools
    missing: npt.NDArray[np.int32]
    ordered: bool = False
    panel: bool = False
    ranks: tuple[int, ...] = ()

    @property
    def count(self) -> int:
        return len(self.names)

    @cached_property
    def apart(self) -> bool:
        """Whether no talk is in two groups."""
        return bool((self.member.sum(axis=1) < 2).all())

    @cached_property
    def pairs(self) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]:
        """Offsets (talks + 1,) into the groups of each talk, one after the other (pairs,)."""
        _, group = np.nonzero(self.member)
        return np.concatenate([[0], np.cumsum(self.member.sum(axis=1))]).astype(np.int64), group

    def asked(self, who: Bools) -> "SharedGroups":
        """Only talks of ``who`` (talks, groups) stay in their groups."""
        member = self.member & who
        missing = np.where(member.any(axis=1), 0, np.where(self.member.any(axis=1), UNASKED, self.missing))
        return SharedGroups(self.names, member, missing.astype(np.int32), self.ordered, self.panel, self.ranks)

    def choose(self, chosen: list[int]) -> "SharedGroups":
        """Only these groups, in this order; talks of none of them become ``OUTSIDE``."""
        member = self.member[:, chosen]
        missing = np.where(member.any(axis=1), 0, np.where(self.member.any(axis=1), OUTSIDE, self.missing))
        names = tuple(self.names[place] for place in chosen)
        return SharedGroups(names, member, missing.astype(np.int32), self.ordered, self.panel, _ranks_of(self, chosen))


AnyGroups = Groups | SharedGroups


def own_order(groups: AnyGroups) -> list[int]:
    """Places of the groups in the variable's own order."""
    ranks = groups.ranks or tuple(range(groups.count))
    return sorted(range(groups.count), key=lambda place: ranks[place])


def _ranks_of(groups: AnyGroups, chosen: list[int]) -> tuple[int, ...]:
    ranks = groups.ranks or tuple(range(groups.count))
    return tuple(ranks[place] for place in chosen)


def by_talk(groups: AnyGroups, talks: Talks) -> SharedGroups:
    """The same groups as labels on talks."""
    if isinstance(groups, SharedGroups):
        return groups
    label = groups.labels[talks.case]
    member = label[:, None] == np.arange(groups.count)[None, :]
    missing = np.where(label < 0, label, 0).astype(np.int32)
    return SharedGroups(groups.names, member, missing, groups.ordered, ranks=groups.ranks)


def by_documents(groups: Groups, talks: Talks) -> SharedGroups:
    """Groups by a fact about documents: ``groups.labels`` (documents,) label the documents."""
    label = np.append(groups.labels, OUTSIDE)[talks.document]
    member = label[:, None] == np.arange(groups.count)[None, :]
    missing = np.where(label < 0, label, 0).astype(np.int32)
    return SharedGroups(groups.names, member, missing, groups.ordered, panel=True, ranks=groups.ranks)


def by_cohorts(names: tuple[str, ...], member: Bools, talks: Talks) -> AnyGroups:
    """Groups by cohorts, ``member`` (cases, cohorts); plain groups where nobody is in two of them."""
    if (member.sum(axis=1) < 2).all():
        label = np.where(member.any(axis=1), member.argmax(axis=1) if len(names) else 0, OUTSIDE)
        return Groups(names, label.astype(np.int32))
    within = member[talks.case]
    return SharedGroups(names, within, np.where(within.any(axis=1), 0, OUTSIDE).astype(np.int32))


def by_document_cohorts(names: tuple[str, ...], member: Bools, talks: Talks) -> SharedGroups:
    """Groups by cohorts of documents, ``member`` (documents, cohorts): people who talk in several are the same people in each,
    as in waves."""
    within = np.vstack([member, np.zeros((1, member.shape[1]), bool)])[talks.document]
    return SharedGroups(names, within, np.where(within.any(axis=1), 0, OUTSIDE).astype(np.int32), panel=True)


def crossed(outer: AnyGroups, inner: AnyGroups, talks: Talks) -> AnyGroups:
    """Every outer group with every inner one within it, the inner changing fastest: ``Holm · spring``.

    What either lacks is missing for that reason, the outer one's first.
    """
    names = tuple(f"{a} · {b}" for a in outer.names for b in inner.names)
    if isinstance(outer, Groups) and isinstance(inner, Groups):
        label = outer.labels * inner.count + inner.labels
        label = np.where(outer.labels < 0, outer.labels, np.where(inner.labels < 0, inner.labels, label))
        return Groups(names, label.astype(np.int32))
    a, b = by_talk(outer, talks), by_talk(inner, talks)
    member = (a.member[:, :, None] & b.member[:, None, :]).reshape(len(talks.case), -1)
    missing = np.where(a.missing < 0, a.missing, b.missing)
    panel = a.panel or b.panel
    return SharedGroups(names, member, missing.astype(np.int32), False, panel)
