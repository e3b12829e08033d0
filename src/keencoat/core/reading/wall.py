"""A grid on a round wall as a pinhole camera sees it: where the phone stood, from how the frame's sides are bent.

A level side of a frame on a wall bows: up or down by how far the phone looks over it, and the upper side unlike the
lower by how near it stands. Only how far a side lies off its line can be seen, not how far along it: that is told by
the frame's ticks. The camera's seven figures (three turns, three steps, the focal length) are those that bring sides
and ticks where they are seen.
"""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from scipy.optimize import least_squares

from keencoat.core.vision import Floats

_USUAL_FOCAL, _FOCAL_SD, _TILT_SD = 1.1, 0.5, 0.15
"""Focal length over the picture's longer side, of phones with and without zoom, and how widely it is spread, in ln;
how far aslant phones are held, radians (own estimates)."""
_SEEN_SD_PX, _FAR_OFF_PX = 0.5, 30.0
_MARKS_COUNT = 2.0
"""A side is told by dozens of points, a mark by one."""
_STEPS = np.linspace(-0.06, 1.06, 12)
_FLAT_ON = np.diag([1.0, -1.0, -1.0])
"""Turns a wall's way (y up, z towards who looks) into a camera's (y down, z away from it)."""


@dataclass(frozen=True)
class Bend:
    """How a wall is bent: its radius where a face is cut to its width (`round_mm`, the narrow end), half way up the
    face, and by how much it grows for a millimetre up the face."""

    round_mm: float
    middle_mm: float
    flare: float = 0.0

    def on_wall(self, points_mm: Floats) -> Floats:
        """Points (…, 2) of the face, about its middle, in space: x to the right, y up, z towards who looks; (…, 3)."""
        angle = points_mm[..., 0] / self.round_mm
        radius = self.middle_mm + self.flare * points_mm[..., 1]
        upright = points_mm[..., 1] * np.sqrt(1 - self.flare**2)
        return np.stack([radius * np.sin(angle), upright, radius * np.cos(angle)], axis=-1)


@dataclass(frozen=True, eq=False)
class PhonePlace:
    """Where a phone stands: its turn (a rotation's matrix), its step, mm, and its focal length for a picture of `size`,
    px."""

    turn: np.ndarray
    step: np.ndarray
    focal_px: float
    size: tuple[int, int]

    def seen(self, points: Floats) -> Floats:
        """Where points (…, 3) in space are seen, px; those behind the phone far outside the picture."""
        there = points @ self.turn.T + self.step
        at = (np.array(self.size) - 1) / 2 + self.focal_px * there[..., :2] / np.maximum(there[..., 2:], 1e-3)
        # A picture is mirrored again and again for what lies outside it.
        return np.asarray(np.clip(at, -3.0 * max(self.size), 4.0 * max(self.size)))

    def at_size(self, times: float) -> "PhonePlace":
        """The same phone, its picture made so many times as large."""
        width, height = (round(side * times) for side in self.size)
        return PhonePlace(self.turn, self.step, self.focal_px * times, (width, height))


@dataclass(frozen=True, eq=False)
class Marks:
    """Points of a face, mm, where they are seen, px, and the way in the picture (of length 1) along which they are
    known; (n, 2) each."""

    truly_mm: Floats
    seen_px: Floats
    along_px: Floats


def flat_on(corners_mm: Floats, corners_px: Floats, bend: Bend, size: tuple[int, int]) -> PhonePlace:
    """About where a phone stands that sees the corners of a frame (4, 2), upper left first, there and looks straight at
    the wall."""
    points = bend.on_wall(corners_mm)
    across = corners_px[1] - corners_px[0]
    roll = np.arctan2(across[1], across[0])
    turn = np.array([[np.cos(roll), -np.sin(roll), 0], [np.sin(roll), np.cos(roll), 0], [0, 0, 1]]) @ _FLAT_ON
    focal = _USUAL_FOCAL * max(size)
    spread = [float(np.sqrt(((p - p.mean(axis=0)) ** 2).sum())) for p in (points, corners_px)]
    away = focal * spread[0] / max(1e-6, spread[1])
    aside = (corners_px.mean(axis=0) - (np.array(size) - 1) / 2) / focal * away
    return PhonePlace(turn, np.array([*aside, away]) - turn @ points.mean(axis=0), focal, size)


def place_from_corners(corners_mm: Floats, corners_px: Floats, bend: Bend, size: tuple[int, int]) -> PhonePlace:
    """Where a phone stands that sees the corners of a frame (4, 2), upper left first, there."""
    points, start = bend.on_wall(corners_mm), flat_on(corners_mm, corners_px, bend, size)
    return _nearest(start, lambda phone: (phone.seen(points) - corners_px).ravel())


def place_from_sides(
    start: PhonePlace,
    corners_mm: Floats,
    sides_px: list[Floats],
    bend: Bend,
    marks: Marks | None = None,
) -> PhonePlace:
    """The phone that sees points (n, 2) of the upper, right, lower and left side, px, on their lines, and `marks` in
    their place; the sides run between the corners (4, 2) in mm, upper left first."""
    steps = _STEPS[:, None, None]
    truly = bend.on_wall(corners_mm + steps * (np.roll(corners_mm, -1, axis=0) - corners_mm))
    placed = bend.on_wall(marks.truly_mm) if marks else None

    def off(phone: PhonePlace) -> Floats:
        lines = phone.seen(truly)
        beside = [_off(lines[:, n], side) for n, side in enumerate(sides_px)]
        if marks is not None and placed is not None:
            beside.append(_MARKS_COUNT * ((phone.seen(placed) - marks.seen_px) * marks.along_px).sum(axis=-1))
        return np.concatenate(beside)

    return _nearest(start, off)


def _off(line: Floats, points: Floats) -> Floats:
    """How far points (n, 2) lie beside a line (m, 2) that is nearly straight."""
    x, y = line[-1] - line[0]
    long = max(1e-9, float(np.hypot(x, y)))
    frame = np.array([[x, -y], [y, x]]) / long
    there, here = (line - line[0]) @ frame, (points - line[0]) @ frame
    return np.asarray(here[:, 1] - np.interp(here[:, 0], there[:, 0], there[:, 1]))


def _nearest(start: PhonePlace, off: Callable[[PhonePlace], Floats]) -> PhonePlace:
    """The phone of which least is `off`, px, that is not held or made unlike phones."""
    usual = np.log(_USUAL_FOCAL * max(start.size))

    def place(figures: Floats) -> PhonePlace:
        turn = cv2.Rodrigues(figures[:3])[0] @ start.turn
        return PhonePlace(turn, start.step + figures[3:6], float(np.exp(figures[6])), start.size)

    def cost(figures: Floats) -> Floats:
        phone = place(figures)
        aslant = (phone.turn @ np.array([0.0, 0.0, 1.0]))[:2] / _TILT_SD
        far = np.clip(off(phone), -_FAR_OFF_PX, _FAR_OFF_PX) / _SEEN_SD_PX
        return np.concatenate([far, aslant, [(figures[6] - usual) / _FOCAL_SD]])

    first = np.array([0, 0, 0, 0, 0, 0, np.log(start.focal_px)])
    scale = np.array([0.05, 0.05, 0.05, 1.0, 1.0, 10.0, 0.2])
    best = least_squares(cost, first, x_scale=scale, loss="soft_l1", ftol=1e-3, xtol=1e-4, max_nfev=25)
    return place(best.x)
