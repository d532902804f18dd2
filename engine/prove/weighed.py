"""A weigh-in: what the scales say, and what to turn so that heights and cross weight come to what is wanted in one round.

As set    the setting at which the drawn model would stand as it was found, by its height and its scale: whatever else is
          not as drawn is taken up in it, so what is to be turned is a difference of two settings of one model.
Wanted    every wheel where its travel is wanted to stand; the cross weight at a half; the scales' own total and moments.
Learnt    what a turn really did between two weigh-ins, over what it should have done; the next list is divided by it.
Way       of the wishes the heights come first; where a setting cannot reach, or an axle has nothing to turn across, the
          cross weight gives way, and it is said by how much.
"""

import math

import numpy as np

from engine.document.fittings import PutIn
from engine.document.records import SettingRecord, WeighRecord
from engine.document.schema import Project, Station
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.prove.ways import way_of
from engine.ride.setting import Means, means_of, settings_for, with_setting
from engine.sentences import Quantity, Sentence, length
from engine.station.solved import SolvedStation, solve_again
from engine.vehicle.carried import raised_cg_mm
from engine.vehicle.stance import Stance, balanced, cross_share
from engine.vehicle.wheels import Vehicle, newtons

PERCH_MM_A_TURN = 2.0
ROD_MM_A_TURN = 3.5  # both ends of a rod that nothing is said of, of opposite hands
CROSS_WANTED = 0.5
LEAST_TURN = 0.3  # mm or a tenth of a bar: less teaches nothing
GAIN = (0.4, 2.5)
PLAN_SHARE = (0.7, 1.4)
SAME_MASS, MOST_CG_MM = 0.01, 3000.0
FORCED, AXLES, CROSS = 1e6, 1e4, 1e2  # how much each kind of wish weighs


@facts
class Turn:
    """One thing to turn: what, how many turns (None for pressure), from what by how much, and what is then left that way.

    way : which way that is, in words
    """

    station: str
    what: str
    subjects: tuple[str, ...]
    turns: float | None
    now: float
    by: float
    left_after: float | None
    learnt: float
    out_of_reach: float
    way: Sentence


@facts
class Weighed:
    """What a weigh-in comes to. cg mm; masses kg by wheel; shares of all; after : how it stands once all is turned."""

    record: int
    total: float
    front_share: float | None
    left_share: float | None
    cross_share: float | None
    cg: tuple[float, float] | None
    planned: dict[str, float]
    turns: tuple[Turn, ...]
    after: Stance | None
    as_set: dict[str, float]
    said: tuple[Sentence, ...]
    cg_height: float | None = None


def shares_of(vehicle: Vehicle, scales: dict[str, float]) -> tuple[float | None, float | None, float | None]:
    """Return the front's, the left's and the cross share; None where there is no front and rear, or no cross."""
    total = sum(scales.values())
    if total <= 0:
        return None, None, None
    ahead = [wheel.x for wheel in vehicle.wheels]
    middle = (min(ahead) + max(ahead)) / 2
    front = left = 0.0
    for wheel in vehicle.wheels:
        its = scales.get(wheel.key, 0.0)
        front += its if wheel.x > middle else 0.0
        left += its if wheel.y > 20 else its / 2 if abs(wheel.y) <= 20 else 0.0
    spread = max(ahead) - min(ahead) > 100
    return front / total if spread else None, left / total, cross_share(vehicle, scales)


