"""Labels put beside what they name: each where nothing is drawn across it, the hardest to place first.

Ring   places about a spot, the nearest first; a label further off than `NEAR` has a leader.
"""

import math
from collections.abc import Sequence

from engine.drawing.crossing import crosses, overlaps
from engine.drawing.model import TEXT_MM, Box, Line, Spot, Text, text_wide

RINGS = (1.6, 3.0, 5.0, 8.0, 12.0, 17.0, 24.0, 32.0)
TURNS = 16
NEAR = 5.0


def labelled(
    wanted: Sequence[tuple[str, Spot]],
    ways: Sequence[tuple[Spot, Spot]],
    taken: Sequence[Box],
    within: Box,
    height: float = TEXT_MM,
    ring: float = 0.0,
) -> tuple[list[Text], list[Line]]:
    """Return a text for each of the words beside its spot, and the leaders of those that stand off; none lies on anything.

    A label that finds no room at all is left out: nothing is drawn over anything.
    ring : mm, the radius of a ring round each, in which it stands
    """
    boxes = list(taken)
    lines = list(ways)
    texts: list[Text] = []
    leaders: list[Line] = []
    for words, spot in wanted:
        found = _free(words, spot, lines, boxes, within, height, ring)
        if found is None:
            continue
        text, far = found
        boxes.append(_room(text, ring))
        texts.append(text)
        if far > NEAR or ring:
            line = Line(through=(spot, _end(text, spot, ring)), meaning="leader")
            leaders.append(line)
            lines.append((line.through[0], line.through[1]))
    return texts, leaders


def _free(
    words: str,
    spot: Spot,
    lines: Sequence[tuple[Spot, Spot]],
    boxes: Sequence[Box],
    within: Box,
    height: float,
    round_it: float,
) -> tuple[Text, float] | None:
    long = max(text_wide(words, height), 2 * round_it)
    for ring in (one + round_it for one in RINGS):
        for k in range(TURNS):
            turn = 2 * math.pi * ((k + 1) // 2 * (1 if k % 2 else -1) + 2) / TURNS
            x, y = spot[0] + ring * math.cos(turn), spot[1] + ring * math.sin(turn)
            middle = x + math.cos(turn) * long / 2
            foot = y - 0.25 * height + math.sin(turn) * height / 2
            text = Text(words=words, at=(middle, foot), height=height, anchor="middle")
            box = _room(text, round_it)
            if box[0] < within[0] or box[1] < within[1] or box[2] > within[2] or box[3] > within[3]:
                continue
            if any(overlaps(box, other) for other in boxes) or any(crosses(a, b, box) for a, b in lines):
                continue
            if ring > NEAR or round_it:
                end = _end(text, spot, round_it)
                if any(crosses(spot, end, other) for other in boxes):
                    continue
            return text, ring
    return None


def _room(text: Text, ring: float) -> Box:
    """Return the box that a label takes, with the ring round it."""
    box = text.box
    if not ring:
        return box
    x, y = middle_of(text)
    return x - ring, y - ring, x + ring, y + ring


def middle_of(text: Text) -> Spot:
    """Return the middle of a text."""
    box = text.box
    return (box[0] + box[2]) / 2, (box[1] + box[3]) / 2


def _end(text: Text, spot: Spot, ring: float) -> Spot:
    """Return where a leader from a spot ends: at a text's box, or at the ring round it."""
    if not ring:
        return _edge(text.box, spot)
    x, y = middle_of(text)
    far = math.dist((x, y), spot)
    share = max(far - ring, 0.0) / max(far, 1e-9)
    return spot[0] + (x - spot[0]) * share, spot[1] + (y - spot[1]) * share


def _edge(box: Box, spot: Spot) -> Spot:
    """Return the place on a box's edge that is nearest to a spot, a little before it."""
    x = min(max(spot[0], box[0]), box[2])
    y = min(max(spot[1], box[1]), box[3])
    far = math.dist((x, y), spot)
    share = 0.0 if far < 1e-6 else max(far - 0.4, 0.0) / far
    return spot[0] + (x - spot[0]) * share, spot[1] + (y - spot[1]) * share
