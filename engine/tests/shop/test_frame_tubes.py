"""The frame's tubes as pieces: lengths against the cylinders themselves, what is coped sits on metal, both sides alike."""

import math
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from engine.document.read import check_project, read_project
from engine.document.schema import Project
from engine.layouts.catalogue import layout_named, starting_project
from engine.limits.solids import solids_of
from engine.shop.cutting import bars
from engine.shop.frame_tubes import frame_parts, with_tubes
from engine.shop.job_parts import job_parts
from engine.shop.made import Made
from engine.shop.stock import METRIC

ROUND = 720
DEMO = "server/demo/files/hollin-fell-fire-tender.json"


def project_of(frame: dict[str, Any]) -> Project:
    """Return a usual job with a frame."""
    return check_project({**starting_project(layout_named("wishbones-lower")), "frame": frame})


def tube(name: str, one: str, other: str, outside: float = 42.4, **more: Any) -> dict[str, Any]:
    """Return a member of round tube."""
    size = {} if {"box", "flat"} & set(more) else {"tube": {"outside": outside, "wall": 3.0}}
    return {"name": name, "ends": [one, other], **size, **more}


def pieces(frame: dict[str, Any]) -> dict[str, Made]:
    """Return a frame's pieces by their names."""
    found = frame_parts(project_of(frame))
    assert found is not None
    return {part.name: part for part in found.parts}


def wall_to_wall(
    at: np.ndarray, way: np.ndarray, r: float, axis: np.ndarray, met: float
) -> tuple[float, float, float]:
    """Return where a tube's wall, out from `at`, leaves another through the origin: least along it, and its span on that axis.

    Line by line of the wall against the cylinder itself: |p + t·d − ((p + t·d)·a)·a|² = R².
    """
    u = np.cross(way, axis)
    u /= np.linalg.norm(u)
    v = np.cross(way, u)
    angles = np.linspace(0, 2 * math.pi, ROUND, endpoint=False)
    start = at + r * (np.cos(angles)[:, None] * u + np.sin(angles)[:, None] * v)
    flat, d = start - (start @ axis)[:, None] * axis, way - (way @ axis) * axis
    a, b, c = d @ d, 2 * flat @ d, (flat**2).sum(axis=1) - met**2
    far = (-b + np.sqrt(np.maximum(b**2 - 4 * a * c, 0.0))) / (2 * a)
    met_at = start + far[:, None] * way
    return float(far.min()), float((met_at @ axis).min()), float((met_at @ axis).max())


