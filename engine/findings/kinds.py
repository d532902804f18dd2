"""Every kind of judgement, each in one place: what it is called, where it is shown, what it goes together with.

Sheet    where a finding of the kind is counted and shown, besides Layout, which shows all of a station's.
Family   kinds of one matter: of each thing only the worst is said, and a remedy must clear them all.
Rooms    it needs clearances, or another side: the slowest to work out, so it comes a moment after the rest.
End      which end of the travel it tells of, for the sheet that asks what ends it; `leads` if it answers that.
Opens    what could not be judged before is judged once it is cleared, so new faults are no fault of its remedy.
"""

from dataclasses import dataclass
from typing import Literal

Sheet = Literal["brief", "rocker", "springing", "stops"]


@dataclass(frozen=True, kw_only=True)
class Kind:
    """One kind of judgement; `code` is stable: files and other people's programs know it."""

    code: str
    sheets: tuple[Sheet, ...] = ()
    family: str = ""
    rooms: bool = False
    end: Literal["bump", "droop"] | None = None
    leads: bool = False
    opens: bool = False


KINDS: dict[str, Kind] = {}


def _kind(
    code: str,
    *sheets: Sheet,
    family: str = "",
    rooms: bool = False,
    end: Literal["bump", "droop"] | None = None,
    leads: bool = False,
    opens: bool = False,
) -> Kind:
    kind = Kind(
        code=code, sheets=sheets, family=family or code, rooms=rooms, end=end, leads=leads, opens=opens
    )
    KINDS[code] = kind
    return kind


# What ends the travel.
FIRST_IN_BUMP = _kind("first_in_bump", "stops", rooms=True, end="bump", leads=True)
FIRST_IN_DROOP = _kind("first_in_droop", "stops", rooms=True, end="droop", leads=True)
STRAP_BEFORE_DAMPER = _kind("strap_before_damper", "stops", family="strap", end="droop")
STRAP_NEVER_TAUT = _kind("strap_never_taut", "stops", family="strap")
STRAP_PULL = _kind("strap_pull", "stops")
STRAP_STRETCH = _kind("strap_stretch", "stops")
BUMP_STOP_BEFORE_DAMPER = _kind("bump_stop_before_damper", "stops", family="bump stop", end="bump")
BUMP_STOP_NEVER_TOUCHED = _kind("bump_stop_never_touched", "stops", family="bump stop")
BUMP_STOP_AT_RIDE = _kind("bump_stop_at_ride", "springing", "stops")
LINKAGE_REACH = _kind("linkage_reach", "rocker", "stops")

# Dampers and coils.
DAMPER_EXTENDED = _kind("damper_extended", "stops", family="damper extended")
DAMPER_EXTENDED_LEFT = _kind("damper_extended_left", "stops", family="damper extended")
DAMPER_COMPRESSED = _kind("damper_compressed", "stops", family="damper compressed")
DAMPER_COMPRESSED_LEFT = _kind("damper_compressed_left", "stops", family="damper compressed")
COIL_SOLID = _kind("coil_solid", "springing", "stops", family="coil closing")
COIL_LEFT = _kind("coil_left", "springing", "stops", family="coil closing")
COIL_LOOSE = _kind("coil_loose", "springing", "stops", family="coil seat")
COIL_SEAT = _kind("coil_seat", "springing", "stops", family="coil seat")
COIL_FIT = _kind("coil_fit", "springing")
STROKE_SPLIT = _kind("stroke_split", "springing")

# Where it stands.
NO_EQUILIBRIUM = _kind("no_equilibrium", "springing", family="standing", opens=True)
STANDS_OFF = _kind("stands_off", "springing", family="standing")
RIDE_FREQUENCY = _kind("ride_frequency", "springing")
RATE_IN_OTHER_UNIT = _kind("rate_in_other_unit", "springing", opens=True)
ADJUSTMENT_LEFT = _kind("adjustment_left", "springing")
FINISHED_MASS = _kind("finished_mass", "springing")
HEIGHT_ADJUSTER = _kind("height_adjuster", "springing")

# Air.
BAG_MIN_HEIGHT = _kind("bag_min_height", "springing", "stops")
BAG_MAX_HEIGHT = _kind("bag_max_height", "springing", "stops")
BAG_HEIGHTS = _kind("bag_heights", "springing")
BAG_PRESSURE = _kind("bag_pressure", "springing")
BAG_FILLING = _kind("bag_filling", "springing")
BAG_TABLE = _kind("bag_table", "springing")
BAG_WITHOUT_DAMPER = _kind("bag_without_damper", "springing")
BAG_PLATES_AT_RIDE = _kind("bag_plates_at_ride", "springing")
BAG_PLATES_IN_TRAVEL = _kind("bag_plates_in_travel", "springing")

# Rockers, joints, rods.
ROD_SQUARE_AT_RIDE = _kind("rod_square_at_ride", "rocker")
ROD_NEAR_CENTRE = _kind("rod_near_centre", "rocker")
JOINT_TILT = _kind("joint_tilt", "rocker", "stops")
SHAFT_ANGLE = _kind("shaft_angle", "stops")
SHAFT_SHORT = _kind("shaft_short", "stops")
SHAFT_LONG = _kind("shaft_long", "stops")
EYE_SQUARE = _kind("eye_square", "stops")
THREAD_ENGAGEMENT = _kind("thread_engagement", "rocker")
THREAD_NOT_MADE = _kind("thread_not_made", "rocker")
SAME_HAND_THREADS = _kind("same_hand_threads", "rocker")
OVER_CONSTRAINED = _kind("over_constrained", "stops")

# The wheel's own angles.
BUMP_STEER = _kind("bump_steer")
CAMBER_GAIN = _kind("camber_gain")
CASTER = _kind("caster")
SCRUB = _kind("scrub")
ACKERMANN = _kind("ackermann")
PINION_SWING = _kind("pinion_swing")
BAR_DEAD = _kind("bar_dead", "springing")

# Room, and the other side.
TYRE_TO_SPRING = _kind("tyre_to_spring", "stops", rooms=True)
TYRE_TO_STRUCTURE = _kind("tyre_to_structure", "stops", rooms=True)
BAG_TO_ANYTHING = _kind("bag_to_anything", "springing", "stops", rooms=True)
PARTS_TO_ONE_ANOTHER = _kind("parts_to_one_another", "stops", rooms=True)
ACROSS_THE_CAR = _kind("across_the_car", "stops", rooms=True)
SIDES_DIFFER = _kind("sides_differ", rooms=True)
SIDES_SPRINGS = _kind("sides_springs", "springing", rooms=True)
SPRINGS_UNLIKE = _kind("springs_unlike", "springing")
SIDES_CAMBER = _kind("sides_camber", rooms=True)
SIDES_TOE = _kind("sides_toe", rooms=True)

# The vehicle.
PAIR_NOT_NAMED = _kind("pair_not_named", "brief")
ROLL_GRADIENT = _kind("roll_gradient", "brief")

# What carries the mounts.
FRAME_STRESS = _kind("frame_stress")
FRAME_BUCKLING = _kind("frame_buckling")
FRAME_SOFT = _kind("frame_soft")
FRAME_LOOSE = _kind("frame_loose")
FRAME_CARRIES = _kind("frame_carries")
FRAME_IN_THE_WAY = _kind("frame_in_the_way")
