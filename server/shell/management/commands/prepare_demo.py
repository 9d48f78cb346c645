"""Bring the database up to date and, once, load the demo project through the same import as a user's files."""

import csv
import json
from datetime import UTC, date, datetime, time
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError

from core.coding.places import Region, Span
from core.language import say
from server.coding import actions as coding
from server.coding import guide, topics
from server.coding.jobs import propose_task
from server.coding.models import Code, Coding, Passage, TopicPhrase
from server.common.kinds import MemoKind
from server.compare.actions import freeze, keep_comparison, note_cell, save_query, save_scope
from server.compare.models import KeptComparison
from server.gather import actions as gather
from server.gather.models import Document, Speaker, Turn
from server.gather.readers.sandbox import read_files
from server.imports import actions as imports
from server.imports import jobs as importing
from server.people import queries as people
from server.people.actions import make_cohort, make_variable
from server.people.models import Subject, Variable
from server.projects import running
from server.projects.actions import create_project
from server.projects.models import Account, Job, JobState, MemberRole, Membership, Project
from server.projects.trail import act
from server.report import actions as report
from server.report.models import Exhibit, OwnMemoKind

FOLDER = Path(settings.ROOT) / "demo"
PASSWORD = "after-the-winter"
PEOPLE = (
    ("rana", "Rana Aske", MemberRole.OWNER),
    ("mika", "Mika Kell", MemberRole.CODER),
    ("vera", "Vera Lund", MemberRole.VIEWER),
)
NAME = "After the winter timetable"
NOBODYS = ("Field_note_Norrby", "Operator_notice", "Notice_board_Norrby")
"""Material that nobody among the participants says."""
SCALES = {"Getting tired": ("a little", "worn out"), "Anger": ("a grumble", "beside oneself")}
NOTE = "The one daily crosser who says nothing of it was asked last, in a hurry: ask again in spring."
PINNED = ("Missed connections", "Asked, not heard", "Lifts from neighbours", "Pride in the place")


class Command(BaseCommand):
    help = "Migrates, makes the demo accounts and loads the demo project where it isn't there yet."

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", interactive=False, verbosity=0)
        accounts = {username: _account(username, name, role) for username, name, role in PEOPLE}
        if not Project.objects.filter(memberships__account=accounts["rana"]).exists():
            project = create_project(accounts["rana"], NAME)
            try:
                load_demo(project, accounts)
            except BaseException:
                # Half a demo would look like a whole one at the next start.
                project.delete()
                raise


def load_demo(project: Project, accounts: dict[str, Account]) -> None:
    """The demo project from the files in ``demo/``."""
    for username, _, role in PEOPLE[1:]:
        Membership.objects.create(project=project, account=accounts[username], role=role)
    members = {member.account.username: member for member in project.memberships.select_related("account", "project")}
    rana = members["rana"]
    sheets = [FOLDER / name for name in ("participants.xlsx", "survey_households.xlsx", "documents.csv")]
    material = [
        path for folder in ("transcripts", "spring", "material") for path in sorted((FOLDER / folder).iterdir())
    ]
    _bring_in(rana, [*sheets, *material])
    for speaker in Speaker.objects.filter(document__project=project, document__title__in=NOBODYS):
        gather.change_speaker(rana, speaker.pk, role="other")
    _make_variables(rana)
    # Written in brackets by whoever typed the talks: nobody's word.
    coding.drop_words(rana, ["laughs"])
    _load_codebook(rana)
    _load_codings(members)
    _load_places(members)
    _load_guide(rana)
    _load_topics(members["mika"])
    _load_themes(members)
    codes = dict(Code.objects.filter(project=project).values_list("name", "id"))
    for key, name in enumerate(PINNED, start=1):
        coding.pin_code(rana, key, codes[name])


def _make_variables(member: Membership) -> None:
    """Bands and cohorts, as a researcher would make them next."""
    by_name = {row.name: row.pk for row in people.variables(member)}
    make_variable(member, "Age, bands", definition={"kind": "bands", "of": by_name["Age"], "cuts": [35, 60]})
    crosses = {"variable": by_name["Crosses for work"], "operator": "is"}
    confident = {"variable": by_name["Confidence in the operator"], "operator": "at_least", "values": [6]}
    make_cohort(member, "Daily crossers", {"join": "all", "parts": [{**crosses, "values": ["daily"]}]})
    make_cohort(
        member,
        "At home, and content",
        {"join": "all", "parts": [{**crosses, "values": ["never"]}, confident]},
    )
    discussions = Document.objects.filter(project=member.project_id, title__startswith="Group_")
    make_cohort(member, "Group discussions", None, list(discussions.values_list("id", flat=True)), Subject.DOCUMENT)


