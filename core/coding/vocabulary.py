"""The words that people use most, by group, and those that set groups apart."""

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.text.words import words

Floats = npt.NDArray[np.float64]
EVERYBODYS = 0.8
"""Share of people from which a word counts as everybody’s: it, and, the."""
FEWEST = 5
"""People from which that share means anything."""
OUTSTANDING = 2.0
"""Standard errors from which a difference is pointed out."""
TALK = 200
"""Words from which somebody has said enough to use the everyday ones: the share is of these people."""


@dataclass(frozen=True)
class Vocabulary:
    """words    (words,)  most frequent first
    count       (words,)  how often each is said, in all groups
    people      (words,)  how many cases say it
    by_group    (words, groups)
    totals      (groups,) all words of each group, those left out too
    rates       (words, groups) times in 1,000 words of the group
    apart       (words, groups) how far the group's use stands out, in standard errors (see ``set_apart``)
    left_out    how many different words were left out as everybody's
    unsaid      how many others since they say nothing, or somebody left them out
    """

    words: tuple[str, ...]
    count: npt.NDArray[np.int64]
    people: npt.NDArray[np.int64]
    by_group: npt.NDArray[np.int64]
    totals: npt.NDArray[np.int64]
    apart: Floats
    left_out: int
    unsaid: int = 0

    @property
    def rates(self) -> Floats:
        return np.asarray(1000 * self.by_group / np.maximum(self.totals, 1), np.float64)

    @property
    def stands_out(self) -> npt.NDArray[np.int8]:
        """1 where a group says a word more than the others, −1 where less, 0 where neither can be told."""
        return (np.sign(self.apart) * (np.abs(self.apart) >= OUTSTANDING)).astype(np.int8)


def counted(text: str) -> Counter[str]:
    """How often each word occurs, folded; single letters and numbers aside."""
    plain = (word.casefold().replace("’", "'") for word in words(text))
    return Counter(word for word in plain if len(word) > 1 and not word.isdigit())


def vocabulary(
    spoken: Mapping[int, Counter[str]],
    group_of: Mapping[int, int],
    groups: int,
    without_everybodys: bool,
    without: Collection[str] = (),
) -> Vocabulary:
    """The words of ``spoken`` (case → counts). ``group_of``: case → group, absent where it is in none; such cases
    are in no count. A case's words count once for its group. ``without``: words that aren't listed; rates are of all words."""
    known = {case: group_of[case] for case in spoken if case in group_of}
    totals = np.zeros(groups, np.int64)
    count: Counter[str] = Counter()
    people: Counter[str] = Counter()
    for case, group in known.items():
        count.update(spoken[case])
        people.update(spoken[case].keys())
        totals[group] += sum(spoken[case].values())
    common = _everybodys([spoken[case] for case in known]) if without_everybodys else set()
    unsaid = {word for word in without if word in count}
    kept = [word for word in count if word not in common and word not in unsaid]
    kept.sort(key=lambda word: (-count[word], word))
    place = {word: at for at, word in enumerate(kept)}
    by_group = np.zeros((len(kept), groups), np.int64)
    for case, group in known.items():
        for word, times in spoken[case].items():
            if word in place:
                by_group[place[word], group] += times
    return Vocabulary(
        tuple(kept),
        np.array([count[word] for word in kept], np.int64),
        np.array([people[word] for word in kept], np.int64),
        by_group,
        totals,
        set_apart(by_group, totals),
        len(common - unsaid),
        len(unsaid),
    )


def _everybodys(spoken: Sequence[Counter[str]]) -> set[str]:
    """Words that nearly all say who say enough; nobody's where too few do."""
    talking = [counts for counts in spoken if sum(counts.values()) >= TALK]
    heard = talking if len(talking) >= FEWEST else spoken
    if len(heard) < FEWEST:
        return set()
    people = Counter(word for counts in heard for word in counts)
    return {word for word, times in people.items() if times >= EVERYBODYS * len(heard)}


def set_apart(by_group: npt.NDArray[np.int64], totals: npt.NDArray[np.int64], prior: float = 500.0) -> Floats:
    """Log-odds of each word in each group against all other groups, with an informative Dirichlet prior of ``prior``
    words in the proportions of all groups together, divided by its standard error; shape (words, groups).

    Monroe, Colaresi & Quinn 2008, "Fightin' words", equations 16 and 20 to 22 (from memory).
    """
    every = by_group.sum(axis=1)
    total = max(int(totals.sum()), 1)
    alpha = np.maximum(prior * every / total, 1e-9)[:, None]
    own, rest = by_group + alpha, every[:, None] - by_group + alpha
    own_total, rest_total = totals[None, :] + prior, total - totals[None, :] + prior
    odds = np.log(own / np.maximum(own_total - own, 1e-9)) - np.log(rest / np.maximum(rest_total - rest, 1e-9))
    return np.asarray(odds / np.sqrt(1 / own + 1 / rest), np.float64)


def most(held: Vocabulary, by: int | None, limit: int) -> Sequence[int]:
    """Places of the words to show: the most frequent, or those that set the group ``by`` apart the most."""
    if by is None:
        return range(min(limit, len(held.words)))
    return [int(at) for at in np.argsort(-held.apart[:, by], kind="stable")[:limit]]
