"""Cells that are painted pixel by pixel, straight on: every figure that is measured against what was painted."""

import math
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from scipy.stats import norm
from skimage.color import deltaE_ciede2000, rgb2lab

from keencoat.core.grid.layout import STROKE_MM
from keencoat.core.grid.strokes import sample_strokes
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.reading.cells import read_grid_photo
from keencoat.core.reading.doubts import Doubt
from keencoat.core.reading.gridframe import FoundFrame
from keencoat.core.reading.gridplan import MARGIN_MM, Sight, frame_mask, ground_mask, inner_mask, sample_masks
from keencoat.core.vision import EdgeKind, Photo, SeenOutline, linear_of
from tests.core.conftest import make_machine
from tests.core.test_grid_files import drawn

PX = 12
BARE, MARK = np.array([74, 74, 74]), np.array([210, 210, 210])
"""Codes of bare ground and of a full mark."""


@pytest.fixture(scope="module")
def layout():
    return drawn(make_machine(), FlatPiece(Shape.RECTANGLE, 100, 80, 4))[0]


class Painted:
    """A photo of a grid that lies straight, its frame's corners where they are."""

    def __init__(self, layout):
        self.layout, self.sight = layout, Sight(layout, PX)
        width, height = self.sight.size_px
        self.share = np.zeros((height, width))
        self.colour = {}
        self.share[frame_mask(self.sight) | inner_mask(self.sight)] = 1
        for placed in layout.cells:
            self.share[self.sight.patch(placed, 0)] = 1
        for stroke_mask in sample_masks(self.sight)[:1]:
            self.share[stroke_mask] = 1

    def patch(self, n):
        return self.sight.patch(self.layout.cells[n], 0)

    def read(self, light=1.0, veil=0.0):
        y_bare, y_mark = (linear_of(c / 255.0) for c in (BARE, MARK))
        linear = (y_bare + (y_mark - y_bare) * self.share[..., None]) * light + veil
        code = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)
        rgb = np.rint(255 * code).astype(np.uint8)
        for where, tone in self.colour.values():
            rgb[where] = tone
        height, width = self.share.shape
        margin = MARGIN_MM * PX
        corners = [
            (margin, margin),
            (width - margin, margin),
            (width - margin, height - margin),
            (margin, height - margin),
        ]
        outline = SeenOutline(EdgeKind.CORNERS, tuple((x / width, y / height) for x, y in corners))
        return read_grid_photo(Photo(rgb, 1.0, "PNG"), FoundFrame(outline), Sight(self.layout, 6))


def l_of(code):
    return float(rgb2lab(np.array([[code]], dtype=np.uint8))[0, 0, 0])


def test_a_full_cell_is_full_and_has_no_fault(layout):
    reading = Painted(layout).read()
    assert reading.px_per_mm == PX
    assert reading.full_l == pytest.approx(l_of(MARK) - l_of(BARE), abs=0.3)
    assert reading.noise_l == pytest.approx(0, abs=0.05)
    for cell in reading.cells:
        assert cell.contrast_l == pytest.approx(reading.full_l, abs=0.3)
        assert cell.full_share == pytest.approx(1, abs=0.01)
        assert (cell.gap_share, cell.speck_share, cell.speck_count) == (0, 0, 0)
        assert cell.unevenness < 0.01
        assert cell.roughness_mm < 0.02
        assert cell.haze == pytest.approx(0, abs=0.02)
        assert cell.tint_de < 0.3
        assert cell.doubts == ()
        assert cell.strokes_merged is False
        assert cell.strokes_seen > 0.98


