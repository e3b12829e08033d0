"""Whether a jig that stands on the shelf takes the pieces of another job."""

from keencoat.core.jig.layout import JigSpec
from keencoat.core.piece import FlatPiece

_LOOSEST_MM = 1.5


def play_left_mm(cut_for: FlatPiece, spec: JigSpec, piece: FlatPiece) -> float | None:
    """The play that a piece has in pockets that were cut for another, mm across (the larger one of a sheet's two); None
    where it does not go in, lies too loose to land twice at one place, or has another shape."""
    if piece.shape is not cut_for.shape:
        return None
    plays = (
        cut_for.width_mm + spec.play_mm - piece.width_mm,
        cut_for.height_mm + spec.play_mm - piece.height_mm,
    )
    return max(plays) if min(plays) > 0 and max(plays) <= _LOOSEST_MM else None
