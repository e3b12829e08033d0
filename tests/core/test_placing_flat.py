"""Where a flat piece lies, framed and in focus: against scikit-image, brute force and figures worked out by hand."""

import math
import re
from dataclasses import replace

import numpy as np
import pytest
from gcodeparser import parse_gcode_lines
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import chi2
from shapely.affinity import translate
from skimage.measure import CircleModel
from skimage.transform import estimate_transform

from keencoat.core.errors import BadValueError
from keencoat.core.geometry import disc, offset, rectangle, turn
from keencoat.core.placing.beam import Beam, usual_beam
from keencoat.core.placing.centre import disc_from_chords, disc_through, sheet_at
from keencoat.core.placing.framing import frame_gcode, frame_of
from keencoat.core.placing.height import height_room, holds_to
from keencoat.core.quantities.setting import BeamSource, Setting
from tests.core.conftest import make_machine
from tests.core.test_window_by_hand import known, window

AROUND = [(50 * math.cos(a) + 120, 50 * math.sin(a) + 80) for a in (0.3, 1.9, 3.4, 4.4, 5.5)]


def test_the_circle_through_points_is_that_of_scikit_image():
    rng = np.random.default_rng(4)
    for count in (3, 4, 7, 12):
        angles = np.sort(rng.uniform(0, 2 * np.pi, count))
        at = np.column_stack([40 * np.cos(angles) + 15, 40 * np.sin(angles) - 7]) + rng.normal(0, 0.05, (count, 2))
        found, model = disc_through(at.tolist()), CircleModel.from_estimate(at)
        assert (found.x_mm, found.y_mm, found.diameter_mm / 2) == pytest.approx((*model.center, model.radius), abs=1e-4)


@given(st.floats(-500, 500), st.floats(-500, 500), st.floats(0, 360))
def test_a_disc_is_found_alike_wherever_bed_and_piece_are_moved_together(x, y, degrees):
    moved = turn(degrees).then(offset(x, y))
    there, here = disc_through([moved.at(*p) for p in AROUND]), disc_through(AROUND)
    assert (there.x_mm, there.y_mm) == pytest.approx(moved.at(here.x_mm, here.y_mm), abs=1e-6)
    assert there.diameter_mm == pytest.approx(100) == here.diameter_mm
    assert there.doubt_mm == pytest.approx(here.doubt_mm, rel=1e-6)


def test_the_doubt_of_a_centre_holds_it_nine_times_in_ten():
    """Against 4000 discs touched with the stated doubt, in the plane and not along one line of it; three points on a
    third of the rim tell less than three all round."""
    rng = np.random.default_rng()
    doubts = []
    for angles in (np.array([0, 2.1, 4.2]), np.array([0.0, 0.6, 1.2])):
        at = np.column_stack([50 * np.cos(angles), 50 * np.sin(angles)])
        tried = [disc_through((at + rng.normal(0, 0.15, at.shape)).tolist()) for _ in range(4000)]
        centres, doubt = np.array([(d.x_mm, d.y_mm) for d in tried]), disc_through(at.tolist()).doubt_mm
        assert 0.88 < np.mean(np.hypot(*(centres - centres.mean(axis=0)).T) < doubt) < 0.92
        doubts.append(doubt)
    assert doubts[1] > 3 * doubts[0]


def test_the_point_that_is_off_is_named():
    at = [*AROUND[:2], (AROUND[2][0] - 1.5, AROUND[2][1]), *AROUND[3:]]
    found = disc_through(at)
    assert [f.code for f in found.findings] == ["point-off"]
    assert found.findings[0].figures["number"] == 2
    assert "Point 3 " in found.findings[0].message
    assert disc_through(AROUND).findings == ()
    # Of four points too: that off which the circle of the other three lies furthest.
    four = [(50, 0), (0, 50), (-50, 0), (0, -52.0)]
    assert disc_through(four).findings[0].code == "point-off"
    told = disc_through(AROUND, told_mm=104).findings
    assert [(f.code, round(f.figures["found_mm"])) for f in told] == [("not-as-told", 100)]
    assert disc_through(AROUND, told_mm=101).findings == ()


def test_chords_meet_where_the_centre_is():
    rng = np.random.default_rng(2)
    for _ in range(20):
        a, b, c, d = np.sort(rng.uniform(0, 2 * np.pi, 4))
        at = [(30 * math.cos(t) + 4, 30 * math.sin(t) - 9) for t in (a, c, b, d)]
        try:
            found = disc_from_chords((at[0], at[1]), (at[2], at[3]))
        except BadValueError as refused:
            assert "side by side" in refused.message or "mm from another" in refused.message  # noqa: PT017
            continue
        assert (found.x_mm, found.y_mm, found.diameter_mm) == pytest.approx((4, -9, 60))
    square = disc_from_chords(((-30, 0), (30, 0)), ((0, -30), (0, 30)))
    assert square.doubt_mm == pytest.approx(math.sqrt(chi2(2).ppf(0.9)) * 0.15 / math.sqrt(2), rel=1e-3)


