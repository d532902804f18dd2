"""The worst that each joint, link and unit bears in any load case, and which case that is.

Thrust   along a hinge's own line goes into one of its two bushes: each is looked at as if it took all of it.
"""

from collections.abc import Iterable, Sequence
from functools import cached_property

import numpy as np

from engine.facts import facts
from engine.linkage.linkage import Linkage
from engine.linkage.pose import pose_of
from engine.linkage.vectors import Array
from engine.loads.cases import CaseAt, LoadCases, Loading, load_cases
from engine.loads.joints import Bent
from engine.station.solved import SolvedStation


@facts(kw_only=False)
class Most:
    """The most of something, and the case that it comes in."""

    value: float = 0.0
    case: str = ""

    def or_more(self, value: float, case: str) -> "Most":
        """Return the larger of both."""
        return Most(value, case) if value > self.value else self


@facts
class Peak:
    """What every part of a station has to bear: all cases, and the worst of each.

    joints  : the largest force on any body at each point, N
    pushes, pulls : the most that each two-point body is pushed and pulled, N
    bent    : the most of each link with eyes on it
    units   : the most that each pushes or pulls, N
    """

    loading: Loading
    linkage: Linkage
    found: LoadCases

    @property
    def cases(self) -> tuple[CaseAt, ...]:
        """Return every case."""
        return self.found.cases

    @cached_property
    def hinges(self) -> tuple[tuple[str, str, str], ...]:
        """Return every body that hangs on the chassis by two points: the body and both."""
        chassis = set(self.linkage.station.chassis)
        found = []
        for body, members in self.linkage.bodies.items():
            held = [point for point in members if point in chassis]
            if len(held) == 2 and len(members) > 2:
                found.append((body, held[0], held[1]))
        return tuple(found)

    def forces_at(self, point: str, body: str | None) -> Array:
        """Return the force on a body (None the chassis) at a point, case by case, (cases, 3) N; noughts where it has none."""
        found = np.zeros((len(self.cases), 3))
        for k, case in enumerate(self.cases):
            if (point, body) in case.slots:
                found[k] = case.forces[case.slots.index((point, body))]
        return found

    def bush_forces(self, point: str) -> Array:
        """Return the force on the chassis at a hinge's point, (cases, 3) N, with all of the hinge's thrust."""
        forces = self.forces_at(point, None)
        for _, one, other in self.hinges:
            if point in (one, other):
                both = self.forces_at(one, None) + self.forces_at(other, None)
                index = self.linkage.index
                ways = np.array([case.place[index[other]] - case.place[index[one]] for case in self.cases])
                ways /= np.linalg.norm(ways, axis=1, keepdims=True)
                own = np.einsum("ki,ki->k", forces, ways)[:, None] * ways
                taken: Array = forces - own + np.einsum("ki,ki->k", both, ways)[:, None] * ways
                return taken
        return forces

    def unit_forces(self, unit: str, at: str) -> Array:
        """Return the force of a unit on what carries one of its ends, case by case, (cases, 3) N."""
        ends = next(its.ends for its in self.linkage.station.units if its.name == unit)
        far = ends[1] if at == ends[0] else ends[0]
        index = self.linkage.index
        ways = np.array([case.place[index[at]] - case.place[index[far]] for case in self.cases]).reshape(
            -1, 3
        )
        ways /= np.linalg.norm(ways, axis=1, keepdims=True)
        pushes = np.array([case.units.get(unit, 0.0) for case in self.cases])
        found: Array = pushes[:, None] * ways
        return found

    def in_host(self, forces: Array, host: str) -> Array:
        """Return forces (cases, 3) N in the drawn axes of the body that they come to."""
        if host == "chassis" or not len(self.cases):
            return forces
        place = np.ascontiguousarray(np.array([case.place.T for case in self.cases]).transpose(1, 2, 0))
        turn = pose_of(self.linkage, host, place).turn
        own: Array = np.einsum("nji,nj->ni", turn, forces)
        return own

    @property
    def words(self) -> tuple[str, ...]:
        """Return each case's name, in the order of the forces."""
        return tuple(case.words for case in self.cases)

    @cached_property
    def joints(self) -> dict[str, Most]:
        """Return the largest force on any body at each point."""
        found: dict[str, Most] = {}
        for case in self.cases:
            sizes = np.linalg.norm(case.forces, axis=1)
            for (point, _), size in zip(case.slots, sizes, strict=True):
                found[point] = found.get(point, Most()).or_more(float(size), case.words)
        for _, one, other in self.hinges:
            for point in (one, other):
                for size, words in zip(
                    np.linalg.norm(self.bush_forces(point), axis=1), self.words, strict=True
                ):
                    found[point] = found.get(point, Most()).or_more(float(size), words)
        return found

    @cached_property
    def pushes(self) -> dict[str, Most]:
        """Return the greatest push in each two-point body."""
        return _most((case.words, {link: -pull for link, pull in case.links.items()}) for case in self.cases)

    @cached_property
    def pulls(self) -> dict[str, Most]:
        """Return the greatest pull in each two-point body."""
        return _most((case.words, case.links) for case in self.cases)

    @cached_property
    def units(self) -> dict[str, Most]:
        """Return the most that each unit pushes or pulls."""
        return _most(
            (case.words, {unit: abs(push) for unit, push in case.units.items()}) for case in self.cases
        )

    @cached_property
    def bent(self) -> dict[str, Bent]:
        """Return the most of each link with eyes on it."""
        found: dict[str, Bent] = {}
        for case in self.cases:
            for link, its in case.bent.items():
                found[link] = its.worst(found.get(link, Bent(0.0, 0.0, 0.0, 0.0)))
        return found

    @cached_property
    def bent_case(self) -> dict[str, str]:
        """Return the case in which each link with eyes on it is bent the most."""
        most = _most(
            (case.words, {link: its.moment for link, its in case.bent.items()}) for case in self.cases
        )
        return {link: its.case for link, its in most.items()}


def _most(told: Iterable[tuple[str, dict[str, float]]]) -> dict[str, Most]:
    found: dict[str, Most] = {}
    for words, values in told:
        for name, value in values.items():
            found[name] = found.get(name, Most()).or_more(value, words)
    return found


def sum_at(peak: Peak, points: Sequence[str]) -> Array:
    """Return the force on the chassis at some points together, case by case, (cases, 3) N."""
    total = np.zeros((len(peak.cases), 3))
    for point in points:
        total = total + peak.forces_at(point, None)
    return total


def peak_loads(solved: SolvedStation, loading: Loading) -> Peak | None:
    """Return the worst that comes to every joint; None where the linkage takes no position at which it stands."""
    found = load_cases(solved, loading)
    return Peak(loading=loading, linkage=solved.linkage, found=found) if found.cases else None
