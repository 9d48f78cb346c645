"""Topics that words propose: phrases that several people say near each other, and phrases that share their words.

1. *Phrases*: a word, or two or three near each other within a sentence; forms of a word are one (snowball stems).
2. The ones that tell most of where they stand are weighed: by tf–idf over *stretches*, a few sentences each (Manning, Raghavan &
   Schütze 2008, section 6.2; scikit-learn's).
3. *Bound*: two phrases are where enough people say both in one stretch or the next, and more often than by chance (log-likelihood
   ratio, Dunning 1993; normalised pointwise mutual information, Bouma 2009).
4. *Topics*: non-negative matrix factorisation of how the phrases are bound (Lee & Seung 1999; scikit-learn's NMF): a phrase belongs
   where it weighs most. Then each takes in the phrases that its own words are part of.

Nothing here is more than a proposal to read: a topic is words, and its hits are the sentences that hold them.
"""

import warnings
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import zip_longest
from math import ceil

import numpy as np
import numpy.typing as npt
from scipy import sparse

from core.coding.phrases import Phrases, phrases_of
from core.coding.talk import Spoken, Talk, spoken_in
from core.language import say

Ints = npt.NDArray[np.int64]
Floats = npt.NDArray[np.float64]
EVERYWHERE = 0.5
"""Share of stretches from which a phrase tells no topic from another."""
MOST_PHRASES = 2_000
"""Phrases that are weighed."""
A_TOPIC, TAKEN_IN = 6, 6
"""Phrases of a topic that are bound, and those taken in as they share words, at most."""
LEAST = 0.35
"""Weight of a phrase in its topic, of the heaviest one's, from which it belongs to it."""
BOUND = 6.63
"""Log-likelihood ratio from which two phrases are bound: the 1 % point of chi-square with one degree of freedom. A sieve and no
test: stretches of one person aren't independent of each other."""
STRONG = 0.2
"""How much two phrases are bound at least: among millions of pairs many reach the ratio by chance, hardly any of them this."""
TOGETHER = 0.5
"""Share of those who say a phrase's rarest word that say all of it, from which its words belong together."""
FEWEST_WORDS, FEWEST_PEOPLE, MANY_PEOPLE = 100, 2, 100
"""Words and people from which there is anything to gather; people from which a phrase is one in a hundred's, not two people's."""
SEED = 8321
Told = Callable[[float], None]


class TooLittle(ValueError):
    """There is too little to find topics in; the message is a sentence."""


@dataclass(frozen=True)
class Phrase:
    """``said``: its commonest form. ``sentences``: places among the talk's sentences, in order."""

    said: str
    sentences: Ints


@dataclass(frozen=True)
class Topic:
    name: str
    phrases: tuple[Phrase, ...]

    @property
    def sentences(self) -> Ints:
        """Places of the sentences that hold any of its phrases, in order."""
        return np.unique(np.concatenate([one.sentences for one in self.phrases]))


@dataclass(frozen=True)
class Proposal:
    """Topics, those of most people first, and the words they were found in."""

    topics: tuple[Topic, ...]
    spoken: Spoken


def propose(
    talks: Sequence[Talk], language: str, idle: Callable[[set[str]], set[str]], many: int, told: Told
) -> Proposal:
    """At most ``many`` topics. ``idle``: which of these folded words say nothing. ``told`` hears how far it is, 0 to 1. Raises
    ``TooLittle``."""
    spoken = spoken_in(talks, language, idle, lambda far: told(0.6 * far))
    people = len(np.unique(spoken.person))
    _check(spoken, people)
    least = max(2, ceil(people / MANY_PEOPLE))
    found = phrases_of(spoken, least, lambda far: told(0.6 + 0.2 * far))
    told(0.8)
    counts = _by_stretch(spoken, found)
    kept = _telling(counts)
    if not len(kept):
        raise TooLittle(say("No word that says something is said by two people here: there is nothing to gather."))
    bonds = _bonds(spoken, counts[:, kept], least)
    told(0.9)
    topics = _topics(spoken, found, kept, _loads(bonds, many), many)
    return Proposal(tuple(sorted(topics, key=lambda one: _order(spoken, one))), spoken)


def _check(spoken: Spoken, people: int) -> None:
    words = len(spoken.stem)
    if words < FEWEST_WORDS:
        raise TooLittle(
            say(
                "Participants say {words} {words, plural, one {word} other {words}} here; topics are gathered from {fewest} words on.",
                words=words,
                fewest=FEWEST_WORDS,
            )
        )
    if people < FEWEST_PEOPLE:
        raise TooLittle(say("Only one person speaks here: what several talk about can’t be told from that."))


