"""Ride height as a shop measures it: a named place on the body, up from the floor.

Travel is counted at the wheel, up; the floor goes with the wheel, so the body's height falls as travel rises.
"""

from engine.document.schema import Station


def height_at_mm(station: Station, travel_mm: float) -> float | None:
    """Return the datum's height above the floor with the wheel at a travel, mm; None without a datum."""
    return None if station.datum is None else station.datum.height - travel_mm
