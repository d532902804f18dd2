"""Texts in tables that other programs open: one that would be read as a formula is kept from it, and taken back as it was."""

import csv
import io
from collections.abc import Iterable

FORMULA = ("=", "+", "-", "@", "\t", "\r")
MARK = "'"


def as_text(text: str) -> str:
    """Return a text that a table program takes for text and not for a formula."""
    return f"{MARK}{text}" if text.startswith(FORMULA) else text


def as_it_was(text: str) -> str:
    """Return a text as it was before `as_text`."""
    return text[1:] if text.startswith(MARK) and text[1:].startswith(FORMULA) else text


def table(head: list[str], rows: Iterable[Iterable[object]]) -> str:
    """Return rows as CSV; a text that a spreadsheet would read as a formula is kept from it."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(head)
    for row in rows:
        writer.writerow([_cell(value) for value in row])
    return out.getvalue()


def _cell(value: object) -> object:
    if isinstance(value, float):
        return f"{value:.1f}"
    if isinstance(value, str):
        return as_text(value)
    return "" if value is None else value
