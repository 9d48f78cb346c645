"""Bringing in: what is read, what is refused and in which words, all or nothing."""

import io
import os
import signal
import subprocess
import sys
import zipfile

import docx
import openpyxl
import pytest
from django.conf import settings as django_settings
from django.db import connection

from core.gather.summary import summary_of
from server.gather import actions as gather
from server.gather import queries
from server.gather.models import Document, Speaker, StagedFile, Turn
from server.imports import actions as imports
from server.imports import jobs as importing
from server.imports import reading
from server.imports.actions import staging
from server.people import actions as people
from server.people.models import Case, Value, Variable
from server.projects import running, trail
from server.projects.models import Job, JobState, Project
from tests.server.conftest import OTHER, SHEET, TALK, bring_in, upload


def stage(world, name, content):
    return imports.stage(world.owner, [upload(name, content)])[0]


def word_file(*paragraphs) -> bytes:
    document = docx.Document()
    for label, said in paragraphs:
        paragraph = document.add_paragraph()
        paragraph.add_run(label).bold = True
        paragraph.add_run(said)
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def test_what_waits_is_told_as_it_was_read_without_reading_it_again(world, monkeypatch):
    """With hundreds of texts that wait, each look at them would else take seconds."""
    stage(world, "talk.txt", b"INT: How was it?\nANA (nurse): Late.\nANA (nurse): Yes.")
    client = world.client(world.owner.account)

    def told():
        (row,) = client.get(world.url("/staged")).json()
        return {speaker["label"]: speaker["role"] for speaker in row["transcript"]["speakers"]}

    def read_anew():
        row = StagedFile.objects.get()
        return summary_of(reading.transcript_of(row))

    read, times = reading.read_transcript, []
    monkeypatch.setattr(reading, "read_transcript", lambda *asked: times.append(asked) or read(*asked))
    assert told() == {"INT": "interviewer", "ANA (nurse)": "participant"}
    assert not times
    assert StagedFile.objects.get().content["found"] == {"of": {}, "language": "en", **read_anew()}
    # Corrected, for one and for all, it is read with that, once; then told again.
    row = StagedFile.objects.get()
    client.patch(
        world.url(f"/staged/{row.pk}"), {"choices": {"ignored": ["INT"], "roles": {"ANA": "other"}}}, format="json"
    )
    client.post(world.url("/staged/speakers"), {"changes": {"ANA (nurse)": {"name": "Ana"}}}, format="json")
    times.clear()
    assert told() == {"Before the first speaker": "other", "Ana": "participant"}
    assert not times
    assert StagedFile.objects.get().content["found"]["speakers"] == read_anew()["speakers"]
    # In another language the reasons for roles are other words.
    world.owner.account.language = "de"
    world.owner.account.save()
    times.clear()
    assert "Ana" in told()
    assert len(times) == 1


