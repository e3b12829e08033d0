"""What a maker tells of how a job's pieces lie or turn, and where the mark goes: the one thing that is kept of it."""

from dataclasses import dataclass

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.piece import FlatPiece, Girth, NarrowEnd, Piece, RoundPiece
from keencoat.core.placing.wall import ArtWay, TaperedWall

_MOST_GIRTHS, _MOST_POINTS = 12, 24


@dataclass(frozen=True)
class Mark:
    """Where a mark lies: its size, mm, its middle up the wall (None: the middle of the wall) and in turn, and where the
    wall's seam is."""

    width_mm: float
    height_mm: float
    along_mm: float | None = None
    turn_deg: float = 0.0
    seam_deg: float = 180.0
    way: ArtWay = ArtWay.LEVEL

    def __post_init__(self) -> None:
        require_within(self.width_mm, 0.5, 4000, "mark.width_mm", "mm")
        require_within(self.height_mm, 0.5, 2000, "mark.height_mm", "mm")
        if self.along_mm is not None:
            require_within(self.along_mm, 0, 2000, "mark.along_mm", "mm")
        require_within(self.turn_deg, -360, 360, "mark.turn_deg", "°")
        require_within(self.seam_deg, -360, 360, "mark.seam_deg", "°")


@dataclass(frozen=True)
class PlacingSpec:
    """What was measured of a round piece and what carries it, or where a flat one was touched on the bed, mm: a disc's
    rim all round, or the ends of two chords drawn with a square (`by_chords`), a sheet's corners lower left, lower
    right, upper left."""

    mark: Mark
    girths: tuple[Girth, ...] = ()
    length_mm: float = 100.0
    narrow_end: NarrowEnd = NarrowEnd.NEITHER
    stem_mm: float = 0.0
    supports_mm: float = 100.0
    focus_below_mm: float | None = None
    points: tuple[tuple[float, float], ...] = ()
    by_chords: bool = False

    def __post_init__(self) -> None:
        require_within(self.length_mm, 5, 1000, "length_mm", "mm")
        require_within(self.stem_mm, 0, 0.9 * self.length_mm, "stem_mm", "mm")
        require_within(self.supports_mm, 10, 2000, "supports_mm", "mm")
        if self.focus_below_mm is not None:
            require_within(self.focus_below_mm, 0, 500, "focus_below_mm", "mm")
        for what, most in (("girths", _MOST_GIRTHS), ("points", _MOST_POINTS)):
            if len(getattr(self, what)) > most:
                raise BadValueError(f"More than {most} {what} tell no more.", field=what, hint="Leave some out.")


def start_of_placing(piece: Piece) -> PlacingSpec:
    """What is taken for granted until somebody measures."""
    if isinstance(piece, FlatPiece):
        return PlacingSpec(Mark(_whole(0.5 * piece.width_mm), _whole(0.5 * piece.height_mm)))
    narrow = NarrowEnd.NEITHER if piece.narrow_mm == piece.diameter_mm else NarrowEnd.TOP
    mark = Mark(_whole(0.7 * piece.narrow_mm), _whole(0.4 * piece.slant_mm))
    supports_mm = max(10.0, _whole(0.8 * piece.height_mm))
    return PlacingSpec(mark, length_mm=piece.height_mm, narrow_end=narrow, supports_mm=supports_mm)


def _whole(mm: float) -> float:
    """As a person would say it."""
    return max(1.0, float(round(mm)))


def told_wall(piece: RoundPiece, narrow_end: NarrowEnd) -> TaperedWall:
    """The wall as the piece is said to be, while nobody has measured it."""
    ends = (piece.narrow_mm, piece.diameter_mm)
    below, above = ends if narrow_end is NarrowEnd.FOOT else ends[::-1]
    return TaperedWall(below, above, piece.slant_mm)
