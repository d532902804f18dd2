"""The compiled gaps and slopes of every kind of linkage, against numpy's products and against differences."""

import unittest

import numpy as np

from engine.document.read import check_project
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.linkage.geometry import geometry_of
from engine.linkage.kernel import Kernel
from engine.linkage.linkage import Linkage
from engine.linkage.solver import Solver
from engine.linkage.vectors import Array
from engine.tests.linkage.test_equations import opened

STEP = 1e-5


def linkages() -> list[tuple[str, Linkage]]:
    """Return every layout's linkage."""
    return [(its.name, Linkage(check_project(starting_project(its)).stations[0])) for its in LAYOUTS]


def moved(linkage: Linkage) -> tuple[Array, Array]:
    """Return unknowns a little off where they are drawn, and the points there with all blocks in place."""
    off = np.random.default_rng(8).uniform(-1, 1, (linkage.topology.unknowns, 1))
    first = len(linkage.topology.turns)
    off[:first] *= 0.02
    unknowns = linkage.solver.drawn_unknowns() + off
    points = linkage.solver.geometry.drawn.copy()
    for number in range(len(linkage.solver.blocks)):
        linkage.solver.kernel(number).place(unknowns, points)
    return unknowns, points


class EveryLayout(unittest.TestCase):
    def test_gaps_are_what_the_rows_say(self) -> None:
        for name, linkage in linkages():
            unknowns, points = moved(linkage)
            targets = np.full((linkage.assembly.drivers, 1), 3.0)
            for number, block in enumerate(linkage.solver.blocks):
                with self.subTest(layout=name, block=number):
                    told = linkage.solver.kernel(number).residual(points, targets)[:, 0]
                    geometry = linkage.solver.geometry
                    for gap, (equation, component) in zip(told, block.conditions, strict=True):
                        its = linkage.assembly.equations[equation]
                        row = its.written(geometry.drawn, geometry.length(equation))[component]
                        self.assertAlmostEqual(gap, opened(row, points[:, :, 0].T, 3.0), 9)
            self.assertEqual(unknowns.shape[0], linkage.topology.unknowns)

    def test_slopes_are_the_differences_of_the_gaps(self) -> None:
        for name, linkage in linkages():
            unknowns, points = moved(linkage)
            targets = np.zeros((linkage.assembly.drivers, 1))

            def gaps(
                kernel: Kernel, values: Array, points: Array = points, targets: Array = targets
            ) -> Array:
                there = points.copy()
                kernel.place(values, there)
                return kernel.residual(there, targets)[:, 0]

            for number, block in enumerate(linkage.solver.blocks):
                with self.subTest(layout=name, block=number):
                    kernel = linkage.solver.kernel(number)
                    told = kernel.jacobian(unknowns, points)[0]
                    for place, column in enumerate(block.columns):
                        step = np.zeros_like(unknowns)
                        step[column] = STEP
                        found = (gaps(kernel, unknowns + step) - gaps(kernel, unknowns - step)) / (2 * STEP)
                        np.testing.assert_allclose(told[:, place], found, rtol=1e-5, atol=1e-4)

    def test_links_set_to_many_lengths_on_one_drawing_are_each_what_one_alone_is(self) -> None:
        name, linkage = next(item for item in linkages() if item[0] == "pushrod")
        link = next(body for body, members in linkage.bodies.items() if len(members) == 2)
        drawn = linkage._drawn_length(link)
        lengths, heave = drawn + np.array([-1.5, 0.0, 2.0]), np.array([0.0, 5.0, -8.0])
        near = linkage.follow(np.sort(heave)).solution.pick(np.argsort(np.argsort(heave)))
        together = linkage.with_links(near, heave, {link: lengths})
        self.assertTrue(together.closed.all(), name)
        for k in range(3):
            alone = linkage.with_links(near.pick([k]), heave[[k]], {link: lengths[[k]]})
            np.testing.assert_allclose(together.motion.place[:, :, k], alone.motion.place[:, :, 0], atol=1e-9)
            np.testing.assert_allclose(together.first[:, k], alone.first[:, 0], atol=1e-9)

    def test_links_set_anew_on_a_solver_are_those_of_one_made_for_them(self) -> None:
        tried = 0
        for name, linkage in linkages():
            links = [body for body, members in linkage.bodies.items() if len(members) == 2]
            near = linkage.follow(np.array([-2.0, 0.0, 2.0])).solution
            targets = np.tile([-2.0, 0.0, 2.0], (linkage.assembly.drivers, 1))
            for link in links:
                with self.subTest(layout=name, link=link):
                    set_to = {link: linkage._drawn_length(link) + np.array([-0.5, 0.0, 1.0])}
                    drawing = geometry_of(linkage.topology, linkage.points[None], set_to)
                    fresh = Solver(linkage.assembly, drawing).solve(near.unknowns, targets, linkage.heave())
                    anew = linkage.solver.relinked(set_to).solve(near.unknowns, targets, linkage.heave())
                    np.testing.assert_array_equal(anew.motion.place, fresh.motion.place)
                    np.testing.assert_array_equal(anew.second, fresh.second)
                    np.testing.assert_array_equal(anew.closed, fresh.closed)
                    tried += 1
        self.assertGreater(tried, 10)

    def test_whole_millimetres_are_numbers_like_any_other(self) -> None:
        """The compiled loops take only floats: who gives whole numbers gets the same, not a refusal."""
        linkage = next(its for name, its in linkages() if name == "pushrod")
        near = linkage.follow(np.array([0.0])).solution
        told = linkage.with_links(near, np.array([3]), {})
        np.testing.assert_array_equal(
            told.motion.place, linkage.with_links(near, np.array([3.0]), {}).motion.place
        )
        kernel, points = linkage.solver.kernel(0), linkage.solver.geometry.drawn
        whole = kernel.residual(points, np.array([[2]]))
        np.testing.assert_array_equal(whole, kernel.residual(points, np.array([[2.0]])))


if __name__ == "__main__":
    unittest.main()
