"""Artwork as pictures for a screen: as it is sent, as it will burn, and where it may fail."""

import io
import math
from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from keencoat.core.artwork import Burned, Dots, MadeDots, Picture, PieceArt, ToneWork, for_screen, lay_on, toned
from keencoat.core.errors import require_within
from keencoat.core.vision import Floats, Pixels, coded_of, linear_of
from keencoat.jobs.artwork.services.coat_film import CoatFilm
from keencoat.jobs.artwork.services.making import ArtBase

_MOST_PX = 1200
LOUPE_MM = 8.0
_LOUPE_PX = 480
_INK, _PAPER, _OFF = (24, 26, 30), (247, 246, 242), (120, 116, 108)
_FAINT, _HARSH, _PALE = (38, 110, 160), (178, 74, 20), 0.25


class Way(StrEnum):
    """How artwork is looked at."""

    SENT = "sent"
    BURNED = "burned"
    DOUBT = "doubt"
    CHANGE = "change"


@dataclass(frozen=True)
class Look:
    """What is asked of a picture: how, so many pixels on its long side, under so much more or less film, and under that
    which a photo told."""

    way: Way
    px: int
    film_pct: float = 0.0
    film: CoatFilm | None = None

    def __post_init__(self) -> None:
        require_within(self.px, 64, _MOST_PX, "px")
        require_within(self.film_pct, -30, 30, "film_pct", "%")

    @property
    def ln_film(self) -> float:
        """ln of the film over the job's."""
        return float(np.log1p(self.film_pct / 100))


def whole_view(art: PieceArt, base: ArtBase, look: Look, burned: Burned | None) -> bytes:
    """The whole piece as PNG, its coat and the artwork on it; `burned` is what is expected of it, None to see what is
    sent, or for a first look at how it burns, all of it full."""
    size_mm = base.size_mm
    px_mm = look.px / max(size_mm)
    size = max(1, round(size_mm[1] * px_mm)), max(1, round(size_mm[0] * px_mm))
    places = 1 if burned is None else burned.side

    def on_face(values: Floats | Dots | None, side: int = 1) -> Floats:
        """Averaged to pixels, as an eye far off does."""
        face: Floats = np.zeros(size, dtype=np.float32)
        if art.made is not None and values is not None:
            shown = values if art.strokes is None else _widened(values, art.made, px_mm)
            lay_on(face, shown, art.made, size_mm, px_mm, side)
        return face

    def sent() -> Floats:
        return on_face(None if art.made is None else art.made.dots)

    if burned is None and look.way is Way.BURNED:
        full = sent()
        face = base.look.painted(full, np.zeros_like(full))
    elif burned is None:
        face = _mixed(sent())
    elif look.way is Way.BURNED:
        face = base.look.painted(on_face(burned.fullness, places), on_face(burned.harsh, places))
    elif look.way is Way.CHANGE:
        face = _changed(sent(), on_face(burned.fullness, places))
    else:
        face = _doubtful(sent(), on_face(burned.faint, places), on_face(burned.harsh, places))
    return _png(_with_coat_edge(_beside_piece(face, base, px_mm), base, px_mm))


def photo_view(picture: Picture, work: ToneWork | None, px: int) -> bytes:
    """A photo as it was brought, or its tones set as `work` has it, greys of the lightness that is burned, as PNG; see
    through where there is nothing."""
    require_within(px, 64, _MOST_PX, "px")
    if work is None:
        seen = picture
    else:
        crop = work.crop
        kept = max(crop.right - crop.left, crop.bottom - crop.top)
        # Tones look alike on a small picture: the large one would keep whoever turns a knob waiting.
        seen = toned(for_screen(picture, math.ceil(px / kept)), work)
    height, width = seen.light.shape
    share = min(1.0, px / max(height, width))
    size = max(1, round(width * share)), max(1, round(height * share))
    light, there = (cv2.resize(face, size, interpolation=cv2.INTER_AREA) for face in (seen.light, seen.there))
    # L* back to sRGB by way of CIELAB, where a grey has no colour.
    lab = np.dstack([100 * light, np.zeros_like(light), np.zeros_like(light)]).astype(np.float32)
    grey = np.clip(cv2.cvtColor(lab, cv2.COLOR_LAB2RGB), 0, 1)
    return _png(np.rint(255 * np.dstack([grey, there])).astype(np.uint8))


def loupe_view(art: PieceArt, base: ArtBase, look: Look, at_mm: tuple[float, float], greys: bool) -> bytes:
    """A few millimetres about a place (from the middle of the piece, y up), every dot of them, as PNG; `greys`: whether
    dots stand for greys."""
    x_mm, y_mm = at_mm
    half = LOUPE_MM / 2
    made = art.made
    if made is None:
        return _png(_plain((_LOUPE_PX, _LOUPE_PX), _PAPER))
    rows = np.clip(
        np.floor((y_mm + half - (np.arange(_LOUPE_PX) + 0.5) * LOUPE_MM / _LOUPE_PX - made.low_mm) / made.interval_mm),
        -1,
        made.dots.shape[0],
    ).astype(int)
    columns = np.clip(
        np.floor((x_mm - half + (np.arange(_LOUPE_PX) + 0.5) * LOUPE_MM / _LOUPE_PX - made.left_mm) / made.pitch_mm),
        -1,
        made.dots.shape[1],
    ).astype(int)
    near = _cut(made, int(rows.min()), int(rows.max()), int(columns.min()), int(columns.max()))
    ln_film = look.ln_film if look.film is None else look.ln_film + look.film.at(near, base.mirrored)
    burned = None
    if look.way is not Way.SENT:
        burned = base.burned(art, near, ln_film, greys)
    seen = np.pad(_coloured(near, base, look.way, burned), ((1, 1), (1, 1), (0, 0)), mode="edge")
    row0 = round((near.low_mm - made.low_mm) / made.interval_mm)
    column0 = round((near.left_mm - made.left_mm) / made.pitch_mm)
    picked = np.clip(rows - row0 + 1, 0, seen.shape[0] - 1), np.clip(columns - column0 + 1, 0, seen.shape[1] - 1)
    return _png(seen[np.ix_(*picked)])


