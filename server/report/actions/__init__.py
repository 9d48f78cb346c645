from server.report.actions.digests import write_digest
from server.report.actions.exhibits import (
    add_to_exhibit,
    change_exhibit,
    change_piece,
    delete_exhibit,
    make_exhibit,
    take_out,
)

__all__ = [
    "add_to_exhibit",
    "change_exhibit",
    "change_piece",
    "delete_exhibit",
    "make_exhibit",
    "take_out",
    "write_digest",
]
