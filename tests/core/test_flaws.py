"""Flaws of a mark in figures: on faces drawn here with known faults, against scikit-image's shifts and NumPy's
autocorrelation; and a whole photo with a jump in it."""

from dataclasses import asdict, replace

import numpy as np
import pytest
from scipy import ndimage
from skimage.transform import AffineTransform, warp

from keencoat.core.artwork import Look, flaws_from, read_art_shot
from keencoat.core.artwork.flaws import Doubled, Edges, LaidOn, MarkStreaks, Patch, Spots, flaws_of
from keencoat.core.inspect import flaws_seen, patches_seen, signs_seen
from keencoat.core.substrate import PROCESSES
from tests.core.test_artwork_compare import FACE, FULL, TILE, leaf, photo

PX = 6
WIDE, HIGH = 60 * PX, 50 * PX
NOISE = np.random.default_rng(4).normal(0, 0.03, (HIGH, WIDE))


def drawing():
    """Two bars, a disc and a slanting band."""
    y, x = (np.mgrid[0:HIGH, 0:WIDE] + 0.5) / PX
    face = ((np.abs(x - 15) < 4) & (np.abs(y - 25) < 15)) | ((np.abs(x - 45) < 5) & (np.abs(y - 33) < 9))
    return (
        face | (np.hypot(x - 30, y - 14) < 6) | (np.abs(y - 42 - 0.3 * (x - 28)) < 1.5) & (np.abs(x - 29) < 8)
    ).astype(float)


def moved(face, right_mm, up_mm):
    way = AffineTransform(translation=(right_mm * PX, -up_mm * PX))
    return warp(face, way.inverse, order=1)


def strokes():
    """A ring and two lines, 1 mm wide: most of a second image lies beside the first."""
    y, x = (np.mgrid[0:HIGH, 0:WIDE] + 0.5) / PX
    ring = np.abs(np.hypot(x - 20, y - 25) - 12) < 0.5
    return (ring | (np.abs(y - 20 - 0.4 * (x - 45)) < 0.55) & (np.abs(x - 45) < 9)).astype(float)


def flaws(full, rgb=None, l_star=None, meant=None):
    grey = np.full((HIGH, WIDE, 3), 128, np.uint8)
    full = (full + NOISE).astype(np.float32)
    light = 100 * full if l_star is None else l_star
    meant = (drawing() if meant is None else meant).astype(np.float32)
    return flaws_of(LaidOn(full, meant, light, grey if rgb is None else rgb, np.ones((HIGH, WIDE), bool), PX))


def autocorrelation(face):
    size = 2 * HIGH, 2 * WIDE
    return np.fft.fftshift(np.fft.ifft2(np.abs(np.fft.fft2(face - face.mean(), size)) ** 2).real)


def signs(found, process="frost"):
    return [flaw.sign for flaw in flaws_seen(found, PROCESSES[process])]


def test_a_faultless_mark_has_no_flaw():
    found = flaws(ndimage.gaussian_filter(drawing(), 0.8))
    assert flaws_seen(found, PROCESSES["back_engrave"]) == []
    assert found.missing == found.extra == ()
    assert found.missing_share == 0
    assert found.edges.upright_mm == pytest.approx(found.edges.level_mm, abs=0.03)
    # 15 to 85 in 100 of a normal blur of that sd.
    assert found.edges.upright_mm == pytest.approx(2 * 1.0364 * 0.8 / PX, rel=0.2)
    assert found.spots.in_cm2 == pytest.approx(
        ndimage.binary_erosion(drawing(), iterations=2).sum() / PX**2 / 100, rel=0.05
    )


@pytest.mark.parametrize(("right", "up"), [(1.5, -0.8), (-2.2, 3.0), (0.0, 1.7)])
def test_a_second_image_lies_where_its_autocorrelation_says(right, up):
    twice = np.maximum(strokes(), 0.8 * moved(strokes(), right, up))
    found = flaws(twice, meant=strokes()).doubled
    assert (found.right_mm, found.up_mm) == pytest.approx((right, up), abs=0.2)
    assert found.gone < 0.1
    assert 0.5 < found.share <= 1
    # What the autocorrelation of the doubled picture has over that of the plain one is the second image.
    over = autocorrelation(twice) - 1.64 * autocorrelation(strokes())
    down, across = np.unravel_index(over.argmax(), over.shape)
    peak = np.array([across - WIDE, HIGH - down]) / PX
    assert (
        min(
            np.abs(peak - np.array([found.right_mm, found.up_mm])).max(),
            np.abs(peak + np.array([found.right_mm, found.up_mm])).max(),
        )
        < 0.3
    )
    assert signs(flaws(twice, meant=strokes()))[0] == "doubled"


