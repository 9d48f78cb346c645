"""A codebook brought in from a file: read, shown before, merged or put in place, taken back."""

import io
import re
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from server.coding import actions as coding
from server.coding import codebook_files
from server.coding.models import Code, Coding, Theme
from server.gather.readers import sandbox
from server.projects import trail
from server.projects.models import Project
from tests.server.conftest import read_here

SHEET = (
    "Code,Beneath,Definition,Themes,Rating from,Rating to\r\n"
    'getting across,,"The crossing, all of it",,,\r\n'
    "Late,Getting across,After its time,Clocks; Boats,mild,grave\r\n"
    "Cold,late,,Clocks,,\r\n"
    ",,no name,,,\r\n"
    "Lost,Nowhere,,,low,\r\n"
)
QDC = """<?xml version="1.0" encoding="utf-8"?>
<CodeBook xmlns="urn:QDA-XML:codebook:1.0" origin="elsewhere"><Codes>
<Code guid="A1" name="Boats" isCodable="true" color="#5B9A54"><Description>Any boat

Covers: ferries too</Description><Code guid="A2" name="Engines" isCodable="false"/></Code>
</Codes><Sets><Set guid="S" name="Machines"><Description>They break.</Description><MemberCode guid="a2"/></Set></Sets></CodeBook>"""


@pytest.fixture(autouse=True)
def _read_in_this_process(monkeypatch):
    monkeypatch.setattr(codebook_files, "read_files", read_here)


def sent(world, name, data, how="merge", revision=None, method="post"):
    data = data.encode() if isinstance(data, str) else data
    body = {"file": SimpleUploadedFile(name, data), "how": how}
    if revision is not None:
        body["revision"] = revision
    return getattr(world.client(world.owner.account), method)(world.url("/codebook/file"), body, format="multipart")


def state(world):
    codes = Code.objects.filter(project=world.project).order_by("id")
    return (
        list(codes.values_list("name", "parent__name", "definition", "position", "kind")),
        Coding.objects.count(),
        list(Theme.objects.values_list("name", flat=True)),
    )


def test_merging_a_sheet_takes_over_what_it_says_and_leaves_the_rest(world):
    coding.change_code(world.owner, Code.objects.get(name="Home").pk, definition="Staying")
    before = state(world)
    said = sent(world, "codes.csv", SHEET).data
    assert state(world) == before
    assert [one["name"] for one in said["new"]] == ["Lost", "Cold"]
    assert [(one["name"], one["what"]) for one in said["changed"]] == [
        ("Getting across", "what it means"), ("Late", "what it means"), ("Late", "rating from"), ("Late", "rating to"),
    ]  # fmt: skip
    assert (said["gone"], said["themes"]) == ([], ["Clocks", "Boats"])
    assert sorted(line.split(":")[0] for line in said["warnings"]) == [
        "Row 5 names no code; it is left out.", "Row 6", "“Lost” names one end of its scale only; it gets none.",
    ]  # fmt: skip
    assert sent(world, "codes.csv", SHEET, revision=said["revision"], method="put").status_code == 200
    assert Code.objects.get(name="Cold").parent.name == "Late"
    assert Code.objects.get(name="Home").definition == "Staying"
    assert Coding.objects.count() == before[1]
    assert [row.code.name for row in Theme.objects.get(name="Clocks").placings.all()] == ["Late", "Cold"]
    trail.undo(world.owner)
    assert state(world) == before


def test_what_lies_beneath_another_code_in_the_file_moves_there_and_is_shown(world):
    before = state(world)
    names = dict(Code.objects.values_list("name", "parent__name"))
    assert (names["Home"], names["Late"]) == (None, "Getting across")
    sheet = "Code,Beneath\nHome,Late\nLate,Getting across\nGetting across,\n"
    said = sent(world, "codes.csv", sheet).data
    assert [(one["name"], one["what"], one["before"], one["after"]) for one in said["changed"]] == [
        ("Home", "beneath", "the top of the codebook", "Late"),
    ]  # fmt: skip
    assert (said["same"], state(world)) == (2, before)
    sent(world, "codes.csv", sheet, revision=said["revision"], method="put")
    assert Code.objects.get(name="Home").parent.name == "Late"
    assert trail.last_done(world.owner).summary == "Brought in a codebook: 0 new, 1 changed"
    # Turned upside down in one go.
    turned = "Code,Beneath\nHome,\nLate,Home\nGetting across,Late\n"
    said = sent(world, "codes.csv", turned).data
    assert {(one["name"], one["after"]) for one in said["changed"]} == {
        ("Home", "the top of the codebook"), ("Late", "Home"), ("Getting across", "Late"),
    }  # fmt: skip
    sent(world, "codes.csv", turned, revision=said["revision"], method="put")
    assert dict(Code.objects.values_list("name", "parent__name")) == {
        "Home": None, "Late": "Home", "Getting across": "Late",
    }  # fmt: skip
    # What goes out is written branch by branch.
    out = codebook_files.FORMATS["csv"][0](world.owner).decode("utf-8-sig")
    for _ in range(2):
        trail.undo(world.owner)
    assert state(world) == before
    lines = [line.split(",")[0].strip('"') for line in out.splitlines()[1:]]
    assert lines == ["Home", "Late", "Getting across"]


