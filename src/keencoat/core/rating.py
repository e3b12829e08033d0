"""What a cell did, in one word."""

from enum import StrEnum

FULL_AT = 0.80
"""How full a mark is, of 1, from which it counts as clean, one time in two (our own estimate)."""


class Rating(StrEnum):
    """What a cell did."""

    FAINT = "faint"
    CLEAN = "clean"
    HARSH = "harsh"
