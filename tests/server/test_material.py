"""Material of every kind, made by other programs (see tests/samples/README.md), and odd files of each."""

import io
import struct
import wave
import zlib
from pathlib import Path

import av
import docx
import numpy as np
import pytest
from PIL import Image

from server.coding.models import Coding, Passage
from server.gather import media
from server.gather.models import Document, DocumentKind, Medium, Section
from server.gather.readers.images import MAX_PIXELS
from server.gather.readers.kinds import Unreadable
from server.gather.readers.recordings import read_recording
from server.imports import actions as imports
from server.projects import trail
from server.projects.models import JobState
from server.report.models import Memo
from tests.server.conftest import bring_in, upload

SAMPLES = Path(__file__).resolve().parents[1] / "samples"
SPOKEN = [
    ("Interviewer", "How was the winter?"),
    ("Åse Ødegård", "Long. The boat was late — “four minutes”, they said. I waited 🚢 on the quay."),
    ("Interviewer", "And then?"),
    ("Åse Ødegård", "Then I walked home, with naïve hopes & wet shoes."),
]
VTT = "WEBVTT\n\n00:00.000 --> 00:02.000\n<v INT>So how is the bus?\n\n00:02.500 --> 00:06.000\n<v Olav>Late &amp; cold.\n"
SRT = "1\n00:00:00,000 --> 00:00:02,000\nINT: So how is the bus?\n\n2\n00:00:02,500 --> 00:00:06,000\nOlav: <i>Late</i> & cold.\n"


def picture(size=(60, 40), kind="PNG", **more) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, "#3a6").save(out, kind, **more)
    return out.getvalue()


def sound(seconds=2) -> bytes:
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(8000)
        file.writeframes(b"\0\0" * 8000 * seconds)
    return out.getvalue()


def one_staged(world, name, content):
    (row,) = imports.stage(world.owner, [upload(name, content)])
    return row


def shown(world):
    return {row["name"]: row for row in world.client(world.owner.account).get(world.url("/staged")).json()}


@pytest.mark.parametrize("name", sorted(path.name for path in SAMPLES.glob("*") if path.stem in ("pandoc", "office")))
def test_a_talk_reads_the_same_whatever_program_wrote_it(world, name):
    assert bring_in(world.owner, (name, (SAMPLES / name).read_bytes())).state == JobState.DONE
    document = Document.objects.get(source_name=name)
    turns = document.turns.select_related("speaker")
    said = [(t.speaker.label, " ".join(document.text[t.ink_start : t.ink_end].split())) for t in turns]
    if name != "office.pdf":
        assert said[-4:] == SPOKEN
        assert [section.title for section in document.sections.filter(kind="heading")] == ["Talk at the pier"]
    else:
        # A PDF has no headings, and its font no boat.
        assert [label for label, _ in said[-4:]] == [label for label, _ in SPOKEN]
        assert "four minutes" in document.text
        assert [(s.kind, s.level) for s in document.sections.all()] == [("page", 1)]


@pytest.mark.parametrize(("name", "content"), [("talk.vtt", VTT), ("talk.srt", SRT)])
def test_timed_text_keeps_its_times_and_speakers(world, name, content):
    bring_in(world.owner, (name, content))
    document = Document.objects.get(source_name=name)
    assert [(t.speaker.label, t.begin, t.finish) for t in document.turns.all()] == [("INT", 0, 2), ("Olav", 2.5, 6)]
    assert document.text == "So how is the bus?\nLate & cold."


def test_a_recording_and_its_text_become_one_document(world):
    imports.stage(world.owner, [upload("Talk.wav", sound(8)), upload("talk.vtt", VTT)])
    waiting = shown(world)
    assert waiting["Talk.wav"]["partner"] == waiting["talk.vtt"]["id"]
    assert waiting["talk.vtt"]["partner"] == waiting["Talk.wav"]["id"]
    assert waiting["Talk.wav"]["transcript"]["words"] == 7
    bring_in(world.owner)
    document = Document.objects.get(title="Talk")
    assert (document.kind, document.seconds) == (DocumentKind.RECORDING, 8)
    assert document.turns.count() == 2
    assert not Document.objects.filter(title="talk").exists()


