"""The room that is told at the start, drawn: a rail as far inside of the tyre as was measured."""

import copy

from engine.layouts.layout import Values

WIDE_MM, TALL_MM = 60.0, 120.0
AHEAD_MM = 1000.0  # of the rail that is drawn, about the wheel


def with_rail(station: Values, beside: float) -> Values:
    """Return a station's values with the rail beside each of its tyres, `beside` mm from the tyre's inner face.

    It stands at the height of the hub: where it truly is, and how tall, is mended under Room. None for a wheel on the
    centreline.
    """
    its = copy.deepcopy(station)
    rails = []
    for wheel in its["wheels"]:
        x, y, z = its["points"][wheel["centre"]]
        if abs(y) < 1.0 or not wheel.get("tyre_width"):
            continue
        side = 1.0 if y > 0 else -1.0
        inner = y - side * wheel["tyre_width"] / 2
        middle = inner - side * (beside + WIDE_MM / 2)
        several = len(its["wheels"]) > 1
        rails.append(
            {
                "name": f"rail {'left' if side > 0 else 'right'}" if several else "rail",
                "shape": "box",
                "on": "chassis",
                "what": "structure",
                "centre": [round(x, 1), round(middle, 1), round(z, 1)],
                "size": [AHEAD_MM, WIDE_MM, TALL_MM],
            }
        )
    if rails:
        its["envelopes"] = [*its.get("envelopes", []), *rails]
    return its
