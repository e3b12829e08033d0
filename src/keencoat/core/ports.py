"""What real devices would implement; the practice bench implements the same."""

from datetime import datetime
from typing import Protocol


class RoomAir(Protocol):
    """A reading of the room."""

    @property
    def at(self) -> datetime:
        """When it was read."""

    @property
    def temperature_c(self) -> float:
        """°C."""

    @property
    def humidity_pct(self) -> float:
        """Relative humidity, %."""


class RoomSensor(Protocol):
    """A thermometer with a hygrometer."""

    def read(self, at: datetime) -> RoomAir:
        """The room at that moment."""
