"""Pieces against shapely, catalogues whole and sourced, what works and what is refused."""

import math
import re
from datetime import UTC, datetime
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Point, box

from keencoat.core.coat.catalogue import COATS
from keencoat.core.coat.compatibility import assess, coats_that_help, processes_for
from keencoat.core.errors import BadValueError
from keencoat.core.findings import Severity, forbids
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities.setting import BeamSource
from keencoat.core.safety.eyewear import (
    Emission,
    Pulsing,
    checked_emission,
    least_optical_density,
    usual_emission,
)
from keencoat.core.sources import SOURCES
from keencoat.core.substrate.materials import SUBSTRATES, find_substrate
from keencoat.core.substrate.processes import DEFECTS, PROCESSES, find_process
from keencoat.core.window.priors import PRIORS
from tests.core.catalogue_page import PAGE, catalogue_page

BLUE, CO2 = BeamSource.BLUE, BeamSource.CO2
NOON = datetime(2026, 5, 4, 12, tzinfo=UTC)


@given(width=st.floats(10, 500), height=st.floats(10, 500), margin=st.integers(1, 40).map(lambda tenths: tenths / 10))
def test_areas_against_shapely_and_closed_form(width, height, margin):
    plate = FlatPiece(Shape.RECTANGLE, width, height, 3, margin)
    expected = box(0, 0, width, height).buffer(-margin).area / 100
    assert plate.coated_cm2 == pytest.approx(expected)
    disc = FlatPiece(Shape.DISC, width, width, 3, margin)
    assert disc.coated_cm2 == pytest.approx(math.pi * (width / 2 - margin) ** 2 / 100, rel=1e-3)
    assert disc.outline.area == pytest.approx(Point(0, 0).buffer(width / 2, quad_segs=64).area, rel=1e-9)


@pytest.mark.parametrize(
    ("changes", "field"),
    [({"width_mm": 0}, "width_mm"), ({"height_mm": -5}, "height_mm"), ({"width_mm": math.nan}, "width_mm"),
     ({"margin_mm": 40}, "margin_mm"), ({"thickness_mm": math.inf}, "thickness_mm")],
)  # fmt: skip
def test_bad_pieces_name_the_field(changes, field):
    values = {"shape": Shape.RECTANGLE, "width_mm": 100, "height_mm": 80, "thickness_mm": 4} | changes
    with pytest.raises(BadValueError) as caught:
        FlatPiece(**values)
    assert caught.value.field == field


@pytest.mark.parametrize("substrate", ["soda_lime_glass", "clear_acrylic", "white_glazed_tile"])
def test_blue_light_needs_a_coat(substrate):
    (finding,) = [f for f in assess(substrate, BLUE) if f.severity != "note"]
    assert finding.code == "needs-coat"
    kept = finding.figures["kept_pct"]
    assert f"about {100 - kept:.0f}\N{NO-BREAK SPACE}% of it does no work" in finding.message
    assert finding.figures["kept_pct"] < 25


def test_co2_marks_bare_glass():
    assert {f.code for f in assess("soda_lime_glass", CO2)} == {"glass-toughened", "glass-lead"}


@pytest.mark.parametrize("key", [k for k, s in SUBSTRATES.items() if s.refused])
def test_refused_materials_stop_with_a_reason(key):
    (finding,) = assess(key, CO2, "frost", "tempera_brushed")
    assert finding.severity is Severity.STOP
    assert len(finding.message) > 40
    assert processes_for(find_substrate(key), CO2) == []


@pytest.mark.parametrize(
    ("choice", "code"),
    [
        (("soda_lime_glass", BLUE, "fuse", ""), "process-substrate"),
        (("clear_acrylic", CO2, "back_engrave", ""), "process-beam"),
        (("soda_lime_glass", BLUE, "frost", "layout_dye_blue"), "coat-unsuited"),
        (("soda_lime_glass", BLUE, "frost", "masking_tape"), "coat-unsuited"),
        (("soda_lime_glass", BLUE, "frost", "dish_soap"), "coat-unsuited"),
        (("white_glazed_tile", BLUE, "fuse", "tempera_brushed"), "coat-unsuited"),
    ],
)
def test_what_does_not_work_is_stopped(choice, code):
    findings = assess(*choice)
    assert forbids(findings)
    assert code in {f.code for f in findings}


def test_every_offered_combination_passes_and_has_a_prior():
    for substrate in SUBSTRATES.values():
        for source in BeamSource:
            for process in processes_for(substrate, source):
                assert (process.key, source) in PRIORS
                for coat in coats_that_help(process, source):
                    found = assess(substrate.key, source, process.key, coat.key)
                    assert not forbids(found), (substrate.key, process.key, coat.key)


