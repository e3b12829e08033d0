"""Grids as files: SVG, PNG, CSV and JSON, out and in.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.grid.formats.document import read_grid, write_document
from keencoat.core.grid.formats.drawing import write_png, write_svg
from keencoat.core.grid.formats.rows import MAX_TABLE_BYTES
from keencoat.core.grid.formats.table import CellRating, read_ratings, write_cells_csv

__all__ = [
    "MAX_TABLE_BYTES",
    "CellRating",
    "read_grid",
    "read_ratings",
    "write_cells_csv",
    "write_document",
    "write_png",
    "write_svg",
]