def _order(spoken: Spoken, topic: Topic) -> tuple[int, int, str]:
    sentences = topic.sentences
    return -len(np.unique(spoken.speaker[sentences])), -len(sentences), topic.name


def _telling(counts: sparse.csr_matrix) -> Ints:
    """The phrases to weigh: said in some stretches and not in others, of most weight by tf–idf in all stretches together."""
    holding = counts.getnnz(axis=0)
    usable = np.flatnonzero((holding <= max(EVERYWHERE * counts.shape[0], 3)) & (holding > 1))
    if len(usable) <= MOST_PHRASES:
        return usable
    from sklearn.feature_extraction.text import TfidfTransformer

    weights = TfidfTransformer(sublinear_tf=True).fit_transform(counts[:, usable])
    heaviest = np.argsort(-np.asarray(weights.sum(axis=0)).ravel(), kind="stable")[:MOST_PHRASES]
    return np.sort(usable[heaviest])


def _by_stretch(spoken: Spoken, found: Phrases) -> sparse.csr_matrix:
    """How often each phrase is said in each stretch; (stretches, phrases)."""
    stretch = spoken.stretch[spoken.sentence[found.at]]
    shape = (int(spoken.stretch.max(initial=-1)) + 1, len(found.people))
    counts = sparse.csr_matrix((np.ones(len(stretch)), (stretch, found.phrase)), shape)
    counts.sum_duplicates()
    return counts


def _bonds(spoken: Spoken, counts: sparse.csr_matrix, least: int) -> Floats:
    """How much the phrases are bound, 0 to 1; a phrase to itself as much as to the one it is bound to most. (phrases, phrases)"""
    near = _near(spoken, counts)
    joint = np.asarray((near.T @ near).toarray())
    said, windows = np.diag(joint).copy(), max(near.shape[0], 2)
    chance = said[:, None] * said[None, :] / windows
    more = np.log(np.maximum(joint, 1e-9) / np.maximum(chance, 1e-9))
    speakers = _of_stretches(spoken, spoken.speaker)
    bound = (joint > chance) & (_ratio(joint, said, windows) >= BOUND) & (_people_of_both(near, speakers) >= least)
    np.fill_diagonal(bound, False)
    bonds = np.where(bound, more / -np.log(np.minimum(np.maximum(joint, 1), windows - 1) / windows), 0)
    bonds[bonds < STRONG] = 0
    np.fill_diagonal(bonds, bonds.max(axis=1, initial=0))
    return np.asarray(bonds, np.float64)


def _ratio(joint: Floats, said: Floats, windows: int) -> Floats:
    """The log-likelihood ratio of each pair's fourfold table of stretches: both, one, the other, neither (Dunning 1993)."""
    rows, columns = said[:, None], said[None, :]
    cells = (
        (joint, rows * columns),
        (rows - joint, rows * (windows - columns)),
        (columns - joint, (windows - rows) * columns),
        (windows - rows - columns + joint, (windows - rows) * (windows - columns)),
    )
    total = np.zeros_like(joint)
    for seen, expected in cells:
        there = seen > 0
        total[there] += seen[there] * np.log(seen[there] * windows / expected[there])
    return 2 * total


def _of_stretches(spoken: Spoken, of_sentence: Ints) -> Ints:
    """What all sentences of a stretch share, by stretch."""
    found = np.zeros(int(spoken.stretch.max(initial=-1)) + 1, np.int64)
    found[spoken.stretch] = of_sentence
    return found


def _near(spoken: Spoken, counts: sparse.csr_matrix) -> sparse.csr_matrix:
    """Of each stretch whether a phrase is said in it or in the next of the same turn."""
    turn = _of_stretches(spoken, spoken.turn)
    follows = sparse.diags((turn[1:] == turn[:-1]).astype(float), 1, shape=(len(turn), len(turn)))
    there = ((sparse.identity(len(turn)) + follows) @ (counts > 0).astype(float)).tocsr()
    there.data[:] = 1
    return there


def _people_of_both(near: sparse.csr_matrix, speaker: Ints) -> Ints:
    """How many people say both of two phrases near each other; (phrases, phrases)."""
    _, who, stretches = np.unique(speaker, return_inverse=True, return_counts=True)
    # Those of one stretch each, as in a survey, are counted all at once.
    once = near[stretches[who] == 1]
    total = np.asarray((once.T @ once).toarray(), np.int64)
    order = np.argsort(who, kind="stable")
    by_person = near[order]
    for first, last in zip((np.cumsum(stretches) - stretches).tolist(), np.cumsum(stretches).tolist(), strict=True):
        if last - first > 1:
            own = by_person[first:last]
            both = (own.T @ own).tocoo()
            total[both.row, both.col] += 1
    return total


