"""Photos that lie in tests/kept, read again: every figure as it was kept. Whoever changes a rule of measuring on
purpose keeps new ones (KEENCOAT_KEEP=1) and sees in the difference what moved."""

from dataclasses import asdict

import numpy as np
import pytest

from keencoat.core.coat.evenness.advice import advise_coat
from keencoat.core.coat.evenness.film import GROUND_REFLECTS, REFLECTS, LightWay, Optics
from keencoat.core.coat.evenness.measure import measure_coat
from keencoat.core.grid.design import design_listed
from keencoat.core.grid.layout import place
from keencoat.core.quantities.setting import Setting
from keencoat.core.reading.cells import read_grid_photo
from keencoat.core.reading.gridframe import find_grid_frame, with_lens
from keencoat.core.reading.gridplan import Sight
from keencoat.core.reading.rate import Tuning, propose
from keencoat.core.vision.outline import EdgeKind, find_outline
from keencoat.core.vision.photo import decode_photo
from keencoat.core.vision.rectify import SeenFace
from tests.kept import HERE, assert_as_kept, grid_of
from tests.kept.shoot import COATS, GRIDS


def outline_figures(outline):
    return {"points": [[float(v) for v in p] for p in outline.points], "kind": str(outline.frame), "lens": outline.lens}


@pytest.mark.parametrize("process", GRIDS)
def test_a_grid_is_read_as_it_was(process):
    photo, kept = decode_photo((HERE / f"grid-{process}.jpg").read_bytes()), grid_of(process)
    layout = place(design_listed([Setting(*s) for s in kept.settings]), 6.0, 3.0)
    sight = Sight(layout, 12)
    found = find_grid_frame(photo, sight)
    reading = read_grid_photo(photo, found, sight)
    by_hand = with_lens(photo, found.outline, sight)
    measured = {
        "outline": outline_figures(found.outline) | {"mirrored": found.mirrored},
        "by hand": outline_figures(by_hand),
        "px_per_mm": reading.px_per_mm,
        "full_l": reading.full_l,
        "noise_l": reading.noise_l,
        "cells": [asdict(cell) | {"doubts": list(cell.doubts)} for cell in reading.cells],
        "proposals": [
            asdict(propose(cell, process, tuning))
            for tuning in (Tuning(), Tuning(0.7, 0.3, 8))
            for cell in reading.cells
        ],
    }
    assert_as_kept(f"grid-{process}", measured)


@pytest.mark.parametrize("name", COATS)
def test_a_coat_is_measured_as_it_was(name):
    _, lamp, disc = COATS[name]
    behind = lamp.value == "behind"
    photo = decode_photo((HERE / f"coat-{name}.jpg").read_bytes())
    face = SeenFace(EdgeKind.RIM if disc else EdgeKind.CORNERS, 90, 90 if disc else 70)
    way = LightWay.THROUGH if behind else LightWay.BACK
    optics = Optics(way, 0.0, 1.0, 1.3) if behind else Optics(way, REFLECTS["white"].value, GROUND_REFLECTS.value, 1.3)
    reading = measure_coat(photo, face, optics)
    squares = reading.squares[np.isfinite(reading.squares)]
    measured = {
        "outline": outline_figures(reading.outline),
        "found": outline_figures(find_outline(photo, face.frame, face.width_mm / face.height_mm)),
        "squares": [float(v) for v in np.quantile(squares, np.linspace(0, 1, 11))] + [len(squares)],
        "cv": reading.cv,
        "mean_signal": reading.mean_signal,
        "blind_share": reading.blind_share,
        "contrast": reading.contrast,
        "reference": str(reading.reference),
        "told": reading.told,
        "px_per_mm": reading.px_per_mm,
        "faults": [asdict(fault) for fault in reading.faults],
        "streaks": asdict(reading.streaks),
        "advice": [f.message for f in advise_coat(reading, 1.0 if behind else None)],
    }
    assert_as_kept(f"coat-{name}", measured)
