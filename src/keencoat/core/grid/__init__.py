"""Test grids: which cells, where they lie, how they are burned.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.grid.burning import BurnPlan, cell_item, grid_tasks
from keencoat.core.grid.design import (
    LEGIBLE_SHARE,
    SHAPES_BY_CELLS,
    GridDesign,
    PlannedCell,
    Steps,
    design_blind,
    design_crossed,
    design_listed,
    design_wedge,
    middle_setting,
)
from keencoat.core.grid.factors import FACTOR_LABELS, Factor, counts_for, design_factors
from keencoat.core.grid.layout import (
    STROKE_MM,
    TICK_MM,
    USUAL_GAP_MM,
    GridFrame,
    GridLayout,
    PlacedCell,
    fits,
    restore_layout,
    sample_mm_for,
    usual_cell_mm,
)
from keencoat.core.grid.making_room import CellSize, fit_grid, grid_area
from keencoat.core.grid.strokes import TICK_WIDTH_MM, code_strokes, edge_strokes, sample_strokes, ticks

__all__ = [
    "FACTOR_LABELS",
    "LEGIBLE_SHARE",
    "SHAPES_BY_CELLS",
    "STROKE_MM",
    "TICK_MM",
    "TICK_WIDTH_MM",
    "USUAL_GAP_MM",
    "BurnPlan",
    "CellSize",
    "Factor",
    "GridDesign",
    "GridFrame",
    "GridLayout",
    "PlacedCell",
    "PlannedCell",
    "Steps",
    "cell_item",
    "code_strokes",
    "counts_for",
    "design_blind",
    "design_crossed",
    "design_factors",
    "design_listed",
    "design_wedge",
    "edge_strokes",
    "fit_grid",
    "fits",
    "grid_area",
    "grid_tasks",
    "middle_setting",
    "restore_layout",
    "sample_mm_for",
    "sample_strokes",
    "ticks",
    "usual_cell_mm",
]
