"""A picture taken in: turned upright, its place and time stripped, written anew; what is none is refused in a sentence."""

import io
import struct

from PIL import Image, ImageOps, UnidentifiedImageError

from engine.facts import facts
from server.answers import ActionRefused

MOST_BYTES = 25_000_000
MOST_PIXELS = 60_000_000
FORMATS = ["JPEG", "PNG"]  # a JPEG with a second picture in it, as phones make, is one too
QUALITY = 92
BROKEN = (
    UnidentifiedImageError,
    OSError,
    SyntaxError,
    ValueError,
    struct.error,
    EOFError,
    Image.DecompressionBombError,
)


@facts(kw_only=False)
class Taken:
    """A picture as it is kept: JPEG, and its size in pixels."""

    jpeg: bytes
    width: int
    height: int


def take_picture(data: bytes) -> Taken:
    """Return a picture fit to be kept; raise ActionRefused saying what is wrong with it."""
    if len(data) > MOST_BYTES:
        raise ActionRefused(
            413, "picture_too_big", f"A picture is at most {MOST_BYTES // 1_000_000} MB. Take it smaller."
        )
    if not data:
        raise ActionRefused(422, "no_picture", "The file is empty. Choose the picture again.")
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as opened:
            width, height = opened.size
            if width * height > MOST_PIXELS:
                raise ActionRefused(
                    422,
                    "picture_too_large",
                    f"The picture has {width * height / 1e6:.0f} megapixels; "
                    f"{MOST_PIXELS // 1_000_000} is the most. Take it smaller.",
                )
            upright = ImageOps.exif_transpose(opened)
            plain = upright.convert("RGB")
    except BROKEN as error:
        raise ActionRefused(
            422, "no_picture", "This is no picture that can be read, or it is cut off. Give a JPEG or a PNG."
        ) from error
    return written(plain)


def written(picture: Image.Image) -> Taken:
    """Return a picture as a JPEG that carries nothing but its pixels."""
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=QUALITY)
    return Taken(out.getvalue(), *picture.size)
