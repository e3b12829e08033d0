"""The air in the workshop's room: readings typed in, or from its sensor."""

from datetime import datetime, timedelta
from functools import lru_cache

from django.db import transaction

from keencoat.bench.room import SimulatedRoom
from keencoat.core.coat import REFERENCE_AIR, Air, AirSpell
from keencoat.core.errors import BadValueError, StaleError, require_within
from keencoat.shop.models import RoomNote, Workshop

LONGEST = timedelta(days=4)
"""How far back air matters: no coat dries longer."""

_SENSOR_STEP = timedelta(hours=1)


def sensor_of(workshop: Workshop) -> SimulatedRoom | None:
    """The workshop's room sensor, if it has one: a `RoomSensor`; the simulated one is the only kind so far."""
    return SimulatedRoom(seed=workshop.pk) if workshop.simulated_sensor else None


def note_air(workshop: Workshop, air: Air, at: datetime) -> RoomNote:
    """Store a typed-in reading; it holds until the next one."""
    require_within(air.temperature_c, -5, 45, "temperature_c", "°C")
    if workshop.simulated_sensor:
        raise BadValueError(
            "The simulated sensor is on; a typed-in reading would not count.",
            field="temperature_c",
            hint="Switch the sensor off first.",
        )
    return RoomNote.objects.create(
        workshop=workshop, at=at, temperature_c=air.temperature_c, humidity_pct=air.humidity_pct
    )


@transaction.atomic
def switch_sensor(workshop: Workshop, on: bool, was: bool) -> Workshop:
    """Read the room from the simulated sensor, or from typed-in readings. Raises StaleError if it no longer is as it
    `was`."""
    row = Workshop.objects.select_for_update().get(pk=workshop.pk)
    if row.simulated_sensor is not was:
        raise StaleError(
            f"The sensor was switched {'off' if was else 'on'} elsewhere; nothing was changed.",
            field="on",
            hint="Reload to see the room as it is read now.",
        )
    row.simulated_sensor = on
    row.save(update_fields=["simulated_sensor"])
    return row


def spells_of(workshop: Workshop, now: datetime) -> list[AirSpell]:
    """The air of the last days, the oldest first; empty if nobody read it."""
    sensor = sensor_of(workshop)
    if sensor is None:
        return [AirSpell(note.at, note.air()) for note in workshop.room_notes.all() if note.at > now - LONGEST]
    return list(_hourly(sensor, (now - LONGEST).replace(minute=0, second=0, microsecond=0)))


@lru_cache(maxsize=128)
def _hourly(sensor: SimulatedRoom, start: datetime) -> tuple[AirSpell, ...]:
    """What the sensor read each hour since: asked once an hour, not once a job."""
    readings = [sensor.read(start + n * _SENSOR_STEP) for n in range(int(LONGEST / _SENSOR_STEP) + 1)]
    return tuple(AirSpell(r.at, Air(r.temperature_c, r.humidity_pct)) for r in readings)


def air_now(workshop: Workshop, now: datetime) -> AirSpell | None:
    """The newest reading, or None."""
    sensor = sensor_of(workshop)
    if sensor is not None:
        reading = sensor.read(now)
        return AirSpell(now, Air(reading.temperature_c, reading.humidity_pct))
    spells = spells_of(workshop, now)
    return spells[-1] if spells else None


def air_at(workshop: Workshop, at: datetime) -> Air | None:
    """The air as it was read last before a moment; None if nobody had read it for days."""
    sensor = sensor_of(workshop)
    if sensor is not None:
        reading = sensor.read(at)
        return Air(reading.temperature_c, reading.humidity_pct)
    note = workshop.room_notes.filter(at__lte=at, at__gt=at - LONGEST).last()
    return note.air() if note else None


def air_or_usual(workshop: Workshop, now: datetime) -> Air:
    """The air to plan with: the newest reading, else the air that the catalogue's times hold for."""
    newest = air_now(workshop, now)
    return newest.air if newest else REFERENCE_AIR
