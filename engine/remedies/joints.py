"""Bearings and shafts that take more, threads screwed further in."""

from engine.document.schema import Coilover, Damper, Station
from engine.findings.finding import Finding
from engine.remedies.knob import Knob, Say, Turn, added, said, unit_of, with_listed, with_rods, with_units
from engine.sentences import Quantity, Sentence
from engine.station.solved import SolvedStation


def rated_joint(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return a bearing of a larger rated angle: a rod end, or the eye of a damper."""
    name = finding.subjects[0]
    if len(finding.subjects) > 1:
        return _rated_eye(solved.station, name, finding.subjects[1])
    return _rated(solved.station, "joints", name)


def rated_shaft(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return a shaft whose joints are of a larger rated angle."""
    return _rated(solved.station, "shafts", finding.subjects[0])


def _rated(station: Station, field: str, name: str) -> list[Knob]:
    part = next((part for part in getattr(station, field) if part.name == name), None)
    if part is None:
        return []

    def turn(station: Station, x: float) -> Station:
        return with_listed(station, field, name, lambda part: {"rated": added(part.rated, x)})

    return [_angle_knob(turn, part.rated)]


def _rated_eye(station: Station, name: str, end: str) -> list[Knob]:
    unit = unit_of(station, name)
    if not isinstance(unit, Coilover | Damper):
        return []
    rated = next((eye.rated for eye in unit.eyes if eye.end == end), None)
    if rated is None:
        return []

    def turn(station: Station, x: float) -> Station:
        eyes = [
            eye.model_copy(update={"rated": added(rated, x)}) if eye.end == end else eye for eye in unit.eyes
        ]
        return with_units(station, [name], lambda _: {"eyes": eyes})

    return [_angle_knob(turn, rated)]


def _angle_knob(turn: Turn, before: float) -> Knob:
    return Knob(turn=turn, say=_say_rated(before), step=1.0, most=90.0 - before, fine=0.5, ways=(1,))


def _say_rated(before: float) -> Say:
    return lambda x: Sentence("Fit one rated {new}.", {"new": Quantity(before + x, "angle")})


def plunge_in(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return a shaft that may get shorter."""
    return _plunge(finding, solved, "least", "Fit a joint with {by} more plunge inward.", -1)


def plunge_out(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return a shaft that may get longer."""
    return _plunge(finding, solved, "most", "Fit a joint with {by} more plunge outward.", 1)


def _plunge(finding: Finding, solved: SolvedStation, key: str, words: str, way: int) -> list[Knob]:
    name = finding.subjects[0]
    shaft = next((shaft for shaft in solved.station.shafts if shaft.name == name), None)
    if shaft is None or shaft.length is None:
        return []
    limits = shaft.length

    def turn(station: Station, x: float) -> Station:
        changed = limits.model_copy(update={key: added(getattr(limits, key), x)})
        return with_listed(station, "shafts", name, lambda _: {"length": changed})

    return [Knob(turn=turn, say=said(words), step=1.0, most=100.0, fine=0.1, ways=(way,))]


def thread(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return the engagement of each end."""

    def turn(station: Station, x: float) -> Station:
        return with_rods(station, finding.subjects, lambda rod: {"engagement": added(rod.engagement, x)})

    say = said("Screw each end of the {0} in {by} further.", *finding.subjects)
    return [Knob(turn=turn, say=say, step=1.0, most=60.0, fine=0.1, ways=(1,))]
