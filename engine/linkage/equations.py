"""The kinds of row that hold a linkage together, each with all that is asked of it.

value    how far it is from holding, mm; exact, a polynomial of the points' places
weights  how that changes with the points' places: components, points, and what each point's move counts
rate     how fast it would open if the points moved so: its first or second derivative by travel
gap      how far it stands open at most, mm

`x`, `v` and `change` are (3, n, positions); `drawn` is (3, n, geometries), which are as many as the positions or
one. `length` is what `length_in` gave for the same geometries, mm; only distances have one.
"""

from abc import ABC, abstractmethod
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from engine.linkage.vectors import Array, cross, dot

Weight = Array | tuple[int, float]
"""What a point's move counts, (3, positions); or one axis alone, and its share."""


@dataclass(frozen=True, kw_only=True)
class Equation(ABC):
    """Rows of the system that belong together; `body` is the part that gives where they cannot hold."""

    body: str

    @property
    @abstractmethod
    def points(self) -> tuple[int, ...]:
        """The points that it looks at."""

    @property
    def rows(self) -> int:
        """How many rows it has."""
        return 1

    @property
    def bushed(self) -> bool:
        """Whether a bushing gives here, on an axle that must be forced; else the part itself would have to."""
        return True

    def length_in(self, drawn: Array, given: Mapping[str, float | Array]) -> Array | None:
        """Return the length that it keeps, (geometries,) mm; `given` are links set otherwise than drawn."""
        return None

    @abstractmethod
    def value(self, x: Array, drawn: Array, length: Array | None, targets: Array) -> Array:
        """Return (rows, positions) how far it is from holding, mm; `targets` are the drivers' heights, mm."""

    @abstractmethod
    def weights(self, x: Array, drawn: Array, length: Array | None) -> Iterator[tuple[int, int, Weight]]:
        """Yield (row of its own, point, weight of that point's move)."""

    @abstractmethod
    def rate(
        self, x: Array, v: Array, change: Array, drawn: Array, length: Array | None, rates: Array
    ) -> Array:
        """Return (rows, positions) how fast it opens.

        change : the points' derivatives of the order asked for; `v` itself at the first
        rates  : of the drivers' heights, at the first order; read by drivers alone
        """

    def gap(self, x: Array, drawn: Array, length: Array | None, row: int) -> float:
        """Return how far one of its rows stands open at most, mm."""
        still = np.zeros((1, x.shape[2]))
        return float(np.abs(self.value(x, drawn, length, still)[row]).max())


@dataclass(frozen=True, kw_only=True)
class Distance(Equation):
    """Two points a fixed length apart; `link` names the two-point body whose length may be set."""

    i: int
    j: int
    link: str | None = None

    @property
    def points(self) -> tuple[int, ...]:
        """Both ends."""
        return (self.i, self.j)

    @property
    def bushed(self) -> bool:
        """A link has bushings at its ends; inside a body nothing gives."""
        return self.link is not None

    def length_in(self, drawn: Array, given: Mapping[str, float | Array]) -> Array:
        """Return the length as set, or as drawn."""
        if self.link is not None and self.link in given:
            return np.atleast_1d(np.asarray(given[self.link], dtype=float))
        gap = drawn[:, self.i] - drawn[:, self.j]
        length: Array = np.sqrt(dot(gap, gap))
        return length

    def value(self, x: Array, drawn: Array, length: Array | None, targets: Array) -> Array:
        """Return (|d|² − L²)/2L: the gap to first order."""
        assert length is not None
        gap = x[:, self.i] - x[:, self.j]
        value: Array = (dot(gap, gap) - length**2) / (2 * length)
        return value[None]

    def weights(self, x: Array, drawn: Array, length: Array | None) -> Iterator[tuple[int, int, Weight]]:
        """Yield the way along the link, at either end."""
        assert length is not None
        gap = (x[:, self.i] - x[:, self.j]) / length
        yield 0, self.i, gap
        yield 0, self.j, -gap

    def rate(
        self, x: Array, v: Array, change: Array, drawn: Array, length: Array | None, rates: Array
    ) -> Array:
        """Return the value's derivative."""
        assert length is not None
        i, j = self.i, self.j
        total = dot(x[:, i] - x[:, j], change[:, i] - change[:, j])
        if change is not v:
            speed = v[:, i] - v[:, j]
            total = total + dot(speed, speed)
        return (total / length)[None]

    def gap(self, x: Array, drawn: Array, length: Array | None, row: int) -> float:
        """Return how much longer or shorter the two stand apart, exactly."""
        assert length is not None
        apart = x[:, self.i] - x[:, self.j]
        return float(np.abs(np.sqrt(dot(apart, apart)) - length).max())


