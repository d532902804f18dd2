"""Solving over HTTP and headless: the same numbers, the same refusals, nothing stored."""

import io
import json
import math
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from typing import Any
from unittest import mock

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.test import RequestFactory, SimpleTestCase, TestCase

from engine.document.read import check_project
from engine.findings.brief import brief_of
from engine.findings.judge import judge
from engine.limits.rooms_by_point import rooms_by_point
from engine.results.result_file import solve_project
from engine.ride.installed import damper_uses
from engine.ride.sensitivity import sensitivities
from engine.ride.spread import spread_of
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp
from server.answers import ActionRefused
from server.solving.api import solve
from server.solving.shapes import LookIn


class Turns(SimpleTestCase):
    def test_hands_that_ask_at_once_are_answered_one_after_another_and_a_refusal_ends_its_turn(self) -> None:
        at_work, most = 0, 0

        def looked_at(*_: Any) -> dict[str, Any]:
            nonlocal at_work, most
            at_work += 1
            most = max(most, at_work)
            time.sleep(0.02)
            at_work -= 1
            return {}

        document = samples.document(samples.arm())
        bodies = [LookIn(document=document, station=k % 2) for k in range(8)]  # every other one is refused
        request = RequestFactory().post("/")

        def asked(body: LookIn) -> str:
            try:
                return str(solve(request, body).status_code)
            except ActionRefused as refused:
                return refused.code

        with mock.patch("server.solving.api.station_view", looked_at), ThreadPoolExecutor(8) as hands:
            told = list(hands.map(asked, bodies))
        self.assertEqual(told, ["200", "no_station"] * 4)
        self.assertEqual(most, 1)


def arm_by_a_rail() -> dict[str, Any]:
    values = samples.arm()
    values["wheels"][0] |= {"tyre_radius": 250, "tyre_width": 150}
    values["envelopes"] = [
        {"name": "rail", "shape": "box", "centre": [-400, 560, 250], "size": [300, 60, 80]}
    ]
    return values


