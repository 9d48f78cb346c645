"""Files that wait to be brought in, over HTTP."""

import base64
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from core.language import say
from core.people.participants import ColumnReading
from core.text.encodings import MARKS, NAMES
from server.common.api import CountOut, read
from server.common.errors import Refusal
from server.gather import media, queries
from server.gather.models import STAGED_KINDS, SpeakerRole, StagedFile
from server.imports import actions, jobs, reading
from server.imports.queries import sheet_outcome, sheet_problems
from server.people.models import MISSING_CHOICES, Subject, VariableKind
from server.projects.models import MemberRole, Membership
from server.projects.shown import JobOut
from server.projects.views import ProjectView

ENCODINGS = list(dict.fromkeys([*(name for _, name in MARKS), "utf-8", "utf-16-le", "utf-16-be", *NAMES]))
COLUMN_ROLES = ["case_id", "document_id", "variable", "answer", "leave_out"]


class FoundSpeakerOut(serializers.Serializer[Any]):
    label = serializers.CharField()
    role = serializers.ChoiceField(choices=SpeakerRole.choices)
    turns = serializers.IntegerField()
    words = serializers.IntegerField()
    first_words = serializers.CharField()
    written = serializers.ListField(child=serializers.CharField())
    reason = serializers.CharField(help_text="Why this role was guessed; empty where nothing says otherwise.")


class FoundTurnOut(serializers.Serializer[Any]):
    speaker = serializers.CharField()
    text = serializers.CharField()
    time = serializers.CharField()


class FoundTranscript(serializers.Serializer[Any]):
    title = serializers.CharField()
    form = serializers.CharField()
    words = serializers.IntegerField()
    turns = serializers.IntegerField()
    speakers = FoundSpeakerOut(many=True)
    first_turns = FoundTurnOut(many=True)
    sections = serializers.IntegerField()
    comments = serializers.IntegerField(help_text="Comments in the file, on words of its text.")
    first_comments = serializers.ListField(child=serializers.CharField())
    pages = serializers.IntegerField()


class MissingWritten(serializers.Serializer[Any]):
    text = serializers.CharField(allow_blank=True)
    reason = serializers.ChoiceField(choices=MISSING_CHOICES)
    count = serializers.IntegerField()


class FoundColumn(serializers.Serializer[Any]):
    name = serializers.CharField(help_text="As in the sheet; its key in the choices.")
    shown = serializers.CharField(help_text="As it will be called.")
    of = serializers.ChoiceField(choices=Subject.choices)
    role = serializers.ChoiceField(choices=COLUMN_ROLES)
    kind = serializers.ChoiceField(choices=VariableKind.choices)
    when_empty = serializers.ChoiceField(choices=MISSING_CHOICES)
    categories = serializers.ListField(child=serializers.CharField())
    distinct = serializers.IntegerField()
    missing = serializers.IntegerField()
    first_values = serializers.ListField(child=serializers.CharField())
    missing_as = MissingWritten(many=True)
    problems = serializers.ListField(child=serializers.CharField())


class Conflicting(serializers.Serializer[Any]):
    who = serializers.CharField()
    variable = serializers.CharField()
    here = serializers.CharField()
    there = serializers.CharField()


class FoundSheet(serializers.Serializer[Any]):
    header = serializers.IntegerField()
    header_rows = serializers.IntegerField()
    first_rows = serializers.ListField(child=serializers.ListField(child=serializers.CharField()))
    rows = serializers.IntegerField()
    columns = FoundColumn(many=True)
    without_id = serializers.IntegerField()
    problems = serializers.ListField(child=serializers.CharField())
    warnings = serializers.ListField(child=serializers.CharField())
    new_cases = serializers.IntegerField()
    known_cases = serializers.IntegerField()
    new_variables = serializers.IntegerField()
    values = serializers.IntegerField()
    missing = serializers.IntegerField()
    conflicts = serializers.IntegerField()
    conflict_examples = Conflicting(many=True)
    fresh = serializers.IntegerField(help_text="Values where there was none.")
    same = serializers.IntegerField(help_text="Values that are here already.")
    unknown_documents = serializers.ListField(child=serializers.CharField())
    without_text = serializers.IntegerField(help_text="Rows that answer none of the questions.")
    answers = serializers.IntegerField(help_text="Documents that answers to code become.")
    about = serializers.ChoiceField(choices=Subject.choices)


