"""A study against the general solver, against a planted best, and against itself done in another order."""

import copy
import itertools
import json
import unittest
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.document.schema import Coilover, Damper
from engine.errors import DocumentRefused
from engine.forces.units import damper_ends_mm
from engine.ride.spread import spread_of
from engine.station.solved import solve_station
from engine.study.asked import check_study
from engine.study.chunk import MISSES, VEHICLES, done, parts_of
from engine.study.front import merged, score_of, unbeaten
from engine.study.taken import proved, put_in
from engine.tests import samples
from engine.tests.vehicle.test_stance import four_corners

Values = dict[str, Any]
FOUR = ("Front left", "Front right", "Rear left", "Rear right")
RATES = [35.0, 40.0, 45.0, 50.0, 58.0, 65.0, 75.0]


def study(job: Values, names: tuple[str, ...], **wishes: Any) -> Values:
    vary = [
        {
            "station": name,
            "places": [{"points": ["top"], "box": [20, 20, 20]}, {"points": ["eye"], "box": [8, 8, 8]}],
            "springs": RATES,
        }
        for name in names
    ]
    return {"job": job, "vary": vary, "wishes": wishes, "seed": 5}


def two() -> Values:
    """Return a job of two corners, front and rear."""
    front, _, rear, _ = four_corners()["stations"]
    for station in (front, rear):
        station["other_side"] = "mirror"
    return samples.document(front, rear)


def front_of(asked: Values, parts: int = 2, most: int = 60) -> dict[str, np.ndarray]:
    text = json.dumps(asked)
    tables = [{name: np.array(v) for name, v in done(text, k).items()} for k in range(parts)]
    return merged(tables, tuple(f"miss/{name}" for name in MISSES), most)


def rows(front: dict[str, np.ndarray]) -> list[dict[str, float]]:
    return [{name: float(values[k]) for name, values in front.items()} for k in range(len(front["score"]))]


