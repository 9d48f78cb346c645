"""Answers in people's own words, as documents: one a person, a section a question, a turn an answer."""

from collections.abc import Iterator

from core.gather.transcript import FoundSection, FoundSpeaker, FoundTurn, Transcript
from core.people.participants import SheetReading
from core.text.normalise import normalise
from core.text.words import count_words


def answers_of(sheet: SheetReading) -> Iterator[tuple[str, Transcript]]:
    """(identifier, answers) of each record that answers anything. The questions are the titles of the
    sections; they are no part of the text, since nobody said them."""
    questions = sheet.answers
    for record, identifier in enumerate(sheet.identifiers if questions else ()):
        said = [
            (column.name, normalise(cell.value).strip())
            for column in questions
            if isinstance((cell := column.cell(record)).value, str)
        ]
        said = [(question, answer) for question, answer in said if answer]
        if identifier and said:
            yield identifier, _transcript(identifier, said)


def _transcript(identifier: str, said: list[tuple[str, str]]) -> Transcript:
    turns, sections, length = [], [], 0
    for place, (question, answer) in enumerate(said):
        end = length + len(answer) + (place < len(said) - 1)
        turns.append(FoundTurn(0, length, end, length, length + len(answer), count_words(answer), ""))
        sections.append(FoundSection("question", question[:300], 1, length, end))
        length = end
    text = "\n".join(answer for _, answer in said)
    words = sum(turn.words for turn in turns)
    speaker = FoundSpeaker(identifier, "participant", len(turns), words, said[0][1][:90], (identifier,))
    return Transcript(text, tuple(turns), (speaker,), "none", tuple(sections))
