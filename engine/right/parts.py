"""What is bought or taken off the shelf: springs, dampers, straps, stops, rods cut anew, rod ends that lean further."""

from collections.abc import Callable, Iterator
from typing import Any

from engine.document.schema import BumpStop, Coilover, Damper, Link, Spring, SpringUnit, Station, Strap
from engine.document.units import AnyUnit
from engine.findings import kinds
from engine.findings.finding import Finding, Rules
from engine.findings.springs import unfit
from engine.forces.units import adapter_mm
from engine.forces.unknown import rate_n_per_mm
from engine.remedies.direct import other_hand
from engine.remedies.joints import rated_joint
from engine.remedies.knob import added, both_sides, coils_of, dampers_of, with_rods, with_units
from engine.remedies.stops import fit_stop, fit_strap, strap_in_line
from engine.ride.perch import seated
from engine.right.lever import PARTS, PLACES, Lever, of_knob, steps
from engine.right.stock import (
    BORES_MM,
    STOP_STEP_MM,
    STRAP_STEP_MM,
    USUAL_BORE_MM,
    Shelf,
    free_lengths,
    rates,
    stock_dampers,
    wound,
)
from engine.sentences import Quantity, Sentence, length
from engine.sizing.dampers import ShelfDamper
from engine.sizing.springs import USUAL_HZ, ShelfCoil, rate_needed, with_springs
from engine.station.solved import SolvedStation

RATE_SPAN = (0.35, 2.5)  # of today's rate: further off is another job
LENGTHS, RATES = 6, 7  # of a coil that are tried
NEAR_MM = 70.0  # a damper further than this from what the mounts ask for is not tried
DAMPERS = 14
STRAP_MM, STOP_MM, ROD_MM = 150.0, 60.0, 40.0
RATED_DEG = (15.0, 18.0, 20.0, 22.0, 25.0, 28.0, 30.0, 35.0, 40.0)  # rod ends and eyes that are sold
SCREWED_MM = (2.0, 4.0, 6.0, 8.0, 10.0, 12.0, 15.0, 20.0, 25.0)


def part_levers(
    solved: SolvedStation, rules: Rules, findings: tuple[Finding, ...], shelf: Shelf, inches: bool
) -> Iterator[Lever]:
    """Yield a station's levers that need a part."""
    station = solved.station
    yield from _springs(solved, rules, shelf, inches)
    yield from _dampers(solved, rules, shelf)
    yield from _straps(solved, findings, shelf)
    yield from _stops(solved, findings, shelf)
    yield from _rods(solved)
    for finding in findings:
        if finding.kind is kinds.JOINT_TILT and finding.mark != "good":
            yield from _further_leaning(finding, solved)
        if finding.kind is kinds.SAME_HAND_THREADS and finding.mark != "good":
            yield from _once(
                other_hand, finding, solved, "rod", frozenset(finding.subjects), finding.subjects[0]
            )
    for name in station.rods:
        yield _recut(station, name)


def _main(unit: Coilover | SpringUnit) -> int:
    """Return which spring of a stack carries: the stiffest that is no helper."""
    known = [
        (-1.0 if one.helper else rate_n_per_mm(one) if one.table is None else 0.0) for one in unit.springs
    ]
    return max(range(len(known)), key=lambda k: (known[k], unit.springs[k].free_length))


def _groups(station: Station, units: tuple[Any, ...]) -> Iterator[tuple[Any, tuple[str, ...]]]:
    """Yield each unit once, with its mirror image's name on an axle."""
    done: set[str] = set()
    for unit in units:
        if unit.name not in done:
            names = both_sides(station, unit.name)
            done |= set(names)
            yield unit, names


