"""Sheets that are cut: trial, stops and guide plate by shapely; DXF by ezdxf's own audit and reader, G-code by an
independent parser."""

import io
import math

import ezdxf
import numpy as np
import pytest
from ezdxf import units
from gcodeparser import parse_gcode_lines
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.affinity import translate
from shapely.geometry import LineString, Point, Polygon, box

from keencoat.core.errors import BadValueError
from keencoat.core.jig.cut_sheet import sheet_dxf, sheet_gcode
from keencoat.core.jig.drawing import sheet_of
from keencoat.core.jig.guide import Feet, guide_sheet
from keencoat.core.jig.layout import JigSpec, lay_jig
from keencoat.core.jig.stops import pin_places, stops_sheet
from keencoat.core.jig.trial import trial_plays, trial_sheet
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities import BeamSource, Machine, Setting

TAG, COASTER = FlatPiece(Shape.RECTANGLE, 50, 30, 3), FlatPiece(Shape.DISC, 40, 40, 4)
MACHINE = Machine(BeamSource.BLUE, 10.0, 0.1, 1.0, 200.0, 1.0, 1000.0, 400.0, 400.0)


@pytest.mark.parametrize("piece", [TAG, COASTER])
def test_the_dxf_has_a_layer_for_what_is_cut_and_one_for_what_is_marked(piece):
    sheet = sheet_of(lay_jig(piece, JigSpec((200, 150), hole_deg=90)))
    drawing = ezdxf.read(io.StringIO(sheet_dxf(sheet)))
    assert drawing.audit().errors == []
    assert (drawing.dxfversion, drawing.units) == ("AC1024", units.MM)
    lines = list(drawing.modelspace())
    cuts = [e for e in lines if e.dxf.layer == "CUT"]
    assert {e.dxf.layer for e in lines} == {"CUT", "MARK"}
    assert all(e.closed for e in cuts)
    rings = [Polygon(e.get_points("xy")) for e in cuts]
    for ring, cut in zip(rings, sheet.cuts, strict=True):
        assert ring.symmetric_difference(cut).area < 1e-6
    marks = [e.get_points("xy") for e in lines if e.dxf.layer == "MARK"]
    assert [np.array(m) for m in marks] == [pytest.approx(np.array(m)) for m in sheet.marks]


def test_the_gcode_marks_first_and_then_cuts_as_often_as_asked():
    sheet = sheet_of(lay_jig(TAG, JigSpec((80, 60))))
    text = sheet_gcode(sheet, MACHINE, Setting(90, 8, 0.1, 2), Setting(12, 60, 0.1, 1), "tags")
    lines = [m for m in parse_gcode_lines(text) if m.command_str == "G1"]
    power = [m.params["S"] for m in lines]
    marked, cut = power.count(120), power.count(900)
    assert power == [120] * marked + [900] * cut
    assert cut == 2 * sum(len(ring.exterior.coords) - 1 for ring in sheet.cuts)
    assert marked == sum(len(stroke) - 1 for stroke in sheet.marks)
    feeds = {m.params["S"]: m.params["F"] for m in lines if m.params.get("F")}
    assert feeds == {120: 3600, 900: 480}
    ends = [(m.params["X"], m.params["Y"]) for m in lines[marked:] if "Y" in m.params]
    assert max(sheet.cuts[0].exterior.distance(Point(e)) for e in ends) < 1e-3
    assert "lower left corner of the sheet" in text


def test_a_trial_has_three_plays_side_by_side():
    spec = JigSpec((200, 150), play_mm=0.4, kerf_mm=0.1)
    assert trial_plays(spec) == (0.2, 0.4, 0.6)
    assert trial_plays(JigSpec((200, 150), play_mm=0.2, kerf_mm=0.15)) == (0.15, 0.2, 0.4)
    sheet = trial_sheet(TAG, spec)
    widths = [(c.bounds[2] - c.bounds[0], c.bounds[3] - c.bounds[1]) for c in sheet.cuts]
    assert widths == [pytest.approx((50 + p - 0.1, 30 + p - 0.1)) for p in (0.2, 0.4, 0.6)]
    assert sheet.size_mm == pytest.approx((8 + 50.2 + 6 + 50.4 + 6 + 50.6 + 8, 8 + 4 + 30.6 + 8))
    gaps = [a.distance(b) for a, b in zip(sheet.cuts, sheet.cuts[1:], strict=False)]
    assert gaps == pytest.approx([6.1, 6.1])
    room = box(0, 0, *sheet.size_mm)
    assert all(room.contains(c.buffer(7.9)) for c in sheet.cuts)
    marks = [LineString(m) for m in sheet.marks]
    assert all(room.contains(m) and not any(c.intersects(m) for c in sheet.cuts) for m in marks)
    # A label under each.
    for ring in sheet.cuts:
        x0, y0, x1, _ = ring.bounds
        assert any(x0 < m.bounds[0] < x1 and y0 - 4 < m.bounds[1] < y0 for m in marks)


