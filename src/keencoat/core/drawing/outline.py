"""The shapes of a drawing as rings in px of its page: what their fill covers, and what their stroke."""

import math
import re
from collections.abc import Sequence
from xml.etree.ElementTree import Element

import numpy as np
import pathops
from fontTools.misc.transform import Transform
from fontTools.pens.recordingPen import RecordingPen
from fontTools.pens.transformPen import TransformPen
from fontTools.svgLib.path.arc import EllipticalArc
from fontTools.svgLib.path.parser import parse_path

from keencoat.core.drawing.areas import MAX_POINTS, NOTHING, Area, FillRule, Ring, area_of, too_many_points
from keencoat.core.drawing.flat import RingPen
from keencoat.core.drawing.style import Size, Style
from keencoat.core.drawing.untrusted import refused, tag_of

SHAPES = frozenset(("path", "rect", "circle", "ellipse", "line", "polyline", "polygon"))
MAX_DASHES = 50_000
FARTHEST_PX = 1e6
_AS_IT_IS = Transform()
_STROKED_SIZE = 4096.0
"""Skia strokes in single precision, to a quarter of its unit: lines are stroked as large as this and brought back."""
_KAPPA = 4 / 3 * math.tan(math.pi / 8)
"""How far the handles of a quarter of a circle reach, in radii."""
_CAPS = {"round": pathops.LineCap.ROUND_CAP, "square": pathops.LineCap.SQUARE_CAP}
_JOINS = {"round": pathops.LineJoin.ROUND_JOIN, "bevel": pathops.LineJoin.BEVEL_JOIN}
_NUMBERS = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?", re.IGNORECASE)
_TRANSFORM = re.compile(r"\s*,?\s*(matrix|translate|scale|rotate|skewX|skewY)\s*\(([^()]*)\)\s*,?\s*")


class _Arc(EllipticalArc):  # type: ignore[misc] # fontTools has no types
    """An arc whose radii may be of either sign, and a straight line where one is nothing (SVG 1.1, F.6.6)."""

    def __init__(self, start: complex, across: float, up: float, *rest: complex) -> None:
        super().__init__(start, abs(across), abs(up), *rest)

    def draw(self, pen: RecordingPen) -> None:
        """Draw it."""
        if self.rx and self.ry:
            super().draw(pen)
        else:
            pen.lineTo((self.target_point.real, self.target_point.imag))


def outline_of(node: Element, size: Size) -> RecordingPen:
    """What a shape draws, in its own coordinates. Raises BadValueError for a path that cannot be followed."""
    pen = RecordingPen()
    if tag_of(node) in ("circle", "ellipse"):
        _draw_ellipse(node, size, pen)
        return pen
    said = _path_of(node, size)
    try:
        parse_path(said, pen, arc_class=_Arc)
    except (ValueError, IndexError, TypeError, AssertionError, OverflowError, ZeroDivisionError) as error:
        raise refused(
            f"A <{tag_of(node)}> of the drawing cannot be followed: {str(error)[:80]}.",
            "Save it anew as plain SVG 1.1.",
        ) from error
    return pen


def fill_of(outline: RecordingPen, matrix: Transform, rule: str, fine_px: float) -> Area:
    """What a fill covers, in px of the page."""
    return area_of(_rings(outline, matrix, fine_px), FillRule(rule) if rule == "evenodd" else FillRule.NONZERO)


def stroke_of(outline: RecordingPen, matrix: Transform, style: Style, size: Size, fine_px: float) -> Area:
    """What a stroke covers, in px of the page: as wide, dashed, joined and ended as the style says, and then as the
    matrix bends it (SVG 1.1, 11.4)."""
    width = size.px(style["stroke-width"], size.across, 1.0)
    points = _points_of(outline)
    if width <= 0 or not len(points):
        return NOTHING
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    reach = max(float(np.abs(points - middle).max()), width)
    size_up = _STROKED_SIZE / reach
    path = pathops.Path()
    outline.replay(TransformPen(path.getPen(), Transform(size_up, 0, 0, size_up, *(-size_up * middle))))
    dashes, start = _dashes(style, size, points)
    path.stroke(
        width * size_up,
        _CAPS.get(style["stroke-linecap"], pathops.LineCap.BUTT_CAP),
        _JOINS.get(style["stroke-linejoin"], pathops.LineJoin.MITER_JOIN),
        max(1.0, style.number("stroke-miterlimit", 4.0)),
        [dash * size_up for dash in dashes] or None,
        start * size_up,
    )
    path.convertConicsToQuads()
    back = RecordingPen()
    path.draw(back)
    return area_of(_rings(back, matrix.translate(*middle).scale(1 / size_up), fine_px))


def bounds_of(outline: RecordingPen) -> tuple[float, float, float, float] | None:
    """Left, top, right, bottom of a shape in its own coordinates, without its stroke; None for nothing."""
    rings = _rings(outline, Transform(), max(1e-9, float(np.ptp(_points_of(outline), axis=0).max()) / 4096))
    if not rings:
        return None
    every = np.vstack(rings)
    return (*every.min(axis=0).tolist(), *every.max(axis=0).tolist())


def numbers_in(text: str) -> list[float]:
    """The numbers of a list, however they are parted."""
    return [float(number) for number in _NUMBERS.findall(text)]


def transform_of(text: str) -> Transform:
    """A list of transforms (SVG 1.1, 7.6). Raises BadValueError for what is none."""
    matrix, at = Transform(), 0
    text = text.strip()
    while at < len(text):
        found = _TRANSFORM.match(text, at)
        if found is None:
            raise _no_transform(text)
        numbers = numbers_in(found[2])
        try:
            matrix = _then(matrix, found[1], numbers)
        except (TypeError, IndexError, ValueError) as error:
            raise _no_transform(text) from error
        at = found.end()
    return matrix


