"""A tab made: its figures and bolt, how it is set by an angle finder, what is said of it and what would clear that."""

import math
from collections.abc import Iterator

from engine.document.make import Foot, TabChoice
from engine.document.threads import NoThread
from engine.sentences import Quantity, Sentence, length
from engine.shop.angles import angles_of
from engine.shop.made import Figure, Hardware, Made, Remedy, Said
from engine.shop.mounts import Mount
from engine.shop.stacks import LOOSE_MM, NONE_MM
from engine.shop.stock import Stock, bolt_for
from engine.shop.strength import (
    Check,
    weakest,
)
from engine.shop.tabs import (
    THIN_EDGE,
    WIDTHS,
    BoltedJoint,
    NoTab,
    Tab,
    gusset_of,
    stack_of,
    tab_checks,
    tab_flat,
    tab_for,
)

CROSSED_DEG = 3.0  # between two bolts that are said to be one
ASIDE_MM = 20.0  # along the bolt from where it is drawn: a strap's end is nearer


def tab_name(mount: Mount) -> str:
    """Return what a proposed tab is called: by its place, and by what it holds where that is no pivot."""
    if mount.kind == "rocker":
        return f"{mount.holds} pivot tab"  # one bolt through both of the points that it turns about
    return f"{mount.point} tab" if mount.kind == "arm" else f"{mount.point} tab, {mount.holds}"


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
    try:
        tab, bolt = tab_for(mount, joint, choice, stock, factor)
    except NoThread as error:
        raise NoTab(str(error)) from error
    flat = tab_flat(tab)
    checks = tab_checks(tab, mount, bolt, stock)
    gusset = gusset_of(tab, bolt)
    name = choice.name if choice else tab_name(mount)
    angles = angles_of(mount.bolt, tab.towards, mount.spot)
    stack = stack_of(tab, joint, bolt)
    hardware = [Hardware(what=bolt.what, size=bolt.said)]
    spacers = [layer.width for layer in stack.layers if layer.what == "spacer"]
    for wide in dict.fromkeys(spacers):
        size = f"for {bolt.of.said}, {wide:.4g} mm long"
        hardware.append(Hardware(what="spacer", size=size, count=spacers.count(wide)))
    between = len(joint.members) - 1
    if between:
        size = f"for {bolt.of.said}"
        hardware.append(Hardware(what="washer between the joints", size=size, count=between))
    figures = [
        Figure(key="thickness", name="Plate", value=tab.thickness),
        Figure(key="grade", name="Steel", value=tab.grade, measures="words"),
        Figure(key="width", name="Width of the round end", value=tab.width),
        Figure(key="foot_width", name="Width of the foot", value=tab.foot_width),
        Figure(key="reach", name="Hole to foot", value=tab.reach),
        Figure(key="hole", name="Hole", value=tab.hole),
        *([Figure(key="gap", name="Gap of the pair", value=tab.gap)] if tab.count == 2 else []),
        *(
            []
            if gusset is None
            else [
                Figure(key="gusset_out", name="Gusset, along the foot", value=gusset.out),
                Figure(key="gusset_up", name="Gusset, up the tab", value=gusset.up),
            ]
        ),
        Figure(key="foot", name="Foot", value=_foot_words(tab.foot), measures="words"),
        Figure(key="bolt", name="Bolt", value=bolt.said, measures="words"),
        Figure(key="grip", name="The bolt grips", value=bolt.grip),
        Figure(key="thread_beyond", name="Thread beyond the nut", value=bolt.beyond),
        Figure(key="stack", name="On the bolt, from its head", value=stack.words, measures="words"),
        *(
            [Figure(key="offset", name="Middle of the pair from the place as drawn", value=abs(stack.offset))]
            if tab.count == 2 and abs(stack.offset) > 0.5
            else []
        ),
        Figure(key="bolt_level", name="Bolt out of level", value=angles.level, measures="angle"),
        Figure(key="bolt_level_side", name="Of its ends", value=angles.level_words, measures="words"),
        Figure(key="bolt_turn", name="Bolt turned", value=angles.turn, measures="angle"),
        Figure(key="bolt_turn_side", name="Turned", value=angles.turn_words, measures="words"),
        Figure(key="tab_plumb", name="Tab angle from vertical", value=angles.plumb, measures="angle"),
        Figure(key="tab_plumb_side", name="Its foot", value=angles.plumb_words, measures="words"),
        *(
            []
            if angles.foot_plan is None
            else [
                Figure(
                    key="foot_plan",
                    name="Hole to foot, in plan from fore–aft",
                    value=angles.foot_plan,
                    measures="angle",
                )
            ]
        ),
        Figure(
            key="lean",
            name="Rod or damper leans out of its bolt's square",
            value=mount.lean,
            measures="angle",
        ),
        Figure(key="static", name="Load at ride", value=mount.static, measures="force"),
        Figure(key="load", name="Peak load", value=mount.load, measures="force"),
        Figure(key="load_case", name="It comes", value=mount.case or "in no case", measures="words"),
        Figure(key="sideways", name="Greatest load along the bolt", value=mount.sideways, measures="force"),
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
        said=(
            *_said(name, tab, mount, joint, checks, stock, factor, square_deg, choice),
            *([_no_gusset(name)] if tab.gusset and gusset is None else []),
        ),
        stacks=(stack,),
        also=mount.also,
        choice=_as_choice(name, mount, tab, choice),
    )


