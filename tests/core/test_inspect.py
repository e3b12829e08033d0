"""Why a piece failed: every cause against its own signs, odds worked by hand, tests that part causes, remedies that are
settings. Chances and weights are our own estimates."""

import math
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from keencoat.core.inspect import (
    CAUSES,
    ON_PIECES,
    Action,
    BurnedAs,
    Case,
    Circumstances,
    Conditions,
    Measured,
    Neighbour,
    chances_of,
    explain,
    out_of_place,
    signs_of,
    since_good,
)
from keencoat.core.inspect.likelihood import clues_of, refined
from keencoat.core.inspect.remedy import expected, under
from keencoat.core.quantities.setting import BeamSource, Setting, require_reachable
from keencoat.core.rating import Rating
from keencoat.core.sources import SOURCES
from keencoat.core.substrate import PROCESSES, find_process, find_substrate
from keencoat.core.window.fit import fit_window
from keencoat.core.window.model import observe
from keencoat.core.window.priors import prior_for
from tests.core.conftest import make_machine

MACHINE = make_machine(source=BeamSource.BLUE, rated_w=12, spot_mm=0.09, max_speed_mm_s=300)
SUBSTRATE_OF = {key: process.substrates[0] for key, process in PROCESSES.items()}
AT = datetime(2026, 5, 4, 9, tzinfo=UTC)


def burned(process="frost"):
    """In the middle of a window that two pieces show."""
    setting = Setting(50, 60, 0.1)
    rated = [(Rating.FAINT, 0.5), (Rating.FAINT, 0.65), (Rating.CLEAN, 0.85), (Rating.CLEAN, 1.0), (Rating.CLEAN, 1.2),
             (Rating.HARSH, 1.6), (Rating.HARSH, 1.95)]  # fmt: skip
    cells = tuple(
        observe(Setting(50 * k, 60 * v, 0.1), MACHINE, rating, piece)
        for piece in (0, 1)
        for rating, k in rated
        for v in (0.8, 1.0)
    )
    source = BeamSource.CO2 if process == "protect" else BeamSource.BLUE
    fit = fit_window(cells, prior_for(process, source))
    return BurnedAs(find_process(process), find_substrate(SUBSTRATE_OF[process]), setting, MACHINE, fit)


FROST = burned()
AT_THE_EDGE = replace(FROST, setting=Setting(44, 60, 0.1))


def case(rating, *seen, at=FROST, **more):
    ticks = signs_of(at.process, at.substrate, more.get("conditions", Conditions()).turned)
    return Case(at, rating, {sign: sign in seen for sign in ticks}, **more)


def likeliest(told):
    causes, _, chance = chances_of(told)
    return causes[int(chance.argmax())].key, float(chance.max())


