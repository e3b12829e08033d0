"""The next step of a job: the one thing to do, from facts alone."""

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from keencoat.core.coat import Drying
from keencoat.core.states import GridState


class StepCode(StrEnum):
    """The steps between a blank piece and a run."""

    COAT = "coat"
    WAIT_DRY = "wait_dry"
    DRAW_GRID = "draw_grid"
    BURN_GRID = "burn_grid"
    RATE = "rate"
    CHOOSE = "choose"
    COMPARE = "compare"
    RUN = "run"


@dataclass(frozen=True)
class NextStep:
    """What to do, where (`chapter`), and from when on (`due_at`, None for now)."""

    code: StepCode
    chapter: str
    title: str
    detail: str
    due_at: datetime | None = None


_URGENCY = (
    StepCode.COAT, StepCode.RATE, StepCode.CHOOSE, StepCode.BURN_GRID, StepCode.DRAW_GRID, StepCode.WAIT_DRY,
    StepCode.RUN, StepCode.COMPARE,
)  # fmt: skip


def urgency(code: StepCode) -> int:
    """Where a step stands among what hands can do now: a coat that is due comes first, waiting comes late."""
    return _URGENCY.index(code)


@dataclass(frozen=True)
class JobFacts:
    """What decides the next step. `grid` is the newest grid's state; `newer_grid` means drawn after the last lock.

    `is_arm`: the job is one coat of a comparison, on which nobody locks a setting.
    """

    coat_label: str
    coat_is_put_on: bool
    drying: Drying
    grid: GridState | None
    grid_label: str
    cells: int
    cells_rated: int
    locked_version: int
    newer_grid: bool
    pieces: int
    is_arm: bool = False


def next_step(f: JobFacts) -> NextStep:
    """The one next step of a job."""
    if f.locked_version and not f.newer_grid:
        return NextStep(
            StepCode.RUN, "run", "Run the batch", f"{f.pieces} pieces, setting version {f.locked_version} is locked"
        )
    if f.grid is GridState.RATED and f.is_arm:
        return NextStep(StepCode.COMPARE, "reading", "Compare the coats", f"all {f.cells} cells are rated")
    if f.grid is GridState.RATED:
        return NextStep(StepCode.CHOOSE, "window", "Choose and lock the setting", f"all {f.cells} cells are rated")
    if f.grid is GridState.BURNED:
        left = f.cells - f.cells_rated
        return NextStep(StepCode.RATE, "reading", f"Rate grid {f.grid_label}", f"{left} of {f.cells} cells to rate")
    if f.coat_is_put_on and not f.drying.all_on:
        return _coat_step(f)
    if f.grid is None:
        return NextStep(
            StepCode.DRAW_GRID,
            "grid",
            "Draw the test grid",
            "the coat is ready" if f.drying.ready or not f.coat_is_put_on else "while the coat dries",
            None,
        )
    if f.coat_is_put_on and not f.drying.burnable_pieces:
        return NextStep(
            StepCode.WAIT_DRY, "coat", "The coat dries", f"then burn grid {f.grid_label}", f.drying.lead.next_at
        )
    return NextStep(StepCode.BURN_GRID, "grid", f"Burn grid {f.grid_label}", f"{f.cells} cells on a spare")


def _coat_step(f: JobFacts) -> NextStep:
    lead = f.drying.lead
    number = lead.coats_on + 1
    on = f" on pieces {lead.first} to {lead.last}" if len(f.drying.groups) > 1 else ""
    if lead.ready:
        return NextStep(
            StepCode.COAT, "coat", f"Put on coat {number}", f"{f.coat_label}, {number} of {lead.coats_planned}{on}"
        )
    then = "then they may be burned" if lead.all_on else f"then coat {number}"
    return NextStep(StepCode.WAIT_DRY, "coat", f"Coat {lead.coats_on} dries{on}", then, lead.next_at)
