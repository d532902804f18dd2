"""One drawing, as every pen draws it: mm on the paper, x to the right, y up, from the lower left corner.

Outline     what is cut: arcs and straight lines, closed.
Line        by its meaning: outline, hidden, centre, bend, extension, leader, ground, fine, tape.
Text        its box is known to whoever lays it out: nothing is drawn across it.
Dimension   what is measured, in words; its line and its text; `field` is the choice it shows, to be edited where it is pressed.
"""

from typing import Literal

from engine.facts import facts
from engine.shop.outline import Arc, Circle

Spot = tuple[float, float]
Meaning = Literal[
    "outline", "hidden", "centre", "bend", "extension", "leader", "ground", "fine", "tape", "frame"
]
Anchor = Literal["start", "middle", "end"]
Box = tuple[float, float, float, float]

TEXT_MM = 3.2  # 9 pt, the least that is read at arm's length
NARROW, WIDE = " .,:;'|ijlftrI()[]/!-·", "mwMW@%⌀—○−+=×"
SHARES = {
    "narrow": 0.42,
    "wide": 1.0,
    "large": 0.72,
    "usual": 0.65,
}  # of its height that a letter takes along its line
BOLDER = 1.12
SIGN = 0.75  # of its height that a text stands up from its foot


@facts
class Line:
    """A line through places, mm."""

    through: tuple[Spot, ...]
    meaning: Meaning


@facts
class Edge:
    """A closed edge of arcs and the straight lines between them, mm."""

    arcs: tuple[Arc, ...]
    meaning: Meaning = "outline"


@facts
class Text:
    """Words from a place: the foot of their first, middle or last letter; degrees anticlockwise; `bold` for what is looked for."""

    words: str
    at: Spot
    height: float = TEXT_MM
    angle: float = 0.0
    anchor: Anchor = "start"
    bold: bool = False

    @property
    def box(self) -> Box:
        """Return the box that it fills: least x and y, most x and y, mm; of an upright one turned by a quarter too."""
        long = text_wide(self.words, self.height, self.bold)
        begin = {"start": 0.0, "middle": -long / 2, "end": -long}[self.anchor]
        x, y = self.at
        if self.angle == 90.0:
            return x - self.height * SIGN, y + begin, x + self.height * 0.25, y + begin + long
        return x + begin, y - self.height * 0.25, x + begin + long, y + self.height * SIGN


@facts
class Dimension:
    """One thing that is measured: its words, its lines, its text; the part's own figure or choice that it shows.

    kind : x and y run from the datum; diameter, radius, length, angle, note are said beside a leader
    value : mm, or degrees; `at` what it measures, in the part's own mm
    """

    kind: Literal["x", "y", "diameter", "radius", "length", "angle", "note"]
    value: float
    text: Text
    lines: tuple[Line, ...]
    at: Spot
    field: str = ""


@facts
class Drawing:
    """A drawing: its size on the paper mm, its scale (paper over part), and everything on it.

    origin : where the part's own nought lies on the paper
    """

    name: str
    wide: float
    tall: float
    scale: float
    origin: Spot
    edges: tuple[Edge, ...] = ()
    lines: tuple[Line, ...] = ()
    texts: tuple[Text, ...] = ()
    dimensions: tuple[Dimension, ...] = ()

    @property
    def every_text(self) -> list[Text]:
        """Return every text, those of the dimensions too."""
        return [*self.texts, *(one.text for one in self.dimensions)]

    @property
    def every_line(self) -> list[Line]:
        """Return every line, those of the dimensions too."""
        return [*self.lines, *(line for one in self.dimensions for line in one.lines)]


def text_wide(words: str, height: float, bold: bool = False) -> float:
    """Return the room that words take along their line, mm: no less than in any of the fonts that ship."""
    shares = (
        SHARES[
            "narrow" if one in NARROW else "wide" if one in WIDE else "large" if one.isupper() else "usual"
        ]
        for one in words
    )
    return sum(shares) * height * (BOLDER if bold else 1.0)


def placed(arc: Arc, scale: float, origin: Spot) -> Arc:
    """Return a part's arc as it lies on the paper."""
    its = arc.circle
    circle = Circle(origin[0] + its.x * scale, origin[1] + its.y * scale, its.radius * scale)
    return Arc(circle, arc.start, arc.turn)


def scale_said(scale: float) -> str:
    """Return a scale as it is written: 1:2, 2:1."""
    return f"{scale:g}:1" if scale >= 1 else f"1:{1 / scale:g}"


SCALES = (5.0, 2.0, 1.0, 0.5, 0.2, 0.1, 0.05, 0.02)


def scale_for(wide: float, tall: float, room: Spot) -> float:
    """Return the largest of the usual scales at which something so wide and tall, mm, has room."""
    return next((s for s in SCALES if wide * s <= room[0] and tall * s <= room[1]), SCALES[-1])
