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
from keencoat.core.errors import BadValueError
from keencoat.core.findings import Severity, forbids
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities.setting import BeamSource
from keencoat.core.safety.eyewear import least_optical_density
from keencoat.core.sources import SOURCES
from keencoat.core.substrate.compatibility import assess, coats_that_help, processes_for
from keencoat.core.substrate.materials import SUBSTRATES, find_substrate
from keencoat.core.substrate.processes import DEFECTS, PROCESSES, find_process
from keencoat.core.window.priors import PRIORS

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
    (finding,) = assess(substrate, BLUE)
    assert finding.code == "needs-coat"
    assert finding.figures["kept_pct"] < 25


def test_co2_marks_bare_glass():
    assert assess("soda_lime_glass", CO2) == []


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
                    assert not forbids(assess(substrate.key, source, process.key, coat.key)) or (
                        coat.key == "marking_sheet"
                    ), (substrate.key, process.key, coat.key)


def test_catalogues_hang_together_and_cite():
    for process in PROCESSES.values():
        assert set(process.coats) <= set(COATS)
        assert set(process.substrates) <= set(SUBSTRATES)
        assert set(process.defects) <= set(DEFECTS)
        assert find_process(process.key).interval_mm.source in SOURCES
    bib = Path(__file__).parents[2].joinpath("docs/sources.bib").read_text()
    assert set(re.findall(r"@\w+\{([\w-]+),", bib)) == set(SOURCES)


def test_optical_density_of_eyewear():
    """IEC 60825-1:2014 limits (from memory): 10 W 450 nm → 4.01; 20 W 1064 nm → 4.02; 60 W CO₂ → 3.80."""
    assert least_optical_density(BLUE, 10) == pytest.approx(4.01, abs=0.005)
    assert least_optical_density(BeamSource.NEAR_INFRARED, 20) == pytest.approx(4.02, abs=0.005)
    assert least_optical_density(CO2, 60) == pytest.approx(3.80, abs=0.01)
    with pytest.raises(BadValueError):
        least_optical_density(BLUE, 0)
