"""What is sent to a laser for a grid, and where in it each cell begins."""

from keencoat.core.grid import cell_item
from keencoat.core.states import GridState
from keencoat.core.toolpath import Task, extent_of, gcode_lines
from keencoat.jobs.grid.services.drawing import tasks_of
from keencoat.jobs.grid.services.files import title_of
from keencoat.jobs.job.driving import BurnProgram, bed_under, starts_of
from keencoat.jobs.models import Cell, GridBurn, TestGrid
from keencoat.shop.models import machine_of


def program_of(burn: GridBurn) -> BurnProgram:
    """The program of a burn: its whole spare, or of a grid that was broken off the cells that were not begun."""
    grid = TestGrid.objects.select_related("job").get(pk=burn.grid_id)
    machine, tasks = machine_of(grid.machine_facts), tasks_to_burn(grid, burn.spare)
    bed = bed_under(machine, extent_of(tasks))
    written = gcode_lines(tasks, machine, title_of(grid, burn.spare), grid.mirrored, grid.job.focus_words())
    items, lines = zip(*written, strict=True)
    return BurnProgram(lines, tuple(starts_of(items)), tuple(_heights(tasks)), bed)


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
