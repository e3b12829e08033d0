"""What every simulated camera does with a scene: lamp, lens, sensor, sRGB, JPEG."""

import io
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

Array = NDArray[np.float32]
Floats = NDArray[np.floating[Any]]
_BAND_ROWS = 32


def lamp_over(photo_px: tuple[int, int], slope: NDArray[np.float64], fall: float) -> Array:
    """A lamp over the picture: a slope in x and y and a fall-off to the corners, 1 at its brightest."""
    width, height = photo_px
    x = (np.arange(width, dtype=np.float32) / width * 2 - 1)[None]
    y = (np.arange(height, dtype=np.float32) / height * 2 - 1)[:, None]
    light = (1 + np.float32(slope[0]) * x + np.float32(slope[1]) * y) / (1 + np.float32(fall) * (x**2 + y**2)) ** 2
    return np.asarray(light / light.max(), dtype=np.float32)


def corners_in_view(
    size_mm: tuple[float, float],
    photo_px: tuple[int, int],
    fill: float,
    turn_deg: float,
    tilt: NDArray[np.float64],
    shift: NDArray[np.float64],
) -> NDArray[np.float64]:
    """Where the corners of a piece fall in the photo, px: clockwise from the upper left; `fill` of the picture,
    turned, seen aslant by `tilt` and off its middle by `shift` (share of the picture)."""
    width, height = photo_px
    share = min(fill * width / size_mm[0], fill * height / size_mm[1])
    half = np.array(size_mm) / 2 * share
    corners = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * half
    turn = np.deg2rad(turn_deg)
    rotation = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    corners = corners @ rotation.T
    corners /= 1 + (corners @ tilt / np.array([width, height]).max() * 2)[:, None]
    return np.asarray(corners + np.array([width, height]) / 2 + shift * [width, height])


@dataclass(frozen=True)
class Phone:
    """What lens and phone add of their own: bend of the lens (a pixel at p, in half widths from the middle, looks at
    p·(1 + bend·(p² − 0.3p⁴))), share of the mean light that flares over all, and how much noise reduction, S-shaped
    tone curve and sharpening it puts in; 0: none."""

    bend: float = 0.0
    flare: float = 0.0
    calming: float = 0.0
    tone: float = 0.0
    sharpening: float = 0.0


PLAIN_PHONE = Phone()


def draw_phone(rng: np.random.Generator) -> Phone:
    """A phone as people have them."""
    return Phone(
        float(rng.uniform(-0.04, 0.04)),
        float(rng.uniform(0.003, 0.014)),
        float(rng.uniform(0, 0.8)),
        float(rng.uniform(0, 0.3)),
        float(rng.uniform(0, 0.6)),
    )


def looks_at(x: Floats, y: Floats, bend: float, photo_px: tuple[int, int]) -> tuple[Floats, Floats]:
    """Where on an unbent picture the pixels x, y look; arrays may be a row and a column, in any float type."""
    half = photo_px[0] / 2
    left, top = photo_px[0] / 2 - 0.5, photo_px[1] / 2 - 0.5
    p, q = (x - left) / half, (y - top) / half
    r2 = p**2 + q**2
    way = half * (1 + bend * (r2 - 0.3 * r2**2))
    return left + p * way, top + q * way


def seen_at(points: NDArray[np.float64], bend: float, photo_px: tuple[int, int]) -> NDArray[np.float64]:
    """Which pixels look at points (…, 2) of an unbent picture: the inverse of `looks_at`, by steps."""
    at = points
    for _ in range(12):
        at = at - (np.stack(looks_at(at[..., 0], at[..., 1], bend, photo_px), axis=-1) - points)
    return at


def _bent(scene: Array, bend: float) -> Array:
    """A scene (rows, columns, …) as the lens throws it on the sensor."""
    if bend == 0:
        return scene
    rows, columns = scene.shape[:2]
    x, y = np.arange(columns, dtype=np.float32)[None], np.arange(rows, dtype=np.float32)[:, None]
    return np.asarray(
        cv2.remap(scene, *looks_at(x, y, bend, (columns, rows)), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    )


def _bands(rows: int) -> list[slice]:
    """Rows of a picture by so many that its steps find them in the processor's own memory still: a third faster."""
    return [slice(top, top + _BAND_ROWS) for top in range(0, rows, _BAND_ROWS)]


def expose(linear: Array, blur_px: float, noise: float, rng: np.random.Generator, quality: int, phone: Phone) -> bytes:
    """JPEG bytes of a scene in linear light: blurred, with photon and read noise (`noise` times a good phone's), and
    what the phone makes of it."""
    light = np.asarray(cv2.GaussianBlur(_bent(linear, phone.bend), (0, 0), blur_px), dtype=np.float32)
    all_over = np.array(cv2.mean(light)[: light.shape[2]], dtype=np.float32)
    bands, code = _bands(len(light)), np.empty_like(light)
    for band in bands:
        here = light[band]
        here *= 1 - phone.flare
        here += phone.flare * all_over
        here += (
            noise
            * np.sqrt(np.maximum(here, 0) * np.float32(6e-5) + np.float32(3e-7))
            * rng.standard_normal(here.shape, dtype=np.float32)
        )
        code[band] = coded(here)
    if phone.calming:
        calm = cv2.bilateralFilter(code, 5, 0.04, 1.2)
        for band in bands:
            code[band] += phone.calming * (calm[band] - code[band])
    if phone.tone:
        for band in bands:
            code[band] -= phone.tone * np.sin(2 * np.pi * code[band]) / (2 * np.pi)
    soft = cv2.GaussianBlur(code, (0, 0), 1.6) if phone.sharpening else code
    pixels = np.empty(code.shape, dtype=np.uint8)
    for band in bands:
        sharp = code[band] + phone.sharpening * (code[band] - soft[band])
        pixels[band] = np.round(np.clip(sharp, 0, 1) * 255)
    picture = Image.fromarray(pixels)
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=quality, subsampling=0)
    return out.getvalue()


def hex_of(linear: tuple[float, float, float]) -> str:
    """A colour in linear light as #rrggbb."""
    return "#" + "".join(f"{round(255 * float(v)):02x}" for v in coded(np.array(linear)))


def coded(linear: Floats) -> Floats:
    """Linear light as sRGB codes it, both from 0 to 1 (IEC 61966-2-1)."""
    linear = np.clip(linear, 0, 1)
    return np.asarray(np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055))
