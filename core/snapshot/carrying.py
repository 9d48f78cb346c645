"""A snapshot carried on from one revision to a later one: what was touched is put in its place, the rest stays."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt

from core.snapshot.columns import TEXT
from core.snapshot.snapshot import Snapshot
from core.snapshot.splicing import Places, Splice
from core.snapshot.tables import (
    Integers,
    Table,
    beyond_text,
    of_codings,
    of_names,
    of_passages,
    of_speakers,
    of_turns,
    places,
)

MANY = 2000
"""Passages from which they are sorted in with all, rather than each looked up on its own."""


class NotCarried(Exception):
    """The rows don't fit what is held: the whole has to be read."""


@dataclass(frozen=True)
class Touched:
    """Rows that changed: the numbers of all that were made, changed or deleted, and, of those, the rows that are there now
    (in the snapshot's order)."""

    ids: Integers
    rows: Table


@dataclass(frozen=True)
class News:
    """What came after a snapshot. ``whole``: tables of which anything moved, as they are now (documents, cases, codes,
    speakers, turns); ``passages`` and ``codings`` row by row. ``kinds``: every kind of row that was touched, whether it is
    in a snapshot or not, with the revision at which it was last."""

    revision: int
    whole: Mapping[str, Table]
    passages: Touched | None = None
    codings: Touched | None = None
    kinds: Mapping[str, int] = field(default_factory=dict)


@dataclass
class Way:
    """How places of the old snapshot became places of the new one. ``documents``, ``cases``, ``codes``: (old,) to new, −1
    for what went, None where none moved. ``texts_stay``: texts are as they were. ``speakers_moved``: linked otherwise."""

    documents: Places | None
    cases: Places | None
    codes: Places | None
    passages: Splice
    codings: Splice
    texts_stay: bool
    speakers_moved: Places = field(default_factory=lambda: np.zeros(0, np.int64))
    recoded: Places = field(default_factory=lambda: np.zeros(0, np.int64))
    """Old places of passages from which a coding went, or whose coding changed."""


def columns_carried(held: Snapshot, news: News) -> tuple[Snapshot, Way]:
    """The arrays at the later revision, without derived parts, and how places moved."""
    found: dict[str, npt.NDArray[Any]] = {
        name: array
        for name, array in vars(held).items()
        if name in Snapshot.__dataclass_fields__ and name not in ("revision", "moved", "past")
    }
    if not len(held.passage_kind):
        kinds = news.passages.rows["kind"] if news.passages else np.zeros(0)
        if (kinds != TEXT).any():
            raise NotCarried("pictures and recordings come in")
        found["passage_kind"] = np.zeros(len(held.passage_ids), np.int8)
        found["passage_begin"] = found["passage_finish"] = np.full(len(held.passage_ids), np.nan)
    way = _names(held, news, found)
    _speakers_and_turns(held, news, found, way)
    _passages(held, news.passages, found, way)
    _codings(held, news.codings, found, way)
    if found["passage_kind"].any() and len(found["turn_begin"]) != len(found["turn_start"]):
        raise NotCarried("times of turns were left out")
    moved = {"": held.revision, **held.moved, **news.kinds}
    return Snapshot(revision=news.revision, moved=moved, past=held.past, **beyond_text(found)), way


def _names(held: Snapshot, news: News, found: dict[str, npt.NDArray[Any]]) -> Way:
    def numbers(name: str, old: Integers) -> Table:
        return news.whole.get(name, {"id": old})

    parents = np.append(held.code_ids, -1)[held.code_parent]
    codes = news.whole.get("codes", {"id": held.code_ids, "parent": parents})
    found |= of_names(numbers("documents", held.document_ids), numbers("cases", held.case_ids), codes)

    def moved(name: str) -> Places | None:
        if np.array_equal(found[name], getattr(held, name)):
            return None
        return places(found[name], getattr(held, name)).astype(np.int64)

    still = np.zeros(0, np.int64)
    return Way(
        moved("document_ids"),
        moved("case_ids"),
        moved("code_ids"),
        Splice(len(held.passage_ids), still, still),
        Splice(len(held.coding_ids), still, still),
        texts_stay="turns" not in news.whole and "documents" not in news.whole,
    )


def _speakers_and_turns(held: Snapshot, news: News, found: dict[str, npt.NDArray[Any]], way: Way) -> None:
    speakers = news.whole.get("speakers")
    if speakers is None:
        found["speaker_case"] = follow(way.cases, held.speaker_case)
        if len(held.speaker_document):
            found["speaker_document"] = follow(way.documents, held.speaker_document)
    else:
        found |= of_speakers(speakers, found["document_ids"], found["case_ids"])
        if not np.array_equal(found["speaker_ids"], held.speaker_ids):
            way.texts_stay = False
    turns = news.whole.get("turns")
    if turns is not None:
        found |= of_turns(turns, found["document_ids"], found["speaker_ids"])
    elif not way.texts_stay:
        found["turn_document"] = follow(way.documents, held.turn_document)
        at = places(found["speaker_ids"], held.speaker_ids).astype(np.int64)
        found["turn_speaker"] = follow(at, held.turn_speaker)
    if not way.texts_stay and ((found["turn_document"] < 0).any() or (found["turn_speaker"] < 0).any()):
        raise NotCarried("turns without a document or a speaker")
    if way.texts_stay:
        was = follow(way.cases, held.speaker_case)
        lost = (was < 0) & (held.speaker_case >= 0)
        moved = lost | (was != found["speaker_case"]) | (held.speaker_role != found["speaker_role"])
        way.speakers_moved = np.flatnonzero(moved)


