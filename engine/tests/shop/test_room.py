"""Whether what is made fits, and what is made otherwise so that it does."""

import copy
import unittest
from typing import Any

import numpy as np

from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.fits import bolts_stuck, no_spanner, part_envelopes, runs_into
from engine.shop.made import Made
from engine.shop.mounts import mounts_of, turned
from engine.shop.parts import Maker, StationParts, station_parts
from engine.shop.room import roomy
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp


def worked(values: dict[str, Any]) -> WorkUp:
    return WorkUp(solve_station(samples.station(values)))


def roomed(work: WorkUp) -> StationParts:
    maker = Maker(work, RULES)
    return roomy(maker, station_parts(maker))


class Fits(unittest.TestCase):
    def fitted(self, values: dict[str, Any]) -> tuple[WorkUp, list[Made]]:
        work = WorkUp(solve_station(samples.station(values)))
        return work, list(station_parts(Maker(work, RULES)).parts)

    def test_a_bolt_between_two_walls_cannot_be_drawn_and_beside_one_it_can(self) -> None:
        values = samples.arm()
        x, y, z = values["points"]["top"]
        wall = {"shape": "box", "size": [120, 6, 120]}
        one = {"name": "inner wall", **wall, "centre": [x, y - 30, z]}
        for walls, stuck in (
            ([], False),
            ([one], False),
            ([one, {"name": "outer wall", **wall, "centre": [x, y + 30, z]}], True),
        ):
            values["envelopes"] = walls
            work, parts = self.fitted(values)
            top = next(part for part in parts if part.subject == ("tab", "top", "coilover"))
            mounts = mounts_of(work, work.peak(RULES.loading))
            found = bolts_stuck(work, mounts, {("top", "coilover"): float(top.figure("grip")) + 20})
            self.assertEqual(bool([one for one in found if one.mount.point == "top"]), stuck)
            if stuck:
                self.assertEqual(set(found[0].by), {"inner wall", "outer wall"})

    def test_a_rod_that_fouls_is_said_with_how_deep(self) -> None:
        values = copy.deepcopy(starting_project(layout_named("pushrod"))["stations"][0])
        rod = values["bodies"]["rod"]
        middle = np.mean([values["points"][point] for point in rod], axis=0)
        values["envelopes"] = [
            {"name": "bracket", "shape": "box", "centre": [float(c) for c in middle], "size": [20, 20, 20]}
        ]
        work, parts = self.fitted(values)
        near = runs_into(work, parts, mounts_of(work, work.peak(RULES.loading)))
        pairs = {frozenset((one.one, one.other)): one.distance for one in near}
        self.assertLess(pairs[frozenset(("made: rod", "bracket"))], 0)
        its = roomed(work)
        said = [str(one.say) for part in its.parts if part.name == "rod" for one in part.said]
        self.assertTrue(any("into bracket" in words for words in said))

    def test_every_part_has_its_room_where_it_is_drawn(self) -> None:
        work, parts = self.fitted(samples.arm())
        for envelope in part_envelopes(work.station, parts, mounts_of(work, work.peak(RULES.loading))):
            self.assertTrue(envelope.name.startswith("made: "))

    def test_a_spanner_wants_thirty_degrees_somewhere_round_the_bolt(self) -> None:
        values = samples.arm()
        x, y, z = values["points"]["top"]
        half = float(self.grip(values)) / 2 + 10
        plate = {"name": "close plate", "shape": "box", "size": [400, 6, 400], "centre": [x, y + half, z]}
        ring = [
            {
                "name": f"wall {k}",
                "shape": "box",
                "size": [20, 60, 300],
                "centre": [x + 80 * way, y + half, z],
            }
            for k, way in enumerate((1, -1))
        ]
        lid = {"name": "lid", "shape": "box", "size": [300, 60, 20], "centre": [x, y + half, z + 60]}
        for around, held in (([], False), ([plate], True), (ring, False), ([*ring, lid], False)):
            values["envelopes"] = around
            work, parts = self.fitted(values)
            top = next(part for part in parts if part.subject == ("tab", "top", "coilover"))
            lengths = {("top", "coilover"): float(top.figure("grip")) + 20}
            found = no_spanner(work, mounts_of(work, work.peak(RULES.loading)), lengths)
            self.assertEqual(
                [one.side for one in found], ["left"] if held else [], [e["name"] for e in around]
            )

    def grip(self, values: dict[str, Any]) -> float:
        _, parts = self.fitted(values)
        return float(
            next(part for part in parts if part.subject == ("tab", "top", "coilover")).figure("grip")
        )

    def test_another_bolt_leans_as_a_finite_turn_says(self) -> None:
        work, _ = self.fitted(copy.deepcopy(starting_project(layout_named("pushrod"))["stations"][0]))
        peak = work.peak(RULES.loading)
        for mount in mounts_of(work, peak):
            if mount.square is None:
                continue
            self.assertAlmostEqual(turned(work, peak, mount, mount.square).lean, mount.least_lean, places=9)
            tilted = mount.bolt * np.cos(0.1) + mount.way * np.sin(0.1)
            self.assertGreater(turned(work, peak, mount, tilted).lean, mount.lean - 1e-9)


