"""A tab's gusset: what it leaves to bear, by summing a section's strips; and that it is made wherever it is counted."""

import copy
import unittest
from typing import Any

import numpy as np

from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.fits import part_envelopes
from engine.shop.gussets import Gusset, gusset_for, sideways_share, tabs_gussets_kept
from engine.shop.made import Made
from engine.shop.outline import area_of
from engine.shop.parts import Maker, station_parts
from engine.shop.room import roomy
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp

TAB = {"gusset": True, "reach": 45.0, "thickness": 4.0}


def started(**tab: Any) -> tuple[Maker, list[Made]]:
    values = copy.deepcopy(starting_project(layout_named("pushrod"))["stations"][0])
    own = {"kind": "tab", "name": "lower front tab", "point": "lower_front", "holds": "lower_arm"}
    values["make"] = {"parts": [{**own, **tab}]}
    maker = Maker(WorkUp(solve_station(samples.station(values))), RULES)
    return maker, list(station_parts(maker).parts)


def modulus(strips: list[tuple[float, float]], thick: float) -> float:
    """Return a section's weaker modulus, mm³, of strips (height of the middle, width), each so thick."""
    heights, widths = (np.array(part) for part in zip(*strips, strict=True))
    areas = widths * thick
    middle = float((heights * areas).sum() / areas.sum())
    inertia = float((areas * (heights - middle) ** 2).sum())
    return inertia / max(middle - heights.min(), heights.max() - middle)


class Bears(unittest.TestCase):
    def test_the_root_is_the_t_of_both_against_the_plate_alone(self) -> None:
        step = 0.01
        for thick, foot, out in ((4.0, 40.0, 24.0), (6.0, 90.0, 36.0), (3.0, 120.0, 18.0)):
            plate = [(float(y), foot) for y in np.arange(step / 2, thick, step)]
            rib = [(float(y), thick) for y in np.arange(thick + step / 2, thick + out, step)]
            wanted = modulus(plate, step) / modulus(plate + rib, step)
            tall = Gusset(up=1e6, out=out, thickness=thick)
            self.assertAlmostEqual(sideways_share(tall, foot, foot, 1e6) / wanted, 1.0, delta=5e-3)

    def test_above_a_low_gusset_the_plate_is_alone(self) -> None:
        low = Gusset(up=10.0, out=60.0, thickness=4.0)
        # 40 mm of arm left of 50, on a plate half as wide as the foot.
        self.assertAlmostEqual(sideways_share(low, 40.0, 80.0, 50.0), 1.0)
        self.assertAlmostEqual(sideways_share(low, 40.0, 40.0, 50.0), 0.8)

    def test_none_without_room_or_ground(self) -> None:
        self.assertIsNone(gusset_for(4.0, 22.0, 24.0, None))
        self.assertIsNone(gusset_for(4.0, 60.0, 24.0, 10.0))
        its = gusset_for(4.0, 60.0, 24.0, 90.0)
        self.assertEqual(vars(its), {"up": 46.0, "out": 24.0, "thickness": 4.0})


class IsMade(unittest.TestCase):
    def test_one_for_each_plate_of_the_tab_in_every_list(self) -> None:
        _, parts = started(**TAB)
        _, bare = started(**{**TAB, "gusset": False})
        tab, gusset = (
            next(one for one in parts if one.name == name)
            for name in ("lower front tab", "lower front tab gusset")
        )
        self.assertEqual((gusset.count, gusset.hands, gusset.many), (tab.count, tab.hands, tab.many))
        assert gusset.flat is not None and tab.flat is not None
        out, up = gusset.figure("leg_1"), gusset.figure("leg_2")
        self.assertAlmostEqual(abs(area_of(list(gusset.flat.outline))), out * up / 2 - 6 * 6 / 2)
        self.assertEqual((gusset.flat.thickness, gusset.flat.grade), (tab.flat.thickness, tab.flat.grade))
        mass = sum(one.mass * one.many for one in parts) - sum(one.mass * one.many for one in bare)
        self.assertAlmostEqual(mass, gusset.mass * 4)
        self.assertEqual(len(parts), len(bare) + 1)
        sideways = [
            next(check.factor for check in its[k].checks if "tab bent" in check.what)
            for its, k in ((parts, parts.index(tab)), (bare, [one.name for one in bare].index(tab.name)))
        ]
        self.assertGreater(sideways[0], sideways[1])

    def test_it_stands_on_the_foot_below_the_bolt_and_takes_room(self) -> None:
        maker, parts = started(**TAB)
        mounts = maker.seats
        mount = next(one for one in mounts if one.point == "lower_front")
        tab = next(one for one in parts if one.name == "lower front tab")
        solids = [one for one in part_envelopes(maker.station, parts, mounts) if "gusset" in one.name]
        self.assertEqual(len(solids), tab.count)
        for solid in solids:
            spots = [np.array(spot, dtype=float) - mount.spot for spot in solid.outline or ()]
            down = [float(spot @ mount.towards) for spot in spots]
            beside = [abs(float(spot @ mount.bolt)) for spot in spots]
            self.assertAlmostEqual(max(down), tab.figure("reach"))
            self.assertGreater(min(down), tab.figure("hole"))  # its top is below the washer
            self.assertAlmostEqual(min(beside), tab.figure("gap") / 2 + tab.figure("thickness"))

    def test_a_tab_that_is_made_otherwise_takes_its_gusset_along(self) -> None:
        maker, parts = started(**TAB)
        fitted = roomy(maker, station_parts(maker)).parts
        self.assertEqual([one.name for one in fitted], [one.name for one in parts])
        self.assertEqual(len(list(tabs_gussets_kept(parts, parts))), len(parts))
        same = list(tabs_gussets_kept(parts, parts))
        self.assertTrue(all(one is two for one, two in zip(parts, same, strict=True)))

    def test_a_gusset_with_no_room_is_said_and_not_counted(self) -> None:
        _, parts = started(**TAB, foot={"on": "tube", "outside": 60.0, "angle": 10.0})
        tab = next(one for one in parts if one.name == "lower front tab")
        said = next(one for one in tab.said if "no room for a gusset" in str(one.say))
        self.assertEqual(said.mark, "fault")
        self.assertFalse([one for one in parts if one.kind == "gusset"])


if __name__ == "__main__":
    unittest.main()
