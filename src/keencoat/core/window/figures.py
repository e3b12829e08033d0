"""What a photo's figures say of a cell beyond its rating: how far past each boundary it lies, in ln energy."""

import math

from keencoat.core.rating import FULL_AT

_FULL_BETWEEN, _HARM_BETWEEN = (0.45, 0.93), (0.3, 4.0)
_FULL_PER_LN, _HARM_PER_LN = 2.0, 10.0
"""How fast a mark fills and harm grows with ln energy near its boundary (our own estimates)."""


def beyond_enough(full: float) -> float | None:
    """How far beyond the enough boundary a mark so full (0…1) lies; None where it is too far from the limit to tell
    more than its rating does.

    >>> round(beyond_enough(0.90), 3)
    0.05
    """
    return (full - FULL_AT) / _FULL_PER_LN if _FULL_BETWEEN[0] < full < _FULL_BETWEEN[1] else None


def beyond_harm(harm: float) -> float | None:
    """How far beyond the too-much boundary a mark lies whose worst harm is so many times its limit; None as above.

    >>> beyond_harm(1.0)
    0.0
    """
    return math.log(harm) / _HARM_PER_LN if _HARM_BETWEEN[0] < harm < _HARM_BETWEEN[1] else None
