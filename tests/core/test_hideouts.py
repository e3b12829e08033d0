"""“None” is earned: what cells rule out by order alone, worked out by hand."""

from dataclasses import astuple, replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keencoat.core.quantities.setting import Setting
from keencoat.core.quantities.slice import Slice
from keencoat.core.rating import Rating
from keencoat.core.window.fit import fit_window
from keencoat.core.window.hideouts import cells_there, hideouts, is_none_earned, untried_strongest, words_of
from keencoat.core.window.model import observe
from keencoat.core.window.plan import next_cells
from keencoat.core.window.priors import UNKNOWN
from keencoat.core.window.recommend import RatedSetting, Verdict, recommend
from tests.core.conftest import make_machine
from tests.core.test_window_by_hand import known, window

MACHINE = make_machine(min_speed_mm_s=5, max_speed_mm_s=500, min_power_pct=2)
AT = Slice(MACHINE, 0.1)
FAINT, CLEAN, HARSH = Rating


def left(*cells, at=AT, interval_mm=0.1, passes=1):
    seen = tuple(observe(Setting(p, v, interval_mm, passes), MACHINE, r, n % 5) for n, (p, v, r) in enumerate(cells))
    fit = fit_window(seen, UNKNOWN)
    return fit, [tuple(round(f, 3) for f in astuple(h)) for h in hideouts(fit, at)]


@pytest.mark.parametrize(("cells", "room"), [
    # Faint at full power when fast says nothing of slow: the strongest cell is still to be burned there.
    ([(100, 500, FAINT)], [(5, 2, 100, 14.142), (50, 2, 100, 14.142)]),
    # Where only faint cells stand, the machine's own end is to be burned, to within a twentieth.
    ([(94, 5, FAINT)], [(5, 94, 100, 100), (50, 94, 100, 100), (500, 94, 100, 100)]),
    ([(96, 5, FAINT)], []),
    ([(40, 5, FAINT), (97, 50, FAINT)], [(5, 40, 100, 100)]),
    ([(30, 5, FAINT)], [(5, 30, 100, 100), (50, 30, 100, 100), (500, 30, 100, 100)]),
    ([(100, 5, FAINT)], []),
    # Harsh when slow says nothing of fast.
    ([(2, 5, HARSH)], [(50, 2, 100, 14.142), (500, 2, 100, 14.142)]),
    ([(2.05, 500, HARSH)], []),
    ([(2.2, 500, HARSH)], [(5, 2, 2.2, 2), (50, 2, 2.2, 2), (500, 2, 2.2, 2)]),
    ([(7, 500, HARSH)], [(5, 2, 7, 2), (50, 2, 7, 2), (500, 2, 7, 2)]),
    # Faint and harsh have met but for a factor of three and a bit; a clean cell shuts out nothing.
    ([(10, 5, FAINT), (30, 500, HARSH)], []),
    ([(10, 5, FAINT), (31, 500, HARSH), (20, 50, CLEAN)], [(50, 20, 20, 20), (5, 10, 31, 17.607),
     (50, 10, 31, 17.607), (500, 10, 31, 17.607)]),
    # A clean cell is room for itself, until another piece has failed near it: 0.15 in ln power, 0.25 in ln speed.
    ([(10, 5, FAINT), (30, 500, HARSH), (20, 50, CLEAN)], [(50, 20, 20, 20)]),
    ([(10, 5, FAINT), (30, 500, HARSH), (20, 50, CLEAN), (23.1, 50, HARSH)], []),
    ([(10, 5, FAINT), (30, 500, HARSH), (20, 50, CLEAN), (23.4, 50, HARSH)], [(50, 20, 20, 20)]),
    ([(10, 5, FAINT), (30, 500, HARSH), (20, 50, CLEAN), (17.3, 50, FAINT)], []),
    ([(10, 5, FAINT), (30, 500, HARSH), (20, 50, CLEAN), (20, 64, FAINT)], []),
    ([(10, 5, FAINT), (30, 500, HARSH), (20, 50, CLEAN), (20, 64.5, FAINT)], [(50, 20, 20, 20)]),
    ([(10, 5, FAINT), (30, 500, HARSH), (20, 50, CLEAN), (20, 51, CLEAN)], [(50, 20, 20, 20), (51, 20, 20, 20)]),
])  # fmt: skip
def test_what_order_alone_leaves_open(cells, room):
    assert left(*cells)[1] == room


def test_cells_of_other_lines_passes_and_machines_and_streaked_ones_rule_out_nothing():
    whole = [(5, 2, 100), (50, 2, 100), (500, 2, 100)]
    cell = observe(Setting(100, 5, 0.1), MACHINE, FAINT)
    for other in (replace(cell, machine=1), replace(cell, defects=frozenset({"streaks"}))):
        assert [
            (round(h.speed_mm_s), h.low_pct, h.high_pct) for h in hideouts(fit_window((other,), UNKNOWN), AT)
        ] == whole
    for other in ({"interval_mm": 0.12}, {"passes": 2}):
        assert [h[:3] for h in left((100, 5, FAINT), **other)[1]] == whole
    assert left((100, 5, FAINT), at=Slice(MACHINE, 0.1005))[1] == []
    assert left((100, 5, FAINT), at=Slice(MACHINE, 0.1, 2), passes=2)[1] == []


@given(st.lists(st.tuples(st.floats(2, 100), st.floats(5, 500)), min_size=1, max_size=8))
def test_more_cells_never_leave_more_room(points):
    cells = [(p, v, HARSH if p / v**0.5 > 4 else FAINT) for p, v in points]
    some, more = ({v: h / lo for v, lo, h, _ in left(*c)[1]} for c in (cells[:-1] or cells, cells))
    assert all(more[v] <= some[v] + 1e-9 for v in more)


