"""Bringing in, measured: transcripts, a large sheet, and suggestions of who is who."""

import csv
import difflib
import random
import resource
import statistics
import tempfile
import threading
import time
from pathlib import Path
from typing import Any

import pandas as pd
from django.conf import settings
from django.db import connection

from core.people.called import Calling
from core.people.linking import UnlinkedSpeaker, propose_links
from server.gather import media
from server.gather.models import StagedFile
from server.gather.readers.sandbox import read_files
from server.imports import jobs as importing
from server.imports import queries as sheets
from server.imports import reading
from server.projects import running
from server.projects.actions import create_project
from server.projects.models import Account, Job, JobState, Membership

WORDS = ["boat", "late", "quay", "waited", "winter", "island", "never", "always", "home", "morning", "freight", "we",
         "the", "and", "then", "because", "nobody", "asked", "us", "about", "it", "again", "ferry", "dark"]  # fmt: skip


def transcript(seed: int, words: int = 8_000) -> str:
    """An invented talk: turns of 10 to 90 words by an interviewer and one participant."""
    dice = random.Random(seed)
    lines, count, speaker = [], 0, 0
    while count < words:
        length = dice.randint(10, 90)
        said = " ".join(dice.choices(WORDS, k=length)).capitalize()
        lines.append(f"{('Interviewer', f'P{seed:04}')[speaker]}: {said}.")
        speaker, count = 1 - speaker, count + length
    return "\n".join(lines)


def naive(text: str) -> dict[str, int]:
    """What a user would script: split at labels, count words by speaker."""
    counts: dict[str, int] = {}
    for line in text.split("\n"):
        label, _, said = line.partition(": ")
        counts[label] = counts.get(label, 0) + len(said.split())
    return counts


def project(name: str) -> Membership:
    account, _ = Account.objects.get_or_create(username="bench", defaults={"display_name": "Bench"})
    held = create_project(account, name)
    return Membership.objects.select_related("project", "account").get(project=held)


class Watch:
    """How long the job's progress ever stood still, and the largest resident set seen."""

    def __init__(self, job: Job) -> None:
        self.job, self.longest = job, 0.0
        self.stopped = threading.Event()
        self.thread = threading.Thread(target=self._run)

    def __enter__(self) -> "Watch":
        self.thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self.stopped.set()
        self.thread.join()

    def _run(self) -> None:
        last, since = None, time.perf_counter()
        while not self.stopped.wait(0.05):
            now = Job.objects.using("progress").values_list("done", "message").get(pk=self.job.pk)
            if now != last:
                self.longest = max(self.longest, time.perf_counter() - since) if last is not None else 0.0
                last, since = now, time.perf_counter()


def bring_in(member: Membership) -> tuple[float, float]:
    """Seconds of the whole job, and the longest that its progress stood still."""
    job = Job.objects.create(project=member.project, account=member.account, title="bench")
    with Watch(job) as watch:
        start = time.perf_counter()
        running.run(job.pk, importing.bring_in)
        seconds = time.perf_counter() - start
    job.refresh_from_db()
    assert job.state == JobState.DONE, job.message
    return seconds, watch.longest


def transcripts(report: Any, count: int = 1_000) -> None:
    member = project("Bench: transcripts")
    texts = [transcript(seed) for seed in range(count)]
    start = time.perf_counter()
    answers = list(read_files(((f"P{i:04}.txt", text.encode()) for i, text in enumerate(texts)), media.keep))
    read = time.perf_counter() - start
    StagedFile.objects.bulk_create(
        [
            StagedFile(project=member.project, account=member.account, name=f"P{i:04}.txt", kind="transcript",
                       digest=f"{i:064x}", size=1, content={**answer["content"], "media": []})
            for i, answer in enumerate(answers)
        ],
        batch_size=100,
    )  # fmt: skip
    start = time.perf_counter()
    for text in texts:
        naive(text)
    scripted = time.perf_counter() - start
    del texts, answers
    seconds, stood = bring_in(member)
    report(f"{count:,} transcripts read in their own process", read)
    report(f"{count:,} transcripts of 8,000 words brought in", seconds, naive_split_of_labels=scripted)
    report("transcripts: documents a second", count / seconds, "1/s")
    report("transcripts: longest that its progress stood still", stood)
    report("transcripts: peak memory of this process", resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024, "MiB")
    member.project.delete()


