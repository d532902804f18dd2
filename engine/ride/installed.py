"""How a damper is used: stroke, split, and the part of its eye's path that goes into it.

Split            share of the used stroke that lies in bump from ride height (or from drawn).
Installed angle  between the damper's axis and the path of its moving eye, degrees; its cosine is the share of
                 the path used, and the rate goes with its square.
"""

import numpy as np

from engine.document.schema import Coilover, Damper
from engine.facts import facts
from engine.forces.units import damper_ends_mm
from engine.linkage.vectors import Array, dot
from engine.station.rows import Rows
from engine.station.solved import SolvedStation


@facts
class DamperUse:
    """One damper over the wanted travel: mm, shares, degrees at ride (or as drawn)."""

    name: str
    stroke: float
    used: float
    left_in_bump: float
    left_in_droop: float
    split_bump: float | None
    installed_angle: float | None
    path_share: float | None


def damper_uses(solved: SolvedStation) -> tuple[DamperUse, ...]:
    """Return how every damper is used."""
    found = []
    for unit in solved.station.units:
        lengths = solved.taken.units[unit.name].length
        if not isinstance(unit, Coilover | Damper) or not len(lengths):
            continue
        extended, compressed = damper_ends_mm(unit)
        middle = solved.at_ride or _drawn_rows(solved)
        standing = float(middle.units[unit.name].length[0])
        used = float(np.ptp(lengths))
        split = (standing - float(lengths.min())) / used if used > 0 else None
        angle = float(installed_angle_deg(solved, middle, unit.name)[0])
        known = np.isfinite(angle)
        found.append(
            DamperUse(
                name=unit.name,
                stroke=extended - compressed,
                used=used,
                left_in_bump=float(lengths.min()) - compressed,
                left_in_droop=extended - float(lengths.max()),
                split_bump=split,
                installed_angle=angle if known else None,
                path_share=float(np.cos(np.radians(angle))) if known else None,
            )
        )
    return tuple(found)


def _drawn_rows(solved: SolvedStation) -> Rows:
    reached = solved.search.travels[solved.path.reached]
    nearest = reached[np.abs(reached).argmin()]
    return solved.at(np.array([nearest]))


def installed_angle_deg(solved: SolvedStation, rows: Rows, unit: str) -> Array:
    """Return the angle between a unit's axis and its eyes' path against one another, (rows,) degrees."""
    law = next(law for law in solved.springing.laws if law.name == unit)
    one, other = (solved.linkage.index[end] for end in law.ends)
    motion = rows.solution.motion
    axis = motion.place[:, one] - motion.place[:, other]
    path = motion.first[:, one] - motion.first[:, other]
    with np.errstate(divide="ignore", invalid="ignore"):
        cosine = np.abs(dot(axis, path)) / np.sqrt(dot(axis, axis) * dot(path, path))
    angle: Array = np.degrees(np.arccos(np.clip(cosine, 0, 1)))
    return angle
