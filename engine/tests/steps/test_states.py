"""The order of the work: one made-up job done step by step, by doing; each step is done by what the job then shows."""

import json
from pathlib import Path
from typing import Any
from unittest import TestCase

import numpy as np

from engine.document.read import read_project
from engine.document.write import project_text
from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.job_parts import job_parts
from engine.steps.done import must_be_read
from engine.steps.durations import hours_of, past_of, sampled
from engine.steps.evidence import evidence_of
from engine.steps.states import StepStands, states_of

DEMOS = Path(__file__).parents[3] / "server" / "demo" / "files"


def started() -> dict[str, Any]:
    """Return a job that has just been drawn: nothing read, nothing made."""
    values: dict[str, Any] = json.loads(project_text(starting_project(layout_named("trailing-arm"))))
    values["judging"] = {"purpose": "road"}
    for station in values["stations"]:
        station["mass"]["finished"] = station["mass"]["corner"]
        station["other_side"] = "alone"
    values["records"] = []
    return values


def states(values: dict[str, Any]) -> dict[tuple[str | None, str], StepStands]:
    found = states_of(evidence_of(read_project(json.dumps(values))), {})
    return {(one.station, one.step.key): one for one in found}


def surveyed(values: dict[str, Any], off: float = 0.0, only: list[str] | None = None) -> dict[str, Any]:
    """Return readings of every point of the first station, each coordinate twice, as it is drawn and `off` mm higher."""
    station = values["stations"][0]
    floor = values.get("vehicle", {}).get("floor", 0.0)
    readings = []
    for point, (x, y, z) in station["points"].items():
        if only is None or point in only:
            place = f"{station['name']}/{point}"
            readings += [
                {"kind": kind, "of": place, "values": [value, value], "sigma": 0.3}
                for kind, value in (("fore_aft", x), ("offset", y), ("height", z - floor + off))
            ]
    return {"readings": readings}


