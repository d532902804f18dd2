"""Photographs: taken in safely, straightened by board and by corners, and places picked in them found to a millimetre."""

import io
import json
import tempfile
from typing import Any
from urllib.parse import quote

import numpy as np
from django.contrib.auth import get_user_model
from django.test import TestCase, override_settings
from PIL import Image

from engine.layouts.catalogue import layout_named, starting_project
from server.records.tests.rendered import DOTS, dots_in, photographed

Values = dict[str, Any]
FOLDER = tempfile.mkdtemp()


@override_settings(DATA=FOLDER)
class Photographs(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("ada", password="x"))
        project = starting_project(layout_named("wishbones-lower"))
        answer = self.client.post("/api/jobs/import", json.dumps(project), content_type="application/json")
        self.job = answer.json()["id"]
        self.at = f"/api/jobs/{self.job}/photographs"

    def send(self, data: bytes, kind: str = "image/jpeg", status: int = 201) -> Values:
        answer = self.client.post(f"{self.at}?name={quote('left side')}", data, content_type=kind)
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer.json()

    def straighten(self, picture: str, body: Values, status: int = 201) -> Values:
        answer = self.client.post(
            f"{self.at}/{picture}/straighten", json.dumps(body), content_type="application/json"
        )
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer.json()

    def pixels(self, picture: str) -> bytes:
        answer = self.client.get(f"{self.at}/{picture}.jpg")
        self.assertEqual(answer.headers["Content-Type"], "image/jpeg")
        return answer.content

    def test_a_picture_is_turned_upright_and_loses_its_place_and_time(self) -> None:
        plain = Image.new("RGB", (80, 40), "white")
        exif = Image.Exif()
        exif[0x0112] = 6  # lying on its side
        exif[0x0132] = "2026:11:26 10:00:00"
        exif.get_ifd(0x8825)[1] = "N"
        out = io.BytesIO()
        plain.save(out, "JPEG", exif=exif)
        kept = self.send(out.getvalue())
        self.assertEqual((kept["width"], kept["height"]), (40, 80))
        stored = Image.open(io.BytesIO(self.pixels(kept["id"])))
        self.assertEqual(dict(stored.getexif()), {})
        self.assertEqual([one["name"] for one in self.client.get(self.at).json()], ["left side"])

    def test_what_is_no_picture_is_refused_in_a_sentence(self) -> None:
        whole = io.BytesIO()
        Image.effect_noise((400, 400), 60).save(whole, "PNG")
        for data, words in (
            (b"MZ\x90\x00" + b"\x00" * 5000, "no picture that can be read"),
            (b"", "The file is empty"),
            (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "no picture that can be read"),
            (whole.getvalue()[:3000], "or it is cut off"),
            (b"GIF89a" + b"\x00" * 100, "Give a JPEG or a PNG"),
        ):
            self.assertIn(words, self.send(data, status=422)["detail"])
        self.assertIn("at most 25 MB", self.send(b"\xff\xd8" + b"\x00" * 25_000_001, status=413)["detail"])
        bomb = io.BytesIO()
        Image.new("1", (12_000, 9_000)).save(bomb, "PNG")
        self.assertIn(
            "108 megapixels; 60 is the most", self.send(bomb.getvalue(), "image/png", 422)["detail"]
        )
        self.assertEqual(self.client.get(self.at).json(), [])

    def test_a_pictures_comment_goes_too(self) -> None:
        out = io.BytesIO()
        Image.new("RGB", (80, 40), "white").save(out, "JPEG", comment=b"taken by somebody, somewhere")
        kept = self.pixels(self.send(out.getvalue())["id"])
        self.assertNotIn(b"somebody", kept)
        self.assertNotIn("comment", Image.open(io.BytesIO(kept)).info)

    def test_a_strip_and_a_stack_of_layers_are_refused_before_they_are_unpacked(self) -> None:
        strip = io.BytesIO()
        Image.new("1", (1, 60_000)).save(strip, "PNG")
        self.assertIn(
            "60000 pixels long; 20000 is the most", self.send(strip.getvalue(), "image/png", 422)["detail"]
        )
        plain = io.BytesIO()
        Image.new("L", (64, 64)).save(plain, "JPEG", progressive=True)
        layered = plain.getvalue()[:-2] + b"\xff\xda\x00\x08\x01\x01\x00\x00\x3f\x00" * 300 + b"\xff\xd9"
        self.assertIn("too many layers", self.send(layered, status=422)["detail"])
        self.assertEqual(self.client.get(self.at).json(), [])

    def test_the_board_straightens_and_scales_and_places_are_found_to_a_millimetre(self) -> None:
        jpeg, _ = photographed()
        picture = self.send(jpeg)
        flat = self.straighten(picture["id"], {})
        self.assertIn("corners of the board lie within", flat["said"])
        self.found(flat, within=0.5)

    def test_four_corners_of_a_rectangle_do_it_too(self) -> None:
        jpeg, to_pixels = photographed(with_board=False)
        picture = self.send(jpeg)
        corners = np.array([[0, 0, 1], [180, 0, 1], [180, 240, 1], [0, 240, 1]]) @ to_pixels.T
        spots = (corners[:, :2] / corners[:, 2:]).tolist()
        flat = self.straighten(picture["id"], {"corners": spots, "width": 180, "height": 240})
        self.found(flat, within=1.0)
        turned = self.straighten(
            picture["id"], {"corners": spots[::-1], "width": 180, "height": 240}, status=422
        )
        self.assertIn("clockwise from the upper left", turned["detail"])
        self.assertIn("No board of markers is seen", self.straighten(picture["id"], {}, status=422)["detail"])

    def found(self, flat: Values, within: float) -> None:
        """Pick the dots in a straightened picture, hand them in as a survey, and compare with where they are."""
        (zero, _), scale = flat["ends"], 1 / flat["mm_per_pixel"]
        near = {name: (zero[0] + x * scale, zero[1] + y * scale) for name, (x, y) in DOTS.items()}
        picked = dots_in(self.pixels(flat["id"]), near, round(9 * scale))
        # On the left side of a car: to the right in the picture is aft.
        true = {name: [-x, 500.0, 800.0 - y] for name, (x, y) in DOTS.items()}
        held = [
            {"kind": kind, "of": name, "values": [true[name][axis]], "sigma": 0.1}
            for name in ("A", "B")
            for axis, kind in ((0, "fore_aft"), (2, "height"))
        ]
        held += [{"kind": "offset", "of": name, "values": [500.0]} for name in DOTS]
        photo = {
            "name": "left",
            "plane": "side",
            "reference": {"ends": flat["ends"], "length": flat["length"]},
            "picked": picked,
        }
        survey = {
            "marks": {name: [x + 14, y, z + 11] for name, (x, y, z) in true.items()},
            "readings": held,
            "photos": [photo],
        }
        body = {"document": self.client.get(f"/api/jobs/{self.job}").json()["document"], "survey": survey}
        shown = self.client.post("/api/survey", json.dumps(body), content_type="application/json").json()
        for place in shown["places"]:
            off = np.linalg.norm(np.array(place["at"]) - true[place["name"]])
            self.assertLess(off, within, place["name"])
        self.assertTrue(shown["photos"][0]["fits"])

    def test_the_board_is_a_page_of_each_paper(self) -> None:
        for paper in ("a4", "letter"):
            answer = self.client.get(f"/api/survey/board.pdf?paper={paper}")
            self.assertTrue(answer.content.startswith(b"%PDF"))
        self.assertEqual(self.client.get("/api/survey/board.pdf?paper=a0").status_code, 422)

    def test_strangers_see_no_picture(self) -> None:
        jpeg, _ = photographed()
        picture = self.send(jpeg)["id"]
        self.client.force_login(get_user_model().objects.create_user("eve", password="x"))
        self.assertEqual(self.client.get(f"{self.at}/{picture}.jpg").status_code, 404)
        self.assertEqual(self.client.get(self.at).status_code, 404)

    def test_one_taken_out_is_listed_no_more(self) -> None:
        jpeg, _ = photographed()
        picture = self.send(jpeg)["id"]
        self.assertEqual(self.client.delete(f"{self.at}/{picture}").status_code, 204)
        self.assertEqual(self.client.get(self.at).json(), [])
