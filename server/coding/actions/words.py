"""Words that the lists of words leave out."""

from collections.abc import Sequence

from core.language import say
from server.coding import queries
from server.coding.models import DroppedWord
from server.common.errors import Refusal
from server.projects.models import Membership
from server.projects.trail import act

MOST, LONGEST = 2_000, 80


def drop_words(member: Membership, words: Sequence[str]) -> int:
    """Leave words out of the lists of words, for everybody in the project; those left out already stay so."""
    with act(member, "word.drop") as change:
        held = set(queries.dropped_words(member).values_list("word", flat=True))
        fresh = [word for word in dict.fromkeys(one.strip().casefold() for one in words) if word and word not in held]
        if any(len(word) > LONGEST for word in fresh):
            raise Refusal(say("A word of more than {longest} letters can’t be left out.", longest=LONGEST))
        if len(held) + len(fresh) > MOST:
            raise Refusal(say("At most {most, number} words can be left out.", most=MOST))
        change.create_many([DroppedWord(project_id=member.project_id, word=word) for word in fresh])
        change.summary = say(
            "Left {words} out of the lists of words", words=", ".join(f"“{word}”" for word in fresh[:5])
        )
    return len(fresh)


def keep_words(member: Membership, words: Sequence[str]) -> int:
    """List words again that were left out."""
    with act(member, "word.keep") as change:
        rows = queries.dropped_words(member).filter(word__in=[word.strip().casefold() for word in words])
        said = list(rows.values_list("word", flat=True)[:5])
        count = change.delete(rows)
        change.summary = say("Took {words} back into the lists of words", words=", ".join(f"“{word}”" for word in said))
    return count
