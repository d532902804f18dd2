"""Corners: single-pivot arms, wishbones, five links, struts, swing beams, and a single rear wheel."""

import numpy as np

from engine.layouts.layout import Brief, Draft, Vec
from engine.layouts.rocker import add_rocker

TAPE = "tape from the centreline and up from the floor"


def _wheel(draft: Draft, brief: Brief, body: str, y: float) -> None:
    radius = brief.wheel_radius
    draft.moving("wheel", (0, y, radius), "middle of the hub, half way through the tyre's width")
    draft.moving("spindle", (0, y + 0.3 * radius, radius), "any place further out on the wheel's spin axis")
    draft.body(body, "wheel", "spindle")
    draft.wheels.append(
        {
            "name": "wheel",
            "centre": "wheel",
            "spindle": "spindle",
            "tyre_radius": radius,
            "tyre_width": brief.tyre_width,
        }
    )


def trailing_arm(brief: Brief) -> Draft:
    """Return an arm on one hinge ahead of the wheel, bare of units."""
    r, t = brief.wheel_radius, brief.half_track
    draft = Draft(name="Rear left")
    draft.fixed("hinge_in", (1.45 * r, t - 1.05 * r, 1.05 * r), f"inner end of the hinge bolt; {TAPE}")
    draft.fixed("hinge_out", (1.45 * r, t - 0.5 * r, 1.05 * r), f"outer end of the hinge bolt; {TAPE}")
    draft.body("arm", "hinge_in", "hinge_out")
    _wheel(draft, brief, "arm", t)
    return draft


def trailing_arm_coilover(brief: Brief) -> list[Draft]:
    """Return the arm with a coilover standing on it."""
    draft, r, t = trailing_arm(brief), brief.wheel_radius, brief.half_track
    _stand(draft, brief, "arm", (0.42 * r, t - 0.72 * r, 1.1 * r), (0.34 * r, t - 0.78 * r, 0.0), 0.72)
    return [draft]


def _stand(draft: Draft, brief: Brief, body: str, eye: Vec, lean: Vec, ratio: float) -> None:
    """Stand a coilover on a body; `lean` gives the top's x and y, its height follows from the damper's length."""
    draft.moving("eye", eye, "middle of the lower bolt; plumb line to the floor, then tape")
    top = (lean[0], lean[1], eye[2] + brief.damper_length(ratio))
    draft.fixed("top", top, "middle of the upper bolt; plumb line to the floor, then tape")
    draft.body(body, "eye")
    draft.carries["coilover"] = ("eye", "top")


def wishbones(brief: Brief, name: str = "Front left") -> Draft:
    """Return two wishbones, upright and steering link, bare of units."""
    r, t = brief.wheel_radius, brief.half_track
    outer = t - 0.28 * r
    inner = max(0.24 * t, outer - 1.2 * r)
    draft = Draft(name=name)
    bolt = "middle of the pivot bolt; "
    draft.fixed("lower_front", (0.55 * r, inner, 0.6 * r), bolt + TAPE)
    draft.fixed("lower_rear", (-0.55 * r, inner, 0.6 * r), bolt + TAPE)
    draft.moving("lower_ball", (0.01 * r, outer, 0.56 * r), "middle of the ball; plumb line to the floor")
    draft.fixed("upper_front", (0.42 * r, inner + 0.12 * r, 1.3 * r), bolt + TAPE)
    draft.fixed("upper_rear", (-0.42 * r, inner + 0.12 * r, 1.27 * r), bolt + TAPE)
    draft.moving(
        "upper_ball", (-0.04 * r, outer - 0.15 * r, 1.38 * r), "middle of the ball; plumb line to the floor"
    )
    draft.moving("steer", (-0.42 * r, outer - 0.03 * r, 0.8 * r), "middle of the track rod's outer ball")
    draft.fixed(
        "rack",
        (-0.42 * r, inner + 0.04 * r, _aimed(draft, inner + 0.04 * r)),
        "middle of the track rod's inner ball, steering ahead",
    )
    draft.body("lower_arm", "lower_front", "lower_rear", "lower_ball")
    draft.body("upper_arm", "upper_front", "upper_rear", "upper_ball")
    draft.body("upright", "lower_ball", "upper_ball", "steer")
    draft.body("tie_rod", "steer", "rack")
    _wheel(draft, brief, "upright", t)
    return draft


