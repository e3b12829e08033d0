"""Round pieces: measured, turned, levelled, and what a fixed head can mark. Against check values, numeric geodesics and
figures worked out by hand."""

import math
from dataclasses import replace

import numpy as np
import pytest
from gcodeparser import parse_gcode_lines
from hypothesis import assume, given
from hypothesis import strategies as st

from keencoat.core.errors import BadValueError
from keencoat.core.piece.flat import Shape
from keencoat.core.piece.girths import Girth, GirthTool, NarrowEnd, WallKind, read_wall
from keencoat.core.piece.round import make_piece
from keencoat.core.placing.advice import band_findings, level_findings, turn_findings, wall_findings
from keencoat.core.placing.beam import Beam
from keencoat.core.placing.level import levelling_of, squaring_of, supports_of
from keencoat.core.placing.spec import PlacingSpec, start_of_placing, told_wall
from keencoat.core.placing.ticks import ticks_gcode
from keencoat.core.placing.turning import (
    StandsInFor,
    TickPair,
    TurningDevice,
    TurningKind,
    calibrate,
    degrees_per_mm,
    mm_per_turn_of,
    of_seam,
)
from keencoat.core.placing.wall import ArtOnWall, ArtWay, TaperedWall, band_of, distortion_of
from tests.core.conftest import make_machine

TAPE, CALLIPER = GirthTool
CHUCK = TurningDevice(TurningKind.CHUCK, 120, StandsInFor.Y)
ROLLERS = TurningDevice(TurningKind.ROLLERS, 100, StandsInFor.Y, roller_mm=40)
TAPER = TaperedWall(80, 60, 100.499)


def tape(height_mm, round_mm):
    return Girth(height_mm, round_mm, TAPE)


def across(height_mm, figure_mm):
    return Girth(height_mm, figure_mm, CALLIPER)


def wall_of(*girths, length_mm=100, narrow=NarrowEnd.NEITHER, told_mm=70.0):
    return read_wall(girths, length_mm, narrow, told_mm)


def test_what_tape_and_calliper_say_of_a_wall():
    cylinder = wall_of(tape(50, 251.327), told_mm=80)
    assert (cylinder.kind, round(cylinder.a, 3), cylinder.findings) == (WallKind.CYLINDER, 80, ())
    cone = wall_of(across(10, 61), across(90, 69))
    assert (cone.kind, cone.off_mm) == (WallKind.CONE, pytest.approx((0, 0), abs=1e-9))
    assert (cone.diameter_mm(0), cone.diameter_mm(100), cone.widest_mm) == pytest.approx((60, 70, 70))
    assert cone.half_angle_deg(0, 100) == pytest.approx(math.degrees(math.atan(0.05)))
    barrel = wall_of(across(0, 60), across(50, 66), across(100, 60))
    assert barrel.kind is WallKind.BARREL
    assert barrel.widest_mm == pytest.approx(66)
    assert barrel.straight_mm(0.5) == pytest.approx(math.sqrt(8 * 0.5 / 0.0024))
    assert [f.code for f in barrel.findings] == ["wall-barrel"]
    assert (cylinder.straight_mm(0.5), cone.straight_mm(0.5)) == (100, 100)
    bulges_low = wall_of(across(0, 64), across(30, 66), across(100, 60))
    at = np.linspace(0, 100, 2001)
    assert bulges_low.widest_mm == pytest.approx(max(bulges_low.diameter_mm(h) for h in at), abs=1e-4)


def test_a_tape_that_is_two_millimetres_off_shows():
    straight = [tape(h, 250.0) for h in (0, 50, 100)]
    assert wall_of(*straight, told_mm=80).kind is WallKind.CYLINDER
    slipped = wall_of(straight[0], tape(50, 252), straight[2], told_mm=80)
    assert [f.code for f in slipped.findings] == ["wall-barrel"]
    # The middle lies 2 mm round above the line through both ends; the line of all three a third of that.
    assert slipped.findings[0].figures["bulge_mm"] * math.pi == pytest.approx(2 * 2 / 3)
    assert "1.3 mm round it" in slipped.findings[0].message
    assert wall_of(straight[0], tape(100, 252), told_mm=80).kind is WallKind.CONE
    assert wall_of(straight[0], tape(100, 251), told_mm=80).kind is WallKind.CYLINDER
    # Twice at one height, and a calliper beside: it is told which of them is off.
    odd = wall_of(tape(50, 250), across(50, 79.58), tape(51, 253), told_mm=80)
    assert [f.code for f in odd.findings] == ["girth-off"]
    assert odd.findings[0].figures["number"] == 2
    # Weighed by 1/sd², 39.5 for a tape and 100 for the calliper, they say Ø 79.789.
    assert odd.off_mm[2] == pytest.approx(253 - math.pi * 79.789, abs=5e-3)


