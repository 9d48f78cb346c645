"""Somebody who withdraws is gone: a stranger with every table and every file finds no word of it, and nothing brings it back."""

import io
import json
import zlib
from base64 import b85decode
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path

import docx
import pytest
from django.conf import settings as django_settings
from django.db import connection

from server.coding import actions as coding
from server.coding.models import Coding, Passage
from server.common.errors import NotAllowed, Refusal
from server.compare import actions as compare
from server.compare.frozen import changes_since
from server.compare.models import FrozenResult, KeptComparison
from server.compare.queries import comparison
from server.gather import actions as gather
from server.gather import media
from server.gather.models import Document, NamePair, Speaker, StagedFile
from server.imports import actions as imports
from server.imports.actions import staging
from server.people import actions as people
from server.people.models import Case, Variable
from server.projects import trail
from server.projects.models import JobState, Project, TrailEntry
from server.report import actions as report
from server.shell import nightly
from server.shell.forgetting import actions, preview, reach
from server.shell.forgetting.traces import Traces
from tests.server.conftest import bring_in, put, read_here, upload
from tests.server.player import Player

TALK = (
    "Interviewer: How was the winter?\nQuillworth: The vessel Marrowgale sank before my eyes and I never told anybody.\n"
    "Interviewer: And then?\nQuillworth: Then I moved to Fennimore street with my dog."
)
GROUP = (
    "Interviewer: Who waits?\nQuillworth: I waited under the Obstacle lamp for seven nights.\n"
    "Bodil: I waited too, with the others, and nobody came.\nQuillworth: Nobody but Zephyrine."
)
SHEET = "ID;Island;Past\nQuillworth;Holm;a keeper of the Hesperus light\nBodil;Ytter;a baker\nCarl;Holm;a smith\n"
SECRETS = ("quillworth", "marrowgale", "fennimore", "obstacle", "zephyrine", "hesperus")


@pytest.fixture
def told(empty, monkeypatch):
    """A project in which one person left words in every corner."""
    monkeypatch.setattr(staging, "read_files", read_here)
    owner = empty.owner
    job = bring_in(owner, ("people.csv", SHEET), ("Quillworth.txt", TALK), ("group.txt", GROUP))
    assert job.state == JobState.DONE, job.message
    case = Case.objects.get(identifier="Quillworth")
    alone, group = Document.objects.get(title="Quillworth"), Document.objects.get(title="group")
    for speaker in Speaker.objects.filter(label__in=["Quillworth", "Bodil"]):
        gather.change_speaker(
            owner, speaker.pk, role="participant", case_id=Case.objects.get(identifier=speaker.label).pk
        )
    waits = coding.create_code(owner, "Waits", None, example="I waited under the Obstacle lamp for seven nights")
    sinks = coding.create_code(
        owner, "Sinks", None, definition="As Quillworth says of the Marrowgale: “sank before my eyes”"
    )
    put(owner, alone, "The vessel Marrowgale sank before my eyes", sinks)
    put(owner, group, "I waited under the Obstacle lamp for seven nights.", waits)
    put(owner, group, "nobody came", waits)
    put(empty.coder, group, "I waited too, with the others", waits)
    across = coding.apply_codes(
        owner, group.pk, group.text.index("seven nights"), group.text.index("too, with"), [waits.pk]
    )
    island = Variable.objects.get(name="Island")
    asked = {"codes": [waits.pk, sinks.pk], "variable": island.pk, "measure": "passages"}
    kept = compare.keep_comparison(
        owner, "What Quillworth says", {"codes": [waits.pk], "columns": "cases", "groups": ["Quillworth", "Bodil"]}, {}
    )
    compare.note_cell(owner, kept.pk, "code", waits.pk, "Quillworth", "Quillworth waits longest")
    compare.freeze(owner, "Before", asked, {})
    compare.freeze_passages(owner, "Found", {"blocks": {"parts": [{"what": "coded", "codes": [waits.pk]}]}})
    report.write_memo(owner, "Quillworth is the only one who waited under the Obstacle lamp for seven nights.")
    report.write_memo(owner, "She is careful.", case=case.pk)
    report.write_memo(owner, "On the two of them.", passage=across.pk)
    report.write_digest(owner, case.pk, "Marrowgale, and the dog of Fennimore street", code=sinks.pk)
    report.make_exhibit(owner, "Voices", passages=[across.pk, Passage.objects.filter(document=alone).first().pk])
    people.make_cohort(owner, "Not Quillworth", None, [case.pk, Case.objects.get(identifier="Carl").pk])
    people.rename_case(owner, case.pk, "P01")
    NamePair.objects.create(project=owner.project, name="Ada Quillworth", pseudonym="P01")
    coding.drop_words(owner, ["Quillworth", "boat"])
    imports.stage(
        owner, [upload("again.txt", TALK), upload("other.txt", "Bodil: nothing of it"), upload("people.csv", SHEET)]
    )
    picture = Path(django_settings.MEDIA_FOLDER).parent / "picture"
    picture.write_bytes(b"a picture of Quillworth")
    alone.media.create(role="picture", digest=media.keep(picture), content_type="image/webp")
    coding.delete_code(owner, coding.create_code(owner, "As Quillworth says", None).pk)
    trail.undo(owner)
    return empty


