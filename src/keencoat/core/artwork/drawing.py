"""Drawings from outside (SVG 1.1) as dark areas in mm, by their named groups.

Painted in order as a picture is: what is darker than a middle grey adds to the area, what is lighter takes away what it
covers. Lines are as wide as they are drawn. A drawing is hostile until checked: nothing in it may fetch, run, or unfold
into more than it is long; letters must be outlines, since the fonts that they were set in are not here.
"""

import io
from collections.abc import Iterator
from dataclasses import dataclass
from xml.etree.ElementTree import Element, ParseError

import numpy as np
from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring
from shapely import BufferCapStyle, LinearRing, LineString, unary_union
from shapely.affinity import affine_transform
from svgelements import SVG, Close, Color, Group, Line, Move, Path, Shape, Use

from keencoat.core.artwork.areas import NOTHING, Area, FillRule, Ring, area_of
from keencoat.core.errors import BadValueError

MAX_DRAWING_BYTES = 5_000_000
MAX_NODES = 20_000
MAX_POINTS = 400_000
_MOST_DEEP = 60
_FARTHEST_PX = 1e6
_MM_PER_PX = 25.4 / 96
_CURVE_STEPS = 24
_DARK = 0.5
_ENDS = {"round": BufferCapStyle.round, "square": BufferCapStyle.square}
_REFUSED = {
    "script": "a script",
    "foreignObject": "a page of another kind",
    "image": "a picture",
    "text": "letters that are not outlines",
    "animate": "something that moves",
}
_INSTEAD = {
    "image": "Bring the picture on its own, as a photo.",
    "text": "Turn them into outlines (paths) in your drawing program.",
}


@dataclass(frozen=True)
class Drawing:
    """Dark areas in mm, zero at the lower left of the drawing's page, y up; `groups` by the name of the outermost named
    group, in drawing order, "" for what lies in none."""

    width_mm: float
    height_mm: float
    groups: dict[str, Area]

    @property
    def layers(self) -> list[str]:
        """The named groups, in drawing order."""
        return [name for name in self.groups if name]

    @property
    def area(self) -> Area:
        """All of it."""
        found = unary_union([*self.groups.values()])
        return NOTHING if found.is_empty else found


def read_drawing(data: bytes, field: str = "drawing") -> Drawing:
    """Read an SVG. Raises BadValueError for what is none, is too much, holds what it may not, or marks nothing."""
    root = _checked(data, field)
    try:
        svg = SVG.parse(io.BytesIO(data), ppi=96, reify=True)
        page = float(svg.width), float(svg.height)
    except (ValueError, TypeError, KeyError, AttributeError, IndexError, ZeroDivisionError, OverflowError) as error:
        raise _bad(
            field, f"The drawing {_tag(root)} cannot be followed: {error}.", "Save it as plain SVG 1.1."
        ) from error
    if not (min(page) > 0 and max(page) < _FARTHEST_PX):
        raise _bad(field, "The drawing's page has no size.", "Give it a width and a height, in mm.")
    down = [_MM_PER_PX, 0, 0, -_MM_PER_PX, 0, page[1] * _MM_PER_PX]
    groups: dict[str, Area] = {}
    points = 0
    for name, shape in _shapes(svg):
        path = Path(shape)
        rings = [_ring(sub) for sub in path.as_subpaths()]
        points += sum(len(ring) for ring in rings)
        if points > MAX_POINTS:
            raise _bad(field, f"The drawing has more than {MAX_POINTS:,} points.", "Simplify its curves.")
        # Written so that NaN fails it too.
        if not all((np.abs(ring) < _FARTHEST_PX).all() for ring in rings):
            raise _bad(field, "The drawing has points far beyond any page.", "Save it anew from your drawing program.")
        for ink, darkens in _painted(shape, rings):
            placed = affine_transform(ink, down)
            if darkens:
                groups[name] = groups.get(name, NOTHING).union(placed)
            else:
                groups = {key: area.difference(placed) for key, area in groups.items()}
    groups = {name: area for name, area in groups.items() if not area.is_empty}
    if not groups:
        raise _bad(field, "The drawing has nothing dark in it.", "Fill what is to be burned with black.")
    return Drawing(page[0] * _MM_PER_PX, page[1] * _MM_PER_PX, groups)


def _bad(field: str, message: str, hint: str) -> BadValueError:
    return BadValueError(message, field=field, hint=hint)


