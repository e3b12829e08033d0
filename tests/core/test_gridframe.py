"""A grid's frame found in drawn pictures: whichever way the sheet lies, and whose it is."""

import cv2
import numpy as np
import pytest

from keencoat.core.errors import BadValueError
from keencoat.core.grid.design import design_listed
from keencoat.core.grid.layout import place
from keencoat.core.quantities.setting import Setting
from keencoat.core.reading.gridframe import _stands_out, find_grid_frame
from keencoat.core.reading.gridplan import MARGIN_MM, Sight, frame_mask, inner_mask
from keencoat.core.vision.photo import Photo


def sight_of(cells):
    return Sight(place(design_listed([Setting(10 * n, 50 + n, 0.1) for n in range(1, cells + 1)]), 8.0, 3.0), 12)


SIGHT = sight_of(4)
AT = np.array([[420.0, 260], [1210, 300], [1180, 900], [400, 860]])
"""Where the four corners of the sheet are seen, clockwise from the upper left one, in a photo of 1600 × 1200."""
NEAR_PX = 1.3
"""A twentieth of a millimetre."""
WAYS = [(behind, turn) for behind in (False, True) for turn in range(4)]


def drawn(corners, ground=90, mark=205, sight=SIGHT, over=lambda photo: None):
    """The sheet's frame and marks with its first corner, the filled one's, at the first of `corners`."""
    sheet = np.full(sight.size_px[::-1], ground, dtype=np.uint8)
    sheet[frame_mask(sight) | inner_mask(sight)] = mark
    left, low, right, top = sight.box
    edge = MARGIN_MM * sight.px_per_mm
    width, height = (right - left) * sight.px_per_mm, (top - low) * sight.px_per_mm
    inner = np.array([[0, 0], [width, 0], [width, height], [0, height]]) + edge - 0.5
    matrix = cv2.getPerspectiveTransform(inner.astype(np.float32), corners.astype(np.float32))
    seen = cv2.warpPerspective(sheet, matrix, (1600, 1200), flags=cv2.INTER_AREA, borderValue=ground)
    seen = cv2.GaussianBlur(seen, (0, 0), 0.8)
    over(seen)
    return Photo(np.stack([seen] * 3, axis=-1), 1.0, "PNG")


def seen_at(found):
    return np.array(found.outline.points) * (1600, 1200) - 0.5


@pytest.mark.parametrize(("behind", "turn"), WAYS)
def test_a_sheet_is_found_whichever_way_it_lies(behind, turn):
    corners = np.roll(AT[::-1] if behind else AT, turn, axis=0)
    found = find_grid_frame(drawn(corners), SIGHT)
    assert found.mirrored is behind
    assert seen_at(found) == pytest.approx(corners, abs=NEAR_PX)
    assert found.outline.lens == 0.0
    assert found.outline.trust > 0.8


@pytest.mark.parametrize(("ground", "mark"), [(90, 120), (200, 60), (70, 62)])
def test_bright_marks_and_dark_ones_and_weak_ones_are_found(ground, mark):
    assert seen_at(find_grid_frame(drawn(AT, ground, mark), SIGHT)) == pytest.approx(AT, abs=NEAR_PX)


def test_a_glint_in_the_middle_does_not_hide_the_grid():
    found = find_grid_frame(drawn(AT, 90, 130, over=lambda seen: cv2.circle(seen, (700, 420), 45, 245, -1)), SIGHT)
    assert seen_at(found) == pytest.approx(AT, abs=NEAR_PX)


def test_another_grid_half_a_grid_and_none_are_told_apart():
    for shown, wanted in ((4, 6), (6, 4), (9, 6), (6, 9)):
        with pytest.raises(BadValueError, match="not those of this grid"):
            find_grid_frame(drawn(AT, sight=sight_of(shown)), sight_of(wanted))
    with pytest.raises(BadValueError, match="cut off"):
        find_grid_frame(drawn(AT + np.array([500, 0])), SIGHT)
    with pytest.raises(BadValueError, match="No frame"):
        find_grid_frame(drawn(AT, over=lambda seen: cv2.rectangle(seen, (300, 200), (1300, 950), 90, -1)), SIGHT)


def test_standing_out_is_a_correlation():
    """Against numpy's own coefficient, where nothing reaches beyond one and a half times the marks' own step."""
    rng = np.random.default_rng(4)
    for step in (-9.0, 4.0, 20.0):
        marks, bare = rng.uniform(-1, 1, 300) + 50 + step, rng.uniform(-1, 1, 900) + 50
        theirs = np.corrcoef(np.concatenate([marks, bare]), np.repeat([1.0, 0.0], [300, 900]))[0, 1]
        assert _stands_out(marks, bare) == pytest.approx(theirs, abs=1e-6)
    # A blackened rim among the marks counts no more than a mark half as strong again.
    marks = np.full(300, 60.0)
    bare = rng.uniform(49, 51, 900)
    assert _stands_out(np.where(np.arange(300) < 30, 100.0, marks), bare) > 0.97 * _stands_out(marks, bare)
    assert _stands_out(bare + 0.1, bare[:400]) < 0.1
    assert _stands_out(np.empty(0), bare) == _stands_out(marks, np.empty(0)) == 0.0
    assert _stands_out(np.full(9, 50.3), np.full(99, 50.0)) == 0.0


def test_codes_stand_out_under_a_veil_and_a_shadow():
    """What the light does over the whole sheet neither hides codes nor takes another grid's for them."""

    def lit(seen):
        across = np.linspace(0, 1, seen.shape[1])[None, :]
        light = (0.75 + 0.25 / (1 + np.exp(-(across - 0.48) / 0.02))) + 0.3 * np.exp(-(((across - 0.7) / 0.1) ** 2))
        seen[:] = np.clip(seen * light, 0, 255).astype(np.uint8)

    assert seen_at(find_grid_frame(drawn(AT, 90, 125, over=lit), SIGHT)) == pytest.approx(AT, abs=2 * NEAR_PX)
    with pytest.raises(BadValueError, match=r"not those of this grid|cut off"):
        find_grid_frame(drawn(AT, 90, 125, sight_of(6), lit), SIGHT)
