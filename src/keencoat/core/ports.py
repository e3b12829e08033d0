"""What real devices would implement; the practice bench implements the same."""

from dataclasses import dataclass
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


@dataclass(frozen=True)
class LaserStatus:
    """What a laser does: idle, run, hold or stopped; how many lines it has done; its clock in seconds."""

    state: str
    done: int
    clock_s: float


class Laser(Protocol):
    """A laser that takes G-code line by line."""

    def send(self, line: str) -> None:
        """Hand over a line."""

    def answer(self, timeout_s: float | None = None) -> str:
        """The answer to the oldest line not answered yet: `ok`, or `error` with number and reason."""

    def status(self) -> LaserStatus:
        """What it does now, whatever lies ahead."""

    def pause(self) -> None:
        """Hold."""

    def resume(self) -> None:
        """Go on after a pause or a halt."""

    def stop(self) -> None:
        """Beam off at once."""

    def set_height(self, height_mm: float) -> None:
        """Raise the head by so much above its usual height, while the program halts for it."""


class Camera(Protocol):
    """A camera that gives a photo as a phone would: JPEG bytes."""

    def shoot(self) -> bytes:
        """One photo."""
