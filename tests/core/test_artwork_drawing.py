"""Drawings, letters and lists of names from outside."""

import io
import unicodedata
from importlib.resources import files

import numpy as np
import pytest
from fontTools.pens.areaPen import AreaPen
from fontTools.ttLib import TTFont
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Point, box, union_all
from svgelements import SVG, Path

from keencoat.core.artwork.lettering import Typeface, missing_letters, needs_wide, text_area, text_ink, type_size_pt
from keencoat.core.artwork.names import MAX_NAMES, Name, read_names, require_all_set, set_names
from keencoat.core.drawing import FillRule, area_of, read_drawing
from keencoat.core.drawing.areas import joined
from keencoat.core.drawing.untrusted import MAX_NODES
from keencoat.core.errors import BadValueError

SVG_HEAD = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
    'width="100mm" height="50mm" viewBox="0 0 200 100">'
)


def drawn(body: str, head: str = SVG_HEAD):
    return read_drawing(f"{head}{body}</svg>".encode())


def test_groups_come_by_name_in_mm_with_y_up():
    drawing = drawn(
        '<defs><circle id="c" r="10"/></defs>'
        '<g id="back"><rect x="10" y="10" width="40" height="20"/>'
        '<rect x="20" y="15" width="10" height="10" fill="#fff"/></g>'
        '<g id="front"><g id="inner"><use xlink:href="#c" x="100" y="50"/></g>'
        '<path d="M150 60 H190" fill="none" stroke="#000" stroke-width="2"/></g>'
        '<rect x="0" y="0" width="9" height="9" display="none"/><circle r="4" cx="100" cy="90" fill="none"/>'
    )
    assert (drawing.width_mm, drawing.height_mm) == pytest.approx((100, 50), abs=1e-3)
    assert list(drawing.groups) == ["back", "front"]
    assert drawing.groups["back"].area == pytest.approx(20 * 10 - 5 * 5, rel=1e-4)
    assert drawing.groups["back"].bounds == pytest.approx((5, 35, 25, 45), abs=1e-3)
    front = drawing.groups["front"]
    disc, line = front.intersection(box(0, 0, 60, 50)), front.intersection(box(60, 0, 100, 50))
    assert disc.area == pytest.approx(np.pi * 25, rel=0.01)
    assert disc.centroid.coords[0] == pytest.approx((50, 25), abs=0.01)
    assert line.bounds == pytest.approx((75, 19.5, 95, 20.5), abs=1e-2)
    assert drawing.area.area == pytest.approx(sum(g.area for g in drawing.groups.values()))


SQUARES = st.builds(lambda x, y, side: box(x, y, x + side, y + side), *[st.integers(0, 6)] * 2, st.integers(0, 4))


@given(st.lists(SQUARES, max_size=6))
def test_areas_joined_are_their_union_with_none_and_empty_ones_among_them(areas):
    assert joined(areas).symmetric_difference(union_all(areas)).area == pytest.approx(0, abs=1e-9)


LEAF = "M20 80 C 30 20 90 10 170 20 C 160 70 110 95 20 80 Z M60 60 L120 40 L70 70 Z"


@pytest.mark.parametrize("rule", ["nonzero", "evenodd"])
def test_an_area_is_what_green_finds_along_the_curves(rule):
    """Green's theorem over svgelements' own points of the path, ring by ring: another way than faces and turns."""
    path = Path(LEAF)
    signed = []
    for sub in path.as_subpaths():
        t = np.linspace(0, 1, 20_001)
        x, y = np.array([(p.x, p.y) for p in (Path(sub).point(v) for v in t)]).T
        signed.append(0.5 * float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum()))
    same_way = np.sign(signed[0]) == np.sign(signed[1])
    expected = abs(signed[0]) - (0 if rule == "nonzero" and same_way else abs(signed[1]))
    assert drawn(f'<path d="{LEAF}" fill-rule="{rule}"/>').area.area == pytest.approx(expected / 4, rel=0.004)


