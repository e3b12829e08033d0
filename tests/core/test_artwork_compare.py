"""A photo of a burned piece against what was expected: on photos that scikit-image's own transforms lay aslant."""

import io
import pickle
from dataclasses import replace

import numpy as np
import pytest
from PIL import Image
from skimage.transform import ProjectiveTransform, rotate, warp

from keencoat.core.artwork import PX_PER_MM, Look, read_art_shot
from keencoat.core.errors import BadValueError
from keencoat.core.vision import EdgeKind, SeenFace, check_points

TILE, GLASS = Look(0.7, 0.05), Look(0.04, 0.5)
SIDE = 60
FACE = SeenFace(EdgeKind.CORNERS, SIDE, SIDE)
FULL = SIDE * PX_PER_MM
CORNERS = np.array([[330, 180], [1210, 220], [1180, 1050], [300, 1010]], dtype=float)


def leaf(right_mm=0.0, up_mm=0.0):
    """A ramp, a full bar and a leaf, off the middle, so that no turn looks like another."""
    ys, xs = (np.mgrid[0:FULL, 0:FULL] + 0.5) / PX_PER_MM
    x, y = xs - SIDE / 2 - right_mm, SIDE / 2 - ys - up_mm
    face = np.zeros((FULL, FULL), dtype=np.float32)
    face[(np.abs(y + 15) < 4) & (np.abs(x) < 20)] = ((x + 20) / 40)[(np.abs(y + 15) < 4) & (np.abs(x) < 20)]
    face[(np.abs(x + 15) < 3) & (np.abs(y - 8) < 10)] = 1
    face[((x - 5) / 12) ** 2 + ((y - 8) / 6) ** 2 < 1] = 0.6
    return face


def photo(face, look, turns=0, slope=0.15, clear=False, dims=0.0):
    """A JPEG of a piece of this fullness on a bench, aslant, under a lamp from one side, through a lens that
    dims towards its corners."""
    y = np.rot90(look.ground_y + (look.mark_y - look.ground_y) * face, turns)
    way = ProjectiveTransform.from_estimate(CORNERS, np.array([[0, 0], [FULL, 0], [FULL, FULL], [0, FULL]]) - 0.5)
    inside = warp(np.ones_like(y), way, output_shape=(1200, 1600))
    scene = inside * warp(y, way, output_shape=(1200, 1600), mode="edge") + (1 - inside) * (0.025 if clear else 0.12)
    across, down = np.linspace(-1, 1, 1600), np.linspace(-0.75, 0.75, 1200)[:, None]
    light = 0.8 * (1 + slope * across) * (1 - dims * (across**2 + down**2))
    code = np.clip(scene * light, 0, 1) ** (1 / 2.2) + np.random.default_rng(3).normal(0, 0.004, scene.shape)
    rgb = np.repeat(np.rint(255 * np.clip(code, 0, 1))[..., None], 3, axis=2).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(rgb).save(out, "JPEG", quality=95)
    return out.getvalue()


@pytest.mark.parametrize(("turns", "right", "up"), [(0, 8, -6), (3, -5, 9), (3, 3, 0)])
def test_a_mark_that_lies_far_off_its_place_is_this_artwork_all_the_same(turns, right, up):
    shot = read_art_shot(photo(leaf(right, up), TILE, turns), FACE, leaf(), TILE, None)
    assert shot.trouble is None
    assert shot.likeness.shift_mm == pytest.approx((right, up), abs=0.15)
    assert shot.likeness.turned_deg == (360 - 90 * turns) % 360
    assert shot.likeness.off_l < 2


@pytest.mark.parametrize("turns", range(4))
def test_a_faithful_piece_is_like_itself_however_it_is_held(turns):
    shot = read_art_shot(photo(leaf(), TILE, turns), FACE, leaf(), TILE, None)
    assert shot.trouble is None
    assert shot.likeness.off_l < 2
    assert abs(shot.likeness.lean_l) < 1
    assert shot.likeness.faint_share < 0.05
    assert shot.likeness.anchored
    assert shot.likeness.turned_deg == (360 - 90 * turns) % 360
    assert np.allclose(shot.likeness.shift_mm, 0, atol=0.1)


@pytest.mark.parametrize("art", ["leaf", "lines"])
def test_a_corner_that_the_picture_cuts_off_is_left_out(art):
    """Some 4 mm of one corner lie under the picture's lower edge: no line of the artwork, and no fault of the mark."""
    drawn = leaf()
    if art == "lines":
        drawn[:] = 0
        drawn[60:280:44, 70:250], drawn[60:280, 90:250:70] = 0.6, 0.6
    whole = photo(drawn, TILE)
    out = io.BytesIO()
    Image.open(io.BytesIO(whole)).crop((0, 0, 1600, 1030)).save(out, "JPEG", quality=95)
    for data in (whole, out.getvalue()):
        shot = read_art_shot(data, FACE, drawn, TILE, None)
        assert shot.trouble is None
        assert shot.likeness.off_l < 1.5
        assert np.allclose(shot.likeness.shift_mm, 0, atol=0.15)


def test_a_mark_off_its_place_tells_how_far():
    shot = read_art_shot(photo(leaf(0.8, -0.5), TILE), FACE, leaf(), TILE, None)
    assert np.allclose(shot.likeness.shift_mm, (0.8, -0.5), atol=0.1)
    assert shot.likeness.off_l < 3


