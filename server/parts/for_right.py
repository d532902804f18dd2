"""The shelf as what plans may take from it: coils, dampers, straps and stops of which there is one left."""

from collections.abc import Iterable, Mapping

from engine.right.stock import Shelf, ShelfStop, ShelfStrap
from engine.sizing.dampers import ShelfDamper
from engine.sizing.springs import ShelfCoil

Row = tuple[str, str, int, Mapping[str, float]]


def shelf_of_rows(rows: Iterable[Row]) -> Shelf:
    """Return a shelf from rows: kind, name, how many there are, and its values as the table has them."""
    rows = list(rows)
    there = [(kind, name, values) for kind, name, stock, values in rows if stock > 0]
    return Shelf(
        counts={name: stock for _, name, stock, _ in rows},
        coils=tuple(
            ShelfCoil(
                name=name,
                rate=v["rate_n_per_mm"],
                free_length=v["free_length_mm"],
                solid_length=v["solid_length_mm"],
                bore=v.get("inside_diameter_mm"),
                outside=v.get("outside_diameter_mm"),
            )
            for kind, name, v in there
            if kind == "coil"
        ),
        dampers=tuple(
            ShelfDamper(name, v["extended_mm"], v["compressed_mm"])
            for kind, name, v in there
            if kind == "damper"
        ),
        straps=tuple(
            ShelfStrap(name, v["length_mm"], v.get("stretch_percent", 0.0) / 100)
            for kind, name, v in there
            if kind == "strap"
        ),
        stops=tuple(
            ShelfStop(name, v["height_mm"], v["squash_mm"]) for kind, name, v in there if kind == "bump_stop"
        ),
    )