def test_a_part_that_went_there_is_missing_here():
    upper = np.arange(HIGH)[:, None] < 25 * PX
    jumped = np.where(upper, 0, drawing()) + moved(np.where(upper, drawing(), 0), 3.0, 1.0)
    found = flaws(jumped).doubled
    assert (found.right_mm, found.up_mm) == pytest.approx((3, 1), abs=0.2)
    assert found.gone > 0.8
    told = flaws_seen(flaws(jumped), PROCESSES["frost"])
    assert told[0].words.startswith("It jumped partway")
    assert "3.0 mm right and 1.0 mm up" in told[0].words
    assert [flaw.sign for flaw in told] == ["doubled"]


def test_patches_lie_where_they_are_and_are_as_large():
    y, x = (np.mgrid[0:HIGH, 0:WIDE] + 0.5) / PX
    wiped = drawing() * ~((np.abs(x - 45) < 2.5) & (np.abs(y - 33) < 3))
    found = flaws(np.maximum(wiped, (np.abs(x - 52) < 1) & (np.abs(y - 8) < 2)))
    (gap,), (blot,) = found.missing, found.extra
    assert (gap.x_mm, gap.y_mm) == pytest.approx((15, -8), abs=0.2)
    assert (gap.width_mm, gap.height_mm, gap.area_mm2) == pytest.approx((5, 6, 30), rel=0.1)
    assert (gap.left_mm, gap.top_mm) == pytest.approx((12.5, -5), abs=0.25)
    assert found.missing_share == pytest.approx(30 / (drawing().sum() / PX**2), rel=0.1)
    assert (blot.x_mm, blot.y_mm, blot.area_mm2) == pytest.approx((22, 17, 8), rel=0.15)
    assert found.extra_mm2 == pytest.approx(8, rel=0.15)
    assert signs(found) == ["patch_missing", ""]
    small = replace(found, missing=(replace(gap, area_mm2=2.9),), extra=(replace(blot, area_mm2=1.9),))
    assert signs(small) == []


def test_the_largest_patches_come_first_and_specks_are_none():
    y, x = (np.mgrid[0:HIGH, 0:WIDE] + 0.5) / PX
    sides = {12.5: 1.7, 15.0: 1.8, 18.5: 3.0, 22.5: 2.0, 26.0: 2.4, 29.5: 2.6, 33.0: 2.2, 36.5: 2.8}
    wiped = drawing()
    for middle, side in sides.items():
        wiped = wiped * ~((np.abs(x - 15) < side / 2) & (np.abs(y - middle) < side / 2))
    found = flaws(wiped).missing
    assert [patch.width_mm for patch in found] == pytest.approx([3.0, 2.8, 2.6, 2.4, 2.2, 2.0], abs=0.2)
    alone = {side: drawing() * ~((np.abs(x - 15) < side / 2) & (np.abs(y - 25) < side / 2)) for side in (1.4, 1.6)}
    assert {side: len(flaws(face).missing) for side, face in alone.items()} == {1.4: 0, 1.6: 1}


@pytest.mark.parametrize(
    ("deg", "sign"), [(90, "streaks"), (70, "streaks"), (4, "stripes"), (176, "stripes"), (13, "streaks")]
)
def test_streaks_are_told_from_stripes_by_their_direction(deg, sign):
    y, x = (np.mgrid[0:HIGH, 0:WIDE] + 0.5) / PX
    across = x * np.sin(np.deg2rad(deg)) + y * np.cos(np.deg2rad(deg))
    found = flaws(drawing() * (0.85 + 0.15 * np.sin(2 * np.pi * across / 3.0)))
    assert abs((found.streaks.direction_deg - deg + 90) % 180 - 90) < 4
    assert found.streaks.spacing_mm == pytest.approx(3.0, rel=0.1)
    assert 0.5 * 0.15 / 0.85 / np.sqrt(2) < found.streaks.depth < 0.15 / 0.85 / np.sqrt(2)
    assert signs(found) == [sign]
    assert signs(found, "ablate") == [s for s in [sign] if s in PROCESSES["ablate"].defects]


