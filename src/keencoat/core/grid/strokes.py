"""What a grid draws besides its patches: the sample of fine strokes in each cell, the frame, its corner and ticks.

All as polylines in mm from the centre of the piece, y up.
"""

import math

from keencoat.core.grid.layout import STROKE_MM, TICK_MM, GridFrame, GridLayout, PlacedCell
from keencoat.core.toolpath import Stroke, text_strokes, text_width_mm

TICK_WIDTH_MM = 0.5
_LINES = 3


def sample_strokes(placed: PlacedCell) -> list[Stroke]:
    """Three thin lines up, three across, and the cell's own code in small figures; none where there is no sample."""
    if placed.sample_mm == 0:
        return []
    left, low, right, top = placed.sample
    width, height = right - left, top - low
    strokes: list[Stroke] = []
    for n in range(_LINES):
        x = left + width * (0.02 + 0.1 * n)
        strokes.append(((x, low), (x, top)))
    for n in range(_LINES):
        y = low + height * (0.08 + 0.42 * n)
        strokes.append(((left + 0.32 * width, y), (left + 0.58 * width, y)))
    code = placed.cell.code
    figure_mm = min(0.9 * height, 0.34 * width / text_width_mm(code, 1.0))
    return strokes + text_strokes(code, left + 0.66 * width, low + (height - figure_mm) / 2, figure_mm)


def code_strokes(layout: GridLayout) -> list[Stroke]:
    """The codes along the grid's edges."""
    return [s for p in layout.labels for s in text_strokes(p.text, p.x_mm, p.y_mm, p.height_mm)]


def edge_strokes(layout: GridLayout, interval_mm: float) -> list[Stroke]:
    """Frame and codes: what is burned at the labels' setting."""
    frame = frame_strokes(layout.frame, interval_mm) if layout.frame else []
    return frame + code_strokes(layout)


def frame_strokes(frame: GridFrame, interval_mm: float) -> list[Stroke]:
    """The frame as loops one inside the other, the filled corner and the ticks as lines, all `interval_mm` apart."""
    strokes: list[Stroke] = []
    for n in range(max(1, math.floor(STROKE_MM / interval_mm + 1e-9)) + 1):
        inset = min(STROKE_MM, n * interval_mm)
        left, low = frame.left_mm + inset, frame.low_mm + inset
        right, top = frame.right_mm - inset, frame.top_mm - inset
        strokes.append(((left, low), (right, low), (right, top), (left, top), (left, low)))
    left, low, right, top = frame.corner
    start, end = low, top - STROKE_MM
    for n in range(math.floor((end - start) / interval_mm + 1e-9) + 1):
        strokes.append(((left + STROKE_MM, start + n * interval_mm), (right, start + n * interval_mm)))
    for x, y, along_x in ticks(frame):
        for n in range(math.floor(TICK_WIDTH_MM / interval_mm + 1e-9) + 1):
            off = n * interval_mm - TICK_WIDTH_MM / 2
            if along_x:
                strokes.append(((x - TICK_MM, y + off), (x, y + off)))
            else:
                strokes.append(((x + off, y), (x + off, y + TICK_MM)))
    return strokes


def ticks(frame: GridFrame) -> list[tuple[float, float, bool]]:
    """Where ticks leave the frame's line: (x, y, whether it runs along x) on the right side and on the lower one."""
    rows = [(frame.right_mm - STROKE_MM, y, True) for y in frame.tick_ys_mm]
    return rows + [(x, frame.low_mm + STROKE_MM, False) for x in frame.tick_xs_mm]
