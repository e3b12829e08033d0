"""The safety gate and the findings of a grid: which conditions stand for which work, word by word where it matters."""

import math
import re
from datetime import UTC, datetime, timedelta

import pytest

from keencoat.core.coat.catalogue import COATS
from keencoat.core.coat.compatibility import assess
from keencoat.core.coat.schedule import Drying, Group
from keencoat.core.coat.tools import TOOLS
from keencoat.core.coat.vapour import coat_cautions
from keencoat.core.errors import BadValueError
from keencoat.core.findings import Severity
from keencoat.core.grid.design import design_blind, design_crossed
from keencoat.core.quantities.setting import BeamSource
from keencoat.core.quantities.slice import Slice
from keencoat.core.safety.eyewear import Emission, Pulsing, usual_emission
from keencoat.core.safety.gate import DEFERENCE, gate_holds, require_gone_through, run_gate, safety_gate
from keencoat.core.safety.pairs import Cover, EyewearPair, WaveBand, cover_of
from keencoat.core.substrate.materials import SUBSTRATES
from keencoat.core.window.fit import fit_window
from keencoat.core.window.predict import next_band
from keencoat.core.window.priors import PRIORS
from tests.core.conftest import make_machine

BLUE, NIR, CO2 = BeamSource.BLUE, BeamSource.NEAR_INFRARED, BeamSource.CO2
ALWAYS = {"eyewear", "laser_mode", "extraction", "dry", "attended", "enclosed"}


def codes(machine, substrate, coat, emission=None):
    gate = safety_gate(machine, emission or usual_emission(machine.source), SUBSTRATES[substrate], COATS[coat])
    return {item.code: item for item in gate}


@pytest.mark.parametrize(
    ("source", "substrate", "coat", "besides"),
    [
        (BLUE, "soda_lime_glass", "tempera_brushed", {"warm_glass", "glass-toughened", "glass-lead", "foil-reflects"}),
        (BLUE, "clear_acrylic", "tempera_thin", {"pmma", "never", "foil-reflects"}),
        (CO2, "clear_acrylic", "dish_soap", {"pmma", "never"}),
        (CO2, "painted_tile", "colour_stack", {"never", "glaze-metals"}),
        (BLUE, "white_glazed_tile", "tio2_glue", {"glaze-metals"}),
        (NIR, "mild_steel", "resist_spray", {"zinc-fume"}),
        (NIR, "brass", "resist_spray", set()),
    ],
)
def test_the_gate_holds_what_this_work_needs(source, substrate, coat, besides):
    gate = codes(make_machine(source=source), substrate, coat)
    own = {code for code in gate if code.startswith("coat_")}
    assert set(gate) - own == ALWAYS | besides
    assert len(own) == len(COATS[coat].cautions)
    assert all(item.text for item in gate.values())


@pytest.mark.parametrize("source", list(BeamSource))
@pytest.mark.parametrize("watts", [1, 5, 20, 80])
def test_eyewear_names_wavelength_and_a_density_that_suffices(source, watts):
    """OD = log10(H/MPE), IEC 60825-1:2014, ten seconds (from memory): the density brings the beam below the limit."""
    steady = Emission(Pulsing.CONTINUOUS)
    text = codes(make_machine(source=source, rated_w=watts), "painted_tile", "colour_stack", steady)["eyewear"].text
    assert f"{source.wavelength_nm:,.0f} nm".replace(",", " ") in text
    asked = int(text.split("OD ")[1].split(" ")[0])
    limit = {BLUE: (10, 7.0), NIR: (50.0, 7.0), CO2: (1000.0, 3.5)}[source]
    behind_w_m2 = watts / (3.14159265 / 4 * (limit[1] / 1000) ** 2) / 10**asked
    assert limit[0] / 10 < behind_w_m2 <= limit[0]
    assert "everyone in the room" in text


