"""The room told at the start is the room that is drawn: measured again on the solid itself."""

import unittest

from engine.document.read import check_project
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.layouts.rail import with_rail
from engine.limits.solids import solids_of


class Rail(unittest.TestCase):
    def test_it_stands_as_far_from_the_tyre_as_was_said(self) -> None:
        drawn = 0
        for layout in LAYOUTS:
            values = starting_project(layout)
            values["stations"] = [with_rail(station, 90.0) for station in values["stations"]]
            station = check_project(values).stations[0]
            solids = {solid.name: solid for solid in solids_of(station)}
            rails = [solid for name, solid in solids.items() if name.startswith("rail")]
            self.assertEqual(len(rails), 0 if station.single else len(station.wheels), layout.name)
            for rail in rails:
                tyre = min(
                    (solid for solid in solids.values() if solid.what == "tyre"),
                    key=lambda its: abs(float(its.centre[1] - rail.centre[1])),
                )
                face = abs(float(tyre.centre[1])) - float(tyre.half[0])
                near = abs(float(rail.centre[1])) + float(rail.half[1])
                self.assertAlmostEqual(face - near, 90.0, places=1)
                self.assertAlmostEqual(float(rail.centre[2]), float(tyre.centre[2]), places=1)
                drawn += 1
        self.assertGreater(drawn, 15)


if __name__ == "__main__":
    unittest.main()
