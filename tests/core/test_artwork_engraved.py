"""Typed text and artwork that is drawn in lines: what stands on the piece, what the head does, what comes of it."""

import math
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from HersheyFonts import HersheyFonts
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, MultiLineString, Point, box

from keencoat.core.artwork.advice import engraved_findings, text_findings
from keencoat.core.artwork.engraved import MAX_STROKES, stroke_width_mm, strokes_as_burned, strokes_of
from keencoat.core.artwork.formats import strokes_svg
from keencoat.core.artwork.lettering import Typeface
from keencoat.core.artwork.limits import engraved_capital_mm
from keencoat.core.artwork.made import Placement, lines_of
from keencoat.core.artwork.names import Name, NameList
from keencoat.core.artwork.picture import Picture
from keencoat.core.artwork.spec import (
    ArtSpec,
    art_of_piece,
    capital_of_width,
    first_spec,
    height_per_width,
    ink_of_piece,
    is_engraved,
)
from keencoat.core.artwork.words import MAX_LETTERS, MAX_LINES, Wording, lines_of_words, read_wording, text_block
from keencoat.core.drawing import Drawing
from keencoat.core.errors import BadValueError
from keencoat.core.finding_codes import FindingCode
from keencoat.core.quantities import BeamSource, Setting
from keencoat.core.rating import Rating
from keencoat.core.toolpath import burn_time_s, energy_on_piece_j, gcode_lines, move_time_s
from keencoat.core.window.fit import fit_window
from keencoat.core.window.places import place_odds
from keencoat.core.window.priors import prior_for
from tests.core.conftest import make_machine

ROOM = box(-40, -20, 40, 20)
LINES = lines_of(0.1, 0.1, ROOM)
BED = Wording("Salvia\nBed 4")
FRAME = box(5, 2, 15, 8).difference(box(8, 4, 12, 6))
SQUARE = Drawing(20.0, 10.0, FRAME, {"": FRAME})
ENGRAVED = ArtSpec(Placement(60), typeface=Typeface.STROKES, words=BED.words)
SETTING = Setting(60, 200, 0.1, 2)


def drawn(source, spec, line_mm=0.1):
    return art_of_piece(source, spec, LINES, None, ink_of_piece(source, spec, ROOM, (), 0), line_mm)


@pytest.mark.parametrize("typeface", Typeface)
def test_a_text_stands_in_its_place_line_under_line(typeface):
    spec = replace(first_spec(BED, ROOM, False), typeface=typeface, placement=Placement(40, 5, -3))
    assert spec.words == BED.words
    ink = ink_of_piece(BED, spec, ROOM, (), 0).ink
    left, low, right, top = ink.bounds
    assert ((left + right) / 2, (low + top) / 2, right - left) == pytest.approx((5, -3, 40), abs=1e-6)
    assert (top - low) / (right - left) == pytest.approx(height_per_width(BED, spec))
    one = replace(spec, words="HEM")
    tall = ink_of_piece(BED, replace(one, placement=Placement(10)), ROOM, (), 0).ink.bounds
    assert 10 * capital_of_width(BED, one) == pytest.approx(tall[3] - tall[1])
    # The second line's capitals stand 1.62 capitals under the first one's.
    first, both = text_block("H", typeface), text_block("H\nH", typeface)
    assert both.bounds[3] - both.bounds[1] == pytest.approx(first.bounds[3] - first.bounds[1] + 1.62, abs=1e-6)
    spaced = text_block("H\n\nH", typeface)
    assert spaced.bounds[3] - spaced.bounds[1] == pytest.approx(1 + 2 * 1.62, abs=1e-6)
    assert capital_of_width(SQUARE, spec) == 0


def test_typed_text_is_checked_line_by_line():
    assert read_wording(b"\xef\xbb\xbf\nFarn \r\nMoos\n\n", "file") == Wording("Farn\nMoos")
    assert lines_of_words("x" * MAX_LETTERS + "\n" * 0) == ["x" * 80]
    assert len(lines_of_words("a\n" * MAX_LINES)) == 12
    for words, said in ((" \n ", "no text"), ("a\n" * 13, "13 lines"), ("Moos\n" + "x" * 81, "Line 2 has 81 letters")):
        with pytest.raises(BadValueError, match=said) as refused:
            lines_of_words(words)
        assert refused.value.field == "words"
    with pytest.raises(BadValueError, match="no text"):
        read_wording(b"\xff\xfe\x00", "file")
    for typeface, letter in ((Typeface.BOLD, "枫"), (Typeface.STROKES, "Ж")):
        with pytest.raises(BadValueError, match=f"{letter}.*U\\+") as refused:
            text_block(f"Ab {letter}", typeface)
        assert refused.value.field == "words"


