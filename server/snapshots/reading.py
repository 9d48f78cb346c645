"""A project's rows as columns, whole or those with some numbers; what they are is written in ``core.snapshot.tables``."""

from collections.abc import Sequence

from core.snapshot.columns import ROLES
from core.snapshot.tables import COLUMNS, Table
from server.common.columns import integer_columns

_ROLE = " ".join(f"WHEN '{role}' THEN {place}" for place, role in enumerate(ROLES))
_THOUSANDTHS = "coalesce(({} * 1000)::bigint, -1)"
_QUERIES = {
    "documents": "SELECT d.id::bigint FROM gather_document d WHERE d.project_id = %s{} ORDER BY d.id",
    "cases": "SELECT c.id::bigint FROM people_case c WHERE c.project_id = %s{} ORDER BY c.identifier, c.id",
    "codes": """SELECT c.id::bigint, coalesce(c.parent_id, -1)::bigint AS parent
        FROM coding_code c WHERE c.project_id = %s{} ORDER BY c.position, c.id""",
    "speakers": f"""SELECT s.id::bigint, (CASE s.role {_ROLE} END)::bigint AS role,
        coalesce(s.case_id, -1)::bigint AS "case", s.document_id::bigint AS document
        FROM gather_speaker s JOIN gather_document d ON d.id = s.document_id WHERE d.project_id = %s{{}} ORDER BY s.id""",
    "turns": f"""SELECT t.document_id::bigint AS document, t.ink_start::bigint AS first, t.ink_end::bigint AS last,
        t.speaker_id::bigint AS speaker, t.words::bigint, {_THOUSANDTHS.format("t.begin")} AS begin,
        {_THOUSANDTHS.format("t.finish")} AS finish
        FROM gather_turn t JOIN gather_document d ON d.id = t.document_id WHERE d.project_id = %s{{}}
        ORDER BY t.document_id, t.number""",
    "passages": f"""SELECT p.id::bigint, p.document_id::bigint AS document, p.start::bigint AS first, p."end"::bigint AS last,
        (CASE WHEN p.page IS NOT NULL THEN 1 WHEN p.begin IS NOT NULL THEN 2 ELSE 0 END)::bigint AS kind,
        {_THOUSANDTHS.format("p.begin")} AS begin, {_THOUSANDTHS.format("p.finish")} AS finish
        FROM coding_passage p JOIN gather_document d ON d.id = p.document_id WHERE d.project_id = %s{{}}
        ORDER BY p.document_id, p.start, p."end", p.id""",
    "codings": """SELECT g.id::bigint, g.passage_id::bigint AS passage, g.code_id::bigint AS code,
        g.coder_id::bigint AS coder, coalesce(g.rating, 0)::bigint AS rating,
        ((g.made_at AT TIME ZONE 'UTC')::date - DATE '1970-01-01')::bigint AS day
        FROM coding_coding g JOIN coding_code c ON c.id = g.code_id WHERE c.project_id = %s{} ORDER BY g.id""",
}
_NUMBER = {"passages": "p.id", "codings": "g.id"}


def whole(project_id: int, name: str) -> Table:
    """All rows of one kind."""
    return integer_columns(_QUERIES[name].format(""), [project_id], list(COLUMNS[name]))


def some(project_id: int, name: str, ids: Sequence[int]) -> Table:
    """Of these passages or codings, those that there are."""
    query = _QUERIES[name].format(f" AND {_NUMBER[name]} = ANY(%s)")
    return integer_columns(query, [project_id, list(ids)], list(COLUMNS[name]))