@dataclass(frozen=True, kw_only=True)
class Shared(Equation):
    """Links whose bushings share what does not fit: their gaps, each by its share, come to nothing together.

    Its `length` holds all of theirs, (links, geometries) mm.
    """

    links: tuple[Distance, ...]
    shares: tuple[float, ...]

    @property
    def points(self) -> tuple[int, ...]:
        """Both ends of every link."""
        return tuple(dict.fromkeys(point for link in self.links for point in link.points))

    def length_in(self, drawn: Array, given: Mapping[str, float | Array]) -> Array:
        """Return every link's length, (links, geometries) mm."""
        lengths = [link.length_in(drawn, given) for link in self.links]
        return np.stack(np.broadcast_arrays(*lengths))

    def value(self, x: Array, drawn: Array, length: Array | None, targets: Array) -> Array:
        """Return the sum of the links' own values."""
        assert length is not None
        found: Array = sum(
            share * link.value(x, drawn, its, targets)
            for share, link, its in zip(self.shares, self.links, length, strict=True)
        )  # type: ignore[assignment]
        return found

    def weights(self, x: Array, drawn: Array, length: Array | None) -> Iterator[tuple[int, int, Weight]]:
        """Yield the links' own, each by its share."""
        assert length is not None
        for share, link, its in zip(self.shares, self.links, length, strict=True):
            for row, point, weight in link.weights(x, drawn, its):
                yield row, point, share * np.asarray(weight)

    def rate(
        self, x: Array, v: Array, change: Array, drawn: Array, length: Array | None, rates: Array
    ) -> Array:
        """Return the value's derivative."""
        assert length is not None
        found: Array = sum(
            share * link.rate(x, v, change, drawn, its, rates)
            for share, link, its in zip(self.shares, self.links, length, strict=True)
        )  # type: ignore[assignment]
        return found


@dataclass(frozen=True, kw_only=True)
class Coincide(Equation):
    """Two copies of a point in one place."""

    point: int
    ghost: int

    @property
    def points(self) -> tuple[int, ...]:
        """The point and its copy."""
        return (self.point, self.ghost)

    @property
    def rows(self) -> int:
        """One for each axis."""
        return 3

    def value(self, x: Array, drawn: Array, length: Array | None, targets: Array) -> Array:
        """Return how far the copies are apart."""
        return x[:, self.point] - x[:, self.ghost]

    def weights(self, x: Array, drawn: Array, length: Array | None) -> Iterator[tuple[int, int, Weight]]:
        """Yield either copy, one axis a row."""
        for axis in range(3):
            yield axis, self.point, (axis, 1.0)
            yield axis, self.ghost, (axis, -1.0)

    def rate(
        self, x: Array, v: Array, change: Array, drawn: Array, length: Array | None, rates: Array
    ) -> Array:
        """Return how fast the copies part."""
        return change[:, self.point] - change[:, self.ghost]


@dataclass(frozen=True, kw_only=True)
class Hold(Equation):
    """Point c stays in the plane of the line a–b and of where c was drawn."""

    a: int
    b: int
    c: int

    @property
    def points(self) -> tuple[int, ...]:
        """The line's ends and the held point."""
        return (self.a, self.b, self.c)

    def _plane(self, drawn: Array) -> tuple[Array, Array]:
        """Return c's drawn offset from the line, which spans the plane, and what brings its row to mm."""
        axis, arm = drawn[:, self.b] - drawn[:, self.a], drawn[:, self.c] - drawn[:, self.a]
        side = arm - axis * (dot(arm, axis) / dot(axis, axis))
        return side, np.sqrt(dot(axis, axis) * dot(side, side))

    def value(self, x: Array, drawn: Array, length: Array | None, targets: Array) -> Array:
        """Return how far c stands out of its plane."""
        side, scale = self._plane(drawn)
        arm, axis = x[:, self.c] - x[:, self.a], x[:, self.b] - x[:, self.a]
        lean: Array = dot(arm, cross(axis, side)) / scale
        return lean[None]

    def weights(self, x: Array, drawn: Array, length: Array | None) -> Iterator[tuple[int, int, Weight]]:
        """Yield the way out of the plane at c, and what the line's ends do to it."""
        side, scale = self._plane(drawn)
        arm, axis = x[:, self.c] - x[:, self.a], x[:, self.b] - x[:, self.a]
        by_arm, by_axis = cross(axis, side) / scale, cross(side, arm) / scale
        yield 0, self.c, by_arm
        yield 0, self.b, by_axis
        yield 0, self.a, -by_arm - by_axis

    def rate(
        self, x: Array, v: Array, change: Array, drawn: Array, length: Array | None, rates: Array
    ) -> Array:
        """Return the value's derivative."""
        a, b, c = self.a, self.b, self.c
        side, scale = self._plane(drawn)
        arm, axis = x[:, c] - x[:, a], x[:, b] - x[:, a]
        d_arm, d_axis = change[:, c] - change[:, a], change[:, b] - change[:, a]
        total = dot(d_arm, cross(axis, side)) + dot(arm, cross(d_axis, side))
        if change is not v:
            total = total + 2 * dot(v[:, c] - v[:, a], cross(v[:, b] - v[:, a], side))
        return (total / scale)[None]