def everything() -> str:
    """Every row of every table as text, with what is packed unpacked, and every file."""
    found = []
    with connection.cursor() as cursor:
        cursor.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public'")
        for (name,) in cursor.fetchall():
            cursor.execute(f'SELECT one::text FROM "{name}" one')
            found += [f"{name}: {row}" for (row,) in cursor.fetchall()]
    for row in FrozenResult.objects.all():
        found.append(f"held: {json.loads(zlib.decompress(b85decode(row.held)))}")
    for path in Path(django_settings.MEDIA_FOLDER).rglob("*"):
        if path.is_file():
            found.append(f"{path}: {path.read_bytes().decode(errors='replace')}")
    return "\n".join(found)


def forget(world, keep_figures=True, typed="P01"):
    return actions.forget(world.owner, typed, keep_figures, case=Case.objects.get(identifier="P01").pk)


@pytest.mark.parametrize("keep_figures", [True, False])
def test_a_stranger_finds_no_word_of_a_person_in_any_table_or_file(told, keep_figures):
    before = everything().casefold()
    assert all(secret in before for secret in SECRETS)
    figures = {row.name: row.result.get("rows") for row in FrozenResult.objects.filter(kind="comparison")}
    said = forget(told, keep_figures)
    assert said.startswith("The person is forgotten. Undo doesn’t bring it back")
    after = everything()
    left = {secret: [line[:300] for line in after.splitlines() if secret in line.casefold()] for secret in SECRETS}
    assert not any(left.values()), left
    assert not [line for line in after.splitlines() if "P01" in line and "compare" in line]
    # What others said and wrote is still there.
    group = Document.objects.get(title="group")
    assert "I waited too, with the others, and nobody came." in group.text
    assert group.text.count("[forgotten]") == 2
    assert Coding.objects.filter(passage__document=group).count() == 3
    assert not Document.objects.filter(title="Quillworth").exists()
    assert StagedFile.objects.get().name == "other.txt"
    if keep_figures:
        for row in FrozenResult.objects.filter(kind="comparison"):
            kept = figures[row.name]
            assert [[cell["count"] for cell in one["cells"]] for one in row.result["rows"]] == [
                [cell["count"] for cell in one["cells"]] for one in kept
            ]
            assert changes_since(told.owner, row)["problem"] == ""
    else:
        assert not FrozenResult.objects.exists()


def test_nothing_brings_it_back_and_it_is_said(told):
    forget(told)
    told.owner.refresh_from_db()
    for member in (told.owner, told.coder):
        assert trail.undo(member) is None
        assert trail.redo(member) is None
    assert not any(TrailEntry.objects.values_list("inverse", flat=True))
    assert "can’t be taken back" in TrailEntry.objects.first().summary
    # And the project goes on: turns cover the text, comparisons count, new work is undone.
    group = Document.objects.get(title="group")
    assert [turn.start for turn in group.turns.all()][1:] == [turn.end for turn in group.turns.all()][:-1]
    island = Variable.objects.get(name="Island")
    codes = list(told.project.codes.values_list("id", flat=True))
    result = comparison(told.owner, {"codes": codes, "variable": island.pk})
    assert sum(group["people"] for group in result["groups"]) == 1
    coding.create_code(told.owner, "Later", None)
    assert trail.undo(told.owner).summary


