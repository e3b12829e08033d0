"""Quote and receipt on paper: what the customer gets, and for how much; never what it costs the shop."""

from datetime import date
from decimal import Decimal

from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Spacer, Table, TableStyle

from keencoat.core.substrate import PROCESSES, SUBSTRATES
from keencoat.jobs.cost.services import Priced
from keencoat.jobs.models import Job
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
_QUOTE_FOOT = "An offer for this number of pieces, good for 30 days. Taxes as the law of the place asks."
_RECEIPT_FOOT = "Taxes as the law of the place asks. Every piece was looked at before it left."


def quote_pdf(job: Job, priced: Priced, for_whom: str, on: date) -> bytes:
    """What the pieces of a job are offered for, as PDF bytes."""
    return _sheet("Quote", job, priced, for_whom, on, _QUOTE_FOOT)


def receipt_pdf(job: Job, priced: Priced, for_whom: str, on: date) -> bytes:
    """What the clean pieces of a closed batch come to, as PDF bytes."""
    return _sheet("Receipt", job, priced, for_whom, on, _RECEIPT_FOOT)


def _sheet(kind: str, job: Job, priced: Priced, for_whom: str, on: date, foot: str) -> bytes:
    face, good, currency = job.piece().face, priced.cost.good, job.workshop.currency

    def amount(value: Decimal) -> str:
        return f"{value:.2f} {currency}"

    size = f"{face.width_mm:g} × {face.height_mm:g} × {face.thickness_mm:g} mm"
    rows: list[list[object]] = [
        [text("What", SMALL), text("Pieces", SMALL), text("Each", SMALL), text("Together", SMALL)],
        [
            [
                text(job.name, STRONG),
                text(f"{SUBSTRATES[job.substrate].label}, {size}", TEXT),
                text(PROCESSES[job.process].label, TEXT),
            ],
            text(str(good), FIGURE),
            text(amount(priced.price), FIGURE),
            text(amount(priced.asked), BIG_FIGURE),
        ],
    ]
    story: list[Flowable] = [
        text(kind, TITLE),
        text(f"{job.workshop.name}, {on.isoformat()}", SMALL),
        Spacer(0, 4 * mm),
    ]
    if for_whom:
        story += [text("For", HEAD), text(for_whom, TEXT), Spacer(0, 4 * mm)]
    story.append(Table(rows, colWidths=[84 * mm, 18 * mm, 32 * mm, 44 * mm], style=_RULE))
    return print_pages(f"{kind}: {job.name}", foot, story)