class ColumnChoiceIn(serializers.Serializer[Any]):
    role = serializers.ChoiceField(choices=COLUMN_ROLES, required=False)
    kind = serializers.ChoiceField(choices=VariableKind.choices, required=False)
    when_empty = serializers.ChoiceField(choices=MISSING_CHOICES, required=False)
    categories = serializers.ListField(child=serializers.CharField(max_length=200), required=False, max_length=500)
    name = serializers.CharField(max_length=200, required=False, allow_blank=True)
    of = serializers.ChoiceField(choices=Subject.choices, required=False)
    days_first = serializers.BooleanField(required=False)
    codes_count = serializers.BooleanField(required=False)


class StagedChoices(serializers.Serializer[Any]):
    """Corrections to the reading; what is absent stays as proposed."""

    title = serializers.CharField(max_length=300, required=False, allow_blank=True)
    one_turn = serializers.BooleanField(required=False)
    ignored = serializers.ListField(child=serializers.CharField(max_length=120), required=False, max_length=500)
    renamed = serializers.DictField(child=serializers.CharField(max_length=120), required=False)
    roles = serializers.DictField(child=serializers.ChoiceField(choices=SpeakerRole.choices), required=False)
    encoding = serializers.ChoiceField(choices=ENCODINGS, required=False, help_text="How its letters are stored.")
    header = serializers.IntegerField(required=False, min_value=-1, max_value=50)
    header_rows = serializers.IntegerField(required=False, min_value=0, max_value=2)
    skip_without_id = serializers.BooleanField(required=False)
    columns = serializers.DictField(child=ColumnChoiceIn(), required=False)
    without_text = serializers.ChoiceField(choices=["keep", "leave_out"], required=False)
    on_conflict = serializers.ChoiceField(choices=["keep", "overwrite"], required=False)
    comments = serializers.ChoiceField(choices=["memos", "codes", "leave_out"], required=False)
    text = serializers.IntegerField(required=False, help_text="The text that belongs to a recording; 0 for none.")
    remembered = serializers.BooleanField(required=False, help_text="Read as the last sheet like it.")


class OneEncoding(serializers.Serializer[Any]):
    id = serializers.ChoiceField(choices=ENCODINGS)
    words = serializers.CharField()
    sample = serializers.CharField(allow_blank=True, help_text="A line as it would read.")


class EncodingOut(serializers.Serializer[Any]):
    """How letters were read, where the file doesn’t say it."""

    read_as = serializers.ChoiceField(choices=ENCODINGS)
    sure = serializers.BooleanField()
    choices = OneEncoding(many=True)


class StagedOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=STAGED_KINDS)
    size = serializers.IntegerField()
    problem = serializers.CharField()
    included = serializers.BooleanField()
    format = serializers.CharField()
    warnings = serializers.ListField(child=serializers.CharField())
    encoding = EncodingOut(allow_null=True)
    partner = serializers.IntegerField(allow_null=True, help_text="Of a recording its text, of a text its recording.")
    thumbnail = serializers.CharField(allow_null=True, help_text="A small picture, as a data address.")
    already = serializers.CharField(allow_null=True, help_text="The document that the same file became before.")
    choices = StagedChoices()
    transcript = FoundTranscript(allow_null=True)
    sheet = FoundSheet(allow_null=True)


class StagedIn(serializers.Serializer[Any]):
    included = serializers.BooleanField(required=False)
    choices = StagedChoices(required=False)


class Upload(serializers.Serializer[Any]):
    files = serializers.ListField(child=serializers.FileField(allow_empty_file=True), max_length=50)


