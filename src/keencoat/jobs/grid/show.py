"""From stored grids and drafts to what the API gives."""

from dataclasses import asdict

from keencoat.core.grid import (
    STROKE_MM,
    TICK_MM,
    TICK_WIDTH_MM,
    Factor,
    GridFrame,
    GridLayout,
    code_strokes,
    sample_strokes,
    ticks,
)
from keencoat.core.quantities import Machine, areal_energy_j_mm2, dwell_ms
from keencoat.core.states import GridState
from keencoat.core.toolpath import Stroke
from keencoat.jobs.grid import schemas as g
from keencoat.jobs.grid.services.burning import next_spare
from keencoat.jobs.grid.services.drawing import GridDraft, GridWish, layout_of
from keencoat.jobs.models import Cell, GridBurn, GridKind, Job, TestGrid
from keencoat.jobs.reading.services.ratings import newest_event
from keencoat.shop.fields import FindingOut
from keencoat.shop.models import machine_of


def _lines(strokes: list[Stroke]) -> list[list[list[float]]]:
    return [[[round(x, 3), round(y, 3)] for x, y in stroke] for stroke in strokes]


def _frame(frame: GridFrame) -> g.FrameOut:
    left, low, right, top = frame.corner
    half = TICK_WIDTH_MM / 2
    boxes = [[left, low, right - left, top - low]]
    for x, y, along_x in ticks(frame):
        boxes.append([x - TICK_MM, y - half, TICK_MM, 2 * half] if along_x else [x - half, y, 2 * half, TICK_MM])
    return g.FrameOut(
        left_mm=frame.left_mm,
        low_mm=frame.low_mm,
        right_mm=frame.right_mm,
        top_mm=frame.top_mm,
        stroke_mm=STROKE_MM,
        boxes=boxes,
    )


def _sheet(spare: int, layout: GridLayout) -> g.SheetOut:
    return g.SheetOut(
        spare=spare,
        codes=_lines(code_strokes(layout)),
        samples=_lines([s for placed in layout.cells for s in sample_strokes(placed)]),
        frame=_frame(layout.frame) if layout.frame else None,
    )


def _cells(sheets: list[GridLayout], machine: Machine) -> list[g.CellOut]:
    return [
        g.CellOut(
            code=p.cell.code,
            row=p.cell.row,
            column=p.cell.column,
            focus_mm=p.cell.focus_mm,
            coats=p.cell.coats,
            grey_pct=p.cell.grey_pct,
            energy_j_mm2=areal_energy_j_mm2(p.cell.setting, machine),
            dwell_ms=dwell_ms(p.cell.setting, machine),
            spare=spare,
            x_mm=p.x_mm,
            y_mm=p.y_mm,
            burned="full",
            plain=p.cell.plain,
            rating=None,
            defects=[],
            heard_snapping=False,
            strokes=None,
            version=0,
            **asdict(p.cell.setting),
        )
        for spare, layout in enumerate(sheets, 1)
        for p in layout.cells
    ]


def show_draft(job: Job, draft: GridDraft, wish: GridWish) -> g.GridOut:
    """A grid that is not stored."""
    sheets = list(draft.sheets)
    return g.GridOut(
        id=None,
        job_id=job.pk,
        label="draft",
        kind=GridKind(wish.kind),
        factors=[Factor(f) for f in wish.factors],
        state=GridState.DRAWN,
        rows=draft.design.rows,
        columns=draft.design.columns,
        cell_mm=sheets[0].cell_mm,
        gap_mm=sheets[0].gap_mm,
        mirrored=draft.plan.mirrored,
        wait_s=draft.plan.wait_s,
        burn_seconds=draft.burn_seconds,
        heat=g.GridHeatOut.showing(draft.heat),
        findings=[FindingOut.showing(f) for f in draft.findings],
        ahead=g.AheadOut(**asdict(draft.ahead), currency=job.workshop.currency) if draft.ahead else None,
        cells=_cells(sheets, draft.machine),
        sheets=[_sheet(n, x) for n, x in enumerate(sheets, 1)],
        label_power_pct=draft.plan.label_setting.power_pct,
        label_speed_mm_s=draft.plan.label_setting.speed_mm_s,
        drawn_at=None,
        burned_at=None,
        rating_event=0,
        burn=None,
        next_spare=1,
    )


def show_grid(grid: TestGrid) -> g.GridOut:
    """A stored grid."""
    sheets = [layout_of(grid, spare) for spare in range(1, grid.spares + 1)]
    cells = _cells(sheets, machine_of(grid.machine_facts))
    stored = {c.code: c for c in grid.cells.all()}
    for shown in cells:
        _fill_in(shown, stored[shown.code])
    burns = list(grid.burns.defer("moves"))
    return g.GridOut(
        id=grid.pk,
        job_id=grid.job_id,
        label=grid.label,
        kind=GridKind(grid.kind),
        factors=[Factor(f) for f in grid.factors if f in set(Factor)],
        state=GridState(grid.state),
        rows=grid.rows,
        columns=grid.columns,
        cell_mm=grid.cell_mm,
        gap_mm=grid.gap_mm,
        mirrored=grid.mirrored,
        wait_s=grid.wait_s,
        burn_seconds=grid.burn_seconds,
        heat=grid.heat,
        findings=grid.findings,
        ahead=None,
        cells=cells,
        sheets=[_sheet(n, x) for n, x in enumerate(sheets, 1)],
        label_power_pct=grid.label_setting["power_pct"],
        label_speed_mm_s=grid.label_setting["speed_mm_s"],
        drawn_at=grid.drawn_at,
        burned_at=grid.burned_at,
        rating_event=newest_event(grid),
        burn=show_burn(burns[-1]) if burns else None,
        next_spare=next_spare(grid, burns),
    )


def _fill_in(shown: g.CellOut, cell: Cell) -> None:
    shown.rating = cell.seen_rating
    shown.strokes = cell.seen_strokes
    shown.defects, shown.heard_snapping, shown.version = cell.defects, cell.heard_snapping, cell.version
    shown.burned = cell.burned


def show_burn(burn: GridBurn) -> g.BurnOut:
    """A burn as it stands."""
    return g.BurnOut.showing(burn)
