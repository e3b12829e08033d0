"""The Grid chapter: design, draw, take as files, burn."""

from collections.abc import Callable

from django.db.models import prefetch_related_objects
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Status

from keencoat.core.errors import require_known
from keencoat.core.grid import Steps
from keencoat.core.quantities import Setting
from keencoat.jobs.grid import schemas as s
from keencoat.jobs.grid.bench_sheet import bench_sheet_pdf
from keencoat.jobs.grid.services.burning import ask_burn, find_burn, tell_burn
from keencoat.jobs.grid.services.drawing import GridWish, burn_grid, draft_grid, draw_grid, find_grid
from keencoat.jobs.grid.services.files import csv_of, gcode_of, json_of, png_of, svg_of
from keencoat.jobs.grid.show import show_burn, show_draft, show_grid
from keencoat.jobs.job.marks import of_job
from keencoat.jobs.job.services import find_job
from keencoat.jobs.models import GridKind, TestGrid
from keencoat.jobs.tasks import burn as burn_task
from keencoat.shop.access import member_of, workshop_of
from keencoat.shop.fields import Key, asks_only, sends
from keencoat.shop.kept import kept

router = Router(tags=["grid"])


def _wish(payload: s.GridWishIn) -> GridWish:
    values = payload.model_dump(exclude={"blind"})
    if payload.kind != GridKind.FACTORS:
        values["factors"] = ()
    at = Setting(**values["at"]) if values["at"] else None
    b = payload.blind
    return GridWish(
        **(values | {"factors": tuple(values["factors"]), "at": at}),
        powers=Steps(b.power_from, b.power_to, b.power_steps) if b else None,
        speeds=Steps(b.speed_from, b.speed_to, b.speed_steps) if b else None,
    )


@router.post("/jobs/{job_id}/grids/draft", response=s.GridOut, **asks_only())
@kept(of_job)
def draft(request: HttpRequest, job_id: int, payload: s.GridWishIn) -> s.GridOut:
    """Design a grid without storing it."""
    job = find_job(workshop_of(request), job_id)
    wish = _wish(payload)
    return show_draft(job, draft_grid(job, wish, timezone.now()), wish)


@router.post("/jobs/{job_id}/grids", response={201: s.GridOut})
def draw(request: HttpRequest, job_id: int, payload: s.GridWishIn) -> Status[s.GridOut]:
    """Store a grid; it replaces one that was drawn and never burned."""
    workshop = workshop_of(request)
    grid = draw_grid(workshop, job_id, _wish(payload), timezone.now())
    return Status(201, show_grid(find_grid(workshop, grid.pk)))


@router.get("/jobs/{job_id}/grids", response=list[s.GridOut])
@kept(of_job)
def list_grids(request: HttpRequest, job_id: int) -> list[s.GridOut]:
    """The job's grids, the oldest first."""
    job = find_job(workshop_of(request), job_id)
    prefetch_related_objects([job], "grids__cells")
    return [show_grid(g) for g in job.grids.all()]


@router.post("/grids/{grid_id}/burned", response=s.GridOut)
def burned(request: HttpRequest, grid_id: int) -> s.GridOut:
    """Say that a grid was burned; its cells are fixed from now on."""
    return show_grid(burn_grid(workshop_of(request), grid_id, timezone.now()))


_FILES: dict[str, tuple[str, str, Callable[[TestGrid, int], str | bytes]]] = {
    "gcode": ("text/x-gcode; charset=utf-8", "gcode", gcode_of),
    "svg": ("image/svg+xml", "svg", svg_of),
    "png": ("image/png", "png", png_of),
    "json": ("application/json", "json", json_of),
    "csv": ("text/csv; charset=utf-8", "csv", lambda grid, _: csv_of(grid)),
}


_MEDIA = (*(media.split(";")[0] for media, _, _ in _FILES.values()), "application/pdf")


@router.get("/grids/{grid_id}/files/{kind}", **sends(*_MEDIA))
def download(request: HttpRequest, grid_id: int, kind: str, spare: int = 1) -> HttpResponse:
    """The grid as a file: gcode, svg, png, json (of one spare), csv or pdf (a sheet to write on at the bench)."""
    member = member_of(request)
    grid = find_grid(member.workshop, grid_id)
    require_known(kind[:20], (*_FILES, "pdf"), "kind")
    if kind == "pdf":
        media, ending = "application/pdf", "pdf"
        data: str | bytes = bench_sheet_pdf(grid, member.speed_unit, member.interval_unit)
    else:
        media, ending, write = _FILES[kind]
        data = write(grid, spare)
    part = f"-spare{spare}" if grid.spares > 1 and kind not in ("csv", "pdf") else ""
    name = f"keencoat-job{grid.job_id}-{grid.label}{part}.{ending}"
    return HttpResponse(data, content_type=media, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@router.post("/grids/{grid_id}/burns", response={201: s.BurnOut}, tags=["practice"])
def start_burn(request: HttpRequest, grid_id: int, payload: s.BurnIn) -> Status[s.BurnOut]:
    """Burn a practice grid's next spare on the simulated laser."""
    burn = ask_burn(workshop_of(request), grid_id, payload.pace, timezone.now())
    burn_task.defer(burn_id=burn.pk)
    return Status(201, show_burn(burn))


@router.get("/burns/{burn_id}", response=s.BurnOut, tags=["practice"])
def read_burn(request: HttpRequest, burn_id: int) -> s.BurnOut:
    """How far a burn is."""
    return show_burn(find_burn(workshop_of(request), burn_id))


@router.post("/burns/{burn_id}/{word}", response=s.BurnOut, tags=["practice"])
def command_burn(request: HttpRequest, burn_id: int, word: Key) -> s.BurnOut:
    """Pause, resume or stop a burn."""
    return show_burn(tell_burn(workshop_of(request), burn_id, word))
