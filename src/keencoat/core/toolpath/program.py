"""What a laser does, as tasks of moves: the one form that grids and artwork come to, and from which time, energy,
room and G-code are read.

A program is read more than once and task by task: a list, or something that makes its tasks anew each time it is gone
through, so that a photo of millions of dots never lies in memory as a whole. Moves are in work coordinates: mm, zero
at the lower left corner of the piece's bounding box, x right, y up.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol, runtime_checkable

import numpy as np
from numpy.typing import NDArray

from keencoat.core.errors import BadValueError
from keencoat.core.geometry import Transform
from keencoat.core.quantities import Machine, Setting

Column = NDArray[np.float64]
Flags = NDArray[np.bool_]


class Part(StrEnum):
    """What a task marks."""

    EDGE = "frame and codes"
    CELL = "cell"
    ARTWORK = "artwork"
    JIG = "jig"


@dataclass(frozen=True)
class Item:
    """The thing on the piece that a task belongs to: which part, and its code or number there."""

    part: Part
    key: str = ""

    def __str__(self) -> str:
        return f"{self.part} {self.key}".strip()


@dataclass(frozen=True, eq=False)
class Moves:
    """Straight moves, one a row, each column of shape (moves,): where to, how fast, with what power (0: beam off),
    whether it ends at rest, and whether it only goes to the next start."""

    x_mm: Column
    y_mm: Column
    speed_mm_s: Column
    power_pct: Column
    stops: Flags
    rapid: Flags

    def __post_init__(self) -> None:
        columns = (self.x_mm, self.y_mm, self.speed_mm_s, self.power_pct, self.stops, self.rapid)
        if len({len(column) for column in columns}) > 1:
            raise ValueError(f"columns of moves differ in length: {[len(column) for column in columns]}")

    def __len__(self) -> int:
        return len(self.x_mm)

    def through(self, transform: Transform) -> "Moves":
        """The same moves in other coordinates."""
        x_mm, y_mm = transform.at(self.x_mm, self.y_mm)
        return Moves(x_mm, y_mm, self.speed_mm_s, self.power_pct, self.stops, self.rapid)


NOTHING = Moves(*(np.zeros(0),) * 4, *(np.zeros(0, dtype=bool),) * 2)


def moves_of(
    x_mm: Column, y_mm: Column, speed_mm_s: Column | float, power_pct: Column | float, stops: Flags, rapid: Flags
) -> Moves:
    """Moves from columns, or from one figure for all of them."""
    shape = np.shape(x_mm)
    speed, power = (np.broadcast_to(np.asarray(c, dtype=float), shape) for c in (speed_mm_s, power_pct))
    return Moves(np.asarray(x_mm, dtype=float), np.asarray(y_mm, dtype=float), speed, power, stops, rapid)


def joined(parts: Iterable[Moves]) -> Moves:
    """One after the other."""
    rows = [*parts] or [NOTHING]
    return Moves(
        np.concatenate([m.x_mm for m in rows]),
        np.concatenate([m.y_mm for m in rows]),
        np.concatenate([m.speed_mm_s for m in rows]),
        np.concatenate([m.power_pct for m in rows]),
        np.concatenate([m.stops for m in rows]),
        np.concatenate([m.rapid for m in rows]),
    )


@dataclass(frozen=True, eq=False)
class Task:
    """What the head does for one item at one setting. `wait_s` passes before it; for `focus_mm` the maker raises the
    head above its usual height."""

    item: Item
    setting: Setting
    moves: Moves
    wait_s: float = 0.0
    focus_mm: float = 0.0


Program = Iterable[Task]


@runtime_checkable
class Streamed(Protocol):
    """A program that is made anew each time it is gone through, and one that takes as long and is gone through
    sooner."""

    def __iter__(self) -> Iterator[Task]: ...

    def for_time(self) -> "Streamed": ...


def _steps(program: Program) -> Iterator[tuple[Task, Column]]:
    """Each task with the lengths of its moves, mm, from where the head is; it begins at zero."""
    x, y = 0.0, 0.0
    for task in program:
        moves = task.moves
        if len(moves):
            yield task, lengths_mm(moves, (x, y))
            x, y = float(moves.x_mm[-1]), float(moves.y_mm[-1])


def lengths_mm(moves: Moves, start: tuple[float, float]) -> Column:
    """How far each move goes, the first one from `start`, mm."""
    return np.hypot(np.diff(moves.x_mm, prepend=start[0]), np.diff(moves.y_mm, prepend=start[1]))


def energy_on_piece_j(program: Program, machine: Machine) -> float:
    """Energy that the beam delivers over all tasks, J."""
    return sum(
        float((machine.rated_w * task.moves.power_pct / 100 * length / task.moves.speed_mm_s).sum())
        for task, length in _steps(program)
    )


def lit_energy_j(setting: Setting, machine: Machine, lit_mm: float) -> float:
    """Energy of a beam that is on for so long a way, J: P·l/v."""
    return machine.rated_w * setting.power_pct / 100 * lit_mm / setting.speed_mm_s


def extent_of(program: Program) -> tuple[float, float, float, float]:
    """Least x, least y, largest x, largest y that the head visits, mm. Raises BadValueError if it visits nothing."""
    boxes = np.array(
        [(m.x_mm.min(), m.y_mm.min(), m.x_mm.max(), m.y_mm.max()) for m in (t.moves for t in program) if len(m)]
    )
    if not len(boxes):
        raise BadValueError("This program moves nothing.", field="cells", hint="Put something on the piece first.")
    left, low = boxes[:, :2].min(axis=0)
    right, top = boxes[:, 2:].max(axis=0)
    return float(left), float(low), float(right), float(top)
