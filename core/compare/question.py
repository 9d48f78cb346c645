"""What is asked: rows × groups, with a measure, a base and a scope."""

from dataclasses import dataclass, field
from typing import Literal, get_args

import numpy as np
import numpy.typing as npt

from core.coding.guide import Guide, interviewed
from core.compare.groups import AnyGroups
from core.compare.measures import Base, MeasureId, measure_of
from core.compare.rows import Row
from core.language import say
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture

Accord = Literal["either", "when_asked", "own_accord"]
"""Whether all that is said counts, or only what was said soon after a question on it, or without one."""
ACCORDS: tuple[str, ...] = get_args(Accord)


class ComparisonError(ValueError):
    """The comparison asked for makes no sense; the message says why."""


@dataclass(frozen=True)
class Comparison:
    """What is asked. ``rows`` are codes by position or other sets of passages, ``difference`` two groups (first minus
    second) by position, within each layer where there are layers; ``permutations`` 0 leaves the tests of all but people
    out. With ``layers`` above 1 the groups stand layer after layer, as many in each: tests then hold the layers apart.
    ``texture`` is needed to count words, ``guide`` to know who was asked; ``asked_in`` (documents,) are those in which the
    people of the groups were asked, where the groups hold nobody else."""

    rows: tuple[Row, ...]
    groups: AnyGroups
    roll_up: bool = True
    measure: MeasureId = "people"
    base: Base = "with_material"
    scope: Scope = field(default_factory=Scope)
    difference: tuple[int, int] | None = None
    layers: int = 1
    permutations: int = 0
    seed: int = 1
    texture: Texture | None = None
    guide: Guide | None = None
    accord: Accord = "either"
    asked_in: npt.NDArray[np.bool_] | None = None

    def __post_init__(self) -> None:
        measure = measure_of(self.measure)
        if self.base not in measure.bases:
            raise ComparisonError(
                say("{measure} can't be taken as a share of {base}.", measure=self.measure, base=self.base)
            )
        if self.difference and max(self.difference) >= self.groups.count // self.layers:
            raise ComparisonError(say("The difference asked for is between groups that aren't shown."))
        if measure.needs_texture and self.texture is None:
            raise ComparisonError(say("Words can't be counted without the texts."))
        if self.guide is None and (self.base == "asked" or self.accord != "either"):
            raise ComparisonError(
                say("Nobody can be said to have been asked before questions of the guide name their codes.")
            )
        if self.accord != "either" and self.measure == "rating":
            raise ComparisonError(say("Ratings aren’t told apart by whether people were asked: count something else."))

    def counted_in(self, snapshot: Snapshot) -> Scope:
        """What is counted: of ratings, only codings that carry one; of what was said when asked or not, only documents in which
        an interviewer says something: elsewhere nobody knows."""
        scope = self.scope if self.accord == "either" else interviewed(snapshot, self.scope)
        return measure_of(self.measure).counted_in(snapshot, scope)
