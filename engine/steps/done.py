"""Whether a step is done, by what the job shows, never by a tick; and what undid one that was.

Undone   what was done and no longer holds: a part made to another length, a mount tacked and then moved, initials at a gate that is
         no longer met, something turned after the last weigh-in.
Located  a place's largest standard error along an axis is within the shop's limit for left against right, the good one.
"""

from collections.abc import Callable

import numpy as np

from engine.document.coming import finished_kg, wheels_of
from engine.document.schema import Station
from engine.facts import facts
from engine.findings.finding import Finding, rules_of
from engine.sentences import Quantity, Sentence, length, listed
from engine.shop.made import Made
from engine.shop.set_out import SetOut
from engine.sizing.rocker.wheel_side import rockers_here
from engine.steps.evidence import Evidence
from engine.survey.loose import said as place_said

CYCLE_GATES = ("cycled", "springs_out", "tyre_on", "no_contact", "left_right")
SAME = {"length": 0.5, "angle": 0.5}  # mm and degrees: a part made within this of its drawing is as drawn
WHOLE_TURN = 360.0
WEIGHED_SHARE = 0.03  # of the finished mass that a weigh-in may be short of it
TURN_MM, TURN_BAR = 1.0, 0.1  # less is not worth turning
SCHOOLS = {
    "full_bump_first": "place it at full bump first, then look at full droop, then at ride height",
    "full_droop_first": "place it at full droop first, then look at full bump, then at ride height",
    "ride_first": "place it at ride height first, then look at full bump and full droop",
}
PLACES = {"full_bump_first": ("bump", "droop", "ride"), "full_droop_first": ("droop", "bump", "ride"), "ride_first": ("ride", "bump", "droop")}  # fmt: skip


@facts
class Done:
    """How far a step is: done or not, in a sentence; begun; what undid it, where it was done once; what is left of it.

    left  : pieces or mounts still to do, where it goes by them
    waits : things that have not come, each with the day it is due, None where nobody knows
    """

    done: bool
    say: Sentence
    begun: bool = False
    undone: Sentence | None = None
    left: int = 1
    waits: tuple[tuple[str, str | None], ...] = ()


def done_of(step: str, evidence: Evidence, station: Station | None) -> Done | None:
    """Return how far a step of a station, or of the vehicle, is; None where there is no such step there."""
    if station is None:
        return VEHICLE[step](evidence)
    return STATION[step](evidence, station)


def _brief(evidence: Evidence) -> Done:
    project, missing = evidence.project, []
    if rules_of(project.judging).purpose is None and not any(
        one.judging and one.judging.purpose for one in evidence.built
    ):
        missing.append("what it is for")
    unsaid = [one.name for one in evidence.built if finished_kg(project, one) is None]
    if unsaid and not project.coming:
        missing.append(f"what it will weigh finished ({listed(unsaid)})")
    still = [one.name for one in evidence.built if one.travel.bump + one.travel.droop <= 0]
    if still:
        missing.append(f"the travel wanted ({listed(still)})")
    if missing:
        return Done(done=False, say=Sentence(f"Still to be said on the Brief: {'; '.join(missing)}."))
    return Done(done=True, say=Sentence("Purpose, masses and wanted travel are said."))


def _guard(evidence: Evidence) -> Done:
    guards, word = evidence.survey.guards, evidence.confirmed("guard", None)
    moved = next((one for one in guards if one.state == "moved"), None)
    if moved is not None:
        return Done(done=False, say=moved.say, begun=True, undone=moved.say)
    if not guards:
        words = "Write down two or three check dimensions across the frame before anything is cut."
        return Done(done=False, say=Sentence(words))
    if word is None:
        words = (
            f"{len(guards)} check dimensions are written down. Weld the braces on, then say so with initials."
        )
        return Done(done=False, say=Sentence(words), begun=True)
    words = f"{len(guards)} check dimensions are written down; {word.initials} says that the braces are on."
    return Done(done=True, say=Sentence(words))


