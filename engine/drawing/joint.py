"""A joint pulled apart along its bolt: head at the top, nut at the bottom, everything between in the order in which it goes on.

Scale   across the bolt and along it alike; the gaps between are of the drawing, not of the joint.
Beside  each thing is named in one column to the right, with how wide it is along the bolt.
"""

from textwrap import wrap

from engine.drawing.flat import Said, millimetres, sized, unit_of
from engine.drawing.model import TEXT_MM, Dimension, Drawing, Line, Spot, Text, scale_for, scale_said
from engine.drawing.running import APART, spread
from engine.sentences import spoken
from engine.shop.stacks import BoltStack, Layer
from engine.shop.torque import torque

ACROSS_MM, ALONG_MM = 24.0, 44.0  # on the paper
GAP_MM, LEAST_MM = 1.8, 0.7
NAME_LETTERS = 22  # of a name on one line
MARGIN, COLUMN, TURN = 2.0, 5.0, 2.5
BOLT = ("head", "lock nut")


def as_drawn(layer: Layer) -> str:
    """Return what a thing on a bolt is, whatever it belongs to: a rod end, a bush, an eye."""
    what = layer.what.partition(" of ")[0]
    return what if what != "end" else spoken(layer.what)  # a strap's


def held_in(stack: BoltStack) -> list[str]:
    """Return what a joint holds, by what it belongs to: the pushrod, the lower arm."""
    names = (layer.what.partition(" of ")[2] for layer in sorted(stack.layers, key=lambda one: one.at))
    return list(dict.fromkeys(spoken(name) for name in names if name))


def joint_drawing(stack: BoltStack, name: str, said: Said = millimetres) -> Drawing:
    """Return a joint pulled apart; `name` says where it is and how many there are."""
    said = sized(said)
    layers = sorted(stack.layers, key=lambda layer: layer.at)
    across = max(layer.outside for layer in layers)
    along = sum(layer.width for layer in layers)
    scale = scale_for(across, along, (ACROSS_MM, ALONG_MM))
    middle = MARGIN + across * scale / 2
    tall = sum(max(layer.width * scale, LEAST_MM) + GAP_MM for layer in layers) + GAP_MM
    # A thin layer takes less of the paper than its name does.
    foot = MARGIN + max(0.0, (APART * len(layers) - tall) / 2)
    tops: list[float] = []
    lines: list[Line] = []
    y = foot + tall
    lines.append(Line(through=((middle, foot - 1.0), (middle, y + 1.0)), meaning="centre"))
    for layer in layers:
        thick = max(layer.width * scale, LEAST_MM)
        y -= GAP_MM + thick
        lines += _seen(layer, middle, y, y + thick, scale)
        tops.append(y + thick / 2)
    column = middle + across * scale / 2 + COLUMN
    dimensions = _beside(layers, tops, middle, column, scale, said)
    top = max(foot + tall, *(one.text.box[3] for one in dimensions)) + 3.0
    grip, tight = f"{said(stack.grip)} {unit_of(said)}", f"{torque(stack.bolt.of.thread):.0f} N·m dry"
    named = wrap(name, NAME_LETTERS)
    notes = [*named, f"{stack.bolt.said}, grip {grip}", f"{tight}, {scale_said(scale)}"]
    texts = [
        Text(words=words, at=(MARGIN, top + APART * (len(notes) - 1 - row)), bold=row < len(named))
        for row, words in enumerate(notes)
    ]
    high = top + APART * len(notes)
    wide = max(text.box[2] for text in (*texts, *(one.text for one in dimensions))) + MARGIN
    return Drawing(
        name=name,
        wide=wide,
        tall=high,
        scale=scale,
        origin=(middle, foot),
        lines=tuple(lines),
        texts=tuple(texts),
        dimensions=tuple(dimensions),
    )


def _seen(layer: Layer, middle: float, low: float, high: float, scale: float) -> list[Line]:
    """Return one thing as it is seen from the side, and its hole behind it."""
    half = layer.outside * scale / 2
    box: tuple[Spot, ...] = (
        (middle - half, low),
        (middle + half, low),
        (middle + half, high),
        (middle - half, high),
        (middle - half, low),
    )
    found = [Line(through=box, meaning="outline")]
    if layer.what in BOLT:
        # A head or nut seen flat on shows two of its edges.
        found += [
            Line(through=((middle + side * half / 2, low), (middle + side * half / 2, high)), meaning="frame")
            for side in (-1.0, 1.0)
        ]
    elif layer.bore > 0:
        bore = layer.bore * scale / 2
        found += [
            Line(through=((middle + side * bore, low), (middle + side * bore, high)), meaning="hidden")
            for side in (-1.0, 1.0)
            if bore < half
        ]
    return found


def _beside(
    layers: list[Layer], heights: list[float], middle: float, column: float, scale: float, said: Said
) -> list[Dimension]:
    """Return the names of what goes on the bolt, each level with it as far as they have room."""
    ends = spread(heights[::-1], APART)[::-1]
    found = []
    for layer, level, end in zip(layers, heights, ends, strict=True):
        begins = (middle + layer.outside * scale / 2, level)
        line = Line(through=(begins, (column, end), (column + TURN, end)), meaning="leader")
        words = as_drawn(layer)
        if layer.what not in BOLT:
            words += f", {said(layer.width)}"
        text = Text(words=words, at=(column + TURN + 1.0, end - 0.25 * TEXT_MM))
        found.append(
            Dimension(kind="length", value=layer.width, text=text, lines=(line,), at=(0.0, layer.at))
        )
    return found
