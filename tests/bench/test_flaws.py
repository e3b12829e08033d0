"""Signs that the photo of a washed piece gives, on faults of known cause in two worlds."""

from collections import Counter

import pytest

from tests.bench.faultycases import PROCESSES
from tests.bench.washedshots import PLANT, other_shot, plant_shot, signs_of_shot

SHOWS = {
    "none": set(), "coat_touched": {"patch_missing"}, "coat_pooled": {"patch_missing"}, "moved": {"doubled"},
    "backlash": {"combed"}, "off_origin": {"off_place"}, "lines_wide": {"stripes"},
    "coat_streaked": {"streaks", "stripes"}, "coat_thick": set(),
}  # fmt: skip
"""The signs that a cause can have on a photo: any of them."""


def shot(world, process, cause, seed):
    """A piece of materials that nothing was chosen on."""
    made = (
        plant_shot(process, cause, seed, 5 + seed % 2) if world == "plant" else other_shot(process, cause, seed, 7800)
    )
    return signs_of_shot(made, process)


@pytest.mark.parametrize("world", ["plant", "other"])
def test_a_photo_shows_what_went_wrong_and_nothing_where_nothing_did(world):
    seen = {
        cause: shot(world, process, cause, 300)
        for cause, process in (
            ("moved", "frost"),
            ("coat_touched", "fuse"),
            ("backlash", "fuse"),
            ("off_origin", "frost"),
        )
    }
    # Of the many in docs/inspect.md nine in ten.
    assert all(signs and signs & SHOWS[cause] for cause, signs in seen.items()), seen
    assert not shot(world, "reveal", "none", 300)


@pytest.mark.bench
@pytest.mark.parametrize("world", ["plant", "other"])
def test_table_of_signs(world, capsys):
    """Prints docs/inspect.md's table: of the pieces with a cause, how many show its sign, how many another one."""
    for cause in PLANT:
        found = [shot(world, process, cause, 310 + n) for process in PROCESSES for n in range(6)]
        told = [signs for signs in found if signs is not None]
        right = sum(bool(signs & SHOWS[cause]) for signs in told)
        others = Counter(sign for signs in told for sign in signs - SHOWS[cause])
        with capsys.disabled():
            print(world, cause, f"{len(found)} pieces, {len(told)} read, {right} with its sign; others {dict(others)}")
        assert len(told) > len(found) / 2
