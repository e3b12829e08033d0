"""The Grid and Reading chapters."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Router, Status
from ninja.files import UploadedFile

from keencoat.core.errors import BadValueError
from keencoat.core.grid.formats import MAX_CSV_BYTES, CellRating
from keencoat.jobs.api import schemas as s
from keencoat.jobs.api.show import show_draft, show_grid
from keencoat.jobs.models import TestGrid
from keencoat.jobs.pdf.bench_sheet import bench_sheet_pdf
from keencoat.jobs.services.grids import GridWish, burn_grid, csv_of, draft_grid, draw_grid, find_grid, gcode_of, svg_of
from keencoat.jobs.services.jobs import find_job
from keencoat.jobs.services.reading import import_ratings, rate_cell, undo_rating
from keencoat.shop.access import member_of, workshop_of

router = Router(tags=["grid"])


def _wish(payload: s.GridWishIn) -> GridWish:
    return GridWish(**payload.model_dump())


@router.post("/jobs/{job_id}/grids/draft", response=s.GridOut)
def draft(request: HttpRequest, job_id: int, payload: s.GridWishIn) -> s.GridOut:
    """Design a grid without storing it."""
    job = find_job(workshop_of(request), job_id)
    return show_draft(job, draft_grid(job, _wish(payload)), payload.kind)


@router.post("/jobs/{job_id}/grids", response={201: s.GridOut})
def draw(request: HttpRequest, job_id: int, payload: s.GridWishIn) -> Status[s.GridOut]:
    """Store a grid; it replaces one that was drawn and never burned."""
    workshop = workshop_of(request)
    grid = draw_grid(workshop, job_id, _wish(payload), timezone.now())
    return Status(201, show_grid(find_grid(workshop, grid.pk)))


@router.get("/jobs/{job_id}/grids", response=list[s.GridOut])
def list_grids(request: HttpRequest, job_id: int) -> list[s.GridOut]:
    """The job's grids, the oldest first."""
    return [show_grid(g) for g in find_job(workshop_of(request), job_id).grids.all()]


@router.post("/grids/{grid_id}/burned", response=s.GridOut)
def burned(request: HttpRequest, grid_id: int) -> s.GridOut:
    """Say that a grid was burned; its cells are fixed from now on."""
    return show_grid(burn_grid(workshop_of(request), grid_id, timezone.now()))


_FILES = {
    "gcode": ("text/x-gcode; charset=utf-8", "gcode"),
    "svg": ("image/svg+xml", "svg"),
    "csv": ("text/csv; charset=utf-8", "csv"),
    "pdf": ("application/pdf", "pdf"),
}


@router.get("/grids/{grid_id}/files/{kind}", response=bytes)
def download(request: HttpRequest, grid_id: int, kind: str) -> HttpResponse:
    """The grid as a file: gcode, svg, csv or pdf (a sheet to write on at the bench)."""
    member = member_of(request)
    grid = find_grid(member.workshop, grid_id)
    if kind not in _FILES:
        raise BadValueError(f"There is no “{kind[:20]}” file.", field="kind", hint=f"Known: {', '.join(_FILES)}.")
    writers: dict[str, Callable[[TestGrid], str | bytes]] = {
        "gcode": gcode_of, "svg": svg_of, "csv": csv_of,
        "pdf": lambda g: bench_sheet_pdf(g, member.speed_unit, member.interval_unit),
    }  # fmt: skip
    media, ending = _FILES[kind]
    name = f"keencoat-job{grid.job_id}-{grid.label}.{ending}"
    return HttpResponse(
        writers[kind](grid), content_type=media, headers={"Content-Disposition": f'attachment; filename="{name}"'}
    )


@router.put("/grids/{grid_id}/cells/{code}", response=s.GridOut)
def rate(request: HttpRequest, grid_id: int, code: str, payload: s.RatingIn) -> s.GridOut:
    """Rate a cell; refused if somebody rated it in between."""
    seen = CellRating(code.replace("\0", ""), payload.rating, tuple(payload.defects), payload.heard_snapping)
    return show_grid(rate_cell(workshop_of(request), grid_id, seen, payload.version, timezone.now()))


@router.post("/grids/{grid_id}/undo", response=s.GridOut)
def undo(request: HttpRequest, grid_id: int) -> s.GridOut:
    """Take the newest rating back."""
    return show_grid(undo_rating(workshop_of(request), grid_id, timezone.now()))


@router.post("/grids/{grid_id}/ratings", response=s.GridOut)
def import_csv(request: HttpRequest, grid_id: int, file: File[UploadedFile]) -> s.GridOut:
    """Take over the ratings of a CSV, all or nothing."""
    data = file.read(MAX_CSV_BYTES + 1)
    return show_grid(import_ratings(workshop_of(request), grid_id, data, timezone.now()))
