"""One program for a load: every piece's own, moved into its pocket and to where the jig lies on the bed."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from keencoat.core.geometry import Transform, offset
from keencoat.core.jig.loads import Seat
from keencoat.core.toolpath import Item, Placed, Streamed, Task


@dataclass(frozen=True, eq=False)
class LoadProgram:
    """The programs of a load's pieces in the order of `seats`. `program_of` makes a piece's (from 1) in work
    coordinates of a box of `box_mm`, anew each time, so that only one lies in memory; `to_bed` comes of the seating."""

    seats: tuple[Seat, ...]
    program_of: Callable[[int], Streamed]
    box_mm: tuple[float, float]
    to_bed: Transform

    def __iter__(self) -> Iterator[Task]:
        width, height = self.box_mm
        for seat in self.seats:
            pocket = seat.pocket
            into = offset(pocket.x_mm - width / 2, pocket.y_mm - height / 2).then(self.to_bed)
            where = f"of piece {seat.piece} in pocket {pocket.number}"
            for task in Placed(self.program_of(seat.piece), into):
                yield replace(task, item=Item(task.item.part, where))

    def for_time(self) -> "LoadProgram":
        """What takes as long."""
        return replace(self, program_of=lambda piece: self.program_of(piece).for_time())
