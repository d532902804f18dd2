"""Bags: inside their heights over the travel, and at a pressure they are made for."""

import numpy as np

from engine.document.schema import AirSpring, Coilover, Damper
from engine.findings import kinds
from engine.findings.finding import Finding, Rules
from engine.sentences import Quantity, Sentence, length, travel
from engine.station.solved import SolvedStation
from engine.workup import WorkUp

VOLUME_SHARE = 0.5  # a bag's walls bulge: volume and area may well differ by a third


def judge_bags(work: WorkUp, rules: Rules) -> list[Finding]:
    """Return what there is to say of every bag."""
    solved = work.solved
    bags = [unit for unit in solved.station.units if isinstance(unit, AirSpring)]
    found = []
    for bag in bags:
        found += _table(bag)
        found += _heights(solved, bag)
        found += _pressure(bag, rules)
    if bags:
        found += _damped(solved)
        found += _filling(solved)
        found += _plates(work, rules)
    return found


def _plates(work: WorkUp, rules: Rules) -> list[Finding]:
    found = []
    for tilt in work.plates:
        for kind, angle, (good, allowed), where in (
            (kinds.BAG_PLATES_AT_RIDE, tilt.at_ride, rules.bag_plate_ride_deg, "at ride height"),
            (kinds.BAG_PLATES_IN_TRAVEL, tilt.worst, rules.bag_plate_travel_deg, "at {at}"),
        ):
            if angle is None:
                continue
            mark = "good" if angle <= good else "warning" if angle <= allowed else "fault"
            at = tilt.heave if kind is kinds.BAG_PLATES_IN_TRAVEL else None
            values = {"angle": Quantity(angle, "angle"), "good": Quantity(good, "angle")}
            values |= {"at": travel(tilt.heave)}
            found.append(
                Finding(
                    kind=kind,
                    mark=mark,
                    subjects=(tilt.bag,),
                    what=Sentence(
                        f"The plates of the {{0}} are {{angle}} out of parallel {where}.", values, (tilt.bag,)
                    ),
                    why="An angled bag chafes on one side and pulls its bead on the other.",
                    remedy=None
                    if mark == "good"
                    else Sentence(
                        "Wedge a cup by {angle} so that they stand parallel at ride height.", values
                    ),
                    travel_mm=at,
                    value=angle,
                    limit=good,
                    measures="angle",
                )
            )
    return found


def _table(bag: AirSpring) -> list[Finding]:
    """Judge whether a bag's own volumes go with its areas: what it gains a millimetre of height is its area."""
    rows = np.array([row for row in bag.height_table if len(row) == 3], dtype=float)
    if len(rows) < 2:
        return []
    grown = np.diff(rows[:, 2]) / np.diff(rows[:, 0])
    area = (rows[1:, 1] + rows[:-1, 1]) / 2
    falls, off = int(grown.argmin()), np.abs(grown / area - 1)
    worst = int(off.argmax())
    told = {"height": length(float(rows[falls if grown[falls] <= 0 else worst, 0]))}
    if grown[falls] <= 0:
        mark, words = (
            "fault",
            "The table of the {0} has a volume that does not grow with its height, from {height} on.",
        )
    elif off[worst] > VOLUME_SHARE:
        told |= {"gains": Quantity(float(grown[worst]), "area"), "area": Quantity(float(area[worst]), "area")}
        mark = "warning"
        words = "The table of the {0} gains {gains} of volume a millimetre from {height} on, where its area is {area}."
    else:
        return []
    return [
        Finding(
            kind=kinds.BAG_TABLE,
            mark=mark,
            subjects=(bag.name,),
            what=Sentence(words, told, (bag.name,)),
            why="Pressure is worked out from the volume and force from the area: they must be of the same bag, in mm² and mm³.",
            remedy=Sentence(
                "Read the table again, or leave the volumes out: they are then taken from the areas."
            ),
        )
    ]


