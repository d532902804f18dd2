"""Where one end of a unit may stand: what every place would do, without moving anything else.

Held    the unit's other end, which stays on its own path.
Place   somewhere the end might be, as drawn; tied to what carries the end now.
Left    damper stroke that is not used, at each end of the wanted travel, mm; negative is too little damper.
"""

import numpy as np

from engine.document.schema import Coilover, Damper
from engine.document.units import AnyUnit
from engine.errors import EngineError
from engine.facts import facts
from engine.forces.units import damper_ends_mm
from engine.linkage.pose import Pose, host_of, pose_of
from engine.linkage.vectors import Array
from engine.sentences import spoken
from engine.station.solved import SolvedStation

MOST_PLACES = 40_000
AXES = {"front": (1, 2), "side": (0, 2), "top": (0, 1)}


class NoPlacing(EngineError, ValueError):
    """An end that cannot be placed, and why."""

    code = "no_placing"

    def __init__(self, unit: str, why: str) -> None:
        self.unit, self.why = unit, why
        super().__init__(f"The {spoken(unit)} cannot be placed: {why}")


@facts
class Places:
    """What a unit would do with one end at each of many places.

    place   : (n, 3) mm as drawn
    length  : (n, rows) mm end to end, over `travels` (rows,)
    ratio   : (n,) motion ratio where it should stand; slope (n,) its change from full droop to full bump
    used    : (n,) mm of stroke over the wanted travel
    left_in_bump, left_in_droop : (n,) mm; None for what is no damper
    in_line : (n,) cosine between the unit and the path of its moving eye where it should stand
    """

    place: Array
    travels: Array
    length: Array
    ratio: Array
    slope: Array
    used: Array
    left_in_bump: Array | None
    left_in_droop: Array | None
    in_line: Array


@facts
class Rail:
    """The path of a unit's two ends: the held one (rows, 3) with its rate by travel, and the pose of the other's host."""

    unit: AnyUnit
    end: str
    travels: Array
    held: Array
    held_rate: Array
    pose: Pose
    turning: Array
    sliding: Array

    def moved(self, place: Array) -> tuple[Array, Array]:
        """Return where places (n, 3) have gone, and their rates by travel, both (n, rows, 3)."""
        arm = np.einsum("rij,nj->nri", self.pose.turn, place - self.pose.drawn)
        gone: Array = self.pose.origin + arm
        return gone, self.sliding + np.cross(self.turning, arm)


def rail_of(solved: SolvedStation, unit_name: str, end: str) -> Rail:
    """Return the paths to place an end by; raise NoPlacing where there is no such unit, end or rigid host."""
    unit = next((one for one in solved.station.units if one.name == unit_name), None)
    if unit is None:
        raise NoPlacing(unit_name, "no unit has this name.")
    if end not in unit.ends:
        raise NoPlacing(unit_name, f'"{end}" is no end of it.')
    if not solved.reached.any():
        raise NoPlacing(unit_name, "the linkage reaches nothing of the wanted travel.")
    linkage = solved.linkage
    held = unit.ends[1] if unit.ends[0] == end else unit.ends[0]
    motion = solved.sweep.solution.motion
    rows = np.flatnonzero(solved.reached)
    place, first = motion.place[..., rows], motion.first[..., rows]
    host = host_of(linkage, end)
    pose = pose_of(linkage, host, place)
    turning, sliding = _rates(linkage.index, linkage.bodies.get(host), place, first, pose, unit_name)
    number = linkage.index[held]
    return Rail(
        unit=unit,
        end=end,
        travels=solved.sweep.travels[rows],
        held=place[:, number].T,
        held_rate=first[:, number].T,
        pose=pose,
        turning=turning,
        sliding=sliding,
    )


def _rates(
    index: dict[str, int],
    members: list[str] | None,
    place: Array,
    first: Array,
    pose: Pose,
    unit: str,
) -> tuple[Array, Array]:
    """Return a host's turning (rows, 3) and the rate of its pose's origin (rows, 3), both by travel."""
    rows = place.shape[2]
    if members is None:
        return np.zeros((rows, 3)), np.zeros((rows, 3))
    numbers = [index[name] for name in members]
    if len(numbers) < 3:
        raise NoPlacing(unit, "this end sits on a rod; place it where the rod meets something rigid.")
    origin = next(k for k in numbers if np.abs(place[:, k].T - pose.origin).max() < 1e-9)
    arms = np.stack([place[:, k] - place[:, origin] for k in numbers if k != origin]).transpose(2, 0, 1)
    rates = np.stack([first[:, k] - first[:, origin] for k in numbers if k != origin]).transpose(2, 0, 1)
    # Rigid: rate = turning × arm, by least squares over all arms.
    skew = np.zeros((*arms.shape, 3))
    x, y, z = (arms[..., k] for k in range(3))
    skew[..., 0, 1], skew[..., 0, 2], skew[..., 1, 2] = z, -y, x
    skew[..., 1, 0], skew[..., 2, 0], skew[..., 2, 1] = -z, y, -x
    flat, wanted = skew.reshape(rows, -1, 3), rates.reshape(rows, -1, 1)
    across = np.swapaxes(flat, 1, 2)
    # Points in one line leave the spin about it open: the least turning is that of the line itself.
    turning = (np.linalg.pinv(across @ flat, rcond=1e-9) @ (across @ wanted))[..., 0]
    return turning, first[:, origin].T