def _springs(solved: SolvedStation, rules: Rules, shelf: Shelf, inches: bool) -> Iterator[Lever]:
    for unit, names in _groups(solved.station, coils_of(solved.station)):
        main = _main(unit)
        now = unit.springs[main]
        if now.table is not None:
            continue
        rate = rate_n_per_mm(now)
        bought = _stock_coils(rules, solved, rate, now, now.bore or unit.seat, inches)
        change = _spring_change(solved, unit, names, main)
        common = {"of": frozenset(names), "slot": f"spring {unit.name}", "sides": len(names), "order": PARTS}
        if bought:
            yield Lever(
                name=f"spring {unit.name}",
                key="spring",
                change=change,
                say=_say_spring(unit),
                values=bought,
                **common,  # type: ignore[arg-type]
            )
        there = tuple(coil for coil in shelf.coils if _goes_on(unit, main, coil))
        if there:
            yield Lever(
                name=f"shelf spring {unit.name}",
                key="shelf",
                change=lambda station, coil, change=change: change(station, coil.spring),  # type: ignore[misc]
                say=_say_shelf(unit),
                values=there,
                **common,  # type: ignore[arg-type]
            )


def _stock_coils(
    rules: Rules, solved: SolvedStation, rate: float, now: Spring, bore: float | None, inches: bool
) -> tuple[Spring, ...]:
    """Return coils that are sold about today's rate, about the one that the frequency wants, and about today's length.

    Where nobody has said how wide today's is, they are as wide as one that is solid where it is; then nothing is said of it.
    """
    wanted = [rate]
    middle = sum(rules.frequencies or USUAL_HZ) / 2
    if solved.ride is not None and rules.frequencies is not None:
        wanted.append(rate * (middle / solved.ride.frequency) ** 2)
    elif solved.ride is None and any(isinstance(unit, Coilover) for unit in solved.station.units):
        wanted.append(rate_needed(solved, middle) or rate)
    sold = rates(inches, min(wanted) * RATE_SPAN[0], max(wanted) * RATE_SPAN[1])
    near = sorted({one for want in wanted for one in sorted(sold, key=lambda r: abs(r - want))[:RATES]})
    lengths = sorted(sorted(free_lengths(inches), key=lambda one: abs(one - now.free_length))[:LENGTHS])
    wide = bore or _as_wide(rate, now)
    found = [coil for one in near for long in lengths if (coil := wound(one, wide, long)) is not None]
    return tuple(found) if bore else tuple(coil.model_copy(update={"bore": None}) for coil in found)


def _as_wide(rate: float, now: Spring) -> float:
    """Return mm inside a coil that is sold with the rate, the length and about the solid length of one that is there."""
    known = {bore: coil for bore in BORES_MM if (coil := wound(rate, bore, now.free_length)) is not None}
    return min(
        known, key=lambda bore: abs(known[bore].solid_length - now.solid_length), default=USUAL_BORE_MM
    )


def _goes_on(unit: Coilover | SpringUnit, main: int, coil: ShelfCoil) -> bool:
    now = unit.springs[main]
    if coil.bore is not None and now.bore is not None and abs(coil.bore - now.bore) > 1.0:
        return False
    return not isinstance(unit, Coilover) or unfit(_with_coil(unit, main, coil.spring)) is None


def _with_coil(unit: Any, main: int, coil: Spring) -> Any:
    """Return a unit with another coil in its stack; what the file says more of the old one is not said of the new."""
    springs = list(unit.springs)
    springs[main] = coil
    return unit.model_copy(
        update=seated(unit, springs) if isinstance(unit, Coilover) else {"springs": springs}
    )


def _spring_change(
    solved: SolvedStation, unit: Any, names: tuple[str, ...], main: int
) -> Callable[[Station, Spring], Station]:
    """Fit a coil, and wind its perch so that it stands where it is wanted, to the millimetre."""

    def change(station: Station, coil: Spring) -> Station:
        if isinstance(unit, Coilover) and solved.station.points == station.points:
            fitted = [one for one in solved.station.units if isinstance(one, Coilover) and one.name in names]
            springs = {one.name: list(_with_coil(one, main, coil).springs) for one in fitted}
            set_to = with_springs(solved, fitted, springs)
            preload = round(float(getattr(set_to.unit(unit.name), "preload", 0.0)))
            return with_units(
                station, names, lambda one: seated(one, _with_coil(one, main, coil).springs, float(preload))
            )
        return with_units(station, names, lambda one: dict(_fields(one, main, coil)))

    return change


