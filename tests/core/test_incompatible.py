"""What must not meet what: every combination walked, against a list of its own and the words that a maker reads.

Common practice, no source: alcohol, glass cleaner and solvents craze or dissolve acrylic; ferric chloride and
hydrochloric acid run away on aluminium; thinner and acetone take paint that must stay.
"""

from dataclasses import replace

import pytest

from keencoat.core.coat.catalogue import COATS
from keencoat.core.coat.compatibility import assess, coats_that_help, processes_for
from keencoat.core.coat.incompatible import (
    CLASHES,
    Agent,
    agents_named,
    agents_of,
    clash_of,
    cleaning_of,
    coat_clash,
    finishes_of,
)
from keencoat.core.coat.offers import offers_for, rejections_for
from keencoat.core.coat.recipes import Carrier
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import forbids
from keencoat.core.quantities.setting import BeamSource
from keencoat.core.runsheet import build_run_sheet
from keencoat.core.safety.eyewear import usual_emission
from keencoat.core.safety.gate import safety_gate
from keencoat.core.substrate import HAZARDS, PROCESSES, SUBSTRATES, hazards_of
from tests.core.conftest import make_machine
from tests.core.test_coat_mix import need
from tests.core.test_flow_runsheet import CHOICES, run_facts

ACRYLIC = {"alcohol", "glass cleaner", "acetone", "thinner", "solvent", "steel wool", "isopropanol"}
PAINTED = {"acetone", "thinner", "solvent-based"}
NEVER = {
    "clear_acrylic": ACRYLIC,
    "painted_tile": PAINTED,
    "powder_coated_steel": PAINTED | {"steel wool"},
    "aluminium": {"ferric", "hydrochloric"},
    "soda_lime_glass": {"steel wool"},
    "borosilicate_glass": {"steel wool"},
}


@pytest.mark.parametrize("choice", CHOICES, ids=lambda c: c.key if hasattr(c, "key") else None)
def test_no_step_of_a_run_sheet_asks_for_what_harms_the_piece(choice):
    substrate, _, process, coat = choice
    sheet = build_run_sheet(run_facts(*choice))
    steps = [
        line
        for section in sheet.sections
        for line in section.lines
        if section.title in ("Piece", "Wash and inspect", "Finish") and line.label != "Never"
    ]
    told = " ".join(f"{line.label} {line.value} {line.detail}".lower() for line in steps)
    assert not [word for word in NEVER.get(substrate.key, ()) if word in told]
    assert not [
        a for a in (*cleaning_of(substrate).agents, *agents_of(coat)) if coat.is_put_on and clash_of(substrate, a)
    ]
    assert any(line.label == "Clean first" and line.value == cleaning_of(substrate).text for line in steps)
    assert [f.agent or "" for f in finishes_of(process, substrate)] == [
        line.value for section in sheet.sections if section.title == "Finish" for line in section.lines if line.tick
    ]


@pytest.mark.parametrize("substrate", [s for s in SUBSTRATES.values() if not s.refused], ids=lambda s: s.key)
def test_a_coat_that_harms_the_piece_is_refused_wherever_it_is_asked_for(substrate):
    """All pieces, beams and coats, also where no process lists the coat: a maker's own coat may serve any."""
    for source in BeamSource:
        for process in processes_for(substrate, source):
            shelf = {key: replace(coat, serves=(process.key,)) for key, coat in COATS.items()}
            for coat in shelf.values():
                bad = (
                    substrate.key == "clear_acrylic"
                    and coat.is_put_on
                    and (coat.carrier in (Carrier.SOLVENT, Carrier.ALCOHOL) or coat.key == "marking_sheet")
                )
                bad |= substrate.key in ("painted_tile", "powder_coated_steel") and any(
                    word in coat.removal for word in ("acetone", "thinner", "solvent")
                )
                bad |= substrate.key == "painted_tile" and (
                    coat.carrier is Carrier.ALCOHOL or "alcohol" in coat.removal
                )
                works = source in coat.absorbs and not coat.does_not_work
                assert forbids(assess(substrate.key, source, process.key, coat.key, shelf)) is (bad or not works)
                offered = offers_for(need(substrate.key, process.key, source), shelf, {})
                assert not (bad and coat.label in {o.coat.label for o in offered})


def test_the_reason_stands_where_the_coat_is_chosen_and_before_the_beam():
    told = {r.label: r.reason for r in rejections_for(need("clear_acrylic", "back_engrave"), COATS)}
    (sprays,) = [label for label in told if "matt black spray" in label]
    assert "thinner" in told[sprays]
    assert "marking spray" in " ".join(told)
    gate = {
        i.code: i
        for i in safety_gate(
            make_machine(), usual_emission(BeamSource.BLUE), SUBSTRATES["aluminium"], COATS["resist_spray"]
        )
    }
    assert "boils over" in gate["never"].why
    assert "never" not in {
        i.code
        for i in safety_gate(
            make_machine(), usual_emission(BeamSource.BLUE), SUBSTRATES["brass"], COATS["resist_spray"]
        )
    }


