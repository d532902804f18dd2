"""The frame in space: closed, as heavy as its pieces, cut where the tubes meet; STL in mm, GLB in metres with up as its y."""

import json
import math
from io import BytesIO
from pathlib import Path
from typing import Any
from unittest import TestCase as PlainTestCase

import numpy as np
import trimesh
from django.contrib.auth import get_user_model
from django.test import TestCase
from scipy.integrate import dblquad

from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.frame_tubes import placed
from server.shop.solid import NoFrame, frame_solid, mesh_of

TENDER = Path(__file__).parents[2] / "demo" / "files" / "hollin-fell-fire-tender.json"


def with_frame(**frame: Any) -> dict[str, Any]:
    return {**starting_project(layout_named("wishbones-lower")), "frame": frame}


TEE = with_frame(
    nodes={"a": [0, 0, 0], "b": [900, 0, 0], "c": [0, 500, 0], "d": [0, 0, -400], "e": [900, 300, 500]},
    members=[
        {"name": "rail", "ends": ["a", "b"], "tube": {"outside": 60, "wall": 4}},
        {"name": "leg", "ends": ["a", "c"], "tube": {"outside": 40, "wall": 3}},
        {"name": "bar", "ends": ["d", "a"], "tube": {"outside": 20, "wall": 10}},
        {"name": "sill", "ends": ["d", "e"], "box": {"height": 80, "width": 50, "wall": 5}},
        {"name": "strut", "ends": ["e", "b"], "tube": {"outside": 30, "wall": 2}},
        {"name": "strap", "ends": ["c", "e"], "flat": {"width": 40, "thickness": 6}},
    ],
    held={"b": "fixed", "c": "fixed"},
)


class Solids(PlainTestCase):
    def test_every_member_is_closed_and_faces_out(self) -> None:
        for job in (TEE, json.loads(TENDER.read_text("utf-8"))):
            for one in placed(check_project(job)):
                solid = mesh_of(one)
                self.assertTrue(solid.is_watertight, one.name)
                self.assertTrue(solid.is_winding_consistent, one.name)
                self.assertGreater(solid.volume, 0.0, one.name)

    def test_it_holds_as_much_metal_as_the_cut_leaves(self) -> None:
        its = {one.name: one for one in placed(check_project(TEE))}
        rail = mesh_of(its["rail"])
        # 20 and 15 mm past its places for what sits on it; a polygon of 96 sides holds a little less than its circle.
        area = math.pi / 4 * (60**2 - 52**2)
        self.assertAlmostEqual(rail.volume / (area * (900 + 20 + 15)), 1.0, delta=2e-3)
        leg = mesh_of(its["leg"])

        def from_the_axis(out: float, turn: float) -> float:
            return out * math.sqrt(30**2 - (out * math.cos(turn)) ** 2)

        lost = dblquad(from_the_axis, 0, 2 * math.pi, 17, 20)[0]
        self.assertAlmostEqual(
            leg.volume / (math.pi * (20**2 - 17**2) * float(its["leg"].corners[1][1]) - lost), 1.0, delta=2e-3
        )
        strap = its["strap"]
        # Its middle line is so much shorter than its longest edge where it is cut to a face.
        long = float(np.linalg.norm(strap.corners[1] - strap.corners[0])) - sum(strap.over)
        self.assertAlmostEqual(mesh_of(strap).volume, 40 * 6 * long, delta=0.1)

    def test_what_is_coped_ends_on_the_other_and_what_is_mitred_on_the_face(self) -> None:
        its = {one.name: one for one in placed(check_project(TEE))}
        leg = mesh_of(its["leg"]).vertices
        near = leg[leg[:, 1] < 100]
        self.assertTrue(np.allclose(np.hypot(near[:, 1], near[:, 2]), 30.0, atol=1e-9))
        strut = its["strut"]
        self.assertEqual(strut.ends[0][0], "plane")
        face = np.array(strut.ends[0][1])
        spots = mesh_of(strut).vertices
        start = spots[np.linalg.norm(spots - strut.corners[0], axis=1) < 80]
        off = start @ face
        self.assertLess(float(np.ptp(off)), 1e-9)
        # That face lies on the sill's skin: half its height or width from its middle line.
        self.assertTrue(min(abs(abs(float(off[0] - np.array([900, 300, 500]) @ face)) - half) for half in (40, 25)) < 1e-9)  # fmt: skip

    def test_files_are_read_back(self) -> None:
        project = check_project(TEE)
        stl = trimesh.load(BytesIO(frame_solid(project, "stl")), file_type="stl")
        glb = trimesh.load(BytesIO(frame_solid(project, "glb")), file_type="glb")
        low, high = stl.bounds
        turned = np.array([[low[1], low[2], low[0]], [high[1], high[2], high[0]]]) / 1000
        self.assertTrue(np.allclose(glb.bounds, turned, atol=1e-6))
        self.assertEqual(set(glb.geometry), {"rail", "leg", "bar", "sill", "strut", "strap"})
        with self.assertRaisesRegex(NoFrame, "draw its tubes"):
            frame_solid(check_project(starting_project(layout_named("wishbones-lower"))), "stl")


class Asked(TestCase):
    def test_of_the_document_in_hand(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("ada", password="x"))
        for form, starts in (("stl", b""), ("glb", b"glTF")):
            answer = self.client.post(
                "/api/make/frame",
                json.dumps({"document": TEE, "form": form}),
                content_type="application/json",
            )
            self.assertEqual(answer.status_code, 200)
            self.assertTrue(answer.content.startswith(starts) and len(answer.content) > 10_000)
        none = {"document": starting_project(layout_named("wishbones-lower")), "form": "stl"}
        refused = self.client.post("/api/make/frame", json.dumps(none), content_type="application/json")
        self.assertEqual((refused.status_code, refused.json()["code"]), (422, "no_frame"))
