"""The force at every joint and mount, from the equilibrium of each body on its own.

Unknown  at each joint, the force on each body that meets there and on the chassis: three components.
Rows     every body's forces and moments balance; at every joint the forces on what meets there add up to
         what a unit or wheel puts in. A wheel pushes straight up at its centre with what the units carry.
Shared   a hinge of two points cannot say how it shares the thrust along its own line; the least-squares
         solution of least size shares it evenly, as equal bushes would.

Gravity on the parts themselves is left out. Static equilibrium (Newton); checked against virtual work.
"""

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.links import link_ends
from engine.document.schema import Slider
from engine.facts import facts
from engine.linkage.linkage import Linkage
from engine.linkage.roots import first_over
from engine.linkage.vectors import Array
from engine.station.rows import Rows
from engine.station.solved import SolvedStation

MOMENT_ARM_MM = 100.0
PEAK_ROWS = 9  # loads change slowly over the travel
CARRIES_SHARE = 0.9
STANDS_SHARE = 0.02  # a wheel that the units press down by less than this share of its load hardly stands


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
    linkage = solved.linkage
    place = rows.solution.motion.place[:, :, row].T
    pushed = _pushed(solved, rows, row, place)
    slots = _slots(linkage)
    matrix, wanted = _balance(linkage, place, slots, pushed)
    forces: Array = np.asarray(np.linalg.lstsq(matrix, wanted, rcond=None)[0]).reshape((len(slots), 3))
    joints = tuple(
        JointForce(point, body, (float(f[0]), float(f[1]), float(f[2])))
        for (point, body), f in zip(slots, forces, strict=True)
    )
    return Loads(
        travel=float(rows.travels[row]),
        wheel_force=float(rows.wheel_force[row]),
        joints=joints,
        links={
            body: _tension(linkage, place, body, slots, forces)
            for body, m in linkage.bodies.items()
            if len(m) == 2
        },
        bent={
            body: _bent(linkage, place, body, ends, dict(zip(slots, forces, strict=True)), pushed)
            for body, m in linkage.bodies.items()
            if len(m) > 2 and (ends := link_ends(solved.station, body)) is not None
        },
        units={name: float(trace.force[row]) for name, trace in rows.units.items()},
    )


def _pushed(solved: SolvedStation, rows: Rows, row: int, place: Array) -> dict[str, Array]:
    """Return the force that units and wheels put into each point, N."""
    index = solved.linkage.index
    pushed: dict[str, Array] = {}
    for law in solved.springing.laws:
        one, other = law.ends
        axis = place[index[one]] - place[index[other]]
        push = axis / np.linalg.norm(axis) * float(rows.units[law.name].force[row])
        pushed[one] = pushed.get(one, np.zeros(3)) + push
        pushed[other] = pushed.get(other, np.zeros(3)) - push
    for wheel, force in zip(solved.station.wheels, _wheel_forces(solved, rows, row), strict=True):
        # The units push the wheel down with this much; the floor pushes it up.
        pushed[wheel.centre] = pushed.get(wheel.centre, np.zeros(3)) + np.array([0.0, 0.0, force])
    return pushed


def _wheel_forces(solved: SolvedStation, rows: Rows, row: int) -> list[float]:
    """Return each wheel's own force; in heave of an axle that is symmetrical they are the same."""
    linkage, mean = solved.linkage, float(rows.wheel_force[row])
    if linkage.articulation() is None:
        return [mean] * len(solved.station.wheels)
    half = float(solved.across(np.array([0.0]), float(rows.travels[row])).wheel_force[0])
    # Where it stands and yet cannot articulate at all, nothing tells the two wheels apart.
    return [mean + half, mean - half] if np.isfinite(half) else [mean, mean]


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


def _balance(
    linkage: Linkage, place: Array, slots: list[Slot], pushed: dict[str, Array]
) -> tuple[Array, Array]:
    """Return the rows of equilibrium and their right side."""
    number = {slot: k for k, slot in enumerate(slots)}
    rows: list[Array] = []
    wanted: list[float] = []
    free = dict(pushed)
    for point in dict.fromkeys(point for point, _ in slots):
        # At a pin the forces on the bodies that meet there add up to what is put in from outside.
        its = [k for (p, _), k in number.items() if p == point]
        put_in = free.pop(point, np.zeros(3))
        for axis in range(3):
            line = np.zeros(3 * len(slots))
            line[[3 * k + axis for k in its]] = 1.0
            rows.append(line)
            wanted.append(float(put_in[axis]))
    for body, members in linkage.bodies.items():
        origin = place[linkage.index[members[0]]]
        lines = np.zeros((6, 3 * len(slots)))
        right = np.zeros(6)
        for point in members:
            lever = _lever(place[linkage.index[point]] - origin)
            if (point, body) in number:
                k = number[point, body]
                lines[:3, 3 * k : 3 * k + 3] = np.eye(3)
                lines[3:, 3 * k : 3 * k + 3] = lever
            elif point in free:
                right[:3] -= free[point]
                right[3:] -= lever @ free[point]
        for slider in linkage.station.sliders.values():
            if slider.body == body:
                k = number[slider.through, _sliding(body)]
                across = _slider_lines(linkage, place, slider, k, lines, origin)
                rows.append(across)
                wanted.append(0.0)
        rows += list(lines)
        wanted += list(right)
    return np.array(rows), np.array(wanted)


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
    pushed: dict[str, Array],
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


