"""Left and right that do the same are said once.

Alike   the same kind about things that are one another's mirror image on an axle, with the same mark, every number
        within the shop's own limit for left against right.
Stem    what both are called without their side: bump_stop_left and bump_stop_right are the bump stop, both sides.
"""

import re
from collections.abc import Sequence
from dataclasses import replace

from engine.document.schema import Station
from engine.document.sides import image_of_point, image_of_unit
from engine.findings.finding import Finding, Rules
from engine.limits.ledger import LedgerEvent
from engine.sentences import Quantity, Sentence

SHARE = 0.02  # of a share, a ratio, a rate or a pressure: less is the same at the bench
SIDE = re.compile(r"[\s_\-.]*\b(left|right)\b[\s_\-.]*|_(left|right)(?=_|$)|^(left|right)_", re.IGNORECASE)


def said_once(station: Station, findings: Sequence[Finding], rules: Rules) -> list[Finding]:
    """Return the findings with those of like sides as one, in their order."""
    if station.kind != "axle":
        return list(findings)
    found: list[Finding] = []
    gone: set[int] = set()
    for k, one in enumerate(findings):
        if k in gone:
            continue
        twin = next(
            (n for n in range(k + 1, len(findings)) if _alike(station, one, findings[n], rules)), None
        )
        if twin is None:
            found.append(one)
        else:
            gone.add(twin)
            found.append(_both(station, one, findings[twin]))
    return found


def called_alike(
    station: Station, event: LedgerEvent, events: Sequence[LedgerEvent], rules: Rules
) -> tuple[str, ...]:
    """Return what an event's subjects are called: both sides together where the other side's comes alike."""
    if station.kind == "axle" and any(_images(station, event, other, rules) for other in events):
        return tuple(both_called(name, image_of(station, name) or name) for name in event.subjects)
    return event.subjects


def events_once(station: Station, events: Sequence[LedgerEvent], rules: Rules) -> list[LedgerEvent]:
    """Return one way's events with those of like sides as one, at the travel that is met first."""
    if station.kind != "axle":
        return list(events)
    found: list[LedgerEvent] = []
    for event in events:
        twin = next((k for k, other in enumerate(found) if _images(station, event, other, rules)), None)
        if twin is None:
            found.append(event)
        else:
            names = tuple(
                both_called(a, b) for a, b in zip(found[twin].subjects, event.subjects, strict=True)
            )
            found[twin] = replace(found[twin], subjects=names)
    return found


def _images(station: Station, one: LedgerEvent, other: LedgerEvent, rules: Rules) -> bool:
    """Return whether two events are one another's mirror image, met within what left and right may differ."""
    return (
        one.kind is other.kind
        and bool(one.subjects)
        and other.subjects == tuple(image_of(station, name) for name in one.subjects)
        and abs(other.travel - one.travel) <= rules.sides_mm[0]
    )


def image_of(station: Station, name: str) -> str | None:
    """Return the mirror image of a unit, a point, or a part named for its side; None where there is none."""
    if any(unit.name == name for unit in station.units):
        return image_of_unit(station, name)
    if name in station.points:
        return image_of_point(station, name)
    return _other_side(name)


def both_called(one: str, other: str) -> str:
    """Return what two sides are called together."""
    stem = SIDE.sub(lambda found: " " if found.start() and found.end() < len(one) else "", one)
    same = stem == SIDE.sub(lambda found: " " if found.start() and found.end() < len(other) else "", other)
    return f"{stem} (both sides)" if same and stem and stem != one else f"{one} and {other}"


def _other_side(name: str) -> str | None:
    swap = {"left": "right", "right": "left", "Left": "Right", "Right": "Left"}
    other = re.sub(r"left|right", lambda word: swap.get(word[0], word[0]), name, flags=re.IGNORECASE)
    return None if other == name else other


def _alike(station: Station, one: Finding, other: Finding, rules: Rules) -> bool:
    if one.kind is not other.kind or one.mark != other.mark or not one.subjects:
        return False
    if other.subjects != tuple(image_of(station, name) for name in one.subjects):
        return False
    if one.what.words != other.what.words or one.what.quantities.keys() != other.what.quantities.keys():
        return False
    pairs = [(q, other.what.quantities[key]) for key, q in one.what.quantities.items()]
    return all(_near(a, b, rules) for a, b in pairs)


def _near(one: Quantity, other: Quantity, rules: Rules) -> bool:
    apart = abs(one.value - other.value)
    if one.measures in ("length", "travel"):
        return apart <= rules.sides_mm[0]
    if one.measures == "angle":
        return apart <= rules.sides_deg[0]
    return apart <= SHARE * max(abs(one.value), abs(other.value))


def _both(station: Station, one: Finding, other: Finding) -> Finding:
    """Return two like findings as one: about both, told with the numbers of the one that has least left."""
    worse = one
    if one.value is not None and other.value is not None and one.limit is not None:
        below = one.value < one.limit or one.mark == "good"
        worse = min(one, other, key=lambda f: (f.value or 0.0) * (1 if below else -1))
    names = []
    for name in worse.what.names:
        image = image_of(station, name)
        names.append(name if image is None or image == name else both_called(name, image))
    told = Sentence(worse.what.words, worse.what.quantities, tuple(names))
    return replace(worse, what=told, subjects=(*one.subjects, *other.subjects))
