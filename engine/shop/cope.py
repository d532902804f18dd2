"""The end of a tube cut to sit on another: the curve unrolled, to be wrapped round it and scribed.

Two round tubes, outside radii r (cut) and R (met), whose axes cross at an angle β and pass one another by e. At an angle φ
round the cut tube its wall meets the other at x(φ) = (√(R² − (r cos φ − e)²) + r sin φ cos β) / sin β along its axis.
"""

import math

import numpy as np

from engine.linkage.vectors import Array


class NoCope(ValueError):
    """Two tubes that do not meet all round."""


def cope(
    r: float, met: float, angle_deg: float, offset: float = 0.0, steps: int = 145
) -> tuple[Array, Array]:
    """Return the unrolled curve, (steps,) each: mm round the tube from its witness line, and mm along it, the shortest at 0.

    r, met : outside radii of the tube that is cut and of the one it meets, mm
    raises NoCope where the cut tube is wider than what it meets there, or runs along it
    """
    phi, along = _meets(r, met, angle_deg, offset, steps)
    return r * phi, along - along.min()


def set_back(r: float, met: float, angle_deg: float, offset: float = 0.0) -> float:
    """Return how far from the met tube's axis the cope's longest point stays, mm along the cut tube; raise NoCope."""
    return float(_meets(r, met, angle_deg, offset, 361)[1].min())


def _meets(r: float, met: float, angle_deg: float, offset: float, steps: int) -> tuple[Array, Array]:
    """Return the angles round the tube and where its wall meets the other, mm from that one's axis."""
    if not 5.0 <= angle_deg <= 175.0:
        raise NoCope(f"At {angle_deg:g}° the tubes run along one another; a cope needs 5° to 175°.")
    if r <= 0 or met <= 0:
        raise NoCope("A tube's radius is more than nothing.")
    if abs(offset) + r > met + 1e-9:
        raise NoCope(
            "The cut tube is wider there than the one it meets: flatten it, or bring the axes nearer together."
        )
    beta, phi = math.radians(angle_deg), np.linspace(0.0, 2 * math.pi, steps)
    deep = np.sqrt(np.maximum(met**2 - (r * np.cos(phi) - offset) ** 2, 0.0))
    along = (deep + r * np.sin(phi) * math.cos(beta)) / math.sin(beta)
    return phi, along
