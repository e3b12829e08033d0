"""From tones to dots, and from dots to a mark: against published kernels, matrices and closed forms."""

import dithering
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.special import erf
from shapely import Polygon
from skimage.data import camera, coins, page
from skimage.measure import grid_points_in_poly

from keencoat.core.artwork.filled import filled_dots
from keencoat.core.artwork.limits import finest_detail
from keencoat.core.artwork.screen import KERNELS, Screen, dots_of
from keencoat.core.artwork.spread import PLACES, DotModel, energies, flat_fullness, mean_fullness
from keencoat.core.errors import BadValueError
from keencoat.core.toolpath import bayer

PHOTOS = {"camera": camera(), "coins": coins(), "page": page()}
USUAL = DotModel(0.1, 0.1, 0.03, 0.25)


@pytest.mark.parametrize("screen", KERNELS)
@pytest.mark.parametrize("name", PHOTOS)
def test_error_diffusion_is_the_reference_librarys_dot_for_dot(screen, name):
    """Against the package `dithering` (its own code, in another language); to and fro on noise, since in photos a
    value that lies on the limit to the last bit falls either way."""
    noise = np.random.default_rng(len(name)).integers(0, 256, (200, 300), dtype=np.uint8)
    for grey, serpentine in ((PHOTOS[name], False), (noise, True)):
        white = dithering.error_diffusion(grey, screen.value, serpentine=serpentine) > 0
        assert (dots_of(grey.astype(np.float32) / 255, screen, serpentine) == white).all()


@pytest.mark.parametrize("screen", [s for s in KERNELS if s is not Screen.ATKINSON])
@pytest.mark.parametrize("tone", [0.05, 0.21, 0.5, 0.83])
def test_flats_keep_their_mean(screen, tone):
    assert dots_of(np.full((300, 300), tone, np.float32), screen).mean() == pytest.approx(tone, abs=0.003)


def test_atkinson_keeps_three_quarters_of_an_error_by_design():
    """So that light greys go out, and dark ones close."""
    kept = sum(share for *_, share in KERNELS[Screen.ATKINSON].taps)
    assert kept == pytest.approx(0.75)
    assert all(
        sum(share for *_, share in k.taps) == pytest.approx(1) for s, k in KERNELS.items() if s.value != "atkinson"
    )
    assert dots_of(np.full((200, 200), 0.06, np.float32), Screen.ATKINSON).mean() < 0.04


@pytest.mark.parametrize(("screen", "side"), [(Screen.BAYER_2, 2), (Screen.BAYER_4, 4), (Screen.BAYER_8, 8)])
def test_ordered_screens_are_bayers_matrices(screen, side):
    """Bayer 1973: his 4 × 4 by hand, and the reference library's own of each size."""
    assert (bayer(4) * 16 - 0.5).tolist() == [[0, 8, 2, 10], [12, 4, 14, 6], [3, 11, 1, 9], [15, 7, 13, 5]]
    assert sorted((bayer(side) * side**2 - 0.5).ravel().tolist()) == list(range(side**2))
    # The reference lights what lies above a full step less the matrix: its negative is ours.
    black = dithering.ordered_dither(PHOTOS["camera"], side) == 0
    ours = dots_of(1 - PHOTOS["camera"].astype(np.float32) / 255, screen)
    assert (ours != black).mean() < 0.002


def test_a_threshold_parts_at_the_middle_and_what_is_no_tone_is_refused():
    assert dots_of(np.array([[0.49, 0.5, 0.51]], np.float32), Screen.THRESHOLD).tolist() == [[False, True, True]]
    for bad in (np.full((2, 2), np.nan), np.array([[1.01]]), np.array([[-0.01]]), np.zeros((0, 4)), np.zeros(4)):
        with pytest.raises(BadValueError):
            dots_of(bad.astype(np.float32), Screen.STUCKI)


