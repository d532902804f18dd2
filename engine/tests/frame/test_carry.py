"""Mounts on a frame: loads that balance the tyres, stiffness by pushing, give in series, mirrored sides, advice put in again."""

import json
from typing import Any
from unittest import TestCase

import numpy as np

from engine.document.frame_sides import OTHER
from engine.document.read import read_project
from engine.document.schema import Project
from engine.document.write import project_text
from engine.errors import DocumentRefused
from engine.frame.advice import advice
from engine.frame.borne import borne
from engine.frame.cases import loaded
from engine.frame.judged import judged, loose_parts, nearest_to
from engine.frame.result_file import frame_values, stations
from engine.layouts.catalogue import LAYOUTS, layout_named, starting_project
from engine.station.solved import solve_station

TUBE = {"outside": 60.3, "wall": 5.0}


def carried(frame: dict[str, Any], layout: str = "trailing-arm", **more: Any) -> Project:
    values = json.loads(project_text(starting_project(layout_named(layout))))
    return read_project(json.dumps(values | {"frame": frame} | more))


def crossbar(layout: str = "trailing-arm", **more: Any) -> dict[str, Any]:
    """Return a bar across the vehicle under the unit's chassis mount, on two legs, and a beam under the hinge."""
    station = carried({}, layout).stations[0]
    unit = next(u for u in station.units if any(end in station.chassis for end in u.ends))
    top = next(end for end in unit.ends if end in station.chassis)
    x, y, z = station.points[top]
    hinges = [station.points[p] for p in station.chassis if p != top]
    low = float(np.mean([p[2] for p in hinges]))
    ahead = float(np.mean([p[0] for p in hinges]))
    nodes = {
        "leg": [x, y + 150, z],
        "foot": [x, y + 150, z - 300],
        "far leg": [x, -y - 150, z],
        "far foot": [x, -y - 150, z - 300],
        "beam": [ahead, y + 250, low],
        "beam far": [ahead, -y - 250, low],
    }
    members = [
        {"name": "bar", "ends": ["leg", "far leg"], "tube": TUBE, "metal": "S355"},
        {"name": "left leg", "ends": ["foot", "leg"], "tube": TUBE, "metal": "S355"},
        {"name": "right leg", "ends": ["far foot", "far leg"], "tube": TUBE, "metal": "S355"},
        {
            "name": "beam",
            "ends": ["beam", "beam far"],
            "box": {"height": 100, "width": 60, "wall": 5},
            "metal": "S355",
        },
    ]
    held = {"foot": "fixed", "far foot": "fixed", "beam": "fixed", "beam far": "fixed"}
    carries = {f"{station.name}/{top}": {"member": "bar"}}
    carries |= {f"{station.name}/{p}": {"member": "beam"} for p in station.chassis if p != top}
    return {"nodes": nodes, "members": members, "held": held, "carries": carries} | more


def across(y: float) -> np.ndarray:
    return np.array([0.0, y, 0.0])


class Loads(TestCase):
    def test_what_comes_to_the_chassis_is_what_the_tyres_are_pushed_with(self) -> None:
        for layout in LAYOUTS:
            project = starting_project(layout)
            text = read_project(project_text(project))
            for name, work in loaded(text).works.items():
                station = work.station
                peak = work.peak(_rules(text, station))
                assert peak is not None, layout.name
                cases = [
                    case for case in loaded(text).cases if case.name.startswith(name.replace("_", " ") + ":")
                ]
                self.assertEqual(len(cases), len(peak.cases))
                for case, theirs in zip(cases, peak.cases, strict=True):
                    total = sum((force for force in case.loads.values()), np.zeros(3))
                    pushed = sum((np.array(push.force) for push in theirs.pushes), np.zeros(3))
                    np.testing.assert_allclose(
                        total,
                        pushed,
                        atol=2.0 + 1e-4 * np.abs(pushed).max(),
                        err_msg=f"{layout.name} {case.name}",
                    )
                break

    def test_both_sides_of_a_mirrored_corner_are_loaded_in_the_mirror(self) -> None:
        its = loaded(carried(crossbar(mirrored=True)))
        both = [case for case in its.cases if "both sides" in case.name]
        self.assertEqual(len(both) * 2, len(its.cases))
        for case in both:
            for mount, force in case.loads.items():
                if not mount.endswith(OTHER):
                    np.testing.assert_allclose(case.loads[mount + OTHER], force * [1, -1, 1])


def _rules(project: Project, station: Any) -> Any:
    from engine.findings.finding import rules_of

    return rules_of(project.judging, station.judging).loading