def _fields(unit: Any, main: int, coil: Spring) -> dict[str, Any]:
    springs = list(unit.springs)
    springs[main] = coil
    return seated(unit, springs) if isinstance(unit, Coilover) else {"springs": springs}


def _say_spring(unit: AnyUnit) -> Callable[[Spring], Sentence]:
    def say(coil: Spring) -> Sentence:
        told = {"rate": Quantity(coil.rate or 0.0, "rate"), "long": length(coil.free_length)}
        words = "Fit a spring of {rate}, {long} free, on the {0}"
        return Sentence(
            words + (", its perch reset." if isinstance(unit, Coilover) else "."), told, (unit.name,)
        )

    return say


def _say_shelf(unit: AnyUnit) -> Callable[[Any], Sentence]:
    return lambda part: Sentence("Fit {1} off the shelf on the {0}.", {}, (unit.name, part.name))


def _dampers(solved: SolvedStation, rules: Rules, shelf: Shelf) -> Iterator[Lever]:
    for unit, names in _groups(solved.station, dampers_of(solved.station)):
        if not len(solved.taken.travels):
            continue
        lengths = solved.taken.units[unit.name].length - adapter_mm(unit)
        asked = float(lengths.max()) + rules.damper_left_mm, float(lengths.min()) - rules.damper_left_mm
        common = {"of": frozenset(names), "slot": f"damper {unit.name}", "sides": len(names), "order": PARTS}
        change = _damper_change(names)
        for key, name, sold, say in (
            ("shelf", f"shelf damper {unit.name}", list(shelf.dampers), _say_shelf(unit)),
            ("damper", f"damper {unit.name}", stock_dampers(), _say_damper(unit)),
        ):
            near = [one for one in sold if _misses(one, asked) < NEAR_MM and not _same(one, unit)]
            near = sorted(
                near, key=lambda one: (_misses(one, asked), one.extended - one.compressed, one.name)
            )[:DAMPERS]
            if near:
                values = tuple(sorted(near, key=lambda one: (one.extended, one.compressed)))
                yield Lever(name=name, key=key, change=change, say=say, values=values, **common)  # type: ignore[arg-type]


def _misses(one: ShelfDamper, asked: tuple[float, float]) -> float:
    """Return how far a damper's ends are short of what is asked, mm, its length beyond that a little too."""
    short = max(asked[0] - one.extended, 0.0) + max(one.compressed - asked[1], 0.0)
    return short + 0.05 * (abs(one.extended - asked[0]) + abs(one.compressed - asked[1]))


def _same(one: ShelfDamper, unit: Coilover | Damper) -> bool:
    return one.extended == unit.extended and one.compressed == unit.compressed


def _damper_change(names: tuple[str, ...]) -> Callable[[Station, ShelfDamper], Station]:
    """Fit a damper; its coil stands between the same seats, so that it is squeezed as it was at every length."""

    def fields(unit: Any, one: ShelfDamper) -> dict[str, Any]:
        its: dict[str, Any] = {"extended": one.extended, "compressed": one.compressed}
        if isinstance(unit, Coilover):
            its["preload"] = added(unit.preload, unit.extended - one.extended)
        return its

    return lambda station, one: with_units(station, names, lambda unit: fields(unit, one))


def longer_damper(station: Station, name: str, by: float) -> Station:
    """Return the station with a damper, and its image on an axle, so much longer when open; closed it is as it was."""

    def fields(unit: Any) -> dict[str, Any]:
        its: dict[str, Any] = {"extended": added(unit.extended, by)}
        if isinstance(unit, Coilover):
            its["preload"] = added(unit.preload, -by)
        return its

    return with_units(station, both_sides(station, name), fields)


def _say_damper(unit: AnyUnit) -> Callable[[ShelfDamper], Sentence]:
    words = "Fit a damper of {closed} closed and {open} open as the {0}."
    return lambda one: Sentence(
        words, {"closed": length(one.compressed), "open": length(one.extended)}, (unit.name,)
    )


