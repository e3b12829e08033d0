"""The height of the head at which lines are narrowest, from lines burned at several heights.

Near focus a Gaussian beam's width² is a parabola in height, w² = w₀²·(1 + ((z − z₀)/z_R)²) (ISO 11146-1).
"""

from dataclasses import dataclass

import numpy as np
from scipy import stats

from keencoat.core.errors import BadValueError, require_finite, require_positive
from keencoat.core.findings import Finding, Severity
from keencoat.core.window.predict import Range

LEAST_HEIGHTS = 5
_WIDEST_MM = 50.0


@dataclass(frozen=True)
class MeasuredHeight:
    """A line at a height of the head, mm (any zero), and its width in µm."""

    height_mm: float
    width_um: float

    def __post_init__(self) -> None:
        require_finite(self.height_mm, "height_mm")
        require_positive(self.width_um, "width_um", "µm")


@dataclass(frozen=True)
class FocusResult:
    """The height of the narrowest line with its 90 % range, mm, the width there, µm, and what there is to say."""

    height_mm: Range
    width_um: float
    findings: tuple[Finding, ...]


def read_ladder(rungs: list[MeasuredHeight]) -> FocusResult:
    """Fit the parabola. Raises BadValueError for fewer than five heights, or if no height is the narrowest."""
    if len({r.height_mm for r in rungs}) < LEAST_HEIGHTS:
        raise BadValueError(
            f"{len({r.height_mm for r in rungs})} different heights are too few for a parabola.",
            field="rungs", hint=f"Burn lines at {LEAST_HEIGHTS} heights or more, on both sides of the focus.",
        )  # fmt: skip
    z = np.array([r.height_mm for r in rungs])
    y = np.array([r.width_um for r in rungs]) ** 2
    centre = float(z.mean())
    design = np.stack([np.ones_like(z), z - centre, (z - centre) ** 2], axis=1)
    coefficients, *_ = np.linalg.lstsq(design, y, rcond=None)
    base, tilt, bow = (float(c) for c in coefficients)
    if bow <= 0:
        raise BadValueError(
            "These widths have no narrowest height.", field="rungs",
            hint="Go further up and down; check which width belongs to which height.",
        )  # fmt: skip
    degrees = len(z) - 3
    s2 = float(((y - design @ coefficients) ** 2).sum()) / degrees
    covariance = s2 * np.linalg.inv(design.T @ design)
    place = -tilt / (2 * bow)
    # Delta method for −b/2c.
    slope = np.array([0.0, -1 / (2 * bow), tilt / (2 * bow**2)])
    half = float(stats.t.ppf(0.95, degrees) * np.sqrt(slope @ covariance @ slope))
    half = min(half, _WIDEST_MM)
    at = centre + place
    findings: tuple[Finding, ...] = ()
    if not float(z.min()) < at < float(z.max()):
        findings = (Finding(
            "focus-outside", Severity.WARN, "The narrowest height lies outside the heights that were burned.",
            fix="Burn more lines on that side, then measure again.", source="iso11146",
        ),)  # fmt: skip
    elif half > 0.25 * float(z.max() - z.min()):
        findings = (Finding(
            "focus-vague", Severity.NOTE, "The parabola is shallow: the height is not well known.",
            fix="Go further up and down, where lines grow clearly wider.", source="iso11146",
        ),)  # fmt: skip
    width = float(np.sqrt(max(0.0, base + tilt * place + bow * place**2)))
    return FocusResult(Range(at - half, at, at + half), width, findings)
