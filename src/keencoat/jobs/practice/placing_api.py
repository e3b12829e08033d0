"""Placing on the practice bench: measured, touched and burned there."""

from typing import Annotated

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from keencoat.core.piece import GirthTool, RoundPiece
from keencoat.jobs.job.services import find_job
from keencoat.jobs.placing.schemas import GirthIO, Spot
from keencoat.jobs.practice.placing import (
    burn_ridge,
    land_on_bed,
    land_on_wall,
    measure_ticks,
    measure_wall,
    touch_crosses,
    touch_piece,
)
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Asked, Shown
from keencoat.shop.jigs import find_jig
from keencoat.shop.turning import find_device

router = Router(tags=["practice"])


class MeasureIn(Asked):
    """What a practice piece is measured with."""

    by: GirthTool


class TouchIn(Asked):
    """What the pointer touches: the piece itself, or a jig's crosses."""

    jig_id: int | None = None


class TicksAskIn(Asked):
    """Two ticks so many turns apart, on a straight wall so long round."""

    asked_turns: Annotated[float, Field(ge=0.1, le=20)]
    round_mm: Annotated[float, Field(ge=15, le=3000)]


class TicksTaped(Shown):
    """What the tape says: mm between them, or from whole turns what is left over."""

    measured_mm: float


class LandIn(Asked):
    """What is burned: the mark on the piece, or a load in a jig; on a turning device, whether its shim is under it."""

    jig_id: int | None = None
    number: int = 1
    levelled: bool = True


class PieceLandedOut(Shown):
    """Where a piece's mark came beside what was meant: mm to the right and up, degrees counterclockwise."""

    piece: int
    x_mm: float
    y_mm: float
    turn_deg: float


class TurnedMarkOut(Shown):
    """A mark as it came on a wall: mm round it and along it, as meant and as it came; how much further along one side
    lies than the other; how far the wall rises under the head along it."""

    meant_mm: list[float]
    came_mm: list[float]
    sloped_mm: float
    rise_mm: float


class LandedOut(Shown):
    """Where marks landed: on flat pieces, or on a wall."""

    pieces: list[PieceLandedOut]
    wall: TurnedMarkOut | None


class RidgeOut(Shown):
    """Shares of clean pieces beside the ridge, by mm from it."""

    aside_mm: list[float]
    clean: list[float]


@router.post("/jobs/{job_id}/practice/girths", response=list[GirthIO])
def measure(request: HttpRequest, job_id: int, payload: MeasureIn) -> list[GirthIO]:
    """Measure a practice piece at three heights."""
    girths = measure_wall(find_job(workshop_of(request), job_id), payload.by)
    return [GirthIO(height_mm=g.height_mm, figure_mm=g.figure_mm, by=g.by) for g in girths]


@router.post("/jobs/{job_id}/practice/touches", response=list[Spot])
def touched(request: HttpRequest, job_id: int, payload: TouchIn) -> list[Spot]:
    """Touch a practice piece, or a jig's crosses, with the pointer: where the machine says it is."""
    workshop = workshop_of(request)
    job = find_job(workshop, job_id)
    found = touch_piece(job) if payload.jig_id is None else touch_crosses(job, find_jig(workshop, payload.jig_id))
    return [list(point) for point in found]


@router.post("/turning-devices/{device_id}/practice-ticks", response=TicksTaped)
def ticks(request: HttpRequest, device_id: int, payload: TicksAskIn) -> TicksTaped:
    """Burn two ticks on a practice device, and measure between them."""
    device = find_device(workshop_of(request), device_id)
    return TicksTaped(measured_mm=measure_ticks(device, payload.asked_turns, payload.round_mm))


@router.post("/jobs/{job_id}/practice/landing", response=LandedOut)
def landing(request: HttpRequest, job_id: int, payload: LandIn) -> LandedOut:
    """Burn on the practice bench, and see where marks landed."""
    workshop = workshop_of(request)
    job = find_job(workshop, job_id)
    if payload.jig_id is None and isinstance(job.piece(), RoundPiece):
        found = land_on_wall(job, payload.levelled)
        came = found.came
        wall = TurnedMarkOut(
            meant_mm=list(found.meant_mm),
            came_mm=[came.round_mm, came.along_mm],
            sloped_mm=came.sloped_mm,
            rise_mm=came.rise_mm,
        )
        return LandedOut(pieces=[], wall=wall)
    kept = None if payload.jig_id is None else find_jig(workshop, payload.jig_id)
    pieces = [
        PieceLandedOut(piece=p.piece, x_mm=p.landed.x_mm, y_mm=p.landed.y_mm, turn_deg=p.landed.turn_deg)
        for p in land_on_bed(job, kept, payload.number)
    ]
    return LandedOut(pieces=pieces, wall=None)


@router.post("/jobs/{job_id}/practice/ridge", response=RidgeOut)
def ridge(request: HttpRequest, job_id: int) -> RidgeOut:
    """Burn narrow strips beside the ridge of a practice glass under a fixed head."""
    found = burn_ridge(find_job(workshop_of(request), job_id))
    return RidgeOut(aside_mm=found.aside_mm.round(2).tolist(), clean=found.clean.round(3).tolist())
