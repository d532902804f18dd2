"""Counting freedoms at the drawn position: what is loose, what is doubly held, what drives it.

The full system's slopes are taken once. Conditions that say nothing new are dropped (a hinge written
twice, a parallel link); the freedoms that are left must be those of the wheels.
"""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from engine.conventions import TOLERANCES
from engine.errors import LinkageRefused
from engine.facts import facts
from engine.linkage.blocks import Block, Condition, blocks_of
from engine.linkage.equations import Distance, Driver, Equation, Shared
from engine.linkage.geometry import Geometry, drawn_unknowns
from engine.linkage.kernel import Kernel
from engine.linkage.topology import Topology
from engine.linkage.vectors import Array
from engine.sentences import listed, spoken

FIGHTS_SHARE = 1e-3  # of what fights the wheels' rise; a link with less has nothing to do with it


@facts
class Assembly:
    """A linkage ready to be solved.

    equations      the topology's and then the drivers
    blocks         in solving order
    drivers        how many targets a position has: 1, or 2 for an axle free in heave and articulation
    spare          conditions that were dropped because others already say the same
    over_constrained  an axle that cannot articulate freely; in heave its wheels rise together all the same
    """

    topology: Topology
    equations: tuple[Equation, ...]
    blocks: tuple[Block, ...]
    drivers: int
    spare: tuple[Condition, ...]
    over_constrained: bool


def assembly_of(topology: Topology, geometry: Geometry, bodies: dict[str, list[str]], where: str) -> Assembly:
    """Return the assembly, or raise LinkageRefused naming what is loose or doubly held.

    geometry : a single drawn geometry, links as drawn
    bodies   : the station's bodies, to name what moves
    where    : the station's place in the file
    """
    conditions = [(n, c) for n, equation in enumerate(topology.equations) for c in range(equation.conditions)]
    slopes, wheels = (part[0] for part in _slopes(topology, geometry, conditions))
    kept = _independent(slopes)
    freedoms = topology.unknowns - len(kept)
    if len(topology.wheels) == 2 and freedoms == 1 and not topology.gives:
        giving = _giving(topology, [conditions[k] for k in kept], np.concatenate([slopes[kept], wheels]))
        if giving is not None:
            lengths = tuple(equation.length_in(geometry.drawn, {}) for equation in giving.equations)
            return assembly_of(giving, replace(geometry, lengths=lengths), bodies, where)
    forced = bool(topology.gives) or (len(topology.wheels) == 2 and freedoms == 1)
    drivers = _drivers(topology, freedoms)
    equations = topology.equations + drivers
    all_conditions = [conditions[k] for k in kept] + [
        (len(topology.equations) + k, 0) for k in range(len(drivers))
    ]
    driven = wheels if len(drivers) > 1 else wheels.mean(axis=0, keepdims=True)
    full = np.concatenate([slopes[kept], driven])
    _refuse_loose(topology, full, freedoms, len(drivers), bodies, where)
    _refuse_held(topology, full, slopes, conditions, freedoms, where)
    return Assembly(
        topology=topology,
        equations=equations,
        blocks=blocks_of(topology, equations, tuple(all_conditions)),
        drivers=len(drivers),
        spare=tuple(condition for k, condition in enumerate(conditions) if k not in kept),
        over_constrained=forced,
    )


def _giving(topology: Topology, conditions: list[Condition], slopes: Array) -> Topology | None:
    """Return an over-constrained axle with the links that fight its wheels' rise sharing what must give.

    Rigid links would make it roll as it rises, by many millimetres for a few of splay; bushings give a hundredth
    instead, all of them a little: least squares. There the gaps of the links are as the null vector of their slopes,
    so that what is across it stays shut: one condition less than links. None where no link is to blame.

    slopes : of the independent conditions and then of each wheel's height
    """
    equations = topology.equations
    null = np.linalg.svd(slopes.T, full_matrices=True)[2][-1]
    fighting = {
        n: float(null[k])
        for k, (n, _) in enumerate(conditions)
        if isinstance(equations[n], Distance) and equations[n].bushed and abs(null[k]) > FIGHTS_SHARE
    }
    if len(fighting) < 2:
        return None
    links = tuple(link for n in fighting if isinstance(link := equations[n], Distance))
    weights = np.array(list(fighting.values()))
    most = int(np.abs(weights).argmax())
    others = tuple(equation for n, equation in enumerate(topology.equations) if n not in fighting)
    shared = _sharing(links, most, (weights / weights[most]).tolist())
    return replace(topology, equations=others + shared, gives=links)


