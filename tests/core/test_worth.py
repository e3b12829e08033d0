"""What a further round is worth: two worlds worked out by hand, and what it must be whatever is known."""

import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keencoat.core.errors import KeenCoatError
from keencoat.core.quantities.estimate import Range
from keencoat.core.quantities.setting import Setting
from keencoat.core.quantities.slice import Slice
from keencoat.core.rating import Rating
from keencoat.core.window.choose import SettingChoice
from keencoat.core.window.door import Question, answer
from keencoat.core.window.figures import beyond_enough, beyond_harm
from keencoat.core.window.fit import fit_window
from keencoat.core.window.model import observe
from keencoat.core.window.outlook import outlook_of
from keencoat.core.window.plan import Budget, next_cells
from keencoat.core.window.recommend import RatedSetting, Verdict, _go_on, recommend
from keencoat.core.window.worth import Batch, RoundWorth, worth_of
from tests.core.conftest import make_machine
from tests.core.test_plan import MEASURED, rated
from tests.core.test_window_by_hand import known, window

MACHINE = make_machine()
AT = Slice(MACHINE, 0.1)
HUNDRED = Batch(100)


def cell(j_mm2, speed=50.0):
    """A cell of that areal energy: per cent = J/mm² · speed · interval / watts."""
    return Setting(100 * j_mm2 * speed * 0.1 / MACHINE.rated_w, speed, 0.1)


def test_a_cell_that_tells_two_worlds_apart_saves_half_of_the_batch():
    """Clean from 0.3 to 0.6 J/mm² in one world, from 1.2 to 2.4 in the other, each as likely: half of the batch is lost
    without a cell. At 0.85 it is harsh in one and faint in the other. One key in 25 slips, to each of three ratings
    alike, so that in 1 of 75 the other world is believed in, and in 1 of 75 neither: 100·(½ − 1/75 − ½/75) = 48."""
    fit = known(window(0.3, 0.6), window(1.2, 2.4))
    worth = worth_of(fit, AT, 30.0, [cell(0.85)], HUNDRED)
    assert worth.saved_pieces == pytest.approx(48, abs=1.5)
    assert worth.pays
    assert worth_of(fit, AT, 30.0, [cell(0.85)], Batch(1)).saved_pieces == pytest.approx(worth.saved_pieces / 100)


def test_a_cell_that_is_alike_in_both_worlds_saves_nothing():
    fit = known(window(0.3, 0.6), window(1.2, 2.4))
    for j in (0.02, 4.5):
        worth = worth_of(fit, AT, 30.0, [cell(j, 10.0)], HUNDRED)
        assert worth.saved_pieces == pytest.approx(0, abs=0.6)
        assert not worth.pays


def test_a_gain_at_less_than_half_of_the_speed_is_none():
    """In one world the window is open at 20 mm/s and below alone: where 60 would be locked, that is no gain."""
    # Shut where dwell is short: the width falls by 1.5 with each step of e in speed, and is nothing at about 30 mm/s.
    ln_dwell = math.log(1000 * MACHINE.spot_mm / 30)
    slow = {"ENOUGH": math.log(0.8), "WIDTH": -1.5 * ln_dwell, "WEDGE": 1.5}
    fit = known(slow, window(0.05, 0.06))
    tells = [cell(0.85, 12.0)]
    assert worth_of(fit, AT, 60.0, tells, HUNDRED).saved_pieces < 5
    assert worth_of(fit, AT, 10.0, tells, HUNDRED).saved_pieces > 30


@settings(max_examples=15)
@given(pieces=st.integers(0, 5000), spare=st.floats(0, 1000), count=st.integers(0, 4), seed=st.integers(0, 99))
def test_nothing_saves_less_than_nothing_or_more_than_the_batch(pieces, spare, count, seed):
    fit = known(window(0.3, 0.6), window(0.5, 1.0), window(1.0, 1.1))
    worth = worth_of(fit, AT, 30.0, next_cells(fit, AT, count) if count else [], Batch(pieces, spare), seed)
    assert 0 <= worth.saved_pieces <= pieces
    assert worth.pays == (worth.saved_pieces > spare)
    assert worth.cells == count


