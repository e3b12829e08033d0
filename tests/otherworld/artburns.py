"""What becomes of dots in the second world: grains that turn or do not, under a disc of light, seen through a skin.

Reads the program's own G-code. Every place of the coat is a grain with a threshold of its own; a flat disc sweeps
along the lines; how much of a grain turns follows a Hill curve. Light creeps a little beside where it falls, and a
place among many burned ones is warmer. No Gaussian beam, no logarithm of energy, nothing of the practice plant's.
"""

import re
from dataclasses import dataclass

import cv2
import numpy as np
from scipy import ndimage
from scipy.optimize import brentq
from scipy.signal import fftconvolve

from keencoat.core.quantities.setting import Setting
from tests.otherworld.burns import World

PX_PER_MM, _FINER = 10, 4
_FINE = PX_PER_MM * _FINER
_FULL_AT_ENOUGH = 0.80
LIGHT = {"frost": (0.03, 0.45), "fuse": (0.7, 0.06), "reveal": (0.05, 0.4), "back_engrave": (0.04, 0.5),
          "ablate": (0.1, 0.45), "resist": (0.06, 0.4)}  # fmt: skip
"""Luminance of ground and of a full mark, about which worlds vary."""


@dataclass(frozen=True)
class Skin:
    """How a world's coat and piece take dots: disc radius (mm), steepness of the curve, spread and size (mm) of the
    grains, warmth from what is burned around, how far (mm) and how much light creeps, luminance of ground and mark."""

    radius_mm: float
    steep: float
    grain_ln: float
    grain_mm: float
    warms: float
    creep_mm: float
    creeps: float
    ground_y: float
    mark_y: float


def skin_of(world: World) -> Skin:
    """Drawn by the world's seed."""
    rng = np.random.default_rng([world.seed, 911])
    ground, mark = LIGHT[world.process]
    # Heat leaves no stripe between lines bare at any energy.
    least_mm = 0.55 * world.interval_mm
    return Skin(
        max(least_mm, world.machine.spot_mm / 2 * float(rng.uniform(0.9, 1.5))),
        float(rng.uniform(3, 10)),
        float(rng.uniform(0.05, 0.3)),
        float(rng.uniform(0.03, 0.08)),
        float(rng.uniform(0, 0.2)),
        float(rng.uniform(0.03, 0.15)),
        float(rng.uniform(0, 0.6)),
        ground * float(np.exp(rng.normal(0, 0.15))),
        mark * float(np.exp(rng.normal(0, 0.15))),
    )


@dataclass(frozen=True, eq=False)
class Seen:
    """The washed piece at PX_PER_MM, upper left first: luminance, how much has turned, how much is harmed."""

    y: np.ndarray
    turned: np.ndarray
    harmed: np.ndarray


def burn_gcode(
    world: World, setting: Setting, lines: list[str], side_mm: float, ln_film: np.ndarray, ln_power: float, seed: int
) -> Seen:
    """Burn a program on a square piece; `ln_film` of the film over the usual one, at PX_PER_MM."""
    skin, rng = skin_of(world), np.random.default_rng([world.seed, seed, 6])
    lit = _lit(lines, round(side_mm * _FINE))
    energy = fftconvolve(lit, _disc(skin.radius_mm), mode="same") * setting.interval_mm * _FINE
    film = np.kron(ln_film, np.ones((_FINER, _FINER)))
    around = ndimage.uniform_filter(np.minimum(energy, 1), 5 * _FINE, mode="constant")
    nominal = np.array([[0.0, ln_power]])
    above, below = (float(m[0]) for m in world.margins(setting, nominal))
    thin, thick, spares = world.by_film
    warm = skin.warms * (around - 1)
    ln_energy = np.log(np.maximum(energy, 1e-6)) + warm
    enough = above - (thin * film + thick * np.maximum(film, 0) ** 2) - _level(skin, setting.interval_mm)
    grains = skin.grain_ln * _smooth(rng.standard_normal(lit.shape), skin.grain_mm)
    turned = _hill(np.exp(ln_energy + enough - grains), skin.steep)
    wide = blurred(energy, setting.interval_mm * _FINE)
    over = np.log(np.maximum(wide, 1e-6)) + warm - below - spares * film
    specks = _smooth(rng.standard_normal(lit.shape), 0.12)
    # Two in a hundred harmed just at the border, and half of it a quarter of ln energy beyond.
    harmed = (specks > 2.05 - 8 * np.clip(over, -0.5, 0.25)) & (energy > 0.3)
    return Seen(*(_coarse(face) for face in (light_of(skin, turned, harmed), turned, harmed.astype(float))))


