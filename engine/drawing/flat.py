"""A plate's drawing: holes, corners and arcs by running dimensions from one datum; diameters, radii and bends beside leaders.

Datum     a sharp corner at the lower left where there is one; else the hole at the part's own nought; else its lower left.
Called    what is said beside a leader, in one column to the right: the leaders end there, so that none runs through a text.
Complete  the outline follows from what is written: every arc's middle and radius, every corner.
"""

import math
from collections.abc import Callable, Sequence
from fractions import Fraction
from textwrap import wrap

from engine.drawing.model import (
    SCALES,
    TEXT_MM,
    Dimension,
    Drawing,
    Edge,
    Line,
    Spot,
    Text,
    placed,
    scale_for,
    scale_said,
    text_wide,
)
from engine.drawing.running import APART, SAME, Place, below, beside, merged, room_below, spread
from engine.facts import facts
from engine.sentences import KG_PER_LB
from engine.shop.made import Flat, Hole
from engine.shop.outline import Arc, box_of
from engine.shop.stock import plate_size

Said = Callable[[float], str]
TURN, COLUMN = 2.5, 6.0  # mm: a leader's level end, and from the part to the column
MARGIN = 2.0
MM_PER_IN = 25.4
FINEST = 32  # of an inch, that a tape is read to
NAME_LETTERS = 34  # of a name on one line
MOST_RUNNING = 14  # places along an axis; beyond it they stand in a table
FIELDS = {"bolt": "hole"}
BOLTED = ("bolt", "rod", "damper")
BOLT_FIT_MM = 0.1  # mm that a hole for a bolt may be larger: reamed, not burnt


@facts
class Called:
    """Something said beside a leader: words, where its leader begins, what it measures."""

    words: str
    begins: Spot
    kind: str
    value: float
    spot: Spot
    field: str = ""


def millimetres(value: float) -> str:
    """Return a length as it is written on a drawing in mm."""
    text = f"{value:.1f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text.replace("-", "−")


def inches(value: float) -> str:
    """Return a length of mm as it is written on a drawing in inches."""
    text = f"{value / MM_PER_IN:.3f}"
    return "0" if float(text) == 0 else text.replace("-", "−")


def fractions(value: float) -> str:
    """Return a length of mm as a tape in inches shows it: whole, and the nearest thirty-second in lowest terms."""
    near = Fraction(round(abs(value) / MM_PER_IN * FINEST), FINEST)
    whole, rest = divmod(near, 1)
    text = " ".join(str(one) for one in (whole, rest) if one) or "0"
    return f"−{text}" if value < 0 and near else text


def said_in(inch: bool, fraction: bool = False) -> Said:
    """Return how lengths are written for a shop that reads mm, inches, or inches in fractions."""
    return (fractions if fraction else inches) if inch else millimetres


def sized(said: Said) -> Said:
    """Return how a size is written that is measured with a caliper and not with a tape: never in fractions."""
    return inches if said is fractions else said


def unit_of(said: Said) -> str:
    """Return what the figures of a drawing are in."""
    return "mm" if said is millimetres else "in"


def mass_said(mass: float, said: Said) -> str:
    """Return the mass of a part, kg, as it is written on a drawing with its unit."""
    return f"{mass / KG_PER_LB:.2f} lb" if unit_of(said) == "in" else f"{mass:.2f} kg"


