"""Space frames solved by another program: writes engine/tests/frame/second_route.json, which the tests hold our own solve to.

It needs PyNiteFEA 3.2, which brings a plotting package with it and is therefore in no lock: in an environment of its own,
`pip install PyNiteFEA==3.2.0`, then `python -m bench.second_route`. Sections are worked out here, not by the engine.
"""

import json
import math
from importlib import import_module
from pathlib import Path
from typing import Any

import numpy as np

E, G = 205_000.0, 205_000.0 / 2.6
GOES_TO = Path(__file__).parent.parent / "engine" / "tests" / "frame" / "second_route.json"
WAYS = ("FX", "FY", "FZ", "MX", "MY", "MZ"), ("DX", "DY", "DZ", "RX", "RY", "RZ")
FRAMES, SEED = 6, 12
BRACES = [("n000", "n101"), ("n010", "n111"), ("n100", "n201"), ("n001", "n111")]


def section(member: dict[str, Any]) -> tuple[float, float, float, float]:
    """Return area, both inertias and the torsion constant, mm² and mm⁴."""
    if "tube" in member:
        outside = member["tube"]["outside"]
        bore = outside - 2 * member["tube"]["wall"]
        inertia = math.pi / 64 * (outside**4 - bore**4)
        return math.pi / 4 * (outside**2 - bore**2), inertia, inertia, 2 * inertia
    side, wall = member["box"]["height"], member["box"]["wall"]
    inner, middle = side - 2 * wall, side - wall
    inertia = (side**4 - inner**4) / 12
    return side**2 - inner**2, inertia, inertia, middle**3 * wall


def frame_of(number: int, random: np.random.Generator) -> dict[str, Any]:
    """Return a crooked box of three hoops with braces, some ends of it pinned about one line or about all."""
    nodes = {
        f"n{i}{side}{k}": [
            round(float(one), 1)
            for one in np.array([500 * i, -300 + 600 * side, 200 + 350 * k])
            + (random.uniform(-60, 60, 3) if side or k else 0)
        ]
        for i in range(3)
        for side in (0, 1)
        for k in (0, 1)
    }
    members: list[dict[str, Any]] = []

    def add(one: str, other: str, **more: Any) -> None:
        wall = float(random.choice([2, 3]))
        size: dict[str, Any] = {"tube": {"outside": float(random.choice([30, 38, 44.5])), "wall": wall}}
        if random.random() < 0.3:
            size = {"box": {"height": 50.0, "width": 50.0, "wall": wall}}
        members.append({"name": f"{one}-{other}", "ends": [one, other], **size, **more})

    for i in range(3):
        for k in (0, 1):
            add(f"n{i}0{k}", f"n{i}1{k}")
            add(f"n{i}{k}0", f"n{i}{k}1")
            for side in (0, 1) if i < 2 else ():
                # Along the vehicle, so that the pin's line is the member's own third axis in both programs.
                pin = (
                    {"ends_held": ["pinned", "welded"], "pin": [0, 0, 1]}
                    if not side | k and number % 2
                    else {}
                )
                add(f"n{i}{side}{k}", f"n{i + 1}{side}{k}", **pin)
    for one, other in BRACES:
        add(one, other, **({"ends_held": ["pinned", "welded"]} if random.random() < 0.6 else {}))
    return {"nodes": nodes, "members": members, "held": {"n000": "fixed", "n010": "fixed", "n200": "pinned", "n210": "pinned"}}  # fmt: skip


def moved(frame: dict[str, Any], loads: dict[str, list[float]]) -> dict[str, list[float]]:
    """Return how every node moves, mm and radians, as the other program has it."""
    model = import_module("Pynite").FEModel3D()
    model.add_material("steel", E, G, 0.3, 7.85e-6)
    for name, at in frame["nodes"].items():
        model.add_node(name, *at)
    for member in frame["members"]:
        model.add_section(member["name"], *section(member))
        model.add_member(member["name"], *member["ends"], "steel", member["name"])
        if "ends_held" in member:
            all_ways = {} if "pin" in member else {"Rxi": True, "Ryi": True}
            model.def_releases(member["name"], Rzi=True, **all_ways)
    for name, how in frame["held"].items():
        model.def_support(name, True, True, True, *(3 * [how == "fixed"]))
    for name, load in loads.items():
        for way, value in zip(WAYS[0], load, strict=True):
            model.add_node_load(name, way, value)
    model.analyze_linear(check_statics=False)
    return {
        name: [float(getattr(model.nodes[name], way)["Combo 1"]) for way in WAYS[1]]
        for name in frame["nodes"]
    }


def main() -> None:
    """Write the frames, their loads and what they do."""
    random = np.random.default_rng(SEED)
    found = []
    for number in range(FRAMES):
        frame = frame_of(number, random)
        loads = {
            name: [round(float(one), 1) for one in [*random.normal(0, 3000, 3), *random.normal(0, 2e5, 3)]]
            for name in frame["nodes"]
            if name not in frame["held"]
        }
        found.append({"frame": frame, "loads": loads, "moves": moved(frame, loads)})
    GOES_TO.write_text(json.dumps(found) + "\n", "utf-8")


if __name__ == "__main__":
    main()