def unbalanced_n(solved: SolvedStation, rows: Rows, loads: Loads, row: int = 0) -> float:
    """Return what is left unbalanced anywhere, N: nothing, unless the linkage is not in equilibrium."""
    place = rows.solution.motion.place[:, :, row].T
    slots = [(joint.point, joint.body) for joint in loads.joints]
    matrix, wanted = _balance(solved.linkage, place, slots, _pushed(solved, rows, row, place))
    forces = np.array([joint.force for joint in loads.joints]).ravel()
    return float(np.abs(matrix @ forces - wanted).max())


@facts(kw_only=False)
class Peak:
    """The worst of a joint, link or unit over the travel at a wheel load of `multiple` times static, N.

    units : the most that each pushes where the wheel carries about its static load or more: nearer droop no such
            peak can come, and a damper's gas would be scaled to what it never pushes
    chassis : the force on the chassis at each of its points, case by case
    bent    : the most of each link with eyes on it
    """

    multiple: float
    joints: dict[str, float]
    links: dict[str, tuple[float, float]]
    bent: dict[str, Bent]
    units: dict[str, float]
    chassis: dict[str, tuple[tuple[float, float, float], ...]]


def peak_loads(solved: SolvedStation, multiple: float) -> Peak | None:
    """Return the worst forces over the travel, the units carrying the peak in their proportion.

    joints : largest force on any body at each point; links : most pull and most push of each, N
    A wheel on the floor carries the multiple of its static load; one that hangs carries its own weight and what
    its springs push, once (docs/decisions/0013).
    """
    static = solved.springing.weight_n
    rows = solved.taken
    standing = np.flatnonzero(rows.wheel_force > STANDS_SHARE * static)
    picked = standing[np.linspace(0, len(standing) - 1, min(len(standing), PEAK_ROWS)).astype(int)]
    cases = [
        (loads_at(solved, rows, int(row)), multiple * static / float(rows.wheel_force[row])) for row in picked
    ]
    hanging = _hanging(solved)
    if hanging is not None:
        cases.append((loads_at(solved, hanging), 1.0))
    most = max((found.wheel_force for found, _ in cases), default=0.0)
    joints: dict[str, float] = {}
    links: dict[str, tuple[float, float]] = {}
    bent: dict[str, Bent] = {}
    units: dict[str, float] = {}
    chassis: dict[str, list[tuple[float, float, float]]] = {}
    for found, scale in cases:
        for joint in found.joints:
            joints[joint.point] = max(joints.get(joint.point, 0.0), joint.size * scale)
            if joint.body is None:
                x, y, z = joint.force
                chassis.setdefault(joint.point, []).append((x * scale, y * scale, z * scale))
        for unit, push in found.units.items():
            if found.wheel_force >= min(CARRIES_SHARE * static, most):
                units[unit] = max(units.get(unit, 0.0), abs(push) * scale)
        for link, pull in found.links.items():
            low, high = links.get(link, (0.0, 0.0))
            links[link] = (min(low, pull * scale), max(high, pull * scale))
        for link, its in found.bent.items():
            bent[link] = its.times(scale).worst(bent.get(link, Bent(0.0, 0.0, 0.0, 0.0)))
    if not joints:
        return None
    forces = {point: tuple(its) for point, its in chassis.items()}
    return Peak(multiple, joints, links, bent, units, forces)


def _hanging(solved: SolvedStation) -> Rows | None:
    """Return the row where the wheel hangs in its strap: what the units pull up is its own weight; None if it never does."""
    rows = solved.taken
    weight = solved.station.mass.unsprung * GRAVITY_M_PER_S2
    over = -weight - rows.wheel_force  # more than nothing where the units hold it up

    def value(travel: float) -> float:
        return -weight - float(solved.at(np.array([travel])).wheel_force[0])

    found = dict(first_over(rows.travels, over, value))
    return solved.at(np.array([found["droop"]])) if "droop" in found else None