def must_be_read(station: Station) -> list[str]:
    """Return the points of a station that are there to be read: what carries the wheel, and where that is held on the chassis.

    Rockers, rods to them and units come later: they are placed, not found.
    """
    wheels = {point for wheel in station.wheels for point in (wheel.centre, wheel.spindle) if point}
    bodies = [set(members) for members in station.bodies.values()]
    carrying = {point for members in bodies if wheels & members for point in members} | wheels
    arms = {point for members in bodies if carrying & members for point in members}
    return [one for one in station.points if one in carrying or (one in arms and one in station.chassis)]


def _survey(evidence: Evidence, station: Station) -> Done:
    worked = evidence.survey
    limit = rules_of(evidence.project.judging, station.judging).sides_mm[0]
    prefix, names = f"{station.name}/", worked.network.names
    read = {name.removeprefix(prefix) for name in names if name.startswith(prefix)}
    if not read:
        words = "Nothing of {0} is read yet: take its list on the Survey."
        return Done(done=False, say=Sentence(words, names=(station.name,)))
    fit = worked.adjusted.fit
    slips = [one for one in worked.adjusted.suspects if _names(worked.survey.readings[one.number], prefix)]
    if slips:
        words = (
            f"{_count(len(slips), 'reading of it does', 'readings of it do')} not fit: read again or correct."
        )
        return Done(done=False, say=Sentence(words), begun=True)
    missing = [one for one in must_be_read(station) if one not in read]
    if missing:
        words = f"{_count(len(missing), 'place is', 'places are')} not read yet: {{0}}{' and others' if len(missing) > 1 else ''}."
        return Done(done=False, say=Sentence(words, names=(missing[0],)), begun=True)
    mine = [k for k, name in enumerate(names) if name.startswith(prefix)]
    loose = [names[k] for k in mine if fit.loose[k]]
    if loose:
        words = f"{_count(len(loose), 'place is', 'places are')} not located yet: {{0}}{' and others' if len(loose) > 1 else ''}."
        return Done(done=False, say=Sentence(words, names=(place_said(loose[0]),)), begun=True)
    sigma = np.asarray(fit.sigma).reshape(len(names), -1).max(axis=1)
    worst = max(mine, key=lambda k: float(sigma[k]))
    told = {"worst": length(float(sigma[worst])), "limit": length(limit)}
    if sigma[worst] > limit:
        words = "{0} is located to ±{worst}; {limit} is what the shop wants: read it once more."
        return Done(done=False, say=Sentence(words, told, (place_said(names[worst]),)), begun=True)
    return Done(done=True, say=Sentence("Every place is located, the loosest to ±{worst}.", told))


def _names(reading: object, prefix: str) -> bool:
    values = [getattr(reading, key, None) for key in ("of", "at", "between", "along", "pair")]
    places = [one for value in values if value for one in ([value] if isinstance(value, str) else value)]
    return any(str(place).startswith(prefix) for place in places)


def _faultless(sheet: str | None, name: str) -> Callable[[Evidence, Station], Done]:
    """Return what tells whether a sheet has no fault; None is Layout's own: what no other sheet shows."""

    def told(evidence: Evidence, station: Station) -> Done:
        its = evidence.station(station.name)
        if its is None:
            assert evidence.failed is not None
            return Done(done=False, say=evidence.failed, begun=True)
        faults = [f for f in its.findings if f.mark == "fault" and _shown(f, sheet)]
        if faults:
            return Done(done=False, say=faults[0].what, begun=True)
        return Done(done=True, say=Sentence(f"No fault on {name}."))

    return told


def _shown(finding: Finding, sheet: str | None) -> bool:
    sheets = finding.kind.sheets
    return not sheets if sheet is None else sheet in sheets


