"""Two readers of SVG that we did not write, resvg and Chromium: how ours compares, as pictures of the same size."""

import base64
import io
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import StrEnum
from xml.etree.ElementTree import Element, fromstring, tostring

import numpy as np
import resvg_py
from PIL import Image
from shapely import get_coordinates, get_parts, get_rings

from keencoat.core.drawing import Drawing, read_drawing

DARK = 0.5
LUMA = np.array([0.2126, 0.7152, 0.0722])
MM_PER_PX = 25.4 / 96
LOOKED_AT_PX = 1000
DISPUTED_PX = 3100
"""A judge rounds an edge in the middle of a pixel to either side, 1 % of a bar 100 pixels wide: what is disputed is
looked at in smaller pixels, where a true difference stays."""
Box = tuple[float, float, float, float]
Draws = Callable[[str, tuple[int, int]], np.ndarray]


@dataclass(frozen=True)
class Verdict:
    """How the area of ours compares with that of a judge, and how much they overlap (1 is all)."""

    area: float
    overlap: float

    @property
    def agrees(self) -> bool:
        """Whether the area is within 0.5 % and the overlap 0.99 or more."""
        return abs(self.area - 1) <= 0.005 and self.overlap >= 0.99


def as_svg(drawing: Drawing) -> str:
    """What we read, as one plain path: no judge can read that otherwise."""
    path = []
    for part in get_parts(drawing.area):
        for ring in get_rings(part):
            at = get_coordinates(ring) * [1, -1] + [0, drawing.height_mm]
            path.append("M " + " ".join(f"{x:.6f},{y:.6f}" for x, y in at) + " Z")
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{drawing.width_mm}mm" height="{drawing.height_mm}mm" '
        f'viewBox="0 0 {drawing.width_mm} {drawing.height_mm}" preserveAspectRatio="none">'
        f'<path d="{" ".join(path)}" fill-rule="evenodd"/></svg>'
    )


def looked_at(svg: str, drawing: Drawing, part: Box, across_px: int = LOOKED_AT_PX) -> tuple[str, tuple[int, int]]:
    """A part of a drawing's page, left, top, right, low in mm, as a page of its own, and that page's size in pixels."""
    root = fromstring(svg)
    wide, high = (side / MM_PER_PX for side in (drawing.width_mm, drawing.height_mm))
    root.set("width", str(wide))
    root.set("height", str(high))
    left, top, right, low = (side / MM_PER_PX for side in part)
    scale = across_px / max(right - left, low - top)
    size = max(1, round((right - left) * scale)), max(1, round((low - top) * scale))
    page = Element(
        "{http://www.w3.org/2000/svg}svg",
        {
            "width": str(size[0]),
            "height": str(size[1]),
            "viewBox": f"{left} {top} {right - left} {low - top}",
            "preserveAspectRatio": "none",
        },
    )
    page.append(root)
    return tostring(page, "unicode"), size


def inked(dark: np.ndarray, drawing: Drawing) -> Box | None:
    """The part of a page that has anything dark, mm; None where nothing is."""
    if not dark.any():
        return None
    down, along = (np.flatnonzero(dark.any(axis=axis)) for axis in (1, 0))
    high, wide = drawing.height_mm / dark.shape[0], drawing.width_mm / dark.shape[1]
    return along[0] * wide, down[0] * high, (along[-1] + 1) * wide, (down[-1] + 1) * high


def dark_by_resvg(svg: str, size: tuple[int, int]) -> np.ndarray:
    """The dark pixels of an SVG as resvg draws it, upper left first."""
    return _dark(resvg_py.svg_to_bytes(svg_string=svg, background="white", dpi=96), size)


class Chromium:
    """A browser that draws."""

    def __init__(self, driver) -> None:
        self._driver = driver
        driver.get("data:text/html,<body style='margin:0;background:white'><img id='i' style='display:block'></body>")

    def dark(self, svg: str, size: tuple[int, int]) -> np.ndarray:
        """The dark pixels of an SVG as the browser draws it."""
        told = self._driver.execute_async_script(
            """const [data, w, h, done] = arguments, i = document.getElementById('i');
            i.style.width = w + 'px'; i.style.height = h + 'px';
            i.onload = () => requestAnimationFrame(() => requestAnimationFrame(() => done('')));
            i.onerror = () => done('cannot be drawn');
            i.src = 'data:image/svg+xml;base64,' + data;""",
            base64.b64encode(svg.encode()).decode(), *size,
        )  # fmt: skip
        assert not told, told
        clip = {"x": 0, "y": 0, "width": size[0], "height": size[1], "scale": 1}
        shot = self._driver.execute_cdp_cmd("Page.captureScreenshot", {"clip": clip, "captureBeyondViewport": True})
        return _dark(base64.b64decode(shot["data"]), size)


def compared(ours: np.ndarray, theirs: np.ndarray) -> Verdict:
    """Area and overlap; nothing dark on both sides is agreement."""
    either = int((ours | theirs).sum())
    if not either:
        return Verdict(1.0, 1.0)
    return Verdict(float(ours.sum() / max(1, theirs.sum())), float((ours & theirs).sum() / either))


class Ruling(StrEnum):
    """What the judges say of how we read a drawing."""

    AGREED = "agreed"
    SPLIT = "split"
    """One of them agrees, and they do not agree with each other."""
    WRONG = "wrong"


def ruling(svg: str, chromium: Chromium) -> Ruling:
    """What both judges say. Raises BadValueError as the reader does."""
    drawing = read_drawing(svg.encode())
    ours = as_svg(drawing)
    agree = [any(_looks(ours, svg, drawing, (draw, draw))) for draw in (dark_by_resvg, chromium.dark)]
    if all(agree):
        return Ruling.AGREED
    split = any(agree) and not all(_looks(svg, svg, drawing, (dark_by_resvg, chromium.dark)))
    return Ruling.SPLIT if split else Ruling.WRONG


def agrees_with_resvg(svg: str) -> bool:
    """What resvg alone says: it needs no browser."""
    drawing = read_drawing(svg.encode())
    return any(_looks(as_svg(drawing), svg, drawing, (dark_by_resvg, dark_by_resvg)))


def _looks(one: str, other: str, drawing: Drawing, draws: tuple[Draws, Draws]) -> Iterator[bool]:
    """Whether two pictures agree: on the whole page, then on what is inked seen close and closer, as pixels may be too
    coarse."""

    def seen(part: Box, across_px: int) -> list[np.ndarray]:
        pages = (looked_at(svg, drawing, part, across_px) for svg in (one, other))
        return [draw(*page) for draw, page in zip(draws, pages, strict=True)]

    dark = seen((0.0, 0.0, drawing.width_mm, drawing.height_mm), LOOKED_AT_PX)
    yield compared(*dark).agrees
    sides = np.array([box for each in dark if (box := inked(each, drawing))]).T
    if len(sides):
        part = (*sides[:2].min(axis=1).tolist(), *sides[2:].max(axis=1).tolist())
        for across_px in (LOOKED_AT_PX, DISPUTED_PX):
            yield compared(*seen(part, across_px)).agrees


def _dark(png: bytes, size: tuple[int, int]) -> np.ndarray:
    picture = Image.open(io.BytesIO(bytes(png))).convert("RGBA")
    assert picture.size == size, (picture.size, size)
    values = np.asarray(picture, dtype=float) / 255
    light = 1 - values[..., 3] * (1 - values[..., :3] @ LUMA)
    return light < DARK
