"""The load cases that a joint has to bear: each a set of forces at the tyres, balanced on the whole linkage.

Static     the finished wheel's weight on the floor, N; forces at a tyre are multiples of it.
Contact    where the tyre stands: below the wheel's middle by the tyre's radius, on the body that carries the wheel. A brake
           on the wheel turns that body; drive, and brakes inboard, push at the wheel's middle. A live axle carries its own
           drive, so that it is turned by it as well: both are looked at.
Units      carry what balance asks in the proportion in which they push at that travel; on an axle what one wheel carries
           more than the other goes as the units' forces change when it articulates.
Ways       every force along the vehicle is taken forward and back, every one across left and right.
Open       a case that the linkage as drawn does not hold: told, and counted nowhere.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.facts import facts
from engine.linkage.grid import articulation_mm
from engine.linkage.vectors import Array
from engine.loads.joints import Bent, Equations, Slot, units_push
from engine.station.rows import Rows
from engine.station.solved import SolvedStation

BUMP_ROWS = 15  # loads change slowly over the travel, and are most at its ends
STANDS_SHARE = 0.02  # a wheel that the units press down by less than this share of its load hardly stands
ARTICULATE_MM = 4.0  # about the level position, for how units share what one wheel carries more
OPEN_SHARE = 0.01  # of what is put in: what is left unbalanced beyond this is held by nothing
USUAL_RADIUS_MM = 300.0
TRAVEL_STEPS = 40  # of the search for where the springs carry a wheel's load


@dataclass(frozen=True)
class WheelPush:
    """What the floor does to one wheel, in multiples of its static load: up, along the vehicle, across it."""

    up: float
    along: float = 0.0
    across: float = 0.0

    def times(self, factor: float) -> "WheelPush":
        """Return so many times as much."""
        return WheelPush(self.up * factor, self.along * factor, self.across * factor)


@dataclass(frozen=True, kw_only=True)
class Loading:
    """The cases that a shop builds for; multiples of a wheel's static load, `droop` of its unsprung weight."""

    bump: float = 3.0
    droop: float = 2.0
    brake_front: WheelPush = WheelPush(1.4, 1.2)
    brake_rear: WheelPush = WheelPush(0.9, 0.8)
    drive: WheelPush = WheelPush(1.2, 1.0)
    corner_outer: WheelPush = WheelPush(1.6, 0.0, 1.3)
    corner_inner: WheelPush = WheelPush(0.4, 0.0, 0.3)
    pothole: WheelPush = WheelPush(2.5, 1.5)


@facts
class Push:
    """One force of a case, N: at which wheel, at the contact or the wheel's middle."""

    wheel: int
    force: tuple[float, float, float]
    at_contact: bool


@facts
class CaseAt:
    """One case at one position of the linkage.

    name     : which: bump, droop, brake, drive, corner, pothole; `words` with which way round
    pushes   : at the wheels, N
    forces   : (slots, 3) N on each body at each of its joints; `slots` says which
    units    : what each unit pushes, N, apart positive; place : (points, 3) mm
    """

    name: str
    words: str
    travel: float
    articulation: float
    pushes: tuple[Push, ...]
    slots: tuple[Slot, ...]
    forces: Array
    units: dict[str, float]
    links: dict[str, float]
    bent: dict[str, Bent]
    place: Array


@facts
class _Stand:
    """A position: its place (points, 3) mm, what the units push there, and how that changes when it articulates, N."""

    travel: float
    articulation: float
    place: Array
    pushes: dict[str, float]
    tilts: dict[str, float] | None


@facts
class LoadCases:
    """Every case of one station, and those that nothing holds.

    contact_mm : from each wheel's middle down to its contact; `radius_known` whether the document says it
    """

    cases: tuple[CaseAt, ...]
    open: tuple[str, ...]
    contact_mm: tuple[float, ...]
    radius_known: bool


def load_cases(solved: SolvedStation, loading: Loading) -> LoadCases:
    """Return every joint's force in every case."""
    return _Finder(solved, loading).found()


