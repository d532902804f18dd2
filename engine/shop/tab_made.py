"""A tab made: its figures and bolt, how it is set by an angle finder, what is said of it and what would clear that.

Readings  of an angle finder: the bolt out of level, turned from its nearest way of the car, the tab out of plumb.
"""

import math

from engine.document.make import Foot, TabChoice
from engine.linkage.vectors import Array
from engine.sentences import Quantity, Sentence, length
from engine.shop.made import Figure, Hardware, Made, Remedy, Said
from engine.shop.mounts import Mount
from engine.shop.stock import Stock, bolt_for
from engine.shop.strength import (
    Check,
    weakest,
)
from engine.shop.tabs import THIN_EDGE, WIDTHS, BoltedJoint, NoTab, Tab, tab_checks, tab_flat, tab_for


def tab_name(mount: Mount) -> str:
    """Return what a proposed tab is called: by its place, and by what it holds where that is no pivot."""
    return f"{mount.point} tab" if mount.kind in ("arm", "rocker") else f"{mount.point} tab, {mount.holds}"


def tab_made(
    station: str,
    mount: Mount,
    joint: BoltedJoint,
    choice: TabChoice | None,
    stock: Stock,
    factor: float,
    square_deg: float,
    hands: int,
) -> Made:
    """Return the tab of a mount with its bolt, checks and readings; raise NoTab where it cannot be drawn."""
    tab, bolt = tab_for(mount, joint, choice, stock, factor)
    flat = tab_flat(tab)
    checks = tab_checks(tab, mount, bolt, stock)
    name = choice.name if choice else tab_name(mount)
    level, turned, plumb = readings(mount.bolt, tab.towards)
    hardware = [
        Hardware(what=f"bolt 8.8, {bolt.washers + 1} washers, lock nut", size=bolt.said),
    ]
    if tab.spacer > 0:
        size = f"for M{bolt.size:g}, {tab.spacer:g} mm long"
        hardware.append(Hardware(what="spacer", size=size, count=2 if tab.count == 2 else 1))
    figures = [
        Figure(key="thickness", name="Plate", value=tab.thickness),
        Figure(key="grade", name="Steel", value=tab.grade, measures="words"),
        Figure(key="width", name="Width of the round end", value=tab.width),
        Figure(key="foot_width", name="Width of the foot", value=tab.foot_width),
        Figure(key="reach", name="Hole to foot", value=tab.reach),
        Figure(key="hole", name="Hole", value=tab.hole),
        *([Figure(key="gap", name="Gap of the pair", value=tab.gap)] if tab.count == 2 else []),
        Figure(key="foot", name="Foot", value=_foot_words(tab.foot), measures="words"),
        Figure(key="bolt", name="Bolt", value=bolt.said, measures="words"),
        Figure(key="grip", name="The bolt grips", value=bolt.grip),
        Figure(key="thread_beyond", name="Thread beyond the nut", value=bolt.beyond),
        Figure(key="bolt_level", name="Bolt out of level", value=level, measures="angle"),
        Figure(key="bolt_turn", name=turned[1], value=turned[0], measures="angle"),
        Figure(key="tab_plumb", name="Tab out of plumb", value=plumb, measures="angle"),
        Figure(
            key="lean",
            name="Rod or damper leans out of its bolt's square",
            value=mount.lean,
            measures="angle",
        ),
        Figure(key="static", name="Load at ride", value=mount.static, measures="force"),
        Figure(key="load", name="Peak load", value=mount.load, measures="force"),
        Figure(key="sideways", name="Of it along the bolt", value=mount.sideways, measures="force"),
    ]
    return Made(
        station=station,
        name=name,
        kind="tab",
        subject=("tab", mount.point, mount.holds),
        proposed=choice is None,
        count=tab.count,
        hands=hands,
        flat=flat,
        hardware=tuple(hardware),
        checks=tuple(checks),
        figures=tuple(figures),
        said=tuple(_said(name, tab, mount, joint, checks, stock, factor, square_deg, choice)),
        choice=_as_choice(name, mount, tab, choice),
    )