def _account(username: str, name: str, role: MemberRole) -> Account:
    said = {"display_name": name, "email": f"{username}@skerrow.example", "may_begin": role != MemberRole.VIEWER}
    account, made = Account.objects.get_or_create(username=username, defaults=said)
    if made:
        account.set_password(PASSWORD)
        account.save()
    return account


def _bring_in(member: Membership, paths: list[Path]) -> None:
    staged = imports.stage(member, [SimpleUploadedFile(path.name, path.read_bytes()) for path in paths])
    for row in staged:
        if row.problem:
            raise CommandError(f"{row.name}: {row.problem}")
    job = Job.objects.create(
        project=member.project, account=member.account, title="Bringing in the demo", total=len(staged)
    )
    running.run(job.pk, importing.bring_in)
    job.refresh_from_db()
    if job.state != JobState.DONE:
        raise CommandError(job.message)


def _load_codebook(member: Membership) -> None:
    made: dict[str, Code] = {}
    for row in _table("codebook.csv"):
        parent = made.get(row["beneath"])
        made[row["code"]] = coding.create_code(
            member,
            row["code"],
            parent.pk if parent else None,
            colour=int(row["colour"]),
            definition=row["definition"],
            covers=row["covers"],
            excludes=row["excludes"],
            example=row["example"],
            kind=row["kind"],
        )


def _load_codings(members: dict[str, Membership], later: bool = False) -> None:
    """``later``: those that were made after a result was frozen."""
    project = members["rana"].project
    rows = Document.objects.filter(project=project)
    # A survey's answers are many documents of one file: those go by their title.
    documents = {row.title if row.kind == "answers" else row.source_name: row for row in rows}
    codes = dict(Code.objects.filter(project=project).values_list("name", "id"))
    for name, (low, high) in ({} if later else SCALES).items():
        coding.change_code(members["rana"], codes[name], scale_low=low, scale_high=high)
    by_day: dict[str, list[int]] = {}
    for row in _table("codings.csv"):
        if bool(row["later"]) != later:
            continue
        document, start, end = documents[row["document"]], int(row["start"]), int(row["end"])
        if document.text[start:end] != row["quote"]:
            raise CommandError(f"codings.csv doesn't fit {row['document']} at {start}.")
        coder, code = members[row["coder"]], codes[row["code"]]
        coding.apply_codes(coder, document.pk, start, end, [code])
        made = Coding.objects.get(
            passage__document=document, passage__start=start, passage__end=end, code=code, coder=coder.account
        )
        if row["date"]:
            # What came after a result was frozen is as new as that.
            by_day.setdefault(row["date"], []).append(made.pk)
        if row["rating"]:
            coding.rate_coding(coder, made.pk, int(row["rating"]))
    if by_day:
        _date(members["rana"], by_day)


def _date(member: Membership, by_day: dict[str, list[int]]) -> None:
    """Codings as old as their file says: who looks at a week of coding finds one."""
    with act(member, "coding.date") as change:
        for day, keys in by_day.items():
            made_at = datetime.combine(date.fromisoformat(day), time(10), UTC)
            change.update_all(Coding.objects.filter(pk__in=keys), made_at=made_at)
        change.summary = say("Dated the codings as their file says")


def _load_places(members: dict[str, Membership]) -> None:
    """Whose drawing it is; regions of pictures and pages, spans of the recording."""
    project = members["rana"].project
    documents = {row.source_name: row for row in Document.objects.filter(project=project)}
    codes = dict(Code.objects.filter(project=project).values_list("name", "id"))
    drawer = Speaker.objects.get(document=documents["P10_crossing_diary.png"])
    case = project.cases.get(identifier="P10")
    gather.change_speaker(members["rana"], drawer.pk, role="participant", case_id=case.pk)
    by_day: dict[str, list[int]] = {}
    for row in _table("places.csv"):
        edges = [float(row[name]) for name in ("a", "b", "c", "d") if row[name]]
        place = Region(int(row["page"]), *map(int, edges)) if row["page"] else Span(*edges)
        put = coding.put_codes(members[row["coder"]], documents[row["document"]].pk, place, [codes[row["code"]]])
        made = Coding.objects.filter(passage=put.passage, code=codes[row["code"]]).values_list("pk", flat=True)
        by_day.setdefault(row["date"], []).extend(made)
    _date(members["rana"], by_day)