def _aimed(draft: Draft, y: float) -> float:
    """Return how high a track rod's inner ball stands at `y` so that the rod points where both arms' lines meet.

    Seen from the front the wheel turns about that place for a moment, and a rod that points at it does not steer (the
    instantaneous centre, textbook plane kinematics). Arms that never meet leave the rod as level as they are.
    """
    at = {name: np.array(draft.points[name])[1:] for name in ("lower_ball", "upper_ball", "steer")}
    lower, upper = (
        (np.array(draft.points[f"{arm}_front"])[1:] + np.array(draft.points[f"{arm}_rear"])[1:]) / 2
        for arm in ("lower", "upper")
    )
    slopes = [(at["lower_ball"] - lower), (at["upper_ball"] - upper)]
    along = [way / way[0] for way in slopes]
    steeper = along[1][1] - along[0][1]
    if abs(steeper) < 1e-6:
        slope = along[0][1]
    else:
        meet_y = (lower[1] - along[0][1] * lower[0] - upper[1] + along[1][1] * upper[0]) / steeper
        meet_z = lower[1] + along[0][1] * (meet_y - lower[0])
        slope = (at["steer"][1] - meet_z) / (at["steer"][0] - meet_y)
    return float(at["steer"][1] + slope * (y - at["steer"][0]))


def _part_way(draft: Draft, one: str, other: str, share: float) -> Vec:
    a, b = draft.points[one], draft.points[other]
    return (a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1]), a[2] + share * (b[2] - a[2]))


def wishbones_lower(brief: Brief) -> list[Draft]:
    """Return wishbones with the coilover on the lower arm."""
    draft = wishbones(brief)
    inner, outer = draft.points["lower_front"][1], draft.points["lower_ball"][1]
    reach = outer - inner
    eye = (0.0, inner + 0.66 * reach, 0.62 * brief.wheel_radius)
    _stand(draft, brief, "lower_arm", eye, (0.0, inner + 0.42 * reach, 0.0), 0.62)
    return [draft]


def wishbones_upper(brief: Brief) -> list[Draft]:
    """Return wishbones with the coilover on the upper arm."""
    draft = wishbones(brief)
    inner, outer = draft.points["upper_front"][1], draft.points["upper_ball"][1]
    reach = outer - inner
    eye = (-0.02 * brief.wheel_radius, inner + 0.68 * reach, 1.42 * brief.wheel_radius)
    _stand(draft, brief, "upper_arm", eye, (-0.02 * brief.wheel_radius, inner + 0.45 * reach, 0.0), 0.64)
    return [draft]


def wishbones_upright(brief: Brief) -> list[Draft]:
    """Return wishbones with the coilover straight on the upright."""
    draft, r = wishbones(brief), brief.wheel_radius
    outer = draft.points["upper_ball"][1]
    eye = (0.22 * r, outer - 0.05 * r, 1.22 * r)
    _stand(draft, brief, "upright", eye, (0.2 * r, outer - 0.36 * r, 0.0), 0.97)
    return [draft]


def pushrod(brief: Brief) -> list[Draft]:
    """Return wishbones with a pushrod up to a rocker, damper across the car."""
    draft, r = wishbones(brief), brief.wheel_radius
    low = _part_way(draft, "lower_front", "lower_ball", 0.86)
    draft.moving("rod_low", (0.0, low[1], 0.64 * r), "middle of the rod's lower bolt on the arm")
    draft.body("lower_arm", "rod_low")
    pivot = (0.0, draft.points["upper_front"][1] - 0.02 * r, 1.86 * r)
    add_rocker(draft, brief, pivot, (1.0, 0.0, 0.0), arm=0.26 * r, damper_arm=0.26 * r, turn=26.0)
    draft.extra["uncertainty"] = {"tape": 1.0}
    return [draft]


