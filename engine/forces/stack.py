"""Coil stacks: one to three springs on a damper, end to end.

Stack compression   how much shorter the whole stack is than free, mm.
Locked              a spring whose crossover ring or own coils allow no more.
Preload             stack compression with the damper fully extended; negative is a loose spring.

In series every spring carries the same force and their deflections add up, so a stack is one
polyline of compression against force, with a corner wherever a spring locks or a table has a row.
"""

from functools import cached_property

import numpy as np

from engine.document.schema import Spring
from engine.facts import facts
from engine.forces.polyline import Polyline
from engine.forces.unknown import rate_n_per_mm
from engine.linkage.vectors import Array, distinct


@facts
class Stack:
    """A series stack as a polyline.

    compression : (n,) mm, rising, from 0
    force       : (n,) N, rising
    free_length, solid_length : mm, of the whole stack; solid when every spring is locked
    """

    compression: Array
    force: Array
    free_length: float
    solid_length: float

    @cached_property
    def _curve(self) -> Polyline:
        return Polyline(self.compression, self.force)

    @property
    def solid_compression(self) -> float:
        """Compression at which the whole stack allows no more, mm."""
        return float(self.compression[-1])

    def at(self, compression: Array) -> tuple[Array, Array]:
        """Return force (N) and rate (N/mm) at compressions (…,) mm.

        Loose gives nothing. Past solid the last rate is carried on: the true force is without bound,
        and the limit `coil_solid` says where that begins.
        """
        force, slope = self._curve.on(compression)
        loose = compression < 0
        return np.where(loose, 0.0, force), np.where(loose, 0.0, slope)


def stack_of(springs: list[Spring]) -> Stack:
    """Return the series stack of one to three springs."""
    curves = [_curve(spring) for spring in springs]
    forces = distinct(np.concatenate([force for _, force, _ in curves]))
    total = np.zeros_like(forces)
    for deflection, force, lock in curves:
        # A locked spring deflects no further; a free one carries its last rate on.
        last = (deflection[-1] - deflection[-2]) / (force[-1] - force[-2])
        reached = np.interp(forces, force, deflection) + np.maximum(forces - force[-1], 0) * last
        total += np.minimum(reached, lock)
    rising = np.concatenate([[True], np.diff(total) > 1e-12])
    return Stack(
        compression=total[rising],
        force=forces[rising],
        free_length=sum(spring.free_length for spring in springs),
        solid_length=sum(
            spring.free_length - curve[2] for spring, curve in zip(springs, curves, strict=True)
        ),
    )


@facts
class Crossover:
    """Where a spring of the stack locks: its number, and the stack there (mm, N, N/mm before and after)."""

    spring: int
    compression: float
    force: float
    rate_before: float
    rate_after: float


def crossovers(springs: list[Spring]) -> tuple[Crossover, ...]:
    """Return where each spring but the last to lock stops giving, softest corner first."""
    stack = stack_of(springs)
    locks = []
    for number, spring in enumerate(springs):
        _, force, _ = _curve(spring)
        if force[-1] < stack.force[-1] - 1e-9:
            at = float(np.interp(force[-1], stack.force, stack.compression))
            before, after = (float(stack.at(np.array([at + side]))[1][0]) for side in (-1e-6, 1e-6))
            locks.append(
                Crossover(
                    spring=number,
                    compression=at,
                    force=float(force[-1]),
                    rate_before=before,
                    rate_after=after,
                )
            )
    return tuple(sorted(locks, key=lambda lock: lock.compression))


def _curve(spring: Spring) -> tuple[Array, Array, float]:
    """Return deflection (mm) and force (N) from free to locked, and the deflection at lock."""
    lock = spring.free_length - spring.solid_length
    if spring.stop is not None:
        lock = min(lock, spring.stop)
    if spring.table is None:
        return np.array([0.0, lock]), np.array([0.0, rate_n_per_mm(spring) * lock]), lock
    table = np.array(spring.table, dtype=float)
    if table[0, 0] > 0 or table[0, 1] > 0:
        table = np.vstack([[0.0, 0.0], table]) if table[0].all() else table
    return _cut_at(table, lock)


def _cut_at(table: Array, lock: float) -> tuple[Array, Array, float]:
    """Return a force table ended exactly at the lock, its last rate carried on if it is short."""
    deflection, force = table[:, 0], table[:, 1]
    last = (force[-1] - force[-2]) / (deflection[-1] - deflection[-2])
    at_lock = float(np.interp(lock, deflection, force) + max(lock - deflection[-1], 0) * last)
    inside = deflection < lock
    return np.append(deflection[inside], lock), np.append(force[inside], at_lock), lock
