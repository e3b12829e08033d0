"""Artwork on a setting's lines: where it lies, what the head does for it, and what is expected to come of it."""

from dataclasses import replace

import numpy as np
import pytest
from gcodeparser import parse_gcode_lines
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Point, box
from skimage.data import camera

from keencoat.core.artwork.burned import as_burned, burned_from
from keencoat.core.artwork.faces import averaged
from keencoat.core.artwork.made import (
    MAX_DOTS,
    Placement,
    Tones,
    dots_of_area,
    dots_of_picture,
    lines_of,
    off_room_mm,
    placed_area,
)
from keencoat.core.artwork.picture import Picture
from keencoat.core.artwork.screen import Screen
from keencoat.core.artwork.spread import DotModel, flat_fullness, mean_fullness
from keencoat.core.artwork.tone_curve import SHARES, Look, ToneCurve
from keencoat.core.errors import BadValueError
from keencoat.core.quantities import BeamSource, Setting
from keencoat.core.rating import Rating
from keencoat.core.toolpath.gcode import write_gcode
from keencoat.core.toolpath.timing import burn_time_s
from keencoat.core.window.fit import fit_window
from keencoat.core.window.model import observe
from keencoat.core.window.places import place_odds
from keencoat.core.window.predict import odds_of
from keencoat.core.window.priors import prior_for
from tests.core.conftest import make_machine

TILE = Look(0.75, 0.08)
GLASS = Look(0.05, 0.55)
SETTING = Setting(60, 120, 0.1)
PLATE = box(-50, -30, 50, 30)


def grey(rows) -> Picture:
    light = np.array(rows, np.float32)
    return Picture(light, np.ones_like(light))


def burned_at(text: str) -> list[tuple[float, float, float]]:
    """What a file burns, by an independent parser: (x0, x1, y) of each lit stretch."""
    x = y = 0.0
    found = []
    for line in parse_gcode_lines(text):
        to_x, to_y = line.params.get("X", x), line.params.get("Y", y)
        if line.command_str == "G1" and line.params.get("S", 0) > 0:
            assert to_y == y
            found.append((min(x, to_x), max(x, to_x), y))
        x, y = to_x, to_y
    return found


def test_a_picture_lies_where_it_is_placed_and_is_burned_where_it_is_dark_on_a_tile():
    """Left half black: on white tile it burns, on dark glass the other half does."""
    picture = grey([[0, 0, 1, 1]] * 2)
    for look, left in ((TILE, 10 - 4), (GLASS, 10)):
        made = dots_of_picture(picture, Placement(8, 10, 5), lines_of(0.1, 0.1, PLATE), Tones(look, Screen.THRESHOLD))
        assert made.dots.shape == (40, 80)
        assert made.box == pytest.approx((6, 3, 14, 7))
        assert made.lit_mm2 == pytest.approx(16)
        lit = made.left_mm + np.flatnonzero(made.dots[20]) * made.pitch_mm
        assert (lit.min(), lit.max() + 0.1) == pytest.approx((left, left + 4))


def test_upper_rows_are_burned_higher_and_quarter_turns_go_counterclockwise():
    picture = grey([[0, 1], [1, 1]])
    corners = []
    for turns in range(4):
        made = dots_of_picture(
            picture, Placement(4, 0, 0, turns), lines_of(0.1, 0.1, PLATE), Tones(TILE, Screen.THRESHOLD)
        )
        rows, columns = np.nonzero(made.dots)
        corners.append((columns.mean() < 20, rows.mean() > 20))
    assert corners == [(True, True), (True, False), (False, False), (False, True)], "upper left, then round"


def test_nothing_is_burned_off_the_coat_nor_where_a_picture_is_see_through():
    disc = Point(0, 0).buffer(10)
    picture = grey(np.zeros((30, 30)))
    made = dots_of_picture(picture, Placement(30), lines_of(0.1, 0.1, disc), Tones(TILE, Screen.STUCKI))
    rows, columns = np.nonzero(made.dots)
    x, y = made.left_mm + (columns + 0.5) * 0.1, made.low_mm + (rows + 0.5) * 0.1
    assert np.hypot(x, y).max() <= 10
    assert made.lit_mm2 == pytest.approx(np.pi * 100, rel=0.005)
    there = np.ones((30, 30), np.float32)
    there[:, 15:] = 0
    half = dots_of_picture(
        replace(picture, there=there), Placement(30), lines_of(0.1, 0.1, disc), Tones(TILE, Screen.STUCKI)
    )
    assert half.lit_mm2 == pytest.approx(np.pi * 50, rel=0.02)
    assert off_room_mm((-15, -15, 15, 15), disc) == pytest.approx(15 * np.sqrt(2) - 10, abs=0.01)
    assert off_room_mm((-7, -7, 7, 7), disc) == 0


