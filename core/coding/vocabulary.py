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
"""Standard errors from which a difference is pointed out, where it is rare among people dealt out anew as well."""
RARE, SHUFFLES, SEED = 0.05, 999, 8321
"""Share of shuffles up to which a difference is rare, how many there are, and what they begin with."""
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


def marked(
    held: Vocabulary, places: Sequence[int], spoken: Mapping[int, Counter[str]], group_of: Mapping[int, int]
) -> npt.NDArray[np.int8]:
    """Of the words at ``places`` in each group: 1 where the group says a word more than the others, −1 where less, 0 where
    neither can be told; shape (places, groups).

    Words of one person aren't said independently, so standard errors alone point out far too many. A mark stands only where the
    difference is reached in at most ``RARE`` of ``SHUFFLES`` shuffles of people over groups, too: p = (b + 1) / (m + 1).
    """
    people = [case for case in spoken if case in group_of]
    groups = held.by_group.shape[1]
    counts = np.array([[spoken[case][held.words[at]] for case in people] for at in places], np.int64)
    if not counts.size or groups < 2:
        return np.zeros((len(places), groups), np.int8)
    words = np.array([sum(spoken[case].values()) for case in people], np.int64)
    dealt = np.array([group_of[case] for case in people])
    own = held.apart[list(places)]
    reached = np.zeros(own.shape, np.int64)
    dice, every = np.random.default_rng(SEED), np.eye(groups, dtype=np.int64)
    for _ in range(SHUFFLES):
        inside = every[dice.permutation(dealt)]
        reached += np.abs(set_apart(counts @ inside, words @ inside)) >= np.abs(own) - 1e-9
    rare = (reached + 1) / (SHUFFLES + 1) <= RARE
    return (np.sign(own) * (rare & (np.abs(own) >= OUTSTANDING))).astype(np.int8)


def by_chance(marks: npt.NDArray[np.int8]) -> int:
    """How many marks there would be, at most, on average where groups don't differ at all."""
    return round(RARE * marks.size) if marks.shape[1] > 1 else 0
