"""Opening a workshop's archive that somebody sent: nothing in it is believed before it was looked at."""

import json
import math
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from os import SEEK_END
from struct import Struct
from typing import IO, Any, NoReturn
from uuid import UUID
from zipfile import BadZipFile, ZipFile, ZipInfo

from keencoat.core.errors import BadValueError
from keencoat.core.stored import SHAPES

ARCHIVE_FORMAT = "keencoat-workshop"
ARCHIVE_VERSION = 1
MAX_ARCHIVE_BYTES = 200_000_000
_MOST_ENTRIES, _MOST_ROWS_BYTES, _MOST_PICTURE_BYTES = 60_000, 60_000_000, 40_000_000
_MOST_LIST_BYTES, _MOST_VALUES = 12_000_000, 6_000_000
_END = Struct("<4s4H2LH")
"""How a ZIP ends (APPNOTE 6.3.10, 4.3.16); with its comment it lies within the last so many bytes."""
_TAIL_BYTES = 2**16 + _END.size
_LARGEST_ID = 2**63 - 1
_TAKE = "Take it out of a Keen Coat workshop, and send it as it is."
_BROKEN = (BadZipFile, zlib.error, EOFError, OSError, RuntimeError, NotImplementedError, UnicodeError)

Facts = dict[str, Any]


@dataclass(frozen=True)
class Contents:
    """What an archive holds but for its pictures: which workshop it is of, the version of each stored shape in it, rows
    by kind."""

    source: UUID
    name: str
    shapes: dict[str, int]
    rows: dict[str, list[Facts]]


@dataclass(frozen=True, eq=False)
class OpenedArchive(Contents):
    """An archive, with its pictures."""

    packed: ZipFile

    def picture(self, path: str) -> bytes:
        """A picture that a row names. Raises BadValueError where there is none, or it is too large."""
        try:
            info = self.packed.getinfo(path)
        except KeyError:
            _refuse(f"It has no {path[:80]}.")
        return _read(self.packed, info, _MOST_PICTURE_BYTES)


def open_archive(file: IO[bytes], kinds: Sequence[str]) -> OpenedArchive:
    """Look an archive over that may hold such rows. Raises BadValueError for what is none, too large, or of a newer
    Keen Coat."""
    packed = unpack(file)
    found = look_over(tables_of(packed), kinds)
    return OpenedArchive(found.source, found.name, found.shapes, found.rows, packed)


def unpack(file: IO[bytes]) -> ZipFile:
    """The file as a ZIP. Raises BadValueError for what is none, or has more in it than an archive ever has; that is
    known before its list is read, which takes ten times as much memory."""
    file.seek(0, SEEK_END)
    file.seek(max(0, file.tell() - _TAIL_BYTES))
    tail = file.read()
    at = tail.rfind(b"PK\x05\x06")
    if at < 0 or len(tail) - at < _END.size:
        _refuse("This is no ZIP.")
    *_, entries, list_bytes, _, _ = _END.unpack_from(tail, at)
    # The second list of a ZIP64 would say otherwise than the first.
    if entries > _MOST_ENTRIES or list_bytes > _MOST_LIST_BYTES or b"PK\x06\x07" in tail[max(0, at - 20) : at]:
        _refuse(f"It has more than {_MOST_ENTRIES} files in it.")
    try:
        return ZipFile(file)
    except (*_BROKEN, ValueError):
        _refuse("This is no ZIP.")


def tables_of(packed: ZipFile) -> dict[str, bytes]:
    """All of an archive's JSON, unpacked, by its path. Raises BadValueError where that is too much, or broken."""
    found = [info for info in packed.infolist() if info.filename.endswith(".json")]
    size = sum(info.file_size for info in found)
    if size > _MOST_ROWS_BYTES:
        _refuse(f"Its rows take {size // 1_000_000} MB; {_MOST_ROWS_BYTES // 1_000_000} MB at most.")
    return {info.filename: _read(packed, info, _MOST_ROWS_BYTES) for info in found}


def look_over(tables: dict[str, bytes], kinds: Sequence[str]) -> Contents:
    """What an archive's JSON holds. Raises BadValueError for what is no archive's."""
    # Each takes 64 bytes or less once it is read, and there are never more than this.
    values = sum(data.count(mark) for data in tables.values() for mark in (b"[", b"{", b","))
    if values > _MOST_VALUES:
        _refuse(f"It has about {values // 1_000_000} million figures in it; {_MOST_VALUES // 1_000_000} at most.")
    whose = _json(tables, "workshop.json")
    if not isinstance(whose, dict) or whose.get("format") != ARCHIVE_FORMAT:
        _refuse("This is no archive of a workshop.")
    if whose.get("version") != ARCHIVE_VERSION:
        _refuse(f"It has version {str(whose.get('version'))[:20]}; this Keen Coat knows {ARCHIVE_VERSION}.")
    owner, shapes = whose.get("workshop"), whose.get("shapes")
    if not isinstance(owner, dict) or not isinstance(shapes, dict):
        _refuse("workshop.json does not say whose it is.")
    try:
        source = UUID(str(owner.get("uid")))
    except ValueError:
        _refuse("workshop.json does not say whose it is.")
    return Contents(
        source,
        str(owner.get("name"))[:80],
        {name: _version(shapes.get(name)) for name in SHAPES},
        {kind: _rows(tables, kind) for kind in kinds},
    )


def _version(found: object) -> int:
    # One that the archive does not know has no rows in it either.
    return found if isinstance(found, int) else 1


def _rows(tables: dict[str, bytes], kind: str) -> list[Facts]:
    path = f"rows/{kind}.json"
    if path not in tables:
        return []
    rows = _json(tables, path)
    if not isinstance(rows, list) or not all(isinstance(row, dict) and _is_id(row.get("id")) for row in rows):
        _refuse(f"{path} is no list of rows, each with its id.")
    return rows


def _is_id(found: object) -> bool:
    return type(found) is int and 0 < found <= _LARGEST_ID


def _json(tables: dict[str, bytes], path: str) -> Any:  # noqa: ANN401 # whatever it is
    data = tables.get(path)
    if data is None:
        _refuse(f"It has no {path}.")
    if b"\x00" in data or b"\\u0000" in data:
        _refuse(f"{path} has a NUL character in it.")
    try:
        return json.loads(data, parse_constant=_no_number, parse_float=_finite)
    except (ValueError, RecursionError):
        _refuse(f"{path} is no JSON.")


def _finite(word: str) -> float:
    value = float(word)
    if not math.isfinite(value):
        raise ValueError(word)
    return value


def _no_number(word: str) -> NoReturn:
    raise ValueError(word)


def _read(packed: ZipFile, info: ZipInfo, most: int) -> bytes:
    if info.file_size > most:
        _refuse(f"{info.filename[:80]} is larger than {most // 1_000_000} MB.")
    try:
        with packed.open(info) as file:
            return file.read(most)
    except _BROKEN:
        _refuse(f"{info.filename[:80]} is broken.")


def _refuse(why: str) -> NoReturn:
    raise BadValueError(why, field="file", hint=_TAKE)