class _Finder:
    def __init__(self, solved: SolvedStation, loading: Loading) -> None:
        self.solved, self.loading, self.station = solved, loading, solved.station
        mass = self.station.mass
        self.static = (mass.finished or mass.corner) * GRAVITY_M_PER_S2
        self.unsprung = mass.unsprung * GRAVITY_M_PER_S2
        self.linkage = solved.linkage
        self.wheels = self.station.wheels
        self.carriers = [self._carrier(wheel.centre) for wheel in self.wheels]
        self.down = tuple(
            wheel.tyre_radius or _radius_from(self.station.points[wheel.centre][2]) for wheel in self.wheels
        )
        self.outward = [1.0 if self.station.points[w.centre][1] >= 0 else -1.0 for w in self.wheels]
        self.is_axle = len(self.wheels) == 2
        self.articulates = self.linkage.articulation() is not None
        self.open: list[str] = []

    def _carrier(self, centre: str) -> str:
        its = [body for body, members in self.linkage.bodies.items() if centre in members]
        return max(its, key=lambda body: len(self.linkage.bodies[body]))

    def found(self) -> LoadCases:
        """Return all of them."""
        cases: list[CaseAt] = []
        taken = self.solved.taken
        if len(taken.travels):
            cases += self._bump(taken)
            cases += self._droop(taken)
            for name, words, travel, pushes in self._asked(taken):
                stand = self._stand(travel)
                if stand is not None:
                    cases += self._balanced(name, words, stand, [pushes])
            if self.is_axle:
                cases += self._axle_corner()
        return LoadCases(
            cases=tuple(cases),
            open=tuple(dict.fromkeys(self.open)),
            contact_mm=self.down,
            radius_known=all(wheel.tyre_radius for wheel in self.wheels),
        )

    def _bump(self, taken: Rows) -> Iterator[CaseAt]:
        """Yield the bump at every height where the wheel stands, to full bump and to where the stop is flat."""
        standing = np.flatnonzero(taken.wheel_force > STANDS_SHARE * self.static)
        picked = standing[np.linspace(0, len(standing) - 1, min(len(standing), BUMP_ROWS)).astype(int)]
        for row in picked:
            stand = self._stand_at(taken, int(row))
            up = max(self.loading.bump * self.static, float(taken.wheel_force[row]))
            yield from self._balanced("bump", "bump", stand, [self._both(0.0, 0.0, up)])
        flat = self._flat_stop(float(taken.travels[-1]))
        if flat is not None:
            rows = self.solved.at(np.array([flat]))
            if rows.solution.closed[0] and np.isfinite(rows.wheel_force[0]):
                up = max(self.loading.bump * self.static, float(rows.wheel_force[0]))
                stand = self._stand_at(rows, 0)
                yield from self._balanced("bump", "bump, stop flat", stand, [self._both(0.0, 0.0, up)])

    def _flat_stop(self, bump: float) -> float | None:
        """Return the travel at which a stop is flat, beyond the wanted bump and before anything else ends it."""
        ends = [one for one in self.solved.limits if one.direction == "bump" and one.travel >= bump]
        hard = [
            one
            for one in ends
            if one.kind in ("damper_compressed", "coil_solid", "linkage_reach", "bump_stop_solid")
        ]
        first = min(hard, key=lambda one: one.travel, default=None)
        return first.travel if first is not None and first.kind == "bump_stop_solid" else None

    def _droop(self, taken: Rows) -> Iterator[CaseAt]:
        """Yield full droop, where straps (or else the dampers) stop the unsprung mass."""
        row = int(np.argmin(taken.travels))
        stand = self._stand_at(taken, row)
        ratios = {name: float(trace.motion_ratio[row]) for name, trace in taken.units.items()}
        catching = [unit.name for unit in self.station.units if unit.kind == "strap"]
        catching = catching or [
            unit.name for unit in self.station.units if unit.kind in ("damper", "coilover")
        ]
        grip = sum(ratios[name] for name in catching)
        if not catching or abs(grip) < 1e-6:
            return
        wheels = len(self.wheels)
        springs = sum(
            ratios[name] * push for name, push in stand.pushes.items() if push > 0 and name not in catching
        )
        held = (springs + wheels * self.unsprung) / grip
        caught = self.loading.droop * wheels * self.unsprung / grip
        pushes = dict(stand.pushes)
        for name in catching:
            own = -stand.pushes[name]
            pushes[name] = -max(own, held, caught, 0.0)
        stand = replace(stand, pushes=pushes)
        yield from self._hanging("droop", "droop, caught", stand)

    def _hanging(self, name: str, words: str, stand: _Stand) -> Iterator[CaseAt]:
        """Yield a case whose units are known, each wheel pulling down as balance asks."""
        equations = Equations(self.linkage, stand.place)
        right = equations.right(units_push(self.solved, stand.pushes, stand.place))[:, None]
        free = [{wheel.centre: np.array([0.0, 0.0, 1.0])} for wheel in self.wheels]
        forces, much, left = equations.solve(right, free)
        if not self._holds(left[0], right[:, 0], words):
            return
        pushes = tuple(
            Push(wheel=k, force=(0.0, 0.0, float(much[k, 0])), at_contact=False)
            for k in range(len(self.wheels))
        )
        yield self._case(name, words, stand, pushes, equations, forces[:, :, 0], stand.pushes)

    def _asked(self, taken: Rows) -> Iterator[tuple[str, str, float, list[Push]]]:
        """Yield brake, drive, corner and pothole: name, which way round, travel, pushes."""
        loading, ride = self.loading, self._ride()
        low, high = float(taken.travels[0]), float(taken.travels[-1])
        ends = {"front": [loading.brake_front], "rear": [loading.brake_rear]}
        for push in ends.get(self.station.end or "", [loading.brake_front, loading.brake_rear]):
            at_contact = self.station.brakes == "wheel"
            for travel in dict.fromkeys((ride, self._carried_at(push.up, low, high))):
                for way, words in ((-1.0, "braking"), (1.0, "braking in reverse")):
                    yield "brake", words, travel, self._same(push, way, at_contact)
        if self._is_driven():
            for way, words in ((1.0, "driving"), (-1.0, "driving in reverse")):
                yield "drive", words, ride, self._same(loading.drive, way, at_contact=False)
                if self.is_axle:
                    yield (
                        "drive",
                        f"{words}, the axle wound up",
                        ride,
                        self._same(loading.drive, way, at_contact=True),
                    )
        half = min(max(self.station.travel.bump / 2, low), high)
        for way, words in ((-1.0, "pothole"), (1.0, "pothole in reverse")):
            yield "pothole", words, half, self._same(loading.pothole, way, at_contact=True)
            if self.is_axle:
                for k, wheel in enumerate(self.wheels):
                    one = self._pushes(k, loading.pothole, way, 0.0, at_contact=True)
                    other = self._pushes(1 - k, WheelPush(1.0), way, 0.0, at_contact=True)
                    yield "pothole", f"{words}, {wheel.name}", half, [*one, *other]
        if not self.is_axle:
            for push, which in ((loading.corner_outer, "outer"), (loading.corner_inner, "inner")):
                travel = self._carried_at(push.up, low, high)
                inward = self._pushes(0, push, 0.0, -self.outward[0], at_contact=True)
                yield "corner", f"cornering, {which} wheel", travel, inward
                if which == "inner":
                    # The inner wheel is pushed the same way as the outer one: away from its own side.
                    away = self._pushes(0, push, 0.0, self.outward[0], at_contact=True)
                    yield "corner", f"cornering, {which} wheel", travel, away

    def _axle_corner(self) -> Iterator[CaseAt]:
        """Yield an axle in a corner, each way round, rolled as its springs let it."""
        loading = self.loading
        half = (loading.corner_outer.up - loading.corner_inner.up) / 2 * self.static
        for way, words in ((1.0, "cornering to the left"), (-1.0, "cornering to the right")):
            pushes: list[Push] = []
            for k in range(2):
                push = loading.corner_outer if self.outward[k] * way < 0 else loading.corner_inner
                pushes += self._pushes(k, push, 0.0, way, at_contact=True)
            stand = self._rolled(-way * half * self.outward[0])
            if stand is not None:
                yield from self._balanced("corner", words, stand, [pushes])

    def _is_driven(self) -> bool:
        if self.station.driven is not None:
            return self.station.driven
        return bool(self.station.shafts) or self.station.end != "front"

    def _ride(self) -> float:
        ride = self.solved.ride
        if ride is not None:
            return ride.travel
        return self.solved.nearest_drawn or 0.0

    def _carried_at(self, up: float, low: float, high: float) -> float:
        """Return the travel at which the springs carry a wheel's load of so many times its static one, within the travel."""
        wanted = up * self.static - self.unsprung
        rows = self.solved.taken
        at = rows.wheel_force
        if at[0] >= wanted:
            return low
        over = np.flatnonzero(at >= wanted)
        if not len(over):
            return high
        k = int(over[0])
        a, b = float(rows.travels[k - 1]), float(rows.travels[k])
        share = (wanted - float(at[k - 1])) / max(float(at[k] - at[k - 1]), 1e-9)
        return a + share * (b - a)

    def _both(self, along: float, across: float, up: float) -> list[Push]:
        return [Push(wheel=k, force=(along, across, up), at_contact=True) for k in range(len(self.wheels))]

    def _same(self, push: WheelPush, way: float, at_contact: bool) -> list[Push]:
        """Return the same on every wheel, `way` +1 forward."""
        return [one for k in range(len(self.wheels)) for one in self._pushes(k, push, way, 0.0, at_contact)]

    def _pushes(self, wheel: int, push: WheelPush, way: float, left: float, at_contact: bool) -> list[Push]:
        """Return the pushes on a wheel; `left` +1 to the left. The floor's up and across always come to the contact."""
        s = self.static
        if at_contact:
            return [
                Push(
                    wheel=wheel,
                    force=(way * push.along * s, left * push.across * s, push.up * s),
                    at_contact=True,
                )
            ]
        return [
            Push(wheel=wheel, force=(0.0, left * push.across * s, push.up * s), at_contact=True),
            Push(wheel=wheel, force=(way * push.along * s, 0.0, 0.0), at_contact=False),
        ]

    def _stand(self, travel: float) -> _Stand | None:
        rows = self.solved.at(np.array([travel]))
        return self._stand_at(rows, 0) if rows.solution.closed[0] else None

    def _stand_at(self, rows: Rows, row: int) -> _Stand:
        travel = float(rows.travels[row])
        return _Stand(
            travel=travel,
            articulation=0.0,
            place=rows.solution.motion.place[:, :, row].T,
            pushes={name: float(trace.force[row]) for name, trace in rows.units.items()},
            tilts=self._tilts(travel),
        )

    def _tilts(self, heave: float) -> dict[str, float] | None:
        """Return how the units' forces change with articulation about a heave, N over ARTICULATE_MM each way."""
        if not self.is_axle:
            return None
        if self.articulates:
            rows = self.solved.across(np.array([-ARTICULATE_MM, ARTICULATE_MM]), heave)
            change = {name: float(trace.force[1] - trace.force[0]) for name, trace in rows.units.items()}
            if all(np.isfinite(value) for value in change.values()) and any(change.values()):
                return change
        # It cannot articulate as drawn: its bushes let the units of one side carry more than those of the other.
        return {law.name: self._side(law.ends) for law in self.solved.springing.laws if law.springs}

    def _side(self, ends: tuple[str, str]) -> float:
        y = sum(self.station.points[end][1] for end in ends)
        return float(np.sign(y)) * 1000.0 * self.outward[0]

    def _rolled(self, half: float) -> _Stand | None:
        """Return an axle articulated until its first wheel carries `half` N more than the mean, the other less."""
        heave = self._ride()
        level = self._stand(heave)
        if not self.articulates or level is None:
            return level
        most = articulation_mm(self.linkage)
        amounts = np.linspace(-most, most, 9)
        rows = self.solved.across(amounts, heave)
        closed = rows.solution.closed & np.isfinite(rows.wheel_force)
        if closed.sum() < 2:
            return level
        order = np.argsort(rows.wheel_force[closed])
        amount = float(np.interp(half, rows.wheel_force[closed][order], amounts[closed][order]))
        at = self.solved.across(np.array([amount]), heave)
        if not at.solution.closed[0]:
            return level
        return _Stand(
            travel=heave,
            articulation=amount,
            place=at.solution.motion.place[:, :, 0].T,
            pushes={name: float(trace.force[0]) for name, trace in at.units.items()},
            tilts=level.tilts,
        )

    def _balanced(
        self, name: str, words: str, stand: _Stand, asked: Sequence[list[Push]]
    ) -> Iterator[CaseAt]:
        """Yield cases at one position, the units pushing as balance asks."""
        equations = Equations(self.linkage, stand.place)
        carries = {unit: push for unit, push in stand.pushes.items() if push > 0}
        if not carries:
            carries = {
                law.name: 1.0 for law in self.solved.springing.laws if law.springs or law.gas is not None
            }
        patterns = [carries, *([stand.tilts] if stand.tilts else [])]
        patterns = [its for its in patterns if any(its.values())]
        free = [units_push(self.solved, its, stand.place) for its in patterns]
        pulls = {unit: push for unit, push in stand.pushes.items() if push < 0}
        rights = [self._right(equations, stand, pushes, pulls) for pushes in asked]
        forces, much, left = equations.solve(np.array(rights).T, free)
        for k, pushes in enumerate(asked):
            if not self._holds(left[k], rights[k], words):
                continue
            units = {unit: pulls.get(unit, 0.0) for unit in stand.pushes}
            for pattern, its in zip(patterns, much[:, k], strict=True):
                for unit, share in pattern.items():
                    units[unit] += share * float(its)
            yield self._case(name, words, stand, tuple(pushes), equations, forces[:, :, k], units)

    def _right(
        self, equations: Equations, stand: _Stand, pushes: Iterable[Push], pulls: dict[str, float]
    ) -> Array:
        carried = []
        for push in pushes:
            spot = stand.place[self.linkage.index[self.wheels[push.wheel].centre]].copy()
            if push.at_contact:
                spot[2] -= self.down[push.wheel]
            carried.append((self.carriers[push.wheel], spot, np.array(push.force)))
        return equations.right(units_push(self.solved, pulls, stand.place) if pulls else {}, carried)

    def _holds(self, left: float, right: Array, words: str) -> bool:
        holds = left <= OPEN_SHARE * max(float(np.abs(right).max()), 1.0)
        if not holds:
            self.open.append(words)
        return holds

    def _case(
        self,
        name: str,
        words: str,
        stand: _Stand,
        pushes: tuple[Push, ...],
        equations: Equations,
        forces: Array,
        units: dict[str, float],
    ) -> CaseAt:
        pushed = units_push(self.solved, units, stand.place)
        return CaseAt(
            name=name,
            words=words,
            travel=stand.travel,
            articulation=stand.articulation,
            pushes=pushes,
            slots=tuple(equations.slots),
            forces=forces,
            units=units,
            links=equations.links(forces),
            bent=equations.bent(self.station, forces, pushed),
            place=stand.place,
        )


def _radius_from(height: float) -> float:
    """Return a tyre's radius where the document says none: its middle's height above the floor as drawn, if it may be one."""
    return height if 150.0 <= height <= 700.0 else USUAL_RADIUS_MM
