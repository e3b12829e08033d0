"""What a cell truly is, from what the plant did to it. The reading never sees this; tests and scores do."""

from dataclasses import dataclass
from enum import StrEnum


class PlantRating(StrEnum):
    """The plant's own word for a cell."""

    FAINT = "faint"
    CLEAN = "clean"
    HARSH = "harsh"


@dataclass(frozen=True)
class Truth:
    """A fill: its box in mm (least x, least y, largest x, largest y), mean mark as an eye sees it, 0…1, share
    left unmarked, share harmed."""

    box: tuple[float, float, float, float]
    mark: float
    unmarked: float
    harmed: float

    @property
    def verdict(self) -> PlantRating:
        """What a careful eye would say."""
        if self.harmed >= 0.02:
            return PlantRating.HARSH
        if self.mark < 0.80 or self.unmarked > 0.06:
            return PlantRating.FAINT
        return PlantRating.CLEAN

    @property
    def clear(self) -> bool:
        """Whether every careful eye would say so: not near a border between two words."""
        if self.verdict is PlantRating.HARSH:
            return self.harmed >= 0.04
        if self.harmed > 0.006:
            return False
        if self.verdict is PlantRating.CLEAN:
            return self.mark >= 0.88 and self.unmarked <= 0.025
        return self.mark <= 0.68 or self.unmarked >= 0.15
