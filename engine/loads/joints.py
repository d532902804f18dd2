"""The force at every joint and mount, from the equilibrium of each body on its own.

Unknown  at each joint, the force on each body that meets there and on the chassis: three components.
Rows     every body's forces and moments balance; at every joint the forces on what meets there add up to
         what a unit or wheel puts in. A wheel pushes straight up at its centre with what the units carry.
Shared   a hinge of two points cannot say how it shares the thrust along its own line; the least-squares
         solution of least size shares it evenly, as equal bushes would.

Gravity on the parts themselves is left out. Static equilibrium (Newton); checked against virtual work.
"""

from collections.abc import Iterable, Mapping, Sequence

import numpy as np

from engine.document.links import link_ends
from engine.document.schema import Slider, Station
from engine.facts import facts
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array
from engine.station.rows import Rows
from engine.station.solved import SolvedStation

MOMENT_ARM_MM = 100.0
FREE_WEIGHT = 100.0  # of a column whose size costs nothing beside the joints' forces
RANK_SHARE = 1e-10


@facts(kw_only=False)
class JointForce:
    """The force on one body at one joint, N (x forward, y left, z up); on the chassis for body None."""

    point: str
    body: str | None
    force: tuple[float, float, float]

    @property
    def size(self) -> float:
        """Return the force's magnitude, N."""
        return float(np.linalg.norm(self.force))


@facts(kw_only=False)
class Bent:
    """The most that a link with eyes on it bears: push and pull along it, and across it at an end, N; bending, N·mm."""

    push: float
    pull: float
    across: float
    moment: float

    def worst(self, other: "Bent") -> "Bent":
        """Return the most of both."""
        pairs = zip(vars(self).values(), vars(other).values(), strict=True)
        return Bent(*(max(one, its) for one, its in pairs))

    def times(self, scale: float) -> "Bent":
        """Return the same at so many times the load."""
        return Bent(*(value * scale for value in vars(self).values()))


@facts
class Loads:
    """Forces at one position: joints, and the pull (positive) or push in each two-point body, N; links with eyes are bent."""

    travel: float
    wheel_force: float
    joints: tuple[JointForce, ...]
    links: dict[str, float]
    bent: dict[str, Bent]
    units: dict[str, float]


def loads_at(solved: SolvedStation, rows: Rows, row: int = 0) -> Loads:
    """Return every joint's force at one solved row."""
    place = rows.solution.motion.place[:, :, row].T
    pushes = {name: float(trace.force[row]) for name, trace in rows.units.items()}
    equations = Equations(solved.linkage, place)
    pushed, wheels = _pushed(solved, rows, row, place)
    forces = equations.solve(equations.right(pushed)[:, None], wheels)[0][:, :, 0]
    joints = tuple(
        JointForce(point, body, (float(f[0]), float(f[1]), float(f[2])))
        for (point, body), f in zip(equations.slots, forces, strict=True)
    )
    return Loads(
        travel=float(rows.travels[row]),
        wheel_force=float(rows.wheel_force[row]),
        joints=joints,
        links=equations.links(forces),
        bent=equations.bent(solved.station, forces, pushed),
        units=pushes,
    )


def _pushed(
    solved: SolvedStation, rows: Rows, row: int, place: Array
) -> tuple[dict[str, Array], list[dict[str, Array]]]:
    """Return the force that units and wheels put into each point, N, and what of it is still free: see `_wheel_forces`."""
    pushes = {name: float(trace.force[row]) for name, trace in rows.units.items()}
    pushed = units_push(solved, pushes, place)
    forces, half_free = _wheel_forces(solved, rows, row)
    # The units push the wheel down with this much; the floor pushes it up.
    for wheel, force in zip(solved.station.wheels, forces, strict=True):
        add_to(pushed, wheel.centre, np.array([0.0, 0.0, force]))
    if not half_free:
        return pushed, []
    one, other = solved.station.wheels
    return pushed, [{one.centre: np.array([0.0, 0.0, 1.0]), other.centre: np.array([0.0, 0.0, -1.0])}]


def units_push(solved: SolvedStation, pushes: Mapping[str, float], place: Array) -> dict[str, Array]:
    """Return the force that units put into each of their ends, N; `pushes` by name, apart positive; place (points, 3)."""
    index = solved.linkage.index
    pushed: dict[str, Array] = {}
    for law in solved.springing.laws:
        one, other = law.ends
        axis = place[index[one]] - place[index[other]]
        push = axis / np.linalg.norm(axis) * pushes.get(law.name, 0.0)
        add_to(pushed, one, push)
        add_to(pushed, other, -push)
    return pushed


