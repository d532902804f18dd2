"""A picture taken in: turned upright, its place and time stripped, written anew; what is none is refused in a sentence."""

import io
import struct
import threading

from PIL import Image, ImageOps, UnidentifiedImageError

from engine.facts import facts
from server.answers import ActionRefused

MOST_BYTES = 25_000_000
MOST_PIXELS = 60_000_000
FORMATS = ["JPEG", "PNG"]  # a JPEG with a second picture in it, as phones make, is one too
QUALITY = 92
MOST_SIDE = 20_000
SCAN = b"\xff\xda"  # the start of one layer of a JPEG; a progressive one has about ten
MOST_SCANS = 100
ONE_AT_A_TIME = threading.Lock()  # unpacked, one of 60 megapixels takes a third of a gigabyte
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
            if max(width, height) > MOST_SIDE:
                raise ActionRefused(
                    422,
                    "picture_too_large",
                    f"The picture is {max(width, height)} pixels long; {MOST_SIDE} is the most. Take it smaller.",
                )
            if data.count(SCAN) > MOST_SCANS:
                raise ActionRefused(
                    422,
                    "no_picture",
                    "This picture is put together of too many layers to be read. Save it again as a plain JPEG.",
                )
            if width * height > MOST_PIXELS:
                raise ActionRefused(
                    422,
                    "picture_too_large",
                    f"The picture has {width * height / 1e6:.0f} megapixels; "
                    f"{MOST_PIXELS // 1_000_000} is the most. Take it smaller.",
                )
            with ONE_AT_A_TIME:
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
    picture.info.clear()  # Pillow would write a comment again: cameras put names and places there
    picture.save(out, "JPEG", quality=QUALITY)
    return Taken(out.getvalue(), *picture.size)


def kept_again(data: bytes) -> bytes:
    """Return a picture that was kept before, as it is where it carries nothing but its pixels; raise ActionRefused for none."""
    plain = take_picture(data)
    with Image.open(io.BytesIO(data)) as opened:
        bare = opened.format == "JPEG" and not {"exif", "comment", "icc_profile", "xmp", "photoshop"} & set(
            opened.info
        )
    return data if bare else plain.jpeg
