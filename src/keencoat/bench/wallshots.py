"""A round wall as a phone sees it: a cylinder or a cone before a pinhole, its sides turning away, a line of glare.

A ray from each pixel is met with the wall: (X, Z) on its circle of radius r₀ + k·y, y up its axis. Where it strikes, at
θ round the wall and s up it, the burned face is looked up: x = r·θ at the narrow end, as wide as the face is cut.
"""

import cv2
import numpy as np
from numpy.typing import NDArray

from keencoat.bench.camera import Array
from keencoat.bench.gridshots import GridCamera, Pose, Trouble
from keencoat.bench.plant.piece import PX_PER_MM, BurnedPiece
from keencoat.core.piece import Piece, RoundPiece

Floats = NDArray[np.float64]
_NEAREST_MM, _SIZES_OFF = 260.0, 3.6
"""A phone focuses no nearer, and people hold it some sizes of the piece away."""


def camera_before(
    burned: BurnedPiece, piece: Piece, pose: Pose, seed: int, trouble: Trouble = Trouble.NONE, mirrored: bool = False
) -> GridCamera:
    """The simulated phone before a washed flat or round piece; `mirrored`: its mark is seen from behind."""
    if isinstance(piece, RoundPiece):
        return WallCamera(burned, piece, pose, seed, trouble)
    return GridCamera(burned, pose, seed, trouble, mirrored)


class WallCamera(GridCamera):
    """Photographs the wall of a washed round piece, the middle of its face towards the phone."""

    def __init__(
        self, burned: BurnedPiece, wall: RoundPiece, pose: Pose, seed: int, trouble: Trouble = Trouble.NONE
    ) -> None:
        super().__init__(burned, pose, seed, trouble)
        self.wall = wall

    def _seen(self, face: Array) -> tuple[Array, Array, None]:
        """The face in the photo and how much of each pixel it covers; it has no bright rim."""
        round_rad, up_mm, there = self._met()
        rows, columns = face.shape[:2]
        x = columns / 2 + round_rad * self.wall.radius_mm * PX_PER_MM - 0.5
        y = rows * (1 - up_mm / self.wall.slant_mm) - 0.5
        coarser = max(0.6, 0.5 * PX_PER_MM / self._px_per_mm())
        soft = cv2.GaussianBlur(face, (0, 0), coarser)
        seen = cv2.remap(
            soft, x.astype(np.float32), y.astype(np.float32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        )
        # Matt walls send less light back from their sides; a lamp draws a line up them where it is mirrored.
        away = np.cos(np.clip(round_rad, -1.5, 1.5))
        side, strong = self.rng.choice([-1, 1]) * self.rng.uniform(0.70, 1.0), self.rng.uniform(0.05, 0.25)
        line = strong * np.exp(-(((round_rad - side) / 0.05) ** 2))
        lit = seen * (0.6 + 0.4 * away)[..., None].astype(np.float32) + line[..., None].astype(np.float32)
        share = cv2.GaussianBlur(there.astype(np.float32), (0, 0), 0.7)
        return np.asarray(lit, np.float32), np.asarray(share, np.float32), None

    def _px_per_mm(self) -> float:
        width, height = self.pose.photo_px
        size = self.wall.diameter_mm, self.wall.height_mm
        turned = abs(np.sin(np.deg2rad(self.pose.turn_deg))) > 0.7
        across, up = reversed(size) if turned else size
        return float(self.pose.fill * min(width / across, height / up))

    def _met(self) -> tuple[Floats, Floats, NDArray[np.bool_]]:
        """Where each pixel's ray meets the wall: radians round it from the middle of the face, mm up it from its lower
        end, and whether it meets it at all."""
        pose, wall = self.pose, self.wall
        width, height = pose.photo_px
        off_mm = max(_NEAREST_MM, _SIZES_OFF * max(wall.diameter_mm, wall.height_mm))
        focal = self._px_per_mm() * off_mm
        columns, rows = np.meshgrid(np.arange(width), np.arange(height))
        across = (columns - width / 2 + 0.5 - pose.shift[0] * width) / focal
        down = (rows - height / 2 + 0.5 - pose.shift[1] * height) / focal
        # The phone is turned about its own line of sight, then carried round and over the piece.
        turn = np.deg2rad(pose.turn_deg)
        x = across * np.cos(turn) + down * np.sin(turn)
        y = -(-across * np.sin(turn) + down * np.cos(turn))
        yaw, pitch = pose.tilt
        ray = np.stack([x, y, -np.ones_like(x)])
        over = np.array([[1, 0, 0], [0, np.cos(pitch), -np.sin(pitch)], [0, np.sin(pitch), np.cos(pitch)]])
        beside = np.array([[np.cos(yaw), 0, np.sin(yaw)], [0, 1, 0], [-np.sin(yaw), 0, np.cos(yaw)]])
        about = beside @ over
        dx, dy, dz = np.tensordot(about, ray, axes=1)
        ox, oy, oz = about @ np.array([0, 0, off_mm])
        # Half way up, and by how much it grows for a millimetre up: the narrow end lies above.
        radius, k = (wall.diameter_mm + wall.narrow_mm) / 4, (wall.narrow_mm - wall.diameter_mm) / 2 / wall.height_mm
        a = dx**2 + dz**2 - (k * dy) ** 2
        b = ox * dx + oz * dz - k * dy * (radius + k * oy)
        c = ox**2 + oz**2 - (radius + k * oy) ** 2
        inside = b**2 - a * c
        way = (-b - np.sqrt(np.maximum(inside, 0))) / a
        up = oy + way * dy
        there = (inside > 0) & (np.abs(up) <= wall.height_mm / 2)
        slant = wall.slant_mm / wall.height_mm
        return np.arctan2(ox + way * dx, oz + way * dz), (up + wall.height_mm / 2) * slant, there
