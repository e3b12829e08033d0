"""The driver of the simulated laser: what a burn holds while it runs. A real machine's driver would be another one."""

from types import TracebackType
from typing import Self

from keencoat.bench.laser.controller import Bed, Burned, Controller
from keencoat.bench.laser.link import SocketLaser
from keencoat.bench.laser.server import LaserServer


class PracticeLaser(SocketLaser):
    """A simulated laser with a bed of its own, switched on, spoken to over its wire and switched off at the end."""

    def __init__(self, bed: Bed, pace: float) -> None:
        self._controller = Controller(bed, pace)
        self._server = LaserServer(self._controller)
        super().__init__(self._server.address)

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        try:
            self.close()
        finally:
            self._server.close()

    @property
    def burned(self) -> list[Burned]:
        """Every stroke that it made so far, as the practice bench's plant takes them."""
        return self._controller.burned
