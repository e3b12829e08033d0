"""A laser's own spot and threshold, from lines burned at rising power and measured across.

A Gaussian spot marks where its energy exceeds the threshold, so that width² = 2w²·ln(P/P_th): a straight line in ln P
whose slope gives the 1/e² radius w and whose zero the threshold (Liu, Opt. Lett. 7:196, 1982).
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import fdtrc, stdtrit

from keencoat.core.errors import BadValueError, require_positive
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.quantities import Range

Array = NDArray[np.float64]

LEAST_LINES = 4
_BENT_P = 0.02
_LOOSE_R2 = 0.9


@dataclass(frozen=True)
class MeasuredLine:
    """A line: power in per cent (or any figure that is proportional to energy) and its width in µm."""

    power_pct: float
    width_um: float

    def __post_init__(self) -> None:
        require_positive(self.power_pct, "power_pct", "%")
        require_positive(self.width_um, "width_um", "µm")


@dataclass(frozen=True)
class SpotResult:
    """What a line test says: 1/e² radius in µm and the power that just marks, in per cent, with 90 % ranges; r² of the
    straight line, and what there is to say about it."""

    radius_um: Range
    threshold_pct: Range
    r2: float
    findings: tuple[Finding, ...]

    @property
    def spot_mm(self) -> float:
        """1/e² diameter, mm."""
        return 2 * self.radius_um.mid / 1000


def read_lines(lines: list[MeasuredLine]) -> SpotResult:
    """Spot and threshold. Raises BadValueError for fewer than four lines, powers all alike, or widths that shrink."""
    if len({line.power_pct for line in lines}) < LEAST_LINES:
        raise BadValueError(
            f"{len({line.power_pct for line in lines})} different powers are too few for a straight line.",
            field="lines",
            hint=f"Measure at least {LEAST_LINES} lines at rising power, over a factor of three.",
        )
    x = np.log([line.power_pct for line in lines])
    y = np.square([line.width_um for line in lines])
    # It takes a second to load, which only whoever measures lines shall wait for.
    from scipy.stats import linregress

    fit = linregress(x, y)
    if fit.slope <= 0:
        raise BadValueError(
            "These lines do not grow wider with power.",
            field="lines",
            hint="Check which width belongs to which power; measure in focus.",
        )
    t = float(stdtrit(len(x) - 2, 0.95))
    slope_low, slope_high = max(1e-9, fit.slope - t * fit.stderr), fit.slope + t * fit.stderr
    radius = Range(*(math.sqrt(s / 2) for s in (slope_low, float(fit.slope), slope_high)))
    zero = -fit.intercept / fit.slope
    low, high = _zero_range(x, y, float(fit.slope), float(fit.intercept), t)
    threshold = Range(math.exp(low), math.exp(zero), math.exp(high))
    return SpotResult(radius, threshold, float(fit.rvalue**2), _findings(x, y, float(fit.rvalue**2)))


def _zero_range(x: Array, y: Array, slope: float, intercept: float, t: float) -> tuple[float, float]:
    """Ends of the x at which the line is zero (Fieller 1954); wide open ends are cut at a factor of ten."""
    n, mean = len(x), float(x.mean())
    spread = float(((x - mean) ** 2).sum())
    s2 = float(((y - intercept - slope * x) ** 2).sum()) / (n - 2)
    g = t**2 * s2 / (slope**2 * spread)
    zero = -intercept / slope
    if g >= 1:
        return zero - math.log(10), min(zero + math.log(10), float(x.min()))
    half = t / slope * math.sqrt(s2 * ((1 - g) / n + (zero - mean) ** 2 / spread))
    centre = zero + g * (zero - mean) / (1 - g)
    return centre - half / (1 - g), centre + half / (1 - g)


def _findings(x: Array, y: Array, r2: float) -> tuple[Finding, ...]:
    found = []
    if _bent(x, y):
        found.append(
            Finding(
                FindingCode.LINES_BENT,
                Severity.WARN,
                "The squared widths do not lie on a straight line over ln power.",
                fix="Leave the strongest lines out: heat widens them, and the radius comes out too large. Check focus.",
                figures={"r2": r2},
                source="liu1982",
            )
        )
    elif r2 < _LOOSE_R2:
        found.append(
            Finding(
                FindingCode.LINES_LOOSE,
                Severity.WARN,
                f"The widths scatter widely about the straight line (r² {r2:.2f}).",
                fix="Measure again through a loupe, in the middle of each line, or burn more of them.",
                figures={"r2": r2},
                source="liu1982",
            )
        )
    if math.exp(float(x.max() - x.min())) < 2:
        found.append(
            Finding(
                FindingCode.LINES_NARROW,
                Severity.NOTE,
                "The powers span less than a factor of two.",
                fix="Span three or more: the range of radius and threshold shrinks with it.",
                source="liu1982",
            )
        )
    return tuple(found)


def _bent(x: Array, y: Array) -> bool:
    """Whether a curve fits significantly better than a line (F test of the squared term)."""
    if len(x) < 5:
        return False
    straight = y - np.polyval(np.polyfit(x, y, 1), x)
    curved = y - np.polyval(np.polyfit(x, y, 2), x)
    left = float((curved**2).sum())
    scale = float((y**2).sum())
    if left < 1e-12 * scale:
        return float((straight**2).sum()) > 1e-9 * scale
    f = float((straight**2).sum() - left) / (left / (len(x) - 3))
    return float(fdtrc(1, len(x) - 3, f)) < _BENT_P
