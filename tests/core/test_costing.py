"""What a batch costs: a worked example by hand, and what must hold whatever the figures."""

from dataclasses import replace
from datetime import date
from decimal import Decimal
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from keencoat.core.costing import (
    CostKind,
    Order,
    PieceWork,
    Rates,
    Slip,
    SlipKind,
    cost_counted,
    cost_of_batch,
    earned_an_hour,
    money,
    price_by_margin,
    price_by_wage,
    spent_on,
)
from keencoat.core.errors import BadValueError
from keencoat.core.quantities import Range

D = Decimal
RATES = Rates(D(30), D(6), D("0.40"), D(900), D("0.10"), D("0.19"))
TILE = PieceWork(D("1.20"), D("0.15"), D("0.05"), D(4), D(3), D(10))
ORDER = Order(20, D(30), tests=2, test_hands_min=D(15), test_machine_min=D(24))
EVEN = Range(0.5, 0.8, 1.0)

cash = st.decimals(0, 500, places=2)
minutes = st.decimals(0, 300, places=1)
rates = st.builds(
    Rates, cash, cash, cash, st.decimals(0, 5000, places=0), st.decimals(0, "0.5", places=2), st.just(D(0))
)
works = st.builds(PieceWork, cash, cash, cash, minutes, minutes, minutes)
orders = st.builds(Order, st.integers(1, 500), minutes, st.integers(0, 9), minutes, minutes)
shares = st.lists(st.floats(0.06, 1), min_size=3, max_size=3).map(lambda x: Range(*sorted(x)))


def test_a_batch_of_tiles_by_hand():
    """A piece: 1.20 + 0.15 + 0.05, hands 4 min of 30 an hour = 2.00, machine 10 min of 6 = 1.00, 0.15 kWh of 0.40 =
    0.06: 4.46 in all. Twenty good ones of 25: five lost."""
    cost = cost_of_batch(RATES, TILE, ORDER, EVEN)
    assert {line.kind: line.amount for line in cost.lines} == {
        CostKind.BLANKS: D("24.00"), CostKind.COAT: D("3.00"), CostKind.CONSUMABLES: D("1.00"),
        CostKind.HANDS: D("40.00"), CostKind.MACHINE: D("20.00"), CostKind.POWER: D("1.20"),
        CostKind.FINISHING: D("30.00"), CostKind.SETUP: D("15.00"),
        # Two tiles of 1.40, 15 min of hands = 7.50, 24 min of machine = 2.40, 0.36 kWh = 0.144.
        CostKind.TESTS: D("12.84"),
        CostKind.LOST: D("22.30"),
    }  # fmt: skip
    assert cost.total == D("169.34")
    assert cost.burned == 25
    # 20 lost where half come out clean, none where all do.
    assert cost.per_good.low == money((D("169.34") - D("22.30")) / 20)
    assert cost.per_good.mid == D("8.47")
    assert cost.per_good.high == money((D("169.34") + 3 * D("22.30")) / 20)
    # 25 · 4 + 20 · 3 + 30 + 15 = 205 min.
    assert cost.hands_h == D(205) / 60
    assert cost.hands == D("102.50")
    # 8.467 / (1 − 0.40 − 0.10), rounded up.
    assert price_by_margin(cost, D("0.40"), D("0.10")) == D("16.94")
    wage = price_by_wage(cost, D(45), D("0.10"))
    assert wage == D("12.26")  # (169.34 − 102.50 + 45 · 205/60) / 20 / 0.9 = 12.2549…
    assert earned_an_hour(cost, wage, D("0.10")) == pytest.approx(D(45), abs=D("0.05"))
    counted = cost_counted(RATES, TILE, ORDER, 25)
    assert counted.lines == cost.lines
    assert counted.per_good.low == counted.per_good.mid == counted.per_good.high == cost.per_good.mid


@given(rates, works, orders, shares)
def test_lines_are_whole_cents_that_add_up_whatever_they_are(rate, piece, order, clean):
    cost = cost_of_batch(rate, piece, order, clean)
    assert all(line.amount == line.amount.quantize(D("0.01")) for line in cost.lines)
    assert cost.total == sum(line.amount for line in cost.lines)
    assert len({line.kind for line in cost.lines}) == len(CostKind)

    # In exact fractions, without a rounding, it is the same to half a cent a line.
    def exact(x):
        return Fraction(x)

    machine_h = exact(piece.machine_min) / 60
    each = (
        exact(piece.blank)
        + exact(piece.coat)
        + exact(piece.consumables)
        + exact(piece.hands_min) / 60 * exact(rate.hand_hour)
        + machine_h * (exact(rate.machine_hour) + exact(rate.draw_w) / 1000 * exact(rate.kwh))
    )
    test_h = exact(order.test_machine_min) / 60
    whole = (
        each * exact(repr(order.good / clean.mid))
        + exact(rate.hand_hour)
        / 60
        * (order.good * exact(piece.finish_min) + exact(order.setup_min) + exact(order.test_hands_min))
        + order.tests * (exact(piece.blank) + exact(piece.coat) + exact(piece.consumables))
        + test_h * (exact(rate.machine_hour) + exact(rate.draw_w) / 1000 * exact(rate.kwh))
    )
    assert abs(exact(cost.total) - whole) <= Fraction(len(cost.lines), 200)
    assert cost.per_good.low <= cost.per_good.mid <= cost.per_good.high


