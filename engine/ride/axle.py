"""What a live axle does besides rising: it swings fore and aft, steps sideways, winds up and rolls about a point.

Swing        forward movement of the axle's middle, mm.
Side shift   movement of its middle to the left, mm.
Pinion angle of a shaft's axis on the axle to the level, degrees; nose up is positive.
Wind-up      turn about the cross-car axis from drawn, degrees; nose of the pinion up is positive.
Roll centre  where the axle's mid plane has no sideways movement when one wheel rises and the other falls, mm
             above the wheels' contacts.
"""

import numpy as np

from engine.facts import facts
from engine.linkage.forced import forced_articulation
from engine.linkage.linkage import Linkage
from engine.linkage.pose import pose_of
from engine.linkage.vectors import Array

STEP_MM = 1.0  # small against any travel, large against how well positions close


@facts
class AxleMotion:
    """A live axle over the rows: each (rows,) mm or degrees; steer is positive to the left."""

    swing: Array
    side_shift: Array
    wind_up: Array
    steer: Array


def axle_body(linkage: Linkage) -> str | None:
    """Return the rigid body that carries both wheels, if there is one."""
    wheels = {wheel.centre for wheel in linkage.station.wheels}
    if len(wheels) != 2:
        return None
    return next((body for body, members in linkage.bodies.items() if wheels <= set(members)), None)


def axle_motion(linkage: Linkage, body: str, place: Array) -> AxleMotion:
    """Return how the axle stands at solved places (3, n, rows)."""
    wheels = [linkage.index[wheel.centre] for wheel in linkage.station.wheels]
    middle = place[:, wheels].mean(axis=1) - linkage.points[wheels].mean(axis=0)[:, None]
    turn = pose_of(linkage, body, place).turn
    nose = turn[:, :, 0]
    wind = np.degrees(np.arctan2(nose[:, 2], nose[:, 0]))
    return AxleMotion(
        swing=middle[0],
        side_shift=middle[1],
        wind_up=wind,
        steer=np.degrees(np.arctan2(nose[:, 1], nose[:, 0])),
    )


def pinion_angle_deg(linkage: Linkage, body: str, place: Array) -> dict[str, Array]:
    """Return how every shaft's axis on the axle stands to the level at places (3, n, rows): (rows,) degrees, nose up +."""
    found = {}
    for shaft in linkage.station.shafts:
        for end, axis in zip(shaft.ends, shaft.axes, strict=True):
            if end in linkage.bodies[body]:
                forward = np.array(axis) * (1.0 if axis[0] >= 0 else -1.0)
                now = pose_of(linkage, body, place).direction(forward)
                found[shaft.name] = np.degrees(np.arctan2(now[:, 2], np.hypot(now[:, 0], now[:, 1])))
    return found


def axle_roll_centre_mm(linkage: Linkage, body: str, heave_mm: float) -> float:
    """Return the roll centre's height above the wheels' contacts at a heave, mm; NaN where there is none.

    From points of the axle a little articulated each way: a rigid body's velocities v = v₀ + ω×r give ω, and
    sideways velocity vanishes on the centre plane, above the wheels, where v₀y + ωz·x − ωx·z = 0.
    """
    low, high = (_articulated(linkage, heave_mm, way * STEP_MM) for way in (-1, 1))
    if not (np.isfinite(low).all() and np.isfinite(high).all()):
        return float("nan")  # it cannot articulate even so little where it stands
    numbers = [linkage.index[name] for name in linkage.bodies[body]]
    place, speed = ((high + low) / 2)[:, numbers].T, ((high - low) / (2 * STEP_MM))[:, numbers].T
    centre, drift = place.mean(axis=0), speed.mean(axis=0)
    spin = _spin(place - centre, speed - drift)
    wheels = [linkage.index[wheel.centre] for wheel in linkage.station.wheels]
    middle = ((high + low) / 2)[:, wheels].mean(axis=1)
    radius = np.mean([wheel.tyre_radius or 0.0 for wheel in linkage.station.wheels])
    if abs(spin[0]) < 1e-12:
        return float("nan")
    up = (drift[1] + spin[2] * (middle[0] - centre[0])) / spin[0]
    return float(centre[2] + up - (middle[2] - radius))


def _articulated(linkage: Linkage, heave_mm: float, amount_mm: float) -> Array:
    """Return the points (3, n) with the first wheel up by the amount and the second down."""
    if linkage.articulation() is None:
        return forced_articulation(linkage, amount_mm, heave_mm).place
    place: Array = linkage.articulate(np.array([amount_mm]), heave_mm).solution.motion.place[:, :, 0]
    return place


def _spin(arms: Array, speeds: Array) -> Array:
    """Return the angular velocity (3,) that best explains velocities at arms from the centroid: ω×r = v."""
    rows = np.concatenate([np.array([[0, z, -y], [-z, 0, x], [y, -x, 0]]) for x, y, z in arms])
    found: Array = np.linalg.lstsq(rows, speeds.ravel(), rcond=None)[0]
    return found