def test_tones_become_shares_by_the_look_and_the_curve():
    """Half the lightness between ground and mark is a fullness by L*'s cube; a curve asks for fewer dots than that."""
    flat = grey(np.full((40, 40), 0.5))
    lines = lines_of(0.1, 0.1, PLATE)
    plain = dots_of_picture(flat, Placement(20), lines, Tones(TILE, Screen.JARVIS)).dots.mean()
    dark, light = (116 * np.cbrt(y) - 16 for y in (0.08, 0.75))
    wanted = (0.75 - (((dark + light) / 2 + 16) / 116) ** 3) / (0.75 - 0.08)
    assert plain == pytest.approx(wanted, abs=0.004)
    fullness = np.sqrt(SHARES)
    curve = ToneCurve(Screen.JARVIS, fullness, fullness, fullness, (), DotModel(0.1, 0.1, 0.03, 0.2), 0 * SHARES)
    gained = dots_of_picture(flat, Placement(20), lines, Tones(TILE, Screen.JARVIS, curve)).dots.mean()
    assert gained == pytest.approx(wanted**2, abs=0.02)


def test_dots_are_never_shorter_than_the_spot_holds_and_never_endless():
    assert lines_of(0.02, 0.15, PLATE).pitch_mm == pytest.approx(0.05)
    assert lines_of(0.1, 0.15, PLATE).pitch_mm == 0.1
    huge = Placement(500), lines_of(0.05, 0.1, PLATE), Tones(TILE, Screen.STUCKI)
    with pytest.raises(BadValueError, match="million dots") as told:
        dots_of_picture(grey(np.zeros((16, 16))), *huge)
    assert told.value.field == "placement.width_mm"
    assert MAX_DOTS < 500**2 / 0.05**2
    with pytest.raises(BadValueError):
        Placement(float("nan"))
    with pytest.raises(BadValueError, match="None of it"):
        dots_of_area(box(80, 0, 90, 5), lines_of(0.1, 0.1, PLATE))


@given(st.floats(5, 40), st.floats(-20, 20), st.floats(-10, 10), st.integers(0, 3))
@settings(max_examples=30, deadline=None)
def test_outlines_are_placed_true_to_scale(width, x, y, turns):
    """A page 20 × 10 mm with a square in its lower left corner."""
    placed = placed_area(box(0, 0, 4, 4), (20, 10), Placement(width, x, y, turns))
    assert placed.area == pytest.approx((4 * width / 20) ** 2)
    angle = np.pi / 2 * turns
    middle = width / 20 * np.array([2 - 10, 2 - 5])
    turned = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]]) @ middle
    assert placed.centroid.coords[0] == pytest.approx((x + turned[0], y + turned[1]), abs=1e-6)


@pytest.mark.parametrize("mirrored", [False, True])
def test_the_file_burns_each_dot_once_a_pass_and_no_place_else(mirrored):
    """Read by an independent parser: lengths sum up, rows run both ways, all lie on the coat."""
    machine = make_machine()
    setting = Setting(60, 120, 0.2, passes=2)
    rng = np.random.default_rng(3)
    picture = grey(rng.random((20, 50)))
    made = dots_of_picture(picture, Placement(25, 10, 5), lines_of(0.2, 0.1, PLATE), Tones(TILE, Screen.BURKES))
    program = made.program(setting, machine, (100, 60), mirrored)
    found = burned_at(write_gcode(program, machine, "leaf", mirrored))
    assert sum(b - a for a, b, _ in found) == pytest.approx(2 * made.dots.sum() * 0.2, rel=1e-6)
    assert sum(b - a for a, b, _ in found) == pytest.approx(program.lit_mm, rel=1e-6)
    rows = made.dots.shape[0]
    for a, b, y in found:
        row = (y - 30 - 5) / 0.2 + rows / 2 - 0.5
        assert row == pytest.approx(round(row), abs=0.01)
        left, right = (100 - b, 100 - a) if mirrored else (a, b)
        columns = slice(round((left - 50 - made.left_mm) / 0.2), round((right - 50 - made.left_mm) / 0.2))
        assert made.dots[round(row), columns].all()


def test_white_rows_are_skipped_and_lines_end_with_their_ink():
    machine = make_machine(accel_mm_s2=1000, max_speed_mm_s=200)
    light = np.ones((40, 40))
    light[10:12, 5:9] = 0
    light[30, 20:30] = 0
    lines = lines_of(1.0, 0.1, box(-30, -30, 30, 30))
    made = dots_of_picture(grey(light), Placement(40), lines, Tones(TILE, Screen.THRESHOLD))
    setting = Setting(50, 100, 1.0)
    tasks = [*made.program(setting, machine, (60, 60), False)]
    lit = np.concatenate([task.moves.power_pct > 0 for task in tasks])
    assert lit.sum() == 3
    assert burn_time_s(tasks, machine) == pytest.approx(stepped_time(tasks, machine), rel=0.01)


