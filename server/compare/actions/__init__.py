from server.compare.actions.frozen import change_note, delete_frozen, delete_note, freeze, freeze_passages, note_cell
from server.compare.actions.kept import change_kept, delete_kept, keep_comparison
from server.compare.actions.saved import change_query, delete_query, delete_scope, save_query, save_scope

__all__ = [
    "change_kept",
    "change_note",
    "change_query",
    "delete_frozen",
    "delete_kept",
    "delete_note",
    "delete_query",
    "delete_scope",
    "freeze",
    "freeze_passages",
    "keep_comparison",
    "note_cell",
    "save_query",
    "save_scope",
]
