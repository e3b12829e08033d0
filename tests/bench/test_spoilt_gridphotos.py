"""Grid photos of the second world, spoilt afterwards: what hides harm takes “sure” away."""

from functools import lru_cache

import cv2
import numpy as np
import pytest
from scipy.ndimage import gaussian_filter1d

from keencoat.core.errors import BadValueError
from keencoat.core.reading.cells import read_grid_photo
from keencoat.core.reading.doubts import BLUR_MM, WIDE_HARM_BLUR_MM, covered_share, edge_blur_mm, ground_off_ln
from keencoat.core.reading.gridframe import find_grid_frame
from keencoat.core.reading.gridplan import Sight
from keencoat.core.reading.rate import Tuning, propose
from keencoat.core.vision.photo import Photo, decode_photo
from tests.bench.burned import SIZE, burn
from tests.otherworld.gridphotos import shoot_grid


def spoilt(rgb, how, px_per_mm):
    """The photo in linear light, worsened: edges blurred to σ 0.15 or 0.25 mm, a hard shadow, a veil of lamp light."""
    linear = (rgb / 255.0) ** 2.2
    rows, columns = linear.shape[:2]
    ys, xs = np.mgrid[0:rows, 0:columns]
    if how.startswith("blur"):
        linear = cv2.GaussianBlur(linear, (0, 0), float(how[4:]) * px_per_mm)
    elif how == "shadow":
        side = 1 / (1 + np.exp(-((xs - columns * 0.5) + 0.3 * (ys - rows * 0.5)) / 3))
        linear = linear * (1 - 0.6 * side[..., None])
    elif how == "veil":
        away = ((xs / columns - 0.6) / 0.2) ** 2 + ((ys / rows - 0.5) / 0.25) ** 2
        linear = linear + 0.15 * np.exp(-away)[..., None]
    return (np.clip(linear, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8)


@lru_cache
def shot_of(process, seed):
    program = burn(process)
    sight = Sight(program.layout, 12)
    return shoot_grid(process, program.lines, SIZE, sight.corners, program.mirrored, seed, hard=False), sight


def read(process, seed, how):
    """(truth, proposal) of every cell; none where the photo is refused."""
    shot, sight = shot_of(process, seed)
    photo = decode_photo(shot.photo)
    upper = np.linalg.norm((shot.corners[1] - shot.corners[0]) * photo.size_px)
    px_per_mm = float(upper / np.linalg.norm(sight.corners[1] - sight.corners[0]))
    photo = Photo(spoilt(photo.rgb, how, px_per_mm), photo.scale, photo.kind)
    try:
        cells = read_grid_photo(photo, find_grid_frame(photo, sight), sight).cells
    except BadValueError:
        return []
    return [(shot.cells[c.code], propose(c, process, Tuning())) for c in cells]


@pytest.mark.parametrize("seed", [2100, pytest.param(2102, marks=pytest.mark.bench)])
@pytest.mark.parametrize(
    "process", ["frost", "fuse", *(pytest.param(p, marks=pytest.mark.bench) for p in ("reveal", "back_engrave"))]
)
def test_no_spoilt_photo_is_sure_that_a_harmed_cell_is_clean(process, seed):
    good = read(process, seed, "none")
    assert np.mean([p.sure for _, p in good]) >= 0.5
    assert sum(t.clear and t.verdict == "harsh" for t, _ in good) > 0
    limit = WIDE_HARM_BLUR_MM if process == "fuse" else BLUR_MM
    for how in ("blur0.25" if process == "fuse" else "blur0.15", "shadow", "veil"):
        cells = read(process, seed, how)
        assert not [p.code for t, p in cells if t.clear and t.verdict == "harsh" and p.rating == "clean" and p.sure], (
            how
        )
        if how.startswith("blur") and float(how[4:]) > limit:
            # Harm that shows through the blur is harm; what is blurred away must not be missed.
            assert not [p for _, p in cells if p.sure and p.rating == "clean"]
            assert all(t.verdict == "harsh" for t, p in cells if p.sure and p.rating == "harsh" and t.clear)
        if how == "shadow" and cells:
            assert sum("in a shadow" in p.doubts for _, p in cells) > len(cells) / 3


def from_afar(rgb, times):
    """The photo as from so many times as far away, in the middle of a bench without pattern."""
    height, width = rgb.shape[:2]
    far = cv2.resize(rgb, None, fx=1 / times, fy=1 / times, interpolation=cv2.INTER_AREA)
    seen = np.broadcast_to(np.median(far[:3], axis=(0, 1)).astype(np.uint8), rgb.shape).copy()
    top, left = (height - far.shape[0]) // 2, (width - far.shape[1]) // 2
    seen[top : top + far.shape[0], left : left + far.shape[1]] = far
    return seen


@pytest.mark.parametrize("process", ["frost", *(pytest.param(p, marks=pytest.mark.bench) for p in ("fuse", "reveal"))])
def test_a_grid_from_afar_is_found_and_never_wrongly_sure(process):
    shot, sight = shot_of(process, 2104)
    photo = decode_photo(shot.photo)
    corners = shot.corners * photo.size_px
    px_per_mm = np.linalg.norm(corners[1] - corners[0]) / np.linalg.norm(sight.corners[1] - sight.corners[0])
    middle = np.array(photo.size_px) / 2

    def seen(px):
        far = Photo(from_afar(photo.rgb, px_per_mm / px), 1.0, "JPEG")
        found = find_grid_frame(far, sight)
        wanted = middle + (corners - middle) * px / px_per_mm
        assert np.abs(np.array(found.outline.points) * photo.size_px - wanted).max() < 2.5
        return read_grid_photo(far, found, sight)

    cells = [(shot.cells[c.code], propose(c, process, Tuning())) for c in seen(6.0).cells]
    assert not [p for t, p in cells if t.clear and p.sure and p.rating != t.verdict]
    with pytest.raises(BadValueError, match=r"only 3\.5 pixels a millimetre"):
        seen(3.5)


@pytest.mark.parametrize("sigma_mm", [0.05, 0.1, 0.2, 0.35])
def test_the_blur_of_an_edge_against_a_gaussian_of_known_width(sigma_mm):
    """scipy's gaussian_filter1d on a drawn patch 6 mm wide at 14 px/mm; pixel and smoothing add 0.04 mm."""
    px = 14
    step = np.zeros((60, 8 * px))
    step[:, px : 7 * px] = 1.0
    blurred = gaussian_filter1d(step, sigma_mm * px, axis=1).astype(np.float32)
    found = edge_blur_mm(blurred, 1.0, px)
    assert found == pytest.approx(np.hypot(sigma_mm, 0.04), rel=0.15)
    assert (found > BLUR_MM) is (sigma_mm > 0.12)
    assert edge_blur_mm(0.3 * blurred, 0.3, px) is None


def test_ground_beside_a_cell_by_its_worst_side_and_colour():
    bare, light = np.ones((40, 40), dtype=bool), np.full((40, 40), 0.5, dtype=np.float32)
    assert ground_off_ln(light, bare, 0.5) == 0.0
    light[:, 30:] = 0.4
    assert ground_off_ln(light, bare, 0.5) == pytest.approx(np.log(0.5 / 0.4), rel=1e-3)
    lab = np.zeros((40, 40, 3), dtype=np.float32)
    lab[:10, :, 1] = 20.0
    lab[10:20, :, 0] = 50.0
    assert covered_share(lab, bare, np.zeros(3)) == pytest.approx(0.25)
    assert covered_share(lab, np.zeros((40, 40), dtype=bool), np.zeros(3)) == 0.0
