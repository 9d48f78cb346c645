"""A project's rows as the database keeps them, by number, and the snapshot that is made of them."""

from collections.abc import Mapping
from typing import Any

import numpy as np
import numpy.typing as npt

from core.snapshot.snapshot import Snapshot

Integers = npt.NDArray[np.int64]
Table = Mapping[str, Integers]
"""Columns by name, all of one length."""

COLUMNS: dict[str, tuple[str, ...]] = {
    "documents": ("id",),
    "cases": ("id",),
    "codes": ("id", "parent"),
    "speakers": ("id", "role", "case", "document"),
    "turns": ("document", "first", "last", "speaker", "words", "begin", "finish"),
    "passages": ("id", "document", "first", "last", "kind", "begin", "finish"),
    "codings": ("id", "passage", "code", "coder", "rating", "day"),
}
"""The tables and their columns. Rows stand in the snapshot's order: documents, speakers and codings by number; cases
and codes in the project's own; turns and passages by document and start. ``parent``, ``case``: −1 for none; ``begin`` and
``finish`` in thousandths of a second, −1 for none."""


def assembled(revision: int, tables: Mapping[str, Table], past: str = "") -> Snapshot:
    """The snapshot of a whole project; ``tables`` has every name of ``COLUMNS``."""
    found: dict[str, npt.NDArray[Any]] = {}
    found |= of_names(tables["documents"], tables["cases"], tables["codes"])
    found |= of_speakers(tables["speakers"], found["document_ids"], found["case_ids"])
    found |= of_turns(tables["turns"], found["document_ids"], found["speaker_ids"])
    found |= of_passages(tables["passages"], found["document_ids"])
    found["coder_ids"] = np.unique(tables["codings"]["coder"])
    found |= of_codings(tables["codings"], found)
    return Snapshot(revision=revision, past=past, **beyond_text(found))


def of_names(documents: Table, cases: Table, codes: Table) -> dict[str, npt.NDArray[Any]]:
    """What other tables point to."""
    return {
        "document_ids": documents["id"],
        "case_ids": cases["id"],
        "code_ids": codes["id"],
        "code_parent": places(codes["id"], codes["parent"]),
    }


def of_speakers(speakers: Table, documents: Integers, cases: Integers) -> dict[str, npt.NDArray[Any]]:
    """Speakers with where they stand."""
    return {
        "speaker_ids": speakers["id"],
        "speaker_role": speakers["role"].astype(np.int8),
        "speaker_case": places(cases, speakers["case"]),
        "speaker_document": places(documents, speakers["document"]),
    }


def of_turns(turns: Table, documents: Integers, speakers: Integers) -> dict[str, npt.NDArray[Any]]:
    """Turns with who speaks them."""
    return {
        "turn_document": places(documents, turns["document"]),
        "turn_start": turns["first"].astype(np.int32),
        "turn_end": turns["last"].astype(np.int32),
        "turn_speaker": places(speakers, turns["speaker"]),
        "turn_words": turns["words"].astype(np.int32),
        "turn_begin": seconds(turns["begin"]),
        "turn_finish": seconds(turns["finish"]),
    }


def of_passages(passages: Table, documents: Integers) -> dict[str, npt.NDArray[Any]]:
    """Passages with where they lie."""
    return {
        "passage_ids": passages["id"],
        "passage_document": places(documents, passages["document"]),
        "passage_start": passages["first"].astype(np.int32),
        "passage_end": passages["last"].astype(np.int32),
        "passage_kind": passages["kind"].astype(np.int8),
        "passage_begin": seconds(passages["begin"]),
        "passage_finish": seconds(passages["finish"]),
    }


def of_codings(codings: Table, found: Mapping[str, npt.NDArray[Any]]) -> dict[str, npt.NDArray[Any]]:
    """Codings with which passage, code and coder of ``found`` they are of."""
    return {
        "coding_ids": codings["id"],
        "coding_passage": places(found["passage_ids"], codings["passage"]),
        "coding_code": places(found["code_ids"], codings["code"]),
        "coding_coder": places(found["coder_ids"], codings["coder"]),
        "coding_rating": codings["rating"].astype(np.int8),
        "coding_day": codings["day"].astype(np.int32),
    }


_BEYOND_TEXT = ("speaker_document", "passage_kind", "passage_begin", "passage_finish", "turn_begin", "turn_finish")


def beyond_text(found: dict[str, npt.NDArray[Any]]) -> dict[str, Any]:
    """The arrays, without what only regions and spans need where all passages are text."""
    if found["passage_kind"].any():
        return found
    return {name: array for name, array in found.items() if name not in _BEYOND_TEXT}


def seconds(thousandths: Integers) -> npt.NDArray[np.float64]:
    """Seconds; NaN where there is no time."""
    return np.where(thousandths < 0, np.nan, thousandths / 1000)


ONE_BY_ONE = 16
"""So few are found sooner by looking for each than by sorting all."""


def places(ids: Integers, wanted: Integers) -> npt.NDArray[np.int32]:
    """Where each wanted number stands in ``ids``; −1 where it doesn't."""
    if not len(ids) or not len(wanted):
        return np.full(len(wanted), -1, np.int32)
    if (ids[1:] > ids[:-1]).all():
        at = np.minimum(np.searchsorted(ids, wanted), len(ids) - 1)
        return np.where(ids[at] == wanted, at, -1).astype(np.int32)
    if len(wanted) <= ONE_BY_ONE:
        each = [np.flatnonzero(ids == one) for one in wanted]
        return np.array([at[0] if len(at) else -1 for at in each], np.int32)
    order = np.argsort(ids, kind="stable")
    at = np.minimum(np.searchsorted(ids[order], wanted), len(ids) - 1)
    found = order[at]
    return np.where(ids[found] == wanted, found, -1).astype(np.int32)
