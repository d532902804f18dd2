"""From cardboard to a part over HTTP: found, refused in sentences, compared with what it should be."""

import json
from typing import Any

import numpy as np
from django.contrib.auth import get_user_model
from django.test import TestCase

from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.outline import area_of, bulged
from server.demo.card_photo import CARD, COLOURS, HOLES, rendered
from server.jobs.models import Job
from server.records.actions.photographs import keep_photograph, straighten
from server.records.models import Photograph


class Cards(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.user = get_user_model().objects.create_user("ada", password="x")
        cls.document: dict[str, Any] = starting_project(layout_named("pushrod"))
        cls.job = Job.objects.create(name="card job", owner=cls.user, stations=[])
        cls.taken = keep_photograph(
            cls.user, cls.job, "card", rendered(*COLOURS["grey card on a dark bench"], 3)
        )
        cls.straight = straighten(cls.user, cls.taken, None, None)

    def setUp(self) -> None:
        self.client.force_login(self.user)

    def sent(self, photograph: Photograph, what: str, **body: Any):  # type: ignore[no-untyped-def]
        path = f"/api/jobs/{self.job.pk}/photographs/{photograph.pk}/{what}"
        return self.client.post(path, json.dumps(body), content_type="application/json")

    def at(self) -> list[float]:
        """Return a place on the card in the straightened picture, px."""
        scale, ends = self.straight.mm_per_pixel, self.straight.ends
        assert scale is not None and ends is not None
        return [340.0 / scale + ends[0][0], 90.0 / scale + ends[0][1]]

    def test_a_card_is_found_with_its_area_and_its_holes(self) -> None:
        card = self.sent(self.straight, "card", at=self.at()).json()
        outline = bulged([(*corner["at"], corner["bulge"]) for corner in card["outline"]])
        self.assertAlmostEqual(abs(area_of(outline)), abs(area_of(bulged(CARD))), delta=260)
        self.assertEqual(len(card["holes"]), len(HOLES))
        found = sorted(hole["diameter"] for hole in card["holes"])
        for got, want in zip(found, sorted(across for _, _, across in HOLES), strict=True):
            self.assertAlmostEqual(got, want, delta=0.6)
        self.assertEqual(
            [one["words"] for one in card["said"]], ["Over the card the picture is good to {error}."]
        )
        self.assertTrue(0.05 < card["said"][0]["quantities"]["error"]["value"] < 1.2)

    def test_a_picture_that_is_not_straight_and_a_place_outside_are_said(self) -> None:
        crooked = self.sent(self.taken, "card", at=[900.0, 900.0])
        self.assertEqual(crooked.status_code, 422)
        self.assertIn("Straighten", crooked.json()["detail"])
        outside = self.sent(self.straight, "card", at=[-4.0, 10.0])
        self.assertIn("inside the picture", outside.json()["detail"])

    def test_a_cut_part_is_laid_on_its_drawing(self) -> None:
        card = self.sent(self.straight, "card", at=self.at()).json()
        document = json.loads(json.dumps(self.document))
        outline = [
            {"at": [round(c, 3) for c in corner["at"]], "bulge": corner["bulge"]}
            for corner in card["outline"]
        ]
        middle = np.mean([corner["at"] for corner in outline], axis=0)
        for corner in outline:
            corner["at"] = [round(float(c - m), 3) for c, m in zip(corner["at"], middle, strict=True)]
        holes = [
            {
                "at": [round(float(c - m), 3) for c, m in zip(hole["at"], middle, strict=True)],
                "diameter": round(hole["diameter"], 2),
            }
            for hole in card["holes"]
        ]
        choice = {"kind": "template", "name": "bracket", "outline": outline, "holes": holes, "thickness": 4.0}
        document["stations"][0]["make"] = {"parts": [choice]}
        about = {
            "at": self.at(),
            "document": document,
            "station": document["stations"][0]["name"],
            "name": "bracket",
        }
        told = self.sent(self.straight, "compare", **about).json()
        self.assertEqual(told["mark"], "good")
        self.assertLess(abs(told["most"]), 0.8)
        choice["holes"][0]["at"][0] += 4.0
        moved = self.sent(self.straight, "compare", **about).json()
        self.assertEqual(moved["mark"], "warning")
        gone = self.sent(self.straight, "compare", **{**about, "name": "nothing"})
        self.assertEqual(gone.status_code, 404)
