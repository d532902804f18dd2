"""What sits between two points: its force and rate by length, and the lengths at which it ends.

Force      positive pushes the ends apart, N.
Rate       rise of that force as the unit shortens, N/mm.
Event      a length beyond which something has happened: `longer` or `shorter` says which way.
"""

from dataclasses import dataclass, replace

import numpy as np

from engine.document.schema import (
    AirSpring,
    BumpStop,
    Coilover,
    Damper,
    SpringUnit,
    Strap,
)
from engine.forces.air import Bag, bag_of
from engine.forces.stack import Stack, stack_of
from engine.forces.stops import Stop, stop_of
from engine.linkage.vectors import Array

AnyUnit = Coilover | SpringUnit | Damper | AirSpring | BumpStop | Strap


@dataclass(frozen=True)
class Event:
    """Something that happens when a unit passes a length."""

    kind: str
    length_mm: float
    longer: bool


@dataclass(frozen=True)
class UnitLaw:
    """One unit's behaviour by its length.

    gas_force : N, constant over the stroke
    coil      : its coil stack; compression = free_reference − length
    bag, stop : what it is otherwise
    """

    name: str
    kind: str
    ends: tuple[str, str]
    events: tuple[Event, ...]
    gas_force: float = 0.0
    stack: Stack | None = None
    free_reference: float = 0.0
    bag: Bag | None = None
    stop: Stop | None = None

    def at(self, length: Array) -> tuple[Array, Array]:
        """Return force (N) and rate (N/mm) at lengths (mm). A strap only stops; it does not push."""
        force, rate = np.full_like(length, self.gas_force), np.zeros_like(length)
        parts = []
        if self.stack is not None:
            parts.append(self.stack.at(self.free_reference - length))
        if self.bag is not None:
            parts.append(self.bag.at(length))
        if self.stop is not None:
            parts.append(self.stop.at(length))
        for its_force, its_rate in parts:
            force, rate = force + its_force, rate + its_rate
        return force, rate

    def shut_at(self, length_mm: float) -> "UnitLaw":
        """Return the law with a bag's valve shut at a height; others are as they were."""
        return self if self.bag is None else replace(self, bag=self.bag.shut_at(length_mm))


def law_of(unit: AnyUnit) -> UnitLaw:
    """Return a unit's behaviour; a bag's valve is still open."""
    ends = (unit.ends[0], unit.ends[1])
    match unit:
        case Coilover():
            stack, reference = stack_of(unit.springs), unit.preload + unit.extended
            events = _damper_events(unit) + _captive_coil_events(unit, stack, reference)
            return UnitLaw(unit.name, unit.kind, ends, events, unit.gas_force, stack, reference)
        case Damper():
            return UnitLaw(unit.name, unit.kind, ends, _damper_events(unit), unit.gas_force)
        case SpringUnit():
            stack = stack_of(unit.springs)
            events = (
                Event("coil_loose", stack.free_length, longer=True),
                Event("coil_solid", stack.free_length - stack.solid_compression, longer=False),
            )
            return UnitLaw(unit.name, unit.kind, ends, events, 0.0, stack, stack.free_length)
        case AirSpring():
            events = (
                Event("bag_max_height", unit.max_height, longer=True),
                Event("bag_min_height", unit.min_height, longer=False),
            )
            return UnitLaw(unit.name, unit.kind, ends, events, bag=bag_of(unit))
        case BumpStop():
            events = (
                Event("bump_stop_contact", unit.contact, longer=False),
                Event("bump_stop_solid", unit.contact - unit.solid, longer=False),
            )
            return UnitLaw(unit.name, unit.kind, ends, events, stop=stop_of(unit))
        case Strap():
            return UnitLaw(unit.name, unit.kind, ends, (Event("strap_taut", unit.length, longer=True),))


def _damper_events(unit: Coilover | Damper) -> tuple[Event, ...]:
    return (
        Event("damper_extended", unit.extended, longer=True),
        Event("damper_compressed", unit.compressed, longer=False),
    )


def _captive_coil_events(unit: Coilover, stack: Stack, reference: float) -> tuple[Event, ...]:
    """A coil on a damper can only be loose or solid between the damper's own ends."""
    solid_at = reference - stack.solid_compression
    events = []
    if reference < unit.extended:
        events.append(Event("coil_loose", reference, longer=True))
    if solid_at > unit.compressed:
        events.append(Event("coil_solid", solid_at, longer=False))
    return tuple(events)
