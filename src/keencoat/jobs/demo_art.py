"""Artwork of the demo workshop, all of it drawn here: leaves for a light sign, a fern, labels for a bed."""

import io
import math

import cv2
import numpy as np
from PIL import Image

_PETALS = 5
LABELS = """name,note
Acer campestre,field maple
Digitalis purpurea,foxglove
Dryopteris filix-mas,male fern
Galanthus nivalis,snowdrop
Iris sibirica,
Primula veris,cowslip
"""

_FERN = np.array(
    [
        [0.0, 0.0, 0.0, 0.16, 0.0, 0.0],
        [0.85, 0.04, -0.04, 0.85, 0.0, 1.6],
        [0.2, -0.26, 0.23, 0.22, 0.0, 1.6],
        [-0.15, 0.28, 0.26, 0.24, 0.0, 0.44],
    ]
)
"""Four maps of the plane whose common picture is a fern: x' = a·x + b·y + e, y' = c·x + d·y + f."""


def leaf_layers() -> bytes:
    """An SVG of five layers of leaves about one middle, each a group of its own."""
    groups = []
    for layer in range(_PETALS):
        leaves = [
            _leaf(20 + 7 * layer, 6 - 0.6 * layer, 2 * math.pi * n / (5 + layer) + 0.3 * layer)
            for n in range(5 + layer)
        ]
        groups.append(f'<g id="layer {layer + 1}">{"".join(leaves)}</g>')
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="120mm" viewBox="-60 -60 120 120">'
        f"{''.join(groups)}</svg>"
    ).encode()


def _leaf(long_mm: float, half_mm: float, angle: float) -> str:
    along = np.linspace(0, 1, 30)
    wide = half_mm * np.sin(math.pi * along) ** 0.8
    x, y = np.concatenate([along, along[::-1]]) * long_mm, np.concatenate([wide, -wide[::-1]])
    turned = x * math.cos(angle) - y * math.sin(angle), x * math.sin(angle) + y * math.cos(angle)
    points = " ".join(f"{a:.2f},{b:.2f}" for a, b in zip(*turned, strict=True))
    return f'<path d="M {points} Z"/>'


def fern_photo(width: int = 900, height: int = 1200) -> bytes:
    """A JPEG of a fern before a soft ground, as a camera might show it."""
    rng = np.random.default_rng(1)
    x, y = np.zeros(4000), np.zeros(4000)
    hits = np.zeros((height, width), np.float32)
    for step in range(260):
        a, b, c, d, e, f = _FERN[rng.choice(4, len(x), p=[0.01, 0.85, 0.07, 0.07])].T
        x, y = a * x + b * y + e, c * x + d * y + f
        if step > 20:
            rows, columns = ((10.4 - y) / 10.8 * height).astype(int), ((x + 4.05) / 8.1 * width).astype(int)
            inside = (rows >= 0) & (rows < height) & (columns >= 0) & (columns < width)
            np.add.at(hits, (rows[inside], columns[inside]), 1.0)
    leaf = np.clip(cv2.GaussianBlur(np.minimum(hits, 4), (0, 0), 1.3) / 1.6, 0, 1)
    soft = cv2.GaussianBlur(np.minimum(hits, 12), (0, 0), 7) / 12
    down, across = np.mgrid[0:height, 0:width] / [[[height]], [[width]]]
    ground = 0.80 + 0.10 * np.cos(2 * across - 0.6) - 0.12 * down
    green = 0.16 + 0.45 * soft + 0.18 * across
    out = io.BytesIO()
    Image.fromarray((255 * np.clip(ground * (1 - leaf) + green * leaf, 0, 1)).astype(np.uint8)).save(out, "JPEG")
    return out.getvalue()
