"""A second solver by another route: every body has six pose unknowns, joints are coincident points.

It knows nothing of turns, triads or blocks, and scipy finds its roots. What both agree on is the linkage's own.
"""

import unittest

import numpy as np
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from engine.document.schema import Station
from engine.linkage.linkage import Linkage
from engine.tests import samples


class Poses:
    """All bodies of a station as rigid poses: (bodies, 6) rotation vector and shift, mm/100.

    apart: each wheel is driven to the travel, not only their mean
    """

    def __init__(self, station: Station, apart: bool) -> None:
        self.station = station
        self.bodies = list(station.bodies)
        self.drawn = {name: np.array(p, dtype=float) for name, p in station.points.items()}
        copies = [(body, name) for body in self.bodies for name in station.bodies[body]]
        local = {body: self._local(body) for body in self.bodies}
        self.names = [name for _, name in copies]
        self.body_of = np.array([self.bodies.index(body) for body, _ in copies])
        self.copies_local = np.array([local[body][name] for body, name in copies])
        first = [self.names.index(name) for name in self.names]
        on_chassis = np.array([name in station.chassis for name in self.names])
        self.held = np.flatnonzero(on_chassis)
        self.held_at = np.array([self.drawn[self.names[k]] for k in self.held])
        self.joint = np.array([k for k in range(len(copies)) if first[k] != k and not on_chassis[k]], int)
        self.joint_with = np.array([first[k] for k in self.joint], int)
        self.wheels = np.array([self.names.index(wheel.centre) for wheel in station.wheels])
        self.wheels_drawn = np.array([self.drawn[wheel.centre][2] for wheel in station.wheels])
        self.apart = apart
        self.held_at_named = {name: self.drawn[name] for name in station.chassis}
        self.sliders = [
            (*(copies.index((s.body, name)) for name in s.line), s.through) for s in station.sliders.values()
        ]

    def _local(self, body: str) -> dict[str, np.ndarray]:
        """Return the body's own points, a link stretched about its first point to its set length."""
        members = self.station.bodies[body]
        places = {name: self.drawn[name] for name in members}
        link = self.station.links.get(body)
        if link is not None and link.length is not None:
            one, other = members
            axis = places[other] - places[one]
            places[other] = places[one] + axis / np.linalg.norm(axis) * link.length
        return places

    def places(self, values: np.ndarray) -> np.ndarray:
        """Return the place of every (body, point) of `self.copies`, (copies, 3)."""
        poses = values.reshape(-1, 6)
        turned = Rotation.from_rotvec(poses[self.body_of, :3]).apply(self.copies_local)
        return turned + 100 * poses[self.body_of, 3:]

    def gaps(self, values: np.ndarray, travel: float) -> np.ndarray:
        places = self.places(values)
        joints = places[self.joint] - places[self.joint_with]
        held = places[self.held] - self.held_at
        heights = places[self.wheels, 2] - self.wheels_drawn - travel
        slid = [
            np.cross(self.held_at_named[c] - places[a], places[b] - places[a]) / 100
            for a, b, c in self.sliders
        ]
        return np.concatenate(
            [joints.ravel(), held.ravel(), *slid, heights if self.apart else [heights.mean()]]
        )

    def follow(self, travels: np.ndarray) -> list[dict[str, np.ndarray]]:
        values, found = np.zeros(6 * len(self.bodies)), []
        for travel in travels:
            fit = least_squares(self.gaps, values, args=(travel,), xtol=1e-13, ftol=1e-13, gtol=1e-13)
            assert np.abs(fit.fun).max() < 1e-6, (travel, np.abs(fit.fun).max())
            values = fit.x
            found.append(dict(zip(self.names, self.places(values), strict=True)))
        return found


def joined_at_hinges() -> samples.Values:
    """Return an arm on which a second arm is hinged, held to the chassis by a crooked link: rarely drawn."""
    values = samples.arm(40, 40)
    values["points"] |= {
        "knee_in": [-300, 420, 260],
        "knee_out": [-310, 560, 268],
        "wheel": [-520, 700, 245],
        "spindle": [-518, 800, 246],
        "stay_low": [-330, 500, 420],
        "stay_top": [60, 470, 470],
    }
    values["bodies"] = {
        "arm": ["hinge_in", "hinge_out", "knee_in", "knee_out", "eye"],
        "tail": ["knee_in", "knee_out", "wheel", "spindle", "stay_low"],
        "stay": ["stay_low", "stay_top"],
    }
    values["chassis"] = ["hinge_in", "hinge_out", "top", "stay_top"]
    return values


def turned_adjuster() -> samples.Values:
    values = samples.pushrod_corner()
    one, other = (np.array(values["points"][p]) for p in values["bodies"]["pushrod"])
    values["links"] = {"pushrod": {"length": float(np.linalg.norm(one - other)) + 3.7}}
    return values


class AgainstPoses(unittest.TestCase):
    def test_both_solvers_find_the_same_places(self) -> None:
        samples_here = samples.every_linkage() | {"hinged": joined_at_hinges(), "turned": turned_adjuster()}
        for name, values in samples_here.items():
            with self.subTest(name):
                self.compare(samples.station(values))

    def test_crooked_copies_too(self) -> None:
        random = np.random.default_rng(20261124)
        for name in ("pushrod", "five_link", "axle_triangulated", "drop_link"):
            values = samples.every_linkage()[name]
            points = {n: list(np.add(p, random.uniform(-20, 20, 3))) for n, p in values["points"].items()}
            with self.subTest(name):
                self.compare(samples.station({**values, "points": points}))

    def compare(self, station: Station) -> None:
        linkage = Linkage(station)
        for way in (1, -1):
            travels = way * np.linspace(0, 24, 3)
            theirs = Poses(station, linkage.assembly.drivers == 2).follow(travels)
            order = np.argsort(travels)
            ours = linkage.follow(travels[order]).solution.motion.place
            for row, k in enumerate(order):
                for point, place in theirs[k].items():
                    np.testing.assert_allclose(ours[:, linkage.index[point], row], place, atol=2e-5)


if __name__ == "__main__":
    unittest.main()
