"""Machine code says what its source says, and only its own source's: built aside, named by its sum, never stale."""

import json
import os
import shutil
import subprocess
import sys
import sysconfig
import unittest
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import mock

import numpy as np

from engine import compiled
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.limits.distance import Core, core_distance, nearest_row
from engine.limits.solids import Solid, placed_all
from engine.linkage.batch import risen
from engine.linkage.linkage import Linkage
from engine.sizing.rocker import turning
from engine.sizing.rocker.candidates import Choice, limits_of, rockers_from
from engine.sizing.rocker.moving import move
from engine.sizing.rocker.room import usual_room
from engine.sizing.rocker.search import _apart
from engine.sizing.rocker.targets import Targets
from engine.sizing.rocker.wheel_side import wheel_side_of
from engine.station.solved import solve_station
from engine.tests import samples

HEADERS = Path(sysconfig.get_path("include")) / "Python.h"
CAN_LINK = shutil.which("gcc") is not None and HEADERS.exists()
TRAVELS = np.array([-35.0, -10.0, 0.0, 22.5, 40.0])
TINY = """
def doubled(values, out):
    for k in range(values.shape[0]):
        out[k] = {times} * values[k]


SIGNATURES = {{doubled: ("f8[::1]", "f8[::1]")}}
"""


def answers() -> dict[str, list[float]]:
    """Return places, slopes, bends, cores' distances and rockers that the compiled loops work out."""
    linkage = Linkage(samples.station(samples.pushrod_corner()))
    motion = linkage.follow(TRAVELS).solution.motion
    rng = np.random.default_rng(3)

    def cores(spread: float) -> Core:
        turn = np.linalg.qr(rng.normal(size=(12, 3, 3)))[0]
        corners = rng.uniform(-40, 40, (12, 5, 3))
        half, disc = rng.uniform(0, 30, (12, 3)), rng.uniform(0, 20, 12)
        return Core(
            centre=rng.uniform(-spread, spread, (12, 3)), axes=turn, half=half, disc=disc, corners=corners
        )

    three_link = next(layout for layout in LAYOUTS if layout.name == "axle-three-link")
    axle = Linkage(samples.station(starting_project(three_link)["stations"][0]))
    taped = axle.points + rng.normal(
        scale=2.0, size=(6, *axle.points.shape)
    )  # eyes beside their links' lines
    (leant,) = risen(axle, taped, [np.full(6, 40.0)])
    lengths, followed = linkage.solver.march(linkage.heave(), np.linspace(-60, 170, 47), [(0, 5), (2, 9)])
    one, other = cores(120.0), cores(120.0)
    distance, direction = core_distance(one, other, looks=3)
    near = [nearest_row(one, other, skins, np.full(12, -np.inf)) for skins in (0.0, 500.0)]
    solids = [
        Solid(name="guard", what="structure", host=body, centre=np.array([10.0, 500.0, 300.0]))
        for body in linkage.bodies
    ]
    unit = linkage.station.units[0].name
    solids.append(Solid(name="tube", what="damper", host=unit, centre=np.zeros(3), disc=20.0, spans=True))
    placed = [placed_all(linkage, [solid], motion.place)[solid.name] for solid in solids]
    return {
        "place": motion.place.ravel().tolist(),
        "first": motion.first.ravel().tolist(),
        "second": motion.second.ravel().tolist(),
        "leant": np.ravel([leant.motion.place, leant.motion.first, leant.motion.second]).tolist(),
        "lengths": np.nan_to_num(lengths).ravel().tolist(),
        "followed": followed.astype(float).ravel().tolist(),
        **rockers(),
        "distance": distance.tolist(),
        "direction": direction.ravel().tolist(),
        "near": [value for apart, row, way in near for value in (apart, row, *way.tolist())],
        "centre": np.ravel([its.centre for its in placed]).tolist(),
        "axes": np.ravel([its.axes for its in placed]).tolist(),
    }


def rockers() -> dict[str, list[float]]:
    """Return rockers drawn and moved, in line and not, nothing for those that cannot be; and which are really different."""
    side = wheel_side_of(solve_station(samples.station(samples.pushrod_corner())))
    told: dict[str, list[float]] = {}
    for in_line in (False, True):
        targets = Targets(**usual_room(side.pivot, side.far, side.shared), ratio=0.6, in_line=in_line)
        low, high = limits_of(targets)
        choices = np.random.default_rng(4).uniform(low, high, (60, 9))
        choices[:20, Choice.ROD_ARM] *= 40  # longer than the way from the pivot to the rod's end
        some = rockers_from(choices, side, targets)
        moved = move(some, side.path, side.rate)
        for name, values in (vars(some) | vars(moved)).items():
            told[f"{name} {in_line}"] = np.nan_to_num(np.ravel(values)).tolist()
    marks = np.random.default_rng(5).uniform(0, 4, (300, 3))
    told["apart"] = [float(k) for k in _apart(marks, 40, [7])]
    return told


