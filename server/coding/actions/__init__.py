from server.coding.actions.codebook_in import bring_in_codebook
from server.coding.actions.codes import change_code, create_code, delete_code, pin_code
from server.coding.actions.codings import (
    NewCode,
    apply_codes,
    code_hits,
    mark_comments,
    move_passage,
    propose_codes,
    put_codes,
    rate_coding,
    remove_coding,
)
from server.coding.actions.guide import match_guide, put_asked, set_guide, tie_codes
from server.coding.actions.merging import Move, merge_codes, split_code
from server.coding.actions.texts import anonymise, edit_turn, replace_all, set_pairs
from server.coding.actions.themes import (
    change_question,
    change_theme,
    create_question,
    create_theme,
    delete_question,
    delete_theme,
)
from server.coding.actions.typing import (
    add_turn,
    check_wordless,
    lay_turns,
    remove_turn,
    retime_turn,
    split_at,
    take_text,
    would_take,
)
from server.coding.actions.words import drop_words, keep_words

__all__ = [
    "Move",
    "NewCode",
    "add_turn",
    "anonymise",
    "apply_codes",
    "bring_in_codebook",
    "change_code",
    "change_question",
    "change_theme",
    "check_wordless",
    "code_hits",
    "create_code",
    "create_question",
    "create_theme",
    "delete_code",
    "delete_question",
    "delete_theme",
    "drop_words",
    "edit_turn",
    "keep_words",
    "lay_turns",
    "mark_comments",
    "match_guide",
    "merge_codes",
    "move_passage",
    "pin_code",
    "propose_codes",
    "put_asked",
    "put_codes",
    "rate_coding",
    "remove_coding",
    "remove_turn",
    "replace_all",
    "retime_turn",
    "set_guide",
    "set_pairs",
    "split_at",
    "split_code",
    "take_text",
    "tie_codes",
    "would_take",
]
