"""Designing grids, storing them, and saying that they are burned."""

import math
from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from datetime import datetime

from django.db import transaction

from keencoat.core.errors import BadValueError, NotAllowedError, StaleError, require_within
from keencoat.core.findings import Finding
from keencoat.core.grid import (
    LEGIBLE_SHARE,
    SHAPES_BY_CELLS,
    USUAL_GAP_MM,
    BurnPlan,
    CellSize,
    Factor,
    GridDesign,
    GridLayout,
    Steps,
    counts_for,
    design_blind,
    design_crossed,
    design_factors,
    design_listed,
    design_wedge,
    fit_grid,
    grid_area,
    grid_tasks,
    middle_setting,
    restore_layout,
    sample_mm_for,
    usual_cell_mm,
)
from keencoat.core.heat import GridHeat, findings_of, grid_heat, kept_share, thermal_of
from keencoat.core.piece import FlatPiece, Shape
from keencoat.core.quantities import Machine, Setting, Slice, require_reachable
from keencoat.core.states import GRID_MOVES, GridState, move
from keencoat.core.substrate import find_substrate
from keencoat.core.toolpath import Task, burn_time_s
from keencoat.core.window import (
    LEAST_CELLS,
    MOST_CELLS,
    EnergyBand,
    WindowFit,
    cells_that_pay,
    fastest_first,
    next_band,
    telling_cells,
)
from keencoat.jobs.belief import fit_of
from keencoat.jobs.coat.services.drying import drying_of
from keencoat.jobs.evidence import fill_mm, mean_ln_dwell
from keencoat.jobs.grid.services.ahead import Ahead, ahead_of, piece_minutes
from keencoat.jobs.job.services import lock_job, log, newest_grid, take_turn
from keencoat.jobs.models import Cell, GridKind, Job, TestGrid
from keencoat.logbook.models import EntryKind
from keencoat.shop.access import find_one, within_reach
from keencoat.shop.models import Workshop, machine_of

_USUAL_CELLS, _ANY = 12, 81
"""Cells of a table where nobody says; and what stands for a number where the design has its own."""
_LIKE_FILLS = (GridKind.NEXT, GridKind.CONFIRM)
"""Kinds whose patches are as large as the planned fill, so that they heat as it will."""


@dataclass(frozen=True)
class GridWish:
    """What the maker asks of a grid; None leaves the choice to us. `factors` count where `kind` is factors, `at` is the
    setting of a full patch, `powers` and `speeds` are those of a blind rectangle."""

    kind: str
    cells: int | None
    interval_mm: float
    passes: int
    cell_mm: float | None = None
    gap_mm: float | None = None
    factors: tuple[str, ...] = ()
    wait_s: float = 0.0
    mirrored: bool | None = None
    at: Setting | None = None
    powers: Steps | None = None
    speeds: Steps | None = None
    replaces: int | None = None
    """The drawn grid that the maker sees and gives up for this one."""


@dataclass(frozen=True)
class GridDraft:
    """A designed and laid-out grid, not stored; one layout for each spare it needs."""

    design: GridDesign
    sheets: tuple[GridLayout, ...]
    piece: FlatPiece
    machine: Machine
    plan: BurnPlan
    burn_seconds: float
    heat: GridHeat
    findings: tuple[Finding, ...]
    ahead: Ahead | None
    """What the search still takes, where cells were chosen for what they tell."""


def draft_grid(job: Job, wish: GridWish, at_time: datetime) -> GridDraft:
    """Design a grid for a job from what is known so far: the prior, or the cells rated already."""
    machine, piece = job.machine.to_core(), job.piece().face
    fit = fit_of(job)
    band = next_band(fit, mean_ln_dwell(fit))
    at = Slice(machine, wish.interval_mm, wish.passes)
    make, cells, counts = _maker(job, wish, fit, band, at, at_time)
    usual_mm = fill_mm(job) if wish.kind in _LIKE_FILLS else usual_cell_mm(machine, wish.interval_mm)
    size = CellSize(
        wish.cell_mm or usual_mm,
        wish.gap_mm or USUAL_GAP_MM,
        fixed=wish.cell_mm is not None or wish.gap_mm is not None,
        enough_mm=usual_cell_mm(machine, wish.interval_mm) if wish.kind == GridKind.NEXT else math.inf,
    )
    fitted = fit_grid(make, cells, counts, size, job.piece())
    mirrored = job.is_seen_through if wish.mirrored is None else wish.mirrored
    # Frame and codes must be readable, not judged.
    plan = BurnPlan(
        replace(middle_setting(at, band, LEGIBLE_SHARE), passes=1),
        wish.wait_s,
        mirrored,
    )
    tasks = [grid_tasks(sheet, piece, machine, plan) for sheet in fitted.sheets]
    thermal = thermal_of(job.substrate)
    kept = kept_share(find_substrate(job.substrate), job.recipe(), machine.source, job.layer_um())
    heat = grid_heat(list(zip(fitted.sheets, tasks, strict=True)), piece, machine, thermal, kept)
    findings = fitted.design.findings + fitted.findings + findings_of(heat, thermal)
    seconds = sum(burn_time_s(t, machine) for t in tasks)
    ahead = None
    if wish.kind == GridKind.NEXT:
        settings = [placed.cell.setting for sheet in fitted.sheets for placed in sheet.cells]
        ahead = ahead_of(job, fit, at, settings, seconds / 60, at_time)
    return GridDraft(fitted.design, fitted.sheets, piece, machine, plan, seconds, heat, findings, ahead)


