"""Making a grid fit the coated area: fewer cells, then smaller ones, then a second spare, in that order, said aloud."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from shapely.geometry import Polygon

from keencoat.core.errors import DoesNotFitError
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.grid.design import GridDesign
from keencoat.core.grid.layout import LEAST_CELL_MM, LEAST_GAP_MM, GridLayout, fits, place
from keencoat.core.piece import Piece

BAND_DEG = 100.0
"""How far round a grid goes on a round piece: what one photo shows well."""
_STEPS = 8


@dataclass(frozen=True)
class FittedGrid:
    """A design with its layout on each spare it needs (one or two), and what had to give."""

    design: GridDesign
    sheets: tuple[GridLayout, ...]
    findings: tuple[Finding, ...]


@dataclass(frozen=True)
class CellSize:
    """Side of the patch and gap, mm; `fixed` where the maker chose them, so that they are never changed. Before a cell
    is left out, patches may shrink down to `enough_mm`."""

    cell_mm: float
    gap_mm: float
    fixed: bool = False
    enough_mm: float = math.inf

    def smaller(self) -> list["CellSize"]:
        """Sizes to try after this one, down to the least; none if it is fixed."""
        if self.fixed or self.cell_mm <= LEAST_CELL_MM:
            return []
        shares = [(step + 1) / _STEPS for step in range(_STEPS)]
        return [
            CellSize(
                round(self.cell_mm - t * (self.cell_mm - LEAST_CELL_MM), 2),
                round(self.gap_mm - t * max(0.0, self.gap_mm - LEAST_GAP_MM), 2),
            )
            for t in shares
        ]


def grid_area(piece: Piece) -> Polygon:
    """Where a grid may lie: the coated area; on a round piece the band that one photo shows."""
    return piece.in_view(BAND_DEG)


def fit_grid(
    make: Callable[[int], GridDesign], cells: int, counts: tuple[int, ...], size: CellSize, piece: Piece
) -> FittedGrid:
    """Lay out `make(cells)` on a piece; `counts` are the numbers of cells that may be taken instead.

    Raises DoesNotFitError with what is asked and what there is if even the least grid on two spares is too large.
    """
    area = grid_area(piece)
    wanted = make(cells)
    found = round_findings(piece)
    for count in (cells, *sorted((n for n in counts if n < cells), reverse=True)):
        design = wanted if count == cells else make(count)
        for each in (size, *(s for s in size.smaller() if s.cell_mm >= size.enough_mm)):
            layout = place(design, each.cell_mm, each.gap_mm)
            if fits(layout, area):
                return FittedGrid(design, (layout,), found + _fewer(cells, count) + _smaller(size, each))
    least = min(cells, *counts) if counts else cells
    design = make(least)
    found += _fewer(cells, least)
    for smaller in size.smaller():
        layout = place(design, smaller.cell_mm, smaller.gap_mm)
        if fits(layout, area):
            return FittedGrid(design, (layout,), found + _smaller(size, smaller))
    for smaller in (size, *size.smaller()):
        for halves in _halves(design):
            sheets = tuple(place(half, smaller.cell_mm, smaller.gap_mm) for half in halves)
            if all(fits(sheet, area) for sheet in sheets):
                return FittedGrid(design, sheets, found + _smaller(size, smaller) + (_second(halves),))
    left, low, right, top = place(design, *_least(size)).extent()
    a, b, c, d = area.bounds
    raise DoesNotFitError(
        f"{design.rows} × {design.columns} cells with their frame need {right - left:.0f} × {top - low:.0f} mm; the "
        f"coated area is {c - a:.0f} × {d - b:.0f} mm"
        f"{' and round' if piece.has_rim else ''}.",
        field="cell_mm" if size.fixed else "cells",
        hint="Take smaller cells or gaps, a larger spare, or rate single cells on a flat offcut of the same material.",
    )


def _least(size: CellSize) -> tuple[float, float]:
    last = (size, *size.smaller())[-1]
    return last.cell_mm, last.gap_mm


def _fewer(wanted: int, taken: int) -> tuple[Finding, ...]:
    if taken == wanted:
        return ()
    return (
        Finding(
            FindingCode.FEWER_CELLS,
            Severity.NOTE,
            f"{wanted} cells do not fit the coated area; this grid has {taken}.",
            fix="A larger spare, or smaller cells.",
            figures={"wanted": wanted, "taken": taken},
        ),
    )


def _smaller(usual: CellSize, taken: CellSize) -> tuple[Finding, ...]:
    if taken.cell_mm == usual.cell_mm:
        return ()
    return (
        Finding(
            FindingCode.SMALLER_CELLS,
            Severity.NOTE,
            f"Cells of {usual.cell_mm:g} mm do not fit; these have {taken.cell_mm:g} mm and stay cooler than a large "
            "fill.",
            fix="Confirm the setting on a larger patch before the real piece.",
            figures={"usual_mm": usual.cell_mm, "taken_mm": taken.cell_mm},
        ),
    )


def _halves(design: GridDesign) -> list[tuple[GridDesign, GridDesign]]:
    """The design in two: by rows, and by columns."""
    rows, columns = range(design.rows), range(design.columns)
    across, down = math.ceil(design.rows / 2), math.ceil(design.columns / 2)
    halves = []
    if design.rows > 1:
        halves.append((design.part(rows[:across], columns), design.part(rows[across:], columns)))
    if design.columns > 1:
        halves.append((design.part(rows, columns[:down]), design.part(rows, columns[down:])))
    return halves


def _second(halves: tuple[GridDesign, GridDesign]) -> Finding:
    first, second = halves
    return Finding(
        FindingCode.SECOND_SPARE,
        Severity.WARN,
        f"The grid needs two spares: {first.cells[0].code} to {first.cells[-1].code} on the first, "
        f"{second.cells[0].code} to {second.cells[-1].code} on the second.",
        fix="Coat both alike, from the same lot, and keep them apart by name.",
        figures={"first": len(first.cells), "second": len(second.cells)},
    )


def round_findings(piece: Piece) -> tuple[Finding, ...]:
    """What to mind when the grid goes on a round piece; nothing for a flat one."""
    if piece.radius_mm is None:
        return ()
    wide = f" On this taper the wide end runs {100 * piece.stretch:.0f} % faster than the narrow one."
    return (
        Finding(
            FindingCode.GRID_UNROLLED,
            Severity.NOTE,
            f"The grid is a band of at most {BAND_DEG:.0f}° round the wall, so that one photo shows it all; x runs "
            "round the piece." + (wide if piece.stretch > 0.01 else ""),
            fix="Burn it on the rotary with its millimetres a turn calibrated, or on a flat spare of the same glass.",
            figures={"stretch": piece.stretch, "band_deg": BAND_DEG},
            source="common-practice",
        ),
    )
