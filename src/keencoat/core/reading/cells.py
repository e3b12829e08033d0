"""Measuring each cell of a straightened grid: contrast, gaps, specks, evenness, stripes, edges, haze, fine strokes.

Light is evened by a smooth surface through the bare ground. Contrast is told in L* (CIE 1976), and as a share of what
a full mark has on this piece, so that unlike processes and photos compare.
"""

import math
from dataclasses import dataclass, replace

import cv2
import numpy as np

from keencoat.core.errors import BadValueError
from keencoat.core.grid import PlacedCell
from keencoat.core.reading.doubts import (
    COVERED_SHARE,
    SHADED_LN,
    VEILED,
    Doubt,
    covered_share,
    edge_blur_mm,
    ground_off_ln,
)
from keencoat.core.reading.face import INSET_MM, Face, even_light, frame_tone, haze_beside
from keencoat.core.reading.gridframe import FoundFrame
from keencoat.core.reading.gridplan import Mask, Sight, sample_masks
from keencoat.core.reading.refine import LOOK_PX_PER_MM, refined
from keencoat.core.reading.view import View, straighten
from keencoat.core.vision import (
    Floats,
    Photo,
    Pixels,
    delta_e_2000,
    lightness_of,
    michelson_contrast,
    weber_contrast,
)

LEAST_PX_PER_MM, MOST_PX_PER_MM = 6, 16
_MOST_BLUR_MM = 0.3
_STRIPE_PX = 2.5
_SPECK_LEAST = 0.16
_GAP = 0.55
_COLOUR_NOISE = 2.0
_WIDEST_CHIP_MM, _GAP_RIM_MM = 0.7, 0.3


@dataclass(frozen=True)
class CellReading:
    """What a photo shows of one cell. Shares are of the patch's area, 0…1; L* differences are fill against ground.

    contrast_l: signed, brighter is positive. weber, michelson: the same in luminance. full_share: contrast against a
    full mark's on this piece. gap_share: left unmarked or faint. unevenness: spread over half a millimetre, against
    the contrast. stripes: swing at the line pitch against the contrast, None where the photo cannot resolve it.
    specks: chips, holes and pits. roughness_mm: raggedness of the edges. haze: tone beside the mark against a full
    mark's. tint_de: ΔE2000 off the line from ground to mark. strokes_seen: share of the fine strokes that survive, and
    whether they run together; None without a sample.
    hole_share: in gaps wider than a chip, against the rest of the patch.
    doubts: why the cell is to be looked at by eye (`doubts.Doubt`).
    """

    code: str
    contrast_l: float
    weber: float
    michelson: float
    full_share: float
    gap_share: float
    unevenness: float
    stripes: float | None
    speck_share: float
    speck_count: int
    roughness_mm: float
    haze: float
    tint_de: float
    strokes_seen: float | None
    strokes_merged: bool | None
    doubts: tuple[str, ...] = ()
    blur_mm: float = 0.0
    hole_share: float = 0.0


@dataclass(frozen=True, eq=False)
class GridReading:
    """All cells of one photo: `upright` (rows, columns, 3) straight on, light as it was; its resolution in px/mm;
    the L* contrast of a full mark; how noisy the ground is, L*."""

    found: FoundFrame
    cells: tuple[CellReading, ...]
    upright: Pixels
    px_per_mm: int
    full_l: float
    noise_l: float


@dataclass(frozen=True, eq=False)
class _Look:
    """A face with each pixel's share of a full mark, the full mark's L* contrast and colour, and where strokes are."""

    face: Face
    share: Floats
    full: float
    full_lab: Floats
    strokes: Mask
    between: Mask
    blur_mm: float


