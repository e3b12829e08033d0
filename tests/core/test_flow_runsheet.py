"""The next step over a whole job, and run sheets for everything that can be made."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from HersheyFonts import HersheyFonts
from shapely import MultiLineString

from keencoat.core.coat.catalogue import COATS
from keencoat.core.coat.compatibility import coats_that_help, processes_for
from keencoat.core.coat.drying import correct
from keencoat.core.coat.schedule import Course, Stamp, drying_at
from keencoat.core.coat.tools import TOOLS
from keencoat.core.errors import UnknownNameError
from keencoat.core.flow import JobFacts, NextStep, StepCode, next_step, urgency
from keencoat.core.piece.flat import Shape
from keencoat.core.piece.round import make_piece
from keencoat.core.quantities.estimate import Range
from keencoat.core.quantities.setting import Art, BeamSource, Setting
from keencoat.core.runsheet import LockedForArt, RunFacts, build_run_sheet, minutes
from keencoat.core.safety.eyewear import usual_emission
from keencoat.core.states import GridState
from keencoat.core.substrate.materials import SUBSTRATES
from keencoat.core.toolpath.letters import text_strokes, text_width_mm
from tests.core.conftest import make_machine

NOON = datetime(2026, 5, 4, 12, tzinfo=UTC)
BRUSHED = COATS["tempera_brushed"]
COURSE = Course(BRUSHED, 2, 20.0, (), correct([]))


def facts(stamps=(), at=NOON, **changes):
    put_on = [Stamp(number, 1, 10, when) for number, when in enumerate(stamps, 1)]
    start = JobFacts(
        coat_label=BRUSHED.label,
        coat_is_put_on=True,
        drying=drying_at(COURSE, 10, put_on, at),
        grid=None,
        grid_label="G-01",
        cells=12,
        cells_rated=0,
        locked_version=0,
        newer_grid=False,
        pieces=8,
    )
    return replace(start, **changes)


FIRST, SECOND = NOON - timedelta(hours=3), NOON - timedelta(hours=2)


@pytest.mark.parametrize(
    ("job", "code", "chapter"),
    [
        (facts(), StepCode.COAT, "coat"),
        (facts([NOON]), StepCode.WAIT_DRY, "coat"),
        (facts([FIRST]), StepCode.COAT, "coat"),
        (facts([FIRST, NOON]), StepCode.DRAW_GRID, "grid"),
        (facts([FIRST, NOON], grid=GridState.DRAWN), StepCode.WAIT_DRY, "coat"),
        (facts([FIRST, SECOND], grid=GridState.DRAWN), StepCode.BURN_GRID, "grid"),
        (facts(coat_is_put_on=False), StepCode.DRAW_GRID, "grid"),
        (facts(coat_is_put_on=False, grid=GridState.DRAWN), StepCode.BURN_GRID, "grid"),
        (facts([FIRST, SECOND], grid=GridState.BURNED, cells_rated=5), StepCode.RATE, "reading"),
        (facts([FIRST, SECOND], grid=GridState.RATED, cells_rated=12), StepCode.CHOOSE, "window"),
        (facts([FIRST, SECOND], grid=GridState.RATED, cells_rated=12, is_arm=True), StepCode.COMPARE, "reading"),
        (facts([FIRST, SECOND], grid=GridState.RATED, locked_version=1), StepCode.RUN, "run"),
        (facts([FIRST, SECOND], grid=GridState.BURNED, locked_version=1, newer_grid=True), StepCode.RATE, "reading"),
    ],
)
def test_each_state_has_its_one_next_step(job, code, chapter):
    step = next_step(job)
    assert (step.code, step.chapter) == (code, chapter)
    assert (step.due_at is not None) == (code is StepCode.WAIT_DRY)


def test_waiting_names_the_time_of_the_last_coat():
    step = next_step(facts([NOON]))
    assert isinstance(step, NextStep)
    assert step.due_at == NOON + timedelta(minutes=20)


def test_part_of_a_batch_can_be_coated_and_burned():
    """Spares that are dry may carry the grid while the others still wait; the step names the pieces."""
    stamps = [Stamp(1, 1, 8, NOON), Stamp(1, 9, 10, FIRST), Stamp(2, 9, 10, SECOND)]
    drying = drying_at(COURSE, 10, stamps, NOON + timedelta(minutes=5))
    waiting = next_step(replace(facts(), drying=drying))
    assert (waiting.code, drying.burnable_pieces) == (StepCode.WAIT_DRY, 2)
    later = drying_at(COURSE, 10, stamps, NOON + timedelta(minutes=21))
    assert "pieces 1 to 8" in next_step(replace(facts(), drying=later)).detail


def test_hands_come_before_waiting():
    assert sorted(StepCode, key=urgency)[0] is StepCode.COAT
    assert urgency(StepCode.RATE) < urgency(StepCode.WAIT_DRY) < urgency(StepCode.RUN)


CHOICES = [
    (substrate, source, process, coat)
    for substrate in SUBSTRATES.values()
    for source in BeamSource
    for process in processes_for(substrate, source)
    for coat in coats_that_help(process, source)
]


def run_facts(substrate, source, process, coat, shape=Shape.RECTANGLE):
    return RunFacts(
        job="Seed drawer fronts",
        piece=make_piece(shape, 80, 80, 3, 3, 60),
        pieces=8,
        substrate=substrate,
        process=process,
        machine_name="Blue twelve",
        machine=make_machine(source=source),
        emission=usual_emission(source),
        course=replace(COURSE, coat=coat),
        tool=TOOLS[coat.tools[0]],
        lot="1a",
        settings=(LockedForArt(Art.FILLS, Setting(50, 100, 0.1, 2), Range(0.85, 0.95, 0.99)),),
        evidence="12 cells",
        speed_unit="mm_min",
        interval_unit="dpi",
    )


@pytest.mark.parametrize("shape", Shape)
def test_every_combination_has_a_whole_run_sheet(shape):
    for substrate, source, process, coat in CHOICES:
        sheet = build_run_sheet(run_facts(substrate, source, process, coat, shape))
        lines = {line.label: line for section in sheet.sections for line in section.lines}
        assert lines["Speed"].value == "6000 mm/min"
        assert lines["Speed"].detail == "100 mm/s"
        assert lines["Lines"].value == "254 dpi"
        assert "range 85 to 99" in lines["Clean, expected"].detail
        wavelength = f"{source.wavelength_nm:,.0f}".replace(",", " ")
        assert any(f"Eyewear for {wavelength} nm" in label for label in lines)
        assert "Extraction is running" in lines
        assert ("Coat 2" in lines) == coat.is_put_on
        assert ("Mirror the artwork" in lines) == (process.mirrored or coat.key == "black_card")
        assert "licensed practice" in sheet.deference


def test_cautions_of_a_coat_reach_the_sheet():
    assert any("vapour" in caution for caution in COATS["tio2_alcohol"].cautions)
    assert {c.key for c in COATS.values() if c.carrier == "solvent"} <= {c.key for c in COATS.values() if c.cautions}


def test_minutes_as_people_say_them():
    assert [minutes(35), minutes(120), minutes(1440)] == ["35 min", "2 h", "24 h"]


@pytest.mark.parametrize("text", ["P16", "H3", "A", "B12"])
def test_codes_are_the_fonts_own_within_a_seventh_of_a_millimetre(text):
    """Against every line of the font as the package gives it, scaled by hand: 21 units are a capital's height."""
    font = HersheyFonts()
    font.load_default_font("futural")
    lines = [((x0, y0), (x1, y1)) for (x0, y0), (x1, y1) in font.lines_for_text(text)]
    left = min(x for line in lines for x, _ in line)
    theirs = MultiLineString([[(10 + (x - left) / 7, 20 + (9 - y) / 7) for x, y in line] for line in lines])
    ours = MultiLineString(text_strokes(text, 10, 20, 3))
    assert ours.hausdorff_distance(theirs) <= 1 / 7 + 1e-9
    assert ours.bounds == pytest.approx((10, 20, 10 + text_width_mm(text, 3), 23), abs=1 / 7)
    assert ours.bounds[0] == pytest.approx(10)
    with pytest.raises(UnknownNameError):
        text_strokes("Ω", 0, 0, 3)