def test_the_preview_says_what_goes(told):
    found = preview.preview(reach.of_case(told.owner, Case.objects.get(identifier="P01").pk))
    assert (found.called, found.documents, found.shared) == ("P01", ["Quillworth"], ["group"])
    assert set(found.names) == {"P01", "Quillworth", "Quillworth.txt"}
    assert (found.turns, found.passages, found.values, found.digests, found.pieces) == (2, 1, 2, 1, 1)
    assert (found.media, found.staged, found.frozen, found.elsewhere) == (1, 2, 2, [])
    assert found.written >= 6
    assert (found.backups_gone_by, found.backups_by_themselves) == (None, False)


def test_a_document_alone_is_forgotten_with_what_quotes_it(told):
    document = Document.objects.get(title="Quillworth")
    actions.forget(told.owner, "Quillworth", True, document=document.pk)
    after = everything().casefold()
    for secret in ("marrowgale sank", "fennimore street with my dog", "quillworth.txt"):
        assert secret not in after, [line[:200] for line in after.splitlines() if secret in line]
    assert Case.objects.filter(identifier="P01").exists()
    assert "Obstacle lamp" in Document.objects.get(title="group").text


def test_only_an_owner_who_types_the_name_forgets(told):
    case = Case.objects.get(identifier="P01").pk
    with pytest.raises(Refusal, match="isn’t the one"):
        forget(told, typed="P02")
    url = told.url("/forget")
    body = {"case": case, "typed": "P01", "keep_figures": True}
    for account, status in ((told.coder.account, 403), (told.viewer.account, 403), (told.stranger, 404)):
        assert told.client(account).post(url, body, format="json").status_code == status
        assert told.client(account).get(f"{url}?case={case}").status_code == status
    assert Case.objects.filter(pk=case).exists()
    owner = told.client(told.owner.account)
    assert owner.get(f"{url}?case={case}").json()["documents"] == ["Quillworth"]
    assert owner.get(url).status_code == 404
    other = Case.objects.create(project=Project.objects.get(name="Elsewhere"), identifier="Far")
    assert owner.get(f"{url}?case={other.pk}").status_code == 404
    assert owner.post(url, body, format="json").json()["said"].startswith("The person is forgotten")
    assert not Case.objects.filter(pk=case).exists()


def test_who_lost_the_role_meanwhile_forgets_nobody(told):
    """The role is read again when nobody else can change it."""
    case = Case.objects.get(identifier="P01").pk
    type(told.owner).objects.create(project=told.project, account=told.stranger, role="owner")
    type(told.owner).objects.filter(pk=told.owner.pk).update(role="coder")
    with pytest.raises(NotAllowed):
        actions.forget(told.owner, "P01", True, case=case)
    assert Case.objects.filter(pk=case).exists()


def test_a_label_that_says_anybody_isn_t_looked_for(told):
    Speaker.objects.filter(document__title="Quillworth", label="Quillworth").update(label="Participant 1")
    assert "Participant 1" not in reach.of_case(told.owner, Case.objects.get(identifier="P01").pk).names


def test_others_of_the_same_label_keep_theirs(told):
    """“Quillworth” may be somebody else’s label too: then it isn’t taken for theirs."""
    other = Document.objects.get(title="group").speakers.get(label="Bodil")
    Speaker.objects.filter(pk=other.pk).update(label="Anna")
    Speaker.objects.filter(document__title="Quillworth", label="Quillworth").update(label="Anna")
    assert "Anna" not in reach.of_case(told.owner, Case.objects.get(identifier="P01").pk).names


@pytest.mark.parametrize(
    ("said", "left"),
    [
        ("As P07 put it", "As somebody forgotten put it"),
        ("P070 and XP07 stay", "P070 and XP07 stay"),
        ("He said that the boat was late again, twice", "He said that [forgotten on 2026-11-28], twice"),
        ("The boat was late", "The boat was late"),
        ("Coded “boat was la…” with Late", "Coded “boat was la…” with Late"),
        ("Coded “The boat was” with Late", "Coded “[forgotten on 2026-11-28]” with Late"),
        ("Coded “anything else” with Late", "Coded “anything else” with Late"),
        ("of people who mention “late”", "of people who mention “late”"),
        ("41 of 86 people", "41 of 86 people"),
        ("41", "somebody forgotten"),
        ("Added “41”", "Added “somebody forgotten”"),
    ],
)
def test_traces_are_names_and_word_for_word(said, left):
    from datetime import date

    traces = Traces({"P07", "41"}, ["The boat was late again."], date(2026, 11, 28))
    assert traces.text(said) == left
    assert traces.json({"a": [said, 1, None]}) == {"a": [left, 1, None]}
    assert (
        Traces((), ["The boat was late again."], date(2026, 11, 28), least=1).text("“late”")
        == "“[forgotten on 2026-11-28]”"
    )