TYPICAL = {
    "edge": case(Rating.FAINT, "coat_left", at=AT_THE_EDGE, before=Neighbour(2, False), after=(Neighbour(4, False),)),
    "out_of_focus": case(Rating.FAINT, "coat_left", "soft"),
    "weak_beam": case(Rating.FAINT, "coat_left", after=(Neighbour(4, True), Neighbour(5, True)),
                      answers={"gauge": "yes", "corner_patch": "yes"}),
    "strong_beam": case(Rating.HARSH, "chips", after=(Neighbour(4, True), Neighbour(5, True)),
                        answers={"corner_patch": "yes"}),
    "too_fast": case(Rating.FAINT, "coat_left", ln_time=Measured(-0.4, 0.05), answers={"figures": "speed"}),
    "too_slow": case(Rating.HARSH, "chips", ln_time=Measured(0.4, 0.05), answers={"figures": "speed"}),
    "lines_wide": case(Rating.FAINT, "coat_left", "stripes", ln_time=Measured(-0.5, 0.05)),
    "lines_close": case(Rating.HARSH, "chips", "rough", ln_time=Measured(0.5, 0.05), answers={"figures": "lines"}),
    "extra_pass": case(Rating.HARSH, "chips", ln_time=Measured(math.log(2), 0.03)),
    "coat_thick": case(Rating.FAINT, "coat_left", ln_film=Measured(0.4, 0.1)),
    "coat_thin": case(Rating.FAINT, "patchy", ln_film=Measured(-0.9, 0.1)),
    "coat_streaked": case(Rating.FAINT, "streaks"),
    "coat_pooled": case(Rating.FAINT, "coat_left", "patch_missing", coat={"pooled": True, "touched": False}),
    "coat_touched": case(Rating.FAINT, "patch_missing"),
    "coat_cracked": case(Rating.FAINT, "fine_lines"),
    "coat_wet": case(Rating.FAINT, "patchy", conditions=Conditions(dry_h_left=1.0), answers={"fingertip": "yes"}),
    "wrong_layer": case(Rating.FAINT, "no_mark", "coat_left", answers={"to_the_light": "other"}),
    "tape_glue": case(Rating.FAINT, "glue", "no_mark"),
    "moved": case(None, "doubled"),
    "backlash": case(None, "combed", after=(Neighbour(4, True),)),
    "off_origin": case(None, "off_place"),
    "set_askew": case(None, "askew"),
    "turn_size": case(None, "wrong_size", "seam", conditions=Conditions(turned=True)),
    "axis_size": case(None, "wrong_size", after=(Neighbour(4, True),)),
    "fill_heats": case(Rating.HARSH, "brown", "pinholes", at=burned("back_engrave"),
                       conditions=Conditions(fill_over_tested=3.0)),
    "cold_glass": case(Rating.HARSH, "chips", "snapping", conditions=Conditions(air_c=8.0, cooler_k=9.0)),
    "no_stand_off": case(None, "pits_behind"),
    "no_film": case(Rating.HARSH, "haze", at=burned("protect")),
    "film_burnt": case(Rating.HARSH, "residue", "glue", at=burned("ablate")),
    "foil_under": case(None, "foil", at=burned("back_engrave")),
    "dots_merged": case(Rating.HARSH, "merged", "detail_lost", conditions=Conditions(toned=True)),
}  # fmt: skip


def test_every_cause_has_a_typical_case():
    assert set(TYPICAL) == set(CAUSES)


@pytest.mark.parametrize("key", CAUSES)
def test_a_typical_case_is_told_and_its_remedy_can_be_done(key):
    found, chance = likeliest(TYPICAL[key])
    assert found == key
    assert chance > 0.15
    first = explain(TYPICAL[key]).ranked[0]
    assert first.remedy.words.endswith(".")
    assert first.cause.source in SOURCES
    if first.remedy.setting:
        require_reachable(first.remedy.setting, MACHINE)
    if first.remedy.clean:
        assert 0 <= first.remedy.clean.low <= first.remedy.clean.high <= 1


@pytest.mark.parametrize("key", CAUSES)
def test_entries_hold_chances(key):
    cause = CAUSES[key]
    assert all(0 < p < 1 for p in (*cause.tells.values(), cause.stays))
    assert cause.usual > 0
    assert (cause.rated is None) != (cause.shift is None) or key == "coat_thin"
    if cause.rated:
        r = cause.rated
        assert r.faint + r.clean + r.harsh + r.spoilt == pytest.approx(1)


def test_odds_by_hand():
    """Two causes, one sign, a spoilt piece: prior odds 1.2 to 1.0, the sign .87·.9+.006 against .87·.004+.006, and its
    rating .58 against .58 at four in a hundred of anything."""
    told = Case(FROST, None, {"doubled": True})
    causes, _, chance = chances_of(told)
    of = {cause.key: chance[n] for n, cause in enumerate(causes)}
    by_hand = (1.2 / 1.0) * (0.87 * 0.9 + 0.006) / (0.87 * 0.004 + 0.006)
    assert of["moved"] / of["set_askew"] == pytest.approx(by_hand, rel=1e-9)
    assert chance.sum() == pytest.approx(1)


