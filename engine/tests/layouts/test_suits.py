"""What is said for and against an arrangement, held against the geometry that it starts with."""

import unittest

from engine.layouts.catalogue import LAYOUTS, layout_named, starting_project
from engine.layouts.layout import Brief
from engine.layouts.suits import Room, facts_of, suited


def words(sentences: tuple[object, ...]) -> str:
    return " ".join(str(sentence) for sentence in sentences)


class Suits(unittest.TestCase):
    def test_every_arrangement_has_a_reason_for_it_and_fits_where_nothing_is_said(self) -> None:
        for layout in LAYOUTS:
            one = suited(layout.name, Brief(), Room())
            self.assertTrue(one.fits, layout.name)
            self.assertTrue(one.why or one.why_not)

    def test_room_is_judged_at_exactly_what_it_takes(self) -> None:
        need = (facts_of("wishbones-lower", Brief()).beside or 0) + 12.0
        self.assertTrue(suited("wishbones-lower", Brief(), Room(beside=need + 0.1)).fits)
        tight = suited("wishbones-lower", Brief(), Room(beside=need - 0.1))
        self.assertFalse(tight.fits)
        self.assertIn("Between tyre and frame", str(tight.why_not[0]))

    def test_beside_is_what_the_drawing_shows(self) -> None:
        station = starting_project(layout_named("wishbones-lower"))["stations"][0]
        unit = station["units"][0]
        nearest = min(abs(station["points"][end][1]) for end in unit["ends"])
        face = 740 - 205 / 2
        self.assertAlmostEqual(
            facts_of("wishbones-lower", Brief()).beside or 0, face - nearest + unit["coil_diameter"] / 2
        )

    def test_no_room_beside_the_tyre_leaves_rods_and_crossed_ones(self) -> None:
        kept = {layout.name for layout in LAYOUTS if suited(layout.name, Brief(), Room(beside=20)).fits}
        self.assertIn("pushrod", kept)
        self.assertIn("crossed-coilovers", kept)
        self.assertNotIn("wishbones-lower", kept)
        self.assertNotIn("axle-four-link", kept)

    def test_a_low_bonnet_and_ground_clearance_pick_apart_the_two_rockers(self) -> None:
        low = Room(above=180)
        self.assertFalse(suited("pushrod", Brief(), low).fits)
        self.assertTrue(suited("pullrod", Brief(), low).fits)
        rough = Room(under=260)
        self.assertTrue(suited("pushrod", Brief(), rough).fits)
        self.assertFalse(suited("pullrod", Brief(), rough).fits)

    def test_a_bag_wants_its_width(self) -> None:
        self.assertFalse(suited("axle-on-air", Brief(), Room(bag=60)).fits)
        self.assertTrue(suited("axle-on-air", Brief(), Room(bag=600)).fits)

    def test_a_size_that_cannot_be_drawn_says_why(self) -> None:
        one = suited("pushrod", Brief(track=500, wheel_radius=600, bump=300, droop=300), Room())
        self.assertFalse(one.fits)
        self.assertIn("does not go together", words(one.why_not))

    def test_purpose_speaks_for_and_against_a_rocker(self) -> None:
        self.assertIn("changed there", words(suited("pushrod", Brief(), Room(purpose="circuit")).why))
        self.assertIn("dirt", words(suited("pushrod", Brief(), Room(purpose="rough")).why_not))


if __name__ == "__main__":
    unittest.main()
