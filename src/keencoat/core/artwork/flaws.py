"""What is wrong with a burned mark, in figures, from a photo that was squared up and laid onto what was expected.

Places are millimetres right and up of the middle of the piece. Nothing here says why: that is `core/inspect`.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from scipy import ndimage

from keencoat.core.artwork.landing import over_shifts
from keencoat.core.vision import Floats, Pixels, find_streaks, lab_of

_MOST_PATCHES = 6
_BARE, _FULL, _MARKED = 0.02, 0.9, 0.3
_MISSING_UNDER, _EXTRA_OVER = 0.4, 0.4
_TOLERANCE_MM, _LEAST_PATCH_MM2 = 0.45, 1.5
_DOUBLE_MM = (0.5, 8.0)
_DOUBLE_PRECISE, _DOUBLE_SHARE, _DOUBLE_LEAST_MM2 = 0.6, 0.2, 1.0
_EDGE_REACH_MM, _EDGE_LEVELS, _LEAST_EDGES = 1.4, (0.15, 0.85), 40
_LEVEL_DEG = 12.0
_SPOT_LEAST, _SPOT_SIGMAS, _SPOT_MOST_MM2, _SPOT_RIM_MM = 0.3, 6.0, 3.0, 0.4
_HAZE_NEAR_MM, _HAZE_FAR_MM, _HAZE_LEAST_MM2 = (0.5, 1.4), 3.0, 20.0
_BROWN_B = 15.0


@dataclass(frozen=True)
class Patch:
    """A part of the piece: the middle of what it covers, its box (left and top side, width, height) and its area."""

    x_mm: float
    y_mm: float
    left_mm: float
    top_mm: float
    width_mm: float
    height_mm: float
    area_mm2: float


@dataclass(frozen=True)
class Doubled:
    """A second image of the mark, so far right and up of the first. share: how much of the mark is there twice or has
    gone there; gone: how much of that is missing where it was meant (1: it jumped partway; 0: burned twice)."""

    right_mm: float
    up_mm: float
    share: float
    gone: float


@dataclass(frozen=True)
class MarkStreaks:
    """Streaks in the mark: direction (degrees from right towards up, 0…180), spacing (0 if none repeats), depth: how
    much the mark's fullness varies across them, 0…1, and how far one direction rules, 0…1."""

    direction_deg: float
    spacing_mm: float
    depth: float
    coherence: float

    @property
    def along_lines(self) -> bool:
        """Whether they lie as scan lines do."""
        return min(self.direction_deg, 180 - self.direction_deg) < _LEVEL_DEG


@dataclass(frozen=True)
class Spots:
    """Small spots within the full mark that look unlike it (chips, pinholes): how many, in how many square
    centimetres, the largest's diameter, and the share of the mark that they take."""

    count: int
    in_cm2: float
    most_mm: float
    share: float


@dataclass(frozen=True)
class Edges:
    """How wide the mark's edges are, from 15 to 85 in 100, mm: upright ones (the head turns round there) and level
    ones."""

    upright_mm: float
    level_mm: float

    @property
    def combed_mm(self) -> float:
        """By how much lines to and fro end beside each other."""
        return math.sqrt(max(0.0, self.upright_mm**2 - self.level_mm**2))


@dataclass(frozen=True)
class Flaws:
    """Figures of a washed mark, each None where the artwork has no place to take it from.

    missing, extra: the largest patches without a mark that was meant, and with one that was not; missing_share of the
    mark's area; extra_mm2 in all. haze_l: L* of the ground close to the mark less that of the ground far from it.
    brown_share: of the full mark, where it is more yellow than b* 15 in the photo's own colours.
    """

    missing: tuple[Patch, ...]
    missing_share: float
    extra: tuple[Patch, ...]
    extra_mm2: float
    doubled: Doubled | None
    streaks: MarkStreaks | None
    spots: Spots | None
    edges: Edges | None
    haze_l: float | None
    brown_share: float | None


@dataclass(frozen=True, eq=False)
class LaidOn:
    """A photo laid onto what was expected, the upper left first: how full the mark is and was meant to be (0 bare, 1
    full), L* as it would be under even light, the picture, where the piece is to be seen."""

    full: Floats
    meant: Floats
    l_star: Floats
    rgb: Pixels
    inside: np.ndarray
    px_per_mm: int


def flaws_of(laid: LaidOn) -> Flaws:
    """All figures."""
    px = laid.px_per_mm
    seen = cv2.GaussianBlur(laid.full.astype(np.float32), (0, 0), 0.25 * px)
    marked = (cv2.erode(laid.meant, _round(_TOLERANCE_MM, px)) > _MARKED) & laid.inside
    bare = _far_from_mark(laid, _TOLERANCE_MM)
    missing = _opened(marked & (seen < _MISSING_UNDER * laid.meant), px)
    extra = _opened(bare & (seen > _EXTRA_OVER), px)
    meant_px = int(((laid.meant > _MARKED) & laid.inside).sum())
    missing_patches, extra_patches = (_patches(mask, px) for mask in (missing, extra))
    return Flaws(
        missing_patches,
        float(missing.sum()) / max(1, meant_px),
        extra_patches,
        float(extra.sum()) / px**2,
        _doubled(laid),
        _streaks(laid, missing),
        _spots(laid),
        _edges(laid),
        _haze_l(laid),
        _brown_share(laid),
    )


