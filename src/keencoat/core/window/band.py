"""An energy band: where, at each dwell, the answer should lie. Log-linear in dwell."""

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class EnergyBand:
    """From “surely too little” to “surely too much”: ln E = intercept + slope·ln(dwell in ms), E in J/mm²."""

    low_ln: float
    low_slope: float
    high_ln: float
    high_slope: float

    def low_j_mm2(self, dwell_ms: float) -> float:
        """Lower end at this dwell, J/mm²."""
        return math.exp(self.low_ln + self.low_slope * math.log(dwell_ms))

    def high_j_mm2(self, dwell_ms: float) -> float:
        """Upper end at this dwell, J/mm²; never below 1.5 times the lower end."""
        high = math.exp(self.high_ln + self.high_slope * math.log(dwell_ms))
        return max(high, 1.5 * self.low_j_mm2(dwell_ms))