@given(st.floats(30, 120), st.floats(-0.3, 0.3))
def test_walls_are_found_from_any_two_tools(a, b):
    assume(abs(b) > 0.01)
    true = {h: a + b * h for h in (0, 40, 100)}
    assume(min(true.values()) > 10)
    found = wall_of(across(0, true[0]), tape(40, math.pi * true[40]), across(100, true[100]), told_mm=a)
    assert (found.a, found.b, found.kind) == (pytest.approx(a), pytest.approx(b), WallKind.CONE)
    assert max(map(abs, found.off_mm)) < 1e-6


@pytest.mark.parametrize(
    ("girths", "more", "says"),
    [
        ([], {}, "Nothing is measured"),
        ([tape(120, 220)], {}, "the wall is 100 mm long"),
        ([tape(50, 220 / 25.4)], {}, "type 220.0 mm"),
        ([across(50, 70 / 25.4)], {}, "A 25th|a 25th"),
        ([across(0, 70), across(100, 60)], {"narrow": NarrowEnd.FOOT}, "10.0 mm wider than the top"),
        ([across(0, 60), across(100, 70)], {"narrow": NarrowEnd.TOP}, "10.0 mm wider than the foot"),
        ([tape(50, 220)], {"length_mm": math.nan}, "length_mm"),
    ],
)
def test_measurements_that_cannot_be(girths, more, says):
    with pytest.raises(BadValueError, match=says):
        wall_of(*girths, **more)


def test_a_wall_that_is_not_as_told_is_told():
    cone = wall_of(across(0, 60), across(100, 70))
    assert wall_findings(cone, (70, 60)) == []
    assert wall_findings(cone, (70.9, 60.8)) == []
    found = wall_findings(cone, (70, 62))
    assert [f.code for f in found] == ["not-as-told"]
    assert found[0].figures == {"wide_mm": pytest.approx(70), "narrow_mm": pytest.approx(60)}
    for bad in ((1, math.nan), (1e308, 10), (5, 0)):
        with pytest.raises(BadValueError):
            tape(*bad)


def test_what_turns_how_far():
    """A chuck's turn is a turn; on rollers of Ø 40 a piece of Ø 80 wants two turns of them, and its narrow end, Ø 60,
    runs three quarters as fast."""
    assert CHUCK.turn_mm(80) == 120
    assert CHUCK.axis_per_mm(80, 60) == pytest.approx(120 / (math.pi * 60))
    assert ROLLERS.turn_mm(80) == 200
    assert ROLLERS.axis_per_mm(80, 60) == pytest.approx(200 / (math.pi * 80) * 80 / 60)
    assert degrees_per_mm(80) * 251.3274 == pytest.approx(360, rel=1e-6)
    assert mm_per_turn_of(6400, 53.33) == pytest.approx(120.0075, abs=1e-4)
    for bad in ((0, 1), (1, 0), (math.nan, 1)):
        with pytest.raises(BadValueError):
            mm_per_turn_of(*bad)
    for roller_mm, mm_per_turn in ((1.9, 100), (501, 100), (40, 0.09), (40, 10_001), (40, math.nan)):
        with pytest.raises(BadValueError):
            TurningDevice(TurningKind.ROLLERS, mm_per_turn, StandsInFor.Y, roller_mm=roller_mm)
    for roller_mm, mm_per_turn in ((2, 10_000), (500, 0.1)):
        assert TurningDevice(TurningKind.ROLLERS, mm_per_turn, StandsInFor.Y, roller_mm=roller_mm).turn_mm(80) > 0
    with pytest.raises(BadValueError, match="roller_mm"):
        TurningDevice(TurningKind.ROLLERS, 100, StandsInFor.Y)


