"""The survey over HTTP and headless: stored as it is entered, worked out, taken in, in and out as file and table."""

import io
import json
import tempfile
from contextlib import redirect_stderr
from pathlib import Path
from typing import Any
from urllib.parse import quote

from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.test import TestCase

from engine.document.check_survey import drawn_places
from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project

Values = dict[str, Any]
KINDS = (("fore_aft", 0), ("offset", 1), ("height", 2))


def surveyed(**more: Any) -> Values:
    """Return a starting job whose every place was read, 3 mm higher than drawn."""
    project = starting_project(layout_named("wishbones-lower"))
    readings = [
        {"kind": kind, "of": name, "values": [spot[axis] + (3 if axis == 2 else 0)]}
        for name, spot in drawn_places(check_project(project)).items()
        for kind, axis in KINDS
    ]
    return {**project, "survey": {"readings": readings, "marks": {"pin": [0, 0, 0]}, **more}}


class Survey(TestCase):
    def setUp(self) -> None:
        self.user = get_user_model().objects.create_user("ada", password="x")
        self.client.force_login(self.user)
        self.document = surveyed()
        self.job = self.post("/api/jobs/import", self.document)["id"]
        self.station = self.document["stations"][0]["name"]

    def post(self, path: str, body: Any, status: int | None = None) -> Any:
        answer = self.client.post(path, json.dumps(body), content_type="application/json")
        self.assertIn(answer.status_code, (200, 201) if status is None else (status,), answer.content[:400])
        return answer.json()

    def put(self, kind: str, key: str, body: Any, status: int = 204) -> Any:
        path = f"/api/jobs/{self.job}/survey/{kind}/{quote(key, safe='')}"
        answer = self.client.put(path, json.dumps({"body": body}), content_type="application/json")
        self.assertEqual(answer.status_code, status, answer.content[:400])
        return answer.json() if status != 204 else None

    def items(self) -> list[Values]:
        return self.client.get(f"/api/jobs/{self.job}/survey").json()

    def newest(self) -> Values:
        return self.client.get(f"/api/jobs/{self.job}").json()["document"]

    def test_a_files_survey_is_kept_beside_the_revisions_and_comes_out_again(self) -> None:
        self.assertNotIn("survey", self.newest())
        self.assertEqual(len(self.items()), len(self.document["survey"]["readings"]) + 1)
        out = self.client.get(f"/api/jobs/{self.job}/revisions/1/project.json").json()
        self.assertEqual(out["survey"]["marks"], {"pin": [0, 0, 0]})
        self.assertEqual(
            [reading["values"] for reading in out["survey"]["readings"]],
            [reading["values"] for reading in self.document["survey"]["readings"]],
        )
        self.assertEqual(out["survey"]["readings"][0]["by"], "ada")
        check_project(out)

    def test_a_reading_sent_twice_is_one_and_one_taken_out_can_come_back(self) -> None:
        before = len(self.items())
        reading = {"kind": "height", "of": "pin", "values": [12.5]}
        self.put("reading", "k1", reading)
        self.put("reading", "k1", reading)
        self.assertEqual(len(self.items()), before + 1)
        self.assertEqual(self.items()[-1]["body"], reading)
        self.client.delete(f"/api/jobs/{self.job}/survey/reading/k1")
        self.assertEqual(len(self.items()), before)
        self.put("reading", "k1", {**reading, "values": [13]})
        self.assertEqual(self.items()[-1]["body"]["values"], [13])

    def test_marks_with_any_name(self) -> None:
        for name in ("pin/2", "ein Loch, hinten", "عمود", "100 %"):
            self.put("mark", name, [1, 2, 3])
            self.assertIn(name, [item["key"] for item in self.items()])

    def test_what_is_no_reading_is_refused_in_a_sentence(self) -> None:
        refusal = self.put("reading", "k", {"kind": "distance", "between": ["a", "b"], "values": [-5]}, 422)
        self.assertEqual(refusal["detail"], "values[0]: must be greater than 0, got -5")
        refusal = self.put("reading", "k", {"kind": "laser"}, 422)
        self.assertIn("give one of distance, height", refusal["detail"])
        self.assertIn("must be a number", self.put("mark", "m", ["x", 0, 0], 422)["detail"])

    def test_strangers_learn_nothing(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("eve", password="x"))
        self.assertEqual(self.client.get(f"/api/jobs/{self.job}/survey").status_code, 404)
        self.put("mark", "m", [0, 0, 0], 404)

    def test_the_screen_says_what_the_headless_command_says(self) -> None:
        body = {"document": self.newest(), "survey": self.document["survey"]}
        shown = self.post("/api/survey", body)
        with tempfile.TemporaryDirectory() as folder:
            file, out = Path(folder) / "job.json", Path(folder) / "out.json"
            file.write_text(json.dumps(self.document))
            call_command("survey", str(file), "--out", str(out))
            headless = json.loads(out.read_text())
        for place in shown["places"]:
            if place["name"] in headless["points"]:
                told = headless["points"][place["name"]]
                for one, other in zip(place["at"], told["at"], strict=True):
                    self.assertAlmostEqual(one, other, places=3)
        self.assertEqual([one["would_be"] for one in headless["readings"]], [None] * len(shown["readings"]))
        self.assertEqual(shown["mark"], "good")
        self.assertIn("points located to ±{within}", shown["verdict"]["words"])

    def test_the_headless_command_refuses_in_sentences(self) -> None:
        bad = surveyed()
        bad["survey"]["readings"][3]["of"] = "nowhere"
        bad["survey"]["readings"][4]["values"] = []
        for document, words in (
            ({key: value for key, value in bad.items() if key != "survey"}, "survey: is missing"),
            (bad, "survey.readings[4].values: needs at least 1 entries"),
        ):
            with tempfile.TemporaryDirectory() as folder, redirect_stderr(io.StringIO()) as said:
                file = Path(folder) / "job.json"
                file.write_text(json.dumps(document))
                with self.assertRaises(SystemExit) as end:
                    call_command("survey", str(file), stderr=said)
            self.assertEqual(end.exception.code, 2)
            self.assertIn(words, said.getvalue())

    def test_places_taken_in_move_the_ride_as_the_engine_says(self) -> None:
        document = self.newest()
        taken = self.post("/api/survey/take", {"document": document, "survey": self.document["survey"]})
        top = next(move for move in taken["moves"] if move["point"] in document["stations"][0]["points"])
        self.assertAlmostEqual(top["after"][2] - top["before"][2], 3.0, places=2)
        (effect,) = taken["effects"]
        view = self.post("/api/solve", {"document": taken["document"], "station": 0})
        self.assertAlmostEqual(effect["after"]["ride_travel"], view["ride"]["travel"], places=3)
        some = self.post(
            "/api/survey/take",
            {
                "document": document,
                "survey": self.document["survey"],
                "without": [f"{top['station']}/{top['point']}"],
            },
        )
        self.assertEqual(len(some["moves"]), len(taken["moves"]) - 1)

    def test_a_station_given_another_name_keeps_its_readings(self) -> None:
        document = self.newest()
        document["stations"][0]["name"] = "Nose"
        self.post(f"/api/jobs/{self.job}/revisions", {"parent": 1, "reason": "named", "document": document})
        readings = [item["body"] for item in self.items() if item["kind"] == "reading"]
        self.assertTrue(all(reading["of"].startswith("Nose/") for reading in readings))

    def test_readings_of_a_place_that_is_gone_are_set_aside_and_stay_in_the_file(self) -> None:
        survey = self.document["survey"]
        lost = {"kind": "height", "of": "Gone/top", "values": [5]}
        shown = self.post(
            "/api/survey",
            {"document": self.newest(), "survey": {**survey, "readings": [lost, *survey["readings"]]}},
        )
        self.assertTrue(shown["readings"][0]["aside"])
        self.assertFalse(shown["readings"][1]["aside"])
        self.put("reading", "lost", lost)
        out = self.client.get(f"/api/jobs/{self.job}/revisions/1/project.json").json()
        self.assertEqual(out["survey"]["set_aside"]["readings"][0]["of"], "Gone/top")
        check_project(out)

    def test_what_to_read_and_what_to_read_next(self) -> None:
        plan = self.post("/api/survey/plan", {"document": self.newest(), "station": 0})
        points = self.document["stations"][0]["points"]
        self.assertEqual({one["places"][0].split("/")[1] for one in plan}, set(points))
        self.assertTrue(all(one["hint"] for one in plan))
        body = {"document": self.newest(), "survey": self.document["survey"]}
        aims = self.post("/api/survey/aims", body)
        self.assertEqual(aims[0]["said"], f"ride height, {self.station}")
        best = self.post("/api/survey/next", {**body, "figure": "ride height", "of": self.station})
        self.assertTrue(best)
        self.assertTrue(all(one["then"] < one["now"] for one in best))
        self.assertEqual(self.post("/api/survey/next", {**body, "figure": "ride height", "of": "nobody"}), [])

    def test_readings_go_out_as_a_table_and_come_back(self) -> None:
        table = self.client.get(f"/api/jobs/{self.job}/survey.csv").content
        answer = self.client.post("/api/survey/readings-in", table, content_type="text/csv")
        self.assertEqual(
            [reading["values"] for reading in answer.json()["readings"]],
            [reading["values"] for reading in self.document["survey"]["readings"]],
        )

    def test_tables_that_are_none(self) -> None:
        head = b"kind,first,second,third,seen,tool,values,note,left_out\n"
        for table, words in (
            (b"", "The first row must name the columns"),
            (b"\xff\xfe\x00", "not text in UTF-8"),
            (head, "holds no readings"),
            (head + b"distance,A,B,,,,six,,\n", "row 2: values must be numbers in mm or degrees"),
            (head + b"distance,A,B,,,,-6,,\n", "row 2: values[0] must be greater than 0"),
            (head + b"height,A,,,,,6,,\n" * 3100, "more than 3000 rows"),
            (b"x" * 2_100_000, "MB; readings are at most 2 MB"),
        ):
            answer = self.client.post("/api/survey/readings-in", table, content_type="text/csv")
            self.assertEqual(answer.status_code, 422, words)
            self.assertIn(words, answer.json()["detail"])
        office = b"kind;first;second;values\ndistance;A;B;612,5 613\n"
        (reading,) = self.client.post("/api/survey/readings-in", office, content_type="text/csv").json()[
            "readings"
        ]
        self.assertEqual(reading["values"], [612.5, 613.0])
