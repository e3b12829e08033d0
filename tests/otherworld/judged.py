"""What a hidden material is worth on its own machine, by its own truth: a measurement, and no law of any world."""

from dataclasses import replace
from typing import Any

import numpy as np

from keencoat.core.quantities.setting import Setting

WANTED = 0.95


def judged(world: Any, stream: int = 5) -> Any:
    """The world (a frozen dataclass) with the best share of clean pieces in its reach, and the fastest speed at which
    the wanted share is kept; `stream` chooses its pieces."""
    m, pieces = world.machine, world.pieces(1500, np.random.default_rng([world.seed, stream]))
    best, fastest = 0.0, 0.0
    for speed in np.geomspace(m.min_speed_mm_s, m.max_speed_mm_s, 60):
        powers = np.geomspace(m.min_power_pct, 100, 70)
        top = max(world.share(Setting(float(p), float(speed), world.interval_mm), pieces) for p in powers)
        best = max(best, top)
        if top >= WANTED:
            fastest = float(speed)
    return replace(world, best_share=best, fastest_mm_s=fastest)
