"""Linkages for the tests, written by hand in the project file's form. All lengths mm."""

import copy
import json
from pathlib import Path
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.document.schema import Station

Values = dict[str, Any]
CASES = Path(__file__).parent / "cases"


def case(name: str) -> Values:
    """Return a case document by file name."""
    return dict(json.loads((CASES / f"{name}.json").read_text()))


def expected(name: str) -> Values:
    """Return what an independent solver found for a case."""
    return dict(json.loads((CASES / f"{name}.expected.json").read_text()))


def pushrod_corner() -> Values:
    """Return a wishbone corner with pushrod, rocker and coilover, as station values."""
    return dict(case("wishbone-pushrod")["stations"][0])


def document(*stations: Values) -> Values:
    """Return a project holding the stations."""
    return {"format": "jugatrix-project", "version": 1, "name": "test", "stations": list(stations)}


def station(values: Values) -> Station:
    """Return station values checked."""
    return check_project(document(copy.deepcopy(values))).stations[0]


def arm(bump: float = 70.0, droop: float = 60.0) -> Values:
    """Return a leading single-pivot arm along x, hinge along y, coilover upright on it."""
    return {
        "name": "arm",
        "kind": "corner",
        "points": {
            "hinge_in": [0, 300, 250],
            "hinge_out": [0, 600, 250],
            "wheel": [-400, 700, 250],
            "spindle": [-400, 800, 250],
            "eye": [-250, 450, 260],
            "top": [-220, 450, 560],
        },
        "chassis": ["hinge_in", "hinge_out", "top"],
        "bodies": {"arm": ["hinge_in", "hinge_out", "wheel", "spindle", "eye"]},
        "wheels": [{"name": "wheel", "centre": "wheel", "spindle": "spindle"}],
        "units": [coilover("coilover", "eye", "top", 345, 240, 58)],
        "mass": {"corner": 210, "unsprung": 25},
        "travel": {"bump": bump, "droop": droop},
    }


def coilover(name: str, one: str, other: str, extended: float, compressed: float, rate: float) -> Values:
    """Return a coilover with one linear spring."""
    spring = {"rate": rate, "free_length": 220, "solid_length": 90}
    return {
        "name": name,
        "kind": "coilover",
        "ends": [one, other],
        "extended": extended,
        "compressed": compressed,
        "gas_force": 100,
        "preload": 5,
        "springs": [spring],
    }


def bump_stop(name: str, one: str, other: str, contact: float) -> Values:
    """Return a foam bump stop 40 mm deep."""
    table = [[0, 0], [10, 300], [20, 900], [30, 2400]]
    return {
        "name": name,
        "kind": "bump_stop",
        "ends": [one, other],
        "contact": contact,
        "table": table,
        "solid": 30,
    }


def bagged_arm() -> Values:
    """Return the arm on a bag with a separate damper."""
    bag = {
        "name": "bag",
        "kind": "air_spring",
        "ends": ["eye", "top"],
        "pressure": 3.2,
        "law": 1.38,
        "height_table": [[200, 10500], [260, 9800], [300, 9300], [350, 7600]],
        "min_height": 210,
        "max_height": 345,
        "max_pressure": 7.0,
    }
    damper = {"name": "damper", "kind": "damper", "ends": ["eye", "top"], "extended": 345, "compressed": 240}
    return arm() | {"units": [bag, damper | {"gas_force": 100}]}


def five_link() -> Values:
    """Return a five-link corner with the pushrod off the upright."""
    values = pushrod_corner()
    points, bodies = values["points"], values["bodies"]
    for name in ("lower_arm", "upper_arm"):
        del bodies[name]
    points |= {"lower_back": [-30, 640, 140], "upper_back": [-40, 610, 345]}
    bodies["upright"] += ["lower_back", "upper_back", "push_low"]
    bodies |= {
        "lower_lead": ["lower_front", "lower_ball"],
        "lower_trail": ["lower_rear", "lower_back"],
        "upper_lead": ["upper_front", "upper_ball"],
        "upper_trail": ["upper_rear", "upper_back"],
    }
    return values


def axle(triangulated: bool = True) -> Values:
    """Return a live axle on four links, the upper pair splayed or all four parallel with a lateral link."""
    points: Values = {
        "low_front_left": [600, 400, 300],
        "up_front_left": [500, 450, 420],
        "low_left": [0, 480, 250],
        "up_left": [-20, 120, 430],
        "wheel_left": [0, 750, 320],
        "spindle_left": [0, 850, 320],
        "seat_left": [-60, 420, 300],
        "tower_left": [-80, 380, 660],
    }
    if not triangulated:
        points |= {"low_front_left": [600, 480, 290], "up_front_left": [560, 450, 425]}
        points["up_left"] = [-20, 450, 430]
    for name, (x, y, z) in list(points.items()):
        points[name.replace("left", "right")] = [x, -y, z]
    bodies = {
        "axle": [n for n in points if n.split("_")[0] in {"wheel", "spindle", "seat"}]
        + ["low_left", "low_right", "up_left", "up_right"]
    }
    for side in ("left", "right"):
        bodies[f"low_link_{side}"] = [f"low_front_{side}", f"low_{side}"]
        bodies[f"up_link_{side}"] = [f"up_front_{side}", f"up_{side}"]
    chassis = [n for n in points if "front" in n or "tower" in n]
    if not triangulated:
        points |= {"lateral_axle": [-100, 500, 330], "lateral_frame": [-100, -450, 330]}
        bodies["axle"].append("lateral_axle")
        bodies["lateral_link"] = ["lateral_axle", "lateral_frame"]
        chassis.append("lateral_frame")
    return {
        "name": "axle",
        "kind": "axle",
        "points": points,
        "chassis": chassis,
        "bodies": bodies,
        "wheels": [
            {"name": side, "centre": f"wheel_{side}", "spindle": f"spindle_{side}"}
            for side in ("left", "right")
        ],
        "units": [
            coilover(side, f"seat_{side}", f"tower_{side}", 430, 300, 45) for side in ("left", "right")
        ],
        "mass": {"corner": 300, "unsprung": 60},
        "travel": {"bump": 60, "droop": 60},
    }


