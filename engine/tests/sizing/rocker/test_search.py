"""What a search finds is proved by the general solver; known answers are found; what cannot be is said."""

import unittest

import numpy as np
from scipy.optimize import least_squares
from scipy.stats import qmc

from engine.budget import Budget
from engine.document.read import check_project
from engine.findings import kinds
from engine.findings.finding import RULES, Finding
from engine.sentences import Sentence
from engine.sizing.rocker.candidates import Choice, limits_of, rockers_from
from engine.sizing.rocker.moving import move
from engine.sizing.rocker.refine import Proved, refine, unmet
from engine.sizing.rocker.scores import misses_of
from engine.sizing.rocker.search import SEED, Found, _apart, different, looked_at, search_part
from engine.sizing.rocker.targets import KeepOut, Targets
from engine.sizing.rocker.tuning import tune
from engine.sizing.rocker.wheel_side import WheelSide, wheel_side_of
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples
from engine.tests.sizing.rocker.test_moving import WITH_ROCKERS, room_of, solved
from engine.workup import WorkUp

COUNT = 4096
TOUCHING = Finding(kind=kinds.ACROSS_THE_CAR, mark="fault", what=Sentence("They touch."))


def short_list(
    now: SolvedStation, side: WheelSide, targets: Targets, parts: int = 2
) -> tuple[list[Proved], Found]:
    found = [search_part(side, targets, part, COUNT)[0] for part in range(parts)]
    best = min(found, key=lambda one: float(one.score[0]) if len(one.score) else np.inf)
    return refine(now, side, targets, best.choices, RULES)[0], best


class ReallyDifferent(unittest.TestCase):
    def test_kept_is_what_stands_more_than_one_from_all_kept_before_it_and_nothing_else(self) -> None:
        marks = np.random.default_rng(6).uniform(0, 5, (400, 4))
        marks[17] = np.nan  # nothing is told of it: it is like no other
        for before in ([], [33, 2]):
            kept = _apart(marks, 400, list(before))
            self.assertEqual(kept[: len(before)], before)
            for k in range(len(marks)):
                earlier = [q for q in kept if q < k or q in before]
                near = bool((np.abs(marks[earlier] - marks[k]).max(axis=1) <= 1).any()) if earlier else False
                self.assertEqual(k in kept, k in before or not near)
        self.assertEqual(len(_apart(marks, 5, [])), 5)
        self.assertEqual(_apart(marks[:0], 5, []), [])


class Proved(unittest.TestCase):
    def test_every_arrangement_with_a_rocker_gets_what_was_asked(self) -> None:
        for name in WITH_ROCKERS:
            now = solved(name)
            side = wheel_side_of(now)
            ride = now.at_ride
            assert ride is not None
            ratio = round(float(ride.units[side.here.unit].motion_ratio[0]), 2)
            targets = room_of(side, ratio=ratio, change=0.06, damper_angle=None)
            solutions, _ = short_list(now, side, targets)
            self.assertTrue(solutions, name)
            for one in solutions:
                # By the general solver, from the station as it would be saved.
                again = solve_station(
                    check_project(samples.document(one.station.model_dump(exclude_unset=True))).stations[0]
                )
                rows = again.at(side.travels)
                trace = rows.units[side.here.unit].motion_ratio
                self.assertTrue(again.reached.all(), name)
                self.assertAlmostEqual(float(trace[side.ride]), ratio, delta=0.004 * ratio)
                self.assertAlmostEqual(float(trace[-1] / trace[0] - 1), 0.06, delta=0.014)
                np.testing.assert_allclose(one.ratio, trace, atol=1e-6)
                self.assertLess(one.apart, 1e-4)

    def test_what_touches_across_the_car_comes_last(self) -> None:
        now = solved("pushrod")
        side = wheel_side_of(now)
        targets = room_of(side, ratio=0.7, change=None, damper_angle=None)
        found = search_part(side, targets, 0, COUNT)[0].choices
        first = refine(now, side, targets, found, RULES)[0]
        best = first[0].points

        def touches(work: WorkUp) -> list[Finding]:
            here = {name: work.station.points[name] for name in best}
            return [TOUCHING] if here == best else []

        again = refine(now, side, targets, found, RULES, beside=touches)[0]
        self.assertEqual(len(again), len(first))
        self.assertNotEqual(again[0].points, best)
        worse = next(one for one in again if one.points == best)
        self.assertEqual(worse.faults, first[0].faults + 1)
        self.assertIn(TOUCHING, worse.findings)

    def test_the_wheel_rate_and_the_stroke_can_be_asked_for_instead(self) -> None:
        now = solved("pushrod")
        side = wheel_side_of(now)
        for more in ({"wheel_rate": 24.0}, {"stroke": 88.0}):
            targets = room_of(side, change=0.03, damper_angle=None, **more)
            best = short_list(now, side, targets)[0][0]
            again = solve_station(best.station)
            if "stroke" in more:
                used = float(np.ptp(again.at(side.travels).units["coilover"].length))
                self.assertAlmostEqual(used, 88.0, delta=0.9)
            else:
                rows = again.at(side.travels[side.ride : side.ride + 1])
                trace = rows.units["coilover"]
                assert side.spring_n_per_mm is not None
                ratio, slope = float(trace.motion_ratio[0]), float(trace.ratio_slope[0])
                rate = ratio**2 * side.spring_n_per_mm + side.weight_n / ratio * slope
                self.assertAlmostEqual(rate, 24.0, delta=0.5)

    def test_an_axles_other_side_is_the_mirror_image(self) -> None:
        now = solved("axle-cantilever")
        side = wheel_side_of(now)
        best = short_list(now, side, room_of(side, ratio=0.55, change=None, damper_angle=None))[0][0]
        for name, place in best.points.items():
            other = name.replace("left", "right") if "left" in name else name.replace("right", "left")
            if other in best.points and "pivot" not in name:
                np.testing.assert_allclose(best.points[other], [place[0], -place[1], place[2]], atol=1e-3)


