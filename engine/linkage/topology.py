"""What hangs on what: a station's bodies turned into unknowns and equations.

Fixed point    on the chassis, or on a body that the chassis holds altogether.
Turn           a rigid body hinged to the chassis by two fixed points: one unknown, its angle.
Free point     a point whose three co-ordinates are unknown.
Triad          three points of a rigid body that carry its other points with them.
Line           the same for a body whose points all lie on one line; it has no spin.
Ghost          a second copy of a point that two bodies both carry; the copies must coincide.
Slide          keeps a point on the line through two points of a body, as a strut's top mount is.
Hold           keeps a body that is held at two joints only from spinning about the line through them.

Every condition of the system is a distance, a coincidence, a hold, a slide or a driver (the height of a wheel).
"""

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from engine.document.schema import Station
from engine.linkage.equations import Coincide, Distance, Equation, Hold, Slide
from engine.linkage.vectors import Array, cross, dot

COLLINEAR_SHARE = 1e-6  # height over length below which three points are one line
FAIR_TRIANGLE_SHARE = 0.05  # a triad this much thinner than the best is not worth its saved unknowns


@dataclass(frozen=True, kw_only=True)
class Turn:
    """A body on a chassis hinge. `members` are the points (ghosts too) that it carries."""

    body: str
    origin: int
    tip: int
    members: tuple[int, ...]


@dataclass(frozen=True)
class Carrier:
    """A body carried by three points (`basis`), or by two if its points lie on one line."""

    body: str
    basis: tuple[int, ...]
    members: tuple[int, ...]


@dataclass(frozen=True, kw_only=True)
class Topology:
    """Points, unknowns and equations of one station, without any lengths.

    names      point names; ghosts follow the real points, named as the point they copy
    source     for each entry of names, the real point it copies (itself for real points)
    fixed      indices of points that never move
    turns      one unknown angle each
    free       points with three unknowns each
    carriers   in the order in which their members can be worked out
    equations  without drivers
    wheels     the wheel centres, in the file's order
    gives      links of an over-constrained axle whose bushings share what does not fit
    """

    names: tuple[str, ...]
    source: tuple[int, ...]
    fixed: frozenset[int]
    turns: tuple[Turn, ...]
    free: tuple[int, ...]
    carriers: tuple[Carrier, ...]
    equations: tuple[Equation, ...]
    wheels: tuple[int, ...]
    gives: tuple[Distance, ...] = ()

    @property
    def unknowns(self) -> int:
        """Number of scalar unknowns: the turns first, then three for each free point."""
        return len(self.turns) + 3 * len(self.free)


def topology_of(station: Station) -> Topology:
    """Return the unknowns and equations of a checked station."""
    return _Builder(station).build()


def _triangle_shares(a: Array, b: Array, c: Array) -> Array:
    """Return triangles' least height over their longest side, (n,), of corners (n, 3): 0 flat, 0.87 equilateral."""
    ab, ac, bc = (b - a).T, (c - a).T, (c - b).T
    longest = np.maximum(np.maximum(dot(ab, ab), dot(ac, ac)), dot(bc, bc))
    normal = cross(ab, ac)
    return np.asarray(np.sqrt(dot(normal, normal)) / np.where(longest > 0, longest, 1.0))


