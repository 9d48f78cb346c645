"""What is told of a text before it is brought in."""

from typing import Any

from core.gather.transcript import Transcript

_TURNS, _COMMENTS = 8, 4
_SAID, _COMMENT = 400, 120


def summary_of(found: Transcript) -> dict[str, Any]:
    """A reading in plain values: its form, sizes, speakers, and how it begins (code points that are told at most: 400 of a turn, 120
    of a comment)."""
    return {
        "form": found.form,
        "words": found.words,
        "turns": len(found.turns),
        "speakers": [{**vars(speaker), "written": list(speaker.written)} for speaker in found.speakers],
        "first_turns": [
            {
                "speaker": found.speakers[turn.speaker].label,
                "text": found.text[turn.ink_start : turn.ink_end][:_SAID],
                "time": turn.time,
            }
            for turn in found.turns[:_TURNS]
        ],
        "sections": sum(section.kind == "heading" for section in found.sections),
        "comments": len(found.marks),
        "first_comments": [mark.text[:_COMMENT] for mark in found.marks[:_COMMENTS]],
    }