def read_grid_photo(photo: Photo, found: FoundFrame, sight: Sight) -> GridReading:
    """Measure every cell of the sheet that `sight` describes, at its own resolution.

    Raises BadValueError if the photo is too coarse to tell.
    """
    corners = np.array(found.outline.points) * photo.size_px - 0.5
    left, low, right, top = sight.box
    sides = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
    seen = float(sides.sum() / (2 * (right - left + top - low)))
    if seen < LEAST_PX_PER_MM - 1:
        raise BadValueError(
            f"The grid has only {seen:.1f} pixels a millimetre in this photo.",
            field="photo",
            hint=f"Go nearer, until the frame fills the picture: {LEAST_PX_PER_MM} are needed.",
        )
    sight = Sight(sight.layout, int(min(MOST_PX_PER_MM, max(LEAST_PX_PER_MM, round(seen)))), sight.bend)
    view = View(corners, found.outline.lens)
    if sight.layout.frame is not None and sight.bend is not None:
        view = refined(lightness_of(photo.rgb), view, replace(sight, px_per_mm=LOOK_PX_PER_MM))
    upright = straighten(photo.rgb, view, sight)
    face = even_light(upright, sight)
    blur = _blur_mm(face, sight)
    if blur > _MOST_BLUR_MM:
        raise BadValueError(
            f"The photo is blurred: edges are smeared over {2.56 * blur:.1f} mm.",
            field="photo",
            hint="Rest the phone on something, tap on the grid to focus, and take it again.",
        )
    smooth = cv2.GaussianBlur(face.l_star, (0, 0), 0.04 * sight.px_per_mm + 0.3)
    strength = face.sign * (smooth - face.ground_l)
    full = _full_mark(strength, face, sight)
    share = np.asarray(strength / full, dtype=np.float32)
    look = _Look(face, share, full, _full_tone(face, share, sight), *sample_masks(sight), blur)
    cells = tuple(_read_cell(placed, look, sight) for placed in sight.layout.cells)
    return GridReading(found, cells, upright, sight.px_per_mm, full, face.noise)


def _blur_mm(face: Face, sight: Sight) -> float:
    """How far edges are smeared, as the σ of a Gaussian edge in mm: the step over its steepest slope times √(2π).

    (10 to 90 % of such an edge take 2.5631 σ.) The sharpest tenth of the picture's edges count.
    """
    slope = np.hypot(cv2.Sobel(face.l_star, cv2.CV_32F, 1, 0), cv2.Sobel(face.l_star, cv2.CV_32F, 0, 1)) / 8
    tones = np.percentile(face.l_star, [1, 99])
    steepest = float(np.percentile(slope, 99.5))
    return float(tones[1] - tones[0]) / max(1e-3, steepest) / math.sqrt(2 * math.pi) / sight.px_per_mm


