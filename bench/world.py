"""A seeded project of 1,000 cases, 1,000 documents (8 million words), 400 codes, 500,000 codings."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import psycopg

SYLLABLES = ("ka", "lo", "mi", "ren", "ta", "vi", "sol", "ne", "dur", "pe", "an", "is")


@dataclass(frozen=True)
class Size:
    cases: int = 1_000
    documents: int = 1_000
    words: int = 8_000
    turns: int = 80
    passages: int = 300
    codings: int = 500
    codes: int = 400
    groups: int = 6


@dataclass(frozen=True)
class Arrays:
    """Columns as a researcher would hold them in a data frame, one row a coding."""

    code: npt.NDArray[np.int32]
    case: npt.NDArray[np.int32]
    passage: npt.NDArray[np.int64]
    group: npt.NDArray[np.int32]


def vocabulary(generator: np.random.Generator) -> list[str]:
    return ["".join(generator.choice(SYLLABLES, generator.integers(1, 4))) for _ in range(3000)]


def fill(connection: psycopg.Connection, size: Size, seed: int = 8321) -> int:
    """Write the project with COPY; returns its ID. Checks by trigger are off: the rows are made to fit."""
    generator = np.random.default_rng(seed)
    connection.execute("SET session_replication_role = replica")
    project = connection.execute(
        "INSERT INTO projects_project (name, case_one, case_many, revision) VALUES ('Bench', 'person', 'people', 1) RETURNING id"
    ).fetchone()[0]  # type: ignore[index]
    account = connection.execute("SELECT id FROM projects_account WHERE username = 'bench'").fetchone()[0]  # type: ignore[index]
    connection.execute(
        "INSERT INTO projects_membership (project_id, account_id, role) VALUES (%s, %s, 'owner')", [project, account]
    )
    _people(connection, project, size, generator)
    codes = [
        (i + 1, project, None if i < 20 else i % 20 + 1, f"Code {i + 1}", i % 16, "", "", "", "", "", "", False, i)
        for i in range(size.codes)
    ]
    _copy(
        connection,
        "coding_code (id, project_id, parent_id, name, colour, definition, covers, excludes, example, scale_low, scale_high, parked, position)",
        codes,
    )
    _documents(connection, project, account, size, generator)
    for table in (
        "gather_document",
        "gather_speaker",
        "gather_turn",
        "coding_passage",
        "coding_coding",
        "coding_code",
        "people_case",
        "people_variable",
        "people_category",
        "people_value",
    ):
        connection.execute(f"SELECT setval(pg_get_serial_sequence('{table}', 'id'), (SELECT max(id) FROM {table}))")
    connection.execute("SET session_replication_role = DEFAULT")
    connection.commit()
    connection.autocommit = True
    connection.execute("VACUUM ANALYZE")
    return int(project)


def _people(connection: psycopg.Connection, project: int, size: Size, generator: np.random.Generator) -> None:
    _copy(
        connection,
        "people_case (id, project_id, identifier)",
        [(i + 1, project, f"P{i:04}") for i in range(size.cases)],
    )
    connection.execute(
        "INSERT INTO people_variable (id, project_id, name, kind, description, when_empty, position, of) VALUES (1, %s, 'Region', 'category', '', 'not_answered', 0, 'case')",
        [project],
    )
    _copy(
        connection,
        "people_category (id, variable_id, label, position)",
        [(g + 1, 1, f"Region {g + 1}", g) for g in range(size.groups)],
    )
    group = generator.integers(0, size.groups, size.cases)
    _copy(
        connection,
        "people_value (case_id, variable_id, category_id)",
        [(i + 1, 1, int(group[i]) + 1) for i in range(size.cases)],
    )


def _documents(
    connection: psycopg.Connection, project: int, account: int, size: Size, generator: np.random.Generator
) -> None:
    words = vocabulary(generator)
    per_turn = size.words // size.turns
    documents, speakers, turns, passages, codings = [], [], [], [], []
    for d in range(size.documents):
        picked = generator.integers(0, len(words), (size.turns, per_turn))
        lines = [" ".join(words[w] for w in row) for row in picked]
        ends = np.cumsum([len(line) + 1 for line in lines])
        text = "\n".join(lines) + "\n"
        documents.append((d + 1, project, f"Talk {d:04}", "transcript", "", "", text, len(text), size.words))
        speakers += [
            (2 * d + 1, d + 1, "Interviewer", "interviewer", None),
            (2 * d + 2, d + 1, "P", "participant", d % size.cases + 1),
        ]
        for t in range(size.turns):
            start = int(ends[t]) - len(lines[t]) - 1
            speaker = 2 * d + 1 if t % 8 == 0 else 2 * d + 2
            turns.append((d + 1, speaker, t + 1, start, int(ends[t]), start, int(ends[t]) - 1, per_turn, ""))
        starts = np.unique(generator.integers(0, len(text) - 400, 4 * size.passages))
        starts = np.sort(generator.choice(starts, size.passages, replace=False))
        lengths = generator.integers(20, 300, size.passages)
        first = len(passages) + 1
        passages += [
            (first + i, d + 1, int(s), int(s + n)) for i, (s, n) in enumerate(zip(starts, lengths, strict=True))
        ]
        pairs = generator.choice(size.passages * size.codes, size.codings, replace=False)
        codings += [(first + int(p) // size.codes, int(p) % size.codes + 1, account) for p in pairs]
    _copy(
        connection,
        "gather_document (id, project_id, title, kind, source_name, source_digest, text, length, words)",
        documents,
    )
    _copy(connection, "gather_speaker (id, document_id, label, role, case_id)", speakers)
    _copy(
        connection,
        'gather_turn (document_id, speaker_id, number, start, "end", ink_start, ink_end, words, time)',
        turns,
    )
    _copy(connection, 'coding_passage (id, document_id, start, "end")', passages)
    _copy(connection, "coding_coding (passage_id, code_id, coder_id)", codings)


def _copy(connection: psycopg.Connection, table: str, rows: list) -> None:  # type: ignore[type-arg]
    with connection.cursor().copy(f"COPY {table} FROM STDIN") as copy:
        for row in rows:
            copy.write_row(row)
