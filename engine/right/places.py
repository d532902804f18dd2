"""What is turned, shimmed, bolted in another hole, moved or cut otherwise: nothing to buy."""

import math
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np

from engine.document.schema import AirSpring, BumpStop, Coilover, Damper, SpringUnit, Station, Strap
from engine.findings import kinds
from engine.findings.finding import Finding
from engine.remedies.dampers import move_eye
from engine.remedies.direct import set_pressure, turn_tab, wedge
from engine.remedies.knob import Knob, added, both_sides, either_way, unit_knob, with_points, with_units
from engine.remedies.room import shift_envelope
from engine.remedies.wheels import tie_rod_ends, upper_ball, upper_links, upper_pivots
from engine.ride.angles import rocker_joints
from engine.ride.perch import seated
from engine.ride.setting import means_of, with_setting
from engine.right.lever import PLACES, TURNS, Lever, of_knob, steps
from engine.sentences import Quantity, Sentence, length, listed
from engine.station.solved import SolvedStation

SHIM_MM = 10.0
FREE_TURN_MM = 20.0  # of a perch that nobody has said more of
PRESSURE_BAR, PRESSURE_STEP_BAR = 3.0, 0.1
MOVED_MM, PIVOT_MM = 100.0, 40.0
ARM_TURN_DEG, ARM_MM = 30.0, 25.0
ENOUGH = Finding(kind=kinds.FIRST_IN_DROOP, mark="warning", what=Sentence(""))
AXES = (("forward", "rearward"), ("to the left", "to the right"), ("up", "down"))

State = Callable[[str], str]
"""A point's or a body's name to how far the work on it has come."""


def place_levers(solved: SolvedStation, findings: tuple[Finding, ...], state: State) -> Iterator[Lever]:
    """Yield a station's levers that need no part."""
    yield from _turned(solved)
    yield from _holes(solved.station)
    yield from _shimmed(solved)
    yield from _moved(solved, state)
    yield from _rockers(solved, state)
    yield from _by_findings(solved, findings, state)


def _turned(solved: SolvedStation) -> Iterator[Lever]:
    station = solved.station
    for means in means_of(solved):
        of, low, high = frozenset(means.subjects), means.least, means.most
        if means.by == "perch":
            low, high = (
                (means.now - FREE_TURN_MM if low is None else low),
                (means.now + FREE_TURN_MM if high is None else high),
            )
            sizes = [x for x in steps(200.0, 1.0) if low <= means.now + x <= high]
            names = means.subjects
            words = ("Wind the perch of the {0} up {by}.", "Wind the perch of the {0} down {by}.")
            yield Lever(
                name="perch",
                key="turned",
                change=lambda its, x, names=names: with_units(  # type: ignore[misc]
                    its, names, lambda unit: seated(unit, preload=added(unit.preload, x))
                ),
                say=either_way(*words, listed(names)),
                values=tuple(sizes),
                of=of,
                slot="perch",
                sides=len(names),
                order=TURNS,
            )
        elif means.by == "pressure":
            most = high if high is not None else means.now + PRESSURE_BAR
            first, last = max(means.now - PRESSURE_BAR, 0.1), min(most, means.now + PRESSURE_BAR)
            whole = [
                round(PRESSURE_STEP_BAR * k, 1)
                for k in range(math.ceil(first / PRESSURE_STEP_BAR), int(last / PRESSURE_STEP_BAR + 1e-9) + 1)
            ]
            names = means.subjects
            yield Lever(
                name="pressure",
                key="turned",
                change=lambda its, x, names=names: with_units(its, names, lambda _: {"pressure": x}),  # type: ignore[misc]
                say=lambda x: Sentence("Set {new} in the bags.", {"new": Quantity(x, "pressure")}),
                values=tuple(x for x in whole if x != means.now),
                of=of,
                slot="pressure",
                order=TURNS,
                now=means.now,
            )
        elif means.by == "rod" and low is not None and high is not None:
            pitch = station.rods[means.subjects[0]].pitch
            # Half a turn of a rod with a left and a right hand thread: half a pitch at each end.
            sizes = [x for x in steps(200.0, pitch) if low - 1e-9 <= means.now + x <= high + 1e-9]
            yield Lever(
                name="rod turned",
                key="turned",
                change=lambda its, x, means=means: with_setting(its, means, means.now + x),  # type: ignore[misc]
                say=either_way(
                    "Turn the {0} {by} longer.", "Turn the {0} {by} shorter.", listed(means.subjects)
                ),
                values=tuple(sizes),
                of=of,
                slot=f"rod {means.subjects[0]}",
                sides=len(means.subjects),
                order=TURNS,
            )
    for unit in station.units:
        if isinstance(unit, Strap) and unit.adjust:
            yield _taken_in(station, unit)


