"""Runs of integers and distinct values, as arrays: what joins and counts are made of."""

from typing import TypeVar

import numpy as np
import numpy.typing as npt

Kind = TypeVar("Kind", bound=np.generic)


def expand(
    first: npt.NDArray[np.int64], last: npt.NDArray[np.int64]
) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]:
    """All integers of the ranges first[i]:last[i], with the i each came from."""
    lengths = np.maximum(last - first, 0)
    owner = np.repeat(np.arange(len(first)), lengths)
    offset = np.arange(lengths.sum()) - np.repeat(np.cumsum(lengths) - lengths, lengths)
    return owner, first[owner] + offset


def pieces(values: npt.NDArray[Kind], first: npt.NDArray[np.int64], last: npt.NDArray[np.int64]) -> npt.NDArray[Kind]:
    """``values[first[i]:last[i]]`` one after the other. By copying runs, where ``expand`` would name each place."""
    runs = [values[one:end] for one, end in zip(first.tolist(), last.tolist(), strict=True)]
    return np.concatenate([values[:0], *runs])


def distinct(keys: npt.NDArray[np.int64]) -> npt.NDArray[np.int64]:
    """The different values, ascending. By sorting: several times as fast as hashing here."""
    ordered = np.sort(keys)
    fresh = np.ones(len(ordered), bool)
    np.not_equal(ordered[1:], ordered[:-1], out=fresh[1:])
    return ordered[fresh]
