"""A grid as SVG, one element a cell, and as PNG with its true resolution."""

import io
import math
from xml.sax.saxutils import escape, quoteattr

from PIL import Image, ImageDraw

from keencoat.core.errors import BadValueError
from keencoat.core.grid.layout import GridLayout
from keencoat.core.grid.strokes import frame_strokes, sample_strokes
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities.energy import areal_energy_j_mm2
from keencoat.core.quantities.setting import Machine
from keencoat.core.toolpath.letters import Stroke, text_strokes

_MOST_PIXELS = 60_000_000
_STROKE_STEP_MM = 0.2


def write_svg(layout: GridLayout, piece: FlatPiece, machine: Machine, title: str, mirrored: bool = False) -> str:
    """The grid true to scale, 1 user unit = 1 mm: one rect a cell, its setting in data attributes and title.

    Mirrored: as it is burned from the coated side, when the finished mark is seen through the piece.
    """
    width, height = piece.width_mm, piece.height_mm

    def flip(x: float, y: float) -> tuple[float, float]:
        return (width / 2 - x if mirrored else x + width / 2), height / 2 - y

    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:g}mm" height="{height:g}mm" '
        f'viewBox="0 0 {width:g} {height:g}">',
        f"<title>{escape(title)}{' (mirrored)' if mirrored else ''}</title>",
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

    def polylines(strokes: list[Stroke], of: str) -> list[str]:
        return [
            f'<polyline class="{of}" points="{" ".join("{:.3f},{:.3f}".format(*flip(x, y)) for x, y in stroke)}" '
            'fill="none" stroke="#222" stroke-width="0.1"/>'
            for stroke in strokes
        ]

    for placed in layout.cells:
        c, s = placed.cell, placed.cell.setting
        x, y = flip(placed.x_mm, placed.y_mm)
        half = placed.side_mm / 2
        energy = areal_energy_j_mm2(s, machine)
        label = f"{c.code}: {s.power_pct:g} %, {s.speed_mm_s:g} mm/s, {energy:.3g} J/mm²"
        parts.append(
            f'<rect id="cell-{c.code}" x="{x - half:.4f}" y="{y - half:.4f}" width="{placed.side_mm:g}" '
            f'height="{placed.side_mm:g}" fill="#222" data-power-pct="{s.power_pct:g}" '
            f'data-speed-mm-s="{s.speed_mm_s:g}" data-interval-mm="{s.interval_mm:g}" data-passes="{s.passes}" '
            f'data-focus-mm="{c.focus_mm:g}" data-grey-pct="{c.grey_pct:g}" '
            f"data-energy-j-mm2={quoteattr(f'{energy:.6g}')}><title>{escape(label)}</title></rect>"
        )
        parts += polylines(sample_strokes(placed), f"sample-{c.code}")
    if layout.frame is not None:
        parts += polylines(frame_strokes(layout.frame, _STROKE_STEP_MM), "frame")
    for code in layout.labels:
        parts += polylines(text_strokes(code.text, code.x_mm, code.y_mm, code.height_mm), "code")
    parts.append("</svg>")
    return "\n".join(parts) + "\n"


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

    def at(x: float, y: float) -> tuple[float, float]:
        across = piece.width_mm / 2 - x if mirrored else x + piece.width_mm / 2
        return across * px_per_mm - 0.5, (piece.height_mm / 2 - y) * px_per_mm - 0.5

    strokes = [s for label in layout.labels for s in text_strokes(label.text, label.x_mm, label.y_mm, label.height_mm)]
    if layout.frame is not None:
        strokes += frame_strokes(layout.frame, interval_mm)
    for placed in layout.cells:
        half = placed.side_mm / 2
        (x0, y0), (x1, y1) = at(placed.x_mm - half, placed.y_mm + half), at(placed.x_mm + half, placed.y_mm - half)
        pen.rectangle((round(min(x0, x1)), round(y0), round(max(x0, x1)), round(y1)), fill=0)
        strokes += sample_strokes(placed)
    for stroke in strokes:
        pen.line([at(x, y) for x, y in stroke], fill=0, width=1)
    out = io.BytesIO()
    image.save(out, "PNG", dpi=(25.4 * px_per_mm, 25.4 * px_per_mm))
    return out.getvalue()
