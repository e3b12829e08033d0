"""Jigs for flat pieces: laid out, kept, found again, and the batch in them load by load."""

from collections.abc import Sequence

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.utils import timezone
from ninja import Query, Router, Status

from keencoat.core.jig import Jig, Seat, Seating, sheet_gcode
from keencoat.core.quantities import Setting
from keencoat.jobs.artwork.services.versions import keep_version
from keencoat.jobs.job.services import find_job
from keencoat.jobs.placing.services.jig import (
    FittingJig,
    Sheet,
    draft_jig,
    fitting_jigs,
    keep_for,
    sheet_for,
)
from keencoat.jobs.placing.services.loads import JobLoads, load_gcode, loads_for, take_load
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import LATE, Asked, FindingOut, Name, Shown, sends
from keencoat.shop.jigs import find_jig
from keencoat.shop.jigs_api import Drawing, JigIn, KeptJigOut, send_sheet, show_kept_jig

router = Router(tags=["placing"])
_GCODE = "text/x-gcode"
_USUAL_LINES_MM = 0.1


class SheetIn(JigIn):
    """A jig, and the diameter of the pins where stops are asked for."""

    pin_mm: float = 6


class CutIn(SheetIn):
    """A sheet, and what cuts and what marks it on the job's machine."""

    cut_power_pct: float
    cut_speed_mm_s: float
    cut_passes: int = 1
    mark_power_pct: float
    mark_speed_mm_s: float


class KeepJigIn(Asked):
    """A jig to be kept, and what it is called."""

    name: Name
    asked: JigIn


class PocketOut(Shown):
    """A pocket, and the middle of its piece on the sheet."""

    number: int
    x_mm: float
    y_mm: float


class LoadOut(Shown):
    """Pieces of the batch that lie in the jig at once."""

    first_piece: int
    last_piece: int


class JigOut(Shown):
    """A jig as laid out: pockets, their edge about a piece's middle, the crosses to line it up by, lines that say where
    holes point; and the loads of the batch."""

    pockets: list[PocketOut]
    edge: list[list[float]]
    crosses_mm: list[list[float]]
    hole_lines: list[list[list[float]]]
    like_honeycomb: bool
    loads: list[LoadOut]


class FittingJigOut(Shown):
    """A jig of the shop that takes a job's pieces, and the play that they have in it, mm across."""

    kept: KeptJigOut
    play_left_mm: float


class SeatOut(Shown):
    """A piece of the batch in its pocket, and the name that it gets, empty where all carry the same."""

    piece: int
    pocket: int
    name: str


class LyingJigOut(Shown):
    """How a jig lies on the bed: its turn counterclockwise, and the largest distance of a cross from where that puts
    it; its pockets' middles there, mm."""

    turn_deg: float
    residual_mm: float
    pockets_mm: list[list[float]]


class WarmthOut(Shown):
    """How long one piece burns, how far it warms at most, least and most seconds until it can be washed."""

    seconds: float
    rise_k: float
    cool_s: list[float]


class LoadsOut(Shown):
    """A job's batch in a jig of the shop, load by load in the order of burning; `closest_mm`: how near a piece comes to
    one that is still warm (null: to none)."""

    kept: KeptJigOut
    jig: JigOut
    play_left_mm: float
    lies: LyingJigOut | None
    loads: list[list[SeatOut]]
    warmth: WarmthOut | None
    closest_mm: float | None
    findings: list[FindingOut]


@router.get("/jobs/{job_id}/jig", response=JigOut)
def draft(request: HttpRequest, job_id: int, wish: Query[JigIn]) -> JigOut:
    """Lay a jig out; nothing is kept."""
    return _jig(*draft_jig(find_job(workshop_of(request), job_id), wish.spec()))


@router.get("/jobs/{job_id}/sheets/{what}/burn.gcode", **sends(_GCODE))
def burn(request: HttpRequest, job_id: int, what: Sheet, wish: Query[CutIn]) -> HttpResponse:
    """What is cut for a job, as G-code for its own machine."""
    job, w = find_job(workshop_of(request), job_id), wish
    sheet = sheet_for(job, what, w.spec(), w.pin_mm)
    cut = Setting(w.cut_power_pct, w.cut_speed_mm_s, _USUAL_LINES_MM, w.cut_passes)
    mark = Setting(w.mark_power_pct, w.mark_speed_mm_s, _USUAL_LINES_MM, 1)
    text = sheet_gcode(sheet, job.machine.to_core(), cut, mark, f"{job.name}, {what}")
    headers = {"Content-Disposition": f'attachment; filename="keencoat-job{job_id}-{what}.gcode"'}
    return HttpResponse(text, content_type=f"{_GCODE}; charset=utf-8", headers=headers)


