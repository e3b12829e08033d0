"""Film fields with known faults, µm: what a hand, a brush, a can and a fingertip leave behind. Seeded, invented."""

from dataclasses import dataclass, replace
from enum import StrEnum

import cv2
import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


class CoatFault(StrEnum):
    """What went wrong."""

    NONE = "even"
    THIN = "thin"
    THIN_SPOT = "thin_spot"
    STREAKED = "streaked"
    POOLED = "pooled"
    TOUCHED = "touched"
    CRACKED = "cracked"
    PINHOLES = "pinholes"


@dataclass(frozen=True, eq=False)
class FilmField:
    """The layer: `film_um` and `shine` (open glaze) of shape (rows, columns), where the piece is, and its truths."""

    film_um: Array
    shine: Array
    inside: NDArray[np.bool_]
    px_per_mm: int
    streak_deg: float
    streak_mm: float

    def true_cv(self, inset_mm: float = 1.0, middle_mm: float | None = None) -> float:
        """Coefficient of variation in 1 mm squares, the outermost ones left out; of the middle `middle_mm` if given."""
        px = self.px_per_mm
        rows, columns = self.film_um.shape[0] // px, self.film_um.shape[1] // px
        cut = (slice(0, rows * px), slice(0, columns * px))
        squares = self.film_um[cut].reshape(rows, px, columns, px).mean(axis=(1, 3))
        whole = self.inside[cut].reshape(rows, px, columns, px).all(axis=(1, 3))
        edge = int(np.ceil(inset_mm))
        kept = cv2.erode(np.pad(whole.astype(np.uint8), 1), np.ones((2 * edge + 1, 2 * edge + 1)))[1:-1, 1:-1] > 0
        if middle_mm is not None:
            side = round((columns - middle_mm) / 2)
            kept[:, :side] = kept[:, columns - side :] = False
        values = squares[kept]
        return float(values.std() / values.mean())

    def middle(self, width_mm: float, height_mm: float) -> "FilmField":
        """The middle of it, so wide and so high; of a disc the disc that wide."""
        rows, columns = (round(side * self.px_per_mm) for side in (height_mm, width_mm))
        top, left = ((whole - part) // 2 for whole, part in zip(self.film_um.shape, (rows, columns), strict=True))
        cut = (slice(max(0, top), top + rows), slice(max(0, left), left + columns))
        inside = self.inside[cut]
        if not self.inside.all():
            ys, xs = np.mgrid[0 : inside.shape[0], 0 : inside.shape[1]] + 0.5
            inside = np.hypot(xs - inside.shape[1] / 2, ys - inside.shape[0] / 2) <= columns / 2
        return replace(self, film_um=self.film_um[cut], shine=self.shine[cut], inside=inside)

    def thinned(self, share: float) -> "FilmField":
        """The same layer, so many times as thick all over."""
        return replace(self, film_um=self.film_um * share)


@dataclass(frozen=True)
class Coated:
    """How a piece was coated: with what fault, and how thick against what was meant."""

    fault: CoatFault = CoatFault.NONE
    film_share: float = 1.0


AS_MEANT = Coated()


def make_film(
    fault: CoatFault,
    width_mm: float,
    height_mm: float,
    mean_um: float,
    px_per_mm: int,
    disc: bool,
    rng: np.random.Generator,
) -> FilmField:
    """A layer of about `mean_um` with the given fault."""
    rows, columns = round(height_mm * px_per_mm), round(width_mm * px_per_mm)
    ys, xs = (np.mgrid[0:rows, 0:columns] + 0.5) / px_per_mm
    film = 1 + rng.uniform(0.03, 0.06) * _cloud(rows, columns, rng.uniform(2.5, 6) * px_per_mm, rng)
    film += 0.02 * _cloud(rows, columns, 0.5 * px_per_mm, rng)
    shine = np.zeros_like(film)
    inside = np.ones(film.shape, dtype=bool)
    if disc:
        inside = (xs - width_mm / 2) ** 2 + (ys - height_mm / 2) ** 2 <= (width_mm / 2) ** 2
    streak_deg = streak_mm = 0.0

    def somewhere(margin: float) -> tuple[float, float]:
        reach = 0.5 if disc else 1.0
        return (
            width_mm / 2 + reach * rng.uniform(-0.5, 0.5) * (width_mm - 2 * margin),
            height_mm / 2 + reach * rng.uniform(-0.5, 0.5) * (height_mm - 2 * margin),
        )

    if fault is CoatFault.THIN:
        film *= rng.uniform(0.28, 0.45)
    elif fault is CoatFault.THIN_SPOT:
        x, y = somewhere(12)
        film *= 1 - rng.uniform(0.5, 0.65) * _hump(xs - x, ys - y, rng.uniform(5, 9), rng.uniform(4, 7))
    elif fault is CoatFault.STREAKED:
        streak_deg, streak_mm = float(rng.choice([0, 90]) + rng.uniform(-12, 12)), float(rng.uniform(3, 7))
        angle = np.deg2rad(streak_deg)
        # Angles count from x towards y up; rows run down.
        across = xs * np.sin(angle) + ys * np.cos(angle)
        wander = 0.12 * streak_mm * _cloud(rows, columns, 25 * px_per_mm, rng)
        film *= 1 + rng.uniform(0.12, 0.25) * np.sin(2 * np.pi * (across + wander) / streak_mm)
    elif fault is CoatFault.POOLED:
        x, y = somewhere(14)
        film *= 1 + rng.uniform(0.9, 1.5) * _hump(xs - x, ys - y, rng.uniform(5, 9), rng.uniform(4, 7))
    elif fault is CoatFault.TOUCHED:
        x, y = somewhere(14)
        print_mm = np.hypot((xs - x) / rng.uniform(4.5, 6.5), (ys - y) / rng.uniform(6, 8.5))
        ridges = 0.5 + 0.5 * np.sin(2 * np.pi * np.hypot(xs - x + 9, ys - y) / 0.55)
        film *= 1 - np.clip(3 * (1 - print_mm), 0, 1) * (0.82 + 0.15 * ridges)
        # The lamp glints on the open glaze in the middle of the print.
        shine += 0.3 * _hump(xs - x, ys - y, 1.6, 1.6)
    elif fault is CoatFault.CRACKED:
        film *= 1 - _cracks(rows, columns, px_per_mm, inside, rng)
    elif fault is CoatFault.PINHOLES:
        film *= 1 - _holes(xs, ys, rng)
    film_um = np.maximum(0.0, film) * mean_um
    return FilmField(film_um, shine, inside, px_per_mm, streak_deg % 180, streak_mm)


def _cloud(rows: int, columns: int, sigma_px: float, rng: np.random.Generator) -> Array:
    """A smooth random field of unit variance."""
    shrink = max(1, int(sigma_px / 3))
    small = rng.standard_normal((rows // shrink + 8, columns // shrink + 8))
    smooth = cv2.GaussianBlur(small, (0, 0), sigma_px / shrink)
    field = cv2.resize(smooth, (columns, rows), interpolation=cv2.INTER_CUBIC)
    return np.asarray((field - field.mean()) / field.std())


def _hump(dx: Array, dy: Array, wide_mm: float, high_mm: float) -> Array:
    return np.asarray(np.exp(-(((dx / wide_mm) ** 2 + (dy / high_mm) ** 2) ** 2)))


def _cracks(rows: int, columns: int, px_per_mm: int, inside: NDArray[np.bool_], rng: np.random.Generator) -> Array:
    """A few wandering cracks, 1 where the layer has parted."""
    canvas = np.zeros((rows, columns), dtype=np.uint8)
    for _ in range(int(rng.integers(4, 9))):
        at = np.array([columns * rng.uniform(0.25, 0.75), rows * rng.uniform(0.25, 0.75)])
        angle = rng.uniform(0, 2 * np.pi)
        path = [at.copy()]
        for _ in range(int(rng.integers(8, 18))):
            angle += rng.normal(0, 0.35)
            at += 1.2 * px_per_mm * np.array([np.cos(angle), np.sin(angle)])
            path.append(at.copy())
        width = max(1, round(rng.uniform(0.18, 0.35) * px_per_mm))
        cv2.polylines(canvas, [np.round(path).astype(np.int32)], False, 255, width, cv2.LINE_AA)
    return np.asarray(canvas / 255.0 * inside)


def _holes(xs: Array, ys: Array, rng: np.random.Generator) -> Array:
    holes = np.zeros_like(xs)
    width, height = xs.max(), ys.max()
    for _ in range(int(rng.integers(10, 40))):
        x, y = width * rng.uniform(0.2, 0.8), height * rng.uniform(0.2, 0.8)
        radius = rng.uniform(0.18, 0.45)
        box = (
            slice(max(0, int((y - 1) / height * len(xs))), int((y + 1) / height * len(xs)) + 2),
            slice(max(0, int((x - 1) / width * xs.shape[1])), int((x + 1) / width * xs.shape[1]) + 2),
        )
        away = np.hypot(xs[box] - x, ys[box] - y)
        holes[box] = np.maximum(holes[box], np.clip((radius - away) / 0.1 + 0.5, 0, 1))
    return holes
