"""Made projects for calibration: people who say so much of each row, in groups, layers and conversations, as snapshots."""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from core.coding.guide import Guide, Put
from core.compare.by_part import compare
from core.compare.groups import Groups, crossed
from core.compare.measures import Base, MeasureId
from core.compare.question import Comparison
from core.compare.result import Result
from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture, Weave, texture

Ints = npt.NDArray[np.int64]
Floats = npt.NDArray[np.float64]
BASES: dict[str, Base] = {
    "people": "with_material", "passages": "row", "words": "talk", "per_person": "with_material", "rate": "words",
    "rating": "ratings",
}  # fmt: skip
_WORD = 3
"""Characters of a word with its blank."""


@dataclass(frozen=True)
class Setting:
    """What is made: ``sizes`` people in each group (of each of ``layers``); ``rows`` alike, each mentioned with chance
    ``share``, so many passages by whoever mentions it; ``conversations`` of so many people, whose mentions correlate by
    ``icc``, all in one group (``whole``) or dealt over groups."""

    name: str
    sizes: tuple[int, ...]
    rows: int
    measure: MeasureId = "people"
    base: Base | None = None
    share: float = 0.35
    layers: int = 1
    conversations: tuple[int, ...] = ()
    icc: float = 0.3
    whole: bool = True
    differ: int = 0
    gap: float = 0.0
    asked: tuple[float, ...] = ()
    """The chance of being asked about a row, by group; rows are asked about in three sets."""

    @property
    def people(self) -> int:
        return sum(self.sizes) * self.layers


def made(setting: Setting, generator: np.random.Generator) -> Result:
    """One project, compared."""
    label = np.tile(np.repeat(np.arange(len(setting.sizes)), setting.sizes), setting.layers)
    layer = np.repeat(np.arange(setting.layers), sum(setting.sizes))
    if not setting.whole:
        label = generator.permutation(label)
    block = _blocks(setting, label, generator)
    says = _mentions(setting, label, layer, block, generator)
    spoken = _amounts(setting, says, generator)
    words = generator.lognormal(5.5, 0.4, setting.people).astype(np.int64) + spoken.sum(axis=0) + 1
    snapshot, woven = project(spoken, words, block, generator if setting.measure == "rating" else None)
    groups = Groups(tuple("abcdef"[: len(setting.sizes)]), label.astype(np.int32))
    shown = groups
    if setting.layers > 1:
        outer = Groups(tuple(f"l{one}" for one in range(setting.layers)), layer.astype(np.int32))
        shown = crossed(outer, groups, snapshot.talks)  # type: ignore[assignment]
    asked = Comparison(
        tuple(range(setting.rows)), shown, measure=setting.measure, base=setting.base or BASES[setting.measure],
        guide=_guide(setting, label, generator) if setting.asked else None,
        layers=setting.layers, texture=woven if setting.measure == "words" else None, seed=int(generator.integers(2**31)),
    )  # fmt: skip
    return compare(snapshot, asked)


_SETS = 3


def _guide(setting: Setting, label: Ints, generator: np.random.Generator) -> Guide:
    """Three questions, each put to everybody with the chance of their group, about every third row."""
    put = generator.random((_SETS, setting.people)) < np.asarray(setting.asked)[label]
    question, turn = np.nonzero(put)
    return Guide(Put(turn, question), tuple(tuple(range(one, setting.rows, _SETS)) for one in range(_SETS)))


def _blocks(setting: Setting, label: Ints, generator: np.random.Generator) -> Ints:
    """The conversation of each person, −1 for none: of people of one group where ``whole``."""
    block = np.full(setting.people, -1, np.int64)
    for number, size in enumerate(setting.conversations):
        free = np.flatnonzero(block < 0)
        if setting.whole:
            at = int(generator.choice(label[free]))
            free = free[label[free] == at]
        if len(free) >= size:
            block[generator.choice(free, size, replace=False)] = number
    return block


