"""Finding a grid's frame in a photo: candidates by shape, told apart by what should stand inside the frame."""

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import TypeGuard

import cv2
import numpy as np

from keencoat.core.errors import BadValueError
from keencoat.core.grid import STROKE_MM
from keencoat.core.reading.gridplan import MARGIN_MM, Sight, codes_mask, frame_mask, ground_mask, inner_mask
from keencoat.core.reading.troubles import cut_off, no_frame, not_this_grid, trouble_of
from keencoat.core.reading.view import View, in_plane, reaches, shares_of, straighten
from keencoat.core.vision import (
    EdgeKind,
    Floats,
    Photo,
    SeenOutline,
    bent,
    corners_of,
    homography,
    lens_of,
    lightness_of,
    line_through,
    mapped,
    meet,
    sides_of,
    straightened,
)

_SMALL_PX = 1100
_MOST_REFINED = 6
_LOOSE_FRAME = 0.15
_LOOK_PX_PER_MM = 6
_LEAST_SEEN = 8
_LEAST_BRIGHT_L, _CALM_L, _LEAST_REACH_L, _LEAST_SPREAD_L = 12.0, 0.5, 3.0, 0.4
_LEAST_FRAME, _LEAST_CODES = 0.40, 0.25
_BESIDE_MM, _LEAST_GROUND = 1, 0.02
_ROUGHLY, _SIDE_POINTS = 1.5, 100


@dataclass(frozen=True)
class _Sought:
    """From what to what share of the picture a frame takes up, and how many things of its shape are tried at most."""

    least_area: float
    most_area: float
    most_tried: int


_NEAR, _FAR = _Sought(0.03, 1.0, 14), _Sought(0.004, 0.1, 6)


@dataclass(frozen=True, eq=False)
class _Wanted:
    """Which pixels of a sheet straight on should stand out, those of its frame and those of the marks in it, among them
    its ticks and codes, and which are bare ground; each as places in the picture read row by row."""

    frame: np.ndarray
    inner: np.ndarray
    codes: np.ndarray
    ground: np.ndarray


@dataclass(frozen=True)
class FoundFrame:
    """Where the frame is, and whether the photo shows it from behind (mirrored)."""

    outline: SeenOutline
    mirrored: bool = False


@dataclass(frozen=True)
class _Match:
    view: View
    frame: float
    inner: float
    mirrored: bool

    @property
    def score(self) -> float:
        return self.frame + self.inner


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
    wanted = _wanted_of(coarse)
    near = _best_match(light, _candidates(light, aspect, _NEAR), coarse, wanted)
    if _is_this_grid(near, light, coarse, wanted):
        return _found(near, light, coarse)
    # From far away the frame is a small thing, and its codes are too fine for the picture made small.
    whole = lightness_of(photo.rgb)
    views = (_at_size(view, 1 / shrink) for view in _candidates(light, aspect, _FAR))
    far = _best_match(whole, views, coarse, wanted)
    if _is_this_grid(far, whole, coarse, wanted):
        return _found(far, whole, coarse)
    if trouble := trouble_of(photo, light):
        raise trouble
    if near is None or near.frame < _LEAST_FRAME:
        raise no_frame()
    raise not_this_grid(near.view, light, aspect)


def _wanted_of(sight: Sight) -> _Wanted:
    masks = frame_mask(sight), inner_mask(sight), codes_mask(sight), ground_mask(sight, 0.4)
    return _Wanted(*(np.flatnonzero(mask) for mask in masks))


def _found(match: _Match, light: Floats, sight: Sight) -> FoundFrame:
    """The frame where it was matched, its corners moved onto its line. Raises BadValueError where one is cut off."""
    view = _refined(light, match.view, sight)
    shares = shares_of(view, light)
    if reaches(shares, within=-0.005):
        raise cut_off()
    points = tuple((float(x), float(y)) for x, y in shares)
    return FoundFrame(SeenOutline(EdgeKind.CORNERS, points, min(1.0, match.frame), view.lens), match.mirrored)


def _best_match(light: Floats, views: Iterable[View], sight: Sight, wanted: _Wanted) -> _Match | None:
    """The view in which the picture is most like the grid."""
    best: _Match | None = None
    good: list[_Match] = []
    for candidate in views:
        good += _turns(light, candidate, sight, wanted)
        if any(m.frame > 0.75 and m.inner > 0.65 for m in good):
            break
    # A candidate a stroke's width off matches badly: the best few are moved onto the line before they are judged.
    for match in sorted(good, key=lambda m: -m.score)[:_MOST_REFINED]:
        for moved in _turns(light, _refined(light, match.view, sight), sight, wanted, match.mirrored):
            if best is None or moved.score > best.score:
                best = moved
        if best is not None and best.inner > 0.6:
            break
    return best


def _at_size(view: View, times: float) -> View:
    """The same view in the picture made so many times as large."""
    return View((view.corners + 0.5) * times - 0.5, view.lens)