def _maker(
    job: Job, wish: GridWish, fit: WindowFit, band: EnergyBand, at: Slice, at_time: datetime
) -> tuple[Callable[[int], GridDesign], int, tuple[int, ...]]:
    """How to make the wished design with so many cells, how many are wished, and how many it may have instead."""
    if wish.kind == GridKind.BLIND:
        return lambda _: design_blind(at, wish.powers, wish.speeds), _ANY, ()
    if wish.kind == GridKind.NEXT:
        wanted = job.workshop.wanted_share
        if wish.cells is None:
            telling = cells_that_pay(fit, at, MOST_CELLS, wanted, piece_min=piece_minutes(job, at_time))
        else:
            require_within(wish.cells, LEAST_CELLS, MOST_CELLS, "cells")
            telling = telling_cells(fit, at, wish.cells, wanted)
        fewer = tuple(range(LEAST_CELLS, len(telling)))
        left, low, right, top = grid_area(job.piece()).bounds
        wide = (right - left) / (top - low)
        return lambda cells: design_listed(fastest_first(telling[:cells]), wide), len(telling), fewer
    if wish.kind in (GridKind.CONFIRM, GridKind.WEDGE):
        if wish.at is None:
            raise BadValueError(
                f"A {GridKind(wish.kind).label} needs a setting.", field="at", hint="Choose one in the Window chapter."
            )
        setting = require_reachable(wish.at, at.machine)
        return lambda _: design_wedge(setting) if wish.kind == GridKind.WEDGE else design_listed([setting]), _ANY, ()
    cells = _USUAL_CELLS if wish.cells is None else wish.cells
    if wish.kind == GridKind.CROSSED:
        return lambda cells: design_crossed(at, band, cells), cells, tuple(SHAPES_BY_CELLS)
    if wish.kind == GridKind.FACTORS:
        unknown = [f for f in wish.factors if f not in set(Factor)]
        if unknown:
            raise BadValueError(
                f"“{unknown[0][:20]}” is nothing that a grid varies.",
                field="factors",
                hint=f"Known: {', '.join(Factor)}.",
            )
        factors = tuple(Factor(f) for f in wish.factors)
        return lambda cells: design_factors(at, band, factors, cells, job.coats), cells, counts_for(len(factors))
    raise BadValueError(
        f"“{wish.kind}” is no kind of grid.", field="kind", hint="Known: next, crossed, factors, blind, confirm, wedge."
    )


@transaction.atomic
def draw_grid(workshop: Workshop, job_id: int, wish: GridWish, at: datetime) -> TestGrid:
    """Store a grid. One that was drawn but never burned is replaced; burned ones stay for good."""
    job = lock_job(workshop, job_id)
    draft = draft_grid(job, wish, at)
    grid = TestGrid(
        job=job,
        number=free_number(job, wish.replaces),
        kind=wish.kind,
        factors=list(wish.factors),
        cell_mm=draft.sheets[0].cell_mm,
        gap_mm=draft.sheets[0].gap_mm,
        sample_mm=sample_mm_for(draft.sheets[0].cell_mm),
        framed=True,
        mirrored=draft.plan.mirrored,
        wait_s=draft.plan.wait_s,
        spares=len(draft.sheets),
        rows=draft.design.rows,
        columns=draft.design.columns,
        label_setting=asdict(draft.plan.label_setting),
        machine_facts=job.machine.facts(),
        machine_name=job.machine.name,
        piece_facts=asdict(draft.piece),
        burn_seconds=draft.burn_seconds,
        heat=asdict(draft.heat),
        findings=[asdict(f) for f in draft.findings],
        drawn_at=at,
    )
    grid.save()
    store_cells(grid, draft.sheets)
    return grid


def free_number(job: Job, seen_grid: int | None) -> int:
    """The number of the job's next grid; one that was drawn and never burned makes room, if the caller has seen it.

    No number is given twice: a program saved under it would burn other cells than the grid that now has it. Raises
    NotAllowedError while a burned one waits for its ratings, StaleError if another was drawn in between.
    """
    last = newest_grid(job)
    if last is not None:
        _make_room(last, seen_grid)
    job.grids_drawn = max(job.grids_drawn, last.number if last else 0) + 1
    job.save(update_fields=["grids_drawn"])
    return job.grids_drawn


