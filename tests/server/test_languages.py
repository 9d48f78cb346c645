"""Whoever asks is answered in their language: by their account, or their browser; and so is what works or is kept for them."""

import ast
import io
import re
from datetime import date

import openpyxl
import pytest
from babel import Locale
from django.test import RequestFactory

from core.language import ENGLISH, say, speaking
from core.language.messages import Choice, Parts, Put, parts_of
from server.accounts import jobs
from server.accounts.models import StandInMail
from server.accounts.speaking import language_for
from server.coding.models import Code
from server.common import languages
from server.common.errors import Refusal
from server.gather.models import StagedFile
from server.gather.readers import reader
from server.imports import actions as imports
from server.imports import jobs as importing
from server.people.models import Variable
from server.projects import running
from server.projects.models import Account
from server.shell import words
from tests.server.conftest import TALK, World, upload

GERMAN = {"HTTP_ACCEPT_LANGUAGE": "fr;q=0.9, de-AT, en;q=0.5"}


@pytest.mark.parametrize("language", words.languages())
def test_a_catalogue_is_current_whole_and_says_the_same(language: str):
    assert (words.FOLDER / language / "server.po").read_bytes() == words.renewed(language), "run bin/words"
    catalogue = words.catalogue_of(language)
    for text, meaning in words.gathered():
        item = catalogue.get(text, meaning or None)
        assert item, text
        assert item.string, text
        assert values_of(parts_of(str(item.string))) == values_of(parts_of(text)), text
        ends = [(one[: len(one) - len(one.lstrip())], one[len(one.rstrip()) :]) for one in (text, str(item.string))]
        assert ends[0] == ends[1], text


def test_each_message_is_given_just_the_values_that_it_puts_in():
    looked_at = 0
    for file in words.files():
        for node in ast.walk(ast.parse((words.ROOT / file).read_text(encoding="utf-8"))):
            if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "say"):
                continue
            text = node.args[0]
            if isinstance(text, ast.Constant) and isinstance(text.value, str):
                looked_at += 1
                given = {one.arg for one in node.keywords} - {"meaning"}
                assert given == values_of(parts_of(text.value)), f"{file}:{node.lineno} {text.value}"
    assert looked_at > 700


CONSOLE = ("server/shell/archive.py", "server/shell/passphrase.py", "server/shell/restoring.py")
"""What whoever keeps the server reads where it runs, as they read what commands say: in English."""


