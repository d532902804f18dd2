"""Springs, dampers, stops and straps for a draft, so that it stands as drawn and takes its whole travel.

Each is sized from the draft's own solved lengths and ratios: the same engine that judges the result.
"""

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.schema import Station
from engine.errors import EngineError
from engine.facts import facts
from engine.layouts.layout import Brief, Draft, Values
from engine.linkage.vectors import Array
from engine.sentences import spoken
from engine.station.equilibrium import wheel_rate_for
from engine.station.solved import mover_of

ENDS_MM = 7.0  # what the damper keeps free past bump stop and strap
STRETCH = 0.02
GAS_N = 110.0
SEAT_MM = 5.0  # a coil keeps at least so much squeeze at full droop
SPARE_SHARE = 0.16  # of a coil's travel, left at full bump
BAR = 4.2
RATED_BAR = 8.5
ROWS = 25


class TravelOutOfReach(EngineError, ValueError):
    """A starting linkage that cannot take the travel wanted of it."""

    code = "travel_out_of_reach"

    def __init__(self, low_mm: float, high_mm: float) -> None:
        self.low_mm, self.high_mm = low_mm, high_mm
        super().__init__(f"its linkage only reaches {low_mm:+.0f} to {high_mm:+.0f} mm of travel")


@facts
class Measured:
    """One unit over the wanted travel: length as drawn, shortest, longest (mm), ratio and its slope as drawn."""

    drawn: float
    shortest: float
    longest: float
    ratio: float
    slope: float


def fitted(draft: Draft, brief: Brief) -> Values:
    """Return a station's values with units chosen for the brief."""
    values = _bare(draft, brief)
    measured = _measured(values, draft)
    units: list[Values] = []
    weight = (brief.corner_mass - brief.unsprung_mass) * GRAVITY_M_PER_S2
    for name, ends in draft.carries.items():
        apart = Apart(draft.straps[name], measured[f"strap of {name}"]) if name in draft.straps else None
        units += _coilover(name, ends, measured[name], brief, weight, apart, draft.extra.get("adapter"))
    for name, ends in draft.springs.items():
        units.append(_spring(name, ends, measured[name], brief, weight))
    for name, ends in draft.bags.items():
        units.append(_bag(name, ends, measured[name], weight))
    for name, ends in draft.dampers.items():
        units += _damper(name, ends, measured[name], weight)
    return values | {"units": units} | {k: v for k, v in draft.extra.items() if k != "adapter"}


def _bare(draft: Draft, brief: Brief) -> Values:
    return {
        "name": draft.name,
        "kind": draft.kind,
        "points": {name: [round(c, 4) for c in place] for name, place in draft.points.items()},
        "hints": draft.hints,
        "chassis": draft.chassis,
        "bodies": draft.bodies,
        "wheels": draft.wheels,
        "mass": {"corner": brief.corner_mass, "unsprung": brief.unsprung_mass},
        "travel": {"bump": brief.bump, "droop": brief.droop},
    }


def _measured(values: Values, draft: Draft) -> dict[str, Measured]:
    """Solve the bare linkage and measure between the ends of every unit to come."""
    every = draft.carries | draft.springs | draft.bags | draft.dampers
    every |= {f"strap of {name}": ends for name, ends in draft.straps.items()}
    trial = values | {"units": [_ruler(name, ends) for name, ends in every.items()]}
    extra = {key: draft.extra[key] for key in ("sliders",) if key in draft.extra}
    return _between(Station.model_validate(trial | extra))


def _ruler(name: str, ends: Sequence[str]) -> Values:
    """Return what is measured between two places with: a damper of any length."""
    return {"name": name, "ends": list(ends), "kind": "damper", "extended": 4999.0, "compressed": 1.0}