@given(st.floats(8, 200), st.floats(8, 200), st.floats(2, 10))
@settings(max_examples=40)
def test_pins_touch_the_piece_and_hold_it_from_two_sides(width, height, pin):
    piece = FlatPiece(Shape.RECTANGLE, width, height, 3, 1)
    pins = [Point(p).buffer(pin / 2, quad_segs=64) for p in pin_places(piece, pin)]
    assert [p.distance(piece.outline) for p in pins] == pytest.approx([0, 0, 0], abs=1e-3)
    assert all(p.intersection(piece.outline).area < 0.02 for p in pins)
    left = [p for p in pin_places(piece, pin) if p[0] < -width / 2]
    below = [p for p in pin_places(piece, pin) if p[1] < -height / 2]
    assert (len(below), len(left)) == ((2, 1) if width >= height else (1, 2))
    apart = math.dist(*(below if width >= height else left))
    assert apart == pytest.approx(max(width, height) / 2)


def test_stops_of_a_disc_lie_below_it_and_the_sheet_shows_the_piece():
    for x, y in pin_places(COASTER, 6):
        assert math.hypot(x, y) == pytest.approx(23)
        assert (abs(x), y) == (pytest.approx(23 / math.sqrt(2)), pytest.approx(-23 / math.sqrt(2)))
    sheet = stops_sheet(COASTER, 6, 0.2)
    assert sheet.size_mm == pytest.approx((40 + 36, 40 + 36))
    assert [c.area for c in sheet.cuts] == pytest.approx([math.pi * 2.9**2] * 2, rel=2e-3)
    assert [(c.centroid.x, c.centroid.y) for c in sheet.cuts] == [
        pytest.approx((38 + x, 38 + y)) for x, y in pin_places(COASTER, 6)
    ]
    outline = Polygon(sheet.marks[0])
    assert outline.equals_exact(translate(COASTER.outline, 38, 38), 1e-6)
    assert len(sheet.marks) == 5
    assert sheet.marks[1] == ((2, 5), (8, 5))
    assert sheet.marks[3] == ((68, 71), (74, 71))


def test_a_guide_plate_has_a_pocket_for_every_foot_and_the_axis_between_them():
    sheet = guide_sheet(Feet(220, 60, 25, 15), 0.4, 0.2)
    assert sheet.size_mm == pytest.approx((220 + 25 + 40, 60 + 15 + 40))
    sizes = [(c.bounds[2] - c.bounds[0], c.bounds[3] - c.bounds[1]) for c in sheet.cuts]
    assert sizes == [pytest.approx((25.2, 15.2))] * 4
    middles = [(c.centroid.x, c.centroid.y) for c in sheet.cuts]
    assert middles == [pytest.approx(p) for p in ((32.5, 27.5), (252.5, 27.5), (32.5, 87.5), (252.5, 87.5))]
    crosses = [LineString(m).centroid.coords[0] for m in sheet.marks]
    assert crosses == [pytest.approx(p) for p in ((10, 57.5), (10, 57.5), (275, 57.5), (275, 57.5))]
    one_row = guide_sheet(Feet(120, 0, 25, 15), 0.4, 0.0)
    assert [c.centroid.coords[0] for c in one_row.cuts] == [pytest.approx((32.5, 27.5)), pytest.approx((152.5, 27.5))]
    assert one_row.size_mm == pytest.approx((185, 55))


@pytest.mark.parametrize(
    ("make", "field"),
    [
        (lambda: Feet(9, 0, 25, 15), "apart_mm"),
        (lambda: Feet(26, 0, 25, 15), "length_mm"),
        (lambda: Feet(120, 16, 25, 15), "width_mm"),
        (lambda: Feet(120, math.nan, 25, 15), "across_mm"),
        (lambda: Feet(120, 0, 1e308, 15), "length_mm"),
        (lambda: guide_sheet(Feet(120, 0, 25, 15), 2.1, 0.1), "play_mm"),
        (lambda: guide_sheet(Feet(120, 0, 25, 15), 0.3, 2.0), "kerf_mm"),
        (lambda: stops_sheet(TAG, 0.9, 0.1), "pin_mm"),
        (lambda: stops_sheet(TAG, 21, 0.1), "pin_mm"),
        (lambda: stops_sheet(TAG, 1.5, 1.5), "kerf_mm"),
    ],
)
def test_what_cannot_be_cut(make, field):
    with pytest.raises(BadValueError) as refused:
        make()
    assert (refused.value.field, bool(refused.value.hint)) == (field, True)


def test_feet_two_millimetres_apart_leave_a_bridge():
    assert len(guide_sheet(Feet(27, 0, 25, 15), 0.3, 0.1).cuts) == 2
    assert len(guide_sheet(Feet(120, 17, 25, 15), 0.3, 0.1).cuts) == 4
