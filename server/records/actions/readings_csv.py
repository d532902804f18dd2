"""Readings as a table, out and in: a row a reading, its places, its values one after another."""

import csv
import io
from typing import Any

from engine.errors import DocumentRefused, Fault
from server.records.actions.survey import check_item

Values = dict[str, Any]
HEAD = ["kind", "first", "second", "third", "seen", "tool", "values", "note", "left_out"]
MOST_BYTES, MOST_ROWS, MOST_FAULTS = 2_000_000, 3000, 20
PLACES = {
    "distance": "between",
    "floor_distance": "between",
    "rise": "between",
    "slope": "along",
    "mirrored": "pair",
}


def csv_of(survey: Values) -> str:
    """Return a survey's readings as CSV; lengths in mm, angles in degrees."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(HEAD)
    for reading in survey.get("readings") or []:
        places = (
            [reading["of"]]
            if "of" in reading
            else list(reading.get(PLACES.get(reading["kind"], "between"), []))
        )
        places = [reading["at"], *places] if "at" in reading else places
        writer.writerow(
            [
                reading["kind"],
                *[_safe(place) for place in (*places, "", "", "")[:3]],
                reading.get("seen", ""),
                _safe(reading.get("tool") or ""),
                " ".join(f"{value:g}" for value in reading.get("values", [])),
                _safe(reading.get("note") or ""),
                "yes" if reading.get("left_out") else "",
            ]
        )
    return out.getvalue()


def _safe(text: str) -> str:
    """Keep a spreadsheet from reading a name as a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def readings_in(data: bytes) -> list[Values]:
    """Return the readings of a CSV, checked; raise DocumentRefused naming each row that is none."""
    if len(data) > MOST_BYTES:
        raise _refused(
            f"The table is {len(data) / 1e6:.1f} MB; readings are at most {MOST_BYTES / 1e6:.0f} MB."
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise _refused(
            f"The table is not text in UTF-8 (byte {error.start}). Export it again as CSV."
        ) from error
    rows = csv.DictReader(io.StringIO(text, newline=""), dialect=_dialect(text))
    if rows.fieldnames is None or not {"kind", "first", "values"} <= {
        str(name).strip() for name in rows.fieldnames
    }:
        raise _refused(f"The first row must name the columns: {', '.join(HEAD)}.")
    found: list[Values] = []
    faults: list[Fault] = []
    try:
        for number, row in enumerate(rows, start=2):
            if number > MOST_ROWS + 1:
                raise _refused(f"The table has more than {MOST_ROWS} rows. Take in a part of it at a time.")
            cells = {
                str(key).strip(): (value or "").strip()
                for key, value in row.items()
                if isinstance(value, str)
            }
            if not any(cells.values()):
                continue
            try:
                reading = _reading(cells)
                check_item("reading", "", reading)
                found.append(reading)
            except DocumentRefused as refused:
                faults += [
                    Fault(f"row {number}", f"{one.path} {one.message}".strip()) for one in refused.faults
                ]
    except csv.Error as error:
        raise _refused(f"The table cannot be read: {error}. Export it again as CSV.") from error
    if faults:
        raise DocumentRefused(faults[:MOST_FAULTS])
    if not found:
        raise _refused("The table holds no readings.")
    return found


def _dialect(text: str) -> type[csv.Dialect]:
    first = text.split("\n", 1)[0]

    class Table(csv.excel):
        delimiter = max(",;\t", key=first.count)

    return Table


def _reading(cells: dict[str, str]) -> Values:
    kind = cells.get("kind", "")
    places = [cells.get(name, "").removeprefix("'") for name in ("first", "second", "third")]
    reading: Values = {"kind": kind}
    if kind in PLACES:
        reading[PLACES[kind]] = places[:2]
    elif kind == "angle":
        reading |= {"at": places[0], "between": places[1:]}
    else:
        reading["of"] = places[0]
    if kind != "mirrored":
        reading["values"] = [_number(text) for text in cells.get("values", "").replace(";", " ").split()]
    for name in ("seen", "tool", "note"):
        if cells.get(name):
            reading[name] = cells[name].removeprefix("'")
    if cells.get("left_out", "").lower() in ("yes", "true", "1"):
        reading["left_out"] = True
    return reading


def _number(text: str) -> float:
    """Return a number as written; a comma is a decimal comma."""
    try:
        return float(text.replace(",", "."))
    except ValueError as error:
        raise DocumentRefused(
            [Fault("values", f'must be numbers in mm or degrees, got "{text[:40]}"')]
        ) from error


def _refused(sentence: str) -> DocumentRefused:
    return DocumentRefused([Fault("", sentence)])