def _heights(solved: SolvedStation, bag: AirSpring) -> list[Finding]:
    heights = solved.taken.units[bag.name].length
    if not len(heights):
        return []
    least, most = float(heights.min()), float(heights.max())
    found = []
    for kind, over, end, verb, why in (
        (
            kinds.BAG_MIN_HEIGHT,
            bag.min_height - least,
            "bump",
            "is pressed below",
            "A bag that bottoms is cut by its own plates.",
        ),
        (
            kinds.BAG_MAX_HEIGHT,
            most - bag.max_height,
            "droop",
            "is pulled above",
            "A bag pulled too far leaves its bead, or hangs as the droop stop.",
        ),
    ):
        limit = next((x for x in solved.limits if x.kind == kind.code and x.unit == bag.name), None)
        if over > 0:
            made_for = bag.min_height if kind is kinds.BAG_MIN_HEIGHT else bag.max_height
            found.append(
                Finding(
                    kind=kind,
                    mark="fault",
                    subjects=(bag.name,),
                    what=Sentence(
                        f"The {{0}} {verb} the {{made}} it is made for, by {{over}} at full {end}.",
                        {"made": length(made_for), "over": length(over)},
                        (bag.name,),
                    ),
                    why=why,
                    remedy=Sentence(
                        "Move its cup by {over}, or stop the wheel earlier with a "
                        + ("bump stop." if end == "bump" else "strap."),
                        {"over": length(over)},
                    ),
                    travel_mm=None if limit is None else limit.travel,
                    value=made_for + (over if kind is kinds.BAG_MAX_HEIGHT else -over),
                    limit=made_for,
                    measures="length",
                )
            )
    if not found:
        found.append(
            Finding(
                kind=kinds.BAG_HEIGHTS,
                mark="good",
                subjects=(bag.name,),
                what=Sentence(
                    "The {0} stays between {least} and {most}.",
                    {"least": length(least), "most": length(most)},
                    (bag.name,),
                ),
            )
        )
    return found


def _pressure(bag: AirSpring, rules: Rules) -> list[Finding]:
    if bag.max_pressure is None:
        return []
    share = bag.pressure / bag.max_pressure
    low, high = rules.bag_pressure_share
    values = {"pressure": Quantity(bag.pressure, "pressure"), "share": Quantity(share, "share")}
    words = "The {0} stands at {pressure}, {share} of what it is rated for"
    if low <= share <= high:
        return [
            Finding(
                kind=kinds.BAG_PRESSURE,
                mark="good",
                subjects=(bag.name,),
                what=Sentence(words + ".", values, (bag.name,)),
            )
        ]
    bound = low if share < low else high
    words += ", more than {bound}." if share > high else ", less than {bound}."
    return [
        Finding(
            kind=kinds.BAG_PRESSURE,
            mark="warning" if share <= 1 else "fault",
            subjects=(bag.name,),
            what=Sentence(words, values | {"bound": Quantity(bound, "share")}, (bag.name,)),
            why="Too hard leaves nothing for bump and load; too soft lets the bag roll and rub.",
            remedy=Sentence(
                "Fit a bag of another size, or change the ratio so that it stands at {wanted}.",
                {"wanted": Quantity(bound * bag.max_pressure, "pressure")},
            ),
            travel_mm=None,
            value=share,
            limit=bound,
            measures="share",
        )
    ]


def _damped(solved: SolvedStation) -> list[Finding]:
    if any(isinstance(unit, Coilover | Damper) for unit in solved.station.units):
        return []
    return [
        Finding(
            kind=kinds.BAG_WITHOUT_DAMPER,
            mark="fault",
            what=Sentence("There is a bag here and no damper."),
            why="A bag alone does not damp: the vehicle cannot be driven.",
            remedy=Sentence("Fit a separate damper that takes the whole travel."),
        )
    ]


def _filling(solved: SolvedStation) -> list[Finding]:
    """Say which pressure would hold it as drawn."""
    needed = solved.pressure_wanted_bar
    if needed is None or not np.isfinite(needed):
        return []
    mark = "good" if solved.filled_at_ride else "warning"
    words = "It stands as drawn at {needed} in every bag."
    if mark == "warning":
        words = "The stated pressure holds the weight nowhere in the travel. " + words
    return [
        Finding(
            kind=kinds.BAG_FILLING,
            mark=mark,
            what=Sentence(words, {"needed": Quantity(needed, "pressure")}),
            why="Forces are shown with the valve shut at the drawn height until a pressure is found that holds it.",
            remedy=None
            if mark == "good"
            else Sentence("Set {needed}.", {"needed": Quantity(needed, "pressure")}),
        )
    ]