def _mentions(
    setting: Setting, label: Ints, layer: Ints, block: Ints, generator: np.random.Generator
) -> npt.NDArray[np.bool_]:
    share = np.full((setting.rows, setting.people), setting.share)
    if setting.layers > 1:
        # Layers differ, groups within them don't.
        share = share + np.where(layer % 2 == 0, -0.15, 0.15)[None, :]
    share[: setting.differ, label == len(setting.sizes) - 1] += setting.gap
    share = np.clip(share, 0.02, 0.98)
    says = generator.random(share.shape) < share
    if len(setting.conversations):
        # Of one conversation all take up, with this chance, what its first one says: mentions then correlate by the icc.
        for number in range(len(setting.conversations)):
            members = np.flatnonzero(block == number)
            if len(members):
                follows = generator.random((setting.rows, len(members))) < np.sqrt(setting.icc)
                lead = generator.random(setting.rows) < share[:, members[0]]
                says[:, members] = np.where(follows, lead[:, None], says[:, members])
    return says


def _amounts(setting: Setting, says: npt.NDArray[np.bool_], generator: np.random.Generator) -> Ints:
    """Passages of whoever mentions a row: uneven, as a few talk most."""
    if setting.measure == "people":
        return says.astype(np.int64)
    return np.where(says, 1 + generator.poisson(generator.gamma(0.5, 2.0, says.shape)), 0)


def project(
    spoken: Ints, words: Ints, block: Ints, rated: np.random.Generator | None = None
) -> tuple[Snapshot, Texture]:
    """``spoken`` (rows, people) passages of one word each, in one interview a person of so many ``words`` (people,); people
    of one ``block`` (people,) speak together in one more document; ``rated``: every coding has a rating, made with it."""
    rows, people = spoken.shape
    per = spoken.sum(axis=0)
    owner = np.repeat(np.arange(people), per)
    row = np.concatenate([np.repeat(np.arange(rows), spoken[:, person]) for person in range(people)] or [np.zeros(0)])
    number = np.arange(len(owner)) - np.repeat(np.cumsum(per) - per, per)
    start, each, made_of = number * _WORD, np.arange(people), np.arange(len(owner))
    snapshot = Snapshot(
        1, each, each, np.zeros(people, np.int64), words * _WORD - 1, each, words, np.zeros(people, np.int8), each, each,
        made_of, owner, start, start + _WORD - 1, made_of, row.astype(np.int64), np.zeros(len(owner), np.int64),
        np.arange(rows), np.full(rows, -1), np.array([0]),
    )  # fmt: skip
    if rated is not None:
        centre = rated.normal(3, 0.8, people)[owner]
        rating = np.clip(np.rint(centre + rated.normal(0, 0.8, len(owner))), 1, 5).astype(np.int8)
        snapshot = replace(snapshot, coding_rating=rating)
    weaves = [
        Weave(np.stack([np.arange(count) * _WORD, np.arange(count) * _WORD + _WORD - 1], axis=1).astype(np.int32), np.zeros(1, np.int32))
        for count in words.tolist()
    ]  # fmt: skip
    for one in np.unique(block[block >= 0]).tolist():
        snapshot = _spoke_together(snapshot, np.flatnonzero(block == one))
        weaves.append(Weave(np.zeros((0, 2), np.int32), np.zeros(1, np.int32)))
    return snapshot, texture(snapshot, weaves)


def _spoke_together(snapshot: Snapshot, people: Ints) -> Snapshot:
    document, speakers, turns = len(snapshot.document_ids), len(snapshot.speaker_role), np.arange(len(people))
    return replace(
        snapshot,
        document_ids=np.append(snapshot.document_ids, document),
        turn_document=np.append(snapshot.turn_document, np.full(len(people), document)),
        turn_start=np.append(snapshot.turn_start, turns * 10),
        turn_end=np.append(snapshot.turn_end, turns * 10 + 9),
        turn_speaker=np.append(snapshot.turn_speaker, speakers + turns),
        turn_words=np.append(snapshot.turn_words, np.zeros(len(people), np.int64)),
        speaker_role=np.append(snapshot.speaker_role, np.zeros(len(people), np.int8)),
        speaker_case=np.append(snapshot.speaker_case, people),
    )
