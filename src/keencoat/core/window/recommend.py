"""The setting to lock: the fastest that stays clean under the shop's own scatter, and why not a faster one."""

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import numpy as np

from keencoat.core.quantities.setting import Machine, Setting, typed_speed_mm_s
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.model import Rating, boundary_ln_energy
from keencoat.core.window.predict import PointReading, Range, read_point, shares
from keencoat.core.window.priors import FloatArray

WANTED_SHARE = 0.95
_SPEEDS, _POWERS = 31, 23
_SAME_SHARE = 0.01
_HOPELESS_SHARE = 0.5


class Verdict(StrEnum):
    """What the window allows: lock now, burn more cells first, or look elsewhere."""

    SURE = "sure"
    NOT_SURE = "not_sure"
    NONE = "none"


@dataclass(frozen=True)
class BoundaryLine:
    """A boundary drawn in power over speed, with its band (5–95 %), per cent; may run above 100."""

    low_pct: tuple[float, ...]
    mid_pct: tuple[float, ...]
    high_pct: tuple[float, ...]


@dataclass(frozen=True, eq=False)
class WindowMap:
    """The window over the machine's reach at one interval and number of passes.

    Shares have shape (powers, speeds): of pieces that come out clean and harsh; the rest is faint.
    """

    speeds_mm_s: tuple[float, ...]
    powers_pct: tuple[float, ...]
    clean: FloatArray
    harsh: FloatArray
    enough: BoundaryLine
    too_much: BoundaryLine
    interval_mm: float
    passes: int


@dataclass(frozen=True)
class RatedSetting:
    """A burned cell with what it did."""

    code: str
    setting: Setting
    rating: Rating


@dataclass(frozen=True)
class Recommendation:
    """The verdict, the setting with its reading, the fastest clean cell with its reading, and reasons in words."""

    verdict: Verdict
    wanted_share: float
    point: PointReading | None
    fastest_clean_code: str
    fastest_clean: PointReading | None
    why_not_faster: str
    advice: str


@lru_cache(maxsize=64)
def map_window(fit: WindowFit, machine: Machine, interval_mm: float, passes: int, ln_sd: float) -> WindowMap:
    """Shares and boundaries on a log grid over everything this machine can run."""
    speeds = np.geomspace(machine.min_speed_mm_s, machine.max_speed_mm_s, _SPEEDS)
    powers = np.geomspace(machine.min_power_pct, 100.0, _POWERS)
    ln_dwell = np.log(1000.0 * machine.spot_mm / speeds)
    # At 1 % power; adding ln(per cent) gives any other row.
    ln_energy_1pct = np.log(machine.rated_w / 100.0 * passes / (speeds * interval_mm))
    ln_energy = (np.log(powers)[:, None] + ln_energy_1pct[None, :]).ravel()
    share = shares(fit, ln_energy, np.tile(ln_dwell, _POWERS), ln_sd)
    mean = {rating: s.mean(axis=0).reshape(_POWERS, _SPEEDS) for rating, s in share.items()}
    enough, too_much = boundary_ln_energy(fit.draws, ln_dwell)
    return WindowMap(
        tuple(speeds.tolist()),
        tuple(powers.tolist()),
        mean[Rating.CLEAN],
        mean[Rating.HARSH],
        _line(enough - ln_energy_1pct),
        _line(too_much - ln_energy_1pct),
        interval_mm,
        passes,
    )


def _line(ln_power: FloatArray) -> BoundaryLine:
    low, mid, high = np.exp(np.quantile(ln_power, [0.05, 0.5, 0.95], axis=0))
    return BoundaryLine(tuple(low.tolist()), tuple(mid.tolist()), tuple(high.tolist()))