class ByDoing(TestCase):
    def test_a_job_is_done_step_by_step(self) -> None:
        values = started()
        name = values["stations"][0]["name"]
        del values["judging"]["purpose"]
        its = states(values)
        self.assertEqual(its[None, "brief"].state, "next")
        self.assertIn("what it is for", str(its[None, "brief"].say))
        self.assertEqual(its[name, "survey"].state, "waits")

        values["judging"]["purpose"] = "road"
        its = states(values)
        self.assertEqual(
            [its[key].state for key in ((None, "brief"), (None, "guard"), (name, "survey"))],
            ["done", "next", "next"],
        )

        values["survey"] = surveyed(values)
        its = states(values)
        self.assertEqual(its[name, "survey"].state, "done", str(its[name, "survey"].say))
        self.assertEqual(its[name, "layout"].state, "done", str(its[name, "layout"].say))
        self.assertEqual(its[name, "stops"].state, "done", str(its[name, "stops"].say))
        self.assertEqual((its[name, "order"].state, its[name, "make"].state), ("next", "may"))
        self.assertIsNone(its[name, "make"].spoils)
        self.assertEqual(its[name, "cycle"].state, "waits")

        first, second = list(values["stations"][0]["points"])[:2]
        values["survey"]["guards"] = [
            {"name": "across", "between": [f"{name}/{first}", f"{name}/{second}"], "before": [500.0]}
        ]
        self.assertIn("braces", str(states(values)[None, "guard"].say))
        records = values["records"]
        records.append({"kind": "confirmed", "when": "2026-12-01", "step": "guard", "initials": "AB"})
        self.assertEqual(states(values)[None, "guard"].state, "done")

        records.append(
            {
                "kind": "ordered",
                "when": "2026-12-02",
                "what": "everything",
                "station": name,
                "due": "2026-12-11",
            }
        )
        its = states(values)
        self.assertEqual(its[name, "order"].state, "done")
        self.assertTrue(any("2026-12-11" in due for _, due in its[name, "cycle"].come if due))

        parts = job_parts(read_project(json.dumps(values)), fitted=False).parts
        for part in parts[:-1]:
            records.append({"kind": "made", "when": "2026-12-03", "station": name, "part": part.name})
        its = states(values)
        self.assertEqual(its[name, "make"].state, "next")
        self.assertIn(f"{len(parts) - 1} parts of {len(parts)}", str(its[name, "make"].say))
        records.append({"kind": "made", "when": "2026-12-03", "station": name, "part": parts[-1].name})
        its = states(values)
        self.assertEqual(its[name, "make"].state, "done")
        self.assertEqual(its[name, "tack"].state, "done", str(its[name, "tack"].say))

        self.assertEqual(its[name, "cycle"].state, "waits")
        records.append({"kind": "came", "when": "2026-12-11", "what": "everything", "station": name})
        self.assertEqual(states(values)[name, "cycle"].state, "next")
        travel = values["stations"][0]["travel"]
        records.append(
            {
                "kind": "cycle",
                "when": "2026-12-12",
                "station": name,
                "springs_out": True,
                "tyre_on": True,
                "rows": [
                    {"wheel": -float(travel["droop"])},
                    {"wheel": 0.0},
                    {"wheel": float(travel["bump"])},
                ],
            }
        )
        its = states(values)
        self.assertEqual(its[name, "cycle"].state, "done", str(its[name, "cycle"].say))
        self.assertNotEqual(its[name, "weld"].state, "done")

        for gate in evidence_of(read_project(json.dumps(values))).gates_of(name):
            self.assertTrue(gate.met, str(gate.say))
            records.append(
                {"kind": "gate", "when": "2026-12-12", "name": gate.name, "station": name, "initials": "AB"}
            )
        self.assertEqual(states(values)[name, "weld"].state, "done")

        self.assertEqual(states(values)[None, "weigh"].state, "next")
        mass = values["stations"][0]["mass"]["corner"]
        records.append({"kind": "weigh", "when": "2026-12-13", "wheels": {name: mass * 0.9}})
        self.assertIn("finished", str(states(values)[None, "weigh"].say))
        records[-1]["wheels"] = {name: mass}
        its = states(values)
        self.assertEqual(its[None, "weigh"].state, "done")
        self.assertEqual(its[None, "drive"].state in ("waits", "next"), True)

    def test_the_frames_tubes_are_bought_and_made_with_the_station_that_stands_on_them(self) -> None:
        values = started()
        station = values["stations"][0]
        name = station["name"]
        x, y, z = station["points"][station["chassis"][0]]
        bar = {"name": "bar", "ends": ["a", "b"], "tube": {"outside": 42.4, "wall": 3.0}}
        values["frame"] = {
            "nodes": {"a": [x - 200, y, z + 60], "b": [x + 200, y, z + 60]}, "members": [bar], "held": {"a": "fixed", "b": "fixed"},
        }  # fmt: skip
        its = evidence_of(read_project(json.dumps(values)))
        self.assertEqual(its.on_frame, name)
        self.assertIn("bar", [part.name for part in its.parts_of(name)])
        self.assertIn("42.4 × 3", " ".join(one.line.size for one in its.bought(name)))
        values["records"] = [
            {"kind": "made", "when": "2026-12-03", "station": part.station, "part": part.name}
            for part in its.parts_of(name)
            if part.name != "bar"
        ]
        values["survey"] = surveyed(values)
        self.assertIn("next bar", str(states(values)[name, "make"].say))
        values["records"].append({"kind": "made", "when": "2026-12-03", "station": "Frame", "part": "bar"})
        self.assertEqual(states(values)[name, "make"].state, "done")

    def test_what_is_undone_is_said_with_what_undid_it(self) -> None:
        values = started()
        name = values["stations"][0]["name"]
        values["survey"] = surveyed(values)
        project = read_project(json.dumps(values))
        part = next(
            one
            for one in job_parts(project, fitted=False).parts
            if any(f.measures == "length" and isinstance(f.value, float) for f in one.figures)
        )
        figure = next(f for f in part.figures if f.measures == "length" and isinstance(f.value, float))
        record = {"kind": "made", "when": "2026-12-01", "station": name, "part": part.name}
        values["records"] = [{**record, "figures": {figure.key: figure.value}}]
        self.assertEqual(states(values)[name, "make"].state, "may")
        values["records"] = [{**record, "figures": {figure.key: figure.value + 4.0}}]  # type: ignore[operator]
        made = states(values)[name, "make"]
        self.assertEqual(made.state, "again")
        self.assertIn(figure.name, str(made.say))

        angled, angle = next(
            (one, f) for one in job_parts(project, fitted=False).parts for f in one.figures if f.measures == "angle" and isinstance(f.value, float)
        )  # fmt: skip
        turned = {"kind": "made", "when": "2026-12-01", "station": name, "part": angled.name}
        for off, state in ((0.0, "may"), (360.0, "may"), (0.3, "may"), (1.5, "again"), (-361.5, "again")):
            values["records"] = [{**turned, "figures": {angle.key: angle.value + off}}]  # type: ignore[operator]
            self.assertEqual(states(values)[name, "make"].state, state, off)

        moved = started()
        moved["survey"] = surveyed(moved, off=12.0)
        mount = job_parts(read_project(json.dumps(moved)), fitted=False).mounts[0]
        moved["work"] = {"state": {f"{name}/{mount.tabs[0]}": "tacked"}}
        tack = states(moved)[name, "tack"]
        self.assertEqual(tack.state, "again")
        self.assertIn("12.0 mm", str(tack.say))

    def test_a_setting_after_the_weigh_in_asks_for_another(self) -> None:
        values = json.loads((DEMOS / "heron-three-wheeler.json").read_text("utf-8"))
        self.assertEqual(states(values)[None, "weigh"].state, "done")
        values["records"].append(
            {
                "kind": "setting",
                "when": "2026-11-02",
                "station": "Front left",
                "what": "perch",
                "unit": "coilover",
                "turns": 1.0,
            }
        )
        its = states(values)
        self.assertEqual((its[None, "weigh"].state, its[None, "drive"].state), ("again", "again"))
        self.assertIn("turned after the last weigh-in", str(its[None, "weigh"].say))

    def test_initials_at_a_gate_that_is_no_longer_met(self) -> None:
        values = json.loads((DEMOS / "heron-three-wheeler.json").read_text("utf-8"))
        values["records"].append(
            {
                "kind": "gate",
                "when": "2026-11-02",
                "name": "left_right",
                "station": "Front left",
                "initials": "AB",
            }
        )
        weld = states(values)["Front left", "weld"]
        self.assertEqual(weld.state, "again")
        self.assertIn("AB", str(weld.say))