def _checked(data: bytes, field: str) -> Element:
    """The drawing's tree, once nothing in it can do harm."""
    if len(data) > MAX_DRAWING_BYTES:
        raise _bad(field, f"The drawing has {len(data) / 1e6:.0f} MB; 5 MB is the most.", "Simplify its curves.")
    try:
        root = fromstring(data, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except DefusedXmlException as error:
        raise _bad(field, "The drawing defines entities of its own.", "Save it as plain SVG, without them.") from error
    except (ParseError, ValueError, LookupError) as error:
        raise _bad(field, f"This file is no SVG that can be read: {error}.", "Save it as plain SVG 1.1.") from error
    if _tag(root) != "svg":
        raise _bad(field, f"This file holds <{_tag(root)}>, not a drawing.", "Send an SVG.")
    nodes = [*root.iter()]
    if len(nodes) > MAX_NODES:
        raise _bad(field, f"The drawing has {len(nodes):,} parts; {MAX_NODES:,} is the most.", "Join or simplify them.")
    for node in nodes:
        _check_node(node, field)
    _check_uses(root, nodes, field)
    return root


def _check_node(node: Element, field: str) -> None:
    tag, text = _tag(node), node.text or ""
    if tag == "style" and ("url(" in text or "@import" in text):
        raise _bad(field, "The drawing's style sheet fetches or masks something.", "Save it as plain SVG 1.1.")
    for refused, what in _REFUSED.items():
        if tag.startswith(refused):
            raise _bad(field, f"The drawing holds {what} (<{tag}>).", _INSTEAD.get(tag, "Take it out."))
    for key, value in node.attrib.items():
        name = _name(key)
        if name == "href" and not value.startswith("#"):
            raise _bad(field, f"<{tag}> fetches “{value[:60]}” from elsewhere.", "Embed or remove it.")
        if "url(" in value:
            instead = "Gradients, patterns, clips, masks and filters are not followed: fill it with plain black."
            raise _bad(field, f"<{tag}> is drawn through {name} “{value[:60]}”.", instead)
        if name.startswith("on"):
            raise _bad(field, f"<{tag}> runs a script ({name}).", "Take it out.")


def _check_uses(root: Element, nodes: list[Element], field: str) -> None:
    """Raise where parts that use each other unfold into too many, or in a circle."""
    by_id = {node.get("id"): node for node in nodes if node.get("id")}
    sizes: dict[int, int] = {}

    def size_of(node: Element, deep: int) -> int:
        if deep > _MOST_DEEP:
            raise _bad(
                field, f"Parts of the drawing lie over {_MOST_DEEP} deep in each other, or in a circle.", "Flatten it."
            )
        key = id(node)
        if key not in sizes:
            total = 1 + sum(size_of(child, deep + 1) for child in node)
            if _tag(node) == "use":
                used = by_id.get(next((v for k, v in node.attrib.items() if _name(k) == "href"), "#")[1:])
                total += size_of(used, deep + 1) if used is not None else 0
            sizes[key] = total
            if total > MAX_NODES:
                raise _bad(field, f"The drawing unfolds into over {MAX_NODES:,} parts.", "Join or simplify them.")
        return sizes[key]

    size_of(root, 0)


def _shapes(parent: Group | Use, name: str = "") -> Iterator[tuple[str, Shape]]:
    """Every shape with the name of its outermost named group, in drawing order."""
    for part in parent:
        if isinstance(part, Group | Use):
            yield from _shapes(part, name or _label(part))
        elif isinstance(part, Shape) and not isinstance(part, SVG) and _is_shown(part):
            yield name, part


def _label(group: Group | Use) -> str:
    found = (v for k, v in group.values.get("attributes", {}).items() if _name(k) == "label")
    return str(next(found, None) or group.id or "")[:80]


def _is_shown(shape: Shape) -> bool:
    values = shape.values
    return bool(values.get("display") != "none" and values.get("visibility", "visible") == "visible")


def _painted(shape: Shape, rings: list[Ring]) -> Iterator[tuple[Area, bool]]:
    """What a shape's fill and stroke cover, and whether they darken."""
    fill, stroke = shape.fill, shape.stroke
    if _has_paint(fill):
        rule = FillRule.EVENODD if shape.values.get("fill-rule") == "evenodd" else FillRule.NONZERO
        yield area_of(rings, rule), _is_dark(fill)
    width = float(shape.stroke_width or 0)
    if _has_paint(stroke) and width > 0:
        ends = _ENDS.get(shape.values.get("stroke-linecap", ""), BufferCapStyle.flat)
        inks = [_lined(ring, width, ends) for ring in rings if len(ring) > 1]
        if inks:
            yield unary_union(inks), _is_dark(stroke)


def _lined(ring: Ring, width: float, ends: BufferCapStyle) -> Area:
    """What a line covers that is so wide; a closed one has no ends."""
    if len(ring) > 3 and (ring[0] == ring[-1]).all():
        return LinearRing(ring).buffer(width / 2, join_style="mitre")
    return LineString(ring).buffer(width / 2, cap_style=ends, join_style="mitre")


def _has_paint(color: Color | None) -> bool:
    return color is not None and color.value is not None and color.opacity > 0.05


def _is_dark(color: Color) -> bool:
    return bool(color.luma < _DARK)


def _ring(sub: Path) -> Ring:
    """A subpath as points, its curves as short straight pieces."""
    points: list[tuple[float, float]] = []
    for part in sub:
        if isinstance(part, Move | Line | Close):
            if part.end is not None:
                points.append((part.end.x, part.end.y))
        else:
            steps = np.arange(1, _CURVE_STEPS + 1) / _CURVE_STEPS
            points += [tuple(p) for p in np.asarray(part.npoint(steps))[:, :2].tolist()]
    return np.array(points, dtype=float).reshape(-1, 2)


def _tag(node: Element) -> str:
    return _name(str(node.tag))


def _name(qualified: str) -> str:
    return qualified.rsplit("}", 1)[-1].rsplit(":", 1)[-1]
