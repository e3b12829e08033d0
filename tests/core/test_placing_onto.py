"""Which wall a mark comes onto: by hand, of a barrel whose curve is known."""

import math

import pytest

from keencoat.core.errors import BadValueError
from keencoat.core.piece.girths import NarrowEnd, WallKind
from keencoat.core.piece.round import RoundPiece
from keencoat.core.placing.onto import art_on, wall_of
from keencoat.core.placing.spec import Mark, PlacingSpec
from tests.core.test_placing_round import across


def test_art_on_a_barrel_comes_onto_the_frustum_that_touches_it_there():
    """d(h) = 60 + 0.24·h − 0.0024·h²: Ø 66 in the middle, 60 at both ends; at 25 mm Ø 64.5, widening by 0.12 a mm."""
    piece = RoundPiece(66, 60, 100, 3)
    girths = (across(0, 60), across(50, 66), across(100, 60))

    def onto(along_mm):
        spec = PlacingSpec(Mark(20, 10, along_mm), girths, length_mm=100)
        wall, taper = wall_of(piece, spec)
        return wall, taper, art_on(taper, spec, (20, 10))

    wall, taper, art = onto(None)
    assert (wall.kind, taper.below_mm, taper.above_mm) == (WallKind.BARREL, pytest.approx(66), pytest.approx(66))
    assert (art.along_mm, taper.is_cylinder) == (pytest.approx(50), True)
    _, lower, _ = onto(25.0)
    assert (lower.below_mm, lower.above_mm) == (pytest.approx(61.5), pytest.approx(73.5))
    assert lower.diameter_mm(25.0 * lower.slant_mm / 100) == pytest.approx(64.5)
    _, upper, _ = onto(75.0)
    assert (upper.below_mm, upper.above_mm) == (pytest.approx(73.5), pytest.approx(61.5))
    cone = PlacingSpec(Mark(20, 10, 30.0), (across(0, 60), across(100, 70)), length_mm=100)
    straight = wall_of(piece, cone)[1]
    assert (straight.below_mm, straight.above_mm, straight.slant_mm) == pytest.approx((60, 70, math.hypot(5, 100)))
    onto(5.1)
    onto(94.9)
    for along in (4.9, 95.8):
        with pytest.raises(BadValueError, match="reaches past its end"):
            onto(along)
    narrow = PlacingSpec(Mark(2, 2), (across(0, 4.0), across(40, 3.2)), length_mm=100, narrow_end=NarrowEnd.TOP)
    with pytest.raises(BadValueError, match=r"would run to Ø 2\.0 mm"):
        wall_of(RoundPiece(5, 5, 100, 1), narrow)