def test_a_text_longer_than_its_recording_is_said(world):
    imports.stage(world.owner, [upload("talk.wav", sound(2)), upload("talk.vtt", VTT)])
    assert any("the recording ends at 0:02" in said for said in shown(world)["talk.wav"]["warnings"])


def test_a_recording_is_played_in_parts(world):
    bring_in(world.owner, ("hum.wav", sound(3)))
    document = Document.objects.get(title="hum")
    path = world.url(f"/documents/{document.pk}/media/recording/1")
    client = world.client(world.viewer.account)
    whole = b"".join(client.get(path).streaming_content)
    part = client.get(path, headers={"Range": "bytes=100-199"})
    assert (part.status_code, part["Content-Range"]) == (206, f"bytes 100-199/{len(whole)}")
    assert b"".join(part.streaming_content) == whole[100:200]
    assert b"".join(client.get(path, headers={"Range": "bytes=-50"}).streaming_content) == whole[-50:]
    assert client.get(path, headers={"Range": "bytes=999999-"}).status_code == 416


def test_a_picture_is_drawn_anew_without_place_and_device(world):
    exif = Image.Exif()
    exif[0x010F], exif[0x0110] = "Maker", "Model 3"
    exif.get_ifd(0x8825)[1] = "N"
    row = one_staged(world, "pier.jpg", picture(kind="JPEG", exif=exif))
    assert row.content["warnings"] == ["Taken off the picture: the device, the place."]
    bring_in(world.owner)
    kept = Medium.objects.get(document__title="pier", role="picture")
    with Image.open(media.path_of(kept.digest)) as image:
        assert image.size == (60, 40)
        assert not dict(image.getexif())
    answer = world.client(world.viewer.account).get(world.url(f"/documents/{kept.document_id}/media/picture/1"))
    assert answer["Content-Type"] == "image/webp"


def test_every_page_of_a_tif_is_a_picture(world):
    row = one_staged(
        world, "scan.tif", picture(kind="TIFF", save_all=True, append_images=[Image.new("RGB", (30, 30))] * 2)
    )
    assert [one["role"] for one in row.content["media"]] == ["picture", "picture", "picture", "thumbnail"]
    assert "3 pages." in row.content["warnings"]


def test_a_moving_gif_is_its_first_frame(world):
    frames = [Image.new("RGB", (20, 20), colour) for colour in ("#111", "#eee")]
    out = io.BytesIO()
    frames[0].save(out, "GIF", save_all=True, append_images=frames[1:])
    row = one_staged(world, "wave.gif", out.getvalue())
    assert any("first frame is kept" in said for said in row.content["warnings"])


def test_a_pdf_shows_its_pages(world):
    bring_in(world.owner, ("talk.pdf", (SAMPLES / "office.pdf").read_bytes()))
    document = Document.objects.get(title="talk")
    client = world.client(world.viewer.account)
    assert client.get(world.url(f"/documents/{document.pk}")).json()["pages"] == 1
    page = client.get(world.url(f"/documents/{document.pk}/pages/1"))
    with Image.open(io.BytesIO(b"".join(page.streaming_content))) as drawn:
        assert drawn.size[0] == 1100
    assert client.get(world.url(f"/documents/{document.pk}/pages/2")).status_code == 404
    assert client.get(world.url(f"/documents/{document.pk}/media/pages/1")).status_code == 404


def test_a_scanned_pdf_is_said_to_be_one(world):
    out = io.BytesIO()
    Image.new("RGB", (300, 400), "#fff").save(out, "PDF")
    row = one_staged(world, "scan.pdf", out.getvalue())
    assert any("its pages are pictures (a scan)" in said for said in row.content["warnings"])
    bring_in(world.owner)
    assert Document.objects.get(title="scan").words == 0