def weighed(
    vehicle: Vehicle,
    number: int,
    record: WeighRecord,
    before: tuple[WeighRecord, Weighed] | None,
    between: list[SettingRecord],
    earlier: list[SettingRecord],
) -> Weighed:
    """Return a weigh-in worked out.

    before  : the weigh-in before it, and what was made of it
    between : what was turned between the two; earlier : everything that was ever turned before this one
    """
    apart = vehicle.apart()
    scales, said = _read(apart, record)
    total = sum(scales.values())
    planned = {wheel.key: wheel.mass for wheel in apart.wheels}
    plan = sum(planned.values()) + sum(one.mass for one in loaded_with(apart.project, record))
    if scales and plan > 0 and not PLAN_SHARE[0] <= total / plan <= PLAN_SHARE[1]:
        told = {"total": Quantity(total, "mass"), "plan": Quantity(plan, "mass")}
        words = "The scales add up to {total} and the plan says {plan}: is every wheel on its scale, and is the unit right?"
        said.append(Sentence(words, told))
    front, left, cross = shares_of(apart, scales)
    cg = None
    if total > 0 and len(scales) == len(apart.wheels):
        cg = tuple(sum(scales[w.key] * getattr(w, axis) for w in apart.wheels) / total for axis in ("x", "y"))
    turns: tuple[Turn, ...] = ()
    after: Stance | None = None
    as_set: dict[str, float] = {}
    cg_height = None
    if record.raised is not None:
        cg_height, more = _cg_height(apart, record, scales, before)
        said += more
    elif len(scales) == len(apart.wheels) and total > 0:
        turns, after, as_set, more = _set(apart, record, scales, before, between, earlier)
        said += more
    return Weighed(
        record=number,
        total=total,
        front_share=front,
        left_share=left,
        cross_share=cross,
        cg=None if cg is None else (cg[0], cg[1]),
        planned=planned,
        turns=turns,
        after=after,
        as_set=as_set,
        said=tuple(said),
        cg_height=cg_height,
    )


def loaded_with(project: Project, record: WeighRecord) -> list[PutIn]:
    """Return the masses of the load case that a weigh-in names, none where it names none of the job's."""
    return [
        one for case in project.loads if case.name == (record.loaded or "").strip() for one in case.masses
    ]


def _cg_height(
    vehicle: Vehicle,
    record: WeighRecord,
    scales: dict[str, float],
    before: tuple[WeighRecord, Weighed] | None,
) -> tuple[float | None, list[Sentence]]:
    """Return the height of the centre of gravity above the floor, mm, by the level weigh-in before; and what is wrong."""
    assert record.raised is not None
    if before is None or set(before[0].wheels) != set(scales) or len(scales) < len(vehicle.wheels):
        words = "Weigh it level first, every wheel; then raise one end and weigh it again: the two together say how high its centre of gravity is."
        return None, [Sentence(words)]
    level, raised = (
        np.array([its[wheel.key] for wheel in vehicle.wheels]) for its in (before[0].wheels, scales)
    )
    if abs(float(raised.sum() - level.sum())) > SAME_MASS * float(level.sum()):
        told = {
            "now": Quantity(float(raised.sum()), "mass"),
            "then": Quantity(float(level.sum()), "mass"),
        }
        words = "It weighs {now} raised and {then} level: the same things must be in it. Weigh both again."
        return None, [Sentence(words, told)]
    high = raised_cg_mm(vehicle, level, raised, record.raised.end, record.raised.by)
    if high is None:
        words = "The height of the centre of gravity is found on two axles, one raised by less than two thirds of the wheelbase."
        return None, [Sentence(words)]
    if not 0 < high < MOST_CG_MM:
        words = "That puts the centre of gravity {high} above the floor, which cannot be: are the springs locked, and was the right end raised?"
        return None, [Sentence(words, {"high": Quantity(high, "travel")})]
    words = "The centre of gravity of the whole vehicle is {high} above the floor."
    return high, [Sentence(words, {"high": length(high)})]