def test_what_comes_with_a_rating_says_nothing_more():
    """Chips on a harsh piece leave the odds of causes alone that say nothing of chips."""
    before = dict(zip(*_told(Case(FROST, Rating.HARSH, {})), strict=True))
    after = dict(zip(*_told(Case(FROST, Rating.HARSH, {"chips": True})), strict=True))
    for one, other in (("strong_beam", "too_slow"), ("strong_beam", "extra_pass")):
        assert after[one] / after[other] == pytest.approx(before[one] / before[other])
    assert after["cold_glass"] / after["strong_beam"] > before["cold_glass"] / before["strong_beam"]


def _told(told):
    causes, _, chance = chances_of(told)
    return [cause.key for cause in causes], chance


def test_evidence_counts_by_itself_and_once():
    told = TYPICAL["coat_thick"]
    causes, items, chance = chances_of(told)
    product = np.array([c.usual for c in causes]) * np.prod([item.chance for item in items], axis=0)
    assert chance == pytest.approx(product / product.sum())
    assert len(items) == 1 + len(told.signs) + 1


def test_the_window_speaks_for_the_setting():
    """Where faint is far and harsh is near, a harsh piece needs no fault, a faint one does."""
    near = replace(FROST, setting=Setting(74, 60, 0.1))
    harsh, faint = (dict(zip(*_told(case(r, at=near)), strict=True)) for r in (Rating.HARSH, Rating.FAINT))
    assert harsh["edge"] > 0.6 > faint["edge"]


@pytest.mark.parametrize(
    ("more", "key", "up"),
    [
        ({"conditions": Conditions(new_lot=True)}, "coat_thick", True),
        ({"conditions": Conditions(new_lot=False)}, "coat_thick", False),
        ({"conditions": Conditions(dry_h_left=0.5)}, "coat_wet", True),
        ({"conditions": Conditions(dry_h_left=-0.2)}, "coat_wet", True),
        ({"conditions": Conditions(dry_h_left=-20)}, "coat_wet", False),
        ({"conditions": Conditions(drift_pct=20)}, "weak_beam", True),
        ({"ln_film": Measured(0.45, 0.1)}, "coat_thick", True),
        ({"ln_film": Measured(0.0, 0.1)}, "coat_thick", False),
        ({"ln_time": Measured(-0.4, 0.05)}, "too_fast", True),
        ({"ln_time": Measured(0.0, 0.05)}, "too_fast", False),
        ({"after": (Neighbour(4, True),)}, "weak_beam", True),
        ({"after": (Neighbour(4, False),)}, "weak_beam", False),
        ({"before": Neighbour(2, True)}, "weak_beam", True),
        ({"answers": {"gauge": "no"}}, "out_of_focus", True),
        ({"answers": {"gauge": "yes"}}, "out_of_focus", False),
    ],
)
def test_circumstances_weigh_the_right_way(more, key, up):
    plain = dict(zip(*_told(case(Rating.FAINT)), strict=True))
    told = dict(zip(*_told(case(Rating.FAINT, **more)), strict=True))
    assert bool(told[key] > plain[key]) is up


@pytest.mark.parametrize(
    ("conditions", "key", "up"),
    [
        (Conditions(air_c=8.0), "cold_glass", True),
        (Conditions(air_c=15.0, cooler_k=9.0), "cold_glass", True),
        (Conditions(air_c=22.0), "cold_glass", False),
        (Conditions(fill_over_tested=2.0), "fill_heats", True),
        (Conditions(fill_over_tested=1.0), "fill_heats", False),
        (Conditions(drift_pct=-20), "strong_beam", True),
        (Conditions(both_ways_mm=-0.3), "backlash", True),
        (Conditions(both_ways_mm=0.02), "backlash", False),
    ],
)
def test_circumstances_of_harsh_pieces(conditions, key, up):
    plain = dict(zip(*_told(case(Rating.HARSH)), strict=True))
    told = dict(zip(*_told(case(Rating.HARSH, conditions=conditions)), strict=True))
    assert bool(told[key] > plain[key]) is up


