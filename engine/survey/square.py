"""Square and alike: diagonals, wheelbases, axles to the centreline, pinion angles, and left against right.

Out       how far something is from square or from its mirror image, mm or degrees, signed as its words say.
Interval  nine tenths: 1.645 standard errors either way; what lies within it is square as far as the tape can tell.
"""

import itertools
from collections.abc import Callable, Iterator

import numpy as np

from engine.document.schema import CENTRELINE_MM, Project, Station
from engine.document.sides import image_of_point
from engine.document.survey import Mirrored
from engine.facts import facts
from engine.findings.finding import Rules
from engine.linkage.vectors import Array
from engine.sentences import Quantity, Sentence, length
from engine.survey.adjust import Adjusted
from engine.survey.loose import said

NINE_TENTHS = 1.645  # standard errors of a normal error either way
STEP_MM = 0.01
APART_MM = 400.0  # pairs nearer fore and aft than this make no diagonal


@facts
class Square:
    """One thing that ought to be nothing: its value, half its interval, and how that is said."""

    what: str
    places: tuple[str, ...]
    out: float
    within: float
    measures: str
    mark: str
    say: Sentence


@facts
class Side:
    """Two places that ought to be mirror images, and what is between the left one and the right one's image, mm.

    apart, sigma : (3,) fore–aft, out, up
    """

    left: str
    right: str
    apart: Array
    sigma: Array
    mark: str
    say: Sentence

    @property
    def within(self) -> Array:
        """Return half the interval along each axis, (3,) mm."""
        within: Array = NINE_TENTHS * self.sigma
        return within


def pairs_of(project: Project, adjusted: Adjusted) -> list[tuple[str, str]]:
    """Return the pairs of held places that ought to be mirror images, the left one first."""
    network, loose = adjusted.network, adjusted.fit.loose
    held = {name for name, free in zip(network.names, loose, strict=True) if not free}
    found = [tuple(one.pair) for one in network.survey.readings if isinstance(one, Mirrored)]
    for station in project.stations:
        found += [
            (f"{station.name}/{point}", other)
            for point, other in _others(project, station)
            if other is not None
        ]
    pairs: dict[frozenset[str], tuple[str, str]] = {}
    for one, other in found:
        key = frozenset((one, other))
        if len(key) == 2 and one in held and other in held and key not in pairs:
            left = adjusted.fit.spots[network.index[one], 1] >= adjusted.fit.spots[network.index[other], 1]
            pairs[key] = (one, other) if left else (other, one)
    return list(pairs.values())


def _others(project: Project, station: Station) -> Iterator[tuple[str, str | None]]:
    """Yield each point of a station with the place on the other side that ought to be its mirror image."""
    if station.kind == "axle":
        for point in station.points:
            image = image_of_point(station, point)
            yield point, None if image is None or image == point else f"{station.name}/{image}"
        return
    other = next((its for its in project.stations if its.name == station.other_side), None)
    for point in station.points:
        yield point, f"{other.name}/{point}" if other is not None and point in other.points else None


def squares(project: Project, adjusted: Adjusted, rules: Rules) -> list[Square]:
    """Return everything that can be told of the frame and the axles from what is held."""
    pairs = pairs_of(project, adjusted)
    wheels = _wheel_pairs(project, pairs)
    frame = [pair for pair in pairs if pair not in wheels and _across(adjusted, pair) > 4 * CENTRELINE_MM]
    found = []
    for what, some in (("diagonals of the frame", frame), ("diagonals of the wheels", wheels)):
        ends = _furthest(adjusted, some)
        if ends is not None:
            found.append(_diagonals(adjusted, what, *ends, rules))
    if (ends := _furthest(adjusted, wheels)) is not None:
        found.append(_wheelbases(adjusted, *ends, rules))
    for pair in wheels:
        found += [_square_to_line(adjusted, pair, rules), _middle(adjusted, pair, rules)]
    return [*found, *_shafts(project, adjusted, rules)]


def sides(project: Project, adjusted: Adjusted, rules: Rules) -> list[Side]:
    """Return left beside right for every pair, the worst beside its interval first."""
    network, found = adjusted.network, []
    for left, right in pairs_of(project, adjusted):
        one, other = network.index[left], network.index[right]
        apart = adjusted.fit.spots[one] - adjusted.fit.spots[other] * [1, -1, 1]
        columns = [3 * one + k for k in range(3)] + [3 * other + k for k in range(3)]
        to = np.hstack([np.eye(3), -np.diag([1.0, -1.0, 1.0])])
        sigma = np.sqrt(np.diag(to @ adjusted.fit.block(np.array(columns)) @ to.T))
        beyond = np.maximum(np.abs(apart) - NINE_TENTHS * sigma, 0.0)
        off = float(np.linalg.norm(apart))
        mark = "good" if not beyond.any() else _mark(off, rules)
        told = {"off": length(off), "within": length(NINE_TENTHS * float(np.linalg.norm(sigma)))}
        words = "{0} and {1} are {off} ± {within} from being mirror images."
        if not beyond.any():
            words = "{0} and {1} are mirror images as far as the tape can tell: {off} ± {within}."
        say = Sentence(words, told, (said(left), said(right)))
        found.append(Side(left=left, right=right, apart=apart, sigma=sigma, mark=mark, say=say))
    return sorted(found, key=lambda side: -float(np.linalg.norm(side.apart)))


def _mark(off: float, rules: Rules) -> str:
    good, allowed = rules.sides_mm
    return "good" if off <= good else "warning" if off <= allowed else "fault"


def _wheel_pairs(project: Project, pairs: list[tuple[str, str]]) -> list[tuple[str, str]]:
    centres = {f"{station.name}/{wheel.centre}" for station in project.stations for wheel in station.wheels}
    return [pair for pair in pairs if set(pair) <= centres]


