"""Every joint assembled: layer by layer along its bolt and in space, for every example, demo and odd job."""

import copy
import itertools
import json
import math
import unittest
from collections.abc import Iterator
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.document.threads import NoThread, bolt_size, bolt_within, inches, screw
from engine.layouts.catalogue import layout_named, starting_project
from engine.limits.distance import core_distance, core_of
from engine.limits.solids import Solid, axes_along, placed_all
from engine.shop.angles import Angles, angles_of
from engine.shop.job_parts import JobParts, job_parts
from engine.shop.made import Made
from engine.shop.parts import Maker
from engine.shop.stacks import CLEARANCE_MM, BoltStack, Layer
from engine.shop.stock import INCH, METRIC, Stock, bolt_for

ROOT = Path(__file__).parents[3]
ONE_PIECE = (
    "plate",
    "pivot sleeve of rocker",
    "pivot sleeve of rocker_left",
    "pivot sleeve of rocker_right",
)  # a rocker's
FILES = [
    *sorted((ROOT / "docs/examples").glob("*.json")),
    *sorted((ROOT / "server/demo/files").glob("*.json")),
]
Values = dict[str, Any]


def started(name: str = "pushrod") -> Values:
    return copy.deepcopy(starting_project(layout_named(name)))


@cache
def every() -> list[tuple[str, JobParts]]:
    return [
        (file.stem, job_parts(check_project(json.loads(file.read_text("utf-8"))), fitted=False))
        for file in FILES
    ]


def odd() -> Iterator[tuple[str, JobParts]]:
    """Yield jobs with odd numbers."""
    for turn in (0.0, 24.0):
        values = started()
        turned(values["stations"][0], turn)
        yield f"rocker turned {turn:g}", job_parts(check_project(values), fitted=False)
    values = started()
    values["stations"][0]["rods"] = {"rod": {"thread": 12.7, "pitch": 1.27, "engagement": 22.0}}
    yield "half-inch ends", job_parts(check_project(values), fitted=False)
    values = started()
    values["stations"][0]["points"]["eye" if "eye" in values["stations"][0]["points"] else "rocker_eye"][
        0
    ] += 20.0
    yield "eye 20 mm out of the rod's plane", job_parts(check_project(values), fitted=False)
    values = started("axle-three-link")
    values["stations"][0]["make"] = {"parts": [{"kind": "plate", "name": "arm", "body": "lower_link_left"}]}
    yield "a link of plates", job_parts(check_project(values), fitted=False)
    values = started("wishbones-lower")
    unit = next(one for one in values["stations"][0]["units"] if one["kind"] == "coilover")
    unit["eyes"] = [
        {"end": end, "bolt": [0.2, 0.97, 0.1], "bore": 14.0, "width": 26.0} for end in unit["ends"]
    ]
    yield "crooked eye bolts of their own bore", job_parts(check_project(values), fitted=False)
    values = started("wishbones-lower")
    stop = next(one for one in values["stations"][0]["units"] if one["kind"] == "bump_stop")
    stop["table"] = [[x, 6 * push] for x, push in stop["table"]]
    yield "a stiff stop", job_parts(check_project(values), fitted=False)
    values = started("arm-on-air")
    bag = next(one for one in values["stations"][0]["units"] if one["kind"] == "air_spring")
    bag["plates"] = {"first": [0.2, 0.0, 1.0], "second": [0.0, 0.1, -1.0]}
    yield "a bag on crooked plates", job_parts(check_project(values), fitted=False)
    yield "inch stock", job_parts(check_project(started("wishbones-lower")), INCH, fitted=False)


def turned(station: Values, degrees: float) -> None:
    """Turn a rocker's bolt in plan, with all of its points."""
    members = station["bodies"]["rocker"]
    middle = np.mean([station["points"][name] for name in members], axis=0)
    turn = math.radians(degrees)
    spin = np.array([[math.cos(turn), -math.sin(turn), 0], [math.sin(turn), math.cos(turn), 0], [0, 0, 1]])
    for name in members:
        station["points"][name] = (middle + spin @ (np.array(station["points"][name]) - middle)).tolist()


def stacks(parts: JobParts) -> Iterator[tuple[Made, BoltStack]]:
    for part in parts.parts:
        for stack in part.stacks:
            yield part, stack


