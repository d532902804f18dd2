"""Springs, pressures and what sets the height, for a document that is still being worked on."""

from dataclasses import asdict
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from engine.ride.roll import roll_of
from engine.ride.setting import Means, standings, with_setting
from engine.sizing.bags import ShelfBag, bag_options
from engine.sizing.bars import bar_options
from engine.sizing.pressures import pressure_options
from engine.sizing.springs import ShelfCoil, spring_options
from engine.station.solved import SolvedStation
from engine.vehicle.loaded import corner_masses
from server.answers import answer
from server.parts.models import Part
from server.sizing.shapes import StandsOut
from server.solving.asked import checked, solved_station, station_values
from server.solving.shapes import SentenceOut, SolveIn
from server.solving.vehicle import vehicle_view
from server.solving.view import sentence_values

router = Router(tags=["sizing"])


class SpringOut(StandsOut):
    """One coil and what it would do: N/mm, mm, mm; `name` and `stock` of one on the shelf.

    `units` are the coilovers with it on them, as in the project file; `unfit` says why it does not go on
    """

    name: str | None
    stock: int | None
    rate: float
    units: dict[str, dict[str, Any]]
    unfit: SentenceOut | None
    coil_left: float
    coil_short: bool
    seat_left: float
    inside: bool | None
    now: bool


class SpringsOut(Schema):
    """Springs side by side, and the frequencies that are wanted (Hz), if the job says."""

    options: list[SpringOut]
    wanted: list[float] | None
    purpose: str | None


