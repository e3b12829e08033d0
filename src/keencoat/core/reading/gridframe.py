"""Finding a grid's frame in a photo: candidates by shape, told apart by what should stand inside the frame."""

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import TypeGuard

import cv2
import numpy as np

from keencoat.core.errors import BadValueError
from keencoat.core.reading.gridplan import Sight, codes_mask, frame_mask, ground_mask, inner_mask
from keencoat.core.reading.refine import LOOK_PX_PER_MM, refined
from keencoat.core.reading.troubles import cut_off, no_frame, not_this_grid, trouble_of
from keencoat.core.reading.view import View, aspect_of, reaches, shares_of, straighten
from keencoat.core.reading.wall import flat_on, place_from_sides
from keencoat.core.vision import (
    EdgeKind,
    Floats,
    Photo,
    SeenOutline,
    bent,
    corners_of,
    lens_of,
    lightness_of,
    line_through,
    sides_of,
    straightened,
)

_SMALL_PX = 1100
_MOST_REFINED = 6
_LOOSE_FRAME = 0.15
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
class _Quad:
    """A four-cornered thing in a picture: how far off a frame's shape it is, its corners (4, 2) clockwise, the lens's
    k₁ under which its sides are straight, and points (n, 2) of each side, px."""

    unlike: float
    corners: np.ndarray
    lens: float
    sides: list[np.ndarray]


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
    coarse = Sight(sight.layout, LOOK_PX_PER_MM, sight.bend)
    wanted = _wanted_of(coarse)
    near = _best_match(light, _candidates(light, coarse, _NEAR), coarse, wanted)
    if _is_this_grid(near, light, coarse, wanted):
        return _found(near, light, coarse)
    # From far away the frame is a small thing, and its codes are too fine for the picture made small.
    whole = lightness_of(photo.rgb)
    views = (_at_size(view, 1 / shrink) for view in _candidates(light, coarse, _FAR))
    far = _best_match(whole, views, coarse, wanted)
    if _is_this_grid(far, whole, coarse, wanted):
        return _found(far, whole, coarse)
    if trouble := trouble_of(photo, light):
        raise trouble
    if near is None or near.frame < _LEAST_FRAME:
        raise no_frame(sight.bend is not None)
    raise not_this_grid(near.view, light, aspect_of(coarse))


def _wanted_of(sight: Sight) -> _Wanted:
    masks = frame_mask(sight), inner_mask(sight), codes_mask(sight), ground_mask(sight, 0.4)
    return _Wanted(*(np.flatnonzero(mask) for mask in masks))


def _found(match: _Match, light: Floats, sight: Sight) -> FoundFrame:
    """The frame where it was matched, its corners moved onto its line. Raises BadValueError where one is cut off."""
    view = refined(light, match.view, sight)
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
        turns = _turns(light, candidate, sight, wanted)
        # One of each: all the ways round the edge of the piece would leave no room for what is drawn on it.
        good += sorted(turns, key=lambda m: -m.score)[:1]
        if any(m.frame > 0.75 and m.inner > 0.65 for m in turns):
            break
    # A candidate a stroke's width off matches badly: the best few are moved onto the line before they are judged.
    for match in sorted(good, key=lambda m: -m.score)[:_MOST_REFINED]:
        for moved in _turns(light, refined(light, match.view, sight), sight, wanted, match.mirrored):
            if best is None or moved.score > best.score:
                best = moved
        if best is not None and best.inner > 0.6:
            break
    return best


def _at_size(view: View, times: float) -> View:
    """The same view in the picture made so many times as large."""
    return View((view.corners + 0.5) * times - 0.5, view.lens, view.phone and view.phone.at_size(times))


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
    across = (2 * _BESIDE_MM * LOOK_PX_PER_MM + 1,) * 2
    share = cv2.blur(bare, across)
    beside = cv2.blur(face * bare, across) / np.maximum(_LEAST_GROUND, share)
    off = (face - beside).ravel()
    told = wanted.codes[share.ravel()[wanted.codes] > _LEAST_GROUND]
    return _stands_out(off[told], off[wanted.ground])


