"""Photos of grids: kept from the moment they arrive, read, proposed from, and joined into one reading of each cell."""

from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import Prefetch

from keencoat.core.errors import BadValueError, NotAllowedError
from keencoat.core.grid import GridLayout
from keencoat.core.grid.formats import CellRating
from keencoat.core.piece import RoundPiece
from keencoat.core.rating import Rating
from keencoat.core.reading import (
    Bend,
    CellReading,
    GridReading,
    GridShot,
    Judged,
    Proposal,
    Sight,
    Tuning,
    join_readings,
    propose,
    read_grid_shot,
    tune,
)
from keencoat.core.states import GridState
from keencoat.core.vision import EdgeKind, check_points
from keencoat.jobs.evidence import cells_read
from keencoat.jobs.grid.services.drawing import find_grid, layout_of, lock_grid
from keencoat.jobs.job.room_taken import require_room_for_photo
from keencoat.jobs.models import Cell, GridPhoto, PhotoLight, TestGrid
from keencoat.jobs.reading.services.ratings import change_ratings
from keencoat.shop.access import find_one, require_version, within_reach
from keencoat.shop.aside import aside
from keencoat.shop.models import Workshop

MAX_PHOTOS = 12
_MOST_JUDGED = 400


@dataclass(frozen=True)
class PhotoWish:
    """What is said of a photo: which spare, how it was lit, the one cell of a loupe shot ("" for the whole grid),
    corners marked by hand."""

    spare: int = 1
    light: str = PhotoLight.PLAIN
    only: str = ""
    points: list[tuple[float, float]] | None = None
    simulated: bool = False


def keep_grid_photo(workshop: Workshop, grid_id: int, data: bytes, wish: PhotoWish, at: datetime) -> GridPhoto:
    """Keep a photo of a burned grid and read it. One that cannot be read stays too, with the reason.

    It is read before the job's turn is taken, so that other hands need not wait for it; a burned grid's layout stays.
    Raises BadValueError for a file that is no photo, NotAllowedError before the grid is burned.
    """
    photo = GridPhoto(
        grid=find_grid(workshop, grid_id),
        spare=wish.spare,
        only=wish.only,
        at=at,
        light=wish.light,
        original=data,
        simulated=wish.simulated,
    )
    _require_place(workshop, photo.grid, wish)
    shot = _shot_of(photo, wish.points)
    with transaction.atomic():
        photo.grid = lock_grid(workshop, grid_id)
        _require_place(workshop, photo.grid, wish)
        _take_in(photo, shot, wish.points)
        photo.save()
    return photo


def _require_place(workshop: Workshop, grid: TestGrid, wish: PhotoWish) -> None:
    require_room_for_photo(workshop)
    if grid.state == GridState.DRAWN:
        raise NotAllowedError(f"Grid {grid.label} is not burned yet.", field="state", hint="Say when it is burned.")
    if grid.photos.count() >= MAX_PHOTOS:
        raise NotAllowedError(f"This grid has {MAX_PHOTOS} photos.", field="photo", hint="Throw one away first.")
    if wish.light not in PhotoLight.values:
        raise BadValueError(
            f"“{wish.light[:20]}” is no light.", field="light", hint=f"Known: {', '.join(PhotoLight.values)}."
        )


def read_again(
    workshop: Workshop, photo_id: int, points: list[tuple[float, float]] | None, mirrored: bool, seen: int
) -> GridPhoto:
    """Read a kept photo again, with the frame's corners marked by hand, or found anew if None. Raises StaleError if
    somebody did so since version `seen`."""
    photo = find_grid_photo(workshop, photo_id)
    require_version(photo, seen, "photo's frame")
    photo.mirrored = mirrored
    shot = _shot_of(photo, points)
    with transaction.atomic():
        lock_grid(workshop, photo.grid_id)
        photo = find_grid_photo(workshop, photo_id)
        require_version(photo, seen, "photo's frame")
        photo.mirrored, photo.version = mirrored, seen + 1
        _take_in(photo, shot, points)
        photo.save()
    return photo


@transaction.atomic
def drop_grid_photo(workshop: Workshop, photo_id: int) -> TestGrid:
    """Throw a photo away; return its grid."""
    grid = lock_grid(workshop, find_grid_photo(workshop, photo_id).grid_id)
    find_grid_photo(workshop, photo_id).delete()
    return grid


def find_grid_photo(workshop: Workshop, photo_id: int) -> GridPhoto:
    """The photo of that id in this workshop; raises MissingError."""
    rows = GridPhoto.objects.filter(within_reach(workshop, "grid__job__workshop")).select_related("grid__job")
    return find_one(rows, "photo", pk=photo_id)


