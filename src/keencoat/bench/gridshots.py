"""Simulated phone photos of washed test pieces: aslant, unevenly lit, off in white balance, noisy, sometimes bad."""

from dataclasses import dataclass, replace
from enum import StrEnum

import cv2
import numpy as np
from numpy.typing import NDArray

from keencoat.bench.camera import (
    PLAIN_PHONE,
    Array,
    Phone,
    corners_in_view,
    draw_phone,
    expose,
    lamp_over,
    seen_at,
)
from keencoat.bench.plant.piece import PX_PER_MM, BurnedPiece


class Trouble(StrEnum):
    """What makes a photo hard or impossible to read."""

    NONE = "none"
    BLURRED = "blurred"
    GLARE = "glare"
    CUT_OFF = "cut_off"
    DARK = "dark"


@dataclass(frozen=True)
class Pose:
    """How a photo is taken: share of the picture that the piece fills, turn, tilt and shift of the camera, lamp, white
    balance (gains of red, green and blue), exposure, blur in px, noise against a good phone's, and the phone itself."""

    photo_px: tuple[int, int] = (2000, 1500)
    fill: float = 0.85
    turn_deg: float = 0.0
    tilt: tuple[float, float] = (0.0, 0.0)
    shift: tuple[float, float] = (0.0, 0.0)
    slope: tuple[float, float] = (0.0, 0.0)
    fall: float = 0.1
    balance: tuple[float, float, float] = (1.0, 1.0, 1.0)
    exposure: float = 0.85
    blur_px: float = 0.8
    noise: float = 1.0
    quality: int = 92
    phone: Phone = PLAIN_PHONE


def draw_pose(rng: np.random.Generator, photo_px: tuple[int, int] = (2000, 1500)) -> Pose:
    """A pose as hands hold phones; now and then the photo stands on its side."""
    quarter = float(rng.choice([0, 0, 0, 90, 180, 270]))
    return Pose(
        photo_px,
        float(rng.uniform(0.68, 0.92)) * (0.78 if quarter in (90, 270) else 1.0),
        quarter + float(rng.uniform(-9, 9)),
        _pair(rng, 0.09),
        _pair(rng, 0.03),
        _pair(rng, 0.22),
        float(rng.uniform(0.03, 0.2)),
        (float(rng.uniform(0.88, 1.1)), 1.0, float(rng.uniform(0.85, 1.12))),
        float(rng.uniform(0.65, 0.95)),
        float(rng.uniform(0.6, 1.3)),
        float(rng.uniform(0.8, 2.5)),
        int(rng.integers(84, 96)),
        draw_phone(rng),
    )


def _pair(rng: np.random.Generator, reach: float) -> tuple[float, float]:
    return float(rng.uniform(-reach, reach)), float(rng.uniform(-reach, reach))


