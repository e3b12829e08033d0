"""How a sheet lies in a picture: its corners and the lens's bend, and the sheet straight on."""

from dataclasses import dataclass

import cv2
import numpy as np

from keencoat.core.reading.gridplan import MARGIN_MM, Sight
from keencoat.core.reading.wall import Bend, PhonePlace, place_from_corners
from keencoat.core.vision import Floats, bent, homography, mapped, mapped_raster, straightened


@dataclass(frozen=True, eq=False)
class View:
    """The frame's corners in a picture, px (upper left first, clockwise), the lens's k₁, and for a round wall the place
    of the phone."""

    corners: np.ndarray
    lens: float = 0.0
    phone: PhonePlace | None = None

    def to_picture(self, points_mm: np.ndarray, sight: Sight, size: tuple[int, int]) -> np.ndarray:
        """Where points (…, 2) of the sheet in mm are seen in a picture of `size` (width, height)."""
        if sight.bend is not None:
            return self.phone_before(sight, sight.bend, size).seen(sight.bend.on_wall(points_mm))
        return bent(mapped(self._to_flat(sight, size), points_mm), self.lens, size)

    def raster(self, sight: Sight, size: tuple[int, int]) -> np.ndarray:
        """Where each pixel of the straightened sheet is seen, shape (height, width, 2)."""
        left, _, _, top = sight.box
        width, height = sight.size_px
        xs = left - MARGIN_MM + (np.arange(width) + 0.5) / sight.px_per_mm
        ys = top + MARGIN_MM - (np.arange(height) + 0.5) / sight.px_per_mm
        if sight.bend is not None:
            return self.to_picture(np.stack(np.meshgrid(xs, ys), axis=-1), sight, size)
        return bent(mapped_raster(self._to_flat(sight, size), xs, ys), self.lens, size)

    def phone_before(self, sight: Sight, bend: Bend, size: tuple[int, int]) -> PhonePlace:
        """Where the phone stands before a round wall: as is known, or as the corners alone tell."""
        return self.phone or place_from_corners(sight.corners, self.corners, bend, size)

    def _to_flat(self, sight: Sight, size: tuple[int, int]) -> np.ndarray:
        """The homography from the sheet's plane to the picture, had the lens no bend."""
        return homography(sight.corners, straightened(self.corners, self.lens, size))


def aspect_of(sight: Sight) -> float:
    """How many times as wide as high the frame is, seen straight on from far away."""
    corners = sight.corners if sight.bend is None else sight.bend.on_wall(sight.corners)
    width, height = np.ptp(corners[:, :2], axis=0)
    return float(width / height)


def straighten(picture: np.ndarray, view: View, sight: Sight) -> np.ndarray:
    """The sheet straight on."""
    at = view.raster(sight, (picture.shape[1], picture.shape[0])).astype(np.float32)
    return np.asarray(cv2.remap(picture, at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT))


def shares_of(view: View, light: Floats) -> Floats:
    """The corners as shares of the photo's sides."""
    return np.asarray((view.corners + 0.5) / np.array([light.shape[1], light.shape[0]]))


def reaches(shares: Floats, within: float) -> bool:
    """Whether a corner comes within such a share of the photo's edge; beyond it where that is negative."""
    return bool(shares.min() < within or shares.max() > 1 - within)
