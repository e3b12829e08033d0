"""Photos: hostile ones refused, squared up against scikit-image, light and streaks against other methods."""

import io
import struct
import zlib

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from skimage.color import rgb2xyz
from skimage.transform import ProjectiveTransform, warp

from keencoat.core.errors import BadValueError
from keencoat.core.vision.outline import EdgeKind, SeenOutline, check_points, find_outline, find_outlines
from keencoat.core.vision.photo import Photo, decode_photo, luminance
from keencoat.core.vision.pictures import middle_light
from keencoat.core.vision.rectify import SEEN_DEG, SeenFace, face_mask, homography, pixels_per_mm, rectify
from keencoat.core.vision.streaks import find_streaks
from keencoat.core.vision.surface import fit_light


def encoded(size=(640, 480), kind="JPEG", colour=(90, 120, 150), **how):
    out = io.BytesIO()
    Image.new("RGB", size, colour).save(out, kind, **how)
    return out.getvalue()


def huge_png():
    """A file that promises 40 000 × 40 000 pixels and holds a few bytes."""

    def chunk(kind, body):
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    header = struct.pack(">IIBBBBB", 40_000, 40_000, 8, 2, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", zlib.compress(b"0" * 99)) + chunk(b"IEND", b"")
    )


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"just some words, named cloche.jpg", "not a photo"),
        (b"", "not a photo"),
        (b'<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>', "not a photo"),
        (encoded()[:700], "broken"),
        (encoded((7200, 5600)), "40 megapixels"),
        (huge_png(), "far more pixels"),
        (encoded((100, 80)), "only 100 × 80"),
        (b"\xff\xd8" + b"x" * 31_000_000, "30 MB"),
    ],
)
def test_hostile_and_useless_files_are_refused(data, words):
    with pytest.raises(BadValueError, match=words) as caught:
        decode_photo(data)
    assert caught.value.field == "photo"
    assert caught.value.hint


def test_photos_are_turned_upright_and_made_small():
    picture = Image.new("RGB", (3000, 2000), (20, 20, 20))
    picture.paste((250, 0, 0), (0, 0, 300, 200))
    exif = Image.Exif()
    exif[0x0112] = 6
    out = io.BytesIO()
    picture.save(out, "JPEG", exif=exif, quality=95)
    photo = decode_photo(out.getvalue())
    assert photo.size_px[0] < photo.size_px[1] <= 2000
    # Orientation 6 means: turn clockwise, so the upper left corner goes to the upper right.
    assert photo.rgb[30, -30, 0] > 200 > photo.rgb[30, 30, 0] + 100
    for kind in ("PNG", "HEIF"):
        assert decode_photo(encoded(kind=kind)).size_px == (640, 480)


def test_luminance_against_scikit_image():
    codes = np.random.default_rng(1).integers(0, 256, (40, 30, 3), dtype=np.uint8)
    assert luminance(codes) == pytest.approx(rgb2xyz(codes)[..., 1], abs=2e-4)


def test_homography_worked_example():
    """(0,0)(100,0)(100,60)(0,60) → (12,8)(590,40)(560,400)(30,370) takes (50,30) to (297.607, 212.303)."""
    source = np.array([[0, 0], [100, 0], [100, 60], [0, 60]], dtype=float)
    target = np.array([[12, 8], [590, 40], [560, 400], [30, 370]], dtype=float)
    x, y, w = homography(source, target) @ [50, 30, 1]
    assert (x / w, y / w) == pytest.approx((297.607, 212.303), abs=1e-3)


@given(jitter=st.lists(st.floats(-40, 40), min_size=8, max_size=8))
def test_homography_against_scikit_image(jitter):
    source = np.array([[100, 80], [500, 90], [480, 380], [110, 370]], dtype=float) + np.reshape(jitter, (4, 2))
    target = np.array([[0, 0], [300, 0], [300, 200], [0, 200]], dtype=float)
    other = ProjectiveTransform.from_estimate(source, target)
    points = np.array([[200, 200], [300, 150], [400, 300]], dtype=float)
    ours = np.c_[points, np.ones(3)] @ homography(source, target).T
    assert ours[:, :2] / ours[:, 2:] == pytest.approx(other(points), abs=1e-4)


