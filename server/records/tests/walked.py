"""Pictures of stickers as a telephone would take them: a made-up vehicle's places, rendered with perspective, blur and noise."""

from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import cv2
import numpy as np

from engine.survey.stickers.seeing import CORNERS, projected
from server.records.pictures.stickers import family

QUIET = 0.35  # of the black square, white about it
FACING = 0.34  # cosine: a sticker seen flatter than this is not drawn


@dataclass
class Scene:
    """Places (n, 3) mm with a sticker on each, how each lies (n, 3, 3), and a camera (5,)."""

    spots: np.ndarray
    lie: np.ndarray
    size: float
    camera: np.ndarray
    pixels: tuple[int, int]
    random: np.random.Generator
    elsewhere: dict[tuple[int, int], np.ndarray] = field(default_factory=dict)
    print_scale: float = 1.0
    shots: list[tuple[np.ndarray, np.ndarray]] = field(default_factory=list)


def scene(seed: int, many: int = 40, pixels: tuple[int, int] = (4032, 3024), size: float = 40.0) -> Scene:
    """Return stickers about a vehicle of 4 by 2 m, facing out, in and up, and a telephone's camera."""
    random = np.random.default_rng(seed)
    spots, lie = [], []
    for _ in range(many):
        x, y, z = (
            random.uniform(-2000, 2000),
            random.choice([-1, 1]) * random.uniform(350, 1000),
            random.uniform(150, 1100),
        )
        if random.uniform() < 0.4:
            z = random.uniform(400, 1100)
        out = np.array([0.25 * np.sign(x) * abs(x) / 2000, np.sign(y), random.uniform(-0.1, 0.6)])
        out += random.normal(0, 0.2, 3)
        if z > 700:  # a mount on top of a rail
            out = np.array([random.normal(0, 0.3), random.normal(0, 0.3), 1.0])
        face = out / np.linalg.norm(out)
        right = np.cross([0, 0, 1.0], face)
        right /= np.linalg.norm(right)
        roll = random.uniform(0, 2 * np.pi)
        up = np.cross(face, right)
        a = np.cos(roll) * right + np.sin(roll) * up
        spots.append([x, y, z])
        lie.append(np.stack([a, np.cross(face, a), face], axis=1))
    focal = 3050 / 4032 * pixels[0]
    camera = np.array([focal, pixels[0] / 2 + 11, pixels[1] / 2 - 7, 0.02, -0.05])
    return Scene(np.array(spots), np.array(lie), size, camera, pixels, random)


def walked_round(its: Scene, folder: Path, many: int) -> list[str]:
    """Write so many pictures, walked round the vehicle at two heights; return their names."""
    names = []
    for k in range(many):
        turn = 2 * np.pi * k / many + its.random.uniform(-0.1, 0.1)
        at = np.array(
            [3300 * np.cos(turn), 2600 * np.sin(turn), 700 + 900 * (k % 2) + its.random.uniform(-100, 100)]
        )
        towards = np.array([its.random.uniform(-300, 300), its.random.uniform(-200, 200), 550.0])
        names.append(f"round-{k + 1:02d}.png")
        its.shots.append(_looking(at, towards))
        cv2.imwrite(str(folder / names[-1]), _picture(its, k), [cv2.IMWRITE_PNG_COMPRESSION, 1])
    return names


def about_a_corner(document: dict[str, Any], places: dict[str, str], size: float, folder: Path, many: int, pixels: tuple[int, int]) -> tuple[Scene, list[Path]]:  # fmt: skip
    """Write so many pictures walked about one corner's stickers from outside; return the scene, places a few mm off the drawing, and the files."""
    random = np.random.default_rng(4)
    count = max(map(int, places)) + 1
    spots, lie = np.full((count, 3), 1e6), np.repeat(np.eye(3)[None], count, axis=0)
    for number, place in places.items():
        station, point = place.split("/")
        at = next(one for one in document["stations"] if one["name"] == station)["points"][point]
        spots[int(number)] = np.array(at) + random.normal(0, 6.0, 3)
    mine = [int(number) for number in places]
    middle = spots[mine].mean(axis=0)
    side = np.sign(middle[1]) or 1.0
    for number in mine:
        face = np.array([random.normal(0, 0.25), side, random.uniform(0.1, 0.7)])
        face /= np.linalg.norm(face)
        right = np.cross([0, 0, 1.0], face)
        right /= np.linalg.norm(right)
        roll = random.uniform(0, 2 * np.pi)
        along = np.cos(roll) * right + np.sin(roll) * np.cross(face, right)
        lie[number] = np.stack([along, np.cross(face, along), face], axis=1)
    camera = np.array([0.757 * pixels[0], pixels[0] / 2 + 8, pixels[1] / 2 - 5, 0.02, -0.05])
    its = Scene(spots, lie, size, camera, pixels, random)
    files = []
    for k in range(many):
        turn = np.deg2rad(-60 + 120 * k / (many - 1))
        eye = middle + np.array([1300 * np.sin(turn), side * 1300 * np.cos(turn), 250 + 350 * (k % 2)])
        its.shots.append(_looking(eye, middle + random.normal(0, 40, 3)))
        files.append(folder / f"corner-{k + 1:02d}.png")
        cv2.imwrite(str(files[-1]), _picture(its, k), [cv2.IMWRITE_PNG_COMPRESSION, 1])
    return its, files