def pullrod(brief: Brief) -> list[Draft]:
    """Return wishbones with a pullrod down to a low rocker."""
    draft, r = wishbones(brief), brief.wheel_radius
    high = _part_way(draft, "upper_front", "upper_ball", 0.88)
    draft.moving("rod_low", (-0.03 * r, high[1], 1.33 * r), "middle of the rod's upper bolt on the upper arm")
    draft.body("upper_arm", "rod_low")
    pivot = (-0.03 * r, draft.points["lower_front"][1] + 0.05 * r, 0.42 * r)
    add_rocker(draft, brief, pivot, (1.0, 0.0, 0.0), arm=0.27 * r, damper_arm=0.25 * r, turn=80.0, side=-1)
    return [draft]


def cantilever_arm(brief: Brief) -> list[Draft]:
    """Return an upper arm that reaches past its pivot and presses the coilover itself."""
    draft, r = wishbones(brief), brief.wheel_radius
    pivot = draft.points["upper_front"]
    reach = draft.points["upper_ball"][1] - pivot[1]
    eye = (0.0, pivot[1] - 0.5 * reach, 1.5 * r)
    draft.moving("eye", eye, "middle of the damper's bolt on the arm, inboard of the pivot")
    draft.body("upper_arm", "eye")
    # In bump the inner end goes down and outward about the pivot: the damper stands in its way.
    arm = (eye[1] - pivot[1], eye[2] - pivot[2])
    size = (arm[0] ** 2 + arm[1] ** 2) ** 0.5
    way = (-arm[1] / size, arm[0] / size)
    long = brief.damper_length(0.5)
    top = (0.0, eye[1] + way[0] * long, eye[2] + way[1] * long)
    draft.fixed("top", top, "middle of the damper's bolt on the frame")
    draft.carries["coilover"] = ("eye", "top")
    return [draft]


def five_link(brief: Brief) -> list[Draft]:
    """Return five single links with the pushrod off the upright."""
    draft, r = wishbones(brief, "Rear left"), brief.wheel_radius
    outer = draft.points["lower_ball"][1]
    draft.moving(
        "lower_back", (-0.13 * r, outer + 0.0, 0.57 * r), "middle of the rear lower link's outer ball"
    )
    draft.moving(
        "upper_back", (-0.16 * r, outer - 0.13 * r, 1.37 * r), "middle of the rear upper link's outer ball"
    )
    draft.moving(
        "rod_low", (0.12 * r, outer - 0.06 * r, 0.66 * r), "middle of the rod's lower bolt on the upright"
    )
    del draft.bodies["lower_arm"], draft.bodies["upper_arm"]
    draft.body("upright", "lower_back", "upper_back", "rod_low")
    draft.body("lower_lead", "lower_front", "lower_ball")
    draft.body("lower_trail", "lower_rear", "lower_back")
    draft.body("upper_lead", "upper_front", "upper_ball")
    draft.body("upper_trail", "upper_rear", "upper_back")
    # A half shaft from the gearbox to the hub; its outer joint sits in the wheel's own middle.
    draft.fixed(
        "shaft_in", (0.0, 0.24 * brief.half_track, 0.97 * r), "middle of the half shaft's inner joint"
    )
    length = draft.points["wheel"][1] - draft.points["shaft_in"][1]
    draft.extra["shafts"] = [
        {
            "name": "half shaft",
            "ends": ["shaft_in", "wheel"],
            "axes": [[0, 1, 0], [0, 1, 0]],
            "rated": 22.0,
            "length": {"least": round(length - 22.0, 1), "most": round(length + 22.0, 1)},
            "radius": 14.0,
        }
    ]
    pivot = (0.12 * r, draft.points["upper_front"][1] - 0.02 * r, 1.9 * r)
    add_rocker(draft, brief, pivot, (1.0, 0.0, 0.0), arm=0.3 * r, damper_arm=0.26 * r, turn=20.0)
    return [draft]


