"""What was found on the floor as a table, out and in: a row a length read, a scale, a height, a setting, a drive."""

import hashlib
from decimal import Decimal
from typing import Any

from engine.errors import DocumentRefused
from server.jobs.models import Job
from server.records.actions.survey import Values, check_item, put_item
from server.records.actions.tables import BadTable, rows_of
from server.tables import table

HEAD = ["when", "by", "kind", "station", "what", "wheel mm", "value", "unit", "note"]
MOST_ROWS, MOST_FAULTS = 5000, 12
TOUCHED = "touched: "
HOW = {"springs_out": "springs out", "tyre_on": "tyre on", "torqued": "bushes torqued at ride"}
USED = {"used_bump": "bump used", "used_droop": "droop used"}
YES = ("yes", "true", "1", "x")


def records_table(records: list[Values]) -> str:
    """Return records as CSV; lengths in mm, masses in kg, pressures in bar."""
    rows = [row for record in records for row in _rows(record)]
    return table(HEAD, [[_fine(cell) for cell in row] for row in rows])


def _fine(cell: object) -> object:
    """Return a figure to a thousandth: what was read comes back as it was."""
    if isinstance(cell, int | float) and not isinstance(cell, bool):
        return Decimal(f"{cell:.3f}").normalize() + Decimal(0)
    return cell


def _rows(record: Values) -> list[list[object]]:
    """Return one record as rows of the table."""
    kind, note = record.get("kind", ""), record.get("note") or ""
    first = [record.get("when", ""), record.get("by") or "", kind]
    station = record.get("station") or ""
    match kind:
        case "cycle":
            found: list[list[object]] = [
                [*first, station, unit, row.get("wheel", row.get("height")), float(long), "mm", note]
                for row in record.get("rows", [])
                for unit, long in row.get("lengths", {}).items()
            ]
            found += [
                [*first, station, f"{TOUCHED}{one['what']}", one.get("wheel"), one.get("gap"), "mm", ""]
                for one in record.get("contacts", [])
            ]
            flags: list[list[object]] = [
                [*first, station, words, None, "yes", "", note]
                for key, words in HOW.items()
                if record.get(key)
            ]
            return [*flags, *found] or [[*first, station, "no rows", None, None, "", note]]
        case "weigh":
            loaded = record.get("with") or note
            raised = record.get("raised")
            up = (
                [[*first, raised["end"], "raised", None, float(raised["by"]), "mm", loaded]] if raised else []
            )
            scales = [
                [*first, key, "scale", None, float(its), "kg", loaded]
                for key, its in record.get("wheels", {}).items()
            ]
            heights = [
                [*first, key, "height", None, float(its), "mm", loaded]
                for key, its in record.get("heights", {}).items()
            ]
            return [*up, *scales, *heights]
        case "setting":
            unit = "bar" if record.get("what") == "pressure" else "mm"
            return [
                [
                    *first,
                    station,
                    f"{record.get('what')}, {key}",
                    None,
                    record[key],
                    "" if key == "turns" else unit,
                    note,
                ]
                for key in ("from", "to", "turns")
                if record.get(key) is not None
            ] or [[*first, station, f"{record.get('what')}, to", None, None, unit, note]]
        case "drive":
            used: list[list[object]] = [
                [*first, station, words, None, record[key], "mm", note]
                for key, words in USED.items()
                if record.get(key) is not None
            ]
            used += [[*first, station, "drove well", None, "yes", "", note]] if record.get("good") else []
            return used or [[*first, station, "remark", None, None, "", note]]
        case "gate":
            return [[*first, station, record.get("name"), None, record.get("initials"), "", note]]
        case "caution":
            return [[*first, station, record.get("what"), None, "yes", "", note]]
        case "made":
            return [[*first, station, record.get("part"), None, record.get("count"), "", note]]
        case "ordered":
            return [[*first, station, record.get("what"), None, record.get("due"), "", note]]
        case "came":
            return [[*first, station, record.get("what"), None, "yes", "", note]]
        case "confirmed":
            return [[*first, station, record.get("step"), None, record.get("initials"), "", note]]
    return [[*first, station, record.get("of"), None, record.get("value"), record.get("unit", ""), note]]


