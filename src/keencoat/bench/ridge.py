"""A round wall under a head that does not turn it: narrow strips beside its ridge, each burned on many pieces.

Beside the ridge the beam meets the wall aslant: the wall lies deeper, the spot's light is spread over more of it, and
lines drawn at one distance lie further apart on it, gone over faster. The plant's own laws do the rest.
"""

import math
from dataclasses import replace

import numpy as np

from keencoat.bench.batch import BatchSetting
from keencoat.bench.plant.fill import Lines
from keencoat.bench.plant.layer import Array
from keencoat.bench.plant.many import Bench, Pieces, clean_share

_STRIP_MM = 4.0


def clean_beside(
    bench: Bench, setting: BatchSetting, pieces: Pieces, radius_mm: float, focus_below_mm: float, aside_mm: Array
) -> Array:
    """Share of pieces that are clean at each place so far beside the ridge, mm; the focus lies so far below it."""
    found = []
    for x in np.abs(aside_mm):
        slant = math.sqrt(1 - (x / radius_mm) ** 2)
        deeper = radius_mm * (1 - slant) - focus_below_mm
        there = replace(pieces, focus_mm=pieces.focus_mm + deeper)
        # The spot lies wider along the scan: it stays as long on a point, with less light on it.
        lines = Lines(setting.speed_mm_s, setting.interval_mm, setting.passes)
        found.append(clean_share(bench, setting.power * slant, lines, there, _STRIP_MM))
    return np.array(found)
