"""Live axles: on four links or three, coilovers on the tube or ahead of it, on rockers, or on air."""

from engine.layouts.layout import Brief, Draft, Vec
from engine.layouts.rocker import add_rocker

TAPE = "tape from the centreline and up from the floor"


class _Axle:
    """An axle being drawn on both sides at once: every left point has its mirror image on the right."""

    def __init__(self, brief: Brief) -> None:
        self.brief = brief
        self.draft = Draft(name="Rear axle", kind="axle")
        r, t = brief.wheel_radius, brief.half_track
        self.both("moving", "wheel", (0, t, r), "middle of the hub, half way through the tyre's width")
        self.both("moving", "spindle", (0, t + 0.3 * r, r), "any place further out on the wheel's spin axis")
        self.on_axle("wheel", "spindle")
        for side in ("left", "right"):
            self.draft.wheels.append(
                {
                    "name": side,
                    "centre": f"wheel_{side}",
                    "spindle": f"spindle_{side}",
                    "tyre_radius": r,
                    "tyre_width": brief.tyre_width,
                }
            )

    def both(self, how: str, name: str, place: Vec, hint: str) -> None:
        add = self.draft.fixed if how == "fixed" else self.draft.moving
        add(f"{name}_left", place, hint)
        add(f"{name}_right", (place[0], -place[1], place[2]), hint)

    def on_axle(self, *names: str) -> None:
        for name in names:
            self.draft.body("axle", f"{name}_left", f"{name}_right")

    def links(self, name: str, front: Vec, rear: Vec) -> None:
        """Add a trailing link on each side, from the frame to the axle."""
        self.both("fixed", f"{name}_front", front, f"middle of the {name} link's bolt on the frame; {TAPE}")
        self.both("moving", f"{name}_rear", rear, f"middle of the {name} link's bolt on the axle; {TAPE}")
        self.on_axle(f"{name}_rear")
        for side in ("left", "right"):
            self.draft.body(f"{name}_link_{side}", f"{name}_front_{side}", f"{name}_rear_{side}")

    def stand(self, kind: str, names: tuple[str, str, str], eye: Vec, lean: Vec, long: float) -> None:
        """Stand a unit on the axle on each side; the top's height follows from the length."""
        unit, low, high = names
        self.both("moving", low, eye, "middle of the lower bolt; plumb line to the floor")
        self.both(
            "fixed",
            high,
            (lean[0], lean[1], eye[2] + long),
            "middle of the upper bolt; plumb line to the floor",
        )
        self.on_axle(low)
        for side in ("left", "right"):
            getattr(self.draft, kind)[f"{unit}_{side}"] = (f"{low}_{side}", f"{high}_{side}")

    def lower_links(self, spread: float = 0.62) -> None:
        r, t = self.brief.wheel_radius, self.brief.half_track
        self.links("lower", (2.0 * r, spread * t, 0.95 * r), (0.06 * r, spread * t, 0.78 * r))

    def lateral(self) -> None:
        r, t = self.brief.wheel_radius, self.brief.half_track
        self.draft.moving(
            "lateral_axle", (-0.35 * r, 0.55 * t, 0.98 * r), "middle of the lateral link's bolt on the axle"
        )
        self.draft.fixed(
            "lateral_frame", (-0.35 * r, -0.55 * t, 1.0 * r), "middle of the lateral link's bolt on the frame"
        )
        self.draft.body("axle", "lateral_axle")
        self.draft.body("lateral_link", "lateral_axle", "lateral_frame")


def _triangulated(brief: Brief) -> _Axle:
    axle, r, t = _Axle(brief), brief.wheel_radius, brief.half_track
    axle.lower_links()
    axle.links("upper", (1.45 * r, 0.55 * t, 1.42 * r), (-0.05 * r, 0.12 * t, 1.4 * r))
    return axle


def four_link_triangulated(brief: Brief) -> list[Draft]:
    """Return a triangulated four-link axle, coilovers upright on the tube."""
    axle, r, t = _triangulated(brief), brief.wheel_radius, brief.half_track
    eye = (-0.22 * r, 0.56 * t, 1.0 * r)
    axle.stand(
        "carries", ("coilover", "eye", "top"), eye, (-0.22 * r, 0.53 * t, 0.0), brief.damper_length(0.98)
    )
    return [axle.draft]


