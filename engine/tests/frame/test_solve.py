"""A frame against closed forms: cantilever, portal, truss, twist, Euler's column; equilibrium and reciprocity of random ones."""

import json
import math
from pathlib import Path
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from engine.document.read import read_project
from engine.document.schema import Project
from engine.frame.assembled import assembled
from engine.frame.element import euler_johnson
from engine.frame.section import E_N_PER_MM2, G_N_PER_MM2
from engine.frame.solve import Solved

TUBE = {"outside": 40.0, "wall": 3.0}


def job(frame: dict[str, Any], stations: list[Any] | None = None) -> Project:
    return read_project(
        json.dumps(
            {
                "format": "jugatrix-project",
                "version": 1,
                "name": "frame",
                "stations": stations or [],
                "frame": frame,
            }
        )
    )


def member(name: str, one: str, other: str, **more: Any) -> dict[str, Any]:
    size = {} if {"tube", "box", "flat"} & set(more) else {"tube": TUBE}
    return {"name": name, "ends": [one, other], **size, **more}


def solved(frame: dict[str, Any]) -> Solved:
    return Solved(assembled(job(frame)))


def loads(its: Solved, **at: list[float]) -> np.ndarray:
    found = np.zeros((its.size, 1))
    for name, force in at.items():
        node = its.frame.names.index(name)
        found[6 * node : 6 * node + len(force), 0] = force
    return found


def moved(its: Solved, node: str, load: np.ndarray) -> np.ndarray:
    found, held = its.moves(load)
    assert held.all()
    at = its.frame.names.index(node)
    return np.asarray(found[6 * at : 6 * at + 6, 0])


INERTIA = math.pi / 64 * (40.0**4 - 34.0**4)
AREA = math.pi / 4 * (40.0**2 - 34.0**2)


class SecondRoute(TestCase):
    """Crooked hoops with braces and pins, as another program solved them (bench/second_route.py)."""

    def test_every_node_moves_and_turns_as_another_program_says(self) -> None:
        frames = json.loads((Path(__file__).parent / "second_route.json").read_text("utf-8"))
        self.assertGreater(sum("ends_held" in one for its in frames for one in its["frame"]["members"]), 10)
        for one in frames:
            its = solved(one["frame"])
            found, held = its.moves(loads(its, **one["loads"]))
            self.assertTrue(held.all())
            most = max(abs(way) for moves in one["moves"].values() for way in moves[:3])
            self.assertGreater(most, 0.1)
            for name, moves in one["moves"].items():
                at = 6 * its.frame.names.index(name)
                np.testing.assert_allclose(found[at : at + 6, 0], moves, rtol=1e-7, atol=1e-9)


