"""What the codebook holds, how coding went along and saturation, as .xlsx."""

from typing import Any

from core.language import say
from server.common.exports import Cell, Head, Rows, Workbook, plain, tabbed
from server.compare.exports.tidy import zipped

Json = dict[str, Any]


def holdings_xlsx(result: Json, project: str, many: str) -> bytes:
    """A line a code: by itself, with all beneath it, and by group."""
    book = Workbook()
    what = say("What the codebook of {project} holds: passages, and {many} who mention it.", project=project, many=many)
    book.table(
        say("Codebook"),
        what,
        _holdings(result, many),
        notes=[say("Branch: with all codes beneath, each passage once.")],
    )
    return book.made()


def holdings_tsv(result: Json, project: str, many: str) -> bytes:
    """The same lines under one header, to be pasted."""
    return tabbed(_holdings(result, many))


def holdings_tidy(result: Json, project: str, many: str) -> bytes:
    """A .zip of ``codes.csv`` under one header, and ``about.txt`` that says what it is."""
    what = say(
        "What the codebook of {project} holds: passages, and {many} who mention it.\n", project=project, many=many
    )
    return zipped({"codes.csv": plain(_holdings(result, many)), "about.txt": what.encode()})


def _holdings(result: Json, many: str) -> Rows:
    names = {code["id"]: code["name"] for code in result["codes"]}
    heads: list[Cell] = [
        say("Code"),
        say("Beneath"),
        say("Passages"),
        many.capitalize(),
        say("Branch: passages"),
        say("Branch: {many}", many=many),
    ]
    heads += [
        say("{group}: branch {what}", group=group["name"], what=what)
        for group in result["groups"]
        for what in ("passages", many)
    ]
    rows = [heads]
    for code in result["codes"]:
        line: list[Cell] = [code["name"], names.get(code["parent"], "")]
        line += [code[name] for name in ("passages", "people", "branch_passages", "branch_people")]
        by_group = code["by_group"] if result["groups"] else []
        rows.append(line + [held[what] for held in by_group for what in ("passages", "people")])
    return rows


def progress_xlsx(result: Json, project: str, many: str) -> bytes:
    """By document, by day, by coder, and the curve of saturation of each group."""
    book = Workbook()
    documents: list[list[Cell]] = [[say("Document"), say("Codings"), say("Codes"), say("Words")]]
    documents += [[one["title"], one["codings"], one["codes"], one["words"]] for one in result["documents"]]
    book.table(
        say("By document"),
        say("How coding of {project} went along, by document in the order they came.", project=project),
        documents,
    )
    days: list[list[Cell]] = [[say("Day"), say("Codings"), say("Codes used for the first time")]]
    days += [[str(one["day"]), one["codings"], one["new_codes"]] for one in result["days"]]
    book.table(say("By day"), say("By day of coding."), days)
    coders: list[list[Cell]] = [
        [say("Coder"), say("Codings")],
        *([one["name"], one["codings"]] for one in result["coders"]),
    ]
    book.table(say("By coder"), say("By coder."), coders)
    curves: list[list[Cell]] = [
        [
            say("Group"),
            say("Interview"),
            say("New codes"),
            say("Codes so far"),
            Head(say("New in the run, of the base"), "share"),
        ]
    ]
    for curve in result["saturation"]:
        curves += [
            [curve["name"], *line]
            for line in zip(curve["titles"], curve["fresh"], curve["heard"], curve["ratio"], strict=True)
        ]
    source = say("Base size, run length and threshold after Guest, Namey & Chen 2020.")
    book.table(say("Heard enough"), say("Codes heard, interview by interview."), curves, [source])  # fmt: skip
    return book.made()
