"""A project's snapshot, kept in memory until the project's revision moves on."""

import threading
from collections import OrderedDict
from typing import Any

import numpy as np
import numpy.typing as npt
from django.conf import settings

from core.snapshot.snapshot import Snapshot
from server.common.database import one_state
from server.compare.columns import integer_columns
from server.gather.models import SpeakerRole
from server.projects.models import Project

_ROLES = " ".join(f"WHEN '{role}' THEN {place}" for place, role in enumerate(SpeakerRole.values))
_DOCUMENTS = "SELECT id::bigint FROM gather_document WHERE project_id = %s ORDER BY id"
_CASES = "SELECT id::bigint FROM people_case WHERE project_id = %s ORDER BY identifier, id"
_CODES = """SELECT id::bigint, coalesce(parent_id, -1)::bigint AS parent
    FROM coding_code WHERE project_id = %s ORDER BY position, id"""
_SPEAKERS = f"""SELECT s.id::bigint, (CASE s.role {_ROLES} END)::bigint AS role, coalesce(s.case_id, -1)::bigint AS in_case,
    s.document_id::bigint AS document FROM gather_speaker s JOIN gather_document d ON d.id = s.document_id WHERE d.project_id = %s ORDER BY s.id"""
_TURNS = """SELECT t.document_id::bigint AS document, t.ink_start::bigint AS first, t.ink_end::bigint AS last,
    t.speaker_id::bigint AS speaker, t.words::bigint, coalesce((t.begin * 1000)::bigint, -1) AS begin,
    coalesce((t.finish * 1000)::bigint, -1) AS finish
    FROM gather_turn t JOIN gather_document d ON d.id = t.document_id WHERE d.project_id = %s
    ORDER BY t.document_id, t.number"""
_PASSAGES = """SELECT p.id::bigint, p.document_id::bigint AS document, p.start::bigint AS first, p."end"::bigint AS last,
    (CASE WHEN p.page IS NOT NULL THEN 1 WHEN p.begin IS NOT NULL THEN 2 ELSE 0 END)::bigint AS kind,
    coalesce((p.begin * 1000)::bigint, -1) AS begin, coalesce((p.finish * 1000)::bigint, -1) AS finish
    FROM coding_passage p JOIN gather_document d ON d.id = p.document_id WHERE d.project_id = %s
    ORDER BY p.document_id, p.start, p."end", p.id"""
_CODINGS = """SELECT g.passage_id::bigint AS passage, g.code_id::bigint AS code, g.coder_id::bigint AS coder,
    coalesce(g.rating, 0)::bigint AS rating, ((g.made_at AT TIME ZONE 'UTC')::date - DATE '1970-01-01')::bigint AS day
    FROM coding_coding g JOIN coding_code c ON c.id = g.code_id WHERE c.project_id = %s"""

_cache: OrderedDict[int, Snapshot] = OrderedDict()
_lock = threading.Lock()
_loading: dict[int, threading.Lock] = {}


def snapshot(project_id: int) -> Snapshot:
    """The project as it is now; loaded once a revision, whoever asks first waits for it."""
    revision = Project.objects.values_list("revision", flat=True).get(pk=project_id)
    with _lock:
        held = _cache.get(project_id)
        if held is not None and held.revision == revision:
            _cache.move_to_end(project_id)
            return held
        loading = _loading.setdefault(project_id, threading.Lock())
    with loading:
        held = _cache.get(project_id)
        if held is not None and held.revision >= revision:
            return held
        fresh = load(project_id)
        with _lock:
            _cache[project_id] = fresh
            _cache.move_to_end(project_id)
            _trim()
        return fresh


def forget() -> None:
    """Empty the cache (tests and benchmarks)."""
    with _lock:
        _cache.clear()


def load(project_id: int) -> Snapshot:
    """Read a project into arrays, all from one state of the database."""
    with one_state():
        return _load(project_id)


def _load(project_id: int) -> Snapshot:
    revision = Project.objects.values_list("revision", flat=True).get(pk=project_id)
    one = [project_id]
    documents = integer_columns(_DOCUMENTS, one, ["id"])["id"]
    cases = integer_columns(_CASES, one, ["id"])["id"]
    codes = integer_columns(_CODES, one, ["id", "parent"])
    speakers = integer_columns(_SPEAKERS, one, ["id", "role", "in_case", "document"])
    turns = integer_columns(_TURNS, one, ["document", "first", "last", "speaker", "words", "begin", "finish"])
    passages = integer_columns(_PASSAGES, one, ["id", "document", "first", "last", "kind", "begin", "finish"])
    codings = integer_columns(_CODINGS, one, ["passage", "code", "coder", "rating", "day"])
    coders = np.unique(codings["coder"])
    return Snapshot(
        revision=revision,
        document_ids=documents,
        turn_document=places(documents, turns["document"]),
        turn_start=turns["first"].astype(np.int32),
        turn_end=turns["last"].astype(np.int32),
        turn_speaker=places(speakers["id"], turns["speaker"]),
        turn_words=turns["words"].astype(np.int32),
        speaker_role=speakers["role"].astype(np.int8),
        speaker_case=places(cases, speakers["in_case"]),
        case_ids=cases,
        passage_ids=passages["id"],
        passage_document=places(documents, passages["document"]),
        passage_start=passages["first"].astype(np.int32),
        passage_end=passages["last"].astype(np.int32),
        coding_passage=places(passages["id"], codings["passage"]),
        coding_code=places(codes["id"], codings["code"]),
        coding_coder=places(coders, codings["coder"]),
        code_ids=codes["id"],
        code_parent=places(codes["id"], codes["parent"]),
        coder_ids=coders,
        coding_rating=codings["rating"].astype(np.int8),
        coding_day=codings["day"].astype(np.int32),
        **_beyond_text(documents, speakers, passages, turns),
    )


def _beyond_text(
    documents: npt.NDArray[np.int64],
    speakers: dict[str, npt.NDArray[np.int64]],
    passages: dict[str, npt.NDArray[np.int64]],
    turns: dict[str, npt.NDArray[np.int64]],
) -> dict[str, npt.NDArray[Any]]:
    """What regions and spans need; nothing where all passages are text."""
    if not passages["kind"].any():
        return {}
    return {
        "speaker_document": places(documents, speakers["document"]),
        "passage_kind": passages["kind"].astype(np.int8),
        "passage_begin": _seconds(passages["begin"]),
        "passage_finish": _seconds(passages["finish"]),
        "turn_begin": _seconds(turns["begin"]),
        "turn_finish": _seconds(turns["finish"]),
    }


def _seconds(thousandths: npt.NDArray[np.int64]) -> npt.NDArray[np.float64]:
    """Seconds; NaN where there is no time."""
    return np.where(thousandths < 0, np.nan, thousandths / 1000)


def places(ids: npt.NDArray[np.int64], wanted: npt.NDArray[np.int64]) -> npt.NDArray[np.int32]:
    """Where each wanted ID stands in ``ids``; −1 where it doesn't."""
    if not len(ids) or not len(wanted):
        return np.full(len(wanted), -1, np.int32)
    order = np.argsort(ids)
    at = np.minimum(np.searchsorted(ids[order], wanted), len(ids) - 1)
    found = order[at]
    return np.where(ids[found] == wanted, found, -1).astype(np.int32)


def _trim() -> None:
    """Forget what was used longest ago until the rest fits."""
    while len(_cache) > 1 and sum(held.memory for held in _cache.values()) > settings.SNAPSHOT_MEMORY:
        _cache.popitem(last=False)
