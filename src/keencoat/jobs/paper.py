"""What our printed sheets share: fonts, styles, and text made safe for markup."""

import io
from collections.abc import Callable
from importlib.resources import files
from xml.sax.saxutils import escape

from reportlab.lib.colors import Color, HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate

INK, SOFT, GLAZE = HexColor("#1f2430"), HexColor("#5d6470"), HexColor("#0d6b67")
MARGIN = 16 * mm

for _name in ("text", "bold", "mono"):
    pdfmetrics.registerFont(TTFont(f"keencoat-{_name}", str(files("keencoat.core").joinpath("fonts", f"{_name}.ttf"))))
pdfmetrics.registerFontFamily("keencoat-text", normal="keencoat-text", bold="keencoat-bold")


def _style(font: str, size: float, colour: Color = INK, before: float = 0) -> ParagraphStyle:
    return ParagraphStyle(
        f"{font}{size}",
        fontName=f"keencoat-{font}",
        fontSize=size,
        leading=1.3 * size,
        textColor=colour,
        spaceBefore=before,
    )


TITLE, HEAD = _style("bold", 18), _style("bold", 11, GLAZE, 8)
TEXT, STRONG, FIGURE = _style("text", 9.5), _style("bold", 9.5), _style("mono", 9.5)
SMALL, BIG_FIGURE = _style("text", 8, SOFT), _style("mono", 15)


def text(words: str, style: ParagraphStyle = TEXT) -> Paragraph:
    """A paragraph of plain words; the fonts have no low 2, so it is set as a subscript."""
    return Paragraph(escape(words).replace("₂", "<sub>2</sub>"), style)


def print_pages(title: str, foot: str, story: list[Flowable]) -> bytes:
    """A4 pages as PDF bytes, with `foot` and the page number at the bottom of each."""
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out,
        pagesize=A4,
        leftMargin=MARGIN,
        rightMargin=MARGIN,
        topMargin=MARGIN,
        bottomMargin=MARGIN + 6 * mm,
        title=title,
        author="Keen Coat",
    )
    footer = _footer(foot)
    document.build(story, onFirstPage=footer, onLaterPages=footer)
    return out.getvalue()


def _footer(foot: str) -> Callable[[Canvas, SimpleDocTemplate], None]:
    def draw(canvas: Canvas, document: SimpleDocTemplate) -> None:
        words = text(foot, SMALL)
        _, height = words.wrap(A4[0] - 2 * MARGIN - 20 * mm, 20 * mm)
        words.drawOn(canvas, MARGIN, MARGIN - height / 2)
        canvas.setFont("keencoat-mono", 8)
        canvas.setFillColor(SOFT)
        canvas.drawRightString(A4[0] - MARGIN, MARGIN, str(document.page))

    return draw


class TickBox(Flowable):
    """A box to tick by hand."""

    def __init__(self, side: float = 3.6 * mm) -> None:
        super().__init__()
        self.width = self.height = side

    def draw(self) -> None:
        """Draw the box."""
        self.canv.setStrokeColor(INK)
        self.canv.setLineWidth(0.8)
        self.canv.roundRect(0, -1, self.width, self.height, 1)
