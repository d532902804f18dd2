"""Records over HTTP and headless: kept one by one, proved with the document in hand, out and in again with the file."""

import copy
import csv
import io
import json
import tempfile
from pathlib import Path
from typing import Any

import numpy as np
from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.test import TestCase

from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.station.solved import solve_station


def started() -> dict[str, Any]:
    return copy.deepcopy(starting_project(layout_named("wishbones-lower")))


def cycle(document: dict[str, Any], by: float = 0.0) -> dict[str, Any]:
    """Return a cycle of the first station, its spring's upper mount so far out of place."""
    crooked = copy.deepcopy(document)
    station = crooked["stations"][0]
    unit = next(unit for unit in station["units"] if unit["kind"] == "coilover")
    top = next(end for end in unit["ends"] if end in station["chassis"])
    station["points"][top][2] += by
    solved = solve_station(check_project(crooked).stations[0])
    travel = solved.station.travel
    travels = np.linspace(-travel.droop, travel.bump, 9)
    lengths = solved.at(travels).units[unit["name"]].length
    rows = [
        {"wheel": float(z), "lengths": {unit["name"]: float(long)}}
        for z, long in zip(travels, lengths, strict=True)
    ]
    return {
        "kind": "cycle",
        "when": "2026-11-20T08:00:00",
        "station": station["name"],
        "springs_out": True,
        "tyre_on": True,
        "rows": rows,
    }


class Api(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("ada", password="x"))
        self.document = started()
        sent = self.sent("/api/jobs/import", self.document)
        self.job = sent.json()["id"]

    def sent(self, path: str, body: Any):  # type: ignore[no-untyped-def]
        return self.client.post(path, json.dumps(body), content_type="application/json")

    def put(self, key: str, body: Any):  # type: ignore[no-untyped-def]
        path = f"/api/jobs/{self.job}/survey/record/{key}"
        return self.client.put(path, json.dumps({"body": body}), content_type="application/json")

    def test_a_job_without_records_says_what_comes_first(self) -> None:
        proof = self.sent("/api/prove", {"document": self.document, "records": []}).json()
        self.assertIn("Nothing is cycled or weighed yet", proof["verdict"]["words"])
        self.assertEqual(len(proof["wheels"]), 2)
        self.assertTrue(proof["curves"][0]["points"])
        self.assertTrue(any(not gate["met"] for gate in proof["gates"]))

    def test_a_cycle_is_proved_and_taken_as_built(self) -> None:
        record = cycle(self.document, by=7.0)
        about = {"document": self.document, "records": [record]}
        proof = self.sent("/api/prove", about).json()
        (told,) = proof["cycles"]
        self.assertGreater(told["rms"], 1.0)
        self.assertTrue(told["causes"])
        self.assertEqual(len(told["built"]), 9)
        taken = self.sent("/api/prove/take", {**about, "record": 0}).json()["document"]
        moved = [
            name
            for name, spot in taken["stations"][0]["points"].items()
            if spot != self.document["stations"][0]["points"][name]
        ]
        self.assertTrue(moved)
        again = self.sent("/api/prove", {"document": taken, "records": [record]}).json()
        self.assertLess(again["cycles"][0]["rms"], told["rms"] / 3)
        gone = self.sent("/api/prove/take", {**about, "record": 4})
        self.assertEqual(gone.status_code, 404)

    def test_records_are_kept_one_by_one_and_refused_with_a_sentence(self) -> None:
        self.assertEqual(self.put("a", cycle(self.document)).status_code, 204)
        refused = self.put("b", {"kind": "cycle", "when": "2026-11-20"})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("is missing", refused.json()["detail"])
        items = self.client.get(f"/api/jobs/{self.job}/survey").json()
        self.assertEqual([item["kind"] for item in items], ["record"])
        self.client.delete(f"/api/jobs/{self.job}/survey/record/a")
        self.assertEqual(self.client.get(f"/api/jobs/{self.job}/survey").json(), [])

    def test_records_go_out_with_the_file_and_come_in_again(self) -> None:
        drive = {
            "kind": "drive",
            "when": "2026-11-23T10:00:00",
            "note": "settled and quiet",
            "used_bump": 44.0,
        }
        self.put("z", drive)
        self.put("a", cycle(self.document))
        out = self.client.get(f"/api/jobs/{self.job}/revisions/1/project.json").json()
        self.assertEqual([one["kind"] for one in out["records"]], ["cycle", "drive"])  # in order of time
        self.assertNotIn("records", out.get("survey", {}))
        other = self.sent("/api/jobs/import", out).json()["id"]
        again = self.client.get(f"/api/jobs/{other}/revisions/1/project.json").json()
        self.assertEqual(len(again["records"]), 2)
        self.assertEqual(again["records"][1]["used_bump"], 44.0)

    def test_the_book_goes_out_as_a_table(self) -> None:
        self.put("a", cycle(self.document))
        self.put(
            "b",
            {
                "kind": "weigh",
                "when": "2026-11-21T08:00:00",
                "wheels": {"Front left": 210.0},
                "heights": {"Front left": 118.0},
            },
        )
        self.put("c", {"kind": "drive", "when": "2026-11-23", "note": "=quiet", "used_bump": 44.0})
        rows = list(
            csv.DictReader(io.StringIO(self.client.get(f"/api/jobs/{self.job}/records.csv").content.decode()))
        )
        self.assertEqual([row["kind"] for row in rows], ["cycle"] * 11 + ["weigh"] * 2 + ["drive"])
        self.assertEqual((rows[11]["value"], rows[11]["unit"]), ("210", "kg"))
        self.assertEqual(rows[13]["note"], "'=quiet")
        self.client.logout()
        self.assertNotEqual(self.client.get(f"/api/jobs/{self.job}/records.csv").status_code, 200)

    def test_a_weigh_in_says_what_to_turn(self) -> None:
        document = copy.deepcopy(self.document)
        station = document["stations"][0]
        station["datum"] = {"name": "sill", "height": 140.0}
        first = self.sent("/api/prove", {"document": document, "records": []}).json()
        scales = {wheel["key"]: wheel["planned"] + 5.0 for wheel in first["wheels"]}
        heights = {key: height - 6.0 for key, height in first["datums"].items()}
        record = {
            "kind": "weigh",
            "when": "2026-11-21T08:00:00",
            "with": "driver",
            "wheels": scales,
            "heights": heights,
        }
        (told,) = self.sent("/api/prove", {"document": document, "records": [record]}).json()["weighs"]
        self.assertAlmostEqual(told["total"], sum(scales.values()))
        self.assertTrue(all(turn["by"] > 0 for turn in told["turns"]))  # it stands too low: up with it
        for key, height in told["after"]["heights"].items():
            self.assertAlmostEqual(height, first["datums"][key], delta=0.2)


