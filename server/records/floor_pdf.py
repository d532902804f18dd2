"""The sheets for the floor as a PDF: to cycle each station by, to weigh by, and what is to be turned."""

from collections.abc import Iterator

from reportlab.platypus import Flowable, PageBreak, Spacer

from engine.prove.proof import Proof
from engine.sentences import spoken
from server.jobs.models import Job
from server.paper.floor_sheets import cycle_sheet, weigh_sheet
from server.paper.setting import Paper
from server.records.proved import proved


def floor_pdf(job: Job, paper: Paper) -> bytes:
    """Return the floor's sheets of the newest revision: a cycle sheet a station, a weigh-in sheet, the setting list."""
    proof = proved(job)
    name = f"{job.name}, revision {job.newest().number}"
    if proof is None:
        words = "No station is drawn yet: there is nothing to cycle or to weigh."
        return paper.build([paper.say(name, "title"), paper.say(words)], name)
    story: list[Flowable] = []
    for support in proof.vehicle.supports:
        story += [*cycle_sheet(support.solved, name, paper), PageBreak()]
    story += [*weigh_sheet(proof.vehicle, name, paper), PageBreak(), *_setting_list(proof, name, paper)]
    return paper.build(story, f"{name}, floor sheets")


def _setting_list(proof: Proof, name: str, paper: Paper) -> Iterator[Flowable]:
    yield paper.say("Turn, in this order", "title")
    yield paper.say(
        f"{name}. On stands and with the wheels hanging while rods are turned; lock nuts tight and paint across them after.",
        "small",
    )
    yield Spacer(1, 6)
    last = next((one for one in reversed(proof.weighs) if one.after is not None), None)
    turning = [] if last is None else [one for one in last.turns if abs(one.by) > 0.05]
    if not turning:
        yield paper.say(
            "Nothing is left to turn."
            if last is not None
            else "Weigh it first: then this page says what to turn."
        )
        return
    rows = [["", "Where", "What", "Turn", "That is", "Left that way", "Done"]]
    for number, one in enumerate(turning, start=1):
        pressure = one.turns is None
        by = (
            f"{'+' if one.by > 0 else ''}{paper.figure(one.by, 'pressure')}"
            if pressure
            else paper.figure(one.by, "travel")
        )
        left = (
            ""
            if one.left_after is None
            else paper.figure(one.left_after, "pressure" if pressure else "length")
        )
        rows.append(
            [
                str(number),
                spoken(one.station),
                f"{spoken(one.what)}. {one.way.told(paper.inches)}",
                "" if one.turns is None else f"{round(one.turns * 4) / 4:+.2f}",
                by,
                left,
                "",
            ]
        )
    yield paper.table(rows, [8, paper.wide - 166, 64, 24, 26, 28, 16], 12)
    assert last is not None
    if last.after is not None:
        heights = ", ".join(
            f"{spoken(key)} {paper.figure(height, 'length')}" for key, height in last.after.heights.items()
        )
        travels = ", ".join(
            f"{spoken(key)} {paper.figure(at, 'travel')}" for key, at in last.after.travels.items()
        )
        yield Spacer(1, 6)
        yield paper.say(
            (f"Then it stands {heights}" if heights else f"Then each wheel stands, from as drawn, {travels}")
            + ("." if last.after.cross is None else f", and crosses {100 * last.after.cross:.1f} %.")
        )
