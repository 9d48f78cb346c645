"""A comparison as one sentence: what is counted, in whom, as a share of what."""

from dataclasses import dataclass
from typing import Literal

from core.compare.measures import measure_of
from core.compare.question import Comparison
from core.compare.result import Result
from core.language import say


@dataclass(frozen=True)
class Names:
    """The project's own words: what one case is called, and several; the column's variable;
    the chosen rows in words (``8 codes under Getting across``). ``second`` is the variable nested in the groups or
    making the layers; ``about`` whose fact the column's variable is, ``case`` or
    ``document``, or ``cohorts``; ``not_shown`` how many
    groups a table leaves out because there are too many; ``adjusted`` the facts that are held at once beside it."""

    one: str
    many: str
    variable: str
    rows: str
    filtered: str = ""
    second: str = ""
    about: str = "case"
    not_shown: int = 0
    adjusted: str = ""

    def put(self, words: str) -> str:
        """Words of a measure with the project's own in them."""
        return say(words, one=self.one, many=self.many)


PartKind = Literal["words", "rows", "variable", "second", "measure", "accord", "base", "roll_up", "adjusted", "scope"]


@dataclass(frozen=True)
class Part:
    """A stretch of the sentence; ``kind`` names what choosing it changes, ``words`` for plain ones and ``scope`` for what
    the scope leaves in play."""

    text: str
    kind: PartKind = "words"


@dataclass(frozen=True)
class Told:
    """Something said of a result: its words, and the kind of thing they are, for whoever has to decide by it."""

    kind: str
    text: str


def measure_words(measure: str, names: Names) -> str:
    return names.put(measure_of(measure).counted)


def base_words(measure: str, base: str, names: Names) -> str:
    return names.put(measure_of(measure).bases[base])


def sentence_parts(result: Result, names: Names) -> list[Part]:
    """The sentence that builds the comparison and captions every form of it."""
    asked = result.asked
    parts = [
        Part(say("Compare ")),
        Part(names.rows, "rows"),
        Part(say(" across ")),
        Part(names.variable, "variable"),
        *_second_parts(asked, names),
        Part(say(", counting ")),
        Part(measure_words(asked.measure, names), "measure"),
        *_accord_parts(asked),
        Part(say(result.measure.taken)),
        Part(base_words(asked.measure, asked.base, names), "base"),
        Part(say(". Branches ")),
        Part(say("rolled up") if asked.roll_up else say("not rolled up"), "roll_up"),
    ]
    if names.adjusted:
        parts += [Part(say("; adjusted for ")), Part(names.adjusted, "adjusted")]
    if names.filtered:
        parts += [Part("; "), Part(names.filtered, "scope")]
    return [*parts, Part(".")]


def accord_words(accord: str) -> str:
    return {
        "either": say("when asked or not"),
        "when_asked": say("when asked"),
        "own_accord": say("of their own accord"),
    }[accord]


def _accord_parts(asked: Comparison) -> list[Part]:
    """Only where a guide says who was asked; what counts all is left unsaid."""
    if asked.guide is None or asked.accord == "either":
        return []
    return [Part(" "), Part(accord_words(asked.accord), "accord")]


def _second_parts(asked: Comparison, names: Names) -> list[Part]:
    if not names.second:
        return []
    return [
        Part(say(", held apart by ") if asked.layers > 1 else say(" and, within each, ")),
        Part(names.second, "second"),
    ]


def sentence(result: Result, names: Names) -> str:
    return "".join(part.text for part in sentence_parts(result, names))
