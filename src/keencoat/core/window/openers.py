"""What would open a window that is shut, or out of the machine's reach: each change with the model's own guess."""

from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from keencoat.core.quantities import Setting, Slice
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
    """A change, how likely it leads to a setting with the wanted share, what share of pieces is expected clean at the
    best setting then, and where that would be begun, None where it isn't a setting for this machine and coat."""

    change: Change
    chance: float
    words: str
    clean: float
    start: Setting | None = None

    def saves(self, pieces: int, clean_now: float) -> float:
        """How many of so many pieces it is expected to save against a setting with that clean share; at least none."""
        return pieces * max(0.0, self.clean - clean_now)


def openers(fit: WindowFit, at: Slice, wanted: float = WANTED_SHARE) -> list[Opener]:
    """What may open the window, the likeliest first; one for each kind of change, and none that raises no chance."""
    now = open_share(fit, at, wanted)
    found = []
    for interval in _intervals(at):
        there = replace(at, interval_mm=interval)
        closer = interval < at.interval_mm
        words = f"Lines {'closer' if closer else 'wider'}: {interval:g} mm instead of {at.interval_mm:g} mm."
        found.append((open_share(fit, there, wanted), Change.INTERVAL, words, there))
    for more in _PASSES:
        if more > at.passes:
            there = replace(at, passes=more)
            words = f"{more} cooler passes instead of {at.passes}."
            found.append((open_share(fit, there, wanted), Change.PASSES, words, there))
    best: dict[Change, Opener] = {}
    for chance, change, words, there in sorted(found, key=lambda f: -f[0]):
        if change not in best:
            begun = choose(fit, there, wanted)
            best[change] = Opener(change, chance, words, begun.clean, begun.setting)
    found_all = [*best.values(), *_others(fit, at, wanted)]
    return sorted((o for o in found_all if o.chance > now + _WORTH_IT), key=lambda o: -o.chance)


def open_share(fit: WindowFit, at: Slice, wanted: float = WANTED_SHARE) -> float:
    """How likely it is that some setting in reach has the wanted share."""
    return float(middles(fit, at, speeds_of(at.machine, _SPEEDS)).is_open(wanted).mean())


def _intervals(at: Slice) -> list[float]:
    tried = [float(f"{at.interval_mm * step:.2g}") for step in _INTERVAL_STEPS]
    return [h for h in tried if h >= max(_LEAST_INTERVAL_MM, at.machine.spot_mm / 4)]


def _others(fit: WindowFit, at: Slice, wanted: float) -> list[Opener]:
    calm = replace(fit.prior.scatter, coat_cv=fit.prior.scatter.coat_cv * _EVENER)
    weaker, stronger = (replace(at.machine, rated_w=float(np.clip(at.machine.rated_w * f, 0.1, 1000))) for f in _WATTS)
    changes = (
        (Change.EVENER_COAT, with_scatter(fit, calm), at.machine, "A coat with half the scatter from piece to piece."),
        (Change.WEAKER_MACHINE, fit, weaker, f"A machine of about {weaker.rated_w:.3g} W."),
        (Change.STRONGER_MACHINE, fit, stronger, f"A machine of about {stronger.rated_w:.3g} W."),
    )
    found = []
    for change, changed, machine, words in changes:
        there = replace(at, machine=machine)
        found.append(Opener(change, open_share(changed, there, wanted), words, choose(changed, there, wanted).clean))
    return found
