"""What is to be expected of dots before any wedge: by spot, lines, heat and the window's margin."""

import math

from keencoat.core.artwork.made import Lines
from keencoat.core.artwork.spread import DotModel
from keencoat.core.artwork.tone_curve import DotBelief
from keencoat.core.quantities import Machine, Setting
from keencoat.core.window import PlaceOdds

_SPREADS_MM2_S = 0.5
"""Diffusivity that counts at most: where the piece leads heat away faster, the coat does not (own estimate)."""


def expected_dots(
    lines: Lines, setting: Setting, machine: Machine, diffusivity_mm2_s: float, odds: PlaceOdds
) -> DotBelief:
    """Dots on these lines, of a piece that leads heat so well."""
    dwell_s = machine.spot_mm / setting.speed_mm_s
    heat_mm = math.sqrt(min(diffusivity_mm2_s, _SPREADS_MM2_S) * dwell_s)
    sigma_mm = math.hypot(machine.spot_mm / 4, heat_mm)
    model = DotModel(lines.pitch_mm, lines.interval_mm, sigma_mm, odds.margin_ln)
    return DotBelief(model, margin_sd=odds.margin_sd, piece_sd=odds.piece_sd)
