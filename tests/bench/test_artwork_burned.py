"""Artwork as core expects it beside artwork as two worlds burn it. By hand, with all figures: pytest -m bench -s."""

import os
from dataclasses import dataclass
from functools import lru_cache
from multiprocessing import Pool

import numpy as np
from skimage import data
from skimage.transform import resize

from keencoat.core.artwork.burned import FAINT_UNDER, Burned, as_burned
from keencoat.core.artwork.made import MadeDots
from keencoat.core.artwork.screen import Screen, dots_of
from keencoat.core.artwork.tone_curve import predicted_curve
from keencoat.core.vision import lightness
from tests.bench.artburned import (
    SIDE_MM,
    Side,
    by_mm,
    laid,
    lines_and_belief,
    other_side,
    plant_side,
    wedge_curve,
)

PROCESSES = ("frost", "fuse", "reveal", "back_engrave")
SCREENS = (Screen.STUCKI, Screen.FLOYD_STEINBERG, Screen.BAYER_4, Screen.THRESHOLD, Screen.ATKINSON)
MOST_DL, LEAST_SO = 4.0, 0.8
RAMP = np.linspace(0.1, 0.9, 9)


@lru_cache(maxsize=1)
def pictures():
    """Ten greys of 300 points a side, L*/100."""
    ys, xs = np.mgrid[0:300, 0:300] / 300
    away = np.hypot(xs - 0.5, ys - 0.5)
    leaf = np.abs(xs - 0.5) < 0.3 * np.sin(np.pi * ys) ** 0.7
    rng = np.random.default_rng(8)
    shown = [
        data.camera(),
        data.coins(),
        data.moon(),
        data.page(),
        data.clock(),
        255 * (0.5 + 0.5 * np.cos(24 * away) * np.exp(-2 * away)),
        np.where(leaf & (np.abs((ys - xs) * 12 % 1 - 0.5) > 0.08), 20, 240),
        255 * xs,
        np.where((np.floor(xs * 6) + np.floor(ys * 6)) % 2, 30, 220),
        255 * np.kron(rng.random((12, 12)), np.ones((25, 25))),
    ]
    return [resize(np.asarray(p, dtype=float) / 255, (300, 300)).astype(np.float32) for p in shown]


@dataclass(frozen=True)
class Told:
    """What came of one artwork: mean L* difference of its squares; squares called faint or harsh, and how many of those
    are; the same of squares that are faint or harsh."""

    off_l: float
    called: int
    called_so: int
    are: int
    are_called: int
    raw: tuple = ()


def sides(world: str, process: str, number: int) -> Side:
    return plant_side(process, number) if world == "plant" else other_side(process, number, 3000)


def art_of(side: Side, picture, screen: Screen, curve) -> MadeDots:
    lines, _ = lines_and_belief(side)
    size = round(SIDE_MM / lines.interval_mm), round(SIDE_MM / lines.pitch_mm)
    light = resize(picture, size).astype(np.float32)
    if screen is Screen.THRESHOLD:
        shares = 1 - light if side.look.darkens else light
    else:
        shares = curve.shares_for(side.look.fullness_for(light))
    return laid(dots_of(np.clip(shares, 0, 1).astype(np.float32), screen), lines)


def squares_l(burned: Burned, made: MadeDots, side: Side):
    fullness = by_mm(burned.fullness, made)
    return lightness(side.look.ground_y + (side.look.mark_y - side.look.ground_y) * fullness)


def compared(world: str, process: str, number: int, calibrated: bool, ln_film: float) -> list[Told]:
    """Ten artworks on one material, each on a fresh piece."""
    side = sides(world, process, number)
    _, belief = lines_and_belief(side)
    found = []
    for n, picture in enumerate(pictures()):
        screen = SCREENS[(n + number) % len(SCREENS)]
        greys = Screen.STUCKI if screen is Screen.THRESHOLD else screen
        curve = wedge_curve(side, greys, 5) if calibrated else predicted_curve(greys, belief)
        made = art_of(side, picture, screen, curve)
        came, usual = (side.burn(made, *at) for at in ((1 + 100 * number + n, ln_film), (0, 0.0)))
        film = ln_film
        burned = as_burned(made.dots, curve.model, side.odds, film, curve.left_over, screen is not Screen.THRESHOLD)
        off = np.abs(squares_l(burned, made, side) - lightness(came.y)).mean()
        lit = (came.lit > 0.1) & (usual.full > 0.1)
        faint, harsh = (by_mm(c, made) / np.maximum(came.lit, 1e-9) > 0.5 for c in (burned.faint, burned.harsh))
        is_faint, is_harsh = came.full < FAINT_UNDER * usual.full, came.harmed >= 0.02
        called, are = (faint | harsh) & lit, (is_faint | is_harsh) & lit
        so = ((faint & is_faint) | (harsh & is_harsh)) & lit
        found.append(
            Told(
                float(off),
                int(called.sum()),
                int(so.sum()),
                int(are.sum()),
                int((are & called).sum()),
                (
                    by_mm(burned.faint, made)[lit] / came.lit[lit],
                    by_mm(burned.harsh, made)[lit] / came.lit[lit],
                    is_faint[lit],
                    is_harsh[lit],
                    came.lit[lit],
                ),
            )
        )
    return found


def _one(asked):
    return compared(*asked)


def row(world: str, numbers, calibrated: bool, ln_film: float):
    asked = [(world, p, n, calibrated, ln_film) for p in PROCESSES for n in numbers]
    with Pool(os.cpu_count()) as pool:
        told = dict(zip(asked, pool.map(_one, asked, chunksize=1), strict=True))
    flat = [t for found in told.values() for t in found]
    by_process = {
        p: round(float(np.mean([t.off_l for a, f in told.items() if a[1] == p for t in f])), 2) for p in PROCESSES
    }
    called, are = sum(t.called for t in flat), sum(t.are for t in flat)
    figures = {
        "off_l": round(float(np.mean([t.off_l for t in flat])), 2),
        "by process": by_process,
        "called": called,
        "so": round(sum(t.called_so for t in flat) / max(1, called), 3),
        "are": are,
        "found": round(sum(t.are_called for t in flat) / max(1, are), 3),
    }
    print("\n", world, "wedge" if calibrated else "no wedge", f"film {100 * (np.exp(ln_film) - 1):+.0f} %", figures)
    return figures, flat
