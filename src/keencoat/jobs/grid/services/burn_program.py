"""What is sent to a laser for a grid, and where in it each cell begins."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from keencoat.bench.laser.controller import Bed
from keencoat.core.grid import cell_item
from keencoat.core.states import GridState
from keencoat.core.toolpath import Item, Task, extent_of, gcode_lines
from keencoat.jobs.grid.services.drawing import tasks_of
from keencoat.jobs.grid.services.files import title_of
from keencoat.jobs.models import Cell, GridBurn, TestGrid
from keencoat.shop.models import machine_of


@dataclass(frozen=True)
class BurnProgram:
    """What is sent for a burn: the lines, where in them each item begins (number of lines before it), the heights that
    the hand sets at its halts, mm, and the bed it runs on."""

    lines: tuple[str, ...]
    starts: tuple[tuple[int, Item], ...]
    heights_mm: tuple[float, ...]
    bed: Bed


def program_of(burn: GridBurn) -> BurnProgram:
    """The program of a burn: its whole spare, or of a grid that was broken off the cells that were not begun."""
    grid = TestGrid.objects.select_related("job").get(pk=burn.grid_id)
    machine, tasks = machine_of(grid.machine_facts), tasks_to_burn(grid, burn.spare)
    left, low, _, _ = extent_of(tasks)
    bed = Bed(
        machine.bed_x_mm, machine.bed_y_mm, max(0.0, -left), max(0.0, -low), machine.max_speed_mm_s, machine.accel_mm_s2
    )
    items, lines = zip(*gcode_lines(tasks, machine, title_of(grid, burn.spare), grid.mirrored), strict=True)
    return BurnProgram(lines, tuple(_starts(items)), tuple(_heights(tasks)), bed)


def tasks_to_burn(grid: TestGrid, spare: int) -> list[Task]:
    """What is left to burn on a spare. Frame and codes are burned again only if no cell was reached."""
    tasks = tasks_of(grid, spare)
    if grid.state == GridState.DRAWN:
        return tasks
    cells = [c for c in grid.cells.all() if c.spare == spare]
    left = {cell_item(c.code) for c in cells if c.burned == Cell.Burned.NONE}
    return tasks if len(left) == len(cells) else [t for t in tasks if t.item in left]


def _heights(tasks: list[Task]) -> list[float]:
    """Heights that the hand sets at each halt of the program."""
    heights, now = [], 0.0
    for task in tasks:
        if task.focus_mm != now:
            now = task.focus_mm
            heights.append(now)
    return heights


def _starts(items: Iterable[Item | None]) -> Iterator[tuple[int, Item]]:
    now = None
    for n, item in enumerate(items):
        if item is not None and item != now:
            yield n, item
            now = item
