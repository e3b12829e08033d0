"""Artwork as files: dots as a 1-bit PNG of its true resolution, outlines as SVG true to scale."""

import io
from xml.etree.ElementTree import Element, SubElement, indent, tostring

import numpy as np
from PIL import Image, PngImagePlugin
from shapely import get_coordinates, get_parts, get_rings
from shapely.affinity import affine_transform

from keencoat.core.artwork.engraved import MadeStrokes
from keencoat.core.artwork.made import Lines, MadeDots
from keencoat.core.artwork.screen import Dots
from keencoat.core.drawing import Area
from keencoat.core.geometry import svg_page, to_picture
from keencoat.core.vision import Floats, Pixels


def dots_png(made: MadeDots, title: str, mirrored: bool) -> bytes:
    """The dots, black where the beam is on, one pixel a dot; as it is burned where that is mirrored. The file states
    its resolution both ways (pHYs, whole pixels a metre: ISO/IEC 15948)."""
    return _png_of(~made.dots, (made.pitch_mm, made.interval_mm), title, mirrored)


def greys_png(greys: Floats, lines: Lines, title: str, mirrored: bool) -> bytes:
    """Shares of dots as greys, black where all are burned, as `dots_png` has dots."""
    coded = np.asarray(np.rint(255 * (1 - greys)), dtype=np.uint8)
    return _png_of(coded, (lines.pitch_mm, lines.interval_mm), title, mirrored)


def _png_of(rows: Dots | Pixels, side_mm: tuple[float, float], title: str, mirrored: bool) -> bytes:
    info = PngImagePlugin.PngInfo()
    info.add_itxt("Title", title)
    out = io.BytesIO()
    dpi = 25.4 / side_mm[0], 25.4 / side_mm[1]
    upright = rows[::-1, ::-1] if mirrored else rows[::-1]
    Image.fromarray(np.ascontiguousarray(upright)).save(out, "PNG", dpi=dpi, pnginfo=info, optimize=False)
    return out.getvalue()


def area_svg(area: Area, size_mm: tuple[float, float], title: str, mirrored: bool) -> str:
    """Filled outlines on a piece of that width and height, 1 user unit = 1 mm; as they are burned where that is
    mirrored."""
    place = to_picture(*size_mm, mirrored)
    svg = svg_page(*size_mm, title, mirrored)
    for part in get_parts(affine_transform(area, [place.xx, place.xy, place.yx, place.yy, place.x0, place.y0])):
        rings = (" ".join(f"{x:.3f},{y:.3f}" for x, y in get_coordinates(ring)) for ring in get_rings(part))
        path = " ".join(f"M {points} Z" for points in rings)
        SubElement(svg, "path", {"d": path, "fill": "#000", "fill-rule": "evenodd"})
    return _written(svg)


def strokes_svg(made: MadeStrokes, size_mm: tuple[float, float], title: str, mirrored: bool) -> str:
    """Lines to be drawn, each a path with no fill, as `area_svg` has outlines."""
    place = to_picture(*size_mm, mirrored)
    svg = svg_page(*size_mm, title, mirrored)
    wide = {"fill": "none", "stroke": "#000", "stroke-width": f"{made.width_mm:.3f}", "stroke-linecap": "round"}
    for stroke in made.strokes:
        points = " ".join("{:.3f},{:.3f}".format(*place.at(x, y)) for x, y in stroke)
        SubElement(svg, "path", {"d": f"M {points}", **wide})
    return _written(svg)


def _written(svg: Element) -> str:
    indent(svg, "")
    return tostring(svg, "unicode") + "\n"
