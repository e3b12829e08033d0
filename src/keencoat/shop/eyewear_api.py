"""The shop's eyewear, by what is printed on it."""

from collections.abc import Sequence

from django.http import HttpRequest
from ninja import Router, Status
from pydantic import Field

from keencoat.core.safety import WaveBand
from keencoat.shop.access import workshop_of
from keencoat.shop.eyewear import change_eyewear, eyewear_of, keep_eyewear
from keencoat.shop.fields import Asked, Name, Shown

router = Router(tags=["shop"])


class BandIn(Asked):
    """Wavelengths from and to, nm, the optical density there, and whether its mark is for pulses too."""

    from_nm: float
    to_nm: float
    density: float
    for_pulses: bool = False


class EyewearIn(Asked):
    """A pair by what is printed on it."""

    name: Name
    bands: list[BandIn] = Field(max_length=40)


class EyewearChange(EyewearIn):
    """A pair, whether it is put away, and the version it was read at."""

    put_away: bool = False
    version: int


class BandOut(Shown):
    """A band of a pair."""

    from_nm: float
    to_nm: float
    density: float
    for_pulses: bool


class EyewearOut(Shown):
    """A pair of the shop."""

    id: int
    name: str
    bands: list[BandOut]
    put_away: bool
    version: int


@router.get("/eyewear", response=list[EyewearOut])
def list_all(request: HttpRequest) -> list[EyewearOut]:
    """All pairs of the shop, those that were put away too."""
    return [EyewearOut.showing(pair) for pair in eyewear_of(workshop_of(request))]


@router.post("/eyewear", response={201: EyewearOut})
def add(request: HttpRequest, payload: EyewearIn) -> Status[EyewearOut]:
    """List a pair."""
    return Status(201, EyewearOut.showing(keep_eyewear(workshop_of(request), payload.name, _bands(payload.bands))))


@router.put("/eyewear/{eyewear_id}", response=EyewearOut)
def change_one(request: HttpRequest, eyewear_id: int, payload: EyewearChange) -> EyewearOut:
    """Mend what is told of a pair, or put it away."""
    p = payload
    return EyewearOut.showing(
        change_eyewear(workshop_of(request), eyewear_id, p.name, _bands(p.bands), p.put_away, p.version)
    )


def _bands(asked: Sequence[BandIn]) -> list[WaveBand]:
    return [WaveBand(**band.model_dump()) for band in asked]
