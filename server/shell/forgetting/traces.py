"""Words of what is forgotten in what others wrote: names, quotations, sentences of five words and more."""

import re
from collections.abc import Iterable
from datetime import date
from typing import Any, get_args

from core.compare.measures import BASES
from core.compare.told.sentence import PartKind
from core.language import say
from server.compare.asked import COLUMNS, FORMS, MEASURE_IDS
from server.compare.blocks import HOW, RELATIONS, UNITS
from server.compare.models import ROW_KINDS
from server.people.asked import OPERATORS

RUN = 5
"""Words in a row from which a text is taken for a quotation of what is forgotten."""
SOMEBODY = "somebody forgotten"
_OURS = {*MEASURE_IDS, *BASES, *COLUMNS, *OPERATORS, *RELATIONS, *UNITS, *HOW, *ROW_KINDS, *FORMS, *get_args(PartKind),
         "silent", "layers", "nested", "case", "document"}  # fmt: skip
"""What questions, conditions and answers are said with: none of it is a name, whoever is called so."""
_WORD = re.compile(r"\w+(?:['’]\w+)*")
_QUOTED = re.compile(r"[“„]([^“”„]+)[”“]")
"""As English and as German has it: what was done is kept in the words of whoever did it."""


class Traces:
    """Takes out of any text what tells of something forgotten. ``least``: so many words between quotation marks are taken for
    a quotation; fewer are as likely the name of a code."""

    def __init__(self, names: Iterable[str], texts: Iterable[str], day: date, least: int = 3) -> None:
        self._least = least
        self.instead = say("forgotten on {day}", day=day.isoformat())
        self.names = frozenset(names)
        # A number within a sentence is nearly always a figure: as a name it is known only where it stands alone.
        listed = sorted((one for one in self.names if not one.isdigit()), key=len, reverse=True)
        self._named = (
            re.compile(rf"(?<!\w)(?:{'|'.join(map(re.escape, listed))})(?!\w)", re.IGNORECASE) if listed else None
        )
        self._runs: set[tuple[str, ...]] = set()
        self._whole = []
        for text in texts:
            words = _words(text)
            self._runs.update(tuple(words[at : at + RUN]) for at in range(len(words) - RUN + 1))
            self._whole.append(" ".join(words))

    def text(self, said: str) -> str:
        """Without names, and without anything that is word for word what was forgotten."""
        if said in self.names:
            return SOMEBODY
        found = self._without_quotations(self._without_runs(said))
        return self._named.sub(SOMEBODY, found) if self._named else found

    def json(self, said: Any) -> Any:
        """The same of every text in a value, whatever it is made of; but for the words that questions are made of: somebody may be
        called “people”."""
        if isinstance(said, str):
            return said if said in _OURS else self.text(said)
        if isinstance(said, list):
            return [self.json(one) for one in said]
        if isinstance(said, dict):
            return {key: self.json(one) for key, one in said.items()}
        return said

    def _without_runs(self, said: str) -> str:
        places = list(_WORD.finditer(said))
        words = [one[0].casefold() for one in places]
        told = [False] * len(words)
        for at in range(len(words) - RUN + 1):
            if tuple(words[at : at + RUN]) in self._runs:
                told[at : at + RUN] = [True] * RUN
        pieces, last, at = [], 0, 0
        while at < len(words):
            if not told[at]:
                at += 1
                continue
            end = at
            while end + 1 < len(words) and told[end + 1]:
                end += 1
            pieces += [said[last : places[at].start()], f"[{self.instead}]"]
            last, at = places[end].end(), end + 1
        return "".join([*pieces, said[last:]]) if pieces else said

    def _without_quotations(self, said: str) -> str:
        """What stands between quotation marks may be shorter, and cut off."""

        def instead(found: re.Match[str]) -> str:
            if found[1] in self.names:
                return f"“{SOMEBODY}”"
            words = _words(found[1].rstrip("…"))
            quoted = len(words) >= self._least and any(_within(" ".join(words), whole) for whole in self._whole)
            return f"“[{self.instead}]”" if quoted else found[0]

        return _QUOTED.sub(instead, said)


def _words(text: str) -> list[str]:
    return [one.casefold() for one in _WORD.findall(text)]


def _within(words: str, whole: str) -> bool:
    return f" {words} " in f" {whole} " or (f" {words}" in f" {whole}" and len(words) > 20)
