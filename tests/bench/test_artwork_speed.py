"""How fast artwork is made, by hand: pytest -m bench -s tests/bench/test_artwork_speed.py."""

import resource
import time

import numpy as np
import pytest
from PIL import Image
from shapely import box
from skimage.data import camera

from keencoat.core.artwork import (
    DotModel,
    Look,
    Picture,
    Placement,
    Screen,
    Tones,
    ToneWork,
    as_burned,
    dots_of_picture,
    for_screen,
    lines_of,
    toned,
)
from keencoat.core.artwork.screen import dots_of
from keencoat.core.quantities import Setting
from keencoat.core.toolpath.gcode import gcode_lines
from keencoat.core.window.fit import fit_window
from keencoat.core.window.places import place_odds
from keencoat.core.window.priors import prior_for
from tests.core.conftest import make_machine

pytestmark = pytest.mark.bench
TILE = Look(0.75, 0.08)


def best_of(work, tries=5):
    seconds = []
    for _ in range(tries):
        began = time.perf_counter()
        work()
        seconds.append(time.perf_counter() - began)
    return min(seconds)


def photo(side):
    light = np.asarray(Image.fromarray(camera()).resize((side, side)), dtype=np.float32) / 255
    return Picture(light, np.ones_like(light))


def test_twelve_taps_against_pillows_four():
    light = photo(2000).light
    eight_bit = Image.fromarray((255 * light).astype(np.uint8))
    dots_of(light, Screen.STUCKI)
    share = best_of(lambda: eight_bit.convert("1")) / best_of(lambda: dots_of(light, Screen.STUCKI))
    print(f"\n12 taps: {share:.2f} of Pillow's own one-bit conversion")
    assert share >= 0.35


def test_a_tile_is_seen_within_a_second_and_a_change_of_tone_at_once():
    machine, setting = make_machine(), Setting(60, 120, 0.085)
    odds = place_odds(fit_window((), prior_for("fuse", machine.source)), setting, machine)
    model, lines = DotModel(0.085, 0.085, 0.033, 0.3), lines_of(0.085, 0.1, box(-54, -54, 54, 54))
    work = ToneWork(gamma=1.2, local=0.5, sharpen=0.5, ground=0.02)
    screen = for_screen(photo(2400), 1000)
    change_s = best_of(lambda: toned(screen, work))
    tones = Tones(TILE, Screen.STUCKI)

    def see():
        made = dots_of_picture(photo(1600), Placement(108), lines, tones)
        as_burned(made.dots, model, odds)

    seen_s = best_of(see, 3)
    print(f"\ntone change at screen size {1000 * change_s:.0f} ms; a tile of 108 mm as it will burn {seen_s:.2f} s")
    assert change_s < 0.15
    assert seen_s < 1


def test_fourteen_megadots_come_out_as_gcode_in_little_memory():
    machine, setting = make_machine(), Setting(60, 200, 0.08)
    lines = lines_of(0.08, 0.1, box(-150, -150, 150, 150))
    made = dots_of_picture(photo(3000), Placement(300), lines, Tones(TILE, Screen.STUCKI))
    began = time.perf_counter()
    count = sum(1 for _ in gcode_lines(made.program(setting, machine, (300, 300), False), machine, "tile"))
    seconds = time.perf_counter() - began
    peak_mb = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000
    print(
        f"\n{made.dots.size / 1e6:.1f} megadots: {count / 1e6:.1f} million lines in {seconds:.0f} s, {peak_mb:.0f} MB"
    )
    assert seconds < 20
    assert peak_mb < 600