def strut(brief: Brief) -> list[Draft]:
    """Return a donor strut whose damper is replaced by a shorter one on an adapter."""
    r, t = brief.wheel_radius, brief.half_track
    outer = t - 0.25 * r
    inner = max(0.25 * t, outer - 1.15 * r)
    draft = Draft(name="Front left")
    draft.fixed("lower_front", (0.5 * r, inner, 0.58 * r), f"middle of the pivot bolt; {TAPE}")
    draft.fixed("lower_rear", (-0.5 * r, inner, 0.6 * r), f"middle of the pivot bolt; {TAPE}")
    draft.moving("lower_ball", (0.02 * r, outer, 0.52 * r), "middle of the ball; plumb line to the floor")
    draft.moving(
        "strut_low", (0.0, outer - 0.21 * r, 1.05 * r), "middle of the strut where the upright clamps it"
    )
    draft.moving(
        "strut_high", (-0.03 * r, outer - 0.38 * r, 1.75 * r), "middle of the strut, higher up on its line"
    )
    a, b = draft.points["strut_low"], draft.points["strut_high"]
    long = brief.damper_length(0.97) + 60
    share = long / (sum((q - p) ** 2 for p, q in zip(a, b, strict=True)) ** 0.5)
    top = (a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1]), a[2] + share * (b[2] - a[2]))
    draft.fixed("top", top, "middle of the top mount; on the strut's own line")
    # Rounded places would leave the top off the line: put it back on it exactly.
    draft.points["top"] = top
    draft.moving("steer", (-0.4 * r, outer - 0.04 * r, 0.82 * r), "middle of the track rod's outer ball")
    draft.fixed("rack", (-0.4 * r, inner + 0.05 * r, 0.84 * r), "middle of the track rod's inner ball")
    draft.body("lower_arm", "lower_front", "lower_rear", "lower_ball")
    draft.body("upright", "lower_ball", "strut_low", "strut_high", "steer")
    draft.body("tie_rod", "steer", "rack")
    _wheel(draft, brief, "upright", t)
    draft.extra["sliders"] = {
        "strut": {"body": "upright", "line": ["strut_low", "strut_high"], "through": "top"}
    }
    draft.extra["adapter"] = {"top": 25.0, "bottom": 35.0}
    draft.carries["coilover"] = ("strut_low", "top")
    return [draft]


def swing_beam(brief: Brief) -> list[Draft]:
    """Return a beam pivoted beyond the centreline, its spring apart from a long shock on a hoop."""
    r, t = brief.wheel_radius, brief.half_track
    draft = Draft(name="Front left")
    draft.fixed(
        "beam_pivot",
        (0.0, -0.28 * t, 0.85 * r),
        "middle of the beam's bush, on the far side of the centreline",
    )
    draft.fixed("arm_pivot", (-2.3 * r, 0.45 * t, 0.8 * r), "middle of the radius arm's bush on the frame")
    draft.body("beam", "beam_pivot", "arm_pivot")
    _wheel(draft, brief, "beam", t)
    draft.moving("spring_seat", (0.0, 0.5 * t, 0.95 * r), "middle of the spring's seat on the beam")
    draft.fixed(
        "spring_top",
        (0.0, 0.49 * t, 0.95 * r + 240 + 0.6 * (brief.bump + brief.droop)),
        "middle of the spring's bucket",
    )
    draft.moving("shock_low", (-0.28 * r, 0.72 * t, 0.8 * r), "middle of the shock's lower bolt")
    long = brief.damper_length(0.8)
    draft.fixed("shock_top", (-0.3 * r, 0.64 * t, 0.8 * r + long), "middle of the shock's bolt on the hoop")
    draft.body("beam", "spring_seat", "shock_low")
    draft.springs["spring"] = ("spring_seat", "spring_top")
    draft.dampers["shock"] = ("shock_low", "shock_top")
    return [draft]


