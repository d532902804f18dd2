"""Axes, units and tolerances used everywhere inside the engine.

Axes        x forward, y left, z up (ISO 8855), millimetres from the drawn datum.
Travel      vertical movement of the wheel centre from the drawn position, mm, bump positive.
Motion ratio  minus the change of a unit's length per wheel travel, mm/mm: damper per wheel.
Units       mm, N, N/mm, kg, degrees, bar gauge. Angles are radians inside the linkage solver only.
"""

from engine.facts import facts

GRAVITY_M_PER_S2 = 9.80665  # CODATA / ISO 80000-3 standard acceleration of free fall


@facts
class Tolerances:
    """Every tolerance that decides an answer, with the reason for its size; guards against nothing stand where they guard."""

    closure_mm: float = 1e-9
    """A joint closed this well costs nothing in double precision and is far below the 0.001 mm asked."""

    redundant_closure_mm: float = 1e-3
    """A doubled constraint that stays this close over the travel is only written twice, not fought over."""

    held_mismatch_mm: float = 0.05
    """A corner whose doubled joints open further than this over its travel would bind."""

    rank: float = 1e-7
    """Singular values below this share of the largest are freedoms; drawn co-ordinates are good to 1e-6."""

    coincident_mm: float = 0.01
    """Two points of one body closer than this are one bolt."""

    reach_mm: float = 1e-4
    """How finely the end of reach is bisected; 0.01 mm is asked."""

    newton_steps: int = 12
    """Quadratic convergence needs five or six from a fair start; more means the start was not fair."""

    straight_share: float = 0.2
    """Speeds that differ by less than this share across a flat place are those of one movement going straight on."""

    branch_share: float = 0.35
    """A correction larger than this share of the step may have jumped to the other way of assembling."""

    branch_mm: float = 1e-6
    """A correction smaller than this is rounding, however small the step."""

    turn_weight_mm: float = 200.0
    """A radian weighs like this much movement where angles and lengths are compared: a usual arm's length."""

    adjusted_times: float = 20.0
    """A link set longer may move the rest so many times as far; more is a jump to another way of assembling."""

    alike_digits: int = 6
    """Decimals of a millimetre that an order is told by: of two sides alike to rounding the one named first comes first."""

    runs_away: float = 20.0
    """An unknown that moves this many times as fast as the wheel is what ends the reach."""


TOLERANCES = Tolerances()

SEARCH_BEYOND = 1.5
"""Limits are searched over the wanted travel and half as far again each way."""
