"""The pages of a drawing: the outermost, and those that lie in it (SVG 1.1, 7.7 and 7.8)."""

from xml.etree.ElementTree import Element

from fontTools.misc.transform import Transform

from keencoat.core.drawing.outline import FARTHEST_PX, numbers_in
from keencoat.core.drawing.style import Size
from keencoat.core.drawing.untrusted import refused

_UNSAID = Size(100.0, 100.0)
Box = tuple[float, float, float, float]
"""Left, top, width, height."""


def page_of(root: Element) -> tuple[float, float]:
    """The width and height of a drawing, px. Raises BadValueError where it has none."""
    view = view_box_of(root)
    whole = Size(view[2], view[3]) if view else _UNSAID
    wide = whole.px(root.get("width") or "100%", whole.width, -1.0)
    high = whole.px(root.get("height") or "100%", whole.height, -1.0)
    if not (min(wide, high) > 0 and max(wide, high) < FARTHEST_PX):
        raise refused("The drawing's page has no size.", "Give it a width and a height, in mm.")
    return wide, high


def view_box_of(node: Element) -> Box | None:
    """The part of a page's own coordinates that it shows, None where that is all."""
    numbers = numbers_in(node.get("viewBox") or "")
    if len(numbers) != 4 or not (min(numbers[2:]) >= 0 and max(map(abs, numbers)) < FARTHEST_PX):
        return None
    return numbers[0], numbers[1], numbers[2], numbers[3]


def fitted(node: Element, page: Box) -> tuple[Transform, Size] | None:
    """How a page's own coordinates lie in the box that it is given, and what lengths in it are of; None where it shows
    nothing."""
    left, top, wide, high = page
    view = view_box_of(node)
    if min(wide, high) <= 0 or (view is not None and min(view[2:]) <= 0):
        return None
    if view is None:
        return Transform().translate(left, top), Size(wide, high)
    across, up = wide / view[2], high / view[3]
    align, _, how = (node.get("preserveAspectRatio") or "").strip().partition(" ")
    if align != "none":
        across = up = max(across, up) if how.strip() == "slice" else min(across, up)
    x = left + (wide - across * view[2]) * _share(align, "xMin", "xMax")
    y = top + (high - up * view[3]) * _share(align, "YMin", "YMax")
    return Transform(across, 0, 0, up, x, y).translate(-view[0], -view[1]), Size(view[2], view[3])


def _share(align: str, least: str, most: str) -> float:
    """How much of the room that is left lies before the view: none, half or all of it."""
    return 0.0 if least in align else 1.0 if most in align else 0.5
