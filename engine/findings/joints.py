"""Rod ends, eyes, shafts and threads: nothing may bind, pull apart or run out of thread."""

from engine.document.schema import Rod
from engine.document.threads import NoThread, screw
from engine.findings import kinds
from engine.findings.finding import Finding, Rules
from engine.sentences import Quantity, Sentence, length, travel
from engine.workup import WorkUp


def judge_joints(work: WorkUp, rules: Rules) -> list[Finding]:
    """Return what there is to say of every rated joint, eye, shaft and threaded rod."""
    return [*_tilts(work, rules), *_shafts(work, rules), *_eyes(work, rules), *_threads(work, rules)]


def _degrees(value: float) -> Quantity:
    return Quantity(value, "angle")


def _tilts(work: WorkUp, rules: Rules) -> list[Finding]:
    found = []
    for tilt in work.tilts:
        spare = tilt.rated - tilt.worst
        mark = "good" if spare >= rules.joint_spare_deg else "warning" if spare >= 0 else "fault"
        words = "{0} leans {worst} at {at}; it is rated {rated}."
        if len(tilt.subjects) > 1:
            words = "{0} at {1} leans {worst} at {at}; it is rated {rated}."
        values = {"worst": _degrees(tilt.worst), "rated": _degrees(tilt.rated), "at": travel(tilt.heave)}
        found.append(
            Finding(
                kind=kinds.JOINT_TILT,
                mark=mark,
                subjects=tilt.subjects,
                what=Sentence(words, values, tilt.subjects),
                why="A bearing at the end of its tilt is a lever: it snaps the thread or opens its own race.",
                remedy=None
                if mark == "good"
                else Sentence(
                    "Fit one rated {wanted}, or turn its bolt so that it leans as far each way.",
                    {"wanted": _degrees(tilt.worst + rules.joint_spare_deg)},
                ),
                travel_mm=tilt.heave,
                value=spare,
                limit=rules.joint_spare_deg,
                measures="angle",
            )
        )
    return found


def _shafts(work: WorkUp, rules: Rules) -> list[Finding]:
    found = []
    for shaft in work.shafts:
        worst = max(shaft.bends)
        spare = shaft.rated - worst
        mark = "good" if spare >= rules.joint_spare_deg else "warning" if spare >= 0 else "fault"
        values = {"worst": _degrees(worst), "rated": _degrees(shaft.rated), "at": travel(shaft.worst_at[0])}
        found.append(
            Finding(
                kind=kinds.SHAFT_ANGLE,
                mark=mark,
                subjects=(shaft.name,),
                what=Sentence(
                    "{0} bends its joint {worst} at {at}; it is rated {rated}.", values, (shaft.name,)
                ),
                why="Past its angle a joint binds and breaks its cage, and the wheel with it.",
                remedy=None
                if mark == "good"
                else Sentence(
                    "Fit joints rated {wanted}, or limit the travel.",
                    {"wanted": _degrees(worst + rules.joint_spare_deg)},
                ),
                travel_mm=shaft.worst_at[0],
                value=spare,
                limit=rules.joint_spare_deg,
                measures="angle",
            )
        )
        found += _plunge(shaft.name, shaft.shortest, shaft.least, shaft.shortest_at[0], short=True)
        found += _plunge(shaft.name, shaft.longest, shaft.most, shaft.longest_at[0], short=False)
    return found


def _plunge(name: str, value: float, limit: float | None, at: float, short: bool) -> list[Finding]:
    if limit is None:
        return []
    left = value - limit if short else limit - value
    end = "bottoms" if short else "pulls out"
    values = {"left": length(abs(left)), "at": travel(at), "value": length(value)}
    words = "{0} is {value} at {at}: "
    words += f"{{left}} before it {end}." if left >= 0 else f"{{left}} past where it {end}."
    return [
        Finding(
            kind=kinds.SHAFT_SHORT if short else kinds.SHAFT_LONG,
            mark="good" if left >= 0 else "fault",
            subjects=(name,),
            what=Sentence(words, values, (name,)),
            why="A shaft that bottoms breaks the gearbox; one that pulls out leaves the car.",
            remedy=None
            if left >= 0
            else Sentence(
                f"Make the shaft {{more}} {'shorter' if short else 'longer'}, or move its inner joint.",
                {"more": length(-left)},
            ),
            travel_mm=at,
            value=left,
            limit=0.0,
            measures="length",
        )
    ]


