"""The run sheet on paper."""

import io
from collections.abc import Sequence

from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Image, KeepTogether, Spacer, Table, TableStyle

from keencoat.core.runsheet import RunSheet, SheetLine, SheetSection
from keencoat.jobs.artwork.on_sheet import SheetArt
from keencoat.jobs.paper import BIG_FIGURE, HEAD, SMALL, STRONG, TEXT, TITLE, TickBox, print_pages, text

_PICTURE_MM = 38
_RULE = TableStyle(
    [
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LINEBELOW", (0, 0), (-1, -2), 0.3, HexColor("#d9d6cc")),
        ("LEFTPADDING", (0, 0), (-1, -1), 0),
        ("TOPPADDING", (0, 0), (-1, -1), 2.5),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5),
    ]
)


def run_sheet_pdf(sheet: RunSheet, version: str, artworks: Sequence[SheetArt] = ()) -> bytes:
    """The run sheet as PDF bytes, A4, with the artworks that it is for."""
    story: list[Flowable] = [text(sheet.title, TITLE), text(f"Run sheet, {version}", SMALL), Spacer(0, 4 * mm)]
    for section in sheet.sections:
        story.append(KeepTogether(_section(section)))
    if artworks:
        story.append(KeepTogether([text("Artwork", HEAD), _artworks(artworks)]))
    return print_pages(f"Run sheet: {sheet.title}", sheet.deference, story)


def _artworks(artworks: Sequence[SheetArt]) -> Table:
    rows: list[list[object]] = []
    for art in artworks:
        picture = Image(io.BytesIO(art.picture), _PICTURE_MM * mm, _PICTURE_MM * mm, kind="proportional")
        minutes = f"about {art.seconds / 60:.1f} min a piece"
        rows.append([picture, [text(art.name, STRONG), text(minutes, TEXT), text(art.file, SMALL)]])
    return Table(rows, colWidths=[(_PICTURE_MM + 5) * mm, (173 - _PICTURE_MM) * mm], style=_RULE)


def _section(section: SheetSection) -> list[Flowable]:
    large = section.title == "Setting"
    rows = [_row(line, large and index < 4) for index, line in enumerate(section.lines)]
    return [
        text(section.title, HEAD),
        Table(rows, colWidths=[7 * mm, 58 * mm, 113 * mm], style=_RULE),
        Spacer(0, 2 * mm),
    ]


def _row(line: SheetLine, large: bool) -> list[object]:
    box = TickBox() if line.tick else ""
    if not line.value:
        return [box, text(line.label, STRONG), text(line.detail, SMALL)]
    value: list[Flowable] = [text(line.value, BIG_FIGURE if large else TEXT)]
    if line.detail:
        value.append(text(line.detail, SMALL))
    return [box, text(line.label, STRONG), value]