class Room(unittest.TestCase):
    """Proposals are made otherwise, choices told; both by trying."""

    def walled(self, chosen: bool) -> dict[str, Any]:
        values = copy.deepcopy(starting_project(layout_named("pushrod"))["stations"][0])
        work = worked(values)
        maker = Maker(work, RULES)
        its = station_parts(maker)
        part = next(one for one in its.parts if one.kind == "tab" and not self.mount(maker, one).given)
        mount = self.mount(maker, part)
        self.point, self.holds = mount.point, mount.holds
        for k, way in enumerate((1, -1)):
            at = mount.spot + mount.bolt * way * (float(part.figure("grip")) / 2 + 28)
            values["envelopes"] = [
                *values.get("envelopes", []),
                {
                    "name": f"cheek {k}",
                    "shape": "box",
                    "centre": [float(c) for c in at],
                    "size": [10, 10, 10],
                },
            ]
        if chosen:
            values["make"] = {"parts": [part.choice]}
        return values

    def mount(self, maker: Maker, part: Made) -> Any:
        its = {(one.point, one.holds): one for one in maker.seats}
        return its[part.subject[1], part.subject[2]]

    def tab(self, its: StationParts) -> Made:
        return next(part for part in its.parts if part.subject == ("tab", self.point, self.holds))

    def test_a_proposal_that_holds_its_bolt_is_turned_till_it_comes_out(self) -> None:
        values = self.walled(chosen=False)
        work = worked(values)
        maker = Maker(work, RULES)
        before = self.tab(station_parts(maker))
        lengths = {(self.point, self.holds): float(before.figure("grip")) + 20}
        mounts = [self.mount(maker, before)]
        self.assertTrue(bolts_stuck(work, mounts, lengths))
        after = self.tab(roomed(work))
        self.assertTrue(after.proposed)
        self.assertFalse([one for one in after.said if one.mark != "note"])
        assert after.choice is not None
        # Taken as it is, it stands as it is: the document says the bolt now.
        values["make"] = {"parts": [after.choice]}
        again = self.tab(roomed(worked(values)))
        self.assertFalse([one for one in again.said if one.mark != "note"])
        self.assertEqual(again.choice["bolt"], after.choice["bolt"] if again.choice else None)

    def test_a_choice_stays_and_its_remedy_clears_it(self) -> None:
        values = self.walled(chosen=True)
        part = self.tab(roomed(worked(values)))
        self.assertFalse(part.proposed)
        (stuck,) = [one for one in part.said if "cannot be drawn out" in str(one.say)]
        assert stuck.remedy is not None and part.choice is not None
        values["make"] = {"parts": [{**part.choice, **stuck.remedy.change}]}
        after = self.tab(roomed(worked(values)))
        self.assertFalse([one for one in after.said if one.mark != "note"])

    def test_a_bolt_that_nothing_frees_is_told_how_far_it_comes(self) -> None:
        values = samples.arm()
        x, y, z = values["points"]["top"]
        values["envelopes"] = [
            {"name": f"wall {k}", "shape": "box", "size": size, "centre": [x + ahead, y + out, z]}
            for k, (ahead, out, size) in enumerate(
                (
                    (0, 40, [220, 6, 220]),
                    (0, -40, [220, 6, 220]),
                    (40, 0, [6, 220, 220]),
                    (-40, 0, [6, 220, 220]),
                )
            )
        ]
        unit = next(unit for unit in values["units"] if unit["kind"] == "coilover")
        unit["eyes"] = [{"end": "top", "bolt": [0.0, 1.0, 0.0]}]
        self.point, self.holds = "top", "coilover"
        part = self.tab(roomed(worked(values)))
        (said,) = [one for one in part.said if "cannot be drawn out" in str(one.say)]
        self.assertIsNone(said.remedy)
        # Its end stands half its length from the middle; the wall's face 37 mm from there, less the bolt's radius.
        long = float(part.figure("grip")) + 20
        comes = said.say.quantities["comes"].value
        self.assertAlmostEqual(comes, max(40 - 3 - 5 - long / 2, 0), delta=0.02 * long + 1)

    def test_a_damper_on_a_bolt_out_of_square_is_turned_square(self) -> None:
        values = samples.arm()
        unit = next(unit for unit in values["units"] if unit["kind"] == "coilover")
        unit["eyes"] = [{"end": "top", "bolt": [0.25, 1.0, 0.1]}]
        self.point, self.holds = "top", "coilover"
        part = self.tab(roomed(worked(values)))
        (said,) = [one for one in part.said if "out of square" in str(one.say)]
        assert said.remedy is not None
        self.assertEqual(said.remedy.into, "eyes")
        unit["eyes"][0] |= said.remedy.change
        after = self.tab(roomed(worked(values)))
        self.assertFalse([one for one in after.said if "out of square" in str(one.say)])
        self.assertLess(float(after.figure("lean")), float(part.figure("lean")))

    def test_a_rod_in_the_way_is_made_of_thinner_tube_that_bears_its_load(self) -> None:
        values = copy.deepcopy(starting_project(layout_named("pushrod"))["stations"][0])
        thick = {"outside": 60.0, "wall": 3.0, "grade": "S355"}
        values["make"] = {"parts": [{"kind": "rod", "name": "rod", "body": "rod", "tube": thick}]}
        one, other = (np.array(values["points"][point]) for point in values["bodies"]["rod"])
        x, y, z = (float(c) for c in (one + other) / 2)
        values["envelopes"] = [
            {"name": "stay", "what": "bodywork", "shape": "box", "centre": [x + 34, y, z], "size": [8, 8, 8]}
        ]
        part = next(part for part in roomed(worked(values)).parts if part.subject == ("rod", "rod"))
        (said,) = [one for one in part.said if "stay" in one.say.names]
        assert said.remedy is not None
        self.assertLess(said.remedy.change["tube"]["outside"], 60.0)
        values["make"]["parts"][0] |= said.remedy.change
        after = next(part for part in roomed(worked(values)).parts if part.subject == ("rod", "rod"))
        self.assertFalse([one for one in after.said if one.mark != "note"])
        assert after.weakest is not None
        self.assertGreater(after.weakest.factor, 1.0)


if __name__ == "__main__":
    unittest.main()
