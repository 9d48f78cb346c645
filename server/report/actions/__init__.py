from server.report.actions.digests import write_digest
from server.report.actions.exhibits import (
    add_to_exhibit,
    change_exhibit,
    change_piece,
    delete_exhibit,
    make_exhibit,
    take_out,
)
from server.report.actions.memos import change_memo, delete_memo, memo_into_document, write_memo

__all__ = [
    "add_to_exhibit",
    "change_exhibit",
    "change_memo",
    "change_piece",
    "delete_exhibit",
    "delete_memo",
    "make_exhibit",
    "memo_into_document",
    "take_out",
    "write_digest",
    "write_memo",
]
