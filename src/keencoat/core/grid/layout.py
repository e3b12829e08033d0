"""Where cells, codes and frame lie on a piece: true to scale, as the maker looks at the finished mark.

Coordinates: mm from the centre of the piece, x right, y up. Row A is the top row. A cell is a filled patch with a
sample of fine strokes under it. The frame is a line of its own width round everything, with one filled corner at the
upper left and ticks on the right and lower side that point at rows and columns.
"""

from dataclasses import dataclass

from shapely import prepare
from shapely.geometry import Polygon, box

from keencoat.core.errors import require_within
from keencoat.core.grid.design import GridDesign, PlannedCell
from keencoat.core.quantities import Machine
from keencoat.core.toolpath import text_width_mm

LEAST_CELL_MM, MOST_CELL_MM = 4.0, 10.0
LEAST_GAP_MM, USUAL_GAP_MM = 1.5, 3.0
LABEL_MM = 3.0
STROKE_MM = 0.8
"""Width of the frame's line: eight or more pixels in a phone photo of a 100 mm piece."""
CORNER_MM = 3.0
TICK_MM = 1.4
SAMPLE_GAP_MM = 0.8

_CLEAR_MM = 1.0
_LABEL_ROOM_MM = LABEL_MM + 1.5


@dataclass(frozen=True)
class PlacedCell:
    """A cell on the piece: centre and side of its patch in mm; the sample under it is `sample_mm` high, 0 for none."""

    cell: PlannedCell
    x_mm: float
    y_mm: float
    side_mm: float
    sample_mm: float = 0.0

    @property
    def outline(self) -> Polygon:
        """The burned patch."""
        half = self.side_mm / 2
        return box(self.x_mm - half, self.y_mm - half, self.x_mm + half, self.y_mm + half)

    @property
    def sample(self) -> tuple[float, float, float, float]:
        """Least x, least y, largest x, largest y of the strokes' sample."""
        half = self.side_mm / 2
        top = self.y_mm - half - SAMPLE_GAP_MM
        return self.x_mm - half, top - self.sample_mm, self.x_mm + half, top


@dataclass(frozen=True)
class PlacedLabel:
    """A code along the edge: its lower left corner and letter height in mm."""

    text: str
    x_mm: float
    y_mm: float
    height_mm: float = LABEL_MM


@dataclass(frozen=True)
class GridFrame:
    """The frame by its outer edges, mm, with the places its ticks point at."""

    left_mm: float
    low_mm: float
    right_mm: float
    top_mm: float
    tick_xs_mm: tuple[float, ...]
    tick_ys_mm: tuple[float, ...]

    @property
    def corner(self) -> tuple[float, float, float, float]:
        """Least x, least y, largest x, largest y of the filled corner."""
        return self.left_mm, self.top_mm - CORNER_MM, self.left_mm + CORNER_MM, self.top_mm


@dataclass(frozen=True)
class GridLayout:
    """A grid, or the part of it that lies on one spare."""

    cells: tuple[PlacedCell, ...]
    labels: tuple[PlacedLabel, ...]
    cell_mm: float
    gap_mm: float
    frame: GridFrame | None = None

    def extent(self) -> tuple[float, float, float, float]:
        """Least x, least y, largest x, largest y of all that is burned, mm."""
        if self.frame is not None:
            return self.frame.left_mm, self.frame.low_mm, self.frame.right_mm, self.frame.top_mm
        boxes = [c.outline.bounds for c in self.cells] + [_label_box(label).bounds for label in self.labels]
        return (
            min(b[0] for b in boxes),
            min(b[1] for b in boxes),
            max(b[2] for b in boxes),
            max(b[3] for b in boxes),
        )


def usual_cell_mm(machine: Machine, interval_mm: float) -> float:
    """Side of a patch: sixty lines or sixty spots, whichever is more, so that it heats like a fill; 4 to 10 mm."""
    return round(min(MOST_CELL_MM, max(LEAST_CELL_MM + 1, 60 * interval_mm, 60 * machine.spot_mm)), 1)


