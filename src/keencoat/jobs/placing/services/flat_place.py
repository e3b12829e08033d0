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
class FlatPlace:
    """How a flat piece lies: a disc or a sheet by its touched points, None while they are too few; the art on it (about
    the piece's middle), and the frame round both."""

    disc: Disc | None
    sheet: LyingSheet | None
    art: Polygon
    frame: Frame | None
    beam: Beam
    room: HeightRoom | None
    findings: tuple[Finding, ...]

    @property
    def to_bed(self) -> Transform | None:
        """From the piece's own coordinates to the bed's."""
        if self.disc is not None:
            return offset(self.disc.x_mm, self.disc.y_mm)
        return self.sheet.to_bed if self.sheet else None


def flat_place(placing: Placing, piece: FlatPiece) -> FlatPlace:
    """All that follows from what is told. Raises BadValueError where it cannot be so."""
    told, mark_mm = placing.told(), mark_mm_of(placing)
    art = rectangle(*mark_mm)
    if placing.artwork is not None:
        placement = placing.artwork.asked().placement
        art = translate(art, placement.x_mm, placement.y_mm)
    disc = sheet = None
    if piece.has_rim:
        disc = _disc(told, piece.width_mm)
    elif len(told.points) > 1:
        if len(told.points) > 3:
            raise BadValueError("A sheet has three corners to touch.", field="points", hint="Leave the rest out.")
        third = told.points[2] if len(told.points) > 2 else None
        sheet = sheet_at(told.points[0], told.points[1], third, (piece.width_mm, piece.height_mm))
    beam = beam_of(placing.job.machine)
    place = FlatPlace(disc, sheet, art, None, beam, room_of(placing.job, beam), ())
    if place.to_bed is None:
        return place
    frame = frame_of(art, piece.outline, piece.coated, place.to_bed, placing.job.machine.to_core())
    lies = disc or sheet
    found = (*(lies.findings if lies else ()), *frame.findings)
    return FlatPlace(disc, sheet, art, frame, beam, place.room, found)


def _disc(told: PlacingSpec, told_mm: float) -> Disc | None:
    points = told.points
    if not told.by_chords:
        return disc_through(points, told_mm) if len(points) > 2 else None
    if len(points) > 4:
        raise BadValueError("Two chords have four ends.", field="points", hint="Leave the rest out.")
    return disc_from_chords(points[:2], points[2:], told_mm) if len(points) == 4 else None
