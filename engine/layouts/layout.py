"""What an arrangement is, and what is asked before it can be drawn.

Brief    wheel, track, travel and masses: what a starting geometry is scaled from.
Draft    points, bodies and bare units of one station, before springs, stops and straps are chosen for it.
R, T     wheel radius and half track, mm: every starting place is a share of these.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from engine.facts import facts

Values = dict[str, Any]
Vec = tuple[float, float, float]


@dataclass(frozen=True, kw_only=True)
class Brief:
    """What the vehicle must do: mm, kg, Hz; travel from the drawn position, per wheel masses."""

    wheel_radius: float = 310.0
    tyre_width: float = 205.0
    track: float = 1480.0
    bump: float = 70.0
    droop: float = 55.0
    corner_mass: float = 280.0
    unsprung_mass: float = 38.0
    frequency: float = 1.5

    @property
    def half_track(self) -> float:
        """Return half of the track, mm."""
        return self.track / 2

    def damper_length(self, ratio: float) -> float:
        """Return a fair eye-to-eye length as drawn for a damper that takes the whole travel at a ratio, mm."""
        return 150 + 2.1 * ratio * (self.bump + self.droop)


@dataclass
class Draft:
    """One station being drawn.

    points  : name to x, y, z, mm
    hints   : name to how it is found at the vehicle, in plain words
    bodies, chassis, wheels, sliders, joints, envelopes : as in the project file
    carries, springs, bags, dampers : names of units to come, with their ends
    straps  : for a unit whose strap stands apart from it, the strap's ends
    extra   : more keys of the station, as in the project file; `adapter` goes to its coilover
    """

    name: str
    kind: str = "corner"
    points: dict[str, Vec] = field(default_factory=dict)
    hints: dict[str, str] = field(default_factory=dict)
    bodies: dict[str, list[str]] = field(default_factory=dict)
    chassis: list[str] = field(default_factory=list)
    wheels: list[Values] = field(default_factory=list)
    carries: dict[str, tuple[str, str]] = field(default_factory=dict)
    dampers: dict[str, tuple[str, str]] = field(default_factory=dict)
    springs: dict[str, tuple[str, str]] = field(default_factory=dict)
    bags: dict[str, tuple[str, str]] = field(default_factory=dict)
    straps: dict[str, tuple[str, str]] = field(default_factory=dict)
    extra: Values = field(default_factory=dict)

    def fixed(self, name: str, place: Vec, hint: str) -> str:
        """Add a point of the chassis."""
        self.chassis.append(name)
        return self.moving(name, place, hint)

    def moving(self, name: str, place: Vec, hint: str) -> str:
        """Add a point of a moving body."""
        self.points[name] = (round(place[0], 1), round(place[1], 1), round(place[2], 1))
        self.hints[name] = hint
        return name

    def body(self, name: str, *members: str) -> None:
        """Add a body, or more points to one that is there."""
        self.bodies.setdefault(name, [])
        self.bodies[name] += [member for member in members if member not in self.bodies[name]]


@facts
class Layout:
    """One arrangement.

    name     its key; `title` and `moves` say it in the words of the job
    room     where it needs room
    asks     names of the brief's values that its starting geometry is scaled from
    findings codes of the judgements that matter most here
    draw     the brief to its stations
    """

    name: str
    title: str
    moves: str
    room: str
    draw: Callable[[Brief], list[Draft]]
    asks: tuple[str, ...] = (
        "wheel_radius",
        "tyre_width",
        "track",
        "bump",
        "droop",
        "corner_mass",
        "unsprung_mass",
    )
    findings: tuple[str, ...] = (
        "first_in_bump",
        "first_in_droop",
        "damper_compressed",
        "damper_extended",
        "coil_left",
    )