def _read(vehicle: Vehicle, record: WeighRecord) -> tuple[dict[str, float], list[Sentence]]:
    """Return the scales that can be, and what is said of those that cannot, and of those that are missing."""
    known = {wheel.key for wheel in vehicle.wheels}
    scales, said = {}, []
    for key, value in record.wheels.items():
        if key not in known:
            words = (
                "{0} is no wheel of this job; its wheels are "
                + ", ".join(f"{{{n}}}" for n in range(1, len(known) + 1))
                + "."
            )
            said.append(Sentence(words, names=(key, *sorted(known))))
        elif value < 0:
            said.append(
                Sentence(
                    "{0} weighs less than zero ({it}): zero the scale and read it again.",
                    {"it": Quantity(value, "mass")},
                    (key,),
                )
            )
        else:
            scales[key] = value
    missing = sorted(known - set(scales))
    if missing:
        words = (
            "Not weighed: "
            + ", ".join(f"{{{n}}}" for n in range(len(missing)))
            + ". Put every wheel on a scale; until then nothing is set."
        )
        said.append(Sentence(words, names=tuple(missing)))
    return scales, said


def found_travels(
    vehicle: Vehicle, record: WeighRecord, scales: dict[str, float]
) -> tuple[Array, list[Sentence]]:
    """Return where every wheel stood, (wheels,) mm of travel: by its own height, else by the body's as the others say it."""
    wheels = vehicle.wheels
    span = max(*(abs(wheel.x) for wheel in wheels), *(abs(wheel.y) for wheel in wheels), 1.0)
    rows, right, own, said = [], [], {}, []
    heights = dict(record.heights)
    for number, support in enumerate(vehicle.supports):
        station, its = support.solved.station, vehicle.of(number)
        key = station.name if station.kind == "axle" else wheels[its[0]].key
        height = heights.pop(key, None)
        if height is None:
            continue
        if station.datum is None:
            said.append(
                Sentence(
                    "{0} has no place that its height is measured at: say it on the Brief.",
                    names=(station.name,),
                )
            )
            continue
        travel = station.datum.height - height
        own[number] = travel
        at = np.mean([[1.0, -wheels[k].x / span, wheels[k].y / span] for k in its], axis=0)
        rows.append(at)
        right.append(-travel)
    for key in heights:
        said.append(Sentence("{0} is no station of this job; its height is left out.", names=(key,)))
    lift = np.array([[1.0, -wheel.x / span, wheel.y / span] for wheel in wheels])
    weight = np.array([newtons(scales[w.key] - w.unsprung) for w in wheels])
    x, y = (np.array([getattr(wheel, axis) for wheel in wheels]) for axis in ("x", "y"))
    model = balanced(vehicle, np.array([weight.sum(), weight @ x, weight @ y]))
    travels = np.array([model.travels[wheel.key] for wheel in wheels])
    if rows and np.linalg.matrix_rank(np.array(rows), tol=1e-3) == 3:
        body = np.linalg.lstsq(np.array(rows), np.array(right), rcond=None)[0]
        travels = -lift @ body
    elif not rows:
        said.append(
            Sentence(
                "No heights were read: what is to be turned takes them as the model has them. Measure them and it knows."
            )
        )
    for number, travel in own.items():
        its = vehicle.of(number)
        # An axle's height is its middle's; how far it leans is left as the others say it.
        travels[its] += travel - float(travels[its].mean())
    return travels, said


