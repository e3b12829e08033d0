"""A lens's bend, read from sides that are straight on the piece."""

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from keencoat.core.vision.lens import bent, lens_of, straightened

SIZE = (1280, 960)
CORNERS = np.array([[150.0, 90], [1130, 140], [1090, 860], [110, 800]])


def sides(k1, rng, points=200, noise_px=0.0, far_off=0.0):
    """Points (n, 2) of four sides as a lens of this k₁ shows them, a share of them `far_off` from theirs."""
    for start, end in zip(CORNERS, np.roll(CORNERS, -1, axis=0), strict=True):
        flat = start + np.linspace(0.1, 0.9, points)[:, None] * (end - start)
        seen = bent(flat, k1, SIZE) + rng.normal(0, 1, flat.shape) * noise_px
        pulled = rng.random(points) < far_off
        yield seen + np.where(pulled, 12.0, 0.0)[:, None]


@given(k1=st.floats(-0.15, 0.15), x=st.floats(0, 1279), y=st.floats(0, 959))
def test_a_lenss_bend_against_opencv_and_back(k1, x, y):
    """OpenCV's own projection with k₁ alone, in half widths about the middle of the picture; and the way back."""
    point = np.array([[x, y]])
    camera = np.array([[640.0, 0, 639.5], [0, 640.0, 479.5], [0, 0, 1]])
    ray = np.array([[(x - 639.5) / 640, (y - 479.5) / 640, 1.0]])
    theirs = cv2.projectPoints(ray, np.zeros(3), np.zeros(3), camera, np.array([k1, 0, 0, 0]))[0][0]
    assert straightened(point, k1, SIZE) == pytest.approx(theirs, abs=1e-3)
    assert bent(straightened(point, k1, SIZE), k1, SIZE) == pytest.approx(point, abs=0.5)


@given(size=st.floats(0.02, 0.14), barrel=st.booleans(), seed=st.integers(0, 99), points=st.sampled_from([9, 60, 700]))
def test_the_lens_is_read_off_bent_sides(size, barrel, seed, points):
    k1 = -size if barrel else size
    plain = list(sides(k1, np.random.default_rng(seed), points))
    assert lens_of(plain, SIZE) == pytest.approx(k1, abs=6e-4)
    rough = list(sides(k1, np.random.default_rng(seed), 300, noise_px=0.5))
    assert lens_of(rough, SIZE) == pytest.approx(k1, abs=0.012)
    # What lies beside the line, a tick or a code, hardly pulls.
    pulled = list(sides(k1, np.random.default_rng(seed), 300, noise_px=0.3, far_off=0.12))
    assert lens_of(pulled, SIZE) == pytest.approx(k1, abs=0.015)


def test_no_lens_is_read_where_nothing_is_bent_or_too_little_to_tell():
    rng = np.random.default_rng(3)
    assert lens_of(list(sides(0.0, rng)), SIZE) == 0.0
    assert lens_of(list(sides(0.003, rng)), SIZE) == 0.0
    assert lens_of(list(sides(0.0, rng, noise_px=1.5)), SIZE) == 0.0
    # Of two points there is nothing to tell; a bend beyond what phones have is no lens's, but its sides say which way.
    assert lens_of([side[[0, -1]] for side in sides(0.1, rng)], SIZE) == 0.0
    assert lens_of(list(sides(-0.25, rng)), SIZE) == pytest.approx(-0.14, abs=0.01)
