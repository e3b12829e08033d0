"""The same coat photographed otherwise must read the same: turned, mirrored, darker, smaller, in another format."""

import io

import numpy as np
import pytest
from PIL import Image, ImageOps

from keencoat.bench.coatshots import Lamp, ShotSetup, shoot_coat
from keencoat.bench.filmfield import CoatFault, make_film
from keencoat.core.coat.evenness.advice import advise_coat
from keencoat.core.coat.evenness.film import LightWay, Optics
from keencoat.core.coat.evenness.measure import measure_coat
from keencoat.core.vision.outline import EdgeKind
from keencoat.core.vision.photo import decode_photo
from keencoat.core.vision.rectify import SeenFace

OPTICS = Optics(LightWay.THROUGH, 0.0, 1.0, 1.3)
FACE = SeenFace(EdgeKind.CORNERS, 90, 60)
SETUP = ShotSetup(Lamp.BEHIND, 90, 60, mean_film_um=29)


@pytest.fixture(scope="module")
def shot():
    return shoot_coat(CoatFault.THIN_SPOT, SETUP, 98_001)


@pytest.fixture(scope="module")
def reading(shot):
    return measure_coat(decode_photo(shot.coated), FACE, OPTICS)


def saved(picture, kind="JPEG", **how):
    out = io.BytesIO()
    picture.save(out, kind, **({"quality": 95} if kind != "PNG" else {}) | how)
    return out.getvalue()


def picture_of(shot):
    return Image.open(io.BytesIO(shot.coated)).convert("RGB")


def codes(reading):
    return {f.code for f in advise_coat(reading, 1.0)}


def assert_same(data, reading, rel=0.06):
    other = measure_coat(decode_photo(data), FACE, OPTICS)
    assert other.cv == pytest.approx(reading.cv, rel=rel)
    assert other.mean_signal == pytest.approx(reading.mean_signal, rel=0.02)
    assert codes(other) == codes(reading)
    return other


@pytest.mark.parametrize("kind", ["PNG", "HEIF"])
def test_other_formats(shot, reading, kind):
    picture = picture_of(shot)
    # HEIF takes long to write.
    picture.thumbnail((1000, 1000))
    assert_same(saved(picture, kind), reading)


def test_turned_upside_down_the_fault_lies_at_the_other_end(shot, reading):
    turned = assert_same(saved(picture_of(shot).rotate(180)), reading)
    here, there = reading.faults[0], turned.faults[0]
    assert here.x_mm + here.width_mm / 2 == pytest.approx(90 - there.x_mm - there.width_mm / 2, abs=2.5)
    assert here.y_mm + here.height_mm / 2 == pytest.approx(60 - there.y_mm - there.height_mm / 2, abs=2.5)


def test_mirrored(shot, reading):
    assert_same(saved(ImageOps.mirror(picture_of(shot))), reading)


@pytest.mark.parametrize("orientation", [3, 6, 8])
def test_a_phone_held_otherwise_says_so_in_its_exif(shot, reading, orientation):
    """The pixels are stored turned, and the tag says how to turn them back: the same picture to the eye."""
    back = {3: Image.Transpose.ROTATE_180, 6: Image.Transpose.ROTATE_90, 8: Image.Transpose.ROTATE_270}[orientation]
    exif = Image.Exif()
    exif[0x0112] = orientation
    same = assert_same(saved(picture_of(shot).transpose(back), exif=exif), reading)
    assert np.array(same.outline.points) == pytest.approx(np.array(reading.outline.points), abs=0.004)


@pytest.mark.parametrize("stops", [0.75, 0.5])
def test_exposed_darker(shot, reading, stops):
    """Less light in linear terms, through sRGB and back (IEC 61966-2-1)."""
    code = np.asarray(picture_of(shot)) / 255.0
    linear = np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4) * stops
    darker = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)
    assert_same(saved(Image.fromarray(np.round(darker * 255).astype(np.uint8))), reading, rel=0.1)


def test_taken_smaller(shot, reading):
    picture = picture_of(shot)
    assert_same(
        saved(picture.resize((picture.width // 2, picture.height // 2), Image.Resampling.BOX)), reading, rel=0.1
    )


def test_a_second_shot_of_the_same_coat_agrees():
    """Another place, lamp and noise; the film field is the same seed's."""
    field = make_film(CoatFault.NONE, 90, 60, 29, 10, False, np.random.default_rng(5))
    again = make_film(CoatFault.NONE, 90, 60, 29, 10, False, np.random.default_rng(5))
    assert np.array_equal(field.film_um, again.film_um)
    assert field.true_cv() == again.true_cv() > 0.02


@pytest.mark.parametrize("fault", list(CoatFault))
def test_each_fault_does_to_the_film_what_its_name_says(fault):
    fields = [make_film(fault, 90, 60, 30, 10, False, np.random.default_rng(seed)) for seed in range(6)]
    good = [make_film(CoatFault.NONE, 90, 60, 30, 10, False, np.random.default_rng(seed)) for seed in range(6)]
    means = np.array([f.film_um.mean() for f in fields])
    lows, highs = np.array([f.film_um.min() for f in fields]), np.array([f.film_um.max() for f in fields])
    assert (lows >= 0).all()
    if fault is CoatFault.THIN:
        assert (means < 15).all()
    if fault in (CoatFault.THIN_SPOT, CoatFault.TOUCHED, CoatFault.CRACKED, CoatFault.PINHOLES):
        assert (lows < 0.62 * means).all()
    if fault is CoatFault.POOLED:
        assert (highs > 1.7 * means).all()
    if fault is CoatFault.STREAKED:
        spread = np.array([f.true_cv() for f in fields])
        assert (spread > 1.5 * np.array([g.true_cv() for g in good])).all()
        assert all(2.9 < f.streak_mm < 7.1 for f in fields)
