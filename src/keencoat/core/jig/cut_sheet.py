"""A sheet that is cut and marked, and the files of it: SVG and DXF true to scale, G-code for the shop's own laser."""

import io
from dataclasses import dataclass
from xml.etree.ElementTree import Element, SubElement, indent, tostring

from ezdxf import filemanagement, units
from shapely.geometry import Polygon

from keencoat.core.geometry import svg_page, to_picture
from keencoat.core.quantities import Machine, Setting
from keencoat.core.toolpath import Item, Part, Polylines, write_gcode

CROSS_MM = 6.0
_HAIR_MM = 0.1
_DXF_COLOURS = {"CUT": 7, "MARK": 5}
Stroke = tuple[tuple[float, float], ...]


@dataclass(frozen=True, eq=False)
class CutSheet:
    """A sheet of so many mm, lower left corner zero, y up: the ways of the beam that cut, and strokes that are only
    marked."""

    size_mm: tuple[float, float]
    cuts: tuple[Polygon, ...]
    marks: tuple[Stroke, ...]


def cross_strokes(x_mm: float, y_mm: float) -> tuple[Stroke, Stroke]:
    """A cross to bring the pointer to."""
    half = CROSS_MM / 2
    return ((x_mm - half, y_mm), (x_mm + half, y_mm)), ((x_mm, y_mm - half), (x_mm, y_mm + half))


def sheet_svg(sheet: CutSheet, title: str) -> str:
    """As SVG, in two groups, `mark` and `cut`."""
    width, height = sheet.size_mm
    place = to_picture(width, height, mirrored=False)
    svg = svg_page(width, height, title, False)
    mark = _group(svg, "mark", "#1a4f9c")
    for stroke in sheet.marks:
        _path(mark, [place.at(x - width / 2, y - height / 2) for x, y in stroke], closed=False)
    cut = _group(svg, "cut", "#000")
    for ring in sheet.cuts:
        _path(cut, [place.at(x - width / 2, y - height / 2) for x, y in ring.exterior.coords[:-1]], closed=True)
    indent(svg, "")
    return tostring(svg, "unicode") + "\n"


def sheet_dxf(sheet: CutSheet) -> str:
    """As DXF R2010 in mm, on two layers, `MARK` and `CUT`."""
    drawing = filemanagement.new("R2010")
    drawing.units = units.MM
    for layer, colour in _DXF_COLOURS.items():
        drawing.layers.add(layer, color=colour)
    space = drawing.modelspace()
    for stroke in sheet.marks:
        space.add_lwpolyline(stroke, dxfattribs={"layer": "MARK"})
    for ring in sheet.cuts:
        space.add_lwpolyline(ring.exterior.coords[:-1], close=True, dxfattribs={"layer": "CUT"})
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue()


def sheet_gcode(sheet: CutSheet, machine: Machine, cut: Setting, mark: Setting, title: str) -> str:
    """As G-code: all marks first, while the sheet still lies as a whole, then the cuts."""
    rings = tuple(tuple((x, y) for x, y, *_ in ring.exterior.coords) for ring in sheet.cuts)
    tasks = [
        *Polylines(sheet.marks, mark, machine, Item(Part.JIG, "marks")),
        *Polylines(rings, cut, machine, Item(Part.JIG, "cuts")),
    ]
    zero = "lower left corner of the sheet"
    return write_gcode(tasks, machine, title, focus="focus on the sheet", zero=zero)


def _group(svg: Element, name: str, colour: str) -> Element:
    return SubElement(svg, "g", {"id": name, "fill": "none", "stroke": colour, "stroke-width": f"{_HAIR_MM}"})


def _path(group: Element, points: list[tuple[float, float]], closed: bool) -> None:
    way = " L ".join(f"{x:.3f} {y:.3f}" for x, y in points)
    SubElement(group, "path", {"d": f"M {way}{' Z' if closed else ''}"})
