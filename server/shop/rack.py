"""The user's shelf as the engine knows it: what parts may be proposed from, and what need not be bought."""

from dataclasses import replace
from typing import Any

from engine.shop.buying import OnShelf
from engine.shop.stock import METRIC, Stock, Thread, Tube, grade_of
from server.parts.models import Part


def shelf_of(user: Any) -> list[OnShelf]:
    """Return everything on a user's shelf."""
    return [
        OnShelf(
            kind=part.kind,
            name=part.name,
            stock=part.stock,
            price=part.price,
            lead_days=part.values.get("lead_days"),
            values={key: float(value) for key, value in part.values.items()},
        )
        for part in Part.objects.filter(owner=user)
    ]


def stock_of(shelf: list[OnShelf]) -> Stock:
    """Return generic stock with the sizes of a shelf added to it; a shelf's rod ends take the place of generic ones."""
    tubes = [
        Tube(
            outside=one.values["outside_mm"],
            wall=one.values["wall_mm"],
            grade=grade_of(one.values.get("yield_n_per_mm2", 235.0)),
        )
        for one in shelf
        if one.kind == "tube" and one.values.get("outside_mm", 0) > 2 * one.values.get("wall_mm", 0)
    ]
    known = {(tube.outside, tube.wall, tube.grade) for tube in METRIC.tubes}
    added = [tube for tube in dict.fromkeys(tubes) if (tube.outside, tube.wall, tube.grade) not in known]
    threads = {thread.size: thread for thread in METRIC.threads}
    for one in shelf:
        size = one.values.get("thread_mm", 0.0)
        if one.kind == "rod_end" and one.values.get("shank_mm") and size > 0:
            usual = METRIC.thread(size)
            threads[size] = Thread(
                size=size,
                pitch=one.values.get("pitch_mm") or usual.pitch,
                shank=one.values["shank_mm"],
                width=one.values.get("width_mm") or usual.width,
                head=one.values.get("head_mm") or usual.head,
            )
    plates = {*METRIC.plates, *(one.values["thickness_mm"] for one in shelf if one.kind == "plate")}
    bolts = {*METRIC.bolts, *(one.values["size_mm"] for one in shelf if one.kind == "bolt")}
    return replace(
        METRIC,
        tubes=tuple(sorted([*METRIC.tubes, *added], key=lambda tube: (tube.outside, tube.wall))),
        threads=tuple(threads[size] for size in sorted(threads)),
        plates=tuple(sorted(plates)),
        bolts=tuple(sorted(bolts)),
    )