def _rocker(evidence: Evidence, station: Station) -> Done | None:
    its = evidence.station(station.name)
    if its is None or not rockers_here(its.work.solved):
        return None
    return _faultless("rocker", "Rocker")(evidence, station)


def _springing(evidence: Evidence, station: Station) -> Done:
    found = _faultless("springing", "Springing")(evidence, station)
    if found.done and finished_kg(evidence.project, station) is None and not evidence.project.coming:
        words = "No fault as it weighs now; what it will weigh finished is not said, and springs are bought for that."
        return Done(done=False, say=Sentence(words), begun=True)
    return found


def _order(evidence: Evidence, station: Station) -> Done | None:
    bought = evidence.bought(station.name)
    if not bought:
        return None
    still = [one for one in bought if one.state == "open"]
    if still:
        words = f"{_count(len(still), 'line', 'lines')} of To buy neither ordered nor on the shelf: {{0}}{' and others' if len(still) > 1 else ''}."
        return Done(done=False, say=Sentence(words, names=(still[0].said,)), begun=len(still) < len(bought))
    return Done(done=True, say=Sentence("Everything on To buy is ordered or there."))


def _make(evidence: Evidence, station: Station) -> Done | None:
    parts = evidence.parts_of(station.name)
    if not parts:
        return None
    still = [(part, left) for part in parts if (left := part.many - _pieces(evidence, part)) > 0]
    otherwise = [_made_otherwise(evidence, part) for part in parts]
    changed = next((one for one in otherwise if one is not None), None)
    done = len(parts) - len(still)
    if changed is not None:
        return Done(done=False, say=changed, begun=True, undone=changed, left=sum(n for _, n in still) or 1)
    if still:
        words = f"{_count(done, 'part', 'parts')} of {len(parts)} made; next {{0}}."
        return Done(
            done=False,
            say=Sentence(words, names=(still[0][0].name,)),
            begun=bool(done),
            left=sum(n for _, n in still),
        )
    return Done(done=True, say=Sentence(f"All {len(parts)} parts are made."))


def _pieces(evidence: Evidence, part: Made) -> int:
    return sum(
        part.many if one.count is None else one.count for one in evidence.made(part.station, part.name)
    )


def _made_otherwise(evidence: Evidence, part: Made) -> Sentence | None:
    """Return what a part was made to that its drawing no longer says; the last record counts."""
    its = evidence.made(part.station, part.name)
    now = {one.key: one for one in part.figures if isinstance(one.value, int | float)}
    for key, was in its[-1].figures.items() if its else ():
        figure = now.get(key)
        if figure is None or figure.measures not in SAME:
            continue
        value = float(figure.value)  # type: ignore[arg-type]
        off = value - was
        if figure.measures == "angle":  # one told from the other side of nothing is the same angle
            off = (off + WHOLE_TURN / 2) % WHOLE_TURN - WHOLE_TURN / 2
        if abs(off) > SAME[figure.measures]:
            told = {"was": Quantity(was, figure.measures), "now": Quantity(value, figure.measures)}
            words = f"{{0}} was made with {figure.name} {{was}}; the drawing now says {{now}}."
            return Sentence(words, told, (part.name,))
    return None


def read_back(evidence: Evidence, mount: SetOut, point: str) -> np.ndarray | None:
    """Return how far a mount is by the survey from where it is drawn, along each axis, (3,) mm; None where it is not read."""
    worked, name = evidence.survey, f"{mount.station}/{point}"
    if name not in worked.network.names:
        return None
    k = worked.network.names.index(name)
    if worked.adjusted.fit.loose[k]:
        return None
    drawn = next(one for one in evidence.project.stations if one.name == mount.station).points[point]
    off: np.ndarray = np.abs(worked.adjusted.fit.spots[k] - np.asarray(drawn, dtype=float))
    return off


def sides_of(station: Station) -> int:
    """Return how often a station's mounts are there: twice for a corner that is its own mirror image."""
    return wheels_of(station) if station.kind == "corner" else 1


