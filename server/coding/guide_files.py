"""Who was asked what, as a file: a row a question, by group."""

from typing import Any

from core.language import say
from server.coding import guide, queries
from server.common.errors import Refusal
from server.common.exports import CSV, XLSX, Cell, Workbook, plain
from server.projects.models import Membership

Json = dict[str, Any]


def written(member: Membership, said: Json) -> tuple[bytes, str]:
    """The file and what it is. Nobody's own words are in it, but counts of few people may be."""
    project = member.project
    if project.hide_below > 1 or project.round_to:
        raise Refusal(
            say(
                "Who was asked what is told question by question, and small groups could be worked out of it: it doesn’t leave a project that hides small cells or rounds its counts."
            )
        )
    found = guide.who_was_asked(member, said)
    rows = [_heads(found, project.case_many), *_rows(member, found)]
    told = _told(found, project.case_many)
    if said["format"] == "csv":
        return plain(rows), CSV
    book = Workbook()
    book.table(say("Who was asked"), told[0], rows, told[1:], widths={0: 50, 1: 36})
    return book.made(), XLSX


def _heads(found: Json, many: str) -> list[Cell]:
    by_group = [
        [
            say("{group}: asked", group=group["name"]),
            say("{group}: of these mention it", group=group["name"]),
            say("{group}: of their own accord", group=group["name"]),
            say("{group}: all {many}", group=group["name"], many=many),
        ]
        for group in found["groups"]
    ]
    return [say("Question"), say("Asks about"), *(head for heads in by_group for head in heads)]


def _rows(member: Membership, found: Json) -> list[list[Cell]]:
    names = dict(queries.codes(member).values_list("id", "name"))
    rows: list[list[Cell]] = []
    for row in found["rows"]:
        tied = "; ".join(names[pk] for pk in row["codes"])
        cells: list[Cell] = []
        for group, cell in zip(found["groups"], row["cells"], strict=True):
            # Without a code there is nothing that could be mentioned.
            mention = (cell["asked_mention"], cell["own_accord"]) if tied else (None, None)
            cells += [cell["asked"], *mention, group["people"]]
        rows.append([row["text"], tied, *cells])
    return rows


def _told(found: Json, many: str) -> list[str]:
    return [
        say(
            "Who was asked what, of {people, number} {many} who talk with an interviewer",
            people=found["people"],
            many=many,
        ),
        say(
            "Asked is everybody in whose talks a turn is matched to the question. What is coded with its codes more than {within, number} turns after it, or without it, is of their own accord.",
            within=found["within"],
        ),
        say(
            "{not_interviewed, number} {many} talk with no interviewer; {left_out, number} are in no group.",
            not_interviewed=found["not_interviewed"],
            left_out=found["left_out"],
            many=many,
        ),
    ]
