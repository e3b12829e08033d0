"""A program on the face of a round piece, as a turning device burns it.

Faces are the wall cut open: x round it, y up it, zero at the lower left corner; a program that lies across has x down
the wall and y round it. The axis that the device stands in for travels by turn, the other by millimetres along the
wall, which must be level. Where the wall's surface runs faster than the axis, or slower, feeds follow, so that the
beam goes over it at the setting's own speed; where lines run along a taper they spread apart as it widens, and power
follows the spread.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from keencoat.core.errors import BadValueError
from keencoat.core.placing.turning import StandsInFor, TurningDevice
from keencoat.core.placing.wall import ArtOnWall, ArtWay
from keencoat.core.toolpath import Moves, Streamed, Task

Floats = NDArray[np.float64]
_STEP_LN = 0.02
"""How much the wall may widen along a piece of a line that is burned at one power."""
_STRAYS_MM = 0.02
_MOST_PARTS = 64
_LEAST_MM = 1e-9


@dataclass(frozen=True)
class Turned:
    """How the face of a wall is burned: `art` says where its middle comes to, the device what turns, `widest_mm` where
    rollers carry it; `face_mm` is the face's width (round) and height (along); `across`: programs lie turned a quarter
    counterclockwise. Raises BadValueError unless lines that the device cannot follow are avoided: rows run along the
    linear axis with a device on Y, round the piece with one on X."""

    art: ArtOnWall
    device: TurningDevice
    widest_mm: float
    face_mm: tuple[float, float]
    across: bool

    def __post_init__(self) -> None:
        if self.across != (self.device.stands_in_for is StandsInFor.Y):
            way = "turned a quarter on the bed" if self.device.stands_in_for is StandsInFor.Y else "upright"
            raise BadValueError(
                f"A device that stands in for {self.device.stands_in_for.upper()} burns this face {way}.",
                field="across",
                hint="Turn the art on the bed the other way.",
            )

    def moves(self, moves: Moves, start: tuple[float, float]) -> Moves:
        """Moves on the face from `start` (on the face too) as the axes make them."""
        moves = self._parted(moves, start)
        x, y = self._axes(np.append(start[0], moves.x_mm), np.append(start[1], moves.y_mm))
        went = np.hypot(np.diff(x), np.diff(y))
        surface = self._surface_mm(moves, start)
        faster = np.where(surface > _LEAST_MM, went / np.maximum(surface, _LEAST_MM), 1.0)
        power = moves.power_pct
        if self.across:
            # Lines along the wall lie a part of a turn apart: wider where the wall is.
            power = power * self._radius_at(moves.x_mm, moves.y_mm) / self.art.radius_mm
        return replace(moves, x_mm=x[1:], y_mm=y[1:], speed_mm_s=moves.speed_mm_s * faster, power_pct=power)

    def _parted(self, moves: Moves, start: tuple[float, float]) -> Moves:
        """Lit moves in as many parts as the wall widens along them, and as straight art bends; the last part stops
        where the whole did."""
        if self.art.wall.is_cylinder or not len(moves):
            return moves
        x0, y0 = np.append(start[0], moves.x_mm[:-1]), np.append(start[1], moves.y_mm[:-1])
        widens = np.abs(np.log(self._radius_at(moves.x_mm, moves.y_mm) / self._radius_at(x0, y0))) / _STEP_LN
        if self.art.way is ArtWay.STRAIGHT:
            # A chord so long strays by l²/8ρ from its arc.
            bends = np.hypot(moves.x_mm - x0, moves.y_mm - y0) / math.sqrt(8 * self.art.tip_mm * _STRAYS_MM)
            widens = np.maximum(widens, bends)
        lit = (moves.power_pct > 0) & ~moves.rapid
        parts = np.where(lit, np.clip(np.ceil(widens), 1, _MOST_PARTS), 1).astype(int)
        of = np.repeat(np.arange(len(moves)), parts)
        number = np.arange(len(of)) - np.repeat(np.cumsum(parts) - parts, parts) + 1
        share, last = number / parts[of], number == parts[of]
        return Moves(
            x0[of] + share * (moves.x_mm - x0)[of],
            y0[of] + share * (moves.y_mm - y0)[of],
            moves.speed_mm_s[of],
            moves.power_pct[of],
            moves.stops[of] & last,
            moves.rapid[of],
        )

    def _on_art(self, x_mm: Floats, y_mm: Floats) -> tuple[Floats, Floats]:
        """Points of the program → of the art, about its middle."""
        width, height = self.face_mm
        if self.across:
            return y_mm - width / 2, height / 2 - x_mm
        return x_mm - width / 2, y_mm - height / 2

    def _radius_at(self, x_mm: Floats, y_mm: Floats) -> Floats:
        along, _ = self.art.onto(*self._on_art(x_mm, y_mm))
        return np.asarray(self.art.wall.diameter_mm(along) / 2)

    def _axes(self, x_mm: Floats, y_mm: Floats) -> tuple[Floats, Floats]:
        along, turn = self.art.onto(*self._on_art(x_mm, y_mm))
        axis = turn / 360 * self.device.turn_mm(self.widest_mm) * (-1 if self.device.backwards else 1)
        return (axis, along) if self.device.stands_in_for is StandsInFor.X else (along, axis)

    def _surface_mm(self, moves: Moves, start: tuple[float, float]) -> Floats:
        """How far each move goes on the wall itself."""
        x, y = np.append(start[0], moves.x_mm), np.append(start[1], moves.y_mm)
        along, turn = self.art.onto(*self._on_art(x, y))
        radius = self.art.wall.diameter_mm(along) / 2
        round_mm = np.radians(np.diff(turn)) * (radius[1:] + radius[:-1]) / 2
        return np.asarray(np.hypot(np.diff(along), round_mm))


@dataclass(frozen=True)
class TurnedProgram:
    """A program on a face, gone through a turning device task by task."""

    program: Streamed
    turned: Turned

    def __iter__(self) -> Iterator[Task]:
        # The head begins where the axes have their zero: at the middle of the art's face.
        at = (0.0, 0.0)
        for task in self.program:
            moves = task.moves
            yield replace(task, moves=self.turned.moves(moves, at))
            if len(moves):
                at = (float(moves.x_mm[-1]), float(moves.y_mm[-1]))

    def for_time(self) -> "TurnedProgram":
        """What takes as long."""
        return TurnedProgram(self.program.for_time(), self.turned)
