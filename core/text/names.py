"""Names of people, taken apart."""

import re
import unicodedata

TITLES = {"mr", "mrs", "ms", "miss", "mx", "dr", "prof", "professor", "sir", "dame", "lord", "lady", "rev", "hon", "sen", "senator", "rep",
          "representative", "gov", "governor", "mayor", "gen", "general", "col", "capt", "captain", "sgt", "president", "secretary",
          "judge", "justice", "herr", "frau", "monsieur", "madame", "mme", "mlle", "senor", "senora", "sr", "sra", "signor",
          "signora", "mevrouw", "meneer", "dhr", "mw"}  # fmt: skip
"""What stands before a name and is no part of it, without accents."""


def without_note(label: str) -> str:
    """``JANE ROE (Chair)`` is ``JANE ROE``: what is said of a speaker behind the name."""
    return re.sub(r"\s*\([^()]*\)$", "", label) or label


def words_of_name(text: str) -> list[str]:
    """The words of a name, without titles, accents and what says no name: ``Dr. José Roe`` is jose, roe."""
    bare = "".join(one for one in unicodedata.normalize("NFD", text.casefold()) if not unicodedata.combining(one))
    return [word for word in re.split(r"[^\w'’]+|[\d_]+", bare) if word and word not in TITLES]


ANYBODY = frozenset(["participant", "person", "respondent", "interviewee", "speaker", "informant", "subject", "guest", "student", "teacher", "patient", "user", "client", "customer", "woman", "man", "girl", "boy", "mother", "father", "man", "male", "female", "voice", "whole document", "befragte", "befragter", "teilnehmer", "teilnehmerin", "frau", "mann", "répondant", "répondante", "femme", "homme", "participante", "mujer", "hombre", "donna", "uomo", "deelnemer", "vrouw"])  # fmt: skip
"""Labels that anybody may have: each in its own document."""


def names_somebody(label: str) -> bool:
    """Whether a label is one person wherever it stands: a name, not ``P1``, ``Speaker 2`` or ``Participant``."""
    words = words_of_name(label)
    letters = len(re.findall(r"[^\W\d_]", label))
    return (
        letters > 2
        and not re.search(r"\d", label)
        and label.casefold() not in ANYBODY
        and not ANYBODY.issuperset(words)
    )
