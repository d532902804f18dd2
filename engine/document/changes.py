"""What differs between two documents, in the words of the job."""

from collections.abc import Iterator
from typing import Any

Values = dict[str, Any]

MEASURES = {
    "rate": "rate",
    "gas_force": "force",
    "corner": "mass",
    "unsprung": "mass",
    "pressure": "pressure",
    "max_pressure": "pressure",
    "stretch": "share",
    "law": "ratio",
}
LENGTHS = {
    "extended", "compressed", "preload", "free_length", "solid_length", "stop", "length", "contact", "solid",
    "tyre_radius", "tyre_width", "bump", "droop", "min_height", "max_height", "max_diameter",
}  # fmt: skip


def changes_between(before: Values, after: Values) -> list[Values]:
    """Return every difference: station, what (kind of change), subject, both values, what they measure.

    Points come as [x, y, z] in mm; a value that is not there is null.
    """
    found: list[Values] = []
    if before.get("name") != after.get("name"):
        found.append(_change("", "name", "job", before.get("name"), after.get("name"), None))
    old = {station["name"]: station for station in before.get("stations", [])}
    new = {station["name"]: station for station in after.get("stations", [])}
    for name in [*old, *(n for n in new if n not in old)]:
        if name not in new or name not in old:
            what = "station removed" if name not in new else "station added"
            found.append(_change(name, what, name, name in old or None, name in new or None, None))
        else:
            found += _station_changes(name, old[name], new[name])
    return found


def _change(station: str, what: str, subject: str, before: Any, after: Any, measures: str | None) -> Values:
    return {
        "station": station,
        "what": what,
        "subject": subject,
        "before": before,
        "after": after,
        "measures": measures,
    }


def _station_changes(station: str, old: Values, new: Values) -> Iterator[Values]:
    for point in dict.fromkeys([*old["points"], *new["points"]]):
        one, other = old["points"].get(point), new["points"].get(point)
        if one != other:
            yield _change(station, "point", point, one, other, "length")
    rest_old = {key: value for key, value in old.items() if key != "points"}
    rest_new = {key: value for key, value in new.items() if key != "points"}
    for path, one, other in _leaves(rest_old, rest_new, ()):
        key = next((part for part in reversed(path) if not part.startswith("[")), "")
        measures = "length" if key in LENGTHS else MEASURES.get(key)
        numbers = all(value is None or isinstance(value, int | float) for value in (one, other))
        yield _change(station, key, " · ".join(path[:-1]) or key, one, other, measures if numbers else None)


def _leaves(old: Any, new: Any, path: tuple[str, ...]) -> Iterator[tuple[tuple[str, ...], Any, Any]]:
    """Yield each leaf that differs, with the names along the way."""
    if old == new:
        return
    if isinstance(old, dict) or isinstance(new, dict):
        one, other = (value if isinstance(value, dict) else {} for value in (old, new))
        for key in dict.fromkeys([*one, *other]):
            yield from _leaves(one.get(key), other.get(key), (*path, str(key)))
    elif isinstance(old, list) and isinstance(new, list) and any(isinstance(x, dict) for x in [*old, *new]):
        one, other = (_named(value) for value in (old, new))
        for key in dict.fromkeys([*one, *other]):
            yield from _leaves(one.get(key), other.get(key), (*path, key))
    else:
        yield path, old, new


def _named(items: list[Any]) -> dict[str, Any]:
    """Key a list's items by their names, or by their numbers where they have none."""
    return {
        (item["name"] if isinstance(item, dict) and "name" in item else f"[{number + 1}]"): item
        for number, item in enumerate(items)
    }