class Assembled(unittest.TestCase):
    def jobs(self) -> Iterator[tuple[str, JobParts]]:
        yield from every()
        yield from odd()

    def test_every_layer_stands_on_the_one_before_and_the_bolt_goes_through_all_of_them(self) -> None:
        count = 0
        for job, parts in self.jobs():
            for part, stack in stacks(parts):
                told = f"{job}, {part.name}: {stack.words}"
                faults = [one for one in part.said if one.mark == "fault"]
                bolt = stack.bolt
                gaps = [b.at - a.end for a, b in zip(stack.layers, stack.layers[1:], strict=False)]
                if faults:
                    continue
                count += 1
                self.assertGreaterEqual(min(gaps), -1e-9, told)
                self.assertLessEqual(sum(gaps), CLEARANCE_MM + 1.0 + 1e-9, told)
                for layer in stack.layers[1:]:
                    self.assertGreaterEqual(layer.bore, bolt.size - 0.06, told)
                    self.assertGreater(layer.outside, layer.bore, told)
                plates = [layer for layer in stack.layers if layer.what in ("tab", "plate")]
                self.assertEqual(len(plates), stack.planes, told)
                for plate in plates:
                    self.assertLessEqual(plate.bore, bolt.size + 0.5 + 1e-9, told)
        self.assertGreater(count, 150)

    def test_the_bolt_is_as_long_as_its_stack_with_one_to_three_threads_out_of_its_nut(self) -> None:
        for job, parts in self.jobs():
            for part, stack in stacks(parts):
                bolt, layers = stack.bolt, stack.layers
                told = f"{job}, {part.name}: {bolt.said} {stack.words}"
                under = layers[0].end
                out = under + bolt.length - layers[-1].end
                self.assertGreaterEqual(out, bolt.of.thread.pitch - 1e-9, told)
                self.assertLessEqual(out, 3 * bolt.of.thread.pitch + CLEARANCE_MM + 1.0 + 1e-9, told)
                thread_from = under + bolt.length - bolt.of.thread_length(bolt.length)
                self.assertLessEqual(thread_from, layers[-1].at + 1e-9, told)
                self.assertIn(bolt.length, bolt.of.lengths(), told)
                # The last plate ends where the shank may: where it says so, no thread stands in a shear plane.
                plates = [layer for layer in layers if layer.what in ("tab", "plate")]
                if bolt.shank_in_shear and stack.planes == 2:
                    self.assertGreaterEqual(thread_from, plates[-1].at - CLEARANCE_MM - 1.0 - 1e-9, told)

    def test_rocker_plates_stand_where_both_bolts_have_them_and_their_sleeve_between_the_pivots_tabs(
        self,
    ) -> None:
        seen = 0
        for job, parts in self.jobs():
            for maker in parts.makers:
                for name, joints in maker.rocker_joints.items():
                    made = next(
                        part
                        for part in parts.parts
                        if part.subject == ("plate", name) and part.station == maker.station.name
                    )
                    if any(one.mark == "fault" for one in made.said):
                        continue
                    seen += 1
                    rod, eye = ([x for x in s.layers if x.what == "plate"] for s in made.stacks)
                    for one, other in zip(rod, eye, strict=True):
                        # Along the pivot's bolt from the rod's plane: one plate, met by both bolts.
                        self.assertAlmostEqual(one.at, other.at + joints.drawn.offset, places=6, msg=job)
                    tab = next(
                        part
                        for part in parts.parts
                        if part.kind == "tab"
                        and part.subject[2] == name
                        and part.station == maker.station.name
                    )
                    sleeve = float(made.figure("pivot_sleeve"))
                    self.assertAlmostEqual(float(tab.figure("gap")), sleeve + CLEARANCE_MM, places=6, msg=job)
                    # The pair's middle stands on the pivot's line, in the middle of the plates.
                    mount = next(one for one in maker.seats if one.holds == name)
                    self.assertAlmostEqual(
                        float((mount.spot - joints.drawn.pivot) @ joints.drawn.axis), joints.middle, places=6
                    )
                    self.assertGreaterEqual(sleeve, joints.width)
                    self.assertLess(joints.pivot.bore + 4.0, joints.sizes.pivot_bore)
        self.assertGreater(seen, 8)

    def test_no_two_pairs_of_tabs_stand_in_one_place(self) -> None:
        for job, parts in self.jobs():
            for maker in parts.makers:
                seats = maker.seats
                for k, one in enumerate(seats):
                    for other in seats[k + 1 :]:
                        if one.on == other.on:
                            self.assertGreater(
                                float(np.linalg.norm(one.spot - other.spot)), 1.0, f"{job} {one.holds}"
                            )

    def test_no_two_solids_stand_in_one_another_in_space_or_it_is_said(self) -> None:
        for job, parts in self.jobs():
            for maker in parts.makers:
                placed = list(self.placed(maker, parts))
                solids = [
                    (name, layer, self.solid(f"{n} {k}", spot, bolt, layer))
                    for n, (name, spot, bolt, stack) in enumerate(placed)
                    for k, layer in enumerate(stack.layers)
                ]
                pairs = [
                    (a, b)
                    for a, b in itertools.combinations(solids, 2)
                    if a[0] != b[0]
                    and not (a[1].what in ONE_PIECE and b[1].what in ONE_PIECE)
                    and float(np.linalg.norm(a[2].centre - b[2].centre)) < 120
                ]
                if not pairs:
                    continue
                linkage = maker.work.linkage
                at = placed_all(
                    linkage, [its[2] for its in solids], np.ascontiguousarray(linkage.points.T[:, :, None])
                )
                row = np.zeros(1, int)
                ones, others = ([(at[pair[k][2].name], row) for pair in pairs] for k in (0, 1))
                apart, _ = core_distance(core_of(ones), core_of(others), looks=0)
                for (one, other), far in zip(pairs, apart.reshape(-1), strict=True):
                    if far < -0.5:
                        names = {one[0].split(", bolt of")[0], other[0].split(", bolt of")[0]}
                        said = [
                            str(its.say)
                            for part in parts.parts
                            if part.name in names and part.station == maker.station.name
                            for its in part.said
                            if its.mark == "fault"
                        ]
                        self.assertIn(
                            "into one another",
                            " ".join(said),
                            f"{job} {one[0]} {one[1]} {other[0]} {other[1]} {far}",
                        )

    def placed(
        self, maker: Maker, parts: JobParts
    ) -> Iterator[tuple[str, np.ndarray, np.ndarray, BoltStack]]:
        """Yield every stack of a station in space: whose it is, its place as drawn, its bolt's way."""
        seats = {(one.point, one.holds): one for one in maker.seats}
        linkage = maker.work.linkage
        for part in parts.parts:
            if part.station != maker.station.name or not part.stacks:
                continue
            if part.kind == "tab":
                seat = seats[part.subject[1], part.subject[2]]
                yield part.name, seat.spot, seat.bolt, part.stacks[0]
            elif part.subject[1] in maker.rocker_joints:
                joints = maker.rocker_joints[part.subject[1]]
                for stack, point in zip(part.stacks, (joints.here.rod_joint, joints.here.eye), strict=True):
                    spot = linkage.points[linkage.index[point]]
                    yield f"{part.name}, bolt of {point}", spot, joints.drawn.axis, stack

    def solid(self, name: str, spot: np.ndarray, bolt: np.ndarray, layer: Layer) -> Solid:
        centre = spot + bolt * (layer.at + layer.width / 2)
        half = np.array([layer.width / 2, 0.0, 0.0])
        return Solid(
            name=name,
            what="bolt",
            host="chassis",
            centre=centre,
            axes=axes_along(bolt),
            half=half,
            disc=layer.outside / 2,
        )

    def test_what_shares_a_bolt_is_loaded_together(self) -> None:
        values = started("wishbones-lower")
        parts = job_parts(check_project(values), fitted=False)
        seat = next(one for one in parts.makers[0].seats if one.also and one.on == "chassis")
        peak = parts.makers[0].peak
        assert peak is not None
        alone = peak.unit_forces(seat.holds, seat.point)
        strap = peak.unit_forces(seat.also[0][1], seat.also[0][0])
        count = len(peak.cases)
        stop = np.abs(seat.forces[:count] - alone - strap).max()
        self.assertGreater(stop, 100.0)  # the stop on its shaft stands on its eye
        coaxial = [unit.name for unit in parts.makers[0].station.units if unit.kind == "bump_stop"]
        whole = alone + strap + sum(peak.unit_forces(name, seat.point) for name in coaxial)
        np.testing.assert_allclose(seat.forces[:count], whole, atol=1e-6)

    def test_every_proposed_part_bears_its_worst_case_and_names_it(self) -> None:
        for job, parts in self.jobs():
            if job in ("hollin-fell-fire-tender", "wandering-shelf-library"):
                continue  # they have mistakes to find
            for part in parts.parts:
                # A bolt is as thick as the bore of a rod end that the job says: told, not proposed.
                told = [one for one in part.checks if one.what.startswith("bolt") and one.factor < 2.0]
                checks = () if told else part.checks
                for check in checks if part.proposed else []:
                    self.assertGreaterEqual(check.factor, 2.0 - 1e-9, f"{job} {part.name} {check}")
                    self.assertTrue(check.case, f"{job} {part.name} {check}")


