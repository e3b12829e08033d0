"""Odds as they are told, beside scipy's own logistic functions, and against what the window calls sure."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import expit, logit

from keencoat.core.window.choose import HELD
from keencoat.core.window.odds import odds_told

SHARES = st.floats(0, 1)


@given(SHARES, SHARES, st.integers(0, 6), st.booleans())
def test_what_the_model_thinks_likelier_is_told_as_likelier(one, other, pieces, is_answer):
    low, high = sorted((one, other))
    assert 0 <= odds_told(low, pieces, is_answer) <= odds_told(high, pieces, is_answer) <= 1


@given(st.floats(0.01, 0.99), st.floats(0.01, 0.99), st.integers(1, 6), st.booleans())
def test_doubt_shrinks_by_one_line_of_logits(one, other, pieces, is_answer):
    """A straight line of logits of slope 0.39 (Cox 1958), in scipy's functions; wherever a search stands."""
    step = logit(odds_told(other, pieces, is_answer)) - logit(odds_told(one, pieces, is_answer))
    assert step == pytest.approx(0.39 * (logit(other) - logit(one)), abs=1e-9)


def test_the_further_a_search_the_more_is_claimed():
    before, first, on, ended = (odds_told(0.6, n, end) for n, end in ((0, False), (1, False), (2, False), (2, True)))
    assert before == 0.6
    assert first == pytest.approx(float(expit(0.1 + 0.39 * logit(0.6))))
    assert first < before < on < ended < HELD


def test_what_counts_as_sure_is_told_as_nine_in_ten_or_more():
    assert odds_told(HELD, 2, is_answer=True) >= 0.9