def test_lines_to_and_fro_that_do_not_meet_comb_upright_edges():
    """Every other line lies 0.6 mm further; a photo sees both at once."""
    combed = 0.5 * (moved(drawing(), 0.3, 0) + moved(drawing(), -0.3, 0))
    found = flaws(ndimage.gaussian_filter(combed, 0.8))
    assert found.edges.combed_mm == pytest.approx(0.6, abs=0.12)
    assert signs(found) == ["combed"]
    upright = ndimage.gaussian_filter(0.5 * (moved(drawing(), 0, 0.3) + moved(drawing(), 0, -0.3)), 0.8)
    assert signs(flaws(upright)) == []


def test_spots_are_counted_and_measured():
    full, rng = drawing(), np.random.default_rng(8)
    inner = np.argwhere(ndimage.binary_erosion(full > 0, iterations=8))
    y, x = np.mgrid[0:HIGH, 0:WIDE]
    places = []
    for row, column in rng.permutation(inner):
        if all(np.hypot(row - r, column - c) > 9 for r, c in places):
            places.append((row, column))
            full = np.where(np.hypot(y - row, x - column) < 2.5, 0.1, full)
        if len(places) == 24:
            break
    found = flaws(full).spots
    assert found.count == 24
    assert found.most_mm == pytest.approx(5 / PX, rel=0.15)
    assert found.share == pytest.approx(24 * np.pi * 2.5**2 / (found.in_cm2 * 100 * PX**2), rel=0.15)
    assert signs(flaws(full)) == [""]


def test_haze_is_light_close_to_the_mark_against_light_far_from_it():
    away = ndimage.distance_transform_edt(drawing() == 0) / PX
    hazed = np.where(away < 1.6, 20.0, 12.0) + 70 * drawing()
    found = flaws(drawing(), l_star=hazed)
    assert found.haze_l == pytest.approx(8, abs=0.1)
    assert signs(found, "protect") == ["haze"]
    assert signs(found, "frost") == []
    assert flaws(drawing(), l_star=12 + 70 * drawing()).haze_l == pytest.approx(0, abs=0.1)


@pytest.mark.parametrize(("far_mm2", "is_told"), [(19.5, False), (20.5, True)])
def test_haze_is_told_from_twenty_square_millimetres_on(far_mm2, is_told):
    away = ndimage.distance_transform_edt(drawing() == 0) / PX
    far = away > 3.2
    few = far & (np.cumsum(far).reshape(far.shape) <= far_mm2 * PX**2)
    full, inside = drawing().astype(np.float32), (away < 2.5) | few
    light = np.where(away < 1.6, 20.0, 12.0)
    laid = LaidOn(full, full, light, np.full((HIGH, WIDE, 3), 128, np.uint8), inside, PX)
    assert flaws_of(laid).haze_l == (pytest.approx(8) if is_told else None)


