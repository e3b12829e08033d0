"""A jig as SVG true to scale: what is cut, and what is only marked, in groups of their own."""

from xml.etree.ElementTree import Element, SubElement, indent, tostring

from keencoat.core.geometry import svg_page, to_picture
from keencoat.core.jig.layout import CROSS_MM, Jig
from keencoat.core.toolpath import text_strokes, text_width_mm

_NUMBER_MM = 3.0
_HAIR_MM = 0.1
Stroke = tuple[tuple[float, float], ...]


def marks_of(jig: Jig) -> list[Stroke]:
    """What is marked and not cut: the crosses, a number under every pocket where the gap has room for it, and lines
    that say where holes point; mm, y up."""
    half = CROSS_MM / 2
    marks: list[Stroke] = []
    for x, y in jig.crosses_mm:
        marks += [((x - half, y), (x + half, y)), ((x, y - half), (x, y + half))]
    low = jig.edge.bounds[1]
    high = min(_NUMBER_MM, jig.spec.gap_mm - 1.0)
    for pocket in jig.pockets:
        if high >= 1.0:
            text = str(pocket.number)
            left = pocket.x_mm - text_width_mm(text, high) / 2
            marks += text_strokes(text, left, pocket.y_mm + low - 0.5 - high, high)
        if line := jig.hole_line(pocket):
            marks.append(line)
    return marks


def jig_svg(jig: Jig, title: str) -> str:
    """The jig on its sheet; `cut` goes round pockets half the kerf inside their edge."""
    width, height = jig.spec.sheet_mm
    place = to_picture(width, height, mirrored=False)
    svg = svg_page(width, height, title, False)
    mark = _group(svg, "mark", "#1a4f9c")
    for stroke in marks_of(jig):
        _path(mark, [place.at(x - width / 2, y - height / 2) for x, y in stroke], closed=False)
    cut = _group(svg, "cut", "#000")
    for ring in jig.cuts():
        _path(cut, [place.at(x - width / 2, y - height / 2) for x, y in ring.exterior.coords], closed=True)
    indent(svg, "")
    return tostring(svg, "unicode") + "\n"


def _group(svg: Element, name: str, colour: str) -> Element:
    return SubElement(svg, "g", {"id": name, "fill": "none", "stroke": colour, "stroke-width": f"{_HAIR_MM}"})


def _path(group: Element, points: list[tuple[float, float]], closed: bool) -> None:
    way = " L ".join(f"{x:.3f} {y:.3f}" for x, y in points)
    SubElement(group, "path", {"d": f"M {way}{' Z' if closed else ''}"})
