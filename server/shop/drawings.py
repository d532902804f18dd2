"""Plates as DXF and SVG for the cutter, and the whole linkage as a DXF to trace against: mm, true arcs."""

import io
import math
import textwrap
from html import escape

import numpy as np
from ezdxf import units
from ezdxf.document import Drawing
from ezdxf.filemanagement import new
from ezdxf.layouts.layout import Modelspace

from engine.document.frame_sides import both_sides, tube_lines
from engine.document.schema import Project
from engine.drawing.flat import datum_of, flat_drawing
from engine.sentences import spoken
from engine.shop.cutting import Sheet
from engine.shop.made import Flat
from engine.shop.outline import Arc, box_of, sharp
from engine.sizing.rocker.wheel_side import rockers_here
from engine.station.solved import SolvedStation

LAYERS = (("CUT", 7), ("ETCH", 3), ("BEND", 5), ("DIM", 1))
DIMSTYLE = "BENCH"
FULL = 2 * math.pi
MM_PER_IN = 25.4
ARC_ROWS = 21
ETCH_MM = (4.0, 3.0, 2.5, 2.0)
ETCH_LINES = 4
LETTER_SHARE = 1.0  # of its height that a letter takes in the plainest of fonts


def flat_dxf(flat: Flat, name: str, inches: bool = False) -> str:
    """Return a plate as DXF R2010: outline and holes to cut, centre marks and name to etch, folds to bend."""
    drawing = _new(inches)
    space = drawing.modelspace()
    size = 1 / MM_PER_IN if inches else 1.0
    outline = list(flat.outline)
    for edge in (outline, *(hole.edge for hole in flat.holes)):
        _cut(space, edge, size)
    for hole in flat.holes:
        arm = hole.diameter / 4 * size
        for x, y in hole.places:
            for dx, dy in ((arm, 0.0), (0.0, arm)):
                one, other = (x * size - dx, y * size - dy), (x * size + dx, y * size + dy)
                space.add_line(one, other, dxfattribs={"layer": "ETCH"})
    for fold in flat.folds:
        one, other = ((x * size, y * size) for x, y in (fold.one, fold.other))
        space.add_line(one, other, dxfattribs={"layer": "BEND"})
        text = space.add_text(f"{fold.angle:+.1f} deg", height=3 * size, dxfattribs={"layer": "BEND"})
        text.set_placement(other)
    low, bottom, high, _ = box_of(outline)
    _dimensions(drawing, flat, size)
    thick = f"{flat.thickness / MM_PER_IN:.4g} in" if inches else f"{flat.thickness:g} mm"
    tall, lines = etched(f"{spoken(name)}, {thick} {flat.grade}", high - low)
    for number, line in enumerate(lines):
        text = space.add_text(line, height=tall * size, dxfattribs={"layer": "ETCH"})
        text.set_placement((low * size, (bottom - 4 - tall * (1 + 1.5 * number)) * size))
    return _text(drawing)


def sheet_dxf(sheet: Sheet, name: str) -> str:
    """Return a whole sheet of plate as DXF R2010: its edge, and every piece by its shape where it lies, in mm."""
    drawing = _new()
    drawing.layers.add("SHEET", color=8)
    space = drawing.modelspace()
    corners = [(0.0, 0.0), (sheet.wide, 0.0), (sheet.wide, sheet.high), (0.0, sheet.high)]
    space.add_lwpolyline(corners, close=True, dxfattribs={"layer": "SHEET"})
    text = space.add_text(name, height=8, dxfattribs={"layer": "SHEET"})
    text.set_placement((0.0, sheet.high + 8))
    for piece in sheet.pieces:
        if piece.flat is None:
            continue
        for edge in (piece.flat.outline, *(hole.edge for hole in piece.flat.holes)):
            _cut(space, piece.lying(edge), 1.0)
        for fold in piece.flat.folds:
            ends = [arc.first for arc in piece.lying([sharp(*fold.one), sharp(*fold.other)])]
            space.add_line(ends[0], ends[1], dxfattribs={"layer": "BEND"})
    return _text(drawing)


