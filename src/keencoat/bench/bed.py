"""What lies on the practice bed: a piece or a jig somewhere, as nobody sees it; a pointer that touches it; and where a
program's lit moves land on it."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keencoat.bench.laser.program import Modal, read_line

Array = NDArray[np.float64]
_TOUCH_MM = 0.08
_ASKEW_DEG = 1.5
_CLEAR_MM = 25.0


@dataclass(frozen=True)
class Pose:
    """Where the middle of a thing lies on the bed, mm, and how far it is turned counterclockwise."""

    x_mm: float
    y_mm: float
    turn_deg: float

    def on_bed(self, points: Array) -> Array:
        """From the thing's own coordinates, about its middle, shape (n, 2), to the bed's."""
        cos, sin = math.cos(math.radians(self.turn_deg)), math.sin(math.radians(self.turn_deg))
        return np.asarray(points @ np.array([[cos, sin], [-sin, cos]]) + (self.x_mm, self.y_mm))

    def off_bed(self, points: Array) -> Array:
        """The way back."""
        cos, sin = math.cos(math.radians(self.turn_deg)), math.sin(math.radians(self.turn_deg))
        return np.asarray((points - (self.x_mm, self.y_mm)) @ np.array([[cos, -sin], [sin, cos]]))


def draw_lying(seed: Sequence[int], size_mm: tuple[float, float], bed_mm: tuple[float, float]) -> Pose:
    """How somebody laid a thing of that size down: about the bed's middle, a little askew."""
    rng = np.random.default_rng(seed)
    turn = float(rng.normal(0, _ASKEW_DEG))
    room = [max(0.0, (bed - size) / 2 - _CLEAR_MM) for bed, size in zip(bed_mm, size_mm, strict=True)]
    x, y = (bed / 2 + rng.uniform(-r, r) for bed, r in zip(bed_mm, room, strict=True))
    return Pose(float(x), float(y), turn)


def touch(pose: Pose, points: Array, seed: Sequence[int]) -> Array:
    """What the machine says where a hand brought its pointer to these points of the thing; shape (n, 2), to 0.01 mm."""
    rng = np.random.default_rng(seed)
    found: Array = np.round(pose.on_bed(points) + rng.normal(0, _TOUCH_MM, points.shape), 2)
    return found


def lit_ends(lines: Iterable[str]) -> Array:
    """Where the lit moves of a program begin and end, shape (moves, 2, 2), mm."""
    modal, at, found = Modal(), (0.0, 0.0), []
    for line in lines:
        modal, step = read_line(line, modal, at, laser_mode=True)
        if step.x_mm is not None and step.y_mm is not None:
            to = (step.x_mm, step.y_mm)
            if modal.motion == 1 and modal.s > 0 and modal.beam != 5:
                found.append((at, to))
            at = to
    return np.array(found, dtype=float).reshape(-1, 2, 2)


@dataclass(frozen=True)
class Landed:
    """How a mark came out beside what was meant: the shift of its middle, mm, and its turn counterclockwise."""

    x_mm: float
    y_mm: float
    turn_deg: float


def landed(meant: Array, came: Array) -> Landed:
    """By the ends of the same moves, as meant and as they came; both shape (moves, 2, 2) or (n, 2)."""
    a, b = meant.reshape(-1, 2), came.reshape(-1, 2)
    shift = b.mean(axis=0) - a.mean(axis=0)
    one, other = a - a.mean(axis=0), b - b.mean(axis=0)
    aside = float((one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0]).sum())
    turn = math.degrees(math.atan2(aside, float((one * other).sum())))
    return Landed(float(shift[0]), float(shift[1]), turn)
