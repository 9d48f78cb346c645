"""Which case a speaker is: suggestions, each with its reason and how certain it is."""

import itertools
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from rapidfuzz import fuzz, process

from core.language import message, say
from core.people.called import Called, Calling, Found, plain_identifier
from core.text.lists import listed
from core.text.names import without_note

Certainty = Literal["sure", "likely", "possible"]
LIKELY, POSSIBLE, CLEAR_OF_OTHERS = 90.0, 80.0, 5.0
"""Likeness of two names (0 to 100) from which it is likely, or possible, that they are one; and by how
much the best has to be clear of the second. Chosen on invented names; nothing is linked by them alone."""
MAIN = 2 / 3
"""Share of what participants say in a document from which one of them is its main speaker."""
_MOST_NAMED = 5
"""More people than this that a label could be are not listed: it is no name of anybody."""
_AT_ONCE = 500
"""Labels held against all names at once, which bounds the memory."""


@dataclass(frozen=True)
class UnlinkedSpeaker:
    """``alone``: the document's only participant; ``beginning``: the document's first words; ``share``: of what
    participants say in it."""

    key: int
    label: str
    document: str
    alone: bool
    beginning: str = ""
    share: float = 0.0

    @property
    def main(self) -> bool:
        return self.share >= MAIN


@dataclass(frozen=True)
class LinkProposal:
    """``case`` is None where nothing, or too much, points at a case; ``reason`` says why."""

    speaker: int
    case: int | None
    reason: str
    conflict: bool = False
    certainty: Certainty | None = None
    among: frozenset[int] = frozenset()
    """Cases that the label could be, where it names several."""


def plain_identifiers(texts: Sequence[str]) -> list[str]:
    """The same for many at once, which is quicker."""
    joined = "\n".join(texts).casefold()
    plain = re.sub(r"(?<!\d)0+(?=\d)", "", re.sub(r"[^\w\n]+|_+", "", joined)).split("\n")
    return plain if len(plain) == len(texts) else [plain_identifier(text) for text in texts]


def identifiers_in(file_name: str) -> set[str]:
    """Every stretch of a file name that could be an ID: its parts, and pairs of neighbours."""
    return _parts(_stem(file_name))


def _stem(file_name: str) -> str:
    return file_name.rsplit(".", 1)[0] if re.search(r"\.\w{1,5}$", file_name) else file_name


def _parts(text: str) -> set[str]:
    parts = [part for part in re.split(r"[\W_]+", text) if part]
    pairs = [left + right for left, right in itertools.pairwise(parts)]
    return {plain_identifier(part) for part in [*parts, *pairs]}


def propose_links(
    speakers: Sequence[UnlinkedSpeaker],
    cases: Mapping[int, str],
    callings: Sequence[Calling] = (),
    without_material: Sequence[int] = (),
) -> list[LinkProposal]:
    """One proposal a speaker. Sure: the label is one case's ID, or a whole name that a variable holds, or the file name or
    the first words hold one and the document has one participant, or two weaker signs agree. Likely and possible ones are
    only offered. Where signs disagree, nothing is guessed.

    ``callings`` is what variables hold of cases; ``without_material`` are cases nobody is linked to yet, in order.
    """
    known = Called(cases, callings)
    found = [_propose(speaker, known) for speaker in speakers]
    found = _by_likeness(speakers, found, known)
    found = _by_order(speakers, found, known, without_material)
    return _twice_at_once(speakers, found, known)


def _propose(speaker: UnlinkedSpeaker, known: Called) -> LinkProposal:
    label = _by_label(speaker, known)
    place = _by_place(speaker, known) if speaker.alone or speaker.main else _nobody(speaker)
    if label.conflict:
        if place.case not in label.among:
            return label
        reason = say("{one}; {other}", one=label.reason, other=place.reason)
        # Whoever is thanked in the first words has perhaps the same name; a file is called by who speaks.
        by_file = place.certainty == "sure" or not speaker.alone
        return LinkProposal(speaker.key, place.case, reason, certainty="sure" if by_file else "likely")
    if label.case is None:
        return place
    if place.conflict or place.case is None:
        return label
    if place.case != label.case and "sure" in (label.certainty, place.certainty):
        both = say("the label says {cases}, {place}", cases=known.cases[label.case], place=place.reason)
        return LinkProposal(speaker.key, None, both, True)
    if place.case != label.case:
        return LinkProposal(speaker.key, None, say("{one}, but {other}", one=label.reason, other=place.reason), True)
    reason = say("{one}; {other}", one=label.reason, other=place.reason)
    return LinkProposal(speaker.key, label.case, reason, certainty="sure")


def _nobody(speaker: UnlinkedSpeaker) -> LinkProposal:
    return LinkProposal(speaker.key, None, say("nothing points at one person"))