def test_catalogues_hang_together_and_cite():
    for process in PROCESSES.values():
        assert set(process.coats) <= set(COATS)
        assert set(process.substrates) <= set(SUBSTRATES)
        assert set(process.defects) <= set(DEFECTS)
        assert find_process(process.key).interval_mm.source in SOURCES


ROOT = Path(__file__).parents[2]
STANDARD = re.compile(r"\b((?:ISO|IEC|ASTM|CIE)(?:/IEC)? [A-Z]?\d{3,}(?:-\d+)*|RS274)")
AUTHOR_YEAR = re.compile(
    r"\b([A-Z][A-Za-zéöå]+)((?:, [A-Z][a-zé]+)*(?:,? & [A-Z][A-Za-zé]+)?),? \(?((?:18|19|20)\d\d)\b"
)


def cited_in_words(text):
    """What prose cites: standards by number, papers and books by the last names before a year."""
    text = re.sub(r"\n\s*", " ", text)
    found = {("standard", re.sub("/IEC", "", number)) for number in STANDARD.findall(text)}
    for first, more, year in AUTHOR_YEAR.findall(text):
        found.add((frozenset({first, *re.findall(r"[A-Z][A-Za-zé]+", more)}), year))
    return found


def test_every_source_that_is_cited_stands_in_the_bib_and_the_other_way_round():
    bib = (ROOT / "docs/sources.bib").read_text()
    entries = {m[1]: m[2] for m in re.finditer(r"@\w+\{([\w-]+),\n(.*?)\n\}", bib, re.S)}
    assert set(entries) == set(SOURCES)
    files = [*(ROOT / "src").rglob("*.py"), *(ROOT / "docs").glob("*.md")]
    texts = {f: f.read_text() for f in files if f.name not in ("sources.py",)}
    known, used, undated = {}, set(), {}
    for key, body in entries.items():
        for number in STANDARD.findall(body):
            known[("standard", re.sub("/IEC", "", number))] = key
        year, names = re.search(r"year = \{(\d+)\}", body), re.search(r"author = \{(.*)\}", body)
        if year and names:
            surnames = {n.split(",")[0].split()[-1].strip("{}") for n in names[1].split(" and ")}
            known |= {(name, year[1]): key for name in surnames}
        elif not year and (name := re.search(r"(?:author|title) = \{([A-Z][a-z]+)", body)):
            undated[key] = name[1]
    for path, text in texts.items():
        used |= {key for key in entries if f'"{key}"' in text}
        for what, figure in cited_in_words(text):
            hits = {known.get((n, figure)) for n in ([what] if isinstance(what, str) else what)} - {None}
            assert hits, f"{path.name} cites {what} {figure}, which docs/sources.bib does not hold"
            used |= hits
        used |= {key for key, name in undated.items() if re.search(rf"\b{name}\b", text)}
    assert set(entries) - used == set()


def test_optical_density_of_eyewear():
    """IEC 60825-1:2014, ten seconds (from memory): 5 W 450 nm → 4.11; 20 W 1064 nm → 4.02; 60 W CO₂ → 3.80."""
    steady = Emission(Pulsing.CONTINUOUS)
    assert least_optical_density(BLUE, 5, steady) == pytest.approx(4.114, abs=0.002)
    assert least_optical_density(BeamSource.NEAR_INFRARED, 20, steady) == pytest.approx(4.02, abs=0.005)
    assert least_optical_density(CO2, 60, steady) == pytest.approx(3.80, abs=0.01)
    assert least_optical_density(CO2, 60, usual_emission(BeamSource.NEAR_INFRARED)) is None
    pulses = Emission(Pulsing.PULSED, 10, 0.1)
    assert least_optical_density(CO2, 1, pulses) == pytest.approx(2.105, abs=0.005)
    assert least_optical_density(BLUE, 1, pulses) == pytest.approx(5.512, abs=0.005)
    with pytest.raises(BadValueError):
        least_optical_density(BLUE, 0, steady)


@pytest.mark.parametrize(
    ("values", "field"),
    [((None, 20), "pulse_mj"), ((1, None), "pulse_rate_khz"), ((0, 20), "pulse_mj"), ((1, math.nan), "pulse_rate_khz")],
)
def test_half_told_pulses_are_refused(values, field):
    with pytest.raises(BadValueError) as caught:
        Emission(Pulsing.PULSED, *values)
    assert caught.value.field == field


def test_pulses_that_make_more_than_the_machine_has_are_refused():
    assert checked_emission(Emission(Pulsing.PULSED, 1, 20), 20)
    with pytest.raises(BadValueError, match=r"30\.2 W"):
        checked_emission(Emission(Pulsing.PULSED, 1.51, 20), 20)


def test_every_figure_of_the_catalogue_is_the_one_that_the_page_shows():
    assert PAGE.read_text() == catalogue_page(), "write it anew: python -m tests.core.catalogue_page"
