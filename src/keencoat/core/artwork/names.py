"""A list of names, one a piece: read from CSV, set in one type size or each in its own, none of it ever cut off."""

import codecs
import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass

from shapely.affinity import scale
from shapely.geometry.base import BaseGeometry

from keencoat.core.artwork.lettering import Typeface, missing_letters, needs_wide
from keencoat.core.artwork.words import MAX_LETTERS, block_of
from keencoat.core.errors import BadValueError, require_positive
from keencoat.core.geometry import largest_size

_CODECS = {name: codecs.lookup(name) for name in ("utf-8-sig", "cp1252", "utf-16")}
"""Looked up while files can be read: a process for what comes from outside may read none."""

MAX_NAMES = 1000
MAX_BYTES = 1_000_000
_SECOND = 0.62
"""The second line's capitals, in the first one's."""


@dataclass(frozen=True)
class Name:
    """What stands on one piece; `row` is the line of the file, from 1."""

    row: int
    first: str
    second: str = ""


@dataclass(frozen=True)
class NameList:
    """The names of a file, and what its letters were taken for."""

    names: tuple[Name, ...]
    encoding: str


@dataclass(frozen=True)
class SetName:
    """A name as it is set, its middle at zero, filled or in strokes; `ink` is None where it does not fit, for the
    reason that `why` gives."""

    name: Name
    capital_mm: float
    ink: BaseGeometry | None
    why: str = ""


def read_names(data: bytes, field: str = "names") -> NameList:
    """Read a CSV of one or two columns; commas, semicolons or tabs part them. A first row of “name” is a heading.
    Raises BadValueError for what is no text, for no name, and for too many or too long ones."""
    if len(data) > MAX_BYTES:
        raise BadValueError("The list has over 1 MB.", field=field, hint=f"Send at most {MAX_NAMES} names.")
    text, encoding = _text_of(data, field)
    mark = max(";\t,", key=text.count)
    try:
        rows = [*csv.reader(io.StringIO(text, newline=""), delimiter=mark)]
    except csv.Error as error:
        raise BadValueError(f"The list cannot be read: {error}.", field=field, hint="Save it as plain CSV.") from error
    names = []
    for number, row in enumerate(rows, start=1):
        first, second = ([" ".join(cell.split()) for cell in row] + ["", ""])[:2]
        if not first or (number == 1 and first.casefold() in ("name", "names")):
            continue
        for line in (first, second):
            if len(line) > MAX_LETTERS:
                raise BadValueError(
                    f"Row {number} has {len(line)} letters in one line: “{line[:30]}…”.",
                    field=field,
                    hint=f"At most {MAX_LETTERS}: put the rest in the second column.",
                )
        names.append(Name(number, first, second))
    if not names:
        raise BadValueError("The list has no names.", field=field, hint="One name a row, a second line in column two.")
    if len(names) > MAX_NAMES:
        raise BadValueError(
            f"The list has {len(names)} names; {MAX_NAMES} is the most.", field=field, hint="Split it into batches."
        )
    return NameList(tuple(names), encoding)


def _text_of(data: bytes, field: str) -> tuple[str, str]:
    marked = data.startswith((b"\xff\xfe", b"\xfe\xff"))
    for encoding in ("utf-16",) if marked else ("utf-8-sig", "cp1252"):
        try:
            text, _ = _CODECS[encoding].decode(data)
        except UnicodeDecodeError:
            continue
        if "\0" not in text:
            return text, encoding
    raise BadValueError("This file is no text.", field=field, hint="Save the list as CSV, in UTF-8.")


def set_names(
    names: Sequence[Name], room: BaseGeometry, typeface: Typeface, least_capital_mm: float, one_size: bool
) -> tuple[SetName, ...]:
    """Every name set as large as `room` (about zero) lets it, or all in the largest size that lets all of them in. What
    would need capitals under `least_capital_mm`, or letters that the typeface lacks, is named and does not hold the
    others back."""
    require_positive(least_capital_mm, "least_capital_mm", "mm")
    # A batch is set in one face: who alone is called Łukasz stands beside the others.
    wide = any(needs_wide(name.first + name.second, typeface) for name in names)
    largest: list[float | str] = []
    blocks: dict[int, BaseGeometry] = {}
    for name in names:
        try:
            block = _block(name, typeface, wide)
        except BadValueError as error:
            largest.append(error.message)
            continue
        size = largest_size(block.bounds, room)
        blocks[name.row] = block
        short = f"Its capitals would be {size:.2g} mm high; under {least_capital_mm:.2g} mm they cannot be read."
        largest.append(size if size >= least_capital_mm else short)
    fitting = [size for size in largest if not isinstance(size, str)]
    shared = min(fitting, default=0.0)
    return tuple(
        SetName(name, 0.0, None, size)
        if isinstance(size, str)
        else _set(name, blocks[name.row], shared if one_size else size)
        for name, size in zip(names, largest, strict=True)
    )


def _set(name: Name, block: BaseGeometry, capital_mm: float) -> SetName:
    return SetName(name, capital_mm, scale(block, capital_mm, capital_mm, origin=(0, 0)))


def _block(name: Name, typeface: Typeface, wide: bool) -> BaseGeometry:
    """The name's lines above each other, capitals of the first 1 high."""
    lines = [(name.first, 1.0), *([(name.second, _SECOND)] if name.second else [])]
    return block_of(lines, typeface, wide=wide)


def require_all_set(source: NameList, typeface: Typeface, field: str = "typeface") -> None:
    """Raise BadValueError where a name has letters that the typeface lacks: nothing is made of a list that would lose
    one."""
    lost = [(name, missing_letters(name.first + name.second, typeface)) for name in source.names]
    lost = [(name, letters) for name, letters in lost if letters]
    if not lost:
        return
    letters = "".join(dict.fromkeys(letter for _, of in lost for letter in of))
    rows = ", ".join(f"row {name.row} “{name.first}”" for name, _ in lost[:6])
    more = f" and {len(lost) - 6} more" if len(lost) > 6 else ""
    raise BadValueError(
        f"This typeface has no {' '.join(letters[:20])}, which stand in {rows}{more}.",
        field=field,
        hint="Take a filled typeface, write them otherwise, or take them off the list.",
    )
