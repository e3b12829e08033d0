"""Finding a grid's frame in a photo: candidates by shape, told apart by what should stand inside the frame."""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from keencoat.core.errors import BadValueError
from keencoat.core.grid.layout import STROKE_MM
from keencoat.core.reading.gridplan import MARGIN_MM, Sight, frame_mask, ground_mask, inner_mask
from keencoat.core.reading.lightness import lightness_of
from keencoat.core.reading.outline import Frame, Outline
from keencoat.core.reading.photo import Floats, Photo
from keencoat.core.reading.quads import fit_corners
from keencoat.core.reading.rectify import homography

_SMALL_PX = 1100
_LEAST_AREA = 0.03
_MOST_TRIED = 14
_MOST_REFINED = 6
_LOOSE_FRAME = 0.15
_LOOK_PX_PER_MM = 6
_LEAST_BRIGHT_L = 12.0
_LEAST_FRAME, _LEAST_INNER = 0.40, 0.30


@dataclass(frozen=True)
class FoundFrame:
    """Where the frame is, and whether the photo shows it from behind (mirrored)."""

    outline: Outline
    mirrored: bool = False


@dataclass(frozen=True)
class _Match:
    corners: np.ndarray
    frame: float
    inner: float
    mirrored: bool


def straighten(picture: np.ndarray, corners_px: np.ndarray, sight: Sight) -> np.ndarray:
    """The sheet straight on, from the four corners of its frame in the picture (upper left first, clockwise).

    On a round wall the corners lie in one plane; x = R·sin(θ) takes points of the wall to it.
    """
    left, low, right, top = sight.box
    radius = sight.radius_mm
    ends = np.array([[left, top], [right, top], [right, low], [left, low]])
    width, height = sight.size_px
    xs = left - MARGIN_MM + (np.arange(width) + 0.5) / sight.px_per_mm
    ys = top + MARGIN_MM - (np.arange(height) + 0.5) / sight.px_per_mm
    if radius is not None:
        ends[:, 0] = radius * np.sin(ends[:, 0] / radius)
        xs = radius * np.sin(xs / radius)
    matrix = homography(ends, corners_px)
    grid_x, grid_y = np.meshgrid(xs, ys)
    w = matrix[2, 0] * grid_x + matrix[2, 1] * grid_y + 1
    u = (matrix[0, 0] * grid_x + matrix[0, 1] * grid_y + matrix[0, 2]) / w
    v = (matrix[1, 0] * grid_x + matrix[1, 1] * grid_y + matrix[1, 2]) / w
    return np.asarray(
        cv2.remap(picture, u.astype(np.float32), v.astype(np.float32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
    )


def find_grid_frame(photo: Photo, sight: Sight) -> FoundFrame:
    """Find the frame of the grid that `sight` describes.

    Raises BadValueError that says what is wrong with the photo and what to do: too dark, blurred, glare, cut off, no
    frame, or the frame of another grid.
    """
    width, height = photo.size_px
    shrink = min(1.0, _SMALL_PX / max(width, height))
    small = cv2.resize(photo.rgb, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
    light = lightness_of(np.asarray(small, dtype=np.uint8))
    if float(np.percentile(light, 99)) < _LEAST_BRIGHT_L:
        raise BadValueError("The photo is too dark to read.", field="photo", hint="More light, or a longer exposure.")
    left, low, right, top = sight.box
    aspect = (right - left) / (top - low)
    coarse = Sight(sight.layout, _LOOK_PX_PER_MM, sight.radius_mm)
    best: _Match | None = None
    good: list[_Match] = []
    masks = frame_mask(coarse), inner_mask(coarse), ground_mask(coarse, 0.4)
    for corners in _candidates(light, aspect):
        good += _turns(light, corners, coarse, masks)
        if any(m.frame > 0.75 and m.inner > 0.65 for m in good):
            break
    # A candidate a stroke's width off matches badly: the best few are moved onto the line before they are judged.
    for match in sorted(good, key=lambda m: -m.frame - m.inner)[:_MOST_REFINED]:
        for moved in _turns(light, _refined(light, match, coarse), coarse, masks, match.mirrored):
            if best is None or moved.frame + moved.inner > best.frame + best.inner:
                best = moved
        if best is not None and best.inner > 0.6:
            break
    if best is None or best.frame < _LEAST_FRAME:
        raise _unreadable(photo, light)
    if best.inner < _LEAST_INNER:
        raise _trouble(photo, light) or BadValueError(
            "There is a frame in this photo, but codes and ticks inside it are not those of this grid.",
            field="photo",
            hint="Check that it is this grid's piece; if it is, mark the corners by hand, the filled one first.",
        )
    corners = _refined(light, best, coarse)
    shares = (corners + 0.5) / np.array([light.shape[1], light.shape[0]])
    points = tuple((float(x), float(y)) for x, y in shares)
    if min(min(p) for p in points) < -0.005 or max(max(p) for p in points) > 1.005:
        raise _cut_off()
    return FoundFrame(Outline(Frame.CORNERS, points, min(1.0, best.frame)), best.mirrored)


def _candidates(light: Floats, aspect: float) -> list[np.ndarray]:
    """Four-cornered outlines of things that stand out from what is near them, the likeliest shape first."""
    reach = max(9, max(light.shape) // 36) | 1
    near = cv2.blur(light, (reach, reach))
    away = np.asarray(cv2.GaussianBlur(light - near, (0, 0), 0.8), dtype=np.float32)
    found: list[tuple[float, np.ndarray]] = []
    # A bright frame on dark ground or a dark one on bright: the shadow that smoothing throws beside it is neither.
    for coded in (_coded(away), _coded(-away)):
        otsu, _ = cv2.threshold(coded, 0, 255, cv2.THRESH_BINARY | cv2.THRESH_OTSU)
        for level in (otsu, 0.5 * otsu):
            found += _quads((coded > max(8, level)).astype(np.uint8), light.size, aspect)
    found.sort(key=lambda item: item[0])
    kept: list[np.ndarray] = []
    for _, quad in found:
        if all(np.abs(quad - other).max() > 3 for other in kept):
            kept.append(quad)
    return kept[:_MOST_TRIED]


def _coded(away: Floats) -> np.ndarray:
    return np.asarray(np.clip(away / max(1e-3, float(np.percentile(away, 99.5))) * 255, 0, 255), dtype=np.uint8)


def _quads(mask: np.ndarray, pixels: int, aspect: float) -> list[tuple[float, np.ndarray]]:
    """Four-cornered contours of a mask, large enough and of about the right shape, with how far off each is."""
    found = []
    mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    contours, _ = cv2.findContours(mask, cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    for contour in contours:
        hull = cv2.convexHull(contour)
        area = cv2.contourArea(hull)
        rough = _quad(hull) if area > _LEAST_AREA * pixels else None
        if rough is None:
            continue
        quad = fit_corners(contour[:, 0, :].astype(np.float32), rough)
        fill = area / max(1.0, cv2.contourArea(quad.astype(np.float32)))
        sides = np.linalg.norm(np.roll(quad, -1, axis=0) - quad, axis=1)
        seen = abs(math.log((sides[0] + sides[2]) / (sides[1] + sides[3])))
        off = abs(seen - abs(math.log(aspect)))
        if fill > 0.9 and off < 0.45:
            found.append((off + 2 * abs(1 - fill), quad))
    return found


def _quad(hull: np.ndarray) -> np.ndarray | None:
    around = cv2.arcLength(hull, True)
    for share in np.linspace(0.008, 0.08, 19):
        polygon = cv2.approxPolyDP(hull, float(share) * around, True)
        if len(polygon) == 4:
            quad = polygon[:, 0, :].astype(np.float64)
            centre = quad.mean(axis=0)
            order = np.argsort(np.arctan2(quad[:, 1] - centre[1], quad[:, 0] - centre[0]))
            return np.asarray(quad[order])
        if len(polygon) < 4:
            return None
    return None


def _turns(
    light: Floats, corners: np.ndarray, sight: Sight, masks: tuple[np.ndarray, np.ndarray, np.ndarray],
    mirrored_already: bool = False,
) -> list[_Match]:  # fmt: skip
    """How well the picture inside these corners is the grid, for each way it may lie."""
    frame, inner, ground = masks
    matches = []
    for mirrored in (False, True):
        way = corners[::-1] if mirrored is not mirrored_already else corners
        for turn in range(4):
            turned = np.roll(way, turn, axis=0)
            face = straighten(light, turned, sight)
            frame_fit = _stands_out(face, frame, ground)
            if frame_fit < _LOOSE_FRAME:
                continue
            matches.append(_Match(turned, frame_fit, _stands_out(face, inner, ground), mirrored))
    return matches


def _stands_out(face: Floats, mask: np.ndarray, ground: np.ndarray) -> float:
    """Correlation (0…1) between the picture and the mask, over mask and bare ground, whichever of both is brighter."""
    values = np.concatenate([face[mask], face[ground]]).astype(np.float64)
    wanted = np.concatenate([np.ones(int(mask.sum())), np.zeros(int(ground.sum()))])
    spread = values.std()
    if spread < 0.4 or not mask.any():
        return 0.0
    return abs(float(((values - values.mean()) * (wanted - wanted.mean())).mean() / (spread * wanted.std())))


def _refined(light: Floats, match: _Match, sight: Sight) -> np.ndarray:
    """The corners moved to where the frame's line really runs: its middle found across each side, a line through it."""
    corners = match.corners
    for _ in range(3):
        face = straighten(light, corners, sight)
        moved = _moved_box(face, sight)
        left, low, right, top = sight.box
        ends = np.array([[left, top], [right, top], [right, low], [left, low]])
        if sight.radius_mm is not None:
            ends[:, 0] = sight.radius_mm * np.sin(ends[:, 0] / sight.radius_mm)
            moved[:, 0] = sight.radius_mm * np.sin(moved[:, 0] / sight.radius_mm)
        matrix = homography(ends, corners)
        homogeneous = np.c_[moved, np.ones(4)] @ matrix.T
        corners = homogeneous[:, :2] / homogeneous[:, 2:]
    return np.asarray(corners)


def _moved_box(face: Floats, sight: Sight) -> np.ndarray:
    """Corners of the frame's outer edge as seen in the straightened picture, mm, upper left first, clockwise."""
    left, low, right, top = sight.box
    half = STROKE_MM / 2
    reach, px = 1.3, sight.px_per_mm
    sides = []
    for side in range(4):
        along_x = side % 2 == 0
        at = (top - half, right - half, low + half, left + half)[side]
        start, end = (left, right) if along_x else (low, top)
        run = np.linspace(start + 2 * STROKE_MM, end - 2 * STROKE_MM, 60)
        offs = np.arange(-reach, reach + 1e-9, 1 / (2 * px))
        grid_run, grid_off = np.meshgrid(run, offs, indexing="ij")
        xs, ys = (grid_run, at + grid_off) if along_x else (at + grid_off, grid_run)
        u = ((xs - left + MARGIN_MM) * px - 0.5).astype(np.float32)
        v = ((top - ys + MARGIN_MM) * px - 0.5).astype(np.float32)
        profile = cv2.remap(face, u, v, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        base = np.median(profile, axis=1, keepdims=True)
        sign = 1.0 if float((profile - base)[:, len(offs) // 2 - 1 : len(offs) // 2 + 2].mean()) > 0 else -1.0
        weight = np.clip(sign * (profile - base), 0, None)
        weight = np.where(weight > 0.4 * weight.max(axis=1, keepdims=True), weight, 0)
        middle = (weight * offs).sum(axis=1) / np.maximum(1e-6, weight.sum(axis=1))
        strong = weight.sum(axis=1) > 0.4 * np.median(weight.sum(axis=1))
        slope, shift = _robust_line(run[strong], middle[strong])
        sides.append((slope, shift + at, along_x))

    def meet(horizontal: tuple[float, float, bool], vertical: tuple[float, float, bool]) -> tuple[float, float]:
        # y = a·x + b and x = c·y + d
        (a, b, _), (c, d, _) = horizontal, vertical
        y = (a * d + b) / (1 - a * c)
        return c * y + d, y

    upper, right_side, lower, left_side = sides
    middle_corners = np.array(
        [meet(upper, left_side), meet(upper, right_side), meet(lower, right_side), meet(lower, left_side)]
    )
    outward = np.array([[-half, half], [half, half], [half, -half], [-half, -half]])
    return np.asarray(middle_corners + outward)


def _robust_line(x: np.ndarray, y: np.ndarray) -> tuple[float, float]:
    """Slope and intercept; points that ticks and codes pull away are left out."""
    keep = np.ones(len(x), dtype=bool)
    slope, shift = 0.0, float(np.median(y)) if len(y) else 0.0
    for _ in range(4):
        if keep.sum() < 6:
            break
        slope, shift = np.polyfit(x[keep], y[keep], 1)
        off = np.abs(y - slope * x - shift)
        keep = off <= max(0.05, 2.0 * float(np.median(off)))
    return float(slope), float(shift)


def _unreadable(photo: Photo, light: Floats) -> BadValueError:
    return _trouble(photo, light) or BadValueError(
        "No frame of a grid was found in this photo.",
        field="photo",
        hint="Photograph the whole frame straight from above on plain ground, or mark its corners by hand.",
    )


def _trouble(photo: Photo, light: Floats) -> BadValueError | None:
    """What is wrong with the picture as such, if anything is."""
    burnt = float((photo.rgb.min(axis=2) >= 250).mean())
    if burnt > 0.02:
        return BadValueError(
            f"{100 * burnt:.0f} % of the photo is burnt out by glare.",
            field="photo",
            hint="Move the lamp to the side, or tilt the piece, until nothing shines.",
        )
    edges = np.abs(cv2.Sobel(light, cv2.CV_32F, 1, 0)) + np.abs(cv2.Sobel(light, cv2.CV_32F, 0, 1))
    span = float(np.percentile(light, 99.5) - np.percentile(light, 0.5))
    if float(np.percentile(edges, 99.7)) < 0.75 * span:
        return BadValueError(
            "The photo is blurred.", field="photo", hint="Rest the phone on something, tap on the grid to focus, again."
        )
    border = np.concatenate([light[:4].ravel(), light[-4:].ravel(), light[:, :4].ravel(), light[:, -4:].ravel()])
    if float(np.percentile(border, 97) - np.percentile(border, 3)) > 0.5 * span:
        return _cut_off()
    return None


def _cut_off() -> BadValueError:
    return BadValueError(
        "The frame is cut off at the edge of the photo.", field="photo", hint="Step back until all of it shows."
    )
