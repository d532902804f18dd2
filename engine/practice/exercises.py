"""Exercises of our own: each about one thing that people get wrong, and two whole days of several.

Every figure that a way uses is worked out of the job as the worker believes it to be; what comes of it is judged by the same engine
that judges any job.
"""

import copy
import math
from collections.abc import Callable

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.layouts.catalogue import layout_named, starting_project
from engine.practice.exercise import Came, Check, Decision, Exercise, Values, Way
from engine.results.whole import WorkedProject

STANDS_MM, FREQUENCY_HZ = 8.0, 0.12
WANTED_HZ = 1.6
COMING_KG = 55.0
OFFSET_MM = 12.0  # of a bracket's hole from its foot
SPARE_MM = 3.0  # that a strap is cut short of full droop: it settles
LEAN_DEG = 45.0
SHAFT_AHEAD_MM = 95.0
LARGE_BAG_MM = 180.0


def _station(values: Values, number: int = 0) -> Values:
    its: Values = values["stations"][number]
    return its


def _unit(values: Values, kind: str, number: int = 0) -> Values:
    its: Values = next(one for one in _station(values, number)["units"] if one["kind"] == kind)
    return its


def _nothing(values: Values, believed: WorkedProject) -> Values:
    del believed
    return values


def _changed(change: Callable[[Values, WorkedProject], None]) -> Callable[[Values, WorkedProject], Values]:
    """Return what does something to a copy."""

    def does(values: Values, believed: WorkedProject) -> Values:
        its = copy.deepcopy(values)
        change(its, believed)
        return its

    return does


def _drawn(layout: str) -> Callable[[], Values]:
    def values() -> Values:
        found: Values = copy.deepcopy(starting_project(layout_named(layout)))
        for station in found["stations"]:
            station["mass"]["finished"] = station["mass"]["corner"]
            station["other_side"] = "alone"
        found["judging"] = {"purpose": "road"}
        return found

    return values


def _sprung(values: Values, believed: WorkedProject, power: int, mass: float, number: int = 0) -> None:
    """Give a station the spring that carries a mass as drawn at the frequency wanted, by the ratio to a power."""
    solved = believed.stations[number].work.solved
    rows = solved.at(np.array([0.0]))
    unit = _unit(values, "coilover", number)
    trace = rows.units[unit["name"]]
    ratio, long = abs(float(trace.motion_ratio[0])), float(trace.length[0])
    sprung = mass - _station(values, number)["mass"]["unsprung"]
    rate = sprung * (2 * math.pi * WANTED_HZ) ** 2 / 1000.0 / ratio**power
    load = sprung * GRAVITY_M_PER_S2 / ratio - unit.get("gas_force", 0.0)
    squeezed = load / rate
    spring = unit["springs"][0]
    spring["rate"] = round(rate, 1)
    spring["free_length"] = round(max(spring["free_length"], squeezed + spring["solid_length"] + 60.0), 0)
    unit["preload"] = round(squeezed - (unit["extended"] - long), 2)


def _spring(power: int, finished: bool = True) -> Callable[[Values, WorkedProject], Values]:
    def change(values: Values, believed: WorkedProject) -> None:
        mass = _station(values)["mass"]
        _sprung(values, believed, power, mass["finished"] if finished else mass["corner"])

    return _changed(change)


def _strap(taut_at_droop: bool) -> Callable[[Values, WorkedProject], Values]:
    """Cut the strap so that it has stretched its share at full droop, or so that it is only just taut there."""

    def change(values: Values, believed: WorkedProject) -> None:
        solved, strap = believed.stations[0].work.solved, _unit(values, "strap")
        droop = _station(values)["travel"]["droop"]
        long = float(solved.at(np.array([-float(droop)])).units[strap["name"]].length[0])
        stretch = strap.get("stretch", 0.0)
        strap["length"] = round((long - SPARE_MM) / (1 + stretch) if taut_at_droop else long, 1)

    return _changed(change)


def _without_stop(values: Values, believed: WorkedProject) -> None:
    del believed
    station = _station(values)
    station["units"] = [one for one in station["units"] if one["kind"] != "bump_stop"]


def _large_bag(values: Values, believed: WorkedProject) -> None:
    del believed
    _unit(values, "air_spring")["max_diameter"] = LARGE_BAG_MM


def _bag_drawn() -> Values:
    values = _drawn("arm-on-air")()
    station = _station(values)
    low, top = (np.array(station["points"][end]) for end in _unit(values, "air_spring")["ends"])
    middle, radius = (low + top) / 2, _unit(values, "air_spring")["max_diameter"] / 2
    rail = {"name": "frame rail", "shape": "box", "centre": [float(middle[0]), float(middle[1] - radius - 46.0), float(middle[2])], "size": [420.0, 60.0, 120.0]}  # fmt: skip
    station.setdefault("envelopes", []).append(rail)
    return values


