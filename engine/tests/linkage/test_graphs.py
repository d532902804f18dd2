"""Our two graph algorithms against scipy's."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components

from engine.linkage.graphs import components, matching


@st.composite
def squares(draw: st.DrawFn) -> np.ndarray:
    size = draw(st.integers(1, 9))
    random = np.random.default_rng(draw(st.integers(0, 2**32 - 1)))
    return random.random((size, size)) < draw(st.floats(0.05, 0.6))


class Graphs(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @given(squares())
    def test_components_are_those_of_scipy(self, edges: np.ndarray) -> None:
        ours = components([frozenset(np.flatnonzero(row).tolist()) for row in edges])
        theirs = connected_components(csr_matrix(edges), directed=True, connection="strong")[1]
        same_ours = np.equal.outer(ours, ours)
        np.testing.assert_array_equal(same_ours, np.equal.outer(theirs, theirs))

    @settings(max_examples=150, deadline=None)
    @given(squares(), st.integers(0, 2**32 - 1))
    def test_every_column_gets_a_row_of_its_own_where_that_can_be(self, edges: np.ndarray, seed: int) -> None:
        # A hidden perfect matching makes sure that there is one.
        hidden = np.random.default_rng(seed).permutation(len(edges))
        edges = edges.copy()
        edges[np.arange(len(edges)), hidden] = True
        owner = matching([frozenset(np.flatnonzero(row).tolist()) for row in edges], len(edges))
        self.assertEqual(sorted(owner), list(range(len(edges))))
        self.assertTrue(all(edges[row, column] for column, row in enumerate(owner)))


if __name__ == "__main__":
    unittest.main()