def single_rear(brief: Brief) -> Draft:
    """Return a swinging arm with one wheel in the middle of the car, bare of units."""
    r = brief.wheel_radius
    draft = Draft(name="Rear")
    draft.fixed("pivot_left", (1.7 * r, 0.28 * r, 1.1 * r), "left end of the arm's pivot bolt")
    draft.fixed("pivot_right", (1.7 * r, -0.28 * r, 1.1 * r), "right end of the arm's pivot bolt")
    draft.body("arm", "pivot_left", "pivot_right")
    _wheel(draft, brief, "arm", 0.0)
    draft.extra["other_side"] = "alone"
    return draft


def single_rear_direct(brief: Brief) -> list[Draft]:
    """Return the single wheel with its shock straight on the arm."""
    draft, r = single_rear(brief), brief.wheel_radius
    _stand(draft, brief, "arm", (1.14 * r, 0.0, 1.3 * r), (1.4 * r, 0.0, 0.0), 0.36)
    return [draft]


def single_rear_drop_link(brief: Brief) -> list[Draft]:
    """Return the single wheel with a drop link to a rocker below, shock standing on the rocker."""
    draft, r = single_rear(brief), brief.wheel_radius
    draft.moving("rod_low", (0.95 * r, 0.0, 1.0 * r), "middle of the drop link's bolt on the arm")
    draft.body("arm", "rod_low")
    pivot = (1.3 * r, 0.0, 0.4 * r)
    add_rocker(
        draft,
        brief,
        pivot,
        (0.0, 1.0, 0.0),
        arm=0.27 * r,
        damper_arm=0.4 * r,
        turn=85.0,
        side=-1,
        rod="drop_link",
    )
    return [draft]


def crossed(brief: Brief) -> list[Draft]:
    """Return both sides with their coilovers laid across the car, the left one fore and the right one aft."""
    left = wishbones(brief, "Front left")
    r = brief.wheel_radius
    inner, outer = left.points["lower_front"][1], left.points["lower_ball"][1]
    fore = 0.2 * r
    eye = (fore, inner + 0.68 * (outer - inner), 0.66 * r)
    left.moving("eye", eye, "middle of the lower bolt on the arm, ahead of the axle line")
    across = eye[1] + 0.1 * brief.half_track
    left.fixed(
        "top",
        (fore, eye[1] - across, eye[2] + 0.8 * across),
        "middle of the upper bolt, beyond the centreline",
    )
    left.body("lower_arm", "eye")
    left.carries["coilover"] = ("eye", "top")
    left.fixed(
        "strap_top", (fore, eye[1], eye[2] + 210), "middle of the strap's bolt on the frame, above the arm"
    )
    left.straps["coilover"] = ("eye", "strap_top")
    left.extra["other_side"] = "Front right"
    right = Draft(
        name="Front right",
        kind="corner",
        points={},
        hints=dict(left.hints),
        bodies=dict(left.bodies),
        chassis=list(left.chassis),
    )
    for name, (x, y, z) in left.points.items():
        right.points[name] = (-x if name in ("eye", "top", "strap_top") else x, -y, z)
    right.wheels = [dict(left.wheels[0])]
    right.carries, right.straps = dict(left.carries), dict(left.straps)
    right.extra["other_side"] = "Front left"
    return [left, right]


def arm_on_air(brief: Brief) -> list[Draft]:
    """Return the single-pivot arm on a bag, with a damper beside it."""
    draft, r, t = trailing_arm(brief), brief.wheel_radius, brief.half_track
    seat = (0.5 * r, t - 0.78 * r, 1.12 * r)
    draft.moving("bag_low", seat, "middle of the bag's lower plate")
    draft.fixed(
        "bag_top",
        (0.52 * r, t - 0.78 * r, seat[2] + 150 + 0.5 * brief.bump),
        "middle of the bag's upper plate",
    )
    eye = (0.12 * r, t - 0.62 * r, 0.95 * r)
    draft.moving("eye", eye, "middle of the damper's lower bolt")
    draft.fixed(
        "top",
        (0.06 * r, t - 0.78 * r, eye[2] + brief.damper_length(0.9)),
        "middle of the damper's upper bolt",
    )
    draft.body("arm", "bag_low", "eye")
    draft.bags["bag"] = ("bag_low", "bag_top")
    draft.dampers["damper"] = ("eye", "top")
    return [draft]
