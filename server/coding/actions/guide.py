"""Writes on the interview guide: its questions, the codes they ask about, the turns that ask them."""

from collections.abc import Sequence

from core.coding.guide import LIKE, likenesses
from core.language import say
from server.coding import guide, queries
from server.coding.models import AskedTurn, GuideCode, GuideQuestion
from server.common.errors import NotFound, Refusal
from server.projects.models import Membership
from server.projects.trail import act


def set_guide(member: Membership, said: Sequence[tuple[int | None, str]]) -> list[GuideQuestion]:
    """The whole guide as it should be: (ID or None, text) in order. A question that stays keeps its codes and turns."""
    wanted = [(pk, " ".join(text.split())[:500]) for pk, text in said]
    if len({text for _, text in wanted if text}) < len([text for _, text in wanted if text]):
        raise Refusal(say("Two questions of the guide are the same: nobody could say which of them a turn asks."))
    wanted = [(pk, text) for pk, text in wanted if text]
    if len(wanted) > guide.MOST:
        raise Refusal(say("A guide has {most} questions at most.", most=guide.MOST))
    with act(member, "guide.set") as change:
        held = {row.pk: row for row in queries.guide(member)}
        if any(pk is not None and pk not in held for pk, _ in wanted):
            raise NotFound(say("A question of these isn’t in the guide any more; nothing was changed."))
        kept = {pk for pk, _ in wanted if pk is not None}
        change.delete(GuideQuestion.objects.filter(pk__in=set(held) - kept))
        fresh = []
        for position, (pk, text) in enumerate(wanted):
            if pk is None:
                fresh.append(GuideQuestion(project_id=member.project_id, text=text, position=position))
            else:
                change.update(held[pk], text=text, position=position)
        change.create_many(fresh)
        change.summary = say(
            "Set the guide: {questions} {questions, plural, one {question} other {questions}}", questions=len(wanted)
        )
    return list(queries.guide(member))


def tie_codes(member: Membership, question_id: int, code_ids: Sequence[int]) -> None:
    """The codes that a question asks about."""
    with act(member, "guide.tie") as change:
        question = queries.guide_question(member, question_id)
        wanted = dict.fromkeys(code_ids)
        held = set(question.tied.values_list("code_id", flat=True))
        change.delete(question.tied.exclude(code_id__in=wanted))
        change.create_many(
            [GuideCode(question=question, code=queries.code(member, pk)) for pk in wanted if pk not in held]
        )
        change.summary = say("Tied codes to the question “{text}”", text=question.text[:60])


def match_guide(member: Membership, language: str = "english") -> int:
    """Take each interviewer's turn to ask the question that it is most like (by stems of this language); what was said by hand
    stays. How many turns ask one."""
    guide.check_language(language)
    with act(member, "guide.match") as change:
        questions = list(queries.guide(member))
        if not questions:
            raise Refusal(say("Write the questions of the guide first."))
        asked = queries.asked_turns(member)
        change.delete(asked.filter(by_hand=False))
        turns = list(queries.interviewers_turns(member).filter(asked=None))
        alike = likenesses(guide.said_in(turns), [question.text for question in questions], language)
        found = [
            AskedTurn(turn=turn, question=questions[int(row.argmax())])
            for turn, row in zip(turns, alike, strict=True)
            if row.max() >= LIKE
        ]
        change.create_many(found)
        change.summary = say(
            "Matched {turns} {turns, plural, one {turn} other {turns}} to the questions of the guide", turns=len(found)
        )
    return asked.filter(question__isnull=False).count()


def put_asked(member: Membership, turn_ids: Sequence[int], question_id: int | None) -> int:
    """Say by hand that these turns ask this question, or (None) that they ask none of the guide."""
    with act(member, "guide.asked") as change:
        question = None if question_id is None else queries.guide_question(member, question_id)
        turns = list(queries.interviewers_turns(member).filter(pk__in=turn_ids))
        if len(turns) != len(set(turn_ids)):
            raise NotFound(say("A turn of these isn’t an interviewer’s any more; nothing was changed."))
        change.delete(AskedTurn.objects.filter(turn__in=turns))
        change.create_many([AskedTurn(turn=turn, question=question, by_hand=True) for turn in turns])
        change.summary = (
            say("Said what {turns} {turns, plural, one {turn} other {turns}} asked", turns=len(turns))
            if question
            else say(
                "Said that {turns} {turns, plural, one {turn asks} other {turns ask}} nothing of the guide",
                turns=len(turns),
            )
        )
    return len(turns)
