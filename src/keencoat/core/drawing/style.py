"""What a drawing says of how its parts look: attributes, style sheets and inheritance (CSS 2.1, 6; SVG 1.1, 6)."""

import math
import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from xml.etree.ElementTree import Element

import cssselect2
import tinycss2
from tinycss2.color4 import Color, parse_color

from keencoat.core.drawing.untrusted import attribute, refused, tag_of
from keencoat.core.quantities import MM_PER_INCH

PX_PER_INCH = 96.0
_UNITS_PX = {
    "": 1.0,
    "px": 1.0,
    "in": PX_PER_INCH,
    "cm": PX_PER_INCH / MM_PER_INCH * 10,
    "mm": PX_PER_INCH / MM_PER_INCH,
    "q": PX_PER_INCH / MM_PER_INCH / 4,
    "pt": PX_PER_INCH / 72,
    "pc": PX_PER_INCH / 6,
}
_LENGTH = re.compile(r"([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)(%|[a-z]*)", re.IGNORECASE)
_NOT_FOLLOWED = {
    "filter": ("none",),
    "marker": ("none",),
    "marker-end": ("none",),
    "marker-mid": ("none",),
    "marker-start": ("none",),
    "mask": ("none",),
    "mix-blend-mode": ("normal",),
    "vector-effect": ("none",),
    "transform": ("none",),
}
"""Properties whose other values change the picture in ways that are not followed."""
_HARMLESS_AT_RULES = frozenset(("charset", "font-face", "keyframes", "namespace"))
_FIRST = {
    "clip-rule": "nonzero",
    "color": "black",
    "fill": "black",
    "fill-opacity": "1",
    "fill-rule": "nonzero",
    "font-size": "16",
    "stroke": "none",
    "stroke-dasharray": "none",
    "stroke-dashoffset": "0",
    "stroke-linecap": "butt",
    "stroke-linejoin": "miter",
    "stroke-miterlimit": "4",
    "stroke-opacity": "1",
    "stroke-width": "1",
    "visibility": "visible",
}
"""What is inherited, and what holds where nothing is said."""
_OWN = ("clip-path", "display", "opacity", "overflow")
_ATTRIBUTES = frozenset((*_FIRST, *_OWN, *_NOT_FOLLOWED)) - {"marker", "transform"}
"""What may stand in an attribute of its own; a transform there is followed."""
Said = Mapping[str, str]


@dataclass(frozen=True)
class Shade:
    """How light a paint is, 0 black to 1 white (luma of Rec. 709 on the coded values), and how opaque."""

    light: float
    opacity: float


@dataclass(frozen=True)
class Size:
    """What percentages are of: the width and height of the nearest page, and the size of letters, px."""

    width: float
    height: float
    letters: float = 16.0

    @property
    def across(self) -> float:
        """What lengths that lie in no direction are of (SVG 1.1, 7.10)."""
        return math.hypot(self.width, self.height) / math.sqrt(2)

    def px(self, text: str, of: float, fallback: float | None = 0.0) -> float:
        """A length in px; the fallback where it says none. Raises ValueError for what is no length, where there is no
        fallback."""
        found = _LENGTH.fullmatch(text.strip())
        if found:
            number, unit = float(found[1]), found[2].lower()
            if unit == "%":
                return number / 100 * of
            if unit in ("em", "ex", "rem"):
                return number * self.letters * (0.5 if unit == "ex" else 1)
            if unit in _UNITS_PX:
                return number * _UNITS_PX[unit]
        if fallback is None:
            raise ValueError(f"“{text[:30]}” is no length")
        return fallback


@dataclass(frozen=True)
class Style:
    """What holds for an element: inherited properties, and its own."""

    inherited: Said
    own: Said

    def __getitem__(self, name: str) -> str:
        return self.own.get(name) or self.inherited.get(name, "")

    def number(self, name: str, fallback: float) -> float:
        """A plain number or a share in per cent."""
        text = self[name].strip()
        try:
            found = float(text[:-1]) / 100 if text.endswith("%") else float(text)
        except ValueError:
            return fallback
        return found if math.isfinite(found) else fallback

    def shade(self, name: str) -> Shade | None:
        """The paint of `fill` or `stroke`, None for none. Raises BadValueError for gradients and patterns."""
        text = self[name]
        if "url(" in text:
            raise _not_followed(name, text, "Gradients and patterns are not followed: fill it with plain black.")
        return _shade(text, self["color"], min(1.0, max(0.0, self.number(f"{name}-opacity", 1.0))))