def test_a_device_is_calibrated_by_ticks_and_seams():
    """120 mm a turn were typed; a turn truly takes 126: half a turn of 250 mm asked comes out 119.05 mm long, and a
    whole one falls 11.9 mm short. True is 126 either way."""
    ticks, seam = TickPair(0.5, 119.0476, 250), of_seam(1, 250 - 238.0952, 250)
    for pairs in ([ticks], [seam], [ticks, seam]):
        found = calibrate(CHUCK, pairs)
        assert found.mm_per_turn.mid == pytest.approx(126, rel=1e-5)
        assert found.seam_gap_mm == pytest.approx(11.905, abs=1e-2)
        assert found.of(CHUCK).mm_per_turn == found.mm_per_turn.mid
    assert TickPair(1, 10, 10).round_mm == 10
    with pytest.raises(BadValueError, match="round_mm"):
        TickPair(1, 9.9, 9.9)
    # One pair's range is the tape's 0.3 mm over 250 mm of one turn, times 1.645.
    one = calibrate(CHUCK, [of_seam(1, 0, 250)]).mm_per_turn
    assert (one.high - one.low) / 2 / 120 == pytest.approx(1.6449 * 0.3 / 250, rel=1e-3)
    four = calibrate(CHUCK, [of_seam(4, 0, 250)]).mm_per_turn
    assert (one.high - one.low) / (four.high - four.low) == pytest.approx(4, rel=1e-2)
    overlap = calibrate(CHUCK, [of_seam(1, -2, 250)])
    assert overlap.mm_per_turn.mid < 120
    assert overlap.seam_gap_mm == pytest.approx(-2)
    # Pairs that disagree by more than a tape's doubt make the range wider.
    apart = calibrate(CHUCK, [of_seam(1, g, 250) for g in (-3, 0, 3)]).mm_per_turn
    assert apart.high - apart.low > 3 * (one.high - one.low)


def test_ticks_on_a_wider_piece_count_for_more_as_numpy_weighs_them():
    pairs = [TickPair(1, 101, 100), TickPair(2, 580, 300), TickPair(0.5, 262, 500)]
    # In millimetres on the wall all ticks are measured equally well.
    asked_mm = np.array([p.asked_turns * p.round_mm for p in pairs])
    (ratio,), *_ = np.linalg.lstsq(asked_mm[:, None], np.array([p.measured_mm for p in pairs]), rcond=None)
    assert calibrate(CHUCK, pairs).mm_per_turn.mid == pytest.approx(CHUCK.mm_per_turn / ratio, rel=1e-9)


def test_the_range_of_a_calibration_holds_the_truth_nine_times_in_ten():
    rng = np.random.default_rng(5)
    held = []
    for _ in range(1500):
        asked = rng.choice([0.5, 1, 3], rng.integers(1, 5))
        pairs = [TickPair(a, a / 1.04 * 250 + rng.normal(0, 0.3), 250) for a in asked]
        found = calibrate(CHUCK, pairs).mm_per_turn
        held.append(found.low <= 120 * 1.04 <= found.high)
    assert 0.87 < np.mean(held) < 0.97


@pytest.mark.parametrize(
    "make",
    [
        lambda: calibrate(CHUCK, []),
        lambda: TickPair(0.5, 300, 250),
        lambda: TickPair(0.5, 80, 250),
        lambda: TickPair(0.05, 10, 250),
        lambda: TickPair(0.5, math.nan, 250),
        lambda: of_seam(0, 1, 250),
        lambda: of_seam(1, 100, 250),
    ],
)
def test_ticks_that_cannot_be(make):
    with pytest.raises(BadValueError):
        make()


