"""An estimate with its range."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Range:
    """An estimate with the range that holds it nine times in ten."""

    low: float
    mid: float
    high: float
