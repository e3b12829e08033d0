"""Photos that lie in tests/kept, read again: every figure as it was kept. Whoever changes a rule of measuring on
purpose keeps new ones (KEENCOAT_KEEP=1) and sees in the difference what moved."""

from dataclasses import asdict
from itertools import pairwise

import cv2
import numpy as np
import pytest

from keencoat.bench.coatshots import Lamp
from keencoat.core.coat.evenness.advice import advise_coat
from keencoat.core.coat.evenness.film import GROUND_REFLECTS, REFLECTS, LightWay, Optics
from keencoat.core.coat.evenness.measure import measure_coat
from keencoat.core.errors import BadValueError
from keencoat.core.grid.design import design_listed
from keencoat.core.grid.layout import place
from keencoat.core.quantities.setting import Setting
from keencoat.core.rating import Rating
from keencoat.core.reading.cells import read_grid_photo
from keencoat.core.reading.evidence import beyond_boundaries, join_readings
from keencoat.core.reading.gridframe import find_grid_frame
from keencoat.core.reading.gridplan import Sight
from keencoat.core.reading.rate import Tuning, propose
from keencoat.core.reading.refine import with_lens
from keencoat.core.reading.tune import Judged, tune
from keencoat.core.vision.outline import EdgeKind, find_outline, find_outlines
from keencoat.core.vision.photo import Photo, decode_photo
from keencoat.core.vision.rectify import SeenFace
from tests.kept import HERE, assert_as_kept, grid_of
from tests.kept.shoot import COATS, GRIDS


def outline_figures(outline):
    return {"points": [[float(v) for v in p] for p in outline.points], "kind": str(outline.frame), "lens": outline.lens}


@pytest.mark.parametrize("process", GRIDS)
def test_a_grid_is_read_as_it_was(process):
    photo, sight = decode_photo((HERE / f"grid-{process}.jpg").read_bytes()), sight_of(process)
    found = find_grid_frame(photo, sight)
    reading = read_grid_photo(photo, found, sight)
    by_hand = with_lens(photo, found.outline, sight)
    proposed = [propose(cell, process, Tuning()) for cell in reading.cells]
    stricter = {Rating.FAINT: Rating.FAINT, Rating.CLEAN: Rating.HARSH, Rating.HARSH: Rating.HARSH}
    habits = [
        tune([Judged(c, process, rated(p.rating)) for c, p in zip(reading.cells, proposed, strict=True)])
        for rated in (lambda r: r, stricter.get, lambda r: Rating.CLEAN)
    ]
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
        "joined": [asdict(join_readings([a, b])) for a, b in pairwise(reading.cells)],
        "beyond": [list(beyond_boundaries(cell, process)) for cell in reading.cells],
        "habits": [[t.full_at, t.harm_ln, t.cells] for t in habits],
        "upright": blocks(reading.upright),
    }
    assert_as_kept(f"grid-{process}", measured)


def worse(rgb):
    """A photo of a grid, spoilt in ways that must be told."""
    height, width = rgb.shape[:2]
    far = cv2.resize(rgb, (width // 5, height // 5), interpolation=cv2.INTER_AREA)
    yield "far", cv2.copyMakeBorder(far, 300, 300, 400, 400, cv2.BORDER_REPLICATE)
    yield "soft", cv2.GaussianBlur(rgb, (0, 0), 4)
    yield "dark", rgb // 24
    yield "bright", np.minimum(255, rgb.astype(int) * 6 + 90).astype(np.uint8)
    yield "cut off", rgb[:, width // 2 :]
    yield "cut low", rgb[: height // 2]
    yield "empty", np.full_like(rgb, 120)
    yield "covered", cv2.rectangle(rgb.copy(), (0, 0), (width * 11 // 20, height), (90, 90, 90), -1)


@pytest.mark.parametrize("process", ["fuse", "back_engrave"])
def test_a_grid_that_cannot_be_read_is_told_as_it_was(process):
    photo = decode_photo((HERE / f"grid-{process}.jpg").read_bytes())
    told = {}
    sights = {of: sight_of(of) for of in (process, "other")}
    for name, rgb in [*worse(photo.rgb), ("other", photo.rgb)]:
        sight, seen = sights.get(name, sights[process]), Photo(np.ascontiguousarray(rgb), 1.0, "JPEG")
        try:
            reading = read_grid_photo(seen, find_grid_frame(seen, sight), sight)
            told[name] = {c.code: [c.full_share, list(c.doubts)] for c in reading.cells}
        except BadValueError as error:
            told[name] = error.facts()
    assert_as_kept(f"spoilt-{process}", told)


def sight_of(process):
    """What is looked for in the photo of a process; “other” is a grid that none of them shows."""
    if process == "other":
        return Sight(place(design_listed([Setting(10 * n, 50 + n, 0.1) for n in range(1, 5)]), 8.0, 3.0), 12)
    return Sight(grid_of(process).layout, 12)


def blocks(picture):
    """Means of an eighth by an eighth of a picture."""
    return [float(v) for v in cv2.resize(picture, (8, 8), interpolation=cv2.INTER_AREA).astype(float).ravel()]


@pytest.mark.parametrize("name", COATS)
def test_a_coat_is_measured_as_it_was(name):
    _, lamp, disc = COATS[name]
    through = lamp is not Lamp.FRONT
    photo = decode_photo((HERE / f"coat-{name}.jpg").read_bytes())
    edge = EdgeKind.SIDE if lamp is Lamp.INSIDE else EdgeKind.RIM if disc else EdgeKind.CORNERS
    face = SeenFace(edge, 90, 90 if disc else 70)
    way = LightWay.THROUGH if through else LightWay.BACK
    optics = Optics(way, 0.0, 1.0, 1.3) if through else Optics(way, REFLECTS["white"].value, GROUND_REFLECTS.value, 1.3)
    reading = measure_coat(photo, face, optics)
    squares = reading.squares[np.isfinite(reading.squares)]
    measured = {
        "outline": outline_figures(reading.outline),
        "found": outline_figures(find_outline(photo, face.frame, face.width_mm / face.height_mm)),
        "outlines": [outline_figures(o) for o in found_outlines(photo, face)],
        "upright": blocks(reading.upright),
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
        "advice": [f.message for f in advise_coat(reading, 1.0 if through else None)],
    }
    assert_as_kept(f"coat-{name}", measured)


def found_outlines(photo, face):
    """Whatever stands out with its shape, nothing where nothing does."""
    try:
        return find_outlines(photo, face.frame, face.width_mm / face.height_mm, 3)
    except BadValueError:
        return []
