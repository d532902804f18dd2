"""The shop's own name, address and mark, as its papers bear them."""

import io

from PIL import Image, UnidentifiedImageError

from server.accounts.models import Shop
from server.answers import ActionRefused
from server.paper.letterhead import Letterhead

MOST_BYTES, MOST_SIDE, KEPT_SIDE = 2_000_000, 6000, 1000
UNREADABLE = (
    UnidentifiedImageError,
    OSError,
    SyntaxError,
    ValueError,
    EOFError,
    Image.DecompressionBombError,
)


def shop() -> Shop:
    """Return what the shop says of itself; nothing yet where nobody has."""
    return Shop.objects.first() or Shop()


def letterhead() -> Letterhead:
    """Return what heads the shop's papers."""
    its = shop()
    return Letterhead(name=its.name, address=its.address, mark=bytes(its.mark or b""))


def say_shop(name: str, address: str, currency: str = "") -> Shop:
    """Keep the shop's name, address and the sign of its currency."""
    its = shop()
    its.name, its.address = name.strip(), "\n".join(line.strip() for line in address.strip().splitlines())
    its.currency = currency.strip()
    its.save()
    return its


def keep_mark(data: bytes) -> Shop:
    """Keep a PNG or JPEG as the shop's mark, written anew and no larger than a paper needs; raise ActionRefused."""
    its = shop()
    its.mark = _as_png(data)
    its.save()
    return its


def drop_mark() -> Shop:
    """Let go of the shop's mark."""
    its = shop()
    its.mark = None
    its.save()
    return its


def _as_png(data: bytes) -> bytes:
    if len(data) > MOST_BYTES:
        raise ActionRefused(
            413, "mark_too_big", f"A mark is at most {MOST_BYTES // 1_000_000} MB. Save it smaller."
        )
    try:
        with Image.open(io.BytesIO(data), formats=["PNG", "JPEG"]) as opened:
            if max(opened.size) > MOST_SIDE:
                raise ActionRefused(
                    422, "mark_too_large", f"A mark is at most {MOST_SIDE} pixels long. Save it smaller."
                )
            plain = opened.convert("RGBA")
    except UNREADABLE as error:
        raise ActionRefused(
            422, "no_mark", "This is no picture that can be read. Give the mark as a PNG or a JPEG."
        ) from error
    on_white = Image.new("RGBA", plain.size, "white")
    on_white.alpha_composite(plain)
    on_white.thumbnail((KEPT_SIDE, KEPT_SIDE))
    out = io.BytesIO()
    on_white.convert("RGB").save(out, "PNG")
    return out.getvalue()
