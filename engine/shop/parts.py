"""Everything that one station takes: proposed from stock, strong enough by the shop's factor, or as the job says.

A choice of `make.parts` takes the place of the proposal for the same thing; towers, notches, sleeves, gussets and cut
plates stand only in choices, but for a tower where a mount is out of every tab's reach of the nearest structure.
"""

from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import cached_property, partial
from typing import Any, TypeVar

import numpy as np

from engine.document.check_make import subject_of
from engine.document.coming import wheels_of
from engine.document.links import link_ends
from engine.document.make import (
    AdapterChoice,
    CupChoice,
    GussetChoice,
    Make,
    NotchChoice,
    PlateChoice,
    RodChoice,
    SleeveChoice,
    TabChoice,
    TemplateChoice,
    TowerChoice,
)
from engine.document.schema import AirSpring, Coilover, Damper, RockerPlate, Station, Strap
from engine.document.threads import LEAST_ENGAGEMENT, NoThread
from engine.document.units import AnyUnit
from engine.facts import facts
from engine.findings.finding import Rules
from engine.linkage.vectors import Array
from engine.loads.peak import Most, Peak
from engine.sentences import Quantity, Sentence, length
from engine.shop.cups import cups_made
from engine.shop.eyed import Eyed, eyed_link, eyed_made, eyes_on, said_of_eyes
from engine.shop.gussets import with_gussets
from engine.shop.links import link_made, link_member
from engine.shop.made import Cut, Figure, Hardware, Made, Remedy, Said
from engine.shop.members import Members, coaxial_with
from engine.shop.mounts import Mount, grounds_of, mounts_of, unit_load
from engine.shop.notch import NoNotch, notch_made
from engine.shop.rocker_joints import RockerJoints, bore_about, pivot_bolt_within, rocker_joints
from engine.shop.rockers import rocker_checks, rocker_loads, rocker_made
from engine.shop.rod_ends import ends_of, said_of_shanks, said_of_threads, shank_factor, thread_factor
from engine.shop.rods import Borne, RodMade, bears, lightest, made
from engine.shop.small import adapter_made, gusset_made, sleeve_made, strap_made, template_made
from engine.shop.stacks import Member, meet
from engine.shop.stock import METRIC, Stock
from engine.shop.strength import Check, weakest
from engine.shop.tab_made import tab_made, tab_name
from engine.shop.tabs import NoTab
from engine.shop.tubes import NoTube, tower_for, tower_made, tube_of
from engine.sizing.rocker.plate import Plate, plate_of
from engine.sizing.rocker.wheel_side import NoRocker, RockerHere, rockers_here, wheel_side_of
from engine.workup import WorkUp

CUT_LONG_MM = 15.0
PARALLEL, TOUCH_MM = 0.98, 0.5  # cosine of two bolts that run alike; mm that two stacks may seem to share
PLATE_LEAST_MM = 6.0  # of a rocker
HEAVY_KG, HEAVY_SHARE = 2.0, 0.015  # of one part, and of what the wheel carries
C = TypeVar("C")


@facts
class StationParts:
    """Everything that one station takes."""

    station: str
    parts: tuple[Made, ...]
    factor: float

    @property
    def mass(self) -> float:
        """Return the mass of all of them on the vehicle, kg."""
        return sum(part.mass * part.many for part in self.parts)

    def of(self, kind: str) -> list[Made]:
        """Return the parts of a kind."""
        return [part for part in self.parts if part.kind == kind]


def station_parts(its: "Maker") -> StationParts:
    """Return what a solved station takes, in the order in which it is made: rods, rockers, mounts, the rest."""
    made = (*its.rods(), *its.rockers(), *with_gussets(its.mounts()), *its.rest())
    parts = [weighed(part, its.station) for part in made]
    return StationParts(station=its.station.name, parts=tuple(_named_once(parts)), factor=its.factor)


def weighed(part: Made, station: Station) -> Made:
    """Return a part with a note where it is heavy for the wheel that it hangs on."""
    most = max(HEAVY_KG, HEAVY_SHARE * station.mass.corner)
    if part.mass <= most:
        return part
    told = {"mass": Quantity(part.mass, "mass"), "most": Quantity(most, "mass")}
    words = (
        "{0} weighs {mass}, more than {most}: cut a hole in it, or take a higher grade and a thinner wall."
    )
    return part.saying([Said(mark="note", say=Sentence(words, told, (part.name,)))])


