"""Arrays in a folder that all processes of a machine share: ``.npy`` files, and a list of them with their check sums.

A folder comes whole, by being renamed; what is damaged is noticed when it is read.
"""

import json
import shutil
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import xxhash

from server.common.folders import temporary_folder

Array = npt.NDArray[Any]
_LIST = "list.json"


def write(target: Path, form: int, arrays: Mapping[str, Array], said: Mapping[str, Any]) -> None:
    """Put the arrays where ``target`` says, in place of what is there, with what is said of them; ``form`` says how to read it."""
    with temporary_folder("arrays") as folder:
        making = folder / "whole"
        making.mkdir(mode=0o700)
        for name, array in arrays.items():
            np.save(making / f"{name}.npy", array, allow_pickle=False)
        sums = {name: _sum_of(array) for name, array in arrays.items()}
        (making / _LIST).write_text(json.dumps({**said, "form": form, "arrays": sums}))
        target.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        shutil.rmtree(target, ignore_errors=True)
        making.rename(target)


def read(folder: Path, form: int) -> tuple[dict[str, Array], dict[str, Any]]:
    """The arrays and what was said of them. Raises ``OSError``, ``ValueError``, ``KeyError`` or ``TypeError`` where they are not
    there, of another form, or damaged."""
    said: dict[str, Any] = json.loads((folder / _LIST).read_text())
    if said["form"] != form:
        raise ValueError("another form")
    found: dict[str, Array] = {}
    for name, sum_of_it in said["arrays"].items():
        # Plain arrays over the mapped file: pages are shared by all processes.
        found[name] = np.asarray(np.load(folder / f"{name}.npy", mmap_mode="r", allow_pickle=False))
        if _sum_of(found[name]) != sum_of_it:
            raise ValueError("damaged")
    return found, said


def _sum_of(array: Array) -> int:
    """A check sum, as fast as memory is read."""
    return xxhash.xxh3_64_intdigest(np.ascontiguousarray(array).view(np.uint8).data)