@pytest.mark.parametrize(("watts", "density"), [(3, 4), (5, 5), (8, 5), (10, 5), (38, 5), (40, 6)])
def test_blue_eyewear_does_not_lean_on_a_blink(watts, density):
    assert f"OD {density} or more" in codes(make_machine(rated_w=watts), "painted_tile", "colour_stack")["eyewear"].text


def test_pulses_have_rules_of_their_own_and_none_is_guessed():
    """1 mJ over 7 mm: 26 J/m² against 0.4 · 0.02 J/m² → 3.51; 20 W average → 4.02 (IEC 60825-1:2014, from memory)."""
    marker = make_machine(source=NIR, rated_w=20)
    unknown = codes(marker, "brass", "resist_spray")["eyewear"]
    assert "OD" not in unknown.text
    assert "pulsed" in unknown.why
    fast = codes(marker, "brass", "resist_spray", Emission(Pulsing.PULSED, 1.0, 20))["eyewear"].text
    assert "rated for pulses, OD 5 or more" in fast
    weak = make_machine(source=NIR, rated_w=1)
    assert "OD 4" in codes(weak, "brass", "resist_spray", Emission(Pulsing.PULSED, 1.0, 1))["eyewear"].text
    assert "OD 3" in codes(weak, "brass", "resist_spray", Emission(Pulsing.CONTINUOUS))["eyewear"].text


def test_the_gate_keeps_clashing_liquids_off():
    acrylic = codes(make_machine(), "clear_acrylic", "tempera_thin")["never"].text
    assert {"alcohol", "acetone", "thinner", "glass cleaner"} <= set(re.split(r": |, ", acrylic))
    aluminium = codes(make_machine(), "aluminium", "resist_spray")["never"].text
    assert "ferric chloride, hydrochloric acid" in aluminium


def test_the_gate_says_dry_in_the_words_of_the_carrier():
    machine = make_machine()
    assert "alcohol" in codes(machine, "white_glazed_tile", "tio2_alcohol")["dry"].text
    assert "solvent" in codes(machine, "soda_lime_glass", "matt_black_spray")["dry"].text
    assert codes(machine, "soda_lime_glass", "black_card")["dry"].text == "Piece clean and dry"
    assert "never clearance" in DEFERENCE


@pytest.mark.parametrize("key", sorted(COATS))
def test_solvent_and_powder_are_never_without_their_caution(key):
    coat = COATS[key]
    for tool in coat.tools:
        said = {c.code: c for c in coat_cautions(coat, TOOLS[tool], SUBSTRATES["soda_lime_glass"], 50)}
        if coat.is_put_on and coat.carrier.value == "solvent":
            assert {"vapour", "skin"} <= set(said)
        if coat.is_put_on and coat.carrier.value == "alcohol":
            assert "vapour" in said
        if any(p.ingredient == "tio2" for p in coat.parts):
            assert said["dust"].step == "mix"
        assert {c.step for c in said.values()} <= {"mix", "apply", "dry"}


@pytest.mark.parametrize("key", [k for k, s in SUBSTRATES.items() if s.refused])
def test_refused_materials_are_refused_by_their_code(key):
    (finding,) = assess(key, BLUE)
    assert (finding.code, finding.severity) == ("substrate-refused", Severity.STOP)


def test_a_blind_grid_says_what_it_costs():
    (finding,) = design_blind(Slice(make_machine(), 0.1)).findings
    assert (finding.code, finding.severity) == ("blind-grid", Severity.NOTE)
    assert "sixth" in finding.fix


def test_a_grid_out_of_reach_is_told_before_it_is_burned():
    """The weaker the machine, the less of the band it covers: first a warning, then a stop, at last a refusal."""
    band = next_band(fit_window((), PRIORS[("ablate", BLUE)]))
    seen = []
    for watts in (40, 4, 2, 1, 0.6, 0.4, 0.25, 0.15):
        try:
            findings = design_crossed(Slice(make_machine(rated_w=watts), 0.1), band).findings
        except BadValueError:
            seen.append("refused")
            continue
        seen.append(findings[0].severity.value if findings else "fine")
        assert all(f.code == "reach" for f in findings)
    order = ["fine", "warn", "stop", "refused"]
    assert seen == sorted(seen, key=order.index)
    assert {"fine", "refused"} < set(seen)


