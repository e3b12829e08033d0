"""Lightness and colour difference against scikit-image, colour-science and the published test pairs."""

import math

import colour
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from skimage.color import deltaE_ciede2000, rgb2lab

from keencoat.core.vision.lightness import (
    delta_e_2000,
    lab_of,
    lightness,
    lightness_of,
    michelson_contrast,
    weber_contrast,
)

# Sharma, Wu & Dalal, Color Res. Appl. 30:21 (2005), table 1: pairs 1, 9, 17 and 34.
SHARMA = [
    ((50.0000, 2.6772, -79.7751), (50.0000, 0.0000, -82.7485), 2.0425),
    ((50.0000, 2.4900, -0.0010), (50.0000, -2.4900, 0.0009), 7.1792),
    ((50.0000, 2.5000, 0.0000), (73.0000, 25.0000, -18.0000), 27.1492),
    ((2.0776, 0.0795, -1.1350), (0.9033, -0.0636, -0.5514), 0.9082),
]
labs = st.tuples(st.floats(0, 100), st.floats(-100, 100), st.floats(-100, 100))


@pytest.mark.parametrize(("one", "other", "published"), SHARMA)
def test_ciede2000_published_pairs(one, other, published):
    assert float(delta_e_2000(np.array(one), np.array(other))) == pytest.approx(published, abs=1e-4)


@given(one=labs, other=labs)
def test_ciede2000_against_scikit_image_and_colour_science(one, other):
    one, other = np.array(one), np.array(other)
    ours = float(delta_e_2000(one, other))
    # At a hue difference of half a turn the two references differ from each other.
    hues = [math.degrees(math.atan2(lab[2], lab[1])) for lab in (one, other)]
    if abs(abs(hues[0] - hues[1]) - 180) > 0.5:
        assert ours == pytest.approx(float(deltaE_ciede2000(one, other)), abs=1e-4)
        assert ours == pytest.approx(float(colour.delta_E(one, other, method="CIE 2000")), abs=1e-4)
    assert float(delta_e_2000(other, one)) == pytest.approx(ours, abs=1e-9)
    assert float(delta_e_2000(one, one)) == pytest.approx(0, abs=1e-9)


def test_lightness_of_grey_codes():
    """L* of sRGB 64/119/128/188: 27.09/50.03/53.59/76.25 (colour-science)."""
    grey = np.repeat(np.array([[64, 119, 128, 188]], dtype=np.uint8)[..., None], 3, axis=2)
    assert lightness_of(grey)[0] == pytest.approx([27.09, 50.03, 53.59, 76.25], abs=0.01)


@given(y=st.floats(0, 1))
def test_lightness_against_colour_science(y):
    ours = float(lightness(np.array(y)))
    assert ours == pytest.approx(float(colour.lightness(100 * y, method="CIE 1976")), abs=2e-3)


@given(rgb=st.tuples(*[st.integers(0, 255)] * 3))
def test_lab_against_scikit_image(rgb):
    """OpenCV takes cube roots from a table: half a unit off at most."""
    pixel = np.array([[rgb]], dtype=np.float64) / 255
    assert lab_of(pixel)[0, 0] == pytest.approx(rgb2lab(pixel)[0, 0], abs=0.5)


@given(mark=st.floats(0.01, 1), ground=st.floats(0.01, 1))
def test_contrasts_by_definition(mark, ground):
    """Weber (L − Lb)/Lb; Michelson (Lmax − Lmin)/(Lmax + Lmin)."""
    assert weber_contrast(mark, ground) == pytest.approx(mark / ground - 1)
    high, low = max(mark, ground), min(mark, ground)
    assert michelson_contrast(mark, ground) == pytest.approx((high - low) / (high + low))
