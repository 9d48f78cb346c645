"""Words that the lists of words leave out."""

from collections.abc import Sequence

from core.language import say
from server.coding.models import DroppedWord
from server.common.errors import Refusal
from server.projects.models import Membership
from server.projects.trail import act

MOST = 2_000


def drop_words(member: Membership, words: Sequence[str]) -> int:
    """Leave words out of the lists of words, for everybody in the project; those left out already stay so."""
    with act(member, "word.drop") as change:
        own = DroppedWord.objects.filter(project=member.project_id)
        held = set(own.values_list("word", flat=True))
        fresh = [word for word in dict.fromkeys(one.strip().casefold() for one in words) if word and word not in held]
        if len(held) + len(fresh) > MOST:
            raise Refusal(say("At most {most, number} words can be left out.", most=MOST))
        change.create_many([DroppedWord(project_id=member.project_id, word=word) for word in fresh])
        change.summary = say(
            "Left {words} out of the lists of words", words=", ".join(f"“{word}”" for word in fresh[:5])
        )
    return len(fresh)


def keep_words(member: Membership, words: Sequence[str] | None = None) -> int:
    """List words again, or (None) all that were left out."""
    with act(member, "word.keep") as change:
        rows = DroppedWord.objects.filter(project=member.project_id)
        if words is not None:
            rows = rows.filter(word__in=[word.strip().casefold() for word in words])
        said = list(rows.values_list("word", flat=True)[:5])
        count = change.delete(rows)
        change.summary = say("Took {words} back into the lists of words", words=", ".join(f"“{word}”" for word in said))
    return count
