"""Grid photos spoilt afterwards, not by the bench's own camera: what hides harm takes “sure” away."""

import cv2
import numpy as np
import pytest
from scipy.ndimage import gaussian_filter1d

from keencoat.bench.gridshots import draw_pose
from keencoat.core.errors import BadValueError
from keencoat.core.reading.cells import read_grid_photo
from keencoat.core.reading.doubts import BLUR_MM, covered_share, edge_blur_mm, ground_off_ln
from keencoat.core.reading.gridframe import find_grid_frame
from keencoat.core.reading.gridplan import Sight
from keencoat.core.reading.photo import Photo, decode_photo
from keencoat.core.reading.rate import Tuning, propose
from tests.bench.burned import burn, piece_of, shoot, truth_of


def spoilt(rgb, how):
    """The photo in linear light, worsened: edges blurred to σ 0.15 or 0.25 mm, a hard shadow, a veil of lamp light."""
    linear = (rgb / 255.0) ** 2.2
    rows, columns = linear.shape[:2]
    ys, xs = np.mgrid[0:rows, 0:columns]
    if how.startswith("blur"):
        linear = cv2.GaussianBlur(linear, (0, 0), float(how[4:]) * max(rows, columns) / 110)
    elif how == "shadow":
        side = 1 / (1 + np.exp(-((xs - columns * 0.5) + 0.3 * (ys - rows * 0.5)) / 3))
        linear = linear * (1 - 0.6 * side[..., None])
    elif how == "veil":
        away = ((xs / columns - 0.6) / 0.2) ** 2 + ((ys / rows - 0.5) / 0.25) ** 2
        linear = linear + 0.15 * np.exp(-away)[..., None]
    return (np.clip(linear, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8)


def read(process, seed, how):
    """(truth, proposal) of every cell; none where the photo is refused."""
    program, piece = burn(process), piece_of(process, seed, True)
    truths = truth_of(piece, program)
    photo = decode_photo(shoot(piece, program, draw_pose(np.random.default_rng([seed, 1])), seed))
    photo = Photo(spoilt(photo.rgb, how), photo.scale, photo.kind)
    sight = Sight(program.layout, 12)
    try:
        cells = read_grid_photo(photo, find_grid_frame(photo, sight), sight).cells
    except BadValueError:
        return []
    return [(truths[c.code], propose(c, process, Tuning())) for c in cells]


@pytest.mark.parametrize(("process", "seed"), [("frost", 8101), ("reveal", 8101), ("back_engrave", 8101)])
def test_no_spoilt_photo_is_sure_that_a_harmed_cell_is_clean(process, seed):
    good = read(process, seed, "none")
    assert np.mean([p.sure for _, p in good]) > 0.5
    assert sum(t.clear and t.verdict == "harsh" for t, _ in good) > 0
    for how in ("blur0.15", "blur0.25", "shadow", "veil"):
        cells = read(process, seed, how)
        assert not [p.code for t, p in cells if t.clear and t.verdict == "harsh" and p.rating == "clean" and p.sure], (
            how
        )
        if how.startswith("blur"):
            assert not [p for _, p in cells if p.sure]
        if how == "shadow":
            assert sum("in a shadow" in p.doubts for _, p in cells) > len(cells) / 3


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
