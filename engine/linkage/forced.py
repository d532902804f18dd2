"""An axle on more links than it can articulate on, articulated all the same: what its bushings must give.

The wheels are put where they are wanted and every rigid part stays rigid; the links' lengths and the joints
give as little as they can, in the sense of least squares. That is a bushing of the same stiffness at each link.
"""

from dataclasses import replace

import numpy as np

from engine.facts import facts
from engine.linkage.blocks import Block
from engine.linkage.equations import Driver, Shared
from engine.linkage.geometry import geometry_of
from engine.linkage.kernel import Kernel
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array

HARD = 1e3  # a body's own distances weigh this much more than a bushing's


@facts(kw_only=False)
class Forced:
    """An articulated position that must be forced: points (3, n) mm, and how far each body gives, mm."""

    place: Array
    gives: dict[str, float]


def forced_articulation(linkage: Linkage, amount_mm: float, heave_mm: float = 0.0) -> Forced:
    """Return the axle with its first wheel up by the amount and its second down by as much.

    heave_mm : about where; a height that the axle reaches
    """
    from scipy.optimize import least_squares  # a fifth of a second to load, and rarely needed

    shared = linkage.topology
    own = tuple(equation for equation in shared.equations if not isinstance(equation, Shared))
    topology = replace(shared, equations=own + shared.gives, gives=())
    geometry = geometry_of(topology, linkage.points[None], linkage.set_lengths)
    equations = topology.equations + tuple(
        Driver(wheels=(wheel,), target=k) for k, wheel in enumerate(topology.wheels)
    )
    conditions = tuple((n, c) for n, equation in enumerate(equations) for c in range(equation.conditions))
    everything = tuple(range(len(topology.carriers)))
    block = Block(
        columns=tuple(range(topology.unknowns)),
        conditions=conditions,
        turns=tuple(range(len(topology.turns))),
        free=tuple(range(len(topology.free))),
        carriers=everything,
        needed=everything,
    )
    kernel = Kernel(topology, equations, geometry, block)
    soft = np.array([equations[n].bushed for n, _ in conditions])
    weights = np.where(soft, 1.0, HARD)
    targets = np.array([[heave_mm + amount_mm], [heave_mm - amount_mm]])
    level = linkage.follow(np.array([heave_mm])).solution
    points = level.motion.place.copy()

    def gaps(values: Array) -> Array:
        kernel.place(values[:, None], points)
        return kernel.residual(points, targets)[:, 0] * weights

    def slopes(values: Array) -> Array:
        kernel.place(values[:, None], points)
        weighted: Array = kernel.jacobian(values[:, None], points)[0] * weights[:, None]
        return weighted

    fit = least_squares(gaps, level.unknowns[:, 0], jac=slopes, x_scale="jac", max_nfev=60)
    left = np.abs(gaps(fit.x)) / weights
    gives: dict[str, float] = {}
    for (number, _), is_soft, gap in zip(conditions, soft, left, strict=True):
        if is_soft:
            body = equations[number].body
            gives[body] = max(gives.get(body, 0.0), float(gap))
    place = points[:, :, 0].copy()
    return Forced(place, gives)
