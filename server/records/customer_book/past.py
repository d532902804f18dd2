"""How it came to be: revisions with why and what they changed, what was recorded, drives, and photographs."""

import io
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

from PIL import Image as Picture
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Image, KeepTogether, Spacer, Table

from engine.document.changes import changes_between
from engine.sentences import PLAIN, Quantity, spoken
from server.jobs.models import Job
from server.paper.pen import PageOf
from server.paper.setting import Paper
from server.records.book import KINDS, Entry

TITLE = "How it came to be"
MOST_CHANGES = 4  # of a revision are told; the rest are counted
PICTURE_TALL_MM, PIXELS = 62.0, 900
APART = {"revision", "reading", "photo", "mark"}  # told in tables of their own


def past_chapter(
    job: Job, entries: Sequence[Entry], paper: Paper, pages: dict[str, int]
) -> Iterator[Flowable]:
    """Yield revisions, records and photographs."""
    yield PageOf(TITLE, pages)
    yield paper.say(TITLE, "head")
    yield paper.table(_revisions(job, paper), [13, 25, 20, 44, paper.wide - 102])
    told = [entry for entry in entries if entry.kind not in APART]
    if told:
        yield paper.say("What was done and found", "head")
        rows = [["When", "What", "By", ""]]
        for entry in told:
            said = [entry.say.told(paper.inches), f"“{entry.note}”" if entry.note else ""]
            said += (
                ["Set then: " + "; ".join(one.told(paper.inches) for one in entry.set_then)]
                if entry.set_then
                else []
            )
            rows.append(
                [
                    entry.when[:16].replace("T", " "),
                    KINDS[entry.kind],
                    entry.by,
                    ". ".join(one for one in said if one),
                ]
            )
        yield paper.table(rows, [32, 26, 20, paper.wide - 78])
    yield from _photographs(job, paper)


def _revisions(job: Job, paper: Paper) -> list[list[str]]:
    rows = [["Rev.", "When", "By", "Why", "What changed"]]
    before: dict[str, Any] | None = None
    for one in job.revisions.select_related("author").order_by("number"):
        changed = "" if before is None else _changed(changes_between(before, one.document), paper)
        rows.append(
            [f"{one.number}", one.created.date().isoformat(), one.author.get_username(), one.reason, changed]
        )
        before = one.document
    return rows


def _changed(changes: Sequence[dict[str, Any]], paper: Paper) -> str:
    said = [_change(one, paper) for one in changes[:MOST_CHANGES]]
    more = len(changes) - len(said)
    return "; ".join([*said, *([f"and {more} more"] if more > 0 else [])])


def _change(change: dict[str, Any], paper: Paper) -> str:
    what, subject = change["what"], spoken(change["subject"])
    name = subject if what in ("point", change["subject"]) else f"{subject}: {spoken(what)}"
    values = [_value(change[key], change["measures"], paper) for key in ("before", "after")]
    return (
        f"{spoken(change['station'])}, {name}: {values[0]} → {values[1]}"
        if change["station"]
        else f"{name}: {values[0]} → {values[1]}"
    )


def _value(value: Any, measures: str | None, paper: Paper) -> str:
    if value is None:
        return "–"
    if isinstance(value, list) and measures in PLAIN and all(isinstance(one, float | int) for one in value):
        return " / ".join(Quantity(float(one), measures).told(paper.inches) for one in value)
    if isinstance(value, float | int) and not isinstance(value, bool):
        return Quantity(float(value), measures).told(paper.inches) if measures in PLAIN else f"{value:g}"
    return value if isinstance(value, str) else "changed"


def _photographs(job: Job, paper: Paper) -> Iterator[Flowable]:
    there = [one for one in job.photographs.filter(gone=False).select_related("by") if one.path.exists()]
    if not there:
        return
    head: list[Flowable] = [paper.say("Photographs", "head")]
    wide = (paper.wide - 6) / 2
    cells: list[list[Flowable]] = []
    for one in there:
        by = "" if one.by is None else f", {one.by.get_username()}"
        words = f"{one.name}, {one.at.date().isoformat()}{by}"
        cells.append([_picture(one.path, wide), paper.say(words, "small"), Spacer(1, 6)])
    for k in range(0, len(cells), 2):
        row = [*cells[k : k + 2], *([[]] if len(cells) - k == 1 else [])]
        style = [("LEFTPADDING", (0, 0), (-1, -1), 0), ("VALIGN", (0, 0), (-1, -1), "TOP")]
        yield KeepTogether([*head, Table([row], colWidths=[paper.wide / 2 * mm] * 2, style=style)])
        head = []


def _picture(path: Path, wide: float) -> Flowable:
    with Picture.open(path) as picture:
        small = picture.convert("RGB")
        small.thumbnail((PIXELS, PIXELS))
        out = io.BytesIO()
        small.save(out, "JPEG", quality=80)
    across, tall = small.size
    scale = min(wide * mm / across, PICTURE_TALL_MM * mm / tall)
    return Image(io.BytesIO(out.getvalue()), across * scale, tall * scale, hAlign="LEFT")
