"""Every write on documents, speakers, turns, texts and staged files."""

from server.gather.actions.documents import add_document, delete_documents, rename_document
from server.gather.actions.speakers import change_speaker, link_chosen, link_sure_speakers
from server.gather.actions.staging import (
    correct_speakers,
    correct_staged,
    discard_staged,
    remember,
    stage,
)
from server.gather.actions.texts import anonymise, edit_turn, replace_all, set_pairs
from server.gather.actions.turns import give_turn, join_turn, split_turn

__all__ = [
    "add_document",
    "anonymise",
    "change_speaker",
    "correct_speakers",
    "correct_staged",
    "delete_documents",
    "discard_staged",
    "edit_turn",
    "give_turn",
    "join_turn",
    "link_chosen",
    "link_sure_speakers",
    "remember",
    "rename_document",
    "replace_all",
    "set_pairs",
    "split_turn",
    "stage",
]