def _spots(adjusted: Adjusted, names: tuple[str, ...]) -> Array:
    return adjusted.fit.spots[[adjusted.network.index[name] for name in names]]


def _across(adjusted: Adjusted, pair: tuple[str, str]) -> float:
    left, right = _spots(adjusted, pair)
    return float(left[1] - right[1])


def _furthest(
    adjusted: Adjusted, pairs: list[tuple[str, str]]
) -> tuple[tuple[str, str], tuple[str, str]] | None:
    """Return the pair most forward and the one most aft, where they are far enough apart."""
    if len(pairs) < 2:
        return None
    middle = {pair: float(_spots(adjusted, pair)[:, 0].mean()) for pair in pairs}
    front, rear = max(pairs, key=lambda p: middle[p]), min(pairs, key=lambda p: middle[p])
    return (front, rear) if middle[front] - middle[rear] > APART_MM else None


def _with_error(
    adjusted: Adjusted, places: tuple[str, ...], figure: Callable[[Array], float]
) -> tuple[float, float]:
    """Return a figure of some places, figure((k, 3)), and its standard error by its slopes."""
    spots = _spots(adjusted, places)
    slopes = np.zeros(spots.shape)
    for at in itertools.product(range(len(places)), range(3)):
        step = np.zeros(spots.shape)
        step[at] = STEP_MM
        slopes[at] = (figure(spots + step) - figure(spots - step)) / (2 * STEP_MM)
    columns = np.array([3 * adjusted.network.index[name] + k for name in places for k in range(3)])
    variance = float(slopes.ravel() @ adjusted.fit.block(columns) @ slopes.ravel())
    return figure(spots), float(np.sqrt(max(variance, 0.0)))


def _diagonals(
    adjusted: Adjusted, what: str, front: tuple[str, str], rear: tuple[str, str], rules: Rules
) -> Square:
    places = (*front, *rear)
    out, sigma = _with_error(
        adjusted, places, lambda p: float(np.linalg.norm(p[0] - p[3]) - np.linalg.norm(p[1] - p[2]))
    )
    longer = (front[0], rear[1]) if out >= 0 else (front[1], rear[0])
    words = f"The {what} are out by {{out}} ± {{within}}: the longer one goes from {{0}} to {{1}}."
    return _square(what, places, out, sigma, words, rules, longer)


def _wheelbases(adjusted: Adjusted, front: tuple[str, str], rear: tuple[str, str], rules: Rules) -> Square:
    places = (*front, *rear)
    out, sigma = _with_error(adjusted, places, lambda p: float((p[0, 0] - p[2, 0]) - (p[1, 0] - p[3, 0])))
    words = "The wheelbase is {out} ± {within} " + ("longer" if out >= 0 else "shorter")
    return _square("wheelbases", places, out, sigma, words + " on the left.", rules)


def _square_to_line(adjusted: Adjusted, pair: tuple[str, str], rules: Rules) -> Square:
    out, sigma = _with_error(adjusted, pair, lambda p: float(p[0, 0] - p[1, 0]))
    words = "{0} stands {out} ± {within} " + ("ahead of" if out >= 0 else "behind") + " {1}."
    return _square("square to the centreline", pair, out, sigma, words, rules, pair)


def _middle(adjusted: Adjusted, pair: tuple[str, str], rules: Rules) -> Square:
    out, sigma = _with_error(adjusted, pair, lambda p: float((p[0, 1] + p[1, 1]) / 2))
    side = "left" if out >= 0 else "right"
    words = f"{{0}} and {{1}} stand {{out}} ± {{within}} to the {side} of the middle."
    return _square("wheels side to side", pair, out, sigma, words, rules, pair)


def _square(
    what: str,
    places: tuple[str, ...],
    out: float,
    sigma: float,
    words: str,
    rules: Rules,
    names: tuple[str, ...] = (),
) -> Square:
    within = NINE_TENTHS * sigma
    told = {"out": length(abs(out)), "within": length(within)}
    told_names = tuple(said(name) for name in names)
    mark = "good" if abs(out) <= within else _mark(abs(out), rules)
    return Square(
        what=what,
        places=places,
        out=out,
        within=within,
        measures="length",
        mark=mark,
        say=Sentence(words, told, told_names),
    )


def _shafts(project: Project, adjusted: Adjusted, rules: Rules) -> Iterator[Square]:
    """Yield the angle of each joint of a shaft whose ends are held, against the axis drawn there."""
    network, loose = adjusted.network, adjusted.fit.loose
    for station in project.stations:
        for shaft in station.shafts:
            ends = tuple(f"{station.name}/{end}" for end in shaft.ends)
            if any(end not in network.index or loose[network.index[end]] for end in ends):
                continue
            for k, axis in enumerate(shaft.axes):
                out, sigma = _with_error(adjusted, ends, lambda p, axis=axis: _off_axis(p, axis))  # type: ignore[misc]
                within = NINE_TENTHS * sigma
                told = {"out": Quantity(out, "angle"), "within": Quantity(within, "angle")}
                words = "The joint of {0} at {1} works at {out} ± {within} as it stands."
                yield Square(
                    what="pinion and shaft angle",
                    places=ends,
                    out=out,
                    within=within,
                    measures="angle",
                    mark="good"
                    if out + within <= shaft.rated
                    else "warning"
                    if out <= shaft.rated
                    else "fault",
                    say=Sentence(words, told, (shaft.name, said(ends[k]))),
                )


def _off_axis(spots: Array, axis: list[float]) -> float:
    way = spots[1] - spots[0]
    across = float(np.linalg.norm(np.cross(way, axis)))
    return float(np.degrees(np.arctan2(across, abs(float(way @ np.array(axis))))))
