"""Every write on documents, speakers and turns."""

from server.gather.actions.documents import add_document, add_turns, delete_documents, rename_document
from server.gather.actions.settling import SETTLED, settle_speakers
from server.gather.actions.speakers import change_speaker, link_chosen, link_sure_speakers
from server.gather.actions.turns import give_turn, join_turn, split_turn

__all__ = [
    "SETTLED",
    "add_document",
    "add_turns",
    "change_speaker",
    "delete_documents",
    "give_turn",
    "join_turn",
    "link_chosen",
    "link_sure_speakers",
    "rename_document",
    "settle_speakers",
    "split_turn",
]
