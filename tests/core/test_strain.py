"""No program, whatever made it, asks a machine for what it does not do: the files are read back by a package
(gcodeparser), and each axis's feed is worked out anew from their words."""

import math
from dataclasses import replace

import numpy as np
import pytest
from gcodeparser import parse_gcode_lines
from hypothesis import given
from hypothesis import strategies as st
from shapely import box

from keencoat.core.errors import BadValueError
from keencoat.core.geometry import turn
from keencoat.core.jig.cut_sheet import CutSheet, sheet_gcode
from keencoat.core.placing.advice import strain_findings
from keencoat.core.placing.strips import Strip, StripProgram
from keencoat.core.placing.ticks import ticks_gcode
from keencoat.core.placing.turned import Turned, TurnedProgram
from keencoat.core.placing.turning import StandsInFor, TurningDevice, TurningKind
from keencoat.core.placing.wall import ArtOnWall, ArtWay, TaperedWall
from keencoat.core.quantities import Setting, areal_energy_j_mm2
from keencoat.core.toolpath import (
    DotRaster,
    Item,
    Part,
    Placed,
    Polylines,
    StrainError,
    strain_at,
    stripe_test,
    write_gcode,
)
from keencoat.core.toolpath.words import MAX_LINE, comments, plain
from tests.core.conftest import make_machine

MACHINE = make_machine(max_speed_mm_s=250, min_speed_mm_s=4, bed_x_mm=400, bed_y_mm=400, accel_mm_s2=3000)
FACE = (math.pi * 60, 100.0)
DOTS = np.ones((8, 6), dtype=bool)
ITEM = Item(Part.ARTWORK)


def dots(setting):
    return DotRaster(DOTS, 40, 40, 0.5, setting, MACHINE, ITEM)


def lines(setting):
    return Polylines((((5, 5), (30, 9), (12, 40)), ((8, 8), (8, 30))), setting, MACHINE, ITEM)


def turned(setting, device, what, above_mm):
    wall = TaperedWall(80, above_mm, 100)
    across = device.stands_in_for is StandsInFor.Y
    way = Turned(ArtOnWall(wall, ArtWay.LEVEL, 50), device, 80, FACE, across)
    return TurnedProgram(what(setting), way)


MAKERS = {
    "dots": lambda s, d, a: write_gcode(dots(s), MACHINE, "x"),
    "lines": lambda s, d, a: write_gcode(lines(s), MACHINE, "x"),
    "placed": lambda s, d, a: write_gcode(Placed(dots(s), turn(a)), MACHINE, "x"),
    "turned dots": lambda s, d, a: write_gcode(turned(s, d, dots, a), MACHINE, "x", turns=d.stands_in_for),
    "turned lines": lambda s, d, a: write_gcode(turned(s, d, lines, a), MACHINE, "x", turns=d.stands_in_for),
    "strip": lambda s, d, a: write_gcode(StripProgram(dots(s), Strip(30, 0, 30, FACE, False, 5)), MACHINE, "x"),
    "ticks": lambda s, d, a: ticks_gcode(d, MACHINE, 2, 80, (s.power_pct, s.speed_mm_s)),
    "stripes": lambda s, d, a: write_gcode(stripe_test(s, MACHINE), MACHINE, "x"),
    "sheet": lambda s, d, a: sheet_gcode(CutSheet(box(0, 0, 80, 60), (box(5, 5, 40, 30),), ()), MACHINE, s, s, "x"),
}
SETTINGS = st.builds(Setting, st.floats(10, 100), st.floats(4, 250), st.just(0.5))
DEVICES = st.builds(
    lambda kind, travel, axis: TurningDevice(kind, travel, axis, 40 if kind is TurningKind.ROLLERS else 0),
    st.sampled_from(TurningKind),
    st.floats(30, 500),
    st.sampled_from(StandsInFor),
)


@pytest.mark.parametrize("maker", MAKERS)
@given(setting=SETTINGS, device=DEVICES, above_mm=st.floats(40, 100))
def test_no_file_asks_for_more_than_the_machine_does(maker, setting, device, above_mm):
    try:
        text = MAKERS[maker](setting, device, above_mm)
    except StrainError as told:
        same = told.fits is None or math.isclose(*(areal_energy_j_mm2(s, MACHINE) for s in (told.fits, setting)))
        if not same:
            raise
        return
    x = y = feed = 0.0
    for line in parse_gcode_lines(text):
        to_x, to_y = line.get_param("X", default=x), line.get_param("Y", default=y)
        feed = line.get_param("F", default=feed)
        assert 0 <= line.get_param("S", default=0) <= 1000
        long = math.hypot(to_x - x, to_y - y)
        if line.command == ("G", 1) and long > 0.05:
            for way in (to_x - x, to_y - y):
                assert feed / 60 * abs(way) / long <= 250.5
            assert feed / 60 >= 3.9
        x, y = to_x, to_y


