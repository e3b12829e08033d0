"""A load in a jig: which piece lies where, the order that lets neighbours cool, where the jig lies by its touched
crosses (scikit-image fits the same), one file for all of it (read by an independent parser), and cooling by its closed
form and by a plate cut into slices."""

import math
from itertools import permutations

import numpy as np
import pytest
from gcodeparser import parse_gcode_lines
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from skimage.transform import estimate_transform

from keencoat.core.errors import BadValueError
from keencoat.core.geometry import Transform, offset, turn
from keencoat.core.heat.cooling import WASHABLE_RISE_K, cooling_s
from keencoat.core.heat.properties import thermal_of
from keencoat.core.jig.fitting import play_left_mm
from keencoat.core.jig.layout import JigSpec, lay_jig
from keencoat.core.jig.load_program import LoadProgram
from keencoat.core.jig.loads import closest_mm, cooling_order, from_pocket, loads_of, still_warm
from keencoat.core.jig.seating import off_bed, seat
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities import BeamSource, Machine, Setting
from keencoat.core.toolpath import Item, Part, Placed, Polylines, gcode_lines, require_on_bed

TAG = FlatPiece(Shape.RECTANGLE, 50, 30, 3)
SPEC = JigSpec((300, 200), gap_mm=6)
JIG = lay_jig(TAG, SPEC)
MACHINE = Machine(BeamSource.BLUE, 10.0, 0.1, 1.0, 200.0, 1.0, 1000.0, 400.0, 400.0)
SETTING = Setting(50, 40, 0.1, 1)


def by_distance(order, warm):
    """How near each piece comes to one of the few before it, pair by pair."""
    at = [(s.pocket.x_mm, s.pocket.y_mm) for s in order]
    return [math.dist(at[n], at[m]) for n in range(len(at)) for m in range(max(0, n - warm), n)]


def test_the_batch_comes_in_loads():
    held = len(JIG.pockets)
    assert held == 25
    loads = loads_of(JIG, 47)
    assert [[s.piece for s in load] for load in loads] == [[*range(1, 26)], [*range(26, 48)]]
    assert all([s.pocket for s in load] == [*JIG.pockets[: len(load)]] for load in loads)
    assert [len(load) for load in loads_of(JIG, held)] == [held]
    for bad in (0, math.nan, 100_001):
        with pytest.raises(BadValueError):
            loads_of(JIG, bad)


@given(st.integers(1, 20), st.integers(0, 8))
@settings(max_examples=40)
def test_every_piece_is_burned_once_and_warm_neighbours_are_left_alone(pieces, warm):
    seats = loads_of(JIG, pieces)[0]
    order = cooling_order(seats, warm)
    assert sorted(s.piece for s in order) == [s.piece for s in seats]
    assert order[0] == seats[0]
    found = closest_mm(order, warm)
    pairs = by_distance(order, warm)
    assert found == (pytest.approx(min(pairs)) if pairs else None)
    if not warm:
        assert order == seats


@pytest.mark.parametrize("warm", [1, 2])
def test_an_order_that_cools_is_nearly_the_best_of_all(warm):
    """Against every order of seven pieces."""
    seats = loads_of(JIG, 7)[0]
    best = max(closest_mm((seats[0], *rest), warm) for rest in permutations(seats[1:]))
    found, rows = closest_mm(cooling_order(seats, warm), warm), closest_mm(seats, warm)
    assert found >= 0.9 * best
    assert found >= rows
    if warm == 1:
        assert found > 1.5 * rows


def test_a_full_jig_leaves_a_pocket_between_warm_ones():
    seats = loads_of(JIG, 25)[0]
    assert closest_mm(seats, 1) == pytest.approx(56.4)
    assert closest_mm(cooling_order(seats, 1), 1) > 110
    assert closest_mm(cooling_order(seats, 3), 3) > 70
    many = loads_of(lay_jig(FlatPiece(Shape.DISC, 8, 8, 1, 1), JigSpec((240, 240), gap_mm=5)), 200)[0]
    assert closest_mm(cooling_order(many, 3), 3) > 4 * closest_mm(many, 3)


@pytest.mark.parametrize(("cool_s", "piece_s", "warm"), [
    (0, 30, 0), (29, 30, 1), (30, 30, 1), (31, 30, 2), (90, 30, 3), (1e6, 30, 8), (5, 0, 8),
])  # fmt: skip
def test_so_many_pieces_are_still_warm(cool_s, piece_s, warm):
    assert still_warm(cool_s, piece_s) == warm


def test_a_load_goes_on_from_the_pocket_where_it_stopped():
    order = cooling_order(loads_of(JIG, 7)[0], 2)
    at = order[3].pocket.number
    assert from_pocket(order, at) == order[3:]
    assert from_pocket(order, order[0].pocket.number) == order
    with pytest.raises(BadValueError, match="No piece of this load lies in pocket 8") as refused:
        from_pocket(order, 8)
    assert (refused.value.field, refused.value.hint) == ("from_pocket", "Give one of pockets 1 to 7.")


