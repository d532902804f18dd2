"""The customer's book from its cover to its appendix; what is looked for stands in the contents with its page."""

from collections.abc import Iterator
from datetime import date

from reportlab.platypus import Flowable, PageBreak, Spacer

from engine.drawing.arrangement import vehicle_drawing
from engine.prove.proof import prove
from engine.results.whole import WorkedProject, WorkedStation, work_project
from engine.sentences import spoken
from engine.shop.job_parts import job_parts
from server.accounts.shop import letterhead
from server.jobs.models import Job
from server.paper.pen import Drawn
from server.paper.setting import Paper
from server.records.book import book_of
from server.records.customer_book.appendix import readings_chapter
from server.records.customer_book.bolts import bolts_chapter
from server.records.customer_book.past import past_chapter
from server.records.customer_book.put_right import judged_of, put_right_chapter
from server.records.customer_book.station import station_chapter
from server.records.customer_book.vehicle import vehicle_chapter
from server.records.proved import project_of
from server.running.following import tell

NO_CERTIFICATE = "A record of what was done and found, no certificate: a competent engineer and the rules of the road or track decide."
PURPOSES = {
    "road": "for the road",
    "sport": "for sport",
    "circuit": "for the circuit",
    "rough": "for rough ground",
}


def book_pdf(job: Job, paper: Paper) -> bytes:
    """Return a job's book; raise NoPaper, or the engine's errors where the newest revision cannot move."""
    entries, project, pages = book_of(job), project_of(job), dict[str, int]()
    worked = proof = parts = None
    if project is not None:
        tell(0.05, "the vehicle")
        worked, proof = work_project(project), prove(project)
        tell(0.3, "its bolts")
        parts = job_parts(project, fitted=False)
    judged, left_out = judged_of(job)
    # Twice: the contents are known once the pages are laid.
    for turn in range(2):
        tell(0.6 + 0.2 * turn, "the pages")
        story: list[Flowable] = list(_cover(job, worked, pages, paper))
        if worked is not None and proof is not None and parts is not None:
            story += [*vehicle_chapter(worked, proof, paper, pages), PageBreak()]
            for station in _built(worked):
                story += [*station_chapter(worked.project, station, paper, pages), PageBreak()]
            story += [*bolts_chapter(parts, paper, pages), PageBreak()]
        if judged:
            story += put_right_chapter(judged, left_out, paper, pages)
        story += past_chapter(job, entries, paper, pages)
        if project is not None and project.survey is not None and project.survey.readings:
            story += [PageBreak(), *readings_chapter(project, paper, pages)]
        data = paper.build(story, f"{job.name}, the job’s book")
    return data


def _built(worked: WorkedProject) -> list[WorkedStation]:
    """Return the stations that are built: not what was only compared with them."""
    return [one for one in worked.stations if one.work.station.variant_of is None]


def _cover(job: Job, worked: WorkedProject | None, pages: dict[str, int], paper: Paper) -> Iterator[Flowable]:
    yield from letterhead().flowables(paper)
    yield paper.say(job.name, "title")
    judging = None if worked is None else worked.project.judging
    purpose = PURPOSES.get((judging.purpose or "") if judging is not None else "")
    yield paper.say(
        f"The job’s book{', ' + purpose if purpose else ''}. Revision {job.newest().number}, as of {date.today().isoformat()}."
    )
    yield paper.say(NO_CERTIFICATE, "small")
    yield Spacer(1, 8)
    if worked is not None:
        solved = [one.work.solved for one in _built(worked)]
        yield Drawn(vehicle_drawing(solved, job.name, (paper.wide, 140.0)))
    if pages:
        yield paper.table(
            [["Contents", "Page"], *([spoken(name), f"{page}"] for name, page in pages.items())], [110, 20]
        )
    yield PageBreak()
