"""A plane as a camera saw it: from pixels to millimetres in it, what the lens bends taken out, and how good that is.

Pixel     counted from the middle of the picture, in halves of its diagonal.
Lens      one number: what lies r from the middle lay at r (1 + lens r²) were the lens straight; at the corners r is 1.
Noise     how far a corner is found from where it is, mm in the plane.
Doubt     covariance of the nine numbers; a lens that nothing tells of is as bent as lenses usually are (LENS).
"""

import cv2
import numpy as np
from scipy.optimize import least_squares

from engine.facts import facts

LENS = 0.02  # one standard deviation of what lenses bend at the corners, before anything is known of one
FINEST_MM = 0.03  # no corner is found better than this, however well a few of them agree
STEP = 1e-6
ROUNDS = 12
ROUNDS_OF_NOISE = 2
SHOWS_TIMES = 4.0  # its own doubt: a lens that bends so much is shown by the corners


@facts(kw_only=False)
class SeenPlane:
    """A plane in a picture.

    numbers : (9,) a homography from straightened pixels to spans of the plane, row by row without its last 1; the lens
    doubt   : (9, 9) their covariance
    middle, half : where the picture's middle is and half its diagonal, px
    origin, span : what of the plane counts as one, mm
    """

    numbers: np.ndarray
    doubt: np.ndarray
    middle: np.ndarray
    half: float
    origin: np.ndarray
    span: float

    @property
    def lens(self) -> tuple[float, float]:
        """Return what the lens bends at the picture's corners, a share of their distance, and its standard deviation."""
        return float(self.numbers[8]), float(np.sqrt(self.doubt[8, 8]))

    def to_mm(self, pixels: np.ndarray) -> np.ndarray:
        """Return pixels (n, 2) as places of the plane, mm (n, 2)."""
        return _flat(self.numbers, (pixels - self.middle) / self.half) * self.span + self.origin

    def to_pixels(self, places: np.ndarray) -> np.ndarray:
        """Return places of the plane, mm (n, 2), as pixels; what lies behind the camera, or off every lens, is NaN."""
        back = np.linalg.inv(_matrix(self.numbers))
        flat = np.column_stack([(places - self.origin) / self.span, np.ones(len(places))]) @ back.T
        ahead = flat[:, 2] > 1e-9 * np.abs(flat[:, 2]).max()
        straight = flat[:, :2] / np.where(ahead, flat[:, 2], np.nan)[:, None]
        return _bent(straight, self.numbers[8]) * self.half + self.middle

    def good_to(self, places: np.ndarray) -> np.ndarray:
        """Return what places (n, 2) mm are good to, mm (n,): two standard errors; NaN where they are not seen."""
        pixels = (self.to_pixels(places) - self.middle) / self.half
        slopes = _slopes(self.numbers, pixels)
        return np.asarray(2.0 * self.span * np.sqrt(np.einsum("nij,jk,nik->n", slopes, self.doubt, slopes)))


def fitted(
    pixels: np.ndarray, places: np.ndarray, picture: tuple[int, int], noise_mm: float | None = None
) -> SeenPlane:
    """Return the plane that lays pixels (n, 2) on places (n, 2) mm best; n is four or more.

    picture : wide and high, px
    noise_mm : of a corner; left out, what the misfit shows of it
    """
    middle, half = np.array(picture) / 2.0, float(np.hypot(*picture)) / 2.0
    origin, span = places.mean(axis=0), max(float(np.ptp(places, axis=0).max()), 1e-9)
    seen, wanted = (pixels - middle) / half, (places - origin) / span
    start, _ = cv2.findHomography(seen, wanted, 0)
    numbers = np.append((start / start[2, 2]).ravel()[:8], 0.0)
    found, noise = _least(
        seen, wanted, numbers, None if noise_mm is None else noise_mm / span, FINEST_MM / span
    )
    doubt = _doubt(seen, found, noise)
    if abs(found[8]) < SHOWS_TIMES * np.sqrt(doubt[8, 8]):
        # A lens that the corners do not show is straight: following their noise, it would bend what lies far from them.
        # That it may not be is counted in: by its doubt, and by what the corners would have had of it.
        bends = found
        found, noise = _least(
            seen, wanted, numbers, None if noise_mm is None else noise, FINEST_MM / span, lens=False
        )
        doubt = _doubt(seen, found, noise) + np.outer(found - bends, found - bends)
    return SeenPlane(found, doubt, middle, half, origin, span)


def _least(
    seen: np.ndarray,
    wanted: np.ndarray,
    start: np.ndarray,
    noise: float | None,
    finest: float,
    lens: bool = True,
) -> tuple[np.ndarray, float]:
    """Return the numbers that leave least, and the noise: as given, else what is left over, never less than `finest`."""
    numbers, free = start, 9 if lens else 8
    given, left = noise is not None, noise or finest
    for _ in range(1 if given else ROUNDS_OF_NOISE):

        def off(some: np.ndarray, left: float = left) -> np.ndarray:
            every = np.append(some, start[free:])
            return np.append((_flat(every, seen) - wanted).ravel() / left, every[8] / LENS)

        found = least_squares(off, numbers[:free], jac="3-point", x_scale="jac")
        numbers = np.append(found.x, start[free:])
        if not given:
            apart = (found.fun[:-1] * left) ** 2
            left = max(float(np.sqrt(apart.sum() / max(len(apart) - free, 1))), finest)
    return numbers, left


def _doubt(seen: np.ndarray, numbers: np.ndarray, noise: float) -> np.ndarray:
    """Return the covariance (9, 9) of the numbers, the lens held by what lenses usually bend."""
    slopes = _slopes(numbers, seen).reshape(-1, 9) / noise
    held = np.diag([0.0] * 8 + [1.0 / LENS**2])
    return np.asarray(np.linalg.pinv(slopes.T @ slopes + held, rcond=1e-15, hermitian=True))


def _slopes(numbers: np.ndarray, pixels: np.ndarray) -> np.ndarray:
    """Return how pixels (n, 2) taken to the plane move with the nine numbers: (n, 2, 9), by central differences."""
    ways = np.eye(9) * STEP
    moved = [(_flat(numbers + way, pixels) - _flat(numbers - way, pixels)) / (2 * STEP) for way in ways]
    return np.stack(moved, axis=-1)


def _matrix(numbers: np.ndarray) -> np.ndarray:
    return np.append(numbers[:8], 1.0).reshape(3, 3)


def _flat(numbers: np.ndarray, pixels: np.ndarray) -> np.ndarray:
    """Return pixels (n, 2) straightened and taken through a homography."""
    straight = pixels * (1.0 + numbers[8] * (pixels**2).sum(axis=1, keepdims=True))
    flat = np.column_stack([straight, np.ones(len(pixels))]) @ _matrix(numbers).T
    return np.asarray(flat[:, :2] / flat[:, 2:])


def _bent(straight: np.ndarray, lens: float) -> np.ndarray:
    """Return where straight pixels (n, 2) lie once the lens has bent them (Newton, along the radius)."""
    far = np.linalg.norm(straight, axis=1)
    r = far.copy()
    for _ in range(ROUNDS):
        slope = 1.0 + 3.0 * lens * r**2
        r = r - (r + lens * r**3 - far) / np.where(slope > 0.1, slope, np.nan)
    return np.asarray(straight * (r / np.where(far > 0, far, 1.0))[:, None])