class Solving(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("fitter"))

    def solve(self, document: Any, station: int = 0) -> Any:
        body = {"document": document, "station": station}
        return self.client.post("/api/solve", json.dumps(body), content_type="application/json")

    def test_the_view_holds_the_engines_numbers(self) -> None:
        for name, values in samples.every_linkage().items():
            with self.subTest(name):
                document = samples.document(values)
                view = self.solve(document).json()
                solved = solve_station(check_project(document).stations[0], steps=61)
                assert solved.ride and view["ride"]
                self.assertAlmostEqual(view["ride"]["travel"], solved.ride.travel, delta=1e-4)
                self.assertEqual(len(view["travels"]), len(view["wheel_rate"]))
                self.assertEqual([f["code"] for f in view["findings"]], [f.code for f in judge(solved)])
                self.assertEqual([x["kind"] for x in view["limits"]], [x.kind for x in solved.limits])
                row = view["travels"].index(0.0)
                for point, place in view["points"].items():
                    for found, drawn in zip(place[row], values["points"][point], strict=True):
                        self.assertAlmostEqual(found, drawn, delta=1e-3)

    def test_clearances_can_come_later(self) -> None:
        body = {"document": samples.document(arm_by_a_rail()), "station": 0}
        quick, full = (
            self.client.post(
                "/api/solve", json.dumps(body | {"rooms": rooms}), content_type="application/json"
            ).json()
            for rooms in (False, True)
        )
        self.assertEqual((quick["complete"], full["complete"]), (False, True))
        codes = [[f["code"] for f in view["findings"]] for view in (quick, full)]
        self.assertNotIn("tyre_to_structure", codes[0])
        self.assertIn("tyre_to_structure", codes[1])
        self.assertTrue(self.solve(samples.document(samples.arm())).json()["complete"])

    def test_a_damper_says_how_far_it_leans_from_the_path_of_its_eye(self) -> None:
        document = samples.document(samples.pushrod_corner())
        told = self.solve(document).json()["strokes"]
        for use in damper_uses(solve_station(check_project(document).stations[0], steps=61)):
            assert use.installed_angle is not None
            self.assertAlmostEqual(told[use.name]["installed_angle"], use.installed_angle, delta=1e-4)
            share = math.cos(math.radians(use.installed_angle))
            self.assertAlmostEqual(told[use.name]["path_share"], share, delta=1e-4)

    def test_out_of_reach_rows_are_null(self) -> None:
        values = samples.pushrod_corner() | {"travel": {"bump": 200, "droop": 40}}
        view = self.solve(samples.document(values)).json()
        self.assertFalse(view["reached"][-1])
        self.assertIsNone(view["wheel_rate"][-1])
        self.assertEqual(len(view["points"]["wheel"]), sum(view["reached"]))
        self.assertIn("linkage_reach", [f["code"] for f in view["findings"]])

    def test_sensitivities_are_the_engines_strongest_first(self) -> None:
        document = samples.document(samples.pushrod_corner())
        body = json.dumps({"document": document, "station": 0})
        found = self.client.post("/api/sensitivity", body, content_type="application/json").json()
        wanted = sensitivities(solve_station(check_project(document).stations[0], steps=61))
        self.assertEqual([(f["point"], f["axis"]) for f in found], [(w.point, w.axis) for w in wanted])
        self.assertAlmostEqual(found[0]["ride"], wanted[0].ride_mm)

    def test_a_millimetre_also_says_what_it_does_to_the_nearest_gaps(self) -> None:
        document = samples.document(arm_by_a_rail())
        body = json.dumps({"document": document, "station": 0})
        found = self.client.post("/api/sensitivity", body, content_type="application/json").json()
        work = WorkUp(solve_station(check_project(document).stations[0], steps=61))
        wanted = {(its.point, its.axis): its.rooms for its in rooms_by_point(work.solved, work.clearances)}
        self.assertTrue(any(line["gaps"] for line in found))
        for line in found:
            gaps = {(gap["one"], gap["other"]): gap["by"] for gap in line["gaps"]}
            its = wanted.get((line["point"], line["axis"]), {})
            self.assertEqual(gaps.keys(), its.keys())
            for pair, by in its.items():
                self.assertAlmostEqual(gaps[pair], by, places=4)

    def test_what_the_tape_leaves_open_is_the_engines_with_the_errors_that_the_job_says(self) -> None:
        document = samples.document(samples.pushrod_corner())
        wanted = spread_of(solve_station(check_project(document).stations[0]))
        found = self.spread(document).json()
        assert wanted.ride_travel is not None
        low, _, high = found["ride_travel"]
        self.assertAlmostEqual(low, wanted.ride_travel.low, places=6)
        self.assertAlmostEqual(high, wanted.ride_travel.high, places=6)
        self.assertEqual((found["geometries"], found["tape"]), (2000, 1.0))
        document["stations"][0]["uncertainty"] = {"tape": 0.0}
        exact = self.spread(document).json()
        self.assertEqual(exact["tape"], 0.0)
        ride = self.solve(document).json()["ride"]
        for value in exact["ride_travel"]:
            self.assertAlmostEqual(value, ride["travel"], places=4)
        for value in exact["wheel_rate"]:
            self.assertAlmostEqual(value, ride["wheel_rate"], places=3)

    def test_what_stands_nowhere_has_no_interval_and_a_loose_one_is_refused(self) -> None:
        values = samples.pushrod_corner() | {"mass": {"corner": 9000, "unsprung": 30}}
        found = self.spread(samples.document(values)).json()
        self.assertEqual((found["standing"], found["ride_travel"], found["frequency"]), (0.0, None, None))
        self.assertIn("bump", next(iter(found["damper_left"].values())))
        values = samples.pushrod_corner()
        del values["bodies"]["tie_rod"]
        answer = self.spread(samples.document(values))
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "linkage_loose"))

    def spread(self, document: dict[str, Any]) -> Any:
        body = json.dumps({"document": document, "station": 0})
        return self.client.post("/api/spread", body, content_type="application/json")

    def test_refusals_have_code_path_and_sentence(self) -> None:
        values = samples.pushrod_corner()
        del values["bodies"]["tie_rod"]
        answer = self.solve(samples.document(values))
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "linkage_loose"))
        values = samples.pushrod_corner() | {"links": {"pushrod": {"length": 700}}}
        found = self.solve(samples.document(values)).json()
        self.assertEqual((found["code"], found["path"]), ("linkage_did_not_close", "stations[0].links"))
        self.assertEqual(found["values"]["body"], "pushrod")
        self.assertGreater(found["values"]["gap_mm"], 100)
        self.assertEqual(self.solve(samples.document(), 0).json()["code"], "no_station")
        self.assertEqual(self.solve([1]).status_code, 422)

    def test_bodies_that_are_no_question(self) -> None:
        for body, status, words in (
            (b"{", 422, "not readable JSON"),
            (b'{"document": {}, "station": NaN}', 422, "station: must be a finite number, got NaN"),
            (b'{"document": {}, "station": "x"}', 422, "body.station"),
            (b"[" * 5000, 422, "nested deeper"),
            (b" " * 9_000_000, 413, "9.0 MB"),
        ):
            answer = self.client.post("/api/solve", body, content_type="application/json")
            self.assertEqual(answer.status_code, status)
            self.assertIn(words, answer.json()["detail"])
        missing = self.client.get("/api/nowhere")
        self.assertEqual((missing.status_code, missing.json()["code"]), (404, "no_such_call"))


