"""Words that say nothing: those that only hold a sentence together, and those with which people keep the floor."""

import re
from collections.abc import Collection

# Common practice in lists of words; the words that hold sentences together come from the database's own lists.
_FILLERS = {
    "english": """yeah yes yep no nope okay ok um umm uh erm er eh oh ah hm hmm mm mhm huh well just really actually
        basically anyway quite also even still right like gonna wanna got get goes went going one would could something can't won't us""",
    "german": """ja nein nee äh ähm öh hm hmm mhm okay ok also halt eben eigentlich mal schon naja na doch so ach och gell
        ne nun tja einfach irgendwie sozusagen quasi immer ganz gar da dann""",
    "french": "euh ben bah hein ouais oui non voilà quoi donc alors bon enfin bref très tout ça fait",
    "spanish": "eh pues bueno sí no este sea entonces claro ya muy vale mira",
    "italian": "eh beh allora insomma cioè sì no ecco va vabbè niente proprio molto",
    "dutch": "eh uh nou ja nee hoor wel even eigenlijk gewoon zeg maar ook dus toch heel",
}  # fmt: skip
FILLERS = {language: frozenset(words.split()) for language, words in _FILLERS.items()}


def parts(word: str) -> list[str]:
    """What of a word is looked up: ``that's`` is that, ``isn't`` is is, ``l'eau`` is eau, ``it's`` is it."""
    if word.endswith(("n't", "n’t")):
        return [word[:-3] or word]
    pieces = [piece for piece in re.split(r"['’]", word) if piece]
    return [piece for piece in pieces if len(piece) > 2] or pieces[:1]


def is_idle(word: str, idle: Collection[str], language: str) -> bool:
    """Whether a folded word says nothing; ``idle`` are those that a list of the language has, among the :func:`parts` of it."""
    fillers = FILLERS.get(language, frozenset())
    return word in fillers or all(piece in idle or piece in fillers for piece in parts(word))
