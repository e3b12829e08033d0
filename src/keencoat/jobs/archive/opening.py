"""Opening a workshop's archive that somebody sent: nothing in it is believed before it was looked at."""

import json
import math
import zlib
from dataclasses import dataclass
from typing import Any, NoReturn
from uuid import UUID
from zipfile import BadZipFile, ZipFile, ZipInfo

from keencoat.core.errors import BadValueError
from keencoat.core.stored import SHAPES
from keencoat.jobs.archive.kinds import KINDS
from keencoat.jobs.archive.packing import ARCHIVE_FORMAT, ARCHIVE_VERSION

MAX_ARCHIVE_BYTES = 200_000_000
_MOST_ENTRIES, _MOST_ROWS_BYTES, _MOST_PICTURE_BYTES = 60_000, 60_000_000, 40_000_000
_LARGEST_ID = 2**63 - 1
_TAKE = "Take it out of a Keen Coat workshop, and send it as it is."
_BROKEN = (BadZipFile, zlib.error, EOFError, OSError, RuntimeError, NotImplementedError, UnicodeError)

Facts = dict[str, Any]


@dataclass(frozen=True, eq=False)
class OpenedArchive:
    """An archive: which workshop it is of, the version of each stored shape in it, rows by kind."""

    packed: ZipFile
    source: UUID
    name: str
    shapes: dict[str, int]
    rows: dict[str, list[Facts]]

    def picture(self, path: str) -> bytes:
        """A picture that a row names. Raises BadValueError where there is none, or it is too large."""
        try:
            info = self.packed.getinfo(path)
        except KeyError:
            _refuse(f"It has no {path[:80]}.")
        return _read(self.packed, info, _MOST_PICTURE_BYTES)


def open_archive(packed: ZipFile) -> OpenedArchive:
    """Look an archive over. Raises BadValueError for what is none, too large, or of a newer Keen Coat."""
    if len(packed.infolist()) > _MOST_ENTRIES:
        _refuse(f"It has more than {_MOST_ENTRIES} files in it.")
    # Read, they take ten times as much memory.
    rows_bytes = sum(info.file_size for info in packed.infolist() if info.filename.endswith(".json"))
    if rows_bytes > _MOST_ROWS_BYTES:
        _refuse(f"Its rows take {rows_bytes // 1_000_000} MB; {_MOST_ROWS_BYTES // 1_000_000} MB at most.")
    whose = _json(packed, "workshop.json")
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
    return OpenedArchive(
        packed,
        source,
        str(owner.get("name"))[:80],
        {name: _version(shapes.get(name)) for name in SHAPES},
        {kind.name: _rows(packed, kind.name) for kind in KINDS},
    )


def _version(found: object) -> int:
    # One that the archive does not know has no rows in it either.
    return found if isinstance(found, int) else 1


def _rows(packed: ZipFile, kind: str) -> list[Facts]:
    path = f"rows/{kind}.json"
    if path not in packed.namelist():
        return []
    rows = _json(packed, path)
    if not isinstance(rows, list) or not all(isinstance(row, dict) and _is_id(row.get("id")) for row in rows):
        _refuse(f"{path} is no list of rows, each with its id.")
    return rows


def _is_id(found: object) -> bool:
    return type(found) is int and 0 < found <= _LARGEST_ID


def _json(packed: ZipFile, path: str) -> Any:  # noqa: ANN401 # whatever it is
    try:
        data = _read(packed, packed.getinfo(path), _MOST_ROWS_BYTES)
    except KeyError:
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
