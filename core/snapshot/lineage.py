"""The codebook as a tree of parents, given as positions."""

from collections.abc import Mapping

import numpy as np
import numpy.typing as npt

from core.language import say

Parents = npt.NDArray[np.int32]


class TreeError(ValueError):
    """A code would come to lie beneath itself."""


def depths(parents: Parents) -> npt.NDArray[np.int32]:
    """How far each code lies beneath the top (0 at the top).

    ``parents``: shape (codes,), the position of each code's parent, −1 at the top.
    Raises ``TreeError`` where following parents never ends.
    """
    depth = np.zeros(len(parents), dtype=np.int32)
    above = parents.copy()
    for _ in range(len(parents) + 1):
        climbing = above >= 0
        if not climbing.any():
            return depth
        depth[climbing] += 1
        above[climbing] = parents[above[climbing]]
    raise TreeError(say("A code can't lie beneath itself."))


def lineage(parents: Parents) -> tuple[npt.NDArray[np.int32], npt.NDArray[np.int32]]:
    """Every (code, itself or ancestor) pair: two arrays of equal length."""
    own = np.arange(len(parents), dtype=np.int32)
    codes, ancestors = [own], [own]
    current, above = own, parents
    for _ in range(int(depths(parents).max(initial=0))):
        keep = above >= 0
        current, above = current[keep], above[keep]
        codes.append(current)
        ancestors.append(above)
        above = parents[above]
    return np.concatenate(codes), np.concatenate(ancestors)


def would_loop(parents: Mapping[int, int | None], code: int, new_parent: int | None) -> bool:
    """Whether moving ``code`` beneath ``new_parent`` would put it beneath itself."""
    above = new_parent
    while above is not None:
        if above == code:
            return True
        above = parents.get(above)
    return False
