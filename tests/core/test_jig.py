"""Jigs: as many pockets as fit, by brute force; their areas by shapely; what is drawn, by an independent reader."""

import math
from io import StringIO

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.affinity import translate
from shapely.geometry import Polygon, box
from svgelements import SVG, Path

from keencoat.core.errors import BadValueError
from keencoat.core.jig.cut_sheet import sheet_svg
from keencoat.core.jig.drawing import sheet_of
from keencoat.core.jig.layout import JigSpec, lay_jig
from keencoat.core.piece.flat import FlatPiece, Shape

TAG, COASTER = FlatPiece(Shape.RECTANGLE, 50, 30, 3), FlatPiece(Shape.DISC, 40, 40, 4)


def placed(jig):
    return [translate(jig.edge, p.x_mm, p.y_mm) for p in jig.pockets]


def rows_by_hand(size, gap, room):
    """How many fit in a row, one put after the other until the next reaches out."""
    count, end = 0, size
    while end <= room + 1e-9:
        count, end = count + 1, end + gap + size
    return count


@given(st.floats(60, 300), st.floats(60, 300), st.floats(2, 20), st.floats(10, 25))
def test_a_sheet_holds_what_fits_by_brute_force(width, height, gap, margin):
    spec = JigSpec((width, height), play_mm=0.4, gap_mm=gap, margin_mm=margin)
    count = rows_by_hand(50.4, gap, width - 2 * margin) * rows_by_hand(30.4, gap, height - 2 * margin)
    if not count:
        with pytest.raises(BadValueError, match="Not one pocket"):
            lay_jig(TAG, spec)
        return
    jig = lay_jig(TAG, spec)
    pockets, room = placed(jig), box(margin, margin, width - margin, height - margin).buffer(1e-6)
    assert len(pockets) == count
    assert all(room.contains(p) for p in pockets)
    assert jig.opened().area == pytest.approx(count * 50.4 * 30.4)
    apart = [a.distance(b) for n, a in enumerate(pockets) for b in pockets[:n]]
    assert min(apart, default=gap) >= gap - 1e-6
    # Numbers run along the rows, the lowest first.
    assert [p.number for p in jig.pockets] == list(range(1, count + 1))
    order = [(round(p.y_mm, 3), round(p.x_mm, 3)) for p in jig.pockets]
    assert order == sorted(order)


def honeycomb_by_hand(across, gap, width, height):
    """Rows like a honeycomb, disc by disc."""
    pitch, count, row, low = across + gap, 0, 0, 0.0
    while low + across <= height + 1e-9:
        left = pitch / 2 if row % 2 else 0.0
        while left + across <= width + 1e-9:
            count, left = count + 1, left + pitch
        row, low = row + 1, low + pitch * math.sqrt(3) / 2
    return count


@pytest.mark.parametrize("sheet", [(300, 300), (200, 300), (310, 180), (120, 400), (90, 90)])
def test_discs_lie_like_a_honeycomb_where_that_holds_more(sheet):
    spec = JigSpec(sheet, play_mm=0.5, gap_mm=3, margin_mm=10)
    room = [s - 20 for s in sheet]
    square = rows_by_hand(40.5, 3, room[0]) * rows_by_hand(40.5, 3, room[1])
    closer = max(honeycomb_by_hand(40.5, 3, *room), honeycomb_by_hand(40.5, 3, *room[::-1]))
    jig = lay_jig(COASTER, spec)
    assert (len(jig.pockets), jig.like_honeycomb) == (max(square, closer), closer > square)
    apart = [math.dist((a.x_mm, a.y_mm), (b.x_mm, b.y_mm)) for n, a in enumerate(jig.pockets) for b in jig.pockets[:n]]
    assert min(apart, default=99) >= 43.5 - 1e-3
    assert all(box(10, 10, sheet[0] - 10, sheet[1] - 10).buffer(1e-3).contains(p) for p in placed(jig))


def test_only_discs_without_notches_lie_like_a_honeycomb():
    """Upright tags would overlap, and notches would meet."""
    assert not lay_jig(FlatPiece(Shape.RECTANGLE, 30, 50, 3), JigSpec((300, 300), gap_mm=3)).like_honeycomb
    assert lay_jig(COASTER, JigSpec((300, 300), gap_mm=3)).like_honeycomb
    assert not lay_jig(COASTER, JigSpec((300, 300), gap_mm=12, finger_mm=4)).like_honeycomb


def test_a_pocket_is_the_piece_and_its_play_and_the_cut_half_the_kerf_inside():
    jig = lay_jig(TAG, JigSpec((200, 150), play_mm=0.6, kerf_mm=0.2))
    assert jig.edge.bounds == pytest.approx((-25.3, -15.3, 25.3, 15.3))
    assert jig.cut.bounds == pytest.approx((-25.2, -15.2, 25.2, 15.2))
    assert lay_jig(TAG, JigSpec((200, 150), kerf_mm=0)).cut.bounds == pytest.approx((-25.2, -15.2, 25.2, 15.2))
    turned = lay_jig(TAG, JigSpec((200, 150), across=True))
    assert turned.edge.bounds == pytest.approx((-15.2, -25.2, 15.2, 25.2))
    notched = lay_jig(TAG, JigSpec((200, 150), finger_mm=8, gap_mm=20))
    assert notched.edge.bounds == pytest.approx((-33.2, -15.2, 33.2, 15.2), abs=1e-2)
    assert notched.edge.area == pytest.approx(50.4 * 30.4 + math.pi * 64, rel=1e-3)
    disc = lay_jig(COASTER, JigSpec((200, 150)))
    assert disc.edge.area == pytest.approx(math.pi * 20.2**2, rel=1e-3)


