"""The grid on paper, true to scale where it fits, with room to write at the bench."""

from collections.abc import Iterable, Sequence

from reportlab.lib.colors import HexColor, white
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, LongTable, Spacer, TableStyle

from keencoat.core.grid import GridLayout, edge_strokes, sample_strokes
from keencoat.core.piece import FlatPiece
from keencoat.core.quantities import areal_energy_j_mm2, dwell_ms, show
from keencoat.core.safety import DEFERENCE
from keencoat.core.substrate import find_process
from keencoat.jobs.grid.services.drawing import layout_of, piece_of
from keencoat.jobs.models import TestGrid
from keencoat.jobs.paper import FIGURE, INK, SMALL, SOFT, STRONG, TEXT, TITLE, print_pages, text
from keencoat.shop.models import machine_of

_WIDEST, _HIGHEST = 170 * mm, 110 * mm


class GridPicture(Flowable):
    """The grid on its piece; `share` is 1 where it is true to scale."""

    def __init__(self, layout: GridLayout, piece: FlatPiece) -> None:
        super().__init__()
        self.layout, self.piece = layout, piece
        self.share = min(1.0, _WIDEST / (piece.width_mm * mm), _HIGHEST / (piece.height_mm * mm))
        self.width, self.height = piece.width_mm * mm * self.share, piece.height_mm * mm * self.share

    def draw(self) -> None:
        """Draw piece, cells and codes."""
        pen = self.canv
        pen.saveState()
        pen.scale(mm * self.share, mm * self.share)
        pen.translate(self.piece.width_mm / 2, self.piece.height_mm / 2)
        pen.setStrokeColor(SOFT)
        pen.setLineWidth(0.25)
        self._line(self.piece.outline.exterior.coords)
        pen.setStrokeColor(INK)
        pen.setFillColor(white)
        for cell in self.layout.cells:
            left, low, _, _ = cell.outline.bounds
            pen.rect(left, low, cell.side_mm, cell.side_mm, fill=1)
        for stroke in edge_strokes(self.layout, 0.2) + [s for c in self.layout.cells for s in sample_strokes(c)]:
            self._line(stroke)
        pen.restoreState()

    def _line(self, points: Iterable[Sequence[float]]) -> None:
        path = self.canv.beginPath()
        for n, (x, y) in enumerate(points):
            (path.lineTo if n else path.moveTo)(x, y)
        self.canv.drawPath(path)


def bench_sheet_pdf(grid: TestGrid, speed_unit: str, interval_unit: str) -> bytes:
    """The bench sheet as PDF bytes, A4: picture, cells with their settings, and room for what was seen."""
    piece, machine = piece_of(grid), machine_of(grid.machine_facts)
    process = find_process(grid.job.process)
    sheets = [layout_of(grid, spare) for spare in range(1, grid.spares + 1)]
    pictures = [GridPicture(layout, piece) for layout in sheets]
    scale = "true to scale" if pictures[0].share == 1 else f"at {100 * pictures[0].share:.0f} % of its size"
    story: list[Flowable] = [
        text(f"{grid.job.name}, grid {grid.label}", TITLE),
        text(f"{grid.machine_name}; about {grid.burn_seconds / 60:.0f} min to burn; drawn {scale}", SMALL),
        *[part for picture in pictures for part in (Spacer(0, 4 * mm), picture)],
        Spacer(0, 3 * mm),
        text(f"Clean: {process.clean}. Faint: {process.too_little}. Harsh: {process.too_much}.", TEXT),
        text(process.judge, SMALL),
        Spacer(0, 2 * mm),
    ]
    head = ["Cell", "Power", "Speed", "Lines", "J/mm²", "Dwell", "faint", "clean", "harsh", "Seen, heard, felt"]
    rows: list[list[object]] = [[text(h, STRONG) for h in head]]
    for placed in (cell for layout in sheets for cell in layout.cells):
        s = placed.cell.setting
        figures = [
            placed.cell.code,
            f"{s.power_pct:g} %",
            show(s.speed_mm_s, speed_unit),
            show(s.interval_mm, interval_unit),
            f"{areal_energy_j_mm2(s, machine):.2f}",
            f"{dwell_ms(s, machine):.2f} ms",
        ]
        rows.append([text(f, FIGURE) for f in figures] + ["", "", "", ""])
    widths = [11, 17, 27, 24, 14, 20, 11, 11, 12, 31]
    style = TableStyle(
        [
            ("GRID", (0, 0), (-1, -1), 0.3, HexColor("#c9c5b8")),
            ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
            ("LEFTPADDING", (0, 0), (-1, -1), 3),
            ("RIGHTPADDING", (0, 0), (-1, -1), 2),
        ]
    )
    story.append(LongTable(rows, colWidths=[w * mm for w in widths], repeatRows=1, style=style))
    return print_pages(f"Grid {grid.label}: {grid.job.name}", DEFERENCE, story)