class Vehicles(unittest.TestCase):
    def test_what_a_study_tells_is_what_the_general_solver_says_of_the_job_with_it_in(self) -> None:
        for job, names in (
            (four_corners(), FOUR),
            (samples.document(samples.axle() | {"name": "axle"}), ("axle",)),
            (samples.document(samples.pushrod_corner() | {"name": "corner"}), ("corner",)),
        ):
            asked = study(job, names, frequency=dict.fromkeys(names, 1.7))
            for vary in asked["vary"]:
                station = next(s for s in job["stations"] if s["name"] == vary["station"])
                coil = next(u for u in station["units"] if u["kind"] == "coilover")
                held = next(end for end in coil["ends"] if end in station["chassis"])
                vary["places"] = [{"points": [held], "box": [15, 15, 15]}]
                rate = coil["springs"][0]["rate"]
                vary["springs"] = [0.8 * rate, rate, 1.2 * rate]
            checked, project = check_study(asked)
            for row in rows(front_of(asked, parts=1))[:3]:
                for one in proved(put_in(checked, project, row), list(names)):
                    self.assertEqual(one.refused, "")
                    its = {key: row[f"{one.station}/{key}"] for key in ("frequency", "ratio", "left")}
                    wanted = next(s for s in project.stations if s.name == one.station).travel.at or 0.0
                    self.assertAlmostEqual(one.ride or 0.0, wanted, delta=0.02)
                    self.assertAlmostEqual(one.frequency or 0.0, its["frequency"], delta=2e-3)
                    self.assertAlmostEqual(one.ratio or 0.0, its["ratio"], delta=2e-4)
                    # The study looks at thirteen positions, the solver at many: the least left is told to 0.1 mm.
                    self.assertAlmostEqual(one.left or 0.0, its["left"], delta=0.1)

    def test_a_planted_best_is_found(self) -> None:
        job = two()
        truth = copy.deepcopy(job)
        for station, by, rate in zip(
            truth["stations"], ([12, 0, -9], [-7, 0, 14]), (45.0, 65.0), strict=True
        ):
            station["points"]["top"] = [a + b for a, b in zip(station["points"]["top"], by, strict=True)]
            station["units"][0]["springs"][0]["rate"] = rate
        stood = [solve_station(station, steps=41) for station in check_project(truth).stations]
        wishes = {one.station.name: round(float(one.ride.frequency), 3) for one in stood if one.ride}
        lengths = [
            one.taken.units[unit.name].length
            for one in stood
            for unit in one.station.units
            if isinstance(unit, Coilover | Damper) and damper_ends_mm(unit)
        ]
        damper = {
            "extended": float(max(its.max() for its in lengths)) + 5.5,
            "compressed": float(min(its.min() for its in lengths)) - 5.5,
        }
        asked = study(job, ("Front left", "Rear left"), frequency=wishes, damper=damper)
        best = rows(front_of(asked))[0]
        for name in ("frequency", "roll", "room", "damper"):
            self.assertLess(best[f"miss/{name}"], 1.0, name)

    def test_the_best_of_a_small_space_is_what_solving_all_of_it_finds(self) -> None:
        # Springs alone, two stations: every vehicle solved by the general solver at the perch that makes it stand.
        names = ("Front left", "Rear left")
        asked = study(two(), names, left=0.0)
        for vary in asked["vary"]:
            vary["places"] = []
        checked, project = check_study(asked)
        hertz: dict[str, dict[float, float]] = {name: {} for name in names}
        for name in names:
            for rate in RATES:
                row = {f"{name}/spring": rate, f"{name}/perch": self.perch_for(project, name, rate)}
                (one,) = proved(put_in(checked, project, row), [name])
                hertz[name][rate] = one.frequency or 0.0
        # Wanted a third of the way from one spring to the next.
        for k, near in ((2, 3), (4, 5), (1, 5)):
            picked = dict(zip(names, (RATES[k], RATES[near]), strict=True))
            wanted = {}
            for name, rate in picked.items():
                after = RATES[RATES.index(rate) + 1]
                wanted[name] = round(hertz[name][rate] * 2 / 3 + hertz[name][after] / 3, 4)
            again = {**asked, "wishes": {**asked["wishes"], "frequency": wanted}}
            best = min(rows(front_of(again, parts=1)), key=lambda row: row["miss/frequency"])
            self.assertEqual({name: best[f"{name}/spring"] for name in names}, picked)

    def perch_for(self, project: Any, name: str, rate: float) -> float:
        """Return the perch at which a station stands where it is wanted, by halving with the general solver."""
        station = next(one for one in project.stations if one.name == name)
        low, high = -60.0, 120.0
        for _ in range(24):
            middle = (low + high) / 2
            values = station.model_dump(mode="json", exclude_unset=True)
            coil = next(unit for unit in values["units"] if unit["kind"] == "coilover")
            coil["springs"][0]["rate"] = rate
            coil["preload"] = coil.get("preload", 0.0) + middle
            solved = solve_station(samples.station(values | {"other_side": "mirror"}), steps=9)
            at = solved.at(np.array([station.travel.at or 0.0]))
            low, high = (
                (middle, high) if float(at.wheel_force[0]) < solved.springing.weight_n else (low, middle)
            )
        return (low + high) / 2

    def test_a_perch_is_wound_no_further_than_it_goes_and_what_is_wound_is_gone(self) -> None:
        job = two()
        for station in job["stations"]:
            coil = next(unit for unit in station["units"] if unit["kind"] == "coilover")
            coil["perch"] = {"up": 12.0, "down": 9.0}
        asked = study(job, ("Front left", "Rear left"), frequency={"Front left": 1.9, "Rear left": 2.0})
        checked, project = check_study(asked)
        found = rows(front_of(asked, parts=1))
        kept = [row for row in found if row["miss/room"] < 1.0]
        for row in kept:
            for name in ("Front left", "Rear left"):
                self.assertGreater(row[f"{name}/perch"], -9.0 - 0.8)
                self.assertLess(row[f"{name}/perch"], 12.0 + 0.8)
        row = {**found[0], "Front left/perch": 5.0}
        coil = put_in(checked, project, row)["stations"][0]["units"][0]
        self.assertEqual(coil["perch"], {"up": 7.0, "down": 14.0})

    def test_bump_stops_touch_where_they_are_wanted(self) -> None:
        values = samples.arm() | {"name": "corner"}
        values["units"].append(samples.bump_stop("stop", "eye", "top", 290.0))
        job = samples.document(values)
        asked = study(job, ("corner",), frequency={"corner": 1.6}, stop_at=0.5)
        checked, project = check_study(asked)
        best = rows(front_of(asked, parts=1))[0]
        station = check_project(put_in(checked, project, best)).stations[0]
        solved = solve_station(station)
        assert solved.ride is not None
        wanted, at = station.travel, station.travel.at or 0.0
        self.assertAlmostEqual(solved.ride.travel, at, delta=0.02)
        half = at + 0.5 * (wanted.bump - at)
        contact = next(unit for unit in station.units if unit.name == "stop").contact
        self.assertAlmostEqual(
            float(solved.at(np.array([half])).units["stop"].length[0]), contact, delta=0.02
        )

    def test_both_sides_are_changed_alike(self) -> None:
        job = four_corners()
        asked = study(job, ("Front left", "Rear left"), frequency=dict.fromkeys(FOUR, 1.6))
        for vary in asked["vary"]:
            vary["alike"] = vary["station"].replace("left", "right")
        checked, project = check_study(asked)
        best = rows(front_of(asked, parts=1))[0]
        document = put_in(checked, project, best)
        stations = {station["name"]: station for station in document["stations"]}
        for side in ("Front", "Rear"):
            left, right = (stations[f"{side} {hand}"] for hand in ("left", "right"))
            self.assertNotEqual(left["points"]["top"], job["stations"][0]["points"]["top"])
            for name, spot in left["points"].items():
                np.testing.assert_allclose(right["points"][name], np.multiply(spot, [1, -1, 1]), atol=1e-9)
            self.assertEqual(left["units"][0]["springs"], right["units"][0]["springs"])
            self.assertAlmostEqual(best[f"{side} left/frequency"], best[f"{side} right/frequency"], places=6)

    def test_no_other_vehicle_of_a_front_is_better_in_everything(self) -> None:
        front = front_of(
            study(two(), ("Front left", "Rear left"), frequency={"Front left": 1.4}, roll_front=0.45)
        )
        table = np.stack([front[f"miss/{name}"] for name in MISSES], axis=1)
        self.assertGreater(len(table), 3)
        for one, other in itertools.permutations(range(len(table)), 2):
            beaten = (table[other] <= table[one] - 0.06).all()
            self.assertFalse(beaten)

    def test_a_part_is_the_same_wherever_and_whenever_it_is_done(self) -> None:
        text = json.dumps(study(two(), ("Front left",), frequency={"Front left": 1.5}))
        later = [done(text, 2), done(text, 0)]
        self.assertEqual(later[0], done(text, 2))
        self.assertNotEqual(later[0]["Front left/share/0"], later[1]["Front left/share/0"])
        self.assertEqual((parts_of(1), parts_of(VEHICLES), parts_of(VEHICLES + 1)), (1, 1, 2))

    def test_what_the_tape_does_to_the_height_is_what_many_solved_geometries_say(self) -> None:
        job = two()
        asked = study(job, ("Front left",), frequency={"Front left": 1.5}, tape=1.0)
        checked, project = check_study(asked)
        row = rows(front_of(asked, parts=1))[0]
        document = put_in(checked, project, row)
        its = spread_of(solve_station(check_project(document).stations[0]), 600)
        assert its.ride_travel is not None
        sigma = (its.ride_travel.high - its.ride_travel.low) / (2 * 1.645)
        # Six draws tell a scatter to a third.
        self.assertLess(abs(3.0 * row["miss/tape"] / sigma - 1), 0.6)

    def test_a_station_on_air_is_looked_at_as_it_is(self) -> None:
        job = samples.document(samples.bagged_arm() | {"name": "corner"})
        asked = study(job, ("corner",), frequency={"corner": 1.2})
        asked["vary"][0]["springs"] = []
        front = front_of(asked, parts=1)
        self.assertTrue(np.isfinite(front["corner/frequency"]).all())
        self.assertTrue(np.isnan(front["corner/spring"]).all())