def _looking(eye: np.ndarray, at: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the turn and shift of a camera that looks from one place at another, upright."""
    way = (at - eye) / np.linalg.norm(at - eye)
    right = np.cross(way, [0, 0, 1.0])
    right /= np.linalg.norm(right)
    rotation = np.array([right, np.cross(way, right), way])
    return rotation, -rotation @ eye


def _picture(its: Scene, shot: int) -> np.ndarray:
    wide, tall = its.pixels
    picture = np.full((tall, wide), 118, dtype=np.float32)
    turn, shift = its.shots[shot]
    for number, (spot, lie) in enumerate(zip(its.spots, its.lie, strict=True)):
        place = its.elsewhere.get((shot, number), spot)
        corners = CORNERS * its.size * its.print_scale * (1 + 2 * QUIET)
        world = corners @ lie.T + place
        seen = world @ turn.T + shift
        towards = -turn.T @ shift - place
        if (seen[:, 2] < 300).any() or lie[:, 2] @ towards / np.linalg.norm(towards) < FACING:
            continue
        pixels = projected(seen, np.repeat(its.camera[None], 4, axis=0))[0]
        low, high = np.floor(pixels.min(axis=0) - 6).astype(int), np.ceil(pixels.max(axis=0) + 6).astype(int)
        if (low < 0).any() or high[0] >= wide or high[1] >= tall:
            continue
        _stick(picture, number, pixels, low, high)
    picture = cv2.GaussianBlur(picture, (0, 0), 0.9)
    picture += its.random.normal(0, 4.0, picture.shape).astype(np.float32)
    return np.clip(picture, 0, 255).astype(np.uint8)


def _stick(picture: np.ndarray, number: int, pixels: np.ndarray, low: np.ndarray, high: np.ndarray) -> None:
    """Draw one sticker into a picture, four times as fine and brought down: its edges lie where they belong."""
    inner = 320
    quiet = round(inner * QUIET)
    drawn = np.full((inner + 2 * quiet, inner + 2 * quiet), 235, np.uint8)
    drawn[quiet:-quiet, quiet:-quiet] = np.where(
        cv2.aruco.generateImageMarker(family(), number, inner) > 0, 235, 25
    )
    fine, full = 4, inner + 2 * quiet
    # Edges of pixels, not their middles: a pixel's middle lies half a pixel in.
    source = np.array([[0, 0], [full, 0], [full, full], [0, full]], np.float32) - 0.5
    goal = ((pixels - low + 0.5) * fine - 0.5).astype(np.float32)
    size = (high - low) * fine
    way = cv2.getPerspectiveTransform(source, goal)
    patch = cv2.warpPerspective(
        drawn.astype(np.float32), way, (int(size[0]), int(size[1])), flags=cv2.INTER_LINEAR, borderValue=-1
    )
    mask = cv2.warpPerspective(
        np.ones_like(drawn, dtype=np.float32), way, (int(size[0]), int(size[1])), flags=cv2.INTER_LINEAR
    )
    small = (int(high[0] - low[0]), int(high[1] - low[1]))
    patch = cv2.resize(np.where(mask > 0.5, patch, 0), small, interpolation=cv2.INTER_AREA)
    share = cv2.resize((mask > 0.5).astype(np.float32), small, interpolation=cv2.INTER_AREA)
    region = picture[low[1] : high[1], low[0] : high[0]]
    region[:] = region * (1 - share) + patch


def project_of(its: Scene, names: list[str], rough: float, readings: list[dict[str, Any]]) -> dict[str, Any]:
    """Return a project file with the scene's places as marks, roughly where they are."""
    marks = {
        f"P{k}": [float(c) for c in spot + its.random.normal(0, rough, 3)] for k, spot in enumerate(its.spots)
    }
    return {
        "format": "jugatrix-project",
        "version": 1,
        "name": "Stickers",
        "stations": [],
        "survey": {
            "marks": marks,
            "readings": readings,
            "stickers": {"size": its.size, "places": {str(k): f"P{k}" for k in range(len(its.spots))}},
            "pictures": [{"file": name, "camera": "telephone"} for name in names],
        },
    }


def datum_readings(its: Scene, tapes: int) -> list[dict[str, Any]]:
    """Return three heights, two offsets, one place ahead of the datum, and so many tapes, each with its tool's error."""
    random, spots = its.random, its.spots
    order = random.permutation(len(spots))
    found = [
        {"kind": "height", "of": f"P{k}", "values": [float(spots[k, 2] + random.normal(0, 1.0))]}
        for k in order[:6]
    ]
    found += [
        {"kind": "offset", "of": f"P{k}", "values": [float(spots[k, 1] + random.normal(0, 1.5))]}
        for k in order[6:12]
    ]
    found += [
        {"kind": "fore_aft", "of": f"P{k}", "values": [float(spots[k, 0] + random.normal(0, 1.5))]}
        for k in order[12:18]
    ]
    for n in range(tapes):
        a, b = random.choice(len(spots), 2, replace=False)
        long = float(np.linalg.norm(spots[a] - spots[b]) + random.normal(0, 1.0))
        found.append({"kind": "distance", "between": [f"P{a}", f"P{b}"], "values": [long]})
        del n
    return found
