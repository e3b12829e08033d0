"""What a map of settings is drawn for: all that is held while power and speed are chosen."""

from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from keencoat.core.errors import require_within
from keencoat.core.quantities.setting import Machine, Setting, require_lines

Speeds = TypeVar("Speeds", float, NDArray[np.float64])


@dataclass(frozen=True)
class Slice:
    """A machine, how far its lines lie apart, how often they are burned, and the film against the one that the job has.

    >>> from keencoat.core.quantities.setting import BeamSource
    >>> Slice(Machine(BeamSource.BLUE, 5, 0.08, 1, 200, 1, 1000, 400, 400), interval_mm=0.1, passes=2).full_j_mm2(50)
    2.0
    """

    machine: Machine
    interval_mm: float
    passes: int = 1
    film_share: float = 1.0

    def __post_init__(self) -> None:
        require_lines(self.interval_mm, self.passes)
        require_within(self.film_share, 0.2, 5, "film_share")

    @classmethod
    def of(cls, setting: Setting, machine: Machine) -> "Slice":
        """The one in which a setting lies."""
        return cls(machine, setting.interval_mm, setting.passes)

    def setting(self, power_pct: float, speed_mm_s: float) -> Setting:
        """A setting in it."""
        return Setting(power_pct, speed_mm_s, self.interval_mm, self.passes)

    def full_j_mm2(self, speed_mm_s: Speeds) -> Speeds:
        """Areal energy at this speed, or at each of a column of them, and full power, J/mm²."""
        return self.machine.rated_w * self.passes / (speed_mm_s * self.interval_mm)
