"""Drawing grids, burning them, and their files."""

from dataclasses import asdict, dataclass
from datetime import datetime

from django.db import transaction

from keencoat.core.errors import BadValueError, NotAllowedError
from keencoat.core.findings import Finding
from keencoat.core.grid.design import GridDesign, PlannedCell, design_blind, design_crossed
from keencoat.core.grid.formats import CellRating, write_cells_csv, write_svg
from keencoat.core.grid.layout import GridLayout, lay_out, restore_layout, round_findings
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities.energy import power_for_energy_pct
from keencoat.core.quantities.setting import Machine, Setting, typed_speed_mm_s
from keencoat.core.states import GRID_MOVES, GridState, move
from keencoat.core.toolpath.gcode import write_gcode
from keencoat.core.toolpath.raster import Task, grid_tasks
from keencoat.core.toolpath.timing import burn_time_s
from keencoat.core.window.model import Rating
from keencoat.core.window.predict import next_band
from keencoat.jobs.models import Cell, Job, TestGrid
from keencoat.jobs.services.drying import drying_of
from keencoat.jobs.services.jobs import lock_job, log, newest_grid, take_turn
from keencoat.jobs.services.observations import fit_of, mean_ln_dwell
from keencoat.logbook.models import LogEntry
from keencoat.shop.access import find_one
from keencoat.shop.models import Workshop, machine_of


@dataclass(frozen=True)
class GridWish:
    """What the maker asks of a grid; None leaves the choice to us."""

    kind: str
    cells: int
    interval_mm: float
    passes: int
    cell_mm: float | None = None
    gap_mm: float | None = None


@dataclass(frozen=True)
class GridDraft:
    """A designed and laid-out grid, not stored."""

    design: GridDesign
    layout: GridLayout
    piece: FlatPiece
    machine: Machine
    label_setting: Setting
    burn_seconds: float
    findings: tuple[Finding, ...]