class GridCamera:
    """Photographs one washed piece. Implements `keencoat.core.ports.Camera`."""

    def __init__(
        self, piece: BurnedPiece, pose: Pose, seed: int, trouble: Trouble = Trouble.NONE, from_behind: bool = False
    ) -> None:
        """`from_behind`: the finished mark is seen through the piece."""
        self.from_behind = from_behind
        self.piece, self.rng = piece, np.random.default_rng([seed, 7])
        self.trouble = trouble
        if trouble is Trouble.CUT_OFF:
            pose = replace(pose, shift=(0.42, 0.1))
        elif trouble is Trouble.BLURRED:
            pose = replace(pose, blur_px=11.0)
        elif trouble is Trouble.DARK:
            pose = replace(pose, exposure=0.01)
        self.pose = pose

    def shoot(self) -> bytes:
        """One photo."""
        pose, face = self.pose, self.piece.look()
        if self.from_behind:
            face = np.ascontiguousarray(face[:, ::-1])
        look = self.piece.material.look
        place, share, rim = self._seen(face)
        scene = share[..., None] * place + (1 - share[..., None]) * self._desk(np.array(look.desk, dtype=np.float32))
        if rim is not None:
            # The cut edge of glass and acrylic gathers light.
            scene = scene + rim[..., None] * np.float32(0.10)
        if self.trouble is Trouble.GLARE:
            scene = scene + self._glare()[..., None]
        light = lamp_over(pose.photo_px, np.array(pose.slope), pose.fall)[..., None]
        linear = np.asarray(scene * light * (np.array(pose.balance, dtype=np.float32) * np.float32(pose.exposure)))
        return expose(linear, pose.blur_px, pose.noise, self.rng, pose.quality, pose.phone)

    def _seen(self, face: Array) -> tuple[Array, Array, Array | None]:
        """The face (rows, columns, 3) in the photo, how much of each pixel it covers, and its bright rim, if any."""
        pose, sheet = self.pose, self.piece.sheet
        size = (sheet.width_mm, sheet.height_mm)
        corners = corners_in_view(
            size, pose.photo_px, pose.fill, pose.turn_deg, np.array(pose.tilt), np.array(pose.shift)
        )
        rows, columns = face.shape[:2]
        frame = np.array([[0, 0], [columns, 0], [columns, rows], [0, rows]], dtype=np.float32) - 0.5
        matrix = cv2.getPerspectiveTransform(frame, corners.astype(np.float32))
        cover = self._cover(rows, columns)
        place, share = (
            np.asarray(cv2.warpPerspective(what, matrix, pose.photo_px, flags=how), dtype=np.float32)
            for what, how in ((face, cv2.INTER_AREA), (cover, cv2.INTER_LINEAR))
        )
        if not self.piece.material.look.see_through:
            return place, share, None
        rim = cover - cv2.erode(cover, np.ones((3, 3), np.uint8), iterations=6)
        edge = cv2.warpPerspective(rim, matrix, pose.photo_px, flags=cv2.INTER_LINEAR)
        return place, share, np.asarray(edge, dtype=np.float32)

    def _cover(self, rows: int, columns: int) -> Array:
        if not self.piece.sheet.disc:
            return np.ones((rows, columns), dtype=np.float32)
        ys, xs = np.mgrid[0:rows, 0:columns]
        inside = (xs - columns / 2) ** 2 + (ys - rows / 2) ** 2 <= (columns / 2) ** 2
        return np.asarray(inside, dtype=np.float32)

    def _desk(self, tone: Array) -> Array:
        """A bench top with a faint grain."""
        width, height = self.pose.photo_px
        grain = self.rng.standard_normal((height // 8 + 1, width // 24 + 1)).astype(np.float32)
        wide = cv2.resize(grain, (width, height), interpolation=cv2.INTER_LINEAR)[..., None]
        return np.asarray(tone * (1 + 0.06 * wide), dtype=np.float32)

    def _glare(self) -> Array:
        width, height = self.pose.photo_px
        ys, xs = np.mgrid[0:height, 0:width].astype(np.float32)
        x, y = self.rng.uniform(0.4, 0.6, 2)
        away = ((xs / width - x) / 0.22) ** 2 + ((ys / height - y) / 0.26) ** 2
        return np.asarray(2.5 * np.exp(-(away**2)), dtype=np.float32)


def true_corners(piece: BurnedPiece, pose: Pose, points_mm: NDArray[np.float64]) -> NDArray[np.float64]:
    """Where points of the piece (mm from its lower left corner, y up) fall in the photo, as shares of the picture."""
    sheet = piece.sheet
    corners = corners_in_view(
        (sheet.width_mm, sheet.height_mm),
        pose.photo_px,
        pose.fill,
        pose.turn_deg,
        np.array(pose.tilt),
        np.array(pose.shift),
    )
    rows, columns = piece.mark.shape
    frame = np.array([[0, 0], [columns, 0], [columns, rows], [0, rows]], dtype=np.float32) - 0.5
    matrix = cv2.getPerspectiveTransform(frame, corners.astype(np.float32))
    at = np.stack([points_mm[:, 0] * PX_PER_MM, rows - points_mm[:, 1] * PX_PER_MM], axis=1) - 0.5
    flat = cv2.perspectiveTransform(at[None].astype(np.float32), matrix)[0]
    seen = seen_at(np.asarray(flat, dtype=np.float64), pose.phone.bend, pose.photo_px)
    return np.asarray((seen + 0.5) / np.array(pose.photo_px))
