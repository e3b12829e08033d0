"""The plant's dots: as full as its fills where all are lit, smeared the way the head goes, and read from real moves."""

import math
import time

import numpy as np
import pytest
from shapely import box

from keencoat.bench.batch import BatchSetting, filled_patch
from keencoat.bench.laser.controller import Bed, Controller
from keencoat.bench.plant.exposure import Hatch, read_exposure
from keencoat.bench.plant.materials import MATERIALS, Piece
from keencoat.bench.plant.piece import BurnedPiece, Sheet
from keencoat.core.artwork.made import MadeDots, lines_of
from keencoat.core.artwork.screen import Screen, dots_of
from keencoat.core.quantities import Setting
from keencoat.core.toolpath.gcode import gcode_lines
from tests.core.conftest import make_machine

POWER = {"frost": 0.8, "reveal": 0.2}


def burned(key, hatch, side=12):
    piece = BurnedPiece(MATERIALS[key], Sheet(side, side, False, 4), Piece(), 12.0, 3)
    piece.expose([hatch], [])
    return piece.mark


def halved(hatch):
    """The same lines in two runs each, a hair apart."""
    rows = [(y, a, b) for y, x0, x1 in hatch.passes[0] for a, b in ((x0, 5.0), (5.0001, x1))]
    return Hatch(hatch.power, hatch.speed_mm_s, 0.0, hatch.start_s, hatch.end_s, [rows])


@pytest.mark.parametrize("key", ["frost", "reveal"])
def test_all_dots_are_a_fill(key):
    whole = filled_patch(BatchSetting(POWER[key], 60, 0.08, 1), 3000, 8.0)
    dotted = halved(whole)
    assert (whole.is_whole, dotted.is_whole) == (True, False)
    middle = np.s_[56:128, 56:128]
    assert burned(key, dotted)[middle].mean() == pytest.approx(burned(key, whole)[middle].mean(), abs=0.06)
    assert burned(key, dotted)[:, : 16 + 8].max() == 0


@pytest.mark.parametrize("key", ["frost", "reveal"])
def test_more_dots_mark_more(key):
    greys = []
    for share in (0.25, 0.5, 0.75, 1.0):
        dots = dots_of(np.full((100, 100), share, np.float32), Screen.BAYER_4)
        rows = [
            (2 + 0.08 * (n + 0.5), 2 + 0.08 * a, 2 + 0.08 * b)
            for n, row in enumerate(dots)
            for a, b in np.flatnonzero(np.diff(np.pad(row.astype(int), 1))).reshape(-1, 2)
        ]
        greys.append(burned(key, Hatch(POWER[key], 60, 0.0, 0.0, 20.0, [rows]))[56:128, 56:128].mean())
    assert (np.diff(greys) > 0.1).all()
    assert 0.02 < greys[0] < 0.6
    assert greys[-1] > 0.9


def test_a_dot_smears_the_way_the_head_goes():
    ways = {}
    for name, run in (("right", (5.9, 6.1)), ("left", (6.1, 5.9))):
        mark = burned("frost", Hatch(0.9, 60, 0.0, 0.0, 1.0, [[(6.0, *run), (6.5, 3.0, 9.0)]]))
        row = mark[round((12 - 6.0) * 16) - 2 : round((12 - 6.0) * 16) + 2].sum(axis=0)
        ways[name] = float((row * (np.arange(len(row)) + 0.5)).sum() / row.sum() / 16)
    assert 6 < ways["right"] < 6.1
    assert ways["left"] == pytest.approx(12 - ways["right"], abs=0.005)


def test_artwork_is_read_from_the_moves_that_were_made():
    """G-code through the controller, both ways and in two passes, in rows of over 400 moves: the dots that were asked
    for, at the speed and power of the setting throughout."""
    rng = np.random.default_rng(5)
    dots = rng.random((12, 900)) < 0.5
    dots[7] = False
    machine, setting = make_machine(accel_mm_s2=3000, max_speed_mm_s=300), Setting(60, 120, 0.1, passes=2)
    lines = lines_of(0.1, 0.1, box(-50, -50, 50, 50))
    made = MadeDots(dots, -45.0, -0.6, lines.pitch_mm, lines.interval_mm)
    controller = Controller(Bed(300, 300, 60, 60, 300, 3000), math.inf)
    sent = [line for _, line in gcode_lines(made.program(setting, machine, (100, 20), False), machine, "dots")]
    for line in sent:
        controller.take(line)
    while controller.state.done < len(sent):
        time.sleep(0.01)
    controller.close()
    (hatch,), traces, stands = read_exposure(controller.burned)
    assert (traces, stands, len(hatch.passes), hatch.is_whole) == ([], [], 2, False)
    assert (hatch.power, hatch.speed_mm_s) == pytest.approx((0.6, 120), rel=1e-3)
    assert hatch.interval_mm == pytest.approx(0.1)
    seen = np.zeros_like(dots)
    for y, x0, x1 in hatch.passes[0]:
        a, b = sorted((x0, x1))
        seen[round((y - 9.4) / 0.1 - 0.5), round((a - 5) / 0.1) : round((b - 5) / 0.1)] = True
    assert np.array_equal(seen, dots)
