"""The height of the head at which the beam is in focus, from lines burned at several heights.

A line marks where its fluence exceeds the threshold: D² = 2w²·ln(R·w₀/w), R the power over what just marks in focus
(Liu, Opt. Lett. 7:196, 1982, for a scanned line), and w² = w₀²·(1 + ((z − z₀)/z_R)²) (ISO 11146-1). With much power a
line is narrowest in focus; under √e times the threshold it is *widest* there, and further out it does not mark at all.
So no parabola is fitted, but the beam itself.
"""

import math
from dataclasses import dataclass
from itertools import product

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import OptimizeResult, least_squares
from scipy.special import stdtrit

from keencoat.core.errors import BadValueError, require_finite, require_within
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.quantities import Range

Array = NDArray[np.float64]

LEAST_HEIGHTS = 5
ENOUGH_TIMES = 2.0
"""Times the threshold from which a ladder counts as strong enough; three to four are advised (own estimate)."""
_WIDEST_MM = 50.0
_VAGUE_SHARE = 0.25
_FLOOR_UM = 1e-3
_HINT = "Burn it again at three to four times the power that just marks."


@dataclass(frozen=True)
class MeasuredHeight:
    """A line at a height of the head, mm (any zero), and its width in µm; 0 where it left no mark."""

    height_mm: float
    width_um: float

    def __post_init__(self) -> None:
        require_finite(self.height_mm, "height_mm")
        require_within(self.width_um, 0, 20_000, "width_um", "µm")


@dataclass(frozen=True)
class FocusResult:
    """The height of the focus with its 90 % range, mm; the line's width there, µm; the beam's 1/e² radius there, µm;
    how many times what just marks the lines were burned at; and what there is to say."""

    height_mm: Range
    width_um: float
    waist_um: float
    times_threshold: float
    findings: tuple[Finding, ...]


def read_ladder(rungs: list[MeasuredHeight]) -> FocusResult:
    """Fit the beam. Raises BadValueError for fewer than five heights, or if fewer than four lines left a mark."""
    _require_enough(rungs)
    z = np.array([r.height_mm for r in rungs])
    widths = np.array([r.width_um for r in rungs])
    span = float(z.max() - z.min())
    best = _fit(z, widths, span)
    z0, ln_waist, _, ln_times = (float(v) for v in best.x)
    half = _half_range(best, z, widths)
    waist, times = math.exp(ln_waist), math.exp(ln_times)
    return FocusResult(
        Range(z0 - half, z0, z0 + half),
        waist * math.sqrt(2 * ln_times),
        waist,
        times,
        _findings(z0, half, float(z.min()), float(z.max()), times),
    )


def _require_enough(rungs: list[MeasuredHeight]) -> None:
    heights = {r.height_mm for r in rungs}
    if len(heights) < LEAST_HEIGHTS:
        raise BadValueError(
            f"{len(heights)} different heights are too few to find a focus.",
            field="rungs",
            hint=f"Burn lines at {LEAST_HEIGHTS} heights or more, on both sides of the focus.",
        )
    if sum(r.width_um > 0 for r in rungs) < LEAST_HEIGHTS - 1:
        raise BadValueError("Too few of these lines left a mark.", field="rungs", hint=_HINT)


def beam_of_ladder(rungs: list[MeasuredHeight]) -> tuple[float, float]:
    """The beam that a ladder shows: its 1/e² radius in focus and how far from there it is √2 as wide, mm. Raises
    BadValueError as `read_ladder`."""
    _require_enough(rungs)
    z, widths = np.array([r.height_mm for r in rungs]), np.array([r.width_um for r in rungs])
    _, ln_waist, ln_rayleigh, _ = (float(v) for v in _fit(z, widths, float(z.max() - z.min())).x)
    return math.exp(ln_waist) / 1000, math.exp(ln_rayleigh)


def line_width_um(z_mm: Array, z0_mm: float, waist_um: float, rayleigh_mm: float, times: float) -> Array:
    """Width of a line at each height, µm, burned at `times` what just marks in focus; 0 where it does not mark."""
    spread = 1 + ((z_mm - z0_mm) / rayleigh_mm) ** 2
    return np.asarray(waist_um * np.sqrt(np.maximum(2 * spread * (math.log(times) - np.log(spread) / 2), 0.0)))


def _half_range(best: OptimizeResult, z: Array, widths: Array) -> float:
    """Half of the 90 % range of the height, mm. Only lines that marked count: from four of them or fewer nothing is
    left to tell the noise by, and all heights that marked remain possible."""
    marked = widths > 0
    degrees = int(marked.sum()) - 4
    if degrees < 1:
        return min(_WIDEST_MM, float(np.ptp(z[marked])) / 2 + float(np.diff(np.unique(z)).max()))
    s2 = float((best.fun[marked] ** 2).sum()) / degrees
    covariance = s2 * np.linalg.pinv(best.jac.T @ best.jac)
    return min(_WIDEST_MM, float(stdtrit(degrees, 0.95) * math.sqrt(max(0.0, covariance[0, 0]))))


def _fit(z: Array, widths: Array, span: float) -> OptimizeResult:
    """The best of several starts: the law is not convex, and near the threshold it turns upside down."""
    low = [float(z.min()) - span, math.log(3.0), math.log(span / 50), 0.01]
    high = [float(z.max()) + span, math.log(2000.0), math.log(span * 100), 6.0]

    def off(x: Array) -> Array:
        return line_width_um(z, x[0], math.exp(x[1]), math.exp(x[2]), math.exp(x[3])) - widths

    tried = []
    largest = max(float(widths.max()), _FLOOR_UM)
    narrowest = float(z[np.where(widths > 0, widths, np.inf).argmin()])
    for place, share, ln_times in product((float(z[widths > 0].mean()), narrowest), (0.25, 1.0), (0.3, 1.5)):
        start = [place, math.log(largest / math.sqrt(2 * ln_times)), math.log(span * share), ln_times]
        tried.append(
            least_squares(
                off, np.clip(start, np.add(low, 1e-6), np.subtract(high, 1e-6)), bounds=(low, high), max_nfev=80
            )
        )
    return min(tried, key=lambda t: t.cost)


def _findings(z0: float, half: float, lowest: float, highest: float, times: float) -> tuple[Finding, ...]:
    found = []
    if times < ENOUGH_TIMES:
        found.append(
            Finding(
                FindingCode.FOCUS_FAINT,
                Severity.WARN,
                f"The lines were burned at about {times:.1f} times what just marks: so little that a line is widest in "
                "focus, or hardly changes.",
                fix=_HINT,
                figures={"times": times},
                source="liu1982",
            )
        )
    if not lowest < z0 < highest:
        found.append(
            Finding(
                FindingCode.FOCUS_OUTSIDE,
                Severity.WARN,
                "The focus lies outside the heights that were burned.",
                fix="Burn more lines on that side, then measure again.",
                source="iso11146",
            )
        )
    elif half > _VAGUE_SHARE * (highest - lowest):
        found.append(
            Finding(
                FindingCode.FOCUS_VAGUE,
                Severity.NOTE,
                "The widths hardly tell one height from another.",
                fix=f"{_HINT} More heights further out tell little.",
                source="liu1982",
            )
        )
    return tuple(found)
