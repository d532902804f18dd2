"""An axle on a link too many: in heave its bushings give, and it rises level instead of rolling on rigid links."""

import copy
import unittest

import numpy as np

from engine.layouts.catalogue import layout_named, starting_project
from engine.linkage.forced import forced_articulation
from engine.linkage.linkage import Linkage
from engine.tests import samples

TRAVELS = np.array([-60.0, -30.0, 0.0, 30.0, 60.0])


def splayed(by_mm: float) -> Linkage:
    values = copy.deepcopy(starting_project(layout_named("axle-four-link-lateral"))["stations"][0])
    for name, spot in values["points"].items():
        if "upper" in name and name in values["chassis"]:
            spot[1] -= np.sign(spot[1]) * by_mm
    return Linkage(samples.station(values))


class Heave(unittest.TestCase):
    def test_it_rises_level_whatever_the_splay(self) -> None:
        for by_mm in (0.0, 1.0, 20.0, 60.0):
            linkage = splayed(by_mm)
            self.assertTrue(linkage.assembly.over_constrained)
            self.assertIsNone(linkage.articulation())
            path = linkage.follow(TRAVELS)
            self.assertTrue(path.reached.all())
            heights = path.solution.motion.place[2, list(linkage.topology.wheels)]
            np.testing.assert_allclose(np.ptp(heights, axis=0), np.ptp(heights[:, 2]), atol=1e-8)

    def test_it_stands_where_least_squares_put_it(self) -> None:
        linkage = splayed(20.0)
        place = linkage.follow(TRAVELS).solution.motion.place
        for k, travel in enumerate(TRAVELS):
            fit = forced_articulation(linkage, 0.0, float(travel))
            self.assertLess(np.abs(fit.place - place[:, :, k]).max(), 0.002)
            self.assertLess(max(fit.gives.values()), 0.06)

    def test_what_opens_is_what_each_bushing_gives(self) -> None:
        linkage = splayed(20.0)
        opened, body = linkage.mismatch_mm(linkage.follow(TRAVELS))
        shared = forced_articulation(linkage, 0.0, -60.0).gives
        self.assertAlmostEqual(opened, max(shared.values()), places=3)
        self.assertIn("link", body)

    def test_links_that_agree_open_nothing(self) -> None:
        linkage = splayed(0.0)
        self.assertLess(linkage.mismatch_mm(linkage.follow(TRAVELS))[0], 1e-6)
