"""Documents, speakers and staged files over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from server.coding import queries as coding
from server.common.api import ProjectView, read
from server.common.errors import Refusal
from server.gather import actions, jobs, queries, reading
from server.gather.models import Document, SpeakerRole, StagedFile
from server.people import queries as people
from server.people.models import MISSING_CHOICES, VariableKind
from server.projects.api import JobOut


class ShelfSpeaker(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    label = serializers.CharField()
    role = serializers.ChoiceField(choices=SpeakerRole.choices)
    case = serializers.IntegerField(source="case_id", allow_null=True)
    case_name = serializers.CharField(source="case.identifier", allow_null=True, default=None)


class ShelfDocument(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    title = serializers.CharField()
    source_name = serializers.CharField()
    words = serializers.IntegerField()
    turns = serializers.IntegerField(source="turn_count")
    passages = serializers.IntegerField(source="passage_count")
    added_at = serializers.DateTimeField()
    last_coded = serializers.DateTimeField(allow_null=True)
    speakers = ShelfSpeaker(many=True)


class TurnOut(serializers.Serializer[Any]):
    number = serializers.IntegerField()
    speaker = serializers.IntegerField(source="speaker_id")
    start = serializers.IntegerField()
    end = serializers.IntegerField()
    words = serializers.IntegerField()
    time = serializers.CharField()


class CodingOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    code = serializers.IntegerField()
    coder = serializers.IntegerField()
    initials = serializers.CharField()
    coder_name = serializers.CharField()


class PassageOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    start = serializers.IntegerField(help_text="Code points, from the start of the text.")
    end = serializers.IntegerField()
    codings = CodingOut(many=True)


class DocumentOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    title = serializers.CharField()
    source_name = serializers.CharField()
    text = serializers.CharField(trim_whitespace=False)
    words = serializers.IntegerField()
    speakers = ShelfSpeaker(many=True)
    turns = TurnOut(many=True)
    passages = PassageOut(many=True)


class DocumentTitle(serializers.Serializer[Any]):
    title = serializers.CharField(max_length=300)


class DocumentIds(serializers.Serializer[Any]):
    documents = serializers.ListField(child=serializers.IntegerField(), max_length=5000)


class CountOut(serializers.Serializer[Any]):
    count = serializers.IntegerField()


class SpeakerOut(ShelfSpeaker):
    document = serializers.IntegerField(source="document_id")
    title = serializers.CharField(source="document.title")


class SpeakerIn(serializers.Serializer[Any]):
    case = serializers.IntegerField(source="case_id", allow_null=True, required=False)
    role = serializers.ChoiceField(choices=SpeakerRole.choices, required=False)
    label = serializers.CharField(max_length=120, required=False)


class UnlinkedOut(serializers.Serializer[Any]):
    speaker = serializers.IntegerField()
    label = serializers.CharField()
    document = serializers.IntegerField()
    title = serializers.CharField()
    passages = serializers.IntegerField()
    case = serializers.IntegerField(allow_null=True)
    case_name = serializers.CharField(allow_null=True)
    reason = serializers.CharField()
    conflict = serializers.BooleanField()


class FoundSpeakerOut(serializers.Serializer[Any]):
    label = serializers.CharField()
    role = serializers.ChoiceField(choices=SpeakerRole.choices)
    turns = serializers.IntegerField()
    words = serializers.IntegerField()
    first_words = serializers.CharField()
    written = serializers.ListField(child=serializers.CharField())


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


class FoundColumn(serializers.Serializer[Any]):
    name = serializers.CharField()
    role = serializers.ChoiceField(choices=["case_id", "variable", "leave_out"])
    kind = serializers.ChoiceField(choices=VariableKind.choices)
    when_empty = serializers.ChoiceField(choices=MISSING_CHOICES)
    categories = serializers.ListField(child=serializers.CharField())
    distinct = serializers.IntegerField()
    missing = serializers.IntegerField()
    first_values = serializers.ListField(child=serializers.CharField())
    problems = serializers.ListField(child=serializers.CharField())


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
    conflict_examples = serializers.ListField(child=serializers.CharField())


class ColumnChoiceIn(serializers.Serializer[Any]):
    role = serializers.ChoiceField(choices=["case_id", "variable", "leave_out"], required=False)
    kind = serializers.ChoiceField(choices=VariableKind.choices, required=False)
    when_empty = serializers.ChoiceField(choices=MISSING_CHOICES, required=False)
    categories = serializers.ListField(child=serializers.CharField(max_length=200), required=False, max_length=500)


class StagedChoices(serializers.Serializer[Any]):
    """Corrections to the reading; what is absent stays as proposed."""

    title = serializers.CharField(max_length=300, required=False, allow_blank=True)
    one_turn = serializers.BooleanField(required=False)
    ignored = serializers.ListField(child=serializers.CharField(max_length=120), required=False, max_length=500)
    renamed = serializers.DictField(child=serializers.CharField(max_length=120), required=False)
    roles = serializers.DictField(child=serializers.ChoiceField(choices=SpeakerRole.choices), required=False)
    header = serializers.IntegerField(required=False, min_value=0, max_value=50)
    header_rows = serializers.IntegerField(required=False, min_value=1, max_value=2)
    skip_without_id = serializers.BooleanField(required=False)
    columns = serializers.DictField(child=ColumnChoiceIn(), required=False)


class StagedOut(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=["transcript", "sheet"])
    size = serializers.IntegerField()
    problem = serializers.CharField()
    included = serializers.BooleanField()
    format = serializers.CharField()
    already = serializers.CharField(allow_null=True, help_text="The document that the same file became before.")
    choices = StagedChoices()
    transcript = FoundTranscript(allow_null=True)
    sheet = FoundSheet(allow_null=True)


class StagedIn(serializers.Serializer[Any]):
    included = serializers.BooleanField(required=False)
    choices = StagedChoices(required=False)


class Upload(serializers.Serializer[Any]):
    files = serializers.ListField(child=serializers.FileField(allow_empty_file=True), max_length=50)


class DocumentsView(ProjectView):
    @extend_schema(responses=ShelfDocument(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(ShelfDocument(queries.shelf(self.member), many=True).data)


class DeleteDocumentsView(ProjectView):
    @extend_schema(request=DocumentIds, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response({"count": actions.delete_documents(self.member, read(DocumentIds, request)["documents"])})


class DocumentView(ProjectView):
    @extend_schema(responses=DocumentOut)
    def get(self, request: Request, project_id: int, document_id: int) -> Response:
        document = queries.document(self.member, document_id)
        return Response(_document_out(document))

    @extend_schema(request=DocumentTitle, responses=DocumentTitle)
    def patch(self, request: Request, project_id: int, document_id: int) -> Response:
        document = actions.rename_document(self.member, document_id, **read(DocumentTitle, request))
        return Response({"title": document.title})


def _document_out(document: Document) -> dict[str, Any]:
    return {
        "id": document.pk,
        "title": document.title,
        "source_name": document.source_name,
        "text": document.text,
        "words": document.words,
        "speakers": ShelfSpeaker(document.speakers.select_related("case"), many=True).data,
        "turns": TurnOut(document.turns.all(), many=True).data,
        "passages": coding.passages_of(document),
    }


class UnlinkedView(ProjectView):
    @extend_schema(responses=UnlinkedOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        waiting = {speaker.pk: speaker for speaker in queries.unlinked(self.member)}
        names = dict(people.cases(self.member).values_list("id", "identifier"))
        touched = queries.passages_touched(self.member)
        return Response(
            [
                {
                    "speaker": proposal.speaker,
                    "label": waiting[proposal.speaker].label,
                    "document": waiting[proposal.speaker].document_id,
                    "title": waiting[proposal.speaker].document.title,
                    "passages": touched.get(proposal.speaker, 0),
                    "case": proposal.case,
                    "case_name": names.get(proposal.case or 0),
                    "reason": proposal.reason,
                    "conflict": proposal.conflict,
                }
                for proposal in queries.link_proposals(self.member)
            ]
        )

    @extend_schema(request=None, responses=CountOut)
    def post(self, request: Request, project_id: int) -> Response:
        """Link every speaker whose case is certain."""
        return Response({"count": actions.link_sure_speakers(self.member)})


class SpeakerView(ProjectView):
    @extend_schema(request=SpeakerIn, responses=SpeakerOut)
    def patch(self, request: Request, project_id: int, speaker_id: int) -> Response:
        return Response(
            SpeakerOut(actions.change_speaker(self.member, speaker_id, **read(SpeakerIn, request, partial=True))).data
        )


class StagedView(ProjectView):
    needs = {"GET": "coder"}

    @extend_schema(responses=StagedOut(many=True))
    def get(self, request: Request, project_id: int) -> Response:
        return Response(self._out(list(queries.staged(self.member))))

    @extend_schema(request={"multipart/form-data": Upload}, responses=StagedOut(many=True))
    def post(self, request: Request, project_id: int) -> Response:
        files = request.FILES.getlist("files")
        if not files:
            raise Refusal("No file arrived. Choose one or more files.")
        return Response(self._out(actions.stage(self.member, files)))

    @extend_schema(responses=CountOut, operation_id="staged_delete_all")
    def delete(self, request: Request, project_id: int) -> Response:
        return Response({"count": actions.discard_staged(self.member, queries.staged(self.member))})

    def _out(self, rows: list[StagedFile]) -> list[dict[str, Any]]:
        known = queries.brought_in_before(self.member, [row.digest for row in rows])
        return [staged_out(self.member, row, known) for row in rows]


class OneStagedView(ProjectView):
    @extend_schema(request=StagedIn, responses=StagedOut)
    def patch(self, request: Request, project_id: int, staged_id: int) -> Response:
        said = read(StagedIn, request, partial=True)
        row = actions.correct_staged(self.member, staged_id, said.get("included"), said.get("choices"))
        return Response(staged_out(self.member, row, queries.brought_in_before(self.member, [row.digest])))

    @extend_schema(responses=CountOut)
    def delete(self, request: Request, project_id: int, staged_id: int) -> Response:
        return Response(
            {"count": actions.discard_staged(self.member, queries.staged(self.member).filter(pk=staged_id))}
        )


class BringInView(ProjectView):
    @extend_schema(request=None, responses=JobOut)
    def post(self, request: Request, project_id: int) -> Response:
        return Response(JobOut(jobs.start(self.member)).data)


def staged_out(member: Any, row: StagedFile, known: dict[str, str]) -> dict[str, Any]:
    readable = not row.problem
    return {
        "id": row.pk,
        "name": row.name,
        "kind": row.kind,
        "size": row.size,
        "problem": row.problem,
        "included": row.included,
        "format": row.content.get("format", ""),
        "already": known.get(row.digest),
        "choices": row.choices,
        "transcript": _transcript_out(row) if readable and row.kind == "transcript" else None,
        "sheet": _sheet_out(member, row) if readable and row.kind == "sheet" else None,
    }


def _transcript_out(row: StagedFile) -> dict[str, Any]:
    found = reading.transcript_of(row)
    return {
        "title": reading.title_of(row),
        "form": found.form,
        "words": found.words,
        "turns": len(found.turns),
        "speakers": [{**vars(speaker), "written": list(speaker.written)} for speaker in found.speakers],
        "first_turns": [
            {
                "speaker": found.speakers[turn.speaker].label,
                "text": found.text[turn.ink_start : turn.ink_end][:400],
                "time": turn.time,
            }
            for turn in found.turns[:8]
        ],
    }


def _sheet_out(member: Any, row: StagedFile) -> dict[str, Any]:
    sheet = reading.sheet_of(row)
    return {
        "header": sheet.header,
        "header_rows": sheet.header_rows,
        "first_rows": sheet.first_rows,
        "rows": len(sheet.records),
        "columns": [
            {
                "name": column.proposal.name,
                "role": column.proposal.role,
                "kind": column.proposal.kind,
                "when_empty": column.when_empty,
                "categories": list(column.proposal.categories),
                "distinct": column.proposal.distinct,
                "missing": column.proposal.missing,
                "first_values": [value[:80] for value in column.proposal.first_values],
                "problems": list(column.problems[:5]),
            }
            for column in sheet.columns
        ],
        "without_id": len(sheet.without_identifier),
        "problems": list(sheet.problems),
        "warnings": list(sheet.warnings),
        **vars(people.sheet_outcome(member, sheet)),
    }