@given(rates, works, orders, shares, st.decimals(0, "0.4", places=2))
def test_a_price_leaves_what_was_wanted_of_it(rate, piece, order, clean, margin):
    cost = cost_of_batch(rate, piece, order, clean)
    price = price_by_margin(cost, margin, rate.fee_share)
    left = price * (1 - margin - rate.fee_share) - cost.total / cost.good
    assert left + D("1e-9") >= 0
    assert left <= D("0.01")
    wage = D("25.50")
    asked = price_by_wage(cost, wage, rate.fee_share)
    earned = earned_an_hour(cost, asked, rate.fee_share)
    if earned is not None and cost.hands_h > D("0.1"):
        assert earned >= wage - D("0.06") / cost.hands_h
        assert earned <= wage + D("0.02") * cost.good / cost.hands_h + D("0.01")


def test_pieces_burned_for_so_many_good_ones_are_those_of_trials_drawn_by_chance():
    """NumPy's negative binomial: failures before the n-th success."""
    burned = 20 + np.random.default_rng(3).negative_binomial(20, 0.8, 200_000)
    assert cost_of_batch(RATES, TILE, ORDER, EVEN).burned == pytest.approx(burned.mean(), rel=2e-3)


def test_what_nobody_can_say_is_not_said():
    assert cost_of_batch(RATES, TILE, ORDER, Range(0.04, 0.8, 1)).per_good.high is None
    for share in (0.049, 0.0, float("nan"), 1.01):
        with pytest.raises(BadValueError, match="clean"):
            cost_of_batch(RATES, TILE, ORDER, Range(share, share, share))
    cost = cost_of_batch(RATES, TILE, ORDER, EVEN)
    with pytest.raises(BadValueError) as refused:
        price_by_margin(cost, D("0.90"), D("0.10"))
    assert refused.value.field == "margin"
    assert price_by_margin(cost, D("0.85"), D("0.10")) > 0
    idle = replace(TILE, hands_min=D(0), finish_min=D(0))
    assert earned_an_hour(cost_of_batch(RATES, idle, Order(5, D(0)), EVEN), D(9), D(0)) is None
    with pytest.raises(BadValueError, match="burned"):
        cost_counted(RATES, TILE, ORDER, 19)
    for wrong in ({"hand_hour": D(-1)}, {"kwh": D(100_001)}, {"fee_share": D("0.91")}, {"draw_w": D("NaN")}):
        with pytest.raises(BadValueError, match=next(iter(wrong))):
            replace(RATES, **wrong)
    for wrong in ({"blank": D(-1)}, {"machine_min": D(100_001)}):
        with pytest.raises(BadValueError, match=next(iter(wrong))):
            replace(TILE, **wrong)
    for wrong in ({"good": 0}, {"tests": -1}, {"setup_min": D(-1)}):
        with pytest.raises(BadValueError, match=next(iter(wrong))):
            replace(ORDER, **wrong)


def test_halves_of_a_cent_go_to_the_even_one():
    assert [money(D(x)) for x in ("0.125", "0.135", "2.675", "-0.005")] == [D("0.12"), D("0.14"), D("2.68"), D("0.00")]
    assert sum(spent_on(TILE, RATES).values()) == D("4.46")


QUOTE = Slip(
    SlipKind.QUOTE, 2026, 7, date(2026, 12, 15), ("Garden workshop",), "Herb garden", "Labels", (), 12, D("3.95"),
    D("0.19"), "€",
)  # fmt: skip


def test_a_quote_by_hand():
    """12 · 3.95 = 47.40; 19 % of it 9.006."""
    assert (QUOTE.code, QUOTE.net, QUOTE.tax, QUOTE.asked) == ("Q 2026-007", D("47.40"), D("9.01"), D("56.41"))
    assert QUOTE.holds_until == date(2027, 1, 14)
    assert replace(QUOTE, kind=SlipKind.RECEIPT, number=1234).code == "R 2026-1234"
    # 5 % of 0.50 is 0.025, of 0.70 0.035: halves go up, whatever stands before them.
    assert [replace(QUOTE, good=1, price=D(p), tax_share=D("0.05")).tax for p in ("0.50", "0.70")] == [
        D("0.03"),
        D("0.04"),
    ]


@given(st.integers(1, 10_000), cash, st.decimals(0, 1, places=4))
def test_tax_is_the_nearest_cent_in_exact_fractions(good, price, share):
    slip = replace(QUOTE, good=good, price=price, tax_share=share)
    off = Fraction(slip.tax) - Fraction(price) * good * Fraction(share)
    assert Fraction(-1, 200) < off <= Fraction(1, 200)
    assert slip.asked - slip.net == slip.tax


@pytest.mark.parametrize(("name", "least", "most", "step"), [
    ("good", 1, 1_000_000, 1), ("number", 1, 1_000_000, 1), ("year", 1900, 2200, 1),
    ("price", D(0), D(10**9), D("0.01")), ("tax_share", D(0), D(1), D("0.0001")),
])  # fmt: skip
def test_no_slip_without_pieces_price_or_number(name, least, most, step):
    assert [getattr(replace(QUOTE, **{name: value}), name) for value in (least, most)] == [least, most]
    for wrong in (least - step, most + step, D("NaN")):
        with pytest.raises(BadValueError) as refused:
            replace(QUOTE, **{name: wrong})
        assert refused.value.field == name