def _load_guide(member: Membership) -> None:
    """The interview guide as its file has it, what it asks about, and the turns that ask it, put right by whoever read them."""
    (answer,) = read_files([("guide.docx", FOLDER / "guide.docx")], lambda made: "")
    asked = guide.questions_in([line[0] for line in answer["content"]["lines"]])
    questions = {row.text: row.pk for row in coding.set_guide(member, [(None, text) for text in asked])}
    codes = dict(Code.objects.filter(project=member.project_id).values_list("name", "id"))
    for row in _table("guide.csv"):
        coding.tie_codes(member, questions[row["question"]], [codes[name] for name in row["codes"].split("|")])
    coding.match_guide(member)
    turns = list(
        Turn.objects.filter(document__project=member.project_id, speaker__role="interviewer").select_related("document")
    )
    placed = {
        (turn.document.source_name, words): turn.pk for turn, words in zip(turns, guide.said_in(turns), strict=True)
    }
    right: dict[int | None, list[int]] = {}
    for row in _table("guide_turns.csv"):
        right.setdefault(questions.get(row["question"]), []).append(placed[row["document"], row["words"]])
    for question, keys in right.items():
        coding.put_asked(member, keys, question)


def _load_topics(member: Membership) -> None:
    """Topics as words propose them, weeded as the file has it: one kept as a code, some dropped, the rest to be read."""
    job = Job.objects.create(project=member.project, account=member.account, title="Proposing topics", total=100)
    propose_task.func(job.pk, {"language": "english", "many": 12})
    job.refresh_from_db()
    if job.state != JobState.DONE:
        raise CommandError(job.message)
    for row in _table("topics.csv"):
        phrases = set(row["phrases"].split("|"))
        found = TopicPhrase.objects.filter(topic__project=member.project_id, said=row["phrases"].split("|")[0]).first()
        if found is None:
            raise CommandError(f"No topic was proposed that holds {row['phrases']}.")
        topic = found.topic
        if not row["name"]:
            coding.drop_topics(member, [topic.pk], True)
            continue
        coding.rename_topic(member, topic.pk, row["name"])
        for phrase in topic.phrases.all():
            if phrase.said not in phrases:
                coding.leave_out_phrase(member, phrase.pk, True)
        hits = topics.stretches_of(member, topic, {})
        texts = dict(Document.objects.filter(pk__in={hit[0] for hit in hits}).values_list("id", "text"))
        others = row["unticked"].split("|")
        not_so = [hit[:3] for hit in hits if texts[hit[0]][hit[1] : hit[2]].startswith(tuple(others))]
        coding.tick_hits(member, topic.pk, not_so, False)
        kept = [hit[:3] for hit in hits if hit[:3] not in not_so]
        parent = Code.objects.get(project=member.project_id, name=row["beneath"]).pk
        code = coding.keep_topic(member, topic.pk, kept, row["name"], parent, None)
        coding.change_code(member, code.pk, kind=row["kind"], definition=row["definition"])
        _date(member, {row["date"]: list(code.codings.values_list("pk", flat=True))})


def _load_themes(members: dict[str, Membership]) -> None:
    owner = members["rana"]
    codes = dict(Code.objects.filter(project=owner.project).values_list("name", "id"))
    questions: dict[str, int] = {}
    themes: dict[str, int] = {}
    for row in _table("themes.csv"):
        if row["question"] not in questions:
            questions[row["question"]] = coding.create_question(owner, row["question"]).pk
        drawn = [codes[name] for name in row["codes"].split("|")]
        made = coding.create_theme(owner, row["theme"], row["statement"], questions[row["question"]], drawn)
        themes[row["theme"]] = made.pk
    documents = dict(Document.objects.filter(project=owner.project).values_list("title", "id"))
    kept = _keep_comparisons(owner, codes, questions)
    _save_what_was_found(owner, codes, kept)
    _load_codings(members, later=True)
    named = {"code": codes, "theme": themes, "document": documents, "comparison": kept}
    for row in _table("memos.csv"):
        on: dict[str, Any] = {} if row["on"] == "project" else {row["on"]: named[row["on"]][row["name"]]}
        kinds = [_kind_of_memo(owner, one) for one in row["kinds"].split("|")]
        report.write_memo(members[row["coder"]], row["text"], kinds=kinds, **on)
    _load_exhibits(owner, questions)
    cases = dict(owner.project.cases.values_list("identifier", "id"))
    for row in _table("digests.csv"):
        of = {row["on"]: named[row["on"]][row["name"]]}
        report.write_digest(members[row["coder"]], cases[row["person"]], row["text"], **of)


