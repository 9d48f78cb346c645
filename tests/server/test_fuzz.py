"""Any bytes give a result or a sentence: the readers fuzzed, in this process (the sandbox bounds time and memory)."""

import tempfile
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from server.gather.readers import sandbox

SAMPLES = Path(__file__).resolve().parents[1] / "samples"
HEADS = {
    "a.rtf": b"{\\rtf1\\ansi ", "a.vtt": b"WEBVTT\n\n00:00.000 --> 00:01.000\n", "a.srt": b"1\n00:00:00,000 --> 00:00:01,000\n",
    "a.csv": b"ID;Age\n", "a.tsv": b"ID\tAge\n", "a.txt": b"P1: ", "a.md": b"**P1:** ", "a.png": b"\x89PNG\r\n\x1a\n",
    "a.gif": b"GIF89a", "a.tif": b"II*\x00", "a.jpg": b"\xff\xd8\xff\xe0", "a.pdf": b"%PDF-1.7\n", "a.wav": b"RIFF",
    "a.ogg": b"OggS", "a.mp3": b"ID3", "a.webm": b"\x1aE\xdf\xa3", "a.sav": b"$FL2", "a.xls": b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1",
}  # fmt: skip
WHOLE = (
    "pandoc.odt",
    "office.docx",
    "pandas.xlsx",
    "libreoffice.ods",
    "pyreadstat.sav",
    "pyreadstat.dta",
    "office.pdf",
    "office.rtf",
)


def answer(name: str, data: bytes):
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "given"
        path.write_bytes(data)
        out = Path(folder) / "out"
        out.mkdir()
        found = sandbox.answer({"name": name, "path": str(path), "out": str(out)})
    assert set(found) <= {"content", "media", "stored", "problem"}
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