class Mounts(TestCase):
    def test_a_mount_is_as_stiff_as_pushing_it_says(self) -> None:
        its = borne(carried(crossbar()))
        self.assertEqual((its.frame.uncarried, its.unheld, its.solved.loose), ([], [], []))
        for mount, told in zip(its.frame.mounts, its.mounts, strict=True):
            case = next(c for c in its.loaded.cases if c.name == told.case)
            way = case.loads[mount.name] / told.force
            assert told.stiffness is not None
            pushed = 0.5 * told.force * told.force / told.stiffness  # energy put in by the load alone
            load = np.zeros((its.solved.size, 1))
            load[6 * mount.node : 6 * mount.node + 3, 0] = way * told.force
            load[6 * mount.node + 3 : 6 * mount.node + 6, 0] = np.cross(mount.arm, way * told.force)
            found, _ = its.solved.moves(load)
            carried_ = its.solved.carried(found)[:, :, 0]
            bent = [
                turn @ found[its.solved.dofs(e), 0]
                for e, turn in zip(its.frame.elements, its.solved.turns, strict=True)
            ]
            stored = sum(0.5 * float(u @ f) for u, f in zip(bent, carried_, strict=True))
            self.assertAlmostEqual(stored, pushed, delta=1e-6 * pushed)

    def test_the_rate_with_give_is_that_of_a_softer_spring_in_its_place(self) -> None:
        project = carried(crossbar())
        its = borne(project)
        station = project.stations[0]
        told = stations(its)[station.name]
        unit = station.units[0]
        mount = next(m for m in its.frame.mounts if m.point in unit.ends)
        work = its.loaded.works[station.name]
        ride = work.solved.ride
        assert ride is not None and told["with_give"] is not None
        place = work.solved.at_ride.solution.motion.place[:, :, 0]  # type: ignore[union-attr]
        far = unit.ends[0] if unit.ends[1] == mount.point else unit.ends[1]
        way = place[:, work.linkage.index[mount.point]] - place[:, work.linkage.index[far]]
        way /= np.linalg.norm(way)
        load = np.zeros((its.solved.size, 1))
        load[6 * mount.node : 6 * mount.node + 3, 0] = way
        load[6 * mount.node + 3 : 6 * mount.node + 6, 0] = np.cross(mount.arm, way)
        moved = its.solved.moves(load)[0][6 * mount.node : 6 * mount.node + 6, 0]
        stiff = 1 / float((moved[:3] + np.cross(moved[3:], mount.arm)) @ way)
        # The same force at ride from a coil in series with the mount: softer, and squeezed so much further.
        values = json.loads(project_text(json.loads(project.model_dump_json(exclude_unset=True))))
        coil = values["stations"][0]["units"][0]
        rate = coil["springs"][0]["rate"]
        squeeze = (
            coil.get("preload", 0.0)
            + coil["extended"]
            - float(work.solved.at_ride.units[unit.name].length[0])
        )  # type: ignore[union-attr]
        softer = rate * stiff / (rate + stiff)
        coil["springs"][0]["rate"] = softer
        coil["preload"] = coil.get("preload", 0.0) + squeeze * (rate / softer - 1)
        coil["springs"][0]["free_length"] += 2 * squeeze
        again = solve_station(read_project(json.dumps(values)).stations[0])
        assert again.ride is not None
        self.assertAlmostEqual(again.ride.travel, ride.travel, delta=0.05)
        self.assertAlmostEqual(again.ride.wheel_rate, told["with_give"], delta=0.002 * ride.wheel_rate)
        self.assertLess(told["with_give"], ride.wheel_rate)

    def test_a_mirrored_frame_moves_in_the_mirror(self) -> None:
        frame = crossbar(mirrored=True)
        its = borne(carried(frame))
        both = next(k for k, case in enumerate(its.loaded.cases) if "both sides" in case.name)
        by_name = {mount.name: mount for mount in its.frame.mounts}
        for name, mount in by_name.items():
            if name.endswith(OTHER):
                continue
            image = by_name[name + OTHER]
            here, there = (its.displacements[6 * m.node : 6 * m.node + 3, both] for m in (mount, image))
            np.testing.assert_allclose(there, here * [1, -1, 1], atol=1e-9)

    def test_what_is_not_there_is_said(self) -> None:
        frame = crossbar()
        frame["members"].append({"name": "adrift", "ends": ["lone", "alone"], "tube": TUBE})
        frame["nodes"] |= {"lone": [4000, 0, 0], "alone": [4000, 500, 0]}
        frame["carries"] = {}
        frame["members"] = frame["members"][3:]  # the bar is gone: nothing carries the unit's mount
        project = carried(frame)
        its = borne(project)
        codes = {f.code for f in judged(project, its) if f.mark != "good"}
        self.assertLessEqual({"frame_loose", "frame_carries"}, codes)
        self.assertEqual([sorted(nodes) for nodes, _ in loose_parts(its)], [["alone", "lone"]])
        self.assertEqual(advice(project, its), [])

    def test_a_mount_on_a_place_that_is_held_does_not_give(self) -> None:
        frame = crossbar()
        top = next(name for name, on in frame["carries"].items() if on["member"] == "bar")
        frame["nodes"]["pocket"] = top
        frame["held"]["pocket"] = "fixed"
        frame["carries"][top] = {"node": "pocket"}
        project = carried(frame)
        told = next(one for one in frame_values(project, borne(project))["mounts"] if one["name"] == top)
        self.assertEqual(
            (told["stiffness"], told["moves"], told["takes_of_rate"]), (None, [0.0, 0.0, 0.0], 0.0)
        )
        json.dumps(told, allow_nan=False)

    def test_a_load_on_what_is_loose_is_counted_in_no_figure(self) -> None:
        frame = crossbar()
        del frame["held"]["foot"], frame["held"]["far foot"]  # the bar and its legs hang in the air
        its = borne(carried(frame))
        self.assertEqual(len(its.unheld), len(its.loaded.cases))
        self.assertEqual((its.members, its.mounts), ([], []))


