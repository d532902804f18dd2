"""All files of a job's parts: made whole in memory, then written whole or not at all."""

import json
import math
import re
import shutil
import tempfile
from collections.abc import Collection, Iterable
from pathlib import Path
from typing import Any

from engine.document.schema import Project
from engine.findings.pairs import judge_pairs
from engine.shop.buying import OnShelf
from engine.shop.cutting import sheets
from engine.shop.job_parts import JobParts, job_parts
from engine.shop.made import Made
from engine.shop.set_out import SetOut
from engine.shop.stacks import stack_values
from engine.shop.stock import METRIC, Profile, Stock
from engine.shop.strength import Check
from engine.telling import Tell, to_nobody, within
from server.paper.letterhead import NO_LETTERHEAD, Letterhead
from server.shop.build_book import build_sheet_pdf
from server.shop.drawings import flat_dxf, flat_svg, sheet_dxf, skeleton_dxf
from server.shop.lists import cut_list, hardware, order, set_out_list
from server.shop.papers import templates_pdf
from server.shop.wall import mount_pages_pdf

Values = dict[str, Any]


def parts_values(parts: JobParts) -> Values:
    """Return every part and mount as plain values."""
    mounts = [
        {
            "station": mount.station,
            "point": mount.point,
            "up": round(mount.up, 3),
            "out": round(mount.out, 3),
            "ahead": round(mount.ahead, 3),
            "tapes": [{"to": place, "length": round(long, 3)} for place, long in mount.tapes],
            "close_enough": [round(value, 3) for value in mount.close_enough],
            "tape_mm": round(mount.tape_mm, 2) if math.isfinite(mount.tape_mm) else None,
            "loose": mount.loose or None,
            **_on_one_bolt(mount, parts),
            "angles": [_angles(part) for part in parts.tabs_at(_with_tabs(mount, parts))],
        }
        for mount in parts.mounts
        if mount.point in _points(parts, mount.station)
    ]
    said = [str(finding.what) for finding in judge_pairs(parts.project)]
    names = file_names(parts)
    found = [part_values(part, names.get(number)) for number, part in enumerate(parts.parts)]
    return {"format": "jugatrix-parts", "version": 1, "said": said, "parts": found, "set_out": mounts}


def _points(parts: JobParts, station: str) -> Collection[str]:
    """Return the points of a station, or the nodes of the frame."""
    its = next((work.station.points for work in parts.works if work.station.name == station), None)
    return its if its is not None else parts.project.frame.nodes if parts.project.frame is not None else ()


def _with_tabs(mount: SetOut, parts: JobParts) -> SetOut:
    """Return the mount that has the tabs of a place: the place itself, or the pivot whose bolt it lies on."""
    if mount.on is None:
        return mount
    its = (mount.station, mount.on[0])
    return next(one for one in parts.mounts if (one.station, one.point) == its)


def _on_one_bolt(mount: SetOut, parts: JobParts) -> Values:
    """Return of a place on a rocker's bolt where the middle between its tabs is."""
    if mount.on is None:
        return {}
    its = _with_tabs(mount, parts)
    middle = {"up": round(its.up, 3), "out": round(its.out, 3), "ahead": round(its.ahead, 3)}
    return {"on_bolt_of": its.point, "tabs_at": middle}


def part_values(part: Made, file: str | None = None) -> Values:
    """Return one part: what the contract names, its figures by their keys, and what it bears."""
    values: Values = {
        "station": part.station,
        "name": part.name,
        "kind": part.kind,
        "count": part.count,
        "hands": part.hands,
        "proposed": part.proposed,
        "mass": round(part.mass, 4),
    }
    for figure in part.figures:
        its = figure.value
        values[figure.key] = round(its, 3) if isinstance(its, float) else its
    if part.cut is not None:
        tube = part.cut.tube
        if isinstance(tube, Profile):
            values["bar"] = {
                "shape": "box" if tube.hollow else "flat",
                "height": tube.outside,
                "width": tube.across,
                "wall": tube.wall,
                "grade": tube.grade,
            }
        else:
            values["tube"] = {"outside": tube.outside, "wall": round(tube.wall, 4), "grade": tube.grade}
        values["cut"] = round(part.cut.length, 3)
    if part.flat is not None:
        values["holes"] = [
            {
                "for": hole.what,
                "at": [round(hole.x, 4), round(hole.y, 4)],
                **({} if hole.to is None else {"to": [round(c, 4) for c in hole.to]}),
                "diameter": hole.diameter,
            }
            for hole in part.flat.holes
        ]
        values["folds"] = [
            {"from": list(fold.one), "to": list(fold.other), "angle": round(fold.angle, 3)}
            for fold in part.flat.folds
        ]
        values["plate"] = {"thickness": part.flat.thickness, "grade": part.flat.grade}
    values["hardware"] = [{"what": one.what, "size": one.size, "count": one.count} for one in part.hardware]
    values["checks"] = [_check(check) for check in part.checks]
    values["weakest"] = None if part.weakest is None else _check(part.weakest)
    values["stacks"] = [
        {"bolt": stack.bolt.said, "planes": stack.planes, "layers": stack_values(stack)}
        for stack in part.stacks
    ]
    if part.kind == "tab":
        held = (tuple(part.subject[1:]), *part.also)
        values["point"], values["holds"] = part.subject[1], [name for _, name in held]
    values["said"] = [
        {"mark": one.mark, "say": str(one.say), "remedy": None if one.remedy is None else str(one.remedy.say)}
        for one in part.said
    ]
    if file is not None:
        values["file"] = f"plates/{file}.dxf"
    return values


