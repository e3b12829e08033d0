"""The safety gate and the findings of a grid: which conditions stand for which work, word by word where it matters."""

import re

import pytest

from keencoat.core.coat.catalogue import COATS
from keencoat.core.coat.compatibility import assess
from keencoat.core.coat.tools import TOOLS
from keencoat.core.coat.vapour import coat_cautions
from keencoat.core.errors import BadValueError
from keencoat.core.findings import Severity
from keencoat.core.grid.design import design_blind, design_crossed
from keencoat.core.quantities.setting import BeamSource
from keencoat.core.quantities.slice import Slice
from keencoat.core.safety.eyewear import Emission, Pulsing, usual_emission
from keencoat.core.safety.gate import DEFERENCE, safety_gate
from keencoat.core.substrate.materials import SUBSTRATES
from keencoat.core.window.fit import fit_window
from keencoat.core.window.predict import next_band
from keencoat.core.window.priors import PRIORS
from tests.core.conftest import make_machine

BLUE, NIR, CO2 = BeamSource.BLUE, BeamSource.NEAR_INFRARED, BeamSource.CO2
ALWAYS = {"eyewear", "laser_mode", "extraction", "dry", "attended"}


def codes(machine, substrate, coat, emission=None):
    gate = safety_gate(machine, emission or usual_emission(machine.source), SUBSTRATES[substrate], COATS[coat])
    return {item.code: item for item in gate}


@pytest.mark.parametrize(
    ("source", "substrate", "coat", "besides"),
    [
        (BLUE, "soda_lime_glass", "tempera_brushed", {"warm_glass"}),
        (BLUE, "clear_acrylic", "tempera_thin", {"pmma", "never"}),
        (CO2, "clear_acrylic", "dish_soap", {"pmma", "shield", "never"}),
        (CO2, "painted_tile", "colour_stack", {"shield", "never"}),
        (BLUE, "white_glazed_tile", "tio2_glue", set()),
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