@pytest.mark.parametrize(
    ("conditions", "times"),
    [
        (Conditions(air_c=11.9), 4), (Conditions(air_c=12.1), 1), (Conditions(air_c=18.1), 0.3),
        (Conditions(air_c=17.9), 1), (Conditions(air_c=20.0, cooler_k=6.1), 4),
        (Conditions(air_c=20.0, cooler_k=5.9), 0.3),
    ],
)  # fmt: skip
def test_cold_air_makes_a_chip_of_cold_glass_four_times_as_likely_and_warm_air_three_tenths(conditions, times):
    plain = dict(zip(*_told(case(Rating.HARSH)), strict=True))
    told = dict(zip(*_told(case(Rating.HARSH, conditions=conditions)), strict=True))
    odds = told["cold_glass"] / told["fill_heats"] / (plain["cold_glass"] / plain["fill_heats"])
    assert odds == pytest.approx(times, rel=1e-6)


def test_causes_that_cannot_be_are_left_out():
    def keys(told):
        return {cause.key for cause in chances_of(told)[0]}

    assert "turn_size" not in keys(case(None))
    assert "turn_size" in keys(case(None, conditions=Conditions(turned=True)))
    assert "dots_merged" not in keys(case(None, conditions=Conditions(toned=False)))
    assert not {"cold_glass", "no_film", "film_burnt", "foil_under"} & keys(case(None, at=burned("reveal")))
    assert not {"coat_thick", "coat_streaked", "coat_wet"} & keys(case(None, at=burned("ablate")))


def test_a_remedy_is_a_setting_that_the_window_likes_there():
    told = case(Rating.FAINT)
    weaker, clean = under(told, -0.4, 0.0)
    same, now = under(told, 0.0, 0.0)
    energy = [s.power_pct / s.speed_mm_s for s in (weaker, same)]
    assert energy[0] > 1.2 * energy[1]
    assert clean.mid == pytest.approx(now.mid, abs=0.06)
    assert now.mid >= expected(told).mid - 0.01
    slow, _ = under(told, 0.0, 0.5)
    assert slow.power_pct / slow.speed_mm_s > energy[1]
    eager = replace(told, burned=replace(FROST, wanted=0.5))
    assert under(eager, 0.0, 0.0)[0].speed_mm_s > same.speed_mm_s
    alone = make_machine(spot_mm=0.09, min_speed_mm_s=60, max_speed_mm_s=60)
    assert under(replace(told, burned=replace(FROST, machine=alone)), 0.0, 0.0)[0].speed_mm_s == 60
    unsure = under(told, -0.4, 0.0, more_sd=0.4)[1]
    assert unsure.mid < clean.mid


def test_a_photo_of_the_coat_moves_what_is_believed_of_its_film():
    """Normal by normal: half and half between as sure ones."""
    thick = CAUSES["coat_thick"].shift
    told = case(Rating.FAINT, ln_film=Measured(0.25, thick.film_sd))
    believed = refined(thick, told)
    assert believed.film == pytest.approx((thick.film + 0.25) / 2)
    assert believed.film_sd == pytest.approx(thick.film_sd / math.sqrt(2))
    assert refined(thick, case(Rating.FAINT)) == thick
    words = explain(replace(told, ln_film=Measured(math.log(1.28), 0.02))).ranked[0].remedy.words
    assert "28 % thicker" in words


def test_measured_film_and_time_weigh_as_normals_worked_by_hand():
    """Against a cause with no film or time of its own, pieces scatter by themselves: 12 % of film, 2 % of time."""
    causes = [CAUSES["edge"], CAUSES["coat_thick"], CAUSES["too_slow"]]
    told = case(Rating.FAINT, ln_film=Measured(0.3, 0.05), ln_time=Measured(0.1, 0.03))
    film, time = (item.chance for item in clues_of(told, causes) if "film" in item.words or "longer" in item.words)
    wide, narrow = math.hypot(0.12, 0.05), math.hypot(0.2, 0.05)
    assert film[0] == pytest.approx(0.97 * math.exp(-0.5 * (0.3 / wide) ** 2) / wide + 0.03)
    assert film[1] == pytest.approx(0.97 * math.exp(-0.5 * (0.15 / narrow) ** 2) / narrow + 0.03)
    wide, narrow = math.hypot(0.02, 0.03), math.hypot(0.2, 0.03)
    assert time[0] == pytest.approx(0.97 * math.exp(-0.5 * (0.1 / wide) ** 2) / wide + 0.03)
    assert time[2] == pytest.approx(0.97 * math.exp(-0.5 * (0.3 / narrow) ** 2) / narrow + 0.03)


