"""Whose voice a label is: a participant's, an interviewer's, or nobody's in particular; each guess with its reason."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from core.language import message, say, worded

Role = Literal["participant", "interviewer", "other"]

# Common practice in transcripts, in English, German, French, Spanish, Italian and Dutch (and what was met in others);
# numbers and full stops don't matter.
_KINDS: dict[str, tuple[Role, str, str]] = {
    "asking": ("interviewer", message("whoever asks or leads"), """
        interviewer interviewerin interviewers interviewende intervieweuse intervieweur enquêteur enquêtrice entrevistador
        entrevistadora intervistatore intervistatrice interviewaar interviewster intervjuer intervjuare haastattelija
        int intv iv ivr i q question questioner frage frager fragende pregunta domanda vraag moderator moderatorin
        moderatrice modérateur modératrice moderador moderadora moderatore mod moderation gespreksleider facilitator fac
        researcher forscher forscherin chercheur chercheuse investigador investigadora ricercatore ricercatrice
        onderzoeker host chair chairman chairwoman chairperson vorsitz vorsitzende vorsitzender gastgeber presenter
        presentador presentadora presentatore presentatrice animateur animatrice"""),
    "audience": ("other", message("an audience"), """
        audience crowd publikum zuschauer zuschauerin zuhörer zuhörerin zuhörerschaft saal spectateur spectatrice
        spectateurs salle auditoire público publico espectador espectadora pubblico spettatore spettatrice publiek
        toehoorder toeschouwer zaal heckler protester protesters"""),
    "announcer": ("other", message("an announcer"), """
        announcer narrator emcee mc ansager ansagerin ansage erzähler erzählerin annonceur annonceuse narrateur
        narratrice locutor locutora narrador narradora annunciatore annunciatrice narratore narratrice omroeper
        omroepster verteller"""),
    "interpreting": ("other", message("an interpreter"), """
        interpreter translator translation dolmetscher dolmetscherin übersetzer übersetzerin übersetzung interprète
        traducteur traductrice traduction intérprete interprete traductor traductora traducción traduttore traduttrice
        traduzione tolk vertaler vertaalster vertaling"""),
    "several": ("other", message("several people at once"), """
        all everyone everybody several various many group multiple voices crosstalk chorus both alle mehrere
        verschiedene gruppe beide stimmen tous toutes plusieurs groupe todos todas varios varias
        grupo ambos tutti tutte vari gruppo allen meerdere groep beiden samen"""),
    "unknown": ("other", message("nobody known"), """
        unknown unidentified inaudible unclear unbekannt unbekannte unbekannter unverständlich inconnu inconnue
        desconocido desconocida sconosciuto sconosciuta onbekend onbekende"""),
    "writing": ("other", message("the transcriber"), """
        transcriber transcriptionist transcript note observer protokoll protokollant protokollantin transkription
        beobachter beobachterin transcripteur observateur observatrice transcriptor observador observadora
        trascrittore osservatore transcribent waarnemer"""),
}  # fmt: skip
_NO_NAMES = """
    of the a an and from in member members person persons people public speaker speakers voice man woman male female boy
    girl first second third der die das des den dem ein eine einer aus im von und mitglied mitglieder person personen
    sprecher sprecherin stimme mann frau männlich weiblich männliche weibliche de la le les du des un une et membre
    membres personne voix homme femme masculine féminine el los las una y del miembro persona hombre mujer voz il lo gli
    dell della del e membro uomo donna voce het een van en lid leden persoon spreker stem vrouw
    """
"""Words that say nothing of who somebody is: beside one of the above they make no name."""
_PLAIN = frozenset(_NO_NAMES.split())
_KIND_OF = {word: kind for kind, (_, _, words) in _KINDS.items() for word in words.split()}
_ORDER = ("interpreting", "unknown", "several", "audience", "announcer", "writing", "asking")
_PUBLIC = re.compile(r"\b(?:of|from) the (?:public|floor)\b|\b(?:du|le) public\b|\bpublic\b(?= \d)")

ASKS, QUIET, RIVAL, FEWEST = 0.6, 0.4, 0.5, 3
"""Who is taken for an interviewer by what they do: at least this share of their turns ends in a question, at most this
share of all words is theirs, nobody else asks in more than this share of theirs, and they ask so many times. Chosen on
invented talks (``bench/labels.py``)."""


@dataclass(frozen=True)
class Guess:
    role: Role
    reason: str = ""


@dataclass(frozen=True)
class Talk:
    """What one label says in a document: its turns, how many end in a question, its words."""

    turns: int
    asked: int
    words: int


def likely_role(label: str) -> Role:
    """A guess from the label alone; anything not known is taken for a participant."""
    kind = _kind(label)
    return "participant" if kind is None else _KINDS[kind][0]


def by_meaning(label: str) -> Guess:
    """A guess from what the words of a label mean; every word has to be known, so that names stay names."""
    kind = _kind(label)
    if kind is None:
        return Guess("participant")
    role, meaning, _ = _KINDS[kind]
    return Guess(role, say("means {whom}", whom=worded(meaning)))


@lru_cache(4096)
def _kind(label: str) -> str | None:
    folded = label.casefold()
    plain = re.sub(r"[\d.#_()\[\]/:,–—-]+", " ", folded).split()
    if not plain:
        return "unknown" if not re.search(r"\w", label) else None
    if (plain == ["public"] or _PUBLIC.search(folded)) and all(word in _PLAIN for word in plain):
        return "audience"
    kinds = {_KIND_OF[word] for word in plain if word in _KIND_OF}
    if not kinds or any(word not in _KIND_OF and word not in _PLAIN for word in plain):
        return None
    if kinds <= {"several", "writing"} and re.search(r"\d", label) and len(plain) == 1:
        # "Group 2", "Note 3": a group may be who was asked.
        return None
    return next(kind for kind in _ORDER if kind in kinds)


def by_talk(talks: Sequence[Talk], roles: Sequence[Role]) -> dict[int, Guess]:
    """Place → guess for whoever asks most and says less, where no label says who asks."""
    people = [place for place, role in enumerate(roles) if role == "participant"]
    if "interviewer" in roles or len(people) < 2:
        return {}
    words = sum(talk.words for talk in talks)
    shares = {place: talks[place].asked / talks[place].turns for place in people if talks[place].turns}
    best = max(shares, key=lambda place: shares[place], default=None)
    if best is None:
        return {}
    most, talk = shares[best], talks[best]
    rivals = [share for place, share in shares.items() if place != best and talks[place].turns >= FEWEST]
    if most < ASKS or talk.asked < FEWEST or talk.words > QUIET * words or max(rivals, default=1.0) > RIVAL * most:
        return {}
    reason = say(
        "asks in {asked} of {turns} turns and says {share} % of the words",
        asked=talk.asked,
        turns=talk.turns,
        share=round(100 * talk.words / words),
    )
    return {best: Guess("interviewer", reason)}
