"""How it stands: frequency for its purpose, and how the stroke is split."""

from engine.findings import kinds
from engine.findings.adjusting import height_under
from engine.findings.finding import Finding, Rules
from engine.ride.setting import weight_n
from engine.sentences import Quantity, Sentence, length
from engine.station.equilibrium import wheel_rate_for
from engine.workup import WorkUp

OFF_MM = 6.0  # from where it is wanted: what a perch or a rod sets
OFF_SHARE = (0.25, 0.6)  # of the travel left on that side: good, and still allowed


def judge_ride(work: WorkUp, rules: Rules) -> list[Finding]:
    """Return what there is to say of the ride position."""
    return [*_stands_off(work), *_frequency(work, rules), *_split(work, rules)]


def _stands_off(work: WorkUp) -> list[Finding]:
    """Judge where it stands against where it is wanted, by the travel that is left on that side."""
    ride, travel_wanted = work.solved.ride, work.station.travel
    if ride is None:
        return []
    at = travel_wanted.at or 0.0
    off = ride.travel - at
    room = (travel_wanted.bump - at) if off > 0 else (travel_wanted.droop + at)
    share = abs(off) / room if room > 0 else 1.0
    mark = (
        "good"
        if abs(off) <= OFF_MM or share <= OFF_SHARE[0]
        else "warning"
        if share <= OFF_SHARE[1]
        else "fault"
    )
    way = "lower" if off > 0 else "higher"
    words = f"It stands {{off}} {way} than wanted, with {{left}} of {'bump' if off > 0 else 'droop'} left of {{whole}}."
    if mark == "good":
        words = "It stands {off} from where it is wanted."
    elif _stands_once_finished(work, at):
        # It was set for the parts still to come: today's height is no fault of it.
        mark = "good"
        words = f"It stands {{off}} {way} than wanted today, and where it is wanted once it has its finished mass."
    told = {"off": length(abs(off)), "left": length(max(room - abs(off), 0.0)), "whole": length(room)}
    setter = (
        "more preload, a stiffer or longer spring, or more pressure"
        if off > 0
        else "less preload, a softer or shorter spring, or less pressure"
    )
    return [
        Finding(
            kind=kinds.STANDS_OFF,
            mark=mark,
            what=Sentence(words, told),
            why="Ride height, travel and every angle were drawn for where it should stand.",
            remedy=None if mark == "good" else Sentence(f"Give it {setter}, until it stands there."),
            travel_mm=ride.travel,
            value=off,
            limit=OFF_SHARE[0] * room,
            measures="travel",
        )
    ]


def _stands_once_finished(work: WorkUp, at: float) -> bool:
    """Return whether it stands where it is wanted, `at` mm of travel, with the mass that it will have."""
    mass = work.station.mass
    if mass.finished is None or abs(mass.finished - mass.corner) < 1e-9:
        return False
    then = height_under(work, weight_n(work.station, mass.finished))
    return then is not None and abs(then - at) <= OFF_MM


def _frequency(work: WorkUp, rules: Rules) -> list[Finding]:
    ride, band = work.solved.ride, rules.frequencies
    if ride is None or band is None:
        return []
    low, high = band
    inside = low <= ride.frequency <= high
    limit = low if ride.frequency < low else high
    values = {"f": Quantity(ride.frequency, "frequency"), "low": Quantity(low, "frequency")}
    values |= {"high": Quantity(high, "frequency")}
    name = f" for {purpose_said(rules)}" if rules.purpose and rules.frequency_hz is None else ""
    words = f"It rides at {{f}}; {{low}} to {{high}} is usual{name}."
    remedy = None
    if not inside:
        wanted = wheel_rate_for(limit, work.station.mass.sprung)
        stiffer = "stiffer" if ride.frequency < low else "softer"
        remedy = Sentence(
            f"Fit a {stiffer} spring: {{wanted}} at the wheel.", {"wanted": Quantity(wanted, "rate")}
        )
    return [
        Finding(
            kind=kinds.RIDE_FREQUENCY,
            mark="good" if inside else "warning",
            what=Sentence(words, values),
            why="Too soft wallows and uses its travel up; too hard skips over the road instead of following it.",
            remedy=remedy,
            travel_mm=ride.travel,
            value=ride.frequency,
            limit=limit,
            measures="frequency",
        )
    ]


def purpose_said(rules: Rules) -> str:
    """Return what it is for, in a word or two."""
    return {"road": "the road", "sport": "sport", "circuit": "the circuit", "rough": "rough ground"}[
        rules.purpose or "road"
    ]


def _split(work: WorkUp, rules: Rules) -> list[Finding]:
    if work.solved.ride is None:
        return []
    found = []
    low = rules.stroke_split_bump - rules.stroke_split_slack
    high = rules.stroke_split_bump + rules.stroke_split_slack
    for use in work.dampers:
        if use.split_bump is None:
            continue
        inside = low - 1e-9 <= use.split_bump <= high + 1e-9
        values = {"bump": Quantity(use.split_bump, "share"), "droop": Quantity(1 - use.split_bump, "share")}
        words = "From ride height the {0} has {bump} of its used stroke in bump, {droop} in droop."
        found.append(
            Finding(
                kind=kinds.STROKE_SPLIT,
                mark="good" if inside else "warning",
                subjects=(use.name,),
                what=Sentence(words, values, (use.name,)),
                why="Most blows come in bump; some droop must stay so that the wheel can follow a hollow.",
                remedy=None
                if inside
                else Sentence(
                    "Bring it nearer {wanted} in bump: "
                    + ("let it stand lower." if use.split_bump > high else "let it stand higher."),
                    {"wanted": Quantity(rules.stroke_split_bump, "share")},
                ),
                travel_mm=work.solved.ride.travel,
                value=use.split_bump,
                limit=high if use.split_bump > high else low,
                measures="share",
            )
        )
    return found