def _sharing(links: tuple[Distance, ...], most: int, ratios: Sequence[float | Array]) -> tuple[Shared, ...]:
    """Return the conditions that keep each link's gap to that of the one with the most as `ratios` say."""
    return tuple(
        Shared(body=links[0].body, links=(link, links[most]), shares=(1.0, -ratio))
        for n, (link, ratio) in enumerate(zip(links, ratios, strict=True))
        if n != most
    )


def sharing_anew(assembly: Assembly, geometry: Geometry) -> Assembly:
    """Return an over-constrained axle's assembly with each geometry's links sharing by their own slopes as drawn.

    Any other assembly is returned as it is.
    """
    topology, links = assembly.topology, assembly.topology.gives
    shared = [equation for equation in topology.equations if isinstance(equation, Shared)]
    if not shared:
        return assembly
    others = tuple(equation for equation in topology.equations if not isinstance(equation, Shared))
    many = len(others)  # the shared ones and the drivers come after all others
    kept = [(n, c) for block in assembly.blocks for n, c in block.conditions if n < many]
    alone = replace(topology, equations=others + links, gives=())
    lengths = tuple(equation.length_in(geometry.drawn, {}) for equation in alone.equations)
    each = [(many + n, 0) for n in range(len(links))]
    slopes = np.concatenate(_slopes(alone, replace(geometry, lengths=lengths), kept + each), axis=1)
    most = links.index(shared[0].links[1])
    null = _null(slopes, len(kept) + most)[:, len(kept) : len(kept) + len(links)]
    anew = _sharing(links, most, list(null.T))
    return replace(assembly, equations=others + anew + assembly.equations[len(topology.equations) :])


def _null(slopes: Array, most: int) -> Array:
    """Return what each geometry's conditions can be weighed with to come to nothing, that of one of them as 1.

    slopes  : (geometries, unknowns + 1, unknowns) mm/mm, independent but for one
    returns : (geometries, unknowns + 1)
    """
    rest = np.swapaxes(np.delete(slopes, most, axis=1), 1, 2)
    wanted = -slopes[:, most, :, None]
    try:
        found = np.linalg.solve(rest, wanted)
    except np.linalg.LinAlgError:  # a drawing whose links do not fight at all
        found = np.linalg.pinv(rest) @ wanted
    return np.insert(found[:, :, 0], most, 1.0, axis=1)


def _drivers(topology: Topology, freedoms: int) -> tuple[Driver, ...]:
    if len(topology.wheels) == 2 and freedoms >= 2:
        return tuple(Driver(wheels=(wheel,), target=target) for target, wheel in enumerate(topology.wheels))
    return (Driver(wheels=topology.wheels, target=0),)


def _slopes(topology: Topology, geometry: Geometry, conditions: list[Condition]) -> tuple[Array, Array]:
    """Return slopes of the conditions and of each wheel's height as drawn, (geometries, …, unknowns), all in mm/mm."""
    first, many = len(topology.turns), len(topology.equations)
    each = tuple(Driver(wheels=(wheel,), target=k) for k, wheel in enumerate(topology.wheels))
    block = Block(
        columns=tuple(range(topology.unknowns)),
        conditions=(*conditions, *((many + k, 0) for k in range(len(each)))),
        turns=tuple(range(first)),
        free=tuple(range(len(topology.free))),
        carriers=tuple(range(len(topology.carriers))),
        needed=tuple(range(len(topology.carriers))),
    )
    kernel = Kernel(topology, topology.equations + each, geometry, block)
    out = kernel.jacobian(drawn_unknowns(topology, geometry), geometry.drawn)
    out[:, :, :first] /= TOLERANCES.turn_weight_mm
    return out[:, : len(conditions)], out[:, len(conditions) :]


def _independent(slopes: Array) -> list[int]:
    """Return the numbers of a best-conditioned set of independent conditions.

    Gram–Schmidt with the largest remaining one taken first, each projected out twice for rounding's sake.
    """
    left = slopes.copy()
    kept: list[int] = []
    largest = float(np.linalg.norm(slopes, axis=1).max(initial=0.0))
    while len(kept) < min(slopes.shape):
        sizes = np.linalg.norm(left, axis=1)
        sizes[kept] = 0.0
        best = int(sizes.argmax())
        if sizes[best] <= TOLERANCES.rank * max(largest, 1e-300):
            break
        kept.append(best)
        way = left[best] / sizes[best]
        for _ in range(2):
            left = left - np.outer(left @ way, way)
    return sorted(kept)


