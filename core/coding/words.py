"""What is said of a code in words: the one list that forms, files, merging and forgetting go by."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Words:
    """``head`` stands over it in files; ``also`` are other heads (lower case) under which a sheet may say it; ``label`` tells it
    apart in a description, where a file has only one ("" for the description itself). ``most`` characters are kept."""

    head: str
    also: tuple[str, ...] = ()
    label: str = ""
    most: int = 5_000
    about: str = ""
    choices: tuple[str, ...] = ()
    """The words it is one of, where it isn't the researcher's own."""


TEXTS = {
    "definition": Words("What it means", ("definition", "description", "meaning")),
    "covers": Words("What it covers", ("covers", "inclusion", "include", "when to use"), "Covers"),
    "excludes": Words("What it doesn’t", ("doesn't cover", "exclusion", "exclude", "when not to use"), "Doesn’t cover"),
    "example": Words("An example", ("example", "examples"), "Example"),
}
"""What makes a definition usable by somebody else."""
ENDS = {
    "scale_low": Words("Rating from", most=60, about="Name of the rating scale’s low end; empty where it has none."),
    "scale_high": Words("Rating to", most=60),
}
"""The two ends of a code's own scale."""
KINDS = ("describing", "interpreting")
KIND = {
    "kind": Words(
        "Describing or interpreting",
        ("kind",),
        "Kind",
        most=12,
        about="Whether the code describes what is said or interprets it; empty where it does neither.",
        choices=KINDS,
    )
}
WORDS = TEXTS | ENDS | KIND
FIELDS = tuple(WORDS)
