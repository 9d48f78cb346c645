"""What kind of file this is, by its name and its first bytes, and sentences for what it isn't."""

from typing import Literal

Kind = Literal["transcript", "sheet"]

TRANSCRIPTS = ("txt", "md", "docx")
SHEETS = ("csv", "tsv", "xlsx")

_ZIP = b"PK\x03\x04"
_OLE = b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
_MAGIC = ((b"%PDF", "a PDF"), (b"\x89PNG", "a picture"), (b"\xff\xd8\xff", "a picture"), (b"GIF8", "a picture"),
          (b"OggS", "a recording"), (b"ID3", "a recording"), (b"RIFF", "a recording"), (b"{\\rtf", "an RTF text"))  # fmt: skip


class Unreadable(Exception):
    """The sentence says what is wrong with the file and what to do."""


def extension(name: str) -> str:
    return name.rsplit(".", 1)[-1].casefold() if "." in name else ""


def kind_of(name: str) -> Kind:
    ending = extension(name)
    if ending in TRANSCRIPTS:
        return "transcript"
    if ending in SHEETS:
        return "sheet"
    if ending == "doc":
        raise Unreadable("This is Word’s old .doc format. Save it as .docx, then add it again.")
    if ending == "xls":
        raise Unreadable("This is Excel’s old .xls format. Save it as .xlsx or .csv, then add it again.")
    raise Unreadable(
        "Cohortia reads transcripts as .txt, .md or .docx and participant sheets as .csv or .xlsx; this is none of them."
    )


def check_container(name: str, data: bytes) -> None:
    """Refuse bytes that aren't what the name says."""
    ending = extension(name)
    if not data.strip():
        raise Unreadable("The file is empty.")
    if ending in ("docx", "xlsx"):
        program = "Word" if ending == "docx" else "a spreadsheet program"
        if data.startswith(_OLE):
            raise Unreadable(
                f"The file is protected by a password, or in an old format under the name .{ending}. "
                f"Open it in {program}, save it without a password, and add it again."
            )
        if not data.startswith(_ZIP):
            raise Unreadable(
                f"The name ends in .{ending}, but the content is {_seems(data)}. Give it its right ending, or save it again as .{ending}."
            )
        return
    if data.startswith((_ZIP, _OLE)):
        raise Unreadable(
            f"The name ends in .{ending}, but the content is an office file. Give it its right ending, then add it again."
        )
    for magic, what in _MAGIC:
        if data.startswith(magic):
            raise Unreadable(f"The name ends in .{ending}, but the content is {what}.")


def _seems(data: bytes) -> str:
    for magic, what in _MAGIC:
        if data.startswith(magic):
            return what
    try:
        data[:2000].decode("utf-8")
        return "plain text"
    except UnicodeDecodeError:
        return "something else"