def stepped_time(tasks, machine, dt=2e-5):
    """The same file moved step by step: the head speeds up and slows down at its limit, and comes to rest where moves
    stop."""
    total, x, y = 0.0, 0.0, 0.0
    for task in tasks:
        m = task.moves
        run = 0.0
        for i in range(len(m)):
            run += float(np.hypot(m.x_mm[i] - x, m.y_mm[i] - y))
            x, y = float(m.x_mm[i]), float(m.y_mm[i])
            if not m.stops[i]:
                continue
            at = speed = 0.0
            while at < run:
                braking = speed**2 / (2 * machine.accel_mm_s2)
                faster = at + braking + speed * dt < run and speed < m.speed_mm_s[i]
                slower = at + braking >= run
                speed += machine.accel_mm_s2 * dt * (1 if faster else -1 if slower else 0)
                at += max(speed, 1e-3) * dt
                total += dt
            run = 0.0
    return total


@pytest.fixture(scope="module")
def fitted():
    machine = make_machine()
    rated = [
        (30, 120, Rating.FAINT), (45, 120, Rating.FAINT), (60, 120, Rating.CLEAN), (75, 120, Rating.CLEAN),
        (95, 120, Rating.HARSH), (60, 60, Rating.HARSH), (35, 60, Rating.CLEAN), (20, 60, Rating.FAINT),
    ]  # fmt: skip
    seen = tuple(observe(Setting(p, v, 0.1), machine, r, piece=n % 2) for n, (p, v, r) in enumerate(rated))
    return machine, fit_window(seen, prior_for("frost", BeamSource.BLUE))


def test_a_fill_on_the_jobs_own_film_has_the_windows_chances(fitted):
    """The same posterior read another way: at no change of energy and film it is `odds_of` without scatter of coats."""
    machine, fit = fitted
    bare = replace(fit, prior=replace(fit.prior, scatter=replace(fit.prior.scatter, coat_cv=0.0)))
    odds = odds_of(bare, SETTING, machine)
    places = place_odds(fit, SETTING, machine)
    faint, clean, harsh = (float(places.of(rating, np.zeros(1))[0]) for rating in Rating)
    assert faint + clean + harsh == pytest.approx(1)
    assert (faint, clean, harsh) == pytest.approx((odds.faint, odds.clean.mid, odds.harsh), abs=0.03)


def test_more_energy_and_thinner_films_move_places_from_faint_to_harsh(fitted):
    machine, fit = fitted
    odds = place_odds(fit, SETTING, machine)
    ln = np.linspace(-1.5, 0.6, 12)
    faint, clean, harsh = (odds.of(rating, ln) for rating in Rating)
    assert (np.diff(faint) <= 1e-9).all()
    assert (np.diff(harsh) >= -1e-9).all()
    assert faint[0] > 0.95
    assert clean.max() > 0.6
    thick, thin = ([odds.of(rating, np.zeros(1), np.full(1, np.log(f))) for rating in Rating] for f in (1.6, 0.6))
    assert thick[0][0] > faint[np.abs(ln).argmin()] > thin[0][0]
    assert thin[2][0] > thick[2][0]
    assert odds.of(Rating.FAINT, np.full(1, -50.0), 9.0) == pytest.approx(odds.of(Rating.FAINT, np.full(1, -2.0), 0.8))
    assert 0.05 < odds.margin_ln < 0.6
    assert 0.02 < odds.margin_sd < 0.5


