"""Words as ink: lines of text above each other, filled letters or single strokes, their middle at zero."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from shapely import MultiLineString, get_parts, unary_union
from shapely.affinity import translate
from shapely.geometry.base import BaseGeometry

from keencoat.core.artwork.lettering import Typeface, needs_wide, text_ink
from keencoat.core.errors import BadValueError

MAX_LETTERS = 80
"""In one line."""
MAX_LINES = 12
_LEADING = 0.62
"""The space above a line's capitals, in heights of the first line's."""


@dataclass(frozen=True)
class Wording:
    """Typed text as it was brought; what it says now stands in what is asked of it."""

    words: str


def read_wording(data: bytes, field: str) -> Wording:
    """Read a text file in UTF-8. Raises BadValueError for anything else, and for more than a piece holds."""
    try:
        words = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadValueError("This file is no text.", field=field, hint="Save it as plain text, in UTF-8.") from error
    lines_of_words(words)
    return Wording("\n".join(line.rstrip() for line in words.splitlines()).strip("\n"))


def lines_of_words(words: str) -> list[str]:
    """The lines of a text; empty ones between others keep their room. Raises BadValueError for none, and for too many
    or too long ones."""
    lines = [" ".join(line.split()) for line in words.strip().splitlines()]
    if not lines:
        raise BadValueError("There is no text.", field="words", hint="Type what is to stand on the piece.")
    if len(lines) > MAX_LINES:
        raise BadValueError(
            f"The text has {len(lines)} lines; {MAX_LINES} is the most.", field="words", hint="Bring it as a drawing."
        )
    for number, line in enumerate(lines, start=1):
        if len(line) > MAX_LETTERS:
            raise BadValueError(
                f"Line {number} has {len(line)} letters; {MAX_LETTERS} is the most.", field="words", hint="Break it."
            )
    return lines


@lru_cache(maxsize=64)
def text_block(words: str, typeface: Typeface) -> BaseGeometry:
    """Typed text, its capitals 1 high. Raises BadValueError as `lines_of_words`, and for letters that the typeface
    lacks."""
    return block_of([(line, 1.0) for line in lines_of_words(words)], typeface, "words")


def block_of(
    lines: Sequence[tuple[str, float]], typeface: Typeface, field: str = "text", wide: bool = False
) -> BaseGeometry:
    """Lines with the heights of their capitals as a block, centred on each other, the middle of their ink at zero; all
    in the wide face where it is asked for, or one of them needs it."""
    wide = wide or any(needs_wide(line, typeface) for line, _ in lines)
    placed, base = [], 0.0
    for number, (line, capital) in enumerate(lines):
        base -= _LEADING + capital if number else 0.0
        if line:
            ink = text_ink(line, typeface, capital, field, wide)
            placed.append(translate(ink, -(ink.bounds[0] + ink.bounds[2]) / 2, base))
    block = unary_union(placed) if typeface.is_filled else _side_by_side(placed)
    left, low, right, top = block.bounds
    return translate(block, -(left + right) / 2, -(low + top) / 2)


def _side_by_side(inks: Sequence[BaseGeometry]) -> BaseGeometry:
    # Strokes that cross stay whole strokes: a union would break them where they do.
    return MultiLineString([line for ink in inks for line in get_parts(ink)])
