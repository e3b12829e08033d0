"""A program that lies somewhere else on the bed than at its zero."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from keencoat.core.errors import BadValueError
from keencoat.core.geometry import Transform
from keencoat.core.quantities import Machine
from keencoat.core.toolpath.program import Streamed, Task, extent_of

_SLACK_MM = 0.05


@dataclass(frozen=True)
class Placed:
    """A program moved and turned as a whole by `to_bed`, which keeps lengths."""

    program: Streamed
    to_bed: Transform

    def __iter__(self) -> Iterator[Task]:
        for task in self.program:
            yield replace(task, moves=task.moves.through(self.to_bed))

    def for_time(self) -> "Placed":
        """What takes as long."""
        return replace(self, program=self.program.for_time())


def require_on_bed(program: Streamed, machine: Machine, field: str) -> None:
    """Raise BadValueError where the head would leave the bed, run-up included."""
    left, low, right, top = extent_of(program.for_time())
    beyond = max(-left, -low, right - machine.bed_x_mm, top - machine.bed_y_mm)
    if beyond > _SLACK_MM:
        raise BadValueError(
            f"The head would leave the bed by {beyond:.1f} mm, its run-up included.",
            field=field,
            hint="Lay it further inwards, or burn slower: the run-up grows with the square of the speed.",
        )
