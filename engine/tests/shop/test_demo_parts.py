"""The demo's own parts: what the tour promises is there to be found, every part can be taken, and room is told on its host."""

import copy
import json
import math
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.findings.finding import rules_of
from engine.shop.fits import part_envelopes
from engine.shop.job_parts import JobParts, job_parts, verdict
from engine.shop.made import Made
from engine.shop.mounts import mounts_of
from engine.shop.outline import box_of
from engine.shop.parts import Maker, station_parts
from engine.shop.set_out import CLOSE_MM
from engine.station.solved import solve_station
from engine.workup import WorkUp

FILES = Path(__file__).parents[3] / "server" / "demo" / "files"


def document(name: str) -> dict[str, Any]:
    return dict(json.loads((FILES / f"{name}.json").read_text("utf-8")))


class Tender(unittest.TestCase):
    made: JobParts

    @classmethod
    def setUpClass(cls) -> None:
        cls.made = job_parts(check_project(document("hollin-fell-fire-tender")))

    def part(self, station: str, name: str) -> Made:
        return next(part for part in self.made.parts if (part.station, part.name) == (station, name))

    def test_one_tab_is_too_weak_and_its_press_is_enough(self) -> None:
        tab = self.part("Front axle", "seat left tab")
        self.assertFalse(tab.proposed)
        warned = next(one for one in tab.said if one.remedy is not None)
        assert warned.remedy is not None and tab.weakest is not None
        self.assertLess(tab.weakest.factor, 1.0)
        values = document("hollin-fell-fire-tender")
        choice = next(one for one in values["stations"][0]["make"]["parts"] if one["name"] == "seat left tab")
        choice |= warned.remedy.change
        again = job_parts(check_project(values), fitted=False)
        least = next(part for part in again.parts if part.name == "seat left tab").weakest
        assert least is not None
        self.assertGreaterEqual(least.factor, 2.0)

    def test_one_bolt_cannot_come_out_and_its_image_can(self) -> None:
        said = {
            station: " ".join(str(one.say) for one in self.part(station, "shock_top tab, shock").said)
            for station in ("Rear left", "Rear right")
        }
        self.assertIn("cannot be drawn out", said["Rear left"])
        self.assertIn("cheek", said["Rear left"])
        self.assertNotIn("cannot be drawn out", said["Rear right"])

    def test_the_verdict_names_the_weakest(self) -> None:
        mark, words = verdict(self.made)
        self.assertEqual(mark, "fault")  # links as strong as a pothole asks are thicker than their room
        self.assertIn("seat left tab", str(words))

    def test_the_hoop_is_one_tube_with_two_bends(self) -> None:
        hoop = self.part("Front axle", "tower hoop")
        assert hoop.cut is not None and hoop.cut.bent is not None
        self.assertEqual(len(hoop.cut.bent.bends), 2)
        straight = sum(math.dist(a, b) for a, b in zip(hoop.cut.spots[:-1], hoop.cut.spots[1:], strict=True))
        # Each right angle cuts its corner by two radii, less a quarter of the circle.
        self.assertAlmostEqual(hoop.cut.length, straight - 2 * (2 - math.pi / 2) * 100.0)

    def test_every_mount_is_set_out_within_its_limits(self) -> None:
        for mount in self.made.mounts:
            for close in mount.close_enough:
                self.assertGreaterEqual(close, CLOSE_MM[0])
                self.assertLessEqual(close, CLOSE_MM[1])


class EveryDemo(unittest.TestCase):
    def test_every_part_can_be_drawn_weighed_and_told(self) -> None:
        for path in sorted(FILES.glob("*.json")):
            parts = job_parts(check_project(json.loads(path.read_text("utf-8"))), fitted=False)
            for part in parts.parts:
                self.assertTrue(math.isfinite(part.mass), part.name)
                for figure in part.figures:
                    if isinstance(figure.value, float):
                        self.assertTrue(math.isfinite(figure.value), (part.name, figure.key))
                if part.flat is not None:
                    low, bottom, high, top = box_of(list(part.flat.outline))
                    for hole in part.flat.holes:
                        self.assertTrue(low < hole.x < high and bottom < hole.y < top, part.name)

    def test_names_are_each_their_own_within_a_station(self) -> None:
        for path in sorted(FILES.glob("*.json")):
            for station in job_parts(
                check_project(json.loads(path.read_text("utf-8"))), fitted=False
            ).stations:
                names = [part.name for part in station.parts]
                self.assertEqual(len(names), len(set(names)))

    def test_the_room_of_a_tab_is_about_its_hole_and_of_a_rod_about_its_ends(self) -> None:
        project = check_project(document("heron-three-wheeler"))
        work = WorkUp(solve_station(project.stations[0]))
        rules = rules_of(project.judging)
        mounts = mounts_of(work, work.peak(rules.loading))
        parts = list(station_parts(Maker(work, rules)).parts)
        rooms = {room.name: room for room in part_envelopes(work.station, parts, mounts)}
        for mount in mounts:
            room = next(
                (its for name, its in rooms.items() if name.startswith(f"made: {mount.point} tab")), None
            )
            if room is None or room.outline is None:
                continue
            corners = np.array(
                [corner for corner in room.outline if not isinstance(corner, str)], dtype=float
            )
            off = (mount.spot - corners.mean(axis=0)) @ mount.bolt
            self.assertAlmostEqual(float(off), 0.0, places=6)
            self.assertEqual(room.on, mount.on)

    def test_a_moved_station_keeps_its_parts(self) -> None:
        values = document("heron-three-wheeler")
        moved = copy.deepcopy(values)
        for spot in moved["stations"][2]["points"].values():
            spot[0] += 250.0
        for envelope in moved["stations"][2].get("envelopes", []):
            for key in ("along", "outline"):
                for place in envelope.get(key) or []:
                    if isinstance(place, list):
                        place[0] += 250.0
            for key in ("centre", "at"):
                if isinstance(envelope.get(key), list):
                    envelope[key][0] += 250.0
        moved.pop("survey", None)
        values.pop("survey", None)
        one, two = (job_parts(check_project(its), fitted=False).stations[2] for its in (values, moved))
        for before, after in zip(one.parts, two.parts, strict=True):
            self.assertEqual(before.name, after.name)
            self.assertAlmostEqual(before.mass, after.mass, places=4)


if __name__ == "__main__":
    unittest.main()
