"""What gives more to turn: another spring length under the perch, another tube between the rod's ends, another bag."""

import math

from engine.findings.finding import Finding
from engine.remedies.knob import Knob, Say, Values, either_way, with_value
from engine.ride.setting import means_of
from engine.sentences import Quantity, Sentence, spoken
from engine.station.solved import SolvedStation


def recentred(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return knobs that bring a perch or an adjuster off its end while it goes on standing where it stands."""
    knobs = []
    for means in means_of(solved):
        subject = finding.subject
        if subject is not None and subject not in means.subjects:
            continue
        if means.by == "perch" and means.most is not None:
            knobs.append(_longer_spring(values, means.subjects))
        elif means.by == "rod" and means.most is not None:
            knobs.append(_longer_tube(values, means.subjects))
    if not knobs and finding.subject in values.get("rods", {}):
        knobs.append(_longer_tube(values, (finding.subject or "",)))
    return knobs


def _longer_spring(values: Values, names: tuple[str, ...]) -> Knob:
    """A longer spring wants its perch lower by as much: the squeeze stays, and more is left to wind up."""
    numbers = [k for k, unit in enumerate(values["units"]) if unit["name"] in names]

    def turn(values: Values, x: float) -> Values:
        for k in numbers:
            unit = values["units"][k]
            perch, spring = unit["perch"], unit["springs"][0]
            share = spring["solid_length"] / spring["free_length"]
            values = with_value(
                values, ("units", k, "springs", 0, "free_length"), round(spring["free_length"] + x, 3)
            )
            values = with_value(
                values,
                ("units", k, "springs", 0, "solid_length"),
                round(spring["solid_length"] + x * share, 3),
            )
            values = with_value(values, ("units", k, "perch"), _shifted(perch, x))
        return values

    def _shifted(perch: Values, x: float) -> Values:
        # Past the perch's own end the number turns negative, and the document refuses the change.
        return perch | {"up": round(perch["up"] + x, 3), "down": round(perch["down"] - x, 3)}

    say = either_way(
        "Fit a spring {by} longer of the same rate, its perch {by} lower.",
        "Fit a spring {by} shorter of the same rate, its perch {by} higher.",
    )
    most = max(values["units"][numbers[0]]["springs"][0]["free_length"] * 0.4, 1.0)
    return Knob(turn=turn, say=say, step=1.0, most=most, fine=1.0)


def _longer_tube(values: Values, names: tuple[str, ...]) -> Knob:
    """A rod's tube cut longer, its ends screwed in by as much: as long as before, and more is left to unscrew."""

    def turn(values: Values, x: float) -> Values:
        for name in names:
            rod = values["rods"][name]
            changed = rod | {
                "longer": round(rod["longer"] + x, 3),
                "shorter": round(rod["shorter"] - x, 3),
                "engagement": round(rod["engagement"] + x / 2, 3),
            }
            values = with_value(values, ("rods", name), changed)
        return values

    name = " and ".join(spoken(one) for one in names)
    say = either_way(
        f"Cut the tube of the {name} {{by}} longer and screw its ends in.",
        f"Cut the tube of the {name} {{by}} shorter and screw its ends out.",
    )
    return Knob(turn=turn, say=say, step=1.0, most=60.0, fine=0.5)


def larger_bag(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return a knob that scales every bag's area, its pressure set so that it carries what it carries."""
    bags = [k for k, unit in enumerate(values["units"]) if unit["kind"] == "air_spring"]
    if not bags:
        return []
    before = float(values["units"][bags[0]]["pressure"])

    def turn(values: Values, x: float) -> Values:
        grown = 1.0 + x / 100.0
        for k in bags:
            unit = values["units"][k]
            rows = [
                [row[0], *(round(column * grown, 2) for column in row[1:])] for row in unit["height_table"]
            ]
            values = with_value(values, ("units", k, "height_table"), rows)
            values = with_value(values, ("units", k, "pressure"), round(unit["pressure"] / grown, 4))
            if unit.get("max_diameter"):
                wide = round(unit["max_diameter"] * math.sqrt(grown), 1)
                values = with_value(values, ("units", k, "max_diameter"), wide)
        return values

    return [Knob(turn=turn, say=_say_bag(before), step=5.0, most=90.0, fine=1.0)]


def _say_bag(before: float) -> Say:
    def say(x: float) -> Sentence:
        told = {"by": Quantity(abs(x) / 100, "share"), "new": Quantity(before / (1 + x / 100), "pressure")}
        return Sentence(
            f"Fit a bag with {{by}} {'more' if x > 0 else 'less'} area, standing at {{new}}.", told
        )

    return say
