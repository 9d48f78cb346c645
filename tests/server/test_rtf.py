"""The .rtf reader against the specification's own rules (Rich Text Format Specification 1.9.1)."""

import pytest

from server.gather.readers.kinds import Unreadable
from server.gather.readers.rtf import rtf_lines


def lines(body: str, head: str = r"\ansi\ansicpg1252\uc1") -> list[str]:
    return [line.text for line in rtf_lines(("{\\rtf1" + head + " " + body + "}").encode("ascii"))[0]]


def test_paragraphs_line_breaks_and_tabs():
    assert lines(r"One\par Two\line three\tab four\par") == ["One", "Two", "three\tfour"]


@pytest.mark.parametrize(
    ("written", "read"),
    [
        (r"caf\'e9", "café"),
        (r"\u8220?so\u8221?", "“so”"),
        (r"\u-10179?\u-8570?", chr(0x1F686)),
        (r"{\uc2\u8212 ab}c", "—c"),
        (r"{\uc0\u233}t\'e9", "été"),
        (r"\lquote a\rquote\emdash b\bullet", "‘a’—b•"),
        (r"a\~b\_c\{d\}\\", "a b‑c{d}\\"),
    ],
)
def test_characters_however_they_are_written(written, read):
    assert lines(written) == [read]


def test_a_character_that_stands_in_is_skipped_once_and_letters_after_it_stay():
    # As a word processor writes them: the stand-in is a hexadecimal byte of the code page.
    assert lines(r"late \u8212\'97 \u8220\'93four minutes\u8221\'94, they said") == ["late — “four minutes”, they said"]


def test_other_code_pages():
    assert lines(r"\'cf\'f0\'e8", r"\ansi\ansicpg1251") == ["При"]
    assert lines("plain", r"\ansi\ansicpg99999") == ["plain"]


def test_bold_at_the_start_is_noted_and_ends_with_its_group():
    found, _ = rtf_lines(rb"{\rtf1{\b Anna:} Well {\b then}\par \b Bo\b0 : Yes\par}")
    assert [(line.text, line.bold) for line in found] == [("Anna: Well then", 5), ("Bo: Yes", 2)]


def test_headings_by_style_and_by_outline_level():
    body = rb"{\rtf1{\stylesheet{\s0 Normal;}{\s1\sbasedon0 heading 1;}{\s2 Heading 2;}}\pard\s1 Top\par\pard\s2 Below\par\pard\outlinelevel2 Third\par\pard text\par}"
    assert [(line.text, line.heading) for line in rtf_lines(body)[0]] == [
        ("Top", 1),
        ("Below", 2),
        ("Third", 3),
        ("text", 0),
    ]


@pytest.mark.parametrize(
    "hidden",
    [
        r"{\fonttbl{\f0 Secret Serif;}}",
        r"{\info{\author Somebody}{\title A secret}}",
        r"{\header Page of secrets\par}",
        r"{\*\generator Some Program 9;}",
        r"{\pict\pngblip 89504e47}",
        r"{\footnote secret}",
        r"{\field{\*\fldinst HYPERLINK secret}{\fldrslt shown}}",
    ],
)
def test_what_is_no_text_is_left_out(hidden):
    text = "".join(lines(f"{hidden}said"))
    assert "ecret" not in text
    assert "Somebody" not in text
    assert text.endswith("said")


def test_groups_nested_without_end_are_refused_and_unclosed_ones_read():
    with pytest.raises(Unreadable, match="nested far too deep"):
        rtf_lines(b"{\\rtf1" + b"{" * 5000 + b"x")
    assert [line.text for line in rtf_lines(b"{\\rtf1 {{{never closed")[0]] == ["never closed"]