class NotYet(TestCase):
    def test_springs_before_the_survey_would_be_spoilt(self) -> None:
        values = started()
        name = values["stations"][0]["name"]
        order = states(values)[name, "order"]
        self.assertEqual(order.state, "not_yet")
        assert order.spoils is not None
        self.assertGreater(order.spoils.money, 0)
        self.assertEqual(order.waits_for, (f"{name}: Survey",))

    def test_the_spring_that_suits_is_the_drawn_one_over_the_square_of_the_ratio(self) -> None:
        """By a second route: the ratio's own interval from the station's spread, and k = k_wheel / MR²."""
        from engine.ride.spread import spread_of
        from engine.steps.spoilt import GEOMETRIES, POSITIONS

        values = json.loads((DEMOS / "heron-three-wheeler.json").read_text("utf-8"))
        its = states(values)["Front right", "order"]
        assert its.spoils is not None
        evidence = evidence_of(read_project(json.dumps(values)))
        work = evidence.station("Front right")
        assert work is not None and work.work.solved.at_ride is not None
        ratio = spread_of(work.work.solved, GEOMETRIES, POSITIONS).ratios["coilover"]
        now = float(work.work.solved.at_ride.units["coilover"].motion_ratio[0])
        rate = its.spoils.say.quantities["now"].value
        self.assertAlmostEqual(its.spoils.say.quantities["low"].value, rate * (now / ratio.high) ** 2, 6)
        self.assertAlmostEqual(its.spoils.say.quantities["high"].value, rate * (now / ratio.low) ** 2, 6)

    def test_a_weld_before_the_cycle_says_how_many_mounts(self) -> None:
        values = started()
        name = values["stations"][0]["name"]
        weld = states(values)[name, "weld"]
        self.assertEqual(weld.state, "not_yet")
        assert weld.spoils is not None
        many = len(job_parts(read_project(json.dumps(values)), fitted=False).mounts)
        self.assertEqual(weld.spoils.hours, 5.0 * many)

    def test_a_ratio_that_still_moves_is_no_time_to_buy(self) -> None:
        values = started()
        name = values["stations"][0]["name"]
        values["survey"] = surveyed(values)
        moved = json.loads(json.dumps(values))
        unit = moved["stations"][0]["units"][0]
        moved["stations"][0]["points"][unit["ends"][1]][0] -= 90.0
        found = states_of(
            evidence_of(read_project(json.dumps(values)), before=read_project(json.dumps(moved))), {}
        )
        order = next(one for one in found if one.station == name and one.step.key == "order")
        self.assertIn("last revision", str(order.say))
        self.assertEqual(order.state, "not_yet")


