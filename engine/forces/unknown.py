"""The rate of a coil nobody has a label for: from its wire, or from two loads and two heights."""

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.schema import Spring
from engine.linkage.roots import root_between


def wire_rate_n_per_mm(
    diameter: float, mean_diameter: float, active_coils: float, shear_modulus: float
) -> float:
    """Return a round-wire helical spring's rate.

    k = G·d⁴ / (8·D³·n): the torsion of a curved bar, its curvature neglected (Wahl, and every strength of
    materials text since). mm and N/mm².
    """
    return shear_modulus * diameter**4 / (8 * mean_diameter**3 * active_coils)


DEAD_COILS = 1.5  # closed and ground ends: what of the solid height does not move
STEEL_SHEAR_N_PER_MM2 = 78_500.0


def wire_mm(rate: float, bore: float, solid_length: float) -> float | None:
    """Return the wire of a steel coil of a rate (N/mm) that is so wide inside and so long when solid, mm.

    Its coils are as many as its solid length holds; None where no wire gives the rate.
    """

    def stiffer(wire: float) -> float:
        coils = solid_length / wire - DEAD_COILS
        return wire_rate_n_per_mm(wire, bore + wire, coils, STEEL_SHEAR_N_PER_MM2) - rate

    thin, thick = solid_length / 200, solid_length / (DEAD_COILS + 0.5)
    if not stiffer(thin) < 0 < stiffer(thick):
        return None
    return root_between(thin, thick, stiffer(thin), stiffer(thick), stiffer, 1e-3)


def two_load_rate_n_per_mm(one: tuple[float, float], other: tuple[float, float]) -> float:
    """Return the rate from two (load kg, height mm): the heavier load leaves it lower."""
    (mass, height), (more, lower) = one, other
    return (more - mass) * GRAVITY_M_PER_S2 / (height - lower)


def rate_n_per_mm(spring: Spring) -> float:
    """Return a spring's rate however it was given; a spring with a table has none of its own."""
    if spring.rate is not None:
        return spring.rate
    if spring.wire is not None:
        wire = spring.wire
        return wire_rate_n_per_mm(wire.diameter, wire.mean_diameter, wire.active_coils, wire.shear_modulus)
    assert spring.two_loads is not None, "a spring with a table has no single rate"
    one, other = spring.two_loads
    return two_load_rate_n_per_mm((one[0], one[1]), (other[0], other[1]))
