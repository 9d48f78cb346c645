"""What is in a project's file: a part a kind of thing, in the order in which they come in."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from django.db import models

from server.accounts.models import Invitation
from server.coding.models import (
    AskedTurn,
    Code,
    Coding,
    DroppedWord,
    GuideCode,
    GuideQuestion,
    Passage,
    Pin,
    ProposedCode,
    ResearchQuestion,
    Theme,
    ThemeCode,
    Topic,
    TopicHits,
    TopicPhrase,
    TopicUnticked,
)
from server.compare.models import Became, CellNote, FrozenResult, KeptComparison, SavedQuery, SavedScope
from server.gather.models import (
    Document,
    Medium,
    NamePair,
    RememberedReading,
    Section,
    Speaker,
    StagedFile,
    Turn,
    WordIndex,
)
from server.people.models import Case, Category, Cohort, CohortCase, CohortDocument, Value, Variable
from server.projects.models import Account, Job, Membership, Project, Published, Touched
from server.report.models import Digest, Exhibit, ExhibitPiece, Memo, MemoLink, MemoOfKind, OwnMemoKind
from server.shell.project_file import fitting, named
from server.shell.project_file.named import Json, Renumber, Within, both

WHOLE_ROW: Callable[[Json, Renumber], Json] = lambda row, to: row  # noqa: E731


@dataclass(frozen=True, eq=False)
class Part:
    """``project`` is the way from a row to its project; ``within`` the fields that name rows in a way of their own; ``row``
    does the same where it takes the whole row to tell."""

    name: str
    model: type[models.Model]
    about: str
    project: str = "project"
    within: Mapping[str, Within] = field(default_factory=dict)
    row: Callable[[Json, Renumber], Json] = WHOLE_ROW
    since: int = 1
    """The format of files from which on they have it."""
    later: Mapping[str, Any] = field(default_factory=dict)
    """Fields that files of older formats don't have, with what they are then."""


_DIGEST = both(lambda said, to: to.digest(said))
_CONTENT_TYPE = Within(lambda said, to: said, lambda said, to: said, fitting.content_type)
PARTS = (
    Part("cases", Case, "The people (households, sites …) that groups are made of"),
    Part(
        "variables",
        Variable,
        "Facts about cases or documents; “definition” says how one is made of others",
        within={"definition": both(named.definition, fitting.definition)},
    ),
    Part("categories", Category, "The values that a variable of categories can take", "variable__project"),
    Part(
        "cohorts",
        Cohort,
        "Named groups of cases or documents, by “condition” or picked by hand",
        within={"condition": both(named.condition, fitting.condition)},
        later={"of": "case"},
    ),
    Part("picks", CohortCase, "Cases picked into a cohort by hand", "cohort__project"),
    Part("documents", Document, "Texts; every position is in code points of “text”, the end not included"),
    Part("chosen", CohortDocument, "Documents picked into a cohort by hand", "cohort__project", since=5),
    Part("speakers", Speaker, "Who speaks in a document, and which case that is", "document__project"),
    Part("turns", Turn, "Who says what from where to where", "document__project"),
    Part("sections", Section, "Headings, pages and questions of a document", "document__project"),
    Part(
        "media",
        Medium,
        "Pictures, pages and recordings: the bytes lie in the folder “media” under “digest”",
        "document__project",
        within={"digest": _DIGEST, "content_type": _CONTENT_TYPE},
    ),
    Part("values", Value, "What is known of a case or document on a variable, or why nothing is", "variable__project"),
    Part("codes", Code, "The codebook, a tree by “parent”", later={"kind": ""}),
    Part("passages", Passage, "What somebody marked: a stretch, a region, a span", "document__project"),
    Part(
        "codings",
        Coding,
        "One code on one passage by one coder",
        "code__project",
        later={"by_words": False},
    ),
    Part("proposed", ProposedCode, "Codes proposed for each new passage of a document or speaker", "document__project"),
    Part("pins", Pin, "Codes under a coder’s keys 1 to 9"),
    Part("dropped", DroppedWord, "Words that the lists of words leave out", since=2),
    Part("guide", GuideQuestion, "Questions of the interview guide", since=3),
    Part("tied", GuideCode, "Codes that a question of the guide asks about", "question__project", since=3),
    Part("asked", AskedTurn, "Turns of interviewers and the question of the guide that each asks, if any", "turn__document__project", since=3),
    Part("topics", Topic, "Topics that words proposed, and the codes that some were kept as", since=5),
    Part("phrases", TopicPhrase, "The phrases of each topic", "topic__project", since=5),
    Part("hits", TopicHits, "The sentences of a document that hold a phrase", "phrase__topic__project", since=5),
    Part("unticked", TopicUnticked, "Sentences that aren’t about their topic, as somebody read them", "topic__project", since=5),
    Part("questions", ResearchQuestion, "What the project wants to know"),
    Part("themes", Theme, "Interpretations that draw codes together"),
    Part("placings", ThemeCode, "Which codes a theme draws in", "theme__project"),
    Part(
        "queries",
        SavedQuery,
        "Conditions on passages under a name",
        within={"blocks": both(named.asked, fitting.blocks)},
    ),
    Part("scopes", SavedScope, "What is in play, under a name", within={"scope": both(named.asked, fitting.scope)}),
    Part(
        "comparisons",
        KeptComparison,
        "Comparisons under a name, asked again whenever they are opened",
        within={
            "asked": both(named.asked, fitting.question),
            "shown": both(named.shown, fitting.shown),
            "called": both(named.called),
        },
    ),
    Part("notes", CellNote, "Notes on cells of kept comparisons", "comparison__project", row=named.note),
    Part(
        "frozen",
        FrozenResult,
        "Results as they were on a day; “held” is every passage and person behind them then",
        within={
            "asked": both(named.asked, fitting.question_or_conditions),
            "shown": both(named.shown, fitting.shown),
            "result": both(named.result, fitting.answer),
            "held": named.HELD,
        },
    ),
    Part("became", Became, "What merged codes and categories went into", row=named.became),
    Part("published", Published, "Numbers that left the project, which later files are checked against", row=named.published),
    Part("kinds", OwnMemoKind, "Kinds of memos that the project has of its own", since=6),
    Part("memos", Memo, "The researchers’ own writing"),
    Part("given", MemoOfKind, "Further kinds that a memo is of", "memo__project", since=6),
    Part("links", MemoLink, "What memos mean by words in double brackets", "memo__project", since=6),
    Part("digests", Digest, "Short texts at a crossing of a case and a code or theme"),
    Part("exhibits", Exhibit, "Ordered choices of passages for an audience"),
    Part("pieces", ExhibitPiece, "The passages of an exhibit", "exhibit__project"),
    Part("readings", RememberedReading, "How sheets with these columns were read, for the next one like them"),
)  # fmt: skip
WORDS = Part(
    "words",
    WordIndex,
    "The index of words: made anew, so it stands in steps only",
    "document__project",
    within={"words": Within(lambda said, to: said, lambda said, to: said, fitting.words)},
)
PROJECT = Part("project", Project, "The project itself, in steps only", "id")
BY_NAME = {part.name: part for part in (*PARTS, WORDS, PROJECT)}
BY_MODEL = {part.model: part.name for part in BY_NAME.values()} | {Account: "people"}
LEFT_OUT: dict[type[models.Model], str] = {
    StagedFile: "files that wait to be brought in",
    NamePair: "the list of real names and their pseudonyms",
    Job: "work under way",
    Membership: "accounts and passwords (people are named)",
    Invitation: "invitations that wait",
    Touched: "notes by which counting goes faster",
}
"""What of a project isn’t in its file, in words."""