@dataclass(frozen=True, kw_only=True)
class Slide(Equation):
    """Point c stays on the line through a and b of a body: two of the three components of (c−a)×(b−a)."""

    a: int
    b: int
    c: int
    kept: tuple[int, int]

    @property
    def points(self) -> tuple[int, ...]:
        """The line's ends and the point that slides."""
        return (self.a, self.b, self.c)

    @property
    def rows(self) -> int:
        """One for each way across the line."""
        return 2

    def _scale(self, drawn: Array) -> Array:
        """Return the line's drawn length, mm: rows are then gaps in mm."""
        axis = drawn[:, self.b] - drawn[:, self.a]
        scale: Array = np.sqrt(dot(axis, axis))
        return scale

    def value(self, x: Array, drawn: Array, length: Array | None, targets: Array) -> Array:
        """Return how far c stands off the line, two ways."""
        off = cross(x[:, self.c] - x[:, self.a], x[:, self.b] - x[:, self.a])
        return off[list(self.kept)] / self._scale(drawn)

    def weights(self, x: Array, drawn: Array, length: Array | None) -> Iterator[tuple[int, int, Weight]]:
        """Yield each row's: u·(arm × axis) changes by (axis × u)·δarm and (u × arm)·δaxis."""
        scale = self._scale(drawn)
        arm, axis = (x[:, self.c] - x[:, self.a]) / scale, (x[:, self.b] - x[:, self.a]) / scale
        for row, component in enumerate(self.kept):
            unit = np.zeros((3, 1))
            unit[component] = 1.0
            by_arm, by_axis = cross(axis, unit), cross(unit, arm)
            yield row, self.c, by_arm
            yield row, self.b, by_axis
            yield row, self.a, -by_arm - by_axis

    def rate(
        self, x: Array, v: Array, change: Array, drawn: Array, length: Array | None, rates: Array
    ) -> Array:
        """Return the value's derivative."""
        a, b, c = self.a, self.b, self.c
        arm, axis = x[:, c] - x[:, a], x[:, b] - x[:, a]
        d_arm, d_axis = change[:, c] - change[:, a], change[:, b] - change[:, a]
        turned = cross(d_arm, axis) + cross(arm, d_axis)
        if change is not v:
            turned += 2 * cross(v[:, c] - v[:, a], v[:, b] - v[:, a])
        slid: Array = turned[list(self.kept)] / self._scale(drawn)
        return slid


@dataclass(frozen=True, kw_only=True)
class Driver(Equation):
    """Mean height of one or two wheel centres, moved by `travel` (an index into the targets)."""

    wheels: tuple[int, ...]
    target: int
    body: str = "wheel"

    @property
    def points(self) -> tuple[int, ...]:
        """The wheel centres."""
        return self.wheels

    @property
    def bushed(self) -> bool:
        """The wheel is put where it is wanted."""
        return False

    def value(self, x: Array, drawn: Array, length: Array | None, targets: Array) -> Array:
        """Return how much higher the wheels stand than asked."""
        height = (x[2, list(self.wheels)] - drawn[2, list(self.wheels)]).mean(axis=0)
        risen: Array = height - targets[self.target]
        return risen[None]

    def weights(self, x: Array, drawn: Array, length: Array | None) -> Iterator[tuple[int, int, Weight]]:
        """Yield each wheel's share of the mean height."""
        for wheel in self.wheels:
            yield 0, wheel, (2, 1.0 / len(self.wheels))

    def rate(
        self, x: Array, v: Array, change: Array, drawn: Array, length: Array | None, rates: Array
    ) -> Array:
        """Return how fast the wheels leave what is asked; a second derivative asks nothing."""
        height: Array = change[2, list(self.wheels)].mean(axis=0)
        return (height - rates[self.target] if change is v else height)[None]