GREEN = EyewearPair("Green goggles", (WaveBand(190, 540, 6), WaveBand(800, 1100, 5, for_pulses=True)))
THIN = EyewearPair("Old pair", (WaveBand(400, 500, 3),))
CLEAR = EyewearPair("Clear shield", (WaveBand(9000, 11000, 5),))
STEADY = Emission(Pulsing.CONTINUOUS)


def test_the_pair_that_covers_a_beam_is_picked_and_the_others_are_told_off():
    """10 W at 450 nm through 7 mm for ten seconds: 10 / 3.848e-5 / 10 = 25 986, OD 4.41 (IEC 60825-1:2014, memory)."""
    blue = make_machine(source=BLUE, rated_w=10)
    found = cover_of([THIN, CLEAR, GREEN], blue, STEADY)
    assert (found.needed, found.pair, found.band) == (5, GREEN, GREEN.bands[0])
    assert found.why_not == (
        ("Old pair", "OD 3 at 450 nm, where 5 is needed"),
        ("Clear shield", "made for 9000–11000 nm, not for 450 nm"),
    )
    # At the density that is needed it covers, and of two the denser one is picked.
    exact = EyewearPair("Exact", (WaveBand(450, 450.5, 5),))
    assert cover_of([exact], blue, STEADY).pair == exact
    assert cover_of([exact, GREEN], blue, STEADY).pair == cover_of([GREEN, exact], blue, STEADY).pair == GREEN
    assert cover_of([EyewearPair("Just under", (WaveBand(440, 460, 4.9),))], blue, STEADY).pair is None
    assert cover_of([EyewearPair("Beside", (WaveBand(451, 560, 7), WaveBand(300, 449, 7)))], blue, STEADY).pair is None
    assert cover_of([], blue, STEADY) == Cover(5, None, None, ())


def test_pulses_need_a_mark_for_pulses_and_an_unknown_beam_no_pair_covers():
    near = make_machine(source=NIR, rated_w=20)
    pulsed = Emission(Pulsing.PULSED, 1.0, 20.0)
    steady = EyewearPair("For steady beams", (WaveBand(800, 1100, 9),))
    assert cover_of([steady], near, pulsed).why_not == (("For steady beams", "not marked for pulses"),)
    assert cover_of([steady], near, STEADY).pair == steady
    both = EyewearPair("Both", (WaveBand(1000, 1100, 9), WaveBand(1000, 1100, 8, for_pulses=True)))
    assert cover_of([both, steady], near, pulsed).band == both.bands[1]
    assert cover_of([both], near, STEADY).band == both.bands[0]
    unknown = cover_of([both], near, Emission(Pulsing.UNKNOWN))
    assert (unknown.needed, unknown.pair) == (None, None)
    assert unknown.why_not == (("Both", "nobody said whether this beam is pulsed"),)


@pytest.mark.parametrize(
    ("make", "field"),
    [
        (lambda: WaveBand(500, 400, 5), "to_nm"),
        (lambda: WaveBand(179, 400, 5), "from_nm"),
        (lambda: WaveBand(400, 20_001, 5), "to_nm"),
        (lambda: WaveBand(400, 500, 0), "density"),
        (lambda: WaveBand(400, 500, 12.1), "density"),
        (lambda: WaveBand(400, math.nan, 5), "to_nm"),
        (lambda: EyewearPair("None", ()), "bands"),
        (lambda: EyewearPair("Many", (WaveBand(400, 500, 5),) * 9), "bands"),
    ],
)
def test_a_pair_that_cannot_be(make, field):
    with pytest.raises(BadValueError) as refused:
        make()
    assert refused.value.field == field
    assert EyewearPair("Eight", (WaveBand(180, 20_000, 12),) * 8).bands[0].holds(180)


