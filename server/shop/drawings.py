"""Plates as DXF and SVG for the cutter, and the whole linkage as a DXF to trace against: mm, true arcs."""

import io
import math

import numpy as np
from ezdxf import units
from ezdxf.document import Drawing
from ezdxf.filemanagement import new

from engine.shop.outline import Arc, box_of
from engine.shop.parts import PlatePart
from engine.sizing.rocker.wheel_side import rockers_here
from engine.station.solved import SolvedStation

LAYERS = (("CUT", 7), ("ETCH", 3), ("BEND", 5))
FULL = 2 * math.pi
ARC_ROWS = 21


def plate_dxf(plate: PlatePart, name: str, mirrored: bool = False) -> str:
    """Return a plate as DXF R2010; the other hand where it is mirrored."""
    drawing = _new()
    space = drawing.modelspace()
    way = -1.0 if mirrored else 1.0
    outline = list(plate.outline)
    if len(outline) == 1:
        circle = outline[0].circle
        space.add_circle((circle.x, way * circle.y), circle.radius, dxfattribs={"layer": "CUT"})
    else:
        points = [spot for arc in outline for spot in _run(arc, way)]
        space.add_lwpolyline(points, format="xyb", close=True, dxfattribs={"layer": "CUT"})
    for hole in plate.holes:
        space.add_circle((hole.x, way * hole.y), hole.diameter / 2, dxfattribs={"layer": "CUT"})
        arm = hole.diameter / 4
        for dx, dy in ((arm, 0.0), (0.0, arm)):
            one, other = (hole.x - dx, way * hole.y - dy), (hole.x + dx, way * hole.y + dy)
            space.add_line(one, other, dxfattribs={"layer": "ETCH"})
    low, bottom, _, _ = box_of(outline)
    text = space.add_text(f"{name}, {plate.thickness:g} mm", height=4, dxfattribs={"layer": "ETCH"})
    text.set_placement((low, bottom - 8 if not mirrored else -box_of(outline)[3] - 8))
    return _text(drawing)


def _run(arc: Arc, way: float) -> list[tuple[float, float, float]]:
    """Return an arc as two points of a polyline, with the bulge that DXF draws it by; then a straight line follows."""
    (x, y), (u, v) = arc.first, arc.last
    return [(x, way * y, way * math.tan(arc.turn / 4)), (u, way * v, 0.0)]


def plate_svg(plate: PlatePart, name: str) -> str:
    """Return a plate as SVG in mm, with the layers of the DXF as groups."""
    outline = list(plate.outline)
    low, bottom, high, top = box_of(outline)
    wide, tall = high - low + 4, top - bottom + 14

    holes = "".join(
        f'<circle cx="{hole.x - low + 2:.4f}" cy="{top - hole.y + 2:.4f}" r="{hole.diameter / 2:.4f}"/>'
        for hole in plate.holes
    )
    label = f"{name}, {plate.thickness:g} mm".replace("&", "&amp;").replace("<", "&lt;")
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.4f}mm" height="{tall:.4f}mm" '
        f'viewBox="0 0 {wide:.4f} {tall:.4f}">\n'
        f'<g id="CUT" fill="none" stroke="#000" stroke-width="0.2"><path d="{svg_path(outline, 2 - low, top + 2)}"/>{holes}</g>\n'
        f'<g id="ETCH" fill="#06c"><text x="2" y="{tall - 3:.4f}" font-size="4">{label}</text></g>\n</svg>\n'
    )


def svg_path(outline: list[Arc], right: float = 0.0, down: float = 0.0) -> str:
    """Return an outline as an SVG path in mm, y up turned down, shifted right and down."""
    path = []
    for k, arc in enumerate(outline):
        x, y = arc.first
        path.append(f"{'L' if k else 'M'}{x + right:.4f} {down - y:.4f}")
        # An arc of half a turn or more is drawn as two: SVG takes the way round from its ends.
        parts = 2 if arc.turn > math.pi - 1e-6 else 1
        for part in range(1, parts + 1):
            u, v = arc.at(arc.start + arc.turn * part / parts)
            radius = arc.circle.radius
            path.append(f"A{radius:.4f} {radius:.4f} 0 0 0 {u + right:.4f} {down - v:.4f}")
    return "".join(path) + "Z"


def skeleton_dxf(stations: list[SolvedStation]) -> str:
    """Return every point, body, rocker bolt and travel arc of some stations as a DXF in space, a layer a station."""
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
            text = space.add_text(name, height=8, dxfattribs={"layer": layer})
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
    return _text(drawing)


def _new() -> Drawing:
    drawing = new("R2010")
    drawing.units = units.MM
    for name, colour in LAYERS:
        drawing.layers.add(name, color=colour)
    return drawing


def _text(drawing: Drawing) -> str:
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue()