class Headless(SimpleTestCase):
    def run_solve(self, *arguments: str) -> tuple[int, str, str]:
        out, err, code = io.StringIO(), io.StringIO(), 0
        with redirect_stdout(out), redirect_stderr(err):
            try:
                call_command("solve", *arguments, stdout=out, stderr=err)
            except SystemExit as stop:
                code = int(stop.code or 0)
        return code, out.getvalue(), err.getvalue()

    def test_a_command_loads_nothing_of_the_web_and_ends_as_it_should(self) -> None:
        """As it is called, in a process of its own: neither Django nor numpy's rarer parts, which would take longer."""
        loaded = (
            "import os, runpy, sys\n"
            "def ended(status):\n"
            "    print(*sorted(sys.modules), file=sys.__stderr__)\n"
            "    raise SystemExit(status)\n"
            "os._exit = ended\n"
            "runpy.run_path('manage.py', run_name='__main__')\n"
        )
        example = str(settings.ROOT / "docs" / "examples" / "wishbones-lower.json")
        survey = str(settings.ROOT / "server" / "demo" / "files" / "heron-three-wheeler.json")
        for name, file, status in (
            ("solve", example, 0),
            ("survey", survey, 0),
            ("prove", survey, 0),
            ("solve", "nowhere.json", 2),
        ):
            with self.subTest(name, file=file):
                run = subprocess.run(
                    [sys.executable, "-c", loaded, name, file],
                    cwd=settings.ROOT,
                    check=False,
                    capture_output=True,
                    text=True,
                )
                self.assertEqual(run.returncode, status, run.stderr[-500:])
                modules = {module.partition(".")[0] for module in run.stderr.split()}
                self.assertFalse({"django", "ninja", "numba", "reportlab"} & modules)
                if status == 0:
                    self.assertIn("format", json.loads(run.stdout))
        said = subprocess.run(
            [sys.executable, "manage.py", "solve", "nowhere.json"],
            cwd=settings.ROOT,
            check=False,
            capture_output=True,
            text=True,
        )
        self.assertEqual((said.returncode, said.stdout), (2, ""))
        self.assertEqual(said.stderr, "nowhere.json: cannot be read: No such file or directory.\n")

    def test_prints_what_the_engine_finds(self) -> None:
        path = str(samples.CASES / "mono-rocker.json")
        code, out, err = self.run_solve(path, "--steps", "7")
        self.assertEqual((code, err), (0, ""))
        wanted = solve_project(check_project(samples.case("mono-rocker")), 7)
        self.assertEqual(json.loads(out), json.loads(json.dumps(wanted)))

    def test_writes_to_a_file(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "result.json"
            code, printed, _ = self.run_solve(str(samples.CASES / "arm-lean.json"), "--out", str(out))
            self.assertEqual((code, printed), (0, ""))
            self.assertEqual(len(json.loads(out.read_text())["stations"][0]["sweep"]), 41)
            self.assertEqual(self.run_solve(str(samples.CASES / "arm-lean.json"), "--out", folder)[0], 2)

    def test_bad_input_is_one_sentence_a_fault_and_exit_2(self) -> None:
        document = samples.document(samples.pushrod_corner())
        document["stations"][0]["mass"]["unsprung"] = 900
        document["stations"][0]["units"][0]["compressed"] = 900
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "bad.json"
            path.write_text(json.dumps(document))
            code, out, err = self.run_solve(str(path))
            self.assertEqual((code, out), (2, ""))
            self.assertEqual(len(err.strip().split("\n")), 2)
            self.assertIn("stations[0].units[0].compressed", err)
            path.write_bytes(b" " * 20_000_000)
            code, _, err = self.run_solve(str(path))
            self.assertEqual(code, 2)
            self.assertIn("20.0 MB", err)
        self.assertEqual(self.run_solve("/nowhere.json")[0], 2)
        self.assertEqual(self.run_solve(str(samples.CASES / "arm-lean.json"), "--steps", "1")[0], 2)

    def test_the_published_schemas_are_fresh(self) -> None:
        call_command("publish_schemas", "--check")


class Articulated(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("fitter"))

    def ask(self, values: Any, amount: float) -> Any:
        body = {"document": samples.document(values), "station": 0, "articulation": amount}
        return self.client.post("/api/articulated", json.dumps(body), content_type="application/json")

    def test_one_wheel_stands_up_and_the_other_down(self) -> None:
        view = self.ask(samples.axle(), 25.0).json()
        for row in range(0, len(view["points"]["wheel_left"]), 8):
            left, right = (view["points"][f"wheel_{side}"][row][2] for side in ("left", "right"))
            self.assertAlmostEqual(left - right, 50.0, delta=1e-3)
        one, other = (view["points"][end][0] for end in ("seat_left", "tower_left"))
        first = view["reached"].index(True)
        gap = sum((a - b) ** 2 for a, b in zip(one, other, strict=True)) ** 0.5
        self.assertAlmostEqual(view["lengths"]["left"][first], gap, delta=1e-2)

    def test_what_does_not_articulate_says_so(self) -> None:
        for values in (samples.arm(), samples.axle(triangulated=False)):
            answered = self.ask(values, 10.0)
            self.assertEqual((answered.status_code, answered.json()["code"]), (422, "no_articulation"))


class Remedies(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("fitter"))

    def test_a_remedy_is_a_station_that_clears_it(self) -> None:
        document = samples.document(samples.arm())
        body = {"document": document, "station": 0, "code": "first_in_droop", "subjects": ["coilover"]}
        found = self.client.post("/api/remedy", json.dumps(body), content_type="application/json").json()
        self.assertIn("Fit a strap", found["what"]["words"])
        cleared = check_project({**document, "stations": [found["station"]]}).stations[0]
        marks = {f.code: f.mark for f in judge(solve_station(cleared))}
        self.assertEqual(marks["first_in_droop"], "good")

    def test_no_such_finding_has_no_remedy(self) -> None:
        body = {
            "document": samples.document(samples.arm()),
            "station": 0,
            "code": "coil_solid",
            "subjects": [],
        }
        answered = self.client.post("/api/remedy", json.dumps(body), content_type="application/json")
        self.assertIsNone(answered.json())

    def test_springs_are_the_engines(self) -> None:
        body = {"document": samples.document(samples.arm()) | {"judging": {"purpose": "road"}}, "station": 0}
        found = self.client.post("/api/springs", json.dumps(body), content_type="application/json").json()
        self.assertEqual(found["wanted"], [1.0, 1.6])
        self.assertEqual(sum(option["now"] for option in found["options"]), 1)


class Briefs(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("fitter"))

    def read(self, document: Any) -> Any:
        return self.client.post(
            "/api/brief", json.dumps({"document": document}), content_type="application/json"
        )

    def test_it_is_the_engines_sentence(self) -> None:
        document = samples.document(samples.arm()) | {"judging": {"purpose": "sport"}}
        found = self.read(document).json()
        mark, said = brief_of(check_project(document))
        self.assertEqual((found["mark"], found["said"]["words"]), (mark, said.words))
        for name, quantity in said.quantities.items():
            self.assertEqual(found["said"]["quantities"][name]["value"], quantity.value)
            self.assertEqual(found["said"]["quantities"][name]["measures"], quantity.measures)

    def test_a_document_that_is_none_is_refused_in_words(self) -> None:
        document = samples.document(samples.arm())
        document["stations"][0]["mass"]["corner"] = -1
        answer = self.read(document)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("mass.corner", json.dumps(answer.json()))


class Vehicles(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("fitter"))

    def ask(self, document: Any) -> Any:
        return self.client.post(
            "/api/vehicle", json.dumps({"document": document}), content_type="application/json"
        ).json()

    def test_it_is_what_the_headless_result_says(self) -> None:
        document = samples.document(samples.arm(), samples.axle()) | {"vehicle": {"cg_height": 900}}
        found, alone = self.ask(document), solve_project(check_project(document), 9, remedies=False)
        for key in ("gradient", "front_share", "wanted_bar"):
            name = "roll_gradient" if key == "gradient" else key
            self.assertAlmostEqual(found[key], alone["vehicle"][name], delta=1e-6 * max(1, abs(found[key])))
        self.assertEqual([f["code"] for f in found["findings"]], ["roll_gradient"])
        self.assertEqual(len(found["stations"]), 2)

    def test_without_a_centre_of_gravity_the_stations_still_say_their_part(self) -> None:
        heavy = samples.arm()
        heavy["mass"]["corner"] = 4000
        found = self.ask(samples.document(heavy, samples.axle()))
        self.assertIsNone(found["gradient"])
        self.assertEqual(len(found["stations"]), 1)
        self.assertIn("arm:", found["faults"][0])
