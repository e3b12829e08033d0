"""Pictures from outside, their tones, and the curve from dots to lightness."""

import io
import pickle
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from skimage.color import rgb2lab
from skimage.data import astronaut, camera, rocket
from skimage.transform import resize_local_mean

from keencoat.core.artwork.picture import decode_picture, for_screen, resampled, unread_picture
from keencoat.core.artwork.screen import Screen
from keencoat.core.artwork.spread import DotModel, flat_fullness
from keencoat.core.artwork.tone import Crop, ToneWork, even_ground, toned
from keencoat.core.artwork.tone_curve import (
    SHARES,
    DotBelief,
    Look,
    WedgeStep,
    calibrated_curve,
    effective_area,
    predicted_curve,
)
from keencoat.core.errors import BadValueError

BELIEF = DotBelief(DotModel(0.1, 0.1, 0.035, 0.25))
TILE, GLASS = Look(0.75, 0.08), Look(0.05, 0.55)


def saved(image: Image.Image, kind: str, **how) -> bytes:
    out = io.BytesIO()
    image.save(out, kind, **how)
    return out.getvalue()


def test_lightness_is_skimages_and_kinds_of_file_agree():
    rgb = rocket()
    image = Image.fromarray(rgb)
    expected = rgb2lab(rgb)[..., 0] / 100
    for kind in ("PNG", "TIFF"):
        assert np.abs(decode_picture(saved(image, kind)).light - expected).max() < 2e-4
    for kind in ("JPEG", "HEIF"):
        assert np.abs(decode_picture(saved(image, kind, quality=95)).light - expected).mean() < 0.02


def test_sixteen_bits_keep_their_steps_and_four_inks_are_read():
    ramp = np.tile(np.linspace(0, 65535, 400).astype(np.uint16), (20, 1))
    found = decode_picture(saved(Image.fromarray(ramp), "PNG")).light[0]
    assert len(np.unique(found)) == 400
    assert found[200] == pytest.approx(
        float(rgb2lab(np.full((1, 1, 3), ramp[0, 200] / 65535))[0, 0, 0]) / 100, abs=1e-4
    )
    inks = Image.new("CMYK", (40, 40), (0, 0, 0, 255))
    inks.paste((0, 0, 0, 0), (0, 0, 20, 40))
    light = decode_picture(saved(inks, "TIFF")).light
    assert light[5, 5] == pytest.approx(1, abs=0.01)
    assert light[5, 35] == pytest.approx(0, abs=0.01)


def test_see_through_places_are_no_mark_and_weigh_nothing():
    rgba = np.zeros((40, 40, 4), np.uint8)
    rgba[:, :20] = (255, 255, 255, 255)
    picture = decode_picture(saved(Image.fromarray(rgba), "PNG"))
    assert picture.see_through_share == pytest.approx(0.5)
    small = resampled(picture, 5, 5)
    assert small.there[0].tolist() == [1, 1, 0.5, 0, 0]
    assert small.light[0, :3].tolist() == pytest.approx([1, 1, 1], abs=1e-4)
    palette = Image.fromarray(rgba[..., :3]).convert("P")
    assert decode_picture(
        saved(palette, "PNG", transparency=palette.getpixel((30, 5)))
    ).see_through_share == pytest.approx(0.5)


def test_a_photo_is_turned_upright_as_its_camera_says():
    grey = np.tile(np.linspace(0, 255, 60).astype(np.uint8), (40, 1))
    image = Image.fromarray(grey)
    exif = image.getexif()
    exif[0x0112] = 6
    assert decode_picture(saved(image, "JPEG", exif=exif)).light.shape == (60, 40)


@pytest.mark.parametrize("kind", ["PNG", "TIFF", "JPEG", "HEIF"])
@pytest.mark.parametrize("lies", [1, 3, 6, 8])
def test_its_size_is_told_by_its_header(kind, lies):
    image = Image.fromarray(rocket())
    exif = image.getexif()
    exif[0x0112] = lies
    data = saved(image, kind, exif=exif)
    for longest_px in (4000, 250):
        unread, read = unread_picture(data, longest_px), decode_picture(data, longest_px=longest_px)
        assert unread.light.shape == unread.there.shape == read.light.shape
    with pytest.raises(BadValueError, match="not a photo"):
        unread_picture(b"GIF89a", 4000)