class Said(unittest.TestCase):
    def words(self, part: Made) -> str:
        return " ".join(f"{one.mark}: {one.say}" for one in part.said)

    def test_a_hole_larger_than_its_bolt_is_said_and_bears_on_the_bolt(self) -> None:
        values = started("pushrod")
        values["stations"][0]["plates"] = {"rocker": {"rod_hole": 30.0, "thickness": 8.0}}
        parts = job_parts(check_project(values), fitted=False)
        plate = next(part for part in parts.parts if part.kind == "plate")
        self.assertIn("bears on its own width alone", self.words(plate))
        bolt = plate.stacks[0].bolt.size
        maker = parts.makers[0]
        assert maker.peak is not None
        load = max(maker.peak.pushes["rod"].value, maker.peak.pulls["rod"].value)
        share = maker.rocker_joints["rocker"].share(0.0)
        found = next(check for check in plate.checks if check.what == "bearing of the hole (rod)")
        self.assertAlmostEqual(found.factor, 2 * 8.0 * bolt * 355 / (load * share), places=6)

    def test_plates_too_near_for_what_stands_between_them_are_a_fault_and_the_press_makes_room(self) -> None:
        values = started("pushrod")
        values["stations"][0]["plates"] = {"rocker": {"gap": 9.0}}
        parts = job_parts(check_project(values), fitted=False)
        plate = next(part for part in parts.parts if part.kind == "plate")
        fault = next(one for one in plate.said if one.mark == "fault")
        assert fault.remedy is not None
        values["stations"][0]["plates"]["rocker"] |= fault.remedy.change
        again = next(
            part for part in job_parts(check_project(values), fitted=False).parts if part.kind == "plate"
        )
        self.assertNotIn("fault", self.words(again))

    def test_rod_and_eye_out_of_one_plane_are_taken_by_spacers_and_said(self) -> None:
        parts = dict(odd())["eye 20 mm out of the rod's plane"]
        plate = next(part for part in parts.parts if part.kind == "plate")
        self.assertIn("out of one plane", self.words(plate))
        for stack in plate.stacks:
            self.assertTrue(
                any(layer.what == "spacer" and layer.width > 10 for layer in stack.layers), stack.words
            )

    def test_a_thread_that_nobody_makes_is_refused_and_not_replaced(self) -> None:
        values = started()
        values["stations"][0]["rods"] = {"rod": {"thread": 12.0, "pitch": 12.5, "engagement": 20.0}}
        rod = next(
            part
            for part in job_parts(check_project(values), fitted=False).parts
            if part.subject == ("rod", "rod")
        )
        self.assertIsNone(rod.cut)
        self.assertIn("M12 × 12.5 is a thread that nobody makes", self.words(rod))

    def test_an_inch_thread_stays_one(self) -> None:
        parts = dict(odd())["half-inch ends"]
        rod = next(part for part in parts.parts if part.subject == ("rod", "rod"))
        self.assertIn("1/2-20", " ".join(one.size for one in rod.hardware))
        plate = next(part for part in parts.parts if part.kind == "plate")
        self.assertIn("1/2 in ×", plate.stacks[0].bolt.said)
        assert plate.flat is not None
        self.assertAlmostEqual(plate.flat.holes[1].diameter, 12.7)

    def test_two_bolts_in_one_place_that_are_not_one_are_a_fault(self) -> None:
        values = started("wishbones-lower")
        station = values["stations"][0]
        unit = next(one for one in station["units"] if one["kind"] == "coilover")
        top = next(end for end in unit["ends"] if end in station["chassis"])
        unit["eyes"] = [{"end": top, "bolt": [1.0, 0.0, 0.0]}]
        station["units"].append(
            {"name": "second", "kind": "damper", "ends": list(unit["ends"]), "extended": unit["extended"] + 5,
             "compressed": unit["compressed"] - 5, "eyes": [{"end": top, "bolt": [0.7, 0.7, 0.0]}]}
        )  # fmt: skip
        parts = job_parts(check_project(values), fitted=False)
        tab = next(part for part in parts.parts if part.kind == "tab" and part.subject[1] == top)
        self.assertIn("whose bolts are 45", self.words(tab))


