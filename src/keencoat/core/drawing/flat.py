"""Curves as short straight pieces, whoever draws them: a path of an SVG, a font's glyph, the outline of a stroke."""

import math

import numpy as np
from fontTools.pens.basePen import BasePen

from keencoat.core.drawing.areas import Ring

_MOST_STEPS = 400
_At = tuple[float, float]


class RingPen(BasePen):  # type: ignore[misc] # fontTools' pens have no types
    """Collects what is drawn with it as `rings`, no curve further than `tolerance` from its straight pieces."""

    def __init__(self, tolerance: float) -> None:
        super().__init__()
        self._tolerance = tolerance
        self._drawn: list[list[_At]] = []

    @property
    def rings(self) -> list[Ring]:
        """Every subpath's points, of shape (points, 2)."""
        return [np.array(ring, dtype=float) for ring in self._drawn]

    def _moveTo(self, to: _At) -> None:  # noqa: N802 # the names that a pen has
        self._drawn.append([to])

    def _lineTo(self, to: _At) -> None:  # noqa: N802
        self._drawn[-1].append(to)

    def _curveToOne(self, first: _At, second: _At, to: _At) -> None:  # noqa: N802
        """Bézier's cubic in n equal steps: between them it strays by an eighth of its largest second derivative over n²
        at most, and that derivative by six times the second differences of its points."""
        control = np.array([self._drawn[-1][-1], first, second, to], dtype=float)
        bend = float(np.hypot(*np.diff(control, 2, axis=0).T).max())
        wanted = math.sqrt(0.75 * bend / self._tolerance) if math.isfinite(bend) else 1
        steps = min(_MOST_STEPS, max(1, math.ceil(wanted)))
        t = (np.arange(1, steps + 1) / steps)[:, None]
        weights = np.hstack([(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3])
        self._drawn[-1].extend(map(tuple, (weights @ control).tolist()))
