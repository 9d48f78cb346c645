"""Which case a speaker is: suggestions, each with its reason and how certain it is."""

import itertools
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from rapidfuzz import fuzz, process

from core.language import say
from core.text.lists import listed

Certainty = Literal["sure", "likely", "possible"]
LIKELY, POSSIBLE, CLEAR_OF_OTHERS = 90.0, 80.0, 5.0
"""Likeness of two names (0 to 100) from which it is likely, or possible, that they are one; and by how
much the best has to be clear of the second. Chosen on invented names; nothing is linked by them alone."""


@dataclass(frozen=True)
class UnlinkedSpeaker:
    """``alone``: the document's only participant; ``beginning``: the document's first words."""

    key: int
    label: str
    document: str
    alone: bool
    beginning: str = ""


@dataclass(frozen=True)
class LinkProposal:
    """``case`` is None where nothing, or too much, points at a case; ``reason`` says why."""

    speaker: int
    case: int | None
    reason: str
    conflict: bool = False
    certainty: Certainty | None = None


def plain_identifier(text: str) -> str:
    """``P 07``, ``p-7`` and ``P07`` are written differently and mean one person."""
    joined = re.sub(r"[\W_]+", "", text.casefold())
    return re.sub(r"(?<!\d)0+(?=\d)", "", joined)


def plain_identifiers(texts: Sequence[str]) -> list[str]:
    """The same for many at once, which is quicker."""
    joined = "\n".join(texts).casefold()
    plain = re.sub(r"(?<!\d)0+(?=\d)", "", re.sub(r"[^\w\n]+|_+", "", joined)).split("\n")
    return plain if len(plain) == len(texts) else [plain_identifier(text) for text in texts]


def identifiers_in(file_name: str) -> set[str]:
    """Every stretch of a file name that could be an ID: its parts, and pairs of neighbours."""
    stem = file_name.rsplit(".", 1)[0] if re.search(r"\.\w{1,5}$", file_name) else file_name
    return _parts(stem)


def _parts(text: str) -> set[str]:
    parts = [part for part in re.split(r"[\W_]+", text) if part]
    pairs = [left + right for left, right in itertools.pairwise(parts)]
    return {plain_identifier(part) for part in [*parts, *pairs]}


class _Known:
    """Cases by every way that they are called: their ID, and names that variables hold."""

    def __init__(self, cases: Mapping[int, str], names: Mapping[int, Sequence[str]]) -> None:
        self.cases = cases
        self.exact: dict[str, list[int]] = {}
        self.plain: dict[str, list[int]] = {}
        self.called: list[tuple[str, int]] = []
        for case, identifier in cases.items():
            self.exact.setdefault(identifier.strip().casefold(), []).append(case)
            self.plain.setdefault(plain_identifier(identifier), []).append(case)
            self.called.append((identifier.casefold(), case))
        for case, others in names.items():
            for name in others:
                self.exact.setdefault(name.strip().casefold(), []).append(case)
                self.plain.setdefault(plain_identifier(name), []).append(case)
                self.called.append((name.casefold(), case))

    def by_label(self, label: str) -> list[int]:
        found = self.exact.get(label.strip().casefold()) or self.plain.get(plain_identifier(label), [])
        return list(dict.fromkeys(found))

    def among(self, parts: set[str]) -> set[int]:
        return {case for part in parts for case in self.plain.get(part, [])}

    def said(self, cases: set[int] | Sequence[int]) -> str:
        return ", ".join(sorted(self.cases[case] for case in cases))


def propose_links(
    speakers: Sequence[UnlinkedSpeaker],
    cases: Mapping[int, str],
    names: Mapping[int, Sequence[str]] | None = None,
    without_material: Sequence[int] = (),
) -> list[LinkProposal]:
    """One proposal a speaker. Sure: the label equals one case's ID or name, or the file name or the
    first words hold one and the document has one participant. Likely and possible ones are only
    offered. Where signs disagree, nothing is guessed.

    ``names`` are further names of cases; ``without_material`` are cases nobody is linked to yet, in order.
    """
    known = _Known(cases, names or {})
    found = [_propose(speaker, known) for speaker in speakers]
    found = _by_likeness(speakers, found, known)
    found = _by_order(speakers, found, known, without_material)
    return _twice_at_once(speakers, found, known)


def _propose(speaker: UnlinkedSpeaker, known: _Known) -> LinkProposal:
    by_label = known.by_label(speaker.label)
    in_name = known.among(identifiers_in(speaker.document)) if speaker.alone else set()
    if len(by_label) > 1:
        said = listed([known.cases[case] for case in by_label])
        return LinkProposal(speaker.key, None, say("“{label}” could be {said}", label=speaker.label, said=said), True)
    if by_label:
        case = by_label[0]
        if in_name and case not in in_name:
            said = say(
                "the label says {cases}, the file name says {said}", cases=known.cases[case], said=known.said(in_name)
            )
            return LinkProposal(speaker.key, None, said, True)
        both = say(" and file name both say ") if case in in_name else say(" says ")
        return LinkProposal(
            speaker.key, case, say("label{both}{cases}", both=both, cases=known.cases[case]), certainty="sure"
        )
    if len(in_name) > 1:
        return LinkProposal(speaker.key, None, say("the file name holds {said}", said=known.said(in_name)), True)
    in_beginning = known.among(_parts(speaker.beginning)) if speaker.alone else set()
    if in_name:
        case = in_name.pop()
        if in_beginning and case not in in_beginning:
            said = say(
                "the file name says {cases}, its first words say {said}",
                cases=known.cases[case],
                said=known.said(in_beginning),
            )
            return LinkProposal(speaker.key, None, said, True)
        said = say("file name holds {cases}, and one participant speaks", cases=known.cases[case])
        return LinkProposal(speaker.key, case, said, certainty="sure")
    if len(in_beginning) == 1:
        case = in_beginning.pop()
        said = say("its first words hold {cases}, and one participant speaks", cases=known.cases[case])
        return LinkProposal(speaker.key, case, said, certainty="likely")
    if len(in_beginning) > 1:
        return LinkProposal(speaker.key, None, say("its first words hold {said}", said=known.said(in_beginning)), True)
    return LinkProposal(speaker.key, None, say("nothing points at one person"))