def _foot_words(foot: Foot) -> str:
    if foot.on == "flat" or foot.outside is None:
        return "on a flat" if not foot.slope else f"on a flat, {foot.slope:g}° out of square"
    if foot.angle > 89.5:
        return f"across a tube of {foot.outside:g} mm"
    if foot.angle < 0.5:
        return f"along a tube of {foot.outside:g} mm"
    return f"on a tube of {foot.outside:g} mm, at {foot.angle:.1f}°"


def readings(bolt: Array, towards: Array) -> tuple[float, tuple[float, str], float]:
    """Return what an angle finder reads, degrees, of a bolt and a tab's way, (3,) unit each.

    The bolt out of level, turned in plan from its nearest way of the car, the tab out of plumb.
    """
    level = math.degrees(math.asin(min(abs(float(bolt[2])), 1.0)))
    plan = math.hypot(float(bolt[0]), float(bolt[1]))
    if plan < 0.1:
        turned = (0.0, "Bolt stands upright, turned by")
    else:
        off = math.degrees(math.atan2(abs(float(bolt[1])), abs(float(bolt[0]))))
        turned = (
            (off, "Bolt turned from fore–aft")
            if off <= 45
            else (90 - off, "Bolt turned from straight across")
        )
    plumb = math.degrees(math.acos(min(abs(float(towards[2])), 1.0)))
    return level, turned, plumb


def _as_choice(name: str, mount: Mount, tab: Tab, choice: TabChoice | None) -> dict[str, object]:
    """Return what the document says once this tab is taken: its sizes, not its loads."""
    own = choice.model_dump(exclude_none=True) if choice else {}
    foot = tab.foot.model_dump(exclude_none=True)
    return {
        "kind": "tab",
        "name": name,
        "point": mount.point,
        "holds": mount.holds,
        "pair": tab.count == 2,
        "thickness": tab.thickness,
        "width": round(tab.width, 2),
        "foot_width": round(tab.foot_width, 2),
        "reach": round(tab.reach, 2),
        "hole": tab.hole,
        "joint_width": tab.joint,
        "foot": {**foot, "angle": round(float(foot.get("angle", 90.0)), 2)},
        "grade": tab.grade,
        **own,
    }


def _said(
    name: str,
    tab: Tab,
    mount: Mount,
    joint: BoltedJoint,
    checks: list[Check],
    stock: Stock,
    factor: float,
    square_deg: float,
    choice: TabChoice | None,
) -> list[Said]:
    said: list[Said] = []
    least = weakest(checks)
    if least is not None and least.factor < factor:
        remedy = _stronger(name, tab, mount, joint, stock, factor)
        words = (
            f"{{0}} bears {least.factor:.1f} times its peak load where {factor:g} are wanted: {least.what}."
        )
        if remedy is None:
            words += (
                " Nothing of stock is strong enough: bring the hole nearer to its foot, or share the load."
            )
        said.append(Said(mark="warning", say=Sentence(words, names=(name,)), remedy=remedy))
    if tab.count == 1 and mount.load > 0:
        change = Remedy(say=Sentence("Make it a pair."), change={"pair": True})
        words = "{0} holds its bolt in single shear under a peak of {load}: the bolt is bent as well."
        told = {"load": Quantity(mount.load, "force")}
        said.append(Said(mark="warning", say=Sentence(words, told, (name,)), remedy=change))
    if tab.width / 2 < THIN_EDGE * tab.hole - 1e-9:
        wide = 2 * THIN_EDGE * tab.hole
        words = "{0} has its hole {edge} from the edge; {wanted} is usual."
        told = {"edge": length(tab.width / 2), "wanted": length(wide / 2)}
        change = Remedy(
            say=Sentence("Make it {wide} wide.", {"wide": length(wide)}), change={"width": round(wide, 1)}
        )
        said.append(Said(mark="warning", say=Sentence(words, told, (name,)), remedy=change))
    if tab.reach < joint.head / 2 + 1.0:
        words = "{0}: the joint is {head} across and stands {reach} from the foot: it fouls. Move the mount {by} out."
        told = {
            "head": length(joint.head),
            "reach": length(tab.reach),
            "by": length(joint.head / 2 + 2.0 - tab.reach),
        }
        said.append(Said(mark="warning", say=Sentence(words, told, (name,))))
    if mount.given and mount.kind == "unit" and mount.lean > square_deg:
        said.append(_out_of_square(name, mount, square_deg))
    return said