def add_to(pushed: dict[str, Array], point: str, force: Array) -> None:
    """Add a force (3,) N to what is put in at a point."""
    pushed[point] = pushed.get(point, np.zeros(3)) + force


def _wheel_forces(solved: SolvedStation, rows: Rows, row: int) -> tuple[list[float], bool]:
    """Return each wheel's own force, and whether the difference between both is still free.

    An axle on too many links cannot articulate, so that virtual work does not tell its wheels apart: they then stand so
    that the least is left for the links to hold, as their bushes let them.
    """
    linkage, mean = solved.linkage, float(rows.wheel_force[row])
    if linkage.articulation() is None:
        return [mean] * len(solved.station.wheels), len(solved.station.wheels) == 2
    half = float(solved.across(np.array([0.0]), float(rows.travels[row])).wheel_force[0])
    return ([mean + half, mean - half], False) if np.isfinite(half) else ([mean, mean], True)


Slot = tuple[str, str | None]


def _slots(linkage: Linkage) -> list[Slot]:
    """Return every (point, body) at which something meets something else; None is the chassis."""
    chassis = set(linkage.station.chassis)
    sliders = list(linkage.station.sliders.values())
    found: list[Slot] = []
    for point in linkage.index:
        its: list[Slot] = [(point, body) for body, members in linkage.bodies.items() if point in members]
        its += [(point, _sliding(slider.body)) for slider in sliders if slider.through == point]
        if point in chassis:
            its.append((point, None))
        if len(its) > 1:
            found += its
    return found


def _sliding(body: str) -> str:
    """Return the name under which a sliding body is pushed by what it slides through."""
    return f"{body} (sliding)"


class Equations:
    """The equilibrium of every body at one position: asked for the joints' forces under whatever is put in.

    slots : (point, body) of every joint's force, in the order in which solutions hold them
    """

    def __init__(self, linkage: Linkage, place: Array) -> None:
        """Take a linkage and its places, (points, 3) mm."""
        self.linkage, self.place = linkage, place
        self.slots = _slots(linkage)
        self.number = {slot: k for k, slot in enumerate(self.slots)}
        self.points = list(dict.fromkeys(point for point, _ in self.slots))
        self.row_of: dict[str, int] = {}
        self.matrix = self._matrix()

    def _matrix(self) -> Array:
        linkage, place, number = self.linkage, self.place, self.number
        rows: list[Array] = []
        for point in self.points:
            # At a pin the forces on the bodies that meet there add up to what is put in from outside.
            its = [k for (p, _), k in number.items() if p == point]
            for axis in range(3):
                line = np.zeros(3 * len(number))
                line[[3 * k + axis for k in its]] = 1.0
                rows.append(line)
        for body, members in linkage.bodies.items():
            origin = place[linkage.index[members[0]]]
            lines = np.zeros((6, 3 * len(number)))
            for point in members:
                if (point, body) in number:
                    k = number[point, body]
                    lines[:3, 3 * k : 3 * k + 3] = np.eye(3)
                    lines[3:, 3 * k : 3 * k + 3] = _lever(place[linkage.index[point]] - origin)
            for slider in linkage.station.sliders.values():
                if slider.body == body:
                    k = number[slider.through, _sliding(body)]
                    rows.append(_slider_lines(linkage, place, slider, k, lines, origin))
            self.row_of[body] = len(rows)
            rows += list(lines)
        return np.array(rows)

    def right(self, pushed: Mapping[str, Array], carried: Iterable[tuple[str, Array, Array]] = ()) -> Array:
        """Return the right side, (rows,), of what is put in.

        pushed  : force (3,) N at points, by name
        carried : body, place (3,) mm and force (3,) N of what pushes on a body somewhere else
        """
        linkage, place = self.linkage, self.place
        right = np.zeros(len(self.matrix))
        joints = set(self.points)
        for k, point in enumerate(self.points):
            if point in pushed:
                right[3 * k : 3 * k + 3] = pushed[point]
        on = [
            (body, place[linkage.index[point]], force)
            for point, force in pushed.items()
            if point not in joints
            for body, members in linkage.bodies.items()
            if point in members
        ]
        for body, spot, force in [*on, *carried]:
            row = self.row_of[body]
            right[row : row + 3] -= force
            right[row + 3 : row + 6] -= _lever(spot - place[linkage.index[linkage.bodies[body][0]]]) @ force
        return right

    def solve(self, right: Array, free: Sequence[Mapping[str, Array]] = ()) -> tuple[Array, Array, Array]:
        """Return the joints' forces (slots, 3, cases) N, how much of each free push (free, cases), what is left (cases,) N.

        right : (rows, cases); free : pushes at points whose size follows from balance. What nothing tells is shared so
        that the sum of squares of the joints' forces is least.
        """
        columns = [self.matrix]
        sizes = []
        for pattern in free:
            line = -self.right(pattern)
            sizes.append(FREE_WEIGHT / max(float(np.linalg.norm(line)), 1e-12))
            columns.append((line * sizes[-1])[:, None])
        whole = np.hstack(columns)
        found = np.asarray(np.linalg.lstsq(whole, right, rcond=RANK_SHARE)[0])
        left = np.abs(whole @ found - right).max(axis=0)
        count = 3 * len(self.slots)
        much = found[count:] * np.array(sizes).reshape(-1, 1)
        return found[:count].reshape(len(self.slots), 3, -1), much, left

    def links(self, forces: Array) -> dict[str, float]:
        """Return the pull in each two-point body, N; forces (slots, 3)."""
        return {
            body: _tension(self.linkage, self.place, body, self.slots, forces)
            for body, members in self.linkage.bodies.items()
            if len(members) == 2
        }

    def bent(self, station: Station, forces: Array, pushed: Mapping[str, Array]) -> dict[str, Bent]:
        """Return what bends each link with eyes on it; forces (slots, 3), `pushed` at points, N."""
        known = dict(zip(self.slots, forces, strict=True))
        return {
            body: _bent(self.linkage, self.place, body, ends, known, pushed)
            for body, members in self.linkage.bodies.items()
            if len(members) > 2 and (ends := link_ends(station, body)) is not None
        }


