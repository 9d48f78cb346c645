"""The words of documents as the database's index takes them, and asking it."""

from collections.abc import Sequence

from django.db import connection

from core.coding.find import Query, runs
from server.gather.models import Document, WordIndex
from server.projects.change import Change
from server.projects.steps import SPLICED

_ASKED = """SELECT document_id FROM gather_wordindex
    WHERE document_id = ANY(%s) AND (words @@ %s::tsquery OR words IS NULL)"""
LONGEST, LARGEST = 200, 900_000
"""Characters of a word that are kept; characters of all words that the database can hold."""


def index_words(change: Change, document: Document, text: str) -> None:
    """Keep the words of a document's text, inside an action."""
    row = WordIndex.objects.filter(document=document).first()
    if row is None:
        change.create(WordIndex(document=document, words=indexed(text)))
    else:
        change.update(row, words=indexed(text))


def index_again(document: Document) -> None:
    """The same outside the trail, of its text as it is: whoever splices a text does it, and taking that back does it again."""
    WordIndex.objects.update_or_create(document=document, defaults={"words": indexed(document.text)})


SPLICED[Document] = index_again


def indexed(text: str) -> str | None:
    """The different words of a text as the database writes them; None where there are too many."""
    found = sorted({word[:LONGEST] for word in set(runs(text))})
    if sum(len(word.encode()) + 8 for word in found) > LARGEST:
        return None
    return " ".join(f"'{word}'" for word in found)


def may_hold(wanted: Query, documents: Sequence[int]) -> Sequence[int]:
    """Those of the documents (IDs) that may hold a hit."""
    ending = ":*" if wanted.how == "forms" else ""
    words = [" & ".join(f"'{piece[:LONGEST]}'{ending}" for piece in pieces if piece) for pieces in wanted.pieces]
    if not words or not all(words):
        return documents
    sign = " | " if wanted.how in ("words", "forms") else " & "
    # Asked by itself: within a larger question the database, right after an import, read every row for each document.
    with connection.cursor() as cursor:
        cursor.execute(_ASKED, [list(documents), sign.join(f"({word})" for word in words)])
        return [pk for (pk,) in cursor.fetchall()]
