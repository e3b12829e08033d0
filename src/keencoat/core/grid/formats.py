"""A grid as SVG and CSV, and the rated CSV back."""

import csv
import io
from dataclasses import dataclass
from xml.sax.saxutils import escape, quoteattr

from keencoat.core.errors import BadValueError
from keencoat.core.grid.layout import GridLayout
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities.energy import areal_energy_j_mm2, dwell_ms
from keencoat.core.quantities.setting import Machine
from keencoat.core.substrate.processes import DEFECTS
from keencoat.core.toolpath.strokes import text_strokes
from keencoat.core.window.model import Rating

MAX_CSV_BYTES = 200_000
CSV_COLUMNS = (
    "code", "power_pct", "speed_mm_s", "interval_mm", "passes", "energy_j_mm2", "dwell_ms",
    "x_mm", "y_mm", "side_mm", "rating", "defects", "heard_snapping",
)  # fmt: skip
_YES, _NO = {"1", "yes", "true", "y"}, {"", "0", "no", "false", "n"}


@dataclass(frozen=True)
class CellRating:
    """What somebody saw, felt and heard at one cell."""

    code: str
    rating: Rating | None
    defects: tuple[str, ...] = ()
    heard_snapping: bool = False


def write_svg(layout: GridLayout, piece: FlatPiece, machine: Machine, title: str) -> str:
    """The grid true to scale, 1 user unit = 1 mm: one rect a cell, its setting in data attributes and title."""
    width, height = piece.width_mm, piece.height_mm

    def flip(x: float, y: float) -> tuple[float, float]:
        return x + width / 2, height / 2 - y

    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:g}mm" height="{height:g}mm" '
        f'viewBox="0 0 {width:g} {height:g}">',
        f"<title>{escape(title)}</title>",
    ]
    if piece.shape is Shape.DISC:
        parts.append(
            f'<circle id="piece" cx="{width / 2:g}" cy="{height / 2:g}" r="{width / 2:g}" fill="none" '
            f'stroke="#888" stroke-width="0.2"/>'
        )
    else:
        parts.append(
            f'<rect id="piece" width="{width:g}" height="{height:g}" fill="none" stroke="#888" stroke-width="0.2"/>'
        )
    for placed in layout.cells:
        s = placed.cell.setting
        x, y = flip(placed.x_mm - placed.side_mm / 2, placed.y_mm + placed.side_mm / 2)
        energy = areal_energy_j_mm2(s, machine)
        label = f"{placed.cell.code}: {s.power_pct:g} %, {s.speed_mm_s:g} mm/s, {energy:.3g} J/mm²"
        parts.append(
            f'<rect id="cell-{placed.cell.code}" x="{x:.4f}" y="{y:.4f}" width="{placed.side_mm:g}" '
            f'height="{placed.side_mm:g}" fill="#222" data-power-pct="{s.power_pct:g}" '
            f'data-speed-mm-s="{s.speed_mm_s:g}" data-interval-mm="{s.interval_mm:g}" data-passes="{s.passes}" '
            f"data-energy-j-mm2={quoteattr(f'{energy:.6g}')}><title>{escape(label)}</title></rect>"
        )
    for code in layout.labels:
        for stroke in text_strokes(code.text, code.x_mm, code.y_mm, code.height_mm):
            points = " ".join("{:.3f},{:.3f}".format(*flip(px, py)) for px, py in stroke)
            parts.append(f'<polyline points="{points}" fill="none" stroke="#222" stroke-width="0.2"/>')
    parts.append("</svg>")
    return "\n".join(parts) + "\n"


