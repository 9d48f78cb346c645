"""Finding a word in eight million, and merging codes with 20,000 codings, each beside plain SQL."""

import random
import statistics
import time
from collections.abc import Callable
from typing import Any

from django.db import connection

from bench.gather import project
from core.gather.labels import Line
from core.gather.transcript import read_transcript
from server.coding import finding
from server.coding.actions import create_code, merge_codes
from server.coding.models import Coding, Passage
from server.gather.actions.documents import add_document
from server.gather.models import Document
from server.projects import trail
from server.projects.models import Membership, Project
from server.projects.trail import act
from server.snapshots import words
from server.snapshots.queries import snapshot

Report = Callable[..., None]
NAME, MERGED = "Bench: eight million words", "Bench: twenty thousand codings"
DOCUMENTS, TURNS, WORDS, CODINGS = 1000, 40, 200, 20_000
RARE, SCARCE, COMMON = "lighthouse", "ropework", "mainland"


def _text(dice: random.Random, vocabulary: list[str], weights: list[float], number: int) -> list[Line]:
    lines = []
    for turn in range(TURNS):
        words = dice.choices(vocabulary, weights, k=WORDS)
        if turn == 7 and number % 100 == 0:
            words[50] = RARE
        if turn == 9 and number % 12 == 0:
            words[60] = SCARCE
        if turn % 5 == 1:
            words[90] = COMMON
        lines.append(Line(f"{'I' if turn % 2 == 0 else 'P'}: {' '.join(words)}."))
    return lines


def _words() -> Membership:
    there = Project.objects.filter(name=NAME).first()
    if there and there.documents.exists():
        return Membership.objects.filter(project=there).select_related("project", "account").get()
    member = (
        project(NAME) if there is None else Membership.objects.select_related("project", "account").get(project=there)
    )
    dice = random.Random(9)
    letters = "etaoinshrdlucmfwygpb"
    vocabulary = ["".join(dice.choice(letters) for _ in range(dice.randint(2, 9))) for _ in range(12_000)]
    weights = [1 / (place + 1) for place in range(len(vocabulary))]
    with act(member, "document.add") as change:
        for number in range(DOCUMENTS):
            add_document(change, f"Talk {number}", read_transcript(_text(dice, vocabulary, weights, number)))
        change.summary = "Brought in"
        change.inverse = change.inverse[:1]
    with connection.cursor() as cursor:
        cursor.execute("VACUUM ANALYZE gather_wordindex; ")
    return member


def _median(does: Callable[[], Any], times: int = 7) -> float:
    taken = []
    for _ in range(times):
        begun = time.perf_counter()
        does()
        taken.append(1000 * (time.perf_counter() - begun))
    return statistics.median(taken)


def _plain_scan(member: Membership, word: str) -> int:
    """What the database does without the index: every text read for the word."""
    rows = Document.objects.filter(project=member.project_id, text__iregex=rf"\y{word}\y")
    return sum(1 for _ in rows.values_list("id", "text").iterator())


def finds(report: Report) -> None:
    member = _words()
    begun = time.perf_counter()
    while words.words_of(member.project_id, snapshot(member.project_id)) is None:
        time.sleep(0.1)
    report("where 8,000,000 words stand, gone through once", time.perf_counter() - begun)
    count = sum(Document.objects.filter(project=member.project_id).values_list("words", flat=True))
    for word in (RARE, SCARCE, COMMON):
        asked = finding.Asked(word)
        total = finding.hits(member, asked)["total"]
        held = _median(lambda asked=asked: finding.hits(member, asked))  # type: ignore[misc]
        plain = _median(lambda word=word: _plain_scan(member, word), 3)  # type: ignore[misc]
        report(f"find a word, {total:,} hits in {count:,} words", held, "ms", plain_scan=plain)


def merges(report: Report) -> None:
    there = Project.objects.filter(name=MERGED).first()
    if there is None:
        member = project(MERGED)
        kept, other = create_code(member, "Kept"), create_code(member, "Other")
        with act(member, "document.add") as change:
            for number in range(20):
                document = add_document(change, f"Talk {number}", read_transcript([Line("word " * 2000)]))
                rows = Passage.objects.bulk_create(
                    Passage(document=document, start=5 * place, end=5 * place + 4) for place in range(CODINGS // 20)
                )
                for code, chosen in ((other, rows), (kept, rows[::4])):
                    Coding.objects.bulk_create(Coding(passage=row, code=code, coder=member.account) for row in chosen)
            change.summary = "Brought in"
            change.inverse = change.inverse[:1]
    else:
        member = Membership.objects.filter(project=there).select_related("project", "account").get()
    codes = dict(member.project.codes.values_list("name", "id"))
    taken, back = [], []
    for _ in range(5):
        begun = time.perf_counter()
        merge_codes(member, codes["Kept"], [codes["Other"]])
        taken.append(time.perf_counter() - begun)
        begun = time.perf_counter()
        trail.undo(member)
        back.append(time.perf_counter() - begun)
    plain = _plain_update(codes)
    report("merge codes with 20,000 codings", 1000 * statistics.median(taken), "ms", plain_update=plain)
    report("  and take it back", 1000 * statistics.median(back), "ms")


def _plain_update(codes: dict[str, int]) -> float:
    """The same by hand in SQL, without trail or undo, rolled back."""
    taken = []
    for _ in range(5):
        with connection.cursor() as cursor:
            cursor.execute("BEGIN")
            begun = time.perf_counter()
            cursor.execute(
                """DELETE FROM coding_coding o USING coding_coding k WHERE o.code_id = %s AND k.code_id = %s
                   AND k.passage_id = o.passage_id AND k.coder_id = o.coder_id""",
                [codes["Other"], codes["Kept"]],
            )
            cursor.execute("UPDATE coding_coding SET code_id = %s WHERE code_id = %s", [codes["Kept"], codes["Other"]])
            # As the end of a transaction has it done.
            cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
            taken.append(1000 * (time.perf_counter() - begun))
            cursor.execute("ROLLBACK")
    return statistics.median(taken)


def run(report: Report) -> None:
    finds(report)
    merges(report)