def places_of(solved: SolvedStation, unit: str, end: str, place: Array) -> Places:
    """Return what a unit would do with one end at each place (n, 3); raise NoPlacing."""
    rail = rail_of(solved, unit, end)
    place = np.asarray(place, dtype=float)[:MOST_PLACES]
    gone, rate = rail.moved(place)
    line = gone - rail.held
    length = np.linalg.norm(line, axis=2)
    with np.errstate(divide="ignore", invalid="ignore"):
        unit_line = line / length[..., None]
    across = rate - rail.held_rate
    ratios = -np.einsum("nri,nri->nr", unit_line, across)
    at = int(np.abs(rail.travels - (solved.station.travel.at or 0.0)).argmin())
    eye = rate[:, at] if np.abs(rail.turning).max() + np.abs(rail.sliding).max() > 0 else rail.held_rate[at]
    path = np.linalg.norm(np.broadcast_to(eye, (len(place), 3)), axis=1)
    longest, shortest = length.max(axis=1), length.min(axis=1)
    bump = droop = None
    if isinstance(rail.unit, Coilover | Damper):
        extended, compressed = damper_ends_mm(rail.unit)
        bump, droop = shortest - compressed, extended - longest
    return Places(
        place=place,
        travels=rail.travels,
        length=length,
        ratio=ratios[:, at],
        slope=ratios[:, -1] - ratios[:, 0],
        used=longest - shortest,
        left_in_bump=bump,
        left_in_droop=droop,
        in_line=np.abs(ratios[:, at]) / np.maximum(path, 1e-12),
    )


def grid_about(point: Array, plan: str, half_mm: float, count: int) -> Array:
    """Return places in a plan through a point, (count², 3): rows of rising height, each from low to high across."""
    across, up = AXES[plan]
    steps = np.linspace(-half_mm, half_mm, count)
    place = np.repeat(np.asarray(point, dtype=float)[None], count * count, axis=0)
    place[:, across] += np.tile(steps, count)
    place[:, up] += np.repeat(steps, count)
    return place


def places_at_length(
    solved: SolvedStation, unit: str, end: str, start: Array, way: Array, travel_mm: float, length_mm: float
) -> tuple[Array, ...]:
    """Return the places on a line at which a unit has a length at a travel, the nearest to `start` first.

    start, way : (3,) mm as drawn and a direction; empty where no place on the line is so near to the held end
    """
    rail = rail_of(solved, unit, end)
    way = np.asarray(way, dtype=float)
    size = float(np.linalg.norm(way))
    if size < 1e-9:
        raise NoPlacing(unit, "the line to slide along has no direction.")
    way = way / size
    row = int(np.abs(rail.travels - travel_mm).argmin())
    if abs(rail.travels[row] - travel_mm) > 1e-6:
        rail, row = rail_at(solved, unit, end, travel_mm), 0
    # Distance is kept by the host's turn, so the held end is brought back to the drawing instead.
    held = rail.pose.drawn.reshape(-1, 3)[0] + rail.pose.turn[row].T @ (
        rail.held[row] - rail.pose.origin[row]
    )
    off = np.asarray(start, dtype=float) - held
    middle = -float(off @ way)
    rest = middle**2 - float(off @ off) + length_mm**2
    if rest < 0:
        return ()
    sides = sorted({middle - rest**0.5, middle + rest**0.5}, key=abs)
    return tuple(np.asarray(start, dtype=float) + side * way for side in sides)


def rail_at(solved: SolvedStation, unit: str, end: str, travel_mm: float) -> Rail:
    """Return the rail at one travel that is no row of the sweep."""
    travels = solved.search.travels[solved.path.reached]
    if not travels[0] <= travel_mm <= travels[-1]:
        raise NoPlacing(unit, f"the linkage does not reach {travel_mm:+.1f} mm.")
    rows = solved.at(np.array([travel_mm]))
    whole = rail_of(solved, unit, end)
    motion, linkage = rows.solution.motion, solved.linkage
    held = whole.unit.ends[1] if whole.unit.ends[0] == end else whole.unit.ends[0]
    host = host_of(linkage, end)
    pose = pose_of(linkage, host, motion.place)
    turning, sliding = _rates(linkage.index, linkage.bodies.get(host), motion.place, motion.first, pose, unit)
    number = linkage.index[held]
    return Rail(
        unit=whole.unit,
        end=end,
        travels=rows.travels,
        held=motion.place[:, number].T,
        held_rate=motion.first[:, number].T,
        pose=pose,
        turning=turning,
        sliding=sliding,
    )