def _pair_drawn() -> Values:
    values = _drawn("wishbones-lower")()
    left = _station(values)
    right = copy.deepcopy(left)
    left["name"], right["name"] = "Front left", "Front right"
    left["other_side"], right["other_side"] = "Front right", "Front left"
    right["points"] = {name: [x, -y, z] for name, (x, y, z) in right["points"].items()}
    values["stations"] = [left, right]
    values["judging"]["sides_mm"] = [4.0, 10.0]  # a frame as it comes is no closer
    return values


def _copied(values: Values, believed: WorkedProject) -> None:
    """Weld the left bracket on the right: its hole stands off the wrong way, twice what it stands off."""
    del believed
    point = _station(values, 1)["points"][_unit(values, "coilover", 1)["ends"][1]]
    point[1] -= 2 * OFFSET_MM


def _leaning(values: Values, believed: WorkedProject) -> None:
    del believed
    station, ends = _station(values), _unit(values, "coilover")["ends"]
    eye, top = (np.array(station["points"][end]) for end in ends)
    long, lean = float(np.linalg.norm(top - eye)), math.radians(LEAN_DEG)
    station["points"][ends[1]] = [float(eye[0]), float(eye[1] - long * math.sin(lean)), float(eye[2] + long * math.cos(lean))]  # fmt: skip


def _shaft_drawn() -> Values:
    values = _drawn("wishbones-lower")()
    station = _station(values)
    x, y, z = station["points"][station["wheels"][0]["centre"]]
    shaft = {"name": "half shaft", "shape": "capsule", "along": [[float(x), 140.0, float(z)], [float(x), float(y) - 170.0, float(z)]], "radius": 22.0, "what": "link"}  # fmt: skip
    station.setdefault("envelopes", []).append(shaft)
    return values


def _ahead(values: Values, believed: WorkedProject) -> None:
    del believed
    station = _station(values)
    for end in _unit(values, "coilover")["ends"]:
        station["points"][end][0] += SHAFT_AHEAD_MM


def _heavier_drawn() -> Values:
    values = _drawn("wishbones-lower")()
    _station(values)["mass"]["finished"] = _station(values)["mass"]["corner"] + COMING_KG
    return values


def _stands(worked: WorkedProject) -> Came:
    """Return where it stands, with everything in it that will be."""
    solved = worked.stations[0].work.solved
    if solved.ride is None:
        return Came(what="stands", wanted=0.0, got=None, measures="travel", well=False, say="It does not stand anywhere in its travel.")  # fmt: skip
    got = solved.ride.travel
    return Came(what="stands", wanted=0.0, got=got, measures="travel", well=abs(got) <= STANDS_MM, say=f"It stands {got:+.1f} mm from where it was wanted.")  # fmt: skip


def _rides(worked: WorkedProject) -> Came:
    ride = worked.stations[0].work.solved.ride
    if ride is None:
        return Came(what="frequency", wanted=WANTED_HZ, got=None, measures="frequency", well=False, say="It does not stand, so it has no frequency.")  # fmt: skip
    got = ride.frequency
    return Came(what="frequency", wanted=WANTED_HZ, got=got, measures="frequency", well=abs(got - WANTED_HZ) <= FREQUENCY_HZ, say=f"It rides at {got:.2f} Hz; {WANTED_HZ:g} Hz was wanted.")  # fmt: skip


def _free_of(what: str, *codes: str, marks: tuple[str, ...] = ("fault",)) -> Callable[[WorkedProject], Came]:
    """Return what looks for faults of some kinds, or warnings too: none may be there."""

    def looks(worked: WorkedProject) -> Came:
        found = [
            finding
            for station in worked.stations
            for finding in station.findings
            if finding.mark in marks and finding.kind.code in codes
        ]
        say = str(found[0].what) if found else f"No fault: {what}."
        return Came(what=what, wanted=0.0, got=float(len(found)), measures="ratio", well=not found, say=say)

    return looks


DROOP = _free_of("what ends droop", "damper_extended", "first_in_droop", "strap_before_damper", "strap_never_taut", marks=("fault", "warning"))  # fmt: skip
BUMP = _free_of("what ends bump", "damper_compressed", "first_in_bump", "bump_stop_before_damper", "coil_solid", marks=("fault", "warning"))  # fmt: skip
BAG = _free_of("the bag's room", "bag_to_anything")
SIDES = _free_of("left against right", "sides_differ")
ROOM = _free_of("room about it", "parts_to_one_another", "tyre_to_spring", "tyre_to_structure")

