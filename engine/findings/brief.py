"""The whole job in one sentence, as the Brief says it: what its wheels carry, and how it is to ride."""

from engine.document.coming import finished_kg, wheels_of
from engine.document.schema import Project
from engine.findings.finding import rules_of
from engine.findings.ride import purpose_said
from engine.sentences import Quantity, Sentence


def brief_of(project: Project) -> tuple[str, Sentence]:
    """Return a mark and what there is to say of a job; variants do not count."""
    counted = [station for station in project.stations if station.variant_of is None]
    if not counted:
        return "warning", Sentence("Nothing is carried yet: add a station.")
    wheels = sum(wheels_of(station) for station in counted)
    now = sum(wheels_of(station) * station.mass.corner for station in counted)
    finished = sum(
        wheels_of(station) * (finished_kg(project, station) or station.mass.corner) for station in counted
    )
    told = {"now": Quantity(now, "mass")}
    words = "Its one wheel carries {now}" if wheels == 1 else f"Its {wheels} wheels carry {{now}}"
    if abs(finished - now) > 1e-6:
        told["finished"] = Quantity(finished, "mass")
        words += ", {finished} when finished"
    rules = rules_of(project.judging)
    if rules.frequencies is None:
        return "warning", Sentence(words + ". Say what it is for: how it rides is judged by that.", told)
    told |= {
        "low": Quantity(rules.frequencies[0], "frequency"),
        "high": Quantity(rules.frequencies[1], "frequency"),
    }
    usual = "wanted" if rules.frequency_hz is not None else f"usual for {purpose_said(rules)}"
    return "good", Sentence(f"{words}; {{low}} to {{high}} is {usual}.", told)
