"""What people are called: their ID and the columns of a sheet that name them, in whatever order and letters."""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

from core.text.names import words_of_name

LONGEST_NAME = 6
"""Words of the longest value that is taken for a name."""
_DISTINCT, _FEWEST = 0.9, 3
"""A column names people where this share of its values, and at least so many, are all different."""
_TOGETHER = 4
"""Columns that are tried in pairs: first name and surname."""
_NAME_WORDS = {"pseudonym", "alias", "called", "nom", "nombre", "apellido", "apellidos", "nome", "cognome", "prénom"}
_NAME_ENDS = ("name", "names", "namen", "naam", "mail")
"""Words of a column's name that say that it names, and ends of such words: surname, Vorname, e-mail."""
Name = frozenset[str]


@dataclass(frozen=True)
class Calling:
    """What a variable holds of a case: perhaps a name."""

    case: int
    words: str
    variable: str


@dataclass(frozen=True)
class Found:
    """Cases that a text points at; ``said`` is the variable that does; ``shared``: several cases have the same value there,
    so that whoever has this one alone in the sheet needn't be the only one who does."""

    cases: frozenset[int]
    said: str = ""
    shared: bool = False

    @property
    def one(self) -> int | None:
        return next(iter(self.cases)) if len(self.cases) == 1 else None


NOBODY = Found(frozenset())


def plain_identifier(text: str) -> str:
    """``P 07``, ``p-7`` and ``P07`` are written differently and mean one person."""
    joined = re.sub(r"[\W_]+", "", text.casefold())
    return re.sub(r"(?<!\d)0+(?=\d)", "", joined)


class Called:
    """Cases by every way that they are called."""

    def __init__(self, cases: Mapping[int, str], callings: Sequence[Calling]) -> None:
        self.cases = cases
        self._exact: dict[str, dict[int, str]] = {}
        self._plain: dict[str, dict[int, str]] = {}
        self._full: dict[Name, dict[int, str]] = {}
        self._words: dict[str, set[int]] = {}
        self._names: dict[int, list[list[str]]] = {}
        self._initials: dict[str, set[int]] = {}
        self.spelt: list[tuple[str, int, str]] = []
        """Names as they are written, whose, and what holds them ("" for the ID)."""
        for case, identifier in cases.items():
            self._add(case, identifier, "")
        naming = _naming(callings)
        self._shared = {variable for variable, different in naming.items() if not different}
        of_case: dict[int, list[Calling]] = {}
        for one in callings:
            if one.variable in naming:
                self._add(one.case, one.words, one.variable)
                of_case.setdefault(one.case, []).append(one)
        for case, those in of_case.items():
            for first, second in combinations(those[:_TOGETHER], 2):
                self._name(case, f"{first.words} {second.words}", f"{first.variable} + {second.variable}")

    def _add(self, case: int, written: str, variable: str) -> None:
        self._exact.setdefault(written.strip().casefold(), {}).setdefault(case, variable)
        plain = plain_identifier(written)
        if plain:
            self._plain.setdefault(plain, {}).setdefault(case, variable)
        self.spelt.append((written, case, variable))
        self._name(case, written.partition("@")[0], variable)

    def _name(self, case: int, written: str, variable: str) -> None:
        words = words_of_name(written)
        if not words or len(words) > LONGEST_NAME:
            return
        self._names.setdefault(case, []).append(words)
        if len(words) > 1:
            self._initials.setdefault("".join(word[0] for word in words), set()).add(case)
        for word in words:
            if len(word) > 1:
                self._words.setdefault(word, set()).add(case)
        if len(set(words)) > 1:
            self._full.setdefault(frozenset(words), {}).setdefault(case, variable)

    def by_writing(self, label: str) -> Found:
        """Whose ID or name it is, letter for letter, or but for signs and noughts."""
        found = self._exact.get(label.strip().casefold()) or self._plain.get(plain_identifier(label), {})
        variable = next(iter(found.values()), "")
        return Found(frozenset(found), variable, variable in self._shared)

    def by_parts(self, parts: Iterable[str]) -> Found:
        """Whose ID or name is among the parts of a file's name."""
        return Found(frozenset(case for part in parts for case in self._plain.get(part, ())))

    def by_full_name(self, label: str) -> Found:
        """Whose first and last names these are, in whatever order."""
        found = self._full.get(frozenset(words_of_name(label)), {})
        return Found(frozenset(found), next(iter(found.values()), ""))

    def by_part_of_name(self, label: str) -> Found:
        """Who alone has all these words in a name: a first name that one person bears, a name without its middle."""
        words = words_of_name(label)
        if not words or any(len(word) < 2 for word in words):
            return NOBODY
        sets = [self._words.get(word, set()) for word in words]
        together = frozenset.intersection(*map(frozenset, sets)) if sets else frozenset()
        return Found(frozenset(together))

    def by_initials(self, label: str) -> Found:
        """``J. Roe``, ``Jane R.``, ``JR``: whole words are words of the name, single letters the beginnings of others."""
        if re.fullmatch(r"[^\W\d_]{2,3}|(?:[^\W\d_]\.\s?){2,4}", label) and label == label.upper():
            return Found(frozenset(self._initials.get(re.sub(r"\W", "", label.casefold()), ())))
        words = words_of_name(label)
        letters, whole = [word for word in words if len(word) == 1], [word for word in words if len(word) > 1]
        if not letters or not whole:
            return NOBODY
        pool = set.intersection(*(self._words.get(word, set()) for word in whole))
        return Found(
            frozenset(case for case in pool if any(_begins(name, letters, whole) for name in self._names[case]))
        )

    def in_text(self, text: str) -> Found:
        """Whose whole name of two words or more stands in a text."""
        there = set(words_of_name(text))
        near = {case for word in there for case in self._words.get(word, ())}
        return Found(
            frozenset(
                case
                for case in near
                if any(len(set(name)) > 1 and there.issuperset(name) for name in self._names[case])
            )
        )

    def said(self, cases: Iterable[int]) -> str:
        return ", ".join(sorted(self.cases[case] for case in cases))


def _begins(name: Sequence[str], letters: Sequence[str], whole: Sequence[str]) -> bool:
    """Whether a name is these words, and begins its others with these letters, in order."""
    left = [word for word in name if word not in whole]
    if len(name) - len(left) != len(whole) or len(letters) > len(left):
        return False
    return all(word[0] == letter for word, letter in zip(left, letters, strict=False))


def is_a_name(variable: str) -> bool:
    """Whether a variable says that it is a name."""
    words = re.findall(r"\w+", variable.casefold())
    return any(word in _NAME_WORDS or word.endswith(_NAME_ENDS) for word in words)


def _naming(callings: Sequence[Calling]) -> dict[str, bool]:
    """Variables that name people, by their own name or since nearly every value is another; and whether it is."""
    values: dict[str, list[str]] = {}
    for one in callings:
        values.setdefault(one.variable, []).append(one.words.casefold())
    found = {}
    for variable, held in values.items():
        different = len(set(held)) >= _DISTINCT * len(held)
        short = sorted(len(words.split()) for words in held)[len(held) // 2] <= LONGEST_NAME
        if short and (is_a_name(variable) or (different and len(held) >= _FEWEST)):
            found[variable] = different
    return found
