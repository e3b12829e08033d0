"""What the API of Placing takes and gives."""

from typing import Annotated

from pydantic import Field

from keencoat.core.piece import GirthTool, NarrowEnd, WallKind
from keencoat.core.placing import ArtWay
from keencoat.core.rating import Rating
from keencoat.shop.fields import Asked, FindingOut, Shown

Spot = Annotated[list[float], Field(min_length=2, max_length=2)]


class GirthIO(Asked):
    """A measurement: mm from the foot, mm round the wall by tape or across it by calliper."""

    height_mm: float
    figure_mm: float
    by: GirthTool


class MarkIO(Asked):
    """Where the mark lies: its size where no artwork gives it, its middle up the wall (null: the wall's middle) and in
    turn, the seam, and how flat art comes onto a taper."""

    width_mm: float
    height_mm: float
    along_mm: float | None = None
    turn_deg: float = 0
    seam_deg: float = 180
    way: ArtWay = ArtWay.LEVEL


class PlacingSpecIO(Asked):
    """What is told. `points`: of a disc's rim, or the ends of two chords on it, or a sheet's corners lower left, lower
    right, upper left; mm on the bed."""

    mark: MarkIO
    girths: list[GirthIO] = Field(default=[], max_length=12)
    length_mm: float = 100
    narrow_end: NarrowEnd = NarrowEnd.NEITHER
    stem_mm: float = 0
    supports_mm: float = 100
    focus_below_mm: float | None = None
    points: list[Spot] = Field(default=[], max_length=24)
    by_chords: bool = False


class PlacingIn(Asked):
    """What is told, what turns the piece and which artwork is placed, and the version that this was seen at (0 where
    nothing was told yet)."""

    spec: PlacingSpecIO
    device_id: int | None = None
    artwork_id: int | None = None
    version: int


class SquaringOut(Shown):
    """How far a turning axis is from square: degrees, which way to turn the device (seen from above), and mm to shift
    its far foot."""

    angle_deg: float
    shift_mm: float
    counterclockwise: bool


class WallOut(Shown):
    """A wall as it was measured; `off_mm` how far each figure lies from it, in its own tool's terms; how much of it is
    as straight as half a millimetre."""

    kind: WallKind
    off_mm: list[float]
    straight_mm: float


class DistortionOut(Shown):
    """What a way does to the mark: widest line over narrowest, per cent; rise of its sides over its middle, mm;
    degrees by which letters at its sides lean."""

    way: ArtWay
    wider_pct: float
    sag_mm: float
    lean_deg: float


class SupportOut(Shown):
    """What carries the piece, mm from its foot."""

    at_mm: float
    words: str


class DevicePlaceOut(Shown):
    """What a turning device does: mm of its axis once round and for a millimetre at the mark; how a taper is levelled:
    degrees, mm of shim under the narrow end's support, mm/m by spirit level, and mm of rise along the mark
    without."""

    turn_mm: float
    axis_per_mm: float
    angle_deg: float
    shim_mm: float
    level_mm_per_m: float
    rise_mm: float


class FlankOut(Shown):
    """What a fixed head does beside the ridge, from the ridge outwards: mm aside, degrees of incidence, mm below the
    focus, spot over the one in focus, areal energy over the ridge's, share of clean pieces."""

    aside_mm: list[float]
    incidence_deg: list[float]
    below_focus_mm: list[float]
    spot_times: list[float]
    energy_share: list[float]
    clean: list[float]


class HeadOut(Shown):
    """How wide a mark a fixed head can make here, mm straight across, and how wide this one is; where the focus is set;
    and in which turns a wider one could be made."""

    widest_mm: float
    across_mm: float
    focus_below_mm: float
    fails_as: Rating
    flank: FlankOut
    strip_mm: float | None
    at_deg: list[float]


class RoundOut(Shown):
    """How a round piece lies or turns. The diameters at the ends of the straight wall that art comes onto and at the
    mark, and the wall's own profile (mm from the foot, mm across); the mark on the wall laid flat (about its middle) in
    both ways."""

    wall: WallOut | None
    profile: list[Spot]
    below_mm: float
    above_mm: float
    slant_mm: float
    half_angle_deg: float
    widest_mm: float
    there_mm: float
    along_mm: float
    mark_width_mm: float
    mark_height_mm: float
    degrees_per_mm: float
    mark_deg: float
    to_seam_mm: float
    ways: list[DistortionOut]
    flat_wall: list[Spot]
    flat_marks: dict[ArtWay, list[Spot]]
    supports: list[SupportOut]
    device: DevicePlaceOut | None
    head: HeadOut | None


class DiscOut(Shown):
    """A disc as it lies; how far its middle may be off, and each touched point from its circle."""

    x_mm: float
    y_mm: float
    diameter_mm: float
    doubt_mm: float
    off_mm: list[float]


class LyingOut(Shown):
    """A sheet as it lies: its middle, and its turn counterclockwise."""

    x_mm: float
    y_mm: float
    turn_deg: float


class FlatOut(Shown):
    """How a flat piece lies on the bed, with its outline, the mark and the frame there."""

    disc: DiscOut | None
    sheet: LyingOut | None
    piece: list[Spot]
    art: list[Spot]
    frame: list[Spot]
    bed_x_mm: float
    bed_y_mm: float


class HeightOut(Shown):
    """The beam's depth (mm one way, a tenth wider), whether a ladder tells it, and how far off focus the locked setting
    keeps the wanted share (null before a lock); and where the focus goes, in words."""

    depth_mm: float
    measured: bool
    room_mm: float | None
    focus: str


class PlacingOut(Shown):
    """What is told of a job's placing, and what follows."""

    version: int
    spec: PlacingSpecIO
    device_id: int | None
    artwork_id: int | None
    round: RoundOut | None
    flat: FlatOut | None
    height: HeightOut
    findings: list[FindingOut]