class Reading(TestCase):
    def test_one_place_that_is_not_read_is_named(self) -> None:
        values = started()
        name = values["stations"][0]["name"]
        station = read_project(json.dumps(values)).stations[0]
        needed = must_be_read(station)
        values["survey"] = surveyed(values, only=needed[1:])
        survey = states(values)[name, "survey"]
        self.assertEqual(survey.state, "next")
        self.assertIn(needed[0].replace("_", " "), str(survey.say).lower())

    def test_a_rocker_is_placed_and_need_not_be_read(self) -> None:
        project = read_project((DEMOS / "heron-three-wheeler.json").read_bytes())
        needed = must_be_read(project.stations[0])
        self.assertIn("rack", needed)
        self.assertIn("wheel", needed)
        self.assertFalse({"pivot_front", "damper_anchor", "push_top", "damper_eye"} & set(needed))

    def test_schools_say_in_which_order_mounts_are_placed(self) -> None:
        values = started()
        values["judging"]["school"] = "full_droop_first"
        its = states(values)[values["stations"][0]["name"], "layout"]
        self.assertEqual(its.places, ("droop", "bump", "ride"))

    def test_a_linkage_that_cannot_move_is_said_at_its_layout_and_refuses_nothing(self) -> None:
        values = started()
        station = values["stations"][0]
        body = next(iter(station["bodies"]))
        free = next(point for point in station["bodies"][body] if point not in station["chassis"])
        station["bodies"]["one more"] = [free, station["chassis"][0]]
        station["bodies"]["another"] = [free, station["chassis"][-1]]
        its = states(values)
        self.assertNotEqual(its[station["name"], "layout"].state, "done")


class Durations(TestCase):
    def test_the_shops_own_times_replace_the_usual_ones(self) -> None:
        values = started()
        name = values["stations"][0]["name"]
        projects = []
        for hours in (4.0, 5.0, 6.0):
            one = started()
            one["records"] = [
                {"kind": "cycle", "when": "2026-01-01", "station": name, "hours": hours, "rows": []}
            ]
            projects.append(read_project(json.dumps(one)))
        low, middle, high = hours_of("cycle", past_of(projects))
        self.assertEqual(middle, 5.0)
        self.assertTrue(3.5 < low < 4.5 and 5.5 < high < 7.0)
        self.assertEqual(hours_of("cycle", past_of(projects[:2])), hours_of("cycle", {}))

    def test_one_in_ten_is_quicker_and_one_in_ten_slower(self) -> None:
        drawn = sampled((1.0, 2.0, 6.0), 20_000, np.random.default_rng(3))
        self.assertAlmostEqual(float((drawn < 1.0).mean()), 0.1, 2)
        self.assertAlmostEqual(float((drawn < 2.0).mean()), 0.5, 1)
        self.assertAlmostEqual(float((drawn > 6.0).mean()), 0.1, 2)
