"""How a sticker is seen: from a place on it to a pixel, and what that changes by.

Sticker  its middle, its own axes (right, up along its black square, out of its face) as a turn (3, 3) into the vehicle's.
Picture  X_camera = R·X + t, mm: the camera looks along its own z, x to the right and y down.
Camera   pixels: u = f·d·x + cx, d = 1 + k1·r² + k2·r⁴ (Brown 1971), x and y over z.
"""

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array

CORNERS = np.array([[-0.5, 0.5, 0.0], [0.5, 0.5, 0.0], [0.5, -0.5, 0.0], [-0.5, -0.5, 0.0]])


@facts
class SeenSticker:
    """One sticker in one picture: numbers of the picture and of the sticker, its corners (4, 2) pixels, clockwise from its own upper left."""

    picture: int
    number: int
    corners: Array


@facts
class Pictures:
    """Pictures with the stickers found in them: files, the camera of each by name, its size in pixels (wide, tall), its focal length or None."""

    files: tuple[str, ...]
    cameras: tuple[str, ...]
    sizes: dict[str, tuple[int, int]]
    focals: dict[str, float | None]
    seen: tuple[SeenSticker, ...]


def turned(omega: Array) -> Array:
    """Return turns (…, 3, 3) about vectors (…, 3), radians (Rodrigues)."""
    angle = np.linalg.norm(omega, axis=-1)[..., None, None]
    cross = crossing(omega)
    small = angle < 1e-9
    safe = np.where(small, 1.0, angle)
    one = np.where(small, 1.0, np.sin(safe) / safe)
    two = np.where(small, 0.5, (1 - np.cos(safe)) / safe**2)
    found: Array = np.eye(3) + one * cross + two * (cross @ cross)
    return found


def crossing(v: Array) -> Array:
    """Return the matrices (…, 3, 3) whose product with another vector is the vector product."""
    out = np.zeros((*v.shape[:-1], 3, 3))
    out[..., 0, 1], out[..., 0, 2] = -v[..., 2], v[..., 1]
    out[..., 1, 0], out[..., 1, 2] = v[..., 2], -v[..., 0]
    out[..., 2, 0], out[..., 2, 1] = -v[..., 1], v[..., 0]
    return out


def projected(points: Array, cameras: Array) -> tuple[Array, Array, Array]:
    """Return pixels (n, 2) of points (n, 3) in their cameras' own axes, and their slopes by point (n, 2, 3) and by camera (n, 2, 5).

    cameras : (n, 5) focal, centre across and down, k1, k2
    """
    f, k1, k2 = cameras[:, 0], cameras[:, 3], cameras[:, 4]
    z = points[:, 2]
    xy = points[:, :2] / z[:, None]
    r2 = (xy**2).sum(axis=1)
    d = 1 + k1 * r2 + k2 * r2**2
    pixels = cameras[:, 1:3] + f[:, None] * d[:, None] * xy
    by_r2 = k1 + 2 * k2 * r2
    # d(d·x)/d(x, y), then d(x, y)/d(point).
    by_xy = d[:, None, None] * np.eye(2) + 2 * by_r2[:, None, None] * xy[:, :, None] * xy[:, None, :]
    by_point = np.zeros((len(z), 2, 3))
    by_point[:, 0, 0] = by_point[:, 1, 1] = 1 / z
    by_point[:, :, 2] = -xy / z[:, None]
    slopes = f[:, None, None] * by_xy @ by_point
    camera = np.zeros((len(z), 2, 5))
    camera[:, :, 0] = d[:, None] * xy
    camera[:, 0, 1] = camera[:, 1, 2] = 1.0
    camera[:, :, 3] = f[:, None] * r2[:, None] * xy
    camera[:, :, 4] = f[:, None] * (r2**2)[:, None] * xy
    return pixels, slopes, camera
