"""Listening to recordings: where somebody speaks, how loud it is, what is damaged; a light copy where one is needed."""

import json

import av
import numpy as np
import pytest

from core.gather.stretches import FRAME
from server.gather import media, sound
from server.gather.models import Document, Turn
from server.gather.readers import sound as hearing
from server.gather.readers.kinds import Unreadable
from server.gather.readers.recordings import read_recording
from tests.server.conftest import bring_in
from tests.sounds import RATE, encoded, spoken, wav

TIMES = [(1.0, 4.0), (6.0, 9.5), (12.0, 14.0)]


def hear(tmp_path, name, data):
    path, out = tmp_path / name, tmp_path / "out"
    path.write_bytes(data)
    out.mkdir(exist_ok=True)
    return hearing.hear(name, path, out, lambda far: None)


@pytest.mark.parametrize(
    ("name", "data"),
    [
        ("talk.wav", lambda made: wav(made)),
        ("talk.mp3", lambda made: encoded("mp3", "libmp3lame", made, 44_100)),
        ("talk.ogg", lambda made: encoded("ogg", "libopus", made)),
        ("talk.m4a", lambda made: encoded("mp4", "aac", made, 44_100)),
        ("talk.flac", lambda made: encoded("flac", "flac", made)),
        ("talk.mov", lambda made: encoded("mov", "aac", made, 44_100)),
    ],
)
def test_who_speaks_when_is_found_in_every_format(tmp_path, name, data):
    found = hear(tmp_path, name, data(spoken(16, *TIMES)))
    assert len(found["stretches"]) == len(TIMES)
    for (begin, finish, _), (right, rightly) in zip(found["stretches"], TIMES, strict=True):
        assert begin == pytest.approx(right, abs=0.35)
        assert finish == pytest.approx(rightly, abs=0.5)
    peaks = np.frombuffer((tmp_path / "out" / "peaks").read_bytes(), np.uint8)
    assert len(peaks) == pytest.approx(16 * hearing.PEAKS, abs=8)
    assert peaks[:40].max() < 10 < peaks[60:180].max()
    assert found["odd"] == []


def test_two_halves_read_at_once_are_what_the_whole_is(tmp_path, monkeypatch):
    made = encoded("mp3", "libmp3lame", spoken(16, *TIMES), 44_100)
    whole = hear(tmp_path, "talk.mp3", made)
    before = np.frombuffer((tmp_path / "out" / "peaks").read_bytes(), np.uint8)
    monkeypatch.setattr(hearing, "_IN_TWO", 5)
    halves = hear(tmp_path, "talk.mp3", made)
    after = np.frombuffer((tmp_path / "out" / "peaks").read_bytes(), np.uint8)
    assert np.array(halves["stretches"]) == pytest.approx(np.array(whole["stretches"]), abs=FRAME * 3)
    # What an encoder puts before the beginning is counted once or twice: some hundredths.
    assert len(after) == pytest.approx(len(before), abs=3)
    least = min(len(before), len(after))
    assert np.corrcoef(before[:least], after[:least])[0, 1] > 0.9


def test_a_channel_a_speaker(tmp_path):
    made = wav(spoken(16, (1.0, 4.0), (9.0, 12.0)), spoken(16, (5.0, 8.0), (13.0, 15.5)))
    found = hear(tmp_path, "call.wav", made)["stretches"]
    assert [channel for _, _, channel in found] == [0, 1, 0, 1]


def test_silence_music_and_nothing_are_said(tmp_path):
    found = hear(tmp_path, "silent.wav", wav(spoken(5)))
    assert found["stretches"] == []
    assert found["odd"] == [("silent", 5.0)]
    tone = (np.sin(np.arange(RATE * 5) * 440 * 2 * np.pi / RATE) * 9000).astype(np.int16)
    found = hear(tmp_path, "tone.wav", wav(tone))
    assert len(found["stretches"]) <= 1
    (tmp_path / "none.wav").write_bytes(wav(np.zeros(0, np.int16)))
    with pytest.raises(Unreadable, match="no length"):
        read_recording("none.wav", tmp_path / "none.wav", tmp_path)


def test_what_is_damaged_in_the_middle_is_said_and_the_rest_keeps_its_times(tmp_path):
    made = bytearray(encoded("mp3", "libmp3lame", spoken(16, *TIMES), 44_100))
    middle = len(made) // 2
    made[middle : middle + 3000] = bytes(3000)
    found = hear(tmp_path, "talk.mp3", bytes(made))
    assert found["stretches"][0][0] == pytest.approx(1.0, abs=0.35)
    assert found["stretches"][-1][1] == pytest.approx(14.0, abs=1.2)
    with pytest.raises(Unreadable, match="damaged"):
        hear(tmp_path, "talk.flac", b"fLaC" + bytes(500))