def test_none_is_not_said_while_a_corner_is_left_and_the_next_cells_go_there():
    """A model that is sure of a shut window, by cells at high speeds only: what is slow was never burned."""
    cells = [(p, v, FAINT if p <= 40 else HARSH) for v in (250, 350, 500) for p in (36, 38, 40, 41, 43, 45)]
    shut = known(window(2.0, 0.5))
    fit = replace(shut, observations=left(*cells)[0].observations)
    rated = tuple(RatedSetting(f"A{n}", Setting(p, v, 0.1), r) for n, (p, v, r) in enumerate(cells))
    said = recommend(fit, AT, rated)
    assert (said.verdict, said.open_share) == (Verdict.NOT_SURE, 0.0)
    assert said.advice.startswith("Not found yet. No cell rules out a window at 5 mm/s from 2 to 41 %; at 50 mm/s from")
    there = cells_there(hideouts(fit, AT), AT)
    assert [(s.power_pct, s.speed_mm_s) for s in there] == [(2, 5), (2, 50)]
    assert set(there) <= set(next_cells(fit, AT, 4))
    closed = replace(shut, observations=left(*cells, (14, 5, FAINT))[0].observations)
    assert hideouts(closed, AT) == ()
    assert recommend(closed, AT, rated).verdict is Verdict.NONE
    assert (2, 5) not in [(s.power_pct, s.speed_mm_s) for s in next_cells(closed, AT, 4)]


@pytest.mark.parametrize(("cells", "is_next"), [
    ([(1, 100, 500, FAINT), (1, 60, 60, FAINT), (2, 90, 50, FAINT)], True),
    ([(1, 100, 500, FAINT), (1, 60, 60, FAINT)], False),  # of one piece only
    ([(1, 100, 500, FAINT), (2, 99, 5.05, FAINT)], False),  # burned already, to within a fiftieth
    ([(1, 100, 500, FAINT), (2, 97, 5, FAINT)], True),
    ([(1, 100, 500, FAINT), (2, 100, 5.2, FAINT)], True),
    ([(1, 100, 500, FAINT), (2, 60, 60, CLEAN)], False),
    ([(1, 100, 500, FAINT), (2, 60, 60, HARSH)], False),
    ([(1, 30, 50, HARSH), (2, 10, 50, HARSH)], False),
])  # fmt: skip
def test_where_two_pieces_were_all_faint_the_machines_strongest_cell_is_burned_next(cells, is_next):
    """Whatever the model believes: it may have begun far from where this material is."""
    seen = tuple(observe(Setting(p, v, 0.1), MACHINE, r, piece) for piece, p, v, r in cells)
    wanted = [Setting(100.0, 5.0, 0.1)] if is_next else []
    # In every world a window is open: the model has no reason to go there.
    fit = replace(known(window(0.4, 2.0)), observations=seen)
    assert untried_strongest(fit, AT) == wanted
    assert (Setting(100.0, 5.0, 0.1) in next_cells(fit, AT, 4)) == is_next
    elsewhere = replace(seen[0], machine=1, rating=CLEAN)
    assert untried_strongest(replace(fit, observations=(*seen, elsewhere)), AT) == wanted


def test_none_is_not_said_where_two_pieces_had_a_clean_cell():
    """Faint at full power and slowest leaves no room by order; the model is sure of a shut window."""
    shut = known(window(2.0, 0.5))
    clean = [replace(observe(Setting(50, v, 0.1), MACHINE, CLEAN), piece=n) for n, v in enumerate((60, 80), 1)]
    wall = observe(Setting(100, 5, 0.1), MACHINE, FAINT)
    elsewhere = replace(clean[1], machine=1)
    # Every clean cell has been answered by a third piece that failed there.
    failed = tuple(replace(observe(Setting(50, v, 0.1), MACHINE, HARSH), piece=3) for v in (60, 80))
    for seen, verdict in (
        ((wall, clean[0]), Verdict.NONE),
        ((wall, clean[0], replace(clean[1], piece=1)), Verdict.NONE),
        ((wall, clean[0], elsewhere), Verdict.NONE),
        ((wall, *clean), Verdict.NOT_SURE),
    ):
        said = recommend(replace(shut, observations=(*seen, *failed)), AT, ())
        assert said.verdict is verdict
    assert said.advice.startswith("Not found yet. Yet two pieces had a clean cell.")


def test_a_cell_of_the_same_piece_says_nothing_against_its_clean_one():
    """A piece's cells share its coat: what it did beside its clean cell is no second opinion."""
    clean = observe(Setting(20, 50, 0.1), MACHINE, CLEAN, piece=1)
    harsh = observe(Setting(21, 50, 0.1), MACHINE, HARSH, piece=1)
    shut = known(window(2.0, 0.5))
    for other, left_over in ((harsh, 1), (replace(harsh, piece=2), 0)):
        fit = replace(shut, observations=(clean, other, observe(Setting(100, 5, 0.1), MACHINE, FAINT, piece=3)))
        hidden = hideouts(fit, AT)
        assert len(hidden) == left_over
        assert is_none_earned(fit, AT) == (not left_over)
        assert words_of(hidden) == ("at 50 mm/s and 20 %, where a cell was clean" if left_over else "")
        tried = [(s.power_pct, s.speed_mm_s) for s in next_cells(fit, AT, 4)]
        assert ((20, 50) in tried) == bool(left_over)
