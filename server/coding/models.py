"""Codes, passages, and codings: one code on one passage by one coder."""

from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models import F, Q
from django.db.models.functions import Lower, Now

from core.coding.places import FULL, Place, Region, Span, Stretch, in_words
from core.coding.words import KIND
from server.gather.models import Document, DocumentKind, Speaker, Turn
from server.projects.models import Account, Project

COLOURS = 16


class Code(models.Model):
    """``covers``, ``excludes`` and ``example`` make the definition usable by somebody else. A code with named
    ends (``scale_low``, ``scale_high``) has codings that are rated. ``kind``: it describes what is said, interprets it, or
    neither. One that is ``parked`` is out of the way."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="codes")
    parent = models.ForeignKey("self", models.CASCADE, null=True, blank=True, related_name="children")
    name = models.CharField(max_length=160)
    colour = models.PositiveSmallIntegerField()
    definition = models.TextField(blank=True)
    covers = models.TextField(blank=True)
    excludes = models.TextField(blank=True)
    example = models.TextField(blank=True)
    scale_low = models.CharField(max_length=60, blank=True)
    scale_high = models.CharField(max_length=60, blank=True)
    kind = models.CharField(max_length=12, blank=True)
    parked = models.BooleanField(default=False)
    position = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["position", "id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(scale_low="", scale_high="") | (~Q(scale_low="") & ~Q(scale_high="")),
                name="scale_has_both_ends",
            ),
            models.UniqueConstraint(
                F("project"), F("parent"), Lower("name"), name="one_code_a_name", nulls_distinct=False
            ),
            models.CheckConstraint(condition=~Q(name=""), name="code_has_a_name"),
            models.CheckConstraint(
                condition=Q(kind__in=["", *KIND["kind"].choices]), name="code_describes_or_interprets"
            ),
            models.CheckConstraint(condition=~Q(parent=F("id")), name="code_not_beneath_itself"),
            models.CheckConstraint(condition=Q(colour__lt=COLOURS), name="colour_in_palette"),
        ]


_NO_REGION = Q(page=None, left=None, top=None, right=None, bottom=None)
_NO_SPAN = Q(begin=None, finish=None)
TEXT = Q(start__lt=F("end"))
"""Passages that are a stretch of text."""


class PassageQuerySet(models.QuerySet["Passage"]):
    def idle(self) -> "PassageQuerySet":
        """Those that nothing rests on: no coding, no memo, no exhibit."""
        return self.filter(codings=None, memos=None, pieces=None)


class Passage(models.Model):
    """What someone marked: a stretch of text drawn in to non-space characters, a region of a picture or page, or a
    span of a recording in seconds (see ``core.coding.places``). The last two stand at 0 in the text."""

    SHARED = True
    """One passage serves everybody who marks the same words: undoing leaves it to the others."""
    document = models.ForeignKey(Document, models.CASCADE, related_name="passages")
    start = models.PositiveIntegerField(default=0)
    end = models.PositiveIntegerField(default=0)
    page = models.PositiveSmallIntegerField(null=True, blank=True)
    left = models.PositiveSmallIntegerField(null=True, blank=True)
    top = models.PositiveSmallIntegerField(null=True, blank=True)
    right = models.PositiveSmallIntegerField(null=True, blank=True)
    bottom = models.PositiveSmallIntegerField(null=True, blank=True)
    begin = models.FloatField(null=True, blank=True)
    finish = models.FloatField(null=True, blank=True)

    objects = PassageQuerySet.as_manager()

    class Meta:
        ordering = ["document_id", "start", "end", "page", "top", "begin", "id"]
        constraints = [
            models.UniqueConstraint(fields=["document", "start", "end"], condition=TEXT, name="one_passage_a_stretch"),
            models.UniqueConstraint(
                fields=["document", "page", "left", "top", "right", "bottom"], name="one_passage_a_region"
            ),
            models.UniqueConstraint(fields=["document", "begin", "finish"], name="one_passage_a_span"),
            models.CheckConstraint(
                condition=(TEXT & _NO_REGION & _NO_SPAN)
                | (
                    Q(start=0, end=0, page__isnull=False, page__gte=1, left__lt=F("right"), top__lt=F("bottom"))
                    & Q(left__isnull=False, top__isnull=False, right__lte=FULL, bottom__lte=FULL)
                    & _NO_SPAN
                )
                | (Q(start=0, end=0, begin__isnull=False, begin__gte=0, finish__gt=F("begin")) & _NO_REGION),
                name="passage_is_one_place",
            ),
        ]

    @property
    def place(self) -> Place:
        if self.page is not None:
            return Region(self.page, self.left or 0, self.top or 0, self.right or 0, self.bottom or 0)
        if self.begin is not None:
            return Span(self.begin, self.finish or 0)
        return Stretch(self.start, self.end)

    @property
    def said(self) -> str:
        """Its words, or where it is; needs the document."""
        place = self.place
        if isinstance(place, Stretch):
            return self.document.text[self.start : self.end]
        return in_words(place, paged=self.document.kind == DocumentKind.PDF)


HIGHEST = 5
"""Ratings go from 1 to this."""


class Coding(models.Model):
    """One code on one passage by one coder; ``rating`` on the code's own scale, if it has one. ``by_words``: words proposed it,
    as part of a topic, and the coder accepted it."""

    # The index of what is there once begins with the passage: one of its own would only be written a second time.
    passage = models.ForeignKey(Passage, models.CASCADE, related_name="codings", db_index=False)
    # The database judges it once a statement (migration 0009): a row at a time, merging waits for it.
    code = models.ForeignKey(Code, models.CASCADE, related_name="codings", db_constraint=False)
    # Who coded is told from the snapshot; only when somebody leaves for good are their codings looked for here.
    coder = models.ForeignKey(Account, models.PROTECT, related_name="codings", db_index=False)
    rating = models.PositiveSmallIntegerField(null=True, blank=True)
    made_at = models.DateTimeField(db_default=Now())
    by_words = models.BooleanField(default=False, db_default=False)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(rating__isnull=True) | Q(rating__gte=1, rating__lte=HIGHEST), name="rating_on_the_scale"
            ),
            models.UniqueConstraint(fields=["passage", "code", "coder"], name="one_coding_a_coder"),
        ]


class ProposedCode(models.Model):
    """A code that is proposed for each new passage of a document, or of one of its speakers; never put by itself."""

    document = models.ForeignKey(Document, models.CASCADE, related_name="proposed")
    speaker = models.ForeignKey(Speaker, models.CASCADE, null=True, blank=True, related_name="proposed")
    code = models.ForeignKey(Code, models.CASCADE, related_name="+")

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["document", "speaker", "code"], name="proposed_once", nulls_distinct=False)
        ]


class Pin(models.Model):
    """A code under one of a coder's keys 1 to 9."""

    GOES_UNSAID = True
    """Nobody's work: it goes with its code, and keeps nobody from undoing."""
    project = models.ForeignKey(Project, models.CASCADE, related_name="pins")
    account = models.ForeignKey(Account, models.CASCADE, related_name="+")
    code = models.ForeignKey(Code, models.CASCADE, related_name="pins")
    key = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["key"]
        constraints = [
            models.UniqueConstraint(fields=["project", "account", "key"], name="one_pin_a_key"),
            models.UniqueConstraint(fields=["account", "code"], name="one_key_a_code"),
            models.CheckConstraint(condition=Q(key__gte=1, key__lte=9), name="key_is_1_to_9"),
        ]