def _refuse_loose(
    topology: Topology,
    full: Array,
    freedoms: int,
    drivers: int,
    bodies: dict[str, list[str]],
    where: str,
) -> None:
    """Raise if something can still move while the wheels are held."""
    _, sizes, directions = np.linalg.svd(full, full_matrices=True)
    loose = directions[int((sizes > TOLERANCES.rank * sizes.max(initial=1.0)).sum()) :]
    if not len(loose) or freedoms < drivers:
        return
    names = _moving_bodies(topology, loose, bodies)
    if not names:
        return
    if freedoms == drivers:
        if _passes(full, drivers):
            return
        raise LinkageRefused(
            "linkage_dead_centre",
            f"The {listed(names)} stands at dead centre as drawn, so it could go either way. "
            "Move one of its joints a few millimetres off the line.",
            names,
            where,
        )
    count = freedoms - drivers
    raise LinkageRefused(
        "linkage_loose",
        f"The {listed(names)} {'is' if len(names) == 1 else 'are'} loose: with the wheel held, "
        f"{count} freedom{'s' if count > 1 else ''} still move{'' if count > 1 else 's'}. "
        "Add a link or a second chassis point (a hinge) that holds it.",
        names,
        where,
    )


def _passes(full: Array, drivers: int) -> bool:
    """Return whether the wheels can still rise together where something is free for a moment.

    Links that come parallel leave an axle free to roll there and it goes straight on; a rod in line with its arm
    would have to run away. What tells them apart is whether the wheels' rise pushes on what is free.
    """
    rise = np.zeros(len(full))
    rise[-drivers:] = 1.0
    free = np.linalg.svd(full.T, full_matrices=True)[2]
    kept = int(np.linalg.matrix_rank(full, TOLERANCES.rank))
    return bool(np.abs(free[kept:] @ rise).max(initial=0.0) < TOLERANCES.rank)


def _moving_bodies(topology: Topology, loose: Array, bodies: dict[str, list[str]]) -> tuple[str, ...]:
    """Return the bodies whose own points move most in the loose directions."""
    first = len(topology.turns)
    turning = {turn.body: float(np.abs(loose[:, n]).max()) for n, turn in enumerate(topology.turns)}
    sway = {
        topology.names[point]: float(np.abs(loose[:, first + 3 * n : first + 3 * n + 3]).max())
        for n, point in enumerate(topology.free)
    }
    moving = dict(turning)
    for body, members in bodies.items():
        moving[body] = max([moving.get(body, 0.0), *(sway.get(member, 0.0) for member in members)])
    top = max(moving.values(), default=0.0)
    ranked = sorted((b for b in moving if moving[b] > 0.3 * top), key=lambda b: -moving[b])
    return tuple(ranked[:3])


def _refuse_held(
    topology: Topology, full: Array, slopes: Array, conditions: list[Condition], freedoms: int, where: str
) -> None:
    """Raise if the wheel cannot move although something else is not to blame."""
    if freedoms >= 1 and np.linalg.matrix_rank(full, TOLERANCES.rank) == full.shape[1]:
        return
    # The doubly held bodies are those whose conditions push against one another: the left null space.
    wheels = [p for p in topology.wheels]
    left = np.linalg.svd(slopes.T, full_matrices=True)[2][np.linalg.matrix_rank(slopes, TOLERANCES.rank) :]
    weight: dict[str, float] = {}
    for k, (number, _) in enumerate(conditions):
        body = topology.equations[number].body
        weight[body] = max(weight.get(body, 0.0), float(np.abs(left[:, k]).max(initial=0.0)))
    if not any(share > 1e-6 for share in weight.values()):
        # Independent conditions, as many as unknowns: every body that reaches the wheel has a part in it.
        weight = {topology.equations[n].body: 1.0 for n, _ in conditions if topology.equations[n].points}
    top = max(weight.values(), default=1.0)
    names = tuple(sorted((b for b in weight if weight[b] > 0.2 * top), key=lambda b: -weight[b])[:6])
    wheel = topology.names[wheels[0]]
    raise LinkageRefused(
        "linkage_held",
        f"The linkage is doubly held: {listed(names)} together leave the {spoken(wheel)} "
        "no way to travel. Take one link or hinge out, or join two bodies that are really one.",
        names,
        where,
    )