def _open(proposal: LinkProposal) -> bool:
    return proposal.case is None and not proposal.conflict


def _by_likeness(speakers: Sequence[UnlinkedSpeaker], found: list[LinkProposal], known: _Known) -> list[LinkProposal]:
    """Names that are nearly written alike: offered, never sure."""
    open_ones = [place for place, proposal in enumerate(found) if _open(proposal) and _is_name(speakers[place].label)]
    callable_ = [(name, case) for name, case in known.called if _is_name(name)]
    if not open_ones or not callable_:
        return found
    likeness = process.cdist(
        [speakers[place].label.casefold() for place in open_ones],
        [name for name, _ in callable_],
        scorer=fuzz.token_sort_ratio,
        score_cutoff=POSSIBLE - CLEAR_OF_OTHERS,
        dtype=np.float32,
    )
    owners = np.array([case for _, case in callable_])
    for row, place in enumerate(open_ones):
        best = int(likeness[row].argmax())
        score = float(likeness[row, best])
        others = likeness[row][owners != owners[best]]
        second = float(others.max()) if len(others) else 0.0
        if score < POSSIBLE or score - second < CLEAR_OF_OTHERS:
            continue
        case = int(owners[best])
        said = say("“{label}” is written much like {cases}", label=speakers[place].label, cases=known.cases[case])
        if callable_[best][0] != known.cases[case].casefold():
            said = say(
                "“{label}” is written much like “{title}”, a name of {cases}",
                label=speakers[place].label,
                title=callable_[best][0].title(),
                cases=known.cases[case],
            )
        found[place] = LinkProposal(
            speakers[place].key, case, said, certainty="likely" if score >= LIKELY else "possible"
        )
    return found


def _is_name(text: str) -> bool:
    """A name rather than a number: names can be misspelt, ``P12`` and ``P13`` are two people."""
    return len(re.findall(r"[^\W\d_]", text)) >= 3 and not re.search(r"\d", text)


def _by_order(
    speakers: Sequence[UnlinkedSpeaker], found: list[LinkProposal], known: _Known, without: Sequence[int]
) -> list[LinkProposal]:
    """As many documents by one person each as people without material: perhaps in the same order."""
    taken = {proposal.case for proposal in found}
    left = [case for case in without if case not in taken]
    open_ones = [place for place, proposal in enumerate(found) if _open(proposal) and speakers[place].alone]
    if len(left) == len(open_ones) == 1:
        case, place = left[0], open_ones[0]
        said = say("one speaker and one without material are left: {cases}", cases=known.cases[case])
        found[place] = LinkProposal(speakers[place].key, case, said, certainty="likely")
    elif len(left) == len(open_ones) > 1 and len({speakers[place].document for place in open_ones}) == len(open_ones):
        ordered = sorted(open_ones, key=lambda place: _natural(speakers[place].document))
        for number, (case, place) in enumerate(zip(left, ordered, strict=True), start=1):
            said = say("the same place in order: no. {number} of {left} in both", number=number, left=len(left))
            found[place] = LinkProposal(speakers[place].key, case, said, certainty="possible")
    return found


def _twice_at_once(speakers: Sequence[UnlinkedSpeaker], found: list[LinkProposal], known: _Known) -> list[LinkProposal]:
    """Two speakers of one document can't be one person: neither is guessed."""
    claims: dict[tuple[str, int], list[int]] = {}
    for place, proposal in enumerate(found):
        if proposal.case is not None:
            claims.setdefault((speakers[place].document, proposal.case), []).append(place)
    for (_, case), places in claims.items():
        sure = [place for place in places if found[place].certainty == "sure"]
        for place in places if len(sure) != 1 else [place for place in places if place not in sure]:
            if len(places) > 1:
                others = [say("“{name}”", name=speakers[other].label) for other in places if other != place]
                said = say(
                    "{others} of the same document also {count, plural, one {points} other {point}} at {cases}",
                    others=listed(others),
                    count=len(others),
                    cases=known.cases[case],
                )
                found[place] = LinkProposal(speakers[place].key, None, said, True)
    return found


def _natural(text: str) -> list[tuple[int, str]]:
    """``talk 2`` before ``talk 10``."""
    return [(int(part), "") if part.isdigit() else (-1, part.casefold()) for part in re.split(r"(\d+)", text)]