def flat_drawing(
    flat: Flat,
    name: str,
    room: Spot = (120.0, 100.0),
    said: Said = millimetres,
    other_hand: bool = False,
    largest: float = SCALES[0],
) -> Drawing:
    """Return a plate's drawing with at most so much room for the plate itself, mm wide and tall; `largest` scale."""
    said = sized(said)
    low, bottom, high, top = box_of(list(flat.outline))
    scale = min(scale_for(high - low, top - bottom, room), largest)
    datum = datum_of(flat)
    features = features_of(flat)
    # The middle of a hollow arc lies outside the plate.
    low, bottom = min(low, *(x for x, _ in features)), min(bottom, *(y for _, y in features))
    xs = merged([Place(value=x - datum[0], at=(x, y), spot=(x, y)) for x, y in features])
    ys = merged([Place(value=y - datum[1], at=(x, y), spot=(x, y)) for x, y in features])
    tabled = max(len(xs), len(ys)) > MOST_RUNNING
    if tabled:
        xs, ys = _ends(xs), _ends(ys)
    x_said, y_said = [said(one.value) for one in xs], [said(one.value) for one in ys]
    left = MARGIN + room_below(y_said)
    foot = MARGIN + room_below(x_said)
    # Texts that are bent apart may stand out beyond the plate.
    spare_x = _spare([one.at[0] * scale for one in xs], low * scale, high * scale)
    spare_y = _spare([one.at[1] * scale for one in ys], bottom * scale, top * scale)
    origin = (left + spare_x - low * scale, foot + spare_y - bottom * scale)

    def on_paper(spot: Spot) -> Spot:
        return origin[0] + spot[0] * scale, origin[1] + spot[1] * scale

    called = [*_holes(flat, said), *_radii(flat, said), *_bends(flat, said)]
    column = on_paper((high, 0.0))[0] + COLUMN
    middle = on_paper((0.0, (top + bottom) / 2))[1]
    leaders = _column([_on(one, on_paper) for one in called], column, middle)
    table = _table(features, datum, flat, said) if tabled else []
    head = max(
        [on_paper((0.0, top))[1] + spare_y, *(one.text.box[3] for one in leaders)],
        default=on_paper((0.0, top))[1],
    )
    below_column = min([foot, *(one.text.box[1] for one in leaders)])
    shift = max(MARGIN - below_column, 0.0)
    if shift:
        origin = (origin[0], origin[1] + shift)
        leaders = _column([_on(one, on_paper) for one in called], column, middle + shift)
        head += shift
    running = [
        *below([_moved(one, on_paper) for one in xs], on_paper((0.0, bottom))[1], x_said),
        *beside([_moved(one, on_paper) for one in ys], on_paper((low, 0.0))[0], y_said),
    ]
    width = max([column + MARGIN, *(one.text.box[2] for one in leaders)])
    notes = _notes(flat, name, scale, datum, other_hand, said)
    table_at = width + 6.0
    head = max(head, MARGIN + APART * (len(table) + 1))
    texts: list[Text] = []
    for row, words in enumerate(table):
        texts.append(Text(words=words, at=(table_at, head - TEXT_MM - APART * row)))
        width = max(width, table_at + text_wide(words, TEXT_MM))
    tall = head + 2.0 + APART * len(notes) + 1.0
    for row, words in enumerate(notes):
        texts.append(Text(words=words, at=(MARGIN, tall - APART * (row + 1)), bold=row == 0))
        width = max(width, MARGIN + text_wide(words, TEXT_MM, row == 0))
    return Drawing(
        name=name,
        wide=width + MARGIN,
        tall=tall,
        scale=scale,
        origin=origin,
        edges=(
            Edge(arcs=tuple(placed(arc, scale, origin) for arc in flat.outline)),
            *(Edge(arcs=tuple(placed(arc, scale, origin) for arc in hole.edge)) for hole in flat.holes),
        ),
        lines=tuple(_marks(flat, on_paper, scale)),
        texts=tuple(texts),
        dimensions=(*running, *leaders),
    )


def datum_of(flat: Flat) -> Spot:
    """Return where running dimensions begin, in the plate's own mm."""
    low, bottom, _, _ = box_of(list(flat.outline))
    sharp = [(arc.circle.x, arc.circle.y) for arc in flat.outline if arc.circle.radius == 0]
    corner = next((one for one in sharp if math.dist(one, (low, bottom)) < SAME), None)
    if corner is not None:
        return corner
    hole = next((one for one in flat.holes if math.hypot(one.x, one.y) < SAME), None)
    return (low, bottom) if hole is None else (hole.x, hole.y)


