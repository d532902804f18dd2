"""One straight element of a space frame: its stiffness in its own axes, and what pull or push adds to it.

Own axes   x along it from its first end, z in the plane of x and `up`, y square to both.
Released   a turn that an end's joint does not hold: taken out by what the element itself then does (static condensation).
"""

import math

import numpy as np

from engine.frame.section import E_N_PER_MM2, G_N_PER_MM2, Section
from engine.linkage.vectors import Array


def stiffness(section: Section, long: float) -> Array:
    """Return an element's stiffness, (12, 12): both ends' x, y, z, turns about x, y, z (Euler–Bernoulli, Saint-Venant)."""
    k = np.zeros((12, 12))
    pull, twist = E_N_PER_MM2 * section.area / long, G_N_PER_MM2 * section.torsion / long
    for one, other, value in ((0, 6, pull), (3, 9, twist)):
        k[one, one] = k[other, other] = value
        k[one, other] = k[other, one] = -value
    _bend(k, E_N_PER_MM2 * section.inertia_z, long, (1, 5, 7, 11), 1.0)
    _bend(k, E_N_PER_MM2 * section.inertia_y, long, (2, 4, 8, 10), -1.0)
    return k


def _bend(k: Array, ei: float, long: float, at: tuple[int, int, int, int], sign: float) -> None:
    a, b, c, d = 12 * ei / long**3, sign * 6 * ei / long**2, 4 * ei / long, 2 * ei / long
    block = np.array([[a, b, -a, b], [b, c, -b, d], [-a, -b, a, -b], [b, d, -b, c]])
    k[np.ix_(at, at)] += block


def under_pull(long: float) -> Array:
    """Return what one newton of pull adds to an element's stiffness, (12, 12) (the cubic's own geometric stiffness)."""
    k = np.zeros((12, 12))
    for at, sign in (((1, 5, 7, 11), 1.0), ((2, 4, 8, 10), -1.0)):
        a, b, c, d = 36.0, sign * 3 * long, 4 * long**2, -(long**2)
        block = np.array([[a, b, -a, b], [b, c, -b, d], [-a, -b, a, -b], [b, d, -b, c]])
        k[np.ix_(at, at)] += block / (30 * long)
    return k


def turned(axes: Array) -> Array:
    """Return the turn from the vehicle's axes to an element's, (12, 12)."""
    t = np.zeros((12, 12))
    for block in range(4):
        t[3 * block : 3 * block + 3, 3 * block : 3 * block + 3] = axes
    return t


def released(k: Array, ends: tuple[Array | None, Array | None]) -> Array:
    """Return how a joint's own turns go with the element's, (12, 12), where some turns are not held.

    ends : of each end None where it is welded, else the turns that go free, (n, 3) in the element's axes
    returns : T such that the element moves T·u while its nodes move u, and pushes Tᵀ·K·T
    """
    free: list[Array] = []
    for end, turns in enumerate(ends):
        for turn in () if turns is None else turns:
            way = np.zeros(12)
            way[6 * end + 3 : 6 * end + 6] = turn
            free.append(way)
    if not free:
        return np.eye(12)
    ways = np.array(free).T
    inner = ways.T @ k @ ways
    found: Array = np.eye(12) - ways @ np.linalg.pinv(inner, rcond=1e-10, hermitian=True) @ ways.T @ k
    return found


def euler_johnson(section: Section, long: float, held: float, yields: float) -> float:
    """Return the push at which a member buckles, N: Euler's, and Johnson's where it is short.

    held : its effective length over its length: 0.5 both ends welded, 0.7 one, 1 none
    """
    inertia = min(section.inertia_y, section.inertia_z)
    slender = held * long / math.sqrt(inertia / section.area)
    if slender**2 >= 2 * math.pi**2 * E_N_PER_MM2 / yields:
        return math.pi**2 * E_N_PER_MM2 * inertia / (held * long) ** 2
    return section.area * yields * (1 - yields * slender**2 / (4 * math.pi**2 * E_N_PER_MM2))
