"""Rows of cells from an uploaded table (CSV) or document (JSON), with where each stood, for clear errors."""

import csv
import io
import json
from dataclasses import dataclass

from keencoat.core.errors import BadValueError

MAX_TABLE_BYTES = 400_000
MAX_CELLS = 256
DOCUMENT_FORMAT = "keencoat-grid"


@dataclass(frozen=True)
class Row:
    """One cell as written: `where` names the line or place, `values` are texts by column; missing ones are absent."""

    where: str
    values: dict[str, str]

    def text(self, column: str) -> str:
        """The trimmed text of a column, "" if it is missing."""
        return self.values.get(column, "").strip()


def read_rows(data: bytes, needed: set[str], known: tuple[str, ...]) -> list[Row]:
    """The cells of an uploaded CSV or JSON file. Raises BadValueError that names line and column, or place."""
    if len(data) > MAX_TABLE_BYTES:
        raise BadValueError(
            f"The file is larger than {MAX_TABLE_BYTES // 1000} kB; a grid has a few kB.",
            field="file",
            hint="Choose the CSV or JSON of a grid.",
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadValueError(
            f"Byte {error.start + 1} is not UTF-8 text.", field="file", hint="Save it as CSV or JSON, UTF-8."
        ) from error
    if "\0" in text:
        raise BadValueError("This is not a text file.", field="file", hint="Save it as CSV or JSON, UTF-8.")
    rows = _from_json(text, needed) if text.lstrip().startswith(("{", "[")) else _from_csv(text, needed, known)
    if len(rows) > MAX_CELLS:
        raise BadValueError(
            f"The file has {len(rows)} cells; {MAX_CELLS} is the most.", field="file", hint="Split the grid."
        )
    return rows


def _from_csv(text: str, needed: set[str], known: tuple[str, ...]) -> list[Row]:
    reader = csv.DictReader(io.StringIO(text))
    missing = needed - set(reader.fieldnames or ())
    if missing:
        raise BadValueError(
            f"The first line has no column “{'”, “'.join(sorted(missing))}”.",
            field="file",
            hint=f"Known columns: {', '.join(known)}. “{'” and “'.join(sorted(needed))}” must be there.",
        )
    try:
        return [
            Row(f"Line {reader.line_num}", {k: v for k, v in row.items() if isinstance(k, str) and isinstance(v, str)})
            for row in reader
        ]
    except csv.Error as error:
        raise BadValueError(
            f"Line {reader.line_num} cannot be read: {error}.", field="file", hint="Save the table as CSV, UTF-8."
        ) from error


def _from_json(text: str, needed: set[str]) -> list[Row]:
    try:
        document = json.loads(text)
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}: {error.msg}"
        raise BadValueError(f"This JSON cannot be read: {where}.", field="file", hint="Save it again.") from error
    except (RecursionError, ValueError) as error:
        raise BadValueError(
            "This JSON is nested too deep, or holds a figure too long.", field="file", hint="Save it again."
        ) from error
    cells = document.get("cells") if isinstance(document, dict) else None
    if not isinstance(document, dict) or document.get("format") != DOCUMENT_FORMAT or not isinstance(cells, list):
        raise BadValueError(
            "This JSON is not a grid.",
            field="file",
            hint=f'It needs "format": "{DOCUMENT_FORMAT}" and a list "cells".',
        )
    rows = []
    for number, cell in enumerate(cells, 1):
        where = f"Cell {number}"
        if not isinstance(cell, dict) or needed - set(cell):
            missing = sorted(needed - set(cell)) if isinstance(cell, dict) else sorted(needed)
            raise BadValueError(f"{where} has no “{'”, “'.join(missing)}”.", field="file", hint="Add it.")
        rows.append(Row(where, {str(k): _as_text(v) for k, v in cell.items() if v is not None}))
    return rows


def _as_text(value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return ";".join(map(str, value))
    return str(value)


def figure_in(row: Row, column: str, low: float, high: float, default: float | None = None) -> float:
    """The figure of a column; `default` if it is empty. Raises BadValueError that says where and what instead."""
    text = row.text(column)
    if not text and default is not None:
        return default
    try:
        value = float(text)
    except ValueError as error:
        raise BadValueError(
            f"{row.where}: {column} is “{text[:20]}”.", field="file", hint="Write a figure with a point."
        ) from error
    if not low <= value <= high:
        raise BadValueError(
            f"{row.where}: {column} is {value:g}.", field="file", hint=f"It must lie between {low:g} and {high:g}."
        )
    return value
