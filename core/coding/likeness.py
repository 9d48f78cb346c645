"""How like texts are in their words: answers ordered so that like ones stand together, passages like one."""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt
from scipy import sparse

from core.coding.find import stem
from core.text.words import words

Floats = npt.NDArray[np.float64]
CLUSTERED = 2_500
"""Different texts up to which likeness is by clusters; more are laid along one line."""


def folded(text: str) -> str:
    """A text as its words alone: two answers with the same are the same answer."""
    return " ".join(word.casefold().replace("’", "'") for word in words(text))


def vectors(texts: Sequence[str], language: str = "english") -> sparse.csr_matrix:
    """Texts as rows over word stems, weighted by tf–idf and of length 1; shape (texts, stems).

    Weight of a stem in a text: (1 + ln count) × ln(1 + texts / texts that have it)
    (Manning, Raghavan & Schütze 2008, section 6.4: logarithmic tf, idf, cosine length).
    A text without words is a row of zeros.
    """
    places: dict[str, int] = {}
    rows, columns = [], []
    for number, text in enumerate(texts):
        for word in words(text):
            rows.append(number)
            columns.append(places.setdefault(stem(word.replace("’", "'"), language), len(places)))
    shape = (len(texts), max(1, len(places)))
    counts = sparse.csr_matrix((np.ones(len(rows)), (rows, columns)), shape)
    counts.sum_duplicates()
    holding = np.bincount(counts.indices, minlength=shape[1])
    counts.data = 1 + np.log(counts.data)
    weighted = counts @ sparse.diags(np.log1p(len(texts) / np.maximum(holding, 1)))
    lengths = np.sqrt(np.asarray(weighted.multiply(weighted).sum(axis=1)).ravel())
    return sparse.csr_matrix(sparse.diags(1 / np.where(lengths > 0, lengths, 1)) @ weighted)


def likest(held: sparse.csr_matrix, to: npt.NDArray[np.int64], count: int) -> list[tuple[int, float]]:
    """Rows most like the rows ``to`` taken together, without them, most like first, with the cosine (0 to 1)."""
    middle = np.asarray(held[to].mean(axis=0)).ravel()
    length = float(np.sqrt(middle @ middle))
    if not length:
        return []
    cosine = np.asarray(held @ (middle / length)).ravel()
    cosine[to] = 0
    order = np.argsort(-cosine, kind="stable")[:count]
    return [(int(row), float(cosine[row])) for row in order if cosine[row] > 0]


def together(texts: Sequence[str], language: str = "english") -> list[int]:
    """An order of the texts in which equal ones follow each other and like ones are near; empty ones last."""
    same: dict[str, list[int]] = {}
    for place, text in enumerate(texts):
        same.setdefault(folded(text), []).append(place)
    empty = same.pop("", [])
    different = list(same)
    return [place for at in _by_likeness(different, language) for place in same[different[at]]] + empty


def _by_likeness(texts: Sequence[str], language: str) -> list[int]:
    """Leaves of average-linkage clusters in optimal order (Bar-Joseph, Gifford & Jaakkola 2001)."""
    if len(texts) < 3:
        return list(range(len(texts)))
    held = vectors(texts, language)
    if len(texts) > CLUSTERED:
        from scipy.sparse.linalg import svds

        left, _, _ = svds(held, k=2, random_state=1)
        return [int(place) for place in np.argsort(left[:, 0], kind="stable")]
    cosine = (held @ held.T).toarray()
    above = np.triu_indices(len(texts), 1)
    apart = np.clip(1 - cosine[above], 0, 1)
    from scipy.cluster.hierarchy import leaves_list, linkage

    return [int(place) for place in leaves_list(linkage(apart, "average", optimal_ordering=len(texts) <= 400))]