def test_replacing_takes_away_what_the_file_does_not_have_and_comes_back_whole(world):
    before = state(world)
    flat = "Code,Beneath\nLate,\nGetting across,Late\nHome,\nHome,Late\n"
    said = sent(world, "codes.csv", flat, "replace").data
    assert (said["gone"], [one["beneath"] for one in said["new"]]) == ([], ["Late"])
    sent(world, "codes.csv", flat, "replace", said["revision"], "put")
    names = list(Code.objects.order_by("parent__name", "position").values_list("name", "parent__name"))
    assert names == [("Getting across", "Late"), ("Home", "Late"), ("Late", None), ("Home", None)]
    trail.undo(world.owner)
    assert state(world) == before
    said = sent(world, "boats.qdc", QDC, "replace").data
    assert {one["name"]: one["passages"] for one in said["gone"]} == {"Getting across": 0, "Late": 1, "Home": 2}
    sent(world, "boats.qdc", QDC, "replace", said["revision"], "put")
    boats = Code.objects.get(name="Boats")
    assert (boats.definition, boats.covers, boats.colour) == ("Any boat", "ferries too", 3)
    assert [code.name for code in boats.children.all()] == ["Engines"]
    assert [row.code.name for row in Theme.objects.get(name="Machines").placings.all()] == ["Engines"]
    assert Coding.objects.count() == 0
    trail.undo(world.owner)
    assert state(world) == before


@pytest.mark.parametrize("ending", ["csv", "xlsx", "qdc"])
def test_what_goes_out_comes_in_unchanged(world, ending):
    late, home = Code.objects.get(name="Late"), Code.objects.get(name="Home")
    coding.change_code(
        world.owner,
        late.pk,
        definition="=1+1\n\nand more",
        covers="A",
        excludes="B",
        example="“C: d”",
        kind="interpreting",
    )
    coding.change_code(world.owner, home.pk, definition="Kind: to whom? (a definition that only begins so)")
    coding.create_theme(world.owner, "Tied", "They wait.", code_ids=[late.pk, home.pk])
    before = state(world)
    data = codebook_files.FORMATS[ending][0](world.owner)
    for how in ("merge", "replace"):
        said = sent(world, f"out.{ending}", data, how).data
        assert (said["new"], said["changed"], said["gone"], said["same"]) == ([], [], [], 3)
        sent(world, f"out.{ending}", data, how, said["revision"], "put")
        assert state(world) == before


def test_a_sheet_says_what_describes_and_what_interprets_and_other_words_are_told(world):
    sheet = b"Code,Kind\nLate,Interpreting\nHome,vague\nFresh,describing\n"
    said = sent(world, "kinds.csv", sheet).data
    assert [(one["name"], one["what"], one["after"]) for one in said["changed"]] == [
        ("Late", "describing or interpreting", "interpreting")
    ]
    assert said["warnings"] == ["“Home”: “vague” is neither describing nor interpreting; it is left out."]
    sent(world, "kinds.csv", sheet, revision=said["revision"], method="put")
    assert dict(Code.objects.values_list("name", "kind")) == {
        "Getting across": "", "Late": "interpreting", "Home": "", "Fresh": "describing",
    }  # fmt: skip


def test_a_preview_grown_old_is_refused(world):
    revision = sent(world, "codes.csv", SHEET).data["revision"]
    coding.create_code(world.coder, "Meanwhile")
    answer = sent(world, "codes.csv", SHEET, revision=revision, method="put")
    assert answer.status_code == 409
    assert not Code.objects.filter(name="Cold").exists()


@pytest.mark.parametrize(
    ("name", "data", "sentence"),
    [
        ("empty.csv", "", "empty"),
        ("people.csv", "ID,Age\nP1,3\n", "column called “Code”"),
        ("codes.csv", "Code\n\n", "single row|No code"),
        ("notes.docx", "x", "comes as .xlsx"),
        ("bad.qdc", "<CodeBook><Codes>", "isn’t a codebook"),
        ("other.qdc", "<Project/>", "doesn’t begin"),
        ("entity.qdc", '<!DOCTYPE x [<!ENTITY e SYSTEM "file:///etc/passwd">]><CodeBook>&e;</CodeBook>', "document type"),
        ("deep.qdc", "<CodeBook><Codes>" + "<Code name='a'>" * 400 + "</Code>" * 400 + "</Codes></CodeBook>", "isn’t a codebook"),
        ("late.csv", "Code,Beneath\nA,B\nB,A\n", ""),
    ],
)  # fmt: skip
def test_odd_files(world, name, data, sentence):
    answer = sent(world, name, data)
    if sentence:
        assert answer.status_code == 400
        assert any(part in answer.data["error"] for part in sentence.split("|")), answer.data
    else:
        assert any("beneath itself" in line for line in answer.data["warnings"])
        assert [one["beneath"] for one in answer.data["new"]].count("") == 1


def test_a_codebook_is_read_in_a_process_of_its_own(world, monkeypatch):
    monkeypatch.setattr(codebook_files, "read_files", sandbox.read_files)
    data = io.BytesIO(codebook_files.as_xlsx(world.owner)).getvalue()
    assert sent(world, "codes.xlsx", data).data["same"] == 3
    revision = Project.objects.get(pk=world.project.pk).revision
    viewer = world.client(world.viewer.account)
    body = {"file": SimpleUploadedFile("codes.xlsx", data), "how": "merge", "revision": revision}
    assert viewer.put(world.url("/codebook/file"), body, format="multipart").status_code == 403


def test_colours_leave_as_they_are_on_screen_by_day():
    """The file of the web's colours is the one list of them."""
    written = (Path(__file__).resolve().parents[2] / "web/src/ui/tokens.css").read_text(encoding="utf-8")
    shown = re.findall(r"--color-code-\d+: light-dark\((#\w{6}),", written)
    assert [hue.lower() for hue in codebook_files.HUES] == shown
    assert len(shown) == 16