def smooth_picture(height=480, width=640):
    ys, xs = np.mgrid[0:height, 0:width]
    waves = 120 + 60 * np.sin(xs / 37) + 50 * np.cos(ys / 29)
    return np.repeat(np.clip(waves, 0, 255).astype(np.uint8)[..., None], 3, axis=2)


def test_rectified_picture_against_scikit_image():
    picture = smooth_picture()
    points = ((0.2, 0.15), (0.85, 0.22), (0.8, 0.9), (0.15, 0.8))
    face = SeenFace(EdgeKind.CORNERS, 80, 60)
    ours = rectify(picture, SeenOutline(EdgeKind.CORNERS, points), face, 5)
    assert ours.shape == (300, 400, 3)
    pixels = np.array(points) * [640, 480] - 0.5
    target = np.array([[-0.5, -0.5], [399.5, -0.5], [399.5, 299.5], [-0.5, 299.5]])
    inverse = ProjectiveTransform.from_estimate(target, pixels)
    theirs = 255 * warp(picture / 255.0, inverse, output_shape=(300, 400), order=1)
    assert np.abs(ours - theirs)[2:-2, 2:-2].mean() < 0.7


def test_a_round_piece_is_unrolled():
    """A cylinder with rings every 10° shows them evenly spaced: x = R·sin θ, by definition."""
    width = 601
    x = (np.arange(width) - 300) / 300
    angle = np.degrees(np.arcsin(np.clip(x, -1, 1)))
    stripes = np.where(np.abs(angle / 10 - np.round(angle / 10)) < 0.08, 255, 0).astype(np.uint8)
    picture = np.repeat(np.repeat(stripes[None, :, None], 300, axis=0), 3, axis=2)
    face = SeenFace(EdgeKind.SIDE, 60, 30)
    outline = SeenOutline(EdgeKind.SIDE, ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)))
    line = rectify(picture, outline, face, 12)[150, :, 0].astype(float)
    edges = np.flatnonzero(np.diff((line > 128).astype(int)) == 1)
    gaps = np.diff(edges)
    assert gaps.std() < 0.06 * gaps.mean()
    assert gaps.mean() == pytest.approx(10 / (2 * SEEN_DEG) * len(line), rel=0.02)


def test_fitted_light_ignores_faults():
    ys, xs = np.mgrid[0:200, 0:300] / 200
    true = 0.6 * np.exp(-0.3 * (xs - 0.7) ** 2 - 0.2 * (ys - 0.4) ** 2)
    light = true.copy()
    light[60:110, 100:180] *= 0.3
    surface, scale = fit_light(light.astype(np.float32), np.ones(light.shape, dtype=bool))
    assert np.abs(surface / true - 1).max() < 0.02
    assert scale < 0.01


@pytest.mark.parametrize(
    ("points", "words"),
    [
        ([(0.1, 0.1), (0.9, 0.1), (0.9, 0.9)], "3 points"),
        ([(0.1, 0.1), (0.9, 0.9), (0.9, 0.1), (0.1, 0.9)], "cross over"),
        ([(0.1, 0.1), (0.1, 0.9), (0.9, 0.9), (0.9, 0.1)], "cross over"),
        ([(0.1, 0.1), (0.5, 0.1), (0.9, 0.1), (0.5, 0.9)], "cross over"),
        ([(7, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9)], "outside"),
        ([(float("nan"), 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9)], "not a number"),
    ],
)
def test_points_that_make_no_frame(points, words):
    with pytest.raises(BadValueError, match=words):
        check_points(points, EdgeKind.CORNERS)


@pytest.mark.parametrize("colour", [0, 128, 255])
def test_a_photo_without_a_piece_says_so(colour):
    noise = np.random.default_rng(colour).normal(0, 2, (480, 640, 3))
    blank = Photo(np.clip(colour + noise, 0, 255).astype(np.uint8), 1.0, "JPEG")
    with pytest.raises(BadValueError, match="No piece was found"):
        find_outline(blank, EdgeKind.CORNERS, 1.3)
    cut = blank.rgb.copy()
    cut[:, :330] = 200 if colour < 200 else 40
    cut[200:] = cut[0, 0]
    with pytest.raises(BadValueError, match="No piece was found"):
        find_outline(Photo(cut, 1.0, "JPEG"), EdgeKind.CORNERS, 1.3)