def _is_this_grid(best: _Match | None, light: Floats, sight: Sight, wanted: _Wanted) -> TypeGuard[_Match]:
    """Whether codes and ticks are where they should be: the filled corner is where any grid has it."""
    if best is None or best.frame < _LEAST_FRAME:
        return False
    face = straighten(light, best.view, sight)
    frame = _stands_out(face.ravel()[wanted.frame], face.ravel()[wanted.ground])
    return math.copysign(1, frame) * _codes_stand_out(face, wanted) >= _LEAST_CODES


def _codes_stand_out(face: Floats, wanted: _Wanted) -> float:
    """As `_stands_out` for ticks and codes, each against the ground beside it, so that no shadow or veil hides them."""
    is_ground = np.zeros(face.size, dtype=np.float32)
    is_ground[wanted.ground] = 1.0
    bare = is_ground.reshape(face.shape)
    across = (2 * _BESIDE_MM * _LOOK_PX_PER_MM + 1,) * 2
    share = cv2.blur(bare, across)
    beside = cv2.blur(face * bare, across) / np.maximum(_LEAST_GROUND, share)
    off = (face - beside).ravel()
    told = wanted.codes[share.ravel()[wanted.codes] > _LEAST_GROUND]
    return _stands_out(off[told], off[wanted.ground])


