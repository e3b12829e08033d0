"""What a grid should look like straight on: masks of its frame, of the marks inside it, and of bare ground."""

import math
from dataclasses import dataclass
from functools import cached_property

import cv2
import numpy as np
from numpy.typing import NDArray

from keencoat.core.geometry import Y_DOWN, Transform, offset, scale
from keencoat.core.grid import STROKE_MM, GridLayout, PlacedCell, code_strokes, sample_strokes, ticks
from keencoat.core.reading.wall import Bend
from keencoat.core.toolpath import Stroke

Mask = NDArray[np.bool_]

MARGIN_MM = 2.0
"""What is straightened beyond the frame, or beyond the cells where there is none."""


@dataclass(frozen=True)
class Sight:
    """The straightened picture of one sheet: mm to pixels. `bend` for a grid on a round wall, None for a flat one."""

    layout: GridLayout
    px_per_mm: int
    bend: Bend | None = None

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Least x, least y, largest x, largest y of the rectangle whose corners are found in the photo, mm: the frame,
        or the patches of a grid without one."""
        if self.layout.frame is not None:
            return self.layout.extent()
        bounds = [c.outline.bounds for c in self.layout.cells]
        return (
            min(b[0] for b in bounds),
            min(b[1] for b in bounds),
            max(b[2] for b in bounds),
            max(b[3] for b in bounds),
        )

    @property
    def corners(self) -> np.ndarray:
        """That rectangle's corners, mm, shape (4, 2): upper left first, clockwise."""
        left, low, right, top = self.box
        return np.array([[left, top], [right, top], [right, low], [left, low]])

    @property
    def size_px(self) -> tuple[int, int]:
        """Width and height of the straightened picture."""
        left, low, right, top = self.box
        margin = 2 * MARGIN_MM
        return round((right - left + margin) * self.px_per_mm), round((top - low + margin) * self.px_per_mm)

    def px(self, x_mm: float, y_mm: float) -> tuple[float, float]:
        """Where a point of the piece lies in the straightened picture."""
        return self._to_px.at(x_mm, y_mm)

    @cached_property
    def _to_px(self) -> Transform:
        left, _, _, top = self.box
        return offset(MARGIN_MM - left, -MARGIN_MM - top).then(Y_DOWN).then(scale(self.px_per_mm))

    def window(self, left: float, low: float, right: float, top: float) -> tuple[slice, slice]:
        """Rows and columns of a box in mm, cut to the picture."""
        (x0, y0), (x1, y1) = self.px(left, top), self.px(right, low)
        width, height = self.size_px
        return (
            slice(max(0, round(y0)), min(height, max(round(y1), round(y0) + 1))),
            slice(max(0, round(x0)), min(width, max(round(x1), round(x0) + 1))),
        )

    def patch(self, placed: PlacedCell, inset_mm: float) -> tuple[slice, slice]:
        """Rows and columns of a cell's patch, smaller by `inset_mm` (larger if it is below zero)."""
        half = placed.side_mm / 2 - inset_mm
        return self.window(placed.x_mm - half, placed.y_mm - half, placed.x_mm + half, placed.y_mm + half)

    def draw(self, strokes: list[Stroke], width_mm: float) -> Mask:
        """Strokes as a mask."""
        canvas = np.zeros(self.size_px[::-1], dtype=np.uint8)
        for stroke in strokes:
            points = np.array([self.px(x, y) for x, y in stroke]) - 0.5
            cv2.polylines(
                canvas,
                [np.round(points * 16).astype(np.int32)],
                False,
                1,
                max(1, round(width_mm * self.px_per_mm)),
                cv2.LINE_8,
                4,
            )
        return canvas > 0


def frame_mask(sight: Sight) -> Mask:
    """The frame's line."""
    mask = np.zeros(sight.size_px[::-1], dtype=bool)
    left, low, right, top = sight.box
    mask[sight.window(left, low, right, top)] = True
    mask[sight.window(left + STROKE_MM, low + STROKE_MM, right - STROKE_MM, top - STROKE_MM)] = False
    return mask


def inner_mask(sight: Sight) -> Mask:
    """Filled corner, ticks and codes: what tells which way up the grid is."""
    mask = codes_mask(sight)
    if sight.layout.frame is not None:
        left, low, right, top = sight.layout.frame.corner
        mask[sight.window(left + STROKE_MM, low, right, top - STROKE_MM)] = True
    return mask


def codes_mask(sight: Sight) -> Mask:
    """Ticks and codes: what tells which grid it is."""
    mask = sight.draw(code_strokes(sight.layout), 0.35)
    for x, y, along_x in ticks(sight.layout.frame) if sight.layout.frame is not None else ():
        box = (x - 1.4, y - 0.25, x, y + 0.25) if along_x else (x - 0.25, y, x + 0.25, y + 1.4)
        mask[sight.window(*box)] = True
    return mask


def ground_mask(sight: Sight, clear_mm: float = 0.7) -> Mask:
    """Bare ground inside the frame: at least `clear_mm` from anything burned. Without a frame: between the cells."""
    burned = inner_mask(sight)
    for placed in sight.layout.cells:
        burned[sight.patch(placed, 0)] = True
        if placed.sample_mm:
            burned[sight.window(*placed.sample)] = True
    left, low, right, top = sight.box
    inside = np.zeros_like(burned)
    if sight.layout.frame is not None:
        inside[sight.window(left + STROKE_MM, low + STROKE_MM, right - STROKE_MM, top - STROKE_MM)] = True
        burned |= ~inside
    else:
        inside[...] = True
    reach = 2 * math.ceil(clear_mm * sight.px_per_mm) + 1
    near = cv2.dilate(burned.astype(np.uint8), np.ones((reach, reach), np.uint8)) > 0
    return np.asarray(inside & ~near)


def sample_masks(sight: Sight) -> tuple[Mask, Mask]:
    """The fine strokes of all cells, and the ground between and beside them."""
    strokes = sight.draw([s for placed in sight.layout.cells for s in sample_strokes(placed)], 0.12)
    reach = 2 * round(0.22 * sight.px_per_mm) + 1
    near = cv2.dilate(strokes.astype(np.uint8), np.ones((reach, reach), np.uint8)) > 0
    boxes = np.zeros_like(strokes)
    for placed in sight.layout.cells:
        if placed.sample_mm:
            boxes[sight.window(*placed.sample)] = True
    return strokes, np.asarray(boxes & ~near)