def _named_once(parts: list[Made]) -> Iterator[Made]:
    """Yield parts, a name that is taken already with a number after it."""
    seen: dict[str, int] = {}
    for part in parts:
        seen[part.name] = seen.get(part.name, 0) + 1
        yield part if seen[part.name] == 1 else replace(part, name=f"{part.name} {seen[part.name]}")


def _in_one_another(mount: Mount, tab: Made, before: list[tuple[Mount, Made]]) -> Iterator[Said]:
    """Yield a fault where a tab's bolt, with all that stands on it, runs into that of another beside it on one line."""
    for other, its in before:
        if (
            other.on != mount.on
            or abs(float(other.bolt @ mount.bolt)) < PARALLEL
            or not (its.stacks and tab.stacks)
        ):
            continue
        way = other.spot - mount.spot
        along = float(way @ mount.bolt)
        apart = float(np.linalg.norm(way - along * mount.bolt))
        stack = its.stacks[0] if float(other.bolt @ mount.bolt) > 0 else its.stacks[0].turned
        deep = meet(tab.stacks[0], stack, apart, along)
        if deep > TOUCH_MM:
            words = "The bolts of {0} and {1} run {deep} into one another along one line: hold {2} and {3} with one bolt between one pair of tabs, or move them apart."
            names = (tab.name, its.name, mount.holds, other.holds)
            yield Said(mark="fault", say=Sentence(words, {"deep": length(deep)}, names))


