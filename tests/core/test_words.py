"""Everything that makers are told, for every substrate, coat, process, tool and cause: no sentence names what must not
touch the piece. Sentences are made from data; this reads them as a person would, by the names of things in them."""

import itertools
from dataclasses import replace

import pytest

from keencoat.core.coat import COATS, cleaning_of, finishes_of
from keencoat.core.coat.agents import Agent, agents_named
from keencoat.core.coat.drying import Heat
from keencoat.core.coat.incompatible import CLASHES, Cleaning, agents_of, clash_of, coat_clash, may_meet
from keencoat.core.coat.ingredients import INGREDIENTS, agents_of_part
from keencoat.core.coat.offers import may_be_heated
from keencoat.core.coat.own import OwnRecipe, coat_from_recipe
from keencoat.core.coat.recipes import Carrier, MixPart
from keencoat.core.coat.tools import TOOLS
from keencoat.core.coat.uses import Use
from keencoat.core.coat.vapour import coat_cautions
from keencoat.core.inspect import CAUSES, Case
from keencoat.core.inspect.causes.cause import Shift
from keencoat.core.quantities import BeamSource
from keencoat.core.runsheet import build_run_sheet
from keencoat.core.substrate import PROCESSES, SUBSTRATES, find_process, hazards_of
from tests.core.conftest import make_machine
from tests.core.test_flow_runsheet import CHOICES, run_facts
from tests.core.test_inspect import burned

ROADS = [
    (process, SUBSTRATES[on], coat)
    for process in PROCESSES.values()
    for on in process.substrates
    for coat in COATS.values()
    if coat_clash(SUBSTRATES[on], coat) is None
]
BURNED = {key: burned(key) for key in PROCESSES}


def remedies(process, substrate, coat):
    """What every cause says that can be one here."""
    case = Case(replace(BURNED[process.key], substrate=substrate, coat=coat), None, {})
    for cause in CAUSES.values():
        if cause.can_be(case) and cause.shift is None:
            told = cause.remedy(case, Shift())
            yield f"{cause.key}: {told.words}"
            yield f"{cause.key}, or else: {told.or_else}"


def sentences(process, substrate, coat):
    """Everything that is said of this road."""
    yield f"cleaning: {cleaning_of(substrate).text}"
    yield f"judging: {process.judge}"
    yield f"removal: {coat.removal}"
    for finish in finishes_of(process, substrate):
        yield f"{finish.label}: {finish.agent or ''} {finish.text}"
    for tool in coat.tools:
        for caution in coat_cautions(coat, TOOLS[tool], substrate):
            if caution.step == "dry":  # the others warn of what is in the coat
                yield f"wet {caution.code}: {caution.text}"
    yield from remedies(process, substrate, coat)


def contradictions():
    found = []
    for process, substrate, coat in ROADS:
        for said in sentences(process, substrate, coat):
            where, _, words = said.partition(": ")
            wet = coat if where.startswith(("coat_wet", "wet ")) else None
            found += [
                (substrate.key, coat.key, where, agent)
                for agent in agents_named(words)
                if not may_meet(agent, substrate, wet)
            ]
    return found


def test_no_sentence_names_what_must_not_touch_the_piece():
    assert contradictions() == []
    assert len(ROADS) > 100
    assert {substrate.key for _, substrate, _ in ROADS} == {on for p in PROCESSES.values() for on in p.substrates}


@pytest.mark.parametrize(
    ("key", "broken"),
    [("clear_acrylic", "Wipe with isopropyl alcohol."), ("painted_tile", "Wipe it with nail polish remover.")],
)
def test_a_sentence_that_contradicts_is_found(key, broken, monkeypatch):
    """Broken on purpose: the walk must fail where a text forgets the table."""
    monkeypatch.setattr(f"{__name__}.cleaning_of", lambda on: Cleaning(broken if on.key == key else "", ()))
    assert {on for on, *_ in contradictions()} == {key}


def test_agents_of_data_and_words_are_the_same():
    """Cleanings and finishes carry their agents: what their words name is among them."""
    for substrate in SUBSTRATES.values():
        if substrate.refused:
            continue
        cleaning = cleaning_of(substrate)
        assert set(agents_named(cleaning.text)) <= set(cleaning.agents), substrate.key
        assert all(may_meet(agent, substrate) for agent in cleaning.agents), substrate.key


def test_glue_comes_off_acrylic_with_soap_and_off_brass_with_alcohol():
    acrylic, brass = SUBSTRATES["clear_acrylic"], SUBSTRATES["brass"]
    said = {
        s.key: [*remedies(find_process(p), s, COATS["tempera_thin"])]
        for s, p in ((acrylic, "back_engrave"), (brass, "resist"))
    }
    assert any("glue off with mild soap" in words for words in said["clear_acrylic"])
    assert any("glue off with alcohol" in words for words in said["brass"])


