"""The book as a PDF for the customer: how it stands, what is signed, and everything that led there, with its pictures."""

import io
from collections.abc import Iterator
from datetime import date
from pathlib import Path

from PIL import Image as Picture
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Image, KeepTogether, Spacer, Table

from engine.document.coming import finished_kg
from engine.document.read import check_project
from engine.prove.gates import TITLES, Gate
from engine.prove.proof import Proof, prove
from engine.sentences import Sentence, spoken
from server.jobs.models import Job
from server.paper.setting import Paper
from server.records.actions.survey import items_of, records_of
from server.records.book import KINDS, Entry, book_of
from server.running.following import tell

PICTURE_MM = 80.0
NO_CERTIFICATE = "A record of what was found, no certificate: a competent engineer and the rules of the road or track decide."


def proved(job: Job) -> Proof | None:
    """Return a job's newest revision proved by its records; None with no station in it."""
    document = job.newest().document
    if not document.get("stations"):
        return None
    return prove(check_project({**document, "records": records_of(items_of(job))}))


def book_pdf(job: Job, paper: Paper) -> bytes:
    """Return a job's book; raise NoPaper, or the engine's errors where the newest revision cannot move."""
    entries = book_of(job)
    story: list[Flowable] = [
        paper.say(job.name, "title"),
        paper.say(job.newest().document.get("purpose") or ""),
    ]
    story += [
        paper.say(f"The job’s book, {len(entries)} entries, as of {date.today().isoformat()}."),
        paper.say(NO_CERTIFICATE, "small"),
    ]
    proof = proved(job)
    if proof is not None:
        story += list(_standing(proof, paper))
    story.append(paper.say("From the first tape to the floor", "head"))
    day, first = "", list[Flowable]()
    pictures = {str(one.id): one.path for one in job.photographs.filter(gone=False)}
    for number, entry in enumerate(entries):
        tell(0.1 + 0.7 * number / len(entries), f"entry {number + 1} of {len(entries)}")
        if entry.when[:10] != day:
            day = entry.when[:10]
            first = [paper.say(day, "day")]
        story.append(KeepTogether([*first, *_entry(entry, pictures, paper)]))
        first = []
    tell(0.8, "the pages")
    return paper.build(story, f"{job.name}, the job’s book")


def _standing(proof: Proof, paper: Paper) -> Iterator[Flowable]:
    """Yield how it stands and what is signed: the newest of everything."""
    yield paper.say("How it stands", "head")
    rows: list[list[str]] = [["Station", "Ride, from as drawn", "Mass at the wheel", "Finished"]]
    for support in proof.vehicle.supports:
        solved = support.solved
        ride = "nowhere" if solved.ride is None else paper.figure(solved.ride.travel, "travel")
        done = finished_kg(proof.project, solved.station)
        rows.append(
            [
                spoken(solved.station.name),
                ride,
                paper.figure(solved.station.mass.corner, "mass"),
                "" if done is None else paper.figure(done, "mass"),
            ]
        )
    yield paper.table(rows)
    if proof.weighs:
        last = proof.weighs[-1]
        said = f"Last weighed: {paper.figure(last.total, 'mass')}"
        for share, words in (
            (last.front_share, "in front"),
            (last.left_share, "on the left"),
            (last.cross_share, "across"),
        ):
            said += "" if share is None else f", {100 * share:.1f} % {words}"
        yield Spacer(1, 4)
        yield paper.say(said + ".")
    yield paper.say("Gates", "head")
    stations = list(dict.fromkeys(gate.station for gate in proof.gates))
    by = {(gate.name, gate.station): gate for gate in proof.gates}
    rows = [["", *(spoken(station) for station in stations)]]
    for name in dict.fromkeys(gate.name for gate in proof.gates):
        cells = [by.get((name, station)) for station in stations]
        rows.append([TITLES[name], *("" if gate is None else _signed(gate) for gate in cells)])
    yield paper.table(rows)


def _signed(gate: Gate) -> str:
    if not gate.met:
        return "open"
    return f"met, {gate.initials}" if gate.initials else "met, not signed"


def _entry(entry: Entry, pictures: dict[str, Path], paper: Paper) -> list[Flowable]:
    who = f"{entry.when[11:16]} {KINDS[entry.kind]}" + (f", {entry.by}" if entry.by else "")
    parts: list[Flowable] = [paper.say(who, "small"), paper.say(entry.say)]
    if entry.note:
        parts.append(paper.say(f"“{entry.note}”"))
    if entry.holds:
        parts.append(_columns(entry.holds, paper))
    if entry.set_then:
        parts += [
            paper.say("What was set then:", "small"),
            *(paper.say(one, "small") for one in entry.set_then),
        ]
    path = pictures.get(entry.photo)
    if path is not None and path.exists():
        parts.append(_picture(path))
    parts.append(Spacer(1, 4))
    return parts


def _columns(holds: tuple[Sentence, ...], paper: Paper) -> Flowable:
    """Return short lines in three columns."""
    cells = [paper.say(one, "small") for one in holds]
    rows = [
        cells[n : n + 3] + [paper.say("", "small")] * (3 - len(cells[n : n + 3]))
        for n in range(0, len(cells), 3)
    ]
    return Table(
        rows,
        colWidths=[paper.wide / 3 * mm] * 3,
        style=[
            ("TOPPADDING", (0, 0), (-1, -1), 0),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 0),
            ("LEFTPADDING", (0, 0), (-1, -1), 6),
        ],
    )


def _picture(path: Path) -> Flowable:
    with Picture.open(path) as picture:
        small = picture.convert("RGB")
        small.thumbnail((900, 900))
        out = io.BytesIO()
        small.save(out, "JPEG", quality=80)
    wide, tall = small.size
    scale = PICTURE_MM * mm / max(wide, tall)
    return Image(io.BytesIO(out.getvalue()), wide * scale, tall * scale, hAlign="LEFT")
