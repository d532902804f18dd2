"""A rocker drawn so that rod and damper both stand square to their arms as drawn.

The rod's joint is where the tangent from its moving end touches the circle of the rod arm; the damper leaves its
own arm square, on the side to which that arm's end moves in bump, so that bump always presses it.
"""

import math

import numpy as np

from engine.layouts.layout import Brief, Draft, Vec


def add_rocker(
    draft: Draft,
    brief: Brief,
    pivot: Vec,
    axis: Vec,
    arm: float,
    damper_arm: float,
    turn: float,
    side: int = 1,
    rod: str = "rod",
    suffix: str = "",
) -> None:
    """Add rod, rocker and damper ends behind the point `rod_low` that is drawn already.

    axis  : direction of the pivot bolt; pivot and `rod_low` lie in one plane square to it
    arm, damper_arm : mm, from the pivot to the rod's and the damper's joint
    turn  : degrees about the axis from the rod's arm to the damper's
    side  : which of the two tangents
    """
    low, centre, u = (np.array(v, dtype=float) for v in (draft.points[f"rod_low{suffix}"], pivot, axis))
    low_in_plane = low - u * float((low - centre) @ u)
    joint = _tangent(low_in_plane, centre, u, arm, side)
    rod_way = (joint - low_in_plane) / np.linalg.norm(joint - low_in_plane)
    # In bump the rod's lower end rises; what of that lies along the rod turns the rocker.
    sense = math.copysign(1.0, float(rod_way @ np.cross(u, joint - centre)) * float(rod_way[2]))
    eye = centre + _turned(joint - centre, u, math.radians(turn)) * (damper_arm / arm)
    moves = sense * np.cross(u, eye - centre)
    moves = moves / np.linalg.norm(moves)
    # The rod's rise along itself over the lever arms is the damper's ratio.
    ratio = abs(float(rod_way[2])) * damper_arm / arm
    far = eye + moves * brief.damper_length(ratio)
    half = 0.12 * brief.wheel_radius
    for end, way in (("front" if axis[0] else "left", half), ("rear" if axis[0] else "right", -half)):
        draft.fixed(f"pivot_{end}{suffix}", _vec(centre + u * way), "end of the rocker's pivot bolt")
    draft.moving(f"rod_top{suffix}", _vec(joint), "middle of the rod's bolt on the rocker")
    draft.moving(f"eye{suffix}", _vec(eye), "middle of the damper's bolt on the rocker")
    draft.fixed(f"top{suffix}", _vec(far), "middle of the damper's bolt on the frame")
    ends = [name for name in draft.chassis if name.startswith("pivot_") and name.endswith(suffix)][-2:]
    draft.body(f"{rod}{suffix}", f"rod_low{suffix}", f"rod_top{suffix}")
    draft.body(f"rocker{suffix}", *ends, f"rod_top{suffix}", f"eye{suffix}")
    joints = draft.extra.setdefault("joints", [])
    for end, on in (
        ("rod_low", next(b for b, m in draft.bodies.items() if f"rod_low{suffix}" in m)),
        ("rod_top", f"rocker{suffix}"),
    ):
        joints.append(
            {
                "name": f"{end}{suffix}",
                "point": f"{end}{suffix}",
                "rod": f"{rod}{suffix}",
                "bolt": list(axis),
                "on": on,
                "rated": 18.0,
            }
        )
    draft.extra.setdefault("rods", {})[f"{rod}{suffix}"] = {
        "thread": 12.0,
        "pitch": 1.25,
        "engagement": 22.5,
        "longer": 9.0,
        "shorter": 9.0,
    }
    draft.carries[f"coilover{suffix}"] = (f"eye{suffix}", f"top{suffix}")


def _tangent(low: np.ndarray, centre: np.ndarray, u: np.ndarray, radius: float, side: int) -> np.ndarray:
    """Return where a tangent from a point touches a circle about the centre, in the plane square to u."""
    out = low - centre
    apart = float(np.linalg.norm(out))
    along = out / apart
    across = np.cross(u, along)
    share = radius / apart
    joint: np.ndarray = centre + radius * (share * along + side * math.sqrt(1 - share * share) * across)
    return joint


def _turned(vector: np.ndarray, u: np.ndarray, angle: float) -> np.ndarray:
    turned: np.ndarray = vector * math.cos(angle) + np.cross(u, vector) * math.sin(angle)
    return turned


def _vec(place: np.ndarray) -> Vec:
    return (float(place[0]), float(place[1]), float(place[2]))