class Pieces(TestCase):
    @given(st.floats(35, 145), st.floats(20, 42), st.floats(300, 900))
    def test_a_coped_tube_is_as_long_as_the_cylinders_say_and_sits_on_metal(
        self, angle: float, outside: float, long: float
    ) -> None:
        way = np.array([math.cos(math.radians(angle)), 0.0, math.sin(math.radians(angle))])
        frame = {
            "nodes": {"a": [0, 0, 0], "b": [1000, 0, 0], "c": (long * way).tolist()},
            "members": [tube("rail", "a", "b"), tube("leg", "a", "c", round(outside, 1))],
            "held": {"b": "fixed", "c": "fixed"},
        }
        its = pieces(frame)
        axis = np.array([1.0, 0.0, 0.0])
        back, low, _ = wall_to_wall(np.zeros(3), way, round(outside, 1) / 2, axis, 21.2)
        cut = its["leg"].cut
        assert cut is not None
        self.assertAlmostEqual(cut.length, long - back, delta=0.02)
        rail = its["rail"].cut
        assert rail is not None
        past = rail.length - 1000.0
        # What sits on it begins where its metal does, to the millimetre that it was rounded up to.
        self.assertLessEqual(-low, past + 0.02)
        self.assertLess(past, max(-low, 0.0) + 1.1)
        self.assertAlmostEqual(cut.ends[0].angle, min(angle, 180 - angle), delta=0.01)

    @given(st.floats(30, 150))
    def test_a_tube_on_a_box_ends_at_its_face(self, angle: float) -> None:
        way = np.array([math.cos(math.radians(angle)), math.sin(math.radians(angle)), 0.0])
        frame = {
            "nodes": {"a": [0, 0, 0], "b": [1000, 0, 0], "z": [-1000, 0, 0], "c": (600 * way).tolist()},
            "members": [
                tube("rail", "a", "b", box={"height": 100, "width": 60, "wall": 4}),
                tube("behind", "z", "a", box={"height": 100, "width": 60, "wall": 4}),
                tube("outrigger", "a", "c", 38.0),
            ],
            "held": {"b": "fixed", "z": "fixed", "c": "fixed"},
        }
        its = pieces(frame)
        cut = its["outrigger"].cut
        assert cut is not None
        # Every line of its wall runs from the plane y = 30 to its square end.
        angles = np.linspace(0, 2 * math.pi, ROUND, endpoint=False)
        across = np.array([-way[1], way[0], 0.0])
        walls = 19.0 * (np.cos(angles)[:, None] * across + np.sin(angles)[:, None] * np.array([0.0, 0, 1]))
        starts = (30.0 - walls[:, 1]) / way[1]
        self.assertAlmostEqual(cut.length, 600.0 - starts.min(), delta=0.02)
        self.assertAlmostEqual(cut.ends[0].mitre, abs(90.0 - angle), delta=0.06)
        rail = its["rail"].cut
        assert rail is not None
        self.assertEqual((rail.length, rail.ends[0].met), (1000.0, 0.0))  # one line with the one behind it
        self.assertIn("box 100 × 60 × 4", rail.stock)
        self.assertAlmostEqual(rail.mass, 1000 * (100 * 60 - 92 * 52) * 7.85e-6, places=6)

    def test_both_ends_of_what_crosses_the_vehicle_are_cut_alike(self) -> None:
        frame = {
            "nodes": {"foot": [0, 500, 0], "top": [0, 500, 600], "top right": [0, -500, 600], "mid": [0, 0, 900], "off": [300, 400, 0]},
            "members": [
                tube("crossbar", "top", "top right", 38.0), tube("leg", "foot", "top"), tube("rafter", "top", "mid", 30.0),
                tube("brace", "off", "top", 25.0),
            ],
            "held": {"foot": "fixed", "off": "pinned"},
            "mirrored": True,
        }  # fmt: skip
        its = pieces(frame)
        crossbar = its["crossbar"].cut
        assert crossbar is not None
        self.assertEqual([end.met for end in crossbar.ends], [21.2, 21.2])
        self.assertEqual({name: part.hands for name, part in its.items()}, {"crossbar": 1, "leg": 2, "rafter": 2, "brace": 2})  # fmt: skip
        rafter = its["rafter"].cut
        assert rafter is not None
        # Its own image meets it in the middle: both are mitred there, by the angle that it rises.
        self.assertAlmostEqual(rafter.ends[1].mitre, math.degrees(math.atan2(300, 500)), places=6)
        self.assertIn("other side", its["rafter"].figure("stands_2"))
        self.assertIn("fit it to crossbar", its["brace"].figure("stands_2"))

    def test_a_pinned_end_and_a_flat_bar_and_one_that_is_too_short(self) -> None:
        frame = {
            "nodes": {"a": [0, 0, 0], "b": [800, 0, 0], "c": [0, 0, 400], "d": [0, 0, 30]},
            "members": [
                tube("rail", "a", "b", 76.1), tube("strap", "c", "b", flat={"width": 40, "thickness": 6}),
                tube("link", "c", "a", 30.0, ends_held=["welded", "pinned"]), tube("stub", "a", "d", 30.0),
            ],
            "held": {"b": "fixed", "c": "fixed", "d": "fixed"},
        }  # fmt: skip
        its = pieces(frame)
        link = its["link"].cut
        assert link is not None
        # Past the strap's place by 20 / sin β − 15 / tan β, β between the two: 14.9 mm, a whole 15.
        self.assertEqual((link.length, its["link"].figure("stands_2")[:6]), (415.0, "pinned"))
        strap = its["strap"].cut
        assert strap is not None
        self.assertEqual(strap.stock, "flat 40 × 6 S235")
        self.assertIsNone(its["stub"].cut)
        self.assertIn("shorter than what its ends are cut away", str(its["stub"].said[0].say))

    def test_welds_are_as_long_as_the_curves(self) -> None:
        frame = {
            "nodes": {"a": [-500, 0, 0], "m": [0, 0, 0], "b": [500, 0, 0], "c": [0, 0, 400]},
            "members": [tube("one", "a", "m"), tube("two", "m", "b"), tube("post", "m", "c", 20.0)],
            "held": {"a": "fixed", "b": "fixed", "c": "fixed"},
        }
        weld = pieces(frame)["post"].figure("weld")
        turns = np.linspace(0, 2 * math.pi, 20_001)
        on_it = np.array(
            [10 * np.cos(turns), 10 * np.sin(turns), np.sqrt(21.2**2 - (10 * np.cos(turns)) ** 2)]
        )
        curve = float(np.linalg.norm(np.diff(on_it, axis=1), axis=0).sum())
        self.assertAlmostEqual(weld, curve + 2 * math.pi * 10.0, delta=0.05)


