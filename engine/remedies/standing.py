"""What makes it stand elsewhere or carry otherwise: preload, a spring's length or rate, pressure."""

from typing import Any

from engine.document.schema import AirSpring, Coilover, Spring, SpringUnit, Station
from engine.findings.finding import Finding
from engine.remedies.knob import (
    Knob,
    Remedy,
    added,
    coils_of,
    unit_knob,
    unit_of,
    with_spring,
    with_units,
)
from engine.ride.perch import seated
from engine.ride.setting import Means, means_of, settings_for, weight_n
from engine.sentences import Quantity, Sentence, length
from engine.station.solved import SolvedStation


def height_knobs(station: Station, name: str | None) -> list[Knob]:
    """Return what raises it: the named unit's preload or its spring's length, else the first such unit's."""
    unit = unit_of(station, name)
    if not isinstance(unit, Coilover | SpringUnit):
        sprung = sorted(coils_of(station), key=lambda coil: not isinstance(coil, Coilover))
        if not sprung:
            return []
        unit = sprung[0]
    if isinstance(unit, Coilover):
        words = ("Add {by} of preload on the {0}.", "Take {by} of preload out of the {0}.")
        found = [unit_knob(station, unit.name, _preload, words, 80.0)]
        if unit.perch is not None:
            # What the perch has no thread left for another length of spring gives, the perch staying where it is.
            other = (
                "Fit a spring {by} longer of the same rate on the {0}, its perch as it stands.",
                "Fit a spring {by} shorter of the same rate on the {0}, its perch as it stands.",
            )
            found.append(unit_knob(station, unit.name, _longer_in_place, other, 80.0))
        return found
    words = ("Fit a spring {by} longer.", "Fit a spring {by} shorter.")
    return [unit_knob(station, unit.name, _free_length, words, 150.0)]


def _preload(unit: Coilover, x: float) -> dict[str, Any]:
    return seated(unit, preload=added(unit.preload, x))


def _longer_in_place(unit: Coilover, x: float) -> dict[str, Any]:
    longer = with_spring(unit, 0, free_length=added(unit.springs[0].free_length, x))
    return seated(unit, longer["springs"], added(unit.preload, x))


def _free_length(unit: Coilover | SpringUnit, x: float) -> dict[str, Any]:
    longer = with_spring(unit, 0, free_length=added(unit.springs[0].free_length, x))
    return seated(unit, longer["springs"]) if isinstance(unit, Coilover) else longer