def take_records(user: Any, job: Job, data: bytes) -> int:
    """Store the records of a table, one that is there already once; return how many; raise BadTable, and store nothing."""
    found = records_in(data)
    have = {_sum(item.body) for item in job.survey_items.filter(kind="record", gone=False)}
    fresh = [record for record in found if _sum(record) not in have]
    for record in fresh:
        put_item(user, job, "record", f"table-{_sum(record)}", record)
    return len(fresh)


def _sum(record: Values) -> str:
    """Return what tells one record from another: all that the table says of it."""
    text = "\n".join(
        ",".join(str(_fine(cell)) for cell in [row[0], *row[2:]]) for row in _rows(_plain(record))
    )
    return hashlib.sha256(text.encode()).hexdigest()[:24]


def _plain(record: Any) -> Any:
    """Return a record with its figures as floats, so that 110 and 110.0 are one."""
    if isinstance(record, dict):
        return {key: _plain(value) for key, value in record.items()}
    if isinstance(record, list):
        return [_plain(one) for one in record]
    return float(record) if isinstance(record, int) and not isinstance(record, bool) else record


def records_in(data: bytes) -> list[Values]:
    """Return the records of a table, checked, in its order; raise BadTable naming each row that is none."""
    gathered: Gathered = {}
    faults: list[str] = []
    for number, cells in rows_of(data, HEAD, {"when", "kind", "what", "value"}, "records", MOST_ROWS):
        try:
            _gather(gathered, {key: value.removeprefix("'") for key, value in cells.items()}, number)
        except BadTable as error:
            faults.append(f"Row {number}: {error}")
    for key, record in gathered.items():
        try:
            check_item("record", "", record)
        except DocumentRefused as refused:
            faults += [
                f"The {record['kind']} of {key[1]}: {one.path} {one.message}".strip()
                for one in refused.faults
            ]
    if faults:
        more = f" And {len(faults) - MOST_FAULTS} more." if len(faults) > MOST_FAULTS else ""
        raise BadTable(" ".join(faults[:MOST_FAULTS]) + more)
    if not gathered:
        raise BadTable("The table holds no records.")
    return list(gathered.values())


Gathered = dict[tuple[str, ...], Values]


def _gather(gathered: Gathered, cells: dict[str, str], number: int) -> None:
    """Add a row to the record that it belongs to: rows of one moment and station make one cycle or weigh-in."""
    kind, when, station = (cells.get(name, "") for name in ("kind", "when", "station"))
    if not when:
        raise BadTable("it says no time in “when”; write it as 2026-05-01T09:30:00.")
    own: Values = {"when": when, "kind": kind}
    own |= {"by": cells["by"]} if cells.get("by") else {}
    own |= {"station": station} if station and kind != "weigh" else {}
    if kind in GATHERS:
        GATHERS[kind](gathered, cells, own)
    elif kind == "gate":
        gathered[kind, when, str(number)] = {
            **own,
            "name": cells.get("what", ""),
            "initials": cells.get("value", ""),
        }
    elif kind == "caution":
        gathered[kind, when, str(number)] = {**own, "what": cells.get("what", ""), **_note(cells)}
    elif kind in ("made", "ordered", "came", "confirmed"):
        value = cells.get("value", "")
        gathered[kind, when, str(number)] = {
            **own,
            **_of_step(kind, cells.get("what", ""), value),
            **_note(cells),
        }
    elif kind == "reading":
        figure = _number(cells.get("value", ""), "value")
        gathered[kind, when, str(number)] = {
            **own,
            "of": cells.get("what", ""),
            "value": figure,
            "unit": cells.get("unit", ""),
            **_note(cells),
        }
    else:
        raise BadTable(
            f"“{kind[:40]}” is no kind of record; take cycle, weigh, setting, reading, drive, gate, caution, made, ordered, came or confirmed."
        )