def _no_transform(text: str) -> Exception:
    return refused(f"A part of the drawing has the transform “{text[:60]}”.", "Save it anew as plain SVG 1.1.")


def _then(matrix: Transform, how: str, numbers: list[float]) -> Transform:
    if how == "matrix":
        return matrix.transform(Transform(*numbers))
    if how == "translate":
        x, y = (*numbers, 0.0)[:2]
        return matrix.translate(x, y)
    if how == "scale":
        x, y = (*numbers, numbers[0])[:2]
        return matrix.scale(x, y)
    if how == "rotate":
        angle, x, y = (*numbers, 0.0, 0.0)[:3]
        return matrix.translate(x, y).rotate(math.radians(angle)).translate(-x, -y)
    lean = math.radians(numbers[0])
    return matrix.skew(lean, 0) if how == "skewX" else matrix.skew(0, lean)


def _rings(outline: RecordingPen, matrix: Transform, fine_px: float) -> list[Ring]:
    pen = RingPen(fine_px)
    outline.replay(pen if matrix == _AS_IT_IS else TransformPen(pen, matrix))
    rings = pen.rings
    if not all((np.abs(ring) < FARTHEST_PX).all() for ring in rings):  # NaN fails it too
        raise refused("The drawing has points far beyond any page.", "Save it anew from your drawing program.")
    if sum(map(len, rings)) > MAX_POINTS:
        raise too_many_points()
    return rings


def _points_of(outline: RecordingPen) -> Ring:
    points = [point for _, drawn in outline.value for point in drawn]
    found = np.array(points, dtype=float).reshape(-1, 2)
    if not (np.abs(found) < FARTHEST_PX * FARTHEST_PX).all():
        raise refused("The drawing has points far beyond any page.", "Save it anew from your drawing program.")
    return found


def _dashes(style: Style, size: Size, points: Ring) -> tuple[Sequence[float], float]:
    """The lengths of dashes and gaps, and how far into them a line starts; none where it is solid."""
    said = [part for part in re.split(r"[\s,]+", style["stroke-dasharray"].strip()) if part]
    try:
        lengths = [size.px(part, size.across, None) for part in said]
    except ValueError:
        return (), 0.0
    if not lengths or min(lengths) < 0 or sum(lengths) <= 0:
        return (), 0.0
    if len(lengths) % 2:
        lengths *= 2
    if float(np.hypot(*np.diff(points, axis=0).T).sum()) * len(lengths) > MAX_DASHES * sum(lengths):
        raise refused("A line of the drawing has too many dashes.", "Make them longer, or draw it solid.")
    return lengths, size.px(style["stroke-dashoffset"], size.across)


def _path_of(node: Element, size: Size) -> str:
    """A shape as the data of a path (SVG 1.1, 9)."""
    tag = tag_of(node)
    if tag == "path":
        return node.get("d") or ""
    if tag in ("polyline", "polygon"):
        numbers = _NUMBERS.findall(node.get("points") or "")
        numbers = numbers[: len(numbers) // 2 * 2]
        return f"M {' '.join(numbers)} {'Z' if tag == 'polygon' else ''}" if numbers else ""

    def wide(name: str) -> float:
        return size.px(node.get(name) or "", size.width)

    def high(name: str) -> float:
        return size.px(node.get(name) or "", size.height)

    if tag == "line":
        return f"M {wide('x1')!r} {high('y1')!r} L {wide('x2')!r} {high('y2')!r}"
    return _rectangle(wide("x"), high("y"), wide("width"), high("height"), *_radii(node, size))


def _radii(node: Element, size: Size) -> tuple[float, float]:
    """Two radii; one that is not given is as long as the other (SVG 2, 10.4)."""
    x = size.px(node.get("rx") or "", size.width, -1.0)
    y = size.px(node.get("ry") or "", size.height, -1.0)
    x, y = (y if x < 0 else x), (x if y < 0 else y)
    return max(0.0, x), max(0.0, y)


def _rectangle(left: float, top: float, wide: float, high: float, round_x: float, round_y: float) -> str:
    if wide <= 0 or high <= 0:
        return ""
    x, y = min(round_x, wide / 2), min(round_y, high / 2)
    right, low = left + wide, top + high
    if x <= 0 or y <= 0:
        return f"M {left!r} {top!r} H {right!r} V {low!r} H {left!r} Z"
    arc = f"A {x!r} {y!r} 0 0 1"
    return (
        f"M {left + x!r} {top!r} H {right - x!r} {arc} {right!r} {top + y!r} V {low - y!r} {arc} {right - x!r} {low!r} "
        f"H {left + x!r} {arc} {left!r} {low - y!r} V {top + y!r} {arc} {left + x!r} {top!r} Z"
    )


def _draw_ellipse(node: Element, size: Size, pen: RecordingPen) -> None:
    """In four curves from three o'clock on, clockwise, so that dashes lie where others lay them."""
    x, y = (size.px(node.get(name) or "", of) for name, of in (("cx", size.width), ("cy", size.height)))
    if tag_of(node) == "circle":
        across = up = size.px(node.get("r") or "", size.across)
    else:
        across, up = _radii(node, size)
    if across <= 0 or up <= 0:
        return
    pen.moveTo((x + across, y))
    for c, s in ((1, 0), (0, 1), (-1, 0), (0, -1)):
        # A quarter turn on from (c, s), the direction of the way there is (−s, c).
        first = (x + across * (c - _KAPPA * s), y + up * (s + _KAPPA * c))
        second = (x + across * (_KAPPA * c - s), y + up * (_KAPPA * s + c))
        pen.curveTo(first, second, (x - across * s, y + up * c))
    pen.closePath()
