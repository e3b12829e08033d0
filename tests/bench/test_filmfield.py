"""The part of a layer that a photo sees."""

import math

import numpy as np
import pytest

from keencoat.bench.filmfield import CoatFault, make_film


def test_the_middle_of_a_layer_and_the_same_layer_thinner():
    film = make_film(CoatFault.STREAKED, 20, 10, 30, 4, False, np.random.default_rng(1))
    middle = film.middle(10, 6)
    assert np.array_equal(middle.film_um, film.film_um[8:32, 20:60])
    assert middle.inside.all()
    assert np.array_equal(middle.thinned(0.25).film_um, middle.film_um / 4)
    assert film.middle(40, 40).film_um.shape == film.film_um.shape


def test_the_middle_of_a_discs_layer_is_a_disc():
    film = make_film(CoatFault.NONE, 20, 20, 30, 4, True, np.random.default_rng(1))
    middle = film.middle(12, 12)
    assert middle.inside.shape == (48, 48)
    assert middle.inside.mean() == pytest.approx(math.pi / 4, abs=0.01)
    assert middle.inside[24, 0]
    assert not middle.inside[0, 0]
