"""A curve over the wheel's travel as it is printed: one line, ticks that are round in the shop's own units, ends said above it."""

import math
from collections.abc import Sequence

import numpy as np

from engine.drawing.model import SIGN, TEXT_MM, Drawing, Line, Spot, Text, text_wide
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.sentences import INCHES, PLAIN

GAP_MM, TICK_MM = 1.4, 1.2
ROW_MM = 1.25 * TEXT_MM
RIGHT_MM = 6.0  # for half of the last tick's words
LEVEL = 0.02  # of its value: less change than that is drawn as little
SPARE = 0.06  # of a curve's height left above and below it
STEPS = (1.0, 2.0, 2.5, 5.0, 10.0)


@facts(kw_only=False)
class Axis:
    """What is measured along an axis, in words; `measures` a key of PLAIN."""

    words: str
    measures: str
    inches: bool = False

    @property
    def factor(self) -> float:
        """Return how much of the file's own unit the printed one is."""
        return INCHES[self.measures][0] if self.inches and self.measures in INCHES else 1.0

    @property
    def said(self) -> str:
        """Return the words with the unit."""
        form = INCHES[self.measures][1] if self.factor != 1.0 else PLAIN[self.measures]
        unit = form.partition("}")[2].strip()
        return f"{self.words}, {unit}" if unit else self.words

    def ticks(self, low: float, high: float, most: int) -> list[tuple[float, str]]:
        """Return round places between two, in the file's own unit, with the words that stand there."""
        least = (high - low) / self.factor / most
        power = 10.0 ** math.floor(math.log10(least))
        step = next(one * power for one in STEPS if one * power >= least * (1 - 1e-9))
        digits = next(d for d in range(9) if abs(round(step, d) - step) < 1e-9 * step)
        first, last = (
            math.ceil(low / self.factor / step - 1e-9),
            math.floor(high / self.factor / step + 1e-9),
        )
        return [
            (k * step * self.factor, f"{k * step + 0.0:.{digits}f}".replace("-", "−"))
            for k in range(first, last + 1)
        ]


@facts(kw_only=False)
class MarkAt:
    """A place along the travel, mm, and what happens there."""

    travel: float
    words: str


@facts(kw_only=False)
class _Frame:
    """Where a curve's travel and values lie on the paper, mm: from the lower left corner, so wide and tall."""

    corner: Spot
    wide: float
    tall: float
    left: float
    right: float
    low: float
    high: float

    def x(self, travel: float) -> float:
        """Return where a travel lies."""
        return self.corner[0] + self.wide * (travel - self.left) / (self.right - self.left)

    def y(self, value: float) -> float:
        """Return where a value lies."""
        return self.corner[1] + self.tall * (value - self.low) / (self.high - self.low)


def curve_drawing(
    across: Axis,
    up: Axis,
    travels: Array,
    values: Array,
    marks: Sequence[MarkAt] = (),
    room: Spot = (86.0, 58.0),
) -> Drawing:
    """Return a curve (both (positions,), NaN where there is none) in so much room on the paper, mm; raise ValueError for none."""
    there = np.isfinite(values) & np.isfinite(travels)
    x, y = travels[there], values[there]
    if len(x) < 2:
        raise ValueError("a curve needs two places at least")
    left, right = float(x.min()), float(x.max())
    inside = [one for one in marks if left - 1e-6 <= one.travel <= right + 1e-6]
    low, high = _room_for(y)
    sides = up.ticks(low, high, 5)
    begin = max(text_wide(words, TEXT_MM) for _, words in sides) + TICK_MM + GAP_MM
    foot, wide = 2 * ROW_MM + TICK_MM + GAP_MM, room[0] - begin - RIGHT_MM
    rows = _rows(inside, [begin + wide * (one.travel - left) / (right - left) for one in inside], room[0])
    head = ROW_MM * (2 + max((row for *_, row in rows), default=-1)) + 2 * GAP_MM
    frame = _Frame((begin, foot), wide, room[1] - foot - head, left, right, low, high)
    top = foot + frame.tall
    lines = [
        Line(through=((begin, top), (begin, foot), (begin + wide, foot)), meaning="fine"),
        Line(
            through=tuple((frame.x(float(a)), frame.y(float(b))) for a, b in zip(x, y, strict=True)),
            meaning="outline",
        ),
    ]
    texts = [Text(words=up.said, at=(0.0, room[1] - ROW_MM), bold=True)]
    for at, words in sides:
        place = frame.y(at)
        lines.append(Line(through=((begin - TICK_MM, place), (begin, place)), meaning="fine"))
        beside = (begin - TICK_MM - GAP_MM / 2, place - SIGN * TEXT_MM / 2)
        texts.append(Text(words=words, at=beside, anchor="end"))
    for at, words in across.ticks(left, right, 6):
        place = frame.x(at)
        lines.append(Line(through=((place, foot - TICK_MM), (place, foot)), meaning="fine"))
        texts.append(Text(words=words, at=(place, foot - TICK_MM - ROW_MM), anchor="middle"))
    texts.append(Text(words=across.said, at=(begin + wide / 2, 0.25 * TEXT_MM), anchor="middle"))
    for mark, at, row in rows:
        place = frame.x(mark.travel)
        lines.append(Line(through=((place, foot), (place, top)), meaning="centre"))
        texts.append(Text(words=mark.words, at=(at, top + 2 * GAP_MM + ROW_MM * row), anchor="middle"))
    return Drawing(
        name=up.words,
        wide=room[0],
        tall=room[1],
        scale=1.0,
        origin=(0.0, 0.0),
        lines=tuple(lines),
        texts=tuple(texts),
    )


def _room_for(values: Array) -> tuple[float, float]:
    """Return between which values a curve is drawn: its own and a little more, and something of a level one too."""
    middle = float(values.max() + values.min()) / 2
    span = max(float(np.ptp(values)), LEVEL * max(abs(middle), 1e-3))
    return middle - span * (0.5 + SPARE), middle + span * (0.5 + SPARE)


def _rows(marks: Sequence[MarkAt], places: Sequence[float], wide: float) -> list[tuple[MarkAt, float, int]]:
    """Return each mark with the middle of its words and their row above the curve, none on another."""
    ends: list[float] = []
    found = []
    for mark, place in sorted(zip(marks, places, strict=True), key=lambda one: one[1]):
        half = text_wide(mark.words, TEXT_MM) / 2
        at = min(max(place, half), wide - half)
        row = next((k for k, end in enumerate(ends) if end + GAP_MM < at - half), len(ends))
        ends[row : row + 1] = [at + half]
        found.append((mark, at, row))
    return found
