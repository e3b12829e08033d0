"""The air in the room."""

from datetime import datetime

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from keencoat.core.coat import Air, air_findings
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Asked, FindingOut, Shown
from keencoat.shop.models import Workshop
from keencoat.shop.room import air_now, note_air, switch_sensor

router = Router(tags=["room"])


class RoomOut(Shown):
    """The room as read last; null figures if nobody read it."""

    at: datetime | None
    temperature_c: float | None
    humidity_pct: float | None
    dew_point_c: float | None
    simulated: bool
    findings: list[FindingOut]


class AirIn(Asked):
    """A reading, typed in or sent by a sensor."""

    temperature_c: float
    humidity_pct: float


class SensorIn(Asked):
    """Whether the simulated sensor shall be on, and whether it was when this was decided."""

    on: bool
    was: bool


def show_room(workshop: Workshop, now: datetime) -> RoomOut:
    """The room at a moment."""
    spell = air_now(workshop, now)
    if spell is None:
        return RoomOut(at=None, temperature_c=None, humidity_pct=None, dew_point_c=None, simulated=False, findings=[])
    air = spell.air
    return RoomOut(
        at=spell.since,
        temperature_c=air.temperature_c,
        humidity_pct=air.humidity_pct,
        dew_point_c=air.dew_point_c,
        simulated=workshop.simulated_sensor,
        findings=[FindingOut.model_validate(f) for f in air_findings(air)],
    )


@router.get("/room", response=RoomOut)
def read_room(request: HttpRequest) -> RoomOut:
    """The room as read last."""
    return show_room(workshop_of(request), timezone.now())


@router.post("/room/readings", response=RoomOut)
def add_reading(request: HttpRequest, payload: AirIn) -> RoomOut:
    """Store a reading; drying times follow it from now on."""
    workshop, now = workshop_of(request), timezone.now()
    note_air(workshop, Air(payload.temperature_c, payload.humidity_pct), now)
    return show_room(workshop, now)


@router.put("/room/sensor", response=RoomOut)
def set_sensor(request: HttpRequest, payload: SensorIn) -> RoomOut:
    """Switch the simulated sensor on or off."""
    workshop = workshop_of(request)
    workshop = switch_sensor(workshop, payload.on, payload.was)
    return show_room(workshop, timezone.now())