def _lit(lines: list[str], side: int) -> np.ndarray:
    """Length of lit line in each point, mm a point, upper left first."""
    face = np.zeros((side, side))
    x, y, s = 0.0, 0.0, 0.0
    for line in lines:
        if line.startswith("("):
            continue
        words = dict(re.findall(r"([GXYS])(-?[\d.]+)", line))
        s = float(words.get("S", s))
        to = float(words.get("X", x)), float(words.get("Y", y))
        if words.get("G") == "1" and s > 0 and to != (x, y):
            # What a moved or turned drawing has beyond the face is burned into the table.
            a, b = np.clip(sorted((x * _FINE, to[0] * _FINE)), 0, side)
            points = np.arange(int(a), int(np.ceil(b)))
            cover = np.minimum(points + 1, b) - np.maximum(points, a)
            row, below = divmod(side - y * _FINE - 0.5, 1)
            for at, share in ((int(row), 1 - below), (int(row) + 1, below)):
                if 0 <= at < side:
                    face[at, points] += share * cover
        x, y = to
    return face


def _disc(radius_mm: float) -> np.ndarray:
    reach = int(np.ceil(radius_mm * _FINE)) + 1
    fine = (np.arange((2 * reach + 1) * 8) + 0.5) / 8 - reach - 0.5
    inside = (fine[:, None] ** 2 + fine**2 <= (radius_mm * _FINE) ** 2).astype(float)
    disc = inside.reshape(2 * reach + 1, 8, 2 * reach + 1, 8).mean(axis=(1, 3))
    return disc / disc.sum()


def _hill(x: np.ndarray, steep: float) -> np.ndarray:
    x = np.clip(x, 1e-6, 1e3) ** steep
    return x / (x + 1 / _FULL_AT_ENOUGH - 1)


def _level(skin: Skin, interval_mm: float) -> float:
    """ln by which the mean energy of a fill is more than what turns four fifths of it, lines and gaps together."""
    across = np.linspace(-0.5, 0.5, 200) * interval_mm
    offsets = np.arange(-6, 7) * interval_mm
    chord = np.sqrt(np.maximum(skin.radius_mm**2 - (across[:, None] - offsets) ** 2, 0)).sum(axis=1)
    energy = 2 * chord / (np.pi * skin.radius_mm**2) * interval_mm
    return float(brentq(lambda c: _hill(energy * np.exp(-c), skin.steep).mean() - _FULL_AT_ENOUGH, -30, 5))


def blurred(face: np.ndarray, sigma_px: float) -> np.ndarray:
    """As SciPy's gaussian_filter, in a sixth of the time."""
    reach = 2 * int(4 * sigma_px + 0.5) + 1
    return np.asarray(cv2.GaussianBlur(face, (reach, reach), sigma_px, borderType=cv2.BORDER_REFLECT))


def _smooth(noise: np.ndarray, size_mm: float) -> np.ndarray:
    face = blurred(noise, size_mm * _FINE)
    return face / face.std()


def light_of(skin: Skin, turned: np.ndarray, harmed: np.ndarray) -> np.ndarray:
    """Luminance: what darkens takes light that has crept in from beside; what brightens gives some of its own away."""
    creep = blurred(turned, skin.creep_mm * _FINE)
    if skin.mark_y < skin.ground_y:
        lets = 1 - (1 - np.sqrt(skin.mark_y / skin.ground_y)) * turned
        beside = 1 - (1 - np.sqrt(skin.mark_y / skin.ground_y)) * ((1 - skin.creeps) * turned + skin.creeps * creep)
        y = skin.ground_y * lets * beside
    else:
        y = skin.ground_y + (skin.mark_y - skin.ground_y) * ((1 - skin.creeps) * turned + skin.creeps * creep)
    return np.where(harmed, 0.5 * skin.ground_y + 0.1, y)


def _coarse(face: np.ndarray) -> np.ndarray:
    rows, columns = (side // _FINER for side in face.shape)
    return face.reshape(rows, _FINER, columns, _FINER).mean(axis=(1, 3))
