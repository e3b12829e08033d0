"""Finding the piece in a photo: four corners or four points of a rim, with the lens's bend taken out of its sides."""

from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np
from scipy.ndimage import gaussian_filter1d

from keencoat.core.errors import BadValueError, require_finite
from keencoat.core.vision.bench import unlikeness
from keencoat.core.vision.lens import bent, lens_of, straightened
from keencoat.core.vision.photo import Floats, Photo, Pixels, luminance
from keencoat.core.vision.quads import corners_of, ellipse_points, line_through, rim_points, turned
from keencoat.core.vision.shapes import Candidate, border_points, candidates

_SMALL_PX = 640
_LEAST_STEP = {True: 0.30, False: 0.08}
"""Least step of ln light over the border: a coat on a field (OD 0.13), a piece on a bench."""

_LEAST_SUPPORT, _LEAST_TRUST = 0.75, 0.93
_FILLED, _NESTED, _NEARLY = 0.5, 0.97, 0.08


class EdgeKind(StrEnum):
    """What the four points are: corners of a rectangle, points of a disc's rim, or a round piece seen from its side."""

    CORNERS = "corners"
    RIM = "rim"
    SIDE = "side"


PicturePoints = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class SeenOutline:
    """Four points as shares of the picture's width and height, y down, clockwise.

    Corners: from the upper left one. Rim: top, right, bottom, left. `trust` is how well the shape fits (0…1); `lens`
    the radial distortion k₁ by which its sides are bent (`reading.lens`), 0 for none.
    """

    frame: EdgeKind
    points: PicturePoints
    trust: float = 1.0
    lens: float = 0.0


def check_points(points: list[tuple[float, float]], frame: EdgeKind, field: str = "points") -> SeenOutline:
    """An outline from points marked by hand. Raises BadValueError unless they are four, inside, clockwise, convex."""
    if len(points) != 4:
        raise BadValueError(f"{len(points)} points were marked.", field=field, hint="Mark four.")
    for x, y in points:
        require_finite(x, field)
        require_finite(y, field)
        if not (-0.2 <= x <= 1.2 and -0.2 <= y <= 1.2):
            raise BadValueError("A point lies far outside the photo.", field=field, hint="Drag it onto the piece.")
    corners = np.array(points)
    sides = np.roll(corners, -1, axis=0) - corners
    after = np.roll(sides, -1, axis=0)
    turns = sides[:, 0] * after[:, 1] - sides[:, 1] * after[:, 0]
    if not (turns > 1e-5).all():
        raise BadValueError(
            "The four points cross over or lie on one line.",
            field=field,
            hint="Mark them clockwise: upper left, upper right, lower right, lower left; a rim from its top.",
        )
    return SeenOutline(frame, tuple((float(x), float(y)) for x, y in points))


def find_outline(
    photo: Photo, frame: EdgeKind, aspect: float, dark_on_field: bool = False, share_of_piece: float = 1.0
) -> SeenOutline:
    """Find the piece: the largest thing of its shape. `dark_on_field`: find the coat that lies dark on a bright field,
    inside whatever edges the glass or the light box have of their own; it is `share_of_piece` of the piece's area.

    `aspect` is width ÷ height of what is looked for. Raises BadValueError that says what is missing in the picture.
    """
    shrink = _shrink_of(photo)
    found = _found(_smaller(photo, shrink), frame)
    best = _best(found, dark_on_field, share_of_piece)
    if best is None:
        raise _nothing(frame, bool(found))
    return _outline(_ln_light(photo.rgb), best, frame, aspect, shrink)


def find_outlines(photo: Photo, frame: EdgeKind, aspect: float, most: int) -> list[SeenOutline]:
    """Whatever stands out with the shape of a piece, the clearest first: the piece, or a mark on it; by its light, or
    by being unlike the bench. Raises BadValueError where nothing does."""
    shrink = _shrink_of(photo)
    small = _smaller(photo, shrink)
    by_light = _found(small, frame)
    by_bench = candidates(np.log1p(unlikeness(small)), frame is EdgeKind.RIM)
    clear = [
        (c, unlike)
        for unlike, things in ((False, by_light), (True, [c for c in by_bench if c.step > 0]))
        for c in things
        if c.support >= _LEAST_SUPPORT
    ]
    if not clear:
        raise _nothing(frame, bool(by_light))
    clear.sort(key=lambda found: -found[0].trust * found[0].support)
    ways = {unlike for _, unlike in clear[:most]}
    pictures = {unlike: unlikeness(photo.rgb) if unlike else _ln_light(photo.rgb) for unlike in ways}
    return [_outline(pictures[unlike], c, frame, aspect, shrink) for c, unlike in clear[:most]]


def _shrink_of(photo: Photo) -> float:
    return min(1.0, _SMALL_PX / max(photo.size_px))


