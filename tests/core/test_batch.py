"""A batch: what is to do now, and what the first pieces say of those that wait."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import binomtest
from statsmodels.stats.proportion import proportion_confint

from keencoat.core.batch import (
    Lasted,
    LaterTrial,
    Looked,
    PieceNow,
    TaskKind,
    Times,
    batch_findings,
    require_trial,
    tasks_of,
    trials_for,
)
from keencoat.core.errors import BadValueError, NotAllowedError
from keencoat.core.quantities import Range
from keencoat.core.rating import Rating
from keencoat.core.states import PIECE_MOVES, PieceState, move
from keencoat.core.substrate import SUBSTRATES

AT = datetime(2026, 5, 4, 9, tzinfo=UTC)
TIMES = Times(60.0, (100.0, 300.0))
S = PieceState


def pieces(*states, turns=None, since_s=()):
    return [
        PieceNow(100 + n, n, turns[n - 1] if turns else n, state, AT - timedelta(seconds=dict(since_s).get(n, 0)))
        for n, state in enumerate(states, 1)
    ]


def told(batch, times=TIMES, now=AT):
    return [(task.kind.value, [p.number for p in task.pieces]) for task in tasks_of(batch, times, now)]


def test_the_first_piece_is_looked_at_before_a_second_one_burns():
    assert told(pieces(S.WAITING, S.WAITING)) == [("place", [1])]
    assert told(pieces(S.PLACED, S.WAITING)) == [("frame", [1])]
    assert told(pieces(S.FRAMED, S.WAITING)) == [("burn", [1])]
    assert told(pieces(S.BURNING, S.WAITING)) == [("watch", [1])]
    assert told(pieces(S.COOLING, S.WAITING)) == [("cool", [1]), ("place", [2])]
    cooled = pieces(S.COOLING, S.WAITING, since_s={1: 300}.items())
    assert told(cooled) == [("wash", [1]), ("place", [2])]
    assert told(pieces(S.WASHED, S.WAITING)) == [("look", [1]), ("place", [2])]
    assert told(pieces(S.LOOKED, S.WAITING)) == [("place", [2])]
    assert told(pieces(S.LOOKED, S.STOPPED, S.SKIPPED)) == [("close", [])]
    assert told([]) == []


def test_after_it_the_laser_comes_first_and_nobody_leaves_a_burning_piece():
    busy = pieces(S.LOOKED, S.COOLING, S.WASHED, S.FRAMED, S.PLACED, S.WAITING, since_s={2: 10}.items())
    assert told(busy) == [("burn", [4]), ("look", [3]), ("cool", [2])]
    burning = pieces(S.LOOKED, S.COOLING, S.WASHED, S.BURNING, since_s={2: 999}.items())
    assert told(burning) == [("watch", [4]), ("look", [3])]
    # What cooled longest is washed first, whatever its number.
    assert told(pieces(S.LOOKED, S.COOLING, S.COOLING, since_s={2: 400, 3: 500}.items())) == [
        ("wash", [3]),
        ("wash", [2]),
    ]


def test_a_load_goes_under_the_laser_as_one_and_is_washed_piece_by_piece():
    turns = [1, 1, 2, 2]
    assert told(pieces(S.WAITING, S.WAITING, S.WAITING, S.WAITING, turns=turns)) == [("place", [1, 2])]
    # One of the load lies already: the other one is placed beside it before anything else.
    assert told(pieces(S.PLACED, S.WAITING, S.WAITING, S.WAITING, turns=turns)) == [("place", [2])]
    assert told(pieces(S.LOOKED, S.COOLING, S.FRAMED, S.FRAMED, turns=turns))[0] == ("burn", [3, 4])
    # A turn that was begun goes before one that was not, also where it comes later.
    assert told(pieces(S.LOOKED, S.WAITING, S.FRAMED, S.FRAMED, turns=[1, 2, 3, 3]))[0] == ("burn", [3, 4])


def test_when_a_burn_ends_and_a_piece_is_cool():
    burning = pieces(S.BURNING, S.BURNING, S.WAITING, turns=[1, 1, 2], since_s={1: 20, 2: 20}.items())
    (watch,) = tasks_of(burning, TIMES, AT)
    assert watch.due_at == AT + timedelta(seconds=100)
    cooling = pieces(S.COOLING, since_s={1: 299}.items())
    (cool,) = tasks_of(cooling, TIMES, AT)
    assert (cool.kind, cool.due_at) == (TaskKind.COOL, AT + timedelta(seconds=1))
    assert tasks_of(cooling, TIMES, AT + timedelta(seconds=1))[0].kind is TaskKind.WASH
    assert tasks_of(cooling, Times(), AT)[0] == tasks_of(pieces(S.COOLING, since_s={1: 299}.items()), Times(), AT)[0]
    assert tasks_of(cooling, Times(), AT)[0].kind is TaskKind.WASH
    assert tasks_of(burning, Times(), AT)[0].due_at is None


@given(st.lists(st.sampled_from(list(S)), min_size=1, max_size=12))
def test_whoever_does_the_one_thing_comes_to_the_end(states):
    """From whatever state, following the first task closes the batch, by moves that the table allows."""
    done = {TaskKind.PLACE: S.PLACED, TaskKind.FRAME: S.FRAMED, TaskKind.BURN: S.BURNING, TaskKind.WATCH: S.COOLING,
            TaskKind.WASH: S.WASHED, TaskKind.LOOK: S.LOOKED}  # fmt: skip
    batch, now = pieces(*states), AT
    for _ in range(7 * len(states) + 1):
        task = tasks_of(batch, TIMES, now)[0]
        if task.kind is TaskKind.CLOSE:
            assert all(p.state.over for p in batch)
            return
        now = max(now, task.due_at or now)
        if task.kind is TaskKind.COOL:
            continue
        keys = {p.key for p in task.pieces}
        batch = [
            PieceNow(p.key, p.number, p.turn, move(PIECE_MOVES, p.state, done[task.kind]), now) if p.key in keys else p
            for p in batch
        ]
        assert sum(p.state is S.BURNING for p in batch) <= max(1, sum(s is S.BURNING for s in states))
    pytest.fail("the batch never closed")


@pytest.mark.parametrize(
    ("now", "wanted"),
    [
        (S.WAITING, S.BURNING),
        (S.PLACED, S.BURNING),
        (S.BURNING, S.WAITING),
        (S.COOLING, S.LOOKED),
        (S.LOOKED, S.WASHED),
    ],
)
def test_no_step_is_left_out(now, wanted):
    with pytest.raises(NotAllowedError):
        move(PIECE_MOVES, now, wanted)


def looked(text):
    of = {"c": Rating.CLEAN, "f": Rating.FAINT, "h": Rating.HARSH, "x": None}
    return [Looked(n, of[letter]) for n, letter in enumerate(text, 1)]


def said(text, waiting=5, low=0.8):
    return [f.code for f in batch_findings(looked(text), waiting, Range(low, 0.9, 0.97))]


def test_a_first_piece_that_fails_speaks_for_itself():
    for text, came in (("f", "came out faint"), ("x", "was spoilt")):
        (finding,) = batch_findings(looked(text), 3, Range(0.8, 0.9, 0.97))
        assert (finding.code, finding.figures["number"]) == ("first-failed", 1)
        assert came in finding.message
    assert said("c") == said("f", waiting=0) == said("") == []


@pytest.mark.parametrize(
    "text", ["cf", "ccccf", "cfcf", "ccff", "hcfcccc", "ccccccccff", "cxffcc", "ccccfffc", "xxxxx", "ccxcc"]
)
def test_more_failures_than_the_window_allows_for(text):
    """SciPy's exact binomial test, one-sided, judges the same counts."""
    chance = binomtest(text.count("c"), len(text), 0.8, alternative="less").pvalue
    found = batch_findings(looked(text), 5, Range(0.8, 0.9, 0.97))
    assert bool(found) == (chance < 0.05)
    if found:
        assert (found[0].code, found[0].figures["failed"]) == ("batch-fails", len(text) - text.count("c"))
        assert found[0].figures["chance"] == pytest.approx(chance)
    assert said(text, waiting=0) == said(text, low=0.01) == []


