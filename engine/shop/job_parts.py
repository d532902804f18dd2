"""Everything that a job's stations take, worked out once for all papers; and the one sentence that says it."""

from dataclasses import dataclass, replace
from functools import lru_cache

from engine.document.coming import with_finished_masses
from engine.document.ends import with_ends
from engine.document.make import Make
from engine.document.schema import Project, Station
from engine.facts import facts
from engine.findings.finding import Rules, rules_of
from engine.sentences import Quantity, Sentence
from engine.shop.frame_tubes import frame_parts, with_tubes
from engine.shop.made import Made, worst
from engine.shop.parts import Maker, StationParts, station_parts
from engine.shop.room import roomy
from engine.shop.set_out import Closeness, OneBolt, SetOut, close_enough, nodes_set_out, set_out
from engine.shop.stock import METRIC, Stock, in_sizes
from engine.station.solved import SolvedStation, solve_station
from engine.telling import Tell, to_nobody
from engine.workup import WorkUp

STEPS = 41
KEPT = 16  # stations worked up that are kept at hand


@facts
class JobParts:
    """A job's parts and mounts, station by station; a variant of a station is not made.

    frame : the pieces of the frame, and its nodes among the mounts; None where there is none
    """

    project: Project
    makers: tuple[Maker, ...]
    stations: tuple[StationParts, ...]
    mounts: tuple[SetOut, ...]
    stock: Stock = METRIC
    frame: StationParts | None = None

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
        return [part for station in self.chapters for part in station.parts]

    @property
    def chapters(self) -> tuple[StationParts, ...]:
        """Return the stations' parts and, last, the frame's."""
        return self.stations if self.frame is None else (*self.stations, self.frame)

    def only(self, name: str, with_frame: bool = False) -> "JobParts":
        """Return the parts of one station alone, or of the frame by its name; the frame's too where that is said."""
        return replace(
            self,
            makers=tuple(maker for maker in self.makers if maker.station.name == name),
            stations=tuple(
                its
                for maker, its in zip(self.makers, self.stations, strict=True)
                if maker.station.name == name
            ),
            mounts=tuple(mount for mount in self.mounts if mount.station == name),
            frame=self.frame
            if self.frame is not None and (with_frame or self.frame.station == name)
            else None,
        )

    def tabs_at(self, mount: SetOut) -> list[Made]:
        """Return the tabs that hold something at a place, drawn ones alone."""
        return [
            part
            for part in self.parts
            if part.kind == "tab"
            and part.station == mount.station
            and part.flat is not None
            and set(mount.tabs) & {part.subject[1], *(place for place, _ in part.also)}
        ]


def job_parts(
    project: Project, stock: Stock = METRIC, fitted: bool = True, tell: Tell = to_nobody
) -> JobParts:
    """Return what a job takes; raise the engine's errors for a linkage that cannot move.

    fitted : whether the parts are tried among everything else and proposals given room, which takes longest
    """
    stock = in_sizes(stock, project.sizes)
    asked = {
        station.name: _Asked(
            station=with_tubes(project, station.model_copy(update={"make": None})).model_dump_json(
                exclude_unset=True
            ),
            make=(station.make or Make()).model_dump_json(),
            where=f"stations[{number}]",
            rules=rules_of(project.judging, station.judging),
            stock=stock,
        )
        for number, station in enumerate(with_ends(with_finished_masses(project)).stations)
        if station.variant_of is None
    }
    makers: list[Maker] = []
    stations: list[StationParts] = []
    mounts: list[SetOut] = []
    for number, (name, one) in enumerate(asked.items()):
        tell(number / len(asked), f"the parts of {name}")
        maker, parts = _parts_of(one)
        if fitted:
            tell((number + 0.3) / len(asked), f"the parts of {name} among everything else")
            parts = _roomed(one)
        tell((number + 0.8) / len(asked), f"the mounts of {name}")
        makers.append(maker)
        stations.append(parts)
        solved, close = _worked(one.station, one.where).solved, _close(one.station, one.where)
        mounts += set_out(project, solved, close, one_bolts(maker))
    frame = frame_parts(project)
    if frame is not None:
        mounts += nodes_set_out(project, frame.station)
    return JobParts(
        project=project,
        makers=tuple(makers),
        stations=tuple(stations),
        mounts=tuple(mounts),
        stock=stock,
        frame=frame,
    )


def one_bolts(maker: Maker) -> list[OneBolt]:
    """Return the pivots of rockers that turn about two points on one bolt."""
    chassis = set(maker.station.chassis)
    found = []
    for mount in maker.seats:
        if mount.kind == "rocker":
            points = tuple(one for one in maker.station.bodies[mount.holds] if one in chassis)
            if len(points) > 1:
                found.append(OneBolt(f"{mount.holds} pivot", mount.spot, points))
    return found


@dataclass(frozen=True, kw_only=True)
class _Asked:
    """All that the parts of one station follow from; what was asked before is at hand."""

    station: str
    make: str
    where: str
    rules: Rules
    stock: Stock


@lru_cache(maxsize=KEPT)
def _worked(station: str, where: str) -> WorkUp:
    """Return a station worked up, from its JSON without what is made: a changed plate solves no linkage again."""
    return WorkUp(solve_station(Station.model_validate_json(station), where, STEPS))


@lru_cache(maxsize=KEPT)
def _close(station: str, where: str) -> Closeness:
    return close_enough(_worked(station, where).solved)


@lru_cache(maxsize=KEPT)
def _parts_of(asked: _Asked) -> tuple[Maker, StationParts]:
    work = _worked(asked.station, asked.where)
    maker = Maker(work, asked.rules, asked.stock, Make.model_validate_json(asked.make))
    return maker, station_parts(maker)


@lru_cache(maxsize=KEPT)
def _roomed(asked: _Asked) -> StationParts:
    return roomy(*_parts_of(asked))


def verdict(parts: JobParts) -> tuple[str, Sentence]:
    """Return what has to be made in one sentence: how many, how heavy, the weakest; and the worst mark."""
    every = parts.parts
    count = sum(part.many for part in every)
    if not count:
        return "good", Sentence("Nothing to make: what there is to set out stands in the list.")
    told = {"mass": Quantity(sum(station.mass for station in parts.chapters), "mass")}
    words = f"{count} pieces, {{mass}} of steel"
    names: tuple[str, ...] = ()
    loaded = [part for part in every if part.weakest is not None]
    weak = min(loaded, key=lambda part: part.weakest.factor if part.weakest else 0.0, default=None)
    if weak is not None and weak.weakest is not None:
        words += f"; the weakest is {{0}}: {weak.weakest.what}, {weak.weakest.factor:.1f} times its peak load"
        names = (weak.name,)
    return worst([one for part in every for one in part.said]), Sentence(words + ".", told, names)