@pytest.mark.parametrize("turn", [0, 7, 45, 90, 118, 163])
def test_streaks_against_the_spectrum(turn):
    """Known stripes in noise: our structure tensor and autocorrelation against the peak of numpy's 2-D FFT."""
    px, spacing = 8, 4.4
    ys, xs = np.mgrid[0 : 70 * px, 0 : 90 * px] / px
    angle = np.deg2rad(turn)
    across = xs * np.sin(angle) + ys * np.cos(angle)
    noise = np.random.default_rng(turn).normal(0, 0.05, across.shape)
    film = (1 + 0.12 * np.sin(2 * np.pi * across / spacing) + noise).astype(np.float32)
    found = find_streaks(film, face_mask(SeenFace(EdgeKind.CORNERS, 90, 70), px, 1), px)
    spectrum = np.abs(np.fft.rfft2(film - film.mean(), s=(2048, 2048)))
    row, column = np.unravel_index(spectrum.argmax(), spectrum.shape)
    fy, fx = np.fft.fftfreq(2048, 1 / px)[row], np.fft.rfftfreq(2048, 1 / px)[column]
    by_fft = (np.degrees(np.arctan2(-fy, fx)) + 90) % 180
    assert abs((found.direction_deg - by_fft + 90) % 180 - 90) < 3
    assert abs((found.direction_deg - turn + 90) % 180 - 90) < 3
    assert found.spacing_mm == pytest.approx(1 / np.hypot(fx, fy), rel=0.05)
    assert found.spacing_mm == pytest.approx(spacing, rel=0.05)
    assert found.depth == pytest.approx(0.12 / np.sqrt(2), rel=0.25)


def test_scale_and_masks():
    photo = Photo(np.zeros((600, 800, 3), dtype=np.uint8), 1.0, "JPEG")
    square = SeenOutline(EdgeKind.CORNERS, ((0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9)))
    assert pixels_per_mm(photo, square, SeenFace(EdgeKind.CORNERS, 80, 60)) == pytest.approx(8)
    disc = face_mask(SeenFace(EdgeKind.RIM, 50, 50), 6)
    assert disc.mean() == pytest.approx(np.pi / 4, rel=5e-3)


@pytest.mark.parametrize("bench", [(150, 152, 140), (90, 110, 70)])
def test_a_tile_that_is_dark_at_its_sides_and_bright_between_is_found_whole(bench):
    """Neither lighter nor darker than its bench all round; unlike it all round."""
    rng = np.random.default_rng(4)
    rgb = np.full((600, 800, 3), bench, dtype=float) * (1 + 0.1 * np.linspace(-1, 1, 800))[None, :, None]
    rgb[90:510, 200:620] = (34, 36, 38)
    rgb[90:510, 260:560] = (190, 140, 50)
    rgb = np.clip(rgb + rng.normal(0, 3, rgb.shape), 0, 255).astype(np.uint8)
    found = find_outlines(Photo(rgb, 1.0, "JPEG"), EdgeKind.CORNERS, 1.0, 8)
    wanted = np.array([[200, 90], [620, 90], [620, 510], [200, 510]])
    assert min(np.abs(np.array(one.points) * (800, 600) - wanted).max() for one in found) < 1.5


def grey_png(pixels):
    out = io.BytesIO()
    Image.fromarray(np.repeat(pixels[..., None], 3, axis=2).astype(np.uint8)).save(out, "PNG")
    return out.getvalue()


def test_the_light_of_a_photos_middle_is_that_of_its_middle_quarter():
    """By sRGB's own formula (IEC 61966-2-1); what lies round it may be as bright as it likes."""
    codes = np.full((480, 640), 255)
    codes[180:300, 240:400] = 100
    codes[180:300, 240:280] = 60
    linear = ((np.array([60, 100]) / 255 + 0.055) / 1.055) ** 2.4
    assert middle_light(grey_png(codes), "photo") == pytest.approx(linear @ [0.25, 0.75], rel=1e-3)
    # Three columns of 160 are under two in a hundred, four are over.
    codes[180:300, 240:243] = 250
    middle_light(grey_png(codes), "photo")
    codes[180:300, 243] = 250
    with pytest.raises(BadValueError, match="burnt out"):
        middle_light(grey_png(codes), "photo")
