"""The plant: its heat against published closed forms; and what any coat does: thicker needs more, fills run hot."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from keencoat.bench.batch import BatchSetting, filled_patch, run_batch
from keencoat.bench.filmfield import Coated, CoatFault
from keencoat.bench.plant.exposure import Stand
from keencoat.bench.plant.fill import Beam, Lines, bulk_rise_k, burn_fill, burn_points, heating
from keencoat.bench.plant.heat import cooling_s, kept_in_air, patch_step_k, peak_share, resting_share
from keencoat.bench.plant.layer import bursting
from keencoat.bench.plant.many import Bench
from keencoat.bench.plant.materials import MATERIALS, Piece, Way, draw_piece, hidden_material
from keencoat.bench.plant.piece import BurnedPiece, Sheet
from keencoat.core.substrate.processes import PROCESSES

FILM = np.full((8, 8), 36.0)


@pytest.mark.parametrize(("peclet", "share"), [(0.1, 0.98066), (1, 0.84666), (10, 0.45394), (100, 0.16053)])
def test_moving_spot_against_cline_and_anthony(peclet, share):
    """Peak over static at Pe = v·w/α (Cline & Anthony, J. Appl. Phys. 48:3895, 1977)."""
    assert float(peak_share(peclet)) == pytest.approx(share, rel=2e-3)


def test_resting_spot_against_lax():
    """1 W, 50 µm, k 1: 7978.8 K at last, 4580.8 K after 1 ms (Lax 1977; α 0.5 mm²/s)."""
    assert resting_share(0.5, 0.05, 1e-3) == pytest.approx(4580.8 / 7978.8, rel=1e-3)
    assert resting_share(0.5, 0.05, 1e6) == pytest.approx(1, abs=1e-3)


def test_patch_against_constant_flux_and_the_steady_disc():
    """2q√(αt/π)/k: 25.2313 K at 1e6 W/m², 1 ms; steady disc q·a/k (Carslaw & Jaeger §10.5)."""
    assert patch_step_k(1.0, 1000, np.array([1e-3]), 1e4, 1.0, 0.5)[0] == pytest.approx(25.2313, rel=1e-4)
    assert patch_step_k(0.1, 1.0, np.array([1e6]), 1e5, 1.0, 0.5)[0] == pytest.approx(100, rel=2e-3)
    assert patch_step_k(0.1, 1.0, np.array([-1.0, 0.0]), 4, 1.0, 0.5).tolist() == [0, 0]


def beam(key="frost", piece=None, **changes):
    return Beam(12.0, 450.0, replace(MATERIALS[key], **changes), piece or Piece())


def fill(key, power, speed=60.0, interval=0.1, passes=1, film=None, piece=None):
    b = beam(key, piece)
    nominal = np.full((8, 8), b.material.film_um) if film is None else film
    return burn_fill(b, filled_patch(BatchSetting(power, speed, interval, passes), 3000, 6.0), 4.0, nominal, 0.0)


def boundaries(key, share_of_film, speed=60.0):
    """Powers at which a fill turns clean and harsh, for a film thicker or thinner than usual."""
    film = np.full((8, 8), share_of_film * MATERIALS[key].film_um)
    powers = np.geomspace(0.01, 30, 700)
    fills = [fill(key, p, speed, film=film) for p in powers]
    clean = next(p for p, f in zip(powers, fills, strict=True) if f.mark.mean() > 0.8)
    harsh = next(p for p, f in zip(powers, fills, strict=True) if f.harm.mean() > 0.02)
    return clean, harsh


@pytest.mark.parametrize("key", sorted(MATERIALS))
def test_a_thicker_coat_moves_both_boundaries_up(key):
    usual, thick = boundaries(key, 1.0), boundaries(key, 1.5)
    assert usual[0] < usual[1]
    assert thick[0] > usual[0]
    assert thick[1] > usual[1]


def test_every_process_has_a_material_of_its_own():
    assert {m.process for m in MATERIALS.values()} == set(PROCESSES)


def first(values, holds):
    """The least of `values` for which it holds."""
    return next(v for v in values if holds(v))


@pytest.mark.parametrize("speed", [8, 60, 250])
def test_a_thick_film_blocks_at_any_speed_and_a_thin_one_starves(speed):
    """Too thick blocks almost completely, and slower or more passes rescue it little: common practice, no source."""
    b, one = beam(), np.ones(1)
    usual = heating(b.material, 5.0, speed, 0.045, 36.0 * one)
    assert heating(b.material, 5.0, speed, 0.045, 2 * 36.0 * one) < 0.55 * usual
    assert heating(b.material, 5.0, speed, 0.045, 3 * 36.0 * one) < 0.25 * usual
    assert heating(b.material, 5.0, speed, 0.045, 0.15 * 36.0 * one) < 0.6 * usual
    powers = np.geomspace(0.01, 60, 500)
    thick = np.full((8, 8), 2.4 * 36.0)
    both = [p for p in powers if (f := fill("frost", p, speed, film=thick)).mark.mean() > 0.8 and f.harm.mean() < 0.02]
    assert not both


def test_mark_and_damage_follow_laws_of_their_own():
    """The gap between both in ln power is not the same at every speed, and lines that crowd close it."""
    gaps = []
    for speed, interval in ((5, 0.1), (60, 0.1), (300, 0.1), (60, 0.04), (60, 0.02)):
        powers = np.geomspace(0.02, 8, 900)
        fills = {p: fill("frost", p, speed, interval) for p in powers}
        clean = first(powers, lambda p, fills=fills: fills[p].mark.mean() > 0.8)
        gaps.append(math.log(first(powers, lambda p, fills=fills: fills[p].harm.mean() > 0.02) / clean))
    assert gaps[2] > gaps[1] + 0.15
    assert gaps[4] < gaps[3] - 0.05
    assert gaps[0] < gaps[2]


@pytest.mark.parametrize("radius", [0.03, 0.045])
def test_too_bright_a_spot_bursts_the_layer_at_2p_over_pi_w_squared(radius):
    limit_w = 9000 * math.pi * radius**2 / 2
    layer = np.full(1, 36.0)
    assert float(bursting(beam(pop_w_mm2=9000.0).material, limit_w, radius, layer)[0]) == pytest.approx(1.0)
    assert float(bursting(beam(pop_w_mm2=9000.0).material, limit_w, radius, 4 * layer)[0]) > 1.5
    lines = Lines(4000.0, 0.1, 1)
    calm, bright = (
        burn_points(beam(pop_w_mm2=9000.0).material, lines, share * limit_w, radius, layer, np.zeros(1))
        for share in (0.9, 1.1)
    )
    assert calm.harm[0] < 0.015 < bright.harm[0]


def test_a_plate_cools_in_air_as_newton_says():
    """Lumped: P·τ(1 − e^(−t/τ))/C against P·t/C without loss; float glass of 4 mm cools in a few minutes."""
    tau = cooling_s(4.0, 1.0, 0.5)
    assert tau == pytest.approx(2.0e-3 * 4 / (2 * 14e-6))
    times = np.array([1e-3, tau, 10 * tau])
    assert kept_in_air(times, tau) == pytest.approx([1.0, 1 - math.exp(-1), (1 - math.exp(-10)) / 10], rel=1e-5)
    b = beam()
    long = filled_patch(BatchSetting(0.8, 4, 0.05, 1), 3000, 18.0)
    assert long.end_s > 5 * tau
    assert bulk_rise_k(b, long, 4.0, np.array([1.0]))[0] < bulk_rise_k(b, long, 400.0, np.array([1.0]))[0] * 10


def test_a_standing_beam_leaves_a_harmed_dot():
    piece = BurnedPiece(MATERIALS["frost"], Sheet(14, 14, False, 4), Piece(), 12.0, 3)
    piece.expose([], [], [Stand(7, 5, 1.0, 2.0, 0.0), Stand(3, 3, 1.0, 1e-7, 0.0)])
    rows, columns = np.nonzero(piece.harm)
    assert (columns.mean() / 16, 14 - rows.mean() / 16) == pytest.approx((7, 5), abs=0.1)
    assert piece.mark.sum() > piece.harm.sum() > 0
    assert piece.mark[:, : 5 * 16].max() == 0


@given(power=st.floats(0.1, 1), speed=st.floats(10, 250), more=st.floats(1.05, 3))
def test_more_power_and_slower_heat_more(power, speed, more):
    b = beam()
    base = heating(b.material, 12 * power, speed, 0.045, FILM)
    assert (heating(b.material, 12 * power * more, speed, 0.045, FILM) > base).all()
    assert (heating(b.material, 12 * power, speed / more, 0.045, FILM) > base).all()
    assert (heating(b.material, 12 * power, speed, 0.045 * more, FILM) < base).all()


def test_fills_run_hotter_than_strokes_and_later_passes_than_first():
    b = beam()
    once = filled_patch(BatchSetting(0.8, 40, 0.1, 1), 3000, 6.0)
    rise = bulk_rise_k(b, once, 4.0, np.linspace(0.05, 1, 8))
    assert (np.diff(rise) > 0).all()
    twice = filled_patch(BatchSetting(0.8, 40, 0.1, 2), 3000, 6.0)
    assert bulk_rise_k(b, twice, 4.0, np.array([0.5]))[0] > bulk_rise_k(b, once, 4.0, np.array([0.5]))[0]


def test_out_of_focus_marks_less():
    """20 mm off did nothing at all: common practice, no source."""
    sharp, off = fill("frost", 0.9), fill("frost", 0.9, piece=Piece(focus_mm=20))
    assert sharp.mark.mean() > 0.9
    assert off.mark.max() == 0


def test_lines_further_apart_than_they_mark_leave_stripes():
    piece = BurnedPiece(MATERIALS["frost"], Sheet(14, 14, False, 4), Piece(), 12.0, 3)
    piece.expose([filled_patch(BatchSetting(0.8, 60, 0.25, 1), 3000, 8.0)], [])
    rows = piece.mark[48:120, 60:100].mean(axis=1)
    spectrum = np.abs(np.fft.rfft(rows - rows.mean()))
    assert np.argmax(spectrum) / len(rows) * 16 == pytest.approx(1 / 0.25, abs=0.4)


def test_the_same_seed_burns_the_same_piece_and_another_does_not():
    hatch = filled_patch(BatchSetting(0.9, 30, 0.1, 1), 3000, 8.0)
    looks = []
    for seed in (5, 5, 6):
        piece = BurnedPiece(MATERIALS["frost"], Sheet(14, 14, False, 4), Piece(), 12.0, seed)
        piece.expose([hatch], [])
        looks.append(piece.look())
    assert np.array_equal(looks[0], looks[1])
    assert not np.array_equal(looks[0], looks[2])


def test_hidden_materials_are_unlike_and_their_machines_lie():
    drawn = [hidden_material("frost", seed) for seed in range(40)]
    watts = [m.watts_factor for m in drawn]
    assert 0.8 <= min(watts) < 0.85
    assert 1.15 < max(watts) <= 1.2
    assert len({m.power_curve for m in drawn}) == 40
    assert np.std([math.log(m.mark_power_w) for m in drawn]) == pytest.approx(0.3, abs=0.1)
    pieces = [draw_piece(drawn[0], np.random.default_rng(n)) for n in range(300)]
    assert np.std([math.log(p.film) for p in pieces]) == pytest.approx(drawn[0].film_cv, rel=0.2)


def test_a_batch_in_the_middle_is_clean_and_at_the_edge_is_not():
    material = MATERIALS["frost"]
    assert material.way is Way.HEAT
    clean, harsh = boundaries("frost", 1.0)
    bench = Bench(material, 12.0, 450.0, 3000.0, 4.0)
    middle = run_batch(bench, BatchSetting(1.25 * clean, 60, 0.1, 1), 12, 77)
    assert sum(p.truth.verdict == "clean" for p in middle) >= 10
    edge = run_batch(bench, BatchSetting(0.98 * clean, 60, 0.1, 1), 12, 77)
    assert sum(p.truth.verdict == "clean" for p in edge) <= 9
    assert all(p.why for p in edge if p.truth.verdict != "clean")
    hot = run_batch(bench, BatchSetting(1.3 * harsh, 60, 0.1, 1), 12, 77)
    assert all(p.truth.verdict == "harsh" for p in hot)
    poor = run_batch(bench, BatchSetting(1.25 * clean, 60, 0.1, 1), 12, 77, Coated(CoatFault.THIN))
    assert sum(p.truth.verdict == "clean" for p in poor) < 6
