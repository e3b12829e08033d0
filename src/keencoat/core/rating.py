"""What a cell did, in one word."""

from enum import StrEnum


class Rating(StrEnum):
    """What a cell did."""

    FAINT = "faint"
    CLEAN = "clean"
    HARSH = "harsh"