def _between(station: Station) -> dict[str, Measured]:
    """Return what is between the ends of a station's units over its wanted travel; raise TravelOutOfReach."""
    travel = station.travel
    travels = np.unique(np.append(np.linspace(-travel.droop, travel.bump, ROWS), 0.0))
    mover = mover_of(station, travels=travels)
    path = mover.path
    if not path.reached.all():
        reached = travels[path.reached]
        raise TravelOutOfReach(float(reached.min(initial=0.0)), float(reached.max(initial=0.0)))
    rows = mover.along
    zero = int(np.abs(travels).argmin())
    found = {}
    for name, trace in rows.units.items():
        lengths: Array = trace.length[path.reached]
        found[name] = Measured(
            drawn=float(trace.length[zero]),
            shortest=float(lengths.min()),
            longest=float(lengths.max()),
            ratio=float(trace.motion_ratio[zero]),
            slope=float(trace.ratio_slope[zero]),
        )
    return found


KINDS = ("coilover", "spring", "damper", "air_spring", "bump_stop", "strap")
LEAST_RATIO = 0.05  # mm between two places for a mm of wheel: less moves nothing that is fitted there


class NothingMoves(EngineError, ValueError):
    """A unit asked for between two places that a wheel's travel leaves as far apart as they are."""

    code = "nothing_moves"

    def __init__(self, one: str, other: str, moves_mm: float) -> None:
        self.one, self.other, self.moves_mm = one, other, moves_mm
        super().__init__(
            f"Between {spoken(one)} and {spoken(other)} only {moves_mm:.1f} mm change over the whole travel: "
            "choose one place on what moves with the wheel and one that it moves against."
        )


def first_unit(station: Station, kind: str, ends: tuple[str, str], name: str, frequency: float) -> Values:
    """Return a unit of a kind between two places, sized for the travel and to carry the wheel by itself.

    frequency : Hz, that a spring is to give
    Raises NothingMoves where nothing moves between them, TravelOutOfReach, and the engine's refusals of the linkage.
    """
    values = station.model_dump(exclude_unset=True) | {"units": [_ruler(name, ends)]}
    m = _between(Station.model_validate(values))[name]
    if m.longest - m.shortest < 1.0 or abs(m.ratio) < LEAST_RATIO:
        raise NothingMoves(*ends, m.longest - m.shortest)
    brief = Brief(corner_mass=station.mass.corner, unsprung_mass=station.mass.unsprung, frequency=frequency)
    m = replace(m, ratio=abs(m.ratio))
    weight = station.mass.sprung * GRAVITY_M_PER_S2
    if kind == "coilover":
        return _coilover(name, ends, m, brief, weight)[0]
    if kind == "spring":
        return _spring(name, ends, m, brief, weight)
    if kind == "air_spring":
        return _bag(name, ends, m, weight)
    if kind == "damper":
        return _damper(name, ends, m, weight)[0]
    stop, strap = _stops(name, ends, m, weight)[0]
    return (stop if kind == "bump_stop" else strap) | {"name": name}


@facts(kw_only=False)
class Apart:
    """A strap that stands apart from its damper: its ends, and what is between them over the travel."""

    ends: tuple[str, str]
    measured: Measured


def _stops(
    name: str, ends: tuple[str, str], m: Measured, weight: float, apart: Apart | None = None
) -> tuple[list[Values], float, float]:
    """Return bump stop and strap beside a damper, and the damper's own extended and compressed lengths."""
    depth = min(max(0.3 * (m.drawn - m.shortest), 8.0), 40.0)
    flat = m.shortest - 1.0
    push = 2.0 * weight / max(m.ratio, 0.2)
    table: list[list[float]] = [
        [0, 0],
        [depth / 3, push * 0.12],
        [2 * depth / 3, push * 0.45],
        [depth, push * 1.4],
    ]
    said = name.replace("coilover", "").replace("damper", "").replace("shock", "").strip("_")
    tail = f"_{said}" if said else ""
    stop = {
        "name": f"bump_stop{tail}",
        "kind": "bump_stop",
        "ends": list(ends),
        "contact": round(flat + depth, 1),
    }
    stop |= {"table": [[round(x, 2), round(f, 1)] for x, f in table], "solid": round(depth, 2)}
    end = (m if apart is None else apart.measured).longest + 1.0
    strap: Values = {
        "name": f"strap{tail}",
        "kind": "strap",
        "ends": list(ends if apart is None else apart.ends),
    }
    strap |= {"length": round(end / (1 + STRETCH), 1), "stretch": STRETCH}
    return [stop, strap], math.ceil(m.longest + 1.0 + ENDS_MM), math.floor(flat - ENDS_MM)


