"""A beam through a clear piece: its index, where its focus comes to lie, and who says so."""

import math

import pytest

from keencoat.core.quantities import BeamSource
from keencoat.core.substrate import far_side_words, find_substrate, focus_shift_mm, lower_to_far_side_mm

BLUE, NIR, CO2 = BeamSource.BLUE, BeamSource.NEAR_INFRARED, BeamSource.CO2


def soda_lime(um):
    """Rubin 1985, clear soda-lime glass: n = 1.5130 − 0.003169 λ² + 0.003962 λ⁻²."""
    return 1.5130 - 0.003169 * um**2 + 0.003962 / um**2


def acrylic(um):
    """Sultanova, Kasarova and Nikolov 2009, PMMA: n² = 1 + 1.1819 λ²/(λ² − 0.011313)."""
    return math.sqrt(1 + 1.1819 * um**2 / (um**2 - 0.011313))


@pytest.mark.parametrize(("key", "law"), [("soda_lime_glass", soda_lime), ("clear_acrylic", acrylic)])
def test_indices_are_those_of_the_published_dispersion(key, law):
    for beam, um in ((BLUE, 0.45), (NIR, 1.064)):
        assert find_substrate(key).refractive_index[beam].value == pytest.approx(law(um), abs=0.001)


def test_a_focus_lies_deeper_as_rays_that_are_traced():
    """Snell's law, ray by ray: the closed form for a ray near the axis, 1.095 mm at a numerical aperture of 0.3."""

    def traced(thickness, n, sine):
        inside = math.asin(sine / n)
        return thickness - thickness * math.tan(inside) / math.tan(math.asin(sine))

    assert focus_shift_mm(3, 1.5319) == pytest.approx(1.0417, abs=1e-4)
    assert focus_shift_mm(3, 1.5319) == pytest.approx(traced(3, 1.5319, 0.01), abs=1e-3)
    assert focus_shift_mm(3, 1.5319) < traced(3, 1.5319, 0.3) == pytest.approx(1.095, abs=1e-3)
    assert focus_shift_mm(3, 1.0) == 0


def test_the_head_is_lowered_to_the_far_side_where_the_beam_gets_there():
    glass = find_substrate("soda_lime_glass")
    assert lower_to_far_side_mm(glass, BLUE, 3) == pytest.approx(3 / 1.5319)
    assert lower_to_far_side_mm(glass, NIR, 3) == pytest.approx(3 / 1.5129)
    assert lower_to_far_side_mm(glass, CO2, 3) is None
    assert lower_to_far_side_mm(find_substrate("brass"), BLUE, 3) is None
    assert "lower the head 1.96 mm" in far_side_words(glass, BLUE, 3)
    assert "not the piece's 3 mm" in far_side_words(glass, BLUE, 3)
    assert far_side_words(glass, CO2, 3) == "focus on the far side"