def features_of(flat: Flat) -> list[Spot]:
    """Return every place that is dimensioned: holes' middles, corners, arcs' middles, ends of bends; its datum too."""
    found = [datum_of(flat)]
    found += [spot for hole in flat.holes for spot in hole.places]
    found += [(arc.circle.x, arc.circle.y) for arc in flat.outline]
    found += [spot for fold in flat.folds for spot in (fold.one, fold.other)]
    kept: list[Spot] = []
    for spot in found:
        if all(math.dist(spot, other) >= SAME for other in kept):
            kept.append(spot)
    return kept


def _ends(places: Sequence[Place]) -> list[Place]:
    nought = [one for one in places if abs(one.value) < SAME]
    return merged([places[0], *nought, places[-1]])


def _spare(wanted: Sequence[float], low: float, high: float) -> float:
    """Return how far texts that are bent apart stand out beyond a plate, mm."""
    ends = spread(list(wanted), APART)
    if not ends:
        return 0.0
    return max(low - ends[0] + TEXT_MM, ends[-1] + TEXT_MM - high, 0.0)


def _moved(place: Place, on_paper: Callable[[Spot], Spot]) -> Place:
    return Place(value=place.value, at=on_paper(place.at), spot=place.spot, field=place.field)


def _holes(flat: Flat, said: Said) -> list[Called]:
    """Return what is said of the holes: those alike are counted and said once."""
    groups: dict[tuple[str, float, bool], list[Hole]] = {}
    for hole in flat.holes:
        groups.setdefault((hole.what, round(hole.diameter, 3), hole.to is not None), []).append(hole)
    found = []
    for (what, diameter, slot), holes in groups.items():
        many = f"{len(holes)} × " if len(holes) > 1 else ""
        size = f"⌀{said(diameter)}{' +' + said(BOLT_FIT_MM) if what in BOLTED else ''}"
        if slot and holes[0].to is not None:
            size = f"slot {said(diameter)} × {said(math.dist(*holes[0].places) + diameter)}"
        right = max(holes, key=lambda hole: hole.x)
        turn = math.radians(40.0)
        begins = (right.x + diameter / 2 * math.cos(turn), right.y + diameter / 2 * math.sin(turn))
        found.append(
            Called(
                words=f"{many}{size} {what.replace('_', ' ')}".strip(),
                begins=begins,
                kind="diameter",
                value=diameter,
                spot=(right.x, right.y),
                field=FIELDS.get(what, ""),
            )
        )
    return found


def _radii(flat: Flat, said: Said) -> list[Called]:
    """Return what is said of the outline's arcs; those alike are counted and said once, hollow ones apart."""
    groups: dict[tuple[float, bool], list[Arc]] = {}
    for arc in flat.outline:
        if arc.circle.radius > 0:
            groups.setdefault((round(arc.circle.radius, 2), arc.turn < 0), []).append(arc)
    found = []
    for (radius, hollow), arcs in groups.items():
        begins = max((_towards_right(arc) for arc in arcs), key=lambda spot: spot[0])
        arc = next(arc for arc in arcs if _towards_right(arc) == begins)
        many = f"{len(arcs)} × " if len(arcs) > 1 else ""
        found.append(
            Called(
                words=f"{many}R{said(radius)}{' hollow' if hollow else ''}",
                begins=begins,
                kind="radius",
                value=radius,
                spot=(arc.circle.x, arc.circle.y),
            )
        )
    return found


def _towards_right(arc: Arc) -> Spot:
    """Return the place on an arc that is furthest to the right, a little within its ends."""
    return max((arc.at(arc.start + arc.turn * k / 10) for k in range(1, 10)), key=lambda spot: spot[0])


def _bends(flat: Flat, said: Said) -> list[Called]:
    del said
    found = []
    for fold in flat.folds:
        right = max((fold.one, fold.other), key=lambda spot: spot[0])
        way = "down" if fold.angle > 0 else "up"
        found.append(
            Called(
                words=f"bend {abs(fold.angle):.1f}° {way}",
                begins=right,
                kind="angle",
                value=fold.angle,
                spot=right,
            )
        )
    return found


