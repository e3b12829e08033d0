"""Artwork turned on the bed, what other ways would take, and film from a photo at its dots."""

import numpy as np
import pytest
from scipy.interpolate import RegularGridInterpolator
from shapely import box

from keencoat.core.artwork import OtherWay, film_at_dots, other_ways
from keencoat.core.artwork.engraved import strokes_of
from keencoat.core.artwork.made import MadeDots
from keencoat.core.errors import BadValueError
from keencoat.core.quantities import Setting
from keencoat.core.toolpath import burn_time_s
from keencoat.core.toolpath.gcode import write_gcode
from tests.core.conftest import make_machine
from tests.core.test_artwork_made import burned_at

MACHINE = make_machine(accel_mm_s2=2000, max_speed_mm_s=300)
SIZE = (100.0, 60.0)


def tall(pitch=0.2):
    """A stem with a few leaves: high and narrow."""
    dots = np.zeros((200, 40), bool)
    dots[:, 18:22] = True
    dots[20:30, 5:35] = dots[90:96, 2:20] = dots[150:153, 22:38] = True
    return MadeDots(dots, -3.0, -21.0, pitch, 0.2)


@pytest.mark.parametrize("mirrored", [False, True])
def test_the_turned_file_burns_the_same_places_of_a_piece_that_lies_turned(mirrored):
    made, setting = tall(), Setting(60, 120, 0.2)
    straight = burned_at(write_gcode(made.program(setting, MACHINE, SIZE, mirrored), MACHINE, "stem", mirrored))
    turned = burned_at(write_gcode(made.program(setting, MACHINE, SIZE, mirrored, True), MACHINE, "stem", mirrored))

    def places(runs):
        return {(round(x, 2), round(y, 2)) for a, b, y in runs for x in np.arange(a + 0.1, b, 0.2)}

    # A place (x, y) of the turned bed was (y, height − x) before.
    assert {(y, round(SIZE[1] - x, 2)) for x, y in places(turned)} == places(straight)


def test_dots_that_are_longer_than_lines_are_apart_are_not_turned():
    with pytest.raises(BadValueError, match="closer than the spot"):
        tall(pitch=0.3).program(Setting(60, 120, 0.2), MACHINE, SIZE, False, True)
    assert OtherWay.TURNED not in {
        w.way for w in other_ways(tall(0.3), Setting(60, 120, 0.2), MACHINE, SIZE, False, None)
    }


@pytest.mark.parametrize("across", [False, True])
def test_other_ways_take_as_long_as_their_own_programs(across):
    made, setting = tall(), Setting(60, 120, 0.2, passes=2)

    def takes(dots, turned):
        of = MadeDots(dots, made.left_mm, made.low_mm, 0.2, 0.2)
        return burn_time_s(of.program(setting, MACHINE, SIZE, False, turned), MACHINE)

    rims = strokes_of(box(-10, -5, 10, 5).difference(box(-2, -1, 2, 1)), box(-30, -30, 30, 30), 0.1)
    outlines = rims.program(setting, MACHINE, SIZE, False)
    ways = {w.way: w for w in other_ways(made, setting, MACHINE, SIZE, across, outlines)}
    assert ways[OtherWay.TURNED].seconds == pytest.approx(takes(made.dots, not across), rel=1e-9)
    assert ways[OtherWay.ALL_LINES].seconds == pytest.approx(takes(np.ones_like(made.dots), across), rel=1e-9)
    assert ways[OtherWay.WIDER].seconds == pytest.approx(takes(made.dots, across) / 1.2)
    assert ways[OtherWay.ONE_PASS_LESS].seconds == pytest.approx(takes(made.dots, across) / 2)
    # Eight sides, 60 + 12 mm of rim at 120 mm/s, each with v/a to and from rest; and two ways there.
    least_s = 72 / 120 + 8 * 120 / 2000
    assert ways[OtherWay.OUTLINES].seconds == pytest.approx(2 * least_s, rel=0.35)
    assert ways[OtherWay.OUTLINES].seconds > 2 * least_s
    assert {w.way for w in ways.values() if w.tested} == {OtherWay.TURNED, OtherWay.ALL_LINES}
    plain = other_ways(made, Setting(60, 120, 0.2), MACHINE, SIZE, across, None)
    assert {OtherWay.ONE_PASS_LESS, OtherWay.OUTLINES}.isdisjoint({w.way for w in plain})


@pytest.mark.parametrize("mirrored", [False, True])
def test_film_at_the_dots_is_that_of_the_photos_squares(mirrored):
    """Between the middles of squares, against scipy's own interpolator; what is not told counts as the mean."""
    rng = np.random.default_rng(2)
    squares = rng.uniform(0.6, 1.5, (50, 80)).astype(np.float32)
    made = MadeDots(np.ones((30, 40), bool), -12.0, 3.0, 0.4, 0.3)
    found = film_at_dots(squares, (80.0, 50.0), made, mirrored)
    seen = RegularGridInterpolator((np.arange(50) + 0.5, np.arange(80) + 0.5), squares[::-1])
    for row, column in ((0, 0), (29, 39), (11, 25)):
        x, y = -12 + (column + 0.5) * 0.4, 3 + (row + 0.5) * 0.3
        wanted = float(seen((y + 25, (-x if mirrored else x) + 40)))
        assert found[row, column] == pytest.approx(np.log(wanted), abs=1e-4)
    squares[:, :40] = np.nan
    half = film_at_dots(squares, (80.0, 50.0), made, mirrored)
    assert (half == 0).sum() > 100
    assert np.abs(half).max() <= 1.2
    with pytest.raises(BadValueError, match="no film"):
        film_at_dots(np.full((3, 3), np.nan), (3.0, 3.0), made, False)
