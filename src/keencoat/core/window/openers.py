"""What would open a window that is shut, or out of the machine's reach: each change with the model's own guess."""

from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from keencoat.core.quantities.setting import Machine, Setting
from keencoat.core.window.choose import WANTED_SHARE, choose
from keencoat.core.window.fit import WindowFit, with_scatter
from keencoat.core.window.reach import middles, speeds_of

_SPEEDS = 16
_INTERVAL_STEPS = (0.5, 0.7, 1.4, 2.0)
_PASSES = (2, 3, 4)
_LEAST_INTERVAL_MM = 0.02
_EVENER = 0.5
_WORTH_IT = 0.02
_WATTS = (0.5, 2.0)


class Change(StrEnum):
    """What is changed."""

    INTERVAL = "interval"
    PASSES = "passes"
    EVENER_COAT = "evener_coat"
    WEAKER_MACHINE = "weaker_machine"
    STRONGER_MACHINE = "stronger_machine"


@dataclass(frozen=True)
class Opener:
    """A change, how likely it leads to a setting with the wanted share, and where that setting would be begun, None
    where it isn't one for this machine and coat."""

    change: Change
    chance: float
    words: str
    start: Setting | None = None


def openers(
    fit: WindowFit, machine: Machine, interval_mm: float, passes: int, wanted: float = WANTED_SHARE
) -> list[Opener]:
    """What may open the window, the likeliest first; one for each kind of change, and none that raises no chance."""
    now = open_share(fit, machine, interval_mm, passes, wanted)
    found = []
    for interval in _intervals(interval_mm, machine):
        chance = open_share(fit, machine, interval, passes, wanted)
        closer = interval < interval_mm
        words = f"Lines {'closer' if closer else 'wider'}: {interval:g} mm instead of {interval_mm:g} mm."
        found.append((chance, Change.INTERVAL, words, (interval, passes)))
    for more in _PASSES:
        if more > passes:
            chance = open_share(fit, machine, interval_mm, more, wanted)
            found.append((chance, Change.PASSES, f"{more} cooler passes instead of {passes}.", (interval_mm, more)))
    best: dict[Change, Opener] = {}
    for chance, change, words, (interval, count) in sorted(found, key=lambda f: -f[0]):
        if change not in best:
            start = choose(fit, machine, interval, count, wanted).setting
            best[change] = Opener(change, chance, words, start)
    found_all = [*best.values(), *_others(fit, machine, interval_mm, passes, wanted)]
    return sorted((o for o in found_all if o.chance > now + _WORTH_IT), key=lambda o: -o.chance)


def open_share(
    fit: WindowFit, machine: Machine, interval_mm: float, passes: int, wanted: float = WANTED_SHARE
) -> float:
    """How likely it is that some setting in reach has the wanted share."""
    own = middles(fit, machine, speeds_of(machine, _SPEEDS), interval_mm, passes)
    return float(own.is_open(wanted).mean())


def _intervals(interval_mm: float, machine: Machine) -> list[float]:
    tried = [float(f"{interval_mm * step:.2g}") for step in _INTERVAL_STEPS]
    return [h for h in tried if h >= max(_LEAST_INTERVAL_MM, machine.spot_mm / 4)]


def _others(fit: WindowFit, machine: Machine, interval_mm: float, passes: int, wanted: float) -> list[Opener]:
    def share(changed: WindowFit, on: Machine = machine) -> float:
        return open_share(changed, on, interval_mm, passes, wanted)

    calm = replace(fit.prior.scatter, coat_cv=fit.prior.scatter.coat_cv * _EVENER)
    weaker, stronger = (replace(machine, rated_w=float(np.clip(machine.rated_w * f, 0.1, 1000))) for f in _WATTS)
    return [
        Opener(Change.EVENER_COAT, share(with_scatter(fit, calm)), "A coat with half the scatter from piece to piece."),
        Opener(Change.WEAKER_MACHINE, share(fit, weaker), f"A machine of about {weaker.rated_w:.3g} W."),
        Opener(Change.STRONGER_MACHINE, share(fit, stronger), f"A machine of about {stronger.rated_w:.3g} W."),
    ]
