"""Everything that a job's stations take, worked out once for all papers; and the one sentence that says it."""

from dataclasses import dataclass

from engine.document.schema import Project
from engine.findings.finding import rules_of
from engine.sentences import Quantity, Sentence
from engine.shop.made import Made, worst
from engine.shop.parts import Maker, StationParts, station_parts
from engine.shop.room import roomy
from engine.shop.set_out import SetOut, set_out
from engine.shop.stock import METRIC, Stock
from engine.station.solved import SolvedStation, solve_station
from engine.workup import WorkUp

STEPS = 41


@dataclass(frozen=True, kw_only=True)
class JobParts:
    """A job's parts and mounts, station by station; a variant of a station is not made."""

    project: Project
    makers: tuple[Maker, ...]
    stations: tuple[StationParts, ...]
    mounts: tuple[SetOut, ...]
    stock: Stock = METRIC

    @property
    def works(self) -> tuple[WorkUp, ...]:
        """Return the stations worked up."""
        return tuple(maker.work for maker in self.makers)

    @property
    def solved(self) -> tuple[SolvedStation, ...]:
        """Return the stations solved."""
        return tuple(work.solved for work in self.works)

    @property
    def parts(self) -> list[Made]:
        """Return every part."""
        return [part for station in self.stations for part in station.parts]


def job_parts(project: Project, stock: Stock = METRIC, fitted: bool = True) -> JobParts:
    """Return what a job takes; raise the engine's errors for a linkage that cannot move.

    fitted : whether the parts are tried among everything else and proposals given room, which takes longest
    """
    works = [
        WorkUp(solve_station(station, f"stations[{number}]", STEPS))
        for number, station in enumerate(project.stations)
        if station.variant_of is None
    ]
    makers = tuple(Maker(work, rules_of(project.judging, work.station.judging), stock) for work in works)
    stations = [station_parts(maker) for maker in makers]
    if fitted:
        stations = [roomy(maker, its) for maker, its in zip(makers, stations, strict=True)]
    return JobParts(
        project=project,
        makers=makers,
        stations=tuple(stations),
        mounts=tuple(mount for work in works for mount in set_out(project, work.solved)),
        stock=stock,
    )


def verdict(parts: JobParts) -> tuple[str, Sentence]:
    """Return what has to be made in one sentence: how many, how heavy, the weakest; and the worst mark."""
    every = parts.parts
    count = sum(part.many for part in every)
    if not count:
        return "good", Sentence("Nothing to make: what there is to set out stands in the list.")
    told = {"mass": Quantity(sum(station.mass for station in parts.stations), "mass")}
    words = f"{count} pieces, {{mass}} of steel"
    names: tuple[str, ...] = ()
    loaded = [part for part in every if part.weakest is not None]
    weak = min(loaded, key=lambda part: part.weakest.factor if part.weakest else 0.0, default=None)
    if weak is not None and weak.weakest is not None:
        words += f"; the weakest is {{0}}: {weak.weakest.what}, {weak.weakest.factor:.1f} times its peak load"
        names = (weak.name,)
    return worst([one for part in every for one in part.said]), Sentence(words + ".", told, names)