def coil_solid(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return less preload or length, then a spring that closes further."""
    unit = unit_of(solved.station, finding.subjects[0])
    if not isinstance(unit, Coilover | SpringUnit):
        return []

    def closer(unit: Coilover | SpringUnit, x: float) -> dict[str, Any]:
        return with_spring(unit, 0, solid_length=added(unit.springs[0].solid_length, x))

    words = "Fit a spring of the same rate that closes {by} further."
    most = max(unit.springs[0].solid_length - 1.0, 1.0)
    further = unit_knob(solved.station, unit.name, closer, (words, words), most, (-1,))
    return [*height_knobs(solved.station, unit.name), further]


def coil_loose(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return more preload, or a longer spring."""
    return height_knobs(solved.station, finding.subjects[0])


def standing(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return what makes it stand elsewhere: pressure on air, else preload, or another spring."""
    station = solved.station
    return [*pressure_knobs(station), *height_knobs(station, None), *rate_knobs(solved, hold=False)]


def stand_where_wanted(finding: Finding, solved: SolvedStation) -> Remedy | None:
    """Set it to stand where it is wanted, by the first means it has that does: pressure, perch, another spring."""
    station, at = solved.station, solved.station.travel.at or 0.0
    carried = weight_n(station, station.mass.corner)
    for means in means_of(solved):
        setting = settings_for(solved, means, [(at, carried)])[0]
        if setting is not None and means.holds(setting) is not False and means.by in _SET:
            return _set(solved.station, means, setting)
    return None


def _set(station: Station, means: Means, setting: float) -> Remedy:
    by = round(setting - means.now, 2)

    def change(unit: Any) -> dict[str, Any]:
        if means.by == "pressure":
            return {"pressure": round(setting, 4)}
        return _preload(unit, by) if means.by == "perch" else _free_length(unit, by)

    told = {"by": length(abs(by)), "new": Quantity(setting, "pressure")}
    words = _SET[means.by][by < 0] + ": then it stands where it is wanted."
    return Remedy(what=Sentence(words, told), station=with_units(station, means.subjects, change))


_SET = {  # more, less
    "pressure": ("Set {new}", "Set {new}"),
    "perch": ("Add {by} of preload", "Take {by} of preload out"),
    "spring": ("Fit a spring {by} longer", "Fit a spring {by} shorter"),
}


def pressure_knobs(station: Station) -> list[Knob]:
    """Return the pressure of every bag together, bar."""
    bags = [unit for unit in station.units if isinstance(unit, AirSpring)]
    if not bags:
        return []
    before = bags[0].pressure

    def turn(station: Station, x: float) -> Station:
        names = [bag.name for bag in bags]
        return with_units(station, names, lambda _: {"pressure": round(max(before + x, 0.0), 4)})

    def say(x: float) -> Sentence:
        both = {"new": Quantity(before + x, "pressure"), "old": Quantity(before, "pressure")}
        return Sentence("Set {new} instead of {old}.", both)

    return [Knob(turn=turn, say=say, step=0.1, most=8.0, fine=0.05)]


def rate_knobs(solved: SolvedStation, hold: bool = True) -> list[Knob]:
    """Return another spring on every coil unit; with `hold` preload or length is set anew, to stand where it stood."""
    coils = [coil for coil in coils_of(solved.station) if coil.springs[0].rate is not None]
    if not coils:
        return []
    first = coils[0]
    before = float(first.springs[0].rate or 0.0)
    held = hold and solved.at_ride is not None

    def changed(unit: Coilover | SpringUnit, share: float) -> dict[str, Any]:
        stack: list[Spring] = [
            spring
            if spring.rate is None
            else spring.model_copy(update={"rate": round(spring.rate * share, 6)})
            for spring in unit.springs
        ]
        if not held:
            return {"springs": stack}
        more = round(_squeeze_at_ride(solved, unit.name) * (1 / share - 1), 4)
        if isinstance(unit, Coilover):
            return seated(unit, stack, added(unit.preload, more))
        stack[0] = stack[0].model_copy(update={"free_length": added(stack[0].free_length, more)})
        return {"springs": stack}

    def turn(station: Station, x: float) -> Station:
        names = [coil.name for coil in coils]
        return with_units(station, names, lambda unit: changed(unit, (before + x) / before))

    def say(x: float) -> Sentence:
        told = {"new": Quantity(before + x, "rate"), "old": Quantity(before, "rate")}
        words = "Fit a spring of {new} instead of {old}"
        if len(first.springs) > 1:
            told["by"] = Quantity(abs(x) / before, "share")
            words = f"Fit springs {{by}} {'stiffer' if x > 0 else 'softer'} all through the stack, {{new}} for {{old}} and so on"
        if held and isinstance(first, Coilover):
            words += ", preload reset to stand where it stands"
        elif held:
            by = _squeeze_at_ride(solved, first.name) * (before / (before + x) - 1)
            told["longer"] = length(abs(by))
            words += f", {{longer}} {'longer' if by > 0 else 'shorter'}, to stand where it stands"
        return Sentence(words + ".", told)

    return [Knob(turn=turn, say=say, step=0.02 * before, most=2.0 * before, fine=0.1)]


def _squeeze_at_ride(solved: SolvedStation, name: str) -> float:
    """Return how far a coil is squeezed at ride height, mm."""
    assert solved.at_ride is not None
    return solved.springing.law(name).free_reference - float(solved.at_ride.units[name].length[0])


def split(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return what makes it stand higher or lower."""
    station = solved.station
    return [*height_knobs(station, finding.subjects[0]), *pressure_knobs(station)]


def frequency(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return another rate, standing where it stands."""
    return rate_knobs(solved)