def _angles(tab: Made) -> Values:
    keys = ("bolt_level", "bolt_level_side", "bolt_turn", "bolt_turn_side", "tab_plumb", "tab_plumb_side")
    values = {key: tab.figure(key) for key in keys}
    return {"tab": tab.name} | {k: round(v, 2) if isinstance(v, float) else v for k, v in values.items()}


def _check(check: Check) -> Values:
    return {"what": check.what, "factor": round(check.factor, 3), "case": check.case}


def file_names(parts: JobParts) -> dict[int, str]:
    """Return a file name of its own for every plate, by its number among the parts."""
    taken: dict[str, int] = {}
    found = {}
    for number, part in enumerate(parts.parts):
        if part.flat is None:
            continue
        name = f"{safe(part.station)}-{safe(part.name)}"
        taken[name] = taken.get(name, 0) + 1
        found[number] = name if taken[name] == 1 else f"{name}-{taken[name]}"
    return found


def all_files(
    project: Project,
    made_by: str = "",
    stock: Stock = METRIC,
    shelf: Iterable[OnShelf] = (),
    paper: str = "A4",
    tell: Tell = to_nobody,
    head: Letterhead = NO_LETTERHEAD,
) -> dict[str, bytes]:
    """Return every file by its path; raise the engine's errors for a linkage that cannot move."""
    known = list(shelf)
    parts = job_parts(project, stock, tell=within(tell, 0.0, 0.5))
    tell(0.5, "the lists")
    files = {
        "parts.json": json.dumps(parts_values(parts), indent=1, ensure_ascii=False) + "\n",
        "cut-list.csv": cut_list(parts, known),
        "hardware.csv": hardware(parts),
        "order.csv": order(parts, known),
        "set-out.csv": set_out_list(parts),
        "skeleton.dxf": skeleton_dxf(list(parts.solved), parts.project),
    }
    plates = file_names(parts)
    for done, (number, name) in enumerate(plates.items()):
        tell(0.55 + 0.15 * done / len(plates), f"drawing {done + 1} of {len(plates)}")
        files |= plate_files(parts, number, name, made_by)
    for number, sheet in enumerate(sheets(parts.parts, parts.stock), start=1):
        label = f"{parts.project.name}, sheet {number}, {sheet.stock}"
        files[f"sheets/{number}-{safe(sheet.stock)}.dxf"] = sheet_dxf(sheet, label)
    made = {path: text.encode() for path, text in files.items()}
    tell(0.7, "the templates")
    made["templates.pdf"] = templates_pdf(parts, made_by, paper)
    tell(0.8, "the build sheets")
    made["build-sheet.pdf"] = build_sheet_pdf(parts, made_by, paper, head=head, shelf=known)
    made["mounts.pdf"] = mount_pages_pdf(parts, made_by, paper)
    return made


def plate_files(parts: JobParts, number: int, name: str, made_by: str = "") -> dict[str, str]:
    """Return one plate's DXF and SVG in mm, and its other hand where there is one."""
    part = parts.parts[number]
    assert part.flat is not None
    by = f", {made_by}" if made_by else ""
    label = f"{parts.project.name} {part.station} {part.name}{by}"
    files = {
        f"plates/{name}.dxf": flat_dxf(part.flat, label),
        f"plates/{name}.svg": flat_svg(part.flat, label),
    }
    if part.hands == 2:
        turned = part.flat.other_hand
        files[f"plates/{name}-other-hand.dxf"] = flat_dxf(turned, f"{label}, other hand")
        files[f"plates/{name}-other-hand.svg"] = flat_svg(turned, f"{label}, other hand")
    return files


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


def safe(name: str) -> str:
    """Return a name as a file's: small letters, figures and dashes."""
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "part"
