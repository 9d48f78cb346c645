"""Every write on files that wait, and on what a sheet holds."""

from server.imports.actions.sheets import bring_in_sheet
from server.imports.actions.staging import correct_speakers, correct_staged, discard_staged, remember, stage

__all__ = ["bring_in_sheet", "correct_speakers", "correct_staged", "discard_staged", "remember", "stage"]
