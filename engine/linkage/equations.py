"""The kinds of condition that hold a linkage together, each written as a sum of products of the points' places.

Every condition is what must be nothing, mm: a constant, products of what runs between two points each, and some points'
heights along an axis. A sum of this form tells its own slopes and derivatives (`closing.py`), so a kind of condition says
only what it is made of.

`drawn` is (3, n, geometries). `length` is what `length_in` gave for the same geometries, mm; only distances have one.
"""

from abc import ABC, abstractmethod
from collections.abc import Container, Mapping
from dataclasses import dataclass

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array, dot

Pair = tuple[int, int]
"""From the second point to the first."""


@facts(kw_only=False)
class Product:
    """dot·(d·e) + triple·(d × e), where d and e run between two points each; 1/mm, a number or (geometries,)."""

    d: Pair
    e: Pair
    dot: float | Array = 0.0
    triple: tuple[float | Array, float | Array, float | Array] = (0.0, 0.0, 0.0)

    def times(self, share: float | Array) -> "Product":
        """Return the product, counted `share` times."""
        x, y, z = self.triple
        return Product(self.d, self.e, share * self.dot, (share * x, share * y, share * z))


@facts(kw_only=False)
class Sum:
    """What one condition says must be nothing, mm.

    heights : (point, axis, share) of points that count by themselves
    target  : which driver's height is taken off; -1 where none is
    """

    products: tuple[Product, ...] = ()
    heights: tuple[tuple[int, int, float], ...] = ()
    constant: float | Array = 0.0
    target: int = -1


@dataclass(frozen=True, kw_only=True)
class Equation(ABC):
    """Conditions of the system that belong together; `body` is the part that gives where they cannot hold."""

    body: str

    @property
    @abstractmethod
    def points(self) -> tuple[int, ...]:
        """The points that it looks at."""

    @property
    def conditions(self) -> int:
        """How many conditions it has."""
        return 1

    @property
    def bushed(self) -> bool:
        """Whether a bushing gives here, on an axle that must be forced; else the part itself would have to."""
        return True

    def length_in(self, drawn: Array, given: Mapping[str, float | Array]) -> Array | None:
        """Return the length that it keeps, (geometries,) mm; `given` are links set otherwise than drawn."""
        return None

    def keeps_one_of(self, links: Container[str]) -> bool:
        """Return whether it keeps the length of one of these links."""
        return False

    @abstractmethod
    def written(self, drawn: Array, length: Array | None) -> tuple[Sum, ...]:
        """Return its conditions."""


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

    def keeps_one_of(self, links: Container[str]) -> bool:
        """Return whether its own link is one of them."""
        return self.link in links

    def written(self, drawn: Array, length: Array | None) -> tuple[Sum, ...]:
        """Return (|d|² − L²)/2L: the gap to first order."""
        assert length is not None
        pair = (self.i, self.j)
        return (Sum((Product(pair, pair, 0.5 / length),), constant=-length / 2),)

    def gap(self, x: Array, length: Array) -> Array:
        """Return how much farther apart than its length the two stand at points (3, n, positions), mm: exactly."""
        apart = x[:, self.i] - x[:, self.j]
        return np.asarray(np.sqrt(dot(apart, apart)) - length)


@dataclass(frozen=True, kw_only=True)
class Shared(Equation):
    """Links whose bushings share what does not fit: their gaps, each by its share, come to nothing together.

    shares : one a link, or each (geometries,)
    Its `length` holds all of theirs, (links, geometries) mm.
    """

    links: tuple[Distance, ...]
    shares: tuple[float | Array, ...]

    @property
    def points(self) -> tuple[int, ...]:
        """Both ends of every link."""
        return tuple(dict.fromkeys(point for link in self.links for point in link.points))

    def length_in(self, drawn: Array, given: Mapping[str, float | Array]) -> Array:
        """Return every link's length, (links, geometries) mm."""
        lengths = [link.length_in(drawn, given) for link in self.links]
        return np.stack(np.broadcast_arrays(*lengths))

    def keeps_one_of(self, links: Container[str]) -> bool:
        """Return whether one of its own is one of them."""
        return any(link.keeps_one_of(links) for link in self.links)

    def written(self, drawn: Array, length: Array | None) -> tuple[Sum, ...]:
        """Return the sum of the links' own conditions, each by its share."""
        assert length is not None
        conditions = [link.written(drawn, its)[0] for link, its in zip(self.links, length, strict=True)]
        both = list(zip(self.shares, conditions, strict=True))
        return (
            Sum(
                tuple(product.times(share) for share, condition in both for product in condition.products),
                constant=np.sum(
                    [np.asarray(share * condition.constant) for share, condition in both], axis=0
                ),
            ),
        )


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
    def conditions(self) -> int:
        """One for each axis."""
        return 3

    def written(self, drawn: Array, length: Array | None) -> tuple[Sum, ...]:
        """Return how far the copies are apart, one axis a condition."""
        return tuple(Sum(heights=((self.point, axis, 1.0), (self.ghost, axis, -1.0))) for axis in range(3))


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

    def written(self, drawn: Array, length: Array | None) -> tuple[Sum, ...]:
        """Return how far c stands out of the plane that the line and its own drawn offset from it span."""
        axis, arm = drawn[:, self.b] - drawn[:, self.a], drawn[:, self.c] - drawn[:, self.a]
        side = arm - axis * (dot(arm, axis) / dot(axis, axis))
        x, y, z = side / np.sqrt(dot(axis, axis) * dot(side, side))
        return (Sum((Product((self.c, self.a), (self.b, self.a), triple=(x, y, z)),)),)


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
    def conditions(self) -> int:
        """One for each way across the line."""
        return 2

    def written(self, drawn: Array, length: Array | None) -> tuple[Sum, ...]:
        """Return how far c stands off the line, two ways; by its drawn length conditions are gaps in mm."""
        axis = drawn[:, self.b] - drawn[:, self.a]
        scale = 1 / np.sqrt(dot(axis, axis))

        def across(kept: int) -> Sum:
            x, y, z = (scale if axis == kept else 0.0 for axis in range(3))
            return Sum((Product((self.c, self.a), (self.b, self.a), triple=(x, y, z)),))

        return tuple(across(kept) for kept in self.kept)


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

    def written(self, drawn: Array, length: Array | None) -> tuple[Sum, ...]:
        """Return how much higher than asked the wheels stand in the mean."""
        share = 1.0 / len(self.wheels)
        return (
            Sum(
                heights=tuple((wheel, 2, share) for wheel in self.wheels),
                constant=-drawn[2, list(self.wheels)].mean(axis=0),
                target=self.target,
            ),
        )
