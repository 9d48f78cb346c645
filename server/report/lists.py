"""Lists of a project as they leave it: the roster, the documents, who is linked to whom, the cohorts.

A missing value is written as its reason, in English, as sheets that come in are read; what goes out comes in again equal.
"""

import re
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pyreadstat

from core.language import worded
from core.people.conditions import Held
from core.people.derived import in_words
from core.text.missing import IN_WORDS, REASONS
from server.common.exports import CSV, XLSX, Cell, Workbook, plain
from server.common.folders import temporary_folder
from server.gather import queries as gather
from server.gather.models import DocumentKind
from server.gather.shelf import shelf
from server.people import facts
from server.people import queries as people
from server.people.models import Subject, VariableKind
from server.projects.models import Membership

SAV = "application/x-spss-sav"
_FARTHEST = -9_990.0
"""Codes of missing reasons in a .sav begin below this, or below the smallest number where that is smaller."""
_CATEGORIES = (VariableKind.CATEGORY, VariableKind.ORDERED)
_MEASURES: dict[str, str] = {VariableKind.ORDERED: "ordinal", VariableKind.NUMBER: "scale"}


@dataclass(frozen=True)
class Listed:
    """A list: its name in files, its rows with the head first."""

    name: str
    rows: list[list[Cell]]


def roster(member: Membership) -> Listed:
    """A row a case, a column a variable."""
    found = people.roster(member)
    heads = [*(variable.name for variable in found.variables)]
    known = [found.known[variable.pk].held for variable in found.variables]
    rows: list[list[Cell]] = [["ID", *heads]]
    rows += [[case.identifier, *(_cell(column[place]) for column in known)] for place, case in enumerate(found.cases)]
    return Listed("roster", rows)


def documents(member: Membership) -> Listed:
    """A row a document: its name and file, what is in it, its facts."""
    variables = list(people.variables(member, Subject.DOCUMENT))
    rows = shelf(member)
    known = facts.of_documents(variables, [row["id"] for row in rows])
    kinds = dict(DocumentKind.choices)
    found: list[list[Cell]] = [
        ["Document", "File", "Kind", "Words", "Turns", "Passages", "Last coded", *(row.name for row in variables)]
    ]
    for place, row in enumerate(rows):
        last = row["last_coded"]
        counts = [row["words"], row["turns"], row["passages"], last.isoformat() if last else ""]
        own = [_cell(known[variable.pk].held[place]) for variable in variables]
        found.append([row["title"], row["source_name"], worded(kinds[row["kind"]]), *counts, *own])
    return Listed("documents", found)


def speakers(member: Membership) -> Listed:
    """A row a speaker of a document, with the case that it is linked to."""
    rows: list[list[Cell]] = [["Document", "Speaker", "Role", "ID"]]
    for one in gather.speakers(member):
        case = one.case.identifier if one.case else ""
        rows.append([one.document.title, one.label, one.role, case])
    return Listed("speakers", rows)


def cohorts(member: Membership) -> Listed:
    """A row a case in a cohort."""
    cases = list(people.cases(member).order_by("identifier", "id"))
    ids = [case.pk for case in cases]
    rows: list[list[Cell]] = [["Cohort", "Description", "ID"]]
    for cohort in people.cohorts(member, Subject.CASE):
        inside = np.flatnonzero(facts.members_of(cohort, ids)).tolist()
        rows += [[cohort.name, cohort.description, cases[place].identifier] for place in inside]
    return Listed("cohorts", rows)


def document_cohorts(member: Membership) -> Listed:
    """A row a document in a cohort of documents."""
    documents = list(gather.documents(member).order_by("title", "id").values_list("id", "title"))
    ids = [pk for pk, _ in documents]
    rows: list[list[Cell]] = [["Cohort", "Description", "Document"]]
    for cohort in people.cohorts(member, Subject.DOCUMENT):
        inside = np.flatnonzero(facts.members_of(cohort, ids)).tolist()
        rows += [[cohort.name, cohort.description, documents[place][1]] for place in inside]
    return Listed("document-cohorts", rows)