class ResearchQuestion(models.Model):
    """What the project wants to know."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="questions")
    text = models.CharField(max_length=500)
    position = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.CheckConstraint(condition=~Q(text=""), name="question_asks_something")]


class Theme(models.Model):
    """An interpretation that draws several codes together; a code may serve several."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="themes")
    question = models.ForeignKey(ResearchQuestion, models.SET_NULL, null=True, blank=True, related_name="themes")
    name = models.CharField(max_length=160)
    statement = models.TextField(blank=True)
    position = models.PositiveIntegerField(default=0)
    codes = models.ManyToManyField(Code, through="ThemeCode", related_name="themes")

    class Meta:
        ordering = ["position", "id"]
        constraints = [
            models.UniqueConstraint(F("project"), Lower("name"), name="one_theme_a_name"),
            models.CheckConstraint(condition=~Q(name=""), name="theme_has_a_name"),
        ]


class ThemeCode(models.Model):
    """A code drawn into a theme."""

    theme = models.ForeignKey(Theme, models.CASCADE, related_name="placings")
    code = models.ForeignKey(Code, models.CASCADE, related_name="placings")
    position = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.UniqueConstraint(fields=["theme", "code"], name="one_placing_a_theme")]


class GuideQuestion(models.Model):
    """A question of the interview guide, in its order, and the codes that it asks about."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="guide")
    text = models.CharField(max_length=500)
    position = models.PositiveIntegerField(default=0)
    codes = models.ManyToManyField(Code, through="GuideCode", related_name="asked_by")

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.CheckConstraint(condition=~Q(text=""), name="guide_question_asks_something")]


class GuideCode(models.Model):
    """A code that a question of the guide asks about."""

    question = models.ForeignKey(GuideQuestion, models.CASCADE, related_name="tied")
    code = models.ForeignKey(Code, models.CASCADE, related_name="tied")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["question", "code"], name="one_tie_a_question")]


class AskedTurn(models.Model):
    """A turn of an interviewer and the question of the guide that it asks; none (NULL) where somebody said that it asks none.
    ``by_hand``: somebody said it, no likeness."""

    GOES_UNSAID = True
    turn = models.OneToOneField(Turn, models.CASCADE, related_name="asked")
    question = models.ForeignKey(GuideQuestion, models.CASCADE, null=True, blank=True, related_name="asked")
    by_hand = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(question__isnull=False) | Q(by_hand=True), name="only_hands_say_it_asks_nothing"
            )
        ]


class DroppedWord(models.Model):
    """A word that the project’s lists of words leave out, folded."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="dropped_words")
    word = models.CharField(max_length=80)

    class Meta:
        ordering = ["word"]
        constraints = [
            models.UniqueConstraint(fields=["project", "word"], name="one_dropping_a_word"),
            models.CheckConstraint(condition=~Q(word=""), name="dropped_word_is_one"),
        ]