class StagedView(ProjectView):
    needs = {"GET": MemberRole.CODER}

    @extend_schema(responses=StagedOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(self._out(list(queries.staged(self.member))))

    @extend_schema(request={"multipart/form-data": Upload}, responses=StagedOut(many=True))
    def post(self, request: Request, project_id: int) -> Response:
        files = request.FILES.getlist("files")
        if not files:
            raise Refusal(say("No file arrived. Choose one or more files."))
        return Response(self._out(actions.stage(self.member, files)))

    @extend_schema(responses=CountOut, operation_id="staged_delete_all")
    def delete(self, request: Request, project_id: int) -> Response:
        return Response({"count": actions.discard_staged(self.member, queries.staged(self.member))})

    def _out(self, rows: list[StagedFile]) -> list[dict[str, Any]]:
        return staged_out(self.member, rows)


class OneStagedView(ProjectView):
    @extend_schema(request=StagedIn, responses=StagedOut)
    def patch(self, request: Request, project_id: int, staged_id: int) -> Response:
        said = read(StagedIn, request, partial=True)
        row = actions.correct_staged(self.member, staged_id, said.get("included"), said.get("choices"))
        return Response(staged_out(self.member, [row])[0])

    @extend_schema(responses=CountOut)
    def delete(self, request: Request, project_id: int, staged_id: int) -> Response:
        return Response(
            {"count": actions.discard_staged(self.member, queries.staged(self.member).filter(pk=staged_id))}
        )


class SpeakerChange(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=120, required=False, allow_blank=True)
    role = serializers.ChoiceField(choices=SpeakerRole.choices, required=False)


class SpeakersIn(serializers.Serializer[Any]):
    changes = serializers.DictField(child=SpeakerChange(), help_text="By the label as written.")


class StagedSpeakersView(ProjectView):
    @extend_schema(request=SpeakersIn, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Correct labels in all texts that wait, once for all."""
        return Response({"count": actions.correct_speakers(self.member, read(SpeakersIn, request)["changes"])})


class BringInView(ProjectView):
    @extend_schema(request=None, responses=JobOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(JobOut(jobs.start(self.member)).data)


def staged_out(member: Membership, rows: list[StagedFile]) -> list[dict[str, Any]]:
    known = queries.brought_in_before(member, [row.digest for row in rows])
    waiting = queries.staged(member).filter(problem="").exclude(kind="sheet")
    # Where no recording waits none has a text of its own; what waits is long to read.
    partners = reading.partners(list(waiting)) if waiting.filter(kind="recording").exists() else {}
    recordings = {text.pk: pk for pk, text in partners.items()}
    return [_one_out(member, row, known, partners.get(row.pk), recordings.get(row.pk)) for row in rows]


def _one_out(
    member: Membership, row: StagedFile, known: dict[str, str], text: StagedFile | None, recording: int | None
) -> dict[str, Any]:
    speaks = row.kind == "transcript" or text is not None
    return {
        "id": row.pk,
        "name": row.name,
        "kind": row.kind,
        "size": row.size,
        "problem": row.problem,
        "included": row.included,
        "format": row.content.get("format", ""),
        "warnings": [] if row.problem else reading.warnings_of(row, text),
        "encoding": row.content.get("encoding") or None,
        "partner": text.pk if text is not None else recording,
        "thumbnail": _thumbnail(row),
        "already": known.get(row.digest),
        "choices": row.choices,
        "transcript": _transcript_out(row, text) if not row.problem and speaks else None,
        "sheet": _sheet_out(member, row) if not row.problem and row.kind == "sheet" else None,
    }


def _thumbnail(row: StagedFile) -> str | None:
    """Small enough to travel with the row; nothing of a waiting file has an address of its own."""
    small = next((one for one in row.content.get("media", []) if one["role"] == "thumbnail"), None)
    if small is None:
        return None
    return "data:image/webp;base64," + base64.b64encode(media.here(small["digest"]).read_bytes()).decode()


def _transcript_out(row: StagedFile, text: StagedFile | None = None) -> dict[str, Any]:
    found = reading.summary_in(row, text)
    told = {name: one for name, one in found.items() if name not in ("of", "language")}
    return {"title": reading.title_of(row), **told, "pages": row.content.get("pages", 0)}


def _sheet_out(member: Membership, row: StagedFile) -> dict[str, Any]:
    sheet = reading.sheet_of(row)
    return {
        "header": sheet.header,
        "header_rows": sheet.header_rows,
        "first_rows": sheet.first_rows,
        "rows": len(sheet.identifiers),
        "columns": [_column_out(column) for column in sheet.columns],
        "without_id": len(sheet.without_identifier),
        "without_text": sheet.without_text,
        "answers": len(sheet.identifiers)
        - (sheet.without_text if row.choices.get("without_text") != "leave_out" else 0)
        if sheet.answers
        else 0,
        "about": sheet.about,
        "problems": sheet_problems(member, sheet),
        "warnings": list(sheet.warnings),
        **vars(sheet_outcome(member, sheet)),
    }


def _column_out(column: ColumnReading) -> dict[str, Any]:
    proposal = column.proposal
    return {
        "name": proposal.name,
        "shown": column.name,
        "of": column.of,
        "role": proposal.role,
        "kind": proposal.kind,
        "when_empty": column.when_empty,
        "categories": list(proposal.categories[:200]),
        "distinct": proposal.distinct,
        "missing": proposal.missing,
        "first_values": [value[:80] for value in proposal.first_values],
        "missing_as": [
            {"text": text[:40], "reason": reason, "count": count} for text, reason, count in column.missing_as if text
        ][:6],
        "problems": list(column.problems[:5]),
    }