def _by_label(speaker: UnlinkedSpeaker, known: Called) -> LinkProposal:
    """Whom the label names: as an ID or name, letter for letter; else by whole names, by parts of names, by initials."""
    whole, label = known.by_writing(speaker.label), without_note(speaker.label)
    ways: tuple[tuple[Found, Certainty, str], ...] = (
        (whole if whole.cases else known.by_writing(label), "sure", message("label says {case}")),
        (known.by_full_name(label), "sure", message("“{label}” is the whole name of {case}")),
        (known.by_part_of_name(label), "likely", message("only {case} has “{label}” in a name")),
        (known.by_initials(label), "likely", message("“{label}” are initials that only {case} has")),
    )
    for found, certainty, words in ways:
        if len(found.cases) > 1:
            if len(found.cases) > _MOST_NAMED:
                return _nobody(speaker)
            said = listed([known.cases[case] for case in sorted(found.cases)])
            reason = say("“{label}” could be {said}", label=label, said=said)
            return LinkProposal(speaker.key, None, reason, True, among=found.cases)
        if found.one is not None:
            reason = say(words, label=label, case=known.cases[found.one])
            if found.said:
                reason = say("{reason} ({variable})", reason=reason, variable=found.said)
            return LinkProposal(speaker.key, found.one, reason, certainty="likely" if found.shared else certainty)
    return _nobody(speaker)


def _by_place(speaker: UnlinkedSpeaker, known: Called) -> LinkProposal:
    """Whom the file's name and the document's first words name, where one participant says all, or most, of it."""
    alone = speaker.alone
    stem = _stem(speaker.document)
    in_name = _both(known.by_parts(identifiers_in(speaker.document)).cases, known.in_text(stem).cases)
    if len(in_name) > 1:
        return LinkProposal(speaker.key, None, say("the file name holds {said}", said=known.said(in_name)), True)
    in_beginning = _both(known.by_parts(_parts(speaker.beginning)).cases, known.in_text(speaker.beginning).cases)
    if in_name:
        (case,) = in_name
        if alone and in_beginning and case not in in_beginning:
            said = say(
                "the file name says {cases}, its first words say {said}",
                cases=known.cases[case],
                said=known.said(in_beginning),
            )
            return LinkProposal(speaker.key, None, said, True)
        said = (
            say("file name holds {cases}, and one participant speaks", cases=known.cases[case])
            if alone
            else say("file name holds {cases}, and this speaker says most", cases=known.cases[case])
        )
        return LinkProposal(speaker.key, case, said, certainty="sure" if alone else "likely")
    if not alone:
        return _nobody(speaker)
    if len(in_beginning) == 1:
        (case,) = in_beginning
        said = say("its first words hold {cases}, and one participant speaks", cases=known.cases[case])
        return LinkProposal(speaker.key, case, said, certainty="likely")
    if len(in_beginning) > 1:
        return LinkProposal(speaker.key, None, say("its first words hold {said}", said=known.said(in_beginning)), True)
    return _nobody(speaker)


def _both(parts: frozenset[int], whole: frozenset[int]) -> frozenset[int]:
    """A first name may be anybody's; a whole name beside it says whose."""
    return parts & whole or parts | whole


def _open(proposal: LinkProposal) -> bool:
    return proposal.case is None and not proposal.conflict


def _by_likeness(speakers: Sequence[UnlinkedSpeaker], found: list[LinkProposal], known: Called) -> list[LinkProposal]:
    """Names that are nearly written alike: offered, never sure."""
    open_ones = [place for place, proposal in enumerate(found) if _open(proposal) and _is_name(speakers[place].label)]
    spelt = [one for one in known.spelt if _is_name(one[0])]
    if not open_ones or not spelt:
        return found
    names = [_in_order(name) for name, _, _ in spelt]
    owners = np.array([case for _, case, _ in spelt])
    for begin in range(0, len(open_ones), _AT_ONCE):
        places = open_ones[begin : begin + _AT_ONCE]
        likeness = process.cdist(
            [_in_order(speakers[place].label) for place in places],
            names,
            scorer=fuzz.ratio,
            score_cutoff=POSSIBLE - CLEAR_OF_OTHERS,
            dtype=np.float32,
            workers=-1,
        )
        best = likeness.argmax(axis=1)
        scores = likeness[np.arange(len(places)), best]
        for row in np.flatnonzero(scores >= POSSIBLE).tolist():
            name, case, variable = spelt[int(best[row])]
            others = likeness[row][owners != case]
            if scores[row] - (float(others.max()) if len(others) else 0.0) < CLEAR_OF_OTHERS:
                continue
            speaker = speakers[places[row]]
            said = say("“{label}” is written much like {cases}", label=speaker.label, cases=known.cases[case])
            if variable:
                said = say(
                    "“{label}” is written much like “{title}”, a name of {cases}",
                    label=speaker.label,
                    title=name,
                    cases=known.cases[case],
                )
            certainty: Certainty = "likely" if scores[row] >= LIKELY else "possible"
            found[places[row]] = LinkProposal(speaker.key, case, said, certainty=certainty)
    return found


def _in_order(name: str) -> str:
    """A name's words in alphabetical order: who puts the surname first writes the same name."""
    return " ".join(sorted(name.casefold().split()))


def _is_name(text: str) -> bool:
    """A name rather than a number: names can be misspelt, ``P12`` and ``P13`` are two people."""
    return len(re.findall(r"[^\W\d_]", text)) >= 3 and not re.search(r"\d", text)


def _by_order(
    speakers: Sequence[UnlinkedSpeaker], found: list[LinkProposal], known: Called, without: Sequence[int]
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


def _twice_at_once(speakers: Sequence[UnlinkedSpeaker], found: list[LinkProposal], known: Called) -> list[LinkProposal]:
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
