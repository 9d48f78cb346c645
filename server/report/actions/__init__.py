from server.report.actions.digests import write_digest
from server.report.actions.exhibits import (
    add_to_exhibit,
    change_exhibit,
    change_piece,
    delete_exhibit,
    make_exhibit,
    take_out,
)
from server.report.actions.memo_kinds import delete_memo_kind, make_memo_kind, rename_memo_kind
from server.report.actions.memos import change_memo, change_memos, delete_memo, memo_into_document, write_memo

__all__ = [
    "add_to_exhibit",
    "change_exhibit",
    "change_memo",
    "change_memos",
    "change_piece",
    "delete_exhibit",
    "delete_memo",
    "delete_memo_kind",
    "make_exhibit",
    "make_memo_kind",
    "memo_into_document",
    "rename_memo_kind",
    "take_out",
    "write_digest",
    "write_memo",
]
