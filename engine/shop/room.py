"""Room for what is made: a proposal that fouls or holds its bolt is made otherwise, a choice is told what would clear it.

Tries   a tab's bolt turned about its rod, its foot set round, the tab narrower or nearer; a rod or tower of a thinner
        tube that still bears its load. Each is made again and tried among everything else; the first that clears stands.
Words   where nothing clears it: how far the bolt comes, how deep the part runs into what, at which travel.
"""

import math
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation

from engine.budget import Budget
from engine.document.make import RodChoice, TabChoice, TowerChoice
from engine.facts import facts
from engine.limits.clearance import Clearance
from engine.linkage.vectors import Array
from engine.sentences import Quantity, Sentence, length, travel
from engine.shop.fits import (
    HEAD_MM,
    NoSpanner,
    Stuck,
    bolts_stuck,
    no_spanner,
    part_of,
    runs_into,
    still_near,
)
from engine.shop.gussets import tabs_gussets_kept
from engine.shop.made import Made, Remedy, Said
from engine.shop.mounts import REACH_MOST_MM, Mount, mounts_of, turned
from engine.shop.parts import Maker, StationParts, weighed
from engine.shop.stock import Tube
from engine.shop.tabs import WIDTHS, NoTab
from engine.shop.tubes import NoTube

BEYOND_MM = 20.0  # a bolt is longer than its grip by head, nut and thread
BOLT_TURNS = (15.0, -15.0, 30.0, -30.0, 45.0, -45.0, 60.0, -60.0, 90.0)
FOOT_TURNS = (30.0, -30.0, 60.0, -60.0, 90.0, -90.0)
TRIES = 14
MOST_SECONDS = 3.0  # of one station: what there was no time for is told in words


@facts
class Trouble:
    """What stands against one part: its bolt stuck, or what it comes nearer to than it may."""

    part: Made
    stuck: Stuck | None
    held: tuple[NoSpanner, ...]
    near: tuple[Clearance, ...]


def roomy(maker: Maker, its: StationParts) -> StationParts:
    """Return a station's parts with room: proposals in trouble made otherwise where that clears it, the rest told."""
    room = _Room(maker, list(its.parts))
    budget = Budget(MOST_SECONDS)
    for trouble in room.troubles():
        where = room.parts.index(trouble.part)
        found = room.cleared(trouble, budget)
        if found is not None and trouble.part.proposed and found[1].into == "make":
            made, _ = found
            room.parts[where] = replace(weighed(made, maker.station), name=trouble.part.name, proposed=True)
        else:
            remedy = None if found is None else found[1]
            room.parts[where] = trouble.part.saying(list(room.told(trouble, remedy)))
    return replace(its, parts=tuple(tabs_gussets_kept(its.parts, room.parts)))