def _straps(solved: SolvedStation, findings: tuple[Finding, ...], shelf: Shelf) -> Iterator[Lever]:
    station = solved.station
    straps = tuple(unit for unit in station.units if isinstance(unit, Strap))
    if not straps:
        yield from _fitted(solved, findings, kinds.FIRST_IN_DROOP, fit_strap, "strap", Strap)
    for unit, names in _groups(station, straps):
        common = {"of": frozenset(names), "slot": f"strap {unit.name}", "sides": len(names), "order": PARTS}
        long = tuple(
            round(STRAP_STEP_MM * round(unit.length / STRAP_STEP_MM) + x, 1)
            for x in (0.0, *steps(min(STRAP_MM, 0.5 * unit.length), STRAP_STEP_MM))
        )
        long = tuple(sorted({one for one in long if one != unit.length and one > 0}))
        yield Lever(
            name=f"strap {unit.name}",
            key="strap",
            change=lambda station, x, names=names: with_units(station, names, lambda _: {"length": x}),  # type: ignore[misc]
            say=lambda x, unit=unit: Sentence(
                "Fit a strap of {long} as the {0}.", {"long": length(x)}, (unit.name,)
            ),  # type: ignore[misc]
            values=long,
            now=unit.length,
            **common,  # type: ignore[arg-type]
        )
        if shelf.straps:
            yield Lever(
                name=f"shelf strap {unit.name}",
                key="shelf",
                change=lambda station, one, names=names: with_units(  # type: ignore[misc]
                    station, names, lambda _: {"length": one.length, "stretch": one.stretch}
                ),
                say=_say_shelf(unit),
                values=tuple(sorted(shelf.straps, key=lambda one: one.length)),
                **common,  # type: ignore[arg-type]
            )
    for finding in findings:
        if finding.kind is kinds.STRAP_PULL and finding.mark != "good":
            yield from _once(strap_in_line, finding, solved, "strap", frozenset(finding.subjects), "in line")


def _stops(solved: SolvedStation, findings: tuple[Finding, ...], shelf: Shelf) -> Iterator[Lever]:
    station = solved.station
    stops = tuple(unit for unit in station.units if isinstance(unit, BumpStop))
    if not stops:
        yield from _fitted(solved, findings, kinds.FIRST_IN_BUMP, fit_stop, "stop", BumpStop)
    for unit, names in _groups(station, stops):
        common = {"of": frozenset(names), "slot": f"stop {unit.name}", "sides": len(names), "order": PARTS}
        yield Lever(
            name=f"stop {unit.name}",
            key="stop",
            change=lambda station, x, names=names: with_units(  # type: ignore[misc]
                station, names, lambda one: {"contact": added(one.contact, x)}
            ),
            say=_say_stop(unit),
            values=steps(min(STOP_MM, unit.contact - 1.0), STOP_STEP_MM),
            **common,  # type: ignore[arg-type]
        )


def _say_stop(unit: AnyUnit) -> Callable[[float], Sentence]:
    def say(x: float) -> Sentence:
        words = f"Fit a bump stop {{by}} {'taller' if x > 0 else 'shorter'} as the {{0}}."
        return Sentence(words, {"by": length(abs(x))}, (unit.name,))

    return say


def _fitted(
    solved: SolvedStation,
    findings: tuple[Finding, ...],
    kind: kinds.Kind,
    make: Any,
    key: str,
    what: type[AnyUnit],
) -> Iterator[Lever]:
    """Yield one fitted where there is none, longer or shorter than where it would just do."""
    dampers = dampers_of(solved.station)
    named = next((finding for finding in findings if finding.kind is kind), None)
    about = named or Finding(kind=kind, mark="warning", what=Sentence(""), subjects=())
    first = make(about, solved)
    if first is None or not dampers:
        return
    new = [unit for unit in first.station.units if isinstance(unit, what)]
    field = "length" if what is Strap else "contact"
    start = float(getattr(new[0], field))

    def change(station: Station, x: float) -> Station:
        made = [unit.model_copy(update={field: added(getattr(unit, field), x)}) for unit in new]
        return station.model_copy(update={"units": [*station.units, *made]})

    def say(x: float) -> Sentence:
        words = (
            "Fit a strap of {at} between the mounts of the {0}." if what is Strap
            else "Fit a bump stop on the {0} that touches at {at} between its mounts."
        )  # fmt: skip
        return Sentence(words, {"at": length(start + x)}, (dampers[0].name,))

    most = min(STRAP_MM, 0.5 * start)
    yield Lever(
        name=f"new {key}",
        key=key,
        change=change,
        say=say,
        values=tuple(sorted((0.0, *steps(most, STRAP_STEP_MM)))),
        of=frozenset(unit.name for unit in new),
        slot=f"new {key}",
        sides=len(new),
        order=PARTS,
    )


