"""Names are values: whatever they hold, they go through solving, judging, remedies, mirroring and the Log unharmed."""

import copy
import json
import unittest

from engine.document.changes import changes_between
from engine.document.mirror import mirrored_station
from engine.document.read import check_project, read_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.results.result_file import solve_project
from engine.tests import samples

ODD = (
    "coil {1}",
    "rail | left",
    'a "quoted" one',
    "{by}",
    "شاسی یمین",
    "\u202eright to left",
    "100 % %s {",
    "x" * 80,
)


KEYED = {"bodies", "links", "rods", "plates"}


def renamed(values: samples.Values, names: dict[str, str]) -> samples.Values:
    """Return values with every name of some parts, as key or as value, replaced."""

    def walk(value: object, named: bool = False) -> object:
        if isinstance(value, dict):
            own = names if named else {}
            return {
                own.get(k, k): v if k in ("kind", "shape") else walk(v, k in KEYED) for k, v in value.items()
            }
        if isinstance(value, list):
            return [walk(v) for v in value]
        return names.get(value, value) if isinstance(value, str) else value

    return dict(walk(values))  # type: ignore[call-overload]


def spoiled(layout: str) -> samples.Values:
    """Return an arrangement with something wrong with every unit, so that much is said of it."""
    values = copy.deepcopy(starting_project(layout_named(layout))["stations"][0])
    for unit in values["units"]:
        if unit["kind"] == "strap":
            unit["length"] += 15
        if unit["kind"] == "coilover":
            unit["preload"] -= 9
            unit["extended"] -= 12
    points = values["points"]
    at = points[values["units"][0]["ends"][0]]
    values["envelopes"] = [{"name": "rail", "shape": "box", "centre": list(at), "size": [90, 60, 90]}]
    return values


class Names(unittest.TestCase):
    def test_odd_names_go_through_everything(self) -> None:
        for layout in ("pushrod", "axle-four-link", "trailing-arm"):
            values = spoiled(layout)
            plain = solve_project(check_project(samples.document(values)), 9, remedies=False)["stations"][0]
            parts = [unit["name"] for unit in values["units"]] + ["rail", *values["bodies"]]
            for shift in (0, 3, 6) if layout == "trailing-arm" else (1, 4):
                names = {part: f"{ODD[(k + shift) % len(ODD)][:70]} {k}" for k, part in enumerate(parts)}
                odd = renamed(values, names)
                with self.subTest(layout, shift=shift):
                    project = read_project(json.dumps(samples.document(odd)))
                    found = solve_project(project, 9, remedies=shift == 6)["stations"][0]
                    json.dumps(found, allow_nan=False)
                    self.assertEqual(
                        sorted(f["code"] for f in found["findings"]),
                        sorted(f["code"] for f in plain["findings"]),
                    )
                    self.assertEqual(mirrored_station(mirrored_station(odd, "one"), odd["name"]), odd)
                    other = copy.deepcopy(odd)
                    other["units"][0]["ends"] = other["units"][0]["ends"][::-1]
                    changes = changes_between(samples.document(odd), samples.document(other))
                    self.assertEqual([c["what"] for c in changes], ["ends"])

    def test_a_name_of_a_hundred_and_twenty_letters_is_said_whole(self) -> None:
        values = spoiled("trailing-arm")
        long = "q" * 120
        values["units"] = [u | {"name": long} if u["kind"] == "coilover" else u for u in values["units"]]
        found = solve_project(check_project(samples.document(values)), 9, remedies=False)["stations"][0]
        self.assertTrue(any(long in f["what"] for f in found["findings"]))


if __name__ == "__main__":
    unittest.main()
