"""A phone of another make: rays through a tilted lens, and a camera's own cooking afterwards.

Shares nothing with the practice bench's camera: pixels are traced back to the table through a pinhole with radial
distortion, sampled several times each; then noise of two kinds, denoising, sharpening, a film-like tone curve, JPEG.
"""

import io
from dataclasses import dataclass, replace

import cv2
import numpy as np
from PIL import Image
from skimage import data

TEXTURES = ("brick", "grass", "gravel", "coffee", "page", "text", "moon", "coins")


@dataclass(frozen=True)
class Phone:
    """How it looks and cooks: size in px, tilt in degrees and the way it leans, roll, lens k1, field of the picture
    that the table's `reach_mm` fills, defocus, flare (share of the mean light laid over all), strength of noise,
    denoising, sharpening and tone curve, JPEG quality."""

    size: tuple[int, int] = (1280, 960)
    tilt_deg: float = 0.0
    lean_deg: float = 0.0
    roll_deg: float = 0.0
    k1: float = 0.0
    defocus_px: float = 0.7
    flare: float = 0.004
    noise: float = 1.0
    denoise: float = 0.5
    sharpen: float = 0.4
    curve: float = 0.25
    quality: int = 90


def draw_phone(rng: np.random.Generator, hard: bool = False) -> Phone:
    """A phone as held by somebody; `hard`: tilted up to 30°, with a strong lens."""
    return Phone(
        tilt_deg=float(rng.uniform(0, 30 if hard else 15)),
        lean_deg=float(rng.uniform(0, 360)),
        roll_deg=float(rng.uniform(-8, 8)),
        k1=float(rng.uniform(-0.08, 0.08) * (1 if hard else 0.4)),
        defocus_px=float(rng.uniform(0.4, 1.1)),
        flare=float(rng.uniform(0.001, 0.008)),
        noise=float(rng.uniform(0.6, 1.8)),
        denoise=float(rng.uniform(0, 0.9)),
        sharpen=float(rng.uniform(0, 0.8)),
        curve=float(rng.uniform(0, 0.35)),
        quality=int(rng.integers(82, 96)),
    )


def either_way_up(phone: Phone, rng: np.random.Generator) -> Phone:
    """The phone at full size, lying on its side or upright."""
    return replace(phone, size=(2000, 1500) if rng.random() < 0.7 else (1500, 2000))


def sight_lines(phone: Phone, reach_mm: float, nearest_mm: float = 0.0) -> tuple[np.ndarray, np.ndarray]:
    """Where the lens stands, mm (x right, y down, z into the table from the middle of the view), shape (3,), and the
    way in which each pixel looks, (3, h, w). The phone comes no nearer than `nearest_mm`, but zooms."""
    w, h = phone.size
    u, v = np.meshgrid((np.arange(w) + 0.5 - w / 2) / (w / 2), (np.arange(h) + 0.5 - h / 2) / (w / 2))
    # The lens: what falls on the sensor at r came from r·(1 + k1·r²).
    r2 = u**2 + v**2
    u, v = u * (1 + phone.k1 * r2), v * (1 + phone.k1 * r2)
    roll = np.deg2rad(phone.roll_deg)
    u, v = u * np.cos(roll) - v * np.sin(roll), u * np.sin(roll) + v * np.cos(roll)
    away = max(nearest_mm, reach_mm / 2 / np.tan(np.deg2rad(33.0)))
    half = reach_mm / 2 / away
    ray = np.stack([u * half, v * half, np.ones_like(u)])
    tilt, lean = np.deg2rad(phone.tilt_deg), np.deg2rad(phone.lean_deg)
    axis = np.array([np.cos(lean), np.sin(lean), 0.0])
    cross = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    turn = np.eye(3) + np.sin(tilt) * cross + (1 - np.cos(tilt)) * cross @ cross
    return turn @ np.array([0.0, 0.0, -away]), np.tensordot(turn, ray, axes=1)


def rays(phone: Phone, reach_mm: float) -> tuple[np.ndarray, np.ndarray]:
    """Where on the table (mm, x right, y down, from the middle of the view) each pixel looks; two arrays (h, w)."""
    eye, way = sight_lines(phone, reach_mm)
    step = -eye[2] / way[2]
    return eye[0] + step * way[0], eye[1] + step * way[1]