def _cut(space: Modelspace, edge: list[Arc], size: float) -> None:
    """Add a closed edge in true arcs to what is cut."""
    if len(edge) == 1 and abs(edge[0].turn) > FULL - 1e-9:
        its = edge[0].circle
        space.add_circle((its.x * size, its.y * size), its.radius * size, dxfattribs={"layer": "CUT"})
        return
    points = [(x * size, y * size, bulge) for arc in edge for x, y, bulge in _run(arc)]
    space.add_lwpolyline(points, format="xyb", close=True, dxfattribs={"layer": "CUT"})


def _dimensions(drawing: Drawing, flat: Flat, size: float) -> None:
    """Add the dimensions of the plate's drawing as the file's own, on a layer of theirs: a cutter takes the outline alone."""
    style = drawing.dimstyles.new(DIMSTYLE)
    style.set_arrows(blk="", blk1="", blk2="")
    style.dxf.dimtxt, style.dxf.dimasz, style.dxf.dimgap = 3.0 * size, 2.5 * size, 0.8 * size
    style.dxf.dimexo, style.dxf.dimexe, style.dxf.dimdec = 0.0, 1.0 * size, 1 if size == 1.0 else 3
    space, layer = drawing.modelspace(), {"layer": "DIM"}
    its = flat_drawing(flat, "")
    datum = datum_of(flat)
    origin = (datum[0] * size, datum[1] * size)
    low, bottom, _, _ = box_of(list(flat.outline))
    for one in its.dimensions:
        at = (one.at[0] * size, one.at[1] * size)
        if one.kind == "x":
            away = (0.0, (bottom - 12.0) * size - at[1])
            made = space.add_ordinate_x_dim(at, away, origin=origin, dimstyle=DIMSTYLE, dxfattribs=layer)
        elif one.kind == "y":
            away = ((low - 12.0) * size - at[0], 0.0)
            made = space.add_ordinate_y_dim(at, away, origin=origin, dimstyle=DIMSTYLE, dxfattribs=layer)
        elif one.kind == "diameter":
            made = space.add_diameter_dim(
                center=at, radius=one.value / 2 * size, angle=45.0, dimstyle=DIMSTYLE, dxfattribs=layer
            )
        elif one.kind == "radius":
            made = space.add_radius_dim(
                center=at, radius=one.value * size, angle=20.0, dimstyle=DIMSTYLE, dxfattribs=layer
            )
        else:
            continue
        made.render()


def etched(words: str, wide: float) -> tuple[float, list[str]]:
    """Return how tall words are etched, mm, and their lines, none wider than `wide` mm: the tallest that takes few lines."""
    for tall in ETCH_MM:
        lines = textwrap.wrap(words, max(int(wide / (tall * LETTER_SHARE)), 1), break_long_words=False)
        if len(lines) <= ETCH_LINES and max(map(len, lines)) * tall * LETTER_SHARE <= wide:
            return tall, lines
    longest = max(map(len, words.split()))
    tall = wide / (longest * LETTER_SHARE)
    return tall, textwrap.wrap(words, longest, break_long_words=False)


def _run(arc: Arc) -> list[tuple[float, float, float]]:
    """Return an arc as two points of a polyline, with the bulge that DXF draws it by; then a straight line follows."""
    (x, y), (u, v) = arc.first, arc.last
    if arc.circle.radius == 0:
        return [(x, y, 0.0)]
    return [(x, y, math.tan(arc.turn / 4)), (u, v, 0.0)]


