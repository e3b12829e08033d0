"""What to change, and by how much."""

from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from keencoat.core.inspect.case import Case
from keencoat.core.quantities import Range, Setting, typed_speed_mm_s
from keencoat.core.window import clean_and_harsh, points_of

Floats = NDArray[np.float64]

_SPEEDS, _POWERS = 25, 13


class Action(StrEnum):
    """The one thing that is changed."""

    RECOAT = "recoat"
    RETUNE = "retune"
    FOCUS = "focus"
    RETYPE = "retype"
    HOLD = "hold"
    ONE_WAY = "one_way"
    ORIGIN = "origin"
    SQUARE = "square"
    CALIBRATE = "calibrate"
    DRY = "dry"
    COOLER = "cooler"
    WARM = "warm"
    RAISE = "raise"
    COVER = "cover"
    TONE = "tone"
    AGAIN = "again"


@dataclass(frozen=True)
class Remedy:
    """One change in words; a setting if it is one, with the share of clean pieces to expect of it. `or_else`: what the
    other school does."""

    action: Action
    words: str
    setting: Setting | None = None
    clean: Range | None = None
    or_else: str = ""


def under(case: Case, ln_energy: float, ln_film: float, more_sd: float = 0.0) -> tuple[Setting, Range]:
    """The setting that keeps most pieces clean when all arrives `ln_energy` stronger on a film so much thicker, in ln;
    among those that keep the wanted share, the fastest. Power and speed move, lines and passes stay.

    `more_sd` widens it by how far `ln_energy` is not known: what is judged is the mean over it.
    """
    burned = case.burned
    was, machine = burned.setting, burned.machine
    speeds = np.unique(np.append(np.geomspace(0.4, 2.5, _SPEEDS) * was.speed_mm_s, was.speed_mm_s))
    speeds = speeds[(speeds >= machine.min_speed_mm_s) & (speeds <= machine.max_speed_mm_s)]
    powers = np.unique(np.append(np.geomspace(0.5, 2.0, _POWERS) * was.power_pct, [was.power_pct, 100.0]))
    powers = powers[(powers >= machine.min_power_pct) & (powers <= 100)]
    tried = [Setting(float(p), float(s), was.interval_mm, was.passes) for s in speeds for p in powers]
    share = sum(
        weight * _clean(case, tried, ln_energy + node * more_sd, ln_film)
        for node, weight in ((-1.22, 0.3), (0.0, 0.4), (1.22, 0.3))
    )
    mean = np.asarray(share).mean(axis=0)
    good = [n for n in range(len(tried)) if mean[n] >= burned.wanted]
    best = max(good, key=lambda n: (tried[n].speed_mm_s, mean[n])) if good else int(mean.argmax())
    chosen = tried[best]
    typed = Setting(
        min(100.0, max(machine.min_power_pct, round(chosen.power_pct, 1))),
        typed_speed_mm_s(chosen.speed_mm_s, machine),
        chosen.interval_mm,
        chosen.passes,
    )
    draws = np.asarray(share)[:, best]
    low, high = np.quantile(draws, [0.05, 0.95])
    return typed, Range(float(low), float(draws.mean()), float(high))


def _clean(case: Case, tried: list[Setting], ln_energy: float, ln_film: float) -> Floats:
    at = points_of(tried, case.burned.machine)
    moved = replace(at, ln_energy=at.ln_energy + ln_energy, ln_film=at.ln_film + ln_film)
    return clean_and_harsh(case.burned.fit, moved)[0]


def expected(case: Case) -> Range:
    """The share of clean pieces at the setting as it is, when nothing is wrong."""
    draws = _clean(case, [case.burned.setting], 0.0, 0.0)[:, 0]
    low, high = np.quantile(draws, [0.05, 0.95])
    return Range(float(low), float(draws.mean()), float(high))


def typed_as(setting: Setting) -> str:
    """A setting as it is typed in, SI."""
    passes = "" if setting.passes == 1 else f", {setting.passes} passes"
    return f"{setting.power_pct:g} %, {setting.speed_mm_s:g} mm/s, lines {setting.interval_mm:g} mm apart{passes}"


def in_100(clean: Range) -> str:
    """A share as it is told."""
    return f"{100 * clean.mid:.0f} in 100 clean"