def test_wet_coats_are_warmed_only_where_their_vapour_does_not_burn():
    for coat, tool in itertools.product(COATS.values(), TOOLS.values()):
        flammable = coat.carrier in (Carrier.ALCOHOL, Carrier.SOLVENT)
        assert not (flammable and set(may_be_heated(coat, tool)) - {Heat.NONE})
    assert Heat.HAIRDRYER in may_be_heated(COATS["tempera_brushed"], TOOLS["foam_brush"])


def test_white_layers_are_not_blamed_where_white_is_what_takes_the_beam():
    tile = SUBSTRATES["white_glazed_tile"]
    words = " ".join(remedies(find_process("fuse"), tile, COATS["tio2_glue"]))
    assert "white, glossy" not in words
    assert "titanium dioxide takes the beam" in words


def own(parts, carrier=Carrier.WATER, removal="water"):
    made = OwnRecipe(
        "own", tuple(MixPart(name, 1) for name in parts), carrier, ("foam_brush",), 2, True, 20, 40, 20, 30, removal,
        (BeamSource.BLUE,), ("back_engrave",),
    )  # fmt: skip
    return coat_from_recipe(made, "own-1")


STRONG = dict.fromkeys(
    ("91 % isopropanol", "isopropyl", "IPA 99", "Rubbing alcohol", "methylated spirits", "surgical spirit"),
    Agent.ALCOHOL,
) | dict.fromkeys(("nail polish remover", "MEK"), Agent.ACETONE)
STRONG |= dict.fromkeys(
    ("petrol", "white spirit", "paint thinner", "lacquer thinner", "turps", "toluene", "thinner"), Agent.THINNER
)


@pytest.mark.parametrize("carrier", Carrier)
@pytest.mark.parametrize("part", [*STRONG, *(key for key in INGREDIENTS if agents_of_part(key))])
def test_an_own_coat_is_judged_by_what_is_in_it(part, carrier):
    coat = own(["tempera", part], carrier)
    agents = set(agents_of_part(part))
    assert agents >= {STRONG[part]} if part in STRONG else agents
    assert agents <= set(agents_of(coat))
    acrylic = SUBSTRATES["clear_acrylic"]
    assert coat_clash(acrylic, coat) is not None
    if agents - {Agent.ADHESIVE}:
        assert coat.carrier in (Carrier.ALCOHOL, Carrier.SOLVENT)
        assert may_be_heated(coat, TOOLS["foam_brush"]) == [Heat.NONE]
        assert {c.code for c in coat_cautions(coat, TOOLS["foam_brush"], acrylic)} & {"vapour", "fire"}


def test_mild_mixes_of_ones_own_may_go_on_acrylic():
    for parts in (["tempera", "water"], ["soap"], ["poster paint", "water"], ["chalk"]):
        assert coat_clash(SUBSTRATES["clear_acrylic"], own(parts)) is None
        assert own(parts).carrier is Carrier.WATER


def test_the_catalogue_says_of_its_coats_what_is_in_them():
    """Carrier as declared and carrier by parts are one, so that no coat of ours passes for milder than it is."""
    for coat in COATS.values():
        brought = {a for part in coat.parts for a in agents_of_part(part.ingredient)}
        if Agent.SOLVENT_PAINT in brought:
            assert coat.carrier is Carrier.SOLVENT, coat.key
        if Agent.ALCOHOL in brought:
            assert coat.carrier is Carrier.ALCOHOL, coat.key


def test_a_use_falls_back_to_the_mildest_that_may_touch():
    use = Use("wipe with {agent}", (Agent.ACETONE, Agent.ALCOHOL), "leave it")
    for substrate in SUBSTRATES.values():
        said = use.said(substrate, None)
        assert not any(clash_of(substrate, agent) for agent in agents_named(said))
    assert use.said(SUBSTRATES["clear_acrylic"], None) == "leave it"
    assert {c.agent for c in CLASHES} & {Agent.COPPER_SULPHATE}


@pytest.mark.parametrize("source", BeamSource)
def test_foil_is_laid_only_where_the_beam_does_not_come_back_from_it(source):
    """The run sheet, why and the gate said three different things of foil under acrylic."""
    acrylic = SUBSTRATES["clear_acrylic"]
    forbidden = "foil-reflects" in {hazard.code for hazard in hazards_of(acrylic, source)}
    at = replace(BURNED["protect"], substrate=acrylic, machine=make_machine(source=source))
    told = CAUSES["foil_under"].remedy(Case(at, None, {}), Shift()).words
    choice = next(c for c in CHOICES if c[0] is acrylic)
    facts = replace(run_facts(*choice), machine=make_machine(source=source))
    (placing,) = [s.lines for s in build_run_sheet(facts).sections if s.title == "Placing and focus"]
    assert ("smooth foil" in told) is not forbidden
    assert any(line.label == "Foil under the sheet" for line in placing) is not forbidden
    assert forbidden is (source is not BeamSource.CO2)
