"""Single-stroke letters: the simplex Roman of the Hershey fonts (Hershey 1967), as a package keeps them, with accents
put together from strokes of our own."""

import unicodedata
from dataclasses import dataclass
from functools import lru_cache

from HersheyFonts import HersheyFonts
from shapely import LineString

from keencoat.core.errors import UnknownNameError

Stroke = tuple[tuple[float, float], ...]

_FONT = HersheyFonts()
_FONT.load_default_font("futural")
_CAP, _BASE = -12, 9
"""The font's own lines, y down: capitals and figures stand between them."""
_SMOOTH = 1.0
"""How far strokes may leave the font's own, in its units: every corner costs the head a stop, and at 3 mm a unit is a
seventh of a millimetre."""
_GAP = 2.5
"""Room between a letter and its accent."""
_DOT = ((-1, -1), (0, 0), (1, -1), (0, -2), (-1, -1))
_ABOVE: dict[str, tuple[Stroke, ...]] = {
    "\u0300": (((-3, -5), (1, -1)),),
    "\u0301": (((3, -5), (-1, -1)),),
    "\u0302": (((-4, -1), (0, -5), (4, -1)),),
    "\u0303": (((-5, -1), (-2.5, -4), (2.5, -1), (5, -4)),),
    "\u0304": (((-4, -2), (4, -2)),),
    "\u0306": (((-4, -5), (-2, -1.5), (2, -1.5), (4, -5)),),
    "\u0307": (_DOT,),
    "\u0308": tuple(tuple((x + aside, y) for x, y in _DOT) for aside in (-3.5, 3.5)),
    "\u030a": (((0, -6), (-2.5, -3.5), (0, -1), (2.5, -3.5), (0, -6)),),
    "\u030b": (((-1, -5), (-4, -1)), ((5, -5), (2, -1))),
    "\u030c": (((-4, -5), (0, -1), (4, -5)),),
}
"""Accents over a letter, about its middle, y up from their foot at 0 by negative figures."""
_BELOW: dict[str, tuple[Stroke, ...]] = {
    "\u0323": (tuple((x, y + 2) for x, y in _DOT),),
    "\u0326": (((1, 1), (-1, 5)),),
    "\u0327": (((0, 0), (0, 1.5), (2.5, 3), (0, 5), (-2, 4.5)),),
    "\u0328": (((1, 0), (-1, 2.5), (0, 4.5), (3, 4.5)),),
    "\u0331": (((-4, 3), (4, 3)),),
}
_CROSSED: dict[str, tuple[str, Stroke]] = {
    "Ł": ("L", ((-9, 1), (1, -5))),
    "ł": ("l", ((-3, 0), (3, -4))),
    "Ø": ("O", ((-8, 11), (8, -14))),
    "ø": ("o", ((-7, 11), (8, -7))),
    "Đ": ("D", ((-11, -1), (-1, -1))),
    "đ": ("d", ((0, -9), (9, -9))),
    "Ħ": ("H", ((-10, -7), (10, -7))),
    "ħ": ("h", ((-8, -9), (1, -9))),
    "Ŧ": ("T", ((-4, -1), (4, -1))),
    "ŧ": ("t", ((-3, 2), (5, 2))),
}
"""Letters with a stroke through them."""
_SPELT = {
    "Æ": "AE",
    "æ": "ae",
    "Œ": "OE",
    "œ": "oe",
    "ß": "ss",
    "ẞ": "SS",
    "Þ": "Th",
    "þ": "th",
    **dict.fromkeys("’‘‛´", "'"),
    **dict.fromkeys("“”„‟«»", '"'),
    **dict.fromkeys("‐‑‒–—−", "-"),
    "×": "x",
    "·": ".",
    "…": "...",
}
"""What is written as other letters, where single strokes have no form of its own."""
_DOTLESS = {"ı": "i", "ȷ": "j"}


@dataclass(frozen=True)
class _Letter:
    """A letter's strokes about its own middle line, and where it begins and ends there, in units of the font."""

    strokes: tuple[Stroke, ...]
    begins: float
    width: float


def text_strokes(text: str, x_mm: float, y_mm: float, height_mm: float) -> list[Stroke]:
    """Polylines in mm that draw `text`, the lower left corner of its ink at (x, y); capitals are `height_mm` high.
    Raises UnknownNameError for letters that cannot be drawn."""
    return [tuple((x_mm + x * height_mm, y_mm + y * height_mm) for x, y in stroke) for stroke in _unit_strokes(text)]


def has_stroke(letter: str) -> bool:
    """Whether this letter can be drawn, put together from others where need be."""
    return all(_letter(part) is not None for part in _SPELT.get(letter, letter))


def text_width_mm(text: str, height_mm: float) -> float:
    """How wide the ink of `text` is."""
    return max((x for stroke in _unit_strokes(text) for x, _ in stroke), default=0.0) * height_mm


@lru_cache(maxsize=4096)
def _unit_strokes(text: str) -> tuple[Stroke, ...]:
    """The strokes of a text whose capitals are 1 high, its ink beginning at 0."""
    at, drawn = 0.0, []
    for letter in unicodedata.normalize("NFC", text):
        for part in _SPELT.get(letter, letter):
            found = _letter(part)
            if found is None:
                raise UnknownNameError(
                    f"“{letter}” cannot be drawn in single strokes.", field="letter", hint="Fill it."
                )
            drawn += [[(at - found.begins + x, y) for x, y in stroke] for stroke in found.strokes]
            at += found.width
    smooth = [[*LineString(stroke).simplify(_SMOOTH).coords] for stroke in drawn]
    left, high = min((x for stroke in smooth for x, _ in stroke), default=0.0), _BASE - _CAP
    return tuple(tuple(((x - left) / high, (_BASE - y) / high) for x, y in stroke) for stroke in smooth)


@lru_cache(maxsize=1024)
def _letter(letter: str) -> _Letter | None:
    """A letter of the font, or one put together; None for one that cannot be."""
    if letter in _CROSSED:
        plain, through = _CROSSED[letter]
        base = _plain(plain)
        return _Letter((*base.strokes, through), base.begins, base.width)
    base_letter, *marks = list(unicodedata.normalize("NFD", _DOTLESS.get(letter, letter)))
    if base_letter in _DOTLESS:
        base_letter = _DOTLESS[base_letter]
    if base_letter not in _FONT.all_glyphs or not all(mark in _ABOVE or mark in _BELOW for mark in marks):
        return None
    base = _plain(base_letter)
    strokes = base.strokes
    if base_letter in "ij" and (letter in _DOTLESS or any(mark in _ABOVE for mark in marks)):
        strokes = strokes[1:]
    xs = [x for stroke in strokes for x, _ in stroke]
    ys = [y for stroke in strokes for _, y in stroke] or [0.0]
    top, low = min(ys), max(ys)
    middle = (min(xs) + max(xs)) / 2 if xs else 0.0
    for mark in marks:
        foot, form = (top - _GAP, _ABOVE[mark]) if mark in _ABOVE else (low, _BELOW[mark])
        put = [tuple((middle + x, foot + y) for x, y in stroke) for stroke in form]
        strokes = (*strokes, *put)
        top, low = min([top, *(y for s in put for _, y in s)]), max([low, *(y for s in put for _, y in s)])
    return _Letter(strokes, base.begins, base.width)


def _plain(letter: str) -> _Letter:
    glyph = _FONT.all_glyphs[letter]
    strokes = tuple(tuple((float(x), float(y)) for x, y in stroke) for stroke in glyph.strokes)
    return _Letter(strokes, glyph.left_offset, glyph.char_width)