def test_brown_is_the_share_of_the_mark_that_turned_yellow():
    rgb = np.full((HIGH, WIDE, 3), 200, np.uint8)
    rgb[:, : WIDE // 2] = (190, 150, 90)
    mark = ndimage.binary_erosion(drawing() > 0, iterations=3)
    found = flaws(drawing(), rgb=rgb)
    assert found.brown_share == pytest.approx(mark[:, : WIDE // 2].sum() / mark.sum(), abs=0.05)
    assert signs(found, "back_engrave") == ["brown"]
    assert signs(found, "frost") == []


def test_what_has_no_place_to_be_measured_is_none():
    nothing = flaws_of(LaidOn(np.zeros((60, 60), np.float32), np.zeros((60, 60), np.float32), np.zeros((60, 60)),
                              np.zeros((60, 60, 3), np.uint8), np.ones((60, 60), bool), PX))  # fmt: skip
    assert (nothing.doubled, nothing.streaks, nothing.spots, nothing.edges, nothing.haze_l, nothing.brown_share) == (
        None,
    ) * 6
    assert flaws_seen(nothing, PROCESSES["frost"]) == []


def test_kept_flaws_come_back():
    y, x = (np.mgrid[0:HIGH, 0:WIDE] + 0.5) / PX
    found = flaws(np.where(np.hypot(x - 15, y - 25) < 2, 0, drawing()))
    assert found.missing
    assert flaws_from(asdict(found)) == found
    assert flaws_from({**asdict(found), "spots": None}).spots is None


def test_a_jump_has_no_place_and_a_gap_no_size():
    plain, lies = flaws(drawing()), {"off_place", "askew", "wrong_size"}
    gap = replace(plain, missing=(Patch(0, 0, 0, 0, 3, 3, 9),))
    jump = replace(gap, doubled=Doubled(2, 1, 0.3, 0.9))
    twice = replace(plain, doubled=Doubled(2, 1, 0.3, 0.1))
    frost = PROCESSES["frost"]
    assert signs_seen(lies, None, frost) == signs_seen(lies, plain, frost) == lies
    assert signs_seen(lies, gap, frost) == {"off_place", "patch_missing"}
    assert signs_seen(lies, jump, frost) == {"doubled"}
    assert signs_seen(lies, twice, frost) == lies | {"doubled"}
    assert patches_seen(jump) == []
    assert patches_seen(replace(gap, extra=gap.missing)) == [(gap.missing[0], True), (gap.missing[0], False)]


def test_words_at_the_bounds_of_each_sign():
    plain = flaws(drawing())
    cases = [
        ({"streaks": MarkStreaks(90, 0, 0.02, 0.5)}, ["streaks"]), ({"streaks": MarkStreaks(90, 0, 0.0199, 0.9)}, []),
        ({"streaks": MarkStreaks(90, 0, 0.1, 0.49)}, []), ({"edges": Edges(0.5, 0.35)}, ["combed"]),
        ({"edges": Edges(0.46, 0.31)}, []), ({"edges": Edges(1.2, 0.95)}, []),
        ({"spots": Spots(3, 2.0, 0.4, 0.025)}, [""]), ({"spots": Spots(3, 2.0, 0.4, 0.024)}, []),
        ({"haze_l": -3.0}, ["haze"]), ({"haze_l": 2.9}, []),
        ({"brown_share": 0.1}, ["brown"]), ({"brown_share": 0.09}, []),
        ({"streaks": MarkStreaks(90, 0, 0.1, 0.9), "spots": Spots(9, 2.0, 0.4, 0.1)}, [""]),
    ]  # fmt: skip
    both = replace(PROCESSES["frost"], defects=("streaks", "stripes", "haze", "brown"))
    for change, wanted in cases:
        assert [flaw.sign for flaw in flaws_seen(replace(plain, **change), both)] == wanted, change
    darker = flaws_seen(replace(plain, haze_l=-4.0), both)[0].words
    assert "4 L* darker" in darker


@pytest.mark.parametrize("across", [False, True])
def test_a_jump_is_told_from_a_photo_and_the_larger_part_keeps_its_place(across):
    far = (2.5, 1.0)
    later = np.arange(FULL)[None, :] < 22 * PX if across else np.arange(FULL)[:, None] < 23 * PX
    way = AffineTransform(translation=(far[0] * PX, -far[1] * PX))
    jumped = np.maximum(np.where(later, 0, leaf()), warp(np.where(later, leaf(), 0), way.inverse, order=1))
    shot = read_art_shot(photo(jumped, TILE), FACE, leaf(), TILE, None)
    assert shot.trouble is None
    found = shot.likeness.flaws.doubled
    share = leaf()[np.broadcast_to(later, leaf().shape)].sum() / leaf().sum()
    sign = 1 if share < 0.5 else -1
    assert (found.right_mm, found.up_mm) == pytest.approx((sign * far[0], sign * far[1]), abs=0.3)
    assert found.share == pytest.approx(min(share, 1 - share), abs=0.12)
    here = (0, 0) if share < 0.5 else far
    assert shot.likeness.shift_mm == pytest.approx(here, abs=0.3)


def test_another_drawing_in_two_parts_is_not_taken_for_this_one():
    other = np.ascontiguousarray(np.flipud(leaf()))
    shot = read_art_shot(photo(other, Look(0.7, 0.05)), FACE, leaf(), TILE, None)
    assert "does not look like" in shot.trouble.message
