"""A drawing gone through part by part: where each lies, how it looks, and what it is clipped to (SVG 1.1, 5 and 14)."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from xml.etree.ElementTree import Element

from fontTools.misc.transform import Transform
from shapely import Polygon, box, get_num_coordinates

from keencoat.core.drawing.areas import MAX_POINTS, NOTHING, Area, joined, only_areas, too_many_points
from keencoat.core.drawing.canvas import Paint, Painted, Sheet
from keencoat.core.drawing.outline import (
    SHAPES,
    bounds_of,
    fill_of,
    outline_of,
    stroke_of,
    transform_of,
)
from keencoat.core.drawing.page import Box, fitted, page_of
from keencoat.core.drawing.style import FIRST_STYLE, Sheets, Size, Style, with_letters
from keencoat.core.drawing.untrusted import attribute, by_id, href_of, refused, tag_of

_INSIDE = frozenset(("svg", "g", "a", "switch", "use"))
_BOX = 1e-9
_FINENESS = 20_000
"""Curves leave their straight pieces by no more than this part of the page."""
_URL = re.compile(r"url\(\s*['\"]?#([^'\")]+)['\"]?\s*\)")


@dataclass(frozen=True)
class _Place:
    """Where a part lies: its own coordinates in px of the page, what its lengths are of, what it is clipped to, the
    named group that it is in, and the style that it inherits."""

    matrix: Transform
    size: Size
    clip: Area
    style: Style
    group: str = ""

    def box(self, left: float, top: float, wide: float, high: float) -> Area:
        """A box of its own coordinates in px of the page."""
        corners = [(left, top), (left + wide, top), (left + wide, top + high), (left, top + high)]
        return Polygon(self.matrix.transformPoints(corners))


def _holds(clip: Area, area: Area) -> bool:
    """Whether a clip that is a box, as pages are, holds all of an area; false where that is not plain at once."""
    left, low, right, high = clip.bounds
    if abs(clip.area - (right - left) * (high - low)) > _BOX * clip.area:
        return False
    x, y, to_x, to_y = area.bounds
    return bool(left <= x and low <= y and to_x <= right and to_y <= high)


class Walk:
    """One way through a drawing."""

    def __init__(self, root: Element) -> None:
        self.page = page_of(root)
        self._root = root
        self._sheets = Sheets(root)
        self._named = by_id(root)
        self._fine_px = max(self.page) / _FINENESS
        self._points = 0

    def painted(self) -> Iterator[Painted]:
        """Everything that is painted, in order, in px of the page with y down."""
        start = _Place(Transform(), Size(*self.page), box(0, 0, *self.page), FIRST_STYLE)
        yield from self._part(self._root, start)

    def _part(self, node: Element, place: _Place, box_of_use: Box | None = None) -> Iterator[Painted]:
        """What a part paints under what it lies in; `box_of_use` is what a page is given that is used elsewhere."""
        tag = tag_of(node)
        if tag not in SHAPES and tag not in _INSIDE and box_of_use is None:
            return
        style = self._sheets.style_of(node, place.style)
        opacity = min(1.0, max(0.0, style.number("opacity", 1.0)))
        if style["display"] == "none" or opacity == 0:
            return
        matrix = place.matrix.transform(transform_of(node.get("transform") or ""))
        here = replace(place, matrix=matrix, style=style, size=with_letters(place.size, style))
        if tag in SHAPES:
            painted = [*self._shape(node, here)]
        elif tag == "use":
            painted = [*self._used(node, here)]
        else:
            painted = [*self._group(node, self._clipped(here, None), box_of_use)]
        if opacity < 1 and painted:
            yield Sheet(painted, opacity)
        else:
            yield from painted

    def _group(self, node: Element, place: _Place, box_of_use: Box | None) -> Iterator[Painted]:
        tag = tag_of(node)
        if tag in ("svg", "symbol"):
            inner = self._page(node, place, box_of_use)
            if inner is None:
                return
            place = inner
        if node is not self._root:
            place = replace(place, group=place.group or _label(node))
        for child in _chosen(node) if tag == "switch" else node:
            yield from self._part(child, place)

    def _page(self, node: Element, place: _Place, box_of_use: Box | None) -> _Place | None:
        """A page in a page; what reaches past it is cut off unless it is told to show."""
        size = place.size
        given = (
            (0.0, 0.0, *self.page)
            if node is self._root
            else box_of_use
            or (
                *_corner(node, size),
                size.px(node.get("width") or "100%", size.width),
                size.px(node.get("height") or "100%", size.height),
            )
        )
        fit = fitted(node, given)
        if fit is None:
            return None
        shows = place.style["overflow"] in ("visible", "auto") or node is self._root
        clip = place.clip if shows else only_areas(place.clip.intersection(place.box(*given)))
        return replace(
            place, matrix=place.matrix.transform(fit[0]), size=replace(fit[1], letters=size.letters), clip=clip
        )

    def _used(self, node: Element, place: _Place) -> Iterator[Painted]:
        """A part that stands elsewhere, drawn here (SVG 1.1, 5.6)."""
        target = self._named.get(href_of(node))
        if target is None:
            return
        size = place.size
        # The clip of a part that is used lies where the part does (SVG 1.1, 5.6: the shift is its last transform).
        moved = replace(place, matrix=place.matrix.translate(*_corner(node, size)), group=place.group or _label(node))
        here = self._clipped(moved, None)
        if tag_of(target) not in ("symbol", "svg"):
            yield from self._part(target, here)
            return
        own_wide, own_high = (target.get(side) or "100%" for side in ("width", "height"))
        wide, high = node.get("width") or own_wide, node.get("height") or own_high
        at = _corner(target, size) if tag_of(target) == "svg" else (0.0, 0.0)
        given = (*at, size.px(wide, size.width), size.px(high, size.height))
        yield from self._part(target, here, given)

    def _shape(self, node: Element, place: _Place) -> Iterator[Painted]:
        style = place.style
        if style["visibility"] in ("hidden", "collapse"):
            return
        outline = outline_of(node, place.size)
        clip = self._clipped(place, bounds_of(outline)).clip if style["clip-path"] else place.clip
        group = place.group or _label(node)
        fill, stroke = style.shade("fill"), style.shade("stroke")
        if fill is not None:
            yield Paint(
                group, self._kept(fill_of(outline, place.matrix, style["fill-rule"], self._fine_px), clip), fill
            )
        if stroke is not None:
            area = stroke_of(outline, place.matrix, style, place.size, self._fine_px)
            yield Paint(group, self._kept(area, clip), stroke)

    def _kept(self, area: Area, clip: Area) -> Area:
        """What of an area is shown."""
        self._points += int(get_num_coordinates(area))
        if self._points > MAX_POINTS:
            raise too_many_points()
        if area.is_empty or _holds(clip, area):
            return area
        return only_areas(area.intersection(clip))

    def _clipped(self, place: _Place, bounds: tuple[float, float, float, float] | None) -> _Place:
        """A place cut by the clip that its style names; `bounds` are those of the shape that is clipped."""
        said = place.style["clip-path"]
        if said in ("", "none"):
            return place
        found = _URL.fullmatch(said)
        if found is None:
            raise refused(f"A part of the drawing has clip-path “{said[:60]}”.", "Cut it in your drawing program.")
        node = self._named.get(found[1])
        if node is None or tag_of(node) != "clipPath":
            return place
        area = self._clip_area(node, place, bounds)
        return replace(place, clip=only_areas(place.clip.intersection(area)))

    def _clip_area(self, node: Element, place: _Place, bounds: tuple[float, float, float, float] | None) -> Area:
        """What a clip lets through, in px of the page (SVG 1.1, 14.3)."""
        matrix = place.matrix.transform(transform_of(node.get("transform") or ""))
        if node.get("clipPathUnits") == "objectBoundingBox":
            if bounds is None:
                raise refused("A group of the drawing is clipped by its own size.", "Cut it in your drawing program.")
            left, top, right, low = bounds
            matrix = matrix.translate(left, top).scale(right - left, low - top)
        own = self._sheets.style_of(node, FIRST_STYLE)
        inside = replace(place, matrix=matrix, style=own)
        areas = [self._clip_part(child, inside) for child in node]
        return only_areas(joined(areas).intersection(self._clipped(inside, None).clip))

    def _clip_part(self, node: Element, place: _Place) -> Area:
        """The outline of a part of a clip, whatever it is painted with."""
        tag = tag_of(node)
        if tag not in SHAPES and tag != "use":
            return NOTHING
        style = self._sheets.style_of(node, place.style)
        if style["display"] == "none" or style["visibility"] in ("hidden", "collapse"):
            return NOTHING
        here = replace(place, matrix=place.matrix.transform(transform_of(node.get("transform") or "")), style=style)
        if tag == "use":
            target = self._named.get(href_of(node))
            x, y = (
                here.size.px(node.get(at) or "", of) for at, of in (("x", here.size.width), ("y", here.size.height))
            )
            here = replace(here, matrix=here.matrix.translate(x, y))
            return NOTHING if target is None or tag_of(target) not in SHAPES else self._clip_part(target, here)
        outline = outline_of(node, here.size)
        area = fill_of(outline, here.matrix, style["clip-rule"], self._fine_px)
        return only_areas(area.intersection(self._clipped(here, bounds_of(outline)).clip))


def _corner(node: Element, size: Size) -> tuple[float, float]:
    return size.px(node.get("x") or "", size.width), size.px(node.get("y") or "", size.height)


def _label(node: Element) -> str:
    """What a group is called: the label that drawing programs give it, or its id."""
    if tag_of(node) not in _INSIDE:
        return ""
    return (attribute(node, "label") or node.get("id") or "")[:80]


def _chosen(node: Element) -> list[Element]:
    """The part of a switch that is drawn: the first that asks for nothing special."""
    plain = (child for child in node if tag_of(child) and not child.get("requiredExtensions") and _speaks(child))
    return [*plain][:1]


def _speaks(node: Element) -> bool:
    wanted = node.get("systemLanguage")
    return wanted is None or any(part.strip().lower().startswith("en") for part in wanted.split(","))