def _eyes(work: WorkUp, rules: Rules) -> list[Finding]:
    good, allowed = rules.eye_square_deg
    found = []
    for eye in work.eyes:
        off = eye.off_square
        mark = "good" if off <= good else "warning" if off <= allowed else "fault"
        words = "The {0} leans up to {off} out of square to its bolt at {1}."
        found.append(
            Finding(
                kind=kinds.EYE_SQUARE,
                mark=mark,
                subjects=(eye.unit, eye.end),
                what=Sentence(words, {"off": _degrees(off)}, (eye.unit, eye.end)),
                why="Side load on the rod wears the bush and makes the damper stick.",
                remedy=None
                if mark == "good"
                else Sentence(
                    "Turn the tab by {off} so that its bolt stands square to the plane in which the damper swings.",
                    {"off": _degrees(off)},
                ),
                travel_mm=None,
                value=off,
                limit=good,
                measures="angle",
            )
        )
    return found


def _not_made(name: str, rod: Rod) -> list[Finding]:
    """Return that a rod's thread is one that nobody makes, where its pitch was told."""
    try:
        screw(rod.thread, rod.pitch if "pitch" in rod.model_fields_set else None)
    except NoThread as error:
        text = str(error).replace("{", "{{").replace("}", "}}")
        return [
            Finding(
                kind=kinds.THREAD_NOT_MADE,
                mark="fault",
                subjects=(name,),
                what=Sentence(f"{{0}}: {text}", names=(name,)),
                why="No rod end, insert or nut is sold with it, and a turn of the rod is not what it is taken for.",
                remedy=Sentence("Read the thread again with a gauge, and give its own size and pitch."),
            )
        ]
    return []


def _threads(work: WorkUp, rules: Rules) -> list[Finding]:
    found = []
    for name, rod in work.station.rods.items():
        turns = rod.engagement / rod.thread
        good, least = rules.thread_good_d * rod.thread, rules.thread_warn_d * rod.thread
        mark = (
            "good" if turns >= rules.thread_good_d else "warning" if turns >= rules.thread_warn_d else "fault"
        )
        words = "The {0} holds {held} of thread at each end; {good} is wanted."
        told = {"held": length(rod.engagement), "good": length(good)}
        if rod.engagement < 0:
            words = "The ends of the {0} have come out of their thread by {held}; {good} held is wanted."
            told["held"] = length(-rod.engagement)
        found.append(
            Finding(
                kind=kinds.THREAD_ENGAGEMENT,
                mark=mark,
                subjects=(name,),
                what=Sentence(words, told, (name,)),
                why="Too little thread strips, and it strips in the middle of a bend.",
                remedy=None
                if mark == "good"
                else Sentence(
                    "Screw each end in {more} further, or make the tube longer.",
                    {"more": length(good - rod.engagement)},
                ),
                travel_mm=None,
                value=rod.engagement,
                limit=good if turns >= rules.thread_warn_d else least,
                measures="length",
            )
        )
        found += _not_made(name, rod)
        if rod.hands[0] == rod.hands[1]:
            found.append(
                Finding(
                    kind=kinds.SAME_HAND_THREADS,
                    mark="warning",
                    subjects=(name,),
                    what=Sentence(f"Both ends of the {{0}} have {rod.hands[0]}-hand thread.", names=(name,)),
                    why="Turning the rod then changes nothing: it only walks along. It must come off to be set.",
                    remedy=Sentence("Make one end left-hand and the other right-hand."),
                )
            )
    return found
