"""The rate of a coil nobody has a label for: from its wire, or from two loads and two heights."""

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.schema import Spring


def wire_rate_n_per_mm(
    diameter: float, mean_diameter: float, active_coils: float, shear_modulus: float
) -> float:
    """Return a round-wire helical spring's rate.

    k = G·d⁴ / (8·D³·n): the torsion of a curved bar, its curvature neglected (Wahl, and every strength of
    materials text since). mm and N/mm².
    """
    return shear_modulus * diameter**4 / (8 * mean_diameter**3 * active_coils)


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
