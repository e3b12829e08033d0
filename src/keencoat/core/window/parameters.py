"""What the window model holds, by name: each parameter with its place in the vector.

x is ln areal energy (J/mm²), d ln dwell (ms), o = ln(spot/interval), n = ln passes, c = ln(film / the job's film),
f = ln(side of the patch / side of the planned fill).
The enough boundary lies at x = A₁, the too-much boundary at A₂, where energy or irradiance harms, whichever is sooner:

    A₁  = enough + slope·d + bend·d² + overlap·o + passes·n + film·c + patch·f
    gap = width + wedge·d + overlap_gap·o + sparse·min(o, 0) + passes_gap·n
    A₂  = min(A₁ + gap, enough + width + ceiling + d + o + n + film·c + patch·f)

x − d − o − n is ln of watts over the spot's area, whatever speed, interval and passes are.
"""

from enum import IntEnum

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]


class P(IntEnum):
    """Places in the vector."""

    ENOUGH = 0
    SLOPE = 1
    WIDTH = 2
    WEDGE = 3
    BEND = 4
    STEEP_ENOUGH = 5
    STEEP_HARM = 6
    CURVE = 7
    OVERLAP = 8
    OVERLAP_GAP = 9
    PASSES = 10
    PASSES_GAP = 11
    FILM = 12
    SCATTER = 13
    SPARSE = 14
    PATCH = 15
    SHARED = 16
    CEILING = 17


SIZE = len(P)

MEANING: dict[P, str] = {
    P.ENOUGH: "ln J/mm² that is just enough, at 1 ms dwell, lines one spot apart, one pass",
    P.SLOPE: "how it grows with ln dwell: ½ for heat that sinks in, 0 for a coat that burns off at once",
    P.WIDTH: "ln of too much over enough, at 1 ms; below 0 the window is shut",
    P.WEDGE: "how the width grows with ln dwell",
    P.BEND: "curvature of both boundaries in ln dwell",
    P.STEEP_ENOUGH: "ln of how sharply faint turns to clean",
    P.STEEP_HARM: "ln of how sharply clean turns to harsh",
    P.CURVE: "how much steeper than linear the watts rise with the per cent, 0 for linear",
    P.OVERLAP: "how the enough boundary moves with ln(spot/interval)",
    P.OVERLAP_GAP: "how the width does",
    P.SPARSE: "how the width shrinks with ln(interval/spot) once lines lie further apart than the spot is wide",
    P.PASSES: "how the enough boundary moves with ln passes",
    P.PASSES_GAP: "how the width does",
    P.FILM: "how both boundaries move with ln film",
    P.PATCH: "how both boundaries move with ln patch size: heat that gathers in a fill, or lines that return sooner",
    P.CEILING: "ln of the irradiance that harms however short it is, over the one at which energy harms at 1 ms",
    P.SHARED: "the too-much boundary's share of a piece's own shift: 1 if a thick coat moves both alike, 0 if it stays",
    P.SCATTER: "ln of the pieces' scatter against what coat, power and focus explain",
}
