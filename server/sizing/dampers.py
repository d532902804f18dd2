"""Which dampers suit, for a document that is still being worked on."""

from dataclasses import asdict

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from engine.document.schema import Coilover, Damper
from engine.errors import EngineError
from engine.sizing.dampers import ShelfDamper, dampers_that_suit, same_all_round
from engine.station.solved import solve_station
from server.answers import answer
from server.parts.models import Part
from server.solving.asked import checked, solved_station
from server.solving.shapes import SolveIn

router = Router(tags=["sizing"])


class SuitsOut(Schema):
    """One damper in one place: mm; `moved` mm outward of its chassis end; `wants` and `ratio` damper ÷ wheel."""

    name: str
    unit: str
    stock: int | None
    stroke: float
    left_in_bump: float
    left_in_droop: float
    moved: float
    left: float
    fits: bool
    can: bool
    wants: float
    ratio: float
    now: bool
    extended: float
    compressed: float


class AllRoundOut(Schema):
    """One damper at every end: the ratio each station would want, and what it has (damper ÷ wheel)."""

    name: str
    wants: dict[str, float]
    has: dict[str, float]


class DampersOut(Schema):
    """Dampers that suit a station, and the shelf's at every end of the vehicle."""

    suits: list[SuitsOut]
    all_round: list[AllRoundOut]


@router.post("/dampers", response=DampersOut, operation_id="listDampers")
def dampers(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Return which of the shelf's dampers suit a station, and what ratio each wants at every end."""
    solved, rules = solved_station(body)
    parts = {part.name: part for part in Part.objects.filter(owner=request.user, kind="damper")}
    shelf = tuple(
        ShelfDamper(name, part.values["extended_mm"], part.values["compressed_mm"])
        for name, part in parts.items()
    )
    ends = {one.name: (one.extended, one.compressed) for one in shelf} | {
        unit.name: (unit.extended, unit.compressed)
        for unit in solved.station.units
        if isinstance(unit, Coilover | Damper)
    }
    suits = [
        asdict(one)
        | {"stock": parts[one.name].stock if one.name in parts and not one.now else None}
        | dict(zip(("extended", "compressed"), ends[one.name], strict=True))
        for one in dampers_that_suit(solved, rules, shelf)
    ]
    project, _ = checked(body)
    everywhere = []
    for number, station in enumerate(project.stations):
        try:
            everywhere.append(solve_station(station, f"stations[{number}]", 9))
        except EngineError:
            continue  # it says so on its own sheet
    return answer(
        {"suits": suits, "all_round": [asdict(one) for one in same_all_round(everywhere, rules, shelf)]}
    )