def _taken_in(station: Station, unit: Strap) -> Lever:
    names = both_sides(station, unit.name)

    def fields(one: Any, x: float) -> dict[str, Any]:
        return {"length": added(one.length, -x), "adjust": added(one.adjust or 0.0, -x)}

    return Lever(
        name=f"strap taken in {unit.name}",
        key="turned",
        change=lambda its, x: with_units(its, names, lambda one: fields(one, x)),
        say=lambda x: Sentence("Take the {0} in by {by} at its adjuster.", {"by": length(x)}, (unit.name,)),
        values=steps(unit.adjust or 0.0, 1.0, (1,)),
        of=frozenset(names),
        slot=f"strap {unit.name}",
        sides=len(names),
        order=TURNS,
    )


def _holes(station: Station) -> Iterator[Lever]:
    for point, pattern in station.holes.items():
        here = np.array(station.points[point])
        others = [place for place in pattern.places if float(np.linalg.norm(np.array(place) - here)) > 0.05]
        number = {tuple(place): k + 1 for k, place in enumerate(pattern.places)}
        yield Lever(
            name=f"hole {point}",
            key="hole",
            change=lambda its, place, point=point: with_points(its, {point: place}),  # type: ignore[misc]
            say=lambda place, point=point, number=number: Sentence(  # type: ignore[misc]
                f"Bolt {{0}} in hole {number[tuple(place)]}.", {}, (point,)
            ),
            values=tuple(others),
            of=frozenset({point}),
            slot=f"place {point}",
        )


def _shimmed(solved: SolvedStation) -> Iterator[Lever]:
    station = solved.station
    for unit in station.units:
        names = both_sides(station, unit.name)
        if names[0] != unit.name:
            continue
        if isinstance(unit, BumpStop):
            words = "Pack the {0} out by {by}."
            knob = unit_knob(
                station,
                unit.name,
                lambda one, x: {"contact": added(one.contact, x)},
                (words, words),
                SHIM_MM,
                (1,),
            )
            yield of_knob(
                knob,
                f"packed {unit.name}",
                "shimmed",
                frozenset(names),
                len(names),
                slot=f"stop {unit.name}",
                order=TURNS,
            )
        elif isinstance(unit, Coilover | Damper | SpringUnit):
            for knob in move_eye(station, unit.name):
                yield _spaced(station, unit.name, names, knob)
    for number, knob in enumerate(tie_rod_ends(ENOUGH, solved)):
        what = ("tie rod shimmed", "rack shimmed")[number]
        yield of_knob(
            knob,
            what,
            "shimmed",
            frozenset(_touched(station, knob)),
            1,
            most=SHIM_MM,
            slot=what.split(" shim")[0],
        )


def _spaced(station: Station, name: str, names: tuple[str, ...], knob: Knob) -> Lever:
    """Spacers under a mount bring its eye toward the other one."""
    points = _touched(station, knob)
    return Lever(
        name=f"spaced {name}",
        key="shimmed",
        change=lambda its, x: knob.turn(its, -x),
        say=lambda x: Sentence(
            "Put {by} of spacers under {0}, toward the other eye.", {"by": length(x)}, (listed(points),)
        ),
        values=steps(SHIM_MM, 1.0, (1,)),
        of=frozenset(points),
        slot=f"place {points[0]}",
        sides=len(names),
    )


def _touched(station: Station, knob: Knob) -> tuple[str, ...]:
    """Return the points that a knob moves."""
    turned = knob.turn(station, 1.0)
    return tuple(name for name in station.points if turned.points[name] != station.points[name])


def _moved(solved: SolvedStation, state: State) -> Iterator[Lever]:
    station = solved.station
    done: set[str] = set()
    for unit in station.units:
        if not isinstance(unit, Coilover | Damper | AirSpring | SpringUnit) or unit.name in done:
            continue
        names = both_sides(station, unit.name)
        done |= set(names)
        for knob in move_eye(station, unit.name):
            yield _as_move(station, knob, f"along {unit.name}", state, len(names), MOVED_MM)
        yield from _arm_end(station, unit.name, names, state)
    for name, knobs, most in (
        ("rack", tie_rod_ends(ENOUGH, solved)[1:], MOVED_MM),
        ("upper pivots", upper_pivots(ENOUGH, solved), PIVOT_MM),
        ("upper ball", upper_ball(ENOUGH, solved), PIVOT_MM),
        ("upper links", upper_links(ENOUGH, solved), 250.0),
    ):
        for knob in knobs:
            sides = 2 if station.kind == "axle" else 1
            yield _as_move(station, knob, name, state, sides, most, 5.0 if most > MOVED_MM else 1.0)


