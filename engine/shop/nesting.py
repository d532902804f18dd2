"""Plates laid on sheets by their true shapes: the largest first, each as far to the left as any of four turns lets it.

Cell    of a raster, `CELL_MM` square. A shape takes every cell that it or half the gap about it touches, so that two
        shapes with no cell in common stand at least the gap apart.
Free    where a shape has room: the raster's correlation with the shape's own is nought there.
"""

import math
from collections.abc import Sequence
from functools import cache

import numpy as np

from engine.facts import facts
from engine.shop.outline import Arc, box_of, spots_of, turned

CELL_MM = 2.0
TURNS = (0.0, 90.0, 180.0, 270.0)
FINE_BITS = 4  # of a cell that a raster's places are told to

Outline = tuple[Arc, ...]
Cells = np.ndarray


@facts
class Lies:
    """Where a shape lies: its number, its sheet, its turn anticlockwise in degrees, its box's lower left corner mm."""

    number: int
    sheet: int
    turn: float
    x: float
    y: float


def nested(shapes: Sequence[Outline], wide: float, high: float, gap: float) -> list[Lies]:
    """Return where shapes lie on sheets of one size, mm; each must fit on a sheet."""
    cells = cache(lambda outline, turn: _cells(outline, turn, gap))
    sheets: list[Cells] = []
    used: list[int] = []
    found: list[Lies] = []
    rows, columns = (int((side + gap) / CELL_MM) for side in (high, wide))
    for number in sorted(range(len(shapes)), key=lambda k: -_area(shapes[k])):
        masks = [(turn, cells(shapes[number], turn)) for turn in TURNS]
        sheet = 0
        while True:
            if sheet == len(sheets):
                sheets.append(np.zeros((rows, columns), dtype=np.float32))
                used.append(0)
            best = _furthest_left(sheets[sheet], used[sheet], masks)
            if best is not None:
                break
            if not used[sheet]:
                raise ValueError(f"shape {number} is larger than a sheet of {wide:g} × {high:g} mm")
            sheet += 1
        turn, mask, row, column = best
        tall, across = mask.shape
        sheets[sheet][row : row + tall, column : column + across] += mask
        used[sheet] = max(used[sheet], column + across)
        found.append(Lies(number=number, sheet=sheet, turn=turn, x=column * CELL_MM, y=row * CELL_MM))
    return sorted(found, key=lambda lies: lies.number)


def _area(outline: Outline) -> float:
    low, bottom, high, top = box_of(list(outline))
    return (high - low) * (top - bottom)


def _cells(outline: Outline, turn: float, gap: float) -> Cells:
    """Return the cells that a turned shape takes with half the gap about it, its box's corner half a gap from the raster's."""
    import cv2  # a fifth of a second to load, which only who lays out plates pays

    its = turned(list(outline), turn)
    low, bottom, high, top = box_of(its)
    spots = (
        np.array(spots_of(its)) - (low, bottom) + gap / 2
    ) / CELL_MM - 0.5  # a cell's place is its middle
    tall, across = (math.ceil((side + gap) / CELL_MM) for side in (top - bottom, high - low))
    mask = np.zeros((tall, across), dtype=np.uint8)
    fine = np.round(spots * 2**FINE_BITS).astype(np.int32).reshape(-1, 1, 2)
    cv2.fillPoly(mask, [fine], 1, shift=FINE_BITS)
    # Half the gap, and half a cell's diagonal for what a cell's middle does not tell.
    reach = math.ceil((gap / 2) / CELL_MM + math.sqrt(0.5))
    cv2.polylines(mask, [fine], True, 1, thickness=2 * reach + 1, shift=FINE_BITS)
    return mask.astype(np.float32)


def _furthest_left(
    sheet: Cells, used: int, masks: Sequence[tuple[float, Cells]]
) -> tuple[float, Cells, int, int] | None:
    """Return the turn, its cells, row and column with the least to the right of what is used; None where there is no room."""
    import cv2

    found: list[tuple[tuple[int, int, float], float, Cells, int, int]] = []
    for turn, mask in masks:
        tall, across = mask.shape
        if tall > sheet.shape[0] or across > sheet.shape[1]:
            continue
        window = sheet[:, : min(sheet.shape[1], used + across)]
        taken = cv2.matchTemplate(np.ascontiguousarray(window), mask, cv2.TM_CCORR)
        free = taken < 0.5
        columns = free.any(axis=0)
        if not columns.any():
            continue
        column = int(columns.argmax())
        row = int(free[:, column].argmax())
        found.append(((max(column + across, used), row, turn), turn, mask, row, column))
    if not found:
        return None
    _, turn, mask, row, column = min(found, key=lambda one: one[0])
    return turn, mask, row, column
