"""How long others wait for a write of theirs while a thousand documents are brought in, and while that is taken back."""

import multiprocessing
import statistics
import time
from collections.abc import Callable
from typing import Any

import django

# Those who code beside it run in processes of their own, which begin here.
django.setup()

from bench.gather import project, transcript  # noqa: E402
from server.coding import actions as coding  # noqa: E402
from server.gather import media  # noqa: E402
from server.gather.actions import add_document  # noqa: E402
from server.gather.models import StagedFile  # noqa: E402
from server.gather.readers.sandbox import read_files  # noqa: E402
from server.imports import jobs as importing  # noqa: E402
from server.projects import jobs as turning  # noqa: E402
from server.projects import running  # noqa: E402
from server.projects.models import Account, Job, JobState, Membership, TrailState  # noqa: E402
from server.projects.trail import act  # noqa: E402

DOCUMENTS, CODERS = 1_000, 3


def code_on(membership: int, document: int, code: int, ended: Any, answer: Any) -> None:
    """Put a code on one passage after another, as a request does, until told to end; how long each took."""
    member = Membership.objects.select_related("project", "account").get(pk=membership)
    at, took, problems = 0, [], []
    while not ended.wait(0.05):
        start = time.perf_counter()
        try:
            coding.apply_codes(member, document, at, at + 9, [code])
        except Exception as problem:
            problems.append(repr(problem))
        took.append(time.perf_counter() - start)
        at = (at + 5) % 4_000
    answer.put((took, problems))


def run(report: Any) -> None:
    member = project("Bench: beside")
    texts = [transcript(seed) for seed in range(DOCUMENTS)]
    with act(member, "document.add") as change:
        from core.gather.labels import Line
        from core.gather.transcript import Corrections, read_transcript

        found = read_transcript([Line(one) for one in texts[0].split("\n")], Corrections(), [])
        documents = [add_document(change, f"There {number}", found).pk for number in range(CODERS)]
    codes = [coding.create_code(member, f"Code {number}", None).pk for number in range(CODERS)]
    coders = []
    for number in range(CODERS):
        account, _ = Account.objects.get_or_create(
            username=f"coder{number}", defaults={"display_name": f"Coder {number}"}
        )
        coders.append(Membership.objects.create(project=member.project, account=account, role="coder"))
    _stage(member, texts)
    del texts

    def beside(what: str, work: Callable[[], Job]) -> None:
        # Each in a process of its own, as they are on a server.
        context = multiprocessing.get_context("spawn")
        ended, answers = context.Event(), context.Queue()
        others = [
            context.Process(target=code_on, args=(coder.pk, document, code, ended, answers))
            for coder, document, code in zip(coders, documents, codes, strict=True)
        ]
        for one in others:
            one.start()
        time.sleep(4)
        start = time.perf_counter()
        job = work()
        seconds = time.perf_counter() - start
        ended.set()
        found = [answers.get() for _ in others]
        for one in others:
            one.join()
        job.refresh_from_db()
        assert job.state == JobState.DONE, job.message
        took = sorted(second for times, _ in found for second in times)
        problems = [problem for _, those in found for problem in those]
        report(f"{what}", seconds)
        report("  another coder's write meanwhile, median", statistics.median(took))
        report("  another coder's write meanwhile, 95th of 100", took[int(len(took) * 0.95)])
        report("  the longest", took[-1])
        print(f"  {len(took)} writes, {len(problems)} refused {problems[:2]}", flush=True)

    def imported() -> Job:
        job = Job.objects.create(project=member.project, account=member.account, title="bench")
        running.run(job.pk, importing.bring_in)
        return job

    def turned(state: TrailState) -> Job:
        entry = turning.trail.next_turned(member, state)
        job = Job.objects.create(project=member.project, account=member.account, title="bench", total=1)
        running.run(job.pk, lambda job, progress: turning._turn(job, progress, entry.pk, state))
        return job

    beside("nothing else goes on (for comparison)", lambda: _idle(member))
    beside(f"{DOCUMENTS:,} documents brought in while {CODERS} code", imported)
    beside("that taken back", lambda: turned(TrailState.UNDONE))
    beside("and done again", lambda: turned(TrailState.DONE))
    member.project.delete()


def _idle(member: Membership) -> Job:
    time.sleep(5)
    return Job.objects.create(project=member.project, account=member.account, title="bench", state=JobState.DONE)


def _stage(member: Membership, texts: list[str]) -> None:
    answers = list(read_files(((f"P{i:04}.txt", text.encode()) for i, text in enumerate(texts)), media.keep))
    StagedFile.objects.bulk_create(
        [
            StagedFile(project=member.project, account=member.account, name=f"P{i:04}.txt", kind="transcript",
                       digest=f"{i:064x}", size=len(texts[i]), content={**answer["content"], "media": []})
            for i, answer in enumerate(answers)
        ],
        batch_size=100,
    )  # fmt: skip
