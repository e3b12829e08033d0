"""Everything a machine can be set to: lattices of settings, and where each draw's window lies in reach."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keencoat.core.quantities import Machine, Setting, Slice, typed_speed_mm_s
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.model import ModelPoints, boundaries
from keencoat.core.window.parameters import FloatArray, P
from keencoat.core.window.predict import clean_between


@dataclass(frozen=True, eq=False)
class Settings:
    """Many settings of one slice: speeds (mm/s) and powers (%), shape (n,)."""

    at: Slice
    speeds_mm_s: FloatArray
    powers_pct: FloatArray

    def points(self) -> ModelPoints:
        """All of them, as the model takes them."""
        at, spot_mm = self.at, self.at.machine.spot_mm
        ones = np.ones(len(self.speeds_mm_s))
        ln_power = np.log(self.powers_pct / 100)
        at_full = np.log(at.full_j_mm2(self.speeds_mm_s))
        return ModelPoints(
            ln_energy=ln_power + at_full,
            ln_dwell=np.log(1000.0 * spot_mm / self.speeds_mm_s),
            ln_overlap=np.log(spot_mm / at.interval_mm) * ones,
            ln_passes=np.log(at.passes) * ones,
            ln_power=ln_power,
            ln_film=np.log(at.film_share) * ones,
            ln_patch=0 * ones,
        )

    def setting(self, number: int) -> Setting:
        """One of them, as a person would type it."""
        power = min(100.0, max(self.at.machine.min_power_pct, float(f"{self.powers_pct[number]:.3g}")))
        return self.at.setting(power, typed_speed_mm_s(float(self.speeds_mm_s[number]), self.at.machine))

    def only(self, which: FloatArray) -> "Settings":
        """Those numbered."""
        return Settings(self.at, self.speeds_mm_s[which], self.powers_pct[which])


def crossed(at: Slice, speeds_mm_s: FloatArray, powers_pct: FloatArray) -> Settings:
    """Every speed with every power; numbers count along the speeds first."""
    return Settings(at, np.tile(speeds_mm_s, len(powers_pct)), np.repeat(powers_pct, len(speeds_mm_s)))


def at_full_power(at: Slice, speeds_mm_s: FloatArray) -> Settings:
    """Every speed at full power."""
    return Settings(at, speeds_mm_s, np.full(len(speeds_mm_s), 100.0))


def speeds_of(machine: Machine, count: int) -> FloatArray:
    """Speeds over all that the machine can do, even in ln."""
    return np.geomspace(machine.min_speed_mm_s, machine.max_speed_mm_s, count)


def powers_of(machine: Machine, count: int) -> FloatArray:
    """Powers over all that the machine can do, even in ln."""
    return np.geomspace(machine.min_power_pct, 100.0, count)


@dataclass(frozen=True, eq=False)
class Middles:
    """The middle of each draw's window at each speed, as near as the machine's power comes: power in per cent and the
    share of clean pieces there, both of shape (draws, speeds)."""

    speeds_mm_s: FloatArray
    powers_pct: FloatArray
    clean: FloatArray

    def is_open(self, wanted: float) -> NDArray[np.bool_]:
        """Whether each draw has a speed at which the wanted share holds, shape (draws,)."""
        return np.asarray((self.clean >= wanted).any(axis=1))


def middles(fit: WindowFit, at: Slice, speeds_mm_s: FloatArray, more_sd: float = 0.0) -> Middles:
    """Where each draw would put a setting, were it the truth; `more_sd` as in `clean_between`."""
    full = at_full_power(at, speeds_mm_s).points()
    enough, harm = boundaries(fit.draws, full)
    curve = fit.draws[:, P.CURVE, None]
    # Both boundaries fall by curve·ln(power share): solve for the energy whose own power puts it in the middle.
    ln_power = ((enough + harm) / 2 - full.ln_energy) / (1 + curve)
    ln_power = np.clip(ln_power, np.log(at.machine.min_power_pct / 100), 0.0)
    bent = curve * ln_power
    clean = clean_between(fit, full.ln_energy + ln_power, enough - bent, harm - bent, more_sd)[0]
    return Middles(speeds_mm_s, 100 * np.exp(ln_power), clean)