def sample_mm_for(cell_mm: float) -> float:
    """Height of the strokes' sample under a patch."""
    return round(max(2.2, 0.4 * cell_mm), 2)


def place(design: GridDesign, cell_mm: float, gap_mm: float) -> GridLayout:
    """The design centred on a piece, with frame and codes; a part of a design begins with its first row and column."""
    require_within(cell_mm, 1, 100, "cell_mm", "mm")
    require_within(gap_mm, 0.5, 50, "gap_mm", "mm")
    sample = sample_mm_for(cell_mm)
    wide, high = cell_mm + gap_mm, cell_mm + SAMPLE_GAP_MM + sample + gap_mm
    inner_w = _LABEL_ROOM_MM + design.columns * wide - gap_mm + _CLEAR_MM + TICK_MM
    inner_h = _LABEL_ROOM_MM + design.rows * high - gap_mm + _CLEAR_MM + TICK_MM
    edge = STROKE_MM + _CLEAR_MM
    width, height = inner_w + STROKE_MM + edge, inner_h + STROKE_MM + edge
    left = -width / 2 + edge + _LABEL_ROOM_MM
    top = height / 2 - edge - _LABEL_ROOM_MM
    first_row, first_column = min(c.row for c in design.cells), min(c.column for c in design.cells)
    cells = tuple(
        PlacedCell(
            c,
            round(left + (c.column - first_column) * wide + cell_mm / 2, 4),
            round(top - (c.row - first_row) * high - cell_mm / 2, 4),
            cell_mm,
            sample,
        )
        for c in design.cells
    )
    return _with_edges(cells, cell_mm, gap_mm, framed=True)


def restore_layout(cells: tuple[PlacedCell, ...], cell_mm: float, gap_mm: float, framed: bool) -> GridLayout:
    """A layout from cells that were placed before."""
    return _with_edges(cells, cell_mm, gap_mm, framed)


def fits(layout: GridLayout, coated: Polygon) -> bool:
    """Whether all that is burned lies inside the coated area."""
    grown = coated.buffer(1e-6)
    prepare(grown)
    if layout.frame is not None:
        return bool(grown.contains(box(*layout.extent())))
    return all(grown.contains(c.outline) for c in layout.cells) and all(
        grown.contains(_label_box(label)) for label in layout.labels
    )


def _with_edges(cells: tuple[PlacedCell, ...], cell_mm: float, gap_mm: float, framed: bool) -> GridLayout:
    """Codes and frame follow from where the cells are."""
    xs = {c.cell.column: c.x_mm for c in cells}
    ys = {c.cell.row: c.y_mm for c in cells}
    left, top = min(xs.values()) - cell_mm / 2, max(ys.values()) + cell_mm / 2
    labels = tuple(
        PlacedLabel(chr(ord("A") + row), round(left - _LABEL_ROOM_MM, 4), round(y - LABEL_MM / 2, 4))
        for row, y in sorted(ys.items())
    ) + tuple(
        PlacedLabel(str(column + 1), round(x - text_width_mm(str(column + 1), LABEL_MM) / 2, 4), round(top + 1.5, 4))
        for column, x in sorted(xs.items())
    )
    if not framed:
        return GridLayout(cells, labels, cell_mm, gap_mm)
    right = max(xs.values()) + cell_mm / 2
    low = min(c.sample[1] for c in cells)
    near, far = _LABEL_ROOM_MM + _CLEAR_MM + STROKE_MM, _CLEAR_MM + TICK_MM + STROKE_MM
    frame = GridFrame(
        round(left - near, 4),
        round(low - far, 4),
        round(right + far, 4),
        round(top + near, 4),
        tuple(sorted(xs.values())),
        tuple(sorted(ys.values())),
    )
    return GridLayout(cells, labels, cell_mm, gap_mm, frame)


def _label_box(label: PlacedLabel) -> Polygon:
    width = text_width_mm(label.text, label.height_mm)
    return box(label.x_mm, label.y_mm, label.x_mm + width, label.y_mm + label.height_mm)