class Maker:
    """What all parts of one station are made from."""

    def __init__(self, work: WorkUp, rules: Rules, stock: Stock = METRIC, make: Make | None = None) -> None:
        """Take a station worked up; `make` what is chosen where the station itself does not say it."""
        self.work, self.rules, self.stock = work, rules, stock
        self.station: Station = work.station
        self.make = make or self.station.make or Make()
        self.factor = self.make.factor
        self.peak: Peak | None = work.peak(rules.loading)
        self.hands = wheels_of(self.station) if self.station.kind == "corner" else 1
        self.chosen: dict[tuple[str, ...], Any] = {}
        for part in self.make.parts:
            thing = subject_of(part)
            if thing is not None:
                self.chosen[thing] = part
        self.seats: list[Mount] = []
        self.rockers_here = rockers_here(work.solved)

    def choice(self, kind: type[C], *thing: str) -> C | None:
        """Return the choice for something, None where it is left to be proposed."""
        its = self.chosen.get(thing)
        return its if isinstance(its, kind) else None

    def choices(self, kind: type[C]) -> list[C]:
        """Return every choice of a kind."""
        return [part for part in self.make.parts if isinstance(part, kind)]

    def rods(self) -> Iterator[Made]:
        """Yield the rods."""
        for name in self.work.linkage.bodies:
            if link_ends(self.station, name) is None:
                continue
            plates = self.choice(PlateChoice, "plate", name)
            if plates is not None:
                try:
                    yield self.link(name, plates)
                except NoThread as error:
                    yield self._refused("plate", None, plates.name, str(error), plates)
            else:
                choice = self.choice(RodChoice, "rod", name)
                try:
                    yield self.rod(name, choice)
                except NoThread as error:
                    yield self._refused(
                        "rod", None, choice.name if choice else name, str(error), choice, of=name
                    )

    def link(self, name: str, plates: PlateChoice) -> Made:
        """Return a link of plates; raise NoThread where no bolt goes through its holes."""
        long, load = self._borne(name)
        eyes = eyes_on(self.work.linkage, name)
        return link_made(self.station.name, long, plates, load, self.stock, self.factor, self.hands, eyes)

    def _borne(self, name: str) -> tuple[float, Borne]:
        """Return a rod's length between its joints, mm, and the most that it bears."""
        station, linkage = self.station, self.work.linkage
        set_to = station.links[name].length if name in station.links else None
        ends = link_ends(station, name)
        assert ends is not None
        one, other = (linkage.points[linkage.index[point]] for point in ends)
        long = set_to or float(np.linalg.norm(one - other))
        if self.peak is None:
            return long, Borne()
        bent = self.peak.bent.get(name)
        if bent is not None:
            case = self.peak.bent_case[name]
            return long, Borne(bent.push, bent.pull, bent.across, bent.moment, case, case, case)
        push, pull = self.peak.pushes.get(name, Most()), self.peak.pulls.get(name, Most())
        return long, Borne(push.value, pull.value, push_case=push.case, pull_case=pull.case)

    def rod(self, name: str, choice: RodChoice | None) -> Made:
        """Return a rod as chosen, or proposed; one with an eye on it stands on bushes where its threads are not said."""
        if self.is_bushed(name):
            linkage, station = self.work.linkage, self.station.name
            its = self._eyed(name, choice)
            return eyed_made(station, linkage, its, choice, self.stock, self.factor, self.hands)
        long, load = self._borne(name)
        push, pull = load.push, load.pull
        said = self.station.rods.get(name)
        ends = ends_of(self.stock, said, long, max(pull, push), self.factor)
        tube = (
            tube_of(choice.tube)
            if choice and choice.tube
            else lightest(self.stock, long, ends, load, self.factor)
        )
        rod = made(long, tube, ends, load)
        extra = choice.cut_long if choice else 0.0
        checks = []
        if rod.factor is not None:
            checks.append(Check(what="rod buckling", factor=rod.factor, case=load.push_case))
        if pull > 0:
            stretched = tube.area * tube.yields / pull
            checks.append(Check(what="tube pulled", factor=stretched, case=load.pull_case))
        if rod.bent is not None:
            checks.append(Check(what="bent at its eye", factor=rod.bent, case=load.bent_case))
        if max(pull, push) > 0:
            holds = thread_factor(ends, max(pull, push))
            checks.append(Check(what="thread of its end", factor=holds, case=load.most_case))
        if load.across > 0:
            bears_across = shank_factor(ends, load.across)
            checks.append(Check(what="shank of its end, bent", factor=bears_across, case=load.bent_case))
        hardware = []
        for end in ends:
            thread = f"{end.said} {end.hand}-hand"
            hardware += [
                Hardware(what="rod end", size=f"{thread}, shank {end.shank:g} mm"),
                Hardware(what="weld-in insert", size=f"{thread}, for {tube.said}"),
                Hardware(what="jam nut", size=thread),
            ]
        figures = [
            Figure(key="tube_length", name="Cut the tube to", value=rod.tube_length + extra),
            Figure(key="tube", name="Tube", value=tube.said, measures="words"),
            Figure(key="centre_to_centre", name="Between joint centres", value=rod.centre_to_centre),
            Figure(key="change_per_turn", name="A turn of the tube", value=rod.change_per_turn, measures="pitch"),
            Figure(key="longer", name="Can still be made longer", value=_least(rod.out, None if said is None else said.longer)),
            Figure(key="shorter", name="Can still be made shorter", value=_least(rod.into, None if said is None else said.shorter)),
            *(Figure(key=f"end_{n}", name=f"End {n}", value=f"{end.said} {end.hand}-hand, {end.engagement:.1f} mm in", measures="words") for n, end in enumerate(ends, 1)),
            Figure(key="push", name="Greatest push", value=push, measures="force"),
            Figure(key="push_case", name="It comes", value=load.push_case or "in no case", measures="words"),
            Figure(key="pull", name="Greatest pull", value=pull, measures="force"),
            Figure(key="pull_case", name="It comes", value=load.pull_case or "in no case", measures="words"),
            Figure(key="buckling_factor", name="Buckles at so many times its push", value=rod.factor, measures="factor"),
        ]  # fmt: skip
        if rod.bent is not None:
            figures.append(
                Figure(
                    key="bent", name="Bears bending with it so many times", value=rod.bent, measures="factor"
                )
            )
        if extra:
            figures.insert(
                1, Figure(key="cut_long", name="Of it left on till the cycle has passed", value=extra)
            )
        return Made(
            station=self.station.name,
            name=choice.name if choice else name,
            kind="rod",
            subject=("rod", name),
            proposed=said is None and choice is None,
            hands=self.hands,
            cut=Cut(tube=tube, length=max(rod.tube_length + extra, 0.0)),
            hardware=tuple(hardware),
            checks=tuple(checks),
            figures=tuple(figures),
            said=(*self._said_of_rod(name, rod, load), *said_of_threads(name, rod, load, self.stock, self.factor), *self._said_of_eyes(name, rod, load), *self._too_early(name, extra)),
            choice={"kind": "rod", "name": choice.name if choice else name, "body": name, "cut_long": extra,
                    "tube": {"outside": tube.outside, "wall": tube.wall, "grade": tube.grade}},
        )  # fmt: skip

    def is_bushed(self, name: str) -> bool:
        """Return whether a link stands on bushes: an eye on it, nothing said of threads, and not made of plates."""
        return (
            len(self.station.bodies[name]) > 2 and name not in self.station.rods and not self.is_plated(name)
        )

    def is_plated(self, name: str) -> bool:
        """Return whether a link is made of plates: an eye's bolt goes through them."""
        return self.choice(PlateChoice, "plate", name) is not None

    def _eyed(self, name: str, choice: RodChoice | None) -> Eyed:
        long, load = self._borne(name)
        ends = link_ends(self.station, name) or ()
        joints = {} if self.peak is None else self.peak.joints
        tube = tube_of(choice.tube) if choice and choice.tube else None
        most = max(joints.get(end, Most()).value for end in ends)
        return eyed_link(name, long, load, most, tube, self.stock, self.factor)

    def _said_of_eyes(self, name: str, rod: RodMade, load: Borne) -> Iterator[Said]:
        """Yield what threaded ends and the tube of a link with eyes ask for."""
        if len(self.station.bodies[name]) > 2:
            yield from said_of_shanks(name, rod, load, self.stock, self.factor)
            yield from said_of_eyes(self.work.linkage, name, rod.tube)

    def _too_early(self, name: str, extra: float) -> Iterator[Said]:
        """Yield a note where a rod that can no longer be made longer would be cut before anybody has cycled it."""
        if extra > 0 or not self.set_by_rods(name):
            return
        remedy = Remedy(
            say=Sentence("Leave {it} on.", {"it": length(CUT_LONG_MM)}), change={"cut_long": CUT_LONG_MM}
        )
        words = "{0} sets the ride height: cut it long until the cycle has passed."
        yield Said(mark="note", say=Sentence(words, names=(name,)), remedy=remedy)

    def set_by_rods(self, name: str) -> bool:
        """Return whether a rod turns a rocker: its length is found on the floor."""
        return any(here.rod == name for here in self.rockers_here)

    def _said_of_rod(self, name: str, rod: RodMade, load: Borne) -> Iterator[Said]:
        least = LEAST_ENGAGEMENT
        if rod.tube_length <= 0:
            told = {"by": length(-rod.tube_length), "long": length(rod.centre_to_centre)}
            words = (
                "{0} is {long} between its joints, and its two ends alone are {by} longer: take shorter ends."
            )
            yield Said(mark="fault", say=Sentence(words, told, (name,)))
        if rod.change_per_turn == 0:
            words = "Both ends of {0} have threads of one hand: it cannot be adjusted in place. Make one left-handed."
            remedy = Remedy(
                say=Sentence("Make one left-handed."), change={"hands": ["right", "left"]}, into="rods"
            )
            yield Said(mark="fault", say=Sentence(words, names=(name,)), remedy=remedy)
        for end in rod.ends:
            if end.out < -1e-9:
                told = {"held": length(end.engagement), "more": length(-end.out)}
                words = "{0} holds {held} of thread: screw it in {more} more."
                remedy = Remedy(
                    say=Sentence("Hold {least} of thread.", {"least": length(least * end.thread)}),
                    change={"engagement": least * end.thread},
                    into="rods",
                )
                yield Said(mark="fault", say=Sentence(words, told, (name,)), remedy=remedy)
                break
        for end in rod.ends:
            if end.into < -1e-9:
                told = {"more": length(-end.into)}
                words = "There is no room for the jam nut of {0}: screw its end out {more}."
                remedy = Remedy(
                    say=Sentence("Screw it out {more}.", told),
                    change={"engagement": end.engagement + end.into},
                    into="rods",
                )
                yield Said(mark="fault", say=Sentence(words, told, (name,)), remedy=remedy)
                break
        pulled = rod.tube.area * rod.tube.yields / load.pull if load.pull > 0 else None
        weak = min((its for its in (rod.factor, rod.bent, pulled) if its is not None), default=self.factor)
        if weak < self.factor:
            told = {"at": Quantity(rod.buckles_at, "force")}
            wanted = next(
                (
                    tube
                    for tube in sorted(self.stock.tubes, key=lambda tube: tube.area)
                    if bears(tube, rod.centre_to_centre, load) >= self.factor
                ),
                None,
            )
            words = f"{{0}} buckles at {{at}}, {weak:.1f} times its load, {load.push_case}."
            if weak == pulled:
                told = {"at": Quantity(rod.tube.area * rod.tube.yields, "force")}
                words = f"The tube of {{0}} stretches for good at {{at}}, {weak:.1f} times its pull, {load.pull_case}."
            if rod.bent is not None and rod.bent <= weak:
                words = f"{{0}}, bent where its eye is pushed, bears {weak:.1f} times its load."
            if wanted is None:
                words += " No stock tube is strong enough: take a higher grade, or make the rod shorter."
                yield Said(mark="warning", say=Sentence(words, told, (name,)))
                return
            size = {"outside": wanted.outside, "wall": wanted.wall, "grade": wanted.grade}
            remedy = Remedy(say=Sentence("Take {0}.", names=(wanted.said,)), change={"tube": size})
            yield Said(mark="warning", say=Sentence(words, told, (name,)), remedy=remedy)

    def rockers(self) -> Iterator[Made]:
        """Yield the rockers' plates."""
        for here in self.rockers_here:
            name = here.rocker
            choice = self.choice(PlateChoice, "plate", name)
            try:
                joints = self.rocker_joints.get(name)
                if joints is not None:
                    proposed = name not in self.station.plates and choice is None
                    loads = rocker_loads(here, self.peak, coaxial_with(self.station, here.unit)[1:])
                    yield rocker_made(
                        self.station.name,
                        joints,
                        proposed,
                        choice,
                        loads,
                        self.stock,
                        self.factor,
                        self.hands,
                    )
            except NoThread as error:
                yield self._refused("plate", None, f"{name} plate", str(error), choice)

    @cached_property
    def rocker_joints(self) -> dict[str, RockerJoints]:
        """Return how each rocker goes together, by its body."""
        found = {}
        for here in self.rockers_here:
            try:
                found[here.rocker] = self._rocker(
                    here, plate_of(wheel_side_of(self.work.solved, here.rocker))
                )
            except (NoRocker, NoThread):
                continue
        return found

    def _rocker(self, here: RockerHere, drawn: Plate) -> RockerJoints:
        """Return a rocker's joints: its sizes as told, else what bears its loads; raise NoThread."""
        given = self.station.plates.get(here.rocker)
        told = frozenset() if given is None else frozenset(given.model_fields_set)
        rod = self.links[here.rod]()
        asks = self.members.of_unit(here.unit, here.eye)
        eye = asks.make(asks.fixed or asks.least)
        loads = rocker_loads(here, self.peak, coaxial_with(self.station, here.unit)[1:])
        usual = given or RockerPlate()
        need = self.members.needed(loads.pivot)
        if "pivot_bore" in told:
            bolt = pivot_bolt_within(usual.pivot_bore, tuple(one for one in self.stock.bolts))
        else:
            bolt = need
        own = {
            "rod_hole": rod.bore,
            "damper_hole": eye.bore,
            "pivot_bore": max(usual.pivot_bore, bore_about(bolt)),
        }
        usual = usual.model_copy(update={key: value for key, value in own.items() if key not in told})
        best: RockerJoints | None = None
        edges = (
            (usual.edge,) if given is not None else tuple(k * usual.edge for k in (1.0, 1.5, 2.0, 2.5, 3.0))
        )
        thick = (
            (usual.thickness,)
            if given is not None
            else tuple(one for one in self.stock.plates if one >= min(PLATE_LEAST_MM, self.stock.plates[-1]))
        )
        choice = self.choice(PlateChoice, "plate", here.rocker)
        grade = choice.grade if choice else self.stock.plate_grade
        for edge in edges:
            for one in thick:
                sizes = usual.model_copy(update={"thickness": one, "edge": edge})
                best = rocker_joints(here, drawn, sizes, told, rod, eye, bolt)
                least = weakest(rocker_checks(best, grade, loads, self.stock))
                if least is None or least.factor >= self.factor:
                    return best
        assert best is not None
        return best

    @cached_property
    def links(self) -> dict[str, Callable[[], Member]]:
        """Return how each link's ends are made, by its body: asked when they are wanted; raises NoThread."""
        return {
            name: partial(self._link_end, name)
            for name in self.work.linkage.bodies
            if link_ends(self.station, name) is not None
        }

    def _link_end(self, name: str) -> Member:
        plates = self.choice(PlateChoice, "plate", name)
        if plates is not None:
            return link_member(name, self.link(name, plates))
        if self.is_bushed(name):
            return self._eyed(name, self.choice(RodChoice, "rod", name)).bush.member(name)
        long, load = self._borne(name)
        end = ends_of(self.stock, self.station.rods.get(name), long, max(load.push, load.pull), self.factor)[
            0
        ]
        return Member(name=name, what="rod end", bore=end.thread, width=end.width, outside=end.head)

    @cached_property
    def members(self) -> Members:
        """Return what stands in each joint."""
        holes = {
            here.unit: given.damper_hole
            for here in self.rockers_here
            if (given := self.station.plates.get(here.rocker)) is not None
            and "damper_hole" in given.model_fields_set
        }
        return Members(self.station, self.peak, self.stock, self.factor, self.links, holes)

    def mounts(self) -> Iterator[Made]:
        """Yield tabs, the towers that carry them, and straps' and adapters' ends."""
        bolts = {
            (part.point, part.holds): np.array(part.bolt)
            for part in self.choices(TabChoice)
            if part.bolt is not None
        }
        self.seats = [
            mount
            for mount in mounts_of(self.work, self.peak, bolts, self._centres())
            if not self._is_on_plates(mount)
        ]
        towers: dict[str, TowerChoice | None] = {
            one.holds: one for one in self.choices(TowerChoice) if one.holds
        }
        made: list[tuple[Mount, Made]] = []
        for mount in self.seats:
            choices = self.tab_choices(mount)
            choice = choices[0] if choices else None
            try:
                tab = self.tab(mount, choice)
                yield tab.saying([*self._said_of_choices(mount, choices), *_in_one_another(mount, tab, made)])
                made.append((mount, tab))
            except (NoTab, NoThread) as error:
                yield self._refused(
                    "tab",
                    mount,
                    choice.name if choice else tab_name(mount),
                    str(error),
                    choice,
                )
            if mount.point not in towers and choice is None:
                towers[mount.point] = None
                tower = tower_for(mount, self.stock, self.factor)
                if tower is not None and tower.name not in {one.name for one in self.make.parts}:
                    yield from self._tower(tower, mount, proposed=True)
        by_point = {mount.point: mount for mount in self.seats}
        for tower in self.choices(TowerChoice):
            yield from self._tower(tower, by_point.get(tower.holds or ""), proposed=False)

    def tab_choices(self, mount: Mount) -> list[TabChoice]:
        """Return what is chosen for a mount: for what it goes by first, then for whatever shares its bolt."""
        its = [self.choice(TabChoice, "tab", point, holds) for point, holds in mount.all_held]
        return [choice for choice in its if choice is not None]

    def _said_of_choices(self, mount: Mount, choices: list[TabChoice]) -> Iterator[Said]:
        """Yield a fault where two tabs are chosen for one place."""
        if len(choices) < 2:
            return
        words = "{0} and {1} are chosen for one place: one bolt through one pair holds both. Take {1} out, or move it."
        yield Said(mark="fault", say=Sentence(words, names=(choices[0].name, choices[1].name)))

    def _centres(self) -> dict[str, Array]:
        """Return the middle between the plates of each rocker, (3,) mm as drawn."""
        return {
            name: joints.drawn.pivot + joints.drawn.axis * joints.middle
            for name, joints in self.rocker_joints.items()
        }

    def _is_on_plates(self, mount: Mount) -> bool:
        """Return whether what a mount holds is bolted through a link's own plates."""
        its = mount.on in self.station.bodies and link_ends(self.station, mount.on) is not None
        return its and self.is_plated(mount.on)

    def tab(self, mount: Mount, choice: TabChoice | None) -> Made:
        """Return a mount's tab or pair as chosen, or proposed; raise NoTab where it cannot be drawn."""
        joints = self.rocker_joints.get(mount.holds) if mount.kind == "rocker" else None
        joint = self.members.joint(mount, None if joints is None else joints.pivot, choice)
        square = self.rules.eye_square_deg[1]
        return tab_made(self.station.name, mount, joint, choice, self.stock, self.factor, square, self.hands)

    def tower(self, choice: TowerChoice, mount: Mount | None, proposed: bool) -> Made:
        """Return a tower, hoop or crossbar; raise NoTube where it cannot be made."""
        return tower_made(self.station, choice, proposed, mount, self.stock, self.factor, self.hands)

    def _tower(self, choice: TowerChoice, mount: Mount | None, proposed: bool) -> Iterator[Made]:
        try:
            yield self.tower(choice, mount, proposed)
        except NoTube as error:
            if not proposed:
                yield self._refused(choice.kind, None, choice.name, str(error), choice)

    def _unit_load(self, unit: AnyUnit) -> float:
        """Return what a unit pushes or pulls at the peak, N."""
        return 0.0 if self.peak is None else unit_load(self.station, self.peak, unit)

    def _refused(
        self, kind: str, mount: Mount | None, name: str, words: str, choice: Any, of: str | None = None
    ) -> Made:
        """Return a part that cannot be made, with why; `of` the body that it is, where that has another name."""
        subject = (kind, mount.point, mount.holds) if mount is not None else (kind, of or name)
        text = words.replace("{", "{{").replace("}", "}}")
        said = (Said(mark="fault", say=Sentence(f"{{0}} is not made: {text}", names=(name,))),)
        own = None if choice is None else choice.model_dump(exclude_none=True)
        return Made(station=self.station.name, name=name, kind=kind, subject=subject, proposed=choice is None,
                    hands=self.hands, said=said, choice=own)  # fmt: skip

    def rest(self) -> Iterator[Made]:
        """Yield cups, adapters, strap kits, notches and the small things."""
        station, hands = self.station, self.hands
        for unit in station.units:
            load = self._unit_load(unit)
            if isinstance(unit, AirSpring):
                case = None if self.peak is None else self.peak.units.get(unit.name, Most()).case
                for seat in grounds_of(self.work, unit, load, case):
                    choice = self.choice(CupChoice, "cup", unit.name, seat.point)
                    yield cups_made(self.work, unit, seat.point, choice, seat, self.stock, self.factor, hands)
            elif isinstance(unit, Coilover | Damper):
                for end in unit.ends:
                    if unit.adapter is not None:
                        adapter = self.choice(AdapterChoice, "adapter", unit.name, end)
                        most = Most(load, "" if self.peak is None else self.peak.units[unit.name].case)
                        piece = adapter_made(station, adapter, unit, end, most, hands)
                        if piece is not None:
                            yield piece
            elif isinstance(unit, Strap):
                yield strap_made(station, unit, load, hands)
        for part in self.make.parts:
            match part:
                case NotchChoice():
                    try:
                        yield from notch_made(station, self.work.linkage, self.work.grid, part, hands)
                    except NoNotch as error:
                        yield self._refused("notch", None, part.name, str(error), part)
                case SleeveChoice():
                    yield sleeve_made(station, part, hands)
                case GussetChoice():
                    yield gusset_made(station, part, hands)
                case TemplateChoice():
                    yield template_made(station, part, hands)


def _least(thread: float, said: float | None) -> float:
    """Return what is left to turn, mm: what the thread leaves, or what the job says if that is less."""
    return thread if said is None else min(thread, said)