def write_sheet(path: Path, rows: int, columns: int) -> None:
    """Invented people: numbers, categories with gaps, yes and no."""
    dice = random.Random(1)
    kinds = ["ID", *[("age", "town", "scale", "yes", "score")[i % 5] + str(i) for i in range(columns - 1)]]
    make = {
        "age": lambda: str(dice.randint(18, 90)), "tow": lambda: dice.choice(("Holm", "Ytter", "Norrby", "Ostrand")),
        "sca": lambda: dice.choice(("never", "rarely", "often", "always", "")), "yes": lambda: dice.choice(("yes", "no")),
        "sco": lambda: f"{dice.random() * 100:.2f}",
    }  # fmt: skip
    with path.open("w", newline="") as file:
        writer = csv.writer(file)
        writer.writerow(kinds)
        for row in range(rows):
            writer.writerow([f"R{row:06}", *[make[name[:3]]() for name in kinds[1:]]])


def stage_sheet(member: Membership, path: Path) -> None:
    """Read and preview it as the interface does."""
    (answer,) = read_files([(path.name, path)], media.keep)
    row = StagedFile.objects.create(project=member.project, account=member.account, name=path.name, kind="sheet",
                                    digest="0" * 64, size=1, content=answer["content"], stored=answer["stored"])  # fmt: skip
    found = reading.sheet_of(row)
    row.content["signature"] = reading.signature_of(found)
    row.save()
    sheets.sheet_outcome(member, found)


def sheet(report: Any, rows: int = 100_000, columns: int = 60) -> None:
    path = Path(tempfile.mkdtemp()) / "large.csv"
    write_sheet(path, rows, columns)
    start = time.perf_counter()
    frame = pd.read_csv(path)
    frame.nunique()
    with_pandas = time.perf_counter() - start
    del frame
    member = project("Bench: sheet")
    start = time.perf_counter()
    stage_sheet(member, path)
    report(f"{rows:,} × {columns} read and previewed", time.perf_counter() - start, pandas_read_and_nunique=with_pandas)
    seconds, stood = bring_in(member)
    report(f"{rows:,} × {columns} brought in", seconds)
    report("sheet: longest that its progress stood still", stood)
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM people_value v USING people_variable x WHERE x.id = v.variable_id AND x.project_id = %s", [member.project_id])  # fmt: skip
    report("sheet: peak memory of this process", resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024, "MiB")
    path.unlink()


def suggestions(report: Any, count: int = 1_000) -> None:
    dice = random.Random(2)
    names = [
        "".join(dice.choices("abcdefghiklmnoprstuvy", k=7)).title()
        + " "
        + "".join(dice.choices("aeinorst", k=6)).title()
        for _ in range(count)
    ]
    cases = {place: f"C{place:04}" for place in range(count)}
    known = [Calling(place, name, "Name") for place, name in enumerate(names)]
    speakers = []
    for place, name in enumerate(names):
        at = dice.randrange(len(name))
        speakers.append(UnlinkedSpeaker(place, name[:at] + "x" + name[at:], f"talk{place}.txt", False))
    times = []
    for _ in range(3):
        start = time.perf_counter()
        found = propose_links(speakers, cases, known)
        times.append(time.perf_counter() - start)
    right = sum(one.case == one.speaker for one in found)
    start = time.perf_counter()
    for speaker in speakers[:20]:
        difflib.get_close_matches(speaker.label, names, n=1)
    scripted = (time.perf_counter() - start) * count / 20
    report(f"suggestions, {count:,} speakers × {count:,} cases", statistics.median(times), difflib=scripted)
    report("… of misspelt names found again", right / count, "share")


def run(report: Any) -> None:
    settings.MEDIA_FOLDER = Path(settings.LOCAL) / "bench-media"
    suggestions(report)
    suggestions(report, 10_000)
    transcripts(report)
    sheet(report)