def workbook(rows, merge=None) -> bytes:
    book = openpyxl.Workbook()
    for row in rows:
        book.active.append(row)
    if merge:
        book.active.merge_cells(merge)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def with_part(data: bytes, name: str, content: bytes) -> bytes:
    """The office file with one part replaced."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for item in old.namelist():
            new.writestr(item, content if item == name else old.read(item))
    return out.getvalue()


def test_a_mixed_batch_becomes_a_linked_project(empty):
    word = word_file(("Interviewer: ", "Hm?"), ("P3: ", "Yes, and café."), ("Interviewer: ", "Oh."))
    job = bring_in(
        empty.owner, ("people.csv", SHEET), ("P1_pier.txt", TALK), ("P2_garden.md", OTHER), ("talk.docx", word)
    )
    assert job.state == JobState.DONE
    assert job.message == "Brought in 3 documents, 3 new people, 3 speakers linked."
    assert Case.objects.count() == 3
    linked = dict(Speaker.objects.exclude(case=None).values_list("label", "case__identifier"))
    assert linked == {"P1": "P1", "Maren": "P2", "P3": "P3"}
    age = Value.objects.get(variable__name="Age", case__identifier="P3")
    assert age.missing == "not_answered"
    for document in Document.objects.all():
        turns = list(document.turns.all())
        assert "".join(document.text[turn.start : turn.end] for turn in turns) == document.text
    assert StagedFile.objects.count() == 0


def test_an_import_is_undone_whole(world):
    trail_before = Project.objects.get(pk=world.project.pk).revision
    bring_in(world.coder, ("new.txt", "P1: One.\nI: Two.\nP1: Three."), ("more.csv", "ID,Height\nP1,180\nP9,170"))
    assert Variable.objects.filter(name="Height").exists()
    trail.undo(world.coder)
    assert not Document.objects.filter(title="new").exists()
    assert not Variable.objects.filter(name="Height").exists()
    assert not Case.objects.filter(identifier="P9").exists()
    trail.redo(world.coder)
    assert Turn.objects.filter(document__title="new").count() == 3
    assert Project.objects.get(pk=world.project.pk).revision == trail_before + 3


def test_a_second_sheet_fills_gaps_and_overwrites_nothing(world):
    row = stage(world, "update.csv", "ID,Age,Crosses\nP3,52,weekly\nP4,40,daily")
    client = world.client(world.owner.account)
    sheet = client.get(world.url("/staged")).json()[0]["sheet"]
    assert (sheet["new_cases"], sheet["known_cases"], sheet["conflicts"]) == (1, 1, 1)
    assert sheet["conflict_examples"] == [{"who": "P3", "variable": "Crosses", "here": "never", "there": "weekly"}]
    assert (sheet["fresh"], sheet["same"]) == (3, 0)
    job = Job.objects.create(project=world.project, account=world.owner.account, title="t")
    running.run(job.pk, importing.bring_in)
    assert Value.objects.get(case__identifier="P3", variable__name="Age").number == 52
    assert Value.objects.get(case__identifier="P3", variable__name="Crosses").category.label == "never"
    assert row.pk


def test_corrections_are_kept_and_used(world):
    row = stage(world, "talk.txt", "Anna: Hm?\nBo: Yes.\nAnna: Oh.\nBo: No.")
    client = world.client(world.owner.account)
    choices = {"title": "At the pier", "renamed": {"Anna": "Interviewer"}, "roles": {"Interviewer": "interviewer"}}
    found = client.patch(world.url(f"/staged/{row.pk}"), {"choices": choices}, format="json").json()["transcript"]
    assert [(speaker["label"], speaker["role"]) for speaker in found["speakers"]] == [
        ("Interviewer", "interviewer"),
        ("Bo", "participant"),
    ]
    job = Job.objects.create(project=world.project, account=world.owner.account, title="t")
    running.run(job.pk, importing.bring_in)
    assert set(Speaker.objects.filter(document__title="At the pier").values_list("label", "role")) == {
        ("Interviewer", "interviewer"),
        ("Bo", "participant"),
    }


def test_the_same_file_twice_is_said_and_left_out(world):
    row = stage(world, "again.txt", TALK)
    assert not row.included
    shown = world.client(world.owner.account).get(world.url("/staged")).json()[0]
    assert shown["already"] == "P1_pier"
    twins = imports.stage(world.owner, [upload("x.txt", "P7: a\nI: b\nP7: c"), upload("y.txt", "P7: a\nI: b\nP7: c")])
    assert [twin.included for twin in twins] == [True, False]


def test_the_same_file_in_two_batches_at_once_is_ticked_once(world, monkeypatch):
    text, real, other = "P7: a\nI: b\nP7: c", staging.read_files, []

    def meanwhile(*files, **more):
        monkeypatch.setattr(staging, "read_files", real)
        other.extend(imports.stage(world.owner, [upload("beside.txt", text)]))
        yield from real(*files, **more)

    monkeypatch.setattr(staging, "read_files", meanwhile)
    (first,) = imports.stage(world.owner, [upload("first.txt", text)])
    assert [first.included, other[0].included] == [False, True]


ODD = {
    "empty.txt": (b"", "is empty"),
    "spaces.txt": (b" \n\n ", "is empty"),
    "sound.txt": (b"\x00\x01\x02\x03" * 500, "isn’t text"),
    "renamed.docx": (b"just words", "content is plain text"),
    "renamed.txt": (word_file(("P1: ", "x")), "an office file"),
    "report.pdf": (b"%PDF-1.7", "damaged or cut off"),
    "renamed-pdf.txt": (b"%PDF-1.7 abc", "a PDF"),
    "old.doc": (b"\xd0\xcf\x11\xe0", "old .doc format"),
    "locked.docx": (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + b"\x00" * 600, "protected by a password"),
    "locked.xlsx": (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + b"\x00" * 600, "protected by a password"),
    "truncated.docx": (word_file(("P1: ", "x" * 5000))[:-900], "damaged or cut off"),
    "truncated.xlsx": (workbook([["ID", "A"], ["P1", "2"]])[:-400], "damaged or cut off"),
    "sheet-as.docx": (workbook([["ID", "A"], ["P1", "2"]]), "doesn’t hold what such a file holds"),
    "empty.xlsx": (workbook([]), "empty"),
    "one-row.csv": (b"ID,Age\n", "single row"),
    "wide.csv": (",".join(f"c{i}" for i in range(10_000)).encode() + b"\n" + b",".join([b"1"] * 10_000), "10,000 columns"),
    "wide.xlsx": (workbook([[f"c{i}" for i in range(10_000)], list(range(10_000))]), "10,000 columns"),
    "entities.docx": (
        with_part(word_file(("P1: ", "x")), "word/document.xml", b'<?xml version="1.0"?><!DOCTYPE d [<!ENTITY e SYSTEM "file:///etc/passwd">]><d>&e;</d>'),
        "content outside itself",
    ),
    "bomb.docx": (with_part(word_file(("P1: ", "x")), "word/styles.xml", b" " * (200 * 1024 * 1024)), "unpacks to far more"),
}  # fmt: skip


@pytest.mark.parametrize("name", ODD)
def test_an_odd_file_gets_a_clear_sentence_and_the_rest_goes_on(empty, name):
    content, sentence = ODD[name]
    odd, fine = imports.stage(empty.owner, [upload(name, content), upload("fine.txt", TALK)])
    assert sentence in odd.problem
    assert not odd.included
    assert fine.problem == ""
    assert Document.objects.count() == 0


def test_a_file_of_200_megabytes_is_refused_by_its_size(empty):
    big = upload("big.txt", b"x")
    big.size = 200 * 1024 * 1024
    row = imports.stage(empty.owner, [big])[0]
    assert "200 MB" in row.problem
    assert "25 MB" in row.problem


@pytest.mark.parametrize("encoding", ["utf-8", "utf-16", "latin-1", "utf-8-sig"])
@pytest.mark.parametrize("separator", [",", ";", "\t"])
def test_sheets_in_any_encoding_and_separator(empty, encoding, separator):
    rows = [["ID", "Ort", "Alter"], ["P1", "Sæby, Süd", "34"], ["P2", "Åre", "41"]]
    text = "\r\n".join(separator.join(f'"{cell}"' for cell in row) for row in rows)
    bring_in(empty.owner, ("leute.csv", text.encode(encoding)))
    assert set(Value.objects.exclude(category=None).values_list("category__label", flat=True)) == {"Sæby, Süd", "Åre"}
    assert set(Value.objects.exclude(number=None).values_list("number", flat=True)) == {34, 41}


def test_merged_cells_are_said(empty):
    row = stage(empty, "merged.xlsx", workbook([["ID", "Place", "Age"], ["P1", "Holm", 3], ["P2", None, 4]], "B2:B3"))
    shown = empty.client(empty.owner.account).get(empty.url("/staged")).json()[0]["sheet"]
    assert any("B2:B3" in warning for warning in shown["warnings"])
    assert row.problem == ""


def test_a_sheet_with_double_ids_cant_be_started(empty):
    stage(empty, "double.csv", "ID,Age,Place\nP1,3,a\nP1,4,b\nP2,5,a\nP3,1,b\nP4,1,b\nP5,2,a")
    answer = empty.client(empty.owner.account).post(empty.url("/bring-in"))
    assert answer.status_code == 400
    assert "“P1” stands in rows 2 and 3" in answer.json()["error"]
    assert Case.objects.count() == 0


def test_names_that_look_like_code_stay_names(empty):
    odd = "<script>alert(1)</script>"
    bring_in(empty.owner, ("s.csv", f'ID,Note,Place\n{odd},=1+1,"a ""b"""\n🚢,@x,שלום\n'), (f"{odd[:8]}.txt", TALK))
    assert set(Case.objects.values_list("identifier", flat=True)) == {odd, "🚢"}
    assert Value.objects.filter(category__label="=1+1").exists()
    assert Document.objects.get().title == "<script>"


