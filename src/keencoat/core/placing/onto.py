"""Which wall a mark comes onto, and where on it."""

import math

from keencoat.core.errors import BadValueError
from keencoat.core.piece import RoundPiece, Wall, read_wall
from keencoat.core.placing.spec import PlacingSpec, told_wall
from keencoat.core.placing.wall import ArtOnWall, TaperedWall

_LEAST_MM = 3.0


def wall_of(piece: RoundPiece, told: PlacingSpec) -> tuple[Wall | None, TaperedWall]:
    """The wall as measured, None while nobody has, and the frustum that art comes onto: the wall itself, or of a barrel
    the frustum that touches it all round at the mark's middle."""
    if not told.girths:
        return None, told_wall(piece, told.narrow_end)
    wall = read_wall(told.girths, told.length_mm, told.narrow_end, piece.diameter_mm)
    middle = wall.length_mm / 2 if told.mark.along_mm is None else min(told.mark.along_mm, wall.length_mm)
    there, widens = wall.diameter_mm(middle), wall.b + 2 * wall.c * middle
    below, above = there - widens * middle, there + widens * (wall.length_mm - middle)
    if min(below, above, wall.diameter_mm(0), wall.diameter_mm(wall.length_mm)) < _LEAST_MM:
        raise BadValueError(
            f"By these figures the wall would run to Ø {min(below, above):.1f} mm at one end.",
            field="girths",
            hint="Measure further apart along the wall, or once more.",
        )
    return wall, TaperedWall(below, above, math.hypot((above - below) / 2, wall.length_mm))


def art_on(taper: TaperedWall, told: PlacingSpec, mark_mm: tuple[float, float]) -> ArtOnWall:
    """Where the mark comes to; raises BadValueError where it reaches past the wall."""
    along = taper.slant_mm / 2 if told.mark.along_mm is None else told.mark.along_mm
    if not mark_mm[1] / 2 <= along <= taper.slant_mm - mark_mm[1] / 2:
        raise BadValueError(
            f"A mark {mark_mm[1]:.1f} mm high with its middle {along:.1f} mm up the wall reaches past its end.",
            field="mark.along_mm",
            hint=f"The wall is {taper.slant_mm:.1f} mm long.",
        )
    return ArtOnWall(taper, told.mark.way, along, told.mark.turn_deg)
