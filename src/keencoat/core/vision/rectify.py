"""From a photo to the piece seen straight on, in millimetres.

Rectangles by the homography through four corners, discs by the one through four rim points; a round piece seen from
its side by straight rows between its edges and x = R·sin θ unrolled, as far round as the eye sees it well.
"""

import math
from dataclasses import dataclass
from typing import Any, TypeVar, cast

import cv2
import numpy as np

from keencoat.core.vision.lens import bent, straightened
from keencoat.core.vision.outline import EdgeKind, SeenOutline
from keencoat.core.vision.photo import Photo

Picture = TypeVar("Picture", bound=np.ndarray[Any, Any])

LEAST_PX_PER_MM, MOST_PX_PER_MM = 3, 14
SEEN_DEG = 50.0
"""How far round a side view is measured: beyond it the wall is seen too much aslant."""


@dataclass(frozen=True)
class SeenFace:
    """What is rectified: its frame and size in mm. For a side view `width_mm` is the diameter.

    `bare_inside_mm` is the width of a bare border within it, `bare_outside_mm` that of one round it.
    """

    frame: EdgeKind
    width_mm: float
    height_mm: float
    bare_inside_mm: float = 0.0
    bare_outside_mm: float = 0.0

    @property
    def share_of_piece(self) -> float:
        """Area of this face against that of the piece with its bare border outside."""
        border = 2 * self.bare_outside_mm
        return self.width_mm * self.height_mm / ((self.width_mm + border) * (self.height_mm + border))

    @property
    def unrolled_mm(self) -> float:
        """Width of the straightened picture, mm."""
        if self.frame is EdgeKind.SIDE:
            return self.width_mm / 2 * math.radians(2 * SEEN_DEG)
        return self.width_mm


def homography(source: np.ndarray, target: np.ndarray) -> np.ndarray:
    """The 3 × 3 homography that maps four `source` points (4, 2) to `target` (4, 2); m[2, 2] = 1."""
    found = cv2.getPerspectiveTransform(source.astype(np.float32), target.astype(np.float32))
    return np.asarray(found, dtype=np.float64)


def mapped(matrix: np.ndarray, points: np.ndarray) -> np.ndarray:
    """Where a homography takes points, shape (…, 2)."""
    return _seen(matrix, points[..., 0], points[..., 1])


def mapped_raster(matrix: np.ndarray, xs: np.ndarray, ys: np.ndarray) -> np.ndarray:
    """Where a homography takes each point of a raster of columns at `xs` and rows at `ys`, shape (rows, columns, 2)."""
    return _seen(matrix, xs[None, :], ys[:, None])


def _seen(matrix: np.ndarray, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    # By hand: numpy's product with so small a matrix takes several times as long.
    u, v, w = (row[0] * x + row[1] * y + row[2] for row in matrix)
    return np.stack([u / w, v / w], axis=-1)


def pixels_per_mm(photo: Photo, outline: SeenOutline, face: SeenFace) -> float:
    """How many pixels of the photo a millimetre of the piece has, on average."""
    points = np.array(outline.points) * photo.size_px
    if outline.frame is EdgeKind.RIM:
        lengths = np.linalg.norm(points[[0, 1]] - points[[2, 3]], axis=1)
        return float(lengths.mean() / face.width_mm)
    sides = np.linalg.norm(np.roll(points, -1, axis=0) - points, axis=1)
    return float((sides[0] + sides[2] + sides[1] + sides[3]) / (2 * (face.width_mm + face.height_mm)))


def rectify(picture: Picture, outline: SeenOutline, face: SeenFace, px_per_mm: int) -> Picture:
    """The face straight on: (height_mm·px, width_mm·px, …) of the same kind as `picture` (height, width, …)."""
    size = np.array([picture.shape[1], picture.shape[0]])
    points = np.array(outline.points) * size - 0.5
    out_w, out_h = round(face.unrolled_mm * px_per_mm), round(face.height_mm * px_per_mm)
    if outline.frame is EdgeKind.SIDE:
        return _unrolled(picture, points, out_w, out_h)
    targets = _targets(outline.frame, out_w, out_h)
    if outline.lens == 0:
        matrix = homography(points, targets)
        return cast(Picture, cv2.warpPerspective(picture, matrix, (out_w, out_h), flags=cv2.INTER_LINEAR))
    frame_px = (picture.shape[1], picture.shape[0])
    back = homography(targets, straightened(points, outline.lens, frame_px))
    at = bent(mapped_raster(back, np.arange(out_w), np.arange(out_h)), outline.lens, frame_px).astype(np.float32)
    return cast(Picture, cv2.remap(picture, at[..., 0], at[..., 1], cv2.INTER_LINEAR))


def _targets(frame: EdgeKind, width: int, height: int) -> np.ndarray:
    right, low = width - 0.5, height - 0.5
    if frame is EdgeKind.RIM:
        middle_x, middle_y = width / 2 - 0.5, height / 2 - 0.5
        return np.array([[middle_x, -0.5], [right, middle_y], [middle_x, low], [-0.5, middle_y]])
    return np.array([[-0.5, -0.5], [right, -0.5], [right, low], [-0.5, low]])


def _unrolled(picture: Picture, points: np.ndarray, width: int, height: int) -> Picture:
    upper_left, upper_right, lower_right, lower_left = points
    down = (np.arange(height) + 0.5)[:, None] / height
    angle = np.deg2rad(SEEN_DEG) * (2 * (np.arange(width) + 0.5)[None, :] / width - 1)
    across = (1 + np.sin(angle)) / 2
    left = upper_left + down[..., None] * (lower_left - upper_left)
    right = upper_right + down[..., None] * (lower_right - upper_right)
    at = (left + across[..., None] * (right - left)).astype(np.float32)
    return cast(Picture, cv2.remap(picture, at[..., 0], at[..., 1], cv2.INTER_LINEAR))


def face_mask(face: SeenFace, px_per_mm: int, inset_mm: float = 0.0) -> np.ndarray:
    """Where the face is, in the straightened picture: the whole of it, or the disc in it, smaller by `inset_mm`."""
    width, height = round(face.unrolled_mm * px_per_mm), round(face.height_mm * px_per_mm)
    inset = inset_mm * px_per_mm
    ys, xs = np.mgrid[0:height, 0:width] + 0.5
    if face.frame is EdgeKind.RIM:
        radius = width / 2 - inset
        return np.asarray((xs - width / 2) ** 2 + (ys - height / 2) ** 2 <= radius**2)
    return np.asarray((xs >= inset) & (xs <= width - inset) & (ys >= inset) & (ys <= height - inset))
