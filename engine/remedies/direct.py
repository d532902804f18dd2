"""Changes that are worked out in one go, with nothing to search."""

import math

import numpy as np

from engine.document.schema import AirSpring, Coilover, Damper
from engine.findings.finding import Finding
from engine.linkage.pose import host_of, pose_of
from engine.remedies.knob import Remedy, both_sides, unit_of, with_rods, with_units
from engine.sentences import Quantity, Sentence
from engine.station.solved import SolvedStation
from engine.workup import WorkUp

SWING_SHARE = 0.01  # a swing of about half a degree tells no plane


def other_hand(finding: Finding, solved: SolvedStation) -> Remedy | None:
    """Make one end of a rod left-hand, so that turning it changes its length."""
    station = with_rods(solved.station, finding.subjects, lambda rod: {"hands": ["right", "left"]})
    return Remedy(
        what=Sentence("Make one end of the {0} left-hand.", names=finding.subjects), station=station
    )


def set_pressure(finding: Finding, solved: SolvedStation) -> Remedy | None:
    """Fill every bag to the pressure that carries the weight where it is wanted."""
    needed = solved.pressure_wanted_bar
    bags = [unit.name for unit in solved.station.units if isinstance(unit, AirSpring)]
    if needed is None or not bags:
        return None
    station = with_units(solved.station, bags, lambda bag: {"pressure": round(needed, 4)})
    words = "Set {needed}." if len(bags) == 1 else "Set {needed} in every bag."
    return Remedy(what=Sentence(words, {"needed": Quantity(needed, "pressure")}), station=station)


def wedge(finding: Finding, solved: SolvedStation) -> Remedy | None:
    """Turn a bag's second plate so that both are parallel at ride height."""
    unit = unit_of(solved.station, finding.subjects[0])
    if not isinstance(unit, AirSpring) or unit.plates is None or solved.at_ride is None:
        return None
    plates, place = unit.plates, solved.at_ride.solution.motion.place
    first, second = (pose_of(solved.linkage, host_of(solved.linkage, end), place) for end in unit.ends)
    wanted = first.direction(np.array(plates.first, dtype=float))[0]
    drawn = second.turn[0].T @ wanted
    before = np.array(plates.second, dtype=float)
    if float(drawn @ before) < 0:
        drawn = -drawn
    share = float(drawn @ before / np.linalg.norm(before) / np.linalg.norm(drawn))
    angle = math.degrees(math.acos(min(share, 1.0)))
    turned = plates.model_copy(update={"second": [round(float(c), 8) for c in drawn]})
    return Remedy(
        what=Sentence(
            "Wedge the cup at {0} by {angle}.", {"angle": Quantity(angle, "angle")}, (unit.ends[1],)
        ),
        station=with_units(solved.station, [unit.name], lambda _: {"plates": turned}),
    )


def turn_tab(finding: Finding, solved: SolvedStation) -> Remedy | None:
    """Turn an eye's bolt square to the plane in which its unit swings, as that plane is seen from its host."""
    name, end = finding.subjects
    unit = unit_of(solved.station, name)
    if not isinstance(unit, Coilover | Damper):
        return None
    linkage, place = solved.linkage, WorkUp(solved).grid.place
    far = next(other for other in unit.ends if other != end)
    host = pose_of(linkage, host_of(linkage, end), place)
    line = (place[:, linkage.index[far]] - place[:, linkage.index[end]]).T
    seen = np.einsum("nji,nj->ni", host.turn, line / np.linalg.norm(line, axis=1, keepdims=True))
    bolt = np.linalg.svd(seen)[2][2]
    before = np.array(next(eye.bolt for eye in unit.eyes if eye.end == end), dtype=float)
    before = before / np.linalg.norm(before)
    # A unit that hardly swings leaves the bolt free about it: stay as near to the old one as square allows.
    middle = seen.mean(axis=0) / np.linalg.norm(seen.mean(axis=0))
    nearest = before - middle * float(before @ middle)
    spread = np.linalg.svd(seen, compute_uv=False)[1]
    if spread < SWING_SHARE * len(seen) ** 0.5 and np.linalg.norm(nearest) > 0.1:
        bolt = nearest / np.linalg.norm(nearest)
    if float(bolt @ before) < 0:
        bolt = -bolt
    angle = math.degrees(math.acos(min(float(bolt @ before), 1.0)))
    new = [round(float(c), 8) for c in bolt]
    eyes = [eye.model_copy(update={"bolt": new}) if eye.end == end else eye for eye in unit.eyes]
    words = "Turn the tab at {0} by {angle}, its bolt square to the swing."
    return Remedy(
        what=Sentence(words, {"angle": Quantity(angle, "angle")}, (end,)),
        station=with_units(solved.station, [name], lambda _: {"eyes": eyes}),
    )


def other_unit(finding: Finding, solved: SolvedStation) -> Remedy | None:
    """Read the rates of a unit, and of its other side, in the unit that was meant."""
    if not finding.value or finding.limit is None or finding.remedy is None:
        return None
    factor = finding.limit / finding.value

    def read(unit: Coilover) -> dict[str, list[object]]:
        springs: list[object] = [
            spring
            if spring.rate is None
            else spring.model_copy(update={"rate": round(spring.rate * factor, 3)})
            for spring in unit.springs
        ]
        return {"springs": springs}

    names = both_sides(solved.station, finding.subjects[0])
    return Remedy(what=finding.remedy, station=with_units(solved.station, names, read))
