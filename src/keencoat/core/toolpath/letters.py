"""Single-stroke letters: the simplex Roman of the Hershey fonts (Hershey 1967), as a package keeps them."""

from functools import lru_cache

from HersheyFonts import HersheyFonts
from shapely import LineString

from keencoat.core.errors import require_known

Stroke = tuple[tuple[float, float], ...]

_FONT = HersheyFonts()
_FONT.load_default_font("futural")
_CAP, _BASE = -12, 9
"""The font's own lines, y down: capitals and figures stand between them."""
_SMOOTH = 1.0
"""How far strokes may leave the font's own, in its units: every corner costs the head a stop, and at 3 mm a unit is a
seventh of a millimetre."""


def text_strokes(text: str, x_mm: float, y_mm: float, height_mm: float) -> list[Stroke]:
    """Polylines in mm that draw `text`, the lower left corner of its ink at (x, y); capitals are `height_mm` high.
    Raises UnknownNameError for letters that the font lacks."""
    return [tuple((x_mm + x * height_mm, y_mm + y * height_mm) for x, y in stroke) for stroke in _unit_strokes(text)]


def has_stroke(letter: str) -> bool:
    """Whether the font has this letter."""
    return letter in _FONT.all_glyphs


def text_width_mm(text: str, height_mm: float) -> float:
    """How wide the ink of `text` is."""
    return max((x for stroke in _unit_strokes(text) for x, _ in stroke), default=0.0) * height_mm


@lru_cache(maxsize=4096)
def _unit_strokes(text: str) -> tuple[Stroke, ...]:
    """The strokes of a text whose capitals are 1 high, its ink beginning at 0."""
    for letter in text:
        require_known(letter, _FONT.all_glyphs, "letter")
    drawn = [[*LineString(stroke).simplify(_SMOOTH).coords] for stroke in map(list, _FONT.strokes_for_text(text))]
    left, high = min((x for stroke in drawn for x, _ in stroke), default=0.0), _BASE - _CAP
    return tuple(tuple(((x - left) / high, (_BASE - y) / high) for x, y in stroke) for stroke in drawn)