def where_seen(phone: Phone, reach_mm: float, points_mm: np.ndarray) -> np.ndarray:
    """Pixels (x, y) as shares of the picture at which points of the table are seen, shape (n, 2): by search."""
    xs, ys = rays(Phone(**{**phone.__dict__, "size": (phone.size[0] // 5, phone.size[1] // 5)}), reach_mm)
    return nearest_shares(xs, ys, points_mm)


def nearest_shares(xs: np.ndarray, ys: np.ndarray, points_mm: np.ndarray) -> np.ndarray:
    """Where points are seen, as shares of the picture, told by the place that each pixel looks at."""
    found = []
    for x, y in points_mm:
        off = np.nan_to_num(np.hypot(xs - x, ys - y), nan=np.inf)
        row, column = np.unravel_index(off.argmin(), off.shape)
        rows, columns = slice(max(0, row - 2), row + 3), slice(max(0, column - 2), column + 3)
        # Locally the view is nearly affine: solve for the sub-pixel place from the neighbours.
        gy, gx = np.mgrid[rows, columns][:, : xs[rows, columns].shape[0], : xs[rows, columns].shape[1]]
        design = np.stack([np.ones(gx.size), gx.ravel(), gy.ravel()], axis=1)
        ax, *_ = np.linalg.lstsq(design, xs[rows, columns].ravel(), rcond=None)
        ay, *_ = np.linalg.lstsq(design, ys[rows, columns].ravel(), rcond=None)
        at = np.linalg.solve(np.array([ax[1:], ay[1:]]), np.array([x - ax[0], y - ay[0]]))
        found.append(((at[0] + 0.5) / xs.shape[1], (at[1] + 0.5) / xs.shape[0]))
    return np.array(found)


def texture(name: str, xs: np.ndarray, ys: np.ndarray, mm_per_px: float, brightness: float) -> np.ndarray:
    """A bench top from one of scikit-image's own pictures, laid out over the table in mirrored tiles; (h, w, 3)."""
    picture = getattr(data, name)()
    picture = np.atleast_3d(picture)[..., :3].astype(float) / 255
    if picture.shape[2] == 1:
        picture = np.repeat(picture, 3, axis=2)
    rows, columns = ys / mm_per_px, xs / mm_per_px
    out = cv2.remap(
        picture.astype(np.float32),
        columns.astype(np.float32),
        rows.astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REFLECT,
    )
    return brightness * out**2.2 / max(0.05, float((picture**2.2).mean()))


def cook(light: np.ndarray, phone: Phone, rng: np.random.Generator, exposure: float | None = None) -> bytes:
    """JPEG bytes of linear light (h, w, 3): lens, sensor, and what a phone does to please."""
    seen = cv2.GaussianBlur(light.astype(np.float32), (0, 0), phone.defocus_px)
    seen = (1 - phone.flare) * seen + phone.flare * seen.mean(axis=(0, 1))
    seen = seen * (exposure or 0.85 / float(np.quantile(seen, 0.995)))
    electrons = 9000 / phone.noise**2
    seen = rng.poisson(np.clip(seen, 0, 4) * electrons) / electrons
    seen = seen + rng.normal(0, 0.0008 * phone.noise, seen.shape) + rng.normal(0, 0.0004, (seen.shape[0], 1, 1))
    if phone.denoise > 0.05:
        calm = cv2.medianBlur(seen.astype(np.float32), 3)
        seen = (1 - phone.denoise) * seen + phone.denoise * calm
    code = np.clip(seen, 0, 1) ** (1 / 2.2)
    # A film-like S: darker darks, brighter brights, the middle left where it was.
    code = code + phone.curve * code * (1 - code) * (2 * code - 1)
    if phone.sharpen > 0.05:
        code = code + phone.sharpen * (code - cv2.GaussianBlur(code, (0, 0), 1.4))
    out = io.BytesIO()
    picture = Image.fromarray((np.clip(code, 0, 1) * 255 + 0.5).astype(np.uint8))
    picture.save(out, "JPEG", quality=phone.quality)
    return out.getvalue()
