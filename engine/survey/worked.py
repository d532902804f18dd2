"""A survey worked out whole: every question of it asked once, for the headless command and the screen alike."""

from functools import cached_property

import numpy as np

from engine.document.check_survey import drawn_places
from engine.document.schema import Project
from engine.document.survey import Mirrored, Survey
from engine.facts import facts
from engine.findings.finding import rules_of
from engine.sentences import Sentence, length
from engine.survey.adjust import LOOSE, WEAK, Adjusted, Suspect, adjust
from engine.survey.guards import Guarded, guarded
from engine.survey.loose import Loose, loose_places
from engine.survey.network import Network, Seen, sigma_of, value_of
from engine.survey.slips import Slip, asked_about, slip_of
from engine.survey.square import Side, Square, sides, squares
from engine.survey.telling import tie_words

TOLD = 0.02  # redundancy of a reading of which others say anything at all


@facts
class ReadingTold:
    """One reading beside all others.

    residual   read less adjusted, mm or degrees; the largest of the three of a mirrored pair
    redundancy share that the others check; w its standardised residual, None where nothing checks it
    would_be   what all others say it should be; None where they do not, or hardly
    tied       the readings that would explain it as well; none of them is then known to be wrong
    asked      a question about it, where it is far from what is drawn
    """

    residual: float
    redundancy: float
    w: float | None
    suspect: bool
    would_be: float | None
    slip: Slip | None = None
    tied: tuple[int, ...] = ()
    asked: Sentence | None = None


@facts
class PictureTold:
    """One photograph laid on its plane: mm a pixel, how far it is turned (degrees), what is left of each place, mm."""

    name: str
    mm_per_pixel: float
    turned: float
    left: dict[str, tuple[float, float]]
    suspects: tuple[str, ...]
    line_fits: bool

    @property
    def fits(self) -> bool:
        """Return whether nothing that is picked in it stands out."""
        return not self.suspects and self.line_fits