def _cut(made: MadeDots, low: int, high: int, left: int, right: int) -> MadeDots:
    """The dots of these rows and columns with a few round them, which share their energy."""
    beside = 8
    rows = slice(max(0, low - beside), max(1, high + beside))
    columns = slice(max(0, left - beside), max(1, right + beside))
    return MadeDots(
        made.dots[rows, columns],
        made.left_mm + columns.start * made.pitch_mm,
        made.low_mm + rows.start * made.interval_mm,
        made.pitch_mm,
        made.interval_mm,
    )


def _coloured(made: MadeDots, base: ArtBase, way: Way, burned: Burned | None) -> Pixels:
    """A pixel a dot, the lowest row first."""
    dots = made.dots.astype(np.float32)
    if burned is None:
        return _mixed(dots)
    fullness, faint, harsh = (face.astype(np.float32) for face in (burned.fullness, burned.faint, burned.harsh))
    if way is Way.BURNED:
        return base.look.painted(fullness, harsh)
    return _changed(dots, fullness) if way is Way.CHANGE else _doubtful(dots, faint, harsh)


def _mixed(share: Floats) -> Pixels:
    """So much ink on paper, mixed by light."""
    ink, paper = (linear_of(np.array(colour, np.float32) / 255) for colour in (_INK, _PAPER))
    light = paper + (ink - paper) * share[..., None]
    return np.asarray(np.rint(255 * coded_of(light)), dtype=np.uint8)


def _changed(dots: Floats, fullness: Floats) -> Pixels:
    """Dots in grey, tinted where more mark is expected than dots were burned, or less."""
    face = _greyed(dots)
    for apart, colour in ((fullness - dots, _HARSH), (dots - fullness, _FAINT)):
        face += (np.array(colour, np.float32) - face) * np.clip(apart, 0, 1)[..., None]
    return np.asarray(np.rint(face), dtype=np.uint8)


def _greyed(dots: Floats) -> Floats:
    ink, paper = (np.array(colour, np.float32) for colour in (_INK, _PAPER))
    return np.asarray(paper + (ink - paper) * (_PALE * dots)[..., None])


def _doubtful(dots: Floats, faint: Floats, harsh: Floats) -> Pixels:
    """Dots in grey, tinted by how likely they are faint or harsh."""
    face = _greyed(dots)
    for chance, colour in ((faint, _FAINT), (harsh, _HARSH)):
        face += (np.array(colour, np.float32) - face) * chance[..., None]
    return np.asarray(np.rint(face), dtype=np.uint8)


def _beside_piece(face: Pixels, base: ArtBase, px_mm: float) -> Pixels:
    """The piece with what lies beside its outline in grey."""
    inside = np.zeros(face.shape[:2], np.uint8)
    cv2.fillPoly(inside, [_in_px(base.piece.outline, base, px_mm)], 1)
    return np.asarray(np.where(inside[..., None] == 1, face, np.array(_OFF, np.uint8)))


def _widened(values: Floats | Dots, made: MadeDots, px_mm: float) -> Floats:
    """Lines that are finer than a pixel, as wide as one: a screen would show some of them, and others not."""
    across = math.ceil(1 / (px_mm * made.pitch_mm)) | 1
    return np.asarray(cv2.dilate(values.astype(np.float32), np.ones((across, across), np.uint8)))


def _with_coat_edge(face: Pixels, base: ArtBase, px_mm: float) -> Pixels:
    """The edge of the coat as a line, over artwork too: there bleed ends, and what reaches further is not burned."""
    return np.asarray(cv2.polylines(face, [_in_px(base.lines.room, base, px_mm)], True, _OFF, 1, cv2.LINE_AA))


def _in_px(outline: object, base: ArtBase, px_mm: float) -> NDArray[np.int32]:
    points = np.array(outline.exterior.coords)  # type: ignore[attr-defined] # a polygon, as pieces have them
    x, y = points[:, 0] + base.piece.width_mm / 2, base.piece.height_mm / 2 - points[:, 1]
    return np.rint(np.stack([x, y], axis=1) * px_mm).astype(np.int32)


def _plain(size: tuple[int, int], colour: tuple[int, int, int]) -> Pixels:
    return np.full((*size, 3), colour, dtype=np.uint8)


def _png(pixels: Pixels | Floats) -> bytes:
    out = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(pixels)).save(out, "PNG", compress_level=1)
    return out.getvalue()
