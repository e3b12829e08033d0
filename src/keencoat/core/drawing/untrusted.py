"""A drawing is hostile until checked: nothing in it may fetch, run, or unfold into more than it is long."""

from collections.abc import Iterator
from xml.etree.ElementTree import Element, ParseError

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring

from keencoat.core.errors import BadValueError

MAX_DRAWING_BYTES = 5_000_000
MAX_NODES = 20_000
_MOST_DEEP = 60
_REFUSED = {
    "script": "a script",
    "foreignObject": "a page of another kind",
    "image": "a picture",
    "text": "letters that are not outlines",
    "animate": "something that moves",
    "set": "something that moves",
}
_INSTEAD = {
    "image": "Bring the picture on its own, as a photo.",
    "text": "Turn them into outlines (paths) in your drawing program.",
}
_SVG = "http://www.w3.org/2000/svg"


def refused(message: str, hint: str) -> BadValueError:
    """The error for a drawing that cannot be taken; whoever reads it says in which field it came."""
    return BadValueError(message, hint=hint)


def checked_tree(data: bytes) -> Element:
    """The drawing's tree, once nothing in it can do harm. Raises BadValueError."""
    if len(data) > MAX_DRAWING_BYTES:
        raise refused(f"The drawing has {len(data) / 1e6:.0f} MB; 5 MB is the most.", "Simplify its curves.")
    try:
        root = fromstring(data, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except DefusedXmlException as error:
        raise refused("The drawing defines entities of its own.", "Save it as plain SVG, without them.") from error
    except (ParseError, ValueError, LookupError) as error:
        raise refused(f"This file is no SVG that can be read: {error}.", "Save it as plain SVG 1.1.") from error
    if tag_of(root) != "svg":
        raise refused(f"This file holds <{tag_of(root)}>, not a drawing.", "Send an SVG.")
    nodes = [*root.iter()]
    if len(nodes) > MAX_NODES:
        raise refused(f"The drawing has {len(nodes):,} parts; {MAX_NODES:,} is the most.", "Join or simplify them.")
    for node in nodes:
        _check_node(node)
    _check_uses(root)
    return root


def tag_of(node: Element) -> str:
    """The name of an element of SVG; "" for what belongs to another kind of file, which is not drawn."""
    space, _, name = str(node.tag).rpartition("}")
    return name if space in ("", "{" + _SVG) else ""


def attribute(node: Element, name: str) -> str:
    """An attribute by its name, whatever its name space; "" where it is missing."""
    return next((value for key, value in node.attrib.items() if _bare(key) == name), "")


def href_of(node: Element) -> str:
    """The id that an element refers to; the plain attribute comes before the one of XLink (SVG 2, 5.6)."""
    return (node.get("href") or attribute(node, "href")).removeprefix("#")


def by_id(root: Element) -> dict[str, Element]:
    """Every element that has an id; of those with the same, the first."""
    found: dict[str, Element] = {}
    for node in root.iter():
        if name := node.get("id"):
            found.setdefault(name, node)
    return found


def _check_node(node: Element) -> None:
    tag = tag_of(node)
    for kind, what in _REFUSED.items():
        if tag.startswith(kind):
            raise refused(f"The drawing holds {what} (<{tag}>).", _INSTEAD.get(tag, "Take it out."))
    for key, value in node.attrib.items():
        name = _bare(key)
        if name == "href" and tag and tag != "a" and not value.startswith("#"):
            raise refused(f"<{tag}> fetches “{value[:60]}” from elsewhere.", "Embed or remove it.")
        if name.startswith("on"):
            raise refused(f"<{tag}> runs a script ({name}).", "Take it out.")


def _check_uses(root: Element) -> None:
    """Raise where parts that use each other unfold into too many, or in a circle."""
    named = by_id(root)
    sizes: dict[int, int] = {}

    def used_by(node: Element) -> Iterator[Element]:
        yield from node
        names = [href_of(node)] if tag_of(node) == "use" else []
        yield from (named[name] for name in names if name in named)

    def size_of(node: Element, deep: int) -> int:
        if deep > _MOST_DEEP:
            raise refused(
                f"Parts of the drawing lie over {_MOST_DEEP} deep in each other, or in a circle.", "Flatten it."
            )
        key = id(node)
        if key not in sizes:
            sizes[key] = 1 + sum(size_of(child, deep + 1) for child in used_by(node))
            if sizes[key] > MAX_NODES:
                raise refused(f"The drawing unfolds into over {MAX_NODES:,} parts.", "Join or simplify them.")
        return sizes[key]

    size_of(root, 0)


def _bare(qualified: str) -> str:
    return qualified.rsplit("}", 1)[-1].rsplit(":", 1)[-1]