@pytest.mark.parametrize(
    ("points", "says"),
    [
        ([(0, 0), (50, 50), (100, 100)], "on a line"),
        ([(0, 0), (50, 50), (100, 100.5)], "on a line"),
        ([(0, 0), (0.1, 0), (10, 10)], "0.1 mm from another"),
        ([(0, 0), (10, 10)], "too few"),
        ([(0, 0), (0, 0), (10, 10), (10, 10)], "2 different points"),
        ([(math.nan, 0), (0, 10), (10, 10)], "points.0.x_mm"),
        ([(0, 0), (0, 1e308), (10, 10)], "points.1.y_mm"),
    ],
)
def test_points_that_make_no_circle(points, says):
    with pytest.raises(BadValueError, match=re.escape(says)):
        disc_through(points)


def test_chords_that_tell_nothing():
    with pytest.raises(BadValueError, match="side by side"):
        disc_from_chords(((0, 0), (10, 0)), ((0, 5), (12, 5)))
    with pytest.raises(BadValueError, match="too short"):
        disc_from_chords(((0, 0), (0, 0)), ((0, 5), (12, 9)))


@given(st.floats(-170, 170), st.floats(-300, 300), st.floats(-300, 300))
def test_a_sheet_is_found_by_two_corners_or_three(degrees, x, y):
    """The similarity that scikit-image fits to the same corners turns and shifts alike."""
    own = np.array([(-45.0, -30.0), (45.0, -30.0), (-45.0, 30.0)])
    lies = turn(degrees).then(offset(x, y))
    corners = [lies.at(*p) for p in own.tolist()]
    ours = estimate_transform("similarity", own, np.array(corners))
    for third in (None, corners[2]):
        found = sheet_at(corners[0], corners[1], third, (90.0, 60.0))
        assert (found.x_mm, found.y_mm) == pytest.approx((x, y), abs=1e-6)
        assert math.cos(math.radians(found.turn_deg) - ours.rotation) == pytest.approx(1)
        assert found.to_bed.at(45.0, -30.0) == pytest.approx(corners[1], abs=1e-6)
        assert found.findings == ()


def test_corners_that_are_not_this_sheets():
    size = (90.0, 60.0)
    skewed = sheet_at((0, 0), (90, 0), (-2, 60), size)
    assert [f.code for f in skewed.findings] == ["corners-skewed"]
    assert skewed.findings[0].figures["corner_deg"] == pytest.approx(91.909, abs=1e-3)
    # Its own turn is the mean of both edges', weighed by their squares: 1.909° · 3604 / (8100 + 3604).
    assert skewed.turn_deg == pytest.approx(1.909 * 3604 / 11704, abs=1e-3)
    assert sheet_at((0, 0), (90, 0), (-0.31, 60), size).findings == ()
    long = sheet_at((0, 0), (93, 0), (0, 60), size)
    assert [(f.code, f.figures["found_mm"]) for f in long.findings] == [("not-as-told", 93)]
    for third, says in (((30, -60), "upper left corner"), ((120, 1), "upper left corner")):
        with pytest.raises(BadValueError, match=says):
            sheet_at((0, 0), (90, 0), third, size)
    with pytest.raises(BadValueError, match=re.escape("lower corners are 30.0 mm apart")):
        sheet_at((0, 0), (30, 0), None, size)


def test_a_frame_goes_round_art_and_piece_twice_with_the_beam_off():
    machine = make_machine(bed_x_mm=400, bed_y_mm=300)
    piece, art = rectangle(100, 60), translate(rectangle(40, 20), 10, 0)
    frame = frame_of(art, piece, rectangle(94, 54), offset(200, 150), machine)
    assert frame.findings == ()
    art_way, piece_way = frame.way[:10].tolist(), frame.way[10:].tolist()
    assert art_way[:5] == [[190, 140], [230, 140], [230, 160], [190, 160], [190, 140]]
    # Over the middle lines of the art, then round the piece from its upper left.
    assert art_way[5:] == [[210, 140], [210, 160], [230, 160], [230, 150], [190, 150]]
    assert piece_way == [[150, 180], [150, 120], [250, 120], [250, 180], [150, 180]]
    assert (frame.way.min(axis=0).tolist(), frame.way.max(axis=0).tolist()) == ([150, 120], [250, 180])
    lines = list(parse_gcode_lines(frame_gcode(frame, make_machine(), "tile (1)")))
    assert not any(line.get_param("S") for line in lines if line.command[0] == "G")
    assert {c for c in (f"{line.command[0]}{line.command[1]}" for line in lines) if c[0] == "M"} == {"M5", "M2"}
    moves = [(line.get_param("X"), line.get_param("Y")) for line in lines if line.command in (("G", 0), ("G", 1))]
    assert moves == [(round(x, 3), round(y, 3)) for x, y in [*frame.way.tolist()] * 2]
    assert "(" not in frame_gcode(frame, make_machine(), "tile (1)").split("\n")[0][1:-1]