def test_linking_by_hand_and_roles(world):
    speaker = Speaker.objects.get(label="Maren")
    gather.change_speaker(world.owner, speaker.pk, case_id=None)
    assert [row.label for row in queries.unlinked(world.owner)] == ["Maren"]
    assert queries.passages_touched(world.owner) == {speaker.pk: 1}
    assert queries.link_proposals(world.owner)[0].reason == "file name holds P2, and one participant speaks"
    assert gather.link_sure_speakers(world.owner) == 1
    gather.change_speaker(world.owner, speaker.pk, role="interviewer")
    speaker.refresh_from_db()
    assert speaker.case is None
    trail.undo(world.owner)
    speaker.refresh_from_db()
    assert speaker.case.identifier == "P2"


def test_deleting_a_document_and_a_case_comes_back_whole(world):
    before = (Turn.objects.count(), Speaker.objects.filter(case=None).count())
    document = Document.objects.get(title="P1_pier")
    gather.delete_documents(world.owner, [document.pk])
    said = people.delete_case(world.owner, Case.objects.get(identifier="P2").pk)
    assert said.startswith("Deleted P2, with ")
    assert said.endswith("; 1 passage that nobody else said counts for nobody until linked to somebody again")
    assert trail.last_done(world.owner).summary == said.partition(";")[0]
    assert Turn.objects.count() < before[0]
    trail.undo(world.owner)
    trail.undo(world.owner)
    assert (Turn.objects.count(), Speaker.objects.filter(case=None).count()) == before
    assert document.passages.count() == 2


