"""What is in play: a mask over documents, cases, coders and codings."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from core.snapshot.columns import Columns

Mask = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class Scope:
    """``None`` means everything; otherwise one truth value a document, case, coder, coding (those of certain codes, or
    made on certain days) or passage (those that a query finds)."""

    documents: Mask | None = None
    cases: Mask | None = None
    coders: Mask | None = None
    codings: Mask | None = None
    passages: Mask | None = None

    @property
    def whole(self) -> bool:
        """Whether nothing is left out."""
        return all(part is None for part in (self.documents, self.cases, self.coders, self.codings, self.passages))

    def coding_mask(self, columns: Columns) -> Mask | None:
        """Which codings are in play, (codings,); None where all are."""
        if self.coders is None:
            return self.codings
        by_coder = self.coders[columns.coding_coder]
        return by_coder if self.codings is None else by_coder & self.codings
