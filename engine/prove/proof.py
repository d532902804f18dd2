"""Everything that a job's records come to, worked out once; and as the contract's plain values."""

import math
from dataclasses import replace
from typing import Any

from engine.document.pairs import paired
from engine.document.records import CycleRecord, Record, SettingRecord, WeighRecord
from engine.document.schema import Project
from engine.facts import facts
from engine.findings.pairs import judge_pairs
from engine.prove.causes import cause_sentence
from engine.prove.cycled import Cycled, cycled
from engine.prove.gates import Gate, gates_of
from engine.prove.weighed import Weighed, weighed
from engine.sentences import Quantity, Sentence, length
from engine.station.solved import SolvedStation
from engine.telling import Tell, to_nobody
from engine.vehicle.carried import Thrown, put_in, thrown
from engine.vehicle.stance import Stance, stance
from engine.vehicle.wheels import Vehicle, vehicle_of

Values = dict[str, Any]
SETTLED_MM = 0.5
MOST_KNOWN = 64
Throws = tuple[tuple[float, float], ...]
THROWS: Throws = ((0.8, 0.0), (0.0, 0.8), (0.0, -0.8))


@facts
class Proof:
    """A job proved: the vehicle as planned, every cycle and weigh-in, the gates; `lost` records whose station is gone."""

    project: Project
    vehicle: Vehicle
    now: Stance | None
    finished: Stance | None
    cycles: tuple[Cycled, ...]
    weighs: tuple[Weighed, ...]
    gates: tuple[Gate, ...]
    said: tuple[Sentence, ...]
    cases: tuple[tuple[str, Stance], ...] = ()
    thrown: tuple[Thrown, ...] = ()


Known = dict[str, Cycled]
"""Cycles worked out before, by everything that they depend on: a cycle does not change while the next one is read."""


def prove(
    project: Project,
    vehicle: Vehicle | None = None,
    known: Known | None = None,
    throws: Throws = THROWS,
    tell: Tell = to_nobody,
) -> Proof:
    """Return a job proved; raise the engine's errors for a linkage that cannot move.

    known  : what was worked out before; it is added to
    throws : braking and cornering that are looked at, g
    """
    tell(0.0, "the vehicle on its wheels")
    said = [finding.what for finding in judge_pairs(project)]
    project = paired(project)
    its = vehicle_of(project) if vehicle is None else vehicle
    solved = {support.solved.station.name: support.solved for support in its.supports}
    records: list[Record] = list(project.records)
    names = {wheel.key for wheel in its.wheels} | set(solved)
    cycles, weighs = [], []
    before: tuple[WeighRecord, Weighed] | None = None
    between: list[SettingRecord] = []
    earlier: list[SettingRecord] = []
    for number, record in enumerate(records):
        if isinstance(record, CycleRecord | WeighRecord):
            tell((number + 1) / (len(records) + 2), _read_of(record))
        if isinstance(record, CycleRecord):
            if record.station in solved:
                cycles.append(_cycled(project, solved[record.station], number, record, known))
            else:
                said.append(_lost(number, record.station))
        elif isinstance(record, SettingRecord):
            if record.station in names:
                between.append(record)
                earlier.append(record)
            else:
                said.append(_lost(number, record.station))
        elif isinstance(record, WeighRecord) and its.wheels:
            done = weighed(its, number, record, before, between, earlier)
            weighs.append(done)
            if record.raised is None:
                before, between = (record, done), []
    tell(1 - 1 / (len(records) + 2), "how it stands")
    whole = any(wheel.finished is not None for wheel in its.wheels)
    misread = {one.record: sorted({row.row for row in one.misread}) for one in cycles if one.misread}
    return Proof(
        project=project,
        vehicle=its,
        now=stance(its) if its.wheels else None,
        finished=stance(its, finished=True) if its.wheels and whole else None,
        cycles=tuple(cycles),
        weighs=tuple(weighs),
        gates=tuple(gates_of(project, records, misread)),
        said=tuple(said),
        cases=tuple((case.name, stance(its, extra=put_in(case))) for case in project.loads)
        if its.wheels
        else (),
        thrown=_thrown(project, its, throws),
    )