class Fronts(unittest.TestCase):
    def test_the_front_is_that_of_comparing_everybody_with_everybody(self) -> None:
        rng = np.random.default_rng(4)
        misses = {name: rng.uniform(0.1, 3, 200) for name in ("a", "b", "c")}
        table = np.stack(list(misses.values()), axis=1)
        plain = [
            k
            for k in range(200)
            if not any((table[j] <= table[k]).all() and (table[j] < table[k]).any() for j in range(200))
        ]
        self.assertEqual(sorted(unbeaten(misses, 200)), plain)
        few = unbeaten(misses, 5)
        self.assertEqual(list(score_of(misses)[few]), sorted(score_of(misses)[few]))

    def test_fronts_merge_to_the_front_of_all(self) -> None:
        rng = np.random.default_rng(9)
        parts = [
            {"score": rng.uniform(size=20), "a": rng.uniform(size=20), "b": rng.uniform(size=20)}
            for _ in range(4)
        ]
        every = {name: np.concatenate([part[name] for part in parts]) for name in ("a", "b")}
        stepwise: dict[str, np.ndarray] = {}
        for part in parts:
            stepwise = merged([stepwise, part], ("a", "b"), 100)
        self.assertEqual(sorted(stepwise["a"]), sorted(every["a"][unbeaten(every, 100)]))
        self.assertEqual(merged([{}], ("a",), 5), {})


class Refused(unittest.TestCase):
    def test_a_study_that_cannot_be_is_said_in_sentences(self) -> None:
        good = study(two(), ("Front left",), frequency={"Front left": 1.5})
        for change, words in (
            ({"vary": [{"station": "Trailer"}]}, "no station of the job"),
            (
                {"vary": [{"station": "Front left", "places": [{"points": ["nose"], "box": [1, 1, 1]}]}]},
                "no point nose",
            ),
            (
                {"vary": [{"station": "Front left", "places": [{"points": ["top"], "box": [1, 1, 900]}]}]},
                "0 to 200 mm",
            ),
            ({"vary": [{"station": "Front left", "springs": [0.0]}]}, "more than 0"),
            ({"vary": [{"station": "Front left"}, {"station": "Front left"}]}, "stands here twice"),
            ({"vary": [{"station": "Front left", "alike": "Front left"}]}, "stands here twice"),
            ({"wishes": {"frequency": {"Front left": 40}}}, "0.2 to 10 Hz"),
            ({"wishes": {"damper": {"extended": 100, "compressed": 200}}}, "longer extended"),
            ({"wishes": {"colour": 3}}, "colour"),
            ({"candidates": 0}, "candidates"),
        ):
            with self.assertRaises(DocumentRefused) as refused:
                check_study({**good, **change})
            self.assertIn(words, " ".join(str(fault) for fault in refused.exception.faults))
        with self.assertRaises(DocumentRefused):
            check_study([])