class Known(unittest.TestCase):
    def test_the_rocker_that_is_drawn_is_found_again(self) -> None:
        now = solved("pushrod")
        side = wheel_side_of(now)
        trace = now.at(side.travels).units["coilover"].motion_ratio
        still = {"corner": side.pivot, "edges": np.zeros((3, 3)), "joints_apart": 20.0, "straight": False}
        targets = room_of(
            side, ratio=float(trace[side.ride]), change=float(trace[-1] / trace[0] - 1)
        ).replaced(**still)
        found = search_part(side, targets, 0, COUNT)[0]
        arms = tune(found.choices[:6], side, targets, heavy="change")[:, Choice.ROD_ARM]
        drawn = float(np.linalg.norm(side.joint - side.pivot))
        self.assertLess(float(np.abs(arms - drawn).min()), 0.5)

    def test_what_cannot_be_is_named_with_the_nearest_that_can(self) -> None:
        now = solved("pushrod")
        side = wheel_side_of(now)
        targets = room_of(side, ratio=2.4, change=0.0)
        solutions, found = short_list(now, side, targets)
        missed = {one.target: one.nearest for one in unmet(side, targets, found.choices, solutions)}
        self.assertTrue(missed)
        self.assertTrue(set(missed) & {"damper_arm", "damper_left", "far_room", "reach"}, missed)
        # A change far beyond what arms of one length can give: how near it comes is said, and is nearer than none.
        narrow = room_of(side, ratio=0.74, change=0.9, damper_angle=90.0).replaced(rod_arm=(70.0, 72.0))
        solutions, found = short_list(now, side, narrow)
        one = next(one for one in unmet(side, narrow, found.choices, solutions) if one.target == "change")
        assert one.nearest is not None
        self.assertLess(abs(one.nearest - 0.9), 0.9)
        # Either it stays short, or it is said what else has to give for it.
        self.assertTrue(one.gives or abs(one.nearest - 0.9) > 0.012)


class Shortcuts(unittest.TestCase):
    """What is left out for speed would not have been found either."""

    def test_the_best_are_those_of_looking_at_every_rocker_in_every_position(self) -> None:
        for name in WITH_ROCKERS:
            side = wheel_side_of(solved(name))
            for asked in (
                {"ratio": 0.7, "change": 0.05},
                {"stroke": 60.0, "school": "even"},
                {"ratio": 0.6, "in_line": True},
            ):
                targets = room_of(side, **asked)
                low, high = limits_of(targets)
                spread = qmc.Sobol(len(Choice), scramble=True, rng=SEED).random(COUNT)
                every = looked_at(low + spread * (high - low), side, targets)
                found, _ = search_part(side, targets, 0, COUNT)
                best = different(every, 12)
                np.testing.assert_allclose(found.score[: len(best.score)], best.score, rtol=1e-9)

    def test_many_tuned_at_once_come_as_near_as_each_alone_by_the_library(self) -> None:
        for name in WITH_ROCKERS:
            side = wheel_side_of(solved(name))
            targets = room_of(side, ratio=0.7, change=0.05)
            rows = different(search_part(side, targets, 0, COUNT)[0], 8).choices
            ours = looked_at(tune(rows, side, targets), side, targets).score
            theirs = looked_at(np.array([alone(row, side, targets) for row in rows]), side, targets).score
            self.assertLess(float(ours[0]), 1.02 * float(theirs[0]) + 0.05, name)
            self.assertLess(float(np.median(ours)), 1.1 * float(np.median(theirs)) + 0.1, name)