def _no_gusset(name: str) -> Said:
    """Return what is said of a tab with a gusset that has nowhere to be."""
    words = (
        "{0} has no room for a gusset: none between its foot and the bolt's washer, or a tube's round where it would "
        "stand. It is counted without."
    )
    change = Remedy(say=Sentence("Leave the gusset off."), change={"gusset": False})
    return Said(mark="fault", say=Sentence(words, names=(name,)), remedy=change)


def _foot_words(foot: Foot) -> str:
    if foot.on == "flat" or foot.outside is None:
        return "on a flat" if not foot.slope else f"on a flat, {foot.slope:g}° out of square"
    if foot.angle > 89.5:
        return f"across a tube of {foot.outside:g} mm"
    if foot.angle < 0.5:
        return f"along a tube of {foot.outside:g} mm"
    return f"on a tube of {foot.outside:g} mm, at {foot.angle:.1f}°"


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
        words = f"{{0}} bears {least.factor:.1f} times its peak load where {factor:g} are wanted: {least.what}, {least.case}."
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
    said += _of_the_bolt(name, tab, mount, joint)
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


def _of_the_bolt(name: str, tab: Tab, mount: Mount, joint: BoltedJoint) -> Iterator[Said]:
    """Yield what does not go together on the bolt: its hole, what stands between the pair, two bolts in one place."""
    told = {"hole": length(tab.hole), "bolt": length(joint.bolt.size)}
    fit = Remedy(say=Sentence("Drill it {bolt}.", {"bolt": told["bolt"]}), change={"hole": joint.bolt.size})
    if tab.hole > joint.bolt.size + LOOSE_MM:
        words = "{0} has a hole of {hole} for a bolt of {bolt}: the bolt is loose in it, and bears on its own width alone."
        yield Said(mark="warning", say=Sentence(words, told, (name,)), remedy=fit)
    elif tab.hole < joint.bolt.size - NONE_MM:
        words = "{0} has a hole of {hole}, and what it holds takes a bolt of {bolt}: it does not go in."
        yield Said(mark="fault", say=Sentence(words, told, (name,)), remedy=fit)
    if tab.joint < joint.width - NONE_MM:
        sizes = {"gap": length(tab.joint), "wide": length(joint.width)}
        words = "{0} leaves {gap} for what stands in it, which is {wide} wide: it does not go in."
        change = Remedy(
            say=Sentence("Leave {wide}.", {"wide": sizes["wide"]}),
            change={"joint_width": round(joint.width, 2)},
        )
        yield Said(mark="fault", say=Sentence(words, sizes, (name,)), remedy=change)
    if mount.crossed > CROSSED_DEG:
        others = ", ".join(holds for _, holds in mount.also)
        words = "{0} is one place for {1} and {2}, whose bolts are {off} apart: give both one bolt, or move one of them."
        off = {"off": Quantity(mount.crossed, "angle")}
        yield Said(mark="fault", say=Sentence(words, off, (name, mount.holds, others)))
    for one, at in zip(joint.members, (0.0, *member_places(joint)), strict=True):
        if one.bore > joint.bolt.size + LOOSE_MM:
            sizes = {"bore": length(one.bore), "bolt": told["bolt"]}
            words = "{0}: the {1} has a bore of {bore} on a bolt of {bolt}: press a sleeve into it."
            yield Said(mark="note", say=Sentence(words, sizes, (name, one.said)))
        if abs(at) > ASIDE_MM:
            words = "{0}: the {1} stands {at} along the bolt from where it is drawn, beside the {2}."
            yield Said(
                mark="note",
                say=Sentence(words, {"at": length(abs(at))}, (name, one.said, joint.members[0].said)),
            )


def member_places(joint: BoltedJoint) -> list[float]:
    """Return where the middles of all but the first of what is held stand along the bolt, mm from the drawn place."""
    low = joint.members[0].width / 2
    found = []
    for one in joint.members[1:]:
        low += joint.bolt.washer
        found.append(low + one.width / 2)
        low += one.width
    return found


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
        try:
            bolt = bolt_for(joint.bolt, other.grip, other.thickness)
        except NoThread:
            continue
        if other.gusset and gusset_of(other, bolt) is None:
            continue
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