class _Room:
    """The parts of one station among everything else."""

    def __init__(self, maker: Maker, parts: list[Made]) -> None:
        self.maker, self.parts = maker, parts
        self.work = maker.work
        self.least = maker.rules.clear_mm[1]
        self.mounts = {(one.point, one.holds): one for one in maker.seats or mounts_of(self.work, maker.peak)}

    def mount(self, part: Made) -> Mount | None:
        """Return what a tab stands at."""
        return self.mounts.get((part.subject[1], part.subject[2])) if part.kind == "tab" else None

    def troubles(self) -> list[Trouble]:
        """Return every part in trouble."""
        mounts = list(self.mounts.values())
        lengths = {
            (part.subject[1], part.subject[2]): _long(part)
            for part in self.parts
            if part.kind == "tab" and part.flat is not None
        }
        stuck = {(one.mount.point, one.mount.holds): one for one in bolts_stuck(self.work, mounts, lengths)}
        held: dict[tuple[str, str], list[NoSpanner]] = {}
        for one in no_spanner(self.work, mounts, lengths):
            held.setdefault((one.mount.point, one.mount.holds), []).append(one)
        near: dict[str, list[Clearance]] = {}
        for clearance in runs_into(self.work, self.parts, mounts, care=self.least):
            if clearance.distance < self.least:
                part = part_of(clearance.one, self.parts) or part_of(clearance.other, self.parts)
                if part is not None:
                    near.setdefault(part.name, []).append(clearance)
        found = []
        for part in self.parts:
            its = (part.subject[1], part.subject[2]) if part.kind == "tab" else ("", "")
            if its in stuck or its in held or part.name in near:
                spanners, close = tuple(held.get(its, ())), tuple(near.get(part.name, ()))
                found.append(Trouble(part=part, stuck=stuck.get(its), held=spanners, near=close))
        return found

    def cleared(self, trouble: Trouble, budget: Budget) -> tuple[Made, Remedy] | None:
        """Return the first other way of making a part that is in no trouble, with the change that makes it so."""
        part, factor = trouble.part, self.maker.factor
        was = part.weakest
        for made, mount, remedy in self.tries(trouble):
            if budget.spent:
                return None
            weak = made.weakest
            if weak is not None and weak.factor < min(factor, math.inf if was is None else was.factor):
                continue
            if self.clear(trouble, replace(made, name=part.name), mount):
                return made, remedy
        return None

    def clear(self, trouble: Trouble, made: Made, mount: Mount | None) -> bool:
        """Return whether a part made otherwise is in no trouble."""
        parts = [made if part is trouble.part else part for part in self.parts]
        mounts = list(
            {**self.mounts, **({} if mount is None else {(mount.point, mount.holds): mount})}.values()
        )
        if still_near(self.work, parts, mounts, made.name, trouble.near, self.least):
            return False
        if mount is not None:
            lengths = {(mount.point, mount.holds): _long(made)}
            if bolts_stuck(self.work, [mount], lengths) or no_spanner(self.work, [mount], lengths):
                return False
        near = runs_into(self.work, parts, mounts, made.name, self.least)
        return all(one.distance >= self.least for one in near)

    def tries(self, trouble: Trouble) -> Iterator[tuple[Made, Mount | None, Remedy]]:
        """Yield other ways of making a part, the least changed first: the part, its mount, the change."""
        match trouble.part.kind:
            case "tab":
                yield from self._other_tabs(trouble)
            case "rod":
                yield from self._other_rods(trouble)
            case "tower" | "hoop" | "crossbar":
                yield from self._other_towers(trouble)

    def _other_tabs(self, trouble: Trouble) -> Iterator[tuple[Made, Mount | None, Remedy]]:
        part = trouble.part
        mount = self.mount(part)
        if mount is None:
            return
        own = {"kind": "tab", "name": part.name, "point": mount.point, "holds": mount.holds}
        if not part.proposed and part.choice is not None:
            own = part.choice
        for other, change, words, into in [*self._turned(mount, own), *_smaller(mount, part, own)][:TRIES]:
            if (trouble.stuck is not None or trouble.held) and other is mount:
                continue  # a smaller tab lets no bolt out
            chosen = TabChoice.model_validate({**own, **(change if into == "make" else {})})
            try:
                made = self.maker.tab(other, chosen)
            except NoTab:
                continue
            yield made, other, Remedy(say=words, change=change, into=into)

    def _turned(
        self, mount: Mount, own: dict[str, Any]
    ) -> Iterator[tuple[Mount, dict[str, Any], Sentence, str]]:
        """Yield a rod's mount with its bolt turned about the rod; an eye's only as far as its damper may lean."""
        if mount.kind not in ("rod", "unit", "strap"):
            return
        square = self.maker.rules.eye_square_deg[1]
        for turn in BOLT_TURNS:
            other = turned(self.work, self.maker.peak, mount, _about(mount.way, turn, mount.bolt))
            if mount.kind == "unit" and other.lean > square:
                continue
            words = Sentence(
                "Turn its bolt {turn} about what it holds.", {"turn": Quantity(abs(turn), "angle")}
            )
            yield other, {"bolt": _rounded(other.bolt)}, words, "eyes" if mount.given else "make"

    def _other_rods(self, trouble: Trouble) -> Iterator[tuple[Made, Mount | None, Remedy]]:
        part = trouble.part
        for tube in self._thinner(trouble):
            change = {"tube": _size(tube)}
            chosen = RodChoice.model_validate({**(part.choice or {}), **change})
            yield self.maker.rod(part.subject[1], chosen), None, _take(tube, change)

    def _other_towers(self, trouble: Trouble) -> Iterator[tuple[Made, Mount | None, Remedy]]:
        part = trouble.part
        choice = part.choice or {}
        mount = next((one for one in self.mounts.values() if one.point == choice.get("holds")), None)
        for tube in self._thinner(trouble):
            change = {"tube": _size(tube)}
            try:
                made = self.maker.tower(
                    TowerChoice.model_validate({**choice, **change}), mount, part.proposed
                )
            except NoTube:
                continue
            yield made, None, _take(tube, change)

    def _thinner(self, trouble: Trouble) -> list[Tube]:
        """Return the stock tubes thin enough to clear what a tube meets along its side, the thickest first."""
        assert trouble.part.cut is not None
        lacks = self.least - min(clearance.distance for clearance in trouble.near)
        most = trouble.part.cut.tube.outside - 2 * lacks + 1e-6
        thinner = [one for one in self.maker.stock.graded if one.outside <= most]
        return sorted(thinner, key=lambda one: (one.yields, -one.outside))[: 2 * TRIES]

    def told(self, trouble: Trouble, remedy: Remedy | None) -> Iterator[Said]:
        """Yield what is said of a part in trouble."""
        part = trouble.part
        if trouble.stuck is not None:
            yield self._stuck(part, trouble.stuck, remedy)
        for held in trouble.held:
            words = "No spanner swings on the {0} side of the bolt of {1}: {2} is in its way."
            if remedy is None:
                words += " Weld the nut on there, or fit the bolt before what stands in the way."
            yield Said(mark="note", say=Sentence(words, names=(held.side, part.name, held.by)), remedy=remedy)
        for clearance in trouble.near:
            other = clearance.other if part_of(clearance.one, self.parts, part.name) else clearance.one
            shown = other.removeprefix("made: ")
            told = {"by": length(abs(clearance.distance)), "at": travel(clearance.heave)}
            if clearance.distance < 0:
                words, mark = "{0} runs {by} into {1} at {at}.", "fault"
            else:
                words, mark = "{0} passes {1} by {by} at {at}; {least} is the least.", "warning"
                told["least"] = length(self.least)
            if remedy is None:
                words += " Move its mount, or what it meets, {more}."
                told["more"] = length(self.least - clearance.distance)
            yield Said(mark=mark, say=Sentence(words, told, (part.name, shown)), remedy=remedy)

    def _stuck(self, part: Made, stuck: Stuck, remedy: Remedy | None) -> Said:
        ways = "{1} on both sides" if stuck.by[0] == stuck.by[1] else "{1} on one side, {2} on the other"
        words = f"The bolt of {{0}} cannot be drawn out at {{at}}: in its way stands {ways}."
        told = {"at": travel(stuck.at[0])}
        if remedy is None:
            comes, needs = self.comes_out(part, stuck)
            told |= {"comes": length(comes), "needs": length(needs)}
            words += " It comes {comes} of the {needs} that it needs: cut a hole there for it, or fit it before the other."
        return Said(mark="warning", say=Sentence(words, told, (part.name, *stuck.by)), remedy=remedy)

    def comes_out(self, part: Made, stuck: Stuck) -> tuple[float, float]:
        """Return how far a stuck bolt comes on its better side, and how far it would have to, mm."""
        long = _long(part)
        lengths = {(stuck.mount.point, stuck.mount.holds): long}
        low, high = 0.0, 1.0
        for _ in range(6):
            middle = (low + high) / 2
            if bolts_stuck(self.work, [stuck.mount], lengths, middle):
                high = middle
            else:
                low = middle
        return low * (long + HEAD_MM), long + HEAD_MM


