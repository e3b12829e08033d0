"""Grids as files: SVG read back by svgelements, PNG by Pillow , CSV by the csv module, JSON by json; and
grids and ratings brought in."""

import csv
import io
import json
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from svgelements import SVG, Path, Rect

from keencoat.core.errors import BadValueError
from keencoat.core.grid.formats.document import read_grid, write_document
from keencoat.core.grid.formats.drawing import write_png, write_svg
from keencoat.core.grid.formats.table import CellRating, read_ratings, write_cells_csv
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.rating import Rating
from tests.core.conftest import make_machine
from tests.core.test_grid_toolpath import drawn

RATED = {"A1": CellRating("A1", Rating.FAINT, ("coat_left",), True), "B2": CellRating("B2", Rating.CLEAN)}


def test_svg_read_back_true_to_scale(machine, spare):
    layout, _ = drawn(machine, spare)
    svg = SVG.parse(io.StringIO(write_svg(layout, spare, machine, "a <b> & c")), ppi=25.4)
    rects = {e.id: e for e in svg.elements() if isinstance(e, Rect)}
    (piece,) = (e for e in svg.elements() if isinstance(e, Path))
    for shown in (layout, replace(layout, frame=None)):
        text = write_svg(shown, spare, machine, "beds")
        assert ('class="frame"' in text) is (shown.frame is not None)
        assert 'class="code"' in text
    assert piece.bbox() == pytest.approx((0, 0, spare.width_mm, spare.height_mm), rel=1e-5)
    for placed in layout.cells:
        rect = rects[f"cell-{placed.cell.code}"]
        assert rect.width == pytest.approx(placed.side_mm, abs=1e-3)
        assert rect.x + rect.width / 2 == pytest.approx(placed.x_mm + 50, abs=1e-3)
        assert float(rect.values["data-power-pct"]) == placed.cell.setting.power_pct


def test_csv_and_json_there_and_back(machine, spare):
    layout, _ = drawn(machine, spare)
    text = write_cells_csv(layout.cells, machine, RATED)
    assert len(list(csv.DictReader(io.StringIO(text)))) == 12
    assert {r.code: r for r in read_ratings(text.encode(), layout)} == RATED
    document = write_document(layout, spare, machine, RATED, "beds", mirrored=False)
    assert len(json.loads(document)["cells"]) == 12
    assert {r.code: r for r in read_ratings(document.encode(), layout)} == RATED


def _edit(rows, cell, **changes):
    return [r | changes if r["code"] == cell else r for r in rows]


@pytest.mark.parametrize(
    ("spoil", "says"),
    [
        (lambda rows: [{k: v for k, v in r.items() if k != "rating"} for r in rows], "no column “rating”"),
        (lambda rows: [*rows, rows[0]], "second time"),
        (lambda rows: _edit(rows, "A2", code="Z9"), "no cell “Z9”"),
        (lambda rows: _edit(rows, "A2", rating="lovely"), "no rating"),
        (lambda rows: _edit(rows, "A2", defects="warts"), "no defect"),
        (lambda rows: _edit(rows, "A1", speed_mm_s=str(60 * float(rows[0]["speed_mm_s"]))), "mm/min"),
        (lambda rows: _edit(rows, "A1", speed_mm_s=str(float(rows[0]["speed_mm_s"]) / 25.4)), "in/s"),
        (lambda rows: _edit(rows, "A1", power_pct="much"), "“much”"),
        (lambda rows: _edit(rows, "A1", heard_snapping="loud"), "yes or no"),
        (lambda rows: [r | {"rating": ""} for r in rows], "No cell in this file has a rating"),
    ],
)
def test_spoiled_csv_says_where(machine, spare, spoil, says):
    layout, _ = drawn(machine, spare)
    text = write_cells_csv(layout.cells, machine, {"A1": CellRating("A1", Rating.CLEAN)})
    rows = spoil(list(csv.DictReader(io.StringIO(text))))
    out = io.StringIO()
    writer = csv.DictWriter(out, rows[0].keys())
    writer.writeheader()
    writer.writerows(rows)
    with pytest.raises(BadValueError, match=says) as caught:
        read_ratings(out.getvalue().encode(), layout)
    assert caught.value.field == "file"


@given(junk=st.binary(max_size=2000))
def test_junk_is_refused_not_crashed_on(junk):
    layout, _ = drawn(make_machine(), FlatPiece(Shape.RECTANGLE, 100, 80, 4))
    with pytest.raises(BadValueError):
        read_ratings(junk, layout)


def test_ten_megabytes_are_refused_unread(machine, spare):
    with pytest.raises(BadValueError, match="larger than"):
        read_ratings(b"a" * 10_000_000, drawn(machine, spare)[0])