class ClosedForms(TestCase):
    def test_a_cantilever_bends_stretches_and_twists_as_the_books_say(self) -> None:
        its = solved(
            {
                "nodes": {"a": [0, 0, 0], "b": [0, 800, 0]},
                "members": [member("m", "a", "b")],
                "held": {"a": "fixed"},
            }
        )
        down = moved(its, "b", loads(its, b=[0, 0, -1000.0]))
        self.assertAlmostEqual(down[2], -1000 * 800**3 / (3 * E_N_PER_MM2 * INERTIA), places=9)
        self.assertAlmostEqual(abs(down[3]), 1000 * 800**2 / (2 * E_N_PER_MM2 * INERTIA), places=12)
        pull = moved(its, "b", loads(its, b=[0, 5000.0, 0]))
        self.assertAlmostEqual(pull[1], 5000 * 800 / (E_N_PER_MM2 * AREA), places=12)
        twist = moved(its, "b", loads(its, b=[0, 0, 0, 0, 1e5, 0]))
        self.assertAlmostEqual(twist[4], 1e5 * 800 / (G_N_PER_MM2 * 2 * INERTIA), places=12)

    def test_a_box_is_stiff_the_way_its_height_stands(self) -> None:
        box = {"height": 100.0, "width": 50.0, "wall": 4.0}
        for up, force, inertia in (
            ([0, 0, 1], [0, 0, 1000.0], (50 * 100**3 - 42 * 92**3) / 12),
            ([1, 0, 0], [0, 0, 1000.0], (100 * 50**3 - 92 * 42**3) / 12),
        ):
            frame = {
                "nodes": {"a": [0, 0, 0], "b": [0, 700, 0]},
                "members": [member("m", "a", "b", box=box, up=up)],
                "held": {"a": "fixed"},
            }
            its = solved(frame)
            self.assertAlmostEqual(
                moved(its, "b", loads(its, b=force))[2], 1000 * 700**3 / (3 * E_N_PER_MM2 * inertia), places=8
            )

    def test_a_portal_sways_as_slope_deflection_has_it(self) -> None:
        high, wide = 500.0, 900.0
        frame = {
            "nodes": {"a": [0, 0, 0], "b": [0, 0, high], "c": [0, wide, high], "d": [0, wide, 0]},
            "members": [member("l", "a", "b"), member("t", "b", "c"), member("r", "d", "c")],
            "held": {"a": "fixed", "d": "fixed"},
        }
        its = solved(frame)
        # Slope deflection, both feet fixed: Δ = H·h³/(12·E·I)·(2 + 3k)/(1 + 6k), k = (I_beam/I_column)·(h/l).
        k = high / wide
        sway = 1000 * high**3 * (2 + 3 * k) / (12 * E_N_PER_MM2 * INERTIA * (1 + 6 * k))
        middle = 0.5 * (
            moved(its, "b", loads(its, b=[0, 500.0, 0], c=[0, 500.0, 0]))[1]
            + moved(its, "c", loads(its, b=[0, 500.0, 0], c=[0, 500.0, 0]))[1]
        )
        self.assertAlmostEqual(middle, sway, delta=0.01 * sway)

    def test_a_truss_of_ball_joints_carries_by_pull_alone(self) -> None:
        balls = {"ends_held": ["pinned", "pinned"]}
        frame = {
            "nodes": {"a": [0, -300, 400], "b": [0, 300, 400], "c": [300, 0, 400], "p": [50, 0, 0]},
            "members": [
                member("one", "a", "p", **balls),
                member("two", "b", "p", **balls),
                member("three", "c", "p", **balls),
            ],
            "held": {"a": "pinned", "b": "pinned", "c": "pinned"},
        }
        its = solved(frame)
        self.assertEqual(its.loose, [])
        load = loads(its, p=[200.0, 100.0, -3000.0])
        found, held = its.moves(load)
        self.assertTrue(held.all())
        carried = its.carried(found)[:, :, 0]
        self.assertLess(np.abs(carried[:, [4, 5, 10, 11]]).max(), 1e-6)
        places = its.frame.places
        ways = np.array([places[e.nodes[1]] - places[e.nodes[0]] for e in its.frame.elements])
        ways /= np.linalg.norm(ways, axis=1, keepdims=True)
        pulls = np.linalg.solve(-ways.T, -np.array([200.0, 100.0, -3000.0]))
        np.testing.assert_allclose(carried[:, 6], pulls, rtol=1e-9)

    def test_columns_buckle_where_euler_says_and_short_ones_before(self) -> None:
        for held, factor in (({"a": "fixed"}, 0.25), ({"a": "fixed", "b": "fixed"}, 4.0)):
            nodes = {f"n{k}": [0, 0, 150.0 * k] for k in range(9)}
            nodes = {{0: "a", 8: "b"}.get(k, name): at for k, (name, at) in enumerate(nodes.items())}
            names = list(nodes)
            frame = {
                "nodes": nodes,
                "members": [member(f"m{k}", names[k], names[k + 1]) for k in range(8)],
                "held": held,
            }
            its = solved(frame)
            pushed = np.full(8, -1000.0)
            exact = factor * math.pi**2 * E_N_PER_MM2 * INERTIA / 1200**2 / 1000
            self.assertAlmostEqual(its.buckles_at(pushed) or 0.0, exact, delta=0.002 * exact)
        section = its.frame.sections[0]
        self.assertAlmostEqual(
            euler_johnson(section, 4000, 1.0, 235.0), math.pi**2 * E_N_PER_MM2 * INERTIA / 4000**2, places=6
        )
        self.assertLess(euler_johnson(section, 200, 1.0, 235.0), 235 * AREA)
        self.assertGreater(euler_johnson(section, 200, 1.0, 235.0), 0.95 * 235 * AREA)


