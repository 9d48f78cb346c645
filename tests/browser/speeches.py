"""A folder of 189 speeches and a sheet of their 65 speakers, made here: labels in the middle of lines, voices from the
hall, file names that hold a name, a sheet whose IDs stand in no text. All of it is invented."""

import csv
import random
from pathlib import Path

import docx

FIRST = ["Jane", "Ana", "Tomas", "Ravi", "Lena", "Omar", "Ingrid", "Paul", "Mei", "Dana", "José", "Ruth", "Karl"]
LAST = ["Roe", "Voss", "Marsh", "Okafor", "Lindqvist", "McBride", "Tanaka", "de la Cruz", "Ferrow", "Haldane", "Quill",
        "Strand", "Adeyemi", "Brandt", "Corvin", "Ellery", "Novak", "Osei", "Pell", "Ruan"]  # fmt: skip
SPEAKERS, SPEECHES = 65, 189
WORDS = "we came to this harbour because the winter boats were late and nobody asked the islands what they need".split()  # noqa: SIM905
Person = tuple[str, str, str]
"""ID, first name, surname."""


def people() -> list[Person]:
    every = [(first, last) for at, last in enumerate(LAST) for first in FIRST[at % 4 : at % 4 + 4]]
    return [(f"S{at:03}", *name) for at, name in enumerate(every[:SPEAKERS], start=1)]


def folder(where: Path) -> list[Path]:
    """The files, written: texts, and the sheet."""
    dice = random.Random(189)
    speakers = people()
    for at in range(SPEECHES):
        person = speakers[at % SPEAKERS]
        STYLES[at % len(STYLES)](where, at, person, dice)
    with (where / "speakers.csv").open("w", newline="", encoding="utf-8") as file:
        out = csv.writer(file)
        out.writerow(["ID", "First name", "Surname", "E-mail", "Island", "Born"])
        for number, first, last in speakers:
            mail = f"{first}.{last}@hall.example".lower().replace(" ", "")
            out.writerow([number, first, last, mail, dice.choice(["North", "South"]), dice.randint(1950, 1999)])
    return sorted(where.iterdir())


def _said(dice: random.Random, words: int = 60) -> str:
    return " ".join(dice.choices(WORDS, k=words)).capitalize() + "."


def _name(person: Person) -> str:
    return f"{person[1]} {person[2]}"


def _lines(where: Path, at: int, person: Person, dice: random.Random) -> None:
    name = _name(person).upper()
    lines = [f"{name}: {_said(dice)} (Applause.)", "AUDIENCE: Hear, hear!", f"{name}: {_said(dice)}", "UNIDENTIFIED SPEAKER: Shame!", f"{name}: {_said(dice)}"]  # fmt: skip
    (where / f"speech_{at:03}.txt").write_text("\n".join(lines), encoding="utf-8")


def _one_paragraph(where: Path, at: int, person: Person, dice: random.Random) -> None:
    name = _name(person).upper()
    text = f"(Applause.) {name}: {_said(dice)} (Laughter.) AUDIENCE MEMBER: We love you! {name}: {_said(dice)} ANNOUNCER: Thank you. (Applause.)"
    (where / f"speech_{at:03}.txt").write_text(text, encoding="utf-8")


def _title_and_file_name(where: Path, at: int, person: Person, dice: random.Random) -> None:
    lines = ["Moderator: Please welcome our guest.", f"Senator {person[2]}: {_said(dice)}", "Moderator: Thank you.", f"Senator {person[2]}: {_said(dice)}"]  # fmt: skip
    (where / f"2031-05-{at % 28 + 1:02} {_name(person)}, harbour {at}.txt").write_text(
        "\n".join(lines), encoding="utf-8"
    )


def _nobody_labelled(where: Path, at: int, person: Person, dice: random.Random) -> None:
    (where / f"{person[2]}_{person[1]}_{at}.txt").write_text(f"{_said(dice)}\n{_said(dice)}", encoding="utf-8")


def _surname_first(where: Path, at: int, person: Person, dice: random.Random) -> None:
    label = f"{person[2]}, {person[1]}"
    lines = [f"{label}: {_said(dice)}", f"INTERPRETER: {_said(dice, 8)}", f"{label}: {_said(dice)}"]
    (where / f"hall {at}.txt").write_text("\n".join(lines), encoding="utf-8")


def _table(where: Path, at: int, person: Person, dice: random.Random) -> None:
    document = docx.Document()
    table = document.add_table(rows=0, cols=3)
    for row in (
        ("Time", "Speaker", "Words"),
        ("0:01", "Chair", "Our next speaker?"),
        ("0:05", _name(person), _said(dice)),
        ("1:20", "Chair", "Anything else?"),
        ("1:25", _name(person), _said(dice)),
    ):
        for cell, text in zip(table.add_row().cells, row, strict=True):
            cell.text = text
    document.save(where / f"minutes {at}.docx")


STYLES = (_lines, _one_paragraph, _title_and_file_name, _nobody_labelled, _surname_first, _table)
