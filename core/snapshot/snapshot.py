"""A project at one revision: what every count, query and drawer reads, each derived part made when first asked for."""

from collections.abc import Callable
from functools import cached_property
from threading import Lock

import numpy as np
import numpy.typing as npt

from core.snapshot.attribution import Attributed
from core.snapshot.incidence import Incidence, incidence
from core.snapshot.talks import Talks, talks


class Coming:
    """Rows that can be had from those of an earlier revision: made once, by whoever needs them first."""

    def __init__(self, make: Callable[[], Incidence]) -> None:
        self._lock = Lock()
        self._make: Callable[[], Incidence] | None = make

    def __call__(self) -> Incidence:
        with self._lock:
            if self._make is not None:
                self._made = self._make()
                # The earlier revision is held for this alone.
                self._make = None
            return self._made


class Snapshot(Attributed):
    """The arrays with what follows from them: who said what, who speaks where, and the rows of all codes."""

    def has(self, name: str) -> bool:
        """Whether this derived part is made, or can be had from an earlier one."""
        return name in vars(self) or name in self._coming

    def settle(self) -> None:
        """Make now what can be had from an earlier revision."""
        for name in self._coming:
            getattr(self, name)

    @cached_property
    def _coming(self) -> dict[str, Coming]:
        return {}

    def _rows(self, name: str, roll_up: bool) -> Incidence:
        return self._coming[name]() if name in self._coming else incidence(self, roll_up)

    @cached_property
    def talks(self) -> Talks:
        """Who speaks where."""
        return talks(self)

    @cached_property
    def own_rows(self) -> Incidence:
        """Each code's own passages, all coders."""
        return self._rows("own_rows", roll_up=False)

    @cached_property
    def branch_rows(self) -> Incidence:
        """Each code's passages with those of all codes beneath it, all coders."""
        return self._rows("branch_rows", roll_up=True)

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
