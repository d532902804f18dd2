"""One value of a good document replaced by junk: refused with a path, or still a document. Nothing else."""

import copy
import unittest
from collections.abc import Iterator
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from engine.document.read import check_project
from engine.errors import DocumentRefused, EngineError
from engine.results.result_file import solve_project
from engine.tests import samples, some

JUNK = [
    None,
    True,
    "",
    "x",
    " ",
    -1,
    0,
    0.0,
    1e-12,
    1e9,
    -1e300,
    10**40,
    [],
    {},
    [[]],
    [1, 2],
    {"a": 1},
    "é" * 300,
]


def places(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Yield the path of every value in a document."""
    if path:
        yield path
    if isinstance(value, dict):
        for key, child in value.items():
            yield from places(child, (*path, key))
    elif isinstance(value, list):
        for number, child in enumerate(value):
            yield from places(child, (*path, number))


def documents() -> list[Any]:
    stop = samples.bump_stop("stop", "eye", "top", 270)
    strap = {"name": "strap", "kind": "strap", "ends": ["eye", "top"], "length": 330, "stretch": 0.01}
    everything = samples.bagged_arm()
    everything["units"] += [stop, strap]
    linked = samples.pushrod_corner() | {"links": {"pushrod": {"length": 386}}}
    return [samples.document(linked), samples.document(everything), samples.document(samples.axle())]


DOCUMENTS = documents()
PLACES = [(number, place) for number, document in enumerate(DOCUMENTS) for place in places(document)]


class Junk(unittest.TestCase):
    @settings(max_examples=some(300), deadline=None, suppress_health_check=list(HealthCheck))
    @given(st.sampled_from(PLACES), st.sampled_from(JUNK), st.booleans())
    def test_one_value_replaced_or_removed(
        self, at: tuple[int, tuple[Any, ...]], junk: Any, remove: bool
    ) -> None:
        number, path = at
        document = copy.deepcopy(DOCUMENTS[number])
        holder: Any = document
        for key in path[:-1]:
            holder = holder[key]
        if remove:
            del holder[path[-1]]
        else:
            holder[path[-1]] = copy.deepcopy(junk)
        try:
            project = check_project(document)
        except DocumentRefused as refused:
            for fault in refused.faults:
                self.assertTrue(fault.message)
                self.assertNotIn("Traceback", fault.message)
                self.assertTrue(fault.path, f"{path} := {junk!r}: {fault}")
            return
        try:
            solve_project(project, 3)
        except EngineError as refused:
            self.assertTrue(str(refused))
