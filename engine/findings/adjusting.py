"""What is left to turn: perch, rod or pressure, for the mass still to come and for the heights that are wanted."""

import numpy as np

from engine.document.schema import Coilover
from engine.facts import facts
from engine.findings import kinds
from engine.findings.finding import Finding, Rules
from engine.ride.setting import Means, means_of, reach_asked, settings_for, weight_n
from engine.sentences import Quantity, Sentence, length
from engine.workup import WorkUp

SETTING_MEASURES = {"perch": "length", "rod": "length", "pressure": "pressure", "spring": "length"}
TURNED = {  # up, and the other way
    "perch": ("winding the perch by {turned}",) * 2,
    "rod": ("turning the rod by {turned}",) * 2,
    "pressure": ("{turned} more in the bags", "{turned} less in the bags"),
    "spring": ("a spring {turned} longer, or a shim", "a spring {turned} shorter"),
}
LEAVE = {
    "perch": "Leave {turned} of perch unwound, or fit a stiffer or longer spring.",
    "rod": "Make the rod so that {turned} is left to turn, or fit a stiffer spring.",
    "pressure": "Fit a bag with more area, or one rated for more.",
    "spring": "Order the spring for the finished mass, or leave room for {turned} of shim.",
}
WHY_FINISHED = "A spring bought for today's mass is the wrong spring."


@facts
class Sought:
    """The means that sets the height, and its settings: back where it stands when finished, higher and lower."""

    means: Means
    back: float | None = None
    higher: float | None = None
    lower: float | None = None


def judge_adjusting(work: WorkUp, rules: Rules) -> list[Finding]:
    """Return what there is to say of adjustment left, of the finished mass, and of the heights wanted."""
    sought = _sought(work, rules)
    return [*_adjustment(work, rules), *_finished(work, sought), *_height_reached(work, sought)]


def _sought(work: WorkUp, rules: Rules) -> Sought | None:
    """Work out everything that is judged here of one means at once."""
    station, ride, means = work.station, work.solved.ride, _chosen(work, rules)
    if means is None or ride is None:
        return None
    asked: dict[str, tuple[float, float]] = {}
    if station.mass.finished is not None:
        asked["back"] = (ride.travel, weight_n(station, station.mass.finished))
    wanted = station.adjusting
    if wanted is not None and wanted.by == means.by and wanted.reach > 0:
        today = weight_n(station, station.mass.corner)
        asked |= reach_asked(station.travel.at or 0.0, wanted.reach, today)
    settings = settings_for(work.solved, means, list(asked.values()))
    return Sought(means=means, **dict(zip(asked, settings, strict=True)))


def _adjustment(work: WorkUp, rules: Rules) -> list[Finding]:
    """Judge perches and rods by what is left each way, as a share of both ways together."""
    found = []
    for unit in work.station.units:
        if isinstance(unit, Coilover) and unit.perch is not None:
            found += _judge_left(work, rules, unit.name, "perch", unit.perch.up, unit.perch.down)
    for name, rod in work.station.rods.items():
        if rod.left_longer is not None and rod.shorter is not None:
            found += _judge_left(work, rules, name, "adjuster", rod.left_longer, rod.shorter)
    return found


def _judge_left(
    work: WorkUp, rules: Rules, subject: str, what: str, one: float, other: float
) -> list[Finding]:
    whole, least = one + other, min(one, other)
    share = least / whole if whole > 0 else 0.0
    mark = "good" if share >= rules.adjustment_share else "warning" if least > 0 else "fault"
    ways = ("up", "down") if what == "perch" else ("longer", "shorter")
    scarce = ways[0] if one <= other else ways[1]
    words = f"The {what} of the {{0}} has {{one}} left {ways[0]} and {{other}} {ways[1]}."
    told = {"one": length(one), "other": length(other)}
    if least < 0:
        # What is wound down past its end stands too low; what is screwed out past it is too long.
        past = {"up": "higher", "down": "lower"}.get(scarce, scarce)
        words = f"The {what} of the {{0}} would have to be {{past}} {past} than it goes."
        told = {"past": length(-least)}
    more = rules.adjustment_share * whole - least
    return [
        Finding(
            kind=kinds.ADJUSTMENT_LEFT,
            mark=mark,
            subjects=(subject,),
            what=Sentence(words, told, (subject,)),
            why="Mass still to come and springs that settle are taken up here; at an end there is nothing left to turn.",
            remedy=None
            if mark == "good"
            else Sentence(
                f"Find {{more}} more {scarce}: another spring length or rod, then set it again.",
                {"more": length(more)},
            ),
            travel_mm=None if work.solved.ride is None else work.solved.ride.travel,
            value=share,
            limit=rules.adjustment_share,
            measures="share",
        )
    ]