def _tack(evidence: Evidence, station: Station) -> Done | None:
    mounts = evidence.mounts_of(station.name)
    if not mounts:
        return None
    state = {} if evidence.project.work is None else evidence.project.work.state
    unread, off = [], []
    for mount in mounts:
        for point in mount.tabs:
            back = read_back(evidence, mount, point)
            if back is None:
                unread.append(point)
            elif (back > np.asarray(mount.close_enough)).any():
                off.append((point, float(np.linalg.norm(back))))
    begun = any(state.get(f"{station.name}/{one}") in ("tacked", "welded") for m in mounts for one in m.tabs)
    still = {*unread, *(point for point, _ in off)}
    left = sides_of(station) * sum(bool(still & set(mount.tabs)) for mount in mounts)
    if off:
        point, by = off[0]
        words = "{0} stands {by} from where it is drawn, which is more than it may: move it, or draw it where it is."
        say = Sentence(words, {"by": length(by)}, (point,))
        was = state.get(f"{station.name}/{point}") in ("tacked", "welded")
        return Done(done=False, say=say, begun=True, undone=say if was else None, left=left)
    if unread:
        words = f"{_count(len(unread), 'mount', 'mounts')} not read back yet: {{0}}{' and others' if len(unread) > 1 else ''}."
        return Done(done=False, say=Sentence(words, names=(unread[0],)), begun=begun, left=left)
    return Done(done=True, say=Sentence(f"All {len(mounts)} mounts are read back where they are drawn."))


def _cycle(evidence: Evidence, station: Station) -> Done:
    waits = tuple(
        (one.said, one.due) for one in evidence.bought(station.name) if one.state in ("ordered", "open")
    )
    gates = [gate for gate in evidence.gates_of(station.name) if gate.name in CYCLE_GATES]
    begun = any(cycle.station == station.name for cycle in evidence.cycles)
    unmet = [gate for gate in gates if not gate.met]
    if evidence.proof is None:
        return Done(done=False, say=evidence.failed or Sentence("Nothing is known of it."))
    if not unmet:
        return Done(done=True, say=Sentence("Cycled: every gate of the cycle is met."), begun=True)
    signed = next((gate for gate in unmet if gate.initials), None)
    undone = None if signed is None else _signed(signed.title, signed.initials, signed.say)
    return Done(done=False, say=undone or unmet[0].say, begun=begun, undone=undone, waits=waits)


def _signed(title: str, initials: str, say: Sentence) -> Sentence:
    return Sentence(f"{title} was signed by {initials}, and is no longer met: {say.words}", say.quantities, say.names)  # fmt: skip


def _weld(evidence: Evidence, station: Station) -> Done:
    gates = evidence.gates_of(station.name)
    if not gates:
        return Done(done=False, say=evidence.failed or Sentence("Nothing is known of it."))
    left = max(sides_of(station) * len(evidence.mounts_of(station.name)), 1)
    broken = next((gate for gate in gates if gate.initials and not gate.met), None)
    unmet = [gate for gate in gates if not gate.met]
    unsigned = [gate for gate in gates if gate.met and not gate.initials]
    if unmet:
        undone = None if broken is None else _signed(broken.title, broken.initials, broken.say)
        return Done(done=False, say=undone or unmet[0].say, undone=undone, left=left)
    if unsigned:
        words = f"Every gate is met; {_count(len(unsigned), 'one waits', 'wait')} for initials: {unsigned[0].title}."
        return Done(done=False, say=Sentence(words), begun=len(unsigned) < len(gates), left=left)
    return Done(done=True, say=Sentence("Every gate is met and signed."))


