"""Which language is spoken now: told by whoever answers a request or does a job, for all that is said meanwhile."""

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, field


@dataclass(frozen=True)
class Catalogue:
    """A language: its tag (BCP 47), its words by the English ones, its plural forms, its decimal sign and that between thousands."""

    language: str
    messages: Mapping[str, str] = field(default_factory=dict)
    plural: Callable[[float], str] = lambda count: "one" if count == 1 else "other"
    decimal: str = "."
    thousands: str = ","


ENGLISH = Catalogue("en")
_NOW: ContextVar[Catalogue] = ContextVar("spoken", default=ENGLISH)


def spoken() -> Catalogue:
    return _NOW.get()


@contextmanager
def speaking(catalogue: Catalogue) -> Iterator[None]:
    """All that is said within is in this language."""
    before = _NOW.set(catalogue)
    try:
        yield
    finally:
        _NOW.reset(before)
