"""What was found as the job went on and stands no more: every revision judged, and which of them it was gone with."""

from collections.abc import Iterator, Sequence

from reportlab.platypus import Flowable, Spacer

from engine.document.read import check_project
from engine.errors import EngineError
from engine.facts import facts
from engine.results.whole import work_project
from engine.sentences import Sentence, spoken
from engine.telling import within
from server.jobs.models import Job, Revision
from server.paper.pen import PageOf
from server.paper.setting import Paper
from server.running.following import tell

TITLE = "What was found, and put right"
MOST_REVISIONS = 40  # the newest are judged; each takes about a second
WHOLE = "the whole vehicle"

Key = tuple[str, str, tuple[str, ...]]
"""Station, the finding's code, what it is about."""


@facts
class Judged:
    """A revision and what was found in it; stations it had; None where it could not be judged, as with no station yet."""

    revision: Revision
    stations: frozenset[str]
    found: dict[Key, Sentence]


@facts
class PutRight:
    """One thing that was found, from which revision on, and the revision that it was gone with."""

    station: str
    what: Sentence
    since: int
    gone: Revision
    with_station: bool


def judged_of(job: Job) -> tuple[list[Judged], int]:
    """Return the job's newest revisions judged, the oldest first, and how many were not: too old, or not to be judged."""
    every = list(job.revisions.select_related("author").order_by("number"))
    found: list[Judged] = []
    for n, one in enumerate(every[-MOST_REVISIONS:]):
        within(tell, 0.4, 0.6)(n / len(every[-MOST_REVISIONS:]), f"revision {one.number}")
        judged = _judged(one)
        if judged is not None:
            found.append(judged)
    return found, len(every) - len(found)


def _judged(revision: Revision) -> Judged | None:
    if not revision.document.get("stations"):
        return None
    try:
        worked = work_project(check_project(revision.document))
    except EngineError:
        return None
    stations = [one for one in worked.stations if one.work.station.variant_of is None]
    found: dict[Key, Sentence] = {
        (one.work.station.name, its.code, its.subjects): its.what
        for one in stations
        for its in one.findings
        if its.mark != "good"
    }
    found |= {(WHOLE, its.code, its.subjects): its.what for its in worked.findings if its.mark != "good"}
    names = frozenset({WHOLE, *(one.work.station.name for one in stations)})
    return Judged(revision=revision, stations=names, found=found)


def put_right(judged: Sequence[Judged]) -> list[PutRight]:
    """Return what was found and stands no more, in the order in which it was gone; what came back counts anew."""
    since: dict[Key, tuple[int, Sentence]] = {}
    gone: list[PutRight] = []
    for one in judged:
        for key in [key for key in since if key not in one.found]:
            first, what = since.pop(key)
            gone.append(
                PutRight(
                    station=key[0],
                    what=what,
                    since=first,
                    gone=one.revision,
                    with_station=key[0] not in one.stations,
                )
            )
        for key, what in one.found.items():
            first, _ = since.get(key, (one.revision.number, what))
            since[key] = first, what
    return gone


def put_right_chapter(
    judged: Sequence[Judged], left_out: int, paper: Paper, pages: dict[str, int]
) -> Iterator[Flowable]:
    """Yield what was found and put right, as a table; nothing where nothing ever was."""
    gone = put_right(judged)
    yield PageOf(TITLE, pages)
    yield paper.say(TITLE, "head")
    if not gone:
        yield paper.say("Nothing that was found in an earlier revision has been put right by a later one.")
    else:
        rows = [["What was found", "Station", "Since rev.", "Put right with"]]
        for one in gone:
            with_it = f"{one.gone.number}, {one.gone.created.date().isoformat()}: {one.gone.reason}"
            with_it += " (the station itself was taken out)" if one.with_station else ""
            rows.append(
                [one.what.told(paper.inches), spoken(one.station), f"{one.since}", f"Revision {with_it}"]
            )
        yield paper.table(rows, [paper.wide - 120, 28, 17, 75])
    if left_out:
        count = "One revision was" if left_out == 1 else f"{left_out} revisions were"
        yield paper.say(f"{count} not judged: too old, or nothing stood in it that could be judged.", "small")
    yield Spacer(1, 8)
