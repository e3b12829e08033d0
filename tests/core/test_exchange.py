"""Setting cards out and in, and what one says of a window."""

import json
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from jsonschema import Draft202012Validator
from scipy.stats import norm

from keencoat.core.errors import BadValueError
from keencoat.core.exchange import SettingCard, card_findings, cards_schema, read_cards, write_cards, write_cards_csv
from keencoat.core.quantities import Art, BeamSource, Setting
from keencoat.core.window import (
    CardHint,
    Kind,
    Scatter,
    fit_window,
    lesson_of_card,
    odds_of,
    stated_prior,
    with_lessons,
)
from keencoat.core.window.parameters import SIZE, P

words = st.text(st.characters(exclude_categories=("Cs", "Cc")), max_size=60)
shares = st.lists(st.floats(0, 1), min_size=3, max_size=3).map(sorted)


@st.composite
def cards(draw):
    clean, seen = sorted(draw(st.tuples(st.integers(0, 10**6), st.integers(0, 10**6))))
    low, mid, high = draw(shares)
    return SettingCard(
        uid=draw(st.uuids()).hex,
        workshop=draw(words),
        title=draw(words),
        locked_on=draw(st.one_of(st.just(""), st.dates().map(str))),
        substrate="soda_lime_glass",
        process="frost",
        art=draw(st.sampled_from(Art)),
        coat=draw(st.sampled_from(["", "chalk"])),
        coat_words=draw(words),
        coats=draw(st.integers(1, 50)),
        film_um=draw(st.floats(0, 5000)),
        thickness_mm=draw(st.floats(0, 1000)),
        machine_words=draw(words),
        beam=draw(st.sampled_from(BeamSource)),
        rated_w=draw(st.floats(0.1, 1000)),
        spot_mm=draw(st.floats(0.005, 2)),
        power_pct=draw(st.floats(0.01, 100)),
        speed_mm_s=draw(st.floats(0.01, 20_000)),
        interval_mm=draw(st.floats(0.005, 5)),
        passes=draw(st.integers(1, 50)),
        clean_low=low,
        clean=mid,
        clean_high=high,
        evidence=draw(st.sampled_from(["guess", "grid", "confirmed", "proven"])),
        pieces_clean=clean,
        pieces_seen=seen,
    )


@given(st.lists(cards(), max_size=4))
def test_cards_come_back_from_json_and_csv_as_they_went(made):
    document = write_cards(made, "Fernery", "2026-01-05T09:00:00+00:00")
    Draft202012Validator(cards_schema()).validate(json.loads(document))
    assert read_cards(document.encode()) == made
    # A spreadsheet's mark of byte order is no part of the first column.
    assert read_cards(("\ufeff" + write_cards_csv(made)).encode()) == made


CARD = SettingCard(
    "a-1", "Weir", "Tiles", "2026-05-18", "soda_lime_glass", "frost", Art.FILLS, "tempera_brushed", "tempera", 2, 24.0,
    4.0, "Diode", BeamSource.BLUE, 12.0, 0.1, 80.0, 40.0, 0.1, 2, 0.7, 0.9, 1.0, "proven", 9, 10,
)  # fmt: skip


def test_its_energy_is_worked_out_by_hand_and_formulas_are_disarmed():
    # 12 W · 80 % · 2 passes over 40 mm/s · 0.1 mm.
    assert CARD.energy_j_mm2() == pytest.approx(4.8)
    assert json.loads(write_cards([CARD], "", ""))["cards"][0]["energy_j_mm2"] == 4.8
    risky = replace(CARD, title="=1+1", workshop="@x", coat_words="-y", machine_words="+z")
    table = write_cards_csv([risky])
    assert all(f"'{text}" in table for text in ("=1+1", "@x", "-y", "+z"))
    assert read_cards(table.encode()) == [risky]


def test_what_nobody_said_is_taken_as_not_known():
    facts = {k: v for k, v in json.loads(write_cards([CARD], "", ""))["cards"][0].items() if k not in (
        "film_um", "clean", "clean_low", "clean_high", "pieces_clean", "pieces_seen", "title", "coat", "locked_on",
    )}  # fmt: skip
    document = {"format": "keencoat-setting-cards", "version": 1, "cards": [facts]}
    (card,) = read_cards(json.dumps(document).encode())
    assert (card.film_um, card.clean_low, card.clean, card.clean_high) == (0, 0, 0.5, 1)
    assert (card.pieces_clean, card.pieces_seen, card.title, card.coat) == (0, 0, "", "")
    for extra in ({"colour": "green"}, {"evidence": "sure"}, {"coats": 0}, {"beam": "red"}):
        with pytest.raises(BadValueError, match="Card 1"):
            read_cards(json.dumps(document | {"cards": [facts | extra]}).encode())


