"""Speakers read from made texts in many styles: the share of turns that go to whoever said them, and of roles guessed right.

All texts are invented here. Each turn holds a word of its own, by which it is found again.
"""

import random
from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from core.gather.labels import Line
from core.gather.plain import text_lines
from core.gather.transcript import read_transcript
from core.text.names import without_note

_TALK = "boat late quay waited winter island never always home morning freight we the and then because us about dark"
WORDS = _TALK.split()
TEXTS = 40
FIRST, LAST = ["Jane", "Ana", "Tom", "Ravi", "Lena", "Omar"], ["Roe", "Voss", "Marsh", "Okafor", "Lindqvist", "McBride"]
_Turn = tuple[str, str, str]
"""Who, as what (role), and what is said."""


def _said(dice: random.Random, number: int, least: int, most: int, mark: str = ".") -> str:
    words = dice.choices(WORDS, k=dice.randint(least, most))
    return f"{' '.join([words[0].capitalize(), f'w{number}', *words[1:]])}{mark}"


def _talk(dice: random.Random, asks: str, answers: list[str], known: bool = True) -> list[_Turn]:
    """An interview: ``asks`` puts short questions; ``known``: the label says so."""
    turns: list[_Turn] = []
    for number in range(0, 24, 2):
        turns.append((asks, "interviewer", _said(dice, number, 3, 9, "?")))
        turns.append((dice.choice(answers), "participant", _said(dice, number + 1, 12, 50)))
    return turns


def _speech(dice: random.Random, name: str, others: list[str]) -> list[_Turn]:
    """A speech: one who speaks, and voices from the hall."""
    turns: list[_Turn] = []
    for number in range(0, 16, 2):
        turns.append((name, "participant", f"{_said(dice, number, 30, 90)} (Applause.)"))
        turns.append((dice.choice(others), "other", _said(dice, number + 1, 2, 5, "!")))
    return turns


def _lines(turns: list[_Turn], form: str) -> list[Line]:
    return text_lines("\n".join(form.format(who=who, said=said) for who, _, said in turns))


def _one_paragraph(turns: list[_Turn]) -> list[Line]:
    return text_lines(
        "Thank you for coming to the hall. " + " ".join(f"{who.upper()}: {said}" for who, _, said in turns)
    )


def _behind_directions(turns: list[_Turn]) -> list[Line]:
    return text_lines(
        "\n".join(
            f"{'(Applause.) ' if at % 3 == 0 else ''}{who.upper()}: {said}" for at, (who, _, said) in enumerate(turns)
        )
    )


def _noted_once(turns: list[_Turn]) -> list[Line]:
    seen: set[str] = set()
    lines = []
    for who, _, said in turns:
        lines.append(f"{who}{' (fisher, 52)' if who not in seen and ' ' in who else ''}: {said}")
        seen.add(who)
    return text_lines("\n".join(lines))


@dataclass(frozen=True)
class _Style:
    name: str
    talk: Callable[[random.Random], list[_Turn]]
    lines: Callable[[list[_Turn]], list[Line]]


def _name(dice: random.Random) -> str:
    return f"{dice.choice(FIRST)} {dice.choice(LAST)}"


def _initials(dice: random.Random) -> str:
    return f"Dr. {dice.choice('ABCDE')}. {dice.choice('FGHJK')}. {dice.choice(LAST)}"


_HALL = ["Audience Member", "Audience", "Unidentified Speaker", "Interpreter", "Announcer"]
STYLES = (
    _Style("a colon", lambda d: _talk(d, "Interviewer", ["P07"]), lambda t: _lines(t, "{who}: {said}")),
    _Style("a wide colon", lambda d: _talk(d, "Interviewer", ["P07", "P08"]), lambda t: _lines(t, "{who}：{said}")),
    _Style("a dash", lambda d: _talk(d, "Anna", ["Ben", "Cleo"]), lambda t: _lines(t, "{who} – {said}")),
    _Style("a tab", lambda d: _talk(d, "Anna", ["Ben", "Cleo"]), lambda t: _lines(t, "{who}\t{said}")),
    _Style("titles and initials", lambda d: _talk(d, _initials(d), [_name(d)]), lambda t: _lines(t, "{who}: {said}")),
    _Style("numbered lines", lambda d: _talk(d, "Moderator", ["Ben", "Cleo"]), lambda t: text_lines("\n".join(f"{n} {who}: {said}" for n, (who, _, said) in enumerate(t, start=1)))),
    _Style("what is said of them once", lambda d: _talk(d, "Interviewer", [_name(d)]), _noted_once),
    _Style("names only, one asks", lambda d: _talk(d, "Anna", ["Ben"]), lambda t: _lines(t, "{who}: {said}")),
    _Style("a speech, behind directions", lambda d: _speech(d, _name(d), _HALL), _behind_directions),
    _Style("a speech in one paragraph", lambda d: _speech(d, _name(d), _HALL), _one_paragraph),
    _Style("a field note, nobody labelled", lambda d: [("Whole document", "participant", _said(d, n, 10, 60)) for n in range(12)], lambda t: text_lines("\n".join(f"{said} {'Note: bring boots.' if at % 4 == 0 else ''}" for at, (_, _, said) in enumerate(t)))),
)  # fmt: skip


def run(report: Any) -> None:
    dice = random.Random(16)
    all_right = all_turns = 0
    for style in STYLES:
        right, turns, roles = 0, 0, defaultdict(list)
        for _ in range(TEXTS):
            talk = style.talk(dice)
            found = read_transcript(style.lines(talk))
            whose = {}
            for turn in found.turns:
                speaker = found.speakers[turn.speaker]
                for word in found.text[turn.start : turn.end].split():
                    whose[word.strip(".!?")] = speaker
            for who, role, said in talk:
                speaker = whose[
                    next(word for word in said.split() if word[0] == "w" and word.strip(".!?")[1:].isdigit()).strip(
                        ".!?"
                    )
                ]
                turns += 1
                right += _plain(speaker.label) == _plain(who)
                roles[who].append(speaker.role == role)
        report(f"turns given to who said them: {style.name}", right / turns, "")
        named = [one for those in roles.values() for one in those]
        report(f"their role guessed right: {style.name}", sum(named) / len(named), "")
        all_right, all_turns = all_right + right, all_turns + turns
    report("turns given to who said them: all styles", all_right / all_turns, "")


def _plain(label: str) -> str:
    return without_note(label).casefold()
