"""Which one way of labelling a file has, and what its labels are."""

from collections import Counter
from collections.abc import Iterable, Sequence

from core.gather.labels import LabelledLine, Line, in_capitals, looks_named, plausible
from core.gather.roles import likely_role
from core.text.names import without_note

_MOST_LINES = 0.5
"""Share of a file's lines that labels before a dash or a tab have to explain: sentences hold dashes too."""
_WEIGHTS = {"bold": 1.2, "bracket": 1.2, "tab": 1.1, "alone": 0.9, "dash": 0.9}
"""Labels that are marked as such beat those that only look alike."""


def find_form(lines: Sequence[Line], taken: Sequence[Sequence[LabelledLine]]) -> tuple[str, set[str]]:
    """The one way of labelling that explains most lines, and the labels it finds; ``taken``: each line taken apart."""
    voices = {line.voice for line in lines if line.voice}
    if voices:
        return "voice", voices
    best: tuple[float, str, set[str]] = (0, "none", set())
    readings: dict[str, list[tuple[int, LabelledLine]]] = {}
    plain = [ways for line, ways in zip(lines, taken, strict=True) if not line.heading]
    for place, ways in enumerate(plain):
        for reading in ways:
            readings.setdefault(reading.form, []).append((place, reading))
    for form, found in readings.items():
        accepted = _accept(form, found)
        explained = [place for place, reading in found if reading.label in accepted]
        if not explained or (form in ("dash", "tab") and len(explained) < max(2, _MOST_LINES * len(plain))):
            continue
        weight = len(explained) * _WEIGHTS.get(form, 1.0)
        if weight > best[0]:
            best = (weight, form, accepted)
    return best[1], best[2]


def _accept(form: str, found: list[tuple[int, LabelledLine]]) -> set[str]:
    times = Counter(reading.label or "" for _, reading in found)
    stamped = {reading.label for _, reading in found if reading.time}
    accepted = set()
    for label, count in times.items():
        named = looks_named(label)
        short = len(label.split()) <= 4
        if form == "alone":
            # A line on its own is a label only if it recurs, or is plainly an ID or a role.
            # A number alone is a page's or a row's.
            numbered = any(c.isdigit() for c in label) and any(c.isalpha() for c in label) and not label.endswith(".")
            certain = named and (likely_role(label) != "participant" or numbered)
            recurs = count >= 2 and named and not label.isdigit() and not label.endswith(".") and len(label) <= 30
            good = certain or recurs or (label in stamped and named)
        elif form == "bold":
            good = named or count >= 2
        else:
            good = (named and count >= 1) or (count >= 2 and short and plausible(label) and label[0].isupper())
        if good:
            accepted.add(label)
    recurring = [label for label in accepted if times[label] >= 2]
    known = [label for label in accepted if likely_role(label) != "participant" or any(c.isdigit() for c in label)]
    if not recurring and not known and not (form == "bold" and len(accepted) > 1) and not _styled(form, accepted):
        return set()
    if recurring and form in ("bold", "bracket", "tab"):
        # Where labels are marked as such, whoever speaks once is marked too.
        accepted |= {label for label in times if len(label.split()) <= 4 and label[0].isupper()}
    return accepted


def _styled(form: str, accepted: set[str]) -> bool:
    """Several names in capitals, each before a colon: a panel in which everybody speaks once."""
    return form == "colon" and sum(in_capitals(label) and len(label.split()) > 1 for label in accepted) > 1


def joined(labels: Iterable[str]) -> dict[str, str]:
    """Label → the label of the same speaker: written in other letters, or with and without what is said of them behind
    the name. The first way that it is written stands for all."""
    first: dict[str, str] = {}
    found = {}
    for label in labels:
        key = " ".join(without_note(label).casefold().replace(".", " ").split()) or label
        found[label] = first.setdefault(key, label)
    # A note tells two apart who have one name: "Anna (mother)", "Anna (nurse)".
    notes: dict[str, set[str]] = {}
    for label, name in found.items():
        if without_note(label) != label:
            notes.setdefault(name, set()).add(label.casefold())
    return {label: label if len(notes.get(name, ())) > 1 else name for label, name in found.items()}