def _as_move(
    station: Station, knob: Knob, name: str, state: State, sides: int, most: float, step: float = 1.0
) -> Lever:
    points = _touched(station, knob)
    return of_knob(
        knob,
        name,
        f"moved_{state(points[0])}",
        frozenset(points),
        sides,
        slot=f"place {points[0]}",
        step=step,
        most=most,
    )


def _arm_end(station: Station, name: str, names: tuple[str, ...], state: State) -> Iterator[Lever]:
    """Yield a unit's moving end put elsewhere along the line through it: on an arm that is made, a bracket welded anew."""
    moving: dict[str, tuple[np.ndarray, str]] = {}
    for other in names:
        unit = station.unit(other)
        ends = [end for end in unit.ends if end not in station.chassis]
        hosts = [body for end in ends for body, its in station.bodies.items() if end in its and len(its) > 2]
        if len(ends) != 1 or len(hosts) != 1:
            return
        far = next(end for end in unit.ends if end != ends[0])
        along = np.array(station.points[ends[0]], dtype=float) - np.array(station.points[far], dtype=float)
        moving[ends[0]] = along / np.linalg.norm(along), hosts[0]
    hosts_of = {host for _, host in moving.values()}
    if any(body in _rocker_names(station) for body in hosts_of):
        return

    def turn(its: Station, x: float) -> Station:
        return with_points(
            its, {end: np.array(its.points[end]) + way * x for end, (way, _) in moving.items()}
        )

    say = either_way(
        "Move {0} {by} along the line, away from the other eye.",
        "Move {0} {by} along the line, toward the other eye.",
        listed(list(moving)),
    )
    made = state(next(iter(hosts_of))) == "made"
    first = next(iter(moving))
    yield Lever(
        name=f"arm end {name}",
        key="moved_welded" if made else "moved_drawn",
        change=turn,
        say=say,
        values=steps(MOVED_MM / 2, 1.0),
        of=frozenset(moving) | hosts_of,
        slot=f"place {first}",
        sides=len(names),
    )


def _rocker_names(station: Station) -> set[str]:
    """Return the bodies that turn about chassis points and carry no wheel, with a unit or a rod on them."""
    wheels = {wheel.centre for wheel in station.wheels}
    return {
        body
        for body, its in station.bodies.items()
        if len(its) > 2
        and any(end in station.chassis for end in its)
        and not wheels & set(its)
        and body in station.plates
    }


def _rockers(solved: SolvedStation, state: State) -> Iterator[Lever]:
    """Yield each rocker's pivot moved, and its arms turned or made longer about it."""
    station, linkage = solved.station, solved.linkage
    joints = rocker_joints(linkage)
    rockers = dict.fromkeys(joint.rocker for joint in joints)
    for rocker in rockers:
        pivots = [point for point in station.bodies[rocker] if point in station.chassis]
        if not pivots:
            continue
        for axis in range(3):
            yield _pivot(station, rocker, pivots, axis, state)
        axis_way = _axis(station, joints, rocker, pivots)
        if axis_way is None:
            continue
        for point in station.bodies[rocker]:
            if point in station.chassis or any(wheel.centre == point for wheel in station.wheels):
                continue
            yield from _arm(station, rocker, point, pivots[0], axis_way, state)


def _pivot(station: Station, rocker: str, pivots: list[str], axis: int, state: State) -> Lever:
    def turn(its: Station, x: float) -> Station:
        way = np.zeros(3)
        way[axis] = x
        return with_points(its, {point: np.array(its.points[point]) + way for point in pivots})

    more, less = AXES[axis]
    return Lever(
        name=f"pivot {rocker} {'xyz'[axis]}",
        key=f"moved_{state(pivots[0])}",
        change=turn,
        say=either_way(
            f"Move the pivot of the {{0}} {{by}} {more}.",
            f"Move the pivot of the {{0}} {{by}} {less}.",
            rocker,
        ),
        values=steps(PIVOT_MM, 1.0),
        of=frozenset(pivots),
        slot=f"place {pivots[0]}",
    )


def _axis(station: Station, joints: Any, rocker: str, pivots: list[str]) -> np.ndarray | None:
    """Return the direction that a rocker turns about: through its pivots, or square to its arms."""
    if len(pivots) > 1:
        way = np.array(station.points[pivots[1]], dtype=float) - np.array(
            station.points[pivots[0]], dtype=float
        )
    else:
        others = [point for point in station.bodies[rocker] if point not in pivots][:2]
        if len(others) < 2:
            return None
        here = np.array(station.points[pivots[0]], dtype=float)
        one, other = (np.array(station.points[point], dtype=float) - here for point in others)
        way = np.cross(one, other)
    long = float(np.linalg.norm(way))
    return None if long < 1e-6 else way / long


