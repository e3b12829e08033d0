"""How a flat piece lies on the bed, by the points of it that were touched."""

from dataclasses import dataclass

from shapely.affinity import translate
from shapely.geometry import Polygon

from keencoat.core.errors import BadValueError
from keencoat.core.findings import Finding
from keencoat.core.geometry import Transform, offset, rectangle
from keencoat.core.piece import FlatPiece
from keencoat.core.placing import (
    Beam,
    Disc,
    Frame,
    HeightRoom,
    LyingSheet,
    PlacingSpec,
    disc_from_chords,
    disc_through,
    frame_of,
    sheet_at,
)
from keencoat.jobs.placing.models import Placing
from keencoat.jobs.placing.services.beam import beam_of, room_of
from keencoat.jobs.placing.services.mark import mark_mm_of


@dataclass(frozen=True, eq=False)
class Lying:
    """Where a piece lies: from its own coordinates to the bed's, and the frame round it and its art there."""

    to_bed: Transform
    frame: Frame


@dataclass(frozen=True, eq=False)
class FlatPlace:
    """How a flat piece lies: a disc or a sheet by its touched points, None while they are too few; the art on it (about
    the piece's middle, as the beam meets it)."""

    disc: Disc | None
    sheet: LyingSheet | None
    art: Polygon
    lying: Lying | None
    beam: Beam
    room: HeightRoom | None
    findings: tuple[Finding, ...]


def flat_place(placing: Placing, piece: FlatPiece) -> FlatPlace:
    """All that follows from what is told. Raises BadValueError where it cannot be so."""
    told, job = placing.told(), placing.job
    art = rectangle(*mark_mm_of(placing))
    if placing.artwork is not None:
        placement = placing.artwork.asked().placement
        art = translate(art, -placement.x_mm if job.is_seen_through else placement.x_mm, placement.y_mm)
    disc = _disc(told, piece.width_mm) if piece.has_rim else None
    sheet = None if piece.has_rim else _sheet(told, piece)
    lies: Disc | LyingSheet | None = disc or sheet
    beam = beam_of(job.machine)
    room = room_of(job, beam)
    if lies is None:
        return FlatPlace(disc, sheet, art, None, beam, room, ())
    to_bed = sheet.to_bed if sheet else offset(lies.x_mm, lies.y_mm)
    frame = frame_of(art, piece.outline, piece.coated, to_bed, job.machine.to_core())
    return FlatPlace(disc, sheet, art, Lying(to_bed, frame), beam, room, (*lies.findings, *frame.findings))


def _sheet(told: PlacingSpec, piece: FlatPiece) -> LyingSheet | None:
    if len(told.points) < 2:
        return None
    if len(told.points) > 3:
        raise BadValueError("A sheet has three corners to touch.", field="points", hint="Leave the rest out.")
    third = told.points[2] if len(told.points) > 2 else None
    return sheet_at(told.points[0], told.points[1], third, (piece.width_mm, piece.height_mm))


def _disc(told: PlacingSpec, told_mm: float) -> Disc | None:
    points = told.points
    if not told.by_chords:
        return disc_through(points, told_mm) if len(points) > 2 else None
    if len(points) > 4:
        raise BadValueError("Two chords have four ends.", field="points", hint="Leave the rest out.")
    return disc_from_chords(points[:2], points[2:], told_mm) if len(points) == 4 else None
