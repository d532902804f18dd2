"""A drawing over HTTP, as a screen draws it: mm of its paper, y turned down."""

import math
from typing import Any

from ninja import Schema

from engine.drawing.model import Dimension, Drawing, Line, Text
from server.shop.drawings import svg_path

SAME_MM = 0.05


class DrawnLine(Schema):
    """A line by its meaning: x and y after one another, mm."""

    meaning: str
    points: list[float]


class DrawnText(Schema):
    """Words from a place, mm; degrees anticlockwise; start, middle or end of them is there."""

    words: str
    x: float
    y: float
    height: float
    angle: float
    anchor: str
    bold: bool


class DrawnDimension(Schema):
    """One dimension; `field` is the choice of the part that it shows, empty where it follows from others."""

    kind: str
    field: str
    text: DrawnText
    lines: list[DrawnLine]


class DrawingOut(Schema):
    """A drawing, mm of its paper: edges as SVG paths; where the part's own nought lies, and its scale."""

    name: str
    wide: float
    tall: float
    scale: float
    origin: list[float]
    edges: list[str]
    lines: list[DrawnLine]
    texts: list[DrawnText]
    dimensions: list[DrawnDimension]


def drawing_values(drawing: Drawing, choice: dict[str, Any] | None = None) -> dict[str, Any]:
    """Return a drawing of plain values; `choice` is what may be chosen of its part."""
    tall = drawing.tall
    return {
        "name": drawing.name,
        "wide": drawing.wide,
        "tall": tall,
        "scale": drawing.scale,
        "origin": [drawing.origin[0], tall - drawing.origin[1]],
        "edges": [svg_path(list(edge.arcs), 0.0, tall) for edge in drawing.edges],
        "lines": [_line(one, tall) for one in drawing.lines],
        "texts": [_text(one, tall) for one in drawing.texts],
        "dimensions": [
            {
                "kind": one.kind,
                "field": _field(one, choice or {}),
                "text": _text(one.text, tall),
                "lines": [_line(line, tall) for line in one.lines],
            }
            for one in drawing.dimensions
        ],
    }


def _line(line: Line, tall: float) -> dict[str, Any]:
    return {
        "meaning": line.meaning,
        "points": [round(value, 3) for x, y in line.through for value in (x, tall - y)],
    }


def _text(text: Text, tall: float) -> dict[str, Any]:
    return {
        "words": text.words,
        "x": text.at[0],
        "y": tall - text.at[1],
        "height": text.height,
        "angle": text.angle,
        "anchor": text.anchor,
        "bold": text.bold,
    }


def _field(one: Dimension, choice: dict[str, Any]) -> str:
    """Return the choice that a dimension shows: one of its own size, or of twice it where it is a radius."""
    sizes = {
        key: value
        for key, value in choice.items()
        if isinstance(value, int | float) and not isinstance(value, bool)
    }
    if one.field in sizes:
        return one.field
    value = abs(one.value) * (2 if one.kind == "radius" else 1)
    if not value or not math.isfinite(value):
        return ""
    return next((key for key, size in sizes.items() if abs(size - value) < SAME_MM), "")