def _coilover(
    name: str,
    ends: tuple[str, str],
    m: Measured,
    brief: Brief,
    weight: float,
    apart: Apart | None = None,
    adapter: Values | None = None,
) -> list[Values]:
    stops, extended, compressed = _stops(name, ends, m, weight, apart)
    made_up = sum(adapter.values()) if adapter else 0.0
    carried = weight / m.ratio - GAS_N
    rate = _rate(carried, m, brief, extended - m.drawn)
    preload = carried / rate - (extended - m.drawn)
    squeeze = preload + extended - m.shortest
    travel = squeeze / (1 - SPARE_SHARE) + 4.0
    solid = max(55.0, 0.3 * travel)
    unit: Values = {
        "name": name,
        "kind": "coilover",
        "ends": list(ends),
        "extended": round(extended - made_up, 1),
        "compressed": round(compressed - made_up, 1),
        "gas_force": GAS_N,
        "preload": round(preload, 2),
        "perch": {"up": 12.0, "down": 12.0},
        "coil_diameter": 78.0,
        "body_diameter": 46.0,
        "springs": [{"rate": rate, "free_length": round(travel + solid), "solid_length": round(solid)}],
    }
    return [unit | ({"adapter": adapter} if adapter else {}), *stops]


def _rate(carried: float, m: Measured, brief: Brief, to_droop: float) -> float:
    """Return a rate for the wanted frequency, softened until the coil stays seated at full droop, N/mm."""
    at_wheel = wheel_rate_for(brief.frequency, brief.corner_mass - brief.unsprung_mass)
    wanted = (at_wheel - (carried + GAS_N) * m.slope) / m.ratio**2
    most = carried / (SEAT_MM + to_droop)
    return round(min(wanted, most) if wanted > 0 else most, 1)


def _spring(name: str, ends: tuple[str, str], m: Measured, brief: Brief, weight: float) -> Values:
    carried = weight / m.ratio
    rate = _rate(carried, m, brief, m.longest - m.drawn)
    free = m.drawn + carried / rate
    travel = (free - m.shortest) / (1 - SPARE_SHARE) + 4.0
    # A spring between two seats fills the whole way: what it stands on is made for its length.
    return {
        "name": name,
        "kind": "spring",
        "ends": list(ends),
        "coil_diameter": 125.0,
        "springs": [
            {"rate": rate, "free_length": round(free, 2), "solid_length": round(max(free - travel, 20.0), 1)}
        ],
    }


def _bag(name: str, ends: tuple[str, str], m: Measured, weight: float) -> Values:
    area = weight / m.ratio / (0.1 * BAR)
    low, high = m.shortest - 12.0, m.longest + 12.0
    heights = np.linspace(low - 5.0, high + 5.0, 5)
    falling = 0.0016
    table = [[round(float(h), 1), round(area * (1 - falling * (float(h) - m.drawn)), 1)] for h in heights]
    return {
        "name": name,
        "kind": "air_spring",
        "ends": list(ends),
        "pressure": BAR,
        "law": 1.38,
        "height_table": table,
        "min_height": round(low, 1),
        "max_height": round(high, 1),
        "max_pressure": RATED_BAR,
        "max_diameter": round(1.18 * 2 * math.sqrt(area / math.pi)),
    }


def _damper(name: str, ends: tuple[str, str], m: Measured, weight: float) -> list[Values]:
    stops, extended, compressed = _stops(name, ends, m, weight)
    damper = {
        "name": name,
        "kind": "damper",
        "ends": list(ends),
        "extended": extended,
        "compressed": compressed,
    }
    return [damper | {"body_diameter": 56.0}, *stops]
