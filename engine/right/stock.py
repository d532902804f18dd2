"""Sizes that are sold everywhere, and what lies on the shop's own shelf: a plan asks for nothing else.

A coil of a rate, a bore and a free length is solid where a maker's would be: wound of the thinnest wire whose shear
stress when solid stays below ALLOWED. τ = K·8·F·D / (π·d³) with Wahl's K = (4c − 1)/(4c − 4) + 0.615/c, c = D/d;
k = G·d⁴/(8·D³·n).
"""

import math
from collections.abc import Mapping
from dataclasses import field

from engine.document.units import Spring
from engine.facts import facts
from engine.forces.unknown import DEAD_COILS, STEEL_SHEAR_N_PER_MM2
from engine.sizing.dampers import ShelfDamper
from engine.sizing.springs import STEPS_N_PER_MM, ShelfCoil

ALLOWED_N_PER_MM2 = 1200.0  # of a cold-wound, set-out coil of alloy wire when solid
WIRES_MM = tuple(round(4.0 + 0.25 * k, 2) for k in range(85))
FREE_LENGTHS_MM = (*range(100, 260, 20), *range(275, 626, 25))
INCH_MM, LB_PER_IN = 25.4, 0.1751268
INCH_RATE_STEP = 25.0
STROKES_MM = (40, 50, 60, 70, 80, 90, 100, 115, 130, 150, 175, 200, 225, 250, 275, 300, 350, 400)
DEAD_MM = (110, 125, 140, 160, 180, 200, 230)  # of a damper's closed length: what is no stroke
STRAP_STEP_MM, STOP_STEP_MM = 5.0, 5.0
USUAL_BORE_MM = 60.0
BORES_MM = tuple(float(bore) for bore in range(40, 181, 5))


@facts(kw_only=False)
class ShelfStrap:
    """A strap that is there: mm, and its stretch at full load as a share."""

    name: str
    length: float
    stretch: float


@facts(kw_only=False)
class ShelfStop:
    """A bump stop that is there: mm high, and mm that it gives."""

    name: str
    height: float
    squash: float


@facts(kw_only=False)
class Shelf:
    """What the shop has; `counts` how many there are of a part by its name, enough where it is not said."""

    coils: tuple[ShelfCoil, ...] = ()
    dampers: tuple[ShelfDamper, ...] = ()
    straps: tuple[ShelfStrap, ...] = ()
    stops: tuple[ShelfStop, ...] = ()
    counts: Mapping[str, int] = field(default_factory=dict)


def wound(rate: float, bore: float, free_length: float) -> Spring | None:
    """Return a coil as it is sold: N/mm, mm inside, mm long; None where no wire of the list carries it to solid."""
    for wire in WIRES_MM:
        across = bore + wire
        coils = STEEL_SHEAR_N_PER_MM2 * wire**4 / (8 * across**3 * rate)
        solid = (coils + DEAD_COILS) * wire
        if coils < 2 or solid >= 0.85 * free_length:
            continue
        index = across / wire
        curved = (4 * index - 1) / (4 * index - 4) + 0.615 / index
        if curved * 8 * rate * (free_length - solid) * across / (math.pi * wire**3) <= ALLOWED_N_PER_MM2:
            return Spring(rate=rate, free_length=free_length, solid_length=round(solid, 1), bore=bore)
    return None


def rates(inches: bool, least: float, most: float) -> list[float]:
    """Return the rates that coils are sold in between two, N/mm."""
    if inches:
        step = INCH_RATE_STEP * LB_PER_IN
        return [round(step * k, 3) for k in range(math.ceil(least / step), math.floor(most / step) + 1)]
    found, rate = [], 5.0
    while rate <= most:
        if rate >= least:
            found.append(rate)
        rate += next(step for below, step in STEPS_N_PER_MM if rate < below)
    return found


def free_lengths(inches: bool) -> list[float]:
    """Return the lengths that coils are sold in, mm."""
    return [INCH_MM * k for k in range(4, 25)] if inches else [float(one) for one in FREE_LENGTHS_MM]


def stock_dampers() -> list[ShelfDamper]:
    """Return the usual closed and open lengths, mm eye to eye."""
    return [
        ShelfDamper(
            f"{dead + stroke + stroke} / {dead + stroke} mm", dead + 2.0 * stroke, float(dead + stroke)
        )
        for stroke in STROKES_MM
        for dead in DEAD_MM
    ]
