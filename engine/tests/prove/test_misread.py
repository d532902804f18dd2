"""One row of a cycle misread: that row is named and no other, whatever else is crooked; verdict, gate and figures agree."""

import unittest
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.prove.likely import Likely, Read
from engine.prove.misread import misread
from engine.prove.proof import Proof, prove, verdict
from engine.station.solved import solve_station
from engine.tests import samples
from engine.tests.prove.test_prove import cycle


class Named(unittest.TestCase):
    """A second route: cars built crooked at random, jacked and read with the errors of jack and rule."""

    def test_ten_millimetres_in_any_row_of_any_arrangement(self) -> None:
        throw = np.random.default_rng(4)
        clean = named = runs = 0
        for layout in LAYOUTS:
            project = check_project(starting_project(layout))
            solved = solve_station(project.stations[0])
            station = solved.station
            unit = next(
                u.name for u in station.units if u.kind in ("coilover", "damper", "air_spring", "spring")
            )
            for count, crooked in ((7, 0.0), (7, 5.0), (9, 2.0)):
                jacked = np.round(np.linspace(-station.travel.droop, station.travel.bump, count))
                points = {k: np.array(v) + throw.normal(size=3) for k, v in station.points.items()}
                name = list(points)[throw.integers(len(points))]
                points[name] = points[name] + throw.normal(size=3) * crooked
                built = solve_station(
                    station.model_copy(update={"points": {k: v.tolist() for k, v in points.items()}})
                )
                lengths = built.at(jacked + throw.normal(size=count) * 0.7).units[unit].length
                lengths = lengths + throw.normal(size=count) * 0.5
                if not np.isfinite(lengths).all():
                    continue
                wrong = int(throw.integers(count))
                runs += 1
                clean += self.rows(project, solved, unit, jacked, lengths) == ()
                lengths[wrong] += throw.choice([-10.0, 10.0])
                named += self.rows(project, solved, unit, jacked, lengths) == ((wrong,),)
        self.assertGreater(runs, 50)
        self.assertGreaterEqual(clean, 0.98 * runs)
        self.assertGreaterEqual(named, 0.95 * runs)

    def rows(self, project: Any, solved: Any, unit: str, travels: Any, lengths: Any) -> Any:
        reads = [Read(unit, float(z), float(long)) for z, long in zip(travels, lengths, strict=True)]
        its = Likely(project, solved, reads)
        found = misread(its.slopes, its.sigma, its.prior, its.misfit)
        return None if found is None else tuple(one.rows for one in found)

    def test_a_row_left_out_is_what_the_others_make_of_it(self) -> None:
        # Second route: the rest alone, conditioned on by Gauss's own formula.
        throw = np.random.default_rng(8)
        slopes, sigma, prior = throw.normal(size=(8, 5)), np.full(8, 0.6), np.full(5, 1.0)
        misfit = slopes @ throw.normal(size=5) + throw.normal(size=8) * 0.3
        misfit[3] += 40.0
        found = misread(slopes, sigma, prior, misfit)
        assert found is not None
        (one,) = found
        rest = np.delete(np.arange(8), 3)
        whole = (slopes * (6.0 * prior) ** 2) @ slopes.T + np.diag(sigma**2)
        gain = np.linalg.solve(whole[np.ix_(rest, rest)], whole[rest, 3])
        self.assertEqual(one.rows, (3,))
        self.assertAlmostEqual(one.by[0], float(misfit[3] - gain @ misfit[rest]))
        self.assertAlmostEqual(one.sigma[0] ** 2, float(whole[3, 3] - gain @ whole[rest, 3]))

    def test_so_many_that_none_can_be_named(self) -> None:
        throw = np.random.default_rng(2)
        misfit = throw.choice([-25.0, 25.0], size=9) + throw.normal(size=9)
        self.assertIsNone(misread(np.ones((9, 1)) * 0.01, np.full(9, 0.5), np.ones(1), misfit))


class Agreeing(unittest.TestCase):
    def proved(self, *wrong: tuple[int, float]) -> Proof:
        values = samples.arm()
        solved = solve_station(samples.station(values))
        travels = np.linspace(-solved.station.travel.droop, solved.station.travel.bump, 7)
        lengths = solved.at(travels).units["coilover"].length.copy()
        for row, by in wrong:
            lengths[row] += by
        document = samples.document(values)
        document["records"] = [cycle(values["name"], travels, lengths)]
        return prove(check_project(document))

    def test_verdict_figures_and_gate_say_the_same_of_a_row(self) -> None:
        true, odd = self.proved(), self.proved((2, 10.0))
        gate = {one.name: one for one in true.gates}["cycled"]
        self.assertTrue(gate.met)
        (its,) = odd.cycles
        (row,) = its.misread
        self.assertEqual((row.row, row.alone), (3, True))
        self.assertAlmostEqual(row.length - row.others, 10.0, delta=1.5)
        assert its.rms is not None
        self.assertLess(its.rms, 0.5)  # of the rows that count
        self.assertTrue(its.fits)
        self.assertEqual(its.causes, ())
        self.assertIn("Row 3", str(its.said[0]))
        gate = {one.name: one for one in odd.gates}["cycled"]
        self.assertFalse(gate.met)
        self.assertIn("Row 3 of its last cycle", str(gate.say))
        mark, words = verdict(odd)
        self.assertEqual(mark, "warning")
        self.assertIn("row 3 of the cycle of", str(words))

    def test_a_cycle_that_nothing_explains_is_not_called_as_drawn(self) -> None:
        its = self.proved((0, 9.0), (2, -9.0), (3, 8.0), (5, -9.0)).cycles[0]
        self.assertFalse(its.fits)
        self.assertTrue(any("cycle it again" in str(words) for words in its.said))


if __name__ == "__main__":
    unittest.main()
