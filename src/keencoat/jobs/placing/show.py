"""From a placing and what follows of it to what the API gives."""

from dataclasses import asdict, replace

import numpy as np

from keencoat.core.geometry import Transform
from keencoat.core.piece import Wall
from keencoat.core.placing import Beam, HeightRoom, degrees_per_mm
from keencoat.jobs.models import Job
from keencoat.jobs.placing import schemas as s
from keencoat.jobs.placing.services.files import mark_ring, wall_ring
from keencoat.jobs.placing.services.flat_place import FlatPlace
from keencoat.jobs.placing.services.placing import read_placing
from keencoat.jobs.placing.services.round_place import DevicePlace, HeadPlace, RoundPlace
from keencoat.shop.fields import FindingOut

_STRAIGHT_MM = 0.5
_FACED = 120
_PROFILE = 25


def show_placing(job: Job) -> s.PlacingOut:
    """What is told of a job, and what follows."""
    placing, place, findings = read_placing(job)
    return s.PlacingOut(
        version=placing.version,
        spec=s.PlacingSpecIO.model_validate(placing.spec),
        device_id=placing.device_id,
        artwork_id=placing.artwork_id,
        round=_round(place) if isinstance(place, RoundPlace) else None,
        flat=_flat(place, placing.job) if isinstance(place, FlatPlace) else None,
        height=_height(placing.job, place.beam, place.room),
        findings=[FindingOut.showing(f) for f in findings],
    )


def _round(place: RoundPlace) -> s.RoundOut:
    taper, there = place.taper, place.taper.diameter_mm(place.art.along_mm)
    return s.RoundOut(
        wall=_wall(place.wall) if place.wall else None,
        profile=_profile(place),
        below_mm=taper.below_mm,
        above_mm=taper.above_mm,
        slant_mm=taper.slant_mm,
        half_angle_deg=taper.half_angle_deg,
        widest_mm=place.widest_mm,
        there_mm=there,
        along_mm=place.art.along_mm,
        mark_width_mm=place.mark_mm[0],
        mark_height_mm=place.mark_mm[1],
        degrees_per_mm=degrees_per_mm(there),
        mark_deg=place.band.degrees,
        to_seam_mm=place.band.to_seam_mm,
        ways=[s.DistortionOut(way=way, **asdict(found)) for way, found in place.ways.items()],
        flat_wall=_spots(wall_ring(place)),
        flat_marks={way: _spots(mark_ring(replace(place, art=replace(place.art, way=way)))) for way in place.ways},
        supports=[s.SupportOut.showing(x) for x in place.supports],
        device=_device(place.device) if place.device else None,
        head=_head(place.under_head) if place.under_head else None,
    )


def _profile(place: RoundPlace) -> list[list[float]]:
    """The wall as wide as it was measured from foot to top; straight ones by their ends."""
    wall, taper = place.wall, place.taper
    if wall is None:
        return [[0.0, taper.below_mm], [taper.height_mm, taper.above_mm]]
    heights = np.linspace(0, wall.length_mm, _PROFILE if wall.c else 2)
    return _spots(np.column_stack([heights, [wall.diameter_mm(float(h)) for h in heights]]))


def _wall(wall: Wall) -> s.WallOut:
    return s.WallOut(kind=wall.kind, off_mm=list(wall.off_mm), straight_mm=wall.straight_mm(_STRAIGHT_MM))


def _device(device: DevicePlace) -> s.DevicePlaceOut:
    return s.DevicePlaceOut(turn_mm=device.turn_mm, axis_per_mm=device.axis_per_mm, **asdict(device.level))


def _head(under: HeadPlace) -> s.HeadOut:
    flank, turns = under.head.flank, under.turns
    columns = {name: getattr(flank, name).round(4).tolist() for name in s.FlankOut.model_fields}
    return s.HeadOut(
        widest_mm=under.head.widest_mm,
        across_mm=under.across_mm,
        focus_below_mm=under.head.focus_below_mm,
        fails_as=under.head.fails_as,
        flank=s.FlankOut(**columns),
        strip_mm=turns.strip_mm if turns else None,
        at_deg=list(turns.at_deg) if turns else [],
    )


def _flat(place: FlatPlace, job: Job) -> s.FlatOut:
    lying = place.lying
    outline, art = (np.array(ring.exterior.coords) for ring in (job.piece().face.outline, place.art))
    return s.FlatOut(
        disc=s.DiscOut.showing(place.disc) if place.disc else None,
        sheet=s.LyingOut.showing(place.sheet) if place.sheet else None,
        piece=_spots(_moved(outline[:: max(1, len(outline) // _FACED)], lying.to_bed)) if lying else [],
        art=_spots(_moved(art, lying.to_bed)) if lying else [],
        frame=_spots(lying.frame.way) if lying else [],
        bed_x_mm=job.machine.bed_x_mm,
        bed_y_mm=job.machine.bed_y_mm,
    )


def _moved(points: np.ndarray, to_bed: Transform) -> np.ndarray:
    return np.column_stack(to_bed.at(points[:, 0], points[:, 1]))


def _height(job: Job, beam: Beam, room: HeightRoom | None) -> s.HeightOut:
    return s.HeightOut(
        depth_mm=beam.depth_mm,
        measured=beam.measured,
        room_mm=room.room_mm if room else None,
        focus=job.focus_words(),
    )


def _spots(points: np.ndarray) -> list[list[float]]:
    return [[round(float(x), 3), round(float(y), 3)] for x, y in points]
