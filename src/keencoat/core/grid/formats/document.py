"""A grid as a JSON document, and a grid made elsewhere read from CSV or JSON."""

import json
import re
from dataclasses import asdict, dataclass
from itertools import combinations, pairwise

from keencoat.core.errors import BadValueError
from keencoat.core.grid.design import MAX_ROWS, GridDesign, PlannedCell
from keencoat.core.grid.formats.rows import DOCUMENT_FORMAT, Row, figure_in, read_rows
from keencoat.core.grid.formats.table import CSV_COLUMNS, CellRating, cell_values, read_rating
from keencoat.core.grid.layout import LEAST_GAP_MM, GridLayout, PlacedCell, place, restore_layout
from keencoat.core.piece import FlatPiece
from keencoat.core.quantities import Machine, Setting

_CODE = re.compile(r"([A-Z])([1-9][0-9]?)")


@dataclass(frozen=True)
class BroughtGrid:
    """A grid that was made elsewhere: where its cells lie (as written, else in even rows), and ratings it brought."""

    layout: GridLayout
    rows: int
    columns: int
    ratings: tuple[CellRating, ...]


def write_document(
    layout: GridLayout, piece: FlatPiece, machine: Machine, ratings: dict[str, CellRating], title: str, mirrored: bool
) -> str:
    """The grid as JSON: everything in mm from the centre of the piece, y up, as the finished mark is seen."""
    document = {
        "format": DOCUMENT_FORMAT,
        "version": 1,
        "title": title,
        "mirrored_when_burned": mirrored,
        "piece": {k: str(v) if isinstance(v, str) else v for k, v in asdict(piece).items()},
        "machine": asdict(machine),
        "cell_mm": layout.cell_mm,
        "gap_mm": layout.gap_mm,
        "frame": asdict(layout.frame) if layout.frame else None,
        "cells": [cell_values(c, machine, ratings.get(c.cell.code)) for c in layout.cells],
    }
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def read_grid(data: bytes, interval_mm: float, framed: bool) -> BroughtGrid:
    """A grid made elsewhere. Needed in each cell: code, power_pct, speed_mm_s; the interval is `interval_mm` where
    none is written. `framed` if it was burned with our frame: a grid saved here and burned elsewhere.

    Raises BadValueError that says where for anything that does not belong.
    """
    rows = read_rows(data, {"code", "power_pct", "speed_mm_s"}, CSV_COLUMNS)
    if len(rows) < 2:
        raise BadValueError("A grid has two cells at least.", field="file", hint="Write one row for each cell.")
    cells: dict[str, PlannedCell] = {}
    ratings = []
    for row in rows:
        cell = _cell(row, interval_mm)
        if cell.code in cells:
            raise BadValueError(
                f"{row.where}: cell {cell.code} stands there a second time.",
                field="file",
                hint="Keep one of them.",
            )
        cells[cell.code] = cell
        seen = read_rating(row, cell.code)
        if seen.rating:
            ratings.append(seen)
    count = 1 + max(c.row for c in cells.values()), 1 + max(c.column for c in cells.values())
    if all(row.text("x_mm") and row.text("y_mm") for row in rows):
        layout = _as_written(rows, list(cells.values()), framed)
    else:
        layout = place(GridDesign(*count, tuple(cells.values())), 6.0, 3.0)
        layout = restore_layout(layout.cells, 6.0, 3.0, framed)
    return BroughtGrid(layout, *count, tuple(ratings))


def _cell(row: Row, interval_mm: float) -> PlannedCell:
    code = row.text("code").upper()
    match = _CODE.fullmatch(code)
    if match is None or ord(match[1]) - ord("A") >= MAX_ROWS:
        raise BadValueError(
            f"{row.where}: “{code[:20]}” is no code of a cell.",
            field="file",
            hint=f"Write a row letter from A to {chr(ord('A') + MAX_ROWS - 1)} and a column number: B3.",
        )
    setting = Setting(
        figure_in(row, "power_pct", 0.01, 100),
        figure_in(row, "speed_mm_s", 0.01, 20_000),
        figure_in(row, "interval_mm", 0.005, 5, interval_mm),
        round(figure_in(row, "passes", 1, 50, 1)),
    )
    coats = round(figure_in(row, "coats", 0, 20, 0))
    return PlannedCell(
        ord(match[1]) - ord("A"),
        int(match[2]) - 1,
        setting,
        figure_in(row, "focus_mm", -100, 100, 0),
        coats or None,
        figure_in(row, "grey_pct", 0.1, 100, 100),
    )


def _as_written(rows: list[Row], cells: list[PlannedCell], framed: bool) -> GridLayout:
    placed = tuple(
        PlacedCell(
            cell,
            figure_in(row, "x_mm", -1000, 1000),
            figure_in(row, "y_mm", -1000, 1000),
            figure_in(row, "side_mm", 0.5, 100, 6),
            figure_in(row, "sample_mm", 0, 100, 0),
        )
        for row, cell in zip(rows, cells, strict=True)
    )
    for one, other in combinations(placed, 2):
        if max(abs(one.x_mm - other.x_mm), abs(one.y_mm - other.y_mm)) < min(one.side_mm, other.side_mm):
            raise BadValueError(
                f"Cells {one.cell.code} and {other.cell.code} lie over each other.",
                field="file",
                hint="Check their x_mm and y_mm, and side_mm.",
            )
    side = min(p.side_mm for p in placed)
    if max(p.side_mm for p in placed) > side:
        raise BadValueError("The cells are not all of one size.", field="file", hint="Give all the same side_mm.")
    xs = sorted({p.x_mm for p in placed})
    steps = [b - a for a, b in pairwise(xs)]
    gap = round(min(steps) - side, 3) if steps else LEAST_GAP_MM
    if gap <= 0:
        raise BadValueError("Cells lie over each other.", field="file", hint="Check x_mm and side_mm.")
    return restore_layout(placed, side, gap, framed)
