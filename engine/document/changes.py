"""What differs between two documents, in the words of the job: every leaf, with what it measures."""

from collections.abc import Iterator
from typing import Any

from engine.document.meaning import PROJECT, STATION, Slot

Values = dict[str, Any]
Leaf = tuple[tuple[str, ...], Any, Any, str | None]


def changes_between(before: Values, after: Values) -> list[Values]:
    """Return every difference: station, what (kind of change), subject, both values, what they measure.

    Points come as [x, y, z] in mm; a value that is not there is null; station is empty for what is the whole job's.
    """
    found: list[Values] = []
    rest = [{key: value for key, value in one.items() if key != "stations"} for one in (before, after)]
    for leaf in _leaves(rest[0], rest[1], PROJECT, ()):
        found.append(_difference("", leaf))
    old = {station["name"]: station for station in before.get("stations", [])}
    new = {station["name"]: station for station in after.get("stations", [])}
    for name in [*old, *(n for n in new if n not in old)]:
        if name not in new or name not in old:
            what = "station removed" if name not in new else "station added"
            found.append(_change(name, what, name, name in old or None, name in new or None, None))
            continue
        for leaf in _leaves(old[name], new[name], STATION, ()):
            found.append(_difference(name, leaf))
    return found


def _difference(station: str, leaf: Leaf) -> Values:
    path, one, other, measures = leaf
    if path[0] == "points" and len(path) == 2:
        return _change(station, "point", path[1], one, other, measures)
    if path == ("name",):
        return _change(station, "name", "job", one, other, None)
    named = [part for part in path if not part.startswith("[")]
    key = named[-1] if path[-1].startswith("[") is False else f"{named[-1]}, {_row(path)}"
    return _change(station, key, " · ".join(path[:-1]) or key, one, other, measures)


def _row(path: tuple[str, ...]) -> str:
    """Say which row and column of a table a leaf is."""
    numbers = [part.strip("[]") for part in path if part.startswith("[")]
    return f"row {numbers[-2]}, column {numbers[-1]}" if len(numbers) > 1 else f"number {numbers[-1]}"


def _change(station: str, what: str, subject: str, before: Any, after: Any, measures: str | None) -> Values:
    return {
        "station": station,
        "what": what,
        "subject": subject,
        "before": before,
        "after": after,
        "measures": measures,
    }


def _leaves(old: Any, new: Any, slot: Slot, path: tuple[str, ...]) -> Iterator[Leaf]:
    """Yield each leaf that differs, with the names along the way and what it measures."""
    if old == new:
        return
    here = old if isinstance(old, dict | list) else new
    if isinstance(old, dict) or isinstance(new, dict):
        one, other = (value if isinstance(value, dict) else {} for value in (old, new))
        for key in dict.fromkeys([*one, *other]):
            yield from _leaves(one.get(key), other.get(key), slot.below(str(key), here), (*path, str(key)))
    elif slot.columns and isinstance(old, list) and isinstance(new, list):
        yield from _cells(old, new, slot.columns, path)
    elif isinstance(here, list) and any(isinstance(x, dict) for x in [*(old or []), *(new or [])]):
        one, other = (_named(value if isinstance(value, list) else []) for value in (old, new))
        for key in dict.fromkeys([*one, *other]):
            yield from _leaves(one.get(key), other.get(key), slot.below(0, here), (*path, key))
    else:
        numbers = all(_numeric(value) for value in (old, new))
        yield path, old, new, slot.measures if numbers else None


def _cells(old: list[Any], new: list[Any], columns: tuple[str, ...], path: tuple[str, ...]) -> Iterator[Leaf]:
    """Yield each cell of a table that differs."""
    for row in range(max(len(old), len(new))):
        one, other = (table[row] if row < len(table) else [] for table in (old, new))
        for column in range(max(len(one), len(other))):
            a, b = (cells[column] if column < len(cells) else None for cells in (one, other))
            if a != b:
                measures = columns[column] if column < len(columns) else None
                yield (*path, f"[{row + 1}]", f"[{column + 1}]"), a, b, measures


def _numeric(value: Any) -> bool:
    if isinstance(value, list):
        return all(_numeric(item) for item in value)
    return value is None or (isinstance(value, int | float) and not isinstance(value, bool))


def _named(items: list[Any]) -> dict[str, Any]:
    """Key a list's items by their names, or by their numbers where they have none."""
    return {
        (item["name"] if isinstance(item, dict) and "name" in item else f"[{number + 1}]"): item
        for number, item in enumerate(items)
    }
