"""Cells as a CSV table, and ratings read back from CSV or JSON for a grid that is known."""

import csv
import io
from dataclasses import dataclass

from keencoat.core.errors import BadValueError
from keencoat.core.grid.formats.rows import Row, read_rows
from keencoat.core.grid.layout import GridLayout, PlacedCell
from keencoat.core.quantities import Machine, areal_energy_j_mm2, dwell_ms
from keencoat.core.rating import Rating
from keencoat.core.substrate import DEFECTS

CSV_COLUMNS = (
    "code", "power_pct", "speed_mm_s", "interval_mm", "passes", "focus_mm", "coats", "grey_pct", "energy_j_mm2",
    "dwell_ms", "x_mm", "y_mm", "side_mm", "sample_mm", "rating", "defects", "heard_snapping", "strokes",
)  # fmt: skip
_YES, _NO = {"1", "yes", "true", "y"}, {"", "0", "no", "false", "n"}


@dataclass(frozen=True)
class CellRating:
    """What somebody saw, felt and heard at one cell: `rating` of its filled patch, `strokes` of its fine strokes."""

    code: str
    rating: Rating | None
    defects: tuple[str, ...] = ()
    heard_snapping: bool = False
    strokes: Rating | None = None


def cell_values(placed: PlacedCell, machine: Machine, seen: CellRating | None) -> dict[str, object]:
    """A cell by the names of CSV_COLUMNS, as table and document give it."""
    c, s = placed.cell, placed.cell.setting
    return {
        "code": c.code, "power_pct": s.power_pct, "speed_mm_s": s.speed_mm_s, "interval_mm": s.interval_mm,
        "passes": s.passes, "focus_mm": c.focus_mm, "coats": c.coats, "grey_pct": c.grey_pct,
        "energy_j_mm2": round(areal_energy_j_mm2(s, machine), 4), "dwell_ms": round(dwell_ms(s, machine), 4),
        "x_mm": placed.x_mm, "y_mm": placed.y_mm, "side_mm": placed.side_mm, "sample_mm": placed.sample_mm,
        "rating": seen.rating.value if seen and seen.rating else None,
        "defects": list(seen.defects) if seen else [], "heard_snapping": bool(seen and seen.heard_snapping),
        "strokes": seen.strokes.value if seen and seen.strokes else None,
    }  # fmt: skip


def write_cells_csv(cells: tuple[PlacedCell, ...], machine: Machine, ratings: dict[str, CellRating]) -> str:
    """One row a cell, with its rating if it has one; the same table is read back by `read_ratings`."""
    out = io.StringIO()
    writer = csv.DictWriter(out, CSV_COLUMNS)
    writer.writeheader()
    for placed in cells:
        values = cell_values(placed, machine, ratings.get(placed.cell.code))
        writer.writerow(
            values
            | {k: f"{v:g}" for k, v in values.items() if isinstance(v, float)}
            | {
                "defects": ";".join(values["defects"]),  # type: ignore[arg-type] # a list of texts
                "heard_snapping": "yes" if values["heard_snapping"] else "",
                "energy_j_mm2": f"{values['energy_j_mm2']:.4f}",
                "dwell_ms": f"{values['dwell_ms']:.4f}",
            }
        )
    return out.getvalue()


def read_ratings(data: bytes, layout: GridLayout) -> list[CellRating]:
    """Read ratings for the cells of `layout` from CSV or JSON; cells without a rating are skipped.

    Raises BadValueError that names line and column for anything that does not belong: another encoding, a missing
    column, a doubled or unknown cell, a rating or defect that is none, a setting that is not this grid's.
    """
    settings = {p.cell.code: p.cell.setting for p in layout.cells}
    ratings: dict[str, CellRating] = {}
    for row in read_rows(data, {"code", "rating"}, CSV_COLUMNS):
        code = row.text("code").upper()
        if code not in settings:
            raise BadValueError(
                f"{row.where}: this grid has no cell “{code[:20]}”.",
                field="file",
                hint=f"Its cells run from {layout.cells[0].cell.code} to {layout.cells[-1].cell.code}.",
            )
        if code in ratings:
            raise BadValueError(
                f"{row.where}: cell {code} stands there a second time.",
                field="file",
                hint="Keep one of them.",
            )
        for column in ("power_pct", "speed_mm_s", "interval_mm", "passes"):
            _check_same(row, column, float(getattr(settings[code], column)), code)
        ratings[code] = read_rating(row, code)
    rated = [r for r in ratings.values() if r.rating]
    if not rated:
        raise BadValueError(
            "No cell in this file has a rating.", field="file", hint="Write faint, clean or harsh in “rating”."
        )
    return rated


def _check_same(row: Row, column: str, wanted: float, code: str) -> None:
    text = row.text(column)
    if not text:
        return
    try:
        value = float(text)
    except ValueError as error:
        raise BadValueError(
            f"{row.where}: {column} of {code} is “{text[:20]}”.", field="file", hint="Write a figure with a point."
        ) from error
    if abs(value - wanted) <= 1e-3 * wanted:
        return
    hint = f"This grid has {wanted:g} there."
    if column == "speed_mm_s" and abs(value - 60 * wanted) <= 1e-2 * 60 * wanted:
        hint += " It looks like mm/min; the column is in mm/s."
    elif column == "speed_mm_s" and abs(value - wanted / 25.4) <= 1e-2 * wanted / 25.4:
        hint += " It looks like in/s; the column is in mm/s."
    raise BadValueError(f"{row.where}: {column} of {code} is {value:g}.", field="file", hint=hint)


def read_rating(row: Row, code: str) -> CellRating:
    """The rating, defects and what was heard in a row. Raises BadValueError that says where."""
    word, strokes = _rating_word(row, "rating"), _rating_word(row, "strokes")
    defects = tuple(d.strip() for d in row.text("defects").split(";") if d.strip())
    for defect in defects:
        if defect not in DEFECTS:
            raise BadValueError(
                f"{row.where}: “{defect[:20]}” is no defect.", field="file", hint=f"Known: {', '.join(DEFECTS)}."
            )
    heard = row.text("heard_snapping").lower()
    if heard not in _YES | _NO:
        raise BadValueError(f"{row.where}: heard_snapping is “{heard[:20]}”.", field="file", hint="Write yes or no.")
    return CellRating(code, word, defects, heard in _YES, strokes)


def _rating_word(row: Row, column: str) -> Rating | None:
    word = row.text(column).lower()
    if word not in {"", *Rating}:
        raise BadValueError(
            f"{row.where}: “{word[:20]}” is no rating.",
            field="file",
            hint="Write faint, clean or harsh, or leave it empty.",
        )
    return Rating(word) if word else None