def test_reasons_speak_for_and_against():
    assert all(r.chance >= 0.02 for told in TYPICAL.values() for r in explain(told).ranked)
    told = replace(TYPICAL["lines_wide"], answers={"figures": "lines", "gauge": "yes"}, after=(Neighbour(4, True),))
    first = explain(told).ranked[0]
    assert any("stripes" in b.words and b.ln_odds > 1 for b in first.because)
    assert all(abs(b.ln_odds) >= 0.4 for b in first.because)
    assert 2 <= len(first.because) <= 4
    sizes = [abs(b.ln_odds) for b in first.because]
    assert sizes == sorted(sizes, reverse=True)


def test_evidence_is_told_in_words():
    told = case(Rating.FAINT, "soft", ln_film=Measured(math.log(1.3), 0.1), ln_time=Measured(0, 0.1),
                coat={"pooled": False}, before=Neighbour(2, False), answers={"gauge": "no"})  # fmt: skip
    longer = replace(told, ln_time=Measured(math.log(1.5), 0.1))
    assert "it burned 50 % longer than expected" in [item.words for item in clues_of(longer, list(CAUSES.values()))]
    words = [item.words for item in clues_of(told, list(CAUSES.values()))]
    assert {"came out faint", "soft edges, wide strokes", "photo of the coat: film +30 %",
            "the photo of its coat does not show a pool", "piece 2 came out clean"} <= set(words)  # fmt: skip


def test_signs_fit_the_piece():
    frost = signs_of(find_process("frost"), find_substrate("soda_lime_glass"), turned=False)
    acrylic = signs_of(find_process("back_engrave"), find_substrate("clear_acrylic"), turned=True)
    assert {"snapping", "chips"} <= set(frost)
    assert not {"foil", "seam", "brown"} & set(frost)
    assert {"foil", "seam", "brown"} <= set(acrylic)
    assert "snapping" not in acrylic
    assert all(sign in ON_PIECES or sign in PROCESSES["frost"].defects for sign in frost)


@pytest.mark.parametrize(
    ("shift", "askew", "size", "signs"),
    [
        (None, None, None, set()),
        ((0.4, 0.4), 0.9, (1.4, -1.4), set()),
        ((0.6, 0.6), 0.0, (0.0, 0.0), {"off_place"}),
        ((0.0, 0.0), -1.1, (0.0, 0.0), {"askew"}),
        ((0.0, 0.0), 0.0, (0.0, -1.6), {"wrong_size"}),
        (None, 2.0, None, {"askew"}),
    ],
)
def test_a_photo_tells_signs_of_place(shift, askew, size, signs):
    assert out_of_place(shift, askew, size) == signs


def test_what_is_otherwise_than_with_the_last_good_piece():
    good = Circumstances(7, ("A1",), AT, AT + timedelta(hours=20), 21.0, 50.0, FROST.setting, "leaf v1", "Blue")
    now = replace(good, number=9, lots=("B2",), burned_at=AT + timedelta(hours=3), air_c=12.0, humidity_pct=65.0,
                  artwork="leaf v2")  # fmt: skip
    assert list(since_good(now, good)) == [
        "lot B2, not A1", "9 K cooler", "15 points damper air", "its coat stood 17 h shorter", "the same setting",
        "another artwork", "the same machine",
    ]  # fmt: skip
    close = replace(good, air_c=23.9, humidity_pct=41.0, burned_at=AT + timedelta(hours=23), coated_at=None)
    assert list(since_good(close, good)) == ["the same setting", "the same artwork", "the same machine"]
    unknown = replace(good, air_c=None, humidity_pct=None, burned_at=None)
    assert next(since_good(unknown, good)) == "the same setting"


def test_an_action_for_every_kind_of_remedy():
    told = {explain(TYPICAL[key]).ranked[0].remedy.action for key in CAUSES}
    assert told | {Action.AGAIN, Action.RETUNE} == set(Action)
