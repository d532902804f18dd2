"""From what units are squeezed to what the wheel feels: the one room where springs and air meet the ratio.

Wheel force  F_w = Σ MR·F, per wheel.
Wheel rate   K_w = Σ (MR²·k + F·dMR/dz), per wheel; the second term is the ratio's own change. (Virtual work.)
Squeezes     the units' lengths, ratios and slopes, units first and then any shape: positions of one linkage,
             or geometries by positions of many.
Filled       whether each bag's valve is shut, and at which height; open, it holds the stated pressure.
"""

from dataclasses import replace
from functools import cached_property

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.schema import Station
from engine.facts import facts
from engine.forces.units import UnitLaw, law_of
from engine.linkage.vectors import Array
from engine.station.tank import SharedAir


@facts
class Squeezes:
    """How long the units are and how fast they shorten; each (units, …), units in the station's order.

    length       mm between a unit's ends
    ratio, slope mm of unit per mm of wheel, shortening positive, and its change, 1/mm
    """

    length: Array
    ratio: Array
    slope: Array

    def at(self, which: int | slice | np.ndarray) -> "Squeezes":
        """Return some of the positions (k,), picked on the last axis."""
        return Squeezes(
            length=self.length[..., which], ratio=self.ratio[..., which], slope=self.slope[..., which]
        )


@facts
class UnitForce:
    """One unit's force N, its rate N/mm as it alone is shortened, its slope N per mm of travel, gauge bar in a bag."""

    force: Array
    rate: Array
    slope: Array
    pressure: Array | None = None

    def at(self, which: np.ndarray) -> "UnitForce":
        """Return some of the positions (k,), picked on the last axis."""
        pressure = None if self.pressure is None else self.pressure[..., which]
        return UnitForce(
            force=self.force[..., which],
            rate=self.rate[..., which],
            slope=self.slope[..., which],
            pressure=pressure,
        )


@facts
class AtWheel:
    """What the units do at each wheel, of the shape that was asked: N, N/mm, and the rate's part from the ratio."""

    force: Array
    rate: Array
    from_ratio: Array
    units: tuple[UnitForce, ...]

    def at(self, which: np.ndarray) -> "AtWheel":
        """Return some of the positions (k,), picked on the last axis."""
        return AtWheel(
            force=self.force[..., which],
            rate=self.rate[..., which],
            from_ratio=self.from_ratio[..., which],
            units=tuple(unit.at(which) for unit in self.units),
        )


@facts(kw_only=False)
class Springing:
    """Everything that pushes at one station, and what it has to carry.

    laws   : each unit's behaviour by its length, in the station's order
    tanks  : which bags share their air
    wheels : how many wheels share it
    weight_n : what the springs carry at each wheel
    """

    laws: tuple[UnitLaw, ...]
    tanks: tuple[SharedAir, ...]
    wheels: int
    weight_n: float

    @cached_property
    def number(self) -> dict[str, int]:
        """Return each unit's place in the order."""
        return {law.name: k for k, law in enumerate(self.laws)}

    @property
    def ends(self) -> tuple[tuple[str, str], ...]:
        """Return the points that each unit sits between: with the same ones the squeezes are the same."""
        return tuple(law.ends for law in self.laws)

    def law(self, unit: str) -> UnitLaw:
        """Return one unit's law."""
        return self.laws[self.number[unit]]

    @property
    def on_air(self) -> bool:
        """Return whether there is a bag among the units."""
        return any(law.bag is not None for law in self.laws)

    def at_wheel(self, squeezed: Squeezes) -> AtWheel:
        """Return force and rate at the wheel; nothing without units."""
        shared = {k: part for tank in self.tanks for k, part in self._shared(tank, squeezed)}
        units = [
            shared[k] if k in shared else self._alone(law, squeezed.length[k], squeezed.ratio[k])
            for k, law in enumerate(self.laws)
        ]
        force, from_springs, from_ratio = (np.zeros(squeezed.length.shape[1:]) for _ in range(3))
        for unit, ratio, slope in zip(units, squeezed.ratio, squeezed.slope, strict=True):
            force = force + ratio * unit.force
            from_springs = from_springs + ratio * unit.slope
            from_ratio = from_ratio + unit.force * slope
        return AtWheel(
            force=force / self.wheels,
            rate=(from_springs + from_ratio) / self.wheels,
            from_ratio=from_ratio / self.wheels,
            units=tuple(units),
        )

    def shut_at(self, length: Array) -> "Springing":
        """Return the springing with every bag's valve shut at its length, (units, …) mm; the rest is as it was."""
        laws = tuple(law.shut_at(length[k]) for k, law in enumerate(self.laws))
        return replace(self, laws=laws)

    def open_at(self, pressure_bar: float | None = None) -> "Springing":
        """Return the springing with every bag's valve open, each at its stated gauge pressure or all at one."""
        return replace(self, laws=tuple(law.open_at(pressure_bar) for law in self.laws))

    def pressure_for(self, squeezed: Squeezes, weight_n: float | None = None) -> float | None:
        """Return the gauge pressure (bar, the same in every bag) that carries a weight at one position, else today's.

        None without bags and where no pressure can: with the valve open force is linear in gauge pressure.
        """
        weight = self.weight_n if weight_n is None else weight_n
        flat, one = (float(self.open_at(bar).at_wheel(squeezed).force) for bar in (0.0, 1.0))
        if not self.on_air or not one > flat:
            return None
        needed = (weight - flat) / (one - flat)
        return needed if needed >= 0 else None

    def _alone(self, law: UnitLaw, length: Array, ratio: Array) -> UnitForce:
        if law.bag is not None:
            force, rate, pressure = law.bag.all_at(length)
            return UnitForce(force=force, rate=rate, slope=ratio * rate, pressure=pressure)
        force, rate = law.at(length)
        return UnitForce(force=force, rate=rate, slope=ratio * rate)

    def _shared(self, tank: SharedAir, squeezed: Squeezes) -> list[tuple[int, UnitForce]]:
        places = [self.number[name] for name in tank.bags]
        bags = [bag for name in tank.bags if (bag := self.law(name).bag) is not None]
        air = tank.at(bags, squeezed.length[places], -squeezed.ratio[places])
        return [
            (k, UnitForce(force=part.force, rate=part.rate, slope=part.slope, pressure=air.pressure))
            for k, part in zip(places, air.bags, strict=True)
        ]


def springing_of(station: Station) -> Springing:
    """Return a station's springing, its valves still open."""
    return Springing(
        tuple(law_of(unit) for unit in station.units),
        tuple(SharedAir(tuple(tank.bags), tank.volume) for tank in station.tanks),
        len(station.wheels),
        station.mass.sprung * GRAVITY_M_PER_S2,
    )