def commented() -> bytes:
    document = docx.Document()
    document.add_heading("At the quay", 1)
    for label, said, comment in (("Int: ", "How was it?", ""), ("P1: ", "The boat left without me.", "Missed boats"), ("Int: ", "And?", ""), ("P1: ", "I walked.", "She says this quietly, looking at the window, and then not again for a while; ask about it.")):  # fmt: skip
        paragraph = document.add_paragraph()
        paragraph.add_run(label).bold = True
        run = paragraph.add_run(said)
        if comment:
            document.add_comment(run, text=comment, author="Kim", initials="K")
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def test_comments_become_memos_on_their_words(world):
    bring_in(world.owner, ("quay.docx", commented()))
    memos = Memo.objects.filter(project=world.project).select_related("passage__document")
    assert [(m.source, m.passage.document.text[m.passage.start : m.passage.end], m.text[:12]) for m in memos] == [
        ("Kim", "The boat left without me.", "Missed boats"),
        ("Kim", "I walked.", "She says thi"),
    ]
    client = world.client(world.coder.account)
    assert client.delete(world.url(f"/memos/{memos[0].pk}")).status_code == 400, "only its author or an owner"
    client = world.client(world.owner.account)
    assert client.delete(world.url(f"/memos/{memos[0].pk}")).status_code == 204
    assert Passage.objects.filter(document__title="quay").count() == 1


def test_short_comments_become_codes_where_wanted(world):
    row = one_staged(world, "quay.docx", commented())
    imports.correct_staged(world.owner, row.pk, None, {"comments": "codes"})
    bring_in(world.owner)
    (coding,) = Coding.objects.filter(passage__document__title="quay")
    assert coding.code.name == "Missed boats"
    assert Memo.objects.filter(passage__document__title="quay").count() == 1
    trail.undo(world.owner)
    assert not Document.objects.filter(title="quay").exists()


def test_sections_go_and_come_with_the_import(world):
    bring_in(world.owner, ("quay.docx", commented()))
    assert Section.objects.filter(document__title="quay").count() == 1
    trail.undo(world.owner)
    assert not Section.objects.filter(title="At the quay").exists()
    trail.redo(world.owner)
    assert Section.objects.filter(title="At the quay").count() == 1


def huge_png() -> bytes:
    """A picture that says it has 30,000 × 30,000 points and holds none of them."""
    data = bytearray(picture())
    data[16:24] = struct.pack(">II", 30_000, 30_000)
    data[29:33] = struct.pack(">I", zlib.crc32(bytes(data[12:29])))
    return bytes(data)


ODD = {
    "huge.png": (huge_png(), f"up to {MAX_PIXELS // 1_000_000} million"),
    "cut.png": (picture((900, 900))[:200], "damaged or cut off"),
    "text.png": (b"not a picture", "the content is plain text"),
    "cut.pdf": ((SAMPLES / "office.pdf").read_bytes()[:900], "damaged or cut off"),
    "empty.vtt": (b"WEBVTT\n\n", "No cue with a time"),
    "noise.srt": (b"\x00\x01\x02" * 300, "isn’t text"),
    "no-cues.srt": (b"hello there", "No cue with a time"),
    "cut.wav": (b"RIFF\x00\x00", "no recording of that kind"),
    "text.mp3": (b"la la la la", "no recording of that kind"),
    "text.ogg": (b"la la", "the content is plain text"),
    "cut.odt": ((SAMPLES / "pandoc.odt").read_bytes()[:2000], "damaged or cut off"),
    "broken.rtf": (b"{\\rtf1 {{{{", "holds no text"),
    "zip.ods": ((SAMPLES / "pandoc.odt").read_bytes(), "no sheet can be read"),
    "cut.sav": ((SAMPLES / "pyreadstat.sav").read_bytes()[:300], "isn’t a file of SPSS"),
    "text.dta": (b"hello", "isn’t a file of Stata"),
    "noise.sas7bdat": (b"\x00\x01" * 900, "isn’t a file of SAS"),
    "noise.xls": (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + b"\x07" * 2000, "damaged"),
}  # fmt: skip


@pytest.mark.parametrize("name", ODD)
def test_an_odd_file_gets_a_clear_sentence(world, name):
    content, sentence = ODD[name]
    row = one_staged(world, name, content)
    assert sentence in row.problem, row.problem
    assert not row.included


def test_html_may_not_fetch_or_run_anything(world):
    page = b"<html><head><meta charset='latin-1'><script>alert(1)</script></head><body><p>P1: Caf\xe9</p><img src='http://example.test/x.png'><iframe src='file:///etc/passwd'></iframe><p>I: Oh</p><p>P1: Yes</p></body></html>"
    bring_in(world.owner, ("page.html", page))
    assert Document.objects.get(title="page").text == "Café\nOh\nYes"