@router.post("/springs", response=SpringsOut, operation_id="listSprings")
def springs(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Return what generic rates and the shelf's coils would do, preloaded to stand where it is wanted."""
    solved, rules = solved_station(body)
    coils = {part.name: part for part in Part.objects.filter(owner=request.user, kind="coil")}
    shelf = tuple(
        ShelfCoil(
            name=name,
            rate=part.values["rate_n_per_mm"],
            free_length=part.values["free_length_mm"],
            solid_length=part.values["solid_length_mm"],
            bore=part.values.get("inside_diameter_mm"),
            outside=part.values.get("outside_diameter_mm"),
        )
        for name, part in coils.items()
    )
    options = [
        {
            **{key: getattr(option, key) for key in SPRING_KEYS},
            "stock": coils[option.name].stock if option.name else None,
            "units": {unit.name: unit.model_dump(exclude_unset=True) for unit in option.fitted},
            "unfit": None if option.unfit is None else sentence_values(option.unfit),
        }
        for option in spring_options(solved, rules, shelf=shelf)
    ]
    band = rules.frequencies
    return answer(
        {"options": options, "wanted": None if band is None else list(band), "purpose": rules.purpose}
    )


SPRING_KEYS = (
    "name",
    "rate",
    "ride",
    "wheel_rate",
    "frequency",
    "coil_left",
    "coil_short",
    "seat_left",
    "inside",
    "now",
)


class PressureOut(StandsOut):
    """One pressure and what it would do: bar gauge, mm, share of what the bag is rated."""

    pressure: float
    height: float | None
    share: float | None
    inside: bool | None
    now: bool
    wanted: bool


@router.post("/pressures", response=list[PressureOut], operation_id="listPressures")
def pressures(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Return half-bar steps about the pressure that holds it where it is wanted; empty without bags."""
    return answer([asdict(option) for option in pressure_options(*solved_station(body))])


class BagOut(StandsOut):
    """A bag of the shelf in the place of those that are fitted: bar gauge, mm, share of what it is rated.

    `units` are the bags as in the project file; `scaled` where its area is the fitted bag's by width and heights
    """

    name: str
    stock: int
    units: dict[str, dict[str, Any]]
    pressure: float | None
    share: float | None
    height: float | None
    left_in_bump: float
    left_in_droop: float
    inside: bool | None
    scaled: bool
    now: bool


@router.post("/bags", response=list[BagOut], operation_id="listBags")
def bags(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Return what the shelf's bags would do in the place of those that are fitted, filled to stand where it is wanted."""
    solved, rules = solved_station(body)
    there = {part.name: part for part in Part.objects.filter(owner=request.user, kind="bag")}
    shelf = tuple(
        ShelfBag(
            name=name,
            least=part.values["min_height_mm"],
            greatest=part.values["max_height_mm"],
            widest=part.values.get("max_diameter_mm"),
            rated=part.values.get("max_pressure_bar"),
            area_least=part.values.get("area_least_mm2"),
            area_greatest=part.values.get("area_greatest_mm2"),
        )
        for name, part in there.items()
    )
    return answer(
        [
            {key: value for key, value in vars(option).items() if key != "fitted"}
            | {
                "stock": there[option.name].stock,
                "units": {bag.name: bag.model_dump(exclude_unset=True) for bag in option.fitted},
            }
            for option in bag_options(solved, rules, shelf)
        ]
    )


class MeansOut(Schema):
    """One way to set the height (perch, rod, pressure): mm or bar, now and at its ends."""

    by: str
    subjects: list[str]
    now: float
    least: float | None
    most: float | None


class SetInCase(Schema):
    """What a means must be set to in a load case, whether that can be set, and the station with it set."""

    name: str
    setting: float | None
    there: bool | None
    set: dict[str, Any] | None


class StandingOut(Schema):
    """What a means must be set to: for today's mass, the finished one, and as far up and down as is wanted.

    `there_…` says whether that can be set; null where the job does not say how far it can be turned
    `set_…` is the station with it set, and what is left to turn counted down
    """

    means: MeansOut
    today: float | None
    finished: float | None
    higher: float | None
    lower: float | None
    there_today: bool | None
    there_finished: bool | None
    set_today: dict[str, Any] | None
    set_finished: dict[str, Any] | None
    cases: list[SetInCase]


class StandingsOut(Schema):
    """Every means, and the masses (kg) that they are worked out for; `cases` by load cases' names."""

    corner: float
    finished: float | None
    cases: dict[str, float]
    means: list[StandingOut]


@router.post("/standings", response=StandingsOut, operation_id="listStandings")
def settings(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Return what perch, rod and pressure must be set to, now and with everything fitted."""
    solved, rules = solved_station(body)
    project, _ = checked(body)
    cases = corner_masses(project, solved.station.name)
    found = standings(solved, rules.bag_pressure_share[1], cases)
    mass = solved.station.mass
    return answer(
        {
            "corner": mass.corner,
            "finished": mass.finished,
            "cases": cases,
            "means": [
                {
                    **asdict(one),
                    "there_today": one.means.holds(one.today),
                    "there_finished": None if mass.finished is None else one.means.holds(one.finished),
                    "set_today": _set(body, solved, one.means, one.today),
                    "set_finished": _set(body, solved, one.means, one.finished),
                    "cases": [
                        {
                            "name": name,
                            "setting": setting,
                            "there": one.means.holds(setting),
                            "set": _set(body, solved, one.means, setting),
                        }
                        for name, setting in one.cases.items()
                    ],
                }
                for one in found
            ],
        }
    )


def _set(body: SolveIn, solved: SolvedStation, means: Means, setting: float | None) -> dict[str, Any] | None:
    return None if setting is None else station_values(with_setting(solved.station, means, setting), body)


class BarOut(Schema):
    """A stock bar: mm, N·m per degree of twist and of roll, N/mm at one wheel rising alone."""

    diameter: float
    bore: float
    twist_rate: float
    in_roll: float
    one_wheel: float
    enough: bool | None
    suits: bool
    now: bool


class BarsOut(Schema):
    """Stock bars side by side, and what bars must give at this station so that the vehicle leans no more than is wanted."""

    options: list[BarOut]
    wanted: float | None


@router.post("/bars", response=BarsOut, operation_id="listBars")
def bars(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Return what stock bars would do in the place of the one that is drawn; none where there is none."""
    project, _ = checked(body)
    solved, _ = solved_station(body)
    roll = roll_of(solved)
    wanted = None
    if roll is not None and any(unit.kind == "bar" for unit in solved.station.units):
        spare = vehicle_view(project)["spare"]
        # What the bar that is drawn gives beyond the need may go: a softer one can be enough.
        wanted = None if spare is None else max(0.0, roll.bar - spare)
    return answer({"options": [asdict(option) for option in bar_options(solved, wanted)], "wanted": wanted})