def _loads(bonds: Floats, many: int) -> Floats:
    """How much each phrase weighs in each topic, by topics of one length; (topics, phrases)."""
    linked = int((bonds > 0).any(axis=1).sum())
    if linked < 2:
        return np.zeros((0, bonds.shape[0]))
    from sklearn.decomposition import NMF
    from sklearn.exceptions import ConvergenceWarning

    with warnings.catch_warnings():
        # A proposal needn't be the best one to the last digit.
        warnings.simplefilter("ignore", ConvergenceWarning)
        model = NMF(max(1, min(many, linked // 2)), init="nndsvd", random_state=SEED, max_iter=200, tol=1e-3)
        model.fit(sparse.csr_matrix(bonds))
    loads = np.asarray(model.components_, np.float64)
    length = np.sqrt((loads**2).sum(axis=1, keepdims=True))
    return loads / np.where(length > 0, length, 1)


def _topics(spoken: Spoken, found: Phrases, kept: Ints, loads: Floats, many: int) -> list[Topic]:
    """A topic of each factor; where these are few, phrases that are in none are one each."""
    gathered = list(_gathered(found, kept, loads))
    taken = [set(found.stems[place]) for bound in gathered for place in bound]
    for place in _alone(found, kept):
        own = set(found.stems[place])
        # What holds a phrase that is there already is listed with it.
        if len(gathered) < many and not any(words <= own for words in taken):
            gathered.append([place])
            taken.append(own)
    by_stem: dict[int, list[int]] = {}
    for place in kept.tolist():
        for one in set(found.stems[place]):
            by_stem.setdefault(one, []).append(place)
    order = np.argsort(found.phrase, kind="stable")
    sentence = spoken.sentence[found.at[order]]
    ends = np.searchsorted(found.phrase[order], np.arange(len(found.people) + 1))

    def phrase(place: int) -> Phrase:
        return Phrase(found.said[place], np.unique(sentence[ends[place] : ends[place + 1]]))

    return [
        Topic(_named(found, bound), tuple(map(phrase, [*bound, *_sharing(found, bound, by_stem)])))
        for bound in gathered
    ]


def _alone(found: Phrases, kept: Ints) -> list[int]:
    """Phrases in the order in which each may be a topic of its own: in turns those of several words that belong together and the
    other ones, each by people. Of a few words that go with each other more can be told than of a word that many say."""
    order = kept[np.argsort(-found.people[kept], kind="stable")].tolist()
    people = {
        found.stems[place][0]: int(found.people[place])
        for place in range(len(found.people))
        if len(found.stems[place]) == 1
    }
    several: list[int] = []
    others: list[int] = []
    for place in order:
        stems = found.stems[place]
        # A word that is hardly ever said without the others has no place of its own.
        rarest = min((people.get(one, 0) for one in stems), default=0)
        together = len(stems) > 1 and found.people[place] >= TOGETHER * rarest
        (several if together else others).append(place)
    return [one for pair in zip_longest(several, others) for one in pair if one is not None]


def _gathered(found: Phrases, kept: Ints, loads: Floats) -> Iterator[list[int]]:
    """Of each factor its phrases, the heaviest first."""
    heaviest = loads.argmax(axis=0) if len(loads) else np.zeros(0)
    for number, load in enumerate(loads):
        own = np.flatnonzero((heaviest == number) & (load >= LEAST * load.max()) & (load > 0))
        own = own[np.lexsort((-found.people[kept[own]], -load[own]))][:A_TOPIC]
        if len(own):
            yield kept[own].tolist()


def _sharing(found: Phrases, bound: Sequence[int], by_stem: dict[int, list[int]]) -> list[int]:
    """Phrases that hold all words of one of these, those of most people first: they add no hit, but can stay where it goes."""
    own = [set(found.stems[place]) for place in bound]
    near = {other for words in own for one in words for other in by_stem[one]} - set(bound)
    wider = [other for other in near if any(words <= set(found.stems[other]) for words in own)]
    return sorted(wider, key=lambda other: (-found.people[other], found.said[other]))[:TAKEN_IN]


def _named(found: Phrases, bound: Sequence[int]) -> str:
    """The heaviest phrase; a word alone with the next one that isn't about it."""
    first = bound[0]
    other = next((one for one in bound[1:] if not set(found.stems[one]) & set(found.stems[first])), None)
    if len(found.stems[first]) > 1 or other is None:
        return found.said[first]
    return f"{found.said[first]}, {found.said[other]}"
