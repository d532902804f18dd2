"""Readings as a table, out and in: a row a reading, its places, its values one after another."""

import csv
import io
from typing import Any

from engine.errors import DocumentRefused, Fault
from server.records.actions.survey import check_item
from server.records.actions.tables import BadTable, rows_of
from server.tables import as_it_was, as_text

Values = dict[str, Any]
HEAD = ["kind", "first", "second", "third", "seen", "tool", "values", "note", "left_out"]
MOST_ROWS, MOST_FAULTS = 3000, 20
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
                *[as_text(place) for place in (*places, "", "", "")[:3]],
                reading.get("seen", ""),
                as_text(reading.get("tool") or ""),
                " ".join(f"{value:g}" for value in reading.get("values", [])),
                as_text(reading.get("note") or ""),
                "yes" if reading.get("left_out") else "",
            ]
        )
    return out.getvalue()


def readings_in(data: bytes) -> list[Values]:
    """Return the readings of a CSV, checked; raise DocumentRefused naming each row that is none."""
    found: list[Values] = []
    faults: list[Fault] = []
    try:
        for number, cells in rows_of(data, HEAD, {"kind", "first", "values"}, "readings", MOST_ROWS):
            try:
                reading = _reading(cells)
                check_item("reading", "", reading)
                found.append(reading)
            except DocumentRefused as refused:
                faults += [
                    Fault(f"row {number}", f"{one.path} {one.message}".strip()) for one in refused.faults
                ]
    except BadTable as error:
        raise _refused(str(error)) from error
    if faults:
        raise DocumentRefused(faults[:MOST_FAULTS])
    if not found:
        raise _refused("The table holds no readings.")
    return found


def _reading(cells: dict[str, str]) -> Values:
    kind = cells.get("kind", "")
    places = [as_it_was(cells.get(name, "")) for name in ("first", "second", "third")]
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
            reading[name] = as_it_was(cells[name])
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