def _out_of_square(name: str, mount: Mount, most: float) -> Said:
    """Return what is said of a bolt that its damper leans on, with the bolt that it swings square to if there is one."""
    words = "{0}: its damper leans {lean} out of square to the bolt; {most} is the most."
    told = {"lean": Quantity(mount.lean, "angle"), "most": Quantity(most, "angle")}
    if mount.square is None or mount.least_lean > most:
        words += " It swings two ways: no bolt is square to both. Take an eye with a spherical bearing."
        return Said(mark="warning", say=Sentence(words, told, (name,)))
    off = math.degrees(math.acos(min(abs(float(mount.square @ mount.bolt)), 1.0)))
    told_after = {"off": Quantity(off, "angle"), "left": Quantity(mount.least_lean, "angle")}
    remedy = Remedy(
        say=Sentence("Turn the bolt {off}, square to the way it swings: {left} of lean is left.", told_after),
        change={"bolt": [round(float(c), 6) for c in mount.square]},
        into="eyes",
    )
    return Said(mark="warning", say=Sentence(words, told, (name,)), remedy=remedy)


def _stronger(
    name: str, tab: Tab, mount: Mount, joint: BoltedJoint, stock: Stock, factor: float
) -> Remedy | None:
    """Return the least change that makes a tab strong enough: thicker, a pair, wider, a gusset; each is tried."""
    thicker = [one for one in stock.plates if one > tab.thickness + 1e-9]
    tries: list[dict[str, object]] = [{"thickness": one} for one in thicker]
    if tab.count == 1:
        tries = [{"pair": True}, *tries]
        tries += [{"pair": True, "thickness": one} for one in thicker]
    tries += [{"gusset": True}] if not tab.gusset else []
    wider = [round(k * tab.hole, 1) for k in WIDTHS if k * tab.hole > tab.width + 1e-9]
    tries += [{"width": one, "foot_width": max(one, tab.foot_width)} for one in wider]
    tries += [
        {"width": one, "foot_width": max(one, tab.foot_width), "thickness": t}
        for one in wider
        for t in thicker
    ]
    tries += [{"thickness": t, "foot_width": round(2 * tab.foot_width, 1)} for t in thicker]
    for change in tries:
        values = {
            "count": 2 if change.get("pair", tab.count == 2) else 1,
            **{key: value for key, value in change.items() if key != "pair"},
        }
        other = Tab(**{**tab.__dict__, **values})
        try:
            tab_flat(other)
        except NoTab:
            continue
        bolt = bolt_for(min(other.hole, joint.bolt), other.grip, other.thickness, joint.pitch)
        least = weakest(tab_checks(other, mount, bolt, stock))
        if least is not None and least.factor >= factor:
            return Remedy(say=_change_words(change), change=change)
    return None


def _change_words(change: dict[str, object]) -> Sentence:
    words, told = [], {}
    for key, value in change.items():
        if key == "pair":
            words.append("make it a pair")
        elif key == "gusset":
            words.append("put a gusset across its back")
        elif isinstance(value, float):
            noun = {"thickness": "thick", "width": "wide", "foot_width": "wide at the foot"}[key]
            words.append(f"make it {{{key}}} {noun}")
            told[key] = length(value)
    text = ", ".join(words)
    return Sentence(text[:1].upper() + text[1:] + ".", told)