def _cell(held: Held) -> Cell:
    """A value as a sheet has it."""
    if held.value is None:
        return IN_WORDS[held.missing or "unknown"]
    return held.value if isinstance(held.value, float) else in_words(held.value)


def as_csv(listed: Listed) -> bytes:
    return plain(listed.rows)


def as_xlsx(listed: Listed) -> bytes:
    """One sheet, its names of columns in the first row: other programs, and this one, read it as it is."""
    book = Workbook()
    book.bare(listed.name, listed.rows)
    return book.made()


def as_sav(member: Membership) -> bytes:
    """The roster for a statistics package: categories as labelled numbers in their order, reasons as labelled missing codes."""
    found = people.roster(member)
    columns: dict[str, list[Any]] = {"ID": [case.identifier for case in found.cases]}
    labels: dict[str, dict[float, str]] = {}
    ranges: dict[str, list[Any]] = {}
    measures = {"ID": "nominal"}
    heads: list[str | None] = ["ID"]
    for variable in found.variables:
        name = _plain_name(variable.name, columns)
        known = found.known[variable.pk]
        heads.append(variable.name[:250])
        if variable.kind in (*_CATEGORIES, VariableKind.YES_NO, VariableKind.NUMBER):
            columns[name], labels[name], low = _numbered(known)
            ranges[name] = [{"lo": low, "hi": low + len(REASONS) - 1}]
            measures[name] = _MEASURES.get(str(variable.kind), "nominal")
        else:
            columns[name] = [str(_cell(one)) for one in known.held]
            measures[name] = "nominal"
    with temporary_folder("sav") as folder:
        path = Path(folder) / "roster.sav"
        pyreadstat.write_sav(
            pd.DataFrame(columns), str(path), column_labels=heads, variable_value_labels=labels, missing_ranges=ranges,
            variable_measure=measures,
        )  # fmt: skip
        return path.read_bytes()


def _numbered(known: facts.Known) -> tuple[list[float], dict[float, str], float]:
    """Values as numbers, what the numbers mean, and the lowest of the codes that stand for reasons."""
    numbers = [one.value for one in known.held if isinstance(one.value, float)]
    low = float(np.floor(min([_FARTHEST, *(number - 1 for number in numbers)]))) - len(REASONS)
    codes = {reason: low + place for place, reason in enumerate(REASONS)}
    places: dict[object, float] = {True: 1.0, False: 0.0} if known.variable.kind == VariableKind.YES_NO else {}
    places |= {label: float(place) for place, label in enumerate(known.categories, start=1)}
    labels = {place: in_words(value) for value, place in places.items() if isinstance(value, str | bool)}
    values = [
        codes[one.missing or "unknown"]
        if one.value is None
        else one.value if isinstance(one.value, float) else places[one.value]
        for one in known.held
    ]  # fmt: skip
    return values, labels | {code: IN_WORDS[reason] for reason, code in codes.items()}, low


def _plain_name(name: str, taken: dict[str, list[Any]]) -> str:
    """A name as the package takes it: letters, digits and lines beneath, beginning with a letter, none twice in whatever case."""
    base = re.sub(r"\W+", "_", name, flags=re.ASCII).strip("_")[:50]
    base = base if base[:1].isalpha() else f"v_{base}"
    found, number = base, 2
    while found.casefold() in {one.casefold() for one in taken}:
        found, number = f"{base}_{number}", number + 1
    return found


LISTS: dict[str, Callable[[Membership], Listed]] = {
    "roster": roster,
    "documents": documents,
    "speakers": speakers,
    "cohorts": cohorts,
    "document-cohorts": document_cohorts,
}


def written(member: Membership, what: str, ending: str) -> tuple[bytes, str] | None:
    """A list as a file with its content type; None where there is no such list or ending."""
    if what not in LISTS or ending not in ("csv", "xlsx", *(["sav"] if what == "roster" else [])):
        return None
    if ending == "sav":
        return as_sav(member), SAV
    listed = LISTS[what](member)
    return (as_csv(listed), CSV) if ending == "csv" else (as_xlsx(listed), XLSX)
