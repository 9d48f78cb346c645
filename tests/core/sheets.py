"""A reading row by row, as tests like to look at it."""

from core.people.columns import ReadCell
from core.people.participants import SheetReading


def records(sheet: SheetReading) -> list[tuple[str, dict[str, ReadCell]]]:
    """For each record its ID and its cells by variable."""
    return [
        (identifier, {column.name: column.cell(place) for column in sheet.variables})
        for place, identifier in enumerate(sheet.identifiers)
    ]
