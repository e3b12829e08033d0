"""What somebody asks of an artwork, and the pieces that it comes to."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import TypeVar

import numpy as np
from shapely.affinity import translate
from shapely.geometry.base import BaseGeometry

from keencoat.core.artwork.engraved import MadeStrokes, strokes_of
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
from keencoat.core.artwork.words import Wording, text_block
from keencoat.core.drawing import Drawing
from keencoat.core.errors import BadValueError, require_within
from keencoat.core.geometry import largest_size

Source = Picture | Drawing | NameList | Wording
T = TypeVar("T")
_TEXT_OF_COAT = 0.85
"""Typed text starts with some air about it."""
_EDGE_MM = 0.5
"""Names keep so far off the edge of the coat."""


@dataclass(frozen=True)
class ArtSpec:
    """How an artwork is made. `tone`, `screen`, `serpentine`, `take_back_gain` and `bleed_mm` (past the edge of the
    coat) are for pictures; `group` names the group of a drawing that is burned, "" for all, and with `each_group` every
    named one has a piece of its own; `words` are typed text, `typeface` is for them and for lists of names, `one_size`
    for lists, which fill the coat and need no placement. `outlines`: what could be filled is drawn along its edges.
    `across`: the piece lies turned a quarter counterclockwise on the bed, so that lines go up it."""

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
    words: str = ""
    outlines: bool = False
    each_group: bool = False

    def __post_init__(self) -> None:
        require_within(self.bleed_mm, 0, MOST_BLEED_MM, "bleed_mm", "mm")


@dataclass(frozen=True, eq=False)
class PieceInk:
    """Outlines or lines on one piece, None for a picture, and where a name does not fit, for the reason that `why`
    gives."""

    label: str
    ink: BaseGeometry | None
    why: str = ""


@dataclass(frozen=True, eq=False)
class PieceArt:
    """What is burned on one piece; `made` is None where nothing can be, for the reason that `why` gives. Where it is
    drawn in `strokes`, the dots only show them."""

    label: str
    made: MadeDots | None
    why: str = ""
    strokes: MadeStrokes | None = None

    @property
    def drawn(self) -> MadeDots | MadeStrokes:
        """What the head does. Raises BadValueError as `burnable`."""
        return self.strokes or self.burnable()

    def burnable(self) -> MadeDots:
        """Its dots. Raises BadValueError with the reason where nothing can be burned."""
        if self.made is None:
            raise BadValueError(
                f"“{self.label}” is left out: {self.why}", field="piece", hint="Change it, or the size."
            )
        return self.made


def first_spec(source: Source, room: BaseGeometry, one_tone: bool) -> ArtSpec:
    """What an artwork starts with: as large as the coat holds, in its middle; with one tone where that is usual."""
    words = source.words if isinstance(source, Wording) else ""
    spec = ArtSpec(Placement(1.0), screen=Screen.THRESHOLD if one_tone else Screen.STUCKI, words=words)
    if isinstance(source, NameList):
        return spec
    half_high = height_per_width(source, spec) / 2
    fits = largest_size((-0.5, -half_high, 0.5, half_high), room)
    if isinstance(source, Wording):
        fits *= _TEXT_OF_COAT
    return replace(spec, placement=Placement(max(1.0, math.floor(100 * fits + 0.01) / 100)))


def height_per_width(source: Source, spec: ArtSpec) -> float:
    """How high an artwork is for its width: of what the crop leaves of a picture, of a drawing's page, of a text's ink;
    0 for names."""
    if isinstance(source, Picture):
        height, width = source.light.shape
        crop = spec.tone.crop
        return float(height * (crop.bottom - crop.top) / (width * (crop.right - crop.left)))
    if isinstance(source, Wording):
        left, low, right, top = text_block(spec.words, spec.typeface).bounds
        return (top - low) / (right - left)
    return source.height_mm / source.width_mm if isinstance(source, Drawing) else 0.0


def capital_of_width(source: Source, spec: ArtSpec) -> float:
    """How high the capitals of typed text are for its width, 0 for all else."""
    if not isinstance(source, Wording):
        return 0.0
    left, _, right, _ = text_block(spec.words, spec.typeface).bounds
    return float(1 / (right - left))


def is_engraved(source: Source, spec: ArtSpec) -> bool:
    """Whether it is drawn in lines, at the setting for fine strokes, and not filled."""
    if isinstance(source, Picture):
        return False
    return spec.outlines or (not isinstance(source, Drawing) and not spec.typeface.is_filled)


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


def ink_of_piece(source: Source, spec: ArtSpec, room: BaseGeometry, names: tuple[SetName, ...], piece: int) -> PieceInk:
    """What stands on piece number `piece`, from 0: its own name of a list, and the same on each otherwise; no ink for a
    picture."""
    if isinstance(source, Picture):
        return PieceInk("", None)
    if isinstance(source, Drawing):
        group = _nth(source.layers, piece, "group") if spec.each_group else spec.group
        return PieceInk(group, drawing_area(source, replace(spec, group=group)))
    if isinstance(source, Wording):
        block = text_block(spec.words, spec.typeface)
        left, low, right, top = block.bounds
        return PieceInk("", placed_area(translate(block, -left, -low), (right - left, top - low), spec.placement))
    name = _nth(names, piece, "name")
    if name.ink is None:
        return PieceInk(name.name.first, None, name.why)
    return PieceInk(name.name.first, translate(name.ink, *room.centroid.coords[0]))


def piece_count(source: Source, spec: ArtSpec) -> int:
    """How many pieces an artwork is split over: the names of a list, the groups of a drawing, one of all else."""
    if isinstance(source, NameList):
        return len(source.names)
    return len(source.layers) if isinstance(source, Drawing) and spec.each_group else 1


def piece_labels(source: Source, spec: ArtSpec) -> tuple[str, ...]:
    """What its pieces are called, in their order; nothing where all of them carry the same."""
    if isinstance(source, NameList):
        return tuple(name.first for name in source.names)
    return tuple(source.layers) if isinstance(source, Drawing) and spec.each_group else ()


def _nth(of: Sequence[T], piece: int, what: str) -> T:
    if not 0 <= piece < len(of):
        raise BadValueError(f"There is no {what} {piece + 1}.", field="piece", hint=f"There are {len(of)}.")
    return of[piece]


def bled(on: Lines, spec: ArtSpec) -> Lines:
    """The lines with what of them lies past the edge of the coat, as far as asked."""
    return replace(on, room=on.room.buffer(spec.bleed_mm)) if spec.bleed_mm else on


def art_of_piece(source: Source, spec: ArtSpec, on: Lines, tones: Tones, ink: PieceInk, line_mm: float) -> PieceArt:
    """What is burned on a piece that holds such ink; lines that are engraved come out `line_mm` wide."""
    if isinstance(source, Picture):
        return PieceArt("", dots_of_picture(toned(source, spec.tone), spec.placement, bled(on, spec), tones))
    if ink.ink is None:
        return PieceArt(ink.label, None, ink.why)
    if not is_engraved(source, spec):
        return PieceArt(ink.label, dots_of_area(ink.ink, on))
    strokes = strokes_of(ink.ink, on.room, line_mm)
    return PieceArt(ink.label, strokes.as_dots(on.room), "", strokes)


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