def _set(
    vehicle: Vehicle,
    record: WeighRecord,
    scales: dict[str, float],
    before: tuple[WeighRecord, Weighed] | None,
    between: list[SettingRecord],
    earlier: list[SettingRecord],
) -> tuple[tuple[Turn, ...], Stance | None, dict[str, float], list[Sentence]]:
    travels, said = found_travels(as_turned(vehicle, earlier), record, scales)
    wheels = vehicle.wheels
    force = np.array([newtons(scales[w.key] - w.unsprung) for w in wheels])
    wanted_travel = np.array([vehicle.supports[w.station].solved.station.travel.at or 0.0 for w in wheels])
    lift = np.array([[1.0, -wheel.x / 1000, wheel.y / 1000] for wheel in wheels])
    # A stiff body stands on a plane: wishes that do not lie in one are met as nearly as it can.
    body = np.linalg.lstsq(lift, -wanted_travel, rcond=None)[0]
    off = float(np.abs(wanted_travel + lift @ body).max())
    if off > 1.0:
        said.append(
            Sentence(
                "The heights wanted do not lie in one plane, by {off}: they are met as nearly as a stiff body can.",
                {"off": length(off)},
            )
        )
    wanted_travel = -lift @ body
    wanted_force = _wanted_forces(vehicle, scales, force, wanted_travel)
    turns, changed = [], vehicle
    as_set: dict[str, float] = {}
    for number, support in enumerate(vehicle.supports):
        its = vehicle.of(number)
        station = support.solved.station
        key = station.name if station.kind == "axle" else wheels[its[0]].key
        means = _means(support.solved)
        if means is None:
            said.append(Sentence("{0} has nothing that can be turned.", names=(key,)))
            continue
        barred = _by_bars(vehicle, travels), _by_bars(vehicle, wanted_travel)
        asked = [
            (float(travels[its].mean()), float((force - barred[0])[its].mean())),
            (float(wanted_travel[its].mean()), float((wanted_force - barred[1])[its].mean())),
        ]
        now, then = settings_for(support.solved, means, asked)
        if now is None or then is None:
            words = "Nothing that can be turned at {0} brings it there: look at its springs."
            said.append(Sentence(words, names=(key,)))
            continue
        as_set[key] = now
        gain = _gain(key, means, now, before, between)
        by = (then - now) / gain
        real = _last_set(key, means, earlier)
        by, short, left = _within(means, real, by)
        if abs(short) > 1e-6:
            told = (
                {"short": length(abs(short))}
                if means.by != "pressure"
                else {"short": Quantity(abs(short), "pressure")}
            )
            said.append(
                Sentence(
                    "{0} cannot be turned far enough: {short} are missing, and its height gives way.",
                    told,
                    (key,),
                )
            )
        a_turn = turn_mm(support.solved.station, means)
        turns.append(
            Turn(
                station=key,
                what={"rod": "pushrod"}.get(means.by, means.by),
                subjects=means.subjects,
                turns=None if a_turn is None else by / a_turn,
                now=real,
                by=by,
                left_after=left,
                learnt=gain,
                out_of_reach=short,
                way=way_of(station, means, by),
            )
        )
        setting = now + by * gain
        changed = changed.with_support(
            number, solve_again(support.solved, with_setting(station, means, setting))
        )
    x, y = (np.array([getattr(wheel, axis) for wheel in wheels]) for axis in ("x", "y"))
    after = balanced(changed, np.array([force.sum(), force @ x, force @ y]))
    if after.cross is not None and abs(after.cross - CROSS_WANTED) > 0.005:
        told = {"cross": Quantity(after.cross, "share")}
        said.append(
            Sentence(
                "The cross weight comes to {cross}: nothing more can be turned across, so it gives way to the heights.",
                told,
            )
        )
    return tuple(turns), after, as_set, said


def as_turned(vehicle: Vehicle, earlier: list[SettingRecord]) -> Vehicle:
    """Return the vehicle with everything set as it was last turned: where nothing was measured, it stands as that says."""
    found = vehicle
    for number, support in enumerate(vehicle.supports):
        station, its = support.solved.station, vehicle.of(number)
        key = station.name if station.kind == "axle" else vehicle.wheels[its[0]].key
        means = _means(support.solved)
        if means is None:
            continue
        last = _last_set(key, means, earlier)
        if abs(last - means.now) > 1e-6:
            found = found.with_support(
                number, solve_again(support.solved, with_setting(station, means, last))
            )
    return found