def test_single_strokes_are_the_font_s_own():
    """Against the package's strokes of the same text, at the height of its capitals (21 units)."""
    font = HersheyFonts()
    font.load_default_font("futural")
    raw = sum(math.dist(a, b) for stroke in font.strokes_for_text("Salvia") for a, b in pairwise(list(stroke)))
    ink = text_block("Salvia", Typeface.STROKES)
    assert ink.length == pytest.approx(raw / 21, rel=0.02)
    art = drawn(BED, ENGRAVED)
    assert sum(LineString(s).length for s in art.strokes.strokes) == pytest.approx(
        60 * capital_of_width(BED, ENGRAVED) * text_block(BED.words, Typeface.STROKES).length
    )
    assert art.drawn is art.strokes


def test_what_is_drawn_in_lines_and_what_is_filled():
    outlines = replace(ENGRAVED, typeface=Typeface.BOLD, outlines=True)
    names = NameList((Name(1, "Moss"),), "utf-8-sig")
    picture = Picture(np.zeros((4, 4), np.float32), np.ones((4, 4), np.float32))
    found = [is_engraved(s, spec) for s in (BED, names, SQUARE, picture) for spec in (ENGRAVED, outlines)]
    assert found == [True, True, True, True, False, True, False, False]
    assert not is_engraved(BED, replace(outlines, outlines=False))
    spec = ArtSpec(Placement(20), outlines=True)
    art = drawn(SQUARE, spec)
    assert len(art.strokes.strokes) == 2
    assert all(stroke[0] == stroke[-1] for stroke in art.strokes.strokes)
    assert sum(LineString(s).length for s in art.strokes.strokes) == pytest.approx(32 + 12)
    assert art.made.lit_mm2 == pytest.approx((32 + 12) * 0.1, rel=0.05)
    assert art.made.pitch_mm == art.made.interval_mm == pytest.approx(0.05)


def test_lines_stay_on_the_coat():
    disc = Point(0, 0).buffer(10)
    across = MultiLineString([[(-20, 0), (20, 0)], [(-20, 15), (20, 15)]])
    (kept,) = strokes_of(across, disc, 0.1).strokes
    assert sorted(x for x, _ in kept) == pytest.approx([-10, 10])
    with pytest.raises(BadValueError, match="None of it lies on the coat"):
        strokes_of(MultiLineString([[(-20, 15), (20, 15)]]), disc, 0.1)
    many = MultiLineString([[(x, 0), (x, 1)] for x in np.linspace(-9, 9, MAX_STROKES + 1)])
    with pytest.raises(BadValueError, match="5,001 lines"):
        strokes_of(many, disc, 0.1)


@given(st.lists(st.tuples(*[st.floats(-9, 9)] * 4), min_size=1, max_size=12))
@settings(max_examples=40, deadline=None)
def test_every_line_is_drawn_once_and_the_next_is_the_nearest(ends):
    lines = [((a, b), (c, d)) for a, b, c, d in ends if math.dist((a, b), (c, d)) > 1e-3]
    if not lines:
        return
    order = strokes_of(MultiLineString(lines), box(-10, -10, 10, 10), 0.1).strokes
    assert sorted(sorted(s) for s in order) == sorted(sorted(line) for line in lines)
    for n, (before, stroke) in enumerate(pairwise(order), start=1):
        nearest = min(math.dist(before[-1], end) for later in order[n:] for end in (later[0], later[-1]))
        assert math.dist(before[-1], stroke[0]) == pytest.approx(nearest)


@pytest.mark.parametrize("mirrored", [False, True])
@pytest.mark.parametrize("turned", [False, True])
def test_the_head_draws_each_line_once_a_pass(mirrored, turned):
    machine = make_machine(max_speed_mm_s=400, accel_mm_s2=3000)
    (stroke,) = strokes_of(MultiLineString([[(10, 5), (10, 15), (30, 15)]]), ROOM, 0.1).strokes
    made = strokes_of(MultiLineString([stroke]), ROOM, 0.1)
    program = made.program(SETTING, machine, (80, 40), mirrored, turned)
    moves = [task.moves for task in program]
    assert (len(moves), program.lines, program.lit_mm) == (2, 2, pytest.approx(60))
    at = [(50, 25), (50, 35), (70, 35)]
    if mirrored:
        at = [(80 - x, y) for x, y in at]
    if turned:
        at = [(40 - y, x) for x, y in at]
    if stroke[0] != (10, 5):
        at = at[::-1]
    for once in moves:
        assert np.column_stack([once.x_mm, once.y_mm]) == pytest.approx(np.array(at))
        assert once.power_pct.tolist() == [0, 60, 60]
    assert (
        program.energy_j
        == pytest.approx(energy_on_piece_j(program, machine))
        == pytest.approx(machine.rated_w * 0.6 * 60 / 200)
    )
    legs = [move_time_s(length, 200, 3000) for length in (10, 20)]
    ways = [move_time_s(math.hypot(*at[0]), 400, 3000), move_time_s(math.dist(at[-1], at[0]), 400, 3000)]
    assert burn_time_s(program.for_time(), machine) == pytest.approx(2 * sum(legs) + sum(ways))
    written = [line for _, line in gcode_lines(program, machine, "lines", mirrored)]
    assert sum(" S600" in line or "S60" in line for line in written) >= 1


