"""A page of SVG true to scale: one user unit is a millimetre."""

from xml.etree.ElementTree import Element, SubElement


def svg_page(width_mm: float, height_mm: float, title: str, mirrored: bool) -> Element:
    """The root of a drawing of a piece, with its title; mirrored: as it is burned, when the mark is seen through
    the piece."""
    svg = Element(
        "svg",
        xmlns="http://www.w3.org/2000/svg",
        width=f"{width_mm:g}mm",
        height=f"{height_mm:g}mm",
        viewBox=f"0 0 {width_mm:g} {height_mm:g}",
    )
    SubElement(svg, "title").text = f"{title}{' (mirrored)' if mirrored else ''}"
    return svg
