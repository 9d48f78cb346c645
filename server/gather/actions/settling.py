"""Who several speakers are, said of all of them at once."""

from collections.abc import Sequence
from itertools import groupby
from typing import Literal

from core.gather.transcript import WHOLE
from core.language import message, say
from core.text.names import names_somebody
from server.common.errors import NotFound, Refusal
from server.gather import queries
from server.gather.models import Speaker, SpeakerRole
from server.people.actions import new_cases
from server.people.models import Case
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act

Settled = Literal["case", "new_case", "interviewer", "other"]
SETTLED: list[Settled] = ["case", "new_case", "interviewer", "other"]
_TAKEN_FOR = {
    "interviewer": message("Took {n, plural, one {# speaker for an interviewer} other {# speakers for interviewers}}"),
    "other": message("Took {n, plural, one {# speaker} other {# speakers}} for nobody in particular"),
}
_LONGEST = 120


def settle_speakers(
    member: Membership, speaker_ids: Sequence[int], settled: Settled, case_id: int | None = None
) -> int:
    """Several speakers become one case, new cases, interviewers or nobody in particular; how many did."""
    with act(member, "speaker.settle") as change:
        rows = list(queries.speakers(member).filter(pk__in=set(speaker_ids)))
        if len(rows) != len(set(speaker_ids)):
            raise NotFound(say("A speaker of these isn’t in the project any more; nothing was changed."))
        if settled == "case":
            _into_one(change, rows, case_id)
        elif settled == "new_case":
            _into_new(change, rows)
        else:
            _become(change, rows, settled, None)
            change.summary = say(_TAKEN_FOR[settled], n=len(rows))
    return len(rows)


def _become(change: Change, rows: Sequence[Speaker], role: str, case_id: int | None) -> None:
    change.update_all(Speaker.objects.filter(pk__in=[row.pk for row in rows]), role=role, case_id=case_id)


def _into_one(change: Change, rows: list[Speaker], case_id: int | None) -> None:
    project = change.member.project
    case = Case.objects.filter(project=project, pk=case_id or 0).first()
    if case is None:
        raise NotFound(say("This {one} isn’t in the project any more.", one=project.case_one))
    places = [row.document_id for row in rows]
    twice = next((row for row in rows if places.count(row.document_id) > 1), None)
    if twice is not None:
        raise Refusal(
            say(
                "Two of these speak in “{title}”: they can’t both be {case}. Merge them in the document, or untick one.",
                title=twice.document.title,
                case=case.identifier,
            )
        )
    _become(change, rows, SpeakerRole.PARTICIPANT, case.pk)
    change.summary = say(
        "Linked {n, plural, one {# speaker} other {# speakers}} to {case}", n=len(rows), case=case.identifier
    )


def _into_new(change: Change, rows: list[Speaker]) -> None:
    """A new case a name, whatever the number of documents; a label that anybody may have is somebody else in each."""
    taken = set(Case.objects.filter(project=change.project_id).values_list("identifier", flat=True))
    ids: dict[str, str] = {}
    of_row = {}
    for row in rows:
        key = row.label.casefold() if names_somebody(row.label) else f"{row.document_id} {row.label}"
        if key not in ids:
            ids[key] = _free(_identifier(row, rows), taken)
            taken.add(ids[key])
        of_row[row.pk] = ids[key]
    cases = {case.identifier: case.pk for case in new_cases(change, list(ids.values()))}
    for case, those in groupby(sorted(rows, key=lambda row: of_row[row.pk]), key=lambda row: of_row[row.pk]):
        _become(change, list(those), SpeakerRole.PARTICIPANT, cases[case])
    project = change.member.project
    change.summary = say(
        "Made {n} new {whom} of {speakers, plural, one {# speaker} other {# speakers}}",
        n=len(cases),
        whom=project.case_one if len(cases) == 1 else project.case_many,
        speakers=len(rows),
    )


def _identifier(row: Speaker, rows: Sequence[Speaker]) -> str:
    """The label; the document's title where nobody is labelled, both where several documents have such a label."""
    if row.label == WHOLE:
        return row.document.title
    shared = sum(other.label == row.label for other in rows) > 1
    return row.label if names_somebody(row.label) or not shared else f"{row.document.title} {row.label}"


def _free(wanted: str, taken: set[str]) -> str:
    base = wanted.strip()[:_LONGEST]
    found, number = base, 2
    while found in taken:
        found = f"{base[: _LONGEST - 6]} ({number})"
        number += 1
    return found