def _make_room(last: TestGrid, seen_grid: int | None) -> None:
    if last.state == GridState.BURNED:
        raise NotAllowedError(
            f"Grid {last.label} is burned and not rated yet.", field="state", hint="Rate it first; it may suffice."
        )
    if last.state == GridState.DRAWN:
        if any(burn.ended_at is None for burn in last.burns.all()):
            raise NotAllowedError(f"Grid {last.label} is burning.", field="state", hint="Wait, or stop it first.")
        if last.pk != seen_grid:
            raise StaleError(
                f"Grid {last.label} was drawn elsewhere at {last.drawn_at:%H:%M} UTC; it was not replaced.",
                field="replaces",
                hint="Reload to see it; draw again to replace it.",
            )
        last.delete()


def store_cells(grid: TestGrid, sheets: tuple[GridLayout, ...]) -> None:
    """Store the cells of a grid, spare by spare."""
    Cell.objects.bulk_create(
        Cell(
            grid=grid,
            row=p.cell.row,
            column=p.cell.column,
            code=p.cell.code,
            x_mm=p.x_mm,
            y_mm=p.y_mm,
            focus_mm=p.cell.focus_mm,
            coats=p.cell.coats,
            grey_pct=p.cell.grey_pct,
            spare=spare,
            **asdict(p.cell.setting),
        )
        for spare, sheet in enumerate(sheets, 1)
        for p in sheet.cells
    )


@transaction.atomic
def burn_grid(workshop: Workshop, grid_id: int, at: datetime) -> TestGrid:
    """Say that a grid was burned: its cells are fixed from now on. The coat must be on, and dry by the clock."""
    grid = lock_grid(workshop, grid_id)
    require_burnable(grid, at)
    return mark_burned(grid, at)


def require_burnable(grid: TestGrid, at: datetime) -> None:
    """Raise NotAllowedError unless the grid is drawn, and its job's coat is on and dry by the clock."""
    if grid.state != GridState.DRAWN:
        raise NotAllowedError(
            f"Grid {grid.label} is {grid.state} already: what it was burned with stays.",
            field="state",
            hint="Draw another grid to burn again.",
        )
    job = grid.job
    drying = drying_of(job, at)
    if job.recipe().is_put_on and not drying.burnable_pieces:
        on = max(g.coats_on for g in drying.groups)
        missing = f"coat {on + 1} of {job.coats} is not on" if on < job.coats else "the coat is not dry"
        raise NotAllowedError(
            f"Not yet: {missing}.", field="state", hint="Stamp the coats in the Coat chapter, or wait until it is dry."
        )


def mark_burned(grid: TestGrid, at: datetime) -> TestGrid:
    """Fix a grid's cells as burned at that time."""
    job = grid.job
    grid.state = move(GRID_MOVES, GridState(grid.state), GridState.BURNED)
    grid.burned_at = at
    grid.lot = job.lots.last()
    grid.save()
    cells = list(grid.cells.all())
    whole = sum(c.counts for c in cells)
    words = f"{whole} cells" if whole == len(cells) else f"{whole} of {len(cells)} cells, then stopped"
    log(job, EntryKind.GRID, at, f"Grid {grid.label} burned: {words}", cells=whole)
    return grid


def find_grid(workshop: Workshop, grid_id: int) -> TestGrid:
    """The grid of that id in this workshop; raises MissingError."""
    rows = TestGrid.objects.filter(within_reach(workshop, "job__workshop"))
    return find_one(rows.select_related("job", "lot").prefetch_related("cells"), "grid", pk=grid_id)


def lock_grid(workshop: Workshop, grid_id: int) -> TestGrid:
    """As `find_grid`, read after taking the turn of its job."""
    take_turn(workshop, "grid", grids=grid_id)
    return find_grid(workshop, grid_id)


def piece_of(grid: TestGrid) -> FlatPiece:
    """The piece as it was when the grid was drawn."""
    return FlatPiece(**(grid.piece_facts | {"shape": Shape(grid.piece_facts["shape"])}))


def layout_of(grid: TestGrid, spare: int) -> GridLayout:
    """The layout on one spare, from its stored cells. Raises BadValueError if there is no such spare."""
    cells = tuple(c.placed(grid.cell_mm, grid.sample_mm) for c in grid.cells.all() if c.spare == spare)
    if not cells:
        raise BadValueError(
            f"This grid has no spare {spare}.", field="spare", hint=f"It lies on {grid.spares}: count from 1."
        )
    return restore_layout(cells, grid.cell_mm, grid.gap_mm, grid.framed)


def plan_of_burn(grid: TestGrid) -> BurnPlan:
    """How the grid is burned."""
    return BurnPlan(Setting(**grid.label_setting), grid.wait_s, grid.mirrored)


def tasks_of(grid: TestGrid, spare: int) -> list[Task]:
    """What the head does on one spare."""
    return grid_tasks(layout_of(grid, spare), piece_of(grid), machine_of(grid.machine_facts), plan_of_burn(grid))