def recommend(
    fit: WindowFit,
    window: WindowMap,
    machine: Machine,
    rated: list[RatedSetting],
    ln_sd: float,
    wanted_share: float = WANTED_SHARE,
) -> Recommendation:
    """Choose the setting from a mapped window.

    `sure`: the fastest point whose expected share of clean pieces reaches `wanted_share`. `not_sure`: none
    reaches it yet, so the fastest of the best. `none`: nothing in reach is likelier clean than not.
    """
    clean_cells = [r for r in rated if r.rating is Rating.CLEAN]
    best = float(window.clean.max())
    fastest = max(clean_cells, key=lambda r: (r.setting.speed_mm_s, -r.setting.power_pct), default=None)
    fastest_reading = read_point(fit, fastest.setting, machine, ln_sd) if fastest else None
    code = fastest.code if fastest else ""
    if best < _HOPELESS_SHARE or (rated and not clean_cells):
        return Recommendation(Verdict.NONE, wanted_share, None, code, fastest_reading, "", advise(rated, machine))
    verdict = Verdict.SURE if best >= wanted_share and clean_cells else Verdict.NOT_SURE
    floor = wanted_share if verdict is Verdict.SURE else best - _SAME_SHARE
    column = int(np.flatnonzero((window.clean >= floor).any(axis=0)).max())
    row = int(window.clean[:, column].argmax())
    setting = Setting(
        round(window.powers_pct[row], 1),
        typed_speed_mm_s(window.speeds_mm_s[column], machine),
        window.interval_mm,
        window.passes,
    )
    point = read_point(fit, setting, machine, ln_sd)
    advice = "" if verdict is Verdict.SURE else _more_cells(point.clean, wanted_share)
    return Recommendation(
        verdict, wanted_share, point, code, fastest_reading, _why_not(point, code, fastest_reading), advice
    )


def _more_cells(clean: Range, wanted_share: float) -> str:
    return (
        f"Not sure yet: about {100 * clean.mid:.0f} in 100 pieces would come out clean, "
        f"wanted are {100 * wanted_share:.0f}. A second small grid around this setting, on a fresh spare, narrows it."
    )


def _why_not(point: PointReading, code: str, fastest: PointReading | None) -> str:
    if fastest is None:
        return ""
    quicker = point.minutes_per_dm2 / fastest.minutes_per_dm2
    lost, lost_here = 100 * (1 - fastest.clean.mid), 100 * (1 - point.clean.mid)
    if quicker > 1.02:
        return (
            f"{code} is {100 * (quicker - 1):.0f} % quicker, but with your scatter about {lost:.0f} in 100 pieces "
            f"would fail there, against {lost_here:.0f} here: it sits {fastest.margin_to_faint_pct.mid:.0f} % of its "
            f"energy above faint."
        )
    if quicker < 0.98:
        return (
            f"This setting is quicker than {code}, the fastest clean cell, and as safe: the window is open between "
            f"your cells."
        )
    return f"{code}, the fastest clean cell, is as quick; about {lost:.0f} in 100 pieces would fail there."


def advise(rated: list[RatedSetting], machine: Machine) -> str:
    """What to try when no cell came out clean."""
    kinds = {r.rating for r in rated}
    if not kinds:
        return "Rate the grid first."
    if kinds == {Rating.FAINT}:
        full = any(r.setting.power_pct > 95 for r in rated)
        slower = " At full power already: go slower, closer lines, or two passes." if full else ""
        return (
            "All cells are faint. Go up in energy: the next grid starts where this one ended."
            + slower
            + " If even the strongest cell did nothing, check focus and whether the coat absorbs this beam."
        )
    if kinds == {Rating.HARSH}:
        lowest = min(r.setting.power_pct for r in rated) <= 1.2 * machine.min_power_pct
        faster = " At the lowest power already: go faster or open the lines." if lowest else ""
        return "All cells are harsh. Go down in energy: the next grid ends where this one began." + faster
    return (
        "Faint turns to harsh with no clean cell between. The next grid looks between the two; if nothing opens "
        "there, try a thinner and more even coat, wider lines, or two cooler passes."
    )