def _read_of(record: CycleRecord | WeighRecord) -> str:
    return f"the cycle of {record.station}" if isinstance(record, CycleRecord) else "a weigh-in"


def _thrown(project: Project, vehicle: Vehicle, throws: Throws) -> tuple[Thrown, ...]:
    if project.vehicle is None or not vehicle.wheels:
        return ()
    high = project.vehicle.cg_height
    return tuple(thrown(vehicle, high, brake=brake, corner=corner) for brake, corner in throws)


def _cycled(
    project: Project, solved: SolvedStation, number: int, record: CycleRecord, known: Known | None
) -> Cycled:
    if known is None:
        return cycled(project, solved, number, record)
    floor = 0.0 if project.vehicle is None else project.vehicle.floor
    key = f"{floor}|{solved.station.model_dump_json()}|{record.model_dump_json()}"
    if key not in known:
        known[key] = cycled(project, solved, number, record)
        while len(known) > MOST_KNOWN:
            known.pop(next(iter(known)))
    return replace(known[key], record=number)


def _lost(number: int, name: str) -> Sentence:
    words = f"Record {number + 1} is of {{0}}, which this job no longer has: it is kept, and nothing is made of it."
    return Sentence(words, names=(name,))


def proof_values(proof: Proof) -> Values:
    """Return a proof as the contract has it."""
    vehicle: Values = {}
    if proof.now is not None:
        vehicle = stance_values(proof.now)
        if proof.finished is not None:
            vehicle["finished"] = stance_values(proof.finished)
        if proof.cases:
            vehicle["cases"] = {name: stance_values(stands) for name, stands in proof.cases}
        if proof.thrown:
            vehicle["thrown"] = [
                {"brake_g": one.brake, "corner_g": one.corner, **stance_values(one.stands)}
                for one in proof.thrown
            ]
    return {
        "format": "jugatrix-proof",
        "version": 1,
        "vehicle": vehicle,
        "cycles": [_cycle(one) for one in proof.cycles],
        "weighs": [_weigh(one) for one in proof.weighs],
        "gates": [
            {
                "name": gate.name,
                "station": gate.station,
                "met": gate.met,
                "say": str(gate.say),
                "initials": gate.initials,
            }
            for gate in proof.gates
        ],
        "said": [str(one) for one in proof.said],
    }


def stance_values(stands: Stance) -> Values:
    """Return how a vehicle stands as plain values; null for what nothing holds."""
    return {
        "heights": {key: _rounded(value, 3) for key, value in stands.heights.items()},
        "wheels": {key: _rounded(value, 3) for key, value in stands.scales.items()},
        "travels": {key: _rounded(value, 3) for key, value in stands.travels.items()},
        "heave": _rounded(stands.heave, 4),
        "pitch": _rounded(stands.pitch),
        "roll": _rounded(stands.roll),
        "cross_share": _rounded(stands.cross),
        "lifted": list(stands.lifted),
        "settled": stands.settled,
    }


def _rounded(value: float | None, digits: int = 5) -> float | None:
    return None if value is None or not math.isfinite(value) else round(value, digits) + 0.0


def _cycle(one: Cycled) -> Values:
    return {
        "station": one.station,
        "record": one.record,
        "rms": _rounded(one.rms, 3),
        "worst": None if one.worst is None else {"wheel": one.worst[0], "by": round(one.worst[1], 3)},
        "reached": None if one.reached is None else list(one.reached),
        "built": [
            {
                "unit": row.unit,
                "wheel": row.wheel,
                "length": _rounded(row.likely, 3),
                "read": row.length,
                "drawn": round(row.drawn, 3),
                "motion_ratio": round(row.ratio, 5),
                "sigma": round(row.sigma, 5),
            }
            for row in one.built
        ],
        "causes": [
            {
                "what": cause.what,
                "axis": cause.axis,
                "by": round(cause.by, 3),
                "explains": round(cause.explains, 4),
                "say": str(cause_sentence(cause)),
            }
            for cause in one.causes
        ],
        "cannot_tell": [list(alike) for alike in one.cannot_tell],
        "tell": None if one.tell is None else str(one.tell),
        "ride": None
        if one.ride is None
        else {"travel": round(one.ride[0], 3), "sigma": round(one.ride[1], 3)},
        "moved": {name: [round(c, 3) for c in place] for name, place in one.moved.items()},
        "misread": [
            {
                "row": row.row,
                "unit": row.unit,
                "read": row.length,
                "others": round(row.others, 2),
                "alone": row.alone,
            }
            for row in one.misread
        ],
        "said": [str(words) for words in one.said],
    }