def strut() -> Values:
    """Return a strut corner: the upright slides on a line through the top mount."""
    values = arm(60, 60)
    points: Values = {
        "low_front": [150, 320, 160],
        "low_rear": [-160, 330, 165],
        "low_ball": [5, 640, 150],
        "strut_low": [8, 600, 330],
        "strut_high": [-6, 565, 560],
        "steer": [-110, 610, 260],
        "rack": [-120, 300, 275],
        "wheel": [0, 700, 300],
        "spindle": [0, 760, 299],
    }
    low, high = np.array(points["strut_low"], dtype=float), np.array(points["strut_high"], dtype=float)
    points["top_mount"] = [float(c) for c in low + (high - low) * 1.7]
    shock = coilover("coilover", "strut_low", "top_mount", 471, 321, 28)
    shock["springs"][0]["free_length"] = 300
    return {
        **values,
        "name": "strut",
        "points": points,
        "chassis": ["low_front", "low_rear", "rack", "top_mount"],
        "bodies": {
            "lower_arm": ["low_front", "low_rear", "low_ball"],
            "upright": ["low_ball", "strut_low", "strut_high", "steer", "wheel", "spindle"],
            "tie_rod": ["steer", "rack"],
        },
        "sliders": {
            "strut": {"body": "upright", "line": ["strut_low", "strut_high"], "through": "top_mount"}
        },
        "units": [shock | {"preload": 10}],
    }


def plate_four_bar() -> Values:
    """Return a planar linkage whose bodies are joined by two-point hinges, three times redundant."""
    points: Values = {}
    for name, (x, z) in {
        "low_pivot": (0.0, 200.0),
        "up_pivot": (20.0, 330.0),
        "low_joint": (-380.0, 190.0),
        "up_joint": (-360.0, 345.0),
    }.items():
        points[f"{name}_in"], points[f"{name}_out"] = [x, 100, z], [x, 160, z]
    points |= {
        "wheel": [-430, 200, 260],
        "spindle": [-430, 300, 260],
        "eye": [-200, 130, 200],
        "top": [-190, 130, 500],
    }
    return {
        **arm(50, 50),
        "points": points,
        "chassis": ["low_pivot_in", "low_pivot_out", "up_pivot_in", "up_pivot_out", "top"],
        "bodies": {
            "lower": ["low_pivot_in", "low_pivot_out", "low_joint_in", "low_joint_out", "eye"],
            "upper": ["up_pivot_in", "up_pivot_out", "up_joint_in", "up_joint_out"],
            "carrier": ["low_joint_in", "low_joint_out", "up_joint_in", "up_joint_out", "wheel", "spindle"],
        },
    }


def plate_on_arm() -> Values:
    """Return the arm with a plate on a ball joint of it, held by three links to the chassis: the arm is solved first."""
    values = arm()
    values["points"] |= {
        "ball": [-150, 420, 280],
        "q": [-150, 420, 420],
        "r": [-60, 440, 350],
        "s": [-120, 520, 360],
        "q_chassis": [-60, 400, 480],
        "r_chassis": [60, 460, 300],
        "s_chassis": [-100, 700, 400],
    }
    values["chassis"] += ["q_chassis", "r_chassis", "s_chassis"]
    values["bodies"]["arm"].append("ball")
    values["bodies"] |= {"plate": ["ball", "q", "r", "s"]}
    values["bodies"] |= {f"link {end}": [end, f"{end}_chassis"] for end in "qrs"}
    return values


def every_linkage() -> dict[str, Values]:
    """Return all of the above and the cases, by name."""
    return {
        "arm": arm(),
        "bagged_arm": bagged_arm(),
        "pushrod": pushrod_corner(),
        "five_link": five_link(),
        "axle_triangulated": axle(),
        "axle_parallel": axle(triangulated=False),
        "plate_four_bar": plate_four_bar(),
        "strut": strut(),
        "drop_link": dict(case("mono-rocker")["stations"][0]),
        "leaning_arm": dict(case("arm-lean")["stations"][0]),
    }


def moved(values: Values, shift: tuple[float, float, float]) -> Values:
    """Return the station with every point shifted."""
    points = {name: list(np.add(p, shift)) for name, p in values["points"].items()}
    return {**copy.deepcopy(values), "points": points}


def mirrored(values: Values) -> Values:
    """Return the station on the other side of the centreline."""
    points = {name: [x, -y, z] for name, (x, y, z) in values["points"].items()}
    return {**copy.deepcopy(values), "points": points}