def _round(reach_mm: float, px: int) -> np.ndarray:
    size = 2 * round(reach_mm * px) + 1
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))


def _far_from_mark(laid: LaidOn, mm: float) -> np.ndarray:
    near = cv2.dilate((laid.meant > _BARE).astype(np.uint8), _round(mm, laid.px_per_mm))
    return np.asarray((near == 0) & laid.inside)


def _full_mark(laid: LaidOn, rim_mm: float) -> np.ndarray:
    well_in = cv2.erode((laid.meant > _FULL).astype(np.uint8), _round(rim_mm, laid.px_per_mm))
    return np.asarray((well_in > 0) & laid.inside)


def _opened(mask: np.ndarray, px: int) -> np.ndarray:
    return np.asarray(cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_OPEN, _round(0.3, px)) > 0)


def _patches(mask: np.ndarray, px: int) -> tuple[Patch, ...]:
    """The largest patches of a mask, largest first."""
    rows, columns = mask.shape
    _, _, boxes, middles = cv2.connectedComponentsWithStats(mask.astype(np.uint8))
    found = [
        Patch(
            float(middle[0] + 0.5 - columns / 2) / px,
            float(rows / 2 - middle[1] - 0.5) / px,
            float(box[cv2.CC_STAT_LEFT] - columns / 2) / px,
            float(rows / 2 - box[cv2.CC_STAT_TOP]) / px,
            float(box[cv2.CC_STAT_WIDTH]) / px,
            float(box[cv2.CC_STAT_HEIGHT]) / px,
            float(box[cv2.CC_STAT_AREA]) / px**2,
        )
        for box, middle in zip(boxes[1:], middles[1:], strict=True)
        if box[cv2.CC_STAT_AREA] >= _LEAST_PATCH_MM2 * px**2
    ]
    return tuple(sorted(found, key=lambda patch: -patch.area_mm2)[:_MOST_PATCHES])


def _doubled(laid: LaidOn) -> Doubled | None:
    """A second image, if what is marked beside the mark lies as the mark itself does, shifted: where the cosine between
    the two is largest, over all shifts at once by Fourier transforms."""
    px = laid.px_per_mm
    bare = _far_from_mark(laid, _TOLERANCE_MM).astype(float)
    strange = np.clip(laid.full, 0, 1.2) * bare
    strange[strange < _EXTRA_OVER / 2] = 0
    if float(strange.sum()) < _DOUBLE_LEAST_MM2 * px**2:
        return None
    meant = np.clip(laid.meant, 0, 1)
    reach = round(_DOUBLE_MM[1] * px)
    shared = over_shifts(strange, meant, reach)
    room = over_shifts(bare, meant**2, reach)
    alike = shared / np.sqrt(np.maximum(room, px**2) * float((strange**2).sum()))
    down, right = np.mgrid[-reach : reach + 1, -reach : reach + 1]
    alike[np.hypot(down, right) < _DOUBLE_MM[0] * px] = 0
    at = np.unravel_index(int(alike.argmax()), alike.shape)
    share, precise = float(shared[at] / max(room[at], 1.0)), float(shared[at] / (strange**2).sum())
    if share < _DOUBLE_SHARE or precise < _DOUBLE_PRECISE:
        return None
    by = int(down[at]), int(right[at])
    return Doubled(by[1] / px, -by[0] / px, min(1.0, share), _gone(laid, strange, by))


def _gone(laid: LaidOn, strange: Floats, by: tuple[int, int]) -> float:
    """Of the places near by that would be bare if the mark had gone there, the share that is."""
    left = (laid.meant > _FULL) & (ndimage.shift(laid.meant, by, order=0) < _BARE) & laid.inside
    near = cv2.dilate((strange > 0).astype(np.uint8), _round(math.hypot(*by) / laid.px_per_mm, laid.px_per_mm)) > 0
    return float((laid.full[left & near] < 0.5).mean()) if (left & near).any() else 0.0


def _streaks(laid: LaidOn, missing: np.ndarray) -> MarkStreaks | None:
    full = _full_mark(laid, _SPOT_RIM_MM) & ~missing
    if not full.any():
        return None
    middle = float(np.median(laid.full[full]))
    if middle < 0.1:
        return None
    found = find_streaks(laid.full / middle, full, laid.px_per_mm)
    if not found.coherence:
        return None
    return MarkStreaks(found.direction_deg, found.spacing_mm, found.depth, found.coherence)