def test_lines_are_as_wide_as_a_gaussian_over_its_threshold():
    """d·√(ln(E/E₀)/2), d the 1/e² diameter (Liu 1982); by looking for the threshold on the Gaussian itself."""
    for margin in (0.0, 0.6, 2.0):
        r = np.linspace(0, 0.2, 200_001)
        over = np.exp(margin - 2 * (r / 0.05) ** 2) >= np.exp(-0.5)
        assert stroke_width_mm(0.1, margin) == pytest.approx(2 * r[over].max(), abs=1e-5)
    assert stroke_width_mm(0.1, -1) == stroke_width_mm(0.1, 0.0) == 0.05
    assert engraved_capital_mm(0.1, 0.08) == pytest.approx(0.75)
    assert engraved_capital_mm(0.05, 0.1) == pytest.approx(1.5 * (0.15 + 0.2))


def test_lines_are_judged_as_lines_by_their_own_odds_and_their_film():
    machine = make_machine(max_speed_mm_s=400)
    fit = fit_window((), prior_for("fuse", BeamSource.BLUE))
    odds = place_odds(fit, SETTING, machine)
    seen = drawn(BED, ENGRAVED).made
    came, thick = (strokes_as_burned(seen, odds, ln) for ln in (0.0, 0.3))
    lit = seen.dots
    faint, harsh = (odds.of(rating, np.zeros(1)) for rating in (Rating.FAINT, Rating.HARSH))
    assert came.faint[lit] == pytest.approx(float(faint[0]), rel=1e-5)
    assert came.harsh[lit] == pytest.approx(float(harsh[0]), rel=1e-5)
    assert not came.fullness[~lit].any()
    assert not came.faint[~lit].any()
    assert came.fullness[lit] == pytest.approx(np.clip(0.8 + 2 * odds.margin_ln, 0, 1), abs=1e-6)
    assert (thick.faint[lit] > came.faint[lit]).all()
    half = np.where(np.arange(lit.shape[1]) < lit.shape[1] // 2, 0.0, 0.3) * np.ones(lit.shape)
    mixed = strokes_as_burned(seen, odds, half)
    left = np.broadcast_to(half == 0, lit.shape)
    assert mixed.faint[lit & left] == pytest.approx(came.faint[lit & left], abs=1e-5)
    assert mixed.faint[lit & ~left] == pytest.approx(thick.faint[lit & ~left], abs=1e-5)


def test_what_is_said_of_text_and_of_lines():
    assert text_findings(2.0, 2.0) == []
    (small,) = text_findings(1.5, 2.0)
    assert small.code is FindingCode.ART_SMALL_LETTERS
    assert small.figures == {"capital_mm": 1.5, "least_mm": 2.0}
    # At 3000 mm/s² 200 mm/s takes 13.4 mm from rest to rest.
    long, short = (strokes_of(MultiLineString([[(-x, 0), (x, 0)], [(0, -9), (0, 9)]]), ROOM, 0.1) for x in (7, 2.9))
    assert engraved_findings(long, SETTING, 3000, True) == []
    assert engraved_findings(short, SETTING, 3000, True) == []
    (slow,) = engraved_findings(short, SETTING, 1000, True)
    assert slow.code == "art-strokes-slow"
    assert slow.figures["share_pct"] == pytest.approx(100)
    assert slow.figures["reached_mm_s"] == pytest.approx(np.sqrt(1000 * (5.8 + 0.25 * 12.2)))
    (untested,) = engraved_findings(long, SETTING, 3000, False)
    assert untested.code is FindingCode.ART_STROKES_UNTESTED
    assert "60 %, 200 mm/s" in untested.message


def test_lines_as_svg_are_paths_without_fill_true_to_scale():
    made = strokes_of(MultiLineString([[(10, 5), (10, 15), (30, 15)]]), ROOM, 0.08)
    svg = strokes_svg(made, (80, 40), "t", False)
    assert 'fill="none"' in svg
    assert 'stroke-width="0.080"' in svg
    assert "50.000,15.000" in svg
    assert "70.000,5.000" in svg
    assert "10.000,5.000" in strokes_svg(made, (80, 40), "t", True)
