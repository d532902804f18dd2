"""Linkages nobody would build: at worst a named refusal, never a crash, a hang or a number that is none."""

import json
import time
import unittest

import numpy as np
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from engine.document.read import check_project
from engine.errors import EngineError
from engine.results.result_file import solve_project
from engine.tests import samples, some

PATIENCE_S = 20.0  # a hang, not a benchmark: all of these take far less


def outcome(values: samples.Values, remedies: bool = False) -> str:
    """Solve; return the refusal's code or "solved". Anything else is an error of the test."""
    start = time.monotonic()
    try:
        result = solve_project(check_project(samples.document(values)), 9, remedies)
        json.dumps(result, allow_nan=False)
        return "solved"
    except EngineError as refused:
        assert str(refused).strip().endswith((".", "?")) or refused.code == "document_refused", str(refused)
        return refused.code
    finally:
        assert time.monotonic() - start < PATIENCE_S


class Hostile(unittest.TestCase):
    @settings(max_examples=some(60), deadline=None, suppress_health_check=list(HealthCheck))
    @given(
        name=st.sampled_from(sorted(samples.every_linkage())),
        seed=st.integers(0, 2**32 - 1),
        spread=st.floats(0, 400),
        scale=st.sampled_from([1.0, 1.0, 0.05, 8.0]),
        travel=st.tuples(st.floats(0, 1000), st.floats(1, 1000)),
        length=st.none() | st.floats(1, 900),
    )
    # An axle on too many links, one of them so long that it does not reach the height it was drawn at.
    @example("axle_parallel", 6988202, 259.0, 1.0, (0.0, 28.0), 544.0)
    def test_any_geometry(
        self,
        name: str,
        seed: int,
        spread: float,
        scale: float,
        travel: tuple[float, float],
        length: float | None,
    ) -> None:
        random = np.random.default_rng(seed)
        values = samples.every_linkage()[name]
        for point, place in values["points"].items():
            moved = np.add(place, random.uniform(-spread, spread, 3)) * scale
            values["points"][point] = [float(round(x, 6)) for x in moved]
        values["travel"] = {"bump": travel[0], "droop": travel[1]}
        rods = [body for body, members in values["bodies"].items() if len(members) == 2]
        if length is not None and rods:
            values["links"] = {rods[seed % len(rods)]: {"length": length}}
        codes = {"solved", "linkage_loose", "linkage_held", "linkage_dead_centre", "linkage_did_not_close"}
        self.assertIn(outcome(values), codes | {"document_refused"})

    def test_nearly_flat_hinges_and_thin_triangles(self) -> None:
        for gap in (1.0, 0.1, 0.02):
            values = samples.pushrod_corner()
            values["points"]["rocker_rear"] = [40 - gap, 292, 404]
            self.assertEqual(outcome(values), "solved")
            thin = samples.five_link()
            thin["points"]["steer_ball"] = [-1, 627 + gap, 242]
            self.assertIn(outcome(thin), {"solved", "linkage_loose", "linkage_held"})

    def test_on_the_very_edge_of_reach(self) -> None:
        values = samples.pushrod_corner()
        drawn = float(np.linalg.norm(np.subtract(values["points"]["push_low"], values["points"]["push_top"])))
        results = set()
        for extra in np.linspace(86, 94, 17):
            results.add(outcome(values | {"links": {"pushrod": {"length": drawn + float(extra)}}}))
        self.assertLessEqual(results, {"solved", "linkage_did_not_close"})

    def test_a_wheel_on_its_own_hinge_line_cannot_travel(self) -> None:
        values = samples.arm()
        values["points"]["wheel"] = [0, 700, 250]
        values["points"]["spindle"] = [0, 800, 250]
        self.assertIn(outcome(values), {"linkage_held", "linkage_loose", "linkage_dead_centre"})

    def test_many_bodies(self) -> None:
        # A chain of forty rockers, each driven by the one before.
        values = samples.arm(10, 10)
        points, bodies = values["points"], values["bodies"]
        points["j0"] = [-200, 450, 300]
        bodies["arm"].append("j0")
        for k in range(40):
            x = -200 + 60 * (k + 1)
            points |= {
                f"p{k}": [x, 420, 420],
                f"q{k}": [x, 480, 420],
                f"i{k}": [x - 5, 450, 340],
                f"j{k + 1}": [x + 5, 450, 340],
            }
            values["chassis"] += [f"p{k}", f"q{k}"]
            bodies[f"rocker{k}"] = [f"p{k}", f"q{k}", f"i{k}", f"j{k + 1}"]
            bodies[f"rod{k}"] = [f"j{k}", f"i{k}"]
        self.assertIn(outcome(values), {"solved", "document_refused"})