def test_a_solvent_is_tried_only_where_none_ruins_the_piece():
    """Common practice, no source: acrylic crazes, paint that stays is lifted."""
    for key, substrate in SUBSTRATES.items():
        ruined = key in ("clear_acrylic", "painted_tile", "powder_coated_steel")
        assert (LaterTrial.SOLVENT not in trials_for(substrate)) == ruined, key
    with pytest.raises(BadValueError, match="No solvent on clear acrylic"):
        require_trial(SUBSTRATES["clear_acrylic"], LaterTrial.SOLVENT, None)
    glass = SUBSTRATES["soda_lime_glass"]
    for trial, washes in ((LaterTrial.SOLVENT, None), (LaterTrial.DISHWASHER, 1), (LaterTrial.DISHWASHER, 10_000)):
        require_trial(glass, trial, washes)
    for trial, washes in (
        (LaterTrial.DISHWASHER, None),
        (LaterTrial.DISHWASHER, 0),
        (LaterTrial.DISHWASHER, 10_001),
        (LaterTrial.TIME, 3),
    ):
        with pytest.raises(BadValueError) as refused:
            require_trial(glass, trial, washes)
        assert refused.value.field == "washes"


@pytest.mark.parametrize(("held", "of"), [(18, 20), (8, 10), (0, 10), (1, 1)])
def test_what_lasted_as_statsmodels_says(held, of):
    """Wilson 1927 at nine times in ten."""
    share = Lasted(held, of).share
    assert (share.low, share.high) == pytest.approx(proportion_confint(held, of, 0.10, "wilson"))
    assert share.mid == held / of
    assert (Lasted(0, 0).share.low, Lasted(0, 0).share.high) == (0, 1)