@given(st.floats(-20, 200), st.floats(-20, 200), st.floats(-180, 180), st.floats(0.9, 1.1))
def test_crosses_touched_say_where_a_jig_lies_as_scikit_image_fits_it(x, y, angle, stretch):
    """`skimage.transform.estimate_transform("similarity")`, which is Umeyama's fit too."""
    own = np.array(JIG.crosses_mm)
    moved = Transform(xx=stretch, yy=stretch).then(turn(angle)).then(offset(x, y))
    touched = np.column_stack(moved.at(*own.T))
    found = seat(JIG.crosses_mm, [tuple(p) for p in touched.tolist()])
    theirs = estimate_transform("similarity", own, touched)
    assert (found.scale, math.radians(found.turn_deg)) == pytest.approx(
        (theirs.scale, theirs.rotation), abs=1e-6
    ) or abs(abs(found.turn_deg) - 180) < 1e-4
    # The middle of the jig comes where theirs does; the scale is told and not applied.
    middle = own.mean(axis=0)
    assert found.to_bed.at(*middle) == pytest.approx(theirs(middle)[0], abs=1e-6)
    apart = math.dist(*JIG.crosses_mm)
    assert found.residual_mm == pytest.approx(abs(stretch - 1) * apart / 2, abs=1e-6)
    assert math.dist(found.to_bed.at(0.0, 0.0), found.to_bed.at(30.0, 40.0)) == pytest.approx(50)
    codes = {f.code for f in found.findings}
    assert ("jig-stretched" in codes) == (abs(stretch - 1) > 0.004)
    assert ("jig-turned" in codes) == (abs(found.turn_deg) > 45)


def test_with_more_crosses_the_seating_is_the_least_squares_one():
    rng = np.random.default_rng(4)
    own = rng.uniform(0, 200, (5, 2))
    touched = np.column_stack(turn(8).then(offset(30, 12)).at(*own.T)) + rng.normal(0, 0.3, own.shape)
    found = seat([tuple(p) for p in own], [tuple(p) for p in touched])
    theirs = estimate_transform("euclidean", own, touched)
    assert math.radians(found.turn_deg) == pytest.approx(theirs.rotation, abs=1e-9)
    assert found.residual_mm == pytest.approx(np.hypot(*(theirs(own) - touched).T).max(), rel=1e-6)


@pytest.mark.parametrize(
    ("touched", "field"),
    [
        ([(5, 5)], "touched"),
        ([(5, 5), (6.9, 5)], "touched"),
        ([(5, 5), (math.nan, 5)], "touched.1.x"),
        ([(5, 1e308), (100, 5)], "touched.0.y"),
        ([(5, 5), (50, 5), (90, 9)], "touched"),
    ],
)
def test_crosses_that_cannot_be(touched, field):
    with pytest.raises(BadValueError) as refused:
        seat(JIG.crosses_mm, touched)
    assert (refused.value.field, bool(refused.value.hint)) == (field, True)
    if len(touched) == 2 and touched[1] == (6.9, 5):
        seat(JIG.crosses_mm, [(5, 5), (7.1, 5)])


def test_pockets_past_the_bed_are_named():
    def lying(x, y):
        return seat(JIG.crosses_mm, [(5 + x, 5 + y), (295 + x, 195 + y)])

    assert off_bed(JIG, lying(0, 0), MACHINE) == ()
    assert off_bed(JIG, lying(100, 200), MACHINE) == ()
    one_side = off_bed(JIG, lying(-20, 0), MACHINE)[0]
    assert (one_side.code, one_side.figures["pockets"]) == ("jig-off-bed", 5)
    assert "5 pockets, the first of them 1," in one_side.message
    for x, y, count in ((120, 0, 5), (0, -20, 5), (0, 220, 5)):
        assert off_bed(JIG, lying(x, y), MACHINE)[0].figures["pockets"] == count


def test_one_pocket_past_the_bed_is_named_alone():
    """Turned by 20° about its lower left cross, which lies in the corner: the lower right pocket stays, the upper left
    one leaves."""
    cos, sin = math.cos(math.radians(20)), math.sin(math.radians(20))
    shift = 45.0
    touched = [(shift + cos * x - sin * y, 5 + sin * x + cos * y) for x, y in JIG.crosses_mm]
    found = off_bed(JIG, seat(JIG.crosses_mm, touched), MACHINE)
    assert found[0].message.startswith("Pocket 21 lies past the bed of 400 × 400 mm")
    assert found[0].severity == "stop"