class Threads(unittest.TestCase):
    def test_bolts_leave_one_to_three_threads_out_whatever_they_grip(self) -> None:
        for size in METRIC.bolts:
            of = bolt_size(size)
            for grip in np.arange(12.0, 90.0, 0.7):
                bolt = bolt_for(of, float(grip), 6.0)
                turns = bolt.beyond / of.thread.pitch
                self.assertTrue(1 - 1e-9 <= turns <= 3 + 1e-9, f"{bolt} {grip}")
                inside = grip + (1 + bolt.washers) * of.washer + of.nut
                self.assertAlmostEqual(bolt.length - inside, bolt.beyond)

    def test_inch_bolts_are_sold_in_quarters(self) -> None:
        for size in INCH.bolts:
            bolt = bolt_for(bolt_size(size), 44.0, 6.0)
            self.assertAlmostEqual(bolt.length / 25.4 * 4, round(bolt.length / 25.4 * 4), places=6)
        self.assertEqual([inches(x * 25.4) for x in (0.5, 1.75, 2.0)], ["1/2", "1 3/4", "2"])

    def test_a_thread_is_found_in_its_table_or_refused(self) -> None:
        for told, words in (
            ((12.7, 1.27), "1/2-20"),
            ((15.88, 25.4 / 18), "5/8-18"),
            ((20.0, 1.5), "M20 × 1.5"),
            ((12.0, None), "M12 × 1.75"),
        ):
            self.assertEqual(screw(*told).said, words)
        for told in ((13.0, None), (12.0, 1.27), (12.7, 1.5), (14.0, 1.27)):
            with self.assertRaises(NoThread):
                screw(*told)
        self.assertEqual(bolt_within(13.2).size, 12.7)
        for stock in (METRIC, INCH):
            self.assertEqual([one.screw.size for one in stock.threads], [one.size for one in stock.threads])

    def test_inch_stock_proposes_inch_ends_and_bolts(self) -> None:
        stock: Stock = INCH
        parts = job_parts(check_project(started("wishbones-lower")), stock, fitted=False)
        sizes = [
            one.size
            for part in parts.parts
            for one in part.hardware
            if one.what.startswith(("bolt", "rod end"))
        ]
        self.assertTrue(sizes)
        self.assertFalse([size for size in sizes if size.startswith("M")])

    def test_a_job_says_that_its_parts_are_made_of_inch_stock(self) -> None:
        parts = job_parts(check_project({**started("wishbones-lower"), "sizes": "inch"}), fitted=False)
        tubes = [part.cut.tube.said for part in parts.parts if part.cut is not None and part.kind == "rod"]
        self.assertTrue(tubes)
        self.assertTrue(all(" in " in words for words in tubes), tubes)
        for part in parts.parts:
            for stack in part.stacks:
                self.assertTrue(stack.bolt.of.inch, f"{part.name} {stack.bolt.said}")
        self.assertEqual(METRIC.tubes[0].said, "16 × 1.5 S235")


