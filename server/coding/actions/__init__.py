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
from server.coding.actions.memos import change_memo, delete_memo, memo_into_document, write_memo
from server.coding.actions.merging import Move, merge_codes, split_code
from server.coding.actions.themes import (
    change_question,
    change_theme,
    create_question,
    create_theme,
    delete_question,
    delete_theme,
)

__all__ = [
    "Move",
    "NewCode",
    "apply_codes",
    "bring_in_codebook",
    "change_code",
    "change_memo",
    "change_question",
    "change_theme",
    "code_hits",
    "create_code",
    "create_question",
    "create_theme",
    "delete_code",
    "delete_memo",
    "delete_question",
    "delete_theme",
    "mark_comments",
    "memo_into_document",
    "merge_codes",
    "move_passage",
    "pin_code",
    "propose_codes",
    "put_codes",
    "rate_coding",
    "remove_coding",
    "split_code",
    "write_memo",
]