def test_who_asks_is_told_what_is_held(told):
    case = Case.objects.get(identifier="P01").pk
    answer = told.client(told.owner.account).get(told.url(f"/held/{case}"))
    assert answer["Content-Disposition"] == 'attachment; filename="crossings-held.docx"'
    document = docx.Document(io.BytesIO(answer.content))
    said = "\n".join(one.text for one in document.paragraphs)
    known = {row.cells[0].text: row.cells[1].text for table in document.tables for row in table.rows}
    assert known == {"Island": "Holm", "Past": "a keeper of the Hesperus light"}
    for words in (
        "What is held of P01",
        "The vessel Marrowgale sank before my eyes and I never told anybody.",
        "Nobody but Zephyrine.",
        "“The vessel Marrowgale sank before my eyes” (Quillworth): Sinks",
        ": She is careful.",
        "Digest on Sinks: Marrowgale, and the dog of Fennimore street",
        "Exhibit “Voices”",
        "Frozen result “Before”, of ",
        "Picked into the cohort “Not Quillworth”",
        "Picture of “Quillworth”",
        "A file that waits: again.txt",
        "P01 stands for Ada Quillworth.",
        "Backups are made by hand",
    ):
        assert words in said, words
    # Not what others say.
    assert "I waited too" not in said
    assert "“seven nights.” (group): Waits" in said
    assert "On the two of them." not in said
    nobody = people.add_case(told.owner, "Silent").pk
    assert b"word/document.xml" in told.client(told.owner.account).get(told.url(f"/held/{nobody}")).content
    assert told.client(told.coder.account).get(told.url(f"/held/{case}")).status_code == 403


def test_the_trail_goes_after_the_days_that_the_project_keeps_it(told):
    client = told.client(told.owner.account)
    assert client.patch(told.url(), {"trail_days": 30}, format="json").json()["trail_days"] == 30
    assert told.client(told.coder.account).patch(told.url(), {"trail_days": 1}, format="json").status_code == 403
    entries = TrailEntry.objects.filter(project=told.project)
    old = list(entries.order_by("revision")[:5].values_list("id", flat=True))
    entries.filter(pk__in=old).update(created_at=datetime.now(UTC) - timedelta(days=31))
    count = entries.count()
    assert nightly.shorten_trails() == 5
    assert entries.count() == count - 5
    assert not entries.filter(pk__in=old).exists()
    assert trail.undo(told.owner) is not None
    Project.objects.update(trail_days=0)
    entries.update(created_at=datetime.now(UTC) - timedelta(days=9000))
    assert nightly.shorten_trails() == 0


def test_somebody_may_be_called_like_a_word_of_ours(told):
    """Whoever is called “people” takes no measure along."""
    case = people.add_case(told.owner, "people")
    codes = list(told.project.codes.values_list("id", flat=True))
    asked = {"codes": codes, "variable": Variable.objects.get(name="Island").pk, "measure": "people"}
    compare.keep_comparison(told.owner, "Of people", asked, {})
    actions.forget(told.owner, "people", True, case=case.pk)
    kept = KeptComparison.objects.get(asked__measure="people")
    assert kept.asked == asked
    assert kept.name.startswith("Of somebody forgotten")
    assert comparison(told.owner, kept.asked)["measure"] == "people"


@pytest.mark.parametrize("seed", range(3))
def test_whatever_people_did_a_person_can_be_forgotten(world, seed):
    player = Player([world.owner, world.coder], seed + 50)
    player.play(200)
    owner, case = world.owner, Case.objects.filter(project=world.project).first() or people.add_case(world.owner, "New")
    actions.forget(owner, case.identifier, bool(seed % 2), case=case.pk)
    for document in Document.objects.filter(project=world.project):
        turns = list(document.turns.all())
        assert [turn.start for turn in turns] == [0, *(turn.end for turn in turns[:-1])]
        assert turns[-1].end == document.length == len(document.text)
    for kept in KeptComparison.objects.filter(project=world.project):
        with suppress(Refusal):
            assert comparison(owner, kept.asked)["everyone"] <= Case.objects.count()
    assert not Case.objects.filter(pk=case.pk).exists()
