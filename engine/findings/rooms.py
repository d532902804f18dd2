"""Whether anything touches anything: tyre to structure, tyre to spring, bags all round, the rest."""

from engine.findings import kinds
from engine.findings.finding import Finding, Rules, Span
from engine.findings.kinds import Kind
from engine.limits.clearance import Clearance
from engine.sentences import Quantity, Sentence, length, travel
from engine.workup import WorkUp

WHY = {
    kinds.TYRE_TO_SPRING: "A tyre that touches the spring cuts itself open.",
    kinds.TYRE_TO_STRUCTURE: "Tyres grow, flex and throw stones: what is near standing still touches when driven.",
    kinds.BAG_TO_ANYTHING: "A bag rubs through in days.",
    kinds.PARTS_TO_ONE_ANOTHER: "Bushes give and brackets bend: parts need air between them.",
}


def judge_rooms(work: WorkUp, rules: Rules) -> list[Finding]:
    """Return one finding for each pair nearer than is good, and one for the nearest that is well."""
    found: list[Finding] = []
    well: list[Finding] = []
    for clearance in work.clearances:
        kind, (good, allowed) = _kind(clearance, rules)
        finding = _finding(clearance, kind, good, allowed)
        (well if finding.mark == "good" else found).append(finding)
    return found + well[:1]


def _kind(clearance: Clearance, rules: Rules) -> tuple[Kind, Span]:
    what = set(clearance.kinds)
    if "bag" in what:
        return kinds.BAG_TO_ANYTHING, rules.bag_clear_mm
    if "tyre" in what and what & {"spring", "damper"}:
        return kinds.TYRE_TO_SPRING, rules.tyre_spring_mm
    if "tyre" in what:
        return kinds.TYRE_TO_STRUCTURE, rules.tyre_structure_mm
    return kinds.PARTS_TO_ONE_ANOTHER, rules.clear_mm


def _finding(clearance: Clearance, kind: Kind, good: float, allowed: float) -> Finding:
    gap = clearance.distance
    mark = "good" if gap >= good else "warning" if gap >= allowed else "fault"
    at: dict[str, Quantity] = {"at": travel(clearance.heave)}
    where = "at {at}"
    if abs(clearance.articulation) > 0.05:
        where, at = (
            "at {at} with one wheel {cross} up and the other down",
            at | {"cross": length(abs(clearance.articulation))},
        )
    if clearance.drawn < 0:
        at["drawn"] = length(-clearance.drawn)
        words = f"{{0}} and {{1}} run {{drawn}} into one another as drawn already, {{gap}} {where}."
    elif gap < 0:
        words = f"{{0}} and {{1}} run {{gap}} into one another {where}."
    else:
        words = f"{{0}} and {{1}} come within {{gap}} of one another {where}."
    if mark != "good":
        words = words[:-1] + "; {good} is wanted."
    return Finding(
        kind=kind,
        mark=mark,
        subjects=(clearance.one, clearance.other),
        what=Sentence(
            words, {"gap": length(abs(gap)), "good": length(good)} | at, (clearance.one, clearance.other)
        ),
        why=WHY[kind],
        remedy=None
        if mark == "good"
        else Sentence("Find {more} more room between them.", {"more": length(good - gap)}),
        travel_mm=clearance.heave,
        value=gap,
        limit=good,
        measures="length",
        push=clearance.push,
    )
