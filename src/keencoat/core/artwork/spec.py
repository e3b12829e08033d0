"""What somebody asks of an artwork, and the pieces that it comes to."""

import math
from dataclasses import dataclass, field, replace

import numpy as np
from shapely.affinity import translate
from shapely.geometry.base import BaseGeometry

from keencoat.core.artwork.areas import largest_size
from keencoat.core.artwork.drawing import Drawing
from keencoat.core.artwork.lettering import Typeface
from keencoat.core.artwork.made import (
    MOST_BLEED_MM,
    Lines,
    MadeDots,
    Placement,
    Tones,
    dots_of_area,
    dots_of_picture,
    placed_area,
)
from keencoat.core.artwork.names import NameList, SetName, set_names
from keencoat.core.artwork.picture import Picture
from keencoat.core.artwork.screen import Screen
from keencoat.core.artwork.tone import ToneWork, toned
from keencoat.core.errors import BadValueError, require_within

Source = Picture | Drawing | NameList
_EDGE_MM = 0.5
"""Names keep so far off the edge of the coat."""


@dataclass(frozen=True)
class ArtSpec:
    """How an artwork is made. `tone`, `screen`, `serpentine`, `take_back_gain` and `bleed_mm` (past the edge of the
    coat) are for pictures; `group` names the group of a drawing that is burned, "" for all; `typeface` and `one_size`
    are for lists of names, which fill the coat and need no placement. `across`: the piece lies turned a quarter
    counterclockwise on the bed, so that lines go up it."""

    placement: Placement
    tone: ToneWork = field(default_factory=ToneWork)
    screen: Screen = Screen.STUCKI
    serpentine: bool = True
    take_back_gain: bool = True
    bleed_mm: float = 0.0
    group: str = ""
    typeface: Typeface = Typeface.BOLD
    one_size: bool = True
    across: bool = False

    def __post_init__(self) -> None:
        require_within(self.bleed_mm, 0, MOST_BLEED_MM, "bleed_mm", "mm")


@dataclass(frozen=True, eq=False)
class PieceArt:
    """What is burned on one piece; `made` is None where nothing can be, for the reason that `why` gives."""

    label: str
    made: MadeDots | None
    why: str = ""

    def burnable(self) -> MadeDots:
        """Its dots. Raises BadValueError with the reason where nothing can be burned."""
        if self.made is None:
            raise BadValueError(
                f"“{self.label}” is left out: {self.why}", field="piece", hint="Change it, or the size."
            )
        return self.made


def first_spec(source: Source, room: BaseGeometry, one_tone: bool) -> ArtSpec:
    """What an artwork starts with: as large as the coat holds, in its middle; with one tone where that is usual."""
    spec = ArtSpec(Placement(1.0), screen=Screen.THRESHOLD if one_tone else Screen.STUCKI)
    if isinstance(source, NameList):
        return spec
    half_high = height_per_width(source, spec) / 2
    fits = largest_size((-0.5, -half_high, 0.5, half_high), room)
    return replace(spec, placement=Placement(max(1.0, math.floor(100 * fits + 0.01) / 100)))


def height_per_width(source: Source, spec: ArtSpec) -> float:
    """How high an artwork is for its width: of what the crop leaves of a picture, of a drawing's page; 0 for names."""
    if isinstance(source, Picture):
        height, width = source.light.shape
        crop = spec.tone.crop
        return float(height * (crop.bottom - crop.top) / (width * (crop.right - crop.left)))
    return source.height_mm / source.width_mm if isinstance(source, Drawing) else 0.0


def names_set(source: NameList, spec: ArtSpec, lines: Lines, least_capital_mm: float) -> tuple[SetName, ...]:
    """The names as they are set on the coat."""
    return set_names(source.names, lines.room.buffer(-_EDGE_MM), spec.typeface, least_capital_mm, spec.one_size)


def drawing_area(source: Drawing, spec: ArtSpec) -> BaseGeometry:
    """What of a drawing is burned, on the piece. Raises BadValueError for a group that it lacks."""
    if spec.group and spec.group not in source.groups:
        raise BadValueError(
            f"The drawing has no group “{spec.group}”.",
            field="group",
            hint=f"It has {', '.join(name or 'one without a name' for name in source.groups)}.",
        )
    area = source.groups[spec.group] if spec.group else source.area
    return placed_area(area, (source.width_mm, source.height_mm), spec.placement)


def art_of_piece(
    source: Source, spec: ArtSpec, lines: Lines, tones: Tones, names: tuple[SetName, ...], piece: int
) -> PieceArt:
    """What is burned on piece number `piece`, from 0: its own name of a list, and the same on each otherwise."""
    if isinstance(source, NameList):
        if not 0 <= piece < len(names):
            raise BadValueError(f"There is no name {piece + 1}.", field="piece", hint=f"There are {len(names)}.")
        name = names[piece]
        if name.area is None:
            return PieceArt(name.name.first, None, name.why)
        x, y = lines.room.centroid.coords[0]
        return PieceArt(name.name.first, dots_of_area(translate(name.area, x, y), lines))
    if isinstance(source, Drawing):
        return PieceArt(spec.group, dots_of_area(drawing_area(source, spec), lines))
    room = lines.room.buffer(spec.bleed_mm) if spec.bleed_mm else lines.room
    return PieceArt("", dots_of_picture(toned(source, spec.tone), spec.placement, replace(lines, room=room), tones))


def largest_fill_mm(made: MadeDots, block_mm: float = 0.5, full: float = 0.9) -> float:
    """Side of the largest square that is filled: in blocks of half a millimetre of which nine tenths are burned."""
    rows, columns = max(1, round(block_mm / made.interval_mm)), max(1, round(block_mm / made.pitch_mm))
    high, wide = made.dots.shape[0] // rows, made.dots.shape[1] // columns
    blocks = made.dots[: high * rows, : wide * columns].reshape(high, rows, wide, columns).mean(axis=(1, 3)) >= full
    side = np.zeros((high + 1, wide + 1), dtype=int)
    # The largest square that ends at a block: one more than the least of those above, beside and between.
    for row in range(high):
        above = np.minimum(side[row, 1:], side[row, :-1])
        for column in np.flatnonzero(blocks[row]):
            side[row + 1, column + 1] = 1 + min(above[column], side[row + 1, column])
    return float(side.max()) * block_mm