def test_a_taper_is_levelled_by_its_angle_in_a_chuck_and_by_twice_that_on_rollers():
    chuck, rollers = (levelling_of(kind, 5.7106, 150, 60) for kind in TurningKind)
    assert (chuck.angle_deg, rollers.angle_deg) == pytest.approx((5.7106, 11.4212))
    assert chuck.shim_mm == pytest.approx(15, abs=1e-3)
    assert chuck.level_mm_per_m == pytest.approx(100, abs=1e-2)
    assert chuck.rise_mm == pytest.approx(60 * math.sin(math.radians(5.7106)))
    beam = Beam(0.04, 1.4, False)
    assert [f.code for f in level_findings(chuck, beam)] == ["not-level"]
    # A rise of 0.6 mm is within twice 0.6415 mm, the depth of 1.4 mm·√0.21; one of 1.3 mm is not.
    assert level_findings(levelling_of(TurningKind.CHUCK, 0.573, 150, 60), beam) == []
    assert level_findings(levelling_of(TurningKind.CHUCK, 1.2, 150, 60), beam) == []
    steep = level_findings(levelling_of(TurningKind.CHUCK, 1.25, 150, 60), beam)[0]
    assert steep.figures == {"rise_mm": pytest.approx(1.309, abs=1e-3), "depth_mm": pytest.approx(1.2831, abs=1e-3)}
    assert "3.3 mm under its support, 1.2°" in steep.fix
    assert levelling_of(TurningKind.CHUCK, -5.7106, 150, 60) == chuck
    with pytest.raises(BadValueError):
        levelling_of(TurningKind.CHUCK, math.nan, 150, 60)


def test_an_axis_is_squared_from_the_pointer_at_both_ends():
    found = squaring_of(0.5, -1.5, 200, 120)
    assert (found.angle_deg, found.shift_mm, found.counterclockwise) == (
        pytest.approx(math.degrees(math.atan(0.01))),
        pytest.approx(1.2),
        True,
    )
    assert not squaring_of(-1.5, 0.5, 200, 120).counterclockwise
    for bad in ((0, 300, 200, 120), (0, 1, 5, 120), (0, math.inf, 200, 120)):
        with pytest.raises(BadValueError):
            squaring_of(*bad)
    assert [s.at_mm for s in supports_of(180, 80)] == [0, 40, 130]
    assert [s.at_mm for s in supports_of(120, 0)] == [0, 120]
    assert "stem" in supports_of(180, 80)[1].words
    for limit in ((0, 1, 10, 10), (-500, 500, 5000, 5000)):
        assert squaring_of(*limit).shift_mm > 0
    for beyond in ((0, 1, 9.9, 10), (0, 1, 10, 9.9), (0, 1, 5001, 10), (-501, 0, 5000, 10)):
        with pytest.raises(BadValueError):
            squaring_of(*beyond)
    with pytest.raises(BadValueError):
        supports_of(100, 95)


def test_the_ring_of_a_taper():
    """Ø 60 and 80, 100 high: slant 100.499, ring 35.8213°, radii 301.496 and 401.995."""
    assert TAPER.ring_deg == pytest.approx(35.8213, abs=1e-3)
    assert TAPER.height_mm == pytest.approx(100, abs=1e-3)
    above = ArtOnWall(TAPER, ArtWay.STRAIGHT, TAPER.slant_mm)
    below = ArtOnWall(TAPER, ArtWay.STRAIGHT, 0)
    assert (above.tip_mm, below.tip_mm) == pytest.approx((301.496, 401.995), abs=2e-3)
    assert TAPER.half_angle_deg == pytest.approx(-5.7106, abs=1e-3)
    with pytest.raises(BadValueError, match="longer than"):
        TaperedWall(80, 10, 30)


walls = st.builds(TaperedWall, st.floats(20, 120), st.floats(20, 120), st.floats(60, 200))
arts = st.builds(ArtOnWall, walls, st.sampled_from(ArtWay), st.floats(25, 35), st.floats(-90, 90))
places = st.tuples(st.floats(-20, 20), st.floats(-20, 20))


@given(arts, places)
def test_onto_the_wall_and_off_again(art, place):
    x, y = (np.array([v]) for v in place)
    back = art.off(*art.onto(x, y))
    assert (back[0][0], back[1][0]) == pytest.approx(place, abs=1e-6)


def in_space(wall, along_mm, turn_deg):
    """Points of the wall in space, mm."""
    radius, turn = wall.diameter_mm(along_mm) / 2, np.radians(turn_deg)
    return np.stack([radius * np.cos(turn), radius * np.sin(turn), along_mm * math.sqrt(1 - wall.sine**2)])


