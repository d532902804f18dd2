"""Merging by invariants on documents thrown at random: nothing of either side is lost, and it is the same whoever is asked."""

import copy
import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from engine.document.changes import changes_between
from engine.document.merging import merged
from engine.document.read import check_project
from engine.findings.judge import judge
from engine.layouts.catalogue import LAYOUTS, layout_named, starting_project
from engine.station.solved import solve_station

Values = dict[str, Any]


def moved(values: Values, point: str, by: float) -> None:
    spot = values["stations"][0]["points"][point]
    values["stations"][0]["points"][point] = [spot[0], spot[1], round(spot[2] + by, 3)]


@st.composite
def edits(draw: st.DrawFn) -> list[tuple[str, Any]]:
    """Return changes as hands make them: a place moved, a unit's figure, one taken out or put in, a mass."""
    base = starting_project(layout_named("pushrod"))["stations"][0]
    kinds = st.sampled_from(["point", "unit", "out", "in", "mass", "hint"])
    found = []
    for kind in draw(st.lists(kinds, min_size=1, max_size=6)):
        if kind == "point":
            found.append((kind, (draw(st.sampled_from(sorted(base["points"]))), draw(st.integers(1, 40)))))
        elif kind == "unit":
            found.append((kind, (draw(st.sampled_from(["bump_stop", "strap"])), draw(st.integers(1, 20)))))
        elif kind == "out":
            found.append((kind, draw(st.sampled_from(["bump_stop", "strap"]))))
        elif kind == "in":
            found.append((kind, draw(st.sampled_from(["rail", "panel", "tube"]))))
        else:
            found.append((kind, draw(st.integers(1, 9))))
    return found


def edited(base: Values, changes: list[tuple[str, Any]]) -> Values:
    its = copy.deepcopy(base)
    station = its["stations"][0]
    for kind, what in changes:
        if kind == "point":
            moved(its, what[0], what[1])
        elif kind == "unit":
            for unit in station["units"]:
                if unit["kind"] == what[0]:
                    key = "contact" if what[0] == "bump_stop" else "length"
                    unit[key] = round(unit[key] + what[1] / 10, 3)
        elif kind == "out":
            station["units"] = [unit for unit in station["units"] if unit["kind"] != what]
        elif kind == "in":
            solids = [one for one in station.get("envelopes", []) if one["name"] != what]
            station["envelopes"] = [
                *solids,
                {
                    "name": what,
                    "shape": "half_space",
                    "on": "chassis",
                    "what": "floor",
                    "at": [0, 0, -500],
                    "facing": [0, 0, 1],
                },
            ]
        elif kind == "mass":
            station["mass"]["corner"] = 250.0 + what
        else:
            station["hints"] = {**station.get("hints", {}), "wheel": f"hub {what}"}
    return its


class Merging(unittest.TestCase):
    BASE = starting_project(layout_named("pushrod"))

    @settings(max_examples=150, deadline=None, derandomize=True)
    @given(edits(), edits())
    def test_it_is_the_same_whoever_is_asked_where_nothing_clashes(
        self, one: list[tuple[str, Any]], other: list[tuple[str, Any]]
    ) -> None:
        mine, theirs = edited(self.BASE, one), edited(self.BASE, other)
        a, b = merged(self.BASE, mine, theirs), merged(self.BASE, theirs, mine)
        self.assertEqual([c.path for c in a.clashes], [c.path for c in b.clashes])
        if not a.clashes:
            self.assertEqual(a.document, b.document)
        # Theirs chosen all through is mine chosen all through by the other.
        every = [clash.path for clash in a.clashes]
        self.assertEqual(merged(self.BASE, mine, theirs, every).document, b.document)

    @settings(max_examples=150, deadline=None, derandomize=True)
    @given(edits(), edits())
    def test_nothing_of_either_is_lost(
        self, one: list[tuple[str, Any]], other: list[tuple[str, Any]]
    ) -> None:
        mine, theirs = edited(self.BASE, one), edited(self.BASE, other)
        found = merged(self.BASE, mine, theirs)
        clashing = {clash.path[-1] for clash in found.clashes}
        for its in (mine, theirs):
            for change in changes_between(self.BASE, its):
                if {change["subject"], change["what"]} & clashing or any(
                    part in clashing for part in change["subject"].split(" · ")
                ):
                    continue
                self.assertIn(change, changes_between(self.BASE, found.document))

    @settings(max_examples=60, deadline=None, derandomize=True)
    @given(edits())
    def test_with_one_who_did_nothing_it_is_the_others(self, one: list[tuple[str, Any]]) -> None:
        mine = edited(self.BASE, one)
        for found in (
            merged(self.BASE, mine, self.BASE),
            merged(self.BASE, self.BASE, mine),
            merged(self.BASE, mine, mine),
        ):
            self.assertEqual((found.document, found.clashes), (mine, ()))

    def test_findings_are_those_of_both_changes_done_by_one_hand(self) -> None:
        mine, theirs, both = (copy.deepcopy(self.BASE) for _ in range(3))
        for its in (mine, both):
            moved(its, "top", 6.0)
        for its in (theirs, both):
            moved(its, "lower_front", -4.0)
            its["stations"][0]["mass"]["corner"] = 301.0
        found = merged(self.BASE, mine, theirs)
        self.assertEqual(found.document, both)
        said = [
            [str(finding.what) for finding in judge(solve_station(check_project(its).stations[0]))]
            for its in (found.document, both)
        ]
        self.assertEqual(said[0], said[1])

    def test_what_both_changed_is_asked_and_so_is_what_one_took_out(self) -> None:
        mine, theirs = copy.deepcopy(self.BASE), copy.deepcopy(self.BASE)
        moved(mine, "top", 5.0)
        moved(theirs, "top", 9.0)
        station = mine["stations"][0]
        name = next(unit["name"] for unit in station["units"] if unit["kind"] == "strap")
        station["units"] = [unit for unit in station["units"] if unit["kind"] != "strap"]
        for unit in theirs["stations"][0]["units"]:
            if unit["kind"] == "strap":
                unit["length"] += 3.0
        found = merged(self.BASE, mine, theirs)
        here = ("stations", station["name"])
        self.assertEqual(
            [clash.path for clash in found.clashes], [(*here, "points", "top"), (*here, "units", name)]
        )
        self.assertEqual(found.document["stations"][0]["points"]["top"], station["points"]["top"])
        with_theirs = merged(self.BASE, mine, theirs, [(*here, "units", name)]).document
        self.assertIn(name, [unit["name"] for unit in with_theirs["stations"][0]["units"]])

    def test_stations_added_by_both_are_both_there(self) -> None:
        mine, theirs = copy.deepcopy(self.BASE), copy.deepcopy(self.BASE)
        for its, layout in ((mine, LAYOUTS[0]), (theirs, LAYOUTS[1])):
            its["stations"].append({**starting_project(layout)["stations"][0], "name": layout.title})
        found = merged(self.BASE, mine, theirs)
        self.assertEqual(len(found.document["stations"]), 3)
        check_project(found.document)


if __name__ == "__main__":
    unittest.main()
