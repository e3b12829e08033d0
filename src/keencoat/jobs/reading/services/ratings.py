"""Rating cells: one by one, from a file, and back again."""

from collections.abc import Mapping
from datetime import datetime

from django.db import transaction

from keencoat.core.errors import BadValueError, MissingError, NotAllowedError, StaleError
from keencoat.core.grid import restore_layout
from keencoat.core.grid.formats import CellRating, read_ratings
from keencoat.core.states import GRID_MOVES, GridState, move
from keencoat.core.substrate import find_process
from keencoat.jobs.grid.services.drawing import lock_grid
from keencoat.jobs.job.services import log
from keencoat.jobs.models import Cell, RatingEvent, TestGrid
from keencoat.logbook.models import EntryKind
from keencoat.shop.access import require_version
from keencoat.shop.models import Workshop


@transaction.atomic
def rate_cell(workshop: Workshop, grid_id: int, seen: CellRating, version: int, at: datetime) -> TestGrid:
    """Rate one cell that still is at `version`; no rating clears it. Raises StaleError if it is not."""
    grid = _open_grid(workshop, grid_id)
    cell = next((c for c in grid.cells.all() if c.code == seen.code), None)
    if cell is None:
        raise MissingError(f"There is no cell {seen.code[:8]}.", hint="Look at the grid: its codes stand on it.")
    if not cell.counts:
        raise NotAllowedError(
            f"{cell.code} is {cell.get_burned_display()}: there is nothing to rate.",
            field="rating",
            hint="Rate the cells that were burned to their end.",
        )
    require_version(cell, version, f"cell {seen.code}")
    known = find_process(grid.job.process).defects
    for defect in seen.defects:
        if defect not in known:
            raise BadValueError(f"“{defect}” is no defect here.", field="defects", hint=f"Known: {', '.join(known)}.")
    change_ratings(grid, {seen.code: seen}, at)
    return grid


@transaction.atomic
def import_ratings(workshop: Workshop, grid_id: int, data: bytes, seen: int, at: datetime) -> TestGrid:
    """Take over the ratings of a CSV or JSON, all or nothing; cells that the file leaves out keep theirs.

    Raises StaleError if ratings were changed after the event `seen`.
    """
    grid = _open_grid(workshop, grid_id)
    _require_newest(grid, seen)
    cells = tuple(c.placed(grid.cell_mm, grid.sample_mm) for c in grid.cells.all() if c.counts)
    layout = restore_layout(cells, grid.cell_mm, grid.gap_mm, grid.framed)
    change_ratings(grid, {r.code: r for r in read_ratings(data, layout)}, at)
    return grid


@transaction.atomic
def undo_rating(workshop: Workshop, grid_id: int, seen: int, at: datetime) -> TestGrid:
    """Take the newest change of ratings back. Raises StaleError if it is not the event `seen` any more."""
    grid = _open_grid(workshop, grid_id)
    _require_newest(grid, seen)
    event = grid.rating_events.first()
    if event is None:
        raise NotAllowedError("There is nothing to undo.", hint="No cell of this grid has been rated.")
    _write(grid, event.before, at)
    event.delete()
    return grid


def newest_event(grid: TestGrid) -> int:
    """The newest change of the grid's ratings; 0 if there is none."""
    event = grid.rating_events.first()
    return event.pk if event else 0


def _require_newest(grid: TestGrid, seen: int) -> None:
    event = grid.rating_events.first()
    if event is not None and event.pk != seen:
        cells = ", ".join(sorted(event.before))
        raise StaleError(
            f"Ratings of {cells[:60]} were changed elsewhere at {event.at:%H:%M} UTC; nothing was overwritten.",
            field="rating_event",
            hint="Reload to see the change, then make yours again.",
        )


def _open_grid(workshop: Workshop, grid_id: int) -> TestGrid:
    grid = lock_grid(workshop, grid_id)
    if grid.state == GridState.DRAWN:
        raise NotAllowedError(f"Grid {grid.label} is not burned yet.", field="state", hint="Say when it is burned.")
    return grid


def change_ratings(grid: TestGrid, ratings: dict[str, CellRating], at: datetime) -> None:
    """Write ratings over what stood there, as one change that undo takes back."""
    before = {c.code: c.seen() for c in grid.cells.all() if c.code in ratings}
    RatingEvent.objects.create(grid=grid, at=at, before=before)
    after = {
        code: {
            "rating": r.rating or "",
            "defects": list(r.defects),
            "heard_snapping": r.heard_snapping,
            "strokes": r.strokes or "",
        }
        for code, r in ratings.items()
    }
    _write(grid, after, at)


def _write(grid: TestGrid, seen: Mapping[str, Mapping[str, object]], at: datetime) -> None:
    cells = list(grid.cells.all())
    changed = [c for c in cells if c.code in seen]
    for cell in changed:
        for name, value in seen[cell.code].items():
            setattr(cell, name, value)
        cell.version += 1
    Cell.objects.bulk_update(changed, ["rating", "defects", "heard_snapping", "strokes", "version"])
    wanted = GridState.RATED if all(c.rating for c in cells if c.counts) else GridState.BURNED
    if wanted != grid.state:
        grid.state = move(GRID_MOVES, GridState(grid.state), wanted)
        grid.save(update_fields=["state"])
        if wanted is GridState.RATED:
            clean = sum(c.rating == "clean" for c in cells)
            log(
                grid.job,
                EntryKind.RATING,
                at,
                f"Grid {grid.label} rated: {clean} of {len(cells)} clean",
                clean=clean,
            )