class _Builder:
    """Works the topology out step by step; holds what is owned so far."""

    def __init__(self, station: Station) -> None:
        self.station = station
        self.names = list(station.points)
        self.index = {name: number for number, name in enumerate(self.names)}
        self.source = list(range(len(self.names)))
        self.drawn = np.array([station.points[name] for name in self.names], dtype=float)
        self.wheels = tuple(self.index[wheel.centre] for wheel in station.wheels)
        everything = {
            body: [self.index[name] for name in members] for body, members in station.bodies.items()
        }
        self.links = {body: members for body, members in everything.items() if len(members) == 2}
        self.rigid = _merged({b: m for b, m in everything.items() if len(m) > 2}, self._flat)
        self.fixed = {self.index[name] for name in station.chassis}
        self.used = self._used()
        self.owned: set[int] = set()
        self.free: list[int] = []
        self.turns: list[Turn] = []
        self.carriers: list[Carrier] = []
        self.equations: list[Equation] = []
        self.paired: set[frozenset[int]] = set()

    def build(self) -> Topology:
        """Take the bodies in the order in which they can be worked out."""
        waiting = self._without_fixed_bodies()
        for body in [b for b, members in waiting.items() if self._fixed_in(members) >= 2]:
            self._add_turn(body, waiting.pop(body))
        while waiting:
            body = max(waiting, key=lambda b: len((self.owned | self.fixed) & set(waiting[b])))
            self._add_carrier(body, waiting.pop(body))
        for body, (i, j) in self.links.items():
            self._add_link(body, i, j)
        for slider in self.station.sliders.values():
            self._add_slide(slider.body, slider.line, slider.through)
        return Topology(
            names=tuple(self.names),
            source=tuple(self.source),
            fixed=frozenset(self.fixed),
            turns=tuple(self.turns),
            free=tuple(self.free),
            carriers=tuple(self.carriers),
            equations=tuple(self.equations),
            wheels=self.wheels,
        )

    def _flat(self, members: list[int]) -> bool:
        """Return whether the points lie on one line."""
        arms = (self.drawn[members] - self.drawn[members[0]]).T
        axis = arms[:, int(dot(arms, arms).argmax())]
        heights = cross(arms, axis[:, None])
        return bool(np.abs(heights).max() <= COLLINEAR_SHARE * float(axis @ axis))

    def _used(self) -> set[int]:
        """Return the points on more than one body, and the wheel centres."""
        count: dict[int, int] = {}
        for members in [*self.links.values(), *self.rigid.values()]:
            for point in members:
                count[point] = count.get(point, 0) + 1
        slid = {
            self.index[name]
            for slider in self.station.sliders.values()
            for name in (*slider.line, slider.through)
        }
        return {point for point, times in count.items() if times > 1} | set(self.wheels) | slid

    def _fixed_in(self, members: list[int]) -> int:
        return len(self.fixed & set(members))

    def _without_fixed_bodies(self) -> dict[str, list[int]]:
        """Fix every body that the chassis holds altogether, and return the others."""
        waiting = dict(self.rigid)
        while True:
            held = [
                body
                for body, members in waiting.items()
                if self._fixed_in(members) >= 2
                and (self._flat(members) or not self._flat([p for p in members if p in self.fixed]))
            ]
            if not held:
                return waiting
            for body in held:
                self.fixed |= set(waiting.pop(body))

    def _claimed(self, body: str, point: int) -> int:
        """Return the point if it is still unowned, or a ghost of it tied to it by an equation."""
        if point not in self.owned and point not in self.fixed:
            self.owned.add(point)
            return point
        ghost = len(self.names)
        self.names.append(self.names[point])
        self.source.append(point)
        self.equations.append(Coincide(body=body, point=point, ghost=ghost))
        return ghost

    def _add_turn(self, body: str, members: list[int]) -> None:
        hinge = [point for point in members if point in self.fixed]
        one, other = max(combinations(hinge, 2), key=lambda pair: self._apart(*pair))
        carried = [self._claimed(body, point) for point in members if point not in self.fixed]
        self.turns.append(Turn(body=body, origin=one, tip=other, members=tuple(carried)))
        self._note_pairs(members)

    def _add_carrier(self, body: str, members: list[int]) -> None:
        basis = self._line_basis(members) if self._flat(members) else self._triad(members)
        for point in basis:
            if point not in self.owned and point not in self.fixed:
                self.owned.add(point)
                self.free.append(point)
        for i, j in combinations(basis, 2):
            if frozenset((i, j)) not in self.paired and not {i, j} <= self.fixed:
                self.equations.append(Distance(body=body, i=i, j=j))
        self._note_pairs(members)
        self._hold_spin(body, members, basis)
        carried = [self._claimed(body, point) for point in members if point not in basis]
        self.carriers.append(Carrier(body, basis, tuple(carried)))

    def _hold_spin(self, body: str, members: list[int], basis: tuple[int, ...]) -> None:
        """A body with two joints and no wheel would spin idly: hold it as drawn."""
        joints = [point for point in members if point in self.used or point in self.fixed]
        if len(basis) == 3 and len(joints) == 2 and not set(members) & set(self.wheels):
            a, b = joints
            others = [point for point in members if point not in joints]
            one, other = (np.broadcast_to(self.drawn[joint], (len(others), 3)) for joint in joints)
            c = others[int(_triangle_shares(one, other, self.drawn[others]).argmax())]
            self.equations.append(Hold(body=body, a=a, b=b, c=c))

    def _add_link(self, body: str, i: int, j: int) -> None:
        for point in (i, j):
            if point not in self.owned and point not in self.fixed:
                self.owned.add(point)
                self.free.append(point)
        if not {i, j} <= self.fixed:
            self.equations.append(Distance(body=body, i=i, j=j, link=body))

    def _add_slide(self, body: str, line: list[str], through: str) -> None:
        a, b, c = (self.index[name] for name in (*line, through))
        axis = np.abs(self.drawn[b] - self.drawn[a])
        # Along the line's main direction the third component says nothing that the others do not.
        kept = tuple(k for k in range(3) if k != int(axis.argmax()))
        self.equations.append(Slide(body=body, a=a, b=b, c=c, kept=(kept[0], kept[1])))

    def _note_pairs(self, members: list[int]) -> None:
        self.paired |= {frozenset(pair) for pair in combinations(members, 2)}

    def _apart(self, i: int, j: int) -> float:
        return math.dist(self.drawn[i], self.drawn[j])

    def _line_basis(self, members: list[int]) -> tuple[int, int]:
        longest = max(self._apart(i, j) for i, j in combinations(members, 2))
        fair = [pair for pair in combinations(members, 2) if self._apart(*pair) > 0.3 * longest]
        known = self.owned | self.fixed
        return max(fair, key=lambda pair: (len(known & set(pair)), self._apart(*pair)))

    def _triad(self, members: list[int]) -> tuple[int, ...]:
        """Choose three points: known ones first as long as the triangle stays fair, then joints."""
        known = self.owned | self.fixed
        ranked = sorted(members, key=lambda p: (p not in known, p not in self.used))[:12]
        if self._flat(ranked):
            ranked = members
        joints = {point for point in members if point in self.used or point in self.fixed}
        best: dict[int, tuple[float, tuple[int, ...]]] = {}
        trios = list(combinations(ranked, 3))
        shares = _triangle_shares(*(self.drawn[[trio[k] for trio in trios]] for k in range(3)))
        for trio, share in zip(trios, shares.tolist(), strict=True):
            score = share * 0.5 ** sum(point not in joints for point in trio)
            count = len(known.intersection(trio))
            if share > COLLINEAR_SHARE and score > best.get(count, (0.0, ()))[0]:
                best[count] = (score, trio)
        top = max(score for score, _ in best.values())
        fair = [count for count, (score, _) in best.items() if score >= FAIR_TRIANGLE_SHARE * top]
        return best[max(fair)][1]


def _merged(rigid: dict[str, list[int]], flat: Callable[[list[int]], bool]) -> dict[str, list[int]]:
    """Join bodies that share three points off one line: they are one body under two names."""
    merged: dict[str, list[int]] = {}
    for body, members in rigid.items():
        host = next(
            (
                name
                for name, held in merged.items()
                if len(set(held) & set(members)) >= 3 and not flat(sorted(set(held) & set(members)))
            ),
            None,
        )
        if host is None:
            merged[body] = list(members)
        else:
            merged[host] += [point for point in members if point not in merged[host]]
    return merged
