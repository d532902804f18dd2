"""Stickers of a job over HTTP: printed, pictures taken in, places found, counted in by the survey, and by nobody else's job."""

import json
import tempfile
from pathlib import Path
from typing import Any

import numpy as np
from django.contrib.auth import get_user_model
from django.test import TestCase, override_settings

from engine.layouts.catalogue import layout_named, starting_project
from server.records.tests.walked import Scene, scene, walked_round

Values = dict[str, Any]
FOLDER = tempfile.mkdtemp()
SIZE, MANY, PIXELS = 110.0, 26, (1344, 1008)


def scene_of(document: Values, seed: int) -> tuple[Scene, list[str]]:
    """Return a scene with a sticker on each place of a document's stations and on marks about them, and those places' names."""
    its = scene(seed, MANY, PIXELS, SIZE)
    names = [
        f"{station['name']}/{point}"
        for station in document["stations"]
        for point in sorted(station["points"])
    ][:8]
    for k, name in enumerate(names):
        station, point = name.split("/")
        at = next(one for one in document["stations"] if one["name"] == station)["points"][point]
        its.spots[k] = np.array(at) + its.random.normal(0, 8.0, 3)
    middle = its.spots[: len(names)].mean(axis=0)
    its.spots[len(names) :] += middle * [1, 0, 0]
    names += [f"M{k}" for k in range(len(names), MANY)]
    return its, names


