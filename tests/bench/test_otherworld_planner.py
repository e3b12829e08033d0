"""The planner, and what its “sure” is worth, on a second world of materials that shares no code and no law with the
practice plant. Seeds from 7000 on were never looked at while building. Run with -s to see the figures."""

from functools import partial

import pytest

from tests.bench.worlds import Came, Told, find_setting, in_parallel, row_of
from tests.otherworld.burns import REPORTING, draw_world


def plan(seed: int, scatter: float, measured: int) -> Came:
    """Pieces scatter `scatter` times as much as is told of the coat."""
    return find_setting(draw_world(seed, scatter), Told(measured=measured))


def figures(seeds, scatter: float, measured: int):
    row = row_of(in_parallel(partial(plan, scatter=scatter, measured=measured), seeds))
    print("\nscatter", scatter, "measured on", measured, row)
    return row


def test_the_planner_in_another_world():
    row = figures(REPORTING[:6], 1.0, 8)
    assert row["mean yield"] > 0.8
    assert row["pieces"] <= 3.5
    assert row["false none"] <= 1


@pytest.mark.bench
def test_sure_in_another_world():
    """Told right and measured; told right and a guess; pieces 2.2 times as scattered as guessed."""
    seeds = REPORTING[100:160]
    measured, guessed, wild = figures(seeds, 1.0, 8), figures(seeds, 1.0, 0), figures(seeds, 2.2, 0)
    assert measured["held"] >= 0.85 * measured["sure"]
    assert guessed["held"] >= 0.9 * guessed["sure"]
    assert wild["held 93"] >= 0.7 * wild["sure"]