PRIOR = stated_prior("frost", BeamSource.BLUE, "soda_lime_glass", 1.0, Scatter(), 0.1)
MACHINE = replace(CARD, rated_w=200.0).machine()


HERE = Kind("white", "soda_lime_glass", "10 W", 20.0)


def hint(factor=1.0, **more):
    """A setting at so many times the energy that the prior takes for the middle of the band at 1 ms."""
    speed = 1000 * MACHINE.spot_mm
    pct = 100 * factor * PRIOR.centre_j_mm2 * speed * 0.1 / MACHINE.rated_w
    return CardHint(Setting(pct, speed, 0.1), MACHINE, **more)


def told(card, film_um=0.0):
    """The prior, told by a card."""
    return with_lessons(PRIOR, HERE, (lesson_of_card(PRIOR, HERE, card, film_um),))


def test_a_card_and_the_prior_are_combined_as_a_joint_gaussian_is_conditioned():
    """The card reads enough + 0.4 of the gap, ± 0.35 and what jobs differ by; at 1 ms, one pass, lines one
    spot apart the gap is the width. All other terms are zero there but the curve's, which is ln power."""
    mean, covariance = PRIOR.mean, np.diag(PRIOR.sd**2)
    per_job = np.diag(np.where(np.arange(SIZE) == P.ENOUGH, 0.08**2 + 0.05**2, 0.04 * PRIOR.sd**2))
    for card in (hint(0.5), hint(2.0)):
        row, share = np.zeros(SIZE), card.setting.power_pct / 100
        row[P.ENOUGH], row[P.WIDTH], row[P.CURVE] = 1, 0.4, -math.log(share)
        x = math.log(share * 200 / (1000 * MACHINE.spot_mm * 0.1))
        common = (covariance - per_job) @ row
        gain = common / (row @ covariance @ row + 0.35**2)
        after, root = told(card).gaussian
        assert after == pytest.approx(mean + gain * (x - row @ mean))
        assert root @ root.T == pytest.approx(covariance - np.outer(gain, common), abs=1e-7)
    unproven = told(hint(2.0, proven=False))
    assert PRIOR.believed_centre_j_mm2 < unproven.believed_centre_j_mm2 < told(hint(2.0)).believed_centre_j_mm2


def test_it_says_what_it_said_wherever_in_the_window_it_was_burned():
    """A setting in the lower half of what is clean is taken for what it is at any speed: the boundaries' slopes."""
    slower = Setting(2.4, 25.0, 0.1)
    there = odds_of(fit_window((), told(CardHint(slower, MACHINE))), slower, MACHINE)
    plain = odds_of(fit_window((), PRIOR), slower, MACHINE)
    assert there.clean.mid > plain.clean.mid
    assert there.clean.low < 0.6


def test_a_thicker_film_there_says_that_less_is_needed_here():
    thick, same = told(hint(), 2 * HERE.film_um), told(hint(), HERE.film_um)
    assert thick.believed_centre_j_mm2 < same.believed_centre_j_mm2


def test_its_doubt_is_stated_as_the_factor_that_holds_nine_in_ten():
    assert hint().within_factor == pytest.approx(math.exp(norm.ppf(0.95) * 0.35), rel=1e-3)
    assert hint(proven=False).within_factor == pytest.approx(math.exp(norm.ppf(0.95) * 0.6), rel=1e-3)
    assert np.isfinite(told(hint(0.02)).believed_centre_j_mm2)


@pytest.mark.parametrize("text", ["'=1+1", "''=x", "=1", "'tis", "-2", "'"])
def test_a_title_keeps_its_apostrophes_through_a_table(text):
    card = replace(CARD, title=text)
    assert read_cards(write_cards_csv([card]).encode()) == [card]


@pytest.mark.parametrize(
    ("changes", "code"),
    [
        ({"substrate": "clear_acrylic", "process": "back_engrave", "coat": "matt_black_spray"}, "coat-unsuited"),
        (
            {"substrate": "clear_acrylic", "process": "back_engrave", "coat": "", "coat_words": "IPA black"},
            "coat-unsuited",
        ),
        ({"beam": BeamSource.CO2, "process": "back_engrave", "substrate": "clear_acrylic", "coat": ""}, "process-beam"),
        ({"substrate": "brass"}, "process-substrate"),
    ],
)
def test_a_card_that_nobody_should_burn_says_why(changes, code):
    assert card_findings(CARD) == []
    found = card_findings(replace(CARD, **changes))
    assert code in {f.code for f in found}
    assert all(f.fix for f in found)