def test_no_refusal_is_in_plain_words():
    refusals = {one.__name__ for one in _kinds_of(Refusal)} | {"ValidationError", "serializers.ValidationError"}
    plain, looked_at = [], 0
    for file in words.files():
        if str(file) in CONSOLE or "/commands/" in file:
            continue
        for node in ast.walk(ast.parse((words.ROOT / file).read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call) and ast.unparse(node.func) in refusals and node.args:
                looked_at += 1
                # One word is a name put into another sentence; what has blanks is a sentence itself.
                if isinstance(node.args[0], ast.Constant) and " " in str(node.args[0].value):
                    plain.append(f"{file}:{node.lineno} {node.args[0].value}")
                if isinstance(node.args[0], ast.JoinedStr) and any(
                    isinstance(part, ast.Constant) and re.search("[a-z]{2}", str(part.value))
                    for part in node.args[0].values
                ):
                    plain.append(f"{file}:{node.lineno} {ast.unparse(node.args[0])}")
    assert plain == []
    assert looked_at >= 250


def _kinds_of(kind: type[Exception]) -> set[type[Exception]]:
    return {kind}.union(*(_kinds_of(one) for one in kind.__subclasses__()))


def values_of(parts: Parts) -> set[str]:
    found: set[str] = set()
    for part in parts:
        if isinstance(part, Put):
            found.add(part.name)
        elif isinstance(part, Choice):
            found.add(part.name)
            for way in part.ways.values():
                found |= values_of(way)
    return found


def test_each_catalogue_has_the_plural_forms_and_signs_of_its_language():
    german = languages.catalogue_of("de")
    assert (german.decimal, german.thousands) == (",", ".")
    assert [german.plural(n) for n in (0, 1, 2, 1.5)] == [Locale("de").plural_form(n) for n in (0, 1, 2, 1.5)]
    assert languages.catalogue_of("tlh") is ENGLISH


@pytest.mark.parametrize(
    ("wanted", "spoken"),
    [
        ("", "en"),
        ("de", "de"),
        ("de-CH, en;q=0.9", "de"),
        ("en;q=0.5, de;q=0.8", "de"),
        ("fr, it", "en"),
        ("de;q=0", "en"),
        ("de;q=much, *", "en"),
        (",;=,de" * 900, "en"),
    ],
)
def test_what_a_browser_wants_is_spoken_where_it_can_be(wanted: str, spoken: str):
    request = RequestFactory().get("/", headers={"accept-language": wanted})
    assert language_for(None, request) == spoken


def test_refusals_and_answers_are_in_the_language_of_whoever_asks(world: World):
    client = world.client(world.owner.account)
    address = f"/api/projects/{world.project.pk}"
    assert client.get("/api/projects/999999/status").json()["error"] == "There is no such project among yours."
    answer = client.get("/api/projects/999999/status", **GERMAN)
    assert answer.json()["error"] == "Unter Ihren Projekten gibt es kein solches."
    assert answer["Content-Language"] == "de"
    assert "Accept-Language" in answer["Vary"]
    # What was answered in one language isn't taken for the other.
    english = client.get(f"{address}/roster")
    german = client.get(f"{address}/roster", HTTP_IF_NONE_MATCH=english["ETag"], **GERMAN)
    assert (english.status_code, german.status_code) == (200, 200)
    assert client.get(f"{address}/roster", HTTP_IF_NONE_MATCH=german["ETag"], **GERMAN).status_code == 304


def test_a_comparison_is_told_in_each_language(world: World, crosses: Variable):
    client = world.client(world.owner.account)
    address = f"/api/projects/{world.project.pk}/compare"
    codes = Code.objects.filter(project=world.project).values_list("pk", flat=True)
    asked = {"codes": list(codes), "variable": crosses.pk}
    told = [client.post(address, asked, format="json", **said).json() for said in ({}, GERMAN, {})]
    sentences = ["".join(part["text"] for part in one["sentence"]) for one in told]
    assert sentences[0] == sentences[2]
    assert sentences[0].startswith("Compare ")
    assert sentences[1].startswith("Vergleiche ")
    assert told[0]["left_out_line"].startswith("Adds up: ")
    assert told[1]["left_out_line"].startswith("Geht auf: ")
    figures = [[cell["figure"] for row in one["rows"] for cell in row["cells"]] for one in told]
    assert figures[0] == figures[1]


def test_a_table_leaves_in_each_language_with_its_numbers_written_alike(world: World, crosses: Variable):
    """How a number is written is the column's, whatever its head is called."""
    client = world.client(world.owner.account)
    codes = Code.objects.filter(project=world.project).values_list("pk", flat=True)
    asked = {"codes": list(codes), "variable": crosses.pk, "format": "xlsx", "what": "table"}
    books = [
        openpyxl.load_workbook(
            io.BytesIO(client.post(world.url("/compare/export"), asked, format="json", **said).content)
        )
        for said in ({}, GERMAN)
    ]
    assert [book.sheetnames for book in books] == [
        ["Comparison", "Tests", "Methods"],
        ["Vergleich", "Tests", "Methoden"],
    ]
    for sheet, looks in ((0, {"0%", "0.##"}), (1, {"0%", "0.##"})):
        english, german = (
            [[(cell.number_format, cell.value) for cell in row if isinstance(cell.value, float | int)] for row in rows]
            for rows in (book.worksheets[sheet].iter_rows() for book in books)
        )
        assert english == german
        assert {look for row in english for look, _ in row} == looks


def test_a_link_is_sent_in_the_words_of_whose_account_it_is(world: World, settings, monkeypatch):
    monkeypatch.setattr(jobs.send_mail, "defer", lambda **asked: jobs.send_mail(**asked))
    settings.MAIL, settings.EMAIL_BACKEND = "stand-in", "server.accounts.mail.StandIn"
    Account.objects.filter(pk=world.owner.account_id).update(email="o@example.org", language="de")
    sent = world.client(None).post("/api/password/forgotten", {"name": "o@example.org"}, format="json")
    assert sent.status_code == 204, sent.content
    sent = StandInMail.objects.get()
    assert sent.subject == "Ein neues Passwort für Cohortia"
    assert sent.text.startswith("Jemand, höchstwahrscheinlich Sie")


def test_days_are_written_as_the_language_has_them():
    with speaking(languages.catalogue_of("de")):
        assert languages.day(date(2026, 3, 31)) == "31. März 2026"
    assert languages.day(date(2026, 3, 31)) == "31 March 2026"


def test_the_account_has_the_last_word(world: World):
    client = world.client(world.owner.account)
    session = client.get("/api/session").json()
    assert (session["language"], session["language_chosen"], session["languages"]) == ("en", "", ["en", "de"])
    assert client.put("/api/account/language", {"language": "de"}, format="json").status_code == 204
    assert client.get("/api/session", HTTP_ACCEPT_LANGUAGE="en").json()["language"] == "de"
    assert client.get("/api/projects/999999/status", HTTP_ACCEPT_LANGUAGE="en").json()["error"].startswith("Unter")
    refused = client.put("/api/account/language", {"language": "tlh"}, format="json")
    assert (refused.status_code, refused.json()["error"]) == (400, "Diese Sprache wird hier nicht gesprochen.")
    assert client.put("/api/account/language", {"language": ""}, format="json").status_code == 204
    assert Account.objects.get(pk=world.owner.account_id).language == ""
    assert world.client(None).put("/api/account/language", {"language": "de"}, format="json").status_code == 403


def test_work_that_goes_on_alone_speaks_as_whoever_asked_for_it(world: World):
    imports.stage(world.owner, [upload("P1.txt", TALK)])
    with speaking(languages.catalogue_of("de")):
        job = running.begin(world.owner, "test", 1)
    running.run(job.pk, importing.bring_in)
    job.refresh_from_db()
    assert job.message == "1 Dokument eingebracht." or job.message.endswith("eingebracht."), job.message


def test_files_are_read_in_the_language_of_whoever_brings_them(world: World):
    with speaking(languages.catalogue_of("de")):
        imports.stage(world.owner, [upload("empty.txt", b""), upload("odd.xlsx", b"nothing of a workbook")])
    said = StagedFile.objects.filter(project=world.project).order_by("pk").values_list("problem", flat=True)
    assert list(said) == [
        "Die Datei ist leer.",
        "Der Name endet auf .xlsx, aber der Inhalt ist einfacher Text. Geben Sie ihr die richtige Endung, oder speichern Sie sie noch einmal als .xlsx.",
    ]
    assert reader.DIED.startswith("The file")


def test_django_says_its_own_in_it_too(world: World):
    client = world.client(world.owner.account)
    answer = client.put("/api/password", {"current": "wrong", "new": "x"}, format="json", **GERMAN)
    assert answer.json()["error"] == "Das bisherige Passwort stimmt nicht."


def test_no_message_is_made_of_what_somebody_wrote():
    with speaking(languages.catalogue_of("de")):
        assert say("Give the code a name.") == "Geben Sie dem Code einen Namen."
        assert say("Made the code {name}", name="{name} # {n, plural}") == "Den Code {name} # {n, plural} angelegt"
