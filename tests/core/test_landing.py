"""Where a whole mark lies: against scikit-image's own similarity and its phase correlation."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.special import expit
from skimage.registration import phase_cross_correlation
from skimage.transform import AffineTransform, warp

from keencoat.core.artwork.landing import landing_of, shift_between

ROWS, COLUMNS = 300, 380


def leaves():
    """Some leaves and bars, in no way symmetrical, soft as a photo is."""
    y, x = np.mgrid[0:ROWS, 0:COLUMNS].astype(float)
    face = np.zeros((ROWS, COLUMNS))
    for middle, wide, high, turn in (((120, 90), 60, 18, 0.4), ((230, 160), 40, 70, -0.3), ((170, 220), 90, 12, 0.1)):
        u = (x - middle[0]) * math.cos(turn) + (y - middle[1]) * math.sin(turn)
        v = (y - middle[1]) * math.cos(turn) - (x - middle[0]) * math.sin(turn)
        face = np.maximum(face, expit(8 * (1 - (u / wide) ** 2 - (v / high) ** 2)))
    return face


LEAVES = leaves()


def moved(right, down, turn_deg=0.0, sizes=(1.0, 1.0), face=LEAVES):
    """The face as scikit-image moves it: sized along its sides and turned counterclockwise about its middle, then
    shifted."""
    middle = np.array([(COLUMNS - 1) / 2, (ROWS - 1) / 2])
    way = (
        AffineTransform(translation=-middle)
        + AffineTransform(scale=sizes)
        + AffineTransform(rotation=-math.radians(turn_deg))
        + AffineTransform(translation=(middle[0] + right, middle[1] + down))
    )
    return warp(face, way.inverse, mode="edge")


SIZE = st.floats(0.93, 1.07)


@settings(max_examples=25, deadline=None)
@given(st.floats(-30, 30), st.floats(-30, 30), st.floats(-6, 6), SIZE, SIZE)
def test_a_mark_that_was_moved_turned_and_stretched_is_found(right, down, turn_deg, wide, high):
    seen = moved(right, down, turn_deg, (wide, high))
    found = landing_of(seen, LEAVES, 60)
    assert (found.right_px, found.down_px) == pytest.approx((right, down), abs=0.4)
    assert found.turn_deg == pytest.approx(turn_deg, abs=0.1)
    assert (found.wider_pct, found.higher_pct) == pytest.approx((100 * (wide - 1), 100 * (high - 1)), abs=0.3)
    # Laid back it lies on what was meant.
    back = found.laid_back(seen.astype(np.float32))
    inner = np.s_[60:-60, 60:-60]
    assert np.corrcoef(back[inner].ravel(), LEAVES[inner].ravel())[0, 1] > 0.98


def test_shifts_agree_with_phase_correlation():
    rng = np.random.default_rng(3)
    for right, down in ((0, 0), (17, -23), (-40, 5), (3, 44)):
        seen = moved(right, down) + rng.normal(0, 0.05, LEAVES.shape)
        (dy, dx), *_ = phase_cross_correlation(seen, LEAVES, upsample_factor=1)
        assert shift_between(seen, LEAVES, 60) == (right, down) == (dx, dy)
    # No further than is asked for.
    near = shift_between(moved(40, 0), LEAVES, 10)
    assert max(map(abs, near)) <= 10


def test_what_is_not_there_is_not_found():
    assert landing_of(np.zeros_like(LEAVES), LEAVES, 60) is None
    far = landing_of(moved(70, 0), LEAVES, 60)
    assert far is None or np.corrcoef(far.laid_back(moved(70, 0)).ravel(), LEAVES.ravel())[0, 1] < 0.9
    for turn_deg, size in ((25, 1.0), (0, 1.35), (0, 0.7)):
        found = landing_of(moved(0, 0, turn_deg, (size, size)), LEAVES, 60)
        assert found is None or abs(found.turn_deg - turn_deg) > 5 or abs(found.wider_pct / 100 + 1 - size) > 0.1