def draft_grid(job: Job, wish: GridWish) -> GridDraft:
    """Design a grid for a job from what is known so far: the prior, or the cells rated already."""
    machine, piece = job.machine.to_core(), job.piece().face
    fit = fit_of(job)
    band = next_band(fit, mean_ln_dwell(fit))
    if wish.kind == TestGrid.Kind.BLIND:
        design = design_blind(machine, wish.interval_mm, wish.passes)
    elif wish.kind == TestGrid.Kind.CROSSED:
        design = design_crossed(machine, band, wish.interval_mm, wish.passes, wish.cells)
    else:
        raise BadValueError(f"“{wish.kind}” is no kind of grid.", field="kind", hint="Known: crossed, blind.")
    layout = lay_out(design, piece, wish.cell_mm, wish.gap_mm)
    # Codes must be readable, not judged: the middle of the band at a middling speed.
    middle = design.cells[len(design.cells) // 2].setting
    dwell_ms = 1000 * machine.spot_mm / middle.speed_mm_s
    energy = (band.low_j_mm2(dwell_ms) * band.high_j_mm2(dwell_ms)) ** 0.5
    power = power_for_energy_pct(energy, middle.speed_mm_s, wish.interval_mm, wish.passes, machine.rated_w)
    label_setting = Setting(
        min(100.0, max(machine.min_power_pct, round(power, 1))),
        typed_speed_mm_s(middle.speed_mm_s, machine), wish.interval_mm,
    )  # fmt: skip
    tasks = grid_tasks(layout, piece, machine, label_setting)
    findings = design.findings + round_findings(job.piece())
    return GridDraft(design, layout, piece, machine, label_setting, burn_time_s(tasks, machine), findings)


@transaction.atomic
def draw_grid(workshop: Workshop, job_id: int, wish: GridWish, at: datetime) -> TestGrid:
    """Store a grid. One that was drawn but never burned is replaced; burned ones stay for good."""
    job = lock_job(workshop, job_id)
    draft = draft_grid(job, wish)
    last = newest_grid(job)
    if last is not None and last.state == GridState.BURNED:
        raise NotAllowedError(
            f"Grid {last.label} is burned and not rated yet.", field="state", hint="Rate it first; it may suffice."
        )
    number = (last.number if last else 0) + 1
    if last is not None and last.state == GridState.DRAWN:
        number = last.number
        last.delete()
    grid = TestGrid.objects.create(
        job=job,
        number=number,
        kind=wish.kind,
        cell_mm=draft.layout.cell_mm,
        gap_mm=draft.layout.gap_mm,
        rows=draft.design.rows,
        columns=draft.design.columns,
        label_setting=asdict(draft.label_setting),
        machine_facts=job.machine.facts(),
        machine_name=job.machine.name,
        piece_facts=asdict(draft.piece),
        burn_seconds=draft.burn_seconds,
        findings=[asdict(f) for f in draft.findings],
        drawn_at=at,
    )
    Cell.objects.bulk_create(
        Cell(
            grid=grid, row=p.cell.row, column=p.cell.column, code=p.cell.code, x_mm=p.x_mm, y_mm=p.y_mm,
            **asdict(p.cell.setting),
        )
        for p in draft.layout.cells
    )  # fmt: skip
    return grid


@transaction.atomic
def burn_grid(workshop: Workshop, grid_id: int, at: datetime) -> TestGrid:
    """Say that a grid was burned: its cells are fixed from now on. The coat must be on, and dry by the clock."""
    grid = lock_grid(workshop, grid_id)
    job = grid.job
    grid.state = move(GRID_MOVES, GridState(grid.state), GridState.BURNED)
    drying = drying_of(job, at)
    if job.recipe().is_put_on and not drying.burnable:
        on = max(g.coats_on for g in drying.groups)
        missing = f"coat {on + 1} of {job.coats} is not on" if on < job.coats else "the coat is not dry"
        raise NotAllowedError(
            f"Not yet: {missing}.", field="state", hint="Stamp the coats in the Coat chapter, or wait until it is dry."
        )
    grid.burned_at = at
    grid.lot = job.lots.last()
    grid.save()
    log(job, LogEntry.Kind.GRID, at, f"Grid {grid.label} burned: {grid.cells.count()} cells", cells=grid.cells.count())
    return grid


def find_grid(workshop: Workshop, grid_id: int) -> TestGrid:
    """The grid of that id in this workshop; raises MissingError."""
    rows = TestGrid.objects.filter(job__workshop=workshop).select_related("job", "lot").prefetch_related("cells")
    return find_one(rows, "grid", pk=grid_id)


def lock_grid(workshop: Workshop, grid_id: int) -> TestGrid:
    """As `find_grid`, read after taking the turn of its job."""
    take_turn(workshop, find_one(TestGrid.objects.filter(job__workshop=workshop), "grid", pk=grid_id).job_id)
    return find_grid(workshop, grid_id)


def piece_of(grid: TestGrid) -> FlatPiece:
    """The piece as it was when the grid was drawn."""
    return FlatPiece(**(grid.piece_facts | {"shape": Shape(grid.piece_facts["shape"])}))


def layout_of(grid: TestGrid) -> GridLayout:
    """The grid's layout, from its stored cells."""
    cells = [(PlannedCell(c.row, c.column, c.setting()), c.x_mm, c.y_mm) for c in grid.cells.all()]
    return restore_layout(cells, grid.rows, grid.columns, grid.cell_mm, grid.gap_mm)


def tasks_of(grid: TestGrid) -> list[Task]:
    """What the head does for the grid."""
    return grid_tasks(layout_of(grid), piece_of(grid), machine_of(grid.machine_facts), Setting(**grid.label_setting))


def gcode_of(grid: TestGrid) -> str:
    """The grid as G-code."""
    return write_gcode(tasks_of(grid), machine_of(grid.machine_facts), f"{grid.job.name} {grid.label}")


def svg_of(grid: TestGrid) -> str:
    """The grid as SVG."""
    title = f"{grid.job.name}, {grid.label}"
    return write_svg(layout_of(grid), piece_of(grid), machine_of(grid.machine_facts), title)


def csv_of(grid: TestGrid) -> str:
    """The grid's cells as CSV, with ratings where there are any."""
    ratings = {
        c.code: CellRating(c.code, Rating(c.rating) if c.rating else None, tuple(c.defects), c.heard_snapping)
        for c in grid.cells.all()
    }
    return write_cells_csv(layout_of(grid), machine_of(grid.machine_facts), ratings)