def _candidates(light: Floats, aspect: float, sought: _Sought) -> Iterator[View]:
    """Four-cornered outlines of things that stand out from what is near them and take up such a share of the picture,
    the likeliest shape first."""
    reach = max(9, max(light.shape) // 36) | 1
    near = cv2.blur(light, (reach, reach))
    away = np.asarray(cv2.GaussianBlur(light - near, (0, 0), 0.8), dtype=np.float32)
    kept: list[View] = []
    for by_busyness in (False, True):
        picture = away
        if by_busyness:
            # On a patterned bench a weak frame drowns, unless each place is measured by how busy it is.
            busy = np.sqrt(cv2.blur(away**2, (4 * reach + 1, 4 * reach + 1)) + _CALM_L**2)
            picture = np.asarray(away / busy, dtype=np.float32)
        found: list[tuple[float, View]] = []
        # A bright frame on dark ground or a dark one on bright: the shadow that smoothing throws beside it is neither.
        for coded in (_coded(picture), _coded(-picture)):
            otsu, _ = cv2.threshold(coded, 0, 255, cv2.THRESH_BINARY | cv2.THRESH_OTSU)
            for level in (otsu, 0.5 * otsu):
                found += _quads((coded > max(8, level)).astype(np.uint8), aspect, sought)
        fresh: list[View] = []
        for _, view in sorted(found, key=lambda item: item[0]):
            if all(np.abs(view.corners - other.corners).max() > 3 for other in kept + fresh):
                fresh.append(view)
        kept += fresh[: sought.most_tried]
        yield from fresh[: sought.most_tried]


def _coded(away: Floats) -> np.ndarray:
    return np.asarray(np.clip(away / max(1e-3, float(np.percentile(away, 99.5))) * 255, 0, 255), dtype=np.uint8)


def _quads(mask: np.ndarray, aspect: float, sought: _Sought) -> list[tuple[float, View]]:
    """Four-cornered contours of a mask, large enough and of about the right shape, with how far off each is."""
    found = []
    size = mask.shape[1], mask.shape[0]
    mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    contours, _ = cv2.findContours(mask, cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    for contour in contours:
        hull = cv2.convexHull(contour)
        area = cv2.contourArea(hull)
        rough = _quad(hull) if sought.least_area < area / mask.size < sought.most_area else None
        if rough is None or _unlike(rough, area, aspect, _ROUGHLY) is None:
            continue
        sides = [
            side[:: 1 + len(side) // _SIDE_POINTS] for side in sides_of(contour[:, 0, :].astype(np.float32), rough)
        ]
        # The sides of a small thing are hardly bent.
        lens = lens_of(sides, size) if area > _NEAR.least_area * mask.size else 0.0
        flat = corners_of([line_through(straightened(side, lens, size)) for side in sides])
        quad = bent(flat, lens, size)
        unlike = _unlike(quad, area, aspect, 1.0)
        if unlike is not None:
            found.append((unlike, View(quad, lens)))
    return found


def _unlike(quad: np.ndarray, area: float, aspect: float, times: float) -> float | None:
    """How far four corners round a thing of such an area are from a frame's shape; None if so many times too far."""
    fill = area / max(1.0, cv2.contourArea(quad.astype(np.float32)))
    lengths = np.linalg.norm(np.roll(quad, -1, axis=0) - quad, axis=1)
    if not lengths.min() > 0:
        return None
    seen = abs(math.log((lengths[0] + lengths[2]) / (lengths[1] + lengths[3])))
    off = abs(seen - abs(math.log(aspect)))
    return off + 2 * abs(1 - fill) if fill > 1 - 0.1 * times and off < 0.45 * times else None


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
    light: Floats,
    view: View,
    sight: Sight,
    wanted: _Wanted,
    mirrored_already: bool = False,
) -> list[_Match]:
    """How well the picture inside the frame is the grid, for each way it may lie."""
    matches = []
    for quarter in range(2):
        corners = np.roll(view.corners, quarter, axis=0)
        face = straighten(light, View(corners, view.lens), sight)
        for order, flipped, seen in (
            ([0, 1, 2, 3], False, face),
            ([2, 3, 0, 1], False, face[::-1, ::-1]),
            ([3, 2, 1, 0], True, face[::-1]),
            ([1, 0, 3, 2], True, face[:, ::-1]),
        ):
            pixels = seen.ravel()
            bare = pixels[wanted.ground]
            frame = _stands_out(pixels[wanted.frame], bare)
            if abs(frame) < _LOOSE_FRAME:
                continue
            turned, mirrored = View(corners[order], view.lens), flipped is not mirrored_already
            # Marks brighter than the ground in a frame darker than it are none.
            inner = math.copysign(1, frame) * _stands_out(pixels[wanted.inner], bare)
            matches.append(_Match(turned, abs(frame), inner, mirrored))
    return matches


def _stands_out(marks: Floats, bare: Floats) -> float:
    """Correlation (−1…1) between lightness and being a mark, not bare ground: below 0 where marks are darker."""
    if not marks.size or not bare.size:
        return 0.0
    plain, marked = float(np.median(bare)), float(np.median(marks))
    # What stands out far more than these marks, a blackened rim or a glint, is not theirs and must not outweigh them.
    reach = max(_LEAST_REACH_L, 1.5 * abs(marked - plain))
    marks, bare = (np.clip(v, plain - reach, plain + reach).astype(np.float64) - plain for v in (marks, bare))
    share = marks.size / (marks.size + bare.size)
    apart = marks.mean() - bare.mean()
    spread = math.sqrt(share * marks.var() + (1 - share) * bare.var() + share * (1 - share) * apart**2)
    return float(apart) * math.sqrt(share * (1 - share)) / spread if spread >= _LEAST_SPREAD_L else 0.0


def _refined(light: Floats, view: View, sight: Sight) -> View:
    """The corners moved to where the frame's line really runs, and the lens under which its sides are straight."""
    size = light.shape[1], light.shape[0]
    for _ in range(3):
        sides = [view.to_picture(side, sight, size) for side in _frame_line(straighten(light, view, sight), sight)]
        # On a round wall a level side is bent by the wall itself.
        lens = lens_of(sides, size) if sight.radius_mm is None else 0.0
        lines = [line_through(straightened(side, lens, size)) for side in sides]
        middle = np.array([meet(lines[side - 1], lines[side]) for side in range(4)])
        half = STROKE_MM / 2
        inner_mm = sight.corners + np.array([[half, -half], [-half, -half], [-half, half], [half, half]])
        matrix = homography(in_plane(inner_mm, sight), middle)
        view = View(bent(mapped(matrix, in_plane(sight.corners, sight)), lens, size), lens)
    return view


def with_lens(photo: Photo, outline: SeenOutline, sight: Sight) -> SeenOutline:
    """An outline marked by hand, with the lens's bend read from the frame's sides."""
    if sight.radius_mm is not None:
        return outline
    light, size = lightness_of(photo.rgb), photo.size_px
    coarse = Sight(sight.layout, _LOOK_PX_PER_MM)
    view = View(np.array(outline.points) * size - 0.5)
    for _ in range(3):
        sides = _frame_line(straighten(light, view, coarse), coarse)
        view = replace(view, lens=lens_of([view.to_picture(side, coarse, size) for side in sides], size))
    return replace(outline, lens=view.lens)


def _frame_line(face: Floats, sight: Sight) -> list[np.ndarray]:
    """Points (n, 2) in mm of the middle of the frame's line as seen in the straightened picture: the upper, right,
    lower and left side."""
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
        off = (weight * offs).sum(axis=1) / np.maximum(1e-6, weight.sum(axis=1))
        strong = weight.sum(axis=1) > 0.4 * np.median(weight.sum(axis=1))
        kept = np.flatnonzero(strong)[_on_a_bow(run[strong], off[strong])]
        if len(kept) < _LEAST_SEEN:
            # Next to nothing of this side is seen: it stays where it was.
            kept, off = np.arange(len(run)), np.zeros(len(run))
        line = np.stack([run, at + off], axis=1) if along_x else np.stack([at + off, run], axis=1)
        sides.append(line[kept])
    return sides


def _on_a_bow(run: np.ndarray, off: np.ndarray) -> np.ndarray:
    """Which points lie on one gentle bow; those that ticks and codes pull away do not."""
    keep = np.ones(len(run), dtype=bool)
    for _ in range(4):
        if keep.sum() < _LEAST_SEEN:
            break
        away = np.abs(off - np.polyval(np.polyfit(run[keep], off[keep], 2), run))
        keep = away <= max(0.05, 2.0 * float(np.median(away)))
    return keep
