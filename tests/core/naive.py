"""A second way to count everything that a comparison shows: sets and loops, from the words of the methods page alone."""

from dataclasses import dataclass

from core.snapshot.columns import INTERVIEWER
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot
from core.snapshot.texture import Texture
from tests.core.worlds import SlowCount

Talk = tuple[int, int]


@dataclass
class Naive:
    """``groups`` says which groups a (case, document) is of (document −1: a case without material); ``rated`` whether only
    rated codings count; ``everyone`` and ``panel`` as the base and the columns are asked for."""

    snapshot: Snapshot
    slow: SlowCount
    groups: dict[Talk, set[int]]
    count: int
    texture: Texture | None = None
    roll_up: bool = True
    everyone: bool = False
    panel: bool = False

    def in_scope(self, case: int, document: int) -> bool:
        scope = self.slow.scope
        cases = scope.cases is None or bool(scope.cases[case])
        if document < 0:
            return cases and scope.documents is None
        return cases and (scope.documents is None or bool(scope.documents[document]))

    def of(self, case: int, document: int) -> set[int]:
        return self.groups.get((case, document), set()) if self.in_scope(case, document) else set()

    def said(self, passages: set[int]) -> set[tuple[int, int, int]]:
        """(passage, case, group) of what counts."""
        found = set()
        for passage in passages:
            document = int(self.snapshot.passage_document[passage])
            for case in self.slow.cases_of(passage):
                found |= {(passage, case, group) for group in self.of(case, document)}
        return found

    def rows(self) -> list[set[tuple[int, int, int]]]:
        return [self.said(self.slow.passages_of(code, self.roll_up)) for code in range(len(self.snapshot.code_ids))]

    def material(self) -> set[Talk]:
        """Who has material where: a turn with ink, or a passage."""
        s, found = self.snapshot, set()
        for turn in range(len(s.turn_document)):
            if s.turn_case[turn] >= 0 and s.turn_end[turn] > s.turn_start[turn]:
                found.add((int(s.turn_case[turn]), int(s.turn_document[turn])))
        for passage in range(len(s.passage_ids)):
            found |= {(case, int(s.passage_document[passage])) for case in self.slow.all_cases_of(passage)}
        return found

    def base(self) -> list[set[int]]:
        """The people of each group's base."""
        there, found = self.material(), [set() for _ in range(self.count)]
        scope = self.slow.scope
        for (case, document), groups in self.groups.items():
            if self.everyone and not self.panel:
                kept = scope.cases is None or bool(scope.cases[case])
            else:
                kept = (case, document) in there and self.in_scope(case, document)
            for group in groups if kept else ():
                found[group].add(case)
        return found

    def words(self) -> dict[Talk, int]:
        """Words of each case's own turns in scope, by document."""
        s, found = self.snapshot, {}
        for turn in range(len(s.turn_document)):
            case, document = int(s.turn_case[turn]), int(s.turn_document[turn])
            if case >= 0 and s.turn_end[turn] > s.turn_start[turn] and self.in_scope(case, document):
                found[case, document] = found.get((case, document), 0) + int(s.turn_words[turn])
        return found

    def words_under(self, passages: set[int]) -> dict[Talk, set[int]]:
        """Words that any of these passages covers, in the turns of each (case, document) in scope."""
        s, texture, found = self.snapshot, self.texture, {}
        for turn in range(len(s.turn_document)):
            case, document = int(s.turn_case[turn]), int(s.turn_document[turn])
            if case < 0 or not self.in_scope(case, document):
                continue
            here = [p for p in passages if s.passage_document[p] == document]
            for word in range(texture.turn_first[turn], texture.turn_first[turn + 1]):
                low, high = texture.word_start[word], texture.word_end[word]
                if any(max(low, s.passage_start[p]) < min(high, s.passage_end[p]) for p in here):
                    found.setdefault((case, document), set()).add(word)
        return found

    def ratings(self, code: int) -> list[tuple[int, int, int]]:
        """(coding, passage, rating) of a row's rated codings in scope."""
        s, scope = self.snapshot, self.slow.scope
        wanted = self.branch(code)
        return [
            (at, int(s.coding_passage[at]), int(s.coding_rating[at]))
            for at in range(len(s.coding_code))
            if int(s.coding_code[at]) in wanted
            and s.coding_rating[at] > 0
            and (scope.coders is None or scope.coders[s.coding_coder[at]])
        ]

    def branch(self, code: int) -> set[int]:
        if not self.roll_up:
            return {code}
        found, before = {code}, set()
        while found != before:
            before = set(found)
            found |= {at for at, parent in enumerate(self.snapshot.code_parent.tolist()) if parent in before}
        return found


@dataclass
class NaiveAsked:
    """Who was asked about a code, and what was said when asked: the same, the slow way. ``put`` are (turn, question) pairs,
    ``about`` the codes of each question."""

    snapshot: Snapshot
    put: list[Talk]
    about: list[set[int]]
    within: int

    def questions(self, code: int, roll_up: bool) -> set[int]:
        """Questions on the code, on what lies above it, or (rolled up) on what lies beneath it."""
        parents, wanted, above = self.snapshot.code_parent.tolist(), {code}, code
        while parents[above] >= 0:
            above = parents[above]
            wanted.add(above)
        if roll_up:
            wanted |= Naive(self.snapshot, SlowCount(self.snapshot, Scope()), {}, 0).branch(code)
        return {question for question, codes in enumerate(self.about) if codes & wanted}

    def documents(self, code: int, roll_up: bool) -> set[int]:
        asking = self.questions(code, roll_up)
        return {int(self.snapshot.turn_document[turn]) for turn, question in self.put if question in asking}

    def when_asked(self, passage: int, code: int, roll_up: bool) -> bool:
        """Whether the first turn of the passage that no interviewer says comes soon after such a question."""
        s, asking = self.snapshot, self.questions(code, roll_up)
        turns = [
            turn
            for turn in range(len(s.turn_document))
            if s.turn_document[turn] == s.passage_document[passage]
            and s.speaker_role[s.turn_speaker[turn]] != INTERVIEWER
            and max(s.turn_start[turn], s.passage_start[passage]) < min(s.turn_end[turn], s.passage_end[passage])
        ]
        return bool(turns) and any(
            question in asking
            and s.turn_document[turn] == s.passage_document[passage]
            and 0 <= turns[0] - turn <= self.within
            for turn, question in self.put
        )

    def interviewed(self, document: int) -> bool:
        """Whether an interviewer says something in it: elsewhere nobody knows who was asked."""
        s = self.snapshot
        return any(
            s.turn_document[turn] == document
            and s.speaker_role[s.turn_speaker[turn]] == INTERVIEWER
            and s.turn_words[turn] > 0
            for turn in range(len(s.turn_document))
        )
