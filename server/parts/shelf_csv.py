"""The shelf as a table: one row a part, units in the headings, a column empty where a kind has no use for it.

Kind   of part, or of stock to make parts from; `COLUMNS` has them all. A steel is told by its yield.
Fault  a line and a column with a sentence; nothing is taken in while there is one.
"""

import csv
import io
import math
import re
from dataclasses import dataclass, field
from itertools import islice
from typing import Any

from engine.facts import facts
from server.tables import as_it_was, as_text

COMMON = ("kind", "name", "stock", "price", "source")
COLUMNS: dict[str, tuple[str, ...]] = {
    "coil": (
        "rate_n_per_mm",
        "free_length_mm",
        "solid_length_mm",
        "inside_diameter_mm",
        "outside_diameter_mm",
    ),
    "damper": ("extended_mm", "compressed_mm", "gas_force_n"),
    "bag": (
        "min_height_mm",
        "max_height_mm",
        "max_diameter_mm",
        "max_pressure_bar",
        "area_least_mm2",
        "area_greatest_mm2",
    ),
    "bump_stop": ("height_mm", "squash_mm"),
    "strap": ("length_mm", "stretch_percent"),
    "rod_end": ("thread_mm", "tilt_degrees", "pitch_mm", "shank_mm", "width_mm", "head_mm", "left_hand"),
    "insert": ("thread_mm", "outside_mm", "left_hand"),
    "nut": ("thread_mm", "left_hand"),
    "tube": ("outside_mm", "wall_mm", "length_mm", "yield_n_per_mm2"),
    "plate": ("thickness_mm", "width_mm", "length_mm", "yield_n_per_mm2"),
    "bolt": ("size_mm", "length_mm"),
    "cup": ("plate_mm", "height_mm"),
}
ANY = ("lead_days",)
OPTIONAL = {
    "inside_diameter_mm", "outside_diameter_mm", "gas_force_n", "stretch_percent", "max_diameter_mm", "area_least_mm2", "area_greatest_mm2", "pitch_mm", "shank_mm", "width_mm",
    "head_mm", "left_hand", "yield_n_per_mm2", "lead_days",
}  # fmt: skip
NEEDED_OF = {"plate": {"width_mm"}}  # needed of these kinds, though not of others
HEADINGS = (*COMMON, *dict.fromkeys(column for columns in COLUMNS.values() for column in columns), *ANY)
MOST_ROWS = 5000
MOST_FIGURE = 1e6
MOST_OF = {"free_length_mm": 5000.0, "solid_length_mm": 5000.0, "rate_n_per_mm": 1e5, "stock": 1e6}
FIGURE = re.compile(r"[+-]?[0-9]+(?:[.,][0-9]*)?(?:[eE][+-]?[0-9]{1,2})?|[+-]?[.,][0-9]+", re.ASCII)
THOUSANDS = re.compile(r"[0-9]{1,3}(?:,[0-9]{3})+", re.ASCII)
MOST_FAULTS = 20


@facts
class Row:
    """One part read from a table."""

    kind: str
    name: str
    stock: int
    price: str
    source: str
    values: dict[str, float]


@dataclass
class Reading:
    """What a table held: its rows, or every fault in it."""

    rows: list[Row] = field(default_factory=list)
    faults: list[str] = field(default_factory=list)


MOST_BYTES = 2_000_000


def read_shelf(data: bytes) -> Reading:
    """Return the parts in a CSV, or the faults that keep it from being taken in."""
    reading = Reading()
    if len(data) > MOST_BYTES:
        reading.faults.append(
            f"The file is {len(data) / 1e6:.1f} MB; a shelf is at most {MOST_BYTES / 1e6:.0f} MB. Split it."
        )
        return reading
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        reading.faults.append(f"The file is not text in UTF-8 (byte {error.start}). Save it as CSV UTF-8.")
        return reading
    lines = text.count("\n") + text.count("\r")
    if lines > 2 * MOST_ROWS:
        reading.faults.append(f"The file has {lines} lines; a shelf takes {MOST_ROWS}. Split it.")
        return reading
    try:
        delimiter = ";" if text.split("\n", 1)[0].count(";") > 2 else ","
        table = list(islice(csv.reader(io.StringIO(text), delimiter=delimiter), MOST_ROWS + 1))
    except csv.Error as error:
        reading.faults.append(f"The file is not a table: {error}. Save it as CSV again.")
        return reading
    if not table or not table[0]:
        reading.faults.append("The file is empty. Export the shelf first: its headings are the ones to use.")
        return reading
    headings = [heading.strip().lower() for heading in table[0]]
    missing = [heading for heading in ("kind", "name") if heading not in headings]
    if missing:
        reading.faults.append(
            f"Line 1: the heading {' and '.join(missing)} is missing. The exported shelf has them all."
        )
        return reading
    if len(table) > MOST_ROWS:
        reading.faults.append(f"The file has more than {MOST_ROWS} lines; a shelf takes no more. Split it.")
        return reading
    seen: dict[tuple[str, str], int] = {}
    for number, cells in enumerate(table[1:], start=2):
        if any(cell.strip() for cell in cells):
            texts = (cell.strip() for cell in cells)
            _read_row(dict(zip(headings, map(_unplain, texts), strict=False)), number, reading, seen)
        if len(reading.faults) >= MOST_FAULTS:
            break
    return reading