def _full_mark(strength: Floats, face: Face, sight: Sight) -> float:
    """The contrast of a full mark, L*: what the strongest patches without specks agree on. A grid of nothing but
    faint cells has its frame to tell."""
    ranked = []
    for placed in sight.layout.cells:
        patch = strength[sight.patch(placed, INSET_MM)]
        middle = float(np.median(patch))
        busy = float((np.abs(patch - middle) > max(5 * face.noise, 0.16 * abs(middle))).mean())
        ranked.append((busy > 0.08, -middle))
    calm = sorted(-middle for busy, middle in ranked if not busy) or [-middle for _, middle in ranked]
    calm += [face.sign * tone for tone in frame_tone(face.l_star, face.ground_l, sight)]
    calm.sort(reverse=True)
    return max(6.0, calm[min(len(calm) - 1, len(calm) // 6)])


def _full_tone(face: Face, share: Floats, sight: Sight) -> Floats:
    """The colour of a full mark on this piece: the median of the patches nearest to a full share."""
    ranked = sorted(sight.layout.cells, key=lambda c: abs(float(np.median(share[sight.patch(c, INSET_MM)])) - 1.0))
    tones = [np.median(face.lab[sight.patch(c, INSET_MM)].reshape(-1, 3), axis=0) for c in ranked[:3]]
    return np.asarray(np.median(tones, axis=0))


def _read_cell(placed: PlacedCell, look: _Look, sight: Sight) -> CellReading:
    px, face = sight.px_per_mm, look.face
    window = sight.patch(placed, INSET_MM)
    base = _base(placed, look, sight)
    patch = look.share[window] - base
    wide = max(3, round(1.1 * px)) | 1
    broad = cv2.blur(patch, (wide, wide))
    fine = np.hypot(patch - _median_share(patch, wide), _off_colour(face.lab[window], wide, px) / look.full)
    holes = _in_gap(patch, px)
    specks, count = _specks(np.where(holes, 0, fine), face.noise / look.full, px)
    y_fill, y_ground = float(np.median(face.y[window])), face.ground_y
    half = cv2.blur(patch, (max(3, round(0.5 * px)) | 1,) * 2)
    middle = float(np.median(patch))
    seen, merged = _strokes(placed, base, look, sight) if placed.sample_mm else (None, None)
    return CellReading(
        code=placed.cell.code,
        contrast_l=round(face.sign * float(np.mean(patch)) * look.full, 2),
        weber=round(weber_contrast(y_fill, max(1e-4, y_ground)), 3),
        michelson=round(michelson_contrast(y_fill, max(1e-4, y_ground)), 4),
        full_share=round(middle, 3),
        gap_share=round(float((np.minimum(broad, half) < _GAP).mean()), 4),
        unevenness=round(float(1.4826 * np.median(np.abs(half - np.median(half)))) / max(0.1, abs(middle)), 4),
        stripes=_stripes(patch, placed.cell.setting.interval_mm * px, middle),
        speck_share=round(specks, 4),
        speck_count=count,
        roughness_mm=round(_roughness(placed, look.share - base, middle, sight), 3),
        haze=round(haze_beside(placed, look.share, sight) - base, 3),
        tint_de=round(_tint(np.median(face.lab[window].reshape(-1, 3), axis=0), look), 2),
        strokes_seen=seen,
        strokes_merged=merged,
        doubts=_doubts(placed, look, middle, y_fill / max(1e-4, y_ground), sight),
        blur_mm=round(_cell_blur_mm(placed, look, look.share - base, middle, sight), 3),
        hole_share=round(float(holes.mean()), 4),
    )


def _cell_blur_mm(placed: PlacedCell, look: _Look, share: Floats, middle: float, sight: Sight) -> float:
    """How far the cell's own edges are smeared (σ, mm); for a cell without any, the photo's."""
    half, beside = placed.side_mm / 2, min(1.0, sight.layout.gap_mm / 2)
    strip = sight.window(
        placed.x_mm - half - beside, placed.y_mm - 0.8 * half, placed.x_mm + half + beside, placed.y_mm + 0.8 * half
    )
    blur = edge_blur_mm(share[strip], middle, sight.px_per_mm)
    # A ragged or haloed edge is no blur of the lens: twice the photo's sharpest edges is the most that is believed.
    return look.blur_mm if blur is None else min(blur, 2 * look.blur_mm)


def _doubts(placed: PlacedCell, look: _Look, middle: float, fill_ratio: float, sight: Sight) -> tuple[str, ...]:
    face, near = look.face, _around(placed, sight, 0.0)
    bare = face.bare[near]
    found = []
    if ground_off_ln(face.y[near], bare, face.ground_y) > SHADED_LN:
        found.append(Doubt.SHADED)
    if middle > 0.6 and abs(fill_ratio - 1) / (fill_ratio + 1) < VEILED:
        found.append(Doubt.VEILED)
    if covered_share(face.lab[near], bare, face.ground_lab) > COVERED_SHARE:
        found.append(Doubt.COVERED)
    return tuple(str(d) for d in found)


def _around(placed: PlacedCell, sight: Sight, beyond_mm: float) -> tuple[slice, slice]:
    """A cell with its sample, the gap round it and so much beyond."""
    reach = placed.side_mm / 2 + sight.layout.gap_mm + beyond_mm
    return sight.window(
        placed.x_mm - reach, placed.y_mm - reach - placed.sample_mm, placed.x_mm + reach, placed.y_mm + reach
    )


def _base(placed: PlacedCell, look: _Look, sight: Sight) -> float:
    """The ground near a cell: what the evening of light has missed. Of all that is bare near it the least marked
    quarter, so that haze does not count as ground."""
    window = _around(placed, sight, 1.0)
    near = look.share[window][look.face.bare[window]]
    return float(np.clip(np.percentile(near, 25), -0.1, 0.1)) if len(near) > 20 else 0.0


def _tint(tone: Floats, look: _Look) -> float:
    """How far a colour lies from every mix of ground and full mark: ΔE2000 to the nearest of them."""
    ground = look.face.ground_lab
    line = look.full_lab - ground
    along = float(np.clip(np.dot(tone - ground, line) / max(1e-6, float(np.dot(line, line))), 0, 1.05))
    return float(delta_e_2000(tone, ground + along * line))


def _median_share(patch: Floats, wide: int) -> Floats:
    """A median over `wide` pixels, worked out in eight bits: share 0…1.6 of a full mark."""
    coded = np.clip((patch + 0.3) * 128, 0, 255).astype(np.uint8)
    return np.asarray(cv2.medianBlur(coded, min(wide, 31)).astype(np.float32) / 128 - 0.3)


def _off_colour(lab: Floats, wide: int, px: int) -> Floats:
    """How far each pixel's a*b* lies beyond noise from the middle of what is round it: a blot may be as light as the
    mark. JPEG tells colour coarsely, so that a quarter of a millimetre counts as one."""
    soft = cv2.blur(lab[..., 1:], (max(3, round(0.25 * px)) | 1,) * 2)
    off = [
        channel
        - (cv2.medianBlur(np.clip(channel + 128, 0, 255).astype(np.uint8), min(wide, 31)).astype(np.float32) - 128)
        for channel in (soft[..., 0], soft[..., 1])
    ]
    return np.asarray(np.maximum(np.hypot(*off) - _COLOUR_NOISE, 0), dtype=np.float32)


def _in_gap(patch: Floats, px: int) -> Mask:
    """Where a mark has a gap: what is much fainter than its middle over more than a chip's width, with its rim. What is
    fine in there is no chip."""
    faint = (patch < _GAP * float(np.median(patch))).astype(np.uint8)
    core = cv2.morphologyEx(faint, cv2.MORPH_OPEN, _disc(_WIDEST_CHIP_MM / 2 * px))
    return np.asarray(cv2.dilate(core, _disc(_GAP_RIM_MM * px)) > 0)


def _disc(radius_px: float) -> np.ndarray:
    size = 2 * math.ceil(radius_px) + 1
    return cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))


def _specks(fine: Floats, noise: float, px: int) -> tuple[float, int]:
    """Share and number of small spots that differ from what is round them by over a noise's reach, at least 0.1 mm
    wide."""
    spots = (fine > max(_SPECK_LEAST, 5 * noise)).astype(np.uint8)
    count, _, stats, _ = cv2.connectedComponentsWithStats(spots, connectivity=8)
    least = max(3.0, (0.11 * px) ** 2 * math.pi / 4)
    large = [n for n in range(1, count) if stats[n, cv2.CC_STAT_AREA] >= least]
    area = sum(int(stats[n, cv2.CC_STAT_AREA]) for n in large)
    return area / fine.size, len(large)


def _stripes(patch: Floats, pitch_px: float, middle: float) -> float | None:
    """Swing at the line pitch over the rows' means, against the mark (peak to peak)."""
    if pitch_px < _STRIPE_PX or len(patch) < 4 * pitch_px:
        return None
    rows = patch.mean(axis=1) - cv2.blur(patch.mean(axis=1), (1, 2 * round(pitch_px) + 1))[:, 0]
    turn = np.exp(-2j * math.pi * np.arange(len(rows)) / pitch_px)
    return round(float(4 * abs((rows * turn).mean())) / max(0.15, abs(middle)), 3)


def _roughness(placed: PlacedCell, share: Floats, middle: float, sight: Sight) -> float:
    """Spread of where the left and right edge cross half the mark, mm: raggedness as ISO/IEC 13660 means it."""
    if middle < 0.25:
        return 0.0
    half, px = placed.side_mm / 2, sight.px_per_mm
    spreads = []
    for way in (-1, 1):
        x = placed.x_mm + way * half
        strip = share[sight.window(x - 0.8, placed.y_mm - half + 0.6, x + 0.8, placed.y_mm + half - 0.6)]
        strip = strip if way < 0 else strip[:, ::-1]
        over = cv2.GaussianBlur(strip, (0, 0), 0.7) > middle / 2
        first = np.where(over.any(axis=1), over.argmax(axis=1), np.nan)
        spreads.append(float(np.nanstd(first)) / px if np.isfinite(first).sum() > 5 else 0.0)
    return float(np.mean(spreads))


def _strokes(placed: PlacedCell, base: float, look: _Look, sight: Sight) -> tuple[float, bool]:
    """Share of the fine strokes' length that stands out, and whether they have run together."""
    window = sight.window(*placed.sample)
    on, off, local = look.strokes[window], look.between[window], look.share[window]
    if not on.any() or not off.any():
        return 0.0, False
    ground = float(np.median(local[off]))
    level = max(0.10, 3 * look.face.noise / look.full)
    # A stroke is seen where its middle is; a pixel of slack for how well the frame was found.
    top = cv2.dilate(local, np.ones((3, 3), np.uint8))
    return round(float((top[on] - ground > level).mean()), 3), ground - base > 0.45