def _candidates(light: Floats, sight: Sight, sought: _Sought) -> Iterator[View]:
    """Four-cornered outlines of things that stand out from what is near them and take up such a share of the picture,
    the likeliest shape first."""
    reach = max(9, max(light.shape) // 36) | 1
    near = cv2.blur(light, (reach, reach))
    away = np.asarray(cv2.GaussianBlur(light - near, (0, 0), 0.8), dtype=np.float32)
    kept: list[_Quad] = []
    for by_busyness in (False, True):
        picture = away
        if by_busyness:
            # On a patterned bench a weak frame drowns, unless each place is measured by how busy it is.
            busy = np.sqrt(cv2.blur(away**2, (4 * reach + 1, 4 * reach + 1)) + _CALM_L**2)
            picture = np.asarray(away / busy, dtype=np.float32)
        found: list[_Quad] = []
        # A bright frame on dark ground or a dark one on bright: the shadow that smoothing throws beside it is neither.
        for coded in (_coded(picture), _coded(-picture)):
            otsu, _ = cv2.threshold(coded, 0, 255, cv2.THRESH_BINARY | cv2.THRESH_OTSU)
            for level in (otsu, 0.5 * otsu):
                found += _quads((coded > max(8, level)).astype(np.uint8), sight, sought)
        fresh: list[_Quad] = []
        for quad in sorted(found, key=lambda quad: quad.unlike):
            if all(np.abs(quad.corners - other.corners).max() > 3 for other in kept + fresh):
                fresh.append(quad)
        kept += fresh[: sought.most_tried]
        for quad in fresh[: sought.most_tried]:
            yield from _views_of(quad, sight, (light.shape[1], light.shape[0]))


def _coded(away: Floats) -> np.ndarray:
    return np.asarray(np.clip(away / max(1e-3, float(np.percentile(away, 99.5))) * 255, 0, 255), dtype=np.uint8)


def _quads(mask: np.ndarray, sight: Sight, sought: _Sought) -> list[_Quad]:
    """Four-cornered contours of a mask, large enough and of about the right shape."""
    found = []
    aspect, size = aspect_of(sight), (mask.shape[1], mask.shape[0])
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
        # The sides of a small thing are hardly bent, and those of a frame on a wall not by the lens alone.
        bends = sight.bend is None and area > _NEAR.least_area * mask.size
        lens = lens_of(sides, size) if bends else 0.0
        flat = corners_of([line_through(straightened(side, lens, size)) for side in sides])
        corners = bent(flat, lens, size)
        unlike = _unlike(corners, area, aspect, 1.0)
        if unlike is not None:
            found.append(_Quad(unlike, corners, lens, sides))
    return found


def _views_of(quad: _Quad, sight: Sight, size: tuple[int, int]) -> Iterator[View]:
    """The view that sees a frame's sides there; on a wall one for each side that may be the upper one, as the wall
    bends only level ones."""
    if sight.bend is None:
        yield View(quad.corners, quad.lens)
        return
    for first in range(4):
        around = [quad.sides[(first + n) % 4][::3] for n in range(4)]
        start = flat_on(sight.corners, np.roll(quad.corners, -first, axis=0), sight.bend, size)
        # Where a glint runs into a side, its points lead astray.
        for phone in (place_from_sides(start, sight.corners, around, sight.bend), start):
            yield View(phone.seen(sight.bend.on_wall(sight.corners)), 0.0, phone)


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
    for turned, flipped, seen in _ways(light, view, sight):
        pixels = seen.ravel()
        bare = pixels[wanted.ground]
        frame = _stands_out(pixels[wanted.frame], bare)
        if abs(frame) < _LOOSE_FRAME:
            continue
        # Marks brighter than the ground in a frame darker than it are none.
        inner = math.copysign(1, frame) * _stands_out(pixels[wanted.inner], bare)
        matches.append(_Match(turned, abs(frame), inner, flipped is not mirrored_already))
    return matches


def _ways(light: Floats, view: View, sight: Sight) -> Iterator[tuple[View, bool, Floats]]:
    """The ways in which a grid may lie between four corners: its view, whether it is seen in a mirror, and it straight
    on. A wall's phone stands for one of them, and nobody sees the outside of a wall from behind."""
    if sight.bend is not None:
        yield view, False, straighten(light, view, sight)
        return
    for quarter in range(2):
        corners = np.roll(view.corners, quarter, axis=0)
        face = straighten(light, View(corners, view.lens), sight)
        yield View(corners, view.lens), False, face
        yield View(corners[[2, 3, 0, 1]], view.lens), False, face[::-1, ::-1]
        yield View(corners[[3, 2, 1, 0]], view.lens), True, face[::-1]
        yield View(corners[[1, 0, 3, 2]], view.lens), True, face[:, ::-1]


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
