"""Every arrangement: solved through its travel, standing as drawn, without a fault, and the same by other routes."""

import json
import unittest
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from engine.document.read import check_project
from engine.findings.judge import judge
from engine.layouts.catalogue import LAYOUTS, LayoutDoesNotFit, NoSuchLayout, layout_named, starting_project
from engine.layouts.layout import Brief
from engine.results.result_file import solve_project
from engine.results.whole import work_project
from engine.station.solved import mover_of, solve_station
from engine.tests import samples

EXAMPLES = Path(__file__).parents[3] / "docs" / "examples"
ALLOWED = {"over_constrained"}  # parallel links with a lateral link say so: that is what they are


def stations() -> dict[str, samples.Values]:
    return {layout.name: starting_project(layout)["stations"][0] for layout in LAYOUTS}


class EveryLayout(unittest.TestCase):
    def test_it_stands_as_drawn_and_nothing_is_wrong_with_it(self) -> None:
        for layout in LAYOUTS:
            with self.subTest(layout.name):
                worked = work_project(check_project(starting_project(layout)))
                for station in worked.stations:
                    solved = station.work.solved
                    assert solved.ride is not None, solved.ride_fault
                    self.assertAlmostEqual(solved.ride.travel, 0, delta=0.5)
                    self.assertTrue(solved.reached.all())
                    wrong = [
                        str(f.what) for f in station.findings if f.mark != "good" and f.code not in ALLOWED
                    ]
                    self.assertEqual(wrong, [])

    def test_nothing_lies_under_the_floor(self) -> None:
        for name, values in stations().items():
            lowest = min(values["points"].items(), key=lambda item: item[1][2])
            self.assertGreater(lowest[1][2], 60, f"{name}: {lowest[0]}")

    def test_every_point_says_how_it_is_measured(self) -> None:
        for name, values in stations().items():
            with self.subTest(name):
                self.assertEqual(set(values["hints"]), set(values["points"]))
                self.assertTrue(all(len(hint) > 12 for hint in values["hints"].values()))

    def test_energy_balances(self) -> None:
        for name, values in stations().items():
            with self.subTest(name):
                # Shared air has no law by one length alone; each bag by itself has.
                alone = values | {"tanks": [], "other_side": "alone"}
                travels = np.linspace(-30, 30, 201)
                mover = mover_of(samples.station(alone), travels=travels)
                rows, springing = mover.along, mover.springing
                weights = np.ones(201)
                weights[1:-1:2], weights[2:-1:2] = 4, 2
                at_wheel = float((rows.wheel_force * weights).sum()) * (travels[1] - travels[0]) / 3
                in_units = 0.0
                for law in springing.laws:
                    trace = rows.units[law.name]
                    lengths = np.linspace(trace.length[0], trace.length[-1], 20001)
                    in_units -= float(np.trapezoid(law.at(lengths)[0], lengths))
                self.assertAlmostEqual(at_wheel * springing.wheels / in_units, 1, delta=2e-5)

    def test_the_other_side_is_its_mirror_and_a_moved_origin_changes_nothing(self) -> None:
        for name, values in stations().items():
            plain = {k: v for k, v in values.items() if k not in ("joints", "shafts", "envelopes")}
            with self.subTest(name):
                one = solve_station(samples.station(plain | {"other_side": "alone"}), steps=5)
                for other_values in (samples.mirrored(plain), samples.moved(plain, (900.0, 0.0, 120.0))):
                    other = solve_station(samples.station(other_values | {"other_side": "alone"}), steps=5)
                    np.testing.assert_allclose(
                        one.sweep.wheel_force, other.sweep.wheel_force, rtol=1e-6, atol=1e-3
                    )
                    np.testing.assert_allclose(
                        one.sweep.wheel_rate, other.sweep.wheel_rate, rtol=1e-6, atol=1e-6
                    )

    def test_the_judgements_it_names_are_made_or_need_more_of_the_file(self) -> None:
        known = {
            f.code
            for values in stations().values()
            for f in judge(solve_station(samples.station(values | {"other_side": "alone"})))
        }
        known |= {"across_the_car", "bag_to_anything", "tyre_to_structure", "rod_near_centre", "coil_left"}
        known |= {"damper_compressed", "damper_extended", "bag_min_height", "bag_max_height"}
        for layout in LAYOUTS:
            self.assertLessEqual(set(layout.findings), known, layout.name)


class Sizes(unittest.TestCase):
    @settings(max_examples=30, deadline=None)
    @given(
        st.sampled_from([layout.name for layout in LAYOUTS]),
        st.floats(120, 600),
        st.floats(600, 2400),
        st.floats(10, 250),
        st.floats(10, 250),
        st.floats(60, 2500),
        st.floats(0.8, 3.0),
    )
    def test_any_size_is_drawn_or_refused_in_a_sentence(
        self, name: str, radius: float, track: float, bump: float, droop: float, mass: float, frequency: float
    ) -> None:
        brief = Brief(
            wheel_radius=radius,
            tyre_width=0.6 * radius,
            track=track,
            bump=bump,
            droop=droop,
            corner_mass=mass,
            unsprung_mass=0.15 * mass,
            frequency=frequency,
        )
        try:
            project = check_project(starting_project(layout_named(name), brief))
        except LayoutDoesNotFit as refused:
            self.assertIn("does not go together", str(refused))
            return
        solved = solve_station(project.stations[0])
        self.assertTrue(np.isfinite(solved.sweep.wheel_force[solved.reached]).all())

    def test_a_name_that_is_none(self) -> None:
        with self.assertRaises(NoSuchLayout) as raised:
            layout_named("pushpull")
        self.assertIn("pushrod", str(raised.exception))


class Examples(unittest.TestCase):
    def test_there_is_one_of_each_and_they_are_the_codes_own(self) -> None:
        self.assertEqual({path.stem for path in EXAMPLES.glob("*.json")}, {layout.name for layout in LAYOUTS})
        for layout in LAYOUTS:
            written = json.loads((EXAMPLES / f"{layout.name}.json").read_text())
            made = starting_project(layout)
            for one, other in zip(written["stations"], made["stations"], strict=True):
                self.assertEqual(
                    list(one["points"]), list(other["points"]), "run: python manage.py publish_schemas"
                )
                for point in one["points"]:
                    np.testing.assert_allclose(one["points"][point], other["points"][point], atol=0.11)
                self.assertEqual([u["name"] for u in one["units"]], [u["name"] for u in other["units"]])

    def test_all_of_them_solve_to_finite_numbers(self) -> None:
        for path in sorted(EXAMPLES.glob("*.json")):
            with self.subTest(path.stem):
                text = json.dumps(
                    solve_project(check_project(json.loads(path.read_text())), 11), allow_nan=False
                )
                self.assertIn('"findings"', text)


if __name__ == "__main__":
    unittest.main()