def test_a_jig_lies_in_the_middle_of_its_sheet_with_crosses_in_its_corners():
    jig = lay_jig(TAG, JigSpec((200, 150), gap_mm=6))
    at = np.array([(p.x_mm, p.y_mm) for p in jig.pockets])
    assert (at.min(axis=0) + at.max(axis=0)) / 2 == pytest.approx((100, 75))
    assert jig.crosses_mm == ((5, 5), (195, 145))
    assert sheet_of(jig).marks[:2] == (((2, 5), (8, 5)), ((5, 2), (5, 8)))
    assert sheet_of(jig).marks[2:4] == (((192, 145), (198, 145)), ((195, 142), (195, 148)))
    mirrored = lay_jig(TAG, JigSpec((200, 150), gap_mm=6, mirrored=True))
    assert mirrored.crosses_mm == ((195, 5), (5, 145))
    assert np.array([(200 - p.x_mm, p.y_mm) for p in mirrored.pockets]) == pytest.approx(at)


@pytest.mark.parametrize(("hole_deg", "mirrored", "start", "end"), [
    (90, False, (0, 15.7), (0, 19.7)), (0, False, (25.7, 0), (29.7, 0)), (180, False, (-25.7, 0), (-29.7, 0)),
    (0, True, (-25.7, 0), (-29.7, 0)), (90, True, (0, 15.7), (0, 19.7)),
])  # fmt: skip
def test_a_line_beside_a_pocket_says_where_its_hole_points(hole_deg, mirrored, start, end):
    jig = lay_jig(TAG, JigSpec((200, 150), gap_mm=6, hole_deg=hole_deg, mirrored=mirrored))
    pocket = jig.pockets[0]
    a, b = jig.hole_line(pocket)
    assert np.array([a, b]) - (pocket.x_mm, pocket.y_mm) == pytest.approx(np.array([start, end]), abs=1e-9)
    short = lay_jig(TAG, JigSpec((200, 150), gap_mm=2, hole_deg=hole_deg))
    assert math.dist(*short.hole_line(short.pockets[0])) == pytest.approx(1)
    assert lay_jig(TAG, JigSpec((200, 150))).hole_line(pocket) is None


def test_the_drawing_is_true_to_scale_and_marks_stay_off_the_pockets():
    jig = lay_jig(TAG, JigSpec((200, 150), gap_mm=6, hole_deg=90))
    svg = SVG.parse(StringIO(sheet_svg(sheet_of(jig), "tags")), ppi=25.4)
    assert (svg.width, svg.height) == pytest.approx((200, 150), rel=1e-3)
    groups = {g.id: list(g.select(lambda e: isinstance(e, Path))) for g in svg if getattr(g, "id", None)}
    assert len(groups["cut"]) == len(jig.pockets) == 9
    rings = [Polygon([(p.x, 150 - p.y) for p in path.as_points()]) for path in groups["cut"]]
    for ring, cut in zip(rings, jig.cuts(), strict=True):
        assert ring.symmetric_difference(cut).area < 0.1
    drawn = [[(p.x, 150 - p.y) for p in path.as_points()] for path in groups["mark"]]
    for seen, stroke in zip(drawn, sheet_of(jig).marks, strict=True):
        assert np.array(seen[0]) == pytest.approx(np.array(stroke[0]), abs=2e-3)
        assert np.array(seen[-1]) == pytest.approx(np.array(stroke[-1]), abs=2e-3)
    points = [p for stroke in sheet_of(jig).marks for p in stroke]
    assert all(0 <= x <= 200 and 0 <= y <= 150 for x, y in points)
    opened = jig.opened()
    assert not any(opened.buffer(-0.01).intersects(box(x, y, x + 1e-6, y + 1e-6)) for x, y in points)
    # Where the gap is too narrow for figures, only crosses are marked.
    assert len(sheet_of(lay_jig(TAG, JigSpec((200, 150), gap_mm=1.5))).marks) == 4


@pytest.mark.parametrize(
    ("piece", "sheet", "more", "field"),
    [
        (TAG, (60, 40), {}, "sheet_width_mm"),
        (TAG, (19, 200), {}, "sheet_width_mm"),
        (TAG, (200, 3001), {}, "sheet_height_mm"),
        (FlatPiece(Shape.DISC, 8, 8, 1, 1), (1000, 1000), {}, "sheet_width_mm"),
        (TAG, (200, 150), {"play_mm": 0.1}, "play_mm"),
        (TAG, (200, 150), {"gap_mm": 0.9}, "gap_mm"),
        (TAG, (200, 150), {"margin_mm": 9.9}, "margin_mm"),
        (TAG, (200, 150), {"finger_mm": -1}, "finger_mm"),
        (TAG, (200, 150), {"hole_deg": math.nan}, "hole_deg"),
        (TAG, (200, 150), {"kerf_mm": 1e308}, "kerf_mm"),
    ],
)
def test_jigs_that_cannot_be(piece, sheet, more, field):
    with pytest.raises(BadValueError) as refused:
        lay_jig(piece, JigSpec(sheet, **more))
    assert (refused.value.field, bool(refused.value.hint)) == (field, True)


def test_too_many_pockets_are_counted_in_the_refusal():
    room = 1000 - 24
    closer = max(honeycomb_by_hand(8.4, 5, room, room), rows_by_hand(8.4, 5, room) ** 2)
    with pytest.raises(BadValueError, match=f"would be {closer} pockets") as refused:
        lay_jig(FlatPiece(Shape.DISC, 8, 8, 1, 1), JigSpec((1000, 1000), gap_mm=5))
    assert "up to 400" in refused.value.hint
