"""Towers, hoops, cups and notches: cut lengths against points of real cylinders in space, folds folded up again."""

import copy
import itertools
import math
import unittest
from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation

from engine.document.make import NotchChoice
from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.cope import cope
from engine.shop.cups import long_side, mitre_deg
from engine.shop.made import Made
from engine.shop.notch import INSIDE, K_FACTOR, NoNotch, flat_length, opening_of, section_kept
from engine.shop.parts import Maker, StationParts, station_parts
from engine.shop.tubes import witness_words
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp

TUBE = {"outside": 38.0, "wall": 3.0, "grade": "S235"}


def parts(values: dict[str, Any]) -> StationParts:
    return station_parts(Maker(WorkUp(solve_station(samples.station(values))), RULES))


def made(choice: dict[str, Any], values: dict[str, Any] | None = None) -> Made:
    values = samples.arm() if values is None else values
    values["make"] = {"parts": [choice]}
    return next(part for part in parts(values).parts if part.name.startswith(choice["name"]))


def started(name: str) -> dict[str, Any]:
    return copy.deepcopy(starting_project(layout_named(name))["stations"][0])


class Towers(unittest.TestCase):
    def test_a_straight_tube_between_squares_is_as_long_as_its_places_are_apart(self) -> None:
        part = made(
            {"kind": "tower", "name": "leg", "corners": [[0, 400, 300], [60, 480, 700]], "tube": TUBE}
        )
        assert part.cut is not None
        self.assertAlmostEqual(part.cut.length, math.dist([0, 400, 300], [60, 480, 700]))

    def test_a_coped_end_leaves_the_wall_on_the_tube_it_meets(self) -> None:
        rng = np.random.default_rng(7)
        for _ in range(12):
            foot, tip = (
                np.array([0.0, 400, 300]),
                np.array([0.0, 400, 300]) + rng.normal(size=3) * [120, 120, 60] + [0, 0, 300],
            )
            along = rng.normal(size=3) + np.array([2.0, 0, 0])
            offset = float(rng.uniform(-8, 8))
            choice = {
                "kind": "tower", "name": "leg", "corners": [foot.tolist(), tip.tolist()], "tube": TUBE,
                "ends": [{"on": "tube", "outside": 60.3, "along": along.tolist(), "offset": offset}, {"on": "square"}],
            }  # fmt: skip
            part = made(choice)
            assert part.cut is not None
            end = part.cut.ends[0]
            axis = (tip - foot) / np.linalg.norm(tip - foot)
            met = along / np.linalg.norm(along)
            if met @ axis < 0:
                met = -met
            side = np.cross(met, axis)
            side /= np.linalg.norm(side)
            lean = np.cross(axis, side)
            round_it, up = cope(19.0, end.met, end.angle, end.offset)
            longest = np.linalg.norm(tip - foot) - part.cut.length  # where the longest point of the cut stays
            for arc, high in zip(round_it, up, strict=True):
                phi = arc / 19.0
                wall = foot + axis * (longest + high) + 19.0 * (math.cos(phi) * side + math.sin(phi) * lean)
                arm = wall - (foot + offset * side)
                off = np.linalg.norm(arm - met * (arm @ met))
                self.assertAlmostEqual(float(off), 30.15, delta=0.01)

    def test_a_hoop_is_bent_back_to_its_corners(self) -> None:
        corners = [[0, 450, 300], [20, 350, 640], [20, -350, 640], [0, -450, 300]]
        part = made({"kind": "hoop", "name": "hoop", "corners": corners, "tube": TUBE, "radius": 114})
        assert part.cut is not None and part.cut.bent is not None
        run = part.cut.bent
        # Walk along the tube: straight to each mark, round each bend, turned about itself between them.
        spots = np.array(corners, dtype=float)
        way = (spots[1] - spots[0]) / np.linalg.norm(spots[1] - spots[0])
        normal = np.cross(spots[1] - spots[0], spots[2] - spots[1])
        normal /= np.linalg.norm(normal)
        at, mark = spots[0].copy(), 0.0
        for bend in run.bends:
            at = at + way * (bend.mark - mark)
            normal = _turn(normal, way, math.radians(bend.turn))
            middle = at + np.cross(normal, way) * run.radius
            angle = math.radians(bend.angle)
            at = middle + _turn(at - middle, normal, angle)
            way = _turn(way, normal, angle)
            mark = bend.mark + run.radius * angle
        at = at + way * (run.length - mark)
        self.assertLess(float(np.linalg.norm(at - spots[-1])), 1e-6)

    def test_each_witness_line_is_found_from_the_inside_of_the_first_bend(self) -> None:
        rng = np.random.default_rng(11)
        seen = 0
        for _ in range(20):
            corners = (
                np.array([[0.0, 400, 300], [0, 400, 700], [0, 200, 900], [100, 0, 900]])
                + rng.normal(size=(4, 3)) * 30
            )
            ends = [{"on": "tube", "outside": 60.3, "along": rng.normal(size=3).tolist()} for _ in range(2)]
            part = made(
                {
                    "kind": "hoop",
                    "name": "hoop",
                    "corners": corners.tolist(),
                    "tube": TUBE,
                    "ends": ends,
                    "radius": 60.0,
                }
            )
            if part.cut is None:
                continue  # it cannot be bent or coped so
            seen += 1
            ways = np.diff(corners, axis=0)
            ways /= np.linalg.norm(ways, axis=1, keepdims=True)
            # The line scribed along the inside of the first bend, and where the bends carry it to: turned with the tube.
            line = ways[1] - ways[0] * float(ways[1] @ ways[0])
            carried = [line / np.linalg.norm(line)]
            for before, after in itertools.pairwise(ways):
                spin = Rotation.align_vectors([after], [before])[0]
                carried.append(spin.apply(carried[-1]))
            for number, (way, away) in enumerate(((ways[0], ways[0]), (ways[-1], -ways[-1]))):
                end, from_line = part.cut.ends[number], carried[0] if number == 0 else carried[-1]
                # Clockwise as it is seen from end 1: right-handed about the way from there.
                witness = Rotation.from_rotvec(way * math.radians(end.clock)).apply(from_line)
                met = np.array(ends[number]["along"]) / np.linalg.norm(ends[number]["along"])
                met = met if met @ away >= 0 else -met
                square = np.cross(met, away)
                np.testing.assert_allclose(witness, square / np.linalg.norm(square), atol=1e-6)
                self.assertIn(
                    "from the inside of the first bend, looking from end 1",
                    witness_words(part.cut, number + 1),
                )
        self.assertGreater(seen, 8)

    def test_a_tower_bends_as_a_cantilever(self) -> None:
        values = samples.arm()
        x, y, z = values["points"]["top"]
        choice = {
            "kind": "tower",
            "name": "leg",
            "corners": [[x, y, z - 250], [x, y, z - 40]],
            "tube": TUBE,
            "holds": "top",
        }
        part = made(choice, values)
        assert part.weakest is not None and part.cut is not None
        work = WorkUp(solve_station(samples.station(values)))
        peak = work.peak(RULES.loading)
        assert peak is not None
        tube = part.cut.tube
        stress = 0.0
        for case in peak.cases:
            way = case.place[work.linkage.index["eye"]] - np.array(values["points"]["top"])
            push = way / np.linalg.norm(way) * case.units["coilover"]
            moment = float(np.linalg.norm(np.cross([0, 0, 250.0], push)))
            stress = max(stress, moment / (2 * tube.inertia / tube.outside) + abs(float(push[2])) / tube.area)
        self.assertAlmostEqual(part.weakest.factor, 235 / stress, places=6)

    def test_a_weak_tower_gets_a_tube_that_bears_it(self) -> None:
        values = samples.arm()
        x, y, z = values["points"]["top"]
        choice: dict[str, Any] = {"kind": "tower", "name": "leg", "corners": [[x, y, z - 250], [x, y, z - 40]],
                  "tube": {"outside": 16.0, "wall": 1.5}, "holds": "top"}  # fmt: skip
        part = made(choice, values)
        remedy = part.said[0].remedy
        assert remedy is not None
        choice |= remedy.change
        self.assertEqual(made(choice, values).said, ())

    def test_what_cannot_be_bent_or_coped_is_said(self) -> None:
        for change, words in (
            ({"corners": [[0, 450, 300], [0, 420, 340], [0, 300, 340]], "radius": 114}, "no room"),
            ({"ends": [{"on": "tube", "outside": 20, "along": [1, 0, 0]}, {"on": "square"}]}, "wider there"),
            (
                {"ends": [{"on": "tube", "outside": 60, "along": [0, 0, 1]}, {"on": "square"}]},
                "run along one another",
            ),
        ):
            part = made(
                {
                    "kind": "tower",
                    "name": "leg",
                    "corners": [[0, 400, 300], [0, 400, 700]],
                    "tube": TUBE,
                    **change,
                }
            )
            self.assertEqual(part.mark, "fault")
            self.assertIn(words, str(part.said[0].say))

    def test_a_mount_out_of_reach_gets_a_tower_from_the_nearest_tube(self) -> None:
        values = samples.arm()
        x, y, z = values["points"]["top"]
        values["envelopes"] = [
            {"name": "rail", "shape": "capsule", "along": [[x - 400, y + 10, z + 230], [x + 400, y + 10, z + 230]], "radius": 30}
        ]  # fmt: skip
        found = parts(values).of("tower")
        self.assertEqual(len(found), 1)
        cut = found[0].cut
        assert cut is not None and found[0].weakest is not None
        self.assertGreaterEqual(found[0].weakest.factor, 2.0)
        self.assertAlmostEqual(cut.ends[0].met, 30.0)
        # Its first place stands on the rail's own axis.
        self.assertAlmostEqual(math.hypot(cut.spots[0][1] - y - 10, cut.spots[0][2] - z - 230), 0.0, places=2)