CODECS = {"ogg": "libopus", "oga": "libopus", "mp3": "libmp3lame", "m4a": "aac", "mp4": "aac", "wav": "pcm_s16le", "webm": "libopus"}  # fmt: skip


def recorded(ending: str, seconds: int = 2, **tags: str) -> bytes:
    """A tone, as a recorder would write it down."""
    out = io.BytesIO()
    with av.open(out, "w", format={"oga": "ogg", "m4a": "ipod"}.get(ending, ending)) as made:
        made.metadata.update(tags)
        stream = made.add_stream(CODECS[ending], rate=48_000)
        for place in range(seconds * 50):
            tone = (np.sin(np.arange(960) / 20) * 8000).astype(np.int16)
            frame = av.AudioFrame.from_ndarray(tone[None, :], format="s16", layout="mono")
            frame.sample_rate, frame.pts = 48_000, place * 960
            made.mux(stream.encode(frame))
        made.mux(stream.encode(None))
    return out.getvalue()


@pytest.mark.parametrize("ending", CODECS)
def test_a_recordings_tags_are_taken_off_and_its_sound_stays(ending, tmp_path):
    (tmp_path / "talk").write_bytes(recorded(ending, title="With Anna Quill", artist="Maren"))
    copy, _, seconds, said = read_recording(f"talk.{ending}", tmp_path / "talk", tmp_path)
    assert b"Anna Quill" in (tmp_path / "talk").read_bytes()
    assert b"Anna Quill" not in copy.read_bytes()
    assert b"Maren" not in copy.read_bytes()
    assert seconds == pytest.approx(2, abs=0.1)
    assert "its tags" in said[0]
    sounds = []
    for path in (tmp_path / "talk", copy):
        with av.open(str(path)) as held:
            sounds.append(np.concatenate([frame.to_ndarray()[0].ravel() for frame in held.decode(audio=0)]))
    assert np.array_equal(*sounds)


def test_a_recording_without_tags_stays_as_it_is(tmp_path):
    (tmp_path / "talk").write_bytes(recorded("webm"))
    copy, kind, _, said = read_recording("talk.webm", tmp_path / "talk", tmp_path)
    assert copy.read_bytes() == (tmp_path / "talk").read_bytes()
    assert (kind, said) == ("video/webm", [])


@pytest.mark.parametrize("ending", CODECS)
def test_a_list_of_other_files_is_no_recording(ending, tmp_path):
    """Libraries that play recordings open what such a list names."""
    (tmp_path / "talk").write_bytes(b"#EXTM3U\n#EXT-X-TARGETDURATION:9\n#EXTINF:9,\nfile:///etc/passwd\n")
    with pytest.raises(Unreadable, match="no recording of that kind"):
        read_recording(f"talk.{ending}", tmp_path / "talk", tmp_path)


def test_the_same_bytes_are_kept_once(tmp_path, settings):
    digests = []
    for name in ("a", "b"):
        (tmp_path / name).write_bytes(b"the same")
        digests.append(media.keep(tmp_path / name))
    assert digests[0] == digests[1]
    assert media.path_of(digests[0]).read_bytes() == b"the same"
    with pytest.raises(ValueError, match="digest"):
        media.path_of("../../etc/passwd")


def test_speakers_of_a_batch_are_corrected_once_for_all(world):
    files = [
        upload(f"t{i}.txt", f"{label}: Hm?\nAnna {i}: Yes.\n{label}: Oh?\nAnna {i}: No.")
        for i, label in enumerate(("Int.", "INT", "Vera Interviews"))
    ]
    imports.stage(world.owner, files)
    client = world.client(world.owner.account)
    changes = {label: {"name": "Interviewer", "role": "interviewer"} for label in ("Int.", "INT", "Vera Interviews")}
    assert client.post(world.url("/staged/speakers"), {"changes": changes}, format="json").json() == {"count": 3}
    for row in shown(world).values():
        roles = {speaker["label"]: speaker["role"] for speaker in row["transcript"]["speakers"]}
        assert roles.pop("Interviewer") == "interviewer"
        assert list(roles.values()) == ["participant"]