def sight_of(photo: GridPhoto) -> Sight:
    """What the photo should show. Raises BadValueError for a spare or cell that is not there."""
    grid = photo.grid
    layout = layout_of(grid, photo.spare)
    if photo.only:
        cells = tuple(c for c in layout.cells if c.cell.code == photo.only)
        if not cells:
            raise BadValueError(
                f"There is no cell “{photo.only[:4]}” on this spare.", field="only", hint="Choose one of its cells."
            )
        layout = GridLayout(cells, (), layout.cell_mm, layout.gap_mm)
    piece = grid.job.piece()
    bend = None
    if isinstance(piece, RoundPiece):
        # The narrow end lies above: the wall's face is cut to its width.
        lean = (piece.narrow_mm - piece.diameter_mm) / 2 / piece.slant_mm
        bend = Bend(piece.narrow_mm / 2, (piece.diameter_mm + piece.narrow_mm) / 4, lean)
    return Sight(layout, 12, bend)


def _shot_of(photo: GridPhoto, points: list[tuple[float, float]] | None) -> GridShot:
    sight, whole = sight_of(photo), photo.grid.framed and not photo.only
    marked = check_points(points, EdgeKind.CORNERS) if points is not None else None
    return aside(read_grid_shot, bytes(photo.original), sight, marked, whole, photo.mirrored)


def _take_in(photo: GridPhoto, shot: GridShot, points: list[tuple[float, float]] | None) -> None:
    """Write down what was read; trouble with the picture is kept beside it instead of raised."""
    photo.kind = shot.kind
    if shot.reading is None:
        photo.take_trouble(shot.trouble or _unmarked(photo), points)
        return
    found, counting = shot.reading.found, {c.code for c in photo.grid.cells.all() if c.counts}
    photo.take_reading(found.outline.points, _facts(shot.reading, counting), shot.upright)
    photo.mirrored = found.mirrored


def _unmarked(photo: GridPhoto) -> BadValueError:
    what = f"the patch of {photo.only}" if photo.only else "the block of cells: this grid has no frame"
    return BadValueError(
        f"Mark the corners of {what}.", field="points", hint="Drag the four points onto it, upper left first."
    )


def _facts(reading: GridReading, burned: set[str]) -> dict[str, Any]:
    return {
        "full_l": round(reading.full_l, 2),
        "noise_l": round(reading.noise_l, 3),
        "px_per_mm": reading.px_per_mm,
        "trust": round(reading.found.outline.trust, 3),
        "cells": [asdict(c) for c in reading.cells if c.code in burned],
    }


@dataclass(frozen=True)
class ReadCell:
    """A cell as the photos show it, with what is proposed from that."""

    cell: CellReading
    proposal: Proposal
    photos: int


def readings_of(grid: TestGrid, tuning: Tuning, photos: list[GridPhoto]) -> dict[str, ReadCell]:
    """The joined reading and proposal of every cell that these photos of the grid show, by code."""
    return {
        code: ReadCell(joined, propose(joined, grid.job.process, tuning), len(found))
        for code, found in cells_read(photos).items()
        for joined in [join_readings(found)]
    }


def tuning_of(workshop: Workshop) -> Tuning:
    """Where this workshop draws its lines, from the newest cells that it rated and a photo measured."""
    cells = Cell.objects.filter(grid__job__workshop=workshop, grid__photos__reading__isnull=False).exclude(rating="")
    if workshop.proposals_since is not None:
        cells = cells.filter(grid__photos__at__gte=workshop.proposals_since)
    grids = TestGrid.objects.filter(pk__in=cells.values("grid")).select_related("job").order_by("-pk")
    judged: list[Judged] = []
    light = Prefetch("photos", GridPhoto.objects.defer("original", "upright"))
    for grid in grids.prefetch_related("cells", light)[:30]:
        rated = {c.code: Rating(c.rating) for c in grid.cells.all() if c.rating}
        for code, read in readings_of(grid, Tuning(), list(grid.photos.all())).items():
            if code in rated:
                judged.append(Judged(read.cell, grid.job.process, rated[code]))
        if len(judged) >= _MOST_JUDGED:
            break
    return tune(judged)


@transaction.atomic
def take_proposals(workshop: Workshop, grid_id: int, at: datetime) -> TestGrid:
    """Rate every cell not rated yet whose proposal is sure; one undo takes all of it back."""
    grid = lock_grid(workshop, grid_id)
    photos = list(grid.photos.defer("original", "upright"))
    read = readings_of(grid, tuning_of(grid.job.workshop), photos)
    waiting = {c.code: c for c in grid.cells.all() if c.counts and not c.rating}
    taken = {
        code: CellRating(
            code, one.proposal.rating, one.proposal.defects, waiting[code].heard_snapping, waiting[code].seen_strokes
        )
        for code, one in read.items()
        if code in waiting and one.proposal.sure
    }
    if not taken:
        raise NotAllowedError("No cell that waits has a sure proposal.", hint="Look at the cells one by one.")
    change_ratings(grid, taken, at)
    return grid


@transaction.atomic
def forget_tuning(workshop: Workshop, at: datetime) -> None:
    """Begin anew: what was rated on photos before this moment no longer moves the proposals."""
    workshop.proposals_since = at
    workshop.save(update_fields=["proposals_since"])
