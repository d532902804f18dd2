"""How it stands: frequency for its purpose, stroke split, and what adjustment is left for the mass to come."""

import math

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.schema import Coilover
from engine.findings.finding import Finding, Rules
from engine.sentences import Quantity, Sentence, length, spoken
from engine.workup import WorkUp


def judge_ride(work: WorkUp, rules: Rules) -> list[Finding]:
    """Return what there is to say of the ride position."""
    return [*_frequency(work, rules), *_split(work, rules), *_adjustment(work, rules), *_finished(work)]


def _frequency(work: WorkUp, rules: Rules) -> list[Finding]:
    ride, band = work.solved.ride, rules.frequencies
    if ride is None or band is None:
        return []
    low, high = band
    inside = low <= ride.frequency <= high
    limit = low if ride.frequency < low else high
    values = {"f": Quantity(ride.frequency, "frequency"), "low": Quantity(low, "frequency")}
    values |= {"high": Quantity(high, "frequency")}
    name = f" for {_purpose(rules)}" if rules.purpose and rules.frequency_hz is None else ""
    words = f"It rides at {{f}}; {{low}} to {{high}} is usual{name}."
    remedy = None
    if not inside:
        sprung = work.station.mass.corner - work.station.mass.unsprung
        wanted = (2 * math.pi * limit) ** 2 * sprung / 1000
        stiffer = "stiffer" if ride.frequency < low else "softer"
        remedy = Sentence(
            f"Fit a {stiffer} spring: {{wanted}} at the wheel.", {"wanted": Quantity(wanted, "rate")}
        )
    return [
        Finding(
            "ride_frequency",
            "good" if inside else "warning",
            None,
            Sentence(words, values),
            "Too soft wallows and uses its travel up; too hard skips over the road instead of following it.",
            remedy,
            ride.travel,
            ride.frequency,
            limit,
            "frequency",
        )
    ]


def _purpose(rules: Rules) -> str:
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
        words = f"From ride height the {spoken(use.name)} has {{bump}} of its used stroke in bump, {{droop}} in droop."
        found.append(
            Finding(
                "stroke_split",
                "good" if inside else "warning",
                use.name,
                Sentence(words, values),
                "Most blows come in bump; some droop must stay so that the wheel can follow a hollow.",
                None
                if inside
                else Sentence(
                    "Bring it nearer {wanted} in bump: "
                    + ("let it stand lower." if use.split_bump > high else "let it stand higher."),
                    {"wanted": Quantity(rules.stroke_split_bump, "share")},
                ),
                work.solved.ride.travel,
                use.split_bump,
                high if use.split_bump > high else low,
                "share",
            )
        )
    return found


def _adjustment(work: WorkUp, rules: Rules) -> list[Finding]:
    """Judge perches and rods by what is left each way, as a share of both ways together."""
    found = []
    for unit in work.station.units:
        if isinstance(unit, Coilover) and unit.perch is not None:
            found += _left(work, rules, unit.name, "perch", unit.perch.up, unit.perch.down)
    for name, rod in work.station.rods.items():
        if rod.longer is not None and rod.shorter is not None:
            found += _left(work, rules, name, "adjuster", rod.longer, rod.shorter)
    return found


def _left(work: WorkUp, rules: Rules, subject: str, what: str, one: float, other: float) -> list[Finding]:
    whole, least = one + other, min(one, other)
    share = least / whole if whole > 0 else 0.0
    mark = "good" if share >= rules.adjustment_share else "warning" if least > 0 else "fault"
    ways = ("up", "down") if what == "perch" else ("longer", "shorter")
    scarce = ways[0] if one <= other else ways[1]
    words = f"The {what} of the {spoken(subject)} has {{one}} left {ways[0]} and {{other}} {ways[1]}."
    more = rules.adjustment_share * whole - least
    return [
        Finding(
            "adjustment_left",
            mark,
            subject,
            Sentence(words, {"one": length(one), "other": length(other)}),
            "Mass still to come and springs that settle are taken up here; at an end there is nothing left to turn.",
            None
            if mark == "good"
            else Sentence(
                f"Find {{more}} more {scarce}: another spring length or rod, then set it again.",
                {"more": length(more)},
            ),
            None if work.solved.ride is None else work.solved.ride.travel,
            share,
            rules.adjustment_share,
            "share",
        )
    ]


def _finished(work: WorkUp) -> list[Finding]:
    """Say how much lower it will stand when the parts still to come are on."""
    station, ride = work.station, work.solved.ride
    finished = station.mass.finished
    if finished is None or ride is None or finished == station.mass.corner:
        return []
    solver = work.solved.solver
    weight = (finished - station.mass.unsprung) * GRAVITY_M_PER_S2
    rows = work.solved.search
    inside = np.isfinite(rows.wheel_force)
    force, travels = rows.wheel_force[inside], rows.travels[inside]
    crossing = np.flatnonzero((force[:-1] <= weight) & (force[1:] >= weight))
    heavier = Quantity(finished - station.mass.corner, "mass")
    if not len(crossing):
        return [
            Finding(
                "finished_mass",
                "fault",
                None,
                Sentence("With {more} still to come it stands nowhere in its travel.", {"more": heavier}),
                "A spring bought for today's mass is the wrong spring.",
                Sentence("Size the spring for the finished mass."),
                None,
                finished,
                station.mass.corner,
                "mass",
            )
        ]
    k = int(crossing[np.abs(travels[crossing] - ride.travel).argmin()])
    at = float(np.interp(weight, force[k : k + 2], travels[k : k + 2]))
    lower = at - ride.travel
    springs = [law for law in solver.laws if law.stack is not None]
    if not springs:
        return []
    ratio = float(work.solved.at_ride.units[springs[0].name].motion_ratio[0]) if work.solved.at_ride else 1.0
    turned = lower * ratio
    there = sum(
        unit.perch.up for unit in station.units if isinstance(unit, Coilover) and unit.perch is not None
    )
    enough = there >= turned
    words = "With {more} still to come it will stand {lower} lower; bringing it back takes {turned} of perch"
    return [
        Finding(
            "finished_mass",
            "good" if enough else "warning",
            None,
            Sentence(
                words + (", and {there} is there." if enough else ", and only {there} is there."),
                {"more": heavier, "lower": length(lower), "turned": length(turned), "there": length(there)},
            ),
            "A spring bought for today's mass is the wrong spring.",
            None
            if enough
            else Sentence(
                "Leave {turned} of perch unwound, or fit a stiffer or longer spring.",
                {"turned": length(turned)},
            ),
            at,
            there,
            turned,
            "length",
        )
    ]
