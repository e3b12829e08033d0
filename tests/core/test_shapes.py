"""Things of a shape in a picture: faces against scipy, borders against the circle's and rectangle's own normals."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.ndimage import binary_fill_holes, gaussian_filter, uniform_filter

from keencoat.core.vision.shapes import border_points, candidates

SIZE = (480, 640)
CORNERS = np.array([[180.0, 130.0], [470.0, 150.0], [450.0, 360.0], [170.0, 340.0]])
RIM = np.array([[320.0, 140.0], [420.0, 240.0], [320.0, 340.0], [220.0, 240.0]])


def bench(noise=0.02):
    return np.random.default_rng(3).normal(0.4, noise, SIZE).astype(np.float32)


def drawn(points, value, round_shape=False):
    """Bench of ln light 0.4 with a thing of another light on it."""
    face = np.zeros(SIZE, np.uint8)
    if round_shape:
        cv2.circle(face, (320, 240), 100, 1, cv2.FILLED)
    else:
        cv2.fillPoly(face, [np.round(points).astype(np.int32)], 1)
    return (bench() + value * face).astype(np.float32)


@pytest.mark.parametrize("value", [0.9, -0.9])
@pytest.mark.parametrize("round_shape", [False, True])
def test_a_thing_is_found_at_most_thresholds_with_its_step(value, round_shape):
    """Thresholds by rank fall into the noise of bench or thing; those spread evenly over the light part both."""
    points = RIM if round_shape else CORNERS
    found = max(candidates(drawn(points, value, round_shape), round_shape), key=lambda c: c.levels)
    assert np.abs(found.points - points).max() < 1.5
    assert found.levels >= 25
    assert found.step == pytest.approx(value, abs=0.03)
    assert (found.trust, found.support) == (pytest.approx(1, abs=0.02), pytest.approx(1, abs=0.02))
    assert found.filled == pytest.approx(0, abs=0.03)


def test_a_rim_is_told_from_a_face():
    """Dark inside its edge and bright in its middle: its border is darker than its whole by the rim's step."""
    picture = drawn(CORNERS, -0.9)
    middle = CORNERS.mean(axis=0)
    inner = drawn(middle + 0.8 * (CORNERS - middle), 0.9) - bench()
    found = candidates(picture + inner, round_shape=False)[0]
    assert (found.step, found.filled) == (pytest.approx(-0.9, abs=0.05), pytest.approx(-0.9, abs=0.05))


def test_a_soft_border_is_stepped_over_at_a_reach_of_two_pixels_at_least():
    """Of an edge that rises evenly over 16 px the step is 2·2/16, wherever in it the outline was drawn."""
    face = np.zeros(SIZE)
    face[195:285, 245:395] = 0.9
    found = max(candidates(uniform_filter(face, 16).astype(np.float32), round_shape=False), key=lambda c: c.levels)
    assert found.step == pytest.approx(0.9 * 2 * 2 / 16, rel=0.06)


@pytest.mark.parametrize(("moat_px", "step"), [(3, 0.7), (4, 1.0)])
def test_a_border_is_looked_at_8_thousandths_of_the_things_diagonal_away(moat_px, step):
    """360 × 270 px, so 3.6 px: six tenths of a pixel beyond a moat of three, within one of four."""
    picture = np.full(SIZE, 0.5, np.float32)
    picture[105 - moat_px : 375 + moat_px, 140 - moat_px : 500 + moat_px] = 0.0
    picture[105:375, 140:500] = 1.0
    found = candidates(picture, round_shape=False)[-1]
    assert (found.step, found.support) == (pytest.approx(step, abs=0.05), 1.0)


