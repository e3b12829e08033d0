"""Coats: small figures worked out by hand."""

import numpy as np
import pytest

from keencoat.core.coat.amounts import mix_for, wet_film_um, wet_volume_ml
from keencoat.core.coat.catalogue import COATS
from keencoat.core.coat.evenness.faults import Fault, FaultKind
from keencoat.core.coat.evenness.measure import _faulty, _overlap
from keencoat.core.coat.offers import hands_min_per_coat, offer_of
from keencoat.core.coat.room import Air
from keencoat.core.coat.tools import TOOLS
from keencoat.core.errors import BadValueError
from keencoat.core.vision.streaks import _spacing_mm
from tests.core.test_coat_mix import need


def test_air_goes_to_its_ends_and_no_further():
    assert Air(-5, 1).humidity_pct == 1
    assert Air(60, 100).dew_point_c == pytest.approx(60, abs=0.01)
    for temperature_c, humidity_pct in ((-5.1, 50), (60.1, 50), (20, 0.9), (20, 100.1)):
        with pytest.raises(BadValueError):
            Air(temperature_c, humidity_pct)


def test_no_coat_takes_less_than_twelve_seconds_of_hands():
    tool = max(TOOLS.values(), key=lambda t: t.minutes_per_dm2.value)
    assert hands_min_per_coat(tool, 0.1) == pytest.approx(0.2)
    assert hands_min_per_coat(tool, 300) == pytest.approx(3 * tool.minutes_per_dm2.value)


def test_a_paint_has_a_hundredth_of_solids_at_least():
    """100 cm² × 25 µm is 0.25 ml dry; at one in a hundred solids and all of it landing, 25 ml wet."""
    assert wet_volume_ml(100, 25, 0.01, 1) == pytest.approx(25)
    assert wet_volume_ml(100, 25, 1, 0.01) == pytest.approx(25)
    assert wet_film_um(25, 0.01) == pytest.approx(2500)
    for solids, transfer in ((0.009, 1), (1.01, 1), (1, 0.009), (1, 1.01)):
        with pytest.raises(BadValueError):
            wet_volume_ml(100, 25, solids, transfer)


def test_a_mix_takes_four_minutes_more_and_its_grams_a_piece_add_up():
    asked, tool = need(), TOOLS["soft_brush"]
    mixed, plain = (offer_of(COATS[key], tool, 2, asked, {}) for key in ("tio2_glue", "chalk"))
    by_hand = tool.setup_min.value + hands_min_per_coat(tool, asked.coated_cm2) * asked.pieces * 2
    assert plain.hands_min == pytest.approx(by_hand)
    assert mixed.hands_min == pytest.approx(by_hand + 4)
    mix = mix_for(COATS["tio2_glue"], tool, 100, 10, 2)
    in_tool_g = mix.total_g * tool.dead_ml.value / mix.total_ml
    assert mix.per_piece_coat_g * 10 * 2 == pytest.approx(mix.total_g - in_tool_g)


def fault(x, y, width, height):
    return Fault(FaultKind.THIN, x, y, width, height, width * height, 0.5)


def test_a_faults_place_is_left_out_with_a_millimetre_round_it():
    """At 2 px/mm a box from 3 to 5 mm and from 4 to 7 mm blocks columns 4 to 11 and rows 6 to 15."""
    blocked = _faulty((30, 20), [fault(3, 4, 2, 3), fault(0, 0, 0.5, 0.5)], 2)
    wanted = np.zeros((30, 20), dtype=bool)
    wanted[6:16, 4:12] = True
    wanted[0:3, 0:3] = True
    assert np.array_equal(blocked, wanted)


@pytest.mark.parametrize(("other", "meets"), [
    ((3, 3, 2, 2), True), ((4, 0, 2, 2), False), ((0, 4, 2, 2), False), ((-3, 1, 3, 2), False), ((1, 1, 1, 1), True),
])  # fmt: skip
def test_faults_overlap_where_their_boxes_do(other, meets):
    assert _overlap(fault(0, 0, 4, 4), fault(*other)) is meets
    assert _overlap(fault(*other), fault(0, 0, 4, 4)) is meets


def test_the_spacing_of_streaks_and_of_nothing():
    """A wave of 24 dots at 4 dots a millimetre repeats every 6 mm; a flat, a short and a rising profile do not."""
    assert _spacing_mm(np.sin(2 * np.pi * np.arange(240) / 24)) == pytest.approx(6, abs=0.3)
    for profile in (np.ones(100), np.sin(np.pi / 2 * np.arange(12)), np.zeros(40)):
        assert _spacing_mm(profile) == 0
