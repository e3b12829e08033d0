"""Where the cells lie on the piece: true to scale, inside the coated area, with gaps and room for codes.

Coordinates: mm from the centre of the piece, x right, y up. Row A is the top row.
"""

from dataclasses import dataclass

from shapely import prepare
from shapely.geometry import Polygon, box

from keencoat.core.errors import DoesNotFitError, require_within
from keencoat.core.findings import Finding, Severity
from keencoat.core.grid.design import GridDesign, PlannedCell
from keencoat.core.piece.flat import FlatPiece
from keencoat.core.piece.round import Piece

LEAST_CELL_MM, USUAL_CELL_MM = 4.0, 9.0
LEAST_GAP_MM, USUAL_GAP_MM = 1.5, 3.0
LABEL_MM = 3.0
_LABEL_ROOM_MM = LABEL_MM + 1.5


@dataclass(frozen=True)
class PlacedCell:
    """A cell on the piece: centre and side lengths in mm."""

    cell: PlannedCell
    x_mm: float
    y_mm: float
    side_mm: float

    @property
    def outline(self) -> Polygon:
        """The burned square."""
        half = self.side_mm / 2
        return box(self.x_mm - half, self.y_mm - half, self.x_mm + half, self.y_mm + half)


@dataclass(frozen=True)
class PlacedLabel:
    """A code along the edge: its lower left corner and letter height in mm."""

    text: str
    x_mm: float
    y_mm: float
    height_mm: float = LABEL_MM


@dataclass(frozen=True)
class GridLayout:
    """A grid on a piece."""

    cells: tuple[PlacedCell, ...]
    labels: tuple[PlacedLabel, ...]
    cell_mm: float
    gap_mm: float

    def extent(self) -> tuple[float, float, float, float]:
        """Least x, least y, largest x, largest y of cells and labels, mm."""
        boxes = [c.outline.bounds for c in self.cells] + [_label_box(label).bounds for label in self.labels]
        return (
            min(b[0] for b in boxes),
            min(b[1] for b in boxes),
            max(b[2] for b in boxes),
            max(b[3] for b in boxes),
        )


def lay_out(
    design: GridDesign, piece: FlatPiece, cell_mm: float | None = None, gap_mm: float | None = None
) -> GridLayout:
    """Place a design on a piece, centred. Sizes left out are chosen: as usual, then smaller down to the least.

    Raises DoesNotFitError that names what is asked and what there is; sizes given are never changed.
    """
    if cell_mm is not None:
        require_within(cell_mm, 1, 100, "cell_mm", "mm")
    if gap_mm is not None:
        require_within(gap_mm, 0.5, 50, "gap_mm", "mm")
    steps = 12
    coated = piece.coated.buffer(1e-6)
    prepare(coated)
    for step in range(steps + 1):
        share = step / steps
        cell = cell_mm if cell_mm is not None else USUAL_CELL_MM - share * (USUAL_CELL_MM - LEAST_CELL_MM)
        gap = gap_mm if gap_mm is not None else USUAL_GAP_MM - share * (USUAL_GAP_MM - LEAST_GAP_MM)
        layout = _place(design, round(cell, 2), round(gap, 2))
        if _fits(layout, coated):
            return layout
    left, low, right, top = layout.extent()
    raise DoesNotFitError(
        f"{design.rows} × {design.columns} cells of {layout.cell_mm:g} mm need "
        f"{right - left:.0f} × {top - low:.0f} mm; "
        f"the coated area is {piece.width_mm - 2 * piece.margin_mm:g} × {piece.height_mm - 2 * piece.margin_mm:g} mm"
        f"{' and round' if piece.shape == 'disc' else ''}.",
        field="cell_mm" if cell_mm is not None else "cells",
        hint="Take fewer cells, smaller cells or gaps, or a larger spare.",
    )


def round_findings(piece: Piece) -> tuple[Finding, ...]:
    """What to mind when the grid goes on a round piece; nothing for a flat one."""
    if isinstance(piece, FlatPiece):
        return ()
    wide = f" On this taper the wide end runs {100 * piece.stretch:.0f} % faster than the narrow one."
    return (
        Finding(
            "grid-unrolled",
            Severity.NOTE,
            "The grid is drawn on the unrolled wall: x runs round the piece." + (wide if piece.stretch > 0.01 else ""),
            fix="Burn it on the rotary with its millimetres a turn calibrated, or on a flat spare of the same glass.",
            figures={"stretch": piece.stretch},
            source="common-practice",
        ),
    )


def _place(design: GridDesign, cell_mm: float, gap_mm: float) -> GridLayout:
    pitch = cell_mm + gap_mm
    width = design.columns * pitch - gap_mm
    height = design.rows * pitch - gap_mm
    # Codes stand left of the rows and above the columns; the whole is centred.
    left = -width / 2 + _LABEL_ROOM_MM / 2
    top = height / 2 - _LABEL_ROOM_MM / 2
    cells = tuple(
        PlacedCell(
            c,
            round(left + c.column * pitch + cell_mm / 2, 4),
            round(top - c.row * pitch - cell_mm / 2, 4),
            cell_mm,
        )
        for c in design.cells
    )
    return GridLayout(cells, _edge_labels(design.rows, design.columns, left, top, cell_mm, pitch), cell_mm, gap_mm)


def restore_layout(
    placed: list[tuple[PlannedCell, float, float]], rows: int, columns: int, cell_mm: float, gap_mm: float
) -> GridLayout:
    """A layout from cells that were placed before: (cell, x, y) with centres in mm."""
    cells = tuple(PlacedCell(cell, x, y, cell_mm) for cell, x, y in placed)
    left = min(c.x_mm for c in cells) - cell_mm / 2
    top = max(c.y_mm for c in cells) + cell_mm / 2
    return GridLayout(cells, _edge_labels(rows, columns, left, top, cell_mm, cell_mm + gap_mm), cell_mm, gap_mm)


def _edge_labels(
    rows: int, columns: int, left: float, top: float, cell_mm: float, pitch: float
) -> tuple[PlacedLabel, ...]:
    of_rows = tuple(
        PlacedLabel(chr(ord("A") + row), left - _LABEL_ROOM_MM, top - row * pitch - cell_mm / 2 - LABEL_MM / 2)
        for row in range(rows)
    )
    of_columns = tuple(
        PlacedLabel(str(column + 1), left + column * pitch + cell_mm / 2 - LABEL_MM / 3, top + 1.5)
        for column in range(columns)
    )
    return of_rows + of_columns


def _label_box(label: PlacedLabel) -> Polygon:
    width = 2 / 3 * label.height_mm * len(label.text)
    return box(label.x_mm, label.y_mm, label.x_mm + width, label.y_mm + label.height_mm)


def _fits(layout: GridLayout, coated: Polygon) -> bool:
    return all(coated.contains(c.outline) for c in layout.cells) and all(
        coated.contains(_label_box(label)) for label in layout.labels
    )
