"""Work that makes many small things and no rings among them: looking for rings meanwhile takes longer than the work."""

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def no_rings() -> Iterator[None]:
    """Nobody looks for rings until it is done."""
    collecting = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if collecting:
            gc.enable()