def _unplain(text: str) -> str:
    return as_it_was(text)


def _read_row(cells: dict[str, str], line: int, reading: Reading, seen: dict[tuple[str, str], int]) -> None:
    kind, name = cells.get("kind", "").lower().replace(" ", "_"), cells.get("name", "")
    before = len(reading.faults)
    if kind not in COLUMNS:
        reading.faults.append(
            f"Line {line}, kind: “{cells.get('kind', '')}” is none; write one of {', '.join(COLUMNS)}."
        )
        return
    if not name or not any(not c.isspace() and c.isprintable() for c in name):
        reading.faults.append(f"Line {line}, name: is empty; give the part a name.")
    if (kind, name) in seen:
        reading.faults.append(
            f"Line {line}, name: “{name}” stands on line {seen[kind, name]} already; use another name."
        )
    seen[kind, name] = line
    values = {}
    for column in (*COLUMNS[kind], *ANY):
        needed = column not in OPTIONAL or column in NEEDED_OF.get(kind, ())
        value = _number(cells.get(column, ""), column, line, reading, needed)
        if value is not None:
            values[column] = value
    stock = _number(cells.get("stock", "") or "0", "stock", line, reading)
    reading.faults += [f"Line {line}, {column}: {why}" for column, why in _crossed(kind, values)]
    if len(reading.faults) == before:
        reading.rows.append(
            Row(
                kind=kind,
                name=name[:120],
                stock=int(stock or 0),
                price=cells.get("price", "")[:60],
                source=cells.get("source", "")[:120],
                values=values,
            )
        )


def _number(text: str, column: str, line: int, reading: Reading, needed: bool = True) -> float | None:
    if not text:
        if needed:
            reading.faults.append(f"Line {line}, {column}: is empty; this kind of part needs it.")
        return None
    if THOUSANDS.fullmatch(text):
        reading.faults.append(
            f"Line {line}, {column}: “{text[:30]}” may be thousands or decimals; write {text.replace(',', '')} "
            f"or {text.replace(',', '.')}."
        )
        return None
    value = float(text.replace(",", ".")) if FIGURE.fullmatch(text) else math.nan
    if not math.isfinite(value):
        reading.faults.append(f"Line {line}, {column}: “{text[:30]}” is not a number.")
        return None
    most = MOST_OF.get(column, MOST_FIGURE)
    if value > most:
        reading.faults.append(f"Line {line}, {column}: {text[:30]} is more than {most:g}, which no part has.")
        return None
    if column == "stock" and value != int(value):
        reading.faults.append(f"Line {line}, stock: is a count of whole parts, got {text[:30]}.")
        return None
    if value < 0 or (value == 0 and column not in OPTIONAL | {"stock"}):
        reading.faults.append(f"Line {line}, {column}: must be more than zero, got {text[:30]}.")
        return None
    return value


def _crossed(kind: str, values: dict[str, float]) -> list[tuple[str, str]]:
    """Return what two columns of one part say against one another."""
    pairs = {
        "coil": ("solid_length_mm", "free_length_mm"),
        "damper": ("compressed_mm", "extended_mm"),
        "bag": ("min_height_mm", "max_height_mm"),
        "bump_stop": ("squash_mm", "height_mm"),
        "tube": ("wall_mm", "outside_mm"),
    }
    if kind in pairs and all(column in values for column in pairs[kind]):
        less, more = pairs[kind]
        if values[less] >= values[more]:
            return [(less, f"must be less than {more} ({values[more]:g}), got {values[less]:g}.")]
    return []


def write_shelf(parts: list[Any]) -> str:
    """Return parts as CSV with all headings, so that it can be read back and added to."""
    out = io.StringIO()
    writer = csv.DictWriter(out, fieldnames=HEADINGS, lineterminator="\n", restval="")
    writer.writeheader()
    for part in parts:
        row: dict[str, Any] = {"kind": part.kind, "name": as_text(part.name), "stock": part.stock}
        row |= {"price": as_text(part.price), "source": as_text(part.source)}
        writer.writerow(row | {column: _figure(value) for column, value in part.values.items()})
    return out.getvalue()


def _figure(value: float) -> str:
    """Return a figure with all that is known of it, so that out and in again is the same."""
    return repr(float(value)).removesuffix(".0")
