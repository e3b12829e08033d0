"""Speed targets, run by hand: pytest -m bench tests/apps. Medians on two cores."""

import statistics
import time

import pytest

from keencoat.core.window.fit import fit_window
from keencoat.core.window.recommend import map_window
from tests.apps.conftest import wedge

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
        "one point": median_s(lambda: api.post(f"{base}/window/point", setting)),
    }
    for name, seconds in figures.items():
        print(f"{name}: {1000 * seconds:.0f} ms")
    assert max(figures.values()) < TARGET_S