def test_a_fill_is_clean_lone_dots_are_faint_and_a_thick_stripe_shows(fitted):
    machine, fit = fitted
    odds = place_odds(fit, SETTING, machine)
    model = DotModel(0.1, 0.1, 0.05, odds.margin_ln, 2.0)
    dots = np.zeros((60, 90), bool)
    dots[10:50, 10:50] = True
    dots[10:50:6, 60:85:6] = True
    burned = as_burned(dots, model, odds)
    assert burned.fullness[30, 30] == pytest.approx(flat_fullness(np.ones(1), Screen.BAYER_4, model)[0], abs=1e-3)
    assert burned.faint[30, 30] == pytest.approx(float(odds.of(Rating.FAINT, np.zeros(1))[0]), abs=0.02)
    assert burned.faint[10, 60] > 0.9
    assert burned.harsh[10, 60] < 0.05
    # As greys, their loss was reckoned with: it is a little less energy that makes them faint.
    as_greys = as_burned(dots, model, odds, greys=True)
    assert burned.faint[30, 30] < as_greys.faint[10, 60] < 0.6
    assert as_greys.faint[30, 30] == burned.faint[30, 30]
    told = as_burned(dots, model, odds, left_over=np.full(SHARES.shape, -0.1))
    assert told.fullness[30, 30] == pytest.approx(burned.fullness[30, 30] - 0.1, abs=1e-3)
    assert burned.faint[0, 0] == burned.harsh[0, 0] == 0
    assert burned.shares.faint == pytest.approx(burned.faint[dots].mean(), rel=1e-4)
    assert burned.shares.called_faint == pytest.approx((burned.faint > 0.7).sum() / dots.sum())
    assert 0 < burned.shares.called_faint < burned.shares.faint
    film = np.zeros(dots.shape, np.float32)
    film[:, 28:32] = np.log(1.8)
    streaked = as_burned(dots, model, odds, film)
    assert streaked.fullness[30, 30] < burned.fullness[30, 30] - 0.1
    assert streaked.faint[30, 30] > 0.5 > streaked.faint[30, 15]
    assert streaked.harsh[30, 30] < burned.harsh[30, 30]
    assert (streaked.fullness[30, 40], streaked.harsh[30, 40]) == (burned.fullness[30, 40], burned.harsh[30, 40])
    assert streaked.light(TILE)[30, 30] > burned.light(TILE)[30, 30]
    assert as_burned(dots, model, odds, np.log(0.5)).shares.harsh > burned.shares.harsh


def test_a_photo_keeps_its_greys_when_its_gain_is_taken_back():
    """By the model's own dots, averaged over 2 mm: nearer to the wanted lightness than without, all over the photo."""
    model = DotModel(0.1, 0.1, 0.04, 0.3, 2.0)
    fullness = np.maximum.accumulate(flat_fullness(SHARES, Screen.STUCKI, model))
    curve = ToneCurve(Screen.STUCKI, fullness, fullness, fullness, (), model, 0 * SHARES)
    picture, lines = grey(camera()[::4, ::4].astype(float) / 255), lines_of(0.1, 0.1, box(-40, -40, 40, 40))
    off = {}
    for name, used in (("with", curve), ("without", None)):
        made = dots_of_picture(picture, Placement(51.2), lines, Tones(TILE, Screen.STUCKI, used))
        came, meant = (
            area.reshape(32, len(area) // 32, 32, -1).mean(axis=(1, 3))
            for area in (mean_fullness(made.dots, model), TILE.fullness_for(picture.light)[::-1])
        )
        off[name] = float(np.abs(100 * (TILE.light_of(came) - TILE.light_of(meant))).mean())
    assert off["with"] < 3 < off["without"]


@given(st.integers(0, 2**32 - 1), st.booleans())
@settings(max_examples=8, deadline=None)
def test_a_face_burned_a_few_rows_at_a_time_is_the_face_burned_at_once(fitted, seed, greys):
    rng = np.random.default_rng(seed)
    dots = rng.random((101, 40)) < 0.5
    film = rng.normal(0, 0.2, dots.shape).astype(np.float32)
    model, odds = DotModel(0.1, 0.08, 0.05, 0.5), place_odds(fitted[1], SETTING, fitted[0])
    left_over = np.linspace(-0.1, 0.1, len(SHARES))
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("keencoat.core.artwork.burned._ROWS", 7)
        parts = as_burned(dots, model, odds, film, left_over, greys)
    whole = as_burned(dots, model, odds, film, left_over, greys)
    for name in ("fullness", "faint", "harsh"):
        assert getattr(parts, name) == pytest.approx(getattr(whole, name), abs=1e-6)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("keencoat.core.artwork.burned._ROWS", 9)
        patch.setattr("keencoat.core.artwork.faces.MOST_PLACES", 500)
        few = as_burned(dots, model, odds, film, left_over, greys)
    assert (whole.side, few.side) == (1, 3)
    assert few.shares == whole.shares
    for name in ("fullness", "faint", "harsh"):
        assert getattr(few, name) == pytest.approx(averaged(getattr(whole, name), 3), abs=1e-3)


def test_from_seven_in_ten_on_a_place_is_called_faint_or_harsh():
    dots = np.ones((1, 4), dtype=bool)
    chances = np.array([[0.2, 0.69, 0.71, 0.95]])
    shares = burned_from(dots, np.ones((1, 4)), chances, 1 - chances).shares
    assert (shares.called_faint, shares.called_harsh) == (0.5, 0.25)
    assert (shares.faint, shares.harsh) == pytest.approx((2.55 / 4, 1.45 / 4))
