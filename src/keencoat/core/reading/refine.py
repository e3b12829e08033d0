"""From about where a grid's frame lies to where its line really runs, with what bends it: the lens, or a round wall."""

from dataclasses import replace

import cv2
import numpy as np

from keencoat.core.grid import STROKE_MM, ticks
from keencoat.core.reading.gridplan import MARGIN_MM, Sight
from keencoat.core.reading.view import View, straighten
from keencoat.core.reading.wall import Bend, Marks, place_from_sides
from keencoat.core.vision import (
    Floats,
    Photo,
    SeenOutline,
    bent,
    homography,
    lens_of,
    lightness_of,
    line_through,
    mapped,
    meet,
    straightened,
)

LOOK_PX_PER_MM = 6
"""How finely a frame is looked for."""
_LEAST_SEEN = 8
_TICK_REACH_MM, _LEAST_TICK_L = 1.2, 4.0
_WIDEST_LINE, _FAINT_SIDE = 1.6, 0.3


def refined(light: Floats, view: View, sight: Sight) -> View:
    """The corners moved to where the frame's line really runs, and what bends its sides: the lens under which they are
    straight, or on a round wall the place of the phone under which they bow so."""
    size = light.shape[1], light.shape[0]
    if sight.bend is not None:
        return _on_wall(light, view, sight, sight.bend)
    for _ in range(3):
        sides = [view.to_picture(side, sight, size) for side in _frame_line(straighten(light, view, sight), sight)]
        lens = lens_of(sides, size)
        lines = [line_through(straightened(side, lens, size)) for side in sides]
        matrix = homography(_line_corners(sight), np.array([meet(lines[side - 1], lines[side]) for side in range(4)]))
        view = View(bent(mapped(matrix, sight.corners), lens, size), lens)
    return view


def _line_corners(sight: Sight) -> np.ndarray:
    """The corners of the middle of the frame's line, mm, shape (4, 2): upper left first, clockwise."""
    return sight.corners + STROKE_MM / 2 * np.array([[1, -1], [-1, -1], [-1, 1], [1, 1]])


def _on_wall(light: Floats, view: View, sight: Sight, bend: Bend) -> View:
    size = light.shape[1], light.shape[0]
    phone = view.phone_before(sight, bend, size)
    for _ in range(3):
        view = View(phone.seen(bend.on_wall(sight.corners)), 0.0, phone)
        face = straighten(light, view, sight)
        sides = [view.to_picture(line, sight, size) for line in _frame_line(face, sight)]
        truly, seen, ways = _ticks_seen(face, sight)
        at, beyond = (view.to_picture(points, sight, size) for points in (seen, seen + ways))
        marks = Marks(truly, at, (beyond - at) / np.maximum(1e-9, np.linalg.norm(beyond - at, axis=1, keepdims=True)))
        phone = place_from_sides(phone, _line_corners(sight), sides, bend, marks)
    return View(phone.seen(bend.on_wall(sight.corners)), 0.0, phone)


def with_lens(photo: Photo, outline: SeenOutline, sight: Sight) -> SeenOutline:
    """An outline marked by hand, with the lens's bend read from the frame's sides."""
    if sight.bend is not None:
        return outline
    light, size = lightness_of(photo.rgb), photo.size_px
    coarse = Sight(sight.layout, LOOK_PX_PER_MM)
    view = View(np.array(outline.points) * size - 0.5)
    for _ in range(3):
        sides = _frame_line(straighten(light, view, coarse), coarse)
        view = replace(view, lens=lens_of([view.to_picture(side, coarse, size) for side in sides], size))
    return replace(outline, lens=view.lens)


def _ticks_seen(face: Floats, sight: Sight) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """The middles of the ticks that stand out, where they truly lie and where they are seen, mm, and the way along the
    frame's side in which that was looked at; (n, 2) each."""
    truly, seen, ways = [], [], []
    offs = np.arange(-_TICK_REACH_MM, _TICK_REACH_MM + 1e-9, 1 / (2 * sight.px_per_mm))
    for x, y, along_x in ticks(sight.layout.frame) if sight.layout.frame is not None else ():
        middle = np.array([x - 0.7, y] if along_x else [x, y + 0.7])
        way = np.array([0.0, 1.0] if along_x else [1.0, 0.0])
        places = middle + offs[:, None] * way
        at = np.array([sight.px(*place) for place in places], dtype=np.float32) - 0.5
        profile = cv2.remap(face, at[:, 0], at[:, 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).ravel()
        off = profile - np.median(profile)
        weight = np.clip(off * np.sign(off[np.abs(off).argmax()]), 0, None)
        if weight.max() < _LEAST_TICK_L:
            continue
        weight = np.where(weight > 0.4 * weight.max(), weight, 0)
        truly.append(middle)
        seen.append(middle + (weight * offs).sum() / weight.sum() * way)
        ways.append(way)
    return np.reshape(truly, (-1, 2)), np.reshape(seen, (-1, 2)), np.reshape(ways, (-1, 2))


def _frame_line(face: Floats, sight: Sight) -> list[np.ndarray]:
    """Points (n, 2) in mm of the middle of the frame's line as seen in the straightened picture: the upper, right,
    lower and left side."""
    left, low, right, top = sight.box
    half = STROKE_MM / 2
    reach, px = 1.3, sight.px_per_mm
    sides, peaks = [], []
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
        if sight.bend is not None:
            # Where a lamp's line up the wall runs into the frame's, what is bright is wider than either.
            strong &= (weight > 0).sum(axis=1) < _WIDEST_LINE * STROKE_MM * 2 * px
        kept = np.flatnonzero(strong)[_on_a_bow(run[strong], off[strong])]
        if len(kept) < _LEAST_SEEN:
            # Next to nothing of this side is seen: it stays where it was, or on a wall where the others put it.
            kept, off = np.arange(0 if sight.bend is not None else len(run)), np.zeros(len(run))
        line = np.stack([run, at + off], axis=1) if along_x else np.stack([at + off, run], axis=1)
        sides.append(line[kept])
        peaks.append(float(np.median(weight.max(axis=1))))
    if sight.bend is None:
        return sides
    # What stands out far less than the other sides is not the frame's line.
    return [line if peak > _FAINT_SIDE * max(peaks) else line[:0] for line, peak in zip(sides, peaks, strict=True)]


def _on_a_bow(run: np.ndarray, off: np.ndarray) -> np.ndarray:
    """Which points lie on one gentle bow; those that ticks and codes pull away do not."""
    keep = np.ones(len(run), dtype=bool)
    for _ in range(4):
        if keep.sum() < _LEAST_SEEN:
            break
        away = np.abs(off - np.polyval(np.polyfit(run[keep], off[keep], 2), run))
        keep = away <= max(0.05, 2.0 * float(np.median(away)))
    return keep