def _finished(work: WorkUp, sought: Sought | None) -> list[Finding]:
    """Say how much lower it will stand when the parts still to come are on, and what brings it back."""
    station, ride = work.station, work.solved.ride
    finished = station.mass.finished
    if finished is None or ride is None or abs(finished - station.mass.corner) < 1e-9:
        return []
    weight = weight_n(station, finished)
    more = Quantity(abs(finished - station.mass.corner), "mass")
    off = " off" if finished < station.mass.corner else ""
    lower_at = height_under(work, weight)
    if lower_at is None and (sought is None or sought.means.by != "pressure"):
        return [
            Finding(
                kind=kinds.FINISHED_MASS,
                mark="fault",
                what=Sentence(
                    f"With {{more}} still to come{off} it stands nowhere in its travel.", {"more": more}
                ),
                why=WHY_FINISHED,
                remedy=Sentence("Size the spring for the finished mass."),
                travel_mm=None,
                value=finished,
                limit=station.mass.corner,
                measures="mass",
            )
        ]
    if sought is None:
        return []
    means, back = sought.means, sought.back
    told = {"more": more}
    words = f"With {{more}} still to come{off} it will stand outside its travel"
    if lower_at is not None:
        told["lower"] = length(abs(lower_at - ride.travel))
        words = f"With {{more}} still to come{off} it will stand {{lower}} {'higher' if off else 'lower'}"
    if back is None:
        words += f"; {_nothing_of(means)} brings it back."
        remedy = Sentence("Fit a spring, or a bag, for the finished mass.")
        return [
            Finding(
                kind=kinds.FINISHED_MASS,
                mark="warning",
                what=Sentence(words, told, means.subjects[:1]),
                why=WHY_FINISHED,
                remedy=remedy,
                travel_mm=lower_at,
            )
        ]
    return [_brought_back(means, back, Sentence(words, told, means.subjects[:1]), lower_at)]


def _brought_back(means: Means, back: float, stands: Sentence, lower_at: float | None) -> Finding:
    """Judge whether what must be turned to bring it back is there."""
    way, end = (1, means.most) if back >= means.now else (-1, means.least)
    turned, there = abs(back - means.now), None if end is None else max(way * (end - means.now), 0.0)
    enough = there is not None and there >= turned - 1e-6
    told = stands.quantities | {"turned": Quantity(turned, SETTING_MEASURES[means.by])}
    words = f"{stands.words}; bringing it back takes {TURNED[means.by][way < 0]}"
    advice = LEAVE[means.by]
    if there is not None:
        told["there"] = Quantity(there, SETTING_MEASURES[means.by])
        words += ", and {there} is there." if enough else ", and only {there} is there."
    elif means.by == "spring":
        words += "."
    else:
        words += f"; {_room_of(means)} is not given."
        advice = f"Give {_room_of(means)}, and it is judged. {advice}"
    return Finding(
        kind=kinds.FINISHED_MASS,
        mark="good" if enough else "warning",
        what=Sentence(words, told, means.subjects[:1]),
        why=WHY_FINISHED,
        remedy=None if enough else Sentence(advice, {"turned": told["turned"]}, means.subjects[:1]),
        travel_mm=lower_at,
        value=there,
        limit=turned,
        measures=SETTING_MEASURES[means.by],
    )