def _slider_lines(
    linkage: Linkage, place: Array, slider: Slider, slot: int, lines: Array, origin: Array
) -> Array:
    """Add a slider's push to its body's balance, and return the row that keeps it square to the line."""
    axis = place[linkage.index[slider.line[1]]] - place[linkage.index[slider.line[0]]]
    columns = slice(3 * slot, 3 * slot + 3)
    lines[:3, columns] = np.eye(3)
    lines[3:, columns] = _lever(place[linkage.index[slider.through]] - origin)
    along = np.zeros(lines.shape[1])
    along[columns] = axis / np.linalg.norm(axis)
    return along


def _lever(arm: Array) -> Array:
    """Return the matrix of arm × ·, in units of MOMENT_ARM_MM so that moments weigh like forces."""
    x, y, z = arm / MOMENT_ARM_MM
    return np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])


def _tension(linkage: Linkage, place: Array, body: str, slots: list[Slot], forces: Array) -> float:
    """Return the pull in a two-point body, N; a rod with nothing at one end carries nothing."""
    one, other = linkage.bodies[body]
    axis = place[linkage.index[other]] - place[linkage.index[one]]
    if (other, body) not in slots:
        return 0.0
    force = forces[slots.index((other, body))]
    return float(force @ axis / np.linalg.norm(axis))


def _bent(
    linkage: Linkage,
    place: Array,
    body: str,
    ends: tuple[str, str],
    forces: dict[Slot, Array],
    pushed: Mapping[str, Array],
) -> Bent:
    """Return what bends a link and goes along it: at each of its points, what is put in on one side of it."""
    index = linkage.index
    start = place[index[ends[0]]]
    line = place[index[ends[1]]] - start
    long = float(np.linalg.norm(line))
    way = line / long
    along = {point: float((place[index[point]] - start) @ way) for point in linkage.bodies[body]}
    axial, moments = [0.0], [0.0]
    force, moment_at_start = np.zeros(3), np.zeros(3)
    for point in sorted(along, key=lambda point: along[point]):
        its = forces.get((point, body), pushed.get(point, np.zeros(3)))
        here = along[point] * way
        moments.append(_across(moment_at_start - np.cross(here, force), way))
        force = force + its
        moment_at_start = moment_at_start + np.cross(place[index[point]] - start, its)
        moments.append(_across(moment_at_start - np.cross(here, force), way))
        axial.append(-float(force @ way))
    # Beyond the last joint nothing is left: what rounding leaves there is no load.
    return Bent(
        push=max(-min(axial[:-1]), 0.0),
        pull=max(*axial[:-1], 0.0),
        across=max(_across(forces[end, body], way) for end in ends),
        moment=max(moments[:-1]),
    )


def _across(vector: Array, way: Array) -> float:
    """Return the size of what of a force or a moment stands square to a way."""
    return float(np.linalg.norm(vector - way * (vector @ way)))


def unbalanced_n(solved: SolvedStation, rows: Rows, row: int = 0) -> float:
    """Return what is left unbalanced anywhere, N: nothing, unless the linkage is not in equilibrium."""
    place = rows.solution.motion.place[:, :, row].T
    equations = Equations(solved.linkage, place)
    pushed, wheels = _pushed(solved, rows, row, place)
    return float(equations.solve(equations.right(pushed)[:, None], wheels)[2][0])
