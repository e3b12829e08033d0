"""What somebody asks of an artwork: where it starts, what it comes to on each piece, and what is said of it."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Point, box

from keencoat.core.artwork.advice import made_findings, names_findings, picture_findings
from keencoat.core.artwork.limits import Detail
from keencoat.core.artwork.looks import LOOKS, look_of
from keencoat.core.artwork.made import MadeDots, Placement, Tones, lines_of
from keencoat.core.artwork.names import Name, NameList
from keencoat.core.artwork.picture import Picture
from keencoat.core.artwork.screen import Screen
from keencoat.core.artwork.spec import (
    ArtSpec,
    art_of_piece,
    first_spec,
    height_per_width,
    ink_of_piece,
    largest_fill_mm,
    names_set,
    piece_count,
)
from keencoat.core.artwork.tone import Crop, ToneWork
from keencoat.core.drawing import Drawing
from keencoat.core.errors import BadValueError
from keencoat.core.finding_codes import FindingCode
from keencoat.core.heat.artwork import ArtBurn, art_heat_findings, artwork_heat
from keencoat.core.heat.plate import patch_rise_k
from keencoat.core.heat.properties import thermal_of
from keencoat.core.piece import FlatPiece, Shape
from keencoat.core.quantities import Setting
from keencoat.core.substrate.processes import PROCESSES
from tests.core.conftest import make_machine

ROOM = box(-40, -20, 40, 20)
LINES = lines_of(0.1, 0.1, ROOM)
PLAIN = Picture(np.zeros((40, 80), np.float32), np.ones((40, 80), np.float32))
NAMES = NameList((Name(1, "Moss"), Name(2, "Fern", "shade"), Name(3, "☘")), "utf-8-sig")
VEIN, BLADE = box(2, 2, 4, 8), box(10, 2, 18, 8)
LEAF = Drawing(20.0, 10.0, VEIN.union(BLADE), {"vein": VEIN, "blade": BLADE})


def art_on(source, spec, names=(), piece=0):
    return art_of_piece(source, spec, LINES, tones(), ink_of_piece(source, spec, ROOM, names, piece), 0.1)


def tones(process="fuse", screen=Screen.THRESHOLD):
    return Tones(look_of(process).look, screen)


def test_every_process_says_what_is_burned_and_looks_like_it():
    assert set(LOOKS) == set(PROCESSES)
    for look in LOOKS.values():
        burned = "what is dark" if look.look.darkens else "what is light"
        assert burned in look.says
    assert [key for key, look in LOOKS.items() if look.look.darkens] == ["fuse"]
    assert {key for key, look in LOOKS.items() if look.one_tone} == {"frost", "ablate", "resist"}
    ramp = look_of("fuse").painted(np.array([[0.0, 0.5, 1.0]]))
    assert ramp[0, 0].tolist() == list(look_of("fuse").ground)
    assert ramp[0, 2].tolist() == list(look_of("fuse").mark)
    assert 140 < ramp[0, 1, 0] < 175, "half by light, not by code"
    assert look_of("fuse").painted(np.array([[1.0]]), np.array([[1.0]]))[0, 0].tolist() == list(look_of("fuse").harsh)


def test_artwork_starts_as_large_as_the_coat_holds():
    disc = Point(0, 0).buffer(30, quad_segs=64)
    square = Picture(np.zeros((50, 50), np.float32), np.ones((50, 50), np.float32))
    assert first_spec(square, disc, False).placement.width_mm == pytest.approx(60 / np.sqrt(2), abs=0.05)
    assert first_spec(PLAIN, ROOM, True) == ArtSpec(Placement(80.0), screen=Screen.THRESHOLD)
    assert first_spec(LEAF, ROOM, False).placement.width_mm == pytest.approx(80, abs=0.02)
    assert first_spec(NAMES, ROOM, False).screen is Screen.STUCKI
    cropped = ArtSpec(Placement(10), ToneWork(crop=Crop(0, 0, 0.5, 1)))
    assert (height_per_width(PLAIN, cropped), height_per_width(LEAF, cropped)) == (1.0, 0.5)


def test_each_piece_gets_its_own_name_and_all_the_same_drawing():
    set_ = names_set(NAMES, ArtSpec(Placement(1)), LINES, 1.0)
    arts = [art_on(NAMES, ArtSpec(Placement(1)), set_, piece) for piece in range(3)]
    assert [a.label for a in arts] == ["Moss", "Fern", "☘"]
    for art, name in zip(arts[:2], set_[:2], strict=True):
        assert art.made.lit_mm2 == pytest.approx(name.ink.area, rel=0.02)
        left, low, right, top = art.made.box
        assert ROOM.covers(box(left, low, right - 0.1, top - 0.1))
        assert (left + right, low + top) == pytest.approx((0, 0), abs=0.2)
    assert arts[2].made is None
    assert "☘" in arts[2].why
    with pytest.raises(BadValueError, match="no name 4"):
        art_on(NAMES, ArtSpec(Placement(1)), set_, 3)
    spec = ArtSpec(Placement(40), group="blade")
    assert art_on(LEAF, spec, piece=7).made.lit_mm2 == pytest.approx(8 * 6 * 4, rel=0.01)
    assert art_on(LEAF, replace(spec, group="")).made.lit_mm2 == pytest.approx(240, rel=0.01)
    with pytest.raises(BadValueError, match="It has vein, blade"):
        art_on(LEAF, replace(spec, group="root"))
    apart = replace(spec, each_group=True, group="")
    assert [piece_count(*both) for both in ((LEAF, apart), (LEAF, spec), (NAMES, spec), (PLAIN, apart))] == [2, 1, 3, 1]
    layers = [art_on(LEAF, apart, piece=piece) for piece in range(2)]
    assert [layer.label for layer in layers] == ["vein", "blade"]
    assert [layer.made.lit_mm2 for layer in layers] == pytest.approx([2 * 6 * 4, 8 * 6 * 4], rel=0.02)
    with pytest.raises(BadValueError, match="no group 3"):
        art_on(LEAF, apart, piece=2)


def test_bleed_reaches_past_the_edge_and_no_further():
    for bleed, wide in ((0.0, 80), (2.0, 84)):
        spec = ArtSpec(Placement(100), screen=Screen.THRESHOLD, bleed_mm=bleed)
        made = art_on(PLAIN, spec).made
        columns = np.flatnonzero(made.dots.any(axis=0))
        assert (columns[-1] - columns[0] + 1) * made.pitch_mm == pytest.approx(wide, abs=0.25)
    with pytest.raises(BadValueError):
        ArtSpec(Placement(10), bleed_mm=6)


@given(st.integers(0, 2**32 - 1), st.floats(0.5, 0.95))
@settings(max_examples=25, deadline=None)
def test_the_largest_fill_is_found_as_by_trying_every_square(seed, full):
    rng = np.random.default_rng(seed)
    blocks = rng.random((12, 15)) < full
    made = MadeDots(np.kron(blocks, np.ones((5, 5), bool)), 0, 0, 0.1, 0.1)
    best = max(
        (
            n
            for n in range(1, 13)
            for row in range(12 - n + 1)
            for column in range(15 - n + 1)
            if blocks[row : row + n, column : column + n].all()
        ),
        default=0,
    )
    assert largest_fill_mm(made) == best * 0.5


def test_a_picture_hears_what_is_wrong_with_it():
    frost, fuse = look_of("frost"), look_of("fuse")

    def codes(picture=PLAIN, look=fuse, **spec):
        return [f.code for f in picture_findings(picture, ArtSpec(**{"placement": Placement(8), **spec}), LINES, look)]

    assert codes() == []
    assert codes(look=frost) == ["art-one-tone"]
    assert codes(placement=Placement(8, 45)) == ["art-off-coat"]
    assert codes(placement=Placement(13.4)) == ["art-coarse"]
    assert codes(placement=Placement(13.2)) == []
    assert codes(tone=ToneWork(crop=Crop(0, 0, 0.5, 1))) == ["art-coarse"]
    half = replace(PLAIN, there=np.where(np.arange(80) < 40, 0, 1) * np.ones((40, 80), np.float32))
    (found,) = picture_findings(half, ArtSpec(Placement(8)), LINES, fuse)
    assert found.code == "art-see-through"
    assert found.figures["share_pct"] == pytest.approx(50)
    off = picture_findings(PLAIN, ArtSpec(Placement(8, 45), bleed_mm=3), LINES, fuse)[0]
    assert off.figures["off_mm"] == pytest.approx(9)
    assert codes(placement=Placement(8, 38), bleed_mm=2.0) == []
    greys = picture_findings(PLAIN, ArtSpec(Placement(8)), LINES, frost)[0].message
    one = picture_findings(PLAIN, ArtSpec(Placement(8), screen=Screen.THRESHOLD), LINES, frost)[0].message
    assert greys.endswith("burn a small one first.")
    assert one.endswith("It has one tone now.")


def test_a_list_hears_who_is_left_out_and_a_fill_that_it_is_untested():
    set_ = names_set(NAMES, ArtSpec(Placement(1)), LINES, 1.0)
    found = {f.code: f for f in names_findings(replace(NAMES, encoding="cp1252"), set_, 12)}
    assert set(found) == {"art-no-fit", "art-not-all", "art-encoding"}
    assert "1 of 3 names are left out. row 3 “☘”" in found["art-no-fit"].message
    assert names_findings(NAMES, set_[:2], 2) == []
    fine, lost = Detail(0.1, 0.1, 1), Detail(0.0, 0.1, 1)
    assert made_findings(20, 20, fine) == made_findings(34, 0, fine) == []
    assert [f.code for f in made_findings(34, 20, lost)] == ["art-large-fill", "art-line-lost"]
    assert made_findings(34, 20, fine)[0].figures == {"fill_mm": 34, "patch_mm": 20}


def test_heat_of_an_artwork_worked_examples():
    """Q/(m·c): 5 W, half kept, 60 s on 100 × 100 × 3 mm soda-lime warms it by 2.5 K (handbook arithmetic). A fill warms
    as a grid's cell of its size does, and not at all where there is none."""
    machine, plate = make_machine(rated_w=5.0), FlatPiece(Shape.RECTANGLE, 100, 100, 3)
    glass = thermal_of("soda_lime_glass")
    burn = ArtBurn(Setting(50, 100, 0.1), machine, 0.0, 300.0, 1e-3, 1)
    heat = artwork_heat(burn, plate, glass, (0.05, 0.5))
    assert heat.plate_high_k == pytest.approx(2.58, abs=0.01)
    assert heat.plate_low_k == pytest.approx(0.1 * heat.plate_high_k)
    assert (heat.fill_low_k, heat.fill_high_k) == (0, 0)
    # A fill whose lines are short is burned in no time; one among long lines has time to cool.
    alone, among = (
        artwork_heat(replace(burn, fill_mm=5, seconds=seconds, lines=51), plate, glass, (0.05, 0.5)).fill_high_k
        for seconds in (5, 50)
    )
    assert alone == pytest.approx(0.5 * patch_rise_k(0.25 / 5, 5, 5, 3, glass))
    assert alone > 2 * among > 0
    assert art_heat_findings(heat, glass) == ()
    hot = replace(heat, fill_high_k=2 * glass.shock_k + 1)
    assert [f.code for f in art_heat_findings(hot, glass)] == [FindingCode.PATCH_SHOCK]
