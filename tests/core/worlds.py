"""Small invented projects as snapshots, and an independent, slow way of counting them."""

from dataclasses import dataclass, replace

import numpy as np

from core.compare.groups import OUTSIDE, Groups
from core.snapshot.columns import INTERVIEWER, OTHER, PARTICIPANT
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot


def random_snapshot(seed: int, documents: int = 5, cases: int = 7, codes: int = 6, codings: int = 60) -> Snapshot:
    """Turns of random length and speaker, passages anywhere, codes in a random tree."""
    generator = np.random.default_rng(seed)
    turns, roles, links = [], [], []
    for document in range(documents):
        at = 0
        first = len(roles)
        for _ in range(generator.integers(1, 5)):
            role = int(generator.choice([PARTICIPANT, PARTICIPANT, PARTICIPANT, INTERVIEWER, OTHER]))
            roles.append(role)
            links.append(int(generator.integers(-1, cases)) if role == PARTICIPANT else -1)
        for _ in range(generator.integers(2, 9)):
            length = int(generator.integers(2, 12))
            speaker = int(generator.integers(first, len(roles)))
            turns.append((document, at, at + length - 1, speaker, int(generator.integers(0, 9))))
            at += length
    lengths = {d: max(t[2] for t in turns if t[0] == d) for d in range(documents)}
    passages = set()
    for _ in range(codings // 2):
        document = int(generator.integers(documents))
        start = int(generator.integers(0, lengths[document]))
        passages.add((document, start, int(generator.integers(start + 1, lengths[document] + 1))))
    passages = sorted(passages)
    made = {
        (int(generator.integers(len(passages))), int(generator.integers(codes)), int(generator.integers(2)))
        for _ in range(codings)
    }
    parents = [-1 if code < 2 else int(generator.integers(-1, code)) for code in range(codes)]

    def column(rows, place, kind=np.int32):
        return np.array([row[place] for row in rows], kind)

    made = sorted(made)
    return Snapshot(
        1, np.arange(documents), column(turns, 0), column(turns, 1), column(turns, 2), column(turns, 3), column(turns, 4),
        np.array(roles, np.int8), np.array(links, np.int32), np.arange(cases) + 100,
        np.arange(len(passages)) + 1000, column(passages, 0), column(passages, 1), column(passages, 2),
        column(made, 0), column(made, 1), column(made, 2), np.arange(codes) + 10, np.array(parents, np.int32), np.arange(2),
    )  # fmt: skip


def random_groups(seed: int, cases: int = 7) -> Groups:
    """Three groups, some cases outside, some missing for different reasons."""
    labels = np.random.default_rng(seed + 99).choice([0, 1, 2, 0, 1, 2, OUTSIDE, -1, -2], cases)
    return Groups(("a", "b", "c"), labels.astype(np.int32))


def random_scope(seed: int, snapshot: Snapshot) -> Scope:
    generator = np.random.default_rng(seed + 7)

    def mask(n: int):
        return generator.random(n) < 0.7 if generator.random() < 0.6 else None

    return Scope(mask(len(snapshot.document_ids)), mask(len(snapshot.case_ids)), mask(len(snapshot.coder_ids)))


@dataclass
class SlowCount:
    """Sets and loops, straight from the words of the methods page."""

    snapshot: Snapshot
    scope: Scope

    def speakers_of(self, passage: int) -> list[int]:
        s = self.snapshot
        return [
            int(s.turn_speaker[t])
            for t in range(len(s.turn_document))
            if s.turn_document[t] == s.passage_document[passage]
            and max(s.turn_start[t], s.passage_start[passage]) < min(s.turn_end[t], s.passage_end[passage])
        ]

    def cases_of(self, passage: int) -> set[int]:
        s = self.snapshot
        found = {int(s.speaker_case[k]) for k in self.speakers_of(passage) if s.speaker_role[k] == PARTICIPANT}
        return {case for case in found if case >= 0 and (self.scope.cases is None or self.scope.cases[case])}

    def all_cases_of(self, passage: int) -> set[int]:
        return SlowCount(self.snapshot, Scope()).cases_of(passage)

    def passages_of(self, code: int, roll_up: bool) -> set[int]:
        s = self.snapshot
        wanted = {code}
        if roll_up:
            for other in range(len(s.code_ids)):
                above = other
                while above >= 0:
                    if above == code:
                        wanted.add(other)
                    above = int(s.code_parent[above])
        held = set()
        for p, c, coder in zip(s.coding_passage, s.coding_code, s.coding_coder, strict=True):
            if int(c) in wanted and (self.scope.coders is None or self.scope.coders[coder]):
                if self.scope.documents is not None and not self.scope.documents[s.passage_document[p]]:
                    continue
                everyone = self.all_cases_of(int(p))
                if everyone and not self.cases_of(int(p)):
                    continue
                held.add(int(p))
        return held


def one_talk_each(passages: list[int], silent: int = 0, words: int = 40) -> Snapshot:
    """One interview a person, with so many passages of the one code; then people without material."""
    size, owner = len(passages), np.repeat(np.arange(len(passages)), passages)
    start = np.concatenate([np.arange(count) * 3 for count in passages]) if len(owner) else np.zeros(0, np.int64)
    each, made = np.arange(size), np.arange(len(owner))
    none = np.zeros(len(owner), np.int32)
    return Snapshot(
        1, each, each, np.zeros(size, np.int32), np.full(size, 200), each, np.full(size, words), np.zeros(size, np.int8),
        each, np.arange(size + silent), made, owner, start.astype(np.int32), start.astype(np.int32) + 2,
        made, none, none, np.array([1]), np.array([-1]), np.array([7]),
    )  # fmt: skip


def talks_with_rows(says: np.ndarray, words: int = 40) -> Snapshot:
    """One interview a person; each passage one code of one row: ``says`` (rows, people) passages of each (truth: one)."""
    counts = np.asarray(says).astype(np.int64)
    rows, people = counts.shape
    snapshot = one_talk_each(counts.sum(axis=0).tolist(), words=words)
    code = np.concatenate([np.repeat(np.arange(rows), counts[:, person]) for person in range(people)])
    return replace(
        snapshot,
        coding_code=code.astype(np.int32),
        code_ids=np.arange(rows) + 1,
        code_parent=np.full(rows, -1, np.int32),
    )


def together(snapshot: Snapshot, people: list[int]) -> Snapshot:
    """The same with one more document, in which these people speak one after the other, and nobody is coded."""
    document, speakers = len(snapshot.document_ids), len(snapshot.speaker_role)
    turns = np.arange(len(people))
    return replace(
        snapshot,
        document_ids=np.append(snapshot.document_ids, document),
        turn_document=np.append(snapshot.turn_document, np.full(len(people), document)).astype(np.int32),
        turn_start=np.append(snapshot.turn_start, turns * 10).astype(np.int32),
        turn_end=np.append(snapshot.turn_end, turns * 10 + 9).astype(np.int32),
        turn_speaker=np.append(snapshot.turn_speaker, speakers + turns).astype(np.int32),
        turn_words=np.append(snapshot.turn_words, np.full(len(people), 3)).astype(np.int32),
        speaker_role=np.append(snapshot.speaker_role, np.zeros(len(people))).astype(np.int8),
        speaker_case=np.append(snapshot.speaker_case, people).astype(np.int32),
    )


def two_waves(first: list[int], second: list[int]):
    """The same people interviewed twice, one passage of the one code where they mention it: compared by wave."""
    from core.compare.by_part import compare
    from core.compare.groups import by_documents
    from core.compare.question import Comparison

    people = len(first)
    snapshot = one_talk_each([*first, *second])
    case = np.tile(np.arange(people), 2).astype(np.int32)
    snapshot = replace(snapshot, speaker_case=case, case_ids=np.arange(people))
    wave = Groups(("winter", "spring"), np.repeat([0, 1], people).astype(np.int32))
    return compare(snapshot, Comparison((0,), by_documents(wave, snapshot.talks)))