@pytest.mark.parametrize(("beside", "support"), [(0.8, 0.75), (0.7, 1.0)])
def test_a_border_holds_where_its_step_is_over_a_quarter_of_the_usual_one(beside, support):
    """Beyond one of four sides it is nearly as light as inside."""
    picture = np.zeros(SIZE, np.float32)
    picture[100:380, 440:] = beside
    picture[140:340, 240:440] = 1.0
    found = [
        c for c in candidates(picture, round_shape=False) if c.area == pytest.approx(200 * 200 / (480 * 640), rel=0.02)
    ]
    assert found[0].support == pytest.approx(support, abs=0.01)


@pytest.mark.parametrize(
    ("width", "height", "found"), [(100, 110, False), (120, 118, True), (636, 474, False), (618, 464, True)]
)
def test_things_of_four_to_97_hundredths_of_the_picture_are_looked_at(width, height, found):
    left, top = (640 - width) // 2, (480 - height) // 2
    picture = np.zeros(SIZE, np.float32)
    picture[top : top + height, left : left + width] = 1.0
    assert [c.levels for c in candidates(picture, round_shape=False)] == [21] * found


def test_what_is_less_than_nine_tenths_of_its_shape_is_none():
    """A square with a corner of 6.5 in 100 cut off is one still; a disc is no square."""
    cut = np.array([[220.0, 140], [348, 140], [420, 212], [420, 340], [220, 340]])
    assert candidates(drawn(cut, 0.9), round_shape=False)
    assert not candidates(drawn(RIM, 0.9, round_shape=True), round_shape=False)


def test_the_largest_comes_first():
    small = np.array([[20.0, 20.0], [150.0, 22.0], [148.0, 140.0], [18.0, 138.0]])
    areas = [c.area for c in candidates(drawn(small, 1.5) + drawn(CORNERS, 0.9), round_shape=False)]
    assert areas == sorted(areas, reverse=True)
    for area, corners in ((areas[0], CORNERS), (areas[-1], small)):
        assert area == pytest.approx(cv2.contourArea(corners.astype(np.float32)) / (640 * 480), rel=0.06)


@pytest.mark.parametrize(("left", "top", "found"), [(200, 150, True), (0, 150, True), (0, 0, False), (440, 280, False)])
def test_what_two_sides_of_the_picture_cut_off_is_no_thing(left, top, found):
    at = np.array([[left, top], [left + 200, top], [left + 200, top + 200], [left, top + 200]], float)
    assert bool(candidates(drawn(at, 0.9), round_shape=False)) is found


def test_the_way_out_is_square_to_the_border():
    at, out = border_points(RIM, True, 30)
    assert np.allclose(np.linalg.norm(at - RIM.mean(axis=0), axis=1), 100)
    assert np.allclose(out, (at - RIM.mean(axis=0)) / 100, atol=1e-9)
    at, out = border_points(np.array([[0.0, 0.0], [100.0, 0.0], [100.0, 50.0], [0.0, 50.0]]), False, 30)
    assert at.shape == out.shape == (120, 2)
    assert np.allclose(out[::30], [[0, -1], [1, 0], [0, 1], [-1, 0]])
    assert np.allclose(at[[0, 29]], [[6, 0], [94, 0]])


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 200), st.floats(2, 8), st.sampled_from([-1, 1]))
def test_a_thing_is_its_face_without_holes_as_scipy_fills_them(seed, blur_px, sign):
    tile = np.zeros((240, 320), dtype=bool)
    tile[40:200, 60:260] = True
    tile[50:190, 70:250] = gaussian_filter(np.random.default_rng(seed).normal(size=(140, 180)), blur_px) > 0
    found = candidates(sign * tile.astype(np.float32), round_shape=False)
    assert found[0].area == binary_fill_holes(tile).mean()
    assert np.sign(found[0].step) == sign


def test_a_hairline_all_round_is_no_thing():
    picture = np.zeros((480, 640), np.float32)
    cv2.rectangle(picture, (200, 160), (330, 300), 1.0, 6)
    assert not candidates(picture, round_shape=False)
    cv2.rectangle(picture, (200, 160), (330, 300), 1.0, 24)
    assert candidates(picture, round_shape=False)