def test_a_name_of_several_lines_stays_one_comment():
    frame = frame_of(rectangle(40, 20), rectangle(100, 60), rectangle(94, 54), offset(200, 150), make_machine())
    text = frame_gcode(frame, make_machine(), "tile)\nM3 S1000\rG1 X0")
    assert not any(line.startswith(("M3", "G1 X0")) for line in text.splitlines())


def test_a_frame_that_leaves_coat_piece_or_bed_says_so():
    machine = make_machine(bed_x_mm=200, bed_y_mm=100)
    piece, coated = disc(80), disc(74)

    def codes(art, x, y):
        return {f.code: f for f in frame_of(art, piece, coated, offset(x, y), machine).findings}

    assert codes(disc(73.9), 50, 45) == {}
    assert codes(disc(20), 30, 45)["frame-off-bed"].figures["beyond_mm"] == pytest.approx(10)
    assert codes(disc(20), 165, 45)["frame-off-bed"].figures["beyond_mm"] == pytest.approx(5)
    assert "past the coat" in codes(disc(78), 50, 45)["frame-off-coat"].message
    past = codes(translate(disc(20), 38, 0), 50, 45)["frame-off-coat"]
    assert "past the piece" in past.message
    # Two circles' lens, r 10 and R 37, 38 apart: r²·acos(…) + R²·acos(…) − ½√(…).
    lens = (
        100 * math.acos((38**2 + 100 - 37**2) / (2 * 38 * 10))
        + 37**2 * math.acos((38**2 + 37**2 - 100) / (2 * 38 * 37))
        - math.sqrt((-38 + 10 + 37) * (38 + 10 - 37) * (38 - 10 + 37) * (38 + 10 + 37)) / 2
    )
    assert past.figures["share"] == pytest.approx(1 - lens / (100 * math.pi), abs=1e-3)


def test_a_beam_off_its_focus():
    """z_R = π·0.05²/(1.3·10.6e-3) mm for CO₂; at 1 z_R it is √2 as wide; a tenth wider at √(1.21 − 1) z_R."""
    beam = usual_beam(make_machine(source=BeamSource.CO2, spot_mm=0.1))
    assert (beam.waist_mm, beam.rayleigh_mm) == pytest.approx((0.05, math.pi * 0.0025 / (1.3 * 0.0106)))
    assert beam.wider(np.array([-beam.depth_mm, beam.depth_mm])) == pytest.approx([1.1, 1.1])


@pytest.mark.parametrize(("source", "m2", "wavelength_mm"), [
    (BeamSource.BLUE, 8, 450e-6), (BeamSource.NEAR_INFRARED, 1.6, 1064e-6), (BeamSource.CO2, 1.3, 10.6e-3),
])  # fmt: skip
def test_what_beams_are_like_where_no_ladder_tells(source, m2, wavelength_mm):
    beam = usual_beam(make_machine(source=source, spot_mm=0.08))
    assert (beam.waist_mm, beam.measured) == (0.04, False)
    assert beam.rayleigh_mm == pytest.approx(math.pi * 0.04**2 / (m2 * wavelength_mm))
    for bad in ((0, 1), (0.04, 0), (0.04, math.nan)):
        with pytest.raises(BadValueError):
            Beam(*bad, True)


def test_how_far_off_focus_a_setting_holds():
    """A window that moves with overlap alone: sharp at 2 J/mm², 0.5 per ln overlap. The cell of 2.2 J/mm² is under it
    once the spot is wider than (2.2/2)²: 1.21, at √(1.21² − 1) = 0.6812 z_R."""
    fit = known(window(2.0, 60.0, OVERLAP=0.5))
    fit = replace(fit, draws=fit.draws.copy())
    machine, beam = make_machine(spot_mm=0.1, rated_w=10), Beam(0.05, 1.0, False)
    setting = Setting(22, 10, 0.1)
    calm = replace(fit, prior=replace(fit.prior, scatter=replace(fit.prior.scatter, coat_cv=0, power_cv=0, focus_cv=0)))
    found = height_room(calm, setting, machine, beam, 0.5)
    assert found.room_mm == pytest.approx(0.681, abs=0.01)
    assert found.clean[0] > 0.9 > found.clean[-1]
    assert height_room(calm, Setting(15, 10, 0.1), machine, beam, 0.5).room_mm == 0
    assert height_room(calm, Setting(80, 10, 0.1), machine, beam, 0.5).room_mm == pytest.approx(4)


def test_how_far_a_share_holds_is_read_by_straight_lines():
    places = np.array([0.0, 1.0, 2.0, 3.0])
    assert holds_to(places, np.array([1.0, 0.9, 0.5, 0.95]), 0.7) == 1.5
    assert holds_to(places, np.array([0.6, 0.9, 0.9, 0.9]), 0.7) == 0
    assert holds_to(places, np.array([0.8, 0.9, 0.9, 0.7]), 0.7) == 3