def alone(row: np.ndarray, side: WheelSide, targets: Targets) -> np.ndarray:
    """Return one row brought to where its misses are least by scipy's trust region, the rod arm kept."""
    low, high = limits_of(targets)
    free = np.array([k for k in Choice if high[k] > low[k] and k not in (Choice.SIDE, Choice.ROD_ARM)])
    free = np.array([k for k in free if k > Choice.PLACE_3 or np.abs(targets.edges[k]).max() > 0])

    def whole(shares: np.ndarray) -> np.ndarray:
        its = row.copy()
        its[free] = low[free] + shares * (high - low)[free]
        return its

    def misses(shares: np.ndarray) -> np.ndarray:
        rockers = rockers_from(whole(shares)[None], side, targets)
        named = misses_of(rockers, move(rockers, side.path, side.rate), side, targets)
        return np.nan_to_num(np.array([float(miss[0]) for miss in named.values()]), nan=60.0)

    start = np.clip((row[free] - low[free]) / (high - low)[free], 1e-6, 1 - 1e-6)
    return whole(least_squares(misses, start, bounds=(0.0, 1.0), max_nfev=200).x)


class Room(unittest.TestCase):
    def test_a_keep_out_is_kept_out_of(self) -> None:
        now = solved("pushrod")
        side = wheel_side_of(now)
        free, _ = short_list(now, side, room_of(side, ratio=0.74))
        far = np.array(free[0].points[side.here.far])
        block = KeepOut(name="block", centre=far, axes=np.eye(3), half=np.full(3, 60.0), radius=0.0)
        targets = room_of(side, ratio=0.74, keep_outs=(block,))
        found, _ = search_part(side, targets, 0, COUNT)
        for row in range(min(5, len(found.score))):
            if abs(float(found.misses["keep_outs"][row])) <= 0:
                self.assertGreater(float(block.distance(found.spots[row, 9:])), 0)
        self.assertLess(float(found.misses["keep_outs"].min()), 0.5)

    def test_the_pivot_stays_on_its_tube(self) -> None:
        now = solved("pushrod")
        side = wheel_side_of(now)
        edges = np.zeros((3, 3))
        edges[0] = [0.0, 60.0, 0.0]
        targets = room_of(side, ratio=0.74, damper_angle=None).replaced(
            corner=side.pivot - [0, 30, 0], edges=edges
        )
        found, fit = search_part(side, targets, 0, COUNT)
        self.assertGreater(fit, 100)
        np.testing.assert_allclose(
            found.spots[:, [0, 2]], np.tile(side.pivot[[0, 2]], (len(found.score), 1)), atol=1e-9
        )


class Parts(unittest.TestCase):
    def test_parts_are_searches_of_their_own_and_do_not_repeat(self) -> None:
        side = wheel_side_of(solved("pushrod"))
        targets = room_of(side, ratio=0.74)
        one, other = (search_part(side, targets, part, COUNT)[0] for part in (0, 1))
        self.assertFalse(set(map(tuple, one.choices.round(9))) & set(map(tuple, other.choices.round(9))))
        self.assertEqual(list(one.score), sorted(one.score))

    def test_a_stopped_searchs_best_can_be_taken(self) -> None:
        now = solved("pullrod")
        side = wheel_side_of(now)
        targets = room_of(side, ratio=0.62, damper_angle=None)
        found, _ = search_part(side, targets, 5, 512)
        kept, left = refine(now, side, targets, found.choices, RULES)
        self.assertTrue(kept)
        self.assertEqual(left, 0)
        one, more = refine(now, side, targets, found.choices, RULES, Budget(0.0))
        self.assertEqual(len(one), 1)
        self.assertGreaterEqual(more, len(kept) - 1)

    def test_the_short_list_holds_really_different_ones(self) -> None:
        side = wheel_side_of(solved("five-link"))
        found, _ = search_part(side, room_of(side, ratio=0.7), 0, COUNT)
        again = different(found, 100)
        self.assertEqual(len(again.score), min(len(found.score), 100))
        doubled = Found(
            choices=np.repeat(found.choices, 2, axis=0),
            score=np.repeat(found.score, 2),
            misses={name: np.repeat(values, 2) for name, values in found.misses.items()},
            traits={name: np.repeat(values, 2) for name, values in found.traits.items()},
            spots=np.repeat(found.spots, 2, axis=0),
        )
        self.assertEqual(len(different(doubled, 1000).score), len(found.score))

    def test_robustness_is_what_a_bracket_a_millimetre_off_does(self) -> None:
        now = solved("pushrod")
        side = wheel_side_of(now)
        best = short_list(now, side, room_of(side, ratio=0.74))[0][0]
        at = side.travels[side.ride : side.ride + 1]
        changed = []
        for axis in range(3):
            points = {name: list(place) for name, place in best.station.points.items()}
            points[side.here.far][axis] += 1.0
            again = solve_station(best.station.model_copy(update={"points": points}))
            ratio = float(again.at(at).units["coilover"].motion_ratio[0])
            changed.append(abs(ratio / 0.74 - 1))
        self.assertLessEqual(max(changed), best.robust * 1.1 + 1e-4)
        self.assertGreater(best.robust, 0)


if __name__ == "__main__":
    unittest.main()
