"""What people read, in their language: every sentence is a message, written in English where it is said.

``messages`` reads ICU's form of them, ``speaking`` says which language is spoken now, ``say`` puts the two together."""

from core.language.saying import APART, decimal, message, number, say, under_one, worded
from core.language.speaking import ENGLISH, Catalogue, speaking, spoken

__all__ = [
    "APART",
    "ENGLISH",
    "Catalogue",
    "decimal",
    "message",
    "number",
    "say",
    "speaking",
    "spoken",
    "under_one",
    "worded",
]
