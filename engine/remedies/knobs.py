"""Which knobs may clear which finding."""

from collections.abc import Callable

from engine.findings.finding import Finding
from engine.remedies.adjusting import larger_bag, recentred
from engine.remedies.dampers import cup, damper_end
from engine.remedies.joints import plunge, rated, thread
from engine.remedies.knob import Knob, Values
from engine.remedies.linkages import less_travel, pivot, rod
from engine.remedies.room import shift_envelope
from engine.remedies.standing import coil_loose, coil_solid, frequency, pressure_knobs, split, standing
from engine.remedies.stops import bump_stop, strap
from engine.station.solved import SolvedStation


def knobs_for(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return the knobs that may clear a finding, the one a fabricator would reach for first."""
    maker = MAKERS.get(finding.code)
    return maker(finding, values, solved) if maker else []


MAKERS: dict[str, Callable[[Finding, Values, SolvedStation], list[Knob]]] = {
    "strap_before_damper": strap,
    "strap_never_taut": strap,
    "first_in_droop": strap,
    "bump_stop_before_damper": bump_stop,
    "bump_stop_never_touched": bump_stop,
    "first_in_bump": bump_stop,
    "bump_stop_at_ride": standing,
    "no_equilibrium": standing,
    "damper_extended": damper_end("extended"),
    "damper_extended_left": damper_end("extended"),
    "damper_compressed": damper_end("compressed"),
    "damper_compressed_left": damper_end("compressed"),
    "coil_solid": coil_solid,
    "coil_left": coil_solid,
    "coil_loose": coil_loose,
    "coil_seat": coil_loose,
    "ride_frequency": frequency,
    "stroke_split": split,
    "rod_square_at_ride": rod,
    "rod_near_centre": pivot,
    "linkage_reach": less_travel,
    "tyre_to_structure": shift_envelope,
    "tyre_to_spring": shift_envelope,
    "parts_to_one_another": shift_envelope,
    "bag_to_anything": shift_envelope,
    "bag_min_height": cup,
    "bag_max_height": cup,
    "bag_filling": lambda finding, values, solved: pressure_knobs(values),
    "joint_tilt": rated("joints"),
    "shaft_angle": rated("shafts"),
    "shaft_short": plunge("least"),
    "shaft_long": plunge("most"),
    "thread_engagement": thread,
    "adjustment_left": recentred,
    "finished_mass": recentred,
    "height_adjuster": recentred,
    "bag_pressure": larger_bag,
}
