"""A table that somebody brings: text in UTF-8, its columns named in the first row, split by commas, semicolons or tabs."""

import csv
import io
from collections.abc import Iterator

MOST_BYTES = 2_000_000


class BadTable(ValueError):
    """A table that cannot be taken in, in words; nothing of it is stored."""


def rows_of(
    data: bytes, head: list[str], needed: set[str], what: str, most: int
) -> Iterator[tuple[int, dict[str, str]]]:
    """Yield each row that is not empty with its number as a spreadsheet counts; raise BadTable.

    head, needed : the columns' names, and those that must be there; what : what the rows are, for the sentence
    """
    if len(data) > MOST_BYTES:
        raise BadTable(
            f"The table is {len(data) / 1e6:.1f} MB; {what} are at most {MOST_BYTES / 1e6:.0f} MB."
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadTable(
            f"The table is not text in UTF-8 (byte {error.start}). Export it again as CSV."
        ) from error
    first = text.split("\n", 1)[0]
    rows = csv.DictReader(io.StringIO(text, newline=""), delimiter=max(",;\t", key=first.count))
    if not needed <= {str(name).strip() for name in rows.fieldnames or []}:
        raise BadTable(f"The first row must name the columns: {', '.join(head)}.")
    try:
        for number, row in enumerate(rows, start=2):
            if number > most + 1:
                raise BadTable(f"The table has more than {most} rows. Import it in parts.")
            cells = {
                str(key).strip(): (value or "").strip()
                for key, value in row.items()
                if isinstance(value, str)
            }
            if any(cells.values()):
                yield number, cells
    except csv.Error as error:
        raise BadTable(f"The table cannot be read: {error}. Export it again as CSV.") from error