def _arm(
    station: Station, rocker: str, point: str, pivot: str, axis: np.ndarray, state: State
) -> Iterator[Lever]:
    here = np.array(station.points[pivot], dtype=float)
    arm = np.array(station.points[point], dtype=float) - here
    flat = arm - axis * float(arm @ axis)
    if np.linalg.norm(flat) < 5.0:
        return
    key = "rocker_made" if state(rocker) == "made" else "rocker_drawn"
    common = {"key": key, "of": frozenset({rocker, point}), "slot": f"arm {rocker} {point}", "order": PLACES}

    def turned(its: Station, degrees: float) -> Station:
        angle = math.radians(degrees)
        now = np.array(its.points[point], dtype=float) - np.array(its.points[pivot], dtype=float)
        swung = (
            now * math.cos(angle)
            + np.cross(axis, now) * math.sin(angle)
            + axis * float(axis @ now) * (1 - math.cos(angle))
        )
        return with_points(its, {point: np.array(its.points[pivot], dtype=float) + swung})

    def longer(its: Station, x: float) -> Station:
        now = np.array(its.points[point], dtype=float) - np.array(its.points[pivot], dtype=float)
        out = now - axis * float(now @ axis)
        return with_points(
            its, {point: np.array(its.points[point], dtype=float) + out / np.linalg.norm(out) * x}
        )

    def say_turned(x: float) -> Sentence:
        side = "one way" if x > 0 else "the other way"
        words = f"Cut the {{0}} with its arm to {{1}} turned {{by}} {side}, as drawn."
        return Sentence(words, {"by": Quantity(abs(x), "angle")}, (rocker, point))

    yield Lever(
        name=f"arm angle {rocker} {point}",
        change=turned,
        say=say_turned,
        values=steps(ARM_TURN_DEG, 1.0),
        **common,  # type: ignore[arg-type]
    )
    words = ("Cut the {0} with its arm to {1} {by} longer.", "Cut the {0} with its arm to {1} {by} shorter.")
    yield Lever(
        name=f"arm length {rocker} {point}",
        change=longer,
        say=either_way(*words, rocker, point),
        values=steps(min(ARM_MM, float(np.linalg.norm(flat)) * 0.6), 1.0),
        **common,  # type: ignore[arg-type]
    )


def _by_findings(solved: SolvedStation, findings: tuple[Finding, ...], state: State) -> Iterator[Lever]:
    """Yield what only a finding asks for: something in the way moved, a tab turned, a plate packed level."""
    station, seen = solved.station, set()
    for finding in findings:
        if finding.mark == "good":
            continue
        if finding.kind.rooms and len(finding.subjects) > 1 and finding.push is not None:
            for knob in shift_envelope(finding, solved):
                name = str(knob.say(1.0))
                if name not in seen:
                    seen.add(name)
                    yield of_knob(
                        knob,
                        name,
                        "room",
                        frozenset(finding.subjects),
                        1,
                        slot=name.split(" 1.0", maxsplit=1)[0],
                    )
        direct = {
            kinds.EYE_SQUARE: turn_tab,
            kinds.BAG_PLATES_AT_RIDE: wedge,
            kinds.BAG_PLATES_IN_TRAVEL: wedge,
        }.get(finding.kind)
        if direct is not None:
            yield from _tab(direct, finding, solved, state)
    if any(finding.kind in (kinds.BAG_FILLING, kinds.NO_EQUILIBRIUM) for finding in findings):
        found = set_pressure(ENOUGH, solved)
        if found is not None:
            wanted = round(
                float(next(u for u in found.station.units if isinstance(u, AirSpring)).pressure), 2
            )
            bags = tuple(unit.name for unit in station.units if isinstance(unit, AirSpring))
            yield Lever(
                name="pressure wanted",
                key="turned",
                change=lambda its, x: with_units(its, bags, lambda _: {"pressure": x}),
                say=lambda x: Sentence("Set {new} in the bags.", {"new": Quantity(x, "pressure")}),
                values=(wanted,),
                of=frozenset(bags),
                slot="pressure",
                order=TURNS,
            )


def _tab(direct: Any, finding: Finding, solved: SolvedStation, state: State) -> Iterator[Lever]:
    found = direct(finding, solved)
    if found is None:
        return
    name = finding.subjects[0]
    end = finding.subjects[1] if len(finding.subjects) > 1 else None
    after = next(unit for unit in found.station.units if unit.name == name)
    fields = {key: getattr(after, key) for key in ("eyes", "plates") if hasattr(after, key)}
    key = f"moved_{state(end)}" if end in solved.station.chassis else "moved_drawn"
    yield Lever(
        name=f"{finding.code} {' '.join(finding.subjects)}",
        key=key,
        change=lambda its, _: with_units(its, [name], lambda _: fields),
        say=lambda _: found.what,
        values=(0.0,),
        of=frozenset({name, *([end] if end else [])}),
        slot=f"tab {name} {end}",
    )
