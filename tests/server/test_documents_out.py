"""Documents taken out whole: brought in again, they are what they were. Read by other programs' libraries too."""

import io
import zipfile
from pathlib import Path

import docx
import pytest
import webvtt
from django.conf import settings
from lxml import html

from server.coding.models import Code, Coding, Passage
from server.gather.models import Document, Section, Speaker, Turn
from server.projects.actions import change_project
from server.report import documents
from tests.server.conftest import bring_in, put

DEMO = Path(settings.ROOT) / "demo"
TALKS = sorted([*(DEMO / "transcripts").iterdir(), *(DEMO / "spring").iterdir()])


def told(document):
    """What a document is, but for its name: its words, who says them, its headings."""
    turns = Turn.objects.filter(document=document).select_related("speaker").order_by("number")
    said = [(turn.speaker.label, document.text[turn.ink_start : turn.ink_end]) for turn in turns]
    return said, list(Section.objects.filter(document=document, kind="heading").values_list("title", "level"))


def taken(world, document, ending):
    answer = world.client(world.owner.account).get(world.url(f"/documents/{document.pk}/file/{ending}"))
    assert answer.status_code == 200, answer.content
    return answer.content


@pytest.mark.parametrize("path", TALKS, ids=[path.name for path in TALKS])
def test_what_goes_out_comes_in_again_equal(world, path):
    bring_in(world.owner, (path.name, path.read_bytes()))
    document = Document.objects.get(source_name=path.name)
    before = told(document)
    for ending in ("docx", "html", "txt"):
        name, made = f"again {ending}.{ending}", taken(world, document, ending)
        if made.strip() == path.read_bytes().strip():
            # It is that file.
            continue
        # A file that is here already would be left out.
        bring_in(world.owner, (name, made + b"\n" if ending == "txt" else made))
        said, headings = told(Document.objects.get(source_name=name))
        # Plain text has no headings; the paragraph stays.
        assert (said, headings) == before if ending != "txt" or not before[1] else [w for _, w in said] != []


def test_codings_go_out_as_comments_and_come_in_again_on_their_words(world):
    pier = Document.objects.get(title="P1_pier")
    put(world.owner, pier, "late 🚢 again. I", Code.objects.get(name="Home"))
    found = docx.Document(io.BytesIO(taken(world, pier, "docx")))
    assert sorted((one.text, one.author) for one in found.comments) == [
        ("Home", "Owner"),
        ("Home", "Owner"),
        ("Late", "Owner"),
    ]
    job_files = ("again.docx", taken(world, pier, "docx"))
    from server.gather.models import StagedFile
    from server.imports import actions as imports
    from server.imports import jobs as importing
    from server.projects import running
    from server.projects.models import Job
    from tests.server.conftest import upload

    imports.stage(world.owner, [upload(*job_files)])
    StagedFile.objects.update(choices={"comments": "codes"})
    job = Job.objects.create(project=world.project, account=world.owner.account, title="test")
    running.run(job.pk, importing.bring_in)
    again = Document.objects.get(source_name="again.docx")
    assert again.text == pier.text

    def coded(document):
        rows = Coding.objects.filter(passage__document=document).select_related("passage", "code")
        return sorted((row.passage.start, row.passage.end, row.code.name) for row in rows)

    assert coded(again) == coded(pier)
    assert Passage.objects.filter(document=again).count() == 3


def test_a_page_that_stands_alone_marks_what_is_coded(world):
    pier = Document.objects.get(title="P1_pier")
    Document.objects.filter(pk=pier.pk).update(title="<script>alert(1)</script>")
    page = html.fromstring(taken(world, pier, "html"))
    assert page.xpath("//script") == []
    (late, home) = page.xpath("//mark")
    assert (late.text, late.get("title")) == ("The boat was late 🚢 again.", "Late (Owner)")
    assert home.text == "I walked home"


