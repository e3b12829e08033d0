"""Quote and receipt on paper: what the customer gets, and for how much; never what it costs the shop."""

from datetime import datetime
from decimal import Decimal

from reportlab.lib.colors import HexColor
from reportlab.lib.enums import TA_RIGHT
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Spacer, Table, TableStyle

from keencoat.core.costing import Slip, SlipKind
from keencoat.jobs.paper import BIG_FIGURE, FIGURE, HEAD, SMALL, STRONG, TEXT, TITLE, print_pages, text

_RULE = TableStyle(
    [
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LINEBELOW", (0, 0), (-1, -1), 0.3, HexColor("#d9d6cc")),
        ("LEFTPADDING", (0, 0), (-1, -1), 0),
        ("TOPPADDING", (0, 0), (-1, -1), 4),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 4),
    ]
)
_COLUMNS = [80 * mm, 18 * mm, 32 * mm, 43 * mm]
_RIGHT, _FIGURES, _SUM = (
    ParagraphStyle(f"{style.name} right", parent=style, alignment=TA_RIGHT) for style in (SMALL, FIGURE, BIG_FIGURE)
)
_TITLES = {SlipKind.QUOTE: "Quote", SlipKind.RECEIPT: "Receipt"}


def slip_pdf(slip: Slip, withdrawn_at: datetime | None) -> bytes:
    """A quote or a receipt as PDF bytes; one that was withdrawn says so in its title."""
    title = f"{_TITLES[slip.kind]} {slip.code}" + (", withdrawn" if withdrawn_at else "")
    story: list[Flowable] = [
        *(text(line, STRONG if number == 0 else SMALL) for number, line in enumerate(slip.seller)),
        Spacer(0, 8 * mm),
        text(title, TITLE),
        text(slip.written.isoformat(), SMALL),
        Spacer(0, 4 * mm),
    ]
    if slip.for_whom:
        story += [text("For", HEAD), text(slip.for_whom, TEXT), Spacer(0, 4 * mm)]
    story.append(Table(_rows(slip), colWidths=_COLUMNS, style=_RULE, hAlign="LEFT"))
    return print_pages(title, _foot(slip), story)


def _rows(slip: Slip) -> list[list[object]]:
    def amount(value: Decimal) -> str:
        return f"{value:.2f} {slip.currency}"

    heads = [text("What", SMALL), *(text(words, _RIGHT) for words in ("Pieces", "Each", "Together"))]
    what = [text(slip.what, STRONG), *(text(line, TEXT) for line in slip.details)]
    rows: list[list[object]] = [
        [*heads],
        [what, text(str(slip.good), _FIGURES), text(amount(slip.price), _FIGURES), text(amount(slip.net), _FIGURES)],
    ]
    if slip.tax_share:
        share = f"Tax, {(100 * slip.tax_share).normalize():f} %"
        rows.append([text(share, TEXT), "", "", text(amount(slip.tax), _FIGURES)])
    return [*rows, [text("In all", STRONG), "", "", text(amount(slip.asked), _SUM)]]


def _foot(slip: Slip) -> str:
    taxed = "" if slip.tax_share else " No tax is in it: what the law of the place asks comes first."
    if slip.kind is SlipKind.QUOTE:
        return f"An offer for this number of pieces, good until {slip.holds_until.isoformat()}.{taxed}"
    return f"Every piece was looked at before it left.{taxed}"
