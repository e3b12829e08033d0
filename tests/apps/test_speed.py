"""Speed targets, run by hand: pytest -m bench tests/apps. Medians on two cores."""

import statistics
import time

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from keencoat.bench.coatshots import Lamp, ShotSetup, shoot_coat
from keencoat.bench.filmfield import CoatFault
from keencoat.bench.gridshots import draw_pose
from keencoat.core.reading.cells import read_grid_photo
from keencoat.core.reading.gridframe import find_grid_frame
from keencoat.core.reading.gridplan import Sight
from keencoat.core.vision.photo import decode_photo
from keencoat.core.window.fit import fit_window
from keencoat.core.window.map import map_window
from tests.apps.conftest import wedge
from tests.bench.burned import burn, piece_of, shoot

TARGET_S = 0.150


def median_s(call, before=lambda: None, repeats=15):
    times = []
    for _ in range(repeats):
        before()
        start = time.perf_counter()
        call()
        times.append(time.perf_counter() - start)
    return statistics.median(times)


def forget():
    fit_window.cache_clear()
    map_window.cache_clear()


@pytest.mark.bench
@pytest.mark.parametrize("process", ["frost", "fuse", "back_engrave"])
def test_a_grid_photo_of_twelve_megapixels_is_read_quickly(process):
    program, piece = burn(process), piece_of(process, 9001, hidden=False)
    data = shoot(piece, program, draw_pose(np.random.default_rng(3), (4000, 3000)), 3)
    sight = Sight(program.layout, 12)

    def read():
        photo = decode_photo(data)
        read_grid_photo(photo, find_grid_frame(photo, sight), sight)

    seconds = median_s(read, repeats=7)
    print(f"{process} grid photo, 12 MP: {1000 * seconds:.0f} ms")
    assert seconds < 2.0


@pytest.mark.bench
def test_a_photo_of_twelve_megapixels_is_measured_quickly(api):
    job = api.coated_job()
    setup = ShotSetup(Lamp.BEHIND, 94, 74, photo_px=(4000, 3000), mean_film_um=30)
    shot = shoot_coat(CoatFault.STREAKED, setup, 5)

    def send(**more):
        files = {"photo": SimpleUploadedFile("shot.jpg", shot.coated)} | more
        assert api.client.post(f"/api/jobs/{job['id']}/coat/photos", files).status_code == 201

    alone = median_s(send, repeats=7)
    with_bare = median_s(lambda: send(bare=SimpleUploadedFile("bare.jpg", shot.bare)), repeats=7)
    print(f"coat photo, 12 MP: {1000 * alone:.0f} ms; with a bare shot: {1000 * with_bare:.0f} ms")
    assert max(alone, with_bare) < 1.5


@pytest.mark.bench
def test_calls_that_compute_answer_quickly(api):
    job = api.coated_job()
    api.rate(api.burned_grid(job), wedge)
    base = f"/jobs/{job['id']}"
    setting = {"power_pct": 50, "speed_mm_s": 50, "interval_mm": 0.1, "passes": 1}
    figures = {
        "grid draft, 12 cells": median_s(lambda: api.post(f"{base}/grids/draft", {"interval_mm": 0.1}), forget),
        "grid draft, blind 81": median_s(
            lambda: api.post(f"{base}/grids/draft", {"interval_mm": 0.1, "kind": "blind", "cell_mm": 4, "gap_mm": 2})
        ),
        "window, fit and map anew": median_s(lambda: api.get(f"{base}/window"), forget),
        "window, kept": median_s(lambda: api.get(f"{base}/window")),
        "coat plan": median_s(lambda: api.get(f"{base}/coat")),
        "coats on offer": median_s(lambda: api.get(f"{base}/coat/offers")),
        "bench": median_s(lambda: api.get("/bench")),
        "one point": median_s(lambda: api.post(f"{base}/window/point", setting)),
    }
    for name, seconds in figures.items():
        print(f"{name}: {1000 * seconds:.0f} ms")
    assert max(figures.values()) < TARGET_S
