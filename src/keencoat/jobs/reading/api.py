"""The Reading chapter: rating by eye or from a file, photos of grids, what they show, and proposals from them."""

import csv
import io
import json
from dataclasses import asdict
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Form, Router, Status
from ninja.files import UploadedFile

from keencoat.core.errors import BadValueError, require_known
from keencoat.core.grid.formats import MAX_TABLE_BYTES, CellRating
from keencoat.core.vision import MAX_PHOTO_BYTES
from keencoat.jobs.grid import schemas as s
from keencoat.jobs.grid.services.drawing import find_grid
from keencoat.jobs.grid.show import show_grid
from keencoat.jobs.job.uploads import PHOTO_MEDIA, photo_bytes, photo_picture
from keencoat.jobs.models import TestGrid
from keencoat.jobs.reading.schemas import CornersIn, GridReadingOut, RatingIn, RatingsOut, UndoIn
from keencoat.jobs.reading.services.brought import bring_grid
from keencoat.jobs.reading.services.photos import (
    PhotoWish,
    drop_grid_photo,
    find_grid_photo,
    forget_tuning,
    keep_grid_photo,
    read_again,
    readings_of,
    take_proposals,
    tuning_of,
)
from keencoat.jobs.reading.services.ratings import import_ratings, rate_cell, undo_rating
from keencoat.jobs.reading.show import show_ratings, show_reading
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import sends, takes

router = Router(tags=["reading"])


def _shown(grid: TestGrid) -> GridReadingOut:
    return show_reading(grid, tuning_of(grid.job.workshop))


@router.get("/grids/{grid_id}/reading", response=GridReadingOut)
def read_reading(request: HttpRequest, grid_id: int) -> GridReadingOut:
    """Photos of a grid, what they show of each cell, and what is proposed from that."""
    return _shown(find_grid(workshop_of(request), grid_id))


@router.post("/grids/{grid_id}/photos", response={201: GridReadingOut}, **takes(MAX_PHOTO_BYTES))
def add_photo(
    request: HttpRequest,
    grid_id: int,
    photo: File[UploadedFile],
    spare: Form[int] = 1,
    light: Form[str] = "plain",
    only: Form[str] = "",
) -> Status[GridReadingOut]:
    """Keep a photo of a washed grid and read it. It is kept, with the reason, if it cannot be read."""
    workshop = workshop_of(request)
    wish = PhotoWish(spare, light, only)
    keep_grid_photo(workshop, grid_id, photo_bytes(photo, "photo"), wish, timezone.now())
    return Status(201, _shown(find_grid(workshop, grid_id)))


@router.put("/grid-photos/{photo_id}/corners", response=GridReadingOut)
def mark_corners(request: HttpRequest, photo_id: int, payload: CornersIn) -> GridReadingOut:
    """Read a kept photo with corners marked by hand, or have its frame found anew."""
    workshop = workshop_of(request)
    points = None if payload.points is None else [(spot.x, spot.y) for spot in payload.points]
    photo = read_again(workshop, photo_id, points, payload.mirrored, payload.version)
    return _shown(find_grid(workshop, photo.grid_id))


@router.delete("/grid-photos/{photo_id}", response=GridReadingOut)
def remove_photo(request: HttpRequest, photo_id: int) -> GridReadingOut:
    """Throw a photo away, with what it told."""
    workshop = workshop_of(request)
    return _shown(find_grid(workshop, drop_grid_photo(workshop, photo_id).pk))


@router.get("/grid-photos/{photo_id}/{picture}", **sends(*PHOTO_MEDIA.values()))
def photo_file(request: HttpRequest, photo_id: int, picture: str) -> HttpResponse:
    """A picture of a kept photo: original, view (small, the right way up), or upright (squared up)."""
    require_known(picture[:20], ("original", "view", "upright"), "picture")
    photo = find_grid_photo(workshop_of(request), photo_id)
    kept = photo.upright if picture == "upright" else photo.original
    return photo_picture(photo, kept, picture)


