"""Topics proposed by words: of 2,000 answers, and of 1,000 interviews as a job; beside scikit-learn's own way from texts to topics.

The texts are invented: words that say nothing, 20,000 others of which a few are common and most rare, as in talk, and six subjects
that a part of the people speak of."""

import resource
import time
from collections.abc import Callable, Sequence
from typing import Any

import numpy as np

from bench.gather import Watch, project
from core.coding.talk import Talk
from core.coding.topics import propose
from server.coding import topics
from server.coding.jobs import propose_task
from server.coding.models import Topic
from server.gather import media
from server.gather.models import StagedFile
from server.gather.readers.sandbox import read_files
from server.imports import jobs as importing
from server.projects import running
from server.projects.models import Job, JobState, Membership

ANSWERS, INTERVIEWS, LONG = 2_000, 1_000, 8_000
NOTHING = [
    "the",
    "a",
    "and",
    "of",
    "to",
    "in",
    "it",
    "was",
    "we",
    "I",
    "you",
    "that",
    "they",
    "but",
    "so",
    "then",
    "there",
    "with",
    "for",
    "on",
    "at",
    "my",
    "her",
    "his",
    "is",
    "not",
]
SUBJECTS = ("missed bus driver", "letter never answered", "clinic moved appointment", "ticket price rise", "school trip cancelled", "night crossing rough")  # fmt: skip
_LETTERS = list("abcdefghiklmnoprstu")
_MOST = 20_000


class Speech:
    """Sentences of invented people; the same from run to run."""

    def __init__(self, seed: int) -> None:
        self.dice = np.random.default_rng(seed)
        # Endings as English has them, so that stems have something to do.
        endings = ("", "", "", "s", "ed", "ing")
        self.words = np.array(
            ["".join(self.dice.choice(_LETTERS, 5)) + endings[at % len(endings)] for at in range(_MOST)]
        )
        share = 1 / np.arange(10, _MOST + 10)
        self.share = np.cumsum(share / share.sum())
        self.nothing = np.array(NOTHING)

    def said(self, words: int, about: Sequence[str]) -> str:
        """So many words in sentences of twelve, every tenth about one of the subjects."""
        own = self.words[np.minimum(np.searchsorted(self.share, self.dice.random(words)), _MOST - 1)]
        said = np.where(self.dice.random(words) < 0.55, self.nothing[self.dice.integers(len(NOTHING), size=words)], own)
        sentences = []
        for at in range(0, words, 12):
            sentence = said[at : at + 12].tolist()
            if about and self.dice.random() < 0.1:
                sentence[3:6] = about[self.dice.integers(len(about))].split()
            sentences.append(" ".join(sentence).capitalize() + ".")
        return " ".join(sentences)

    def subjects(self) -> list[str]:
        return [one for one in SUBJECTS if self.dice.random() < 0.3]


def run(report: Callable[..., None]) -> None:
    answers(report)
    interviews(report)


def answers(report: Callable[..., None]) -> None:
    speech = Speech(1)
    texts = [speech.said(int(speech.dice.integers(8, 60)), speech.subjects()) for _ in range(ANSWERS)]
    talks = [Talk(at, text, ((0, len(text)),), (at,)) for at, text in enumerate(texts)]
    nothing = topics.says_nothing(project("Bench: answers"), "english")
    for time_ in ("first", "again"):
        start = time.perf_counter()
        found = propose(talks, "english", nothing, 12, lambda far: None)
        seconds = time.perf_counter() - start
        known = {one for one in SUBJECTS if any(_holds(topic.phrases, one) for topic in found.topics)}
        report(f"topics of {ANSWERS:,} answers, {time_} in its process", seconds, naive_texts_to_topics=_naive(texts))
        report(f"topics of {ANSWERS:,} answers: of six subjects planted, found", len(known), "")


def _holds(phrases: Sequence[Any], subject: str) -> bool:
    return any(word in phrase.said for phrase in phrases for word in subject.split())


def _naive(texts: Sequence[str]) -> float:
    """What a user would script: words, pairs and triples, tf–idf, factorised."""
    from sklearn.decomposition import NMF
    from sklearn.feature_extraction.text import TfidfVectorizer

    start = time.perf_counter()
    matrix = TfidfVectorizer(ngram_range=(1, 3), min_df=2, max_df=0.5, stop_words="english").fit_transform(texts)
    NMF(12, init="nndsvd", random_state=1).fit(matrix)
    return time.perf_counter() - start


def interviews(report: Callable[..., None]) -> None:
    member = project("Bench: topics")
    speech = Speech(2)
    _bring_in(member, [_talk(speech, at) for at in range(INTERVIEWS)])
    job = Job.objects.create(project=member.project, account=member.account, title="bench")
    with Watch(job) as watch:
        start = time.perf_counter()
        propose_task.func(job.pk, {"language": "english", "many": 20})
        seconds = time.perf_counter() - start
    job.refresh_from_db()
    assert job.state == JobState.DONE, job.message
    report(f"topics of {INTERVIEWS:,} interviews of {LONG:,} words, the job", seconds)
    report("topics of interviews: longest that its progress stood still", watch.longest)
    report(
        "topics of interviews: peak memory of this process",
        resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024,
        "MiB",
    )
    start = time.perf_counter()
    whole = topics.whole(member, {})
    report("topics of interviews: the page's list", time.perf_counter() - start)
    start = time.perf_counter()
    topics.hits(member, whole["topics"][0]["id"], {})
    report("topics of interviews: a page of hits", time.perf_counter() - start)
    assert Topic.objects.filter(project=member.project).exists()
    member.project.delete()


def _talk(speech: Speech, seed: int) -> str:
    """Questions of ten words, answers of eighty."""
    about, lines, count = speech.subjects(), [], 0
    while count < LONG:
        lines.append(f"Interviewer: {speech.said(10, [])}\nP{seed:04}: {speech.said(80, about)}")
        count += 90
    return "\n".join(lines)


def _bring_in(member: Membership, texts: Sequence[str]) -> None:
    answers = read_files(((f"P{at:04}.txt", text.encode()) for at, text in enumerate(texts)), media.keep)
    for at, answer in enumerate(answers):
        StagedFile.objects.create(
            project=member.project, account=member.account, name=f"P{at:04}.txt", kind="transcript",
            digest=f"{at:064x}", size=1, content={**answer["content"], "media": []},
        )  # fmt: skip
    job = Job.objects.create(project=member.project, account=member.account, title="bench")
    running.run(job.pk, importing.bring_in)
    job.refresh_from_db()
    assert job.state == JobState.DONE, job.message
