"""A simulated room sensor: temperature and humidity through a day and a year, seeded.

The room follows the sun with a lag, the seasons, and weather of two to five days; its water changes slowly, so warm
afternoons read drier. Magnus' formula (WMO 1996, from memory) turns water into humidity; it is not the psychrometrics
that the product uses.
"""

import math
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True)
class RoomReading:
    """What the sensor shows at a moment."""

    at: datetime
    temperature_c: float
    humidity_pct: float


@dataclass(frozen=True)
class SimulatedRoom:
    """A workshop room. Implements `keencoat.core.ports.RoomSensor`."""

    seed: int = 1
    mean_c: float = 18.5
    mean_humidity_pct: float = 56.0

    def read(self, at: datetime) -> RoomReading:
        """The reading at `at`; the same for the same seed and moment."""
        hours = at.astimezone(UTC).timestamp() / 3600
        day = hours % 24
        season = math.cos(2 * math.pi * (hours / 24 - 200) / 365.25)
        sun = math.sin(2 * math.pi * (day - 9.5) / 24)
        temperature = self.mean_c + 2.5 * season + 1.8 * sun + 0.8 * self._weather(hours, 0)
        water = _magnus_hpa(self.mean_c) * self.mean_humidity_pct / 100 * (1 + 0.12 * season)
        water *= 1 + 0.14 * self._weather(hours, 1)
        humidity = 100 * water / _magnus_hpa(temperature)
        return RoomReading(at, round(temperature, 1), round(min(97.0, max(18.0, humidity)), 1))

    def _weather(self, hours: float, what: int) -> float:
        periods, phases = _waves(self.seed, what)
        return float(np.sin(2 * math.pi * hours / periods + phases).sum() / 2)


@lru_cache(maxsize=256)
def _waves(seed: int, what: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Periods in hours and phases of a room's weather: drawn once, read hundreds of times a page."""
    rng = np.random.default_rng([seed, what])
    return rng.uniform(48, 120, 4), rng.uniform(0, 2 * math.pi, 4)


def _magnus_hpa(temperature_c: float) -> float:
    return 6.112 * math.exp(17.62 * temperature_c / (243.12 + temperature_c))