def _wanted_forces(vehicle: Vehicle, scales: dict[str, float], force: Array, travels: Array) -> Array:
    """Return what each wheel's springs must push: the body's own weight, axles as they lean, the cross as wanted."""
    wheels, count = vehicle.wheels, len(vehicle.wheels)
    rows, right = [], []
    for values in (
        np.ones(count),
        np.array([w.x for w in wheels]) / 1000,
        np.array([w.y for w in wheels]) / 1000,
    ):
        rows.append(FORCED * values)
        right.append(FORCED * float(values @ force))
    for number, support in enumerate(vehicle.supports):
        its = vehicle.of(number)
        if support.solved.station.kind == "axle":
            level, stiff = support.across
            half = level + (stiff + support.bar) * float(travels[its[0]] - travels[its[1]]) / 2
            row = np.zeros(count)
            row[its] = AXLES * np.array([1.0, -1.0])
            rows.append(row)
            right.append(AXLES * 2 * half)
    middle = (min(w.x for w in wheels) + max(w.x for w in wheels)) / 2
    if cross_share(vehicle, scales) is not None:
        across = np.array([1.0 if (w.x > middle) == (w.y > 0) else 0.0 for w in wheels])
        unsprung = sum(newtons(w.unsprung) for w, its in zip(wheels, across, strict=True) if its)
        rows.append(CROSS * across)
        right.append(CROSS * (CROSS_WANTED * newtons(sum(scales.values())) - unsprung))
    rows += list(np.eye(count))
    right += list(force)
    found: Array = np.linalg.lstsq(np.array(rows), np.array(right), rcond=None)[0]
    return found


def _by_bars(vehicle: Vehicle, travels: Array) -> Array:
    """Return what anti-roll bars between corners push at each wheel, N."""
    found = np.zeros(len(vehicle.wheels))
    for k, n, rate in vehicle.pairs:
        push = rate * float(travels[k] - travels[n]) / 2
        found[k] += push
        found[n] -= push
    return found


def _means(solved: SolvedStation) -> Means | None:
    """Return what a station is set by: as it says, else the first way there is."""
    every = means_of(solved)
    said = solved.station.adjusting
    return next((one for one in every if said is not None and one.by == said.by), every[0] if every else None)


def turn_mm(station: Station, means: Means) -> float | None:
    """Return mm that one turn makes; None where nothing is turned."""
    if means.by == "perch":
        return PERCH_MM_A_TURN
    if means.by != "rod":
        return None
    made = [station.rods[name] for name in means.subjects if name in station.rods]
    if not made:
        return ROD_MM_A_TURN
    rod = made[0]
    return 2 * rod.pitch if rod.hands[0] != rod.hands[1] else None


def _applied(key: str, means: Means, settings: list[SettingRecord]) -> float:
    """Return what was turned at a wheel between two weigh-ins, mm or bar."""
    total = 0.0
    for one in settings:
        if one.station == key and one.what in _names(means) and one.was is not None and one.to is not None:
            total += one.to - one.was
    return total


def _names(means: Means) -> tuple[str, ...]:
    return {"rod": ("pushrod", "rod")}.get(means.by, (means.by,))


def _gain(
    key: str,
    means: Means,
    now: float,
    before: tuple[WeighRecord, Weighed] | None,
    settings: list[SettingRecord],
) -> float:
    """Return what a turn really did over what it should have done; 1 where nothing is known."""
    if before is None:
        return 1.0
    earlier = next((turn.learnt for turn in before[1].turns if turn.station == key), 1.0)
    then, applied = before[1].as_set.get(key), _applied(key, means, settings)
    least = LEAST_TURN if means.by != "pressure" else LEAST_TURN / 3
    if then is None or abs(applied) < least:
        return earlier
    gain = (now - then) / applied
    return gain if GAIN[0] <= gain <= GAIN[1] else earlier


def _last_set(key: str, means: Means, settings: list[SettingRecord]) -> float:
    """Return what a wheel is set to by the records, else as the document has it."""
    last = [
        one.to for one in settings if one.station == key and one.what in _names(means) and one.to is not None
    ]
    return last[-1] if last else means.now


def _within(means: Means, real: float, by: float) -> tuple[float, float, float | None]:
    """Return how far it can be turned, what is missing, and what is then left that way; None where nobody says."""
    if means.least is None or means.most is None:
        return by, 0.0, None
    target = min(max(real + by, means.least), means.most)
    can = target - real
    left = means.most - target if by >= 0 else target - means.least
    return can, by - can, left if math.isfinite(left) else None