def _smaller(photo: Photo, shrink: float) -> Pixels:
    small = cv2.resize(photo.rgb, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
    return np.asarray(small, dtype=np.uint8)


def _ln_light(rgb: Pixels) -> Floats:
    return np.asarray(np.log(luminance(rgb) + 2e-3), dtype=np.float32)


def _found(small: Pixels, frame: EdgeKind) -> list[Candidate]:
    """What stands out in the photo made smaller."""
    return candidates(np.asarray(cv2.GaussianBlur(_ln_light(small), (0, 0), 0.8)), frame is EdgeKind.RIM)


def _outline(picture: Floats, found: Candidate, frame: EdgeKind, aspect: float, shrink: float) -> SeenOutline:
    """A candidate's outline at the full size of the picture in which it stands out."""
    points, lens = _refined(picture, (found.points + 0.5) / shrink - 0.5, frame, found.step)
    if frame is not EdgeKind.RIM:
        points = turned(points, aspect)
    shares = (points + 0.5) / picture.shape[::-1]
    return SeenOutline(frame, tuple((float(x), float(y)) for x, y in shares), found.trust, lens)


def _best(found: list[Candidate], dark_on_field: bool, share_of_piece: float) -> Candidate | None:
    """The likeliest candidate; None if none has a border of its own."""
    fit = [
        c
        for c in found
        if c.trust >= _LEAST_TRUST and c.support >= _LEAST_SUPPORT and abs(c.step) >= _LEAST_STEP[dark_on_field]
    ]
    if dark_on_field:
        # Inside the coat it is as dark as at its edge; inside a rim or a glass's edge it is not.
        fit = [c for c in fit if c.step < 0 and abs(c.filled) < _FILLED * abs(c.step)]
        best = max(fit, key=lambda c: c.area * c.support, default=None)
        for c in fit:
            # A glass's own edge is a dark line round the bare margin, and the coat lies within.
            if best is not None and share_of_piece < _NESTED and abs(c.area / best.area - share_of_piece) < _NEARLY:
                return c
        return best
    return max(fit, key=lambda c: c.area * c.trust * c.support, default=None)


def _nothing(frame: EdgeKind, something: bool) -> BadValueError:
    shape = "disc" if frame is EdgeKind.RIM else "four-cornered piece"
    what = f"What stands out does not look like a {shape}." if something else "Nothing in it stands out as one."
    return BadValueError(
        f"No piece was found in this photo. {what}",
        field="photo",
        hint="Photograph the whole piece with some plain ground round it, so near that it fills a quarter of the "
        "picture, or mark its corners by hand.",
    )


def _refined(picture: Floats, points: np.ndarray, frame: EdgeKind, step: float) -> tuple[np.ndarray, float]:
    """The outline drawn to where the picture changes most along its border, at full size, and the lens's k₁."""
    edge = _edge_points(picture, points, frame, step)
    size = (picture.shape[1], picture.shape[0])
    if frame is EdgeKind.RIM:
        return _rim_through(edge, points), 0.0
    lens = lens_of(edge, size)
    flat = [straightened(side, lens, size) for side in edge]
    corners = corners_of([line_through(side) for side in flat])
    return bent(corners, lens, size), lens


def _edge_points(picture: Floats, points: np.ndarray, frame: EdgeKind, step: float) -> list[np.ndarray]:
    """Where the border really runs, side by side (all in one for a rim): the steepest change of the step's sign."""
    at, out = border_points(points, frame is EdgeKind.RIM, 60)
    reach = max(4.0, 0.022 * float(np.linalg.norm(points[0] - points[2])))
    away = np.arange(-reach, reach + 0.5, 0.5)
    where = at[:, None, :] + away[None, :, None] * out[:, None, :]
    profile = cv2.remap(
        picture,
        where[..., 0].astype(np.float32),
        where[..., 1].astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
    rise = -np.sign(step) * np.gradient(gaussian_filter1d(profile, 2.0, axis=1), axis=1)
    peak = rise.argmax(axis=1)
    here = np.arange(len(at))
    inner = np.clip(peak, 1, rise.shape[1] - 2)
    before, top, after = rise[here, inner - 1], rise[here, inner], rise[here, inner + 1]
    bow = before - 2 * top + after
    part = np.where(np.abs(bow) > 1e-9, 0.5 * (before - after) / np.where(np.abs(bow) > 1e-9, bow, 1), 0)
    found = at + ((inner + np.clip(part, -1, 1)) * 0.5 - reach)[:, None] * out
    strong = top > 0.3 * float(np.median(top))
    sides = [slice(None)] if frame is EdgeKind.RIM else [slice(60 * n, 60 * (n + 1)) for n in range(4)]
    return [found[s][strong[s]] if strong[s].sum() > 12 else found[s] for s in sides]


def _rim_through(edge: list[np.ndarray], points: np.ndarray) -> np.ndarray:
    """The ellipse through the rim's points; those that lie off the first fit are left out of the second."""
    at = edge[0]
    fitted = points
    for _ in range(3):
        near = np.linalg.norm(at[:, None] - ellipse_points(fitted, 720)[None], axis=2).min(axis=1)
        keep = at[near <= max(1.5, 2.5 * float(np.median(near)))]
        if len(keep) < 12:
            break
        fitted = rim_points(cv2.fitEllipse(keep.astype(np.float32)))
    return fitted
