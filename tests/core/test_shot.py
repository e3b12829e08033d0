"""A photo of a grid from its bytes to a reading: by its frame, within corners marked by hand, or not at all."""

import pytest

from keencoat.core.errors import BadValueError
from keencoat.core.reading.gridframe import find_grid_frame
from keencoat.core.reading.refine import with_lens
from keencoat.core.reading.shot import read_grid_shot
from keencoat.core.vision.photo import decode_photo
from tests.core.test_kept_figures import sight_of
from tests.kept import HERE

DATA = (HERE / "grid-frost.jpg").read_bytes()
SIGHT = sight_of("frost")


def test_a_shot_is_read_by_its_frame_or_within_marked_corners():
    by_frame = read_grid_shot(DATA, SIGHT, None, framed=True, mirrored=False)
    assert (by_frame.kind, by_frame.trouble) == ("JPEG", None)
    assert decode_photo(by_frame.upright).rgb.shape == by_frame.reading.upright.shape
    found = find_grid_frame(decode_photo(DATA), SIGHT)
    for framed in (True, False):
        # A frame between the corners tells how the lens bends; without one they count as they were marked.
        marked = read_grid_shot(DATA, SIGHT, found.outline, framed, found.mirrored)
        assert marked.trouble is None
        outline = with_lens(decode_photo(DATA), found.outline, SIGHT) if framed else found.outline
        assert marked.reading.found.outline == outline
        assert [c.code for c in marked.reading.cells] == [c.code for c in by_frame.reading.cells]


def test_without_frame_or_corners_a_photo_is_only_kept():
    kept = read_grid_shot(DATA, SIGHT, None, framed=False, mirrored=False)
    assert (kept.kind, kept.reading, kept.trouble, kept.upright) == ("JPEG", None, None, b"")


def test_what_cannot_be_read_is_told_and_what_is_no_photo_refused():
    shot = read_grid_shot(DATA, sight_of("other"), None, framed=True, mirrored=False)
    assert (shot.reading, shot.trouble.field) == (None, "photo")
    with pytest.raises(BadValueError, match="photo"):
        read_grid_shot(b"no photo", SIGHT, None, framed=True, mirrored=False)