def _of_step(kind: str, what: str, value: str) -> Values:
    """Return what a row says of a part made, something ordered or come, or a person's word."""
    if kind == "made":
        return {"part": what} | ({"count": int(_number(value, "value"))} if value else {})
    if kind == "ordered":
        return {"what": what} | ({"due": value} if value else {})
    return {"what": what} if kind == "came" else {"step": what, "initials": value}


def _note(cells: dict[str, str]) -> Values:
    return {"note": cells["note"]} if cells.get("note") else {}


def _gather_cycle(gathered: Gathered, cells: dict[str, str], own: Values) -> None:
    what = cells.get("what", "")
    new = {**own, "rows": [], "contacts": [], **_note(cells)}
    record = gathered.setdefault(("cycle", own["when"], cells.get("station", "")), new)
    flag = next((key for key, words in HOW.items() if words == what), None)
    if flag is not None:
        record[flag] = cells.get("value", "").lower() in YES
    elif what.startswith(TOUCHED):
        contact: Values = {"what": what.removeprefix(TOUCHED)}
        for key, column in (("wheel", "wheel mm"), ("gap", "value")):
            if cells.get(column):
                contact[key] = _number(cells[column], column)
        record["contacts"].append(contact)
    elif what != "no rows":
        wheel_mm = _number(cells.get("wheel mm", ""), "wheel mm")
        last = record["rows"][-1] if record["rows"] else None
        if last is None or last["wheel"] != wheel_mm or what in last["lengths"]:
            last = {"wheel": wheel_mm, "lengths": {}}
            record["rows"].append(last)
        last["lengths"][what] = _number(cells.get("value", ""), "value")


def _gather_weigh(gathered: Gathered, cells: dict[str, str], own: Values) -> None:
    what, station = cells.get("what", ""), cells.get("station", "")
    new = {**own, "wheels": {}, "heights": {}} | ({"with": cells["note"]} if cells.get("note") else {})
    record = gathered.setdefault(("weigh", own["when"]), new)
    figure = _number(cells.get("value", ""), "value")
    if what == "raised":
        record["raised"] = {"end": station, "by": figure}
    elif what in ("scale", "height"):
        record["wheels" if what == "scale" else "heights"][station] = figure
    else:
        raise BadTable(f"a weigh-in has a scale or a height, not “{what[:40]}”.")


def _gather_setting(gathered: Gathered, cells: dict[str, str], own: Values) -> None:
    what = cells.get("what", "")
    thing, _, part = what.rpartition(", ")
    if part not in ("from", "to", "turns"):
        raise BadTable(f"a setting is “perch, to”, “perch, from” or “perch, turns”, not “{what[:40]}”.")
    key = ("setting", own["when"], cells.get("station", ""), thing)
    record = gathered.setdefault(key, {**own, "what": thing, **_note(cells)})
    if cells.get("value"):
        record[part] = _number(cells["value"], "value")


def _gather_drive(gathered: Gathered, cells: dict[str, str], own: Values) -> None:
    what = cells.get("what", "")
    record = gathered.setdefault(("drive", own["when"], cells.get("station", "")), {**own, **_note(cells)})
    used = next((key for key, words in USED.items() if words == what), None)
    if what == "drove well":
        record["good"] = cells.get("value", "").lower() in YES
    elif used is not None and cells.get("value"):
        record[used] = _number(cells["value"], "value")


GATHERS = {"cycle": _gather_cycle, "weigh": _gather_weigh, "setting": _gather_setting, "drive": _gather_drive}


def _number(text: str, column: str) -> float:
    try:
        return float(text.replace(",", ".").replace("−", "-"))
    except ValueError as error:
        raise BadTable(f"“{text[:40]}” in “{column}” is no number.") from error
