"""What the job's printed pages are set in: a page's size, the fonts that ship, and figures in the shop's own units."""

import io
from datetime import date
from functools import cache
from html import escape
from typing import Any

from django.conf import settings
from reportlab.lib import colors
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Table

from engine.facts import facts
from engine.sentences import Quantity, Sentence
from server.paper.sheets import Sheet, sheet_of

MARGIN_MM, TOP_MM, BOTTOM_MM = 18.0, 16.0, 18.0
FONTS = settings.ROOT / "web" / "node_modules" / "dejavu-fonts-ttf" / "ttf"


@cache
def fonts() -> None:
    """Make the fonts that ship known: `Book` and `BookBold`."""
    pdfmetrics.registerFont(TTFont("Book", FONTS / "DejaVuSans.ttf"))
    pdfmetrics.registerFont(TTFont("BookBold", FONTS / "DejaVuSans-Bold.ttf"))
    pdfmetrics.registerFontFamily(
        "Book", normal="Book", bold="BookBold", italic="Book", boldItalic="BookBold"
    )


@cache
def _styles() -> dict[str, ParagraphStyle]:
    fonts()
    plain = ParagraphStyle("plain", fontName="Book", fontSize=9, leading=12)
    return {
        "plain": plain,
        "small": ParagraphStyle(
            "small", parent=plain, fontSize=9, leading=11.5, textColor=colors.HexColor("#444444")
        ),
        "head": ParagraphStyle(
            "head", parent=plain, fontName="BookBold", fontSize=13, leading=17, spaceBefore=8, spaceAfter=3
        ),
        "title": ParagraphStyle(
            "title", parent=plain, fontName="BookBold", fontSize=24, leading=30, spaceAfter=6
        ),
        "day": ParagraphStyle(
            "day", parent=plain, fontName="BookBold", fontSize=10, leading=14, spaceBefore=7, spaceAfter=2
        ),
    }


@facts
class Paper:
    """A page by its name, who prints it, and whether it is read in inches and pounds; raise NoPaper for an unknown page.

    fractions : inches that are taped are written in fractions on drawings
    """

    by: str
    page: str = "A4"
    inches: bool = False
    fractions: bool = False
    on_its_side: bool = False

    @property
    def sheet(self) -> Sheet:
        """Return the page's size."""
        return sheet_of(self.page)

    @property
    def wide(self) -> float:
        """Return the room between the margins, mm."""
        return self.across_and_up[0] - 2 * MARGIN_MM

    @property
    def tall(self) -> float:
        """Return the room above the foot, mm."""
        return self.across_and_up[1] - TOP_MM - BOTTOM_MM

    @property
    def across_and_up(self) -> tuple[float, float]:
        """Return the page as it is held, mm."""
        across, up = self.sheet.page
        return (up, across) if self.on_its_side else (across, up)

    def figure(self, value: float, measures: str) -> str:
        """Return a figure with its unit."""
        return Quantity(value, measures).told(self.inches)

    def say(self, words: object, style: str = "plain") -> Paragraph:
        """Return words as a paragraph: whatever they hold, they stay words."""
        text = words.told(self.inches) if isinstance(words, Sentence) else str(words)
        return Paragraph(escape(text), _styles()[style])

    def table(
        self,
        rows: list[list[str]],
        widths: list[float] | None = None,
        tall: float | None = None,
        tight: bool = False,
    ) -> Flowable:
        """Return a ruled table under its first row; widths of columns and height of the others, mm; `tight` a long one."""
        return Table(
            [[self.say(cell) for cell in row] for row in rows],
            colWidths=None if widths is None else [one * mm for one in widths],
            rowHeights=None if tall is None else [None] + [tall * mm] * (len(rows) - 1),
            hAlign="LEFT",
            repeatRows=1,
            style=[
                ("GRID", (0, 0), (-1, -1), 0.4, colors.HexColor("#888888")),
                ("BACKGROUND", (0, 0), (-1, 0), colors.HexColor("#eeece4")),
                ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                ("TOPPADDING", (0, 0), (-1, -1), 0 if tight else 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5 if tight else 3),
            ],
        )

    def build(self, story: list[Flowable], name: str) -> bytes:
        """Return the pages as a PDF, each with its name, the date, who printed it and its number at the foot."""
        out = io.BytesIO()
        across, up = self.across_and_up
        document = SimpleDocTemplate(
            out, pagesize=(across * mm, up * mm), title=name, author=self.by,
            leftMargin=MARGIN_MM * mm, rightMargin=MARGIN_MM * mm, topMargin=TOP_MM * mm, bottomMargin=BOTTOM_MM * mm,
        )  # fmt: skip
        _styles()

        def foot(canvas: Canvas, its: Any) -> None:
            canvas.saveState()
            canvas.setFont("Book", 9)
            said = f"{name[:60]} · {date.today().isoformat()} · {self.by[:40]}"
            canvas.drawString(MARGIN_MM * mm, 9 * mm, said)
            canvas.drawRightString((across - MARGIN_MM) * mm, 9 * mm, f"{its.page}")
            canvas.restoreState()

        document.build(story, onFirstPage=foot, onLaterPages=foot)
        return out.getvalue()