@pytest.mark.parametrize("look", [TILE, GLASS])
def test_what_came_out_weak_is_told_with_its_sign(look):
    """The leaf and the ramp at six tenths, the bar as meant."""
    weak = np.where(leaf() < 1, 0.6 * leaf(), 1).astype(np.float32)
    shot = read_art_shot(photo(weak, look, clear=look is GLASS), FACE, leaf(), look, None)
    alike = shot.likeness
    wanted = np.abs(look.light_of(weak) - look.light_of(leaf()))[leaf() > 0.02].mean() * 100
    assert alike.off_l == pytest.approx(wanted, rel=0.35)
    assert alike.off_l < alike.off_l_most
    assert (alike.lean_l > 1) == look.darkens
    assert 0.5 < alike.faint_share < 0.9
    # Blue where it is weak: in the middle of the leaf.
    red, _, blue = np.asarray(Image.open(io.BytesIO(shot.difference)))[22 * PX_PER_MM, 35 * PX_PER_MM].astype(int)
    assert blue > red + 20


def test_a_disc_is_turned_back():
    ys, xs = np.mgrid[0:FULL, 0:FULL] + 0.5 - FULL / 2
    disc = np.hypot(xs, ys) < FULL / 2
    seen = np.where(disc, TILE.ground_y + (TILE.mark_y - TILE.ground_y) * rotate(leaf(), -36), 0.1)
    scene = np.full((900, 1200), 0.1)
    scene[200 : 200 + FULL, 400 : 400 + FULL] = seen
    out = io.BytesIO()
    Image.fromarray(np.rint(255 * np.clip(scene, 0, 1) ** (1 / 2.2)).astype(np.uint8)).save(out, "PNG")
    shot = read_art_shot(out.getvalue(), replace(FACE, frame=EdgeKind.RIM), leaf(), TILE, None)
    assert shot.likeness.turned_deg == pytest.approx(36, abs=3)
    assert shot.likeness.off_l < 4


def test_marked_corners_are_taken_as_they_are():
    points = [(float(x) / 1600, float(y) / 1200) for x, y in CORNERS]
    marked = check_points(points, EdgeKind.CORNERS)
    assert read_art_shot(photo(leaf(), TILE), FACE, leaf(), TILE, marked).likeness.off_l < 2
    off = [(x + 0.01, y) for x, y in points]
    moved = read_art_shot(photo(leaf(), TILE), FACE, leaf(), TILE, check_points(off, EdgeKind.CORNERS))
    assert moved.likeness.shift_mm[0] == pytest.approx(-16 / (880 / SIDE), abs=0.2)


def test_what_cannot_be_compared_says_why():
    other = np.ascontiguousarray(np.flipud(leaf()))
    refused = read_art_shot(photo(other, TILE), FACE, leaf(), TILE, None)
    assert "does not look like" in str(refused.trouble)
    # It comes from a process of its own.
    assert pickle.loads(pickle.dumps(refused)).trouble.hint == refused.trouble.hint
    for look in (TILE, GLASS):
        nothing = read_art_shot(photo(0 * leaf(), look, clear=look is GLASS), FACE, leaf(), look, None)
        assert "Hardly any mark" in str(nothing.trouble)
    small = np.zeros_like(leaf())
    small[40:70, 250:290] = 1
    assert "does not look like" in str(read_art_shot(photo(small, TILE), FACE, leaf(), TILE, None).trouble)
    blank = io.BytesIO()
    Image.new("RGB", (900, 700), (90, 90, 90)).save(blank, "PNG")
    assert "No piece was found" in str(read_art_shot(blank.getvalue(), FACE, leaf(), TILE, None).trouble)
    far = check_points([(0.4, 0.4), (0.45, 0.4), (0.45, 0.45), (0.4, 0.45)], EdgeKind.CORNERS)
    assert "Go nearer" in read_art_shot(photo(leaf(), TILE), FACE, leaf(), TILE, far).trouble.hint
    with pytest.raises(BadValueError):
        read_art_shot(b"no photo", FACE, leaf(), TILE, None)


def hairlines(seed):
    """Lines a tenth of a millimetre wide, as little full as a single line comes out."""
    rng, face = np.random.default_rng(seed), np.zeros((FULL, FULL), dtype=np.float32)
    for x0, y0, x1, y1 in rng.uniform(8 * PX_PER_MM, FULL - 8 * PX_PER_MM, (9, 4)):
        along = np.linspace(0, 1, 2000)
        face[(y0 + along * (y1 - y0)).astype(int), (x0 + along * (x1 - x0)).astype(int)] = 0.6
    return face


@pytest.mark.parametrize("turns", [0, 3])
def test_hairlines_are_found_again_under_a_lamp_and_told_from_others(turns):
    shot = read_art_shot(photo(hairlines(1), TILE, turns, dims=0.4), FACE, hairlines(1), TILE, None)
    assert shot.trouble is None
    assert shot.likeness.turned_deg == (360 - 90 * turns) % 360
    assert np.allclose(shot.likeness.shift_mm, 0, atol=0.15)
    assert shot.likeness.off_l < 3
    other = read_art_shot(photo(hairlines(2), TILE, turns, dims=0.4), FACE, hairlines(1), TILE, None)
    assert "does not look like this artwork" in other.trouble.message
    faded = hairlines(1)
    faded[:, : FULL * 2 // 3] *= 0.1
    faint = read_art_shot(photo(faded, TILE, turns, dims=0.4), FACE, hairlines(1), TILE, None)
    assert faint.trouble is None, "most of its lines did not take: the right piece, burned too faint"
    assert faint.likeness.faint_share > 0.4
    assert shot.likeness.faint_share < faint.likeness.faint_share / 2
