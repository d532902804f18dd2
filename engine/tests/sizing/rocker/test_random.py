"""Random rockers, drawn into a station and solved by the general solver, against the closed form."""

import copy
import unittest

import numpy as np
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from engine.document.mirror import mirrored_station
from engine.errors import EngineError
from engine.layouts.catalogue import layout_named, starting_project
from engine.sizing.rocker.candidates import as_drawn, far_places, limits_of, rockers_from
from engine.sizing.rocker.moving import move
from engine.sizing.rocker.refine import station_with
from engine.sizing.rocker.scores import changes, misses_of, past_centre, scores_of, traits_of
from engine.sizing.rocker.search import looked_at, search_part
from engine.sizing.rocker.targets import KeepOut
from engine.sizing.rocker.wheel_side import wheel_side_of
from engine.station.solved import solve_station
from engine.tests import samples
from engine.tests.sizing.rocker.test_moving import room_of, solved

SHARES = st.lists(st.floats(0.02, 0.98), min_size=9, max_size=9)
CALM = settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))


class Drawn(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.now = {name: solved(name) for name in ("pushrod", "pullrod", "axle-cantilever")}

    def check(self, name: str, shares: list[float], in_line: bool) -> None:
        now = self.now[name]
        side = wheel_side_of(now)
        targets = room_of(side, ratio=0.6, in_line=in_line)
        low, high = limits_of(targets)
        rockers = rockers_from((low + np.array(shares) * (high - low))[None], side, targets)
        moved = move(rockers, side.path, side.rate)
        assume(bool(moved.reached[0]) and not bool(past_centre(moved)[0]))
        assume(float(rockers.damper_arm[0]) < 400)
        try:
            station, _ = station_with(now, side, rockers)
            again = solve_station(station)
        except EngineError as error:
            self.fail(f"the general solver refuses what the closed form takes: {error}")
        self.assertTrue(again.reached.all())
        trace = again.at(side.travels).units[side.here.unit]
        # Points of the file are written to a tenth of a micron: what is left is that.
        np.testing.assert_allclose(trace.length, moved.length[0], atol=5e-3)
        np.testing.assert_allclose(trace.motion_ratio, moved.ratio[0], atol=2e-4)

    @CALM
    @given(SHARES, st.booleans())
    def test_a_pushrods(self, shares: list[float], in_line: bool) -> None:
        self.check("pushrod", shares, in_line)

    @CALM
    @given(SHARES, st.booleans())
    def test_a_pullrods(self, shares: list[float], in_line: bool) -> None:
        self.check("pullrod", shares, in_line)

    @CALM
    @given(SHARES, st.booleans())
    def test_an_axles(self, shares: list[float], in_line: bool) -> None:
        self.check("axle-cantilever", shares, in_line)


class Scores(unittest.TestCase):
    def test_a_miss_of_nothing_is_met_and_every_miss_counts(self) -> None:
        met = {"ratio": np.zeros(3), "change": np.array([0.0, 2.0, np.nan])}
        reached, past = np.array([True, True, True]), np.array([False, False, False])
        score = scores_of(met, reached, past)
        self.assertEqual(score[0], 0.0)
        self.assertEqual(score[1], 4.0)
        self.assertEqual(score[2], 3600.0)
        self.assertTrue(np.isinf(scores_of(met, ~reached, past)).all())
        self.assertTrue(np.isinf(scores_of(met, reached, ~past)).all())

    def test_the_drawn_rocker_misses_nothing_of_what_it_does(self) -> None:
        side = wheel_side_of(solved("pushrod"))
        rockers = as_drawn(side)
        moved = move(rockers, side.path, side.rate)
        ratio, change = float(moved.ratio[0, side.ride]), float(changes(moved)[0])
        targets = room_of(side, ratio=ratio, change=change, straight=False).replaced(
            rod_arm=(20.0, 200.0), damper_arm=(20.0, 200.0), joints_apart=0.0
        )
        misses = misses_of(rockers, moved, side, targets)
        for name in ("ratio", "change", "rod_angle", "damper_angle", "damper_left", "damper_arm", "far_room"):
            self.assertLess(abs(float(misses[name][0])), 0.1, name)

    def test_traits_are_what_they_say(self) -> None:
        now = solved("pushrod")
        side = wheel_side_of(now)
        rockers = as_drawn(side)
        moved = move(rockers, side.path, side.rate)
        traits = {name: float(values[0]) for name, values in traits_of(rockers, moved, side).items()}
        lengths = now.at(side.travels).units["coilover"].length
        self.assertAlmostEqual(traits["stroke"], float(np.ptp(lengths)), places=6)
        unit = now.station.units[0]
        left = min(float(lengths.min()) - unit.compressed, unit.extended - float(lengths.max()))  # type: ignore[union-attr]
        self.assertAlmostEqual(traits["damper_left"], left, places=6)
        arms = [float(np.linalg.norm(end - side.pivot)) for end in (side.joint, side.eye)]
        self.assertAlmostEqual(traits["size"], sum(arms), places=3)

    def test_going_past_centre_is_seen(self) -> None:
        side = wheel_side_of(solved("pushrod"))
        targets = room_of(side, ratio=0.6)
        low, high = limits_of(targets)
        numbers = np.random.default_rng(11).uniform(low, high, (3000, 9))
        numbers[:, 4] = 45.0
        rockers = rockers_from(numbers, side, targets)
        moved = move(rockers, side.path, side.rate)
        past, reached = past_centre(moved), moved.reached
        rod = np.degrees(np.arccos(np.clip(moved.rod_cosine, -1, 1)))
        damper = np.degrees(np.arccos(np.clip(moved.damper_cosine, -1, 1)))
        worst = np.minimum(
            np.minimum(rod, 180 - rod).min(axis=1), np.minimum(damper, 180 - damper).min(axis=1)
        )
        self.assertTrue((worst[reached & ~past] >= 25 - 1e-9).all())
        self.assertTrue((past | (worst >= 25) | ~reached).all())


class TheOtherSide(unittest.TestCase):
    def test_mirrored_rockers_do_the_same(self) -> None:
        values = copy.deepcopy(starting_project(layout_named("pushrod"))["stations"][0])
        here = wheel_side_of(solve_station(samples.station(values)))
        there = wheel_side_of(solve_station(samples.station(mirrored_station(values, "right"))))
        one, other = (move(as_drawn(side), side.path, side.rate) for side in (here, there))
        np.testing.assert_allclose(one.ratio, other.ratio, atol=1e-9)
        np.testing.assert_allclose(one.length, other.length, atol=1e-7)
        np.testing.assert_allclose(
            far_places(as_drawn(here)), far_places(as_drawn(there)) * [1, -1, 1], atol=1e-6
        )

    def test_a_search_finds_as_good_on_either_side(self) -> None:
        values = copy.deepcopy(starting_project(layout_named("pushrod"))["stations"][0])
        best = []
        for its in (values, mirrored_station(values, "right")):
            side = wheel_side_of(solve_station(samples.station(its)))
            found, fit = search_part(side, room_of(side, ratio=0.7, change=0.02), 0, 2048)
            self.assertGreater(fit, 100)
            best.append(float(found.score[0]))
        self.assertLess(max(best), 60)


class Envelopes(unittest.TestCase):
    def test_looking_at_the_room_agrees_with_walking_along_every_part(self) -> None:
        side = wheel_side_of(solved("pushrod"))
        plain = room_of(side, ratio=0.7)
        low, high = limits_of(plain)
        numbers = np.random.default_rng(2).uniform(low, high, (300, 9))
        rail = KeepOut(
            name="rail",
            centre=side.pivot + np.array([0, -60, 90]),
            axes=np.eye(3),
            half=np.array([300.0, 25, 25]),
            radius=5.0,
        )
        found = looked_at(numbers, side, plain.replaced(keep_outs=(rail,)))
        for k in range(0, len(found.score), 25):
            pivot, joint, eye, far = found.spots[k].reshape(4, 3)
            nearest = np.inf
            for one, other, radius in ((pivot, joint, 10.0), (pivot, eye, 10.0), (eye, far, 38.0)):
                walk = one + np.linspace(0, 1, 400)[:, None] * (other - one)
                nearest = min(nearest, float(rail.distance(walk).min()) - radius)
            if float(found.misses["keep_outs"][k]) <= 0:
                # Looked at in seven places along each part: between them it may be a little nearer.
                self.assertGreater(nearest, -25.0)


if __name__ == "__main__":
    unittest.main()