@given(st.lists(st.tuples(st.integers(0, 12), st.integers(0, 12)), min_size=4, max_size=9))
@settings(max_examples=60, deadline=None)
def test_crossing_rings_fill_by_either_rule_as_winding_numbers_say(points):
    """By counting turns at the middles of a fine mesh, with angles, not crossings."""
    ring = np.array(points, float)
    for rule in FillRule:
        area = area_of([ring], rule)
        for at in np.random.default_rng(1).uniform(0, 12, (40, 2)):
            if len(np.unique(ring, axis=0)) < 3 or area_of([ring]).boundary.distance(Point(at)) < 1e-3:
                continue
            away = np.vstack([ring, ring[:1]]) - at
            angles = np.unwrap(np.arctan2(away[:, 1], away[:, 0]))
            turns = round(float(angles[-1] - angles[0]) / (2 * np.pi))
            inside = turns % 2 == 1 if rule is FillRule.EVENODD else turns != 0
            if area.boundary.distance(Point(at)) > 1e-3:
                assert area.covers(Point(at)) == inside


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no SVG"),
        (b"\xff\xfe\x00garbage", "no SVG"),
        (b"<html/>", "<html>"),
        (b'<svg width="10" height="10"/>', "nothing dark"),
        (b'<svg width="10" height="10"><script>x</script></svg>', "a script"),
        (b'<svg width="10" height="10"><g onload="x()"/></svg>', "runs a script"),
        (b'<!DOCTYPE svg [<!ENTITY a "b">]><svg>&a;</svg>', "entities"),
        (b'<svg width="10" height="10"><image href="data:,"/></svg>', "a picture"),
        (b'<svg width="10" height="10"><use href="http://elsewhere/x.svg#a"/></svg>', "fetches"),
        (b'<svg width="10" height="10"><style>@import "x"</style></svg>', "style sheet"),
        (b'<svg width="10" height="10"><text>a</text></svg>', "letters"),
        (b'<svg width="10" height="10"><rect width="4" height="4" fill="url(#g)"/></svg>', "url"),
        (b'<svg width="10" height="10"><g id="a"><use href="#a"/></g></svg>', "circle"),
        (b'<svg width="NaN" height="10"><rect width="4" height="4"/></svg>', "no size"),
        (b'<svg width="10" height="10"><rect width="1e308" height="1e308"/></svg>', "far beyond"),
        (b'<svg width="10" height="10">' + b"<g/>" * (MAX_NODES + 1) + b"</svg>", "parts"),
        (b"<svg>" + b"<g>" * 90 + b"</g>" * 90 + b"</svg>", "deep"),
        (b"<svg>" + b" " * 5_000_001 + b"</svg>", "5 MB"),
    ],
)
def test_what_may_not_be_in_a_drawing_is_named(data, says):
    with pytest.raises(BadValueError, match=says) as told:
        read_drawing(data)
    assert told.value.field == "drawing"
    assert told.value.hint


def test_uses_that_unfold_into_millions_are_refused_before_they_do():
    """Ten tens of tens: what is short to write and endless to draw."""
    layers = "".join(
        f'<g id="l{n}">' + f'<use xlink:href="#l{n - 1}"/>' * 10 + "</g>"
        if n
        else '<g id="l0"><rect width="1" height="1"/></g>'
        for n in range(7)
    )
    with pytest.raises(BadValueError, match="unfolds"):
        drawn(layers)


FONT = TTFont(io.BytesIO(files("keencoat.core").joinpath("fonts", "bold.ttf").read_bytes()))


@pytest.mark.parametrize("letter", ["H", "o", "B", "g", "ß"])
def test_a_letters_ink_is_what_fonttools_measures(letter):
    """Areas by Green's theorem along the font's own curves (fontTools' area pen), capitals by its OS/2 table."""
    glyphs = FONT.getGlyphSet()
    pen = AreaPen(glyphs)
    glyphs[FONT.getBestCmap()[ord(letter)]].draw(pen)
    scale = 10 / FONT["OS/2"].sCapHeight
    assert text_area(letter, Typeface.BOLD, 10).area == pytest.approx(abs(pen.value) * scale**2, rel=0.01)
    # Set at 12 points an em is 12/72 inch high.
    capital_mm = 12 / 72 * 25.4 * FONT["OS/2"].sCapHeight / FONT["head"].unitsPerEm
    assert type_size_pt(capital_mm, Typeface.BOLD) == pytest.approx(12, rel=0.01)