def test_png_states_its_true_resolution(machine, spare):
    layout, _ = drawn(machine, spare)
    image = Image.open(io.BytesIO(write_png(layout, spare, 0.1)))
    assert image.info["dpi"] == pytest.approx((254, 254), abs=0.02)
    assert image.size == (1000, 800)
    placed = layout.cells[0]
    at = (round((placed.x_mm + 50) * 10), round((40 - placed.y_mm) * 10))
    assert image.getpixel(at) == 0
    assert image.getpixel((2, 2)) == 255
    square = np.array(image) == 0
    run = np.flatnonzero(square[at[1]])
    run = run[(run > at[0] - 5 * placed.side_mm - 2) & (run < at[0] + 5 * placed.side_mm + 2)]
    left = math.ceil((placed.x_mm + 50 - placed.side_mm / 2) * 10 - 0.5)
    assert (run[0], run[-1] + 1) == (left, left + 10 * placed.side_mm)
    top, side = math.ceil((40 - placed.y_mm - placed.side_mm / 2) * 10 - 0.5), round(10 * placed.side_mm)
    assert square[top : top + side, at[0] + 3].all()
    assert not square[[top - 1, top + side], at[0] + 3].any()
    turned = Image.open(io.BytesIO(write_png(layout, spare, 0.1, mirrored=True)))
    assert turned.getpixel((1000 - at[0], at[1])) == 0
    with pytest.raises(BadValueError, match="pixels"):
        write_png(layout, FlatPiece(Shape.RECTANGLE, 2000, 2000, 4), 0.05)


@pytest.mark.parametrize("framed", [True, False])
def test_a_grid_saved_here_can_be_brought_in(machine, spare, framed):
    layout, _ = drawn(machine, spare)
    for text in (
        write_cells_csv(layout.cells, machine, RATED),
        write_document(layout, spare, machine, RATED, "beds", False),
    ):
        brought = read_grid(text.encode(), 0.2, framed)
        assert brought.layout.cells == layout.cells
        assert (brought.layout.frame == layout.frame) is framed
        assert {r.code: r for r in brought.ratings} == RATED


def test_a_table_written_by_hand_is_laid_out_in_even_rows():
    brought = read_grid(b"code,power_pct,speed_mm_s,rating\nA1,20,100,faint\nA2,40,100,clean\nB1,60,100,\n", 0.1, False)
    assert (brought.rows, brought.columns) == (2, 2)
    assert [c.cell.setting.interval_mm for c in brought.layout.cells] == [0.1] * 3
    assert [(c.cell.setting.passes, c.cell.coats) for c in brought.layout.cells] == [(1, None)] * 3
    assert [r.rating for r in brought.ratings] == [Rating.FAINT, Rating.CLEAN]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("code,power_pct\nA1,20\n", "no column “speed_mm_s”"),
        ("code,power_pct,speed_mm_s\nA1,20,100\n", "two cells at least"),
        ("code,power_pct,speed_mm_s\nA1,20,100\nA1,30,100\n", "second time"),
        ("code,power_pct,speed_mm_s\nA1,20,100\n3B,30,100\n", "Line 3: “3B” is no code"),
        ("code,power_pct,speed_mm_s\nA1,20,100\nA2,nan,100\n", "Line 3: power_pct is nan"),
        ("code,power_pct,speed_mm_s\nA1,20,100\nA2,100.5,100\n", "Line 3: power_pct is 100.5"),
        ("code,power_pct,speed_mm_s\nA1,20,100\nA2,100,20000.5\n", "Line 3: speed_mm_s is 20000.5"),
        ("code,power_pct,speed_mm_s,focus_mm\nA1,20,100,0\nA2,30,100,-100.5\n", "focus_mm is -100.5"),
        ("code,power_pct,speed_mm_s,grey_pct\nA1,20,100,100\nA2,30,100,100.5\n", "grey_pct is 100.5"),
        ("code,power_pct,speed_mm_s,coats\nA1,20,100,1\nA2,30,100,21\n", "coats is 21"),
        ("code,power_pct,speed_mm_s,interval_mm\nA1,20,100,0.1\nA2,30,100,0.0049\n", "interval_mm is 0.0049.*0.005"),
        ("code,power_pct,speed_mm_s,passes\nA1,20,100,1\nA2,30,100,51\n", "passes is 51"),
        ("code,power_pct,speed_mm_s,coats\nA1,20,100,1\nA2,30,100,-1\n", "coats is -1"),
        ("code,power_pct,speed_mm_s,x_mm,y_mm\nA1,20,100,0,0\nA2,30,100,3,0\n", "lie over each other"),
        ("code,power_pct,speed_mm_s,x_mm,y_mm,side_mm\nA1,20,100,0,0,5\nA2,30,100,9,0,6\n", "not all of one size"),
        ('{"cells": []}', "not a grid"),
        ('{"format": "keencoat-grid", "cells": [{"code": "A1"}]}', "Cell 1 has no “power_pct”"),
        ('{"format": "keencoat-grid", "cells": [', "line 1, column"),
        ("[" * 3000, "cannot be read|too deep"),
        ("code,power_pct,speed_mm_s\n" + "A1,20,100\n" * 300, "256 is the most"),
    ],
)
def test_a_spoiled_grid_says_where(text, says):
    with pytest.raises(BadValueError, match=says):
        read_grid(text.encode(), 0.1, False)