class Headless(TestCase):
    def test_prove_prints_the_contract_and_refuses_with_sentences(self) -> None:
        document = started()
        document["records"] = [
            cycle(document, by=6.0),
            {"kind": "drive", "when": "2026-11-22", "note": "quiet"},
        ]
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "job.json"
            path.write_text(json.dumps(document))
            out = io.StringIO()
            call_command("prove", str(path), stdout=out)
            told = json.loads(out.getvalue())
            self.assertEqual((told["format"], told["version"]), ("jugatrix-proof", 1))
            self.assertEqual(told["cycles"][0]["record"], 0)
            for key in ("rms", "worst", "built", "causes", "cannot_tell", "ride"):
                self.assertIn(key, told["cycles"][0])
            file = Path(folder) / "proof.json"
            call_command("prove", str(path), "--out", str(file), stdout=io.StringIO())
            self.assertEqual(json.loads(file.read_text()), told)
            document["records"] = [{"kind": "weight", "when": "2026-11-22"}]
            path.write_text(json.dumps(document))
            said = io.StringIO()
            with self.assertRaises(SystemExit) as end:
                call_command("prove", str(path), stderr=said)
            self.assertEqual(end.exception.code, 2)
            self.assertIn("records[0]", said.getvalue())


class Standing(TestCase):
    """How the vehicle stands under what is done to it."""

    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create(username="bench"))

    def stands(self, document: dict[str, Any], **asked: Any) -> Any:
        return self.client.post(
            "/api/prove/stands", {"document": document, **asked}, content_type="application/json"
        )

    def test_braking_a_load_and_a_block_each_move_the_weight_where_they_should(self) -> None:
        document = started()
        document["vehicle"] = {"floor": document.get("vehicle", {}).get("floor", 0.0), "cg_height": 450.0}
        flat = self.stands(document).json()
        first, second = flat["scales"]
        block = self.stands(document, blocks={first: 40.0}).json()
        self.assertGreater(block["heights"].get(first, 1.0), flat["heights"].get(first, 0.0))
        self.assertGreater(block["roll"], flat["roll"])  # its left side is up
        corner = self.stands(document, corner_g=0.5).json()
        self.assertGreater(corner["scales"][second], flat["scales"][second])
        self.assertAlmostEqual(sum(corner["scales"].values()), sum(flat["scales"].values()), places=3)

    def test_what_is_not_there_is_named(self) -> None:
        document = started()
        document.pop("vehicle", None)
        for asked, words in (
            ({"brake_g": 1.0}, "how high the centre of gravity"),
            ({"load": "tank"}, "no load case called tank"),
            ({"blocks": {"Fifth": 40.0}}, "no wheel called Fifth"),
            ({"blocks": {"Fifth": -4.0}}, ""),
        ):
            answer = self.stands(document, **asked)
            self.assertEqual(answer.status_code, 422, asked)
            self.assertIn(words, answer.json()["detail"])
