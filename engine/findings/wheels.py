"""The wheel's own angles: steering by itself over a bump, camber gain, caster, scrub, lock, and a pinion's swing."""

import math

import numpy as np

from engine.document.schema import Bar
from engine.findings import kinds
from engine.findings.finding import Finding, Rules, Span
from engine.findings.kinds import Kind
from engine.ride.axle import axle_body, pinion_angle_deg
from engine.ride.roll import bars_of
from engine.ride.wheel_angles import RISE_MM, tie_rod_of
from engine.sentences import Quantity, Sentence, length
from engine.workup import WorkUp


def judge_wheels(work: WorkUp, rules: Rules) -> list[Finding]:
    """Return what there is to say of every wheel's angles, of the axis it steers about, and of bars that do nothing."""
    return [
        *_angles(work, rules),
        *_axis(work, rules),
        *_lock(work, rules),
        *_pinion(work, rules),
        *_bars(work),
    ]


def _angle(value: float) -> Quantity:
    return Quantity(value, "angle")


def _angles(work: WorkUp, rules: Rules) -> list[Finding]:
    found = []
    for its in work.wheel_angles:
        wheel = next(w for w in work.station.wheels if w.name == its.wheel)
        steered = tie_rod_of(work.linkage, wheel) is not None
        told = {"steer": _angle(abs(its.bump_steer)), "rise": length(RISE_MM)}
        words = "The {0} steers itself {steer} in {rise} of bump or droop"
        if its.rim_mm is not None:
            told["rim"] = length(abs(its.rim_mm))
            words += ", {rim} over the tyre"
        good, allowed = rules.bump_steer_deg
        size = abs(its.bump_steer)
        mark = "good" if size <= good else "warning" if size <= allowed or not steered else "fault"
        if steered or mark != "good":
            found.append(
                Finding(
                    kind=kinds.BUMP_STEER,
                    mark=mark,
                    subjects=(its.wheel,),
                    what=Sentence(words + ".", told, (its.wheel,)),
                    why="A wheel that steers by itself makes the car dart over every bump.",
                    remedy=None
                    if mark == "good"
                    else Sentence("Raise or lower one end of the tie rod, until both arms swing as one."),
                    travel_mm=None if work.solved.ride is None else work.solved.ride.travel,
                    value=size,
                    limit=good,
                    measures="angle",
                )
            )
        if steered:
            gain = its.camber_gain
            words = f"The {{0}} {'loses' if gain > 0 else 'gains'} {{gain}} of negative camber in {{rise}} of bump."
            found.append(
                _within(
                    kinds.CAMBER_GAIN,
                    (its.wheel,),
                    Sentence(words, {"gain": _angle(abs(gain)), "rise": length(RISE_MM)}, (its.wheel,)),
                    gain,
                    rules.camber_gain_deg,
                    "The outer wheel leans with the body in a corner: some gain keeps its tread flat, too much eats its inside.",
                    "Lower or raise the inner pivots of the upper arm.",
                    "angle",
                )
            )
    return found


def _axis(work: WorkUp, rules: Rules) -> list[Finding]:
    axis = work.steering_axis
    if axis is None or tie_rod_of(work.linkage, work.station.wheels[0]) is None:
        return []
    names = (axis.lower, axis.upper)
    lean = "rearward" if axis.caster >= 0 else "forward"
    caster = Sentence(
        f"The steering axis from {{0}} to {{1}} leans {{caster}} {lean} at the top, and {{kingpin}} inward.",
        {"caster": _angle(abs(axis.caster)), "kingpin": _angle(axis.kingpin)},
        names,
    )
    side = "outside" if axis.scrub >= 0 else "inside"
    behind = "behind" if axis.trail >= 0 else "ahead of"
    scrub = Sentence(
        f"The tyre stands {{scrub}} {side} of where the steering axis meets the floor, and {{trail}} {behind} it.",
        {"scrub": length(abs(axis.scrub)), "trail": length(abs(axis.trail))},
    )
    why_caster = "Caster brings the wheels back to straight; too much makes them heavy, too little leaves them wandering."
    why_scrub = "Scrub turns every brake and every pothole into a pull at the steering wheel."
    return [
        _within(
            kinds.CASTER,
            names,
            caster,
            axis.caster,
            rules.caster_deg,
            why_caster,
            "Move the upper ball joint rearward or forward.",
            "angle",
        ),
        _within(
            kinds.SCRUB,
            names,
            scrub,
            axis.scrub,
            rules.scrub_mm,
            why_scrub,
            "Another wheel offset, or ball joints moved out or in.",
            "length",
        ),
    ]