@pytest.mark.parametrize("through", [False, True])
def test_a_large_one_is_made_smaller_as_it_is_read(through, monkeypatch):
    monkeypatch.setattr("keencoat.core.artwork.picture._BAND", 100)
    image = Image.fromarray(rocket())
    if through:
        image.putalpha(Image.fromarray(np.tile(np.linspace(0, 255, 640).astype(np.uint8), (427, 1))))
    data = saved(image, "PNG")
    whole = decode_picture(data)
    small, expected = decode_picture(data, longest_px=200), for_screen(whole, 200)
    assert whole.is_opaque is small.is_opaque is not through
    assert small.light.shape == small.there.shape == (133, 200)
    for name in ("light", "there"):
        assert np.abs(getattr(small, name) - getattr(expected, name)).max() < 2e-3
        same = pickle.loads(pickle.dumps(small))
        assert (getattr(same, name) == getattr(small, name)).all()
    if not through:
        # Nothing is sent for what is the same all over.
        assert len(pickle.dumps(small)) < small.light.nbytes + 500


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "not a photo"),
        (b"GIF89a" + bytes(40), "not a photo"),
        (saved(Image.fromarray(camera()), "PNG")[:2000], "broken"),
        (saved(Image.new("L", (30_000, 1)), "PNG"), "only 30000 × 1"),
        (saved(Image.new("1", (12_000, 12_000)), "PNG"), "megapixels"),
        (saved(Image.new("F", (40, 40)), "TIFF"), "white is not told"),
        (b"\x00" * 31_000_000, "31 MB"),
    ],
)
def test_what_is_no_picture_is_refused_in_words(data, says):
    with pytest.raises(BadValueError, match=says) as told:
        decode_picture(data)
    assert told.value.field == "picture"
    assert told.value.hint


def test_a_picture_is_averaged_as_skimage_does_it():
    picture = decode_picture(saved(Image.fromarray(astronaut()[..., 1]), "PNG"))
    for size, off in (((128, 64), 1e-5), ((77, 130), 0.02)):
        ours = resampled(picture, size[1], size[0]).light
        assert np.abs(ours - resize_local_mean(picture.light, size)).mean() < off
    assert resampled(picture, 2000, 1500).light.shape == (1500, 2000)
    assert for_screen(picture, 100).light.shape == (100, 100)
    assert for_screen(picture, 4000) is picture


def ramp(width: int = 101, height: int = 40):
    code = np.tile(np.linspace(0, 1, width), (height, 1))
    picture = decode_picture(saved(Image.fromarray((code * 255).astype(np.uint8)), "PNG"))
    return type(picture)(code.astype(np.float32), np.ones_like(code, np.float32))


def test_each_knob_does_what_it_says_on_a_ramp():
    plain = ramp()
    mid = plain.light[0]

    def after(**work: object):
        return toned(plain, ToneWork(**work)).light[0]

    assert after() == pytest.approx(mid)
    assert after(black=0.2, white=0.8) == pytest.approx(np.clip((mid - 0.2) / 0.6, 0, 1), abs=1e-5)
    assert after(gamma=2.0) == pytest.approx(np.sqrt(mid), abs=1e-5)
    assert after(brightness=0.1) == pytest.approx(np.clip(mid + 0.1, 0, 1), abs=1e-5)
    assert after(contrast=2.0) == pytest.approx(np.clip(2 * mid - 0.5, 0, 1), abs=1e-5)
    assert after(contrast=0.0) == pytest.approx(0.5)
    half = toned(plain, ToneWork(crop=Crop(left=0.5, top=0.25)))
    assert half.light.shape == (30, 51)
    assert half.light[0, 0] == pytest.approx(0.5)


def test_detail_is_raised_by_sharpening_nearby_and_by_local_contrast_far():
    step = np.full((200, 200), 0.4, np.float32)
    step[:, 100:] = 0.6
    picture = type(ramp())(step, np.ones_like(step))
    sharp, local = (toned(picture, ToneWork(**{knob: 1.0})).light[100] for knob in ("sharpen", "local"))
    assert sharp[99] < 0.37
    assert sharp[100] > 0.63
    assert sharp[90] == pytest.approx(0.4, abs=0.005)
    assert local[90] < 0.37
    assert local[110] > 0.63
    assert local[10] == pytest.approx(0.4, abs=0.01)


def test_an_even_ground_goes_and_what_stands_on_it_stays():
    rng = np.random.default_rng(5)
    light = (0.8 + 0.01 * rng.standard_normal((120, 160))).astype(np.float32)
    light[30:90, 40:120] = 0.5 + 0.2 * rng.standard_normal((60, 80))
    light[50:70, 60:90] = 0.8
    ground = even_ground(light, 0.03)
    assert ground[:25].all()
    assert ground[:, :35].all()
    assert not ground[35:85, 45:115].any()
    kept = toned(type(ramp())(light, np.ones_like(light)), ToneWork(ground=0.03)).there
    assert kept[10, 10] == 0
    assert kept[60, 75] == 1
    assert not even_ground(light, 0.001).any()


@pytest.mark.parametrize(
    ("make", "field"),
    [
        (lambda: ToneWork(black=0.6, white=0.62), "white"),
        (lambda: ToneWork(gamma=float("nan")), "gamma"),
        (lambda: ToneWork(contrast=1e308), "contrast"),
        (lambda: Crop(left=0.5, right=0.5), "crop.right"),
        (lambda: Crop(top=float("nan")), "crop.top"),
        (lambda: Look(0.5, 0.505), "mark_y"),
    ],
)
def test_knobs_beyond_reason_name_their_field(make, field):
    with pytest.raises(BadValueError) as told:
        make()
    assert told.value.field == field


