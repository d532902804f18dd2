"""All files of a job's parts: made whole in memory, then written whole or not at all."""

import json
import re
import shutil
import tempfile
from pathlib import Path
from typing import Any

from engine.document.schema import Project
from engine.shop.job_parts import JobParts, job_parts
from server.shop.drawings import plate_dxf, plate_svg, skeleton_dxf
from server.shop.lists import cut_list, hardware, order, set_out_list
from server.shop.papers import build_sheet_pdf, templates_pdf

Values = dict[str, Any]


def parts_values(parts: JobParts) -> Values:
    """Return every part and mount as plain values."""
    found: list[Values] = []
    for station in parts.stations:
        for one in station.rods:
            rod = one.rod
            found.append(
                {
                    "station": station.station,
                    "name": one.name,
                    "kind": "rod",
                    "count": one.count,
                    "proposed": one.proposed,
                    "tube": {"outside": rod.tube.outside, "wall": rod.tube.wall, "grade": rod.tube.grade},
                    "tube_length": round(rod.tube_length, 3),
                    "centre_to_centre": round(rod.centre_to_centre, 3),
                    "change_per_turn": rod.change_per_turn,
                    "longer": round(rod.out, 3),
                    "shorter": round(rod.into, 3),
                    "pull": round(one.pull, 1),
                    "push": round(one.push, 1),
                    "buckling_factor": None if rod.factor is None else round(rod.factor, 3),
                    "mass": round(rod.mass, 4),
                    "checks": [{"mark": mark, "say": str(said)} for mark, said in one.said],
                }
            )
        for plate in station.plates:
            found.append(
                {
                    "station": station.station,
                    "name": f"{plate.name} plate",
                    "kind": "plate",
                    "count": plate.count,
                    "proposed": plate.proposed,
                    "thickness": plate.thickness,
                    "holes": [
                        {
                            "for": hole.what,
                            "at": [round(hole.x, 4), round(hole.y, 4)],
                            "diameter": hole.diameter,
                        }
                        for hole in plate.holes
                    ],
                    "mass": round(plate.mass, 4),
                    "checks": [{"mark": mark, "say": str(said)} for mark, said in plate.said],
                    "file": f"plates/{_safe(station.station)}-{_safe(plate.name)}.dxf",
                }
            )
    mounts = [
        {
            "station": mount.station,
            "point": mount.point,
            "up": round(mount.up, 3),
            "out": round(mount.out, 3),
            "ahead": round(mount.ahead, 3),
            "tapes": [{"to": place, "length": round(long, 3)} for place, long in mount.tapes],
            "close_enough": [round(value, 3) for value in mount.close_enough],
        }
        for mount in parts.mounts
    ]
    return {"format": "jugatrix-parts", "version": 1, "parts": found, "set_out": mounts}


def all_files(project: Project, made_by: str = "") -> dict[str, bytes]:
    """Return every file by its path; raise the engine's errors for a linkage that cannot move."""
    parts = job_parts(project)
    files = {
        "parts.json": json.dumps(parts_values(parts), indent=1, ensure_ascii=False) + "\n",
        "cut-list.csv": cut_list(parts),
        "hardware.csv": hardware(parts),
        "order.csv": order(parts),
        "set-out.csv": set_out_list(parts),
        "skeleton.dxf": skeleton_dxf(list(parts.solved)),
    }
    for station in parts.stations:
        for plate in station.plates:
            name = f"{_safe(station.station)}-{_safe(plate.name)}"
            label = f"{project.name} {station.station} {plate.name}"
            files[f"plates/{name}.dxf"] = plate_dxf(plate, label)
            files[f"plates/{name}-other-hand.dxf"] = plate_dxf(plate, f"{label}, other hand", mirrored=True)
            files[f"plates/{name}.svg"] = plate_svg(plate, label)
    made = {path: text.encode() for path, text in files.items()}
    made["templates.pdf"] = templates_pdf(parts, made_by)
    made["build-sheet.pdf"] = build_sheet_pdf(parts, made_by)
    return made


def write_all(files: dict[str, bytes], folder: Path) -> None:
    """Write files into a folder, made if it is not there; nothing is left half written. Raises OSError."""
    folder.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=folder.parent) as beside:
        for path, data in files.items():
            at = Path(beside) / path
            at.parent.mkdir(parents=True, exist_ok=True)
            at.write_bytes(data)
        folder.mkdir(exist_ok=True)
        shutil.copytree(beside, folder, dirs_exist_ok=True)


def _safe(name: str) -> str:
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "part"