def test_a_deleted_case_says_what_counts_for_nobody_now(world):
    one, pier = Case.objects.get(identifier="P1"), Document.objects.get(title="P1_pier")
    said = people.delete_case(world.owner, one.pk)
    assert said.endswith("passages that nobody else said count for nobody until linked to somebody again")
    assert f"; {pier.passages.count()} passages" in said
    trail.undo(world.owner)


def test_values_are_edited_by_their_type(world):
    case, age = Case.objects.get(identifier="P3"), Variable.objects.get(name="Age")
    client = world.client(world.owner.account)
    path = world.url(f"/cases/{case.pk}/values/{age.pk}")
    wrong = client.put(path, {"text": "forty"}, format="json")
    assert wrong.json()["error"] == "“forty” isn’t a number, which “Age” needs."
    assert client.put(path, {"text": "40"}, format="json").status_code == 204
    assert Value.objects.get(case=case, variable=age).number == 40
    assert client.put(path, {"text": "", "missing": "not_asked"}, format="json").status_code == 204
    assert Value.objects.get(case=case, variable=age).missing == "not_asked"
    trail.undo(world.owner)
    assert Value.objects.get(case=case, variable=age).number == 40


def test_a_variable_changes_type_only_if_every_value_fits(world):
    client = world.client(world.owner.account)
    island = Variable.objects.get(name="Island")
    refused = client.patch(world.url(f"/variables/{island.pk}"), {"kind": "number"}, format="json")
    assert "can’t be read as number" in refused.json()["error"]
    changed = client.patch(world.url(f"/variables/{island.pk}"), {"kind": "text"}, format="json").json()
    assert changed["kind"] == "text"
    trail.undo(world.owner)
    assert Value.objects.filter(category__label="Holm").count() == 2


def test_cancelling_writes_nothing(world):
    stage(world, "a.txt", "P1: x\nI: y\nP1: z")
    job = Job.objects.create(project=world.project, account=world.owner.account, title="t", cancel_asked=True)
    running.run(job.pk, importing.bring_in)
    job.refresh_from_db()
    assert job.state == JobState.CANCELLED
    assert not Document.objects.filter(title="a").exists()
    assert StagedFile.objects.count() == 1


WORKER = """
import os, signal, django
django.setup()
from server.imports import jobs as importing
from server.imports import reading
from server.imports.actions import staging
from server.projects import running
step = running.Progress.step
def die(self, done, message=None):
    step(self, done, message)
    if done == 3:
        os.kill(os.getpid(), signal.SIGKILL)
running.Progress.step = die
running.run(JOB, importing.bring_in)
"""


@pytest.mark.django_db(transaction=True)
def test_a_worker_killed_in_the_middle_leaves_nothing_half_written(empty):
    imports.stage(empty.owner, [upload(f"talk{i}.txt", f"P{i}: One {i}.\nI: Two.\nP{i}: Three.") for i in range(6)])
    job = Job.objects.create(project=empty.project, account=empty.owner.account, title="t", total=6)
    environment = {
        **os.environ,
        "COHORTIA_DATABASE": connection.settings_dict["NAME"],
        "DJANGO_SETTINGS_MODULE": "server.settings",
    }
    done = subprocess.run(
        [sys.executable, "-c", WORKER.replace("JOB", str(job.pk))],
        cwd=django_settings.ROOT,
        env=environment,
        capture_output=True,
    )
    assert done.returncode == -signal.SIGKILL, done.stderr
    job.refresh_from_db()
    assert job.state == JobState.RUNNING
    # Of steps that follow at once only the first is told.
    assert 1 <= job.done <= 3
    status = empty.client(empty.owner.account).get(empty.url(f"/jobs/{job.pk}")).json()
    assert status["state"] == "failed"
    assert "Interrupted" in status["message"]
    assert Document.objects.count() == 0
    assert StagedFile.objects.count() == 6
    again = Job.objects.create(project=empty.project, account=empty.owner.account, title="t")
    running.run(again.pk, importing.bring_in)
    assert Document.objects.count() == 6