def _kind_of_memo(owner: Membership, name: str) -> str | int:
    """A kind that every project has, or one of the demo's own."""
    if name in MemoKind.values:
        return name
    found = OwnMemoKind.objects.filter(project=owner.project, name=name).first()
    return (found or report.make_memo_kind(owner, name)).pk


def _load_exhibits(owner: Membership, questions: dict[str, int]) -> None:
    """Passages chosen for an audience, each with its caption."""
    made: dict[str, Exhibit] = {}
    for row in _table("exhibits.csv"):
        if row["exhibit"] not in made:
            made[row["exhibit"]] = report.make_exhibit(
                owner, row["exhibit"], row["audience"], questions[row["question"]]
            )
        exhibit = made[row["exhibit"]]
        passage = Passage.objects.get(
            document__project=owner.project, document__source_name=row["document"], start=row["start"], end=row["end"]
        )
        report.add_to_exhibit(owner, exhibit.pk, [passage.pk])
        report.change_piece(owner, exhibit.pk, exhibit.pieces.get(passage=passage).pk, caption=row["caption"])


def _keep_comparisons(owner: Membership, codes: dict[str, int], questions: dict[str, int]) -> dict[str, int]:
    """Comparisons kept by name, as a researcher would keep them; their IDs."""
    facts = dict(Variable.objects.filter(project=owner.project).values_list("name", "id"))
    kept = {}
    for row in _table("comparisons.csv"):
        beneath = Code.objects.filter(project=owner.project, parent__name=row["beneath"]).order_by("position", "id")
        asked = {
            "codes": [codes[row["codes"]]] if row["codes"] else list(beneath.values_list("id", flat=True)),
            "columns": "variable",
            "variable": facts[row["across"]],
            "second": facts.get(row["second"]),
            "second_as": row["as"] or "nested",
            "measure": row["measure"],
            "permutations": True,
            "roll_up": True,
        }
        shown = {"form": row["form"], "order": row["order"], "tint": "expected", "least": 0}
        question = questions[row["question"]] if row["question"] else None
        kept[row["name"]] = keep_comparison(owner, row["name"], asked, shown, question).pk
    return kept


def _save_what_was_found(owner: Membership, codes: dict[str, int], kept: dict[str, int]) -> None:
    """A saved query, a saved scope, a note on a cell and a frozen result, as a researcher would leave them."""
    for saved in json.loads((FOLDER / "queries.json").read_text(encoding="utf-8")):
        save_query(owner, saved["name"], _with_ids(saved["blocks"], codes))
    island = Variable.objects.get(project=owner.project, name="Island")
    first = island.categories.order_by("position").values_list("label", flat=True)[0]
    who = {"join": "all", "parts": [{"variable": island.pk, "operator": "is", "values": [first]}]}
    save_scope(owner, f"Only {first}", {"who": who})
    chosen = KeptComparison.objects.get(pk=kept["Who carries the crossing"])
    note_cell(owner, chosen.pk, "code", codes["Missed connections"], "daily", NOTE)
    freeze(owner, "Who carries the crossing, first reading", chosen.asked, chosen.shown, chosen.pk)


def _with_ids(blocks: dict[str, Any], codes: dict[str, int]) -> dict[str, Any]:
    """The file names codes; the project knows them by ID."""
    found = dict(blocks)
    if "parts" in found:
        found["parts"] = [_with_ids(part, codes) for part in found["parts"]]
    if "codes" in found:
        found["codes"] = [codes[name] for name in found["codes"]]
    return found


def _table(name: str) -> list[dict[str, str]]:
    with (FOLDER / name).open(encoding="utf-8", newline="") as file:
        return list(csv.DictReader(file))
