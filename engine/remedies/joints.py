"""Bearings and shafts that take more, threads screwed further in."""

from collections.abc import Callable

from engine.findings.finding import Finding
from engine.remedies.knob import Knob, Say, Values, add_to, number_knob
from engine.sentences import Quantity, Sentence, spoken
from engine.station.solved import SolvedStation


def rated(kind: str) -> Callable[[Finding, Values, SolvedStation], list[Knob]]:
    """Return a maker of knobs: a joint or a shaft of a larger rated angle."""

    def make(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
        for number, part in enumerate(values.get(kind, [])):
            if part["name"] == finding.subject:
                return [
                    Knob(
                        turn=add_to((kind, number, "rated")),
                        say=_say_rated(float(part["rated"])),
                        step=1.0,
                        most=60.0,
                        fine=0.5,
                        ways=(1,),
                    )
                ]
        return []

    return make


def _say_rated(before: float) -> Say:
    return lambda x: Sentence("Fit one rated {new}.", {"new": Quantity(before + x, "angle")})


def plunge(key: str) -> Callable[[Finding, Values, SolvedStation], list[Knob]]:
    """Return a maker of knobs: a shaft with more plunge at one end."""

    def make(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
        for number, part in enumerate(values.get("shafts", [])):
            if part["name"] == finding.subject and "length" in part:
                words = "Fit a joint with {by} more plunge " + ("inward." if key == "least" else "outward.")
                way = -1 if key == "least" else 1
                return [number_knob(("shafts", number, "length", key), words, words, 100.0, (way,))]
        return []

    return make


def thread(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return the engagement of each end."""
    words = f"Screw each end of the {spoken(finding.subject or '')} in {{by}} further."
    return [number_knob(("rods", finding.subject or "", "engagement"), words, words, 60.0, (1,))]