@given(arts, places, places)
def test_straight_art_is_bent_without_stretching(art, a, b):
    """A straight line of the drawing is as long on the wall, by the sum of 4000 chords in space; and no way between its
    ends on the wall is shorter: geodesics, numerically, by nudging its middle."""
    straight = replace(art, way=ArtWay.STRAIGHT)
    share = np.linspace(0, 1, 4001)
    x, y = (a[n] + share * (b[n] - a[n]) for n in (0, 1))
    flat = math.dist(a, b)
    assume(flat > 1)

    def length(x, y):
        return float(np.linalg.norm(np.diff(in_space(art.wall, *straight.onto(x, y))), axis=0).sum())

    assert length(x, y) == pytest.approx(flat, rel=1e-5)
    bump = 0.3 * np.sin(np.pi * share)
    assert length(x + bump, y - bump) >= flat * (1 - 1e-5)


@given(arts, st.floats(2, 40), st.floats(2, 20))
def test_level_art_keeps_its_heights_and_lines_level(art, width, height):
    level = replace(art, way=ArtWay.LEVEL)
    along, turn = level.onto(np.array([-width / 2, 0, width / 2]), np.full(3, height / 2))
    assert np.ptp(along) == 0
    assert along[0] - level.along_mm == pytest.approx(height / 2)
    spread = math.radians(turn[2] - turn[0]) * level.radius_mm
    assert spread == pytest.approx(width)
    found = distortion_of(level, width, height)
    low, high = sorted(level.wall.diameter_mm(level.along_mm + s * height / 2) for s in (-1, 1))
    assert (found.wider_pct, found.sag_mm, found.lean_deg) == (pytest.approx(100 * (high / low - 1)), 0, 0)


def test_straight_art_sags_towards_its_sides():
    """60 mm wide at Ø 70 on the taper of 5.71°: the tip is 351.7 mm away, the ends lie √(351.7² + 30²) − 351.7 = 1.277
    mm further from it: lower where the wall narrows upwards; and letters there lean by atan(30/351.7) = 4.875°."""
    art = ArtOnWall(TAPER, ArtWay.STRAIGHT, TAPER.slant_mm / 2)
    found = distortion_of(art, 60, 20)
    assert (found.wider_pct, found.sag_mm, found.lean_deg) == (
        0,
        pytest.approx(-1.277, abs=2e-3),
        pytest.approx(4.875, abs=5e-3),
    )
    aside = distortion_of(replace(art, turn_deg=40.0), 60, 20)
    assert (aside.lean_deg, aside.sag_mm) == pytest.approx((found.lean_deg, found.sag_mm))
    turned = distortion_of(replace(art, wall=TaperedWall(60, 80, 100.499)), 60, 20)
    assert turned.sag_mm == pytest.approx(1.277, abs=2e-3)
    flat = distortion_of(ArtOnWall(TaperedWall(70, 70, 100), ArtWay.STRAIGHT, 50), 60, 20)
    assert flat == distortion_of(ArtOnWall(TaperedWall(70, 70, 100), ArtWay.LEVEL, 50), 60, 20)


def test_a_wrapped_sheet_shows_level_art_as_arcs():
    level = ArtOnWall(TAPER, ArtWay.LEVEL, TAPER.slant_mm / 2)
    x, y = np.array([-30.0, 0, 30]), np.zeros(3)
    sheet = level.laid_flat(*level.onto(x, y))
    assert np.hypot(sheet[0], level.tip_mm - sheet[1]) == pytest.approx(np.full(3, level.tip_mm))
    assert sheet[1][0] == pytest.approx(level.tip_mm * (1 - math.cos(30 / level.tip_mm)))


def test_a_band_round_a_wall_and_its_seam():
    band = band_of(62.8318, 80, seam_deg=180, turn_deg=0)
    assert (band.degrees, band.to_seam_mm) == pytest.approx((90, 94.248), abs=1e-2)
    assert band_of(62.8318, 80, seam_deg=60).to_seam_mm == pytest.approx(10.472, abs=1e-2)
    assert band_of(62.8318, 80, seam_deg=200, turn_deg=20) == band
    assert band_of(62.8318, 80, seam_deg=-60) == band_of(62.8318, 80, seam_deg=300)
    assert band_findings(band) == []
    # The mark's side lies at 45°, 0.698 mm a degree: at 52.2° the seam is 5.03 mm away, at 52.1° 4.96.
    assert band_findings(band_of(62.8318, 80, seam_deg=52.2)) == []
    assert [f.code for f in band_findings(band_of(62.8318, 80, seam_deg=52.1))] == ["seam-in-mark"]
    near = band_findings(band_of(62.8318, 80, seam_deg=50))
    assert [(f.code, f.severity) for f in near] == [("seam-in-mark", "warn")]
    twice = band_findings(band_of(260, 80))
    assert [(f.code, f.severity) for f in twice] == [("seam-in-mark", "stop")]