def direction_of(angles: Angles, y: float) -> np.ndarray:
    """Return the bolt that readings say, (3,) unit, its named end first: worked backwards, as a person at the frame does."""
    side = 1.0 if y >= 0 else -1.0
    level, turn = math.radians(angles.level), math.radians(angles.turn)
    up = 1.0 if angles.high == angles.turn_end else -1.0
    sign = {"ahead": 1.0, "out": 1.0, "left": 1.0, "back": -1.0, "in": -1.0, "right": -1.0, "": 0.0}[
        angles.turn_way
    ]
    flat = math.cos(level)
    if angles.turn_from == "straight across":
        x, out = flat * math.sin(turn) * sign, flat * math.cos(turn)
    else:
        x, out = flat * math.cos(turn), flat * math.sin(turn) * sign
    return np.array([x, side * out, up * math.sin(level)])


class Finder(unittest.TestCase):
    def test_readings_with_their_sides_hold_one_direction_and_no_other(self) -> None:
        rng = np.random.default_rng(7)
        for y in (412.0, -412.0, 3.0):
            for _ in range(300):
                bolt = rng.normal(size=3)
                bolt /= np.linalg.norm(bolt)
                towards = np.cross(bolt, rng.normal(size=3))
                towards /= np.linalg.norm(towards)
                angles = angles_of(bolt, towards, np.array([0.0, y, 300.0]))
                back = direction_of(angles, y)
                self.assertAlmostEqual(abs(float(back @ bolt)), 1.0, places=6)
                tz = math.cos(math.radians(angles.plumb)) * (-1.0 if angles.foot == "below" else 1.0)
                self.assertAlmostEqual(float(towards[2]), tz, places=6)


if __name__ == "__main__":
    unittest.main()