@override_settings(DATA=FOLDER)
class Kept(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("ada", password="x"))
        self.document = starting_project(layout_named("wishbones-lower"))
        answer = self.client.post(
            "/api/jobs/import", json.dumps(self.document), content_type="application/json"
        )
        self.job = answer.json()["id"]
        self.at = f"/api/jobs/{self.job}"

    def post(self, path: str, body: Values, status: int = 200) -> Any:
        answer = self.client.post(path, json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, status, answer.content[:400])
        return answer.json()

    def put(self, kind: str, key: str, body: Any) -> None:
        answer = self.client.put(
            f"{self.at}/survey/{kind}/{key}", json.dumps({"body": body}), content_type="application/json"
        )
        self.assertEqual(answer.status_code, 204, answer.content[:400])

    def take(self, folder: Path, names: list[str]) -> list[str]:
        files = []
        for name in names:
            answer = self.client.post(
                f"{self.at}/photographs?name={name}", (folder / name).read_bytes(), content_type="image/png"
            )
            self.assertEqual(answer.status_code, 201, answer.content[:300])
            files.append(f"{answer.json()['id']}.jpg")
            self.put("picture", answer.json()["id"], {"file": files[-1], "camera": "across"})
        return files

    def survey(self) -> Values:
        found: Values = {"marks": {}, "readings": [], "pictures": []}
        for item in self.client.get(f"{self.at}/survey").json():
            if item["kind"] == "stickers":
                found["stickers"] = item["body"]
            elif item["kind"] == "mark":
                found["marks"][item["key"]] = item["body"]
            else:
                found[f"{item['kind']}s"].append(item["body"])
        return found

    def test_a_whole_walk_is_found_kept_and_counted_in(self) -> None:
        its, names = scene_of(self.document, 3)
        for k in range(8, MANY):
            self.put("mark", f"M{k}", [float(c) for c in its.spots[k] + its.random.normal(0, 40, 3)])
        for n, (kind, axis) in enumerate((("height", 2), ("offset", 1), ("fore_aft", 0))):
            for k in range(8 + 6 * n, 14 + 6 * n):
                self.put(
                    "reading",
                    f"{kind}{k}",
                    {"kind": kind, "of": f"M{k}", "values": [float(its.spots[k, axis])]},
                )
        refused = self.client.get(f"{self.at}/stickers.pdf")
        self.assertEqual(refused.status_code, 422)
        self.assertIn("Give some a number first", refused.json()["detail"])
        self.put(
            "stickers", "stickers", {"size": SIZE, "places": {str(k): name for k, name in enumerate(names)}}
        )
        paper = self.client.get(f"{self.at}/stickers.pdf?paper=Letter")
        self.assertEqual((paper.status_code, paper.content[:5]), (200, b"%PDF-"))
        self.assertIsNone(self.client.get(f"{self.at}/stickers").json())
        none = self.post(f"{self.at}/stickers", {"document": self.document, "survey": self.survey()}, 422)
        self.assertIn("take pictures of the stickers in first", none["detail"])

        with tempfile.TemporaryDirectory() as folder:
            files = self.take(Path(folder), walked_round(its, Path(folder), 12))
        before = self.post(
            "/api/survey", {"document": self.document, "survey": self.survey(), "job": self.job}
        )
        body = {"document": self.document, "survey": self.survey()}
        found = self.post(f"{self.at}/stickers", body)
        self.assertTrue(found["now"])
        self.assertEqual([one["file"] for one in found["pictures"]], files)
        self.assertFalse([one for one in found["said"] if "do not fit together" in one])
        for number, one in found["stickers"].items():
            off = np.abs(np.array(one["at"]) - its.spots[int(number)])
            self.assertLess(float((off / np.array(one["sigma"])).max()), 4.5)
            self.assertLess(float(off.max()), 40.0)
        # The survey counts it in: places of the linkage that no tape has read are known, and off where they are drawn.
        after = self.post("/api/survey", {**body, "job": self.job})
        was, now = ({one["name"]: one for one in shown["places"]} for shown in (before, after))
        seen = [name for k, name in enumerate(names[:8]) if str(k) in found["stickers"]]
        self.assertGreater(len(seen), 3)
        for name in seen:
            self.assertNotIn(name, was)
            off = np.abs(np.array(now[name]["at"]) - its.spots[names.index(name)])
            self.assertLess(float((off / np.array(now[name]["sigma"])).max()), 4.5)
        moved = self.post("/api/survey/take", {**body, "job": self.job, "alike": "own"})["moves"]
        self.assertEqual({f"{one['station']}/{one['point']}" for one in moved}, set(seen))
        self.assertEqual(self.post("/api/survey/take", body)["moves"], [])  # of no job: no pictures

        # A place that is gone takes nothing with it; a station by another name asks for the pictures anew.
        fewer = json.loads(json.dumps(self.document))
        kept = self.client.get(f"{self.at}/stickers").json()
        self.assertTrue(kept["now"])
        survey = self.survey()
        survey["marks"].pop("M25")
        less = self.post("/api/survey", {"document": fewer, "survey": survey, "job": self.job})
        self.assertNotIn("M25", {one["name"] for one in less["places"]})
        for name in seen:
            again = next(one for one in less["places"] if one["name"] == name)
            np.testing.assert_allclose(again["at"], now[name]["at"], atol=0.5)

        # Another sticker, and what was found is of what was there before.
        self.put(
            "stickers", "stickers", {"size": SIZE, "places": {str(k): n for k, n in enumerate(names[:-1])}}
        )
        self.assertFalse(self.client.get(f"{self.at}/stickers").json()["now"])
        stale = self.post(
            "/api/survey", {"document": self.document, "survey": self.survey(), "job": self.job}
        )
        self.assertNotIn(seen[0], {one["name"] for one in stale["places"]})

        # Somebody else's pictures, or a file beside them, are none of this job's.
        for file in ("../db.sqlite3", "another.jpg"):
            survey = self.survey() | {"pictures": [{"file": file, "camera": "across"}]}
            said = self.post(f"{self.at}/stickers", {"document": self.document, "survey": survey}, 422)
            self.assertIn("is no picture of this job", said["detail"])
        self.client.force_login(get_user_model().objects.create_user("eve", password="x"))
        self.assertEqual(self.client.get(f"{self.at}/stickers").status_code, 404)
        self.post(f"{self.at}/stickers", body, 404)
        self.post("/api/survey", {**body, "job": self.job}, 404)
