"""Whose voice a label is: a participant's, an interviewer's, or nobody's in particular."""

import re
from typing import Literal

Role = Literal["participant", "interviewer", "other"]

# Common practice in transcripts, in several languages; numbers and full stops don't matter.
_INTERVIEWER = {
    "interviewer", "interviewerin", "intervieweuse", "intervieweur", "entrevistador", "entrevistadora",
    "intervistatore", "intervistatrice", "interviewaar", "intervjuer", "intervjuare", "haastattelija",
    "int", "intv", "iv", "ivr", "i", "q", "question", "moderator", "moderatorin", "mod", "facilitator",
    "fac", "researcher", "forscher", "forscherin", "chercheur", "chercheuse", "host",
}  # fmt: skip
_OTHER = {
    "", "all", "everyone", "several", "various", "many", "group", "unknown", "unidentified",
    "unknown speaker", "unidentified speaker", "transcriber", "transcriptionist", "note", "observer",
    "multiple speakers", "crosstalk",
}  # fmt: skip


def likely_role(label: str) -> Role:
    """A guess from the label alone; anything not known is taken for a participant."""
    plain = re.sub(r"[\d.#_()\[\]/:-]+", " ", label.casefold())
    plain = " ".join(plain.split())
    if plain in _INTERVIEWER:
        return "interviewer"
    if plain in _OTHER and not re.search(r"\d", label):
        return "other"
    return "participant"