def flat_svg(flat: Flat, name: str) -> str:
    """Return a plate as SVG in mm, with the layers of the DXF as groups."""
    outline = list(flat.outline)
    low, bottom, high, top = box_of(outline)
    label, lines = etched(f"{spoken(name)}, {flat.thickness:g} mm {flat.grade}", high - low)
    wide, tall = high - low + 4, top - bottom + 7 + 1.5 * label * len(lines)

    holes = "".join(
        f'<circle cx="{hole.x - low + 2:.4f}" cy="{top - hole.y + 2:.4f}" r="{hole.diameter / 2:.4f}"/>'
        if hole.to is None
        else f'<path d="{svg_path(hole.edge, 2 - low, top + 2)}"/>'
        for hole in flat.holes
    )
    folds = "".join(
        f'<path d="M{fold.one[0] - low + 2:.4f} {top - fold.one[1] + 2:.4f}L{fold.other[0] - low + 2:.4f} {top - fold.other[1] + 2:.4f}"/>'
        for fold in flat.folds
    )
    bend = f'<g id="BEND" fill="none" stroke="#00f" stroke-width="0.2">{folds}</g>\n' if folds else ""
    texts = "".join(
        f'<text x="2" y="{top - bottom + 5 + label * (1 + 1.5 * number):.4f}" font-size="{label:.4f}">{escape(line)}</text>'
        for number, line in enumerate(lines)
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.4f}mm" height="{tall:.4f}mm" '
        f'viewBox="0 0 {wide:.4f} {tall:.4f}">\n'
        f'<g id="CUT" fill="none" stroke="#000" stroke-width="0.2"><path d="{svg_path(outline, 2 - low, top + 2)}"/>{holes}</g>\n'
        f"{bend}"
        f'<g id="ETCH" fill="#06c">{texts}</g>\n</svg>\n'
    )


def svg_path(outline: list[Arc], right: float = 0.0, down: float = 0.0) -> str:
    """Return an outline as an SVG path in mm, y up turned down, shifted right and down."""
    path = []
    for k, arc in enumerate(outline):
        x, y = arc.first
        path.append(f"{'L' if k else 'M'}{x + right:.4f} {down - y:.4f}")
        if arc.circle.radius == 0:
            continue
        # An arc of half a turn or more is drawn as two: SVG takes the way round from its ends.
        parts = 2 if abs(arc.turn) > math.pi - 1e-6 else 1
        for part in range(1, parts + 1):
            u, v = arc.at(arc.start + arc.turn * part / parts)
            radius, sweep = arc.circle.radius, int(arc.turn < 0)
            path.append(f"A{radius:.4f} {radius:.4f} 0 0 {sweep} {u + right:.4f} {down - v:.4f}")
    return "".join(path) + "Z"


def skeleton_dxf(stations: list[SolvedStation], project: Project | None = None) -> str:
    """Return every point, body, rocker bolt and travel arc of some stations as a DXF in space, a layer a station.

    project : whose frame's middle lines and places go onto a layer FRAME
    """
    drawing = _new()
    space = drawing.modelspace()
    for number, solved in enumerate(stations):
        layer = f"STATION {number + 1} {''.join(c for c in solved.station.name if c.isalnum() or c == ' ')}"[
            :80
        ]
        drawing.layers.add(layer)
        spots = solved.station.points
        for name, spot in spots.items():
            space.add_point(spot, dxfattribs={"layer": layer})
            text = space.add_text(spoken(name), height=8, dxfattribs={"layer": layer})
            text.dxf.insert = spot
        for members in solved.station.bodies.values():
            every = [spots[name] for name in members]
            space.add_polyline3d(every, close=len(every) > 2, dxfattribs={"layer": layer})
        for here in rockers_here(solved):
            space.add_line(spots[here.pivots[0]], spots[here.pivots[1]], dxfattribs={"layer": layer})
        rows = np.flatnonzero(solved.reached)
        rows = (
            rows[np.linspace(0, len(rows) - 1, min(len(rows), ARC_ROWS)).astype(int)] if len(rows) else rows
        )
        place = solved.sweep.solution.motion.place
        for index in solved.linkage.index.values():
            arc = place[:, index, rows].T
            if len(arc) > 1 and float(np.ptp(arc, axis=0).max()) > 0.01:
                space.add_polyline3d(arc.tolist(), dxfattribs={"layer": layer})
    if project is not None and project.frame is not None:
        drawing.layers.add("FRAME")
        for one, other in tube_lines(project):
            space.add_line(one, other, dxfattribs={"layer": "FRAME"})
        for name, place in both_sides(project)[1].items():
            text = space.add_text(spoken(name), height=8, dxfattribs={"layer": "FRAME"})
            text.dxf.insert = place.tolist()
    return _text(drawing)


def _new(inches: bool = False) -> Drawing:
    drawing = new("R2010")
    drawing.units = units.IN if inches else units.MM
    for name, colour in LAYERS:
        drawing.layers.add(name, color=colour)
    return drawing


def _text(drawing: Drawing) -> str:
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue()