@pytest.mark.parametrize("over_w", [1.0, 1.5, 2.0])
def test_a_full_hatch_is_as_even_as_its_series_says(over_w):
    """F·v·h/P = 1 + 2Σ exp(−π²m²w²/2h²)·cos(2πmy/h), w the 1/e² radius (Fourier series of a row of Gaussians)."""
    model = DotModel(0.1, 0.1, 0.1 / over_w / 2, 0.2)
    found = [float(e[20, 20]) for e in energies(np.ones((41, 41), bool), model)]
    m = np.arange(1, 30)
    for n, energy in enumerate(found):
        y = (n // PLACES + 0.5) / PLACES - 0.5
        ripple = 1 + 2 * (np.exp(-((np.pi * m / over_w) ** 2) / 2) * np.cos(2 * np.pi * m * y)).sum()
        assert energy == pytest.approx(ripple, abs=0.004)


def test_a_lone_dot_gives_what_a_passing_beam_gives():
    """By numerical integration of a Gaussian spot that is on for one dot's length."""
    model = DotModel(0.1, 0.08, 0.035, 0.2)
    dots = np.zeros((9, 9), bool)
    dots[4, 4] = True
    found = [float(e[4, 4]) for e in energies(dots, model)]
    on = np.linspace(0, model.pitch_mm, 4001)
    for n, energy in enumerate(found):
        y = ((n // PLACES + 0.5) / PLACES - 0.5) * model.interval_mm
        x = (n % PLACES + 0.5) / PLACES * model.pitch_mm
        spot = np.exp(-((x - on) ** 2 + y**2) / (2 * model.sigma_mm**2)) / (2 * np.pi * model.sigma_mm**2)
        assert energy == pytest.approx(np.trapezoid(spot, on) * model.interval_mm, rel=1e-3)
    assert sum(float(e.sum()) for e in energies(dots, model)) / PLACES**2 == pytest.approx(1, abs=0.01)


@given(st.floats(0.02, 0.08), st.floats(-0.2, 0.6), st.floats(0.8, 6))
@settings(max_examples=30, deadline=None)
def test_a_fill_of_just_enough_is_as_full_as_photos_call_it_and_more_dots_are_fuller(sigma_mm, margin, pace):
    """0.80 in the mean of lines and gaps at the boundary; then on by `pace`, until gaps are full too."""
    at_boundary = DotModel(0.1, 0.1, sigma_mm, 0.0, pace)
    full = np.ones((21, 21), bool)
    assert mean_fullness(full, at_boundary)[10, 10] == pytest.approx(0.80, abs=0.01)
    model = DotModel(0.1, 0.1, sigma_mm, margin, pace)
    curve = flat_fullness(np.linspace(0, 1, 5), Screen.BAYER_4, model)
    assert curve[0] == 0
    assert (np.diff(curve) >= -1e-6).all()
    more = flat_fullness(np.linspace(0, 1, 5), Screen.BAYER_4, DotModel(0.1, 0.1, sigma_mm, margin + 0.2, pace))
    assert (more >= curve - 1e-6).all()
    # A spot far finer than its lines never reaches the places between: what it marks is full, the rest bare.
    assert more.sum() > curve.sum() or sigma_mm < 0.03


def test_wide_lines_at_just_enough_follow_the_logarithm():
    """Where neighbours even each other out, 0.80 + pace·ln(energy), whatever the lines."""
    full = np.ones((41, 41), bool)
    for margin, expected in ((-0.2, 0.4), (-0.1, 0.6), (0.05, 0.9), (-0.5, 0.0), (0.5, 1.0)):
        assert mean_fullness(full, DotModel(0.1, 0.1, 0.1, margin, 2.0))[20, 20] == pytest.approx(expected, abs=0.005)
    assert mean_fullness(full, DotModel(0.1, 0.1, 0.1, -0.1, 2.0), -0.1)[20, 20] == pytest.approx(0.4, abs=0.005)


def test_the_finest_line_and_gap_are_where_the_mark_is_half_full():
    """By looking along a single line, and between two fills, step by step."""
    model = DotModel(0.1, 0.1, 0.04, 0.35, 2.0)
    detail = finest_detail(model)
    y = np.linspace(-0.3, 0.3, 60_001)
    line = model.interval_mm / (np.sqrt(2 * np.pi) * model.sigma_mm) * np.exp(-0.5 * (y / model.sigma_mm) ** 2)
    assert detail.line_mm == pytest.approx((model.fullness(model.reached(line)) >= 0.5).sum() * (y[1] - y[0]), abs=1e-3)
    for gap_mm, is_open in ((detail.gap_mm * 1.05, True), (detail.gap_mm * 0.95, False)):
        middle = 1 - erf(gap_mm / 2 / model.sigma_mm / np.sqrt(2))
        assert (model.fullness(model.reached(np.array([middle])))[0] < 0.5) == is_open
    assert detail.capital_mm == pytest.approx(0.2 / 0.13)
    wide = finest_detail(DotModel(0.1, 0.1, 0.15, 1.6, 2.0))
    assert wide.capital_mm == pytest.approx(max(wide.line_mm, wide.gap_mm) / 0.13)
    assert wide.capital_mm > 0.25 / 0.13
    assert finest_detail(DotModel(0.1, 0.1, 0.12, 0.1)).line_mm == 0
    assert finest_detail(DotModel(0.1, 0.1, 0.12, 0.1)).gap_mm < finest_detail(DotModel(0.1, 0.1, 0.12, 0.6)).gap_mm


@given(
    st.lists(st.tuples(st.floats(0, 9), st.floats(0, 6)), min_size=3, max_size=7),
    st.lists(st.tuples(st.floats(1, 4), st.floats(1, 3)), min_size=0, max_size=5),
)
@settings(max_examples=60, deadline=None)
def test_dots_lie_inside_outlines_as_another_library_finds_them(outer, inner):
    """skimage's point in polygon, for each dot's middle; holes are parted from it as shapely has them."""
    area = Polygon(outer).buffer(0).difference(Polygon(inner).buffer(0) if len(inner) > 2 else Polygon())
    pitch, interval, rows, columns = 0.37, 0.21, 30, 26
    ours = filled_dots(area, -0.2, -0.1, pitch, interval, (rows, columns))
    expected = np.zeros((rows, columns), bool)
    for part in getattr(area, "geoms", [area]):
        for ring in [part.exterior, *part.interiors] if part.area else []:
            points = (np.array(ring.coords) - [-0.2 + pitch / 2, -0.1]) / [pitch, interval]
            expected ^= grid_points_in_poly((rows, columns), points[:, ::-1])
    assert (ours != expected).sum() <= 2


def test_a_rectangle_and_its_hole_are_counted_by_hand():
    area = Polygon([(0, 0), (2, 0), (2, 1), (0, 1)], [[(0.5, 0.2), (1, 0.2), (1, 0.6), (0.5, 0.6)]])
    dots = filled_dots(area, 0, 0.05, 0.1, 0.1, (12, 25))
    assert dots.sum() == 20 * 10 - 5 * 4
    assert dots[0, :20].all()
    assert not dots[0, 20:].any()
    assert not dots[10:].any()
    assert not dots[3, 5:10].any()
    assert dots[3, 4]
    assert dots[3, 10]