@router.get("/jobs/{job_id}/sheets/{what}.{drawing}", **sends("image/svg+xml", "image/vnd.dxf"))
def drawn(request: HttpRequest, job_id: int, what: Sheet, drawing: Drawing, wish: Query[SheetIn]) -> HttpResponse:
    """What is cut for a job, true to scale, in two groups or layers: what is cut, and what is marked."""
    job = find_job(workshop_of(request), job_id)
    width, height = wish.sheet_width_mm, wish.sheet_height_mm
    on = f", on {width:g} x {height:g} mm" if what is Sheet.JIG else ""
    sheet = sheet_for(job, what, wish.spec(), wish.pin_mm)
    return send_sheet(sheet, drawing, f"job{job_id}-{what}", f"{job.name}, {what}{on}")


@router.get("/jobs/{job_id}/jigs", response=list[FittingJigOut])
def fitting(request: HttpRequest, job_id: int) -> list[FittingJigOut]:
    """The shop's jigs that take a job's pieces, the closest first."""
    return [_fitting(found) for found in fitting_jigs(find_job(workshop_of(request), job_id))]


@router.post("/jobs/{job_id}/jigs", response={201: FittingJigOut})
def keep(request: HttpRequest, job_id: int, payload: KeepJigIn) -> Status[FittingJigOut]:
    """Keep a jig for a job's pieces."""
    job = find_job(workshop_of(request), job_id)
    return Status(201, _fitting(keep_for(job, payload.name, payload.asked.spec(), timezone.now())))


@router.get("/jobs/{job_id}/jigs/{jig_id}", response=LoadsOut, openapi_extra={"responses": LATE})
def loads(request: HttpRequest, job_id: int, jig_id: int) -> LoadsOut:
    """A job's batch in a jig of the shop."""
    workshop = workshop_of(request)
    job, kept = find_job(workshop, job_id), find_jig(workshop, jig_id)
    return _loads(loads_for(job, kept), show_kept_jig(kept))


@router.get("/jobs/{job_id}/jigs/{jig_id}/load.gcode", **sends(_GCODE, late=True))
def load_file(
    request: HttpRequest, job_id: int, jig_id: int, number: int, from_pocket: int | None = None
) -> StreamingHttpResponse:
    """One load (from 1) in one file, from a pocket on where a run was stopped."""
    workshop = workshop_of(request)
    taken = take_load(find_job(workshop, job_id), find_jig(workshop, jig_id), number, from_pocket)
    keep_version(taken.artwork, taken.base, timezone.now())
    name = f"keencoat-job{job_id}-load{number}{f'-from{from_pocket}' if from_pocket is not None else ''}.gcode"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return StreamingHttpResponse(load_gcode(taken), content_type=f"{_GCODE}; charset=utf-8", headers=headers)


def _fitting(found: FittingJig) -> FittingJigOut:
    return FittingJigOut(kept=show_kept_jig(found.jig), play_left_mm=found.play_left_mm)


def _jig(jig: Jig, loads: Sequence[Sequence[Seat]]) -> JigOut:
    lines = [line for p in jig.pockets if (line := jig.hole_line(p))]
    return JigOut(
        pockets=[PocketOut.showing(p) for p in jig.pockets],
        edge=[[round(x, 3), round(y, 3)] for x, y in jig.edge.exterior.coords],
        crosses_mm=[list(c) for c in jig.crosses_mm],
        hole_lines=[[list(a), list(b)] for a, b in lines],
        like_honeycomb=jig.like_honeycomb,
        loads=[
            LoadOut(first_piece=min(s.piece for s in load), last_piece=max(s.piece for s in load)) for load in loads
        ],
    )


def _lies(seating: Seating, jig: Jig) -> LyingJigOut:
    at = [list(seating.to_bed.at(p.x_mm, p.y_mm)) for p in jig.pockets]
    return LyingJigOut(turn_deg=seating.turn_deg, residual_mm=seating.residual_mm, pockets_mm=at)


def _loads(found: JobLoads, kept: KeptJigOut) -> LoadsOut:
    lies = found.seating
    names = found.names

    def name_of(piece: int) -> str:
        return names[piece - 1] if piece <= len(names) else ""

    return LoadsOut(
        kept=kept,
        jig=_jig(found.jig, found.loads),
        play_left_mm=found.play_left_mm,
        lies=_lies(lies, found.jig) if lies else None,
        loads=[
            [SeatOut(piece=s.piece, pocket=s.pocket.number, name=name_of(s.piece)) for s in load]
            for load in found.loads
        ],
        warmth=WarmthOut.showing(found.warmth) if found.warmth else None,
        closest_mm=found.closest_mm,
        findings=[FindingOut.showing(f) for f in found.findings],
    )
