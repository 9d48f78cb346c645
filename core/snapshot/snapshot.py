"""A project at one revision: what every count, query and drawer reads, each derived part made when first asked for."""

from functools import cached_property

import numpy as np
import numpy.typing as npt

from core.snapshot.attribution import Attributed
from core.snapshot.incidence import Incidence, incidence
from core.snapshot.talks import Talks, talks


class Snapshot(Attributed):
    """The arrays with what follows from them: who said what, who speaks where, and the rows of all codes."""

    @cached_property
    def talks(self) -> Talks:
        """Who speaks where."""
        return talks(self)

    @cached_property
    def own_rows(self) -> Incidence:
        """Each code's own passages, all coders."""
        return incidence(self, roll_up=False)

    @cached_property
    def branch_rows(self) -> Incidence:
        """Each code's passages with those of all codes beneath it, all coders."""
        return incidence(self, roll_up=True)

    @cached_property
    def codings_by_code(self) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]:
        """Codings in the order of their codes, and where each code’s begin, (codes + 1,)."""
        order = np.argsort(self.coding_code, kind="stable")
        first = np.searchsorted(self.coding_code[order], np.arange(len(self.code_ids) + 1))
        return order, first.astype(np.int64)

    @property
    def memory(self) -> int:
        """Bytes held by the arrays, with what has been derived so far."""
        held = list(vars(self).values())
        for derived in ("attributions", "talks", "own_rows", "branch_rows"):
            if derived in vars(self):
                held.extend(vars(vars(self)[derived]).values())
        return sum(value.nbytes for value in held if isinstance(value, np.ndarray))