def drawn(piece):
    """A stroke as long as the piece's number, from the lower left corner of its box."""
    return Polylines((((0.0, 0.0), (float(piece), 0.0)),), SETTING, MACHINE, Item(Part.ARTWORK))


@given(st.floats(0, 60), st.floats(0, 100), st.floats(-10, 10))
@settings(max_examples=15)
def test_a_load_is_one_file_with_every_piece_in_its_pocket(x, y, angle):
    """Read back by gcodeparser."""
    to_bed = turn(angle).then(offset(40 + x, 60 + y))
    order = cooling_order(loads_of(JIG, 6)[0], 2)
    program = LoadProgram(order, drawn, (50, 30), to_bed)
    text = "\n".join(line for _, line in gcode_lines(program, MACHINE, "load"))
    lines = list(parse_gcode_lines(text, include_comments=False))
    starts = [(m.params["X"], m.params["Y"]) for m in lines if m.command_str == "G0"][: len(order)]
    ends = [(m.params["X"], m.params["Y"]) for m in lines if m.command_str == "G1"]
    for seat_of, start, end in zip(order, starts, ends, strict=True):
        corner = seat_of.pocket.x_mm - 25, seat_of.pocket.y_mm - 15
        assert start == pytest.approx(to_bed.at(*corner), abs=2e-3)
        assert end == pytest.approx(to_bed.at(corner[0] + seat_of.piece, corner[1]), abs=2e-3)
        assert f"of piece {seat_of.piece} in pocket {seat_of.pocket.number}" in text
    assert next(iter(program.for_time())).moves.x_mm == pytest.approx(next(iter(program)).moves.x_mm)


def test_what_would_leave_the_bed_is_refused_with_how_far():
    program = Polylines((((0.0, 0.0), (10.0, 5.0)),), SETTING, MACHINE, Item(Part.ARTWORK))
    for x, y in ((0, 0), (390, 395), (0, 395), (390, 0)):
        require_on_bed(Placed(program, offset(x, y)), MACHINE, "points")
    for x, y, beyond in ((-0.5, 3, 0.5), (390.7, 3, 0.7), (3, -0.4, 0.4), (3, 395.6, 0.6)):
        with pytest.raises(BadValueError, match=rf"leave the bed by {beyond:.1f} mm") as refused:
            require_on_bed(Placed(program, offset(x, y)), MACHINE, "points")
        assert refused.value.field == "points"


@pytest.mark.parametrize(("piece", "left"), [
    (TAG, 0.4), (FlatPiece(Shape.RECTANGLE, 50.3, 30, 3), 0.4), (FlatPiece(Shape.RECTANGLE, 49, 30, 3), 1.4),
    (FlatPiece(Shape.RECTANGLE, 50.4, 30, 3), None), (FlatPiece(Shape.RECTANGLE, 50, 28.8, 3), None),
    (FlatPiece(Shape.RECTANGLE, 50, 30.5, 3), None), (FlatPiece(Shape.DISC, 50, 50, 3), None),
])  # fmt: skip
def test_a_jig_takes_pieces_that_go_in_and_do_not_rattle(piece, left):
    found = play_left_mm(TAG, SPEC, piece)
    assert found == (None if left is None else pytest.approx(left))


@pytest.mark.parametrize("substrate", ["soda_lime_glass", "white_glazed_tile", "powder_coated_steel"])
def test_cooling_follows_the_lump_and_a_plate_cut_into_slices_agrees(substrate):
    """Q/(ρcd)·dT/dt = −hT by its closed form (Incropera, ch. 5), and by a heat equation over 12 slices of the plate."""
    thermal, thick = thermal_of(substrate), 3.0
    quick, slow = cooling_s(60, 15, thick, thermal)
    per_m2 = thermal.density * thermal.capacity * thick / 1000
    assert quick == pytest.approx(per_m2 / 20.0 * math.log(4), rel=1e-9)
    assert slow == pytest.approx(per_m2 / 5.1 * math.log(4), rel=1e-9)
    n, h = 12, 20.0
    dx = thick / 1000 / n

    def flow(_, rise):
        between = thermal.conductivity * np.diff(rise) / dx
        into = np.concatenate([between, [-h * rise[-1]]]) - np.concatenate([[0.0], between])
        return into / (thermal.density * thermal.capacity * dx)

    got = solve_ivp(flow, (0, quick), np.full(n, 60.0), method="BDF", rtol=1e-6).y[:, -1].mean()
    assert got == pytest.approx(15, rel=0.06)
    assert cooling_s(15, 15, thick, thermal) == (0.0, 0.0)
    assert WASHABLE_RISE_K.value == 15
    for bad in ((60, 0, 3), (60, 15, 0), (60, math.nan, 3)):
        with pytest.raises(BadValueError):
            cooling_s(*bad, thermal)
