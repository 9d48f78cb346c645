"""Tables in which one column says who speaks and another what is said."""

import re
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from core.gather.labels import LONGEST, clean, plausible
from core.gather.timed import seconds_written

FEWEST_ROWS, MOST_COLUMNS = 3, 5
MOST_DIFFERENT = 0.6
"""Labels over rows up to which a column names speakers, who come back; facts about one person are all different."""
_HEADINGS = {
    "speaker", "speakers", "who", "name", "label", "person", "participant", "voice", "sprecher", "sprecherin", "wer",
    "sprechende", "locuteur", "qui", "hablante", "quién", "parlante", "chi", "spreker", "wie",
}  # fmt: skip


@dataclass(frozen=True)
class SpeakerColumns:
    """Places of columns: who speaks, what is said, and (None where there is none) when; ``numbers`` only count rows.
    ``headed``: the first row names the columns."""

    who: int
    said: int
    when: int | None
    numbers: tuple[int, ...]
    headed: bool


def speaker_columns(rows: Sequence[Sequence[str]]) -> SpeakerColumns | None:
    """How a table of a transcript is to be read, None where it is none; ``rows`` are its cells' words."""
    columns = len(rows[0]) if rows else 0
    if len(rows) < FEWEST_ROWS or not 2 <= columns <= MOST_COLUMNS or any(len(row) != columns for row in rows):
        return None
    words = [sum(len(row[place].split()) for row in rows) for place in range(columns)]
    said = max(range(columns), key=lambda place: words[place])
    others = [place for place in range(columns) if place != said]
    when = next((place for place in others if _all(rows, place, lambda cell: seconds_written(cell) is not None)), None)
    numbers = tuple(place for place in others if place != when and _all(rows, place, re.compile(r"\d+\.?$").match))
    for who in others:
        headed = rows[0][who].strip().casefold() in _HEADINGS or (
            when is not None and bool(rows[0][when].strip()) and seconds_written(rows[0][when]) is None
        )
        if who != when and who not in numbers and _names(rows[headed:], who) and words[said] >= 2 * words[who]:
            return SpeakerColumns(who, said, when, numbers, headed)
    return None


def _all(rows: Sequence[Sequence[str]], place: int, is_one: Callable[[str], object]) -> bool:
    """Whether most cells of a column are so; the first row may be its heading."""
    cells = [row[place].strip() for row in rows[1:] if row[place].strip()]
    return len(cells) * 2 >= len(rows) - 1 and all(is_one(cell) for cell in cells)


def _names(rows: Sequence[Sequence[str]], place: int) -> bool:
    labels = [clean(row[place]) for row in rows if row[place].strip()]
    times = Counter(labels)
    return (
        2 * len(labels) >= len(rows)
        and len(times) <= max(2, MOST_DIFFERENT * len(labels))
        and max(times.values()) > 1
        and all(len(label) <= LONGEST and plausible(label) for label in times)
    )