def _weigh(evidence: Evidence) -> Done:
    weighs = evidence.weighs()
    if not weighs:
        return Done(done=False, say=Sentence("Not weighed yet: every wheel on a scale, with heights."))
    number, last = weighs[-1]
    total = sum(max(value, 0.0) for value in last.wheels.values())
    wheels = sum(wheels_of(one) for one in evidence.built)
    finished = sum(
        wheels_of(one) * (finished_kg(evidence.project, one) or one.mass.corner) for one in evidence.built
    )
    if len(last.wheels) < wheels:
        words = f"The last weigh-in has {len(last.wheels)} of {wheels} wheels on a scale."
        return Done(done=False, say=Sentence(words), begun=True)
    if total < finished * (1 - WEIGHED_SHARE):
        told = {"total": Quantity(total, "mass"), "finished": Quantity(finished, "mass")}
        words = "Weighed at {total}; finished it is {finished}: weigh it again with the parts still to come in it, or their mass in their place."
        return Done(done=False, say=Sentence(words, told), begun=True)
    turned = evidence.settings_after(number)
    if turned:
        words = f"{{0}} was turned after the last weigh-in ({_count(len(turned), 'setting', 'settings')}): weigh it again."
        say = Sentence(words, names=(turned[-1].station,))
        return Done(done=False, say=say, begun=True, undone=say)
    return Done(
        done=True, say=Sentence("Weighed at its finished mass: {total}.", {"total": Quantity(total, "mass")})
    )


def _set(evidence: Evidence) -> Done:
    weighs = evidence.proof.weighs if evidence.proof is not None else ()
    level = [one for one in weighs if one.cg_height is None and one.total > 0]
    if not level:
        return Done(done=False, say=Sentence("Nothing is weighed yet, so nothing says what to turn."))
    last = level[-1]
    record = dict(evidence.weighs()).get(last.record)
    if record is None or not record.heights:
        words = "Heights were not read at the last weigh-in: nobody knows how it stands."
        return Done(done=False, say=Sentence(words), begun=True)
    worth = [turn for turn in last.turns if abs(turn.by) > (TURN_BAR if turn.turns is None else TURN_MM)]
    if worth:
        turn = worth[0]
        measures = "pressure" if turn.turns is None else "length"
        words = f"{_count(len(worth), 'thing', 'things')} to turn yet, {turn.what} of {{0}} by {{by}} first."
        say = Sentence(words, {"by": Quantity(abs(turn.by), measures)}, (turn.station,))
        return Done(done=False, say=say, begun=bool(evidence.settings_after(-1)))
    turned = evidence.settings_after(last.record)
    if turned:
        say = Sentence("{0} was turned since it was weighed: weigh it and look again.", names=(turned[-1].station,))  # fmt: skip
        return Done(done=False, say=say, begun=True, undone=say)
    return Done(done=True, say=Sentence("Heights and cross weight are as wanted."))


def _drive(evidence: Evidence) -> Done:
    drives = evidence.drives()
    if not drives:
        return Done(done=False, say=Sentence("No drive is in the book yet."))
    number, _ = drives[-1]
    turned = evidence.settings_after(number)
    if turned:
        say = Sentence("{0} was turned since the last drive.", names=(turned[-1].station,))
        return Done(done=False, say=say, begun=True, undone=say)
    return Done(done=True, say=Sentence(f"{_count(len(drives), 'drive is', 'drives are')} in the book."))


def _count(many: int, one: str, more: str) -> str:
    return f"{many} {one if many == 1 else more}"


VEHICLE: dict[str, Callable[[Evidence], Done]] = {
    "brief": _brief,
    "guard": _guard,
    "weigh": _weigh,
    "set": _set,
    "drive": _drive,
}
STATION: dict[str, Callable[[Evidence, Station], Done | None]] = {
    "survey": _survey,
    "layout": _faultless(None, "Layout"),
    "rocker": _rocker,
    "springing": _springing,
    "stops": _faultless("stops", "Stops"),
    "order": _order,
    "make": _make,
    "tack": _tack,
    "cycle": _cycle,
    "weld": _weld,
}