def _turn(vector: np.ndarray, axis: np.ndarray, angle: float) -> np.ndarray:
    turned: np.ndarray = (
        vector * math.cos(angle)
        + np.cross(axis, vector) * math.sin(angle)
        + axis * float(axis @ vector) * (1 - math.cos(angle))
    )
    return turned


class Cups(unittest.TestCase):
    def test_mitred_cups_leave_the_bags_plates_parallel_at_ride(self) -> None:
        values = started("arm-on-air")
        work = WorkUp(solve_station(samples.station(values)))
        bag = next(unit for unit in work.station.units if unit.kind == "air_spring")
        at_ride = work.solved.at_ride
        assert at_ride is not None
        place = at_ride.solution.motion.place[:, :, 0]
        one, other = (place[:, work.linkage.index[end]] for end in bag.ends)
        line = (other - one) / np.linalg.norm(other - one)
        for end in bag.ends:
            mitre = mitre_deg(work, bag, end)
            host_drawn = (
                work.linkage.points[work.linkage.index[bag.ends[1]]]
                - work.linkage.points[work.linkage.index[bag.ends[0]]]
            )
            if end in work.station.chassis:
                # On the chassis the base stays as drawn: the mitre is how far the line has turned.
                turned = math.degrees(
                    math.acos(abs(float(host_drawn @ line)) / float(np.linalg.norm(host_drawn)))
                )
                self.assertAlmostEqual(mitre, turned, places=6)
            self.assertGreaterEqual(mitre, 0.0)

    def test_the_long_side_of_a_cup_is_where_its_base_falls_away(self) -> None:
        values = started("arm-on-air")
        bag = next(unit for unit in values["units"] if unit["kind"] == "air_spring")
        low, high = (np.array(values["points"][end], dtype=float) for end in bag["ends"])
        line = (high - low) / np.linalg.norm(high - low)
        for lean in ([0.3, 0.1, 0.0], [-0.2, 0.0, 0.1], [0.0, -0.4, 0.0]):
            square = line + np.array(lean)
            bag["plates"] = {"first": square.tolist(), "second": (-square).tolist()}
            work = WorkUp(solve_station(samples.station(values)))
            unit = next(one for one in work.station.units if one.kind == "air_spring")
            end = next(end for end in unit.ends if end in work.station.chassis)
            at_ride = work.solved.at_ride
            assert at_ride is not None
            place = at_ride.solution.motion.place[:, :, 0]
            here, far = (
                place[:, work.linkage.index[name]] for name in (end, next(e for e in unit.ends if e != end))
            )
            into = (far - here) / np.linalg.norm(far - here)
            base = square / np.linalg.norm(square)
            side = np.cross(into, [1.0, 0.0, 0.0])
            side /= np.linalg.norm(side)
            other = np.cross(into, side)
            ways = [math.cos(t) * side + math.sin(t) * other for t in np.linspace(0, 2 * math.pi, 721)]
            # From the bag's plate, 50 mm up its line, back down along the line to the base, beside the middle.
            longs = [float((50 * into + 20 * way) @ base) / float(into @ base) for way in ways]
            found = long_side(work, unit, end)
            assert found is not None
            self.assertGreater(float(found @ ways[int(np.argmax(longs))]), 0.9999)

    def test_a_cup_stands_on_the_frame_that_is_drawn(self) -> None:
        values = started("arm-on-air")
        bag = next(unit for unit in values["units"] if unit["kind"] == "air_spring")
        end = next(end for end in bag["ends"] if end in values["chassis"])
        x, y, z = values["points"][end]
        values["envelopes"] = [
            {"name": "rail", "shape": "box", "centre": [x, y, z + 85.0], "size": [900, 60, 100]}
        ]
        cup = next(part for part in parts(values).of("cup") if part.subject[2] == end)
        self.assertAlmostEqual(cup.figure("height"), 35.0, delta=1.0)
        assert cup.cut is not None and cup.flat is not None
        self.assertAlmostEqual(
            cup.cut.length,
            cup.figure("height") + math.tan(math.radians(cup.figure("mitre"))) * cup.cut.tube.outside / 2,
        )

    def test_a_bag_gets_two_cups_strong_enough(self) -> None:
        cups = parts(started("arm-on-air")).of("cup")
        self.assertEqual(len(cups), 2)
        for cup in cups:
            assert cup.weakest is not None
            self.assertGreaterEqual(cup.weakest.factor, 2.0)


