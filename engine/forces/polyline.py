"""A table of measured pairs as straight lines between them, its end lines carried on."""

from functools import cached_property

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array


@facts(kw_only=False)
class Polyline:
    """Rows of a table: `at` rising, `values` there; both (rows,)."""

    knots: Array
    values: Array

    @cached_property
    def slopes(self) -> Array:
        """Return each line's slope, (rows − 1,)."""
        slopes: Array = np.diff(self.values) / np.diff(self.knots)
        return slopes

    def piece(self, at: Array) -> np.ndarray:
        """Return the number of the line that each place (any shape) lies on."""
        return np.asarray(np.searchsorted(self.knots[1:-1], at, side="right"))

    def on(self, at: Array) -> tuple[Array, Array]:
        """Return values and slopes at places (…,), each of their shape."""
        piece = self.piece(at)
        return self.values[piece] + self.slopes[piece] * (at - self.knots[piece]), self.slopes[piece]