def height_under(work: WorkUp, weight: float) -> float | None:
    """Return the travel (mm) at which the springs, as set, carry a weight (N); the nearest to ride height."""
    rows, ride = work.solved.search, work.solved.ride
    inside = np.isfinite(rows.wheel_force)
    force, travels = rows.wheel_force[inside], rows.travels[inside]
    crossing = np.flatnonzero((force[:-1] <= weight) & (force[1:] >= weight))
    if not len(crossing) or ride is None:
        return None
    k = int(crossing[np.abs(travels[crossing] - ride.travel).argmin()])
    return float(np.interp(weight, force[k : k + 2], travels[k : k + 2]))


def _chosen(work: WorkUp, rules: Rules) -> Means | None:
    """Return the means that the job sets its height by, else the first it has."""
    found = means_of(work.solved, rules.bag_pressure_share[1])
    wanted = work.station.adjusting
    by = [means for means in found if wanted is not None and means.by == wanted.by]
    # A perch that nothing is said of comes after a rod whose adjuster is known.
    known = sorted(found, key=lambda means: means.most is None)
    return by[0] if by else known[0] if known else None


def _called(means: Means) -> str:
    return "{0}" if means.by in ("rod", "spring") else means.by


def _nothing_of(means: Means) -> str:
    """Say that none of its settings does it."""
    said = {"pressure": "no pressure in the bags", "spring": "no length of spring"}
    return said.get(means.by, f"no turn of the {_called(means)}")


def _room_of(means: Means) -> str:
    """Name what says how far it can be set."""
    return (
        "what the bags are rated for"
        if means.by == "pressure"
        else f"how far the {_called(means)} can be turned"
    )


def _height_reached(work: WorkUp, sought: Sought | None) -> list[Finding]:
    """Judge whether the means that is wanted can set the height as far each way as the job wants."""
    wanted = work.station.adjusting
    if wanted is None or wanted.reach == 0 or work.solved.ride is None:
        return []
    told = {"reach": length(wanted.reach)}
    why = "Height that cannot be set on the ground is set with a grinder."
    if sought is None or sought.means.by != wanted.by:
        words = f"Height is to be set by {wanted.by}, and this station has none."
        remedy = Sentence("Choose on the Brief what is there: perch, rod or pressure.")
        return [
            Finding(
                kind=kinds.HEIGHT_ADJUSTER,
                mark="warning",
                what=Sentence(words),
                why=why,
                remedy=remedy,
            )
        ]
    return [_reached(sought, told, why)]


def _reached(sought: Sought, told: dict[str, Quantity], why: str) -> Finding:
    means, measures = sought.means, SETTING_MEASURES[sought.means.by]
    name = _called(means)
    higher, lower = sought.higher, sought.lower
    if higher is None or lower is None:
        way = "up" if higher is None else "down"
        nothing = _nothing_of(means)
        words = f"{nothing[0].upper()}{nothing[1:]} sets the height {{reach}} {way} from where it is wanted."
        remedy = Sentence("Set the height by other means, or want less.")
        return Finding(
            kind=kinds.HEIGHT_ADJUSTER,
            mark="warning",
            subjects=(means.subjects[0],),
            what=Sentence(words, told, means.subjects[:1]),
            why=why,
            remedy=remedy,
        )
    told |= {"least": Quantity(min(higher, lower), measures), "most": Quantity(max(higher, lower), measures)}
    there = (means.holds(higher), means.holds(lower))
    if False in there:
        words = f"Setting the height {{reach}} each way takes the {name} from {{least}} to {{most}}"
        rated = means.by == "pressure"
        words += ": that is more than " + ("the bags may be filled to." if rated else "there is to turn.")
        remedy = Sentence(
            "Fit bags rated for more, or want less." if rated else "Find more to turn, or want less."
        )
        return Finding(
            kind=kinds.HEIGHT_ADJUSTER,
            mark="warning",
            subjects=(means.subjects[0],),
            what=Sentence(words, told, means.subjects[:1]),
            why=why,
            remedy=remedy,
        )
    words = f"The {name} sets the height {{reach}} each way: from {{least}} to {{most}}."
    if None in there:
        words = words[:-1] + f"; give {_room_of(means)}, and it is judged."
    return Finding(
        kind=kinds.HEIGHT_ADJUSTER,
        mark="good",
        subjects=(means.subjects[0],),
        what=Sentence(words, told, means.subjects[:1]),
        why=why,
    )
