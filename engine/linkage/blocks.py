"""The system cut into the smallest pieces that can be solved one after another.

A wheel side is one piece, a rocker behind it another: the wheel side never waits for the rocker.
Each unknown is matched with a condition; unknowns that need one another form a block (the strongly
connected parts of the matched graph), and the blocks come out in the order in which they depend.
"""

from collections.abc import Mapping
from functools import lru_cache

from engine.facts import facts
from engine.linkage.equations import Equation
from engine.linkage.graphs import components, matching
from engine.linkage.topology import Topology

KEPT = 64  # linkages put together alike: while a bracket is moved they stay so
Condition = tuple[int, int]
"""An equation's number, and which of its components (0, or 0–2 for a coincidence)."""


@facts(kw_only=False)
class Block:
    """One piece: its unknowns, its conditions, and the bodies whose points follow from it.

    columns   unknown numbers
    conditions      as many conditions
    turns     turns whose angle is one of its unknowns
    free      positions in `Topology.free` whose co-ordinates are among its unknowns
    carriers  carriers whose points can be worked out once it is solved, in order
    needed    those of the carriers that its own conditions need
    """

    columns: tuple[int, ...]
    conditions: tuple[Condition, ...]
    turns: tuple[int, ...]
    free: tuple[int, ...]
    carriers: tuple[int, ...]
    needed: tuple[int, ...]


@lru_cache(maxsize=KEPT)
def dependencies(topology: Topology) -> Mapping[int, frozenset[int]]:
    """Return, for each point, the numbers of the unknowns that move it."""
    depends: dict[int, frozenset[int]] = {point: frozenset() for point in topology.fixed}
    for number, turn in enumerate(topology.turns):
        for member in turn.members:
            depends[member] = frozenset((number,))
    first = len(topology.turns)
    for number, point in enumerate(topology.free):
        depends[point] = frozenset(range(first + 3 * number, first + 3 * number + 3))
    for carrier in topology.carriers:
        union = frozenset[int]().union(*(depends[point] for point in carrier.basis))
        for member in carrier.members:
            depends[member] = union
    return depends


@lru_cache(maxsize=KEPT)
def blocks_of(
    topology: Topology, equations: tuple[Equation, ...], conditions: tuple[Condition, ...]
) -> tuple[Block, ...]:
    """Return the blocks in solving order; `conditions` are independent and as many as the unknowns."""
    depends = dependencies(topology)
    touched = [
        frozenset[int]().union(*(depends[point] for point in equations[number].points))
        for number, _ in conditions
    ]
    owner = matching(touched, topology.unknowns)
    component = components([touched[condition] for condition in owner])
    order = _solving_order(touched, owner, component)
    ready = [_ready(topology, number, depends, component, order) for number in range(len(topology.carriers))]
    first = len(topology.turns)
    blocks = []
    for label in order:
        columns = tuple(column for column, its in enumerate(component) if its == label)
        mine = tuple(conditions[owner[column]] for column in columns)
        carriers = tuple(number for number, when in enumerate(ready) if when == label)
        free = tuple(
            (column - first) // 3 for column in columns if column >= first and (column - first) % 3 == 0
        )
        blocks.append(
            Block(
                columns=columns,
                conditions=mine,
                turns=tuple(column for column in columns if column < first),
                free=free,
                carriers=carriers,
                needed=_needed(topology, equations, mine, carriers),
            )
        )
    return tuple(blocks)


def _solving_order(touched: list[frozenset[int]], owner: list[int], component: list[int]) -> list[int]:
    """Return component numbers so that each comes after those that its conditions look at."""
    needs: dict[int, set[int]] = {label: set() for label in component}
    for column, label in enumerate(component):
        needs[label] |= {component[other] for other in touched[owner[column]]} - {label}
    order: list[int] = []
    while len(order) < len(needs):
        order += sorted(label for label in needs if label not in order and needs[label] <= set(order))
    return order


def _ready(
    topology: Topology,
    carrier: int,
    depends: Mapping[int, frozenset[int]],
    component: list[int],
    order: list[int],
) -> int:
    """Return the component after which a carrier's points can be worked out."""
    columns = {column for point in topology.carriers[carrier].basis for column in depends[point]}
    return max((component[column] for column in columns), key=order.index)


def _needed(
    topology: Topology,
    equations: tuple[Equation, ...],
    conditions: tuple[Condition, ...],
    carriers: tuple[int, ...],
) -> tuple[int, ...]:
    wanted = {point for number, _ in conditions for point in equations[number].points}
    needed: list[int] = []
    for number in reversed(carriers):
        if wanted & set(topology.carriers[number].members):
            needed.append(number)
            wanted |= set(topology.carriers[number].basis)
    return tuple(reversed(needed))
