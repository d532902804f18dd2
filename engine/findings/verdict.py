"""One sentence for the whole sheet, before any number: does it fit, and where does it stand?"""

from engine.findings.finding import Finding
from engine.sentences import Quantity, Sentence, length, travel
from engine.station.solved import SolvedStation


def verdict(solved: SolvedStation, findings: tuple[Finding, ...]) -> Sentence:
    """Return the worst finding if there is one, else what was settled."""
    faults = [finding for finding in findings if finding.mark == "fault"]
    warnings = [finding for finding in findings if finding.mark == "warning"]
    if faults:
        return _with_rest(faults[0].what, len(faults) - 1, "fault")
    wanted = solved.station.travel
    quantities = {"bump": length(wanted.bump), "droop": length(wanted.droop)}
    words = "The mounts fit {bump} up and {droop} down"
    if solved.ride is not None:
        words += ", and it stands at {ride} on {rate}"
        quantities |= {
            "ride": travel(solved.ride.travel),
            "rate": Quantity(solved.ride.wheel_rate, "rate"),
        }
    return _with_rest(Sentence(words + ".", quantities), len(warnings), "warning")


def _with_rest(sentence: Sentence, count: int, mark: str) -> Sentence:
    if not count:
        return sentence
    noun = mark if count == 1 else f"{mark}s"
    more = "One more" if count == 1 else f"{count} more"
    rest = f" {more} {noun} below." if mark == "fault" else f" {count} {noun} to look at."
    return sentence.followed(rest)
