"""Burning a grid on a laser that the app drives: asked for by a person, watched and stopped from anywhere, carried on
after a break."""

from dataclasses import replace
from datetime import datetime

from django.db import transaction
from django.utils import timezone

from keencoat.bench.laser.controller import Burned
from keencoat.core.errors import NotAllowedError, require_within
from keencoat.core.grid import cell_item
from keencoat.core.states import BURN_MOVES, BurnState, GridState, move
from keencoat.jobs.grid.services.burn_program import program_of
from keencoat.jobs.grid.services.drawing import lock_grid, mark_burned, require_burnable
from keencoat.jobs.job.driving import USUAL_WALL_S, Streamed, pack, say_to, unpack
from keencoat.jobs.job.services import log
from keencoat.jobs.models import Cell, GridBurn, TestGrid
from keencoat.logbook.models import EntryKind
from keencoat.shop.access import find_one, within_reach
from keencoat.shop.models import Workshop


def next_spare(grid: TestGrid, burns: list[GridBurn]) -> int | None:
    """The spare that the next burn goes on: the first that is not burned, or that misses cells; None when all are."""
    if grid.state == GridState.DRAWN:
        done = {b.spare for b in burns if b.state == BurnState.DONE}
        return next((n for n in range(1, grid.spares + 1) if n not in done), None)
    return min((c.spare for c in grid.cells.all() if c.burned == Cell.Burned.NONE), default=None)


def _spare_to_burn(grid: TestGrid, burns: list[GridBurn], at: datetime) -> int:
    spare = next_spare(grid, burns)
    if grid.state != GridState.BURNED:
        require_burnable(grid, at)
    if spare is None:
        raise NotAllowedError(
            f"Grid {grid.label} is burned already: what it was burned with stays.",
            field="state",
            hint="Draw another grid to burn again.",
        )
    if grid.photos.exists() or any(c.rating for c in grid.cells.all()):
        raise NotAllowedError(
            f"Grid {grid.label} was washed: its coat is gone.",
            field="state",
            hint="Draw another grid for the cells that are missing.",
        )
    return spare


@transaction.atomic
def ask_burn(workshop: Workshop, grid_id: int, pace: float | None, at: datetime) -> GridBurn:
    """Ask that a practice grid's next spare is burned; a worker does it. One that was broken off is carried on with the
    cells that were not begun. `pace` is seconds of the machine in one of the wall. Raises NotAllowedError for a real
    job (no laser is connected), if it burns already, and to carry on once it was washed."""
    grid = lock_grid(workshop, grid_id)
    if not grid.job.is_practice:
        raise NotAllowedError(
            "No laser is connected to this workshop.", hint="Burn it from its file, then say that it is burned."
        )
    burns = list(grid.burns.defer("moves"))
    if any(b.ended_at is None for b in burns):
        raise NotAllowedError("This grid is burning already.", field="state", hint="Wait, or stop it.")
    spare = _spare_to_burn(grid, burns, at)
    wanted = pace if pace is not None else max(1.0, grid.burn_seconds / grid.spares / USUAL_WALL_S)
    burn = GridBurn(
        grid=grid,
        spare=spare,
        piece=_piece(grid, burns, spare),
        state=BurnState.QUEUED,
        asked_at=at,
        pace=require_within(wanted, 1, 2000, "pace"),
    )
    burn.lines = len(program_of(burn).lines)
    burn.save()
    return burn


def _piece(grid: TestGrid, burns: list[GridBurn], spare: int) -> int:
    """The piece that the next burn goes on: that of the one that is carried on, else a fresh one."""
    if grid.state == GridState.BURNED and (begun := [b.piece for b in burns if b.spare == spare]):
        return begun[-1]
    practice = grid.job.practice
    practice.pieces_spent += 1
    practice.save(update_fields=["pieces_spent"])
    return practice.pieces_spent


@transaction.atomic
def tell_burn(workshop: Workshop, burn_id: int, word: str) -> GridBurn:
    """Ask a burn to pause, resume or stop; its worker obeys within a tenth of a second."""
    burn = find_burn(workshop, burn_id)
    say_to(burn, word)
    return find_burn(workshop, burn_id)


def find_burn(workshop: Workshop, burn_id: int) -> GridBurn:
    """The burn of that id in this workshop; raises MissingError."""
    rows = GridBurn.objects.filter(within_reach(workshop, "grid__job__workshop")).select_related("grid__job")
    return find_one(rows.defer("moves"), "burn", pk=burn_id)


@transaction.atomic
def end_burn(burn: GridBurn, ended: Streamed, burned: list[Burned]) -> None:
    """Write down how a burn ended; the grid counts as burned once its last spare is through, or one was broken off.
    What an earlier burn did to the same piece is kept with it."""
    burn = GridBurn.objects.select_for_update().get(pk=burn.pk)
    if BurnState(burn.state).over:
        return
    grid = lock_grid(burn.grid.job.workshop, burn.grid_id)
    burn.state = move(BURN_MOVES, BurnState(burn.state), ended.state)
    burn.lines_done, burn.clock_s, burn.trouble = ended.done, ended.clock_s, ended.trouble
    burn.ended_at = timezone.now()
    burn.moves = pack(_with_earlier(burn, burned))
    burn.save()
    if ended.state is BurnState.FAILED and not any(b.move.power > 0 for b in burned):
        return
    carried_on = grid.state == GridState.BURNED
    if carried_on or ended.state is not BurnState.DONE:
        _mark_cells(grid, burn, ended)
    elif burn.spare < grid.spares:
        return
    grid = lock_grid(grid.job.workshop, grid.pk)
    if carried_on:
        whole, cells = sum(c.counts for c in grid.cells.all()), grid.cells.count()
        words = f"Grid {grid.label} carried on: {whole} of {cells} cells are burned"
        log(grid.job, EntryKind.GRID, burn.ended_at, words, cells=whole)
    else:
        mark_burned(grid, burn.ended_at)


def _with_earlier(burn: GridBurn, burned: list[Burned]) -> list[Burned]:
    """All that was done to the piece, on one clock."""
    earlier = GridBurn.objects.filter(grid=burn.grid_id, piece=burn.piece, pk__lt=burn.pk, moves__isnull=False).last()
    if earlier is None or earlier.ended_at is None:
        return burned
    moves = unpack(bytes(earlier.moves or b""))
    after_s = max((b.start_s + b.seconds for b in moves), default=0.0)
    after_s += (burn.asked_at - earlier.ended_at).total_seconds()
    return moves + [replace(b, start_s=b.start_s + after_s) for b in burned]


def _mark_cells(grid: TestGrid, burn: GridBurn, ended: Streamed) -> None:
    """Say of each cell whether it was burned: those done with before the break, the one under way, the rest."""
    program, first = program_of(burn), grid.state == GridState.DRAWN
    ends = [start for start, _ in program.starts[1:]] + [len(program.lines)]
    state = {}
    for (start, item), end in zip(program.starts, ends, strict=True):
        whole = ended.state is BurnState.DONE or ended.done >= end
        state[item] = Cell.Burned.FULL if whole else Cell.Burned.PART if ended.done > start else Cell.Burned.NONE
    cells = list(grid.cells.all())
    for cell in cells:
        if cell.spare == burn.spare:
            cell.burned = state.get(cell_item(cell.code), cell.burned)
        elif first and cell.spare > burn.spare:
            cell.burned = Cell.Burned.NONE
    Cell.objects.bulk_update(cells, ["burned"])