def test_how_sure_a_turn_must_be():
    assert [(f.code, f.severity) for f in turn_findings(None, 250)] == [("turn-unsure", "warn")]
    rough = calibrate(CHUCK, [TickPair(0.5, 125, 250)])
    assert [(f.code, f.severity) for f in turn_findings(rough, 250)] == [("turn-unsure", "note")]
    assert turn_findings(calibrate(CHUCK, [of_seam(4, 0, 250)]), 250) == []


@pytest.mark.parametrize("axis", list(StandsInFor))
def test_ticks_stand_so_many_turns_apart_along_the_wall(axis):
    """Half a turn of Ø 80 on rollers of Ø 40 is one turn of theirs: 100 mm of the axis. 8 mm long, 3 mm aside."""
    rollers = TurningDevice(TurningKind.ROLLERS, 100, axis, roller_mm=40)
    machine = make_machine(min_power_pct=2, max_speed_mm_s=200)
    text = ticks_gcode(rollers, machine, 0.5, 80, (25, 30))
    lines = [line for line in parse_gcode_lines(text) if line.command_str in ("G0", "G1") and "X" in line.params]
    round_, along = ("X", "Y") if axis is StandsInFor.X else ("Y", "X")
    at = [(line.params[round_], line.params[along], line.params.get("S")) for line in lines[:4]]
    assert at == [(0, 0, 0), (0, 8, 250), (100, 3, 0), (100, 11, 250)]
    assert {line.params["F"] for line in lines if line.params.get("F")} == {1800}
    assert ticks_gcode(replace(rollers, backwards=True), machine, 0.5, 80, (25, 30)) != text
    for turns, widest, at_ in ((0.05, 80, (25, 30)), (21, 80, (25, 30)), (1, 4, (25, 30)), (1, 80, (1, 30))):
        with pytest.raises(BadValueError):
            ticks_gcode(rollers, machine, turns, widest, at_)


def test_what_is_taken_for_granted_until_somebody_measures():
    taper = make_piece(Shape.FRUSTUM, 84, 120, 3, 3, 66)
    start = start_of_placing(taper)
    assert (start.mark.width_mm, start.mark.height_mm, start.narrow_end) == (46, 48, NarrowEnd.TOP)
    assert (start.length_mm, start.supports_mm, start.girths) == (120, 96, ())
    assert told_wall(taper, NarrowEnd.TOP) == TaperedWall(84, 66, taper.slant_mm)
    assert told_wall(taper, NarrowEnd.FOOT) == TaperedWall(66, 84, taper.slant_mm)
    assert start_of_placing(make_piece(Shape.CYLINDER, 80, 8, 3, 3, 0)).narrow_end is NarrowEnd.NEITHER
    assert start_of_placing(make_piece(Shape.CYLINDER, 80, 8, 3, 3, 0)).supports_mm == 10
    flat = start_of_placing(make_piece(Shape.RECTANGLE, 101, 60, 3, 3, 0))
    assert (flat.mark.width_mm, flat.mark.height_mm) == (50, 30)
    for wrong in (
        {"length_mm": 4.9}, {"length_mm": 1000.1}, {"stem_mm": 90.1}, {"supports_mm": 9.9}, {"focus_below_mm": -0.1},
        {"points": ((0.0, 0.0),) * 25}, {"girths": (tape(1, 250),) * 13},
    ):  # fmt: skip
        with pytest.raises(BadValueError):
            PlacingSpec(flat.mark, **wrong)
    for wrong in ({"width_mm": 0.4}, {"height_mm": 2001}, {"turn_deg": 361}, {"seam_deg": math.nan}, {"along_mm": -1}):
        with pytest.raises(BadValueError):
            replace(flat.mark, **wrong)
