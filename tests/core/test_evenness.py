"""Light to film and back, and finding drawn pieces: against the optical laws themselves and scikit-image's drawing."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from skimage.draw import ellipse, polygon
from skimage.filters import gaussian

from keencoat.core.coat.evenness.faults import FaultKind, fine_faults, region_faults, shine_faults
from keencoat.core.coat.evenness.film import HIDDEN, LightWay, Optics, Reference, film_map
from keencoat.core.coat.evenness.measure import measure_coat
from keencoat.core.errors import BadValueError
from keencoat.core.vision.outline import EdgeKind, SeenOutline, find_outline
from keencoat.core.vision.photo import Photo
from keencoat.core.vision.rectify import SeenFace
from keencoat.core.vision.streaks import are_streaks, find_streaks


def field(seed, low=0.6, high=1.4):
    rng = np.random.default_rng(seed)
    smooth = gaussian(rng.standard_normal((60, 80)), 4)
    smooth = (smooth - smooth.min()) / np.ptp(smooth)
    film = low + (high - low) * smooth
    return film / film.mean()


MASK = np.ones((60, 80), dtype=bool)


@given(seed=st.integers(0, 500), density=st.floats(0.3, 1.9), lamp=st.floats(0.1, 1))
def test_beer_lambert_is_undone(seed, density, lamp):
    """Light through a layer of known film by 10^(−OD) gives that film back, whatever the lamp."""
    film = field(seed)
    bare = np.full(film.shape, lamp)
    light = bare * 10 ** (-density * film)
    optics = Optics(LightWay.THROUGH, 0, 1, 1)
    found = film_map(light, bare, MASK, optics, Reference.BARE_SHOT)
    assert found.film == pytest.approx(film, rel=1e-4)
    assert found.mean_signal == pytest.approx(density, rel=1e-4)


def light_back(seed, hiding, coat, ground=0.78):
    """Light back from ground and coat, R = R_coat + (R_ground − R_coat)·e^(−κ·film), under a lamp of 0.6."""
    film = field(seed)
    return film, 0.6 * (coat + (ground - coat) * np.exp(-hiding * film)), np.full(film.shape, 0.6 * ground)


@given(seed=st.integers(0, 500), hiding=st.floats(0.4, 1.6))
def test_a_dark_layers_hiding_is_undone(seed, hiding):
    film, light, bare = light_back(seed, hiding, 0.05)
    found = film_map(light, bare, MASK, Optics(LightWay.BACK, 0.05, 0.78, 1), Reference.BARE_SHOT)
    assert found.told
    assert found.film == pytest.approx(film, rel=1e-3)
    assert found.mean_signal == pytest.approx(hiding, rel=1e-3)


@given(seed=st.integers(0, 500), hiding=st.floats(1.0, 2.2), white=st.floats(0.88, 1.0))
def test_a_white_layers_film_is_not_claimed_but_an_open_place_shows(seed, hiding, white):
    """Whatever white it truly is, and however thick: the picture is said not to tell, and bare ground reads as bare."""
    _, light, bare = light_back(seed, hiding, white)
    light[20:30, 30:40] = bare[20:30, 30:40]
    found = film_map(light, bare, MASK, Optics(LightWay.BACK, 0.9, 0.78, 1.3), Reference.BARE_SHOT)
    assert not found.told
    assert found.contrast == pytest.approx(abs(1 - np.median(light / bare)), rel=1e-4)
    assert found.film[20:30, 30:40].max() < 0.05
    elsewhere = np.ones_like(MASK)
    elsewhere[20:30, 30:40] = False
    assert np.median(found.film[elsewhere]) == pytest.approx(1.0, abs=0.06)


def test_a_dark_layer_that_hides_the_ground_claims_no_film():
    _, light, bare = light_back(3, 5.0, 0.05)
    found = film_map(light, bare, MASK, Optics(LightWay.BACK, 0.05, 0.78, 1), Reference.BARE_SHOT)
    assert found.told
    assert found.mean_signal == pytest.approx(HIDDEN)


@given(seed=st.integers(0, 500), way=st.sampled_from(list(LightWay)))
def test_without_a_reference_the_mean_is_the_expected_one(seed, way):
    film = field(seed, 0.85, 1.15)
    expected = 1.2
    if way is LightWay.THROUGH:
        light = 10 ** (-expected * film)
        optics = Optics(way, 0, 1, expected)
    else:
        light = 0.9 + (0.78 - 0.9) * np.exp(-expected * film)
        optics = Optics(way, 0.9, 0.78, expected)
    smooth = np.full(film.shape, float(np.exp(np.log(light).mean())))
    found = film_map(light, smooth, MASK, optics, Reference.ITSELF)
    assert found.film.std() == pytest.approx(film.std(), rel=0.12)


@given(seed=st.integers(0, 200))
def test_a_slanting_way_through_the_film_is_taken_out(seed):
    film = field(seed)
    path = np.linspace(1, 1.16, 80)[None, :] * np.ones((60, 1))
    light = 10 ** (-1.2 * film * path)
    found = film_map(light, np.ones(film.shape), MASK, Optics(LightWay.THROUGH, 0, 1, 1), Reference.BARE_SHOT, path)
    assert found.film == pytest.approx(film, rel=1e-3)


def drawn(mask, ground, thing, noise=0.01, seed=0):
    """A photo of a drawn shape on a sloping ground."""
    slope = np.linspace(0.9, 1.05, mask.shape[1])[None, :, None]
    soft = gaussian(mask.astype(float), 0.8)[..., None]
    picture = (1 - soft) * np.array(ground) * slope + soft * np.array(thing)
    picture = picture + np.random.default_rng(seed).normal(0, noise, picture.shape)
    return Photo((np.clip(picture, 0, 1) * 255).astype(np.uint8), 1.0, "PNG")


GROUNDS = [
    ((0.9, 0.9, 0.88), (0.2, 0.2, 0.2)),
    ((0.25, 0.22, 0.2), (0.85, 0.85, 0.82)),
    ((0.7, 0.6, 0.5), (0.3, 0.35, 0.5)),
]


@pytest.mark.parametrize("tones", GROUNDS)
@pytest.mark.parametrize("seed", range(6))
def test_drawn_quadrilaterals_are_found(seed, tones):
    rng = np.random.default_rng(seed)
    corners = np.array([[150, 120], [650, 110], [660, 480], [140, 470]]) + rng.uniform(-40, 40, (4, 2))
    mask = np.zeros((600, 800), dtype=bool)
    mask[polygon(corners[:, 1], corners[:, 0], mask.shape)] = True
    found = find_outline(drawn(mask, *tones, seed=seed), EdgeKind.CORNERS, 500 / 360)
    off = np.array(found.points) * [800, 600] - 0.5 - corners
    assert np.abs(off).max() < 3
    assert found.trust > 0.97


@pytest.mark.parametrize("tones", GROUNDS)
@pytest.mark.parametrize("seed", range(4))
def test_drawn_ellipses_are_found(seed, tones):
    rng = np.random.default_rng(seed)
    across, down, turn = rng.uniform(180, 240), rng.uniform(160, 200), rng.uniform(-0.5, 0.5)
    mask = np.zeros((600, 800), dtype=bool)
    mask[ellipse(300, 400, down, across, mask.shape, rotation=turn)] = True
    found = find_outline(drawn(mask, *tones, seed=seed), EdgeKind.RIM, 1.0)
    points = np.array(found.points) * [800, 600] - 0.5
    assert points.mean(axis=0) == pytest.approx((400, 300), abs=2)
    # Ends of conjugate diameters span the ellipse's area: π·|a × b|.
    a, b = points[1] - points[3], points[2] - points[0]
    area = np.pi / 4 * abs(a[0] * b[1] - a[1] * b[0])
    assert area == pytest.approx(np.pi * across * down, rel=0.02)


def test_a_turned_photo_keeps_the_piece_s_own_width():
    """A piece of 100 × 50 mm photographed upright: its first side is still the long one."""
    mask = np.zeros((800, 600), dtype=bool)
    mask[100:700, 150:450] = True
    points = np.array(find_outline(drawn(mask, *GROUNDS[0]), EdgeKind.CORNERS, 2.0).points) * [600, 800]
    assert np.linalg.norm(points[1] - points[0]) > np.linalg.norm(points[2] - points[1])


def test_what_is_no_four_sided_piece_is_refused():
    mask = np.zeros((600, 800), dtype=bool)
    mask[polygon([100, 500, 500], [400, 650, 150], mask.shape)] = True
    with pytest.raises(BadValueError, match="No piece was found"):
        find_outline(drawn(mask, *GROUNDS[0]), EdgeKind.CORNERS, 1.3)


def test_regions_are_boxed_where_they_lie():
    squares = np.ones((50, 70), dtype=np.float32)
    squares[10:20, 30:42] = 0.5
    squares[35:42, 5:12] = 0.1
    squares[30:40, 50:60] = 2.0
    squares[2, 2] = 0.1
    found = {f.kind: f for f in region_faults(squares, np.ones(squares.shape, dtype=bool))}
    assert set(found) == {FaultKind.THIN, FaultKind.BARE, FaultKind.POOLED}
    assert (found[FaultKind.THIN].x_mm, found[FaultKind.THIN].y_mm) == pytest.approx((30, 10), abs=1)
    assert found[FaultKind.POOLED].area_mm2 == pytest.approx(100, rel=0.15)


def test_pinholes_are_round_and_cracks_are_long():
    px = 10
    film = np.ones((400, 600), dtype=np.float32)
    ys, xs = np.mgrid[0:400, 0:600]
    for x, y in ((100, 100), (300, 200), (500, 320)):
        film[np.hypot(xs - x, ys - y) < 3] = 0.05
    film[300:303, 150:230] = 0.05
    film += np.random.default_rng(1).normal(0, 0.01, film.shape).astype(np.float32)
    kinds = [f.kind for f in fine_faults(film, np.ones(film.shape, dtype=bool), px)]
    assert sorted(kinds) == [FaultKind.CRACK, *[FaultKind.PINHOLE] * 3]
    assert fine_faults(np.ones((400, 600), dtype=np.float32), np.ones((400, 600), dtype=bool), px) == []


def test_shine_is_what_outshines_its_surroundings():
    light = np.full((200, 300), 0.6, dtype=np.float32)
    light[50:70, 100:130] = 0.95
    found = shine_faults(light, np.full((200, 300), 0.6), np.ones(light.shape, dtype=bool), 10)
    assert [f.area_mm2 for f in found] == [pytest.approx(6, rel=0.1)]


def test_noise_is_no_streak():
    noise = 1 + np.random.default_rng(3).normal(0, 0.08, (480, 640)).astype(np.float32)
    assert not are_streaks(find_streaks(noise, np.ones(noise.shape, dtype=bool), 8))
    assert not are_streaks(find_streaks(np.ones((480, 640)), np.ones((480, 640), dtype=bool), 8))
    assert not are_streaks(find_streaks(np.ones((20, 20)), np.zeros((20, 20), dtype=bool), 8))


def test_a_face_too_small_to_measure_says_so():
    photo = Photo(np.full((600, 800, 3), 120, dtype=np.uint8), 1.0, "PNG")
    tiny = SeenOutline(EdgeKind.CORNERS, ((0.1, 0.1), (0.2, 0.1), (0.2, 0.2), (0.1, 0.2)))
    with pytest.raises(BadValueError, match="Hardly a square"):
        measure_coat(photo, SeenFace(EdgeKind.CORNERS, 4, 3), Optics(LightWay.BACK, 0.05, 0.78, 1), tiny)
