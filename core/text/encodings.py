"""Bytes to text: which encoding they are in, how sure that is, what else they could be, and where they don't fit.

Bytes without a mark that aren't UTF-8 say nothing of their encoding. Each that they fit is tried; what comes out is held
against the letters that languages are written with, the commonest characters of East Asian ones, and how words are built.
The letters of languages are from memory.
"""

import codecs
import re
from dataclasses import dataclass
from itertools import pairwise

from core.language import message, worded

MARKS = (
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF32_LE, "utf-32"),
    (codecs.BOM_UTF32_BE, "utf-32"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
_LANGUAGES = {
    "western": (
        "äöüß", "àâæçéèêëîïôœùûüÿ", "áéíñóúü", "áâãàçéêíóôõú", "àèéìíòóùú", "éèëïöü", "åäöé", "æøåéòôóâ", "áðéíóúýþæö", "àçèéíïòóúü",
    ),
    "central European": ("áčďéěíňóřšťúůýž", "áäčďéíĺľňóôŕšťúýž", "ąćęłńóśźż", "áéíóöőúüű", "ăâîşţșț", "čćđšž", "äöüßčšž"),
    "Cyrillic": ("абвгдежзийклмнопрстуфхцчшщъыьэюяё", "абвгдежзийклмнопрстуфхцчшщьюяєіїґ", "абвгдђежзијклљмнњопрстћуфхцчџш"),
    "Greek": ("αβγδεζηθικλμνξοπρστυφχψωςάέήίόύώϊϋΐΰ",),
    "Turkish": ("çğıöşüâîû",),
    "Hebrew": ("אבגדהוזחטיכךלמםנןסעפףצץקרשת",),
    "Arabic": ("ابتثجحخدذرزسشصضطظعغفقكلمنهويىةءآأؤإئًٌٍَُِّْ", "ابتثجحخدذرزسشصضطظعغفقکگلمنهویپچژآئ"),
    "Baltic": ("ąčęėįšųūž", "āčēģīķļņšūž", "äõöüšž"),
    "Vietnamese": ("ăâđêôơưàáảãạèéẻẽẹìíòóùúý\u0300\u0301\u0303\u0309\u0323",),
}  # fmt: skip
SINGLE = {
    "cp1252": "western", "cp1250": "central European", "iso8859-2": "central European", "cp1251": "Cyrillic", "koi8-r": "Cyrillic",
    "koi8-u": "Cyrillic", "cp866": "Cyrillic", "iso8859-5": "Cyrillic", "cp1253": "Greek", "cp1254": "Turkish", "cp1255": "Hebrew",
    "cp1256": "Arabic", "cp1257": "Baltic", "cp1258": "Vietnamese", "cp850": "western", "cp852": "central European", "mac-roman": "western",
}  # fmt: skip
DOUBLE = {"cp932": "Japanese", "euc-jp": "Japanese", "gb18030": "Chinese", "big5": "Chinese", "cp949": "Korean"}
NAMES = {**SINGLE, **DOUBLE}
"""Encodings that may be chosen, with what is written in them."""
_IN = {
    "western": message("western"),
    "central European": message("central European"),
    "Cyrillic": message("Cyrillic"),
    "Greek": message("Greek"),
    "Turkish": message("Turkish"),
    "Hebrew": message("Hebrew"),
    "Arabic": message("Arabic"),
    "Baltic": message("Baltic"),
    "Vietnamese": message("Vietnamese"),
    "Japanese": message("Japanese"),
    "Chinese": message("Chinese"),
    "Korean": message("Korean"),
}
_CALLED = {
    "cp932": "Shift-JIS",
    "iso8859-2": "ISO 8859-2",
    "iso8859-5": "ISO 8859-5",
    "mac-roman": "Mac Roman",
    "cp949": "EUC-KR",
}
_COMMON_CHINESE = set(
    "的一是不了在人有我他这个们中来上大为和国地到以说时要就出会可也你对生能而子那得于着下自之年过发后作里用道行所然家种事成方多"
    "经么去法学如都同现当没动面起看定天分还进好小部其些主样理心她本前开但因只从想实日军者意无力它与长把机十民第公此已工使情明性"
    "知全三又关点正业外将两高间由问很最重并物手应战向头文体政美相见被利什二等产或新己制身果加西斯月话合回特代内信表化老给世位"
    "這個們來為國說時會對發後裡經麼學現當沒動還進樣實從開問間頭長話見過點關業將兩機無與體應戰產給內愛車東門樂書寫聽讓誰怎今晚等船"
)
_FREQUENT = {
    "Cyrillic": set("оеаинтсрвлкіћј"), "Greek": set("αοιετσνηυρπκάίό"), "Hebrew": set("יוהלאמרתבשנ"), "Arabic": set("اليمنوتربةعد"),
}  # fmt: skip
"""The letters that make about two thirds of a text, where all letters are beyond ASCII."""
_USUAL = {"cp1252": 1.0, "cp850": 0.2, "cp852": 0.2, "cp866": 0.4, "mac-roman": 0.2, "iso8859-5": 0.4}
_FEW = 3
"""How usual an encoding is counts as so many characters would: it decides where there are few."""
_AROUND = re.compile(r"[\u2010-\u2026\u20ac«»°§ ¡¿·©®™†‡‰ºª´]")
_SAMPLE = 40_000
_SURE, _APART = 0.7, 0.12
BAD_SHARE = 0.1
"""Of UTF-8: bytes that don't fit, as a share of the characters beyond ASCII that do, up to which it is UTF-8 all the same."""


class NotText(ValueError):
    """The bytes aren't text in any encoding that makes sense."""


@dataclass(frozen=True)
class BadByte:
    """A byte that doesn't fit: where (line and column from 1), and what it is."""

    line: int
    column: int
    byte: int


@dataclass(frozen=True)
class Decoded:
    """``text``; the ``encoding`` it was read in, in ``words``; ``sure`` whether nothing else comes near; ``others`` that the bytes
    fit, likeliest first; ``bad`` how many bytes are marked in the text as unreadable, ``where`` the first of them are."""

    text: str
    encoding: str
    sure: bool
    others: tuple[str, ...] = ()
    bad: int = 0
    where: tuple[BadByte, ...] = ()

    @property
    def words(self) -> str:
        return in_words(self.encoding)


def in_words(encoding: str) -> str:
    """``cp1251 (Cyrillic)``"""
    shown = _CALLED.get(encoding, encoding)
    return f"{shown} ({worded(_IN[NAMES[encoding]])})" if encoding in NAMES else shown


def decode(data: bytes, encoding: str | None = None) -> Decoded:
    """Read bytes as text: by their mark, as UTF-8, else as what they most resemble; or as told. Raises ``NotText``."""
    if encoding is not None:
        return _as(data, encoding, True)
    for mark, marked in MARKS:
        if data.startswith(mark):
            return _as(data, marked, True)
    if b"\x00" in data[:4096]:
        for wide, odd in (("utf-16-le", 1), ("utf-16-be", 0)):
            if data[:4096][odd::2].count(0) > 0.6 * len(data[:4096]) / 2:
                return _as(data, wide, True)
        raise NotText
    plain = _as(data, "utf-8", True)
    if not plain.bad:
        return plain
    if sum(byte < 9 or 13 < byte < 32 for byte in data[:4096]) > len(data[:4096]) / 50:
        raise NotText
    ranked = _ranked(data)
    # A letter of two bytes or more that fits isn't there by chance.
    fitting = len(plain.text) - len(plain.text.encode("ascii", errors="ignore")) - plain.text.count(_UNREADABLE)
    if plain.bad <= BAD_SHARE * fitting:
        return _as(data, "utf-8", False, tuple(one for _, one in ranked))
    if not ranked:
        raise NotText
    (best, chosen), *rest = ranked
    sample = _sample(data)
    text = _whole_characters(sample, chosen)
    near = [score for score, one in rest if _whole_characters(sample, one) != text]
    sure = best >= _SURE and (not near or near[0] < best - _APART)
    return _as(data, chosen, sure, (*(one for _, one in rest), "utf-8"))


_UNREADABLE = "\ufffd"
_MOST_PLACES = 20


def _as(data: bytes, encoding: str, sure: bool, others: tuple[str, ...] = ()) -> Decoded:
    """The text in this encoding, with where it doesn't fit."""
    try:
        return Decoded(data.decode(encoding), encoding, sure, others)
    except UnicodeDecodeError:
        text = data.decode(encoding, errors="replace")
    # The mark may stand in the file itself.
    own = data.count(_UNREADABLE.encode(encoding, errors="ignore") or b"\x00\x00\x00\x00")
    bad = max(1, text.count(_UNREADABLE) - own)
    return Decoded(text, encoding, sure, others, bad, _places(data, encoding))


def _places(data: bytes, encoding: str) -> tuple[BadByte, ...]:
    """The first bytes that don't fit."""
    found: list[BadByte] = []
    at, line, start, seen = 0, 1, 0, 0
    while len(found) < _MOST_PLACES:
        try:
            data[at:].decode(encoding)
            break
        except UnicodeDecodeError as problem:
            place = at + problem.start
            at += max(problem.end, problem.start + 1)
        fresh = data.count(b"\n", seen, place)
        if fresh:
            line, start = line + fresh, data.rfind(b"\n", 0, place) + 1
        seen = place
        found.append(BadByte(line, len(data[start:place].decode(encoding, errors="replace")) + 1, data[place]))
    return tuple(found)


def _ranked(data: bytes) -> list[tuple[float, str]]:
    """Every encoding that the bytes fit, likeliest first; of equals the commoner one, which stands first in the table."""
    sample, scores = _sample(data), []
    for place, encoding in enumerate(NAMES):
        try:
            text = _whole_characters(sample, encoding)
        except UnicodeDecodeError:
            continue
        scores.append((-_likelihood(text, encoding), place, encoding))
    return [(-score, encoding) for score, _, encoding in sorted(scores)]


def _sample(data: bytes) -> bytes:
    """Lines that say something of the encoding."""
    found, size = [], 0
    for line in data.splitlines(keepends=True):
        if not line.isascii():
            found.append(line)
            size += len(line)
            if size > _SAMPLE:
                break
    return b"".join(found)[: 2 * _SAMPLE]


def _whole_characters(sample: bytes, encoding: str) -> str:
    """As text; a character that is cut off at the end is left out. Raises ``UnicodeDecodeError`` where it doesn't fit."""
    return codecs.getincrementaldecoder(encoding)().decode(sample, final=False)


def _likelihood(text: str, encoding: str) -> float:
    """How much a text looks like writing, up to 1: the mean over its characters beyond ASCII."""
    foreign = sum(one > "\x7f" for one in text)
    if not foreign:
        return 0.0
    told = _east_asian(text, NAMES[encoding]) if encoding in DOUBLE else _lettered(text, NAMES[encoding])
    usual = _USUAL.get(encoding, 0.6)
    return (told - _odd_words(text) + _FEW * usual) / (foreign + _FEW)


def _lettered(text: str, script: str) -> float:
    """In the language that fits best: its letters for, others against it."""
    lower = text.lower()
    counts: dict[str, int] = {}
    for one in (letter for letter in lower if letter > "\x7f"):
        counts[one] = counts.get(one, 0) + 1
    around: float = sum(count for one, count in counts.items() if _AROUND.match(one))
    around += 0.5 * (counts.get("’", 0) + counts.get("–", 0))
    controls = sum(count for one, count in counts.items() if one < "\xa0")
    best = max(
        sum(
            count if one in alphabet else 0 if _AROUND.match(one) else -count
            for one, count in counts.items()
            if one >= "\xa0"
        )
        for alphabet in _LANGUAGES[script]
    )
    letters = sum(counts.values()) - around - controls
    if script in _FREQUENT and letters:
        usual = sum(counts.get(one, 0) for one in _FREQUENT[script]) / letters
        return best * min(1.0, 0.5 + usual) + 0.6 * around - 3 * controls
    return best + 0.6 * around - 3 * controls


def _east_asian(text: str, language: str) -> float:
    kana = sum("\u3041" <= one <= "\u30ff" for one in text)
    hangul = sum("\uac00" <= one <= "\ud7a3" for one in text)
    han = [one for one in text if "\u4e00" <= one <= "\u9fff"]
    signs = sum("\u3000" <= one <= "\u3020" or "\uff01" <= one <= "\uff5e" for one in text)
    common = sum(one in _COMMON_CHINESE for one in han)
    if language == "Japanese":
        # Between kana any character may stand; without kana it isn't Japanese.
        return kana + signs + min(len(han), 2 * kana)
    if language == "Korean":
        return hangul + signs
    return signs + (len(han) if common >= 0.2 * len(han) else 0.4 * len(han)) - kana


def _odd_words(text: str) -> float:
    """Times that a word is built as none is: signs between letters, capitals after small letters, two scripts in one."""
    odd = 0.0
    for left, right in pairwise(text):
        if left <= "\x7f" and right <= "\x7f":
            continue
        if (left.islower() and right.isupper()) or (
            left.isalpha() and right.isalpha() and _script(left) != _script(right)
        ):
            odd += 1
    for one in re.findall(r"(?<=[^\W\d_])[\x80-\u00bf\u2018-\u2122](?=[^\W\d_])", text):
        odd += 0 if one in "·’‘\u00ad" else 1
    # Greek has a sign of its own for an s at the end of a word, and only there.
    return odd + 2 * len(re.findall(r"ς(?=\w)|σ(?!\w)|\bς", text))


def _script(letter: str) -> str:
    if letter < "\u0250" or "\u1e00" <= letter <= "\u1eff":
        return "Latin"
    if letter < "\u0400":
        return "Greek"
    if letter < "\u0530":
        return "Cyrillic"
    return "Hebrew" if letter < "\u0600" else "Arabic" if letter < "\u0780" else "other"