def write_cells_csv(layout: GridLayout, machine: Machine, ratings: dict[str, CellRating]) -> str:
    """One row a cell, with its rating if it has one; the same table is read back by `read_rated_csv`."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(CSV_COLUMNS)
    for placed in layout.cells:
        s, code = placed.cell.setting, placed.cell.code
        seen = ratings.get(code, CellRating(code, None))
        writer.writerow(
            [
                code, f"{s.power_pct:g}", f"{s.speed_mm_s:g}", f"{s.interval_mm:g}", s.passes,
                f"{areal_energy_j_mm2(s, machine):.4f}", f"{dwell_ms(s, machine):.4f}",
                f"{placed.x_mm:g}", f"{placed.y_mm:g}", f"{placed.side_mm:g}",
                seen.rating.value if seen.rating else "", ";".join(seen.defects), "yes" if seen.heard_snapping else "",
            ]
        )  # fmt: skip
    return out.getvalue()


def read_rated_csv(data: bytes, layout: GridLayout) -> list[CellRating]:
    """Read ratings for the cells of `layout`; rows without a rating are skipped.

    Raises BadValueError that names line and column for anything that does not belong: another encoding, a missing
    column, a doubled or unknown cell, a rating or defect that is none, a setting that is not this grid's.
    """
    if len(data) > MAX_CSV_BYTES:
        raise BadValueError(
            f"The file is larger than {MAX_CSV_BYTES // 1000} kB; a rated grid has a few kB.",
            field="file",
            hint="Choose the CSV that was downloaded with this grid.",
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadValueError(
            f"Byte {error.start + 1} is not UTF-8 text.", field="file", hint="Save the table as CSV, UTF-8."
        ) from error
    if "\0" in text:
        raise BadValueError("This is not a text file.", field="file", hint="Save the table as CSV, UTF-8.")
    reader = csv.DictReader(io.StringIO(text))
    missing = {"code", "rating"} - set(reader.fieldnames or ())
    if missing:
        raise BadValueError(
            f"The first line has no column “{'”, “'.join(sorted(missing))}”.",
            field="file",
            hint=f"Known columns: {', '.join(CSV_COLUMNS)}. “code” and “rating” must be there.",
        )
    settings = {p.cell.code: p.cell.setting for p in layout.cells}
    ratings: dict[str, CellRating] = {}
    try:
        for row in reader:
            where = f"Line {reader.line_num}"
            code = (row["code"] or "").strip().upper()
            if code not in settings:
                raise BadValueError(
                    f"{where}: this grid has no cell “{code[:20]}”.",
                    field="file",
                    hint=f"Its cells run from {layout.cells[0].cell.code} to {layout.cells[-1].cell.code}.",
                )
            if code in ratings:
                raise BadValueError(
                    f"{where}: cell {code} stands there a second time.",
                    field="file",
                    hint="Keep one row for each cell.",
                )
            for column in ("power_pct", "speed_mm_s", "interval_mm", "passes"):
                _check_same(row.get(column), float(getattr(settings[code], column)), column, code, where)
            ratings[code] = _read_row(row, code, where)
    except csv.Error as error:
        raise BadValueError(
            f"Line {reader.line_num} cannot be read: {error}.", field="file", hint="Save the table as CSV, UTF-8."
        ) from error
    rated = [r for r in ratings.values() if r.rating]
    if not rated:
        raise BadValueError(
            "No cell in this file has a rating.", field="file", hint="Write faint, clean or harsh in “rating”."
        )
    return rated


def _check_same(text: str | None, wanted: float, column: str, code: str, where: str) -> None:
    if text is None or not text.strip():
        return
    try:
        value = float(text)
    except ValueError as error:
        raise BadValueError(
            f"{where}: {column} of {code} is “{text[:20]}”.", field="file", hint="Write a figure with a point."
        ) from error
    if abs(value - wanted) <= 1e-3 * wanted:
        return
    hint = f"This grid has {wanted:g} there."
    if column == "speed_mm_s" and abs(value - 60 * wanted) <= 1e-2 * 60 * wanted:
        hint += " It looks like mm/min; the column is in mm/s."
    elif column == "speed_mm_s" and abs(value - wanted / 25.4) <= 1e-2 * wanted / 25.4:
        hint += " It looks like in/s; the column is in mm/s."
    raise BadValueError(f"{where}: {column} of {code} is {value:g}.", field="file", hint=hint)


def _read_row(row: dict[str, str | None], code: str, where: str) -> CellRating:
    word = (row["rating"] or "").strip().lower()
    if word not in {"", *Rating}:
        raise BadValueError(
            f"{where}: “{word[:20]}” is no rating.",
            field="file",
            hint="Write faint, clean or harsh, or leave it empty.",
        )
    defects = tuple(d.strip() for d in (row.get("defects") or "").split(";") if d.strip())
    for defect in defects:
        if defect not in DEFECTS:
            raise BadValueError(
                f"{where}: “{defect[:20]}” is no defect.", field="file", hint=f"Known: {', '.join(DEFECTS)}."
            )
    heard = (row.get("heard_snapping") or "").strip().lower()
    if heard not in _YES | _NO:
        raise BadValueError(f"{where}: heard_snapping is “{heard[:20]}”.", field="file", hint="Write yes or no.")
    return CellRating(code, Rating(word) if word else None, defects, heard in _YES)
