"""What is put right together: a station, or two that are one another's mirror image, changed alike."""

from typing import Any

from engine.document.mirror import mirrored_station
from engine.document.schema import Project, Station
from engine.facts import facts
from engine.results.whole import WorkedProject, WorkedStation, beside_of, says_sides
from engine.right.lever import Lever
from engine.right.levers import Held, held_of, levers_of
from engine.right.stock import Shelf
from engine.right.trial import Trials

ALIKE_MM, SAME = 0.5, 1e-3
OWN_KEYS = {"name", "other_side", "uncertainty", "judging", "make", "variant_of"}


@facts
class Group:
    """What is put right together.

    members : the stations' numbers, the first the one that is looked at where both are alike
    levers  : of each member, the same ones in the same order
    """

    members: tuple[int, ...]
    levers: tuple[tuple[Lever, ...], ...]
    trials: Trials
    held: Held

    @property
    def worked(self) -> WorkedStation:
        """Return the first of it as it is."""
        return self.trials.base

    @property
    def free(self) -> tuple[int, ...]:
        """Return the levers by number that touch nothing held."""
        return tuple(n for n, lever in enumerate(self.levers[0]) if not lever.of & self.held.names)


def groups_of(project: Project, before: WorkedProject, shelf: Shelf) -> list[Group]:
    """Return what is put right together, by itself each, in the stations' order."""
    found: list[Group] = []
    done: set[int] = set()
    for number in range(len(before.stations)):
        if number not in done:
            group = _group(project, before, shelf, number)
            done |= set(group.members)
            found.append(group)
    return found


def _group(project: Project, before: WorkedProject, shelf: Shelf, number: int) -> Group:
    station, other = project.stations[number], _other_side(project, number)
    twice = other is not None or (
        station.kind == "corner" and station.other_side == "mirror" and not station.single
    )
    members = (number,) if other is None else (number, other)
    if other is not None and len(project.stations[other].envelopes) > len(station.envelopes):
        members = (other, number)  # what is said to be in the way on one side is in the way
    alike = other is not None and _alike(project, members)
    made = [levers_of(project, before.stations[m], shelf, 2 if twice else 1) for m in members]
    levers = _sides_levers(made, alike)
    bases = tuple(before.stations[m] for m in members)
    said = tuple(says_sides(project, m) for m in members)
    if alike:
        first = bases[0]
        bases = (WorkedStation(**{**vars(first), "beside": beside_of(first.work, first.work, first.rules)}),)
    held = [held_of(project, project.stations[m]) for m in members]
    return Group(
        members=members,
        levers=levers,
        trials=Trials(bases=bases, each=levers, said=said, kept={}),
        held=Held(names=frozenset().union(*(one.names for one in held)), ride=any(one.ride for one in held)),
    )


def _sides_levers(each: list[tuple[Lever, ...]], alike: bool) -> tuple[tuple[Lever, ...], ...]:
    """Return each member's levers in the first one's order; what only one of them has is done on one side.

    Where the sides are not alike, what is only turned or shimmed may be set on one of them alone too.
    """
    if len(each) == 1:
        return (each[0],)
    by_name = [{lever.name: lever for lever in levers} for levers in each]
    both = [
        name
        for name in by_name[0]
        if name in by_name[1] and len(by_name[0][name].values) == len(by_name[1][name].values)
    ]
    mine = [by_name[0][name] for name in both]
    theirs = [by_name[1][name] for name in both]
    for side in (0, 1):
        for lever in each[side]:
            alone = lever.name not in both
            if not alone and (alike or lever.key not in ("turned", "shimmed")):
                continue
            if alone and alike and side == 1:
                continue
            name = f"{lever.name} of side {side + 1}"
            its = Lever(**{**vars(lever), "name": name, "sides": max(lever.sides // 2, 1)})
            other = Lever(**{**vars(its), "change": lambda station, _: station})
            mine.append(its if side == 0 else other)
            theirs.append(other if side == 0 else its)
    return (tuple(mine), tuple(theirs))


def _other_side(project: Project, number: int) -> int | None:
    """Return the number of the station that is the other side of one, each naming the other."""
    station = project.stations[number]
    other = next((k for k, one in enumerate(project.stations) if one.name == station.other_side), None)
    if other is None or project.stations[other].other_side != station.name:
        return None
    same = set(project.stations[other].points) == set(station.points)
    return other if same else None


def _alike(project: Project, members: tuple[int, ...]) -> bool:
    """Return whether two sides are one another's mirror image, their parts the same and their work as far."""
    station, other = (project.stations[number] for number in members)
    values = [one.model_dump(mode="json", exclude_unset=True) for one in (station, other)]
    image = mirrored_station(values[1], station.name)
    alike = all(
        _same(values[0].get(key), image.get(key), ALIKE_MM if key == "points" else SAME)
        for key in {*values[0], *image} - OWN_KEYS
        if key != "envelopes" or (values[0].get(key) and image.get(key))
    )
    return alike and _work_of(project, station) == _work_of(project, other)


def _same(one: Any, other: Any, within_: float) -> bool:
    """Return whether two plain values are the same, their numbers within a little."""
    if isinstance(one, dict) and isinstance(other, dict):
        return set(one) == set(other) and all(_same(one[key], other[key], within_) for key in one)
    if isinstance(one, list) and isinstance(other, list):
        return len(one) == len(other) and all(_same(a, b, within_) for a, b in zip(one, other, strict=True))
    numbers = isinstance(one, float | int) and isinstance(other, float | int)
    return abs(one - other) <= within_ if numbers else bool(one == other)


def _work_of(project: Project, station: Station) -> set[tuple[str, str]]:
    states = {} if project.work is None else project.work.state
    front = f"{station.name}/"
    return {(name.removeprefix(front), state) for name, state in states.items() if name.startswith(front)}
