"""Text as outlines: the fonts that ship with the app, shaped and kerned."""

import unicodedata
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from importlib.resources import files

import uharfbuzz
from shapely import MultiLineString, unary_union
from shapely.affinity import scale, translate
from shapely.geometry.base import BaseGeometry

from keencoat.core.drawing import NOTHING, Area, RingPen, area_of
from keencoat.core.errors import BadValueError, require_positive
from keencoat.core.quantities import MM_PER_INCH
from keencoat.core.toolpath import has_stroke, text_strokes

_PT_PER_INCH, _FINENESS = 72, 4000
"""Curves leave their straight pieces by no more than this part of the em."""


class Typeface(StrEnum):
    """The typefaces: three that are filled, and one of single strokes for engraving."""

    PLAIN = "text"
    BOLD = "bold"
    EVEN_WIDTHS = "mono"
    STROKES = "strokes"

    @property
    def is_filled(self) -> bool:
        """Whether its letters are areas."""
        return self is not Typeface.STROKES


_WIDE = {Typeface.PLAIN: "wide-text", Typeface.BOLD: "wide-bold", Typeface.EVEN_WIDTHS: "wide-mono"}
"""The face of each filled typeface that holds Greek, Cyrillic and all of Latin."""


@dataclass(frozen=True)
class _Face:
    """A typeface ready to be shaped, the height of its capitals and of its em in its own units."""

    font: uharfbuzz.Font
    capital: float
    em: float


@lru_cache
def _face(name: str) -> _Face:
    data = files("keencoat.core").joinpath("fonts", f"{name}.ttf").read_bytes()
    face = uharfbuzz.Face(data)
    font = uharfbuzz.Font(face)
    height = font.get_glyph_extents(font.get_nominal_glyph(ord("H"))).y_bearing
    return _Face(font, float(height), float(face.upem))


def needs_wide(text: str, typeface: Typeface) -> bool:
    """Whether a text has letters that only the wide face of its typeface holds: what is set together is then set in it
    as a whole (Greek, Cyrillic, rare accents)."""
    return typeface.is_filled and bool(_lacking(text, str(typeface)))


def type_size_pt(capital_mm: float, typeface: Typeface = Typeface.PLAIN) -> float:
    """The size by which printers and word processors call letters whose capitals are so high: the em of a filled
    typeface in points of 1/72 inch."""
    face = _face(typeface)
    return capital_mm * face.em / face.capital * _PT_PER_INCH / MM_PER_INCH


@lru_cache(maxsize=2048)
def _glyph(name: str, glyph: int) -> Area:
    face = _face(name)
    pen = RingPen(face.em / _FINENESS)
    face.font.draw_glyph_with_pen(glyph, pen)
    return area_of(pen.rings)


def missing_letters(text: str, typeface: Typeface) -> list[str]:
    """The letters of `text` that cannot be set in a typeface, each once, in order."""
    if not typeface.is_filled:
        return [letter for letter in _letters(text) if not has_stroke(letter)]
    return _lacking(text, _WIDE[typeface]) if needs_wide(text, typeface) else []


def text_ink(
    text: str, typeface: Typeface, capital_mm: float, field: str = "text", wide: bool | None = None
) -> BaseGeometry:
    """The ink of one line of text as `text_area` has it, or as polylines in the typeface of strokes."""
    if typeface.is_filled:
        return text_area(text, typeface, capital_mm, field, wide)
    require_positive(capital_mm, "capital_mm", "mm")
    _require_letters(text, typeface, field)
    return MultiLineString(text_strokes(_one_line(text), 0.0, 0.0, capital_mm))


def text_area(text: str, typeface: Typeface, capital_mm: float, field: str = "text", wide: bool | None = None) -> Area:
    """The ink of one line of text: capitals `capital_mm` high standing on y = 0, its first ink at x = 0; in the wide
    face where that is asked for, or where the text needs it. Raises BadValueError that names every letter which the
    typeface lacks, and every sign that is no letter."""
    require_positive(capital_mm, "capital_mm", "mm")
    _require_letters(text, typeface, field)
    if not text.strip():
        return NOTHING
    name = _WIDE[typeface] if wide or needs_wide(text, typeface) else str(typeface)
    face = _face(name)
    buffer = uharfbuzz.Buffer()
    buffer.add_str(_one_line(text))
    buffer.guess_segment_properties()
    uharfbuzz.shape(face.font, buffer)
    x, parts = 0.0, []
    for info, at in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        parts.append(translate(_glyph(name, info.codepoint), x + at.x_offset, at.y_offset))
        x += at.x_advance
    ink = unary_union(parts)
    size = capital_mm / face.capital
    return scale(translate(ink, -ink.bounds[0], 0), size, size, origin=(0, 0))


def _one_line(text: str) -> str:
    return unicodedata.normalize("NFC", " ".join(text.split()))


def _letters(text: str) -> list[str]:
    return [letter for letter in dict.fromkeys(_one_line(text)) if not letter.isspace()]


def _lacking(text: str, face: str) -> list[str]:
    font = _face(face).font
    return [letter for letter in _letters(text) if not font.get_nominal_glyph(ord(letter))]


def _require_letters(text: str, typeface: Typeface, field: str) -> None:
    missing = missing_letters(text, typeface)
    if missing:
        named = ", ".join(f"“{letter}” (U+{ord(letter):04X})" for letter in missing[:12])
        raise BadValueError(
            f"This typeface has no {named}.", field=field, hint="Write them otherwise, or bring the text as a drawing."
        )