def test_what_browsers_do_not_play_or_is_heavy_gets_a_light_copy(tmp_path, monkeypatch):
    made = spoken(16, *TIMES)
    assert hear(tmp_path, "talk.wav", wav(made))["light"] == ""
    monkeypatch.setattr(hearing, "LONG", 10)
    assert hear(tmp_path, "talk.wav", wav(made))["light"] == "audio/webm"
    with av.open(str(tmp_path / "out" / "light")) as light:
        assert light.streams.audio[0].codec_context.name in ("opus", "libopus")
        assert light.duration / av.time_base == pytest.approx(16, abs=0.2)
    assert (tmp_path / "out" / "light").stat().st_size < len(wav(made)) / 4
    assert hear(tmp_path, "talk.m4a", encoded("mp4", "alac", made, 44_100))["light"] == "audio/webm"
    film = tmp_path / "film.mov"
    with av.open(str(film), "w", format="mov") as held:
        stream = held.add_stream("mjpeg", rate=5)
        stream.width, stream.height, stream.pix_fmt = 64, 48, "yuvj420p"
        for number in range(10):
            frame = av.VideoFrame.from_ndarray(np.full((48, 64, 3), number * 20, np.uint8), "rgb24")
            frame.pts = number
            held.mux(stream.encode(frame))
        held.mux(stream.encode(None))
    found = hear(tmp_path, "film.mov", film.read_bytes())
    assert (found["light"], found["stretches"]) == ("video/mp4", [])
    assert found["odd"] == [["no sound", 0.0]]
    with av.open(str(tmp_path / "out" / "light")) as light:
        assert light.streams.video[0].codec_context.name == "h264"


@pytest.mark.django_db
class TestBroughtIn:
    def test_a_recording_without_text_has_empty_turns_where_somebody_speaks(self, world):
        bring_in(world.owner, ("Lift.wav", wav(spoken(16, *TIMES))))
        document = Document.objects.get(title="Lift")
        turns = list(Turn.objects.filter(document=document))
        assert [round(turn.begin) for turn in turns] == [1, 6, 12]
        assert document.text == "\n\n"
        assert document.words == 0
        out = world.client(world.viewer.account).get(world.url(f"/documents/{document.pk}/sound")).data
        assert out["ready"] is True
        assert len(out["stretches"]) == 3
        peaks = world.client(world.viewer.account).get(world.url(f"/documents/{document.pk}/sound/peaks"))
        assert len(b"".join(peaks.streaming_content)) == 16 * out["peaks"]
        assert world.client(world.stranger).get(world.url(f"/documents/{document.pk}/sound/peaks")).status_code == 404

    def test_what_was_heard_is_kept_goes_with_the_recording_and_is_heard_anew(self, world):
        bring_in(world.owner, ("Lift.wav", wav(spoken(16, *TIMES))))
        document = Document.objects.get(title="Lift")
        digest = document.media.get(role="recording").digest
        folder = media.sound_of(media.path_of(digest))
        (folder / "heard.json").write_text(json.dumps({"kept": 0}))
        client = world.client(world.owner.account)
        assert client.get(world.url(f"/documents/{document.pk}/sound")).data["ready"] is False
        assert sound.listen(digest, "audio/wav", lambda far: None).seconds == pytest.approx(16, abs=0.1)
        assert client.get(world.url(f"/documents/{document.pk}/sound")).data["ready"] is True
        document.delete()
        media.forget([digest])
        assert not folder.exists()

    def test_what_is_odd_is_said_to_each_in_their_language(self, world):
        bring_in(world.owner, ("Silent.wav", wav(spoken(5))))
        document = Document.objects.get(title="Silent")
        address, client = world.url(f"/documents/{document.pk}/sound"), world.client(world.viewer.account)
        assert client.get(address).data["warnings"] == ["The recording is silent: nothing is heard in its 0:05."]
        said = client.get(address, HTTP_ACCEPT_LANGUAGE="de").data["warnings"]
        assert said == ["Die Aufnahme ist still: In ihren 0:05 ist nichts zu hören."]
        (turn,) = Turn.objects.filter(document=document)
        assert (turn.begin, turn.finish) == (0.0, 5.0)

    def test_a_light_copy_is_played_in_place_of_the_heavy_one(self, world, monkeypatch):
        bring_in(world.owner, ("Lift.wav", wav(spoken(16, *TIMES))))
        document = Document.objects.get(title="Lift")
        digest = document.media.get(role="recording").digest
        folder = media.sound_of(media.path_of(digest))
        (folder / "light").write_bytes(b"light")
        kept = json.loads((folder / "heard.json").read_text())
        (folder / "heard.json").write_text(json.dumps({**kept, "light": "audio/webm"}))
        answer = world.client(world.viewer.account).get(world.url(f"/documents/{document.pk}/media/recording/1"))
        assert answer["Content-Type"] == "audio/webm"
        assert b"".join(answer.streaming_content) == b"light"
