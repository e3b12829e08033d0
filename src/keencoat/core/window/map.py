"""The window drawn over everything that a machine can do, and over slices by interval, passes and coat."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from keencoat.core.quantities import Range, Slice
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.model import boundaries
from keencoat.core.window.parameters import FloatArray
from keencoat.core.window.predict import clean_and_harsh
from keencoat.core.window.reach import at_full_power, crossed, powers_of, speeds_of

_SPEEDS, _POWERS = 31, 23


@dataclass(frozen=True)
class BoundaryLine:
    """A boundary drawn in power over speed, with its band (5–95 %), per cent; may run above 100."""

    low_pct: tuple[float, ...]
    mid_pct: tuple[float, ...]
    high_pct: tuple[float, ...]


@dataclass(frozen=True, eq=False)
class WindowMap:
    """The window over the machine's reach in one slice.

    Shares have shape (powers, speeds): of pieces that come out clean and harsh; the rest is faint.
    """

    speeds_mm_s: tuple[float, ...]
    powers_pct: tuple[float, ...]
    clean: FloatArray
    harsh: FloatArray
    enough: BoundaryLine
    too_much: BoundaryLine
    at: Slice


@lru_cache(maxsize=64)
def map_window(fit: WindowFit, at: Slice) -> WindowMap:
    """Shares and boundaries on a log lattice."""
    speeds, powers = speeds_of(at.machine, _SPEEDS), powers_of(at.machine, _POWERS)
    clean, harsh = clean_and_harsh(fit, crossed(at, speeds, powers).points())
    shape = (_POWERS, _SPEEDS)
    full = at_full_power(at, speeds).points()
    enough, too_much = boundaries(fit.draws, full)
    return WindowMap(
        tuple(speeds.tolist()),
        tuple(powers.tolist()),
        clean.mean(axis=0).reshape(shape),
        harsh.mean(axis=0).reshape(shape),
        _line(enough - full.ln_energy),
        _line(too_much - full.ln_energy),
        at,
    )


def _line(ln_power_share: FloatArray) -> BoundaryLine:
    low, mid, high = 100 * np.exp(np.quantile(ln_power_share, [0.05, 0.5, 0.95], axis=0))
    return BoundaryLine(tuple(low.tolist()), tuple(mid.tolist()), tuple(high.tolist()))


@dataclass(frozen=True)
class WindowEdges:
    """A window's boundaries free of the machine: areal energies, J/mm² with their ranges, over dwell, ms."""

    dwell_ms: tuple[float, ...]
    enough_j_mm2: tuple[Range, ...]
    too_much_j_mm2: tuple[Range, ...]


def edges_of(window: WindowMap) -> WindowEdges:
    """The boundaries of a map, so that windows of several machines can be laid over each other."""

    def energies(line: BoundaryLine) -> tuple[Range, ...]:
        rows = zip(window.speeds_mm_s, line.low_pct, line.mid_pct, line.high_pct, strict=True)
        full = window.at.full_j_mm2
        return tuple(Range(*(full(v) * pct / 100 for pct in row)) for v, *row in rows)

    dwell = tuple(1000 * window.at.machine.spot_mm / speed for speed in window.speeds_mm_s)
    return WindowEdges(dwell, energies(window.enough), energies(window.too_much))
