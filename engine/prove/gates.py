"""What may be welded out: every gate met by a record, or what is missing; a person's initials stand beside it.

Cycled   through the whole wanted travel, springs out, tyre on, with nothing touched but the stops.
"""

from collections.abc import Mapping, Sequence
from types import MappingProxyType

from engine.document.records import CycleRecord, GateRecord, Record
from engine.document.schema import AirSpring, BumpStop, Coilover, Damper, Project, SpringUnit, Station, Strap
from engine.document.threads import LEAST_ENGAGEMENT
from engine.facts import facts
from engine.findings.finding import rules_of
from engine.sentences import Sentence, length, travel

REACH_MM = 3.0  # short of the wanted travel that still counts
TITLES = {
    "cycled": "Cycled through",
    "springs_out": "Springs out",
    "tyre_on": "Tyre on",
    "no_contact": "Nothing touched",
    "left_right": "Left against right",
    "stops_fitted": "Strap and stop",
    "damper_fitted": "Damper",
    "rod_ends": "Rod ends",
}
STOPS = ("stop", "strap")
GAP_MM = 0.5
SAME_MM = 6.0  # rows of both sides this near to one another are compared


@facts
class Gate:
    """One gate of one station; initials are empty until somebody has looked."""

    name: str
    station: str
    met: bool
    say: Sentence
    initials: str = ""

    @property
    def title(self) -> str:
        """Return what it is called in the shop."""
        return TITLES[self.name]


def gates_of(
    project: Project, records: list[Record], misread: Mapping[int, Sequence[int]] = MappingProxyType({})
) -> list[Gate]:
    """Return every gate of every station that is built; `misread` are rows that do not fit, by number of the record."""
    signed = {(one.name, one.station or ""): one.initials for one in records if isinstance(one, GateRecord)}
    found = []
    for station in project.stations:
        if station.variant_of is not None:
            continue
        numbered = [
            (n, one)
            for n, one in enumerate(records)
            if isinstance(one, CycleRecord) and one.station == station.name
        ]
        cycles = [one for _, one in numbered]
        rows = misread.get(numbered[-1][0], ()) if numbered else ()
        for gate in (*_cycling(station, cycles, rows), _sides(project, station, records), *_fitted(station)):
            initials = signed.get((gate.name, gate.station), "")
            found.append(
                Gate(name=gate.name, station=gate.station, met=gate.met, say=gate.say, initials=initials)
            )
    return found


def _gate(name: str, station: Station, met: bool, good: str, missing: Sentence) -> Gate:
    return Gate(name=name, station=station.name, met=met, say=Sentence(good) if met else missing)


def _span(cycle: CycleRecord) -> tuple[float, float] | None:
    at = [row.wheel for row in cycle.rows if row.wheel is not None]
    return (min(at), max(at)) if at else None


def _cycling(station: Station, cycles: list[CycleRecord], misread: Sequence[int]) -> list[Gate]:
    """Return the gates of a station's cycles; `misread` are the rows of the last one that do not fit the others."""
    spans = [span for cycle in cycles if (span := _span(cycle)) is not None]
    low, high = min((a for a, _ in spans), default=0.0), max((b for _, b in spans), default=0.0)
    wanted = station.travel
    whole = bool(spans) and low <= -wanted.droop + REACH_MM and high >= wanted.bump - REACH_MM
    if spans:
        told = {
            "low": travel(low),
            "high": travel(high),
            "droop": travel(-wanted.droop),
            "bump": travel(wanted.bump),
        }
        missing = Sentence(
            "Cycled from {low} to {high}; wanted is {droop} to {bump}: jack it all the way.", told
        )
        if whole and misread:
            numbers = " and ".join(str(row) for row in misread)
            missing = Sentence(
                f"Row {numbers} of its last cycle does not fit the others: read it again, or take it out."
                if len(misread) == 1
                else f"Rows {numbers} of its last cycle do not fit the others: read them again, or take them out."
            )
    else:
        missing = Sentence("Not cycled yet: jack the wheel through its whole travel and read it.")
    touched = [
        contact
        for cycle in cycles
        for contact in cycle.contacts
        if not any(word in contact.what.lower() for word in STOPS)
        and (contact.gap is None or contact.gap <= GAP_MM)
    ]
    hit = Sentence("Nothing was cycled yet, so nobody knows what touches.")
    if touched:
        at = touched[0].wheel
        told = {} if at is None else {"at": travel(at)}
        hit = Sentence(
            "{0} touched" + (" at {at}" if told else "") + ": make room, and cycle it again.",
            told,
            (touched[0].what,),
        )
    return [
        _gate("cycled", station, whole and not misread, "Cycled through its whole wanted travel.", missing),
        _gate("springs_out", station, any(cycle.springs_out for cycle in cycles), "Cycled with the springs out.",
              Sentence("Cycle it with the springs out: with them in it does not reach its ends.")),
        _gate("tyre_on", station, any(cycle.tyre_on for cycle in cycles), "Cycled with the tyre on.",
              Sentence("Cycle it with the tyre on: the tyre is what touches first.")),
        _gate("no_contact", station, bool(spans) and not touched, "Nothing touched but the stops.", hit),
    ]  # fmt: skip