def _lock(work: WorkUp, rules: Rules) -> list[Finding]:
    steering = work.station.steering
    if steering is None:
        return []
    lock = work.lock
    if lock is None:
        words = "With the rack {travel} to one side the wheel cannot follow."
        return [
            Finding(
                kind=kinds.ACKERMANN,
                mark="fault",
                subjects=(steering.tie_rod,),
                what=Sentence(words, {"travel": length(steering.travel)}),
                why="At full lock the linkage would lock solid or turn over.",
                remedy=Sentence("Let the rack go less far, or make the steering arm longer."),
            )
        ]
    told = {"inner": _angle(lock.inner), "outer": _angle(lock.outer)}
    words = "At full lock the inner wheel turns {inner} and the outer {outer}"
    if lock.ackermann is None:
        words += "; give the wheelbase, and it is told how much of Ackermann that is."
        return [
            Finding(
                kind=kinds.ACKERMANN, mark="good", subjects=(steering.tie_rod,), what=Sentence(words, told)
            )
        ]
    told["share"] = Quantity(lock.ackermann, "share")
    return [
        _within(
            kinds.ACKERMANN,
            (steering.tie_rod,),
            Sentence(words + ", {share} of what rolls without scrub.", told),
            lock.ackermann,
            rules.ackermann_share,
            "Wheels that do not roll about one point drag a tyre sideways in every tight turn.",
            "Move the outer end of the tie rod in or out.",
            "share",
        )
    ]


def _pinion(work: WorkUp, rules: Rules) -> list[Finding]:
    body, rows = axle_body(work.linkage), work.solved.taken
    if body is None or not len(rows.travels):
        return []
    found = []
    for shaft, angle in pinion_angle_deg(work.linkage, body, rows.solution.motion.place).items():
        swing = float(np.ptp(angle))
        good, allowed = rules.pinion_deg
        mark = "good" if swing <= good else "warning" if swing <= allowed else "fault"
        told = {
            "swing": _angle(swing),
            "least": _angle(float(angle.min())),
            "most": _angle(float(angle.max())),
        }
        found.append(
            Finding(
                kind=kinds.PINION_SWING,
                mark=mark,
                subjects=(shaft,),
                what=Sentence(
                    "The pinion at the {0} swings {swing} over the travel, from {least} to {most}.",
                    told,
                    (shaft,),
                ),
                why="Joints at unequal angles shake the driveline: what is right at ride must not be far off at both ends.",
                remedy=None
                if mark == "good"
                else Sentence("Lengthen or shorten the upper links, nearer to the length of the lower ones."),
                value=swing,
                limit=good,
                measures="angle",
            )
        )
    return found


def _bars(work: WorkUp) -> list[Finding]:
    bars = [unit.name for unit in work.station.units if isinstance(unit, Bar)]
    alive = {bar.name for bar in bars_of(work.solved)}
    if work.solved.ride is None:
        return []
    return [
        Finding(
            kind=kinds.BAR_DEAD,
            mark="warning",
            subjects=(name,),
            what=Sentence(
                "The {0} does nothing where it stands: its drop link is in line with its arm, or cannot reach.",
                names=(name,),
            ),
            why="A bar works through its arm: pulled along it, it twists nothing.",
            remedy=Sentence("Hang the drop link square to the arm."),
        )
        for name in bars
        if name not in alive
    ]


def _within(
    kind: Kind,
    subjects: tuple[str, ...],
    what: Sentence,
    value: float,
    span: Span,
    why: str,
    remedy: str,
    measures: str,
) -> Finding:
    """Judge a value by a span from its least to its most: outside it is worth a look, and no more."""
    low, high = span
    inside = low <= value <= high
    return Finding(
        kind=kind,
        mark="good" if inside else "warning",
        subjects=subjects,
        what=what,
        why=why,
        remedy=None if inside else Sentence(remedy),
        value=value,
        limit=low if value < low else high,
        measures=measures,
    )


def turns_of(length_mm: float, pitch_mm: float) -> float:
    """Return how many turns of a rod with a thread of each hand change its length by so much."""
    return length_mm / (2 * pitch_mm) if pitch_mm > 0 else math.nan
