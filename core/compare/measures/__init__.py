"""What can be counted: one file a measure. To add one, write its file and name it here; menus, the API's choices, exports
and legends read the rest from it."""

from typing import Literal, get_args

from core.compare.measures.measure import Inputs, Measure, Measured
from core.compare.measures.passages import PASSAGES
from core.compare.measures.people import PEOPLE
from core.compare.measures.per_person import PER_PERSON
from core.compare.measures.rate import RATE
from core.compare.measures.rating import RATING
from core.compare.measures.words import WORDS

MeasureId = Literal["people", "passages", "words", "per_person", "rate", "rating"]
Base = Literal["with_material", "everyone", "asked", "row", "column", "table", "talk", "words", "ratings"]

MEASURES: tuple[Measure, ...] = (PEOPLE, PASSAGES, WORDS, PER_PERSON, RATE, RATING)
"""In the order of the menu; the first is the usual one."""
_BY_ID = {one.id: one for one in MEASURES}
BASES: tuple[str, ...] = get_args(Base)

__all__ = ["BASES", "MEASURES", "Base", "Inputs", "Measure", "MeasureId", "Measured", "measure_of"]


def measure_of(name: str) -> Measure:
    """The measure of this id."""
    return _BY_ID[name]
