"""What every export to a spreadsheet heeds."""


def safe(text: str) -> str:
    """A text that a spreadsheet would take for a formula gets an apostrophe before it."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text