def test_lines_are_kerned_start_at_zero_and_stand_on_their_base():
    apart = text_area("A", Typeface.PLAIN, 5).bounds[2] + text_area("V", Typeface.PLAIN, 5).bounds[2]
    left, low, right, top = text_area("  AV ", Typeface.PLAIN, 5).bounds
    assert (left, low, top) == pytest.approx((0, 0, 5), abs=1e-6)
    assert right < apart
    assert text_area("g", Typeface.PLAIN, 5).bounds[1] < -0.5
    assert text_area("   ", Typeface.PLAIN, 5).is_empty
    assert missing_letters("Ahorn 枫 ☘", Typeface.PLAIN) == ["枫", "☘"]
    # Of one face, whatever they are called: o is as wide beside Cyrillic as its own face has it.
    assert needs_wide("Жo", Typeface.PLAIN)
    assert not needs_wide("Łódź", Typeface.PLAIN)
    with pytest.raises(BadValueError, match=r"“枫” \(U\+67AB\), “☘”"):
        text_area("Ahorn 枫 ☘", Typeface.PLAIN, 5)


def test_lists_are_read_whatever_wrote_them():
    text = "name;note\nAcer campestre;field maple\n\n Rosa  canina ;\nHeuchera, ‘Plum’\n"
    names = read_names(text.encode())
    assert [n.row for n in names.names] == [2, 4, 5]
    assert names.names[0] == Name(2, "Acer campestre", "field maple")
    assert names.names[1] == Name(4, "Rosa canina")
    assert names.names[2].first == "Heuchera, ‘Plum’"
    assert read_names("Käsepappel,Malve".encode("cp1252")).names[0].first == "Käsepappel"
    assert read_names("Käsepappel,Malve".encode("cp1252")).encoding == "cp1252"
    assert read_names("Käse\tMalve".encode("utf-16")).names[0] == Name(1, "Käse", "Malve")


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no names"),
        (b"name\n", "no names"),
        (b"\n" * 1_100_000, "1 MB"),
        (b"a\n" * (MAX_NAMES + 1), "1001 names"),
        (b"\n" * 1_000_001, "over 1 MB"),
        (b"\n" * 1_000_000, "no name"),
        (b"x" * 81, "81 letters"),
        (b"a\0b", "no text"),
        (b"\xff\xfe\x00", "no text"),
        (b"\x81\x8d\x8f", "no text"),
    ],
)
def test_what_is_no_list_is_refused(data, says):
    with pytest.raises(BadValueError, match=says) as told:
        read_names(data)
    assert told.value.field == "names"


ROOM = box(-30, -6, 30, 6)
NAMES = [
    Name(1, "Moss"),
    Name(2, "Digitalis purpurea", "foxglove"),
    Name(3, "Taraxacum sect. Ruderalia"),
    Name(4, "枫"),
]


def test_each_name_is_as_large_as_its_room_and_all_as_the_longest():
    each = set_names(NAMES, ROOM, Typeface.BOLD, 1.0, one_size=False)
    for set_name in each[:3]:
        assert ROOM.covers(set_name.ink)
        left, low, right, top = set_name.ink.bounds
        assert max((right - left) / 60, (top - low) / 12) == pytest.approx(1, abs=1e-3)
        assert (left + right, low + top) == pytest.approx((0, 0), abs=1e-6)
    together = set_names(NAMES, ROOM, Typeface.BOLD, 1.0, one_size=True)
    assert {s.capital_mm for s in together[:3]} == {min(s.capital_mm for s in each[:3])}
    assert all(ROOM.covers(s.ink) for s in together[:3])
    assert together[3].ink is None
    assert "枫" in together[3].why


