"""Jigs of the shop, where they lie, their files; and the plate that a turning device comes back into."""

from datetime import datetime
from enum import StrEnum
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Query, Router
from pydantic import Field

from keencoat.core.jig import CutSheet, Feet, JigSpec, guide_sheet, sheet_dxf, sheet_of, sheet_svg
from keencoat.core.piece import Shape
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Asked, Name, Shown, sends
from keencoat.shop.jigs import change_jig, find_jig, jigs_of, seat_jig
from keencoat.shop.models import KeptJig
from keencoat.shop.turning import find_device

router = Router(tags=["shop"])


class Drawing(StrEnum):
    """What a sheet to cut is drawn as."""

    SVG = "svg"
    DXF = "dxf"


_MEDIA = {Drawing.SVG: "image/svg+xml", Drawing.DXF: "image/vnd.dxf"}


class JigIn(Asked):
    """What is asked of a jig: its sheet, the play of a piece across its pocket, the kerf of the cut, gaps, margin,
    notches for fingers (radius, 0: none), where a hanging hole points (degrees; null: nowhere)."""

    sheet_width_mm: float
    sheet_height_mm: float
    play_mm: float = 0.4
    kerf_mm: float = 0.15
    gap_mm: float = 6
    margin_mm: float = 12
    finger_mm: float = 0
    hole_deg: float | None = None
    across: bool = False
    mirrored: bool = False

    def spec(self) -> JigSpec:
        """As core knows it; raises BadValueError."""
        return JigSpec((self.sheet_width_mm, self.sheet_height_mm), **_as_it_is(self))


class KeptJigOut(Shown):
    """A jig of the shop: the size of piece that it was cut for, what was asked of it, how many pockets it has, and on
    which machine's bed it was laid (`touched`: its two crosses there)."""

    id: int
    name: str
    shape: Shape
    width_mm: float
    height_mm: float
    asked: JigIn
    pockets: int
    machine_id: int | None
    touched: list[list[float]]
    seated_at: datetime | None
    put_away: bool
    version: int


class JigChange(Asked):
    """What a jig is called, whether it is put away, and the version that this was seen at."""

    name: Name
    put_away: bool = False
    version: int


class SeatIn(Asked):
    """Where a jig's two crosses were touched on a machine's bed, the one near pocket 1 first; none: it was taken
    off."""

    machine_id: int
    touched: list[Annotated[list[float], Field(min_length=2, max_length=2)]] = Field(max_length=2)
    version: int


class FeetIn(Asked):
    """A turning device's feet: how far apart their middles are along its axis and across it (0: one row), how long and
    wide each is; the play in their pockets, and the kerf of the cut."""

    apart_mm: float
    across_mm: float
    length_mm: float
    width_mm: float
    play_mm: float = 0.3
    kerf_mm: float = 0.15


def asked_of(spec: JigSpec) -> JigIn:
    """What was asked of a jig, as it is asked."""
    return JigIn(sheet_width_mm=spec.sheet_mm[0], sheet_height_mm=spec.sheet_mm[1], **_as_it_is(spec))


def _as_it_is(asked: JigIn | JigSpec) -> dict[str, Any]:
    """All but the sheet, which core knows as one pair."""
    return {name: getattr(asked, name) for name in JigIn.model_fields if not name.startswith("sheet_")}


def show_kept_jig(jig: KeptJig) -> KeptJigOut:
    """A jig of the shop."""
    own = set(KeptJigOut.model_fields) - {"asked", "pockets"}
    facts = {name: getattr(jig, name) for name in own}
    return KeptJigOut(**facts, asked=asked_of(jig.asked()), pockets=len(jig.laid().pockets))


def send_sheet(sheet: CutSheet, kind: Drawing, stem: str, title: str) -> HttpResponse:
    """A sheet to cut, as a file."""

    text = sheet_svg(sheet, title) if kind is Drawing.SVG else sheet_dxf(sheet)
    headers = {"Content-Disposition": f'attachment; filename="keencoat-{stem}.{kind}"'}
    return HttpResponse(text, content_type=_MEDIA[kind], headers=headers)


@router.get("/jigs", response=list[KeptJigOut])
def list_jigs(request: HttpRequest) -> list[KeptJigOut]:
    """The jigs of the shop by the size of their pieces."""
    return [show_kept_jig(jig) for jig in jigs_of(workshop_of(request))]


@router.put("/jigs/{jig_id}", response=KeptJigOut)
def change_one(request: HttpRequest, jig_id: int, payload: JigChange) -> KeptJigOut:
    """Call a jig something else, or put it away."""
    p = payload
    return show_kept_jig(change_jig(workshop_of(request), jig_id, p.name, p.put_away, p.version))


@router.put("/jigs/{jig_id}/seat", response=KeptJigOut)
def seat_one(request: HttpRequest, jig_id: int, payload: SeatIn) -> KeptJigOut:
    """Tell where a jig's crosses lie on a bed now."""
    p, touched = payload, [(x, y) for x, y in payload.touched]
    return show_kept_jig(seat_jig(workshop_of(request), jig_id, p.machine_id, touched, timezone.now(), p.version))


@router.get("/jigs/{jig_id}/jig.{drawing}", **sends("image/svg+xml", "image/vnd.dxf"))
def jig_file(request: HttpRequest, jig_id: int, drawing: Drawing) -> HttpResponse:
    """A jig to be cut once more."""
    jig = find_jig(workshop_of(request), jig_id)
    return send_sheet(sheet_of(jig.laid()), drawing, f"jig{jig_id}", jig.name)


@router.get("/turning-devices/{device_id}/guide.{drawing}", **sends("image/svg+xml", "image/vnd.dxf"))
def guide_file(request: HttpRequest, device_id: int, drawing: Drawing, feet: Query[FeetIn]) -> HttpResponse:
    """A plate with a pocket for every foot of a turning device, so that it comes back to the same place."""
    device = find_device(workshop_of(request), device_id)
    measured = Feet(feet.apart_mm, feet.across_mm, feet.length_mm, feet.width_mm)
    sheet = guide_sheet(measured, feet.play_mm, feet.kerf_mm)
    return send_sheet(sheet, drawing, f"guide-{device_id}", f"Guide plate for {device.name}")
