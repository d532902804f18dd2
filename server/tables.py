"""Texts in tables that other programs open: one that would be read as a formula is kept from it, and taken back as it was."""

FORMULA = ("=", "+", "-", "@", "\t", "\r")
MARK = "'"


def as_text(text: str) -> str:
    """Return a text that a table program takes for text and not for a formula."""
    return f"{MARK}{text}" if text.startswith(FORMULA) else text


def as_it_was(text: str) -> str:
    """Return a text as it was before `as_text`."""
    return text[1:] if text.startswith(MARK) and text[1:].startswith(FORMULA) else text
