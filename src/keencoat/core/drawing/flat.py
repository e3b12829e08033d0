"""Curves as short straight pieces, whoever draws them: a path of an SVG, a font's glyph, the outline of a stroke."""

import math
from functools import cache

import numpy as np
from fontTools.pens.basePen import BasePen

from keencoat.core.drawing.areas import Ring

_MOST_STEPS = 400
_At = tuple[float, float]


@cache
def _weights(steps: int) -> list[tuple[float, float, float, float]]:
    """What each control point counts (Bernstein's polynomials) after each step."""
    way = [step / steps for step in range(1, steps + 1)]
    return [((1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3) for t in way]


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
        drawn = self._drawn[-1]
        (x0, y0), (x1, y1), (x2, y2), (x3, y3) = drawn[-1], first, second, to
        bend = max(math.hypot(x0 - 2 * x1 + x2, y0 - 2 * y1 + y2), math.hypot(x1 - 2 * x2 + x3, y1 - 2 * y2 + y3))
        wanted = math.sqrt(0.75 * bend / self._tolerance) if math.isfinite(bend) else 1
        steps = min(_MOST_STEPS, max(1, math.ceil(wanted)))
        for a, b, c, d in _weights(steps):
            drawn.append((a * x0 + b * x1 + c * x2 + d * x3, a * y0 + b * y1 + c * y2 + d * y3))