@pytest.mark.parametrize(("tell", "figure", "ln"), [
    (beyond_enough, 0.45, None), (beyond_enough, 0.46, -0.17), (beyond_enough, 0.92, 0.06), (beyond_enough, 0.93, None),
    (beyond_harm, 0.3, None), (beyond_harm, 0.31, -0.1171), (beyond_harm, 3.9, 0.1361), (beyond_harm, 4.0, None),
])  # fmt: skip
def test_what_a_photos_figures_tell_near_a_limit_and_not_far_from_it(tell, figure, ln):
    """(full − 0.8)/2 and ln(harm)/10."""
    assert tell(figure) == (None if ln is None else pytest.approx(ln, abs=1e-4))


def test_a_batch_of_less_than_nothing_is_refused():
    for wrong in ((-1, 1.0), (12, -0.1), (12, math.nan)):
        with pytest.raises(KeenCoatError):
            Batch(*wrong)


def test_in_words():
    assert RoundWorth(4, 3.4, Batch(60)).words == (
        "A further 4 cells may save about 3 of the batch's 60 pieces, more than the spare is worth (a piece)."
    )
    assert RoundWorth(4, 0.26, Batch(12, 2.5)).words == (
        "A further 4 cells may save about 0.3 of the batch's 12 pieces, less than the spare is worth (2.5 pieces): "
        "they hardly pay."
    )
    assert "may save about 0.1 of" in RoundWorth(4, 0.051, Batch(12)).words
    assert "may save next to none of" in RoundWorth(4, 0.049, Batch(12)).words


ROUND = rated([Setting(p, v, 0.1) for p, v in ((30, 40), (60, 40), (90, 40), (60, 90), (90, 20))], 0.3, 0.9)


def test_the_door_goes_past_the_budget_where_that_saves_more_than_a_spare():
    history = tuple(ROUND + rated([Setting(50, 60, 0.1)], 0.3, 0.9, first=2, shift=0.15))

    def ask(batch):
        return answer(Question(AT, "frost", None, MEASURED, Budget(0, 0), history, batch))

    assert not ask(None).cells
    assert ask(None).notes == ()
    large, dear = ask(Batch(500)), ask(Batch(500, 400))
    assert 6 <= len(large.cells) <= 12
    assert large.verdict is Verdict.NOT_SURE
    assert "more than the spare is worth" in large.notes[-1]
    assert not dear.cells
    assert dear.is_setting
    assert "hardly pay" in dear.notes[-1]


def test_nobody_goes_past_96_cells():
    history = tuple(
        c
        for n in range(11)
        for c in rated([Setting(30 + 7 * k, 20 + 9 * k, 0.1) for k in range(9)], 0.3, 0.5, first=n, shift=0.02 * n)
    )
    for cells, asked in ((94, 2), (96, 0)):
        said = answer(Question(AT, "frost", None, MEASURED, Budget(0, 0), history[:cells], Batch(5000, 0.0)))
        assert len(said.cells) <= asked


ALTERNATING = [Rating.FAINT, Rating.HARSH] * 6


def spread_cells(too_much):
    """Seventeen cells on three pieces, rated for a window from 0.3 J/mm² on; each as shown and as seen by the model."""
    spread = [Setting(25 + 4 * n, 20 + 7 * (n % 9), 0.1) for n in range(17)]
    cells = [c for n, s in enumerate(spread) for c in rated([s], 0.3, too_much, shift=0.12 * (n % 3 - 1))]
    shown = tuple(RatedSetting(str(n), c.setting, c.rating) for n, c in enumerate(cells))
    return shown, tuple(observe(c.setting, MACHINE, c.rating, n % 3) for n, c in enumerate(cells))


def test_a_likely_setting_is_settled_unless_a_further_round_pays():
    shown, seen = spread_cells(too_much=0.75)
    fit = fit_window(seen[:16], known(window(0.4, 2.0)).prior)
    alone, few, many = (recommend(fit, AT, shown[:16], batch=b) for b in (None, Batch(1), Batch(1000)))
    assert [r.verdict for r in (alone, few, many)] == [Verdict.NOT_SURE] * 3
    assert [r.settled for r in (alone, few, many)] == [True, True, False]
    assert [r.lock_now for r in (alone, few, many)] == [True, True, False]
    assert "More cells tell little. Photograph 3 coats" in alone.advice
    assert alone.next_round is None
    assert not few.next_round.pays
    assert f"{few.next_round.words} Photograph 3 coats" in few.advice
    assert many.next_round.pays
    assert many.next_round.words in many.advice