def _on(one: Called, on_paper: Callable[[Spot], Spot]) -> Called:
    return Called(
        words=one.words,
        begins=on_paper(one.begins),
        kind=one.kind,
        value=one.value,
        spot=one.spot,
        field=one.field,
    )


def _column(called: Sequence[Called], column: float, middle: float) -> list[Dimension]:
    """Return what is said beside leaders, one under the other in the order of where they begin, about a middle."""
    ordered = sorted(called, key=lambda one: one.begins[1])
    del middle
    ends = spread([one.begins[1] for one in ordered], APART)
    found = []
    for one, y in zip(ordered, ends, strict=True):
        line = Line(through=(one.begins, (column, y), (column + TURN, y)), meaning="leader")
        text = Text(words=one.words, at=(column + TURN + 1.0, y - 0.25 * TEXT_MM))
        found.append(
            Dimension(
                kind=one.kind,  # type: ignore[arg-type]
                value=one.value,
                text=text,
                lines=(line,),
                at=one.spot,
                field=one.field,
            )
        )
    return found


def _table(features: Sequence[Spot], datum: Spot, flat: Flat, said: Said) -> list[str]:
    """Return every place of an outline with many as rows: number, across, up, radius."""
    radius = {(round(arc.circle.x, 3), round(arc.circle.y, 3)): arc.circle.radius for arc in flat.outline}
    rows = ["no.  across  up  radius"]
    for number, (x, y) in enumerate(features):
        its = radius.get((round(x, 3), round(y, 3)), 0.0)
        rows.append(f"{number}  {said(x - datum[0])}  {said(y - datum[1])}{'  R' + said(its) if its else ''}")
    return rows


def _notes(flat: Flat, name: str, scale: float, datum: Spot, other_hand: bool, said: Said) -> list[str]:
    from_where = (
        "the corner"
        if any(
            math.dist((a.circle.x, a.circle.y), datum) < SAME and a.circle.radius == 0 for a in flat.outline
        )
        else next(
            (
                f"the middle of the {hole.what} hole"
                for hole in flat.holes
                if math.dist((hole.x, hole.y), datum) < SAME
            ),
            "its lower left",
        )
    )
    low, bottom, high, top = box_of(list(flat.outline))
    size = f"{said(high - low)} × {said(top - bottom)} {unit_of(said)} over all"
    return [
        *wrap(f"{name}{', other hand' if other_hand else ''}", NAME_LETTERS),
        f"plate {plate_size(flat.thickness)} mm {flat.grade}, {mass_said(flat.mass, said)}, {scale_said(scale)}",
        size,
        f"{unit_of(said)} from {from_where.replace('_', ' ')}",
    ]


def _marks(flat: Flat, on_paper: Callable[[Spot], Spot], scale: float) -> list[Line]:
    """Return the crosses at the middles and the lines to bend along."""
    found = []
    for hole in flat.holes:
        reach = hole.diameter / 2 * scale + 1.5
        for spot in hole.places:
            x, y = on_paper(spot)
            found.append(Line(through=((x - reach, y), (x + reach, y)), meaning="centre"))
            found.append(Line(through=((x, y - reach), (x, y + reach)), meaning="centre"))
    holes = [spot for hole in flat.holes for spot in hole.places]
    for arc in flat.outline:
        its = (arc.circle.x, arc.circle.y)
        if arc.circle.radius > 0 and all(math.dist(its, other) >= SAME for other in holes):
            x, y = on_paper(its)
            found.append(Line(through=((x - 1.2, y), (x + 1.2, y)), meaning="centre"))
            found.append(Line(through=((x, y - 1.2), (x, y + 1.2)), meaning="centre"))
    return [
        *found,
        *(Line(through=(on_paper(fold.one), on_paper(fold.other)), meaning="bend") for fold in flat.folds),
    ]
