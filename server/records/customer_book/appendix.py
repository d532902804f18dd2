"""Every reading of the survey with how far it is off what all of them together say."""

from collections.abc import Iterator

from reportlab.platypus import Flowable

from engine.document.schema import Project
from engine.sentences import Quantity, spoken
from engine.survey.worked import ReadingTold, WorkedSurvey
from server.paper.pen import PageOf
from server.paper.setting import Paper
from server.records.book import reading_figures

TITLE = "Appendix: what was read"
KINDS = {"height": "up", "offset": "out", "fore_aft": "ahead", "distance": "tape", "mirrored": "mirror"}
WORDS = (
    "Up from the floor, out from the centreline, ahead of the datum line, tape middle to middle; mirror: the two are mirror "
    "images. Off: how far a reading is from what all of them together say; one that nothing else checks has none."
)


def readings_chapter(project: Project, paper: Paper, pages: dict[str, int]) -> Iterator[Flowable]:
    """Yield the readings as a table."""
    yield PageOf(TITLE, pages)
    yield paper.say(TITLE, "head")
    worked = WorkedSurvey(project)
    yield paper.say(worked.verdict[1])
    yield paper.say(WORDS, "small")
    rows = [["No.", "What", "Between", "Read", "Off", ""]]
    for number, (reading, told) in enumerate(
        zip(worked.survey.readings, worked.readings, strict=True), start=1
    ):
        kind, places, figures = reading_figures(reading.model_dump(exclude_unset=True, by_alias=True))
        measures = "angle" if kind in ("slope", "angle") else "length"
        rows.append(
            [
                f"{number}",
                KINDS.get(kind, spoken(kind)),
                _between(places),
                ", ".join(one.told(paper.inches) for one in figures),
                _off(told, measures, paper),
                "left out" if getattr(reading, "left_out", False) else "does not fit" if told.suspect else "",
            ]
        )
    yield paper.table(rows, [11, 16, paper.wide - 112, 44, 20, 21], tight=True)


def _between(places: list[str]) -> str:
    """Return places, their station said once where it is the same."""
    stations = {place.rpartition("/")[0] for place in places}
    if len(places) < 2 or len(stations) > 1 or stations == {""}:
        return " – ".join(spoken(place) for place in places)
    return f"{spoken(stations.pop())}: {' – '.join(spoken(place.rpartition('/')[2]) for place in places)}"


def _off(told: ReadingTold, measures: str, paper: Paper) -> str:
    if told.w is None:
        return "–"
    return Quantity(told.residual, "travel" if measures == "length" else measures).told(paper.inches)
