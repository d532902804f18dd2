"""What sits between two points: its force and rate by length, and the lengths at which it ends.

Force      positive pushes the ends apart, N.
Rate       rise of that force as the unit shortens, N/mm.
Event      a length beyond which something has happened: `longer` or `shorter` says which way.
"""

from dataclasses import replace

import numpy as np

from engine.document.schema import (
    AirSpring,
    Bar,
    BumpStop,
    Coilover,
    Damper,
    SpringUnit,
    Strap,
)
from engine.document.units import AnyUnit
from engine.facts import facts
from engine.forces.air import Bag, bag_of
from engine.forces.gas import Gas, gas_of
from engine.forces.stack import Stack, stack_of
from engine.forces.stops import Pull, Stop, pull_of, stop_of
from engine.linkage.vectors import Array


@facts(kw_only=False)
class Event:
    """Something that happens when a unit passes a length."""

    kind: str
    length_mm: float
    longer: bool


@facts
class UnitLaw:
    """One unit's behaviour by its length.

    gas       : the damper's gas spring
    pull      : a strap that pulls when taut
    adapter   : mm made up between its mounts and its own eyes; the lengths here are between the mounts
    coil      : its coil stack; compression = free_reference − length
    bag, stop : what it is otherwise
    """

    name: str
    kind: str
    ends: tuple[str, str]
    events: tuple[Event, ...]
    gas: Gas | None = None
    stack: Stack | None = None
    free_reference: float = 0.0
    bag: Bag | None = None
    stop: Stop | None = None
    pull: Pull | None = None
    adapter: float = 0.0

    @property
    def springs(self) -> bool:
        """Return whether it is there to carry: a coil stack or a bag."""
        return self.stack is not None or self.bag is not None

    def at(self, length: Array) -> tuple[Array, Array]:
        """Return force (N) and rate (N/mm) at lengths (…,) mm. A strap pulls only if its load is known."""
        force, rate = np.zeros_like(length), np.zeros_like(length)
        parts = []
        if self.gas is not None:
            parts.append(self.gas.at(length))
        if self.pull is not None:
            parts.append(self.pull.at(length))
        if self.stack is not None:
            parts.append(self.stack.at(self.free_reference - length))
        if self.bag is not None:
            parts.append(self.bag.at(length))
        if self.stop is not None:
            parts.append(self.stop.at(length))
        for its_force, its_rate in parts:
            force, rate = force + its_force, rate + its_rate
        return force, rate

    def without_coil(self) -> "UnitLaw":
        """Return the law of what is left when its coils are taken out."""
        return replace(self, stack=None)

    def shut_at(self, length_mm: Array | float) -> "UnitLaw":
        """Return the law with a bag's valve shut at a height (or one for each geometry); others are as they were."""
        return self if self.bag is None else replace(self, bag=self.bag.shut_at(length_mm))

    def open_at(self, pressure_bar: float | None = None) -> "UnitLaw":
        """Return the law with a bag's valve open, at its stated gauge pressure or another; others are as they were."""
        return self if self.bag is None else replace(self, bag=self.bag.open_at(pressure_bar))


def law_of(unit: AnyUnit) -> UnitLaw:
    """Return a unit's behaviour by the distance between its mounts; a bag's valve is still open."""
    ends = (unit.ends[0], unit.ends[1])
    match unit:
        case Coilover():
            stack, adapter = stack_of(unit.springs), adapter_mm(unit)
            reference = unit.preload + unit.extended + adapter
            events = _damper_events(unit) + _captive_coil_events(unit, stack, reference)
            return UnitLaw(
                name=unit.name,
                kind=unit.kind,
                ends=ends,
                events=events,
                gas=gas_of(unit, adapter),
                stack=stack,
                free_reference=reference,
                adapter=adapter,
            )
        case Damper():
            adapter = adapter_mm(unit)
            gas = gas_of(unit, adapter)
            return UnitLaw(
                name=unit.name,
                kind=unit.kind,
                ends=ends,
                events=_damper_events(unit),
                gas=gas,
                adapter=adapter,
            )
        case SpringUnit():
            stack = stack_of(unit.springs)
            events = (
                Event("coil_loose", stack.free_length, longer=True),
                Event("coil_solid", stack.free_length - stack.solid_compression, longer=False),
            )
            return UnitLaw(
                name=unit.name,
                kind=unit.kind,
                ends=ends,
                events=events,
                gas=None,
                stack=stack,
                free_reference=stack.free_length,
            )
        case AirSpring():
            events = (
                Event("bag_max_height", unit.max_height, longer=True),
                Event("bag_min_height", unit.min_height, longer=False),
            )
            return UnitLaw(name=unit.name, kind=unit.kind, ends=ends, events=events, bag=bag_of(unit))
        case BumpStop():
            events = (
                Event("bump_stop_contact", unit.contact, longer=False),
                Event("bump_stop_solid", unit.contact - unit.solid, longer=False),
            )
            return UnitLaw(name=unit.name, kind=unit.kind, ends=ends, events=events, stop=stop_of(unit))
        case Bar():
            # It twists only where wheels part: engine.ride.bar. Along its ends it pushes nothing.
            return UnitLaw(name=unit.name, kind=unit.kind, ends=ends, events=())
        case Strap():
            events = (Event("strap_taut", unit.length, longer=True),)
            return UnitLaw(name=unit.name, kind=unit.kind, ends=ends, events=events, pull=pull_of(unit))


def adapter_mm(unit: Coilover | Damper) -> float:
    """Return the length made up at both ends of a damper, mm."""
    return 0.0 if unit.adapter is None else unit.adapter.top + unit.adapter.bottom


def damper_ends_mm(unit: Coilover | Damper) -> tuple[float, float]:
    """Return a damper's longest and shortest, between its mounts, mm."""
    adapter = adapter_mm(unit)
    return unit.extended + adapter, unit.compressed + adapter


def _damper_events(unit: Coilover | Damper) -> tuple[Event, ...]:
    extended, compressed = damper_ends_mm(unit)
    return (
        Event("damper_extended", extended, longer=True),
        Event("damper_compressed", compressed, longer=False),
    )


def _captive_coil_events(unit: Coilover, stack: Stack, reference: float) -> tuple[Event, ...]:
    """A coil on a damper can only be loose or solid between the damper's own ends."""
    solid_at = reference - stack.solid_compression
    events = []
    if reference < unit.extended + adapter_mm(unit):
        events.append(Event("coil_loose", reference, longer=True))
    if solid_at > unit.compressed + adapter_mm(unit):
        events.append(Event("coil_solid", solid_at, longer=False))
    return tuple(events)