def test_effective_area_is_murray_and_davies_and_yule_and_nielsens():
    """Worked by hand, from memory of the formulas: densities 0.30 of paper, 1.50 of solid give 51.5 %; with n = 2,
    (1 − 10^−0.15)/(1 − 10^−0.75) = 35.52 %."""
    assert effective_area(10**-0.30, 1.0, 10**-1.50) == pytest.approx(0.5151, abs=1e-4)
    assert effective_area(10**-0.30, 1.0, 10**-1.50, 2.0) == pytest.approx(0.3552, abs=1e-4)
    assert effective_area(np.array([0.8, 0.1]), 0.8, 0.1).tolist() == [0, 1]


@given(st.floats(0, 1), st.sampled_from([TILE, GLASS]))
def test_a_wanted_lightness_and_its_fullness_are_each_others_way_back(wanted, look):
    dark, light = sorted(look.light_of(np.array([0.0, 1.0])).tolist())
    assert look.light_of(look.fullness_for(np.array([wanted])))[0] == pytest.approx(
        dark + wanted * (light - dark), abs=1e-6
    )
    assert look.fullness_for(np.array([0.0, 1.0])).tolist() == pytest.approx(
        [1, 0] if look.darkens else [0, 1], abs=1e-9
    )


@pytest.mark.parametrize("look", [TILE, GLASS])
def test_a_step_of_lightness_is_a_fullness_by_luminance(look):
    """Half of the way in L*, from ground to mark: worked back through CIE 1976's cube."""
    ground, mark = (116 * np.cbrt(y) - 16 for y in (look.ground_y, look.mark_y))
    half = ((ground + (mark - ground) / 2 + 16) / 116) ** 3
    steps = [look.fullness_of_step(step) for step in (0.0, 0.5, 1.0)]
    assert steps == pytest.approx([0, (half - look.ground_y) / (look.mark_y - look.ground_y), 1], abs=1e-6)


def wedge_of(true: DotModel, noise: float, seed: int) -> list[WedgeStep]:
    shares = np.array([0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875, 1.0])
    seen = flat_fullness(shares, Screen.BAYER_4, true) + np.random.default_rng(seed).normal(0, noise, len(shares))
    return [WedgeStep(float(s), float(f), 0.02) for s, f in zip(shares, seen, strict=True)]


@pytest.mark.parametrize("true", [DotModel(0.1, 0.1, 0.028, 0.4, 3.0), DotModel(0.1, 0.1, 0.045, 0.15, 1.6)])
def test_a_wedge_finds_the_curve_of_another_screen(true):
    """Burned with an ordered screen, asked for error diffusion: within 0.05 where the guess was off by more."""
    truth = flat_fullness(SHARES, Screen.STUCKI, true)
    guess = predicted_curve(Screen.STUCKI, BELIEF)
    found = calibrated_curve(Screen.STUCKI, Screen.BAYER_4, wedge_of(true, 0.01, 3), BELIEF)
    assert np.abs(found.fullness - truth).max() < 0.05 < np.abs(guess.fullness - truth).max()
    assert ((found.low - 0.03 <= truth) & (truth <= found.high + 0.03)).all()
    assert (found.high - found.low).mean() < 0.5 * (guess.high - guess.low).mean()
    assert (np.diff(found.fullness) >= 0).all()
    back = found.fullness_at(found.shares_for(np.linspace(0.05, 0.9, 30)))
    assert back == pytest.approx(np.linspace(0.05, 0.9, 30), abs=0.02)


def test_what_the_model_cannot_explain_is_taken_from_the_wedge():
    """A law of another kind: fullness that grows with the root of the share."""
    shares = np.array([0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875])
    steps = [WedgeStep(float(s), float(np.sqrt(s)), 0.02) for s in shares]
    found = calibrated_curve(Screen.BAYER_4, Screen.BAYER_4, steps, BELIEF)
    assert found.fullness_at(shares) == pytest.approx(np.sqrt(shares), abs=0.01)


def test_too_few_steps_are_told():
    with pytest.raises(BadValueError, match="1 steps") as told:
        calibrated_curve(Screen.STUCKI, Screen.BAYER_4, [WedgeStep(0.5, 0.6), WedgeStep(1, 1), WedgeStep(0, 0)], BELIEF)
    assert told.value.field == "wedge"


def test_a_flat_part_of_a_curve_has_a_way_back():
    found = predicted_curve(Screen.BAYER_4, BELIEF)
    flat = replace(found, fullness=np.minimum(1, 2 * SHARES))
    assert flat.shares_for(np.array([0.5, 1.0, 1.2])) == pytest.approx([0.25, 0.5, 1.0], abs=0.01)
