"""Where a window may still hide, by order alone: whether “none” is earned, whatever shape the boundaries have.

More power, or less speed, never makes a harsh cell faint, nor less power or more speed a faint one harsh. So at any
speed a faint cell burned as slow or slower shuts out all powers up to its own, and a harsh one as fast or faster all
powers from its own on. What is left between them at the machine's slowest, middle and fastest speed is where a window
could be that no cell has met; the model that fits the cells may be wrong about it. A clean cell is such a place until
another piece has failed near it; where two pieces had one there is a window of some kind, whatever the model thinks of
its width.
"""

from dataclasses import dataclass

import numpy as np

from keencoat.core.quantities import Setting, Slice, dwell_ms, typed_speed_mm_s
from keencoat.core.rating import Rating
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.model import STREAKED, Observation
from keencoat.core.window.reach import speeds_of

_ALIKE_LN = 0.02
_WIDE, _WIDE_AT_END = 3.0, 1.05
"""High over low power from which the room left counts: between cells narrower windows are hardly found by order (own
estimate); at an end of the machine one cell rules all of it out."""
_PIECES = 2
"""So many pieces say it: two with a clean cell that there is a window, two without any but faint ones that it is far
off."""
_NEAR_POWER_LN, _NEAR_SPEED_LN = 0.15, 0.25
"""How near another piece must have failed for a clean cell to count as luck (own estimate)."""


@dataclass(frozen=True)
class Hideout:
    """Room for a window at a speed: between the power up to which cells were faint, and that from which they were
    harsh, the machine's own ends where no cell says so; or a clean cell's own power, low and high alike."""

    speed_mm_s: float
    low_pct: float
    high_pct: float
    try_pct: float
    """The power that tells most: an end of the machine that no cell has ruled out, else the middle."""


def hideouts(fit: WindowFit, at: Slice) -> tuple[Hideout, ...]:
    """What the fit's cells of this machine, interval and number of passes leave open: clean cells that no other piece
    has failed near, then room by speed, the slowest first. Streaked ones, the coat's fault, count as none."""
    spot_mm, least = at.machine.spot_mm, at.machine.min_power_pct
    burned = _burned_so(fit, at)
    cells = [(1000 * spot_mm / float(np.exp(o.ln_dwell)), 100 * float(np.exp(o.ln_power)), o.rating) for o in burned]
    found = [
        Hideout(speed, power, power, power)
        for o, (speed, power, _) in zip(burned, cells, strict=True)
        if o.rating is Rating.CLEAN and not any(_fails(other, o) for other in burned)
    ]
    for speed in speeds_of(at.machine, 3).tolist():
        faint = [p for v, p, r in cells if r is Rating.FAINT and v <= speed * (1 + _ALIKE_LN)]
        harsh = [p for v, p, r in cells if r is Rating.HARSH and v >= speed * (1 - _ALIKE_LN)]
        low, high = max(faint, default=least), min(harsh, default=100.0)
        if high <= (_WIDE if faint and harsh else _WIDE_AT_END) * low:
            continue
        if faint and not harsh:
            tells_most = 100.0
        elif harsh and not faint:
            tells_most = least
        else:
            tells_most = float(np.sqrt(low * high))
        found.append(Hideout(speed, low, high, tells_most))
    return tuple(found)


def _fails(other: Observation, clean: Observation) -> bool:
    """Whether another piece failed where this one had a clean cell."""
    return (
        other.piece != clean.piece
        and other.rating is not Rating.CLEAN
        and abs(other.ln_power - clean.ln_power) <= _NEAR_POWER_LN
        and abs(other.ln_dwell - clean.ln_dwell) <= _NEAR_SPEED_LN
    )


def _burned_so(fit: WindowFit, at: Slice) -> list[Observation]:
    overlap, passes = np.log(at.machine.spot_mm / at.interval_mm), np.log(at.passes)
    return [
        o
        for o in fit.observations
        if o.machine == 0
        and STREAKED not in o.defects
        and abs(o.ln_overlap - overlap) < _ALIKE_LN
        and abs(o.ln_passes - passes) < _ALIKE_LN
    ]


def is_none_earned(fit: WindowFit, at: Slice) -> bool:
    """Whether “none” may be said where the model believes in it: no room is left by order, and no two pieces had a
    clean cell."""
    clean = {o.piece for o in _burned_so(fit, at) if o.rating is Rating.CLEAN}
    return len(clean) < _PIECES and not hideouts(fit, at)


def untried_strongest(fit: WindowFit, at: Slice) -> list[Setting]:
    """The machine's strongest cell, where two pieces or more showed nothing but faint ones and it was not among them:
    by order it rules out all, or shows that the window is far from where it was believed."""
    burned = _burned_so(fit, at)
    if len({o.piece for o in burned}) < _PIECES or any(o.rating is not Rating.FAINT for o in burned):
        return []
    strongest = at.setting(100.0, at.machine.min_speed_mm_s)
    ln_dwell = np.log(dwell_ms(strongest, at.machine))
    if any(o.ln_power > -_ALIKE_LN and o.ln_dwell > ln_dwell - _ALIKE_LN for o in burned):
        return []
    return [strongest]


def words_of(hidden: tuple[Hideout, ...]) -> str:
    """Where a window could still be, for people."""
    return "; ".join(
        f"at {h.speed_mm_s:.3g} mm/s "
        + (
            f"and {h.low_pct:.3g} %, where a cell was clean"
            if h.low_pct == h.high_pct
            else f"from {h.low_pct:.3g} to {h.high_pct:.3g} %"
        )
        for h in hidden
    )


def cells_there(hidden: tuple[Hideout, ...], at: Slice) -> list[Setting]:
    """A setting for each, as a person would type it."""
    return [at.setting(float(f"{h.try_pct:.3g}"), typed_speed_mm_s(h.speed_mm_s, at.machine)) for h in hidden]
