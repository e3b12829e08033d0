"""A grid as SVG, one element a cell, and as PNG with its true resolution."""

import io
import math
from collections.abc import Iterable, Sequence
from xml.etree.ElementTree import Element, SubElement, indent, tostring

from PIL import Image, ImageDraw

from keencoat.core.errors import BadValueError
from keencoat.core.geometry import Transform, offset, scale, svg_page, to_picture
from keencoat.core.grid.layout import GridLayout, PlacedCell
from keencoat.core.grid.strokes import code_strokes, edge_strokes, frame_strokes, sample_strokes
from keencoat.core.piece import FlatPiece
from keencoat.core.quantities import Machine, areal_energy_j_mm2
from keencoat.core.toolpath import Stroke

_MOST_PIXELS = 60_000_000
_STROKE_STEP_MM = 0.2


def write_svg(layout: GridLayout, piece: FlatPiece, machine: Machine, title: str, mirrored: bool = False) -> str:
    """The grid true to scale, 1 user unit = 1 mm: one rect a cell, its setting in data attributes and title.

    Mirrored: as it is burned from the coated side, when the finished mark is seen through the piece.
    """
    width, height = piece.width_mm, piece.height_mm
    place = to_picture(width, height, mirrored)
    svg = svg_page(width, height, title, mirrored)
    edge = f"M {_points(piece.outline.exterior.coords, place)} Z"
    SubElement(svg, "path", {"id": "piece", "d": edge, "fill": "none", "stroke": "#888", "stroke-width": "0.2"})
    for placed in layout.cells:
        _add_cell(svg, placed, machine, place)
        _add_strokes(svg, sample_strokes(placed), f"sample-{placed.cell.code}", place)
    if layout.frame is not None:
        _add_strokes(svg, frame_strokes(layout.frame, _STROKE_STEP_MM), "frame", place)
    _add_strokes(svg, code_strokes(layout), "code", place)
    indent(svg, "")
    return tostring(svg, "unicode") + "\n"


def _add_cell(svg: Element, placed: PlacedCell, machine: Machine, place: Transform) -> None:
    c, s = placed.cell, placed.cell.setting
    x, y = place.at(placed.x_mm, placed.y_mm)
    half, energy = placed.side_mm / 2, areal_energy_j_mm2(s, machine)
    facts = {
        "id": f"cell-{c.code}", "x": f"{x - half:.4f}", "y": f"{y - half:.4f}", "width": f"{placed.side_mm:g}",
        "height": f"{placed.side_mm:g}", "fill": "#222", "data-power-pct": f"{s.power_pct:g}",
        "data-speed-mm-s": f"{s.speed_mm_s:g}", "data-interval-mm": f"{s.interval_mm:g}",
        "data-passes": str(s.passes), "data-focus-mm": f"{c.focus_mm:g}", "data-grey-pct": f"{c.grey_pct:g}",
        "data-energy-j-mm2": f"{energy:.6g}",
    }  # fmt: skip
    label = f"{c.code}: {s.power_pct:g} %, {s.speed_mm_s:g} mm/s, {energy:.3g} J/mm²"
    SubElement(SubElement(svg, "rect", facts), "title").text = label


def _add_strokes(svg: Element, strokes: list[Stroke], of: str, place: Transform) -> None:
    for stroke in strokes:
        look = {"class": of, "points": _points(stroke, place), "fill": "none", "stroke": "#222", "stroke-width": "0.1"}
        SubElement(svg, "polyline", look)


def _points(line: Iterable[Sequence[float]], place: Transform) -> str:
    return " ".join("{:.3f},{:.3f}".format(*place.at(x, y)) for x, y in line)


def write_png(layout: GridLayout, piece: FlatPiece, interval_mm: float, mirrored: bool = False) -> bytes:
    """The whole piece as a picture, black where the beam goes, one pixel a line of `interval_mm`.

    The file states its resolution (pHYs, whole pixels a metre: ISO/IEC 15948). Raises BadValueError if it would have
    too many pixels.
    """
    px_per_mm = 1 / interval_mm
    size = (math.ceil(piece.width_mm * px_per_mm), math.ceil(piece.height_mm * px_per_mm))
    if size[0] * size[1] > _MOST_PIXELS:
        raise BadValueError(
            f"At {interval_mm:g} mm this piece has {size[0]} × {size[1]} pixels.",
            field="kind",
            hint="Take the SVG, or wider lines.",
        )
    image = Image.new("1", size, 1)
    pen = ImageDraw.Draw(image)

    at = to_picture(piece.width_mm, piece.height_mm, mirrored).then(scale(px_per_mm)).then(offset(-0.5, -0.5)).at
    strokes = edge_strokes(layout, interval_mm)
    for placed in layout.cells:
        half = placed.side_mm / 2
        (x0, y0), (x1, y1) = at(placed.x_mm - half, placed.y_mm + half), at(placed.x_mm + half, placed.y_mm - half)
        # A pixel is black where its middle lies inside.
        first_x, first_y, past_x, past_y = (math.ceil(p - 1e-6) for p in (min(x0, x1), y0, max(x0, x1), y1))
        pen.rectangle((first_x, first_y, past_x - 1, past_y - 1), fill=0)
        strokes += sample_strokes(placed)
    for stroke in strokes:
        pen.line([at(x, y) for x, y in stroke], fill=0, width=1)
    out = io.BytesIO()
    image.save(out, "PNG", dpi=(25.4 * px_per_mm, 25.4 * px_per_mm))
    return out.getvalue()
