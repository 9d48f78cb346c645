"""What kind of file this is, by its name and its first bytes, and sentences for what it isn't."""

from typing import Literal

from core.language import message, say, worded

Kind = Literal["transcript", "sheet", "image", "recording"]

TEXTS = ("txt", "md")
OFFICE = ("odt", "html", "htm")
TIMED = ("vtt", "srt")
TRANSCRIPTS = (*TEXTS, "docx", "rtf", *OFFICE, "pdf", *TIMED)
DELIMITED = ("csv", "tsv")
WORKBOOKS = ("xlsx", "xls", "ods")
PACKAGES = ("sav", "zsav", "dta", "sas7bdat")
SHEETS = (*DELIMITED, *WORKBOOKS, *PACKAGES)
IMAGES = ("png", "jpg", "jpeg", "gif", "tif", "tiff")
RECORDINGS = ("ogg", "oga", "mp3", "m4a", "wav", "flac", "mp4", "mov", "webm")

_ZIP = b"PK\x03\x04"
_OLE = b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
_OFFICE_NAMES = {
    "docx": message("Word"),
    "odt": message("a word processor"),
    "xlsx": message("a spreadsheet program"),
    "ods": message("a spreadsheet program"),
}
_MAGIC = (
    (b"%PDF", message("a PDF")), (b"\x89PNG", message("a picture")), (b"\xff\xd8\xff", message("a picture")), (b"GIF8", message("a picture")),
    (b"II*\x00", message("a picture")), (b"MM\x00*", message("a picture")), (b"OggS", message("a recording")), (b"ID3", message("a recording")),
    (b"RIFF", message("a recording")), (b"\x1aE\xdf\xa3", message("a recording")), (b"fLaC", message("a recording")), (b"{\\rtf", message("an RTF text")),
    (b"$FL2", message("a file of a statistics package")), (b"$FL3", message("a file of a statistics package")),
    (b"<stata_dta>", message("a file of a statistics package")), (_ZIP, message("an office file")), (_OLE, message("an old office file")),
)  # fmt: skip
_TEXT, _UNKNOWN = message("plain text"), message("something else")
_WANTED: dict[str, tuple[bytes, ...]] = {
    "pdf": (b"%PDF",), "png": (b"\x89PNG",), "jpg": (b"\xff\xd8\xff",), "jpeg": (b"\xff\xd8\xff",), "gif": (b"GIF8",),
    "tif": (b"II*\x00", b"MM\x00*", b"II+\x00", b"MM\x00+"), "tiff": (b"II*\x00", b"MM\x00*", b"II+\x00", b"MM\x00+"),
    "ogg": (b"OggS",), "oga": (b"OggS",), "wav": (b"RIFF",), "flac": (b"fLaC", b"ID3"), "webm": (b"\x1aE\xdf\xa3",), "rtf": (b"{\\rtf",),
    "sav": (b"$FL2", b"$FL3"), "zsav": (b"$FL3", b"$FL2"), "xls": (_OLE,),
}  # fmt: skip


class Unreadable(Exception):
    """The sentence says what is wrong with the file and what to do."""


def extension(name: str) -> str:
    return name.rsplit(".", 1)[-1].casefold() if "." in name else ""


def kind_of(name: str) -> Kind:
    ending = extension(name)
    for kind, endings in (("transcript", TRANSCRIPTS), ("sheet", SHEETS), ("image", IMAGES), ("recording", RECORDINGS)):
        if ending in endings:
            return kind  # type: ignore[return-value]
    if ending == "doc":
        raise Unreadable(say("This is Word’s old .doc format. Save it as .docx, then add it again."))
    if ending in ("heic", "webp", "bmp", "svg"):
        raise Unreadable(
            say("Pictures come in as .png, .jpg, .gif or .tif; save this .{ending} as one of them.", ending=ending)
        )
    raise Unreadable(
        say(
            "Cohortia reads texts (.txt .md .docx .odt .rtf .html .pdf), timed texts (.vtt .srt), sheets (.csv .tsv .xlsx .xls .ods .sav .dta .sas7bdat), pictures (.png .jpg .gif .tif) and recordings (.ogg .mp3 .m4a .wav .flac .mp4 .mov .webm); this is none of them."
        )
    )


def check_container(name: str, data: bytes) -> None:
    """Refuse a file whose first bytes aren't what the name says."""
    ending = extension(name)
    if not data.strip():
        raise Unreadable(say("The file is empty."))
    if ending in ("docx", "xlsx", "odt", "ods"):
        if data.startswith(_OLE):
            raise Unreadable(
                say(
                    "The file is protected by a password, or in an old format under the name .{ending}. Open it in {program}, save it without a password, and add it again.",
                    ending=ending,
                    program=worded(_OFFICE_NAMES[ending]),
                )
            )
        _expect(ending, data, (_ZIP,))
    elif ending in _WANTED:
        _expect(ending, data, _WANTED[ending])
    elif ending in (*TEXTS, *DELIMITED, *TIMED, "html", "htm"):
        what = _seems(data)
        if what not in (_TEXT, _UNKNOWN):
            raise Unreadable(
                say(
                    "The name ends in .{ending}, but the content is {what}. Give it its right ending, then add it again.",
                    ending=ending,
                    what=worded(what),
                )
            )


def _expect(ending: str, data: bytes, wanted: tuple[bytes, ...]) -> None:
    if not data.startswith(wanted):
        raise Unreadable(
            say(
                "The name ends in .{ending}, but the content is {seems}. Give it its right ending, or save it again as .{ending}.",
                ending=ending,
                seems=worded(_seems(data)),
            )
        )


def _seems(data: bytes) -> str:
    """What the content looks like: a message, not yet said."""
    for magic, what in _MAGIC:
        if data.startswith(magic):
            return what
    try:
        data[:2000].decode("utf-8")
        return _TEXT
    except UnicodeDecodeError:
        return _UNKNOWN
