"""The power from which a peak of irradiance harms at any speed: told where cells show it, not where it is guessed."""

import numpy as np

from keencoat.core.quantities import Range, Slice
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.model import harm_limits
from keencoat.core.window.parameters import P
from keencoat.core.window.reach import at_full_power

_KNOWN_WITHIN = 1.6
"""High over low power of the 90 % range beyond which nothing is told (own estimate)."""
_BINDS = 0.9


def peak_pct(fit: WindowFit, at: Slice) -> Range | None:
    """Per cent of power that harms at any speed, with its 90 % range, on this machine at this interval; None where that
    is not known, lies beyond the machine, or energy harms before it even at full speed."""
    full = at_full_power(at, np.array([at.machine.max_speed_mm_s])).points()
    by_energy, by_peak = (limit[:, 0] - full.ln_energy[0] for limit in harm_limits(fit.draws, full))
    if not fit.observations or (by_peak < by_energy).mean() < _BINDS:
        return None
    # Both limits fall by curve·ln(power share): the power that lies just on its own limit.
    low, mid, high = 100 * np.exp(np.quantile(by_peak / (1 + fit.draws[:, P.CURVE]), [0.05, 0.5, 0.95]))
    if high > 100 or high > _KNOWN_WITHIN * low or low < at.machine.min_power_pct:
        return None
    return Range(float(low), float(mid), float(high))


def peak_words(pct: Range) -> str:
    """The same for a maker to read."""
    return (
        f"From about {pct.mid:.0f} % power ({pct.low:.0f} to {pct.high:.0f} %) on, cells come out harsh at any speed: "
        "the peak is too strong, however short. Faster does not help there, less power does."
    )
