"""Writes on speakers: who they are, and what they are called."""

from collections.abc import Container
from typing import Any

from core.language import say, worded
from server.common.errors import Conflict, NotFound, Refusal
from server.gather import queries
from server.gather.models import Speaker, SpeakerRole
from server.people.models import Case
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act


def change_speaker(member: Membership, speaker_id: int, **fields: Any) -> Speaker:
    """Link a speaker to a case (``case_id``, None unlinks), or change the role or label."""
    with act(member, "speaker.change") as change:
        speaker = queries.speakers(member).filter(pk=speaker_id).first()
        if speaker is None:
            raise NotFound(say("This speaker isn’t in the project any more."))
        case_id = fields.get("case_id")
        if case_id is not None and not Case.objects.filter(project=member.project_id, pk=case_id).exists():
            raise NotFound(say("This {one} isn’t in the project any more.", one=member.project.case_one))
        role = fields.get("role", speaker.role)
        if role != SpeakerRole.PARTICIPANT:
            if case_id is not None:
                raise Refusal(say("Only a participant is linked; change the speaker’s role first."))
            fields["case_id"] = None
        if "label" in fields:
            fields["label"] = fields["label"].strip()
            if not fields["label"]:
                raise Refusal(say("A speaker needs a label."))
            if (
                Speaker.objects.filter(document=speaker.document_id, label=fields["label"])
                .exclude(pk=speaker_id)
                .exists()
            ):
                raise Conflict(say("Another speaker of this document is called “{fields}”.", fields=fields["label"]))
        if change.update(speaker, **fields):
            change.summary = _speaker_summary(speaker, fields)
    return queries.speakers(member).get(pk=speaker_id)


def _speaker_summary(speaker: Speaker, fields: dict[str, Any]) -> str:
    where = say("“{label}” in “{title}”", label=speaker.label, title=speaker.document.title)
    if fields.get("case_id"):
        return say(
            "Linked {where} to {identifier}", where=where, identifier=Case.objects.get(pk=fields["case_id"]).identifier
        )
    if "role" in fields:
        return say("Made {where} {role}", where=where, role=worded(speaker.get_role_display()))
    return (
        say("Unlinked {where}", where=where)
        if "case_id" in fields
        else say("Renamed a speaker to {where}", where=where)
    )


def link_sure_speakers(member: Membership, change: Change | None = None, among: Container[int] | None = None) -> int:
    """Link every speaker (of these IDs) whose case is certain."""
    if change is None:
        with act(member, "speaker.link_sure") as change:
            linked = link_sure_speakers(member, change)
            change.summary = say(
                "Linked {linked} {linked, plural, one {speaker} other {speakers}} that were certain", linked=linked
            )
            return linked
    sure = [
        proposal
        for proposal in queries.link_proposals(member)
        if proposal.certainty == "sure" and (among is None or proposal.speaker in among)
    ]
    by_id = {speaker.pk: speaker for speaker in queries.speakers(member).filter(pk__in=[p.speaker for p in sure])}
    for proposal in sure:
        change.update(by_id[proposal.speaker], case_id=proposal.case)
    return len(sure)


def link_chosen(member: Membership, links: dict[int, int]) -> int:
    """Link several speakers at once, as chosen: speaker → case."""
    with act(member, "speaker.link") as change:
        rows = {row.pk: row for row in queries.speakers(member).filter(pk__in=links)}
        cases = set(Case.objects.filter(project=member.project_id, pk__in=links.values()).values_list("id", flat=True))
        if len(rows) != len(links) or not cases.issuperset(links.values()):
            raise NotFound(say("A speaker or case of these isn’t in the project any more; nothing was linked."))
        for speaker_id, case_id in links.items():
            if rows[speaker_id].role != SpeakerRole.PARTICIPANT:
                raise Refusal(say("Only participants are linked; change the role of the others first."))
            change.update(rows[speaker_id], case_id=case_id)
        change.summary = say("Linked {links} {links, plural, one {speaker} other {speakers}}", links=len(links))
    return len(links)