def test_a_batch_is_asked_from_two_pieces_on_whether_a_further_round_pays():
    """Fourteen cells: not settled, and about 92 in 100 pieces clean."""
    shown, seen = spread_cells(too_much=0.75)
    fit = fit_window(seen[:14], known(window(0.4, 2.0)).prior)
    few, many = (recommend(fit, AT, shown[:14], batch=Batch(pieces)) for pieces in (2, 1000))
    assert not few.settled
    assert 0.8 < few.point.clean.mid < 0.95
    assert (few.next_round.pays, few.lock_now) == (False, True)
    assert f"{few.next_round.words} Lock it as it is" in few.advice
    assert (many.next_round.pays, many.lock_now) == (True, False)
    on_one = replace(fit, observations=tuple(replace(o, piece=0) for o in seen[:14]))
    assert recommend(on_one, AT, shown[:14], batch=Batch(2)).next_round is None


def test_the_page_says_past_the_usual_budget_whether_a_further_round_pays():
    """Where not four pieces in five come out clean, only cells past the usual sixty (48 and a round) must show
    that they pay."""
    shown, seen = spread_cells(too_much=0.45)
    usual, past = (
        fit_window(
            tuple(replace(o, piece=o.piece + 3 * again) for again in range(times) for o in seen),
            known(window(0.4, 2.0)).prior,
        )
        for times in (2, 3)
    )
    assert recommend(usual, AT, shown, batch=Batch(1000)).next_round is None
    assert recommend(past, AT, shown).next_round is None
    best = recommend(past, AT, shown, batch=Batch(1000))
    assert best.verdict is Verdict.NOT_SURE
    assert best.next_round.pays
    assert best.next_round.words in best.advice
    poor = recommend(past, AT, shown, batch=Batch(1, 2.0))
    assert not poor.next_round.pays
    assert poor.next_round.words in poor.advice
    assert not best.lock_now
    for share, lock_now in ((0.79, False), (0.81, True)):
        point = replace(poor.point, clean=Range(0.5, share, 0.99))
        assert replace(poor, point=point).lock_now is lock_now
        assert replace(best, point=point, settled=True).lock_now is lock_now
        assert not replace(best, point=point).lock_now
        assert replace(best, point=point, verdict=Verdict.SURE).lock_now


@pytest.mark.parametrize(("clean", "says"), [(0.79, "come first"), (0.81, "Lock it as it is")])
def test_what_is_hardly_ever_clean_is_not_to_be_locked(clean, says):
    choice = SettingChoice(Setting(50, 60, 0.1), clean, 0.3, False, False, 0.5, 60.0)
    shown = (RatedSetting("A1", Setting(50, 60, 0.1), Rating.CLEAN),)
    words = _go_on(Verdict.NOT_SURE, choice, "60 in 100", shown, MACHINE, RoundWorth(4, 0.2, Batch(12)))
    assert says in words
    assert "hardly pay" in words


def test_what_a_search_still_takes_falls_as_more_is_known():
    """No piece burned: two at least. A wide window that many cells agree on is settled by the next; ratings that fit no
    window leave a further one likelier than not."""
    prior = known(window(0.4, 2.0)).prior
    cells = next_cells(fit_window((), prior), AT, 12)
    begun = outlook_of(fit_window((), prior), AT, cells)
    assert begun.pieces >= 2
    wide = rated(cells, 0.3, 2.2, first=1)
    fit = fit_window(tuple(observe(c.setting, MACHINE, c.rating, 0) for c in wide), prior)
    likely = outlook_of(fit, AT, next_cells(fit, AT, 12))
    assert likely.pieces == 1
    assert likely.chance > 0.6
    torn = tuple(replace(o, rating=rating) for o, rating in zip(fit.observations, ALTERNATING, strict=False))
    unsure = outlook_of(fit_window(torn, prior), AT, cells)
    assert (unsure.pieces, unsure.chance) == (2, pytest.approx(0.64, abs=0.06))
    # Of a batch of three a further spare can save no more than it is worth: fewer pieces are burned for it.
    few = fit_window(fit.observations[:4], prior)
    small, large = (outlook_of(few, AT, cells, batch=Batch(pieces)).chance for pieces in (3, 3000))
    assert small > large + 0.05