@router.post("/grids/{grid_id}/proposals", response=RatingsOut)
def take_over(request: HttpRequest, grid_id: int) -> RatingsOut:
    """Rate all cells that wait and whose proposal is sure."""
    workshop = workshop_of(request)
    take_proposals(workshop, grid_id, timezone.now())
    return show_ratings(find_grid(workshop, grid_id))


@router.get("/grids/{grid_id}/measurements/{kind}", **sends("text/csv", "application/json"))
def export(request: HttpRequest, grid_id: int, kind: str) -> HttpResponse:
    """What the photos show of each cell, as csv or json."""
    require_known(kind[:20], ("csv", "json"), "kind")
    grid = find_grid(workshop_of(request), grid_id)
    photos = list(grid.photos.defer("original", "upright"))
    read = readings_of(grid, tuning_of(grid.job.workshop), photos)
    if not read:
        raise BadValueError("No photo of this grid has been read.", field="kind", hint="Photograph it first.")
    ratings = {c.code: c.rating for c in grid.cells.all()}
    rows: list[dict[str, Any]] = [
        asdict(one.cell)
        | {
            "photos": one.photos,
            "proposed": one.proposal.rating.value,
            "chance": one.proposal.chance,
            "proposed_defects": ";".join(one.proposal.defects),
            "rating": ratings[code],
        }
        for code, one in read.items()
    ]
    name = f"keencoat-job{grid.job_id}-{grid.label}-measured.{kind}"
    if kind == "json":
        text, media = json.dumps({"grid": grid.label, "cells": rows}, indent=1) + "\n", "application/json"
    else:
        out = io.StringIO()
        writer = csv.DictWriter(out, list(rows[0]))
        writer.writeheader()
        writer.writerows(rows)
        text, media = out.getvalue(), "text/csv; charset=utf-8"
    return HttpResponse(text, content_type=media, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@router.delete("/grids/{grid_id}/proposals", response=GridReadingOut)
def forget(request: HttpRequest, grid_id: int) -> GridReadingOut:
    """Forget what corrections have taught the proposals in this grid's workshop, real or practice."""
    grid = find_grid(workshop_of(request), grid_id)
    forget_tuning(grid.job.workshop, timezone.now())
    return _shown(grid)


@router.post("/jobs/{job_id}/grids/brought", response={201: s.GridOut}, **takes(MAX_TABLE_BYTES))
def bring(
    request: HttpRequest,
    job_id: int,
    file: File[UploadedFile],
    framed: Form[bool] = False,
    replaces: Form[int | None] = None,
) -> Status[s.GridOut]:
    """Bring in a grid that was made and burned elsewhere, as CSV or JSON; `framed` if it carries our frame."""
    workshop = workshop_of(request)
    grid = bring_grid(workshop, job_id, file.read(MAX_TABLE_BYTES + 1), framed, timezone.now(), replaces)
    return Status(201, show_grid(find_grid(workshop, grid.pk)))


@router.put("/grids/{grid_id}/cells/{code}", response=RatingsOut)
def rate(request: HttpRequest, grid_id: int, code: str, payload: RatingIn) -> RatingsOut:
    """Rate a cell; refused if somebody rated it in between."""
    seen = CellRating(
        code.replace("\0", ""), payload.rating, tuple(payload.defects), payload.heard_snapping, payload.strokes
    )
    return show_ratings(rate_cell(workshop_of(request), grid_id, seen, payload.version, timezone.now()))


@router.post("/grids/{grid_id}/undo", response=RatingsOut)
def undo(request: HttpRequest, grid_id: int, payload: UndoIn) -> RatingsOut:
    """Take the newest rating back; refused if somebody rated in between."""
    return show_ratings(undo_rating(workshop_of(request), grid_id, payload.rating_event, timezone.now()))


@router.post("/grids/{grid_id}/ratings", response=RatingsOut, **takes(MAX_TABLE_BYTES))
def import_file(
    request: HttpRequest, grid_id: int, file: File[UploadedFile], rating_event: Form[int] = 0
) -> RatingsOut:
    """Take over the ratings of a CSV or JSON, all or nothing; refused if somebody rated after `rating_event`."""
    data = file.read(MAX_TABLE_BYTES + 1)
    return show_ratings(import_ratings(workshop_of(request), grid_id, data, rating_event, timezone.now()))
