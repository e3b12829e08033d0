"""How warm plates get: the patch against the closed forms that it must reach in its limits, and the warnings."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.constants import Stefan_Boltzmann

from keencoat.core.coat.catalogue import COATS
from keencoat.core.grid.burning import BurnPlan, grid_tasks
from keencoat.core.grid.design import design_listed
from keencoat.core.grid.layout import place
from keencoat.core.heat.artwork import ArtBurn, artwork_heat
from keencoat.core.heat.grid import grid_heat
from keencoat.core.heat.kept import kept_share
from keencoat.core.heat.plate import RADIATED_W_M2_K, heat_findings, mean_rise_k, patch_rise_k
from keencoat.core.heat.properties import THERMAL, Thermal, thermal_of
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities.energy import areal_energy_j_mm2
from keencoat.core.quantities.setting import BeamSource, Setting
from keencoat.core.substrate.materials import SUBSTRATES
from keencoat.core.substrate.processes import PROCESSES
from keencoat.core.toolpath.program import Moves, energy_on_piece_j
from keencoat.core.toolpath.timing import burn_time_s, moves_time_s
from tests.core.conftest import make_machine

BLUE, NIR, CO2 = BeamSource.BLUE, BeamSource.NEAR_INFRARED, BeamSource.CO2
GLASS = Thermal(1.0, 2500, 800, shock_k=48)


def test_constant_flux_on_a_half_space_worked_example():
    """2q√(αt/π)/k: 1e6 W/m², 1 ms, k 1, α 0.5 mm²/s → 25.2313 K (Carslaw & Jaeger 1959)."""
    assert patch_rise_k(1.0, 1000, 1e-3, 1000, GLASS) == pytest.approx(25.2313, rel=1e-4)


def test_a_large_patch_on_a_thin_plate_warms_evenly():
    """q·t/(ρ·c·d) once heat has crossed the plate, plus a third of the drop across it (Carslaw & Jaeger §3.8)."""
    flux, seconds, thin = 0.01, 60.0, 1.0
    even = flux * seconds / (GLASS.volume_heat_j_mm3_k * thin)
    drop = flux * thin / (3 * GLASS.conductivity * 1e-3)
    assert patch_rise_k(flux, 2000, seconds, thin, GLASS) == pytest.approx(even + drop, rel=2e-3)


def test_a_small_patch_on_a_thick_plate_levels_off():
    """Steady middle of a square source on a half-space: q·s·ln(1 + √2)·2/(π·k) (Carslaw & Jaeger §10.5)."""
    side, flux = 1.0, 0.02
    steady = 2 * flux * side * math.log(1 + math.sqrt(2)) / (math.pi * GLASS.conductivity * 1e-3)
    assert patch_rise_k(flux, side, 4000, 1000, GLASS) == pytest.approx(steady, rel=0.02)


def test_plate_rise_worked_example():
    """5 W, half absorbed, 60 s, 100 × 100 × 3 mm soda-lime → 2.5 K."""
    assert mean_rise_k(0.5 * 5 * 60, 100 * 100, 3, GLASS) == pytest.approx(2.5)


def test_a_face_that_radiates_keeps_the_plate_cooler():
    """4εσT³ at 293.15 K, ε 0.9: 5.14 W/m²K (CODATA σ, scipy). A long steady heating tends to Q/t over h·A."""
    assert pytest.approx(4 * 0.9 * Stefan_Boltzmann * 293.15**3, rel=0.01) == RADIATED_W_M2_K
    steady_k = 2.0 / (RADIATED_W_M2_K * 0.01)
    long_s = 40 * GLASS.volume_heat_j_mm3_k * 3 / (RADIATED_W_M2_K * 1e-6)
    assert mean_rise_k(2.0 * long_s, 100 * 100, 3, GLASS, long_s) == pytest.approx(steady_k, rel=0.01)
    assert mean_rise_k(150, 100 * 100, 3, GLASS, 60) == pytest.approx(2.5 * (1 - 0.0255), rel=1e-3)


@pytest.mark.parametrize(
    ("substrate", "coat", "source", "film_um", "most"),
    [
        ("soda_lime_glass", "tempera_brushed", BLUE, 40, 0.938),
        ("soda_lime_glass", "black_card", CO2, 250, 0.84),
        ("white_glazed_tile", "tio2_alcohol", BLUE, 45, 0.73),
        ("white_glazed_tile", "tio2_alcohol", NIR, 45, 0.95),
        ("aluminium", "resist_spray", BLUE, 0.01, 0.08),
    ],
)
def test_as_much_may_stay_as_coat_and_piece_absorb(substrate, coat, source, film_um, most):
    """Beer–Lambert by hand: 110/mm × 40 µm lets 1.2 % pass, and 1.6 % of that stays in glass; paint takes 95 %."""
    low, high = kept_share(SUBSTRATES[substrate], COATS[coat], source, film_um)
    assert high == pytest.approx(most, abs=0.005)
    assert low == pytest.approx(0.05)
    assert low <= high


@given(
    side=st.floats(1, 20),
    seconds=st.floats(0.1, 100),
    thick=st.floats(0.5, 12),
    key=st.sampled_from(sorted(THERMAL)),
)
def test_longer_larger_and_thinner_are_never_cooler(side, seconds, thick, key):
    thermal = THERMAL[key]
    rise = patch_rise_k(0.05, side, seconds, thick, thermal)
    assert rise > 0
    slack = 1 - 2e-3
    assert patch_rise_k(0.05, side, 1.5 * seconds, thick, thermal) >= slack * rise
    assert patch_rise_k(0.05, 1.5 * side, seconds, thick, thermal) >= slack * rise
    assert patch_rise_k(0.05, side, seconds, thick / 1.5, thermal) >= slack * rise
    assert patch_rise_k(0.1, side, seconds, thick, thermal) == pytest.approx(2 * rise)


def test_every_substrate_that_is_marked_has_its_figures():
    for process in PROCESSES.values():
        assert all(thermal_of(key).diffusivity_mm2_s > 0 for key in process.substrates)
    assert set(THERMAL) == {k for k, s in SUBSTRATES.items() if not s.refused}


@pytest.mark.parametrize(
    ("patch_k", "plate_k", "key", "codes"),
    [
        (90, 5, "soda_lime_glass", []),
        (110, 5, "soda_lime_glass", ["patch-shock"]),
        (110, 5, "borosilicate_glass", []),
        (75, 5, "clear_acrylic", []),
        (85, 5, "clear_acrylic", ["patch-soft"]),
        (500, 30, "mild_steel", ["plate-warm"]),
        (float("inf"), 0, "white_glazed_tile", ["patch-shock"]),
    ],
)
def test_warnings_for_glass_glaze_and_acrylic(patch_k, plate_k, key, codes):
    found = heat_findings(patch_k, plate_k, thermal_of(key))
    assert [f.code for f in found] == codes
    assert all(f.fix and f.source for f in found)


def test_acrylic_gets_no_hotter_than_where_it_leaves_as_vapour():
    acrylic, glass = thermal_of("clear_acrylic"), thermal_of("soda_lime_glass")
    assert [acrylic.at_most_k(rise) for rise in (40.0, 329.0, 1226.0)] == [40, 329, 330]
    assert glass.at_most_k(1226.0) == 1226
    machine, setting = make_machine(), Setting(80, 100, 0.1)
    burn = ArtBurn(setting, machine, 0.5, 11.0, 4.0, 40)
    heat = artwork_heat(burn, FlatPiece(Shape.RECTANGLE, 100, 80, 3, 3), acrylic, (0.001, 0.9))
    assert heat.fill_low_k < 20 < heat.fill_high_k == 330


def test_a_grids_heat_is_that_of_its_hottest_patch_and_of_the_warmer_spare():
    """Two patches of 6 mm at 0.1 mm, 61 lines each, one pass and two: 12 W · 50 % over 61 lines of 6 mm at 100 mm/s
    is 22 J, and 44 J; the second burns twice as long at the same flux. Rises count what stays of the beam."""
    machine, piece = make_machine(), FlatPiece(Shape.RECTANGLE, 100, 80, 4)
    design = design_listed([Setting(50, 100, 0.1), Setting(50, 100, 0.1, 2)])
    layout = place(design, 6, 3)
    tasks = grid_tasks(layout, piece, machine, BurnPlan(Setting(5, 100, 0.1)))
    glass, kept = THERMAL["soda_lime_glass"], (0.5, 0.8)
    heat = grid_heat([(layout, tasks)], piece, machine, glass, kept)
    assert (heat.hottest, heat.lines_least, heat.lines_most) == ("A2", 61, 122)
    patches = {t.item.key: t for t in tasks if t.item.key}
    alone = [energy_on_piece_j([replace(t, moves=_patch_of(t.moves))], machine) for t in patches.values()]
    assert sorted(alone) == pytest.approx([12 * 0.5 * 61 * 6 / 100 * n for n in (1, 2)], rel=1e-3)
    moves = patches["A2"].moves
    seconds = moves_time_s(moves, machine, (moves.x_mm[0], moves.y_mm[0]))
    flux = areal_energy_j_mm2(Setting(50, 100, 0.1, 2), machine) / seconds
    worst = patch_rise_k(flux, 6, seconds, 4, glass)
    assert (heat.patch_low_k, heat.patch_high_k) == pytest.approx((0.5 * worst, 0.8 * worst))
    assert heat.energy_j == pytest.approx(energy_on_piece_j(tasks, machine))
    plate = mean_rise_k(heat.energy_j, 8000, 4, glass, burn_time_s(tasks, machine))
    assert (heat.plate_low_k, heat.plate_high_k) == pytest.approx((0.5 * plate, 0.8 * plate))
    twice = grid_heat([(layout, tasks), (layout, tasks)], piece, machine, glass, kept)
    assert twice.energy_j == pytest.approx(2 * heat.energy_j)
    assert twice.plate_high_k == pytest.approx(heat.plate_high_k)
    grey = replace(layout, cells=tuple(replace(c, cell=replace(c.cell, grey_pct=50)) for c in layout.cells))
    lighter = grid_heat([(grey, tasks)], piece, machine, glass, kept)
    assert lighter.patch_high_k == pytest.approx(0.5 * heat.patch_high_k)


def _patch_of(moves):
    """The patch's own moves: what comes before the first stroke of the sample, which rests at each corner."""
    end = next(n for n in range(len(moves) - 1) if moves.stops[n] and moves.stops[n + 1] and not moves.rapid[n + 1])
    columns = (moves.x_mm, moves.y_mm, moves.speed_mm_s, moves.power_pct, moves.stops, moves.rapid)
    return Moves(*(c[:end] for c in columns))


@pytest.mark.parametrize(("patch_k", "plate_k", "said"), [
    (96.2, 0, ["patch-shock"]), (95.8, 0, []), (0, 25.1, ["plate-warm"]), (0, 24.9, []),
])  # fmt: skip
def test_warnings_of_glass_begin_where_they_say(patch_k, plate_k, said):
    """Soda-lime glass cracks from 48 K (Kingery 1955); at a patch's rim half of its rise pulls: from 96 K."""
    assert [f.code for f in heat_findings(patch_k, plate_k, THERMAL["soda_lime_glass"])] == said