class WorkedSurvey:
    """A project's survey, adjusted."""

    def __init__(self, project: Project, seen: Seen | None = None) -> None:
        self.project = project
        self.survey: Survey = project.survey or Survey()
        self.drawn = drawn_places(project)
        self.network = Network(self.survey, self.drawn, seen)
        self.rules = rules_of(project.judging)

    @cached_property
    def adjusted(self) -> Adjusted:
        """Return the network adjusted, slips left out."""
        return adjust(self.network)

    @cached_property
    def loose(self) -> list[Loose]:
        """Return what the readings do not hold."""
        return loose_places(self.adjusted)

    @cached_property
    def guards(self) -> list[Guarded]:
        """Return every guard."""
        return guarded(self.survey)

    @cached_property
    def squares(self) -> list[Square]:
        """Return how square it is."""
        return squares(self.project, self.adjusted, self.rules)

    @cached_property
    def sides(self) -> list[Side]:
        """Return left beside right."""
        return sides(self.project, self.adjusted, self.rules)

    @cached_property
    def readings(self) -> list[ReadingTold]:
        """Return every reading beside all others, in the file's order."""
        return [self._reading_told(number) for number in range(len(self.survey.readings))]

    @cached_property
    def sigmas(self) -> list[float]:
        """Return every reading's standard error, mm or degrees."""
        return [sigma_of(reading, self.survey) for reading in self.survey.readings]

    @property
    def verdict(self) -> tuple[str, Sentence]:
        """Return a mark and the whole survey in one sentence."""
        return _verdict(self)

    @cached_property
    def pictures(self) -> list[PictureTold]:
        """Return every photograph laid on its plane."""
        return [self._picture_told(k) for k in range(len(self.network.pictures))]

    def _reading_told(self, number: int) -> ReadingTold:
        rows = self.adjusted.rows_of(number)
        if not len(rows):
            return ReadingTold(residual=0.0, redundancy=0.0, w=None, suspect=False, would_be=None)
        fit, reading = self.adjusted.fit, self.survey.readings[number]
        suspect = next((one for one in self.adjusted.suspects if one.number == number), None)
        checked = fit.redundancy[rows]
        with np.errstate(invalid="ignore", divide="ignore"):
            w = fit.left[rows] / (self.network.sigma[rows] * np.sqrt(checked))
        worst = int(np.abs(fit.left[rows]).argmax())
        residual = float(fit.left[rows[worst]])
        redundancy = float(checked[worst]) if suspect is None else suspect.redundancy
        known = suspect is not None or redundancy >= TOLD
        would_be: float | None = None
        if known and not isinstance(reading, Mirrored) and self._others_say(rows, suspect):
            would_be = value_of(reading) - (residual if suspect is not None else residual / redundancy)
        slip = None
        if suspect is not None and not suspect.alone:
            slip = Slip(say=tie_words(self.adjusted, number, (number, *suspect.tied)), mended=None)
        elif suspect is not None and would_be is not None:
            slip = slip_of(self.adjusted, number, would_be)
        return ReadingTold(
            residual=residual,
            redundancy=redundancy,
            w=(suspect.w if suspect is not None else float(w[worst])) if known else None,
            suspect=suspect is not None,
            would_be=would_be,
            slip=slip,
            tied=() if suspect is None else suspect.tied,
            asked=self._asked(number),
        )

    def _others_say(self, rows: np.ndarray, suspect: Suspect | None) -> bool:
        """Return whether what is left without a reading that is left out still says what it should be."""
        free = self.adjusted.fit.free
        if suspect is None or not free.size:
            return True
        return float(np.abs(self.adjusted.fit.slopes[rows] @ free).max()) <= LOOSE

    def unchecked(self, place: str) -> list[int]:
        """Return the readings that alone hold a place one way: those of it that nothing much checks."""
        network, fit = self.network, self.adjusted.fit
        k = network.index[place]
        found = []
        for number in range(len(self.survey.readings)):
            rows = self.adjusted.rows_of(number)
            if not len(rows) or not fit.used[rows].any():
                continue
            if (
                np.abs(fit.slopes[rows, 3 * k : 3 * k + 3]).max() > 0
                and float(fit.redundancy[rows].max()) < WEAK
            ):
                found.append(number)
        return found

    def _asked(self, number: int) -> Sentence | None:
        row, reading = self.network.row_of[number], self.survey.readings[number]
        return asked_about(reading, value_of(reading) - float(self._left_as_drawn[row]))

    @cached_property
    def _left_as_drawn(self) -> np.ndarray:
        """Return read less drawn of every row."""
        left: np.ndarray = self.network.left(self.network.begin())[0]
        return left

    def _picture_told(self, k: int) -> PictureTold:
        picture, fit = self.network.pictures[k], self.adjusted.fit
        a, b = fit.unknowns[picture.column : picture.column + 2]
        many = len(picture.places)
        rows = picture.row + np.arange(2 * many)
        left = fit.left[rows].reshape(2, many)
        mine = [place for number, place in self.adjusted.picks if number == k]
        return PictureTold(
            name=picture.name,
            mm_per_pixel=float(np.hypot(a, b)) / picture.size,
            turned=float(np.degrees(np.arctan2(b, a))),
            left={
                self.network.names[place]: (float(left[0, n]), float(left[1, n]))
                for n, place in enumerate(picture.places)
            },
            suspects=tuple(self.network.names[picture.places[place]] for place in mine if place >= 0),
            line_fits=-1 not in mine,
        )


def _verdict(worked: WorkedSurvey) -> tuple[str, Sentence]:
    fit, many = worked.adjusted.fit, len(worked.network.names)
    moved = [one for one in worked.guards if one.state == "moved"]
    if moved:
        return "fault", moved[0].say
    if not many:
        return "warning", Sentence(
            "Nothing has been read yet: pick two places, or take the first of the list."
        )
    suspects, loose = len(worked.adjusted.suspects) + len(worked.adjusted.picks), int(fit.loose.sum())
    held = fit.sigma[~fit.loose]
    taken = sum(not reading.left_out for reading in worked.survey.readings)
    told = {}
    if len(held):
        told["within"] = length(float(np.sqrt((held**2).mean())))
        words = f"{_count(many - loose, 'point located', 'points located')} to ±{{within}}"
    else:
        words = "No point is located yet"
    words += f" by {_count(taken, 'reading', 'readings')}"
    if worked.network.seen is not None and len(worked.network.seen.rows):
        words += " and the pictures of stickers"
    if suspects:
        words += f"; {_count(suspects, 'reading does', 'readings do')} not fit"
    if loose:
        words += f"; {_count(loose, 'point', 'points')} not located yet"
    mark = "fault" if suspects else "warning" if loose else "good"
    return mark, Sentence(words + ".", told)


def _count(many: int, one: str, more: str) -> str:
    return f"{many} {one if many == 1 else more}"