def _smaller(
    mount: Mount, part: Made, own: dict[str, Any]
) -> Iterator[tuple[Mount, dict[str, Any], Sentence, str]]:
    """Yield the changes of a tab that take less room, or take it elsewhere."""
    width, foot, hole = (float(part.figure(key)) for key in ("width", "foot_width", "hole"))
    if foot > width + 0.1:
        words = Sentence("Make its foot {wide} wide.", {"wide": length(width)})
        yield mount, {"width": round(width, 1), "foot_width": round(width, 1)}, words, "make"
    for narrow in sorted((k * hole for k in WIDTHS if k * hole < width - 0.1), reverse=True):
        words = Sentence("Make it {wide} wide.", {"wide": length(narrow)})
        yield mount, {"width": round(narrow, 1), "foot_width": round(narrow, 1)}, words, "make"
    if mount.ground is not None and mount.ground.away <= REACH_MOST_MM:
        return  # its foot stands where the structure is
    for turn in FOOT_TURNS:
        towards = _about(mount.bolt, turn, mount.towards)
        words = Sentence("Set its foot {turn} round its bolt.", {"turn": Quantity(abs(turn), "angle")})
        yield replace(mount, towards=towards), {"towards": _rounded(towards)}, words, "make"


def _about(axis: Array, degrees: float, way: Array) -> Array:
    its: Array = Rotation.from_rotvec(axis * math.radians(degrees)).apply(way)
    return its


def _long(part: Made) -> float:
    return float(part.figure("grip")) + BEYOND_MM


def _rounded(way: Array) -> list[float]:
    return [round(float(c), 6) for c in np.asarray(way)]


def _size(tube: Tube) -> dict[str, Any]:
    return {"outside": tube.outside, "wall": tube.wall, "grade": tube.grade}


def _take(tube: Tube, change: dict[str, Any]) -> Remedy:
    return Remedy(say=Sentence("Take {0}.", names=(tube.said,)), change=change)
