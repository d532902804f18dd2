"""The whole vehicle: what was wanted, how it stands and weighs, what is signed, and what is still found."""

from collections.abc import Iterator, Sequence

from reportlab.platypus import Flowable, Spacer

from engine.document.coming import finished_kg
from engine.prove.gates import TITLES, Gate
from engine.prove.proof import Proof
from engine.results.whole import WorkedProject
from engine.sentences import spoken
from server.paper.pen import PageOf
from server.paper.setting import Paper


def vehicle_chapter(
    worked: WorkedProject, proof: Proof, paper: Paper, pages: dict[str, int]
) -> Iterator[Flowable]:
    """Yield the chapter of the whole vehicle."""
    yield PageOf("What was wanted, and how it stands", pages)
    yield paper.say("What was wanted, and how it stands", "head")
    yield paper.table(_wanted(worked, paper), [26, 34, 34, 36, 23, 21])
    yield Spacer(1, 6)
    yield from _weighed(proof, paper)
    yield paper.say("Gates", "head")
    yield _gates(proof.gates, paper)
    yield from _found(worked, paper)


def _wanted(worked: WorkedProject, paper: Paper) -> list[list[str]]:
    rows = [["Station", "Travel wanted, up / down", "Stands, from as drawn", "Frequency", "Mass at the wheel", "Finished"]]  # fmt: skip
    for one in worked.stations:
        station, solved = one.work.station, one.work.solved
        if station.variant_of is not None:
            continue
        wanted, ride = one.rules.frequencies, solved.ride
        at = station.travel.at
        stands = "nowhere" if ride is None else paper.figure(ride.travel, "travel")
        if at is not None:
            stands += f", {paper.figure(at, 'travel')} wanted"
        hertz = "" if ride is None else paper.figure(ride.frequency, "frequency")
        if wanted is not None:
            hertz += f", {wanted[0]:g} to {wanted[1]:g} wanted"
        done = finished_kg(worked.project, station)
        rows.append(
            [
                spoken(station.name),
                f"{paper.figure(station.travel.bump, 'length')} / {paper.figure(station.travel.droop, 'length')}",
                stands,
                hertz,
                paper.figure(station.mass.corner, "mass"),
                "" if done is None else paper.figure(done, "mass"),
            ]
        )
    return rows


def _weighed(proof: Proof, paper: Paper) -> Iterator[Flowable]:
    """Yield every weigh-in, the newest first."""
    if not proof.weighs:
        yield paper.say("It was not weighed.")
        return
    yield paper.say("Weighed", "head")
    rows = [["When", "All of it", "In front", "On the left", "Across", "What was in it"]]
    for its in reversed(proof.weighs):
        record = proof.project.records[its.record]
        rows.append(
            [
                record.when[:10],
                paper.figure(its.total, "mass"),
                *(_share(one) for one in (its.front_share, its.left_share, its.cross_share)),
                ", ".join(one for one in (getattr(record, "loaded", None), record.note) if one),
            ]
        )
    yield paper.table(rows, [24, 24, 18, 22, 18, paper.wide - 106])


def _share(share: float | None) -> str:
    return "" if share is None else f"{100 * share:.1f} %"


def _gates(gates: Sequence[Gate], paper: Paper) -> Flowable:
    stations = list(dict.fromkeys(gate.station for gate in gates))
    by = {(gate.name, gate.station): gate for gate in gates}
    rows = [["", *(spoken(station) for station in stations)]]
    for name in dict.fromkeys(gate.name for gate in gates):
        cells = [by.get((name, station)) for station in stations]
        rows.append([TITLES[name], *("" if gate is None else _signed(gate) for gate in cells)])
    return paper.table(rows)


def _signed(gate: Gate) -> str:
    if not gate.met:
        return "open"
    return f"met, {gate.initials}" if gate.initials else "met, not signed"


def _found(worked: WorkedProject, paper: Paper) -> Iterator[Flowable]:
    """Yield what is still found today: a book that is silent of it would be no record."""
    rows = [["Still to look at", "Station"]]
    for one in worked.stations:
        if one.work.station.variant_of is None:
            rows += [
                [f.what.told(paper.inches), spoken(one.work.station.name)]
                for f in one.findings
                if f.mark != "good"
            ]
    rows += [[f.what.told(paper.inches), "the whole vehicle"] for f in worked.findings if f.mark != "good"]
    yield Spacer(1, 6)
    if len(rows) == 1:
        yield paper.say("Nothing is left to look at: every figure stands within its limits.")
    else:
        yield paper.table(rows, [paper.wide - 40, 40])