class Notches(unittest.TestCase):
    def choice(self, values: dict[str, Any], **more: Any) -> dict[str, Any]:
        wheel = values["wheels"][0]["centre"]
        z = values["points"][wheel][2]
        return {
            "kind": "notch", "name": "rail notch", "over": wheel, "rail": {"width": 60.0, "height": 140.0, "wall": 4.0},
            "rail_bottom": z + 60.0, "axle_tube": 76.0, "clearance": 18.0, **more,
        }  # fmt: skip

    def test_the_opening_clears_the_axles_whole_path(self) -> None:
        values = started("axle-four-link")
        values["travel"] |= {"bump": 50.0, "droop": 60.0}
        choice = NotchChoice.model_validate(self.choice(values))
        work = WorkUp(solve_station(samples.station(values)))
        opening = opening_of(work.linkage, work.grid, choice)
        place = work.grid.place[:, work.linkage.index[choice.over], :]
        corners = opening.line + np.array([0.0, choice.rail_bottom])
        least = math.inf
        for x, z in zip(place[0], place[2], strict=True):
            for (ax, az), (bx, bz) in itertools.pairwise(corners):
                along = np.clip(
                    ((x - ax) * (bx - ax) + (z - az) * (bz - az)) / ((bx - ax) ** 2 + (bz - az) ** 2), 0, 1
                )
                least = min(least, math.hypot(ax + along * (bx - ax) - x, az + along * (bz - az) - z))
        self.assertGreaterEqual(least, 76 / 2 + 18 - 0.6)
        self.assertLess(least, 76 / 2 + 18 + 6)

    def test_the_bridge_folds_up_to_the_cut_line(self) -> None:
        line = np.array([(0.0, 0.0), (0.0, 70.0), (25.0, 95.0), (130.0, 95.0), (155.0, 70.0), (155.0, 0.0)])
        for t in (3.0, 5.0, 8.0):
            whole, folds = flat_length(line, t)
            neutral = INSIDE * t + K_FACTOR * t
            outside = INSIDE * t + t
            # Fold the strip up again: its outer face turns about the same middles by the outer radius.
            at, way, mark = np.array([0.0, 0.0]), math.pi / 2, 0.0
            outer = [at.copy()]
            for middle, angle in folds:
                turn = math.radians(angle)
                half = abs(turn) * neutral / 2
                straight = (middle - half) - mark
                at = at + straight * np.array([math.cos(way), math.sin(way)])
                corner = at + outside * math.tan(abs(turn) / 2) * np.array([math.cos(way), math.sin(way)])
                outer.append(corner)
                way -= turn
                at = corner + outside * math.tan(abs(turn) / 2) * np.array([math.cos(way), math.sin(way)])
                mark = middle + half
            outer.append(at + (whole - mark) * np.array([math.cos(way), math.sin(way)]))
            self.assertLess(float(np.abs(np.array(outer) - line).max()), 1e-9, t)

    def test_what_is_left_of_the_rail_is_its_section_integrated(self) -> None:
        values = started("axle-four-link")
        choice = NotchChoice.model_validate(self.choice(values, thickness=6.0))
        high = 55.0
        strips = np.linspace(0, 85.0, 200_001)
        z = (strips[1:] + strips[:-1]) / 2
        width = np.where(z < 6.0, 60.0, np.where(z > 81.0, 60.0, 2 * (4.0 + 6.0)))
        area = float((width * np.diff(strips)).sum())
        middle = float((width * z * np.diff(strips)).sum()) / area
        inertia = float((width * (z - middle) ** 2 * np.diff(strips)).sum())
        left = inertia / max(middle, 85.0 - middle)
        whole = (60 * 140**3 - 52 * 132**3) / 12 / 70
        self.assertAlmostEqual(section_kept(choice, high), left / whole, places=4)

    def test_a_rail_too_low_and_a_rail_far_above_are_said(self) -> None:
        values = started("axle-four-link")
        work = WorkUp(solve_station(samples.station(values)))
        low = NotchChoice.model_validate(
            self.choice(values, rail_bottom=values["points"][values["wheels"][0]["centre"]][2] - 100.0)
        )
        part = made(low.model_dump(), values)
        self.assertEqual(part.mark, "fault")
        self.assertIn("Raise the rail", str(part.said[0].say))
        far = self.choice(values, rail_bottom=1200.0)
        part = made(far, values)
        self.assertIn("no notch is needed", str(part.said[0].say))
        with self.assertRaises(NoNotch):
            flat_length(np.array([(0.0, 0.0), (0.0, 4.0), (4.0, 8.0)]), 8.0)
        self.assertTrue(work.grid.place.size)


if __name__ == "__main__":
    unittest.main()