def test_a_timed_text_goes_out_with_its_times_and_voices(world):
    timed = (
        "WEBVTT\n\n00:01.000 --> 00:04.250\n<v Ana>How was it & when?\n\n00:09.000 --> 00:12.000\n<v Bo>Late <again>.\n"
    )
    bring_in(world.owner, ("talk.vtt", timed))
    document = Document.objects.get(source_name="talk.vtt")
    made = taken(world, document, "vtt").decode()
    cues = webvtt.from_string(made).captions
    assert [(cue.start, cue.end, cue.voice) for cue in cues] == [
        ("00:00:01.000", "00:00:04.250", "Ana"),
        ("00:00:09.000", "00:00:12.000", "Bo"),
    ]
    bring_in(world.owner, ("again.vtt", made))
    again = Document.objects.get(source_name="again.vtt")
    assert told(again) == told(document)
    times = [list(Turn.objects.filter(document=one).values_list("begin", "finish")) for one in (document, again)]
    assert times[0] == times[1]
    assert taken(world, document, "txt").decode().startswith("[00:00:01] Ana: How was it")
    pier = Document.objects.get(title="P1_pier")
    refused = world.client(world.owner.account).get(world.url(f"/documents/{pier.pk}/file/vtt"))
    assert (refused.status_code, "has a time" in refused.json()["error"]) == (400, True)


def test_all_of_them_at_once_each_by_its_name_and_what_has_no_words_is_named(world):
    for number, title in enumerate(["a/b:c", "A_b_c", "…"]):
        Document.objects.create(project=world.project, title=title, text=f"Word {number}", length=6, words=2)
        speaker = Speaker.objects.create(
            document=Document.objects.get(title=title), label="Whole document", role="other"
        )
        at = {"start": 0, "end": 6, "ink_start": 0, "ink_end": 6}
        Turn.objects.create(document=speaker.document, speaker=speaker, number=1, words=2, **at)
    Document.objects.create(project=world.project, title="Drawing", kind="image", text="", length=0, words=0)
    answer = world.client(world.viewer.account).get(world.url("/documents/files/txt"))
    held = zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content)))
    names = {name.casefold() for name in held.namelist()}
    assert names == {"a_b_c.txt", "a_b_c (2).txt", "p1_pier.txt", "p2_garden.txt", "not in here.txt", "_.txt"}
    assert {held.read(name) for name in held.namelist() if name.casefold().startswith("a_b_c")} == {
        b"Word 0\n",
        b"Word 1\n",
    }
    assert "Drawing" in held.read("not in here.txt").decode()
    pier = Document.objects.get(title="P1_pier")
    answer = world.client(world.viewer.account).get(world.url(f"/documents/files/docx?documents={pier.pk}"))
    assert zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content))).namelist() == ["P1_pier.docx"]


def test_who_may_and_what_is_refused_in_a_sentence(world):
    pier = Document.objects.get(title="P1_pier")
    client = world.client(world.viewer.account)
    assert client.get(world.url(f"/documents/{pier.pk}/file/pdf")).status_code == 404
    assert client.get(world.url("/documents/files/txt?documents=x")).status_code == 400
    assert client.get(world.url("/documents/files/txt?documents=99999999")).status_code == 404
    assert world.client(world.stranger).get(world.url(f"/documents/{pier.pk}/file/txt")).status_code == 404
    change_project(world.owner, hide_below=5)
    assert client.get(world.url(f"/documents/{pier.pk}/file/txt")).status_code == 403
    assert client.get(world.url("/documents/files/txt")).status_code == 403
    assert world.client(world.owner.account).get(world.url("/documents/files/txt")).status_code == 200


def test_a_turn_with_a_heading_in_it_and_several_paragraphs(world):
    text = "Part one\nINT: How?\nTwo lines.\n"
    bring_in(world.owner, ("plain.md", f"# Head\n\n{text}\nBO: Well.\n\nINT: And?\n\nBO: No."))
    document = Document.objects.get(source_name="plain.md")
    of = documents.leaving(document)
    assert [one.text for one in of.said if one.label] == ["How?\nTwo lines.", "Well.", "And?", "No."]
    assert documents.as_txt(of).decode().count("\n\n") == len(of.said) - 1