class WithTheJob(TestCase):
    def test_they_are_cut_from_bars_set_out_and_told_with_the_rest(self) -> None:
        with open(DEMO, encoding="utf-8") as file:
            text = file.read()
        its = job_parts(read_project(text.encode()), fitted=False)
        assert its.frame is not None
        mine = [part for part in its.parts if part.station == its.frame.station]
        self.assertEqual([part.name for part in mine], ["hoop leg", "crossbar"])
        cut = [piece for bar in bars(its.parts, METRIC) for piece in bar.pieces if piece.station == "Frame"]
        self.assertEqual(len(cut), sum(part.many for part in mine))
        nodes = [mount for mount in its.mounts if mount.station == "Frame"]
        self.assertEqual({mount.point for mount in nodes}, {name for name, at in its.project.frame.nodes.items() if not isinstance(at, str)})  # type: ignore[union-attr]  # fmt: skip
        for mount in nodes:
            spot = np.array([mount.ahead, mount.out, mount.up])
            for (_, long), at in zip(mount.tapes, mount.spots, strict=True):
                self.assertAlmostEqual(float(np.linalg.norm(spot - np.array(at))), long, places=6)
        self.assertEqual([part.station for part in its.only("Frame").parts], ["Frame", "Frame"])

    def test_a_tab_stands_on_the_frames_tube_that_is_near_its_mount(self) -> None:
        job = starting_project(layout_named("wishbones-lower"))
        station = job["stations"][0]
        unit = next(one for one in station["units"] if one["kind"] == "coilover")
        top = next(end for end in unit["ends"] if end in station["chassis"])
        x, y, z = station["points"][top]
        near = {
            "nodes": {"a": [x - 300, y, z + 60], "b": [x + 300, y, z + 60]},
            "members": [tube("rail", "a", "b", 48.3)],
            "held": {"a": "fixed", "b": "fixed"},
        }
        before = job_parts(check_project(job), fitted=False)
        after = job_parts(check_project({**job, "frame": near}), fitted=False)
        mount = next(one for one in after.makers[0].seats if one.point == top)
        self.assertIsNone(next(one for one in before.makers[0].seats if one.point == top).ground)
        assert mount.ground is not None
        self.assertEqual((mount.ground.name, mount.ground.outside), ("rail", 48.3))
        self.assertAlmostEqual(mount.ground.away, 60 - 48.3 / 2, delta=0.05)
        # Its foot comes to the tube, and no tower is proposed where the frame is.
        tab = next(part for part in after.parts if part.kind == "tab" and part.subject[1] == top)
        self.assertAlmostEqual(tab.figure("reach"), mount.ground.away, delta=6.0)
        wide = [tube("rail", "a", "b", 114.3)]
        far = {**near, "nodes": {"a": [x - 300, y, z + 160], "b": [x + 300, y, z + 160]}, "members": wide}
        with_tower = job_parts(check_project({**job, "frame": far}), fitted=False)
        self.assertIn("tower", [part.kind for part in with_tower.parts])
        self.assertNotIn("tower", [part.kind for part in after.parts])

    def test_a_box_is_the_room_that_it_takes(self) -> None:
        job = starting_project(layout_named("wishbones-lower"))
        x, y, z = job["stations"][0]["points"][job["stations"][0]["chassis"][0]]
        box = {"height": 80, "width": 50, "wall": 4}
        frame = {
            "nodes": {"a": [x - 200, y + 150, z], "b": [x + 260, y + 110, z + 90]},
            "members": [tube("rail", "a", "b", box=box, up=[0.2, 0.1, 1.0])],
            "held": {"a": "fixed", "b": "fixed"},
        }
        project = check_project({**job, "frame": frame})
        its = with_tubes(project, project.stations[0])
        solid = next(one for one in solids_of(its) if one.name == "rail")
        along = np.array([460.0, -40.0, 90.0]) / np.linalg.norm([460.0, -40.0, 90.0])
        self.assertTrue(np.allclose(np.abs(solid.axes[0] @ along), 1.0, atol=1e-9))
        up = np.array([0.2, 0.1, 1.0])
        self.assertAlmostEqual(float(np.cross(along, solid.axes[2]) @ up), 0.0, places=6)
        self.assertTrue(np.allclose(solid.half, [np.linalg.norm([460, -40, 90]) / 2, 25.0, 40.0]))

    def test_a_station_of_that_name_keeps_it(self) -> None:
        frame = {"nodes": {"a": [0, 0, 0], "b": [9, 90, 0]}, "members": [tube("bar", "a", "b", 20.0)], "held": {"a": "fixed"}}  # fmt: skip
        job = {**starting_project(layout_named("wishbones-lower")), "frame": frame}
        job["stations"][0]["name"] = "Frame"
        found = frame_parts(check_project(job))
        assert found is not None
        self.assertEqual(found.station, "Frame tubes")