AT = datetime(2026, 5, 4, 9, tzinfo=UTC)


def drying(*groups):
    """Groups as (first, last, coats on, ready); two coats are planned, what is not ready is due in an hour."""
    made = tuple(
        Group(first, last, on, 2, AT, AT + timedelta(hours=1), None, None, ready, False)
        for first, last, on, ready in groups
    )
    return Drying(made[0], made)


def gate_of(machine, pairs=(), dry=None, emission=STEADY, pieces=12):
    asked = safety_gate(machine, emission, SUBSTRATES["soda_lime_glass"], COATS["tempera_brushed"])
    found = run_gate(asked, machine, emission, pairs, dry or drying((1, 15, 2, True)), pieces)
    return {item.code: item for item in found}


def test_before_a_run_the_gate_knows_eyewear_and_drying():
    blue = make_machine(source=BLUE, rated_w=10)
    gate = gate_of(blue, [THIN, GREEN])
    assert gate["eyewear"].text == "Green goggles (190–540 nm, OD 6) or better on everyone in the room"
    assert gate["eyewear"].asks == ""
    none = gate_of(blue, [THIN])["eyewear"]
    assert "None of the shop's covers it. Old pair: OD 3 at 450 nm, where 5 is needed." in none.why
    assert none.asks
    assert "OD 5 or more" in none.text
    assert "lists no eyewear" in gate_of(blue)["eyewear"].why
    unknown = gate_of(blue, [GREEN], emission=Emission(Pulsing.UNKNOWN))["eyewear"]
    assert unknown.asks
    assert "lists no" not in unknown.why
    assert gate["dry"].text.endswith(": 12 of 12 pieces should be dry")
    # Spares that are dry are no pieces of the batch.
    some = gate_of(blue, dry=drying((1, 5, 2, False), (6, 20, 2, True)))["dry"]
    assert (some.text.split(": ")[1], some.blocked) == ("7 of 12 pieces should be dry", "")
    wet = gate_of(blue, dry=drying((1, 12, 2, False), (13, 15, 2, True)))["dry"]
    assert (wet.blocked, wet.until) == ("the coat dries.", AT + timedelta(hours=1))
    bare = gate_of(blue, dry=drying((1, 4, 2, False), (5, 15, 1, True)))["dry"]
    assert bare.blocked == "coat 2 is not on piece 5 yet."


def test_nothing_burns_before_every_condition_is_ticked():
    gate = gate_of(make_machine(source=BLUE, rated_w=10), [THIN])
    answers = dict.fromkeys(gate, "") | {"enclosed": gate["enclosed"].ways[1], "eyewear": "DIN 445 LB6"}
    require_gone_through(gate.values(), answers)
    for code in gate:
        with pytest.raises(BadValueError) as refused:
            require_gone_through(gate.values(), {c: a for c, a in answers.items() if c != code})
        assert refused.value.field == f"ticks.{code}"
    for code, answer in (("enclosed", "yes"), ("enclosed", ""), ("eyewear", "  ")):
        with pytest.raises(BadValueError) as refused:
            require_gone_through(gate.values(), answers | {code: answer})
        assert refused.value.field == f"ticks.{code}"
    wet = gate_of(make_machine(source=BLUE), [GREEN], drying((1, 12, 2, False)))
    with pytest.raises(BadValueError, match="Not yet: the coat dries"):
        require_gone_through(wet.values(), answers)


def test_a_gate_holds_for_a_sitting():
    assert gate_holds(AT, AT)
    assert gate_holds(AT, AT + timedelta(hours=3, minutes=59))
    assert not gate_holds(AT, AT + timedelta(hours=4))
    assert not gate_holds(AT, AT - timedelta(seconds=1))
