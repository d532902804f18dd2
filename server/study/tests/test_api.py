"""A job's study from the page: what it begins with, begun, stopped, taken up, one of its vehicles taken; refusals in words."""

import json
import os
import tempfile
import threading
import time
from datetime import timedelta
from pathlib import Path
from typing import Any
from unittest import mock

from django.conf import settings
from django.contrib.auth import get_user_model
from django.test import TestCase, override_settings
from django.utils import timezone

from engine.document.read import check_project
from engine.station.solved import solve_station
from engine.study.asked import check_study
from engine.study.chunk import VEHICLES
from engine.tests import samples
from engine.tests.study.test_study import two
from server.jobs.actions.import_project import import_project
from server.jobs.actions.remove_job import clear_away, remove_job
from server.study.api import LINE
from server.study.folder import StudyFolder
from server.study.waiting import SEATS, _seat, before, wait

HERON = settings.ROOT / "server" / "demo" / "files" / "heron-three-wheeler.json"


class StudyOfAJob(TestCase):
    def setUp(self) -> None:
        self.data = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(override_settings(STUDIES=self.data / "studies"))
        user = get_user_model().objects.create_user("fitter")
        self.client.force_login(user)
        self.document = two()
        self.job = import_project(user, json.dumps(self.document).encode())
        self.at = f"/api/jobs/{self.job.pk}/study"

    def post(self, path: str, **body: Any) -> Any:
        return self.client.post(path, json.dumps(body), content_type="application/json")

    def asked(self, **more: Any) -> dict[str, Any]:
        usual = self.post("/api/study/usual", document=self.document).json()
        return {"document": self.document, **usual, "candidates": 2 * VEHICLES, **more}

    def wait(self) -> dict[str, Any]:
        for _ in range(240):
            now: dict[str, Any] = self.client.get(self.at).json()
            if not now["running"]:
                return now
            time.sleep(0.25)
        raise AssertionError(f"it never ended: {now}")

    def test_what_a_study_begins_with_is_what_the_job_has(self) -> None:
        usual = self.post("/api/study/usual", document=self.document).json()
        self.assertEqual([one["station"] for one in usual["vary"]], ["Front left", "Rear left"])
        self.assertEqual(usual["vary"][0]["places"][0]["points"], ["top"])
        stood = solve_station(check_project(self.document).stations[0])
        assert stood.ride is not None
        self.assertAlmostEqual(usual["wishes"]["frequency"]["Front left"], stood.ride.frequency, delta=0.006)
        heron = json.loads(HERON.read_text())
        usual = self.post("/api/study/usual", document=heron).json()
        self.assertIn(
            ["pivot_front", "pivot_rear"], [place["points"] for place in usual["vary"][0]["places"]]
        )
        axle = samples.document(samples.axle() | {"name": "axle"})
        (vary,) = self.post("/api/study/usual", document=axle).json()["vary"]
        for place in vary["places"]:
            for point in place["points"]:
                self.assertGreaterEqual(axle["stations"][0]["points"][point][1], 0.0)

    def test_a_study_is_begun_grows_and_one_of_its_vehicles_is_taken(self) -> None:
        self.assertIsNone(self.client.get(self.at).json()["asked"])
        begun = self.post(self.at, **self.asked()).json()
        self.assertTrue(begun["running"])
        self.assertEqual(self.post(self.at, **self.asked()).status_code, 200 if not begun["running"] else 409)
        done = self.wait()
        self.assertEqual((done["done"], done["parts"], done["lost"], done["said"]), (2, 2, [], ""))
        best = done["front"][0]
        taken = self.client.get(f"{self.at}/vehicle", {"score": best["score"]}).json()
        for proof in taken["proved"]:
            self.assertEqual(proof["refused"], "")
            self.assertAlmostEqual(
                proof["frequency"], best["stations"][proof["station"]]["frequency"], delta=2e-3
            )
        document = json.loads(json.dumps(self.document))
        for station in document["stations"]:
            changes = taken["changes"][station["name"]]
            station["points"].update(changes["points"])
            for unit in station["units"]:
                unit.update(changes["units"].get(unit["name"], {}))
        again = solve_station(check_project(document).stations[0])
        assert again.ride is not None
        self.assertAlmostEqual(again.ride.frequency, best["stations"]["Front left"]["frequency"], delta=2e-3)
        self.assertEqual(
            self.client.get(f"{self.at}/vehicle", {"score": 12345.0}).json()["code"], "vehicle_gone"
        )

    def test_stopped_it_is_taken_up_again(self) -> None:
        self.post(self.at, **self.asked(candidates=40 * VEHICLES))
        self.client.post(f"{self.at}/stop")
        stopped = self.wait()
        self.assertIn("taken up again", stopped["said"])
        self.assertLess(stopped["done"], 40)
        with mock.patch("server.study.api.subprocess.Popen") as started:
            self.assertTrue(self.client.post(f"{self.at}/go").json()["running"])
        self.assertIn("--folder", started.call_args.args[0])

    def test_one_that_ends_while_it_is_looked_at_is_not_left_half_done(self) -> None:
        folder = StudyFolder(self.data / "studies" / str(self.job.pk))
        values = self.asked()
        job = values.pop("document")
        asked, _ = check_study({**values, "job": job})
        folder.begin(asked.model_dump_json())
        folder.say({"done": 1, "parts": 2})

        def ends() -> bool:
            folder.say({"done": 2, "parts": 2})
            return False

        with mock.patch.object(StudyFolder, "is_held", mock.PropertyMock(side_effect=ends)):
            now = self.client.get(self.at).json()
        self.assertEqual((now["running"], now["done"]), (False, 2))

    def test_a_job_that_is_gone_for_good_takes_its_study_with_it(self) -> None:
        folder = StudyFolder(self.data / "studies" / str(self.job.pk))
        folder.begin("{}")
        self.job.removed = timezone.now() - timedelta(days=400)
        self.job.save(update_fields=["removed"])
        self.assertEqual(self.client.get(self.at).status_code, 404)
        clear_away()
        self.assertFalse(folder.path.exists())

    def test_two_work_at_a_time_and_the_rest_stand_in_a_line_that_is_shown(self) -> None:
        line = settings.STUDIES / LINE
        line.mkdir(parents=True)
        seats = [_seat(line) for _ in range(SEATS)]
        self.assertNotIn(None, seats)
        self.assertIsNone(_seat(line))
        folder = settings.STUDIES / "another"
        folder.mkdir()
        first = threading.Thread(target=lambda: wait(line, folder))
        first.start()
        while before(line, "another") is None:
            time.sleep(0.02)
        try:
            self.post(self.at, **self.asked())
            for _ in range(100):
                now = self.client.get(self.at).json()
                if now["before"] is not None:
                    break
                time.sleep(0.1)
            self.assertEqual((now["running"], now["before"], now["done"]), (True, 1, 0))
            self.assertEqual(self.post(self.at, **self.asked()).status_code, 409)
            (folder / "stop").touch()
            first.join()
            self.assertEqual(self.client.get(self.at).json()["before"], 0)
        finally:
            for seat in seats:
                os.close(seat or 0)
        done = self.wait()
        self.assertEqual((done["done"], done["before"]), (2, None))

    def test_one_that_waits_is_stopped_before_it_begins(self) -> None:
        line = settings.STUDIES / LINE
        line.mkdir(parents=True)
        seats = [_seat(line) for _ in range(SEATS)]
        try:
            self.post(self.at, **self.asked())
            while before(line, str(self.job.pk)) is None:
                time.sleep(0.02)
            self.post(f"{self.at}/stop")
            with mock.patch("server.study.api.STARTS_S", 0.0):
                self.assertEqual(self.wait()["done"], 0)
        finally:
            for seat in seats:
                os.close(seat or 0)

    def test_begun_twice_it_is_begun_once_and_who_changes_it_is_waited_for(self) -> None:
        asked = self.asked()
        folder = StudyFolder(settings.STUDIES / str(self.job.pk))
        with mock.patch("server.study.api.subprocess.Popen") as begun:
            self.assertEqual(self.post(self.at, **asked).status_code, 200)
            self.assertEqual(self.post(self.at, **asked).status_code, 409)
            self.assertEqual(begun.call_count, 1)
        said: list[float] = []

        def change() -> None:
            with folder.changed():
                said.append(time.monotonic())

        with folder.changed():
            hands = [threading.Thread(target=change) for _ in range(3)]
            for hand in hands:
                hand.start()
            time.sleep(0.2)
            held = time.monotonic()
        for hand in hands:
            hand.join()
        self.assertEqual(len(said), 3)
        self.assertGreater(min(said), held)

    def test_a_clock_set_back_and_spoiled_files_keep_nobody_waiting(self) -> None:
        self.post(self.at, **self.asked())
        self.wait()
        folder = StudyFolder(settings.STUDIES / str(self.job.pk))
        folder.say({"started": time.time() + 3600})
        self.assertFalse(self.client.get(self.at).json()["running"])
        # So it stands after a cut of the power too: nobody said why it ended.
        self.assertIn("take it up again", self.client.get(self.at).json()["said"])
        for name, data in (("state.json", b"[1"), ("state.json", b"[]"), ("front.parquet", b"rubbish")):
            (folder.path / name).write_bytes(data)
            now = self.client.get(self.at)
            self.assertEqual(now.status_code, 200, name)
        self.assertIn("cannot be read", now.json()["said"])
        (folder.path / "study.json").write_bytes(b"{")
        now = self.client.get(self.at).json()
        self.assertEqual((now["asked"], now["running"]), (None, False))
        self.assertIn("Start it again", now["said"])
        self.assertEqual(self.post(self.at, **self.asked()).status_code, 200)
        self.assertEqual(self.wait()["done"], 2)

    def test_a_removed_jobs_study_is_stopped(self) -> None:
        folder = StudyFolder(settings.STUDIES / str(self.job.pk))
        folder.path.mkdir(parents=True)
        remove_job(self.job.owner, self.job)
        self.assertTrue(folder.asked_to_stop())

    def test_refusals_are_sentences(self) -> None:
        self.assertEqual(self.client.post(f"{self.at}/stop").status_code, 404)
        bad = self.asked()
        bad["vary"][0]["places"][0]["box"] = [1, 1, 900]
        refused = self.post(self.at, **bad)
        self.assertEqual(refused.status_code, 422)
        self.assertIn("0 to 200 mm", refused.content.decode())
        folder = StudyFolder(self.data / "studies" / str(self.job.pk))
        folder.path.mkdir(parents=True)
        with folder.held():
            self.assertEqual(self.post(self.at, **self.asked()).json()["code"], "running")
