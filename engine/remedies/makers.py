"""What may clear which kind of finding: changes worked out in one go, then knobs, the likeliest first."""

from collections.abc import Callable

from engine.facts import facts
from engine.findings import kinds
from engine.findings.finding import Finding
from engine.findings.kinds import Kind
from engine.remedies.adjusting import larger_bag, recentred
from engine.remedies.dampers import cup, damper_end
from engine.remedies.direct import other_hand, other_unit, set_pressure, turn_tab, wedge
from engine.remedies.joints import plunge_in, plunge_out, rated_joint, rated_shaft, thread
from engine.remedies.knob import Knob, Remedy
from engine.remedies.linkages import less_travel, pivot, rod
from engine.remedies.room import shift_envelope
from engine.remedies.standing import coil_loose, coil_solid, frequency, split, stand_where_wanted, standing
from engine.remedies.stops import bump_stop, fit_stop, fit_strap, strap, strap_in_line
from engine.remedies.wheels import tie_rod_ends, upper_ball, upper_links, upper_pivots
from engine.station.solved import SolvedStation

Direct = Callable[[Finding, SolvedStation], Remedy | None]
Knobs = Callable[[Finding, SolvedStation], list[Knob]]


@facts
class Makers:
    """What is tried for a kind: `direct` first, then each knob of `knobs`."""

    direct: Direct | None = None
    knobs: Knobs | None = None


MAKERS: dict[Kind, Makers] = {
    kinds.STRAP_BEFORE_DAMPER: Makers(knobs=strap),
    kinds.STRAP_NEVER_TAUT: Makers(knobs=strap),
    kinds.STRAP_PULL: Makers(direct=strap_in_line),
    kinds.FIRST_IN_DROOP: Makers(direct=fit_strap, knobs=strap),
    kinds.FIRST_IN_BUMP: Makers(direct=fit_stop, knobs=bump_stop),
    kinds.BUMP_STOP_BEFORE_DAMPER: Makers(knobs=bump_stop),
    kinds.BUMP_STOP_NEVER_TOUCHED: Makers(knobs=bump_stop),
    kinds.BUMP_STOP_AT_RIDE: Makers(knobs=standing),
    kinds.LINKAGE_REACH: Makers(knobs=less_travel),
    kinds.DAMPER_EXTENDED: Makers(knobs=damper_end("extended")),
    kinds.DAMPER_EXTENDED_LEFT: Makers(knobs=damper_end("extended")),
    kinds.DAMPER_COMPRESSED: Makers(knobs=damper_end("compressed")),
    kinds.DAMPER_COMPRESSED_LEFT: Makers(knobs=damper_end("compressed")),
    kinds.COIL_SOLID: Makers(knobs=coil_solid),
    kinds.COIL_LEFT: Makers(knobs=coil_solid),
    kinds.COIL_LOOSE: Makers(knobs=coil_loose),
    kinds.COIL_SEAT: Makers(knobs=coil_loose),
    kinds.STROKE_SPLIT: Makers(knobs=split),
    kinds.STANDS_OFF: Makers(direct=stand_where_wanted, knobs=standing),
    kinds.NO_EQUILIBRIUM: Makers(direct=stand_where_wanted, knobs=standing),
    kinds.RIDE_FREQUENCY: Makers(knobs=frequency),
    kinds.RATE_IN_OTHER_UNIT: Makers(direct=other_unit),
    kinds.ADJUSTMENT_LEFT: Makers(knobs=recentred),
    kinds.FINISHED_MASS: Makers(knobs=recentred),
    kinds.HEIGHT_ADJUSTER: Makers(knobs=recentred),
    kinds.BAG_MIN_HEIGHT: Makers(knobs=cup),
    kinds.BAG_MAX_HEIGHT: Makers(knobs=cup),
    kinds.BAG_FILLING: Makers(direct=set_pressure),
    kinds.BAG_PRESSURE: Makers(knobs=larger_bag),
    kinds.BAG_PLATES_AT_RIDE: Makers(direct=wedge),
    kinds.BAG_PLATES_IN_TRAVEL: Makers(direct=wedge),
    kinds.ROD_SQUARE_AT_RIDE: Makers(knobs=rod),
    kinds.ROD_NEAR_CENTRE: Makers(knobs=pivot),
    kinds.JOINT_TILT: Makers(knobs=rated_joint),
    kinds.SHAFT_ANGLE: Makers(knobs=rated_shaft),
    kinds.SHAFT_SHORT: Makers(knobs=plunge_in),
    kinds.SHAFT_LONG: Makers(knobs=plunge_out),
    kinds.EYE_SQUARE: Makers(direct=turn_tab),
    kinds.THREAD_ENGAGEMENT: Makers(knobs=thread),
    kinds.SAME_HAND_THREADS: Makers(direct=other_hand),
    kinds.BUMP_STEER: Makers(knobs=tie_rod_ends),
    kinds.CAMBER_GAIN: Makers(knobs=upper_pivots),
    kinds.CASTER: Makers(knobs=upper_ball),
    kinds.PINION_SWING: Makers(knobs=upper_links),
    kinds.TYRE_TO_STRUCTURE: Makers(knobs=shift_envelope),
    kinds.TYRE_TO_SPRING: Makers(knobs=shift_envelope),
    kinds.PARTS_TO_ONE_ANOTHER: Makers(knobs=shift_envelope),
    kinds.BAG_TO_ANYTHING: Makers(knobs=shift_envelope),
}


def direct_remedy(finding: Finding, solved: SolvedStation) -> Remedy | None:
    """Return a change that can be worked out in one go."""
    maker = MAKERS.get(finding.kind, Makers()).direct
    return None if maker is None else maker(finding, solved)


def knobs_for(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return the knobs that may clear a finding, the one a fabricator would reach for first."""
    maker = MAKERS.get(finding.kind, Makers()).knobs
    return [] if maker is None else maker(finding, solved)