def _sides(project: Project, station: Station, records: list[Record]) -> Gate:
    """Return whether left and right were both cycled and are alike within the shop's limit."""
    name = "left_right"
    if station.kind == "axle" or station.single or station.other_side == "alone":
        return Gate(
            name=name, station=station.name, met=True, say=Sentence("It has no other side of its own.")
        )
    other = station.other_side
    if other == "mirror":
        return Gate(name=name, station=station.name, met=False,
                    say=Sentence("The other side is its mirror image in the drawing: give it a station of its own, and cycle it too."))  # fmt: skip
    mine, its = (
        [one for one in records if isinstance(one, CycleRecord) and one.station == side and len(one.rows) > 2]
        for side in (station.name, other)
    )
    if not mine or not its:
        return Gate(name=name, station=station.name, met=False,
                    say=Sentence("Cycle {0} as well: both sides are compared.", names=(other if mine else station.name,)))  # fmt: skip
    limit = rules_of(project.judging, station.judging).sides_mm[1]
    worst = 0.0
    at_one, at_other = (list(cycle[-1].rows) for cycle in (mine, its))
    for row in at_one:
        if row.wheel is None:
            continue
        near = [one for one in at_other if one.wheel is not None and abs(one.wheel - row.wheel) <= SAME_MM]
        near.sort(key=lambda one: abs((one.wheel or 0.0) - (row.wheel or 0.0)))
        for unit, long in row.lengths.items():
            if near and unit in near[0].lengths and abs((near[0].wheel or 0.0) - row.wheel) <= 1.0:
                worst = max(worst, abs(near[0].lengths[unit] - long))
    told = {"worst": length(worst), "limit": length(limit)}
    return Gate(
        name=name,
        station=station.name,
        met=worst <= limit,
        say=Sentence("Left and right agree within {worst}.", told)
        if worst <= limit
        else Sentence(
            "Left and right differ by {worst}; {limit} is the most: look which side is not as drawn.", told
        ),
    )


def _fitted(station: Station) -> list[Gate]:
    units = station.units
    straps, stops = any(isinstance(u, Strap) for u in units), any(isinstance(u, BumpStop) for u in units)
    missing = [word for word, there in (("a limit strap", straps), ("a bump stop", stops)) if not there]
    damped = any(isinstance(u, Coilover | Damper) for u in units)
    sprung = any(isinstance(u, Coilover | SpringUnit | AirSpring) for u in units)
    rods = {name: rod for name, rod in station.rods.items() if rod.engagement < LEAST_ENGAGEMENT * rod.thread}
    first = next(iter(rods), "")
    return [
        _gate("stops_fitted", station, straps and stops, "Strap and bump stop are fitted.",
              Sentence(f"{' and '.join(missing)[:1].upper()}{' and '.join(missing)[1:]} is not drawn: fit it before it carries weight." if missing else "")),
        _gate("damper_fitted", station, damped or not sprung, "A damper is fitted.", Sentence("No damper is fitted: it must never be left off.")),
        _gate("rod_ends", station, not rods, "Every rod end holds its thread.",
              Sentence("{0} does not hold enough thread: one and a half diameters.", names=(first,))),
    ]  # fmt: skip
