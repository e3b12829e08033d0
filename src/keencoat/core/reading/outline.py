"""Finding the piece in a photo: what stands out from its surroundings, as four corners or four points of a rim."""

from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np

from keencoat.core.errors import BadValueError, require_finite
from keencoat.core.reading.photo import Photo
from keencoat.core.reading.surface import fit_surface

_SMALL_PX = 640
_BORDER = 0.04
_LEAST_CONTRAST = 5.0
_LEAST_AREA, _MOST_AREA = 0.04, 0.97
_LEAST_OVERLAP = 0.90


class Frame(StrEnum):
    """What the four points are: corners of a rectangle, points of a disc's rim, or a round piece seen from its side."""

    CORNERS = "corners"
    RIM = "rim"
    SIDE = "side"


Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Outline:
    """Four points as shares of the picture's width and height, y down, clockwise.

    Corners: from the upper left one. Rim: top, right, bottom, left. `trust` is how well the shape fits (0…1).
    """

    frame: Frame
    points: Points
    trust: float = 1.0


def check_points(points: list[tuple[float, float]], frame: Frame, field: str = "points") -> Outline:
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
    return Outline(frame, tuple((float(x), float(y)) for x, y in points))


def find_outline(photo: Photo, frame: Frame, aspect: float) -> Outline:
    """Find the piece: the largest thing that stands out from the border of the picture, of about the right shape.

    `aspect` is width ÷ height of what is looked for. Raises BadValueError that says what is missing in the picture.
    """
    width, height = photo.size_px
    shrink = min(1.0, _SMALL_PX / max(width, height))
    small = cv2.resize(photo.rgb, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
    mask = _standing_out(small)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=4)
    if count < 2:
        raise _nothing("Nothing in it stands out from its surroundings.")
    largest = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    area = float(stats[largest, cv2.CC_STAT_AREA]) / mask.size
    if area < _LEAST_AREA:
        raise _nothing("Nothing in it is large enough to be the piece.")
    thing = (labels == largest).astype(np.uint8)
    touching = sum(float(edge.mean()) > 0.1 for edge in (thing[0], thing[-1], thing[:, 0], thing[:, -1]))
    if area > _MOST_AREA or touching >= 2:
        raise _nothing("The piece is cut off at the picture's edge.")
    contours, _ = cv2.findContours(thing, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    contour = max(contours, key=len)[:, 0, :].astype(np.float32)
    points = _rim(contour) if frame is Frame.RIM else _corners(contour, aspect)
    trust = _overlap(points, thing, frame)
    if trust < _LEAST_OVERLAP:
        shape = "disc" if frame is Frame.RIM else "four-cornered piece"
        raise _nothing(f"What stands out does not look like a {shape}.")
    size = np.array([thing.shape[1], thing.shape[0]], dtype=np.float32)
    shares = (points + 0.5) / size
    return Outline(frame, tuple((float(x), float(y)) for x, y in shares), trust)


def _nothing(what: str) -> BadValueError:
    return BadValueError(
        f"No piece was found in this photo. {what}",
        field="photo",
        hint="Photograph the whole piece with some plain ground round it, or mark its corners by hand.",
    )


def _standing_out(small: np.ndarray) -> np.ndarray:
    """Pixels that differ from a smooth surface through the picture's border, holes filled; shape (height, width)."""
    lab = np.asarray(cv2.cvtColor(small.astype(np.float32) / 255, cv2.COLOR_RGB2LAB), dtype=np.float32)
    height, width = lab.shape[:2]
    band = max(3, round(_BORDER * max(height, width)))
    border = np.ones((height, width), dtype=bool)
    border[band:-band, band:-band] = False
    off = np.zeros((height, width), dtype=np.float32)
    noise = 0.0
    for channel in range(3):
        ground, scale = fit_surface(lab[..., channel], border, least_scale=0.05)
        off += (lab[..., channel] - ground) ** 2
        noise += scale**2
    off = np.asarray(cv2.GaussianBlur(np.sqrt(off), (0, 0), 1.0), dtype=np.float32)
    least = max(_LEAST_CONTRAST, 4 * float(np.sqrt(noise)))
    top = float(np.percentile(off, 98))
    if top < least:
        return np.zeros((height, width), dtype=bool)
    coded = np.clip(off / top * 255, 0, 255).astype(np.uint8)
    otsu, _ = cv2.threshold(coded, 0, 255, cv2.THRESH_BINARY | cv2.THRESH_OTSU)
    # Otsu sits midway; a thin coat lies nearer to the ground than a thick one, so the line is drawn lower.
    mask = (off > max(least, 0.5 * otsu / 255 * top)).astype(np.uint8)
    mask = cv2.morphologyEx(mask, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, np.ones((9, 9), np.uint8))
    return _filled(mask)


def _filled(mask: np.ndarray) -> np.ndarray:
    """The mask with its holes closed: what cannot be reached from outside belongs to the thing."""
    padded = np.pad(mask, 1)
    flood = padded.copy()
    cv2.floodFill(flood, None, (0, 0), 2)
    return np.asarray(flood[1:-1, 1:-1] != 2)


def _corners(contour: np.ndarray, aspect: float) -> np.ndarray:
    """Four corners: lines fitted to the four sides of the contour, and where they meet."""
    hull = cv2.convexHull(contour)
    around = cv2.arcLength(hull, True)
    rough = cv2.boxPoints(cv2.minAreaRect(hull))
    for share in np.linspace(0.01, 0.12, 23):
        polygon = cv2.approxPolyDP(hull, float(share) * around, True)
        if len(polygon) == 4:
            rough = polygon[:, 0, :]
            break
    return _turned(fit_corners(contour, _clockwise(np.asarray(rough, dtype=np.float64))), aspect)


def fit_corners(contour: np.ndarray, rough: np.ndarray) -> np.ndarray:
    """Four corners, clockwise from the one nearest the upper left: lines fitted to the contour's points along each
    side of `rough`, and where they meet. Shapes: `contour` (points, 2), `rough` and the result (4, 2), px."""
    lines = []
    for start, end in zip(rough, np.roll(rough, -1, axis=0), strict=True):
        along = (end - start) / max(1e-6, float(np.linalg.norm(end - start)))
        offset = contour - start
        run = offset @ along / max(1e-6, float(np.linalg.norm(end - start)))
        away = np.abs(offset @ np.array([-along[1], along[0]]))
        near = contour[(run > 0.1) & (run < 0.9) & (away < 0.05 * float(np.linalg.norm(end - start)) + 3)]
        if len(near) < 8:
            lines.append((start, along))
            continue
        vx, vy, x0, y0 = cv2.fitLine(near, cv2.DIST_HUBER, 0, 0.01, 0.01).ravel()
        lines.append((np.array([x0, y0]), np.array([vx, vy])))
    return _clockwise(np.array([_meet(lines[side - 1], lines[side]) for side in range(4)]))


def _meet(one: tuple[np.ndarray, np.ndarray], other: tuple[np.ndarray, np.ndarray]) -> np.ndarray:
    matrix = np.array([one[1], -other[1]]).T
    if abs(np.linalg.det(matrix)) < 1e-6:
        return other[0]
    run = np.linalg.solve(matrix, other[0] - one[0])[0]
    return np.asarray(one[0] + run * one[1])


def _clockwise(points: np.ndarray) -> np.ndarray:
    """Points in clockwise order on the screen (y down), the one nearest the upper left first."""
    centre = points.mean(axis=0)
    order = np.argsort(np.arctan2(points[:, 1] - centre[1], points[:, 0] - centre[0]))
    points = points[order]
    return np.roll(points, -int(np.argmin(points.sum(axis=1))), axis=0)


def _turned(points: np.ndarray, aspect: float) -> np.ndarray:
    """The points with the first side as the piece's width, where a photo on its side has it the other way round."""
    sides = np.linalg.norm(np.roll(points, -1, axis=0) - points, axis=1)
    seen = np.log((sides[0] + sides[2]) / (sides[1] + sides[3]))
    if abs(-seen - np.log(aspect)) + 0.1 < abs(seen - np.log(aspect)):
        return np.roll(points, 1, axis=0)
    return points


def _rim(contour: np.ndarray) -> np.ndarray:
    """Top, right, bottom and left of the ellipse through the contour: ends of conjugate diameters, so that mapping
    them to a circle's is affine and turns nothing."""
    hull = cv2.convexHull(contour)
    if len(hull) < 5:
        raise _nothing("What stands out is too small.")
    (x, y), (first, second), degrees = cv2.fitEllipse(hull)
    angle = np.deg2rad(degrees)
    turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    stretch = turn @ np.diag([first / 2, second / 2]) @ turn.T
    ways = np.array([[0, -1], [1, 0], [0, 1], [-1, 0]], dtype=np.float64)
    return np.asarray([x, y] + ways @ stretch.T)


def _overlap(points: np.ndarray, thing: np.ndarray, frame: Frame) -> float:
    """Intersection over union of the fitted shape and the thing."""
    drawn = np.zeros_like(thing)
    if frame is Frame.RIM:
        centre = points.mean(axis=0)
        ring = np.deg2rad(np.arange(0, 360, 5))
        across, down = points[1] - centre, points[2] - centre
        outline = centre + np.cos(ring)[:, None] * across + np.sin(ring)[:, None] * down
    else:
        outline = points
    cv2.fillPoly(drawn, [np.round(outline).astype(np.int32)], 1)
    return float((drawn & thing).sum() / max(1, (drawn | thing).sum()))
