"""Transforms against scikit-image's matrices, outlines against closed forms and worked figures."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from skimage.transform import AffineTransform

from keencoat.core.geometry.outline import developed_cone, developed_cylinder, disc
from keencoat.core.geometry.transform import MIRROR, Y_DOWN, Transform, offset, scale, to_picture, to_work, turn
from keencoat.core.piece.round import RoundPiece

NUMBERS = st.floats(-500, 500)
POINTS = np.array([[0.0, 0.0], [10.0, 0.0], [3.0, -7.0]])


def moved(transform: Transform) -> np.ndarray:
    return np.column_stack(transform.at(POINTS[:, 0], POINTS[:, 1]))


@given(x=NUMBERS, y=NUMBERS, degrees=st.floats(-360, 360), times=st.floats(0.01, 50))
def test_chains_against_scikit_image(x, y, degrees, times):
    """Rotation, scaling and shift of scikit-image's AffineTransform, there and back."""
    ours = scale(times).then(turn(degrees)).then(offset(x, y))
    theirs = AffineTransform(scale=(times, times), rotation=math.radians(degrees), translation=(x, y))
    assert moved(ours) == pytest.approx(theirs(POINTS), abs=1e-6)
    assert moved(ours.then(ours.back())) == pytest.approx(POINTS, abs=1e-6)
    order = turn(degrees).then(MIRROR).then(offset(x, y))
    assert moved(order.back()) == pytest.approx(
        np.linalg.solve(np.array([[order.xx, order.xy], [order.yx, order.yy]]), (POINTS - [order.x0, order.y0]).T).T,
        abs=1e-6,
    )


def test_a_turn_takes_right_to_up_and_a_mirror_left_to_right():
    assert turn(90).at(1.0, 0.0) == pytest.approx((0, 1))
    assert MIRROR.at(2.0, 3.0) == (-2, 3)
    assert Y_DOWN.at(2.0, 3.0) == (2, -3)


def test_the_upper_left_corner_of_a_plate_by_hand():
    """A plate of 100 × 60 mm: its corner (−50, 30) in work, in a picture, and seen through the plate."""
    corner = (-50.0, 30.0)
    assert to_work(100, 60, mirrored=False).at(*corner) == (0, 60)
    assert to_work(100, 60, mirrored=True).at(*corner) == (100, 60)
    assert to_picture(100, 60, mirrored=False).at(*corner) == (0, 0)
    assert to_picture(100, 60, mirrored=True).at(*corner) == (100, 0)


def test_a_tapered_wall_laid_flat():
    """Ø 60 and 80 mm, 100 mm high: slant 100.499, radii 301.496 and 401.995, 35.8213° (worked by hand from
    r = s·d/(D − d))."""
    slant = math.hypot(100, 10)
    assert slant == pytest.approx(100.499, abs=1e-3)
    points = np.array(developed_cone(80, 60, slant).exterior.coords)
    tip = np.array([0.0, 301.496 + slant / 2])
    radii = np.unique(np.round(np.linalg.norm(points - tip, axis=1), 2))
    assert radii == pytest.approx([301.496, 401.995], abs=6e-3)
    angles = np.degrees(np.arctan2(points[:, 0], tip[1] - points[:, 1]))
    assert np.ptp(angles) == pytest.approx(35.8213, abs=1e-3)
    assert points[np.argmin(points[:, 1])] == pytest.approx([0, -slant / 2], abs=0.05)


@given(wide=st.floats(20, 300), taper=st.floats(0.3, 1.0), height=st.floats(20, 400), margin=st.floats(0, 8))
def test_areas_of_walls_are_their_closed_forms(wide, taper, height, margin):
    """π(r₁ + r₂)·s for what is laid flat; the coated part lies within the wall."""
    piece = RoundPiece(wide, wide * taper, height, 3, margin)
    assert piece.outline.area == pytest.approx(math.pi * wide * (1 + taper) / 2 * piece.slant_mm, rel=3e-4)
    assert piece.coated.area / 100 == pytest.approx(piece.coated_cm2, rel=3e-4)
    assert piece.outline.buffer(0.02 * wide).contains(piece.coated)
    assert developed_cylinder(wide, height).bounds == pytest.approx(
        (-math.pi * wide / 2, -height / 2, math.pi * wide / 2, height / 2)
    )
    assert disc(wide).area == pytest.approx(math.pi * wide**2 / 4, rel=2e-4)