def _passages(held: Snapshot, touched: Touched | None, found: dict[str, npt.NDArray[Any]], way: Way) -> None:
    found["passage_document"] = follow(way.documents, held.passage_document)
    if touched is not None:
        gone = _places_of(held.passage_ids, touched.ids)
        way.passages = Splice(len(held.passage_ids), gone, _sorted_in(held, touched.rows, way))
        for name, fresh in of_passages(touched.rows, found["document_ids"]).items():
            found[name] = way.passages.put(found[name], fresh)
        came = places(touched.rows["id"], held.passage_ids[gone])
        way.passages.back = np.append(way.passages.fresh, -1)[came].astype(np.int64)
    if (way.documents is not None or touched is not None) and (found["passage_document"] < 0).any():
        raise NotCarried("passages without a document")


def _sorted_in(held: Snapshot, rows: Table, way: Way) -> Places:
    """Before which of the old passages each new one stands: by document, start, end, number. Those that go count too."""
    documents: npt.NDArray[Any]
    if way.documents is None:
        documents, of_rows = held.passage_document, places(held.document_ids, rows["document"]).astype(np.int64)
    else:
        documents, of_rows = held.document_ids[held.passage_document], rows["document"]
    old: list[npt.NDArray[Any]] = [documents, held.passage_start, held.passage_end, held.passage_ids]
    fresh: list[npt.NDArray[Any]] = [of_rows, rows["first"], rows["last"], rows["id"]]
    count, length = len(of_rows), len(documents)
    if count > MANY:
        order = np.lexsort([np.concatenate(pair) for pair in reversed(list(zip(old, fresh, strict=True)))])
        return np.flatnonzero(order >= length) - np.arange(count)
    at = np.zeros(count, np.int64)
    for one in range(count):
        low, high = 0, length
        for array, wanted in zip(old, fresh, strict=True):
            run = array[low:high]
            low, high = (low + int(np.searchsorted(run, wanted[one], side=side)) for side in ("left", "right"))
        at[one] = low
    return at


def _codings(held: Snapshot, touched: Touched | None, found: dict[str, npt.NDArray[Any]], way: Way) -> None:
    found["coding_passage"] = way.passages.follow(held.coding_passage)
    found["coding_code"] = follow(way.codes, held.coding_code)
    if touched is not None:
        coders = np.union1d(held.coder_ids, touched.rows["coder"])
        if len(coders) != len(held.coder_ids):
            found["coding_coder"] = follow(places(coders, held.coder_ids).astype(np.int64), held.coding_coder)
        found["coder_ids"] = coders
        fresh = of_codings(touched.rows, found)
        if (fresh["coding_passage"] < 0).any() or (fresh["coding_code"] < 0).any():
            raise NotCarried("codings of what isn’t held")
        gone = _places_of(held.coding_ids, touched.ids)
        at = np.searchsorted(held.coding_ids, touched.rows["id"]).astype(np.int64)
        way.codings = Splice(len(held.coding_ids), gone, at)
        for name, rows in fresh.items():
            found[name] = way.codings.put(found[name], rows)
        way.recoded = np.unique(held.coding_passage[gone]).astype(np.int64)
        if len(gone):
            _drop_idle_coders(found)
    if (found["coding_passage"] < 0).any() or (found["coding_code"] < 0).any():
        raise NotCarried("codings whose passage or code went unseen")


def _places_of(ids: Integers, touched: Integers) -> Places:
    """Where those of the touched stand that are held, ascending."""
    at = places(ids, touched)
    return np.sort(at[at >= 0]).astype(np.int64)


def _drop_idle_coders(found: dict[str, npt.NDArray[Any]]) -> None:
    codes = np.bincount(found["coding_coder"], minlength=len(found["coder_ids"]))
    if (codes == 0).any():
        at = np.cumsum(codes > 0) - 1
        found["coding_coder"] = at[found["coding_coder"]].astype(np.int32)
        found["coder_ids"] = found["coder_ids"][codes > 0]


def follow(way: Places | None, old: npt.NDArray[np.int32]) -> npt.NDArray[np.int32]:
    """Old places as new ones, −1 staying; the same array where none moved."""
    return old if way is None else np.append(way, -1).astype(np.int32)[old]
