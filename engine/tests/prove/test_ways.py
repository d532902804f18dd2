"""Which way a thing is turned: by the helix itself, and by what the station becomes when it is turned so."""

import unittest

import numpy as np

from engine.document.read import check_project
from engine.findings.judge import judge
from engine.layouts.catalogue import layout_named, starting_project
from engine.prove.ways import way_of
from engine.ride.setting import Means, means_of, settings_for, weight_n, with_setting
from engine.station.solved import solve_station
from engine.tests import samples


def clockwise_makes_longer(hands: tuple[str, str], pitch: float = 1.25) -> bool:
    """Return whether a tube turned clockwise, seen from its right-hand end, pushes its ends apart.

    A right-hand screw that turns by +θ about an axis within what holds it still goes +pitch·θ/2π along that axis; a
    left-hand one as much the other way. Here the tube turns and the ends stand still.
    """
    places = np.array([[0.0, 0.0, 0.0], [300.0, 40.0, -80.0]])
    seen_from = hands.index("right")
    away = places[1 - seen_from] - places[seen_from]
    away /= np.linalg.norm(away)
    turned = 1.0  # about `away`, clockwise to whoever looks along it
    moved = []
    for hand in hands:
        sense = 1.0 if hand == "right" else -1.0
        moved.append(away * (sense * pitch * -turned / (2 * np.pi)))  # the end turns by −θ within the tube
    before = np.linalg.norm(places[1] - places[0])
    after = np.linalg.norm((places[1] + moved[1]) - (places[0] + moved[0]))
    return bool(after > before)


class Ways(unittest.TestCase):
    def test_a_rod_by_its_helix(self) -> None:
        for hands in (("right", "left"), ("left", "right")):
            values = starting_project(layout_named("pushrod"))["stations"][0]
            values["rods"]["rod"]["hands"] = list(hands)
            station = samples.station(values)
            means = next(one for one in means_of(solve_station(station)) if one.by == "rod")
            end = station.bodies["rod"][hands.index("right")]
            longer = way_of(station, means, 3.0)
            self.assertEqual("anticlockwise" not in str(longer), clockwise_makes_longer(hands))
            self.assertTrue(str(longer).startswith("Longer"))
            self.assertEqual(longer.names, (end,))
            self.assertIn("Shorter: turn its tube anticlockwise", str(way_of(station, means, -3.0)))

    def test_a_perch_toward_its_spring_is_more_preload_and_stands_higher(self) -> None:
        solved = solve_station(check_project(starting_project(layout_named("wishbones-lower"))).stations[0])
        means = next(one for one in means_of(solved) if one.by == "perch")
        self.assertIn("Toward the spring: more preload", str(way_of(solved.station, means, 5.0)))
        again = solve_station(with_setting(solved.station, means, means.now + 5.0))
        assert again.ride is not None and solved.ride is not None
        self.assertLess(again.ride.travel, solved.ride.travel)  # the wheel further down: it stands higher

    def test_what_has_no_hands_is_only_longer(self) -> None:
        station = samples.station(starting_project(layout_named("trailing-arm"))["stations"][0])
        rod = Means(by="rod", subjects=("nobody",), now=400.0, least=None, most=None)
        self.assertEqual(str(way_of(station, rod, -1.0)), "Shorter")
        bag = Means(by="pressure", subjects=("bag",), now=4.0, least=None, most=None)
        self.assertEqual(str(way_of(station, bag, 0.3)), "Put air in")


class SetForTheFinishedMass(unittest.TestCase):
    def test_todays_height_is_no_fault_of_what_is_set_for_the_finished_one(self) -> None:
        values = starting_project(layout_named("wishbones-lower"))["stations"][0]
        values["mass"] = {**values["mass"], "finished": values["mass"]["corner"] + 60.0}
        solved = solve_station(samples.station(values))
        means = next(one for one in means_of(solved) if one.by == "perch")
        (setting,) = settings_for(
            solved, means, [(0.0, weight_n(solved.station, values["mass"]["finished"]))]
        )
        assert setting is not None
        for_later = with_setting(solved.station, means, setting)
        today, later = (
            next(f for f in judge(solve_station(one)) if f.kind.code == "stands_off")
            for one in (solved.station, for_later)
        )
        loaded = for_later.mass.model_copy(update={"corner": values["mass"]["finished"]})
        late = solve_station(for_later.model_copy(update={"mass": loaded}))
        assert late.ride is not None
        self.assertLess(
            abs(late.ride.travel), 6.0
        )  # a second route: with that mass on it, it stands as wanted
        self.assertEqual(later.mark, "good")
        self.assertIn("once it has its finished mass", str(later.what))
        self.assertNotIn("finished", str(today.what))


if __name__ == "__main__":
    unittest.main()