def _spots(laid: LaidOn) -> Spots | None:
    px = laid.px_per_mm
    full = _full_mark(laid, _SPOT_RIM_MM)
    area_cm2 = float(full.sum()) / px**2 / 100
    if area_cm2 < _SPOT_MOST_MM2 / 100:
        return None
    # Beside the mark as the mark is in its middle, so that no corner is taken for a spot.
    alone = np.where(laid.meant > _FULL, np.clip(laid.full, -1, 3), np.median(laid.full[full]))
    usual = cv2.medianBlur(np.round(alone * 60 + 64).astype(np.uint8), 2 * round(0.9 * px) + 1)
    off = laid.full - (usual.astype(np.float32) - 64) / 60
    sigma = 1.4826 * float(np.median(np.abs(off[full])))
    spot = full & (np.abs(off) > max(_SPOT_LEAST, _SPOT_SIGMAS * sigma))
    _, _, boxes, _ = cv2.connectedComponentsWithStats(spot.astype(np.uint8))
    areas = boxes[1:, cv2.CC_STAT_AREA] / px**2
    areas = areas[areas <= _SPOT_MOST_MM2]
    most_mm = 2 * math.sqrt(float(areas.max()) / math.pi) if len(areas) else 0.0
    return Spots(len(areas), area_cm2, most_mm, float(areas.sum()) / (100 * area_cm2))


def _edges(laid: LaidOn) -> Edges | None:
    widths = [
        _edge_width_mm(full, meant, laid.px_per_mm)
        for full, meant in ((laid.full, laid.meant), (laid.full.T, laid.meant.T))
    ]
    upright_mm, level_mm = widths
    return None if upright_mm is None or level_mm is None else Edges(upright_mm, level_mm)


def _edge_width_mm(full: Floats, meant: Floats, px: int) -> float | None:
    """Mean profile over all upright edges of a full mark against bare ground, by its width from 15 to 85 in 100."""
    reach = round(_EDGE_REACH_MM * px)
    profiles: list[Floats] = []
    for flip in (False, True):
        one, other = (face[:, ::-1] if flip else face for face in (full, meant))
        rows, columns = _edge_places(np.ascontiguousarray(other), reach)
        at = columns[:, None] + np.arange(-reach, reach)
        profiles.append(one[rows[:, None], at])
    lines = np.concatenate(profiles)
    if len(lines) < _LEAST_EDGES:
        return None
    profile = lines.mean(axis=0)
    low, high = float(profile[: reach // 3].mean()), float(profile[-reach // 3 :].mean())
    if high - low < 0.3:
        return None
    rise = np.maximum.accumulate((profile - low) / (high - low))
    begins, ends = (float(np.interp(level, rise, np.arange(len(rise)))) for level in _EDGE_LEVELS)
    return (ends - begins) / px


def _edge_places(meant: Floats, reach: int) -> tuple[np.ndarray, np.ndarray]:
    """Rows and columns where bare ground on the left meets a full mark on the right, as far as `reach` each way and
    upright over three rows."""
    bare, full = (meant < _BARE).astype(np.float32), (meant > _FULL).astype(np.float32)
    line = np.ones((3, reach - 1), np.uint8)
    left = cv2.erode(bare, line, anchor=(reach - 2, 1), borderType=cv2.BORDER_CONSTANT, borderValue=0)
    right = cv2.erode(full, line, anchor=(0, 1), borderType=cv2.BORDER_CONSTANT, borderValue=0)
    partly = (bare == 0) & (full == 0)
    found: list[tuple[np.ndarray, np.ndarray]] = []
    # Up to two columns may be partly marked between them.
    for gap in (1, 2, 3):
        meets = (left[:, :-gap] > 0) & (right[:, gap:] > 0)
        for between in range(1, gap):
            meets &= partly[:, between : between - gap]
        rows, columns = np.nonzero(meets)
        found.append((rows, columns + (gap + 1) // 2))
    rows, columns = (np.concatenate(each) for each in zip(*found, strict=True))
    kept = (columns >= reach) & (columns < meant.shape[1] - reach)
    return rows[kept], columns[kept]


def _haze_l(laid: LaidOn) -> float | None:
    px = laid.px_per_mm
    away = cv2.distanceTransform((laid.meant < _BARE).astype(np.uint8), cv2.DIST_L2, 5) / px
    near = (away > _HAZE_NEAR_MM[0]) & (away < _HAZE_NEAR_MM[1]) & laid.inside
    far = (away > _HAZE_FAR_MM) & laid.inside
    if min(near.sum(), far.sum()) < _HAZE_LEAST_MM2 * px**2:
        return None
    return float(np.median(laid.l_star[near]) - np.median(laid.l_star[far]))


def _brown_share(laid: LaidOn) -> float | None:
    full = _full_mark(laid, _SPOT_RIM_MM)
    if not full.any():
        return None
    soft = cv2.GaussianBlur(laid.rgb, (0, 0), laid.px_per_mm / 2).astype(np.float32) / 255
    return float((lab_of(soft)[..., 2][full] > _BROWN_B).mean())


def flaws_from(kept: Mapping[str, Any]) -> Flaws:
    """Flaws as they were kept: `asdict` of them, lists for tuples."""
    nested = {"doubled": Doubled, "streaks": MarkStreaks, "spots": Spots, "edges": Edges}
    one = {name: make(**kept[name]) if kept[name] is not None else None for name, make in nested.items()}
    many = {name: tuple(Patch(**patch) for patch in kept[name]) for name in ("missing", "extra")}
    return Flaws(**{**kept, **one, **many})
