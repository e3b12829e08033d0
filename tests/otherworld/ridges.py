"""A second fixed head over a round wall: rays of a beam traced down onto it, on materials of the second world.

Nothing here knows a cosine or a sagitta: each ray falls straight down from where the beam's cone has it until it meets
the wall; how far the spot spreads on the wall, and how lines and speed stretch there, is read from where rays land.
"""

import math

import numpy as np

from keencoat.core.quantities.setting import Setting
from tests.otherworld.burns import World

_RAYS = 4000
_STEP_MM = 0.02


def depth_of(world: World, rng: np.random.Generator) -> float:
    """How far off its waist the beam is √2 as wide, mm: a diode's, from one to two and a half spots' worth of its own
    kind (from memory: makers say half a millimetre to two)."""
    return float(world.machine.spot_mm * rng.uniform(8, 22))


def shares_beside(
    world: World, setting: Setting, radius_mm: float, focus_below_mm: float, aside_mm: np.ndarray, pieces: np.ndarray
) -> np.ndarray:
    """Share of pieces that are clean at each place beside the ridge, scanned round the wall."""
    rng = np.random.default_rng([world.seed, 61])
    depth, defocus = depth_of(world, rng), float(rng.uniform(0.5, 1.5))
    sides = rng.standard_normal((_RAYS, 2)) / 2
    found = []
    for x in aside_mm:
        spread, stretch = _on_wall(world.machine.spot_mm / 2, depth, radius_mm, focus_below_mm, float(x), sides)
        # The head goes as fast as ever; the spot, on the wall, is drawn out and so goes over it faster. What a wider
        # spot costs is this material's own affair.
        there = Setting(setting.power_pct, setting.speed_mm_s * stretch, setting.interval_mm, setting.passes)
        above, below = world.margins(there, pieces)
        lost = defocus * math.log(spread)
        found.append(float(((above > lost) & (below > -lost)).mean()))
    return np.array(found)


def _on_wall(
    waist_mm: float, depth_mm: float, radius_mm: float, focus_below_mm: float, x_mm: float, sides: np.ndarray
) -> tuple[float, float]:
    """How many times as wide the spot is as in focus, across its own way down; and how much longer a step of the head
    is on the wall than in the air."""

    def arc(x: np.ndarray) -> np.ndarray:
        return radius_mm * np.arcsin(np.clip(x / radius_mm, -1, 1))

    drop = radius_mm - math.sqrt(max(0.0, radius_mm**2 - x_mm**2)) - focus_below_mm
    wide = waist_mm * math.hypot(1, drop / depth_mm)
    rays = x_mm + wide * sides[:, 0]
    stretch = float((arc(np.array(x_mm + _STEP_MM)) - arc(np.array(x_mm - _STEP_MM))) / (2 * _STEP_MM))
    on_wall = float(np.std(arc(rays))) * float(np.std(wide * sides[:, 1]))
    flat = (waist_mm / 2) ** 2
    return math.sqrt(on_wall / stretch / flat), stretch
