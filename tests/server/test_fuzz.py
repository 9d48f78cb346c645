"""Any bytes give a result or a sentence: the readers fuzzed, in this process where they are written in Python, in the
sandbox's own where a library in C reads, which some bytes make fall over."""

import os
import signal
import tempfile
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from server.gather.readers import reader, sandbox

SAMPLES = Path(__file__).resolve().parents[1] / "samples"
HEADS = {
    "a.rtf": b"{\\rtf1\\ansi ", "a.vtt": b"WEBVTT\n\n00:00.000 --> 00:01.000\n", "a.srt": b"1\n00:00:00,000 --> 00:00:01,000\n",
    "a.csv": b"ID;Age\n", "a.tsv": b"ID\tAge\n", "a.txt": b"P1: ", "a.md": b"**P1:** ", "a.png": b"\x89PNG\r\n\x1a\n",
    "a.gif": b"GIF89a", "a.tif": b"II*\x00", "a.jpg": b"\xff\xd8\xff\xe0", "a.pdf": b"%PDF-1.7\n", "a.wav": b"RIFF",
    "a.ogg": b"OggS", "a.mp3": b"ID3", "a.webm": b"\x1aE\xdf\xa3", "a.xls": b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1",
}  # fmt: skip
WHOLE = (
    "pandoc.odt",
    "office.docx",
    "pandas.xlsx",
    "libreoffice.ods",
    "office.pdf",
    "office.rtf",
)
IN_C = ("pyreadstat.sav", "pyreadstat.dta")


def answer(name: str, data: bytes):
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "given"
        path.write_bytes(data)
        out = Path(folder) / "out"
        out.mkdir()
        return checked(reader.answer({"name": name, "path": str(path), "out": str(out)}))


def checked(found: dict):
    assert set(found) <= {"content", "media", "stored", "problem", "source"}
    assert found.get("content") or len(found["problem"]) > 15
    return found


@pytest.mark.parametrize("name", sorted(HEADS))
@settings(max_examples=40, suppress_health_check=[HealthCheck.too_slow])
@given(st.binary(max_size=400))
def test_any_bytes_after_a_true_beginning(name, data):
    answer(name, HEADS[name] + data)


@pytest.mark.parametrize("name", WHOLE)
@settings(max_examples=12, suppress_health_check=[HealthCheck.too_slow])
@given(st.integers(0, 10**6), st.binary(min_size=1, max_size=30))
def test_a_good_file_with_a_piece_overwritten(name, place, data):
    good = (SAMPLES / name).read_bytes()
    at = place % len(good)
    answer(name, good[:at] + data + good[at + len(data) :])


@pytest.mark.parametrize("name", IN_C)
@settings(max_examples=8, suppress_health_check=[HealthCheck.too_slow])
@given(st.lists(st.tuples(st.integers(0, 10**6), st.binary(min_size=1, max_size=30)), min_size=8, max_size=12))
def test_a_library_in_c_that_falls_over_takes_nothing_with_it(name, changes):
    """Bytes that make the library fall over come up by chance: whatever comes up, the good file after them is read."""
    good = (SAMPLES / name).read_bytes()
    head = [("a.sav", b"$FL2" + data) for _, data in changes]
    broken = [
        (name, good[:at] + data + good[at + len(data) :]) for place, data in changes for at in [place % len(good)]
    ]
    *found, last = sandbox.read_files([*head, *broken, (name, good)], lambda path: path.name)
    for one in found:
        checked(one)
    assert last["content"]


def test_a_process_that_dies_of_one_file_leaves_the_next_alone(monkeypatch):
    real = sandbox._start

    def dying(folder, seconds):
        child = real(folder, seconds)
        if not died:
            died.append(child)
            os.kill(child.pid, signal.SIGSTOP)
            os.kill(child.pid, signal.SIGKILL)
        return child

    died: list = []
    monkeypatch.setattr(sandbox, "_start", dying)
    first, second = sandbox.read_files([("a.txt", b"one"), ("b.txt", b"two")], lambda path: path.name)
    assert first["problem"] == reader.DIED
    assert second["content"]["lines"] == [["two", 0]]
    with pytest.raises(ProcessLookupError):
        os.kill(died[0].pid, 0)


@settings(max_examples=60)
@given(
    st.lists(
        st.sampled_from(
            ["00:00:01,000 --> 00:00:02,000", "P1: x", "", "<v A>", "9", "-->", "é🚢", "NOTE", "00:5 --> 1"]
        ),
        max_size=14,
    )
)
def test_lines_of_cues_in_any_order(lines):
    for name in ("a.vtt", "a.srt"):
        answer(name, "\n".join(lines).encode())


def test_a_file_of_unknown_encoding_in_a_statistics_package_is_read_or_said():
    data = (SAMPLES / "pyreadstat.sav").read_bytes()
    found = answer("a.sav", data.replace("Ærlig".encode(), b"\xc6rlig  "[: len("Ærlig".encode())]))
    assert "content" in found or "letters" in found["problem"]