def faults_on(layout):
    """One fault a cell, of known size: what is read of them, and how ragged the fifth was painted, mm."""
    painted = Painted(layout)
    share, rng = painted.share, np.random.default_rng(2)
    rows, columns = painted.patch(0)
    share[rows, columns] = 0.5
    rows, columns = painted.patch(1)
    share[rows, columns.start : columns.start + (columns.stop - columns.start) // 3] = 0
    rows, columns = painted.patch(2)
    side, holes = round(0.4 * PX), 7
    for n in range(holes):
        row, column = rows.start + 10 + 8 * n, columns.start + 12 + 7 * (n % 4) * 2
        share[row : row + side, column : column + side] = 0
    rows, columns = painted.patch(3)
    pitch = layout.cells[3].cell.setting.interval_mm * PX * 4
    share[rows, columns] = (1 + 0.2 * np.cos(2 * math.pi * np.arange(rows.stop - rows.start) / pitch))[:, None] * 0.8
    rows, columns = painted.patch(4)
    bites = np.repeat(rng.normal(0, 0.15, 40), 9)[: rows.stop - rows.start]
    for row, bite in zip(range(rows.start, rows.stop), bites, strict=True):
        for edge in (columns.start, columns.stop):
            near = slice(edge - 8, edge + 8)
            across = (np.arange(near.start, near.stop) + 0.5 - edge - bite * PX) * (1 if edge == columns.start else -1)
            share[row, near] = np.clip(across + 0.5, 0, 1)
    placed = layout.cells[5]
    share[painted.sight.patch(placed, -0.9)] = 0.4
    share[painted.patch(5)] = 1
    painted.colour["blot"] = (painted.patch(6), (150, 96, 40))
    strokes, _ = sample_masks(painted.sight)
    window = painted.sight.window(*layout.cells[7].sample)
    share[window] = np.where(strokes[window], 0, share[window])
    left = slice(window[1].start, (window[1].start + window[1].stop) // 2)
    share[window[0], left] = strokes[window[0], left]
    share[painted.sight.window(*layout.cells[8].sample)] = 0.7
    cut = round(0.6 * PX)
    return {cell.code: cell for cell in painted.read().cells}, float(np.std(bites[cut:-cut]))


def test_each_fault_is_as_large_as_it_was_painted(layout):
    cells, spread_mm = faults_on(layout)
    half, gap, holes, striped, ragged, hazy, tinted, fewer, merged = (
        cells[layout.cells[n].cell.code] for n in range(9)
    )
    y_half = (linear_of(BARE[0] / 255) + linear_of(MARK[0] / 255)) / 2
    code_half = 255 * (1.055 * y_half ** (1 / 2.4) - 0.055)
    l_half = (l_of(np.full(3, round(code_half))) - l_of(BARE)) / (l_of(MARK) - l_of(BARE))
    assert half.full_share == pytest.approx(l_half, abs=0.03)
    inset = layout.cells[1].side_mm - 0.8
    bare_mm = layout.cells[1].side_mm // (1 / PX) // 3 / PX - 0.4
    assert gap.gap_share == pytest.approx(bare_mm / inset, abs=0.04)
    assert gap.full_share == pytest.approx(1, abs=0.02)
    assert gap.speck_count == 0
    assert holes.speck_count == 7
    # Each side of 5 px grows by where a Gaussian of 0.78 px, by which the picture is smoothed, falls to 0.16.
    wide = 5 + 2 * 0.78 * norm.isf(0.16)
    assert holes.speck_share == pytest.approx(7 * (wide / PX) ** 2 / inset**2, rel=0.08)
    assert holes.gap_share < 0.03
    assert ragged.roughness_mm == pytest.approx(spread_mm, rel=0.12)
    assert hazy.haze == pytest.approx(lightness_share(0.4), abs=0.05)
    assert hazy.full_share == pytest.approx(1, abs=0.03)
    tone, ground = (rgb2lab(np.array([[c]], dtype=np.uint8))[0, 0] for c in ((150, 96, 40), BARE))
    along = [
        ground + k * (rgb2lab(np.array([[MARK]], dtype=np.uint8))[0, 0] - ground) for k in np.linspace(0, 1.05, 200)
    ]
    assert tinted.tint_de == pytest.approx(min(float(deltaE_ciede2000(tone, mix)) for mix in along), rel=0.1)
    assert fewer.strokes_seen == pytest.approx(0.5, abs=0.15)
    assert fewer.strokes_merged is False
    assert merged.strokes_merged is True
    others = [cells[placed.cell.code] for placed in layout.cells[9:]]
    for cell in (striped, half, hazy):
        assert cell.speck_count == 0
    for cell in others:
        assert cell.full_share == pytest.approx(1, abs=0.03)
        assert (cell.gap_share, cell.speck_count) == (0, 0)


def lightness_share(share):
    """L* of a mix of bare ground and full mark, as a share of the full mark's contrast."""
    y = (1 - share) * linear_of(BARE / 255.0).mean() + share * linear_of(MARK / 255.0).mean()
    grey = lambda code: 116 * np.cbrt(linear_of(np.asarray(code) / 255.0).mean()) - 16  # noqa: E731
    return (116 * np.cbrt(y) - 16 - grey(BARE)) / (grey(MARK) - grey(BARE))


@pytest.mark.parametrize("swing", [0.1, 0.3])
def test_stripes_swing_as_they_were_painted(layout, swing):
    """Against the mark, peak to peak, at the line distance of the cell; a grid of wide lines, that the photo tells."""
    wide = [
        replace(c, cell=replace(c.cell, setting=replace(c.cell.setting, interval_mm=0.3))) for c in layout.cells[:1]
    ]
    painted = Painted(replace(layout, cells=(*wide, *layout.cells[1:])))
    rows, columns = painted.patch(0)
    pitch = 0.3 * PX
    painted.share[rows, columns] = (
        0.9 + swing / 2 * np.cos(2 * math.pi * np.arange(rows.stop - rows.start) / pitch)[:, None]
    )
    striped, fine = painted.read().cells[:2]
    assert fine.stripes is None, "lines of 0.1 mm are finer than the photo"
    # In L*, which rises by so much about 0.9, after the Gaussian of 0.78 px that smooths the picture.
    kept = math.exp(-2 * (math.pi * 0.78 / pitch) ** 2)
    swing_l = lightness_share(0.9 + swing / 2) - lightness_share(0.9 - swing / 2)
    assert striped.stripes == pytest.approx(swing_l * kept / lightness_share(0.9), rel=0.1)


def test_light_that_falls_off_changes_no_figure_and_a_shadow_is_told(layout):
    painted = Painted(layout)
    height, width = painted.share.shape
    falling = (1 + 0.3 * np.linspace(-1, 1, width))[None, :, None]
    even, aslant = painted.read(), painted.read(falling)
    for one, other in zip(even.cells, aslant.cells, strict=True):
        assert other.full_share == pytest.approx(one.full_share, abs=0.04)
        assert other.haze == pytest.approx(one.haze, abs=0.03)
        assert other.doubts == ()
    first = layout.cells[0]
    shade = np.ones((height, width, 1))
    shade[painted.sight.patch(first, -layout.gap_mm)] = 0.8
    dark = painted.read(shade).cells
    assert "in a shadow" in dark[0].doubts
    assert "in a shadow" not in dark[-1].doubts


def test_masks_lie_where_the_layout_puts_things(layout):
    """Areas by the pixel, against areas in mm² from the layout's own figures."""
    sight = Sight(layout, 20)
    left, low, right, top = sight.box
    mm2 = 400.0
    ring = (right - left) * (top - low) - (right - left - 2 * STROKE_MM) * (top - low - 2 * STROKE_MM)
    assert frame_mask(sight).sum() / mm2 == pytest.approx(ring, rel=0.02)
    ground = ground_mask(sight)
    rows, columns = np.nonzero(ground)
    ys, xs = top + MARGIN_MM - (rows + 0.5) / 20, left - MARGIN_MM + (columns + 0.5) / 20
    assert xs.min() > left + STROKE_MM + 0.7 - 0.06
    assert xs.max() < right - STROKE_MM - 0.7 + 0.06
    assert ys.min() > low + STROKE_MM + 0.7 - 0.06
    assert ys.max() < top - STROKE_MM - 0.7 + 0.06
    assert xs.min() < left + STROKE_MM + 0.7 + 0.2
    assert ys.max() > top - STROKE_MM - 0.7 - 0.2
    near = min(
        max(abs(x - c.x_mm), abs(y - c.y_mm)) - c.side_mm / 2
        for c in layout.cells
        for x, y in zip(xs[::97], ys[::97], strict=True)
    )
    assert 0.63 < near < 1.0
    strokes, between = sample_masks(sight)
    length = sum(math.dist(a, b) for c in layout.cells for s in sample_strokes(c) for a, b in pairwise(s))
    assert strokes.sum() / mm2 == pytest.approx(0.12 * length, rel=0.3)
    boxes = sum((c.sample[2] - c.sample[0]) * (c.sample[3] - c.sample[1]) for c in layout.cells if c.sample_mm)
    assert not (strokes & between).any()
    assert 0.2 * boxes < between.sum() / mm2 < 0.8 * boxes


def test_what_is_marked_and_hardly_stands_out_lies_under_a_veil_of_light(layout):
    """Mark over ground 2.4 in luminance: under 2.64 it is hardly told, from 0.6 of a full mark on."""
    painted = Painted(layout)
    for n, share in enumerate((0.45, 0.55, 0.65, 0.75)):
        painted.share[painted.patch(n)] = share
    cells = painted.read(veil=0.35).cells
    shares = [cell.full_share for cell in cells[:4]]
    assert shares == sorted(shares)
    assert shares[0] < 0.6 < shares[2] < 0.78
    assert [Doubt.VEILED in cell.doubts for cell in cells] == [cell.full_share > 0.6 for cell in cells]
    assert not any(Doubt.VEILED in cell.doubts for cell in painted.read().cells)