class Topic(models.Model):
    """A topic that words proposed: nothing is coded by it until somebody keeps it as ``code``, or has ``dropped`` it. ``language``
    is the one whose forms of words were taken as one."""

    GOES_UNSAID = True
    project = models.ForeignKey(Project, models.CASCADE, related_name="topics")
    name = models.CharField(max_length=160)
    language = models.CharField(max_length=20)
    code = models.ForeignKey(Code, models.SET_NULL, null=True, blank=True, related_name="topics")
    dropped = models.BooleanField(default=False)
    position = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["position", "id"]
        constraints = [
            models.CheckConstraint(condition=~Q(name=""), name="topic_has_a_name"),
            models.CheckConstraint(condition=Q(code=None) | Q(dropped=False), name="topic_kept_or_dropped"),
        ]


class TopicPhrase(models.Model):
    """A phrase of a topic, as it is said most. ``left_out``: somebody took it out, with its hits."""

    GOES_UNSAID = True
    topic = models.ForeignKey(Topic, models.CASCADE, related_name="phrases")
    said = models.CharField(max_length=200)
    left_out = models.BooleanField(default=False)
    position = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["position", "id"]
        constraints = [models.CheckConstraint(condition=~Q(said=""), name="topic_phrase_says_something")]


class TopicHits(models.Model):
    """The sentences of a document that hold a phrase: where each starts and ends, in order."""

    GOES_UNSAID = True
    phrase = models.ForeignKey(TopicPhrase, models.CASCADE, related_name="hits")
    document = models.ForeignKey(Document, models.CASCADE, related_name="topic_hits")
    starts = ArrayField(models.PositiveIntegerField())
    ends = ArrayField(models.PositiveIntegerField())

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["phrase", "document"], name="hits_once_a_document"),
            models.CheckConstraint(
                condition=Q(starts__len=F("ends__len")) & Q(starts__len__gte=1), name="hits_start_and_end"
            ),
        ]


class TopicUnticked(models.Model):
    """A sentence that somebody read, and that isn't about the topic."""

    GOES_UNSAID = True
    topic = models.ForeignKey(Topic, models.CASCADE, related_name="unticked")
    document = models.ForeignKey(Document, models.CASCADE, related_name="+")
    start = models.PositiveIntegerField()
    end = models.PositiveIntegerField()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["topic", "document", "start", "end"], name="unticked_once"),
            models.CheckConstraint(condition=Q(start__lt=F("end")), name="unticked_is_a_stretch"),
        ]
