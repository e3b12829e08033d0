"""Choosing the setting: fast, and clean under the shop's own scatter, as far as the fit is sure of it."""

from dataclasses import dataclass

import numpy as np

from keencoat.core.quantities import Setting, Slice
from keencoat.core.rating import Rating
from keencoat.core.window.fit import WindowFit, just_as_told, without_wild_guesses
from keencoat.core.window.model import points_of_cells
from keencoat.core.window.parameters import FloatArray
from keencoat.core.window.predict import clean_and_harsh
from keencoat.core.window.price import PIECE_MIN, mark_minutes
from keencoat.core.window.reach import Middles, Settings, middles, speeds_of

WANTED_SHARE = 0.95
HELD, LIKELY = 0.9, 0.8
"""How likely the wanted share must be to hold before a setting counts as sure; and, after some pieces, as likely
enough: a further one is seldom worth what it tells then."""
RESIDUE_SD = 0.06
"""Doubt in ln energy that remains after a few test pieces: what an answer must stand beside the scatter."""
_SLOWEST = 0.4
_SPEEDS, _FINE_SPEEDS, _POWERS = 24, 7, 11
_ALIKE = {"ln_power": 0.1, "ln_dwell": 0.2, "ln_overlap": 0.1, "ln_passes": 0.1, "ln_film": 0.2}
"""How far a setting may differ from a burned cell, in each of the model's terms, and come out much as it did."""
_SEEN_WORTH = 0.075
"""What a clean cell right there adds to a setting's worth, where nothing is sure."""


@dataclass(frozen=True)
class SettingChoice:
    """A setting, the share of clean pieces expected there, how likely that is at least the wanted one, and whether both
    suffice. `likely`: whether it would likely hold if pieces differed just as told. `open_share`: how
    likely any setting in reach has the wanted share; `could_be_mm_s`: the speed of the fastest that has, in the middle
    of the draws where there is one."""

    setting: Setting
    clean: float
    held: float
    sure: bool
    likely: bool
    open_share: float
    could_be_mm_s: float


def choose(fit: WindowFit, at: Slice, wanted: float = WANTED_SHARE) -> SettingChoice:
    """The best of the sure settings of this slice, by odds and speed; where there is none, of the likely ones; else the
    best to expect."""
    speeds = speeds_of(at.machine, _SPEEDS)
    own = middles(fit, at, speeds)
    calm = middles(without_wild_guesses(fit), at, speeds)
    open_share = float(calm.is_open(wanted).mean())
    could_be = _could_be_mm_s(middles(fit, at, speeds, RESIDUE_SD), wanted)
    coarse = _candidates(at, speeds, own.powers_pct)
    seen = seen_near(fit, coarse)
    number, _ = _pick(clean_and_harsh(fit, coarse.points())[0], coarse, wanted, seen)
    column = int(np.searchsorted(speeds, coarse.speeds_mm_s[number] * 0.999))
    near = np.geomspace(speeds[max(0, column - 1)], speeds[min(column + 1, _SPEEDS - 1)], _FINE_SPEEDS)
    own = middles(fit, at, near)
    fine = _candidates(at, near, own.powers_pct)
    clean, seen = clean_and_harsh(fit, fine.points())[0], seen_near(fit, fine)
    best, sure = _pick(clean, fine, wanted, seen)
    plain, likely = _pick(clean_and_harsh(just_as_told(fit), fine.points())[0], fine, wanted, seen, LIKELY)
    number = plain if likely and not sure else best
    there = clean[:, number]
    return SettingChoice(
        fine.setting(number),
        float(there.mean()),
        float((there >= wanted).mean()),
        sure,
        likely,
        open_share,
        could_be,
    )


def _could_be_mm_s(robust: Middles, wanted: float) -> float:
    good = robust.clean >= wanted
    is_open = robust.is_open(wanted)
    fastest = np.where(good, np.arange(good.shape[1]), -1).max(axis=1)
    return float(np.median(robust.speeds_mm_s[fastest[is_open]])) if is_open.any() else 0.0


def _candidates(at: Slice, speeds_mm_s: FloatArray, middles_pct: FloatArray) -> Settings:
    """At each speed, powers over the range in which the draws put the middle of the window."""
    powers = np.quantile(middles_pct, np.linspace(0.02, 0.98, _POWERS), axis=0)
    return Settings(at, np.tile(speeds_mm_s, _POWERS), powers.ravel())


def seen_near(fit: WindowFit, settings: Settings) -> FloatArray:
    """What was seen near each setting on its own machine, shape (n,): towards 1 where cells came out clean, towards −1
    where they did not, 0 far from any. The model's shape may be wrong between cells; what a cell did, it did."""
    cells = tuple(o for o in fit.observations if o.machine == 0)
    burned, points = points_of_cells(cells), settings.points()
    apart = sum(
        ((getattr(points, term)[:, None] - getattr(burned, term)) / width) ** 2 for term, width in _ALIKE.items()
    )
    came_out = np.array([1.0 if o.rating is Rating.CLEAN else -1.0 for o in cells])
    return np.asarray(np.tanh(np.exp(-apart / 2) @ came_out))


def _pick(clean: FloatArray, at: Settings, wanted: float, seen: FloatArray, enough: float = HELD) -> tuple[int, bool]:
    """The number of the best setting that is `enough` likely to hold, and True; else of the best to expect, near what
    was seen clean."""
    expected, held = clean.mean(axis=0), (clean >= wanted).mean(axis=0)
    speeds_mm_s = at.speeds_mm_s
    burn_min = np.array([mark_minutes(at.at.setting(100.0, v)) for v in speeds_mm_s])
    worth = expected / (PIECE_MIN + burn_min)
    good = (expected >= wanted) & (held >= enough)
    # Ones that are many times slower than the best to expect are no answer yet.
    if good.any() and speeds_mm_s[good].max() >= _SLOWEST * speeds_mm_s[np.argmax(worth)]:
        fastest = good & (speeds_mm_s >= 0.999 * speeds_mm_s[good].max())
        return int(np.argmax(np.where(fastest, held * expected, -1))), True
    return int(np.argmax(worth * (1 + _SEEN_WORTH * seen))), False