FIRST_STYLE = Style(_FIRST, {})


@lru_cache(4096)
def _shade(text: str, current: str, opacity: float) -> Shade | None:
    """The shade of a colour, or of the current one where it is said to be that; None for no colour."""
    color = parse_color(text)
    if isinstance(color, str):
        color = parse_color(current)
    if not isinstance(color, Color):
        return None
    red, green, blue = (min(1.0, max(0.0, part or 0.0)) for part in color.to("srgb").coordinates)
    opaque = opacity * float(color.alpha)
    return Shade(0.2126 * red + 0.7152 * green + 0.0722 * blue, opaque) if opaque > 0 else None


class Sheets:
    """The style sheets of a drawing, ready to be asked what they say of an element."""

    def __init__(self, root: Element) -> None:
        self._said: dict[int, Said] = {}
        matcher = cssselect2.Matcher()
        for text in _sheet_texts(root):
            _add_sheet(matcher, text)
        for wrapped in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
            self._said[id(wrapped.etree_element)] = _said_of(wrapped.etree_element, matcher.match(wrapped))

    def style_of(self, node: Element, parent: Style) -> Style:
        """The style of an element under a parent; a part that is used stands under the one that uses it. Raises
        BadValueError for what is not followed."""
        said = self._said[id(node)]
        if not said:
            return Style(parent.inherited, {})
        for name, followed in _NOT_FOLLOWED.items():
            value = said.get(name, followed[0])
            if value not in followed:
                raise _not_followed(name, value, "Filters, masks, markers and their like are not followed.")
        inherited = {
            name: value
            for name in _FIRST
            if (value := said.get(name, "")) not in ("", "inherit") and _is_understood(name, value)
        }
        own = {name: said[name] for name in _OWN if said.get(name)}
        return Style({**parent.inherited, **inherited}, own)


def with_letters(size: Size, style: Style) -> Size:
    """The size with the letters of a style."""
    letters = size.px(style["font-size"], size.letters, size.letters)
    return replace(size, letters=letters) if letters != size.letters else size


def _is_understood(name: str, value: str) -> bool:
    """Whether a value says anything: what does not is passed over, and what held before holds on (CSS 2.1, 4.2)."""
    if name in ("fill", "stroke", "color"):
        return value == "none" or "url(" in value or parse_color(value) is not None
    if name == "stroke-width":
        return bool(_LENGTH.fullmatch(value))
    return True


def _sheet_texts(root: Element) -> Iterator[str]:
    for node in root.iter():
        if tag_of(node) == "style":
            yield "".join(node.itertext())


def _add_sheet(matcher: cssselect2.Matcher, text: str) -> None:
    for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
        if rule.type == "at-rule" and rule.lower_at_keyword not in _HARMLESS_AT_RULES:
            raise refused(
                f"The drawing's style sheet has a rule @{rule.lower_at_keyword}, which is not followed.",
                "Save it as plain SVG 1.1.",
            )
        if rule.type != "qualified-rule":
            continue
        said = [*_declared(rule.content)]
        try:
            selectors = cssselect2.compile_selector_list(rule.prelude)
        except cssselect2.SelectorError as error:
            raise refused(
                f"The drawing's style sheet has a selector that is not followed: {error}.", "Simplify it."
            ) from error
        for selector in selectors:
            matcher.add_selector(selector, said)


def _declared(content: str | list[tinycss2.ast.Node]) -> Iterator[tuple[str, str, bool]]:
    """Name, value and whether it is important."""
    for found in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if found.type == "declaration":
            yield found.lower_name, tinycss2.serialize(found.value).strip(), found.important


def _said_of(node: Element, matches: list[tuple[object, ...]]) -> Said:
    """What is said of an element, by weight: its attributes, the sheets, its own style; what is important last."""
    said = {name: value for name in _ATTRIBUTES if (value := (node.get(name) or "").strip())}
    rules = [declared for _, _, pseudo, sheet in matches if pseudo is None for declared in sheet]  # type: ignore[attr-defined]
    rules += _declared(attribute(node, "style"))
    for important in (False, True):
        said.update({name: value for name, value, weighs in rules if weighs is important})
    return said


def _not_followed(name: str, value: str, instead: str) -> Exception:
    return refused(f"A part of the drawing has {name} “{value[:60]}”.", instead)
