"""Pictures rendered as a telephone takes them: corners to a tenth of a pixel, places, a print of the wrong size, and what is refused."""

import json
import re
import tempfile
from io import StringIO
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from django.core.management import call_command
from django.test import SimpleTestCase

from engine.document.read import read_project
from engine.survey.stickers.seeing import CORNERS, projected
from server.records.pictures.sticker_sheet import stickers_pdf
from server.records.pictures.stickers import family, pictures_in
from server.records.pictures_file import with_pictures
from server.records.tests.walked import Scene, datum_readings, project_of, scene, walked_round

HALF = (2016, 1512)
SIZE = 80.0  # at half the pixels what 40 mm is at all of them


def apart(at: np.ndarray, true: np.ndarray) -> np.ndarray:
    """Return how far places (n, 3) mm are from the true ones once the whole is laid on them (Kabsch 1976), (n,)."""
    one, other = at - at.mean(axis=0), true - true.mean(axis=0)
    u, _, v = np.linalg.svd(one.T @ other)
    turn = (u @ np.diag([1.0, 1.0, np.sign(np.linalg.det(u @ v))]) @ v).T
    return np.linalg.norm(one @ turn.T - other, axis=1)


class Rendered(SimpleTestCase):
    folder: tempfile.TemporaryDirectory[str]
    its: Scene
    names: list[str]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.folder = tempfile.TemporaryDirectory()
        cls.its = scene(5, 40, HALF, SIZE)
        cls.names = walked_round(cls.its, Path(cls.folder.name), 16)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.folder.cleanup()
        super().tearDownClass()

    def project(self, rough: float = 30.0, **survey: Any) -> dict[str, Any]:
        values = project_of(self.its, self.names, rough, datum_readings(self.its, 5))
        values["survey"] |= survey
        return values

    def test_corners_are_found_to_a_tenth_of_a_pixel(self) -> None:
        project = read_project(json.dumps(self.project()))
        assert project.survey is not None
        pictures = pictures_in(Path(self.folder.name), project.survey)
        off = []
        for one in pictures.seen:
            turn, shift = self.its.shots[one.picture]
            world = CORNERS * SIZE @ self.its.lie[one.number].T + self.its.spots[one.number]
            true = projected(world @ turn.T + shift, np.repeat(self.its.camera[None], 4, axis=0))[0]
            off.append(np.abs(one.corners - true))
        self.assertGreater(len(off), 100)
        self.assertLess(float(np.sqrt(np.mean(np.square(off)))), 0.12)
        self.assertLess(float(abs(np.mean(off) - np.median(off))), 0.05)

    def test_places_are_found_with_their_own_errors(self) -> None:
        values = with_pictures(read_project(json.dumps(self.project())), Path(self.folder.name))
        off, share = [], []
        for number, one in values["stickers"].items():
            point = values["points"][one["place"]]
            its = np.array(point["at"]) - self.its.spots[int(number)]
            off.append(float(np.linalg.norm(its)))
            share += list(its / np.array(point["sigma"]))
            face = float(np.array(one["face"]) @ self.its.lie[int(number)][:, 2])
            self.assertGreater(face, 0.999)
        self.assertGreater(len(off), 30)
        self.assertLess(float(np.quantile(off, 0.9)), 3.0)
        self.assertTrue(0.6 < float(np.sqrt(np.mean(np.square(share)))) < 1.5)
        self.assertAlmostEqual(values["cameras"]["telephone"]["focal"], self.its.camera[0], delta=5.0)
        self.assertAlmostEqual(values["print_scale"]["value"], 1.0, delta=0.002)
        self.assertEqual((values["slips"], values["suspects"]), ([], []))
        at = -self.its.shots[3][0].T @ self.its.shots[3][1]
        np.testing.assert_allclose(values["pictures"][3]["at"], at, atol=12.0)

    def test_places_that_are_drawn_anywhere_are_found_from_the_stickers_alone(self) -> None:
        for turn in (np.eye(3), np.diag([-1.0, -1.0, 1.0])):  # also drawn the wrong way round
            values = self.project(rough=1500.0)
            marks = values["survey"]["marks"]
            values["survey"]["marks"] = {name: list(turn @ np.array(at)) for name, at in marks.items()}
            values = with_pictures(read_project(json.dumps(values)), Path(self.folder.name))
            at = np.array([one["at"] for one in values["stickers"].values()])
            true = np.array([self.its.spots[int(number)] for number in values["stickers"]])
            self.assertGreater(len(at), 30)
            # Where the whole stands is for a few readings of a millimetre to say; how it stands among itself, for the pictures.
            self.assertLess(float(np.linalg.norm(at - true, axis=1).max()), 20.0)
            self.assertLess(float(np.quantile(apart(at, true), 0.9)), 4.0)
            self.assertFalse([one for one in values["said"] if "do not fit together" in one])

    def test_pictures_that_do_not_belong_together_are_said_to_be_no_good(self) -> None:
        values = self.project()
        places = values["survey"]["stickers"]["places"]
        # Half of the stickers have another size than is said: nothing of them fits the rest.
        values["survey"]["stickers"]["places"] = {
            number: {"place": place, "size": SIZE * (0.4 + 0.08 * int(number) % 1.3)}
            for number, place in places.items()
        }
        said = " ".join(with_pictures(read_project(json.dumps(values)), Path(self.folder.name))["said"])
        self.assertIn("do not fit together", said)
        self.assertIn("Do not build on these places", said)

    def test_tapes_alone_give_the_scale_and_the_pictures_the_rest(self) -> None:
        values = self.project(rough=100.0)
        tapes = [one for one in values["survey"]["readings"] if one["kind"] == "distance"]
        values["survey"]["readings"] = tapes
        found = with_pictures(read_project(json.dumps(values)), Path(self.folder.name))
        at = np.array([one["at"] for one in found["stickers"].values()])
        true = np.array([self.its.spots[int(number)] for number in found["stickers"]])
        self.assertLess(float(np.quantile(apart(at, true), 0.9)), 3.0)
        self.assertAlmostEqual(found["cameras"]["telephone"]["focal"], self.its.camera[0], delta=5.0)
        self.assertIn("No reading says where the whole of it stands", " ".join(found["said"]))

    def test_a_print_of_the_wrong_size_is_found_from_the_tapes_and_said(self) -> None:
        project = self.project()
        project["survey"]["stickers"]["size"] = SIZE / 0.97
        values = with_pictures(read_project(json.dumps(project)), Path(self.folder.name))
        self.assertAlmostEqual(values["print_scale"]["value"], 0.97, delta=0.002)
        said = " ".join(values["said"])
        self.assertRegex(said, r"The stickers are (2\.9|3\.0|3\.1)% smaller than survey.stickers says")

    def test_the_command_says_it_and_refuses_in_sentences(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "job.json"

            def run(values: dict[str, Any], pictures: str) -> tuple[int, str, str]:
                file.write_text(json.dumps(values), "utf-8")
                out, err = StringIO(), StringIO()
                try:
                    call_command("survey", str(file), "--pictures", pictures, stdout=out, stderr=err)
                except SystemExit as end:
                    return int(end.code or 0), out.getvalue(), err.getvalue()
                return 0, out.getvalue(), err.getvalue()

            status, out, err = run(self.project(), self.folder.name)
            self.assertEqual((status, err), (0, ""))
            self.assertTrue({"points", "pictures", "cameras", "stickers"} <= set(json.loads(out)))
            bare = self.project()
            del bare["survey"]["stickers"]
            strange = self.project()
            strange["survey"]["stickers"]["places"]["3"] = "nowhere"
            twice = self.project()
            twice["survey"]["pictures"].append(twice["survey"]["pictures"][0])
            lost = self.project()
            lost["survey"]["pictures"][0]["file"] = "gone.png"
            broken = Path(folder) / "broken"
            broken.mkdir()
            for name in self.names:
                (broken / name).write_text("no picture", "utf-8")
            empty = Path(folder) / "empty"
            empty.mkdir()
            cv2.imwrite(str(empty / "a.png"), np.full((400, 600), 120, np.uint8))
            none = self.project(pictures=[])
            for values, where, words in (
                (bare, self.folder.name, "survey.stickers: is missing"),
                (strange, self.folder.name, "survey.stickers.places.3"),
                (twice, self.folder.name, "stands twice"),
                (lost, self.folder.name, "gone.png: is not in"),
                (self.project(), str(broken), "is no picture that can be read"),
                (self.project(), str(Path(folder) / "no folder"), "is no folder"),
                (none, str(empty), "four of the survey's stickers"),
            ):
                status, out, err = run(values, where)
                self.assertEqual((status, out), (2, ""), words)
                self.assertIn(words, err)
                self.assertNotIn("Traceback", err)


class Sheets(SimpleTestCase):
    def test_printed_stickers_are_read_by_their_numbers_and_are_their_size(self) -> None:
        project = read_project(json.dumps(project_of(scene(1, 9, HALF, 40.0), [], 0.0, [])))
        assert project.survey is not None
        data = stickers_pdf(project.survey, "A4", "Stickers")
        self.assertTrue(data.startswith(b"%PDF"))
        text = data.decode("latin-1")
        # Each square is drawn as one black box of its own side, with white ones in it.
        side = 40.0 * 72 / 25.4
        boxes = [tuple(map(float, found)) for found in re.findall(r"([\d.]+) ([\d.]+) re", text)]
        self.assertEqual(sum(abs(a - side) < 0.01 and abs(b - side) < 0.01 for a, b in boxes), 9)

    def test_a_job_keeps_its_stickers_cameras_and_pictures(self) -> None:
        from server.records.actions.survey import Kept, survey_of

        survey = project_of(scene(1, 5, HALF), ["a.png"], 0.0, [])["survey"]
        items = [Kept("stickers", "stickers", survey["stickers"], "ada", ""), Kept("picture", "file-0", survey["pictures"][0], "ada", "")]  # fmt: skip
        items.append(Kept("camera", "telephone", {"focal": 3000.0}, "ada", ""))
        found = survey_of(items)
        self.assertEqual(found["stickers"], survey["stickers"])
        self.assertEqual(found["pictures"], survey["pictures"])
        self.assertEqual(found["cameras"], {"telephone": {"focal": 3000.0}})

    def test_bits_drawn_are_those_of_the_family(self) -> None:
        from server.records.pictures.sticker_sheet import bits_of

        for number in (0, 17, 586):
            drawn = np.kron(bits_of(number).astype(np.uint8) * 255, np.ones((20, 20), np.uint8))
            self.assertTrue((drawn == cv2.aruco.generateImageMarker(family(), number, 160)).all())
