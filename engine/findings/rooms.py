"""Whether anything touches anything: tyre to structure, tyre to spring, bags all round, the rest."""

from engine.findings.finding import Finding, Rules, Span
from engine.limits.clearance import Clearance
from engine.sentences import Sentence, length, travel
from engine.workup import WorkUp

CODES = {
    "tyre_to_spring": "A tyre that touches the spring cuts itself open.",
    "tyre_to_structure": "Tyres grow, flex and throw stones: what is near standing still touches when driven.",
    "bag_to_anything": "A bag rubs through in days.",
    "parts_to_one_another": "Bushes give and brackets bend: parts need air between them.",
}


def judge_rooms(work: WorkUp, rules: Rules) -> list[Finding]:
    """Return one finding for each pair nearer than is good, and one for the nearest that is well."""
    found: list[Finding] = []
    well: list[Finding] = []
    for clearance in work.clearances:
        code, (good, allowed) = _kind(clearance, rules)
        finding = _finding(clearance, code, good, allowed)
        (well if finding.mark == "good" else found).append(finding)
    return found + well[:1]


def _kind(clearance: Clearance, rules: Rules) -> tuple[str, Span]:
    kinds = set(clearance.kinds)
    if "bag" in kinds:
        return "bag_to_anything", rules.bag_clear_mm
    if "tyre" in kinds and kinds & {"spring", "damper"}:
        return "tyre_to_spring", rules.tyre_spring_mm
    if "tyre" in kinds:
        return "tyre_to_structure", rules.tyre_structure_mm
    return "parts_to_one_another", rules.clear_mm


def _finding(clearance: Clearance, code: str, good: float, allowed: float) -> Finding:
    gap = clearance.distance
    mark = "good" if gap >= good else "warning" if gap >= allowed else "fault"
    at = {"at": travel(clearance.heave)}
    where = "at {at}"
    if abs(clearance.articulation) > 0.05:
        where, at = (
            "at {at} with one wheel {cross} up and the other down",
            at | {"cross": length(abs(clearance.articulation))},
        )
    names = f"{clearance.one} and {clearance.other}"
    if gap < 0:
        words = f"{names} run {{gap}} into one another {where}."
    else:
        words = f"{names} come within {{gap}} of one another {where}."
    words = words[0].upper() + words[1:]
    if mark != "good":
        words = words[:-1] + "; {good} is wanted."
    return Finding(
        code=code,
        mark=mark,
        subject=f"{clearance.one} | {clearance.other}",
        what=Sentence(words, {"gap": length(abs(gap)), "good": length(good)} | at),
        why=CODES[code],
        remedy=None
        if mark == "good"
        else Sentence("Find {more} more room between them.", {"more": length(good - gap)}),
        travel_mm=clearance.heave,
        value=gap,
        limit=good,
        measures="length",
        push=clearance.push,
    )