SPRING = Decision(
    key="spring", asks="Which spring carries this wheel rate?", hours=1.0, money=90.0, again_hours=1.0, again_money=90.0,
    ways=(
        Way(name="ratio squared", does=_spring(2)),
        Way(name="ratio once", does=_spring(1), mistake="The ratio was not squared: force and travel both go through it."),
    ),
)  # fmt: skip
WEIGHT = Decision(
    key="weight", asks="Which weight is the spring for?", hours=0.5, money=90.0, again_hours=1.5, again_money=90.0,
    ways=(
        Way(name="finished", does=_spring(2)),
        Way(name="as it weighs today", does=_spring(2, finished=False), mistake="The weight still to come was forgotten."),
    ),
)  # fmt: skip
STRAP = Decision(
    key="strap", asks="How long is the strap?", hours=0.7, money=40.0, again_hours=1.5, again_money=40.0, again_pieces=1,
    ways=(
        Way(name="with its stretch", does=_strap(True)),
        Way(name="as long as it is there", does=_strap(False), mistake="The strap's stretch was forgotten: the damper tops out first."),
    ),
)  # fmt: skip
STOP = Decision(
    key="stop", asks="What ends bump?", hours=0.7, money=40.0, again_hours=1.5, again_money=390.0,
    ways=(
        Way(name="a bump stop", does=_nothing),
        Way(name="the damper", does=_changed(_without_stop), mistake="The damper was left to be the stop."),
    ),
)  # fmt: skip
BAGS = Decision(
    key="bag", asks="Which bag?", hours=1.0, money=180.0, again_hours=2.0, again_money=180.0,
    ways=(
        Way(name="the one that has room", does=_nothing),
        Way(name="the larger one", does=_changed(_large_bag), mistake="The bag rubs: its largest diameter was not looked at."),
    ),
)  # fmt: skip
BRACKET = Decision(
    key="bracket", asks="Which bracket goes on the right?", hours=1.0, again_hours=5.0, again_money=15.0, again_pieces=1,
    ways=(
        Way(name="one turned over", does=_nothing),
        Way(name="a copy of the left one", does=_changed(_copied), mistake="A mirrored bracket was copied: its hole stands off the wrong way."),
    ),
)  # fmt: skip
LEAN = Decision(
    key="lean", asks="Where does the upper mount go?", hours=2.0, again_hours=5.0, again_money=15.0, again_pieces=2,
    ways=(
        Way(name="nearly upright", does=_nothing),
        Way(name="leant to clear a tube", does=_changed(_leaning), mistake="The damper was leant and its spring left as it was: the ratio fell."),
    ),
)  # fmt: skip
SHAFT = Decision(
    key="shaft", asks="Which side of the half shaft?", hours=2.0, again_hours=5.0, again_money=15.0, again_pieces=2,
    ways=(
        Way(name="ahead of it", does=_changed(_ahead)),
        Way(name="through its middle", does=_nothing, mistake="The half shaft was forgotten: it goes through the coilover."),
    ),
)  # fmt: skip

EXERCISES: tuple[Exercise, ...] = (
    Exercise(key="ratio", title="A spring by its ratio", about="the ratio not squared", drawn=_drawn("wishbones-lower"), decisions=(SPRING,), checks=(Check(answers="spring", looks=_rides), Check(answers="spring", looks=_stands))),
    Exercise(key="strap", title="A strap that stretches", about="the strap in line, and its stretch", drawn=_drawn("trailing-arm"), decisions=(STRAP,), checks=(Check(answers="strap", looks=DROOP),)),
    Exercise(key="stop", title="What ends bump", about="the damper used as the stop", drawn=_drawn("trailing-arm"), decisions=(STOP,), checks=(Check(answers="stop", looks=BUMP),)),
    Exercise(key="bag", title="A bag beside a rail", about="a bag that rubs", drawn=_bag_drawn, decisions=(BAGS,), checks=(Check(answers="bag", looks=BAG),)),
    Exercise(key="bracket", title="The other side", about="a mirrored bracket copied", drawn=_pair_drawn, decisions=(BRACKET,), checks=(Check(answers="bracket", looks=SIDES),)),
    Exercise(key="weight", title="Weight still to come", about="weight still to come", drawn=_heavier_drawn, decisions=(WEIGHT,), checks=(Check(answers="weight", looks=_stands),)),
    Exercise(key="lean", title="A damper leant", about="leaning a damper", drawn=_drawn("wishbones-lower"), decisions=(LEAN,), checks=(Check(answers="lean", looks=_stands),)),
    Exercise(key="shaft", title="A driven corner", about="a half shaft in the way", drawn=_shaft_drawn, decisions=(SHAFT,), checks=(Check(answers="shaft", looks=ROOM),)),
    Exercise(key="day-pushrod", title="A whole day: a pushrod corner", about="everything on a pushrod corner", drawn=_drawn("pushrod"), decisions=(SPRING, STRAP, STOP), checks=(Check(answers="spring", looks=_rides), Check(answers="spring", looks=_stands), Check(answers="strap", looks=DROOP), Check(answers="stop", looks=BUMP))),
    Exercise(key="day-air", title="A whole day: an arm on air", about="everything on an arm on air", drawn=_bag_drawn, decisions=(BAGS, STRAP, STOP), checks=(Check(answers="bag", looks=BAG), Check(answers="strap", looks=DROOP), Check(answers="stop", looks=BUMP))),
)  # fmt: skip
BY_KEY = {one.key: one for one in EXERCISES}
