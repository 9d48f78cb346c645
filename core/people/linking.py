"""Which case a speaker is, where that is certain."""

import itertools
import re
from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class UnlinkedSpeaker:
    """``alone``: the document's only participant."""

    key: int
    label: str
    document: str
    alone: bool


@dataclass(frozen=True)
class LinkProposal:
    """``case`` is None where nothing, or too much, points at a case; ``reason`` says why."""

    speaker: int
    case: int | None
    reason: str
    conflict: bool = False


def plain_identifier(text: str) -> str:
    """``P 07``, ``p-7`` and ``P07`` are written differently and mean one person."""
    joined = re.sub(r"[\W_]+", "", text.casefold())
    return re.sub(r"(?<!\d)0+(?=\d)", "", joined)


def identifiers_in(file_name: str) -> set[str]:
    """Every stretch of a file name that could be an ID: its parts, and pairs of neighbours."""
    stem = file_name.rsplit(".", 1)[0] if re.search(r"\.\w{1,5}$", file_name) else file_name
    parts = [part for part in re.split(r"[\W_]+", stem) if part]
    pairs = [left + right for left, right in itertools.pairwise(parts)]
    return {plain_identifier(part) for part in [*parts, *pairs]}


def propose_links(speakers: list[UnlinkedSpeaker], cases: Mapping[int, str]) -> list[LinkProposal]:
    """Sure links only: the label equals one case's ID, or the file name holds one case's ID and
    the document has one participant. Where label and file name disagree, nothing is guessed."""
    by_plain: dict[str, list[int]] = {}
    exact: dict[str, list[int]] = {}
    for case, identifier in cases.items():
        by_plain.setdefault(plain_identifier(identifier), []).append(case)
        exact.setdefault(identifier.strip().casefold(), []).append(case)
    return [_propose(speaker, cases, by_plain, exact) for speaker in speakers]


def _propose(
    speaker: UnlinkedSpeaker,
    cases: Mapping[int, str],
    by_plain: dict[str, list[int]],
    exact: dict[str, list[int]],
) -> LinkProposal:
    by_label = exact.get(speaker.label.strip().casefold()) or by_plain.get(plain_identifier(speaker.label), [])
    in_name = {case for part in identifiers_in(speaker.document) for case in by_plain.get(part, [])}
    if len(by_label) > 1:
        said = " and ".join(cases[case] for case in by_label)
        return LinkProposal(speaker.key, None, f"“{speaker.label}” could be {said}", True)
    if by_label:
        case = by_label[0]
        if speaker.alone and in_name and case not in in_name:
            other = ", ".join(sorted(cases[found] for found in in_name))
            return LinkProposal(speaker.key, None, f"the label says {cases[case]}, the file name says {other}", True)
        both = " and file name both say " if case in in_name else " says "
        return LinkProposal(speaker.key, case, f"label{both}{cases[case]}")
    if speaker.alone and len(in_name) == 1:
        case = in_name.pop()
        return LinkProposal(speaker.key, case, f"file name holds {cases[case]}, and one participant speaks")
    if speaker.alone and len(in_name) > 1:
        other = ", ".join(sorted(cases[found] for found in in_name))
        return LinkProposal(speaker.key, None, f"the file name holds {other}", True)
    return LinkProposal(speaker.key, None, "nothing points at one person")