def test_baths_by_metal():
    """Aluminium heats up and gives off hydrogen in all of ours, copper sulphate with salt too: it gets none."""
    baths = {
        key: {f.agent for f in finishes_of(_process("resist"), SUBSTRATES[key])}
        for key in ("brass", "mild_steel", "aluminium")
    }
    assert baths == {
        "brass": {Agent.FERRIC_CHLORIDE},
        "mild_steel": {Agent.FERRIC_CHLORIDE, Agent.COPPER_SULPHATE},
        "aluminium": set(),
    }
    for finish in finishes_of(_process("resist"), SUBSTRATES["mild_steel"]):
        assert "hazardous waste" in finish.caution


def test_what_comes_after_the_last_look():
    """Common practice, no source: reveals take a clear coat of water, fused marks none; glass dust is sharp."""
    by_process = {
        key: finishes_of(_process(key), SUBSTRATES[piece])
        for key, piece in (
            ("reveal", "painted_tile"),
            ("fuse", "white_glazed_tile"),
            ("frost", "soda_lime_glass"),
            ("back_engrave", "clear_acrylic"),
            ("ablate", "powder_coated_steel"),
            ("protect", "clear_acrylic"),
        )
    }
    agents = {key: {f.agent for f in found if f.agent} for key, found in by_process.items()}
    assert agents["reveal"] == {Agent.WATER_CLEAR}
    assert agents["ablate"] == {Agent.FILL}
    assert agents["fuse"] == agents["frost"] == agents["back_engrave"] == agents["protect"] == set()
    assert "sharp" in by_process["frost"][0].caution
    assert [f.label for f in by_process["fuse"]] == ["No clear coat", "Pads"]
    assert by_process["reveal"][0].minutes == (480, 1440)
    for found in by_process.values():
        assert all(0 <= f.minutes[0] <= f.minutes[1] for f in found)


def _process(key):
    return next(p for s in SUBSTRATES.values() for b in BeamSource for p in processes_for(s, b) if p.key == key)


@pytest.mark.parametrize(
    ("words", "agents"),
    [
        ("lacquer thinner or acetone", {Agent.ACETONE, Agent.THINNER}),
        ("warm water, never acetone", set()),
        ("solvent", {Agent.THINNER}),
        ("91 % isopropanol", {Agent.ALCOHOL}),
        ("steel wool, then Meths", {Agent.STEEL_WOOL, Agent.ALCOHOL}),
        ("water, sponge", set()),
    ],
)
def test_agents_in_a_makers_words(words, agents):
    assert set(agents_named(words)) == agents


def test_every_clash_names_a_known_piece_and_a_reason():
    for clash in CLASHES:
        hit = [s for s in SUBSTRATES.values() if clash_of(s, clash.agent) is clash]
        assert hit, clash
        assert clash.reason.endswith(".")
    assert not any(
        coat_clash(SUBSTRATES["clear_acrylic"], c) for c in coats_that_help(_process("back_engrave"), BeamSource.BLUE)
    )


def test_every_piece_asks_for_what_it_may_hide_where_it_is_chosen_and_before_the_beam():
    """The same hazards at Piece and at the gate; a beam that a piece stops does not come back from foil."""
    for substrate in (s for s in SUBSTRATES.values() if not s.refused):
        for source in BeamSource:
            hazards = {h.code for h in hazards_of(substrate, source)}
            told = {f.code for f in assess(substrate.key, source) if f.severity == "note"}
            gate = safety_gate(make_machine(source=source), usual_emission(source), substrate, COATS["tempera_brushed"])
            assert hazards == told
            assert hazards <= {item.code for item in gate}
    assert {h.code for h in HAZARDS} == {
        "glass-toughened", "glass-lead", "glaze-metals", "zinc-fume", "foil-reflects"
    }  # fmt: skip
    assert "foil-reflects" not in {h.code for h in hazards_of(SUBSTRATES["clear_acrylic"], BeamSource.CO2)}


def test_coats_named_as_help_may_be_used_themselves():
    """An own coat with alcohol in it was refused for acrylic, and named as what helps in the same breath."""
    rubbed = replace(
        COATS["tempera_brushed"], key="own-1", label="Rubbed black", carrier=Carrier.ALCOHOL, serves=tuple(PROCESSES)
    )
    shelf = dict(COATS) | {rubbed.key: rubbed}
    seen = 0
    for substrate in SUBSTRATES.values():
        for source in BeamSource:
            for process in processes_for(substrate, source):
                said = {key: assess(substrate.key, source, process.key, key, shelf) for key in shelf}
                for finding in (f for found in said.values() for f in found if f.fix.startswith("Coats that help: ")):
                    for label in (c.label for c in shelf.values() if c.label in finding.fix):
                        key = next(k for k, c in shelf.items() if c.label == label)
                        assert not any(f.code is FindingCode.COAT_UNSUITED for f in said[key]), (substrate.key, label)
                        seen += 1
    assert seen > 50