@pytest.mark.parametrize(
    ("device", "asked"), [((TurningKind.CHUCK, 360, 0), 394), ((TurningKind.ROLLERS, 240, 40), 526)]
)
def test_the_setting_that_fits_is_named_and_does(device, asked):
    """Turns of 360 and 480 mm of axis for 251 mm of surface, by hand: 1.43 and 1.91 times its 275 mm/s."""
    kind, travel, roller = device
    on = TurningDevice(kind, travel, StandsInFor.X, roller)
    setting = Setting(60, asked * math.pi * 80 / on.turn_mm(80), 0.5)
    fast = replace(MACHINE, max_speed_mm_s=800)
    program = TurnedProgram(
        DotRaster(DOTS, 40, 40, 0.5, setting, fast, ITEM),
        Turned(ArtOnWall(TaperedWall(80, 80, 100), ArtWay.LEVEL, 50), on, 80, FACE, False),
    )
    assert write_gcode(program, fast, "x", turns="x")
    with pytest.raises(StrainError, match=f"{asked} mm/s; this machine goes up to 250") as told:
        write_gcode(program, MACHINE, "x", turns="x")
    fits = told.value.fits
    assert fits.speed_mm_s == pytest.approx(setting.speed_mm_s * 250 / asked, rel=0.01)
    assert fits.power_pct / fits.speed_mm_s == pytest.approx(setting.power_pct / setting.speed_mm_s)
    assert write_gcode(replace(program, program=replace(program.program, setting=fits)), MACHINE, "x", turns="x")


def test_the_page_says_what_a_slower_setting_does_to_the_clean_share():
    strain = strain_at(Setting(60, 200, 0.1), MACHINE, 1.5)
    (found,) = strain_findings(strain, (0.91, 0.84))
    assert (found.code, found.severity) == ("device-strained", "stop")
    assert "300 mm/s; this machine goes up to 250" in found.message
    assert "49.8 % at 166 mm/s" in found.fix
    assert "84 in 100 pieces clean, 91 at the locked setting" in found.fix
    hopeless = strain_at(Setting(2, 200, 0.1), MACHINE, 1.5)
    assert "suits this diameter" in strain_findings(hopeless, (0.9, 0.9))[0].fix
    assert strain_findings(strain_at(Setting(60, 100, 0.1), MACHINE, 1.5), (0.9, 0.9)) == []
    # A wall that widens by a hair must not be told that 100 % are too much.
    assert "100.4 % power" in strain_at(Setting(100, 100, 0.1), MACHINE, 1.0, 1.004).words


def test_what_is_larger_than_the_bed_or_slower_than_the_slowest_is_refused():
    wide = DotRaster(np.ones((2, 900), dtype=bool), 0, 0, 0.5, Setting(50, 100, 0.5), MACHINE, ITEM)
    with pytest.raises(BadValueError, match="along X; the bed has 400"):
        write_gcode(wide, MACHINE, "x")
    assert write_gcode(wide, MACHINE, "x", turns="x")
    with pytest.raises(StrainError, match="slowest is 4") as told:
        write_gcode(dots(Setting(50, 2, 0.5)), MACHINE, "x")
    assert (told.value.fits.speed_mm_s, told.value.fits.power_pct) == (4, 100)
    with pytest.raises(BadValueError, match="no number"):
        write_gcode(replace(dots(Setting(50, 50, 0.5)), left_mm=math.nan), MACHINE, "x")


@given(st.text(max_size=300))
def test_words_of_any_script_are_plain_in_a_file(text):
    for line in comments(text):
        assert len(line) <= MAX_LINE
        assert not set(line[1:-1]) & set("!~?;()$*\n\r\x18")
        assert line.isascii()


def test_every_character_of_unicode_becomes_harmless():
    for start in range(0, 0x110000, 4096):
        said = plain("".join(chr(code) for code in range(start, start + 4096) if not 0xD800 <= code < 0xE000))
        assert said.isascii()
        assert not set(said) & set("!~?;()$*<>{}\n\r\t\x18")


def test_a_file_with_any_title_is_read_as_comments_and_words():
    text = write_gcode(dots(Setting(50, 50, 0.5)), MACHINE, "Łabędź! ~?\n$H;M3 S1000 " + "über alles " * 20)
    assert all(len(line) <= MAX_LINE for line in text.splitlines())
    assert not any(mark in text for mark in "!~?$;")
    assert text.splitlines()[0].startswith("(Keen Coat: Labedz H,M3 S1000 uber alles")