@given(st.lists(st.floats(4, 40), min_size=4, max_size=4))
@settings(max_examples=30, deadline=None)
def test_whichever_side_of_the_coat_is_nearest_sets_the_size(sides):
    left, low, right, top = sides
    (found,) = set_names(NAMES[1:2], box(-left, -low, right, top), Typeface.BOLD, 0.01, one_size=False)
    x0, y0, x1, y1 = found.ink.bounds
    assert max(-x0 / left, -y0 / low, x1 / right, y1 / top) == pytest.approx(1, abs=1e-3)


def test_lists_may_be_as_long_as_they_may():
    assert len(read_names(b"a\n" * MAX_NAMES).names) == MAX_NAMES == 1000
    assert len(read_names(b"x" * 80).names[0].first) == 80
    assert read_names(b"Moos\nFarn,Schatten\n").names[1] == Name(2, "Farn", "Schatten")


def test_what_does_not_fit_is_listed_and_holds_nobody_back():
    each = set_names(NAMES[:3], ROOM, Typeface.BOLD, 1.0, one_size=False)
    least = (sorted(s.capital_mm for s in each)[0] + sorted(s.capital_mm for s in each)[1]) / 2
    found = set_names(NAMES[:3], ROOM, Typeface.BOLD, least, one_size=True)
    assert [s.name.row for s in found if s.ink is None] == [min(each, key=lambda s: s.capital_mm).name.row]
    assert f"under {least:.2g} mm" in next(s.why for s in found if s.ink is None)
    assert all(s.capital_mm >= least for s in found if s.ink is not None)
    disc = Point(0, 0).buffer(20, quad_segs=64)
    (on_disc,) = set_names(NAMES[1:2], disc, Typeface.PLAIN, 0.5, one_size=False)
    assert disc.covers(on_disc.ink)
    assert on_disc.ink.bounds[2] > 15


def test_the_svg_head_is_what_svgelements_reads():
    """The page in px, by the library's own parser."""
    svg = SVG.parse(io.StringIO(SVG_HEAD + "</svg>"), ppi=96)
    assert float(svg.width) * 25.4 / 96 == pytest.approx(100, abs=1e-3)


@pytest.mark.parametrize("typeface", Typeface)
def test_every_letter_of_latin_extended_can_be_set(typeface):
    """Latin-1 and Extended-A by Unicode's own categories; Greek and Cyrillic in the filled ones."""
    blocks = [(0xC0, 0x180)] + ([(0x391, 0x3CA), (0x400, 0x460)] if typeface.is_filled else [])
    letters = "".join(
        chr(c) for low, high in blocks for c in range(low, high) if unicodedata.category(chr(c))[0] == "L"
    )
    rare = set() if typeface.is_filled else set("ÐðĸŊŋſŉĿŀĲĳ")
    assert set(missing_letters(letters, typeface)) <= rare
    assert missing_letters(unicodedata.normalize("NFD", "ñŐŘșé"), typeface) == []


@pytest.mark.parametrize("letter", "ÅñóŘőŠțęİøŁ")
def test_accents_in_single_strokes_leave_their_letter_as_it_is(letter):
    plain = {"ø": "o", "Ł": "L"}.get(letter) or unicodedata.normalize("NFD", letter)[0]
    with_accent, without = text_ink(letter, Typeface.STROKES, 10), text_ink(plain, Typeface.STROKES, 10)
    extra = with_accent.difference(without.buffer(0.9))
    assert with_accent.bounds[3] - with_accent.bounds[1] >= without.bounds[3] - without.bounds[1]
    assert extra.length > 0 or letter == "İ"
    assert with_accent.length > without.length + 1


def test_nothing_is_made_of_a_list_that_would_lose_a_name():
    names = read_names("Moos\nŁubin\n枫\nАир".encode())
    with pytest.raises(BadValueError, match="no 枫, which stand in row 3"):
        require_all_set(names, Typeface.BOLD)
    with pytest.raises(BadValueError, match="row 4 “Аир”"):
        require_all_set(names, Typeface.STROKES)
    require_all_set(read_names("Moos\nŁubin\nАир".encode()), Typeface.BOLD)
