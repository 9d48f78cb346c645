"""Files of statistics packages (.sav, .dta, .sas7bdat): values as labelled, missing codes as missing."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pyreadstat

from core.language import say
from core.people.columns import as_yes_no
from core.people.grid import Column, Hint
from core.people.sheet import MAX_COLUMNS, MAX_ROWS
from core.text.missing import IN_WORDS, reason_written
from server.gather.readers.kinds import Unreadable, extension
from server.gather.readers.sheets import cell_text

_READERS: dict[str, Callable[..., tuple[Any, Any]]] = {
    "sav": pyreadstat.read_sav, "zsav": pyreadstat.read_sav, "dta": pyreadstat.read_dta,
    "sas7bdat": pyreadstat.read_sas7bdat,
}  # fmt: skip
_SAID = {"sav": "SPSS", "zsav": "SPSS", "dta": "Stata", "sas7bdat": "SAS"}
_LABELS_FOR_CATEGORIES = 0.6
"""Share of a column's different values that need a label before it is taken for a category."""


def package_columns(name: str, path: Path) -> tuple[list[str], list[Column], list[Hint], str, list[str]]:
    """Names, columns of text cells, hints, the format in words, and sentences to be read."""
    ending = extension(name)
    frame, about, warnings = _read(ending, path)
    if about.number_columns and about.number_columns > MAX_COLUMNS:
        raise Unreadable(
            say(
                "The file has {number_columns, number} columns; Cohortia takes up to {max_columns, number}.",
                number_columns=about.number_columns,
                max_columns=MAX_COLUMNS,
            )
        )
    names = list(about.column_names)
    rows = len(next(iter(frame.values()), []))
    if rows > MAX_ROWS:
        raise Unreadable(
            say(
                "The file has {rows, number} rows; Cohortia takes up to {max_rows, number}.",
                rows=rows,
                max_rows=MAX_ROWS,
            )
        )
    if not names or not rows:
        raise Unreadable(say("The file holds no rows."))
    columns, hints = [], []
    for place, one in enumerate(names):
        column, hint = _column(one, list(frame[one]), about, about.column_labels[place] or "")
        columns.append(column)
        hints.append(hint)
    return names, columns, hints, say("a file of {program}", program=_SAID[ending]), warnings


def _read(ending: str, path: Path) -> tuple[Any, Any, list[str]]:
    options: dict[str, Any] = {"output_format": "dict", "row_limit": MAX_ROWS + 1}
    if ending != "sas7bdat":
        options["user_missing"] = True
    try:
        return (*_READERS[ending](str(path), **options), [])
    except UnicodeDecodeError:
        pass
    except Exception as error:
        if "encod" not in str(error).casefold() and "convert" not in str(error).casefold():
            raise Unreadable(
                say("The file is damaged, or isn’t a file of {program}: it can’t be read.", program=_SAID[ending])
            ) from error
    try:
        # Old files don't say their encoding; Western European is by far the commonest.
        found = _READERS[ending](str(path), encoding="WINDOWS-1252", **options)
        return (*found, [say("The file doesn’t say how its letters are written; it is read as Western European.")])
    except Exception as error:
        raise Unreadable(
            say(
                "The letters of this file are written in an encoding that can’t be made out. Save it as UTF-8, or as .csv."
            )
        ) from error


def _column(name: str, cells: list[Any], about: Any, label: str) -> tuple[Column, Hint]:
    labels: dict[Any, str] = dict(about.variable_value_labels.get(name, {}))
    ranges = about.missing_ranges.get(name, [])
    users = set(about.missing_user_values.get(name, []))
    once: dict[Any, str] = {}
    texts = []
    for cell in cells:
        key = cell if isinstance(cell, str | int | float | bool | type(None)) else str(cell)
        text = once.get(key)
        if text is None:
            text = once[key] = _text(cell, labels, _is_missing(cell, ranges, users))
        texts.append(text)
    return Column.of(texts), Hint(label, *_kind(name, labels, about, once, ranges, users))


def _text(cell: Any, labels: dict[Any, str], missing: bool) -> str:
    if cell is None or cell != cell:
        return ""
    said = labels.get(cell, cell_text(cell)).strip()
    if not missing:
        return said
    # A code for a missing value: the reason that its label states, or that it isn't known.
    return IN_WORDS[reason_written(said) or "unknown"]


def _is_missing(cell: Any, ranges: list[dict[str, Any]], users: set[Any]) -> bool:
    if cell in users:
        return True
    if isinstance(cell, str):
        return any(cell == one.get("lo") for one in ranges)
    if not isinstance(cell, int | float):
        return False
    return any(one["lo"] <= cell <= one["hi"] for one in ranges if not isinstance(one["lo"], str))


def _kind(
    name: str, labels: dict[Any, str], about: Any, once: dict[Any, str], ranges: list[dict[str, Any]], users: set[Any]
) -> tuple[Any, tuple[str, ...]]:
    """The measurement level as ours, and the value labels in the order of their codes."""
    there = {code: text for code, text in labels.items() if not _is_missing(code, ranges, users)}
    order = tuple(dict.fromkeys(there[code].strip() for code in sorted(there, key=_by_code)))
    values = [key for key in once if key is not None and key == key and not _is_missing(key, ranges, users)]
    labelled = sum(key in labels for key in values) / len(values) if values else 0
    measure = about.variable_measure.get(name, "unknown")
    if there and labelled >= _LABELS_FOR_CATEGORIES:
        if len(order) == 2 and {as_yes_no(text) for text in order} == {True, False}:
            return "yes_no", ()
        return ("ordered" if measure == "ordinal" else "category"), order
    if measure == "scale" and all(isinstance(key, int | float) for key in values):
        return "number", ()
    return "", ()


def _by_code(code: Any) -> tuple[int, float, str]:
    return (0, float(code), "") if isinstance(code, int | float) else (1, 0.0, str(code))