class Columns(unittest.TestCase):
    def test_the_loops_and_the_search_mean_the_same_column_by_a_name(self) -> None:
        for choice in Choice:
            if not choice.name.startswith("PLACE"):
                self.assertEqual(getattr(turning, choice.name), choice.value, choice.name)


class AsInterpreted(unittest.TestCase):
    def test_the_library_says_what_plain_python_says_of_the_same_source(self) -> None:
        """Another process runs the loops line by line: numba is told not to compile, and no library is looked for."""
        script = (
            "import engine.compiled as c, json; c.loaded = c.by_numba\n"
            "from engine.tests.test_compiled import answers\n"
            "print(json.dumps(answers()))"
        )
        run = subprocess.run(
            [sys.executable, "-W", "ignore", "-c", script],
            env={**os.environ, "NUMBA_DISABLE_JIT": "1"},
            cwd=compiled.ROOT,
            capture_output=True,
            text=True,
            check=True,
        )
        plain, mine = json.loads(run.stdout), answers()
        self.assertIn(0.0, mine["followed"])
        self.assertTrue(any(distance < 0 for distance in mine["distance"]))
        self.assertTrue(any(distance > 0 for distance in mine["distance"]))
        for name, values in mine.items():
            np.testing.assert_allclose(values, plain[name], rtol=1e-9, atol=1e-9, err_msg=name)


@unittest.skipUnless(CAN_LINK, "no C compiler, or no Python.h: numba compiles as it goes")
class Libraries(unittest.TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.root = Path(folder.name)
        self.written(2.0)
        for name, value in (("ROOT", self.root), ("BUILT", self.root / "built")):
            patch = mock.patch.object(compiled, name, value)
            patch.start()
            self.addCleanup(patch.stop)
        patch = mock.patch.object(sys, "path", [str(self.root), *sys.path])
        patch.start()
        self.addCleanup(patch.stop)
        self.addCleanup(lambda: sys.modules.pop("tiny", None))

    def written(self, times: float) -> None:
        (self.root / "tiny.py").write_text(TINY.format(times=times), "utf-8")
        sys.modules.pop("tiny", None)

    def doubled(self) -> list[float]:
        out = np.zeros(2)
        compiled.loaded.__wrapped__("tiny").doubled(np.array([1.0, 4.0]), out)
        return out.tolist()

    def test_it_is_built_once_and_loads_without_its_source(self) -> None:
        file = compiled.build("tiny")
        made = file.stat().st_mtime_ns
        self.assertEqual(compiled.build("tiny"), file)
        self.assertEqual(file.stat().st_mtime_ns, made)
        self.assertEqual(list(file.parent.iterdir()), [file])  # nothing is left of what it was made in
        sys.modules.pop("tiny", None)
        self.assertEqual(self.doubled(), [2.0, 8.0])
        self.assertNotIn("tiny", sys.modules)

    def test_of_another_source_it_is_not_run_and_is_cleared_away(self) -> None:
        old = compiled.build("tiny")
        self.written(3.0)
        self.assertEqual(self.doubled(), [3.0, 12.0])
        self.assertIn("tiny", sys.modules)  # nothing built of it yet: numba compiled it here
        new = compiled.build("tiny")
        self.assertNotEqual(new, old)
        self.assertFalse(old.exists())
        self.assertEqual(self.doubled(), [3.0, 12.0])

    def test_where_it_cannot_be_linked_nothing_half_made_is_left_and_numba_does_it(self) -> None:
        with (
            mock.patch("numba.pycc.CC.compile", side_effect=RuntimeError("no compiler")),
            self.assertRaisesRegex(RuntimeError, "no compiler"),
        ):
            compiled.build("tiny")
        self.assertEqual(list(compiled.BUILT.iterdir()), [])
        self.assertEqual(self.doubled(), [2.0, 8.0])


@unittest.skipUnless(CAN_LINK, "no C compiler, or no Python.h: numba compiles as it goes")
class SetUp(unittest.TestCase):
    def test_what_runs_here_was_built_of_todays_sources(self) -> None:
        """Set-up has run: tests that compile as they go would be slow, and would not try what is shipped."""
        for source in compiled.SOURCES:
            with self.subTest(source=source):
                self.assertTrue((compiled.BUILT / f"{compiled.library(source)}{compiled.SUFFIX}").exists())


if __name__ == "__main__":
    unittest.main()