class Judged(TestCase):
    def test_a_thin_bar_is_a_fault_and_a_stout_one_is_not(self) -> None:
        frame = crossbar()
        for tube, mark in (
            ({"outside": 26.9, "wall": 2.0}, "fault"),
            ({"outside": 139.7, "wall": 10.0}, "good"),
        ):
            frame["members"][0]["tube"] = tube
            project = carried(frame)
            found = {f.subjects: f.mark for f in judged(project, borne(project)) if f.code == "frame_stress"}
            self.assertEqual(found["bar",], mark)

    def test_advice_put_in_does_what_it_says(self) -> None:
        frame = crossbar()
        frame["members"][0]["tube"] = {"outside": 42.4, "wall": 2.5}
        project = carried(frame)
        its = borne(project)
        told = advice(project, its)
        self.assertTrue(told)
        for one in told:
            members = [m for m in frame["members"] if m["name"] != one.replaces]
            if one.member is not None:
                members.append(one.member.model_dump(mode="json", exclude_unset=True))
            again = borne(carried(frame | {"members": members}))
            self.assertAlmostEqual(max(m.share for m in again.members), one.share[1], places=6)
            self.assertAlmostEqual(again.frame.mass, one.mass[1], places=6)

    def test_a_tube_through_the_arm_is_in_the_way_and_one_far_off_is_not(self) -> None:
        project = carried(crossbar())
        its = borne(project)
        points = project.stations[0].points
        centre = np.array(points[project.stations[0].wheels[0].centre], dtype=float)
        up = np.array([0.0, 0.0, 3000.0])
        through = nearest_to(its, centre - across(400), centre + across(200), 20.0, set())
        assert through is not None
        self.assertLess(through.distance, 0)
        far = nearest_to(its, centre - across(200) + up, centre + across(200) + up, 20.0, set())
        assert far is not None
        self.assertGreater(far.distance, 1500)


class Written(TestCase):
    def test_what_is_wrong_with_a_frame_is_said_where_it_is(self) -> None:
        for change, words in (
            (lambda f: f["nodes"].update(odd="Nobody/top"), "no point of a station"),
            (lambda f: f["members"][0].update(ends=["leg", "nowhere"]), "is no node of the frame"),
            (lambda f: f["members"][0].update(ends=["leg", "leg"]), "both ends stand in one place"),
            (lambda f: f["members"][0].pop("tube"), "give one of tube, box and flat"),
            (lambda f: f["members"][1].update(name="bar"), "is the name of another member"),
            (lambda f: f["members"][0].update(tube={"outside": 20, "wall": 11}), "at most half"),
            (lambda f: f["members"][3].update(up=[0, 1, 0]), "lies along the member"),
            (lambda f: f["held"].update(moon="fixed"), "is no node of the frame"),
            (lambda f: f["carries"].update({"moon/top": {"node": "leg"}}), "is no chassis point"),
            (lambda f: f["members"][0].update(pin=[1, 0, 0]), "neither end is pinned"),
        ):
            frame = crossbar()
            change(frame)
            with self.assertRaises(DocumentRefused) as refused:
                carried(frame)
            self.assertIn(words, " ".join(map(str, refused.exception.faults)))

    def test_the_answer_is_the_contracts(self) -> None:
        project = carried(crossbar())
        told = json.loads(json.dumps(frame_values(project, borne(project)), allow_nan=False))
        self.assertEqual((told["format"], told["version"]), ("jugatrix-frame", 1))
        names = [case["name"] for case in told["cases"]]
        self.assertEqual(len(set(names)), len(names))
        for key in ("case", "stress", "at", "axial", "bending", "torsion", "share", "buckling"):
            self.assertIn(key, told["members"][0])
        for key in ("case", "force", "moves", "stiffness", "takes_of_rate"):
            self.assertIn(key, told["mounts"][0])
