"""A plain way to the same end, measured beside ours: 12 cells on the first piece, 8 on the next, 8 more if in doubt; a
logistic fit of two boundaries; the middle of what is sure."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import minimize

from keencoat.core.quantities.setting import Machine, Setting
from keencoat.core.rating import Rating

Array = NDArray[np.float64]
_SIZES = (12, 8, 8, 8)
_CENTRE = {"frost": 1.85, "fuse": 1.45, "reveal": 0.22, "back_engrave": 1.0, "ablate": 3.0, "resist": 1.5}
"""J/mm² at 1 ms dwell where most begin: common practice, no source."""
_SLOPE, _SURE, _SCATTER = 0.4, 0.93, 0.1


class Rival:
    """Cells, ratings and the setting of one search. Boundaries are straight in ln power and ln speed."""

    def __init__(self, machine: Machine, interval_mm: float, process: str) -> None:
        self._machine, self._interval_mm = machine, interval_mm
        self._centre = _CENTRE.get(process, 1.4)
        self._at: list[tuple[float, float]] = []
        self._is_enough: list[bool] = []
        self._is_too_much: list[bool] = []
        self._enough = self._harm = np.zeros(3)

    def cells(self, piece: int) -> list[Setting]:
        """What to burn on this piece (from 0), none where it knows enough or has no more to try."""
        if piece == 0:
            return [self._setting(p, v) for v in self._spread(3) for p in self._about(v, 4)]
        if piece >= len(_SIZES) or (piece >= 2 and self.setting() is not None and self._best()[0] >= _SURE):
            return []
        if self._best()[0] < 0.05:
            return [self._setting(p, v) for v in self._spread(2) for p in self._powers(4)]
        _, speed, power = self._best()
        near = [(power * f, speed * s) for s in (0.7, 1.3) for f in (0.7, 0.87, 1.08, 1.35)]
        return [self._setting(p, v) for p, v in near]

    def rated(self, cells: Sequence[Setting], ratings: Sequence[Rating]) -> None:
        """Take ratings in, and fit anew."""
        self._at += [(np.log(c.power_pct), np.log(c.speed_mm_s)) for c in cells]
        self._is_enough += [r is not Rating.FAINT for r in ratings]
        self._is_too_much += [r is Rating.HARSH for r in ratings]
        middle = np.log(self._middle_pct(60.0))
        self._enough = self._fit(self._is_enough, middle - 0.4)
        self._harm = self._fit(self._is_too_much, middle + 0.4)

    def setting(self) -> Setting | None:
        """The answer; None where hardly any piece would come out clean."""
        chance, speed, power = self._best()
        return self._setting(power, speed) if chance > 0.2 else None

    def _best(self) -> tuple[float, float, float]:
        """The chance of a clean piece, speed and power in the middle of what is sure, at its fastest; else the
        likeliest."""
        speeds, powers = self._spread(24), self._powers(60)
        ln_p, ln_v = np.meshgrid(np.log(powers), np.log(speeds), indexing="ij")
        chance = self._clean(ln_p, ln_v)
        sure = chance >= _SURE
        if not sure.any():
            row, column = np.unravel_index(chance.argmax(), chance.shape)
            return float(chance.max()), float(speeds[column]), float(powers[row])
        column = int(np.flatnonzero(sure.any(axis=0)).max())
        # One speed slower than the last that is sure.
        column = max(int(np.flatnonzero(sure.any(axis=0)).min()), column - 1)
        rows = np.flatnonzero(sure[:, column])
        if not len(rows):
            rows = np.array([int(chance[:, column].argmax())])
        row = int(rows[len(rows) // 2])
        return float(chance[row, column]), float(speeds[column]), float(powers[row])

    def _clean(self, ln_p: Array, ln_v: Array) -> Array:
        total = np.zeros_like(ln_p)
        for shift in _SCATTER * np.array([-1.5, -0.7, 0.0, 0.7, 1.5]):
            features = np.stack([np.ones_like(ln_p), ln_p + shift, ln_v])
            total += _logistic(np.tensordot(self._enough, features, 1)) * _logistic(
                -np.tensordot(self._harm, features, 1)
            )
        return total / 5

    def _fit(self, said: Sequence[bool], middle_ln_p: float) -> Array:
        """Weights of 1, ln power and ln speed; drawn to a boundary at `middle_ln_p` for 60 mm/s, of a usual slope."""
        at = np.array(self._at)
        x = np.column_stack([np.ones(len(at)), at[:, 0] - middle_ln_p, at[:, 1] - np.log(60.0)])
        sign = np.where(said, 1.0, -1.0)

        def loss(w: Array) -> float:
            steep = np.exp(w[0])
            line = steep * (x[:, 1] - w[1] + (w[2] - (1 - _SLOPE)) * x[:, 2])
            return float(
                np.logaddexp(0, -sign * line).sum()
                + 0.5 * (((w[0] - 2.3) / 0.6) ** 2 + (w[1] / 0.9) ** 2 + (w[2] / 0.2) ** 2)
            )

        w = minimize(loss, np.array([2.3, 0.0, 0.0]), method="Nelder-Mead", options={"maxiter": 600}).x
        steep, tilt = np.exp(w[0]), w[2] - (1 - _SLOPE)
        return steep * np.array([-middle_ln_p - w[1] - tilt * np.log(60.0), 1.0, tilt])

    def _about(self, speed: float, count: int) -> list[float]:
        return [self._middle_pct(speed) * f for f in np.geomspace(0.45, 2.2, count)]

    def _middle_pct(self, speed: float) -> float:
        dwell_ms = 1000 * self._machine.spot_mm / speed
        energy = self._centre * dwell_ms**_SLOPE
        return float(100 * energy * speed * self._interval_mm / self._machine.rated_w)

    def _spread(self, count: int) -> list[float]:
        """Speeds over the machine's reach, its ends left out where there are few."""
        m = self._machine
        ends = np.log([m.min_speed_mm_s, m.max_speed_mm_s])
        edge = 0.2 * (ends[1] - ends[0]) if count < 10 else 0.0
        return np.exp(np.linspace(ends[0] + edge, ends[1] - edge, count)).tolist()

    def _powers(self, count: int) -> Array:
        return np.geomspace(max(self._machine.min_power_pct, 0.5), 100, count)

    def _setting(self, power: float, speed: float) -> Setting:
        m = self._machine
        return Setting(
            float(np.clip(power, m.min_power_pct, 100)),
            float(np.clip(speed, m.min_speed_mm_s, m.max_speed_mm_s)),
            self._interval_mm,
        )


def _logistic(x: Array) -> Array:
    return np.asarray(1 / (1 + np.exp(-np.clip(x, -60, 60))))
