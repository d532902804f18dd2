"""Cross sections: what a tube, a box or a flat bar gives against pull, bending and twist.

Round      A = π/4·(D² − d²), I = π/64·(D⁴ − d⁴), J = 2·I, W = I/(D/2); τ = T·(D/2)/J.
Box        J by Bredt: 4·Am²·t/s round the wall's middle line; τ = T/(2·Am·t).
Flat       J = w·t³·(1/3 − 0.21·t/w·(1 − t⁴/12w⁴)) (Saint-Venant's series, Roark's form); τ = T·(3w + 1.8t)/(w²·t²).
Stress     von Mises, of pull and both bendings at the extreme fibre and of twist at the wall: √(σ² + 3·τ²).
"""

import math

import numpy as np

from engine.document.frame import Member
from engine.facts import facts
from engine.linkage.vectors import Array

E_N_PER_MM2 = 205_000.0
G_N_PER_MM2 = E_N_PER_MM2 / 2.6
KG_PER_MM3 = 7.85e-6


@facts
class Section:
    """mm², mm⁴, mm³: y bends in the direction of `up`, z across; torsion is τ = T/twist.

    round : whether both bendings meet in one fibre
    """

    area: float
    inertia_y: float
    inertia_z: float
    torsion: float
    bend_y: float
    bend_z: float
    twist: float
    round: bool

    def stress(self, axial: Array, bending_y: Array, bending_z: Array, torsion: Array) -> Array:
        """Return von Mises stress, N/mm², of N and N·mm of any like shape."""
        if self.round:
            bent = np.hypot(bending_y, bending_z) / self.bend_y
        else:
            bent = np.abs(bending_y) / self.bend_y + np.abs(bending_z) / self.bend_z
        direct = np.abs(axial) / self.area + bent
        found: Array = np.sqrt(direct**2 + 3 * (torsion / self.twist) ** 2)
        return found


def section_of(member: Member) -> Section:
    """Return a member's cross section."""
    if member.tube is not None:
        return _tube(member.tube.outside, member.tube.wall)
    if member.box is not None:
        return _box(member.box.height, member.box.width, member.box.wall)
    assert member.flat is not None
    return _flat(member.flat.width, member.flat.thickness)


def _tube(outside: float, wall: float) -> Section:
    bore = max(outside - 2 * wall, 0.0)
    area, inertia = math.pi / 4 * (outside**2 - bore**2), math.pi / 64 * (outside**4 - bore**4)
    bend = inertia / (outside / 2)
    return Section(
        area=area,
        inertia_y=inertia,
        inertia_z=inertia,
        torsion=2 * inertia,
        bend_y=bend,
        bend_z=bend,
        twist=2 * bend,
        round=True,
    )


def _box(height: float, width: float, wall: float) -> Section:
    inside_h, inside_w = height - 2 * wall, width - 2 * wall
    inertia_y = (width * height**3 - inside_w * inside_h**3) / 12
    inertia_z = (height * width**3 - inside_h * inside_w**3) / 12
    mean, round_ = (height - wall) * (width - wall), 2 * (height + width - 2 * wall)
    return Section(
        area=height * width - inside_h * inside_w,
        inertia_y=inertia_y,
        inertia_z=inertia_z,
        torsion=4 * mean**2 * wall / round_,
        bend_y=inertia_y / (height / 2),
        bend_z=inertia_z / (width / 2),
        twist=2 * mean * wall,
        round=False,
    )


def _flat(width: float, thickness: float) -> Section:
    wide, thin = max(width, thickness), min(width, thickness)
    inertia_y, inertia_z = width * thickness**3 / 12, thickness * width**3 / 12
    return Section(
        area=width * thickness,
        inertia_y=inertia_y,
        inertia_z=inertia_z,
        torsion=wide * thin**3 * (1 / 3 - 0.21 * thin / wide * (1 - thin**4 / (12 * wide**4))),
        bend_y=inertia_y / (thickness / 2),
        bend_z=inertia_z / (width / 2),
        twist=wide**2 * thin**2 / (3 * wide + 1.8 * thin),
        round=False,
    )
