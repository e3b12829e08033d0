"""Faces laid onto pictures of the piece, whole or averaged."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from skimage.measure import block_reduce

from keencoat.core.artwork import MadeDots, lay_on
from keencoat.core.artwork.faces import averaged, side_for
from keencoat.core.artwork.made import MAX_DOTS


@given(st.integers(1, 40), st.integers(1, 40), st.integers(1, 5), st.integers(1, 9), st.integers(0, 2**32 - 1))
@settings(max_examples=40, deadline=None)
def test_means_are_those_of_skimages_blocks_in_bands_of_any_height(rows, columns, side, band, seed):
    values = np.random.default_rng(seed).random((rows, columns)) < 0.5
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("keencoat.core.artwork.faces._BAND", band)
        means = averaged(values, side)
    assert means == pytest.approx(block_reduce(values.astype(float), (side, side), np.mean), abs=1e-6)


@given(st.integers(1, 8000), st.integers(1, 5000))
def test_sides_are_the_least_that_keep_places_few_and_rows_of_a_band_whole(rows, columns):
    side = side_for((rows, columns))
    assert rows * columns <= 4_000_000 * side**2
    assert side == 1 or rows * columns > 4_000_000 * (side - 1) ** 2


def test_the_largest_artworks_places_fit_the_bands_in_which_it_is_burned():
    from keencoat.core.artwork.burned import _ROWS

    assert all(_ROWS % side == 0 for side in range(1, side_for((1, MAX_DOTS)) + 1))


def laid(values, made, px_per_mm=2.0, side=1):
    face = np.full((100, 120), -1.0, np.float32)
    lay_on(face, values, made, (60.0, 50.0), px_per_mm, side)
    return face


def test_values_come_where_they_belong_on_the_piece():
    """The lowest row first, the first dot's corner 10 mm left of and 5 mm under the middle of a piece of 60 × 50 mm."""
    dots = np.zeros((40, 80), np.bool_)
    dots[:20, :40] = True
    made = MadeDots(dots, -10.0, -5.0, 0.25, 0.5)
    face = laid(dots, made)
    # 20 × 20 mm at 2 px: columns 40 to 80; rows 20 to 60 from the top, 15 mm above the middle.
    assert (face[20:60, 40:80] >= 0).all()
    assert (face >= 0).sum() == 40 * 40
    assert (face[40:60, 40:60] == 1).all()
    assert face[20:60, 40:80].sum() == 20 * 20
    beyond = laid(dots, MadeDots(dots, 25.0, 20.0, 0.25, 0.5))
    assert (beyond >= 0).sum() == 10 * 10


@pytest.mark.parametrize("side", [2, 3])
def test_averaged_values_come_where_the_dots_would(side):
    rng = np.random.default_rng(side)
    dots = np.repeat(np.repeat(rng.random((30, 31)) < 0.5, 8, axis=0), 8, axis=1)
    made = MadeDots(dots, -12.0, -12.0, 0.1, 0.1)
    fine, coarse = laid(dots, made), laid(averaged(dots, side), made, side=side)
    assert np.abs(fine - coarse)[25:75, 36:84].mean() < 0.06
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("keencoat.core.artwork.faces.MOST_PLACES", dots.size / side**2)
        assert (laid(dots, made) == coarse).all()
