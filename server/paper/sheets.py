"""Pages by their names, and the room on them."""

from reportlab.lib.pagesizes import A3, A4, LETTER, TABLOID
from reportlab.lib.units import mm

from engine.facts import facts

PAPERS = {"A4": A4, "A3": A3, "Letter": LETTER, "Tabloid": TABLOID}
MARGIN, FOOT = 12.0, 26.0  # mm


class NoPaper(ValueError):
    """A page size that is not known, in words."""


@facts(kw_only=False)
class Sheet:
    """A page, mm: `wide` and `tall` are what is drawn on between the margins."""

    page: tuple[float, float]

    @property
    def wide(self) -> float:
        """Return the room across."""
        return self.page[0] - 2 * MARGIN

    @property
    def tall(self) -> float:
        """Return the room up the page, above its foot."""
        return self.page[1] - 2 * MARGIN - FOOT


def sheet_of(paper: str) -> Sheet:
    """Return a page by its name; raise NoPaper."""
    if paper not in PAPERS:
        raise NoPaper(f"“{paper}” is no page that can be printed here; take one of {', '.join(PAPERS)}.")
    wide, tall = PAPERS[paper]
    return Sheet((wide / mm, tall / mm))