def four_link_parallel(brief: Brief) -> list[Draft]:
    """Return a parallel four-link axle with a lateral link, coilovers leaning inward."""
    axle, r, t = _Axle(brief), brief.wheel_radius, brief.half_track
    axle.lower_links()
    axle.links("upper", (1.75 * r, 0.62 * t, 1.38 * r), (0.02 * r, 0.62 * t, 1.36 * r))
    axle.lateral()
    long = brief.damper_length(0.9)
    eye = (-0.24 * r, 0.58 * t, 0.92 * r)
    axle.stand(
        "carries", ("coilover", "eye", "top"), eye, (-0.24 * r, 0.58 * t - 0.32 * long, 0.0), 0.93 * long
    )
    return [axle.draft]


def three_link_ahead(brief: Brief) -> list[Draft]:
    """Return a three-link axle with the coilovers ahead of it, on the lower arms."""
    axle, r, t = _Axle(brief), brief.wheel_radius, brief.half_track
    axle.lower_links()
    draft = axle.draft
    draft.fixed(
        "upper_front", (1.5 * r, 0.0, 1.42 * r), f"middle of the upper link's bolt on the frame; {TAPE}"
    )
    draft.moving("upper_rear", (0.0, 0.0, 1.4 * r), f"middle of the upper link's bolt on the axle; {TAPE}")
    draft.body("axle", "upper_rear")
    draft.body("upper_link", "upper_front", "upper_rear")
    axle.lateral()
    share = 0.72
    front, rear = draft.points["lower_front_left"], draft.points["lower_rear_left"]
    eye = tuple(a + share * (b - a) for a, b in zip(front, rear, strict=True))
    axle.both(
        "moving",
        "eye",
        (eye[0], eye[1], eye[2]),
        "middle of the coilover's bolt on the arm, on the arm's own line",
    )
    long = brief.damper_length(share)
    axle.both(
        "fixed",
        "top",
        (eye[0] + 0.05 * r, eye[1] - 0.06 * t, eye[2] + long),
        "middle of the coilover's upper bolt",
    )
    for side in ("left", "right"):
        draft.body(f"lower_link_{side}", f"eye_{side}")
        draft.carries[f"coilover_{side}"] = (f"eye_{side}", f"top_{side}")
        # Exactly on the arm's line: a place rounded off it would make the arm a plate.
        a, b = draft.points[f"lower_front_{side}"], draft.points[f"lower_rear_{side}"]
        draft.points[f"eye_{side}"] = tuple(p + share * (q - p) for p, q in zip(a, b, strict=True))  # type: ignore[assignment]
    return [draft]


def cantilever_axle(brief: Brief) -> list[Draft]:
    """Return a triangulated axle with a rocker on each frame rail, damper lying along it."""
    axle, r, t = _triangulated(brief), brief.wheel_radius, brief.half_track
    draft = axle.draft
    axle.both("moving", "rod_low", (-0.1 * r, 0.46 * t, 1.2 * r), "middle of the rod's bolt on the axle")
    axle.on_axle("rod_low")
    for side, y in (("left", 0.46 * t), ("right", -0.46 * t)):
        pivot = (0.35 * r, y, 2.05 * r)
        add_rocker(
            draft,
            brief,
            pivot,
            (0.0, 1.0, 0.0),
            arm=0.36 * r,
            damper_arm=0.3 * r,
            turn=-75.0,
            side=-1,
            suffix=f"_{side}",
        )
    return [draft]


def axle_on_air(brief: Brief) -> list[Draft]:
    """Return a triangulated axle on bags, with a damper on each side."""
    axle, r, t = _triangulated(brief), brief.wheel_radius, brief.half_track
    high = 150 + 0.6 * brief.bump
    axle.stand(
        "bags", ("bag", "bag_low", "bag_top"), (0.1 * r, 0.5 * t, 1.22 * r), (0.1 * r, 0.5 * t, 0.0), high
    )
    eye = (-0.3 * r, 0.62 * t, 0.85 * r)
    axle.stand("dampers", ("damper", "eye", "top"), eye, (-0.36 * r, 0.5 * t, 0.0), brief.damper_length(0.95))
    axle.draft.extra["tanks"] = [{"name": "pipe", "bags": ["bag_left", "bag_right"], "volume": 900_000.0}]
    return [axle.draft]