class Loose(TestCase):
    def test_what_nothing_holds_is_told_and_no_figure_made_up(self) -> None:
        frame = {
            "nodes": {"a": [0, 0, 0], "b": [0, 800, 0], "c": [300, 0, 0], "d": [300, 500, 0]},
            "members": [member("held", "a", "b"), member("adrift", "c", "d")],
            "held": {"a": "fixed"},
        }
        its = solved(frame)
        self.assertEqual(len(its.loose), 5)  # the sixth, a turn about its own line, moves no place of it
        for way in its.loose:
            self.assertLess(np.abs(way[[its.frame.names.index(n) for n in ("a", "b")]]).max(), 1e-6)
        _, held = its.moves(loads(its, d=[0, 0, -10.0]))
        self.assertFalse(held[0])
        down = moved(its, "b", loads(its, b=[0, 0, -1000.0]))  # the other stands as it did
        self.assertAlmostEqual(down[2], -1000 * 800**3 / (3 * E_N_PER_MM2 * INERTIA), places=6)

    def test_a_bar_on_sleeves_swings_about_its_bolts(self) -> None:
        sleeves = {"ends_held": ["pinned", "pinned"], "pin": [1, 0, 0]}
        frame = {
            "nodes": {"a": [0, 0, 0], "b": [0, 300, 300], "c": [0, 700, 300], "d": [0, 1000, 0]},
            "members": [
                member("left", "a", "b", **sleeves),
                member("top", "b", "c"),
                member("right", "c", "d", **sleeves),
            ],
            "held": {"a": "fixed", "d": "fixed"},
        }
        self.assertEqual(len(solved(frame).loose), 1)  # a parallelogram in its own plane
        frame["members"][0]["ends_held"] = ["welded", "pinned"]
        self.assertEqual(solved(frame).loose, [])


coordinate = st.integers(-900, 900).map(float)


class Invariants(TestCase):
    @settings(max_examples=25, deadline=None)
    @given(
        st.lists(st.tuples(coordinate, coordinate, coordinate), min_size=4, max_size=8, unique=True),
        st.integers(0, 10**6),
    )
    def test_every_node_is_in_balance_and_what_one_does_to_another_is_returned(
        self, spots: list[tuple[float, float, float]], seed: int
    ) -> None:
        chance = np.random.default_rng(seed)
        if min(np.linalg.norm(np.subtract(a, b)) for k, a in enumerate(spots) for b in spots[:k]) < 60:
            return
        nodes = {f"n{k}": list(at) for k, at in enumerate(spots)}
        links = [(k, int(chance.integers(0, k))) for k in range(1, len(spots))]
        links += [
            (k, j)
            for k in range(len(spots))
            for j in range(k)
            if (k, j) not in links and chance.random() < 0.3
        ]
        frame = {
            "nodes": nodes,
            "members": [member(f"m{i}", f"n{a}", f"n{b}") for i, (a, b) in enumerate(links)],
            "held": {"n0": "fixed"},
        }
        its = solved(frame)
        load = np.zeros((its.size, 2))
        load[6:, :] = chance.normal(size=(its.size - 6, 2)) * 1000
        found, held = its.moves(load)
        self.assertTrue(held.all())
        carried = its.carried(found)
        total = np.zeros((its.size, 2))
        for element, turn, its_load in zip(its.frame.elements, its.turns, carried, strict=True):
            total[its.dofs(element)] += turn.T @ its_load
        size = np.abs(carried).max()
        np.testing.assert_allclose(total[6:], load[6:], atol=2e-8 * size)
        self.assertAlmostEqual(
            float(load[:, 0] @ found[:, 1]),
            float(load[:, 1] @ found[:, 0]),
            delta=1e-7 * abs(float(load[:, 0] @ found[:, 0])),
        )
