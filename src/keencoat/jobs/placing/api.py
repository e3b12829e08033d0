"""The Placing chapter: how pieces lie or turn, and what the laser takes of it."""

from collections.abc import Callable, Iterator

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.utils import timezone
from ninja import Router

from keencoat.core.placing import squaring_of
from keencoat.jobs.artwork.services.bringing import find_artwork
from keencoat.jobs.artwork.services.files import Taken
from keencoat.jobs.artwork.services.making import base_of
from keencoat.jobs.artwork.services.versions import keep_version
from keencoat.jobs.job.services import find_job
from keencoat.jobs.placing import schemas as s
from keencoat.jobs.placing.models import Placing, placing_spec_of
from keencoat.jobs.placing.services.files import frame_file, placed_gcode, strip_gcode, turned_gcode, wrap_svg
from keencoat.jobs.placing.services.placing import placing_of, save_placing
from keencoat.jobs.placing.show import show_placing
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import sends

router = Router(tags=["placing"])
_GCODE, _SVG = "text/x-gcode", "image/svg+xml"


@router.get("/jobs/{job_id}/placing", response=s.PlacingOut)
def read(request: HttpRequest, job_id: int) -> s.PlacingOut:
    """How a job's pieces lie or turn, and what follows."""
    return show_placing(find_job(workshop_of(request), job_id))


@router.put("/jobs/{job_id}/placing", response=s.PlacingOut)
def change(request: HttpRequest, job_id: int, payload: s.PlacingIn) -> s.PlacingOut:
    """Tell how they lie or turn."""
    spec = placing_spec_of(payload.spec.model_dump())
    workshop = workshop_of(request)
    placing = save_placing(workshop, job_id, spec, payload.device_id, payload.artwork_id, payload.version)
    return show_placing(placing.job)


@router.get("/jobs/{job_id}/placing/frame.gcode", **sends(_GCODE))
def frame(request: HttpRequest, job_id: int) -> HttpResponse:
    """The way round art and piece, with the beam off."""
    text = frame_file(placing_of(find_job(workshop_of(request), job_id)))
    return HttpResponse(text, content_type=f"{_GCODE}; charset=utf-8", headers=_named(f"job{job_id}-frame.gcode"))


@router.get("/jobs/{job_id}/placing/placed.gcode", **sends(_GCODE))
def placed(request: HttpRequest, job_id: int, artwork_id: int, piece: int = 0) -> StreamingHttpResponse:
    """One piece (from 0) of an artwork where its piece lies on the bed."""
    return _send_taken(request, job_id, artwork_id, piece, "placed", placed_gcode)


@router.get("/jobs/{job_id}/placing/wrap.svg", **sends(_SVG))
def wrap(request: HttpRequest, job_id: int) -> HttpResponse:
    """The wall laid flat with the mark's outline: a sheet to wrap round the piece."""
    text = wrap_svg(placing_of(find_job(workshop_of(request), job_id)))
    return HttpResponse(text, content_type=_SVG, headers=_named(f"job{job_id}-wrap.svg"))


@router.get("/jobs/{job_id}/placing/turned.gcode", **sends(_GCODE))
def turned(request: HttpRequest, job_id: int, artwork_id: int, piece: int = 0) -> StreamingHttpResponse:
    """One piece (from 0) of an artwork through the turning device."""
    return _send_taken(request, job_id, artwork_id, piece, "turned", turned_gcode)


@router.get("/jobs/{job_id}/placing/strip.gcode", **sends(_GCODE))
def strip(request: HttpRequest, job_id: int, artwork_id: int, number: int = 1, piece: int = 0) -> StreamingHttpResponse:
    """One strip (from 1) of a piece (from 0) of an artwork under a fixed head, the piece turned by hand between."""

    def write(placing: Placing, taken: Taken) -> Iterator[str]:
        return strip_gcode(placing, taken, number)

    return _send_taken(request, job_id, artwork_id, piece, f"strip{number}", write)


@router.get("/squaring", response=s.SquaringOut)
def square(request: HttpRequest, near_mm: float, far_mm: float, travel_mm: float, feet_mm: float) -> s.SquaringOut:
    """How to turn a device so that its axis lies along the head's travel: from how far beside the ridge the pointer
    falls at both ends of that travel, and how far apart the device's feet are."""
    workshop_of(request)
    return s.SquaringOut.showing(squaring_of(near_mm, far_mm, travel_mm, feet_mm))


Write = Callable[[Placing, Taken], Iterator[str]]


def _send_taken(
    request: HttpRequest, job_id: int, artwork_id: int, piece: int, how: str, write: Write
) -> StreamingHttpResponse:
    workshop = workshop_of(request)
    job, artwork = find_job(workshop, job_id), find_artwork(workshop, artwork_id)
    artwork.job = job
    taken = Taken(artwork, base_of(job), piece)
    lines = write(placing_of(job), taken)
    keep_version(artwork, taken.base, timezone.now())
    headers = _named(f"{taken.stem.removeprefix('keencoat-')}-{how}.gcode")
    return StreamingHttpResponse(lines, content_type=f"{_GCODE}; charset=utf-8", headers=headers)


def _named(name: str) -> dict[str, str]:
    return {"Content-Disposition": f'attachment; filename="keencoat-{name}"'}