def _rods(solved: SolvedStation) -> Iterator[Lever]:
    """Yield each link cut to another length."""
    station = solved.station
    for body, ends in station.bodies.items():
        if len(ends) != 2 or any(wheel.centre in ends for wheel in station.wheels):
            continue
        link = station.links.get(body, Link())
        one, other = (station.points[end] for end in ends)
        now = link.length or sum((a - b) ** 2 for a, b in zip(one, other, strict=True)) ** 0.5
        whole = round(now)
        yield Lever(
            name=f"rod {body}",
            key="rod",
            change=lambda station, x, body=body: _cut(station, body, x),  # type: ignore[misc]
            say=_say_cut(body),
            values=tuple(float(whole + x) for x in steps(min(ROD_MM, 0.4 * now), 1.0) if whole + x > 1),
            of=frozenset({body}),
            slot=f"rod {body}",
            sides=1,
            order=PLACES,
            now=now,
        )


def _cut(station: Station, body: str, long: float) -> Station:
    changed = station.links.get(body, Link()).model_copy(update={"length": long})
    return station.model_copy(update={"links": {**station.links, body: changed}})


def _say_cut(body: str) -> Callable[[float], Sentence]:
    return lambda long: Sentence("Cut the {0} to {long} between its eyes.", {"long": length(long)}, (body,))


def _recut(station: Station, name: str) -> Lever:
    """A rod's tube cut shorter, its ends screwed in by as much: as long as before."""

    def change(station: Station, x: float) -> Station:
        def fields(rod: Any) -> dict[str, Any]:
            its: dict[str, Any] = {"engagement": added(rod.engagement, x)}
            if rod.longer is not None:
                its["longer"] = added(rod.longer, 2 * x)
            if rod.shorter is not None:
                its["shorter"] = added(rod.shorter, -2 * x)
            return its

        return with_rods(station, [name], fields)

    words = "Cut the tube of the {0} {by} shorter at each end and screw its ends in by as much."
    return Lever(
        name=f"tube {name}",
        key="rod",
        change=change,
        say=lambda x: Sentence(words, {"by": length(x)}, (name,)),
        values=SCREWED_MM,
        of=frozenset({name}),
        slot=f"tube {name}",
    )


def _further_leaning(finding: Finding, solved: SolvedStation) -> Iterator[Lever]:
    for knob in rated_joint(finding, solved):
        before = 90.0 - knob.most
        more = tuple(rated - before for rated in RATED_DEG if rated > before)
        if more:
            name = " ".join(finding.subjects)
            lever = of_knob(knob, f"rod end {name}", "rod", frozenset(finding.subjects), 1)
            yield Lever(**{**vars(lever), "values": more, "order": PARTS})


def _once(
    make: Any, finding: Finding, solved: SolvedStation, key: str, of: frozenset[str], name: str
) -> Iterator[Lever]:
    """Yield a change that is worked out in one go, as a lever of one setting."""
    found = make(finding, solved)
    if found is None:
        return
    units = {unit.name: unit for unit in found.station.units}
    rods, links = found.station.rods, found.station.links

    def change(station: Station, _: float) -> Station:
        changed = [units[one.name] if one.name in of and one.name in units else one for one in station.units]
        its = {rod: rods[rod] if rod in of else station.rods[rod] for rod in station.rods}
        return station.model_copy(
            update={
                "units": changed,
                "rods": its,
                "links": {**station.links, **{k: v for k, v in links.items() if k in of}},
            }
        )

    yield Lever(
        name=f"{finding.code} {name}",
        key=key,
        change=change,
        say=lambda _: found.what,
        values=(0.0,),
        of=of,
        slot=f"{finding.code} {name}",
        order=PARTS,
    )