def _weigh(one: Weighed) -> Values:
    return {
        "record": one.record,
        "total": round(one.total, 3),
        "front_share": _rounded(one.front_share),
        "left_share": _rounded(one.left_share),
        "cross_share": _rounded(one.cross_share),
        "cg": None if one.cg is None else [round(c, 2) for c in one.cg],
        "cg_height": _rounded(one.cg_height, 1),
        "planned": one.planned,
        "set": [
            {
                "station": turn.station,
                "what": turn.what,
                "units": list(turn.subjects),
                "turns": _rounded(turn.turns, 3),
                "by": round(turn.by, 3),
                "way": str(turn.way),
                "left_after": _rounded(turn.left_after, 3),
                "learnt": round(turn.learnt, 4),
            }
            for turn in one.turns
        ],
        "after": None if one.after is None else stance_values(one.after),
        "said": [str(words) for words in one.said],
    }


def verdict(proof: Proof) -> tuple[str, Sentence]:
    """Return in one sentence whether it stands and moves as drawn, and the worst mark."""
    open_gates = [gate for gate in proof.gates if not gate.met]
    parts: list[str] = []
    told: dict[str, Quantity] = {}
    names: list[str] = []
    mark = "good" if not open_gates else "warning"
    worst = max(
        (one for one in proof.cycles if one.rms is not None), key=lambda one: one.rms or 0.0, default=None
    )
    if worst is not None and worst.rms is not None:
        names.append(worst.station)
        told["rms"] = length(worst.rms)
        parts.append("{0} is {rms} off its drawn curve on the whole")
        mark = "warning" if worst.causes or not worst.fits else mark
    odd = next((one for one in proof.cycles if one.misread), None)
    if odd is not None:
        rows = sorted({row.row for row in odd.misread})
        parts.append(
            f"{'row' if len(rows) == 1 else 'rows'} {' and '.join(map(str, rows))} of the cycle of {{{len(names)}}} "
            f"{'does' if len(rows) == 1 else 'do'} not fit the others"
        )
        names.append(odd.station)
        mark = "warning"
    if proof.weighs:
        last = proof.weighs[-1]
        turns = [turn for turn in last.turns if abs(turn.by) > SETTLED_MM]
        told["total"] = Quantity(last.total, "mass")
        parts.append(
            "it weighs {total}"
            + (f", {len(turns)} settings to turn" if turns else ", and nothing is left to turn")
        )
    if not parts:
        return "warning", Sentence(
            "Nothing is cycled or weighed yet: jack it with the springs out, and read it."
        )
    gates = (
        f"{len(open_gates)} {'gate' if len(open_gates) == 1 else 'gates'} open before it may be welded out"
        if open_gates
        else "every gate is met"
    )
    return mark, Sentence("; ".join([*parts, gates]) + ".", told, tuple(names))


def as_built(project: Values, proof: Proof, record: int | None = None) -> Values:
    """Return the document with the places that a cycle's most probable geometry has; raise KeyError where there is none.

    record : whose cycle; every station's last one if left out
    """
    moved: dict[str, dict[str, list[float]]] = {}
    for one in proof.cycles:
        if one.moved and record in (None, one.record):
            moved[one.station] = {name: [round(c, 3) for c in place] for name, place in one.moved.items()}
    if not moved:
        raise KeyError(record)
    stations = [
        {**station, "points": {**station["points"], **moved.get(station["name"], {})}}
        for station in project["stations"]
    ]
    return {**project, "stations": stations}
