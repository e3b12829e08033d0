"""Faulty pieces of the second world as the causes' table sees them: its own habits of photographing, asking and
answering; and the remedy burned there."""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from keencoat.core.inspect import TESTS, Action, BurnedAs, Case, Measured, Neighbour, signs_of
from keencoat.core.quantities.setting import Setting
from keencoat.core.rating import Rating
from keencoat.core.substrate import find_process, find_substrate
from keencoat.core.window.door import fit_told
from tests.bench.artburned import OtherSide, other_side
from tests.bench.worlds import Told, ask_to_the_end
from tests.otherworld import faultypieces as fp

_FIGURES = ("too_fast", "too_slow", "lines_wide", "lines_close", "extra_pass")
_SLIPS = 0.1
_SAYS: dict[str, dict[str, str]] = {
    "frame_again": {"moved": "no"},
    "gauge": {"out_of_focus": "no"},
    "figures": dict(zip(_FIGURES, ("speed", "speed", "lines", "lines", "passes"), strict=True)),
    "corner_patch": dict.fromkeys((*_FIGURES, "weak_beam", "strong_beam", "backlash"), "yes"),
    "to_the_light": {"coat_thick": "darker", "coat_thin": "lighter"},
    "against_the_lamp": {"coat_streaked": "brush", "coat_touched": "finger", "coat_cracked": "crack",
                         "coat_pooled": "run", "lines_wide": "lines"},
    "stripes_both_ways": {"backlash": "yes"},
    "measure": {"axis_size": "size", "off_origin": "place", "set_askew": "turn"},
    "small_patch": dict.fromkeys(("moved", "off_origin", "set_askew"), "yes"),
}  # fmt: skip
_ELSE = {"frame_again": "yes", "gauge": "yes", "figures": "none", "to_the_light": "alike",
         "against_the_lamp": "nothing", "measure": "none"}  # fmt: skip
_STAYS = {
    **dict.fromkeys(("weak_beam", "strong_beam", "backlash", "axis_size", *_FIGURES), 0.9),
    **dict.fromkeys(("coat_thick", "coat_thin", "out_of_focus", "off_origin"), 0.5),
}
_UNDOES = {
    Action.RECOAT: {"coat_thick", "coat_thin", "coat_streaked", "coat_pooled", "coat_touched", "coat_cracked"},
    Action.FOCUS: {"out_of_focus"},
    Action.RETYPE: set(_FIGURES),
    Action.HOLD: {"moved"},
    Action.ONE_WAY: {"backlash"},
    Action.ORIGIN: {"off_origin"},
    Action.SQUARE: {"set_askew"},
    Action.CALIBRATE: {"axis_size"},
}
_BENT = {"moved", "backlash", "off_origin", "set_askew", "axis_size"}


@lru_cache(maxsize=64)
def _side(process: str, number: int, first: int) -> tuple[OtherSide, BurnedAs]:
    side = other_side(process, number, first)
    fit = fit_told(ask_to_the_end(side.world, Told(measured=8))[0])[0]
    known = find_process(process), find_substrate(side.substrate)
    return side, BurnedAs(*known, side.setting, side.machine, fit)


@dataclass(frozen=True, eq=False)
class OtherTold:
    """A failed piece of the second world."""

    side: OtherSide
    cause: str
    seed: int
    case: Case

    def answered(self, case: Case, test: str, rng: np.random.Generator) -> Case:
        """The case once a test was done; one hand in ten gets it wrong."""
        said = _SAYS.get(test, {}).get(self.cause, _ELSE.get(test, "no"))
        if rng.random() < _SLIPS:
            said = str(rng.choice(list(TESTS[test].answers)))
        return replace(case, answers={**case.answers, test: said})

    def is_mended(self, action: Action, setting: Setting | None) -> bool:
        """Whether a fresh piece, burned as the remedy says, comes out clean and in its place."""
        return self.comes_out(None if self.cause in _UNDOES.get(action, set()) else self.cause, setting)

    def comes_out(self, left: str | None, setting: Setting | None = None) -> bool:
        """Whether a fresh piece with what is left of the fault comes out so, at the locked setting or another. No two
        cases share a piece: an unlucky one would count for all of them."""
        rng = np.random.default_rng([self.seed, 77, fp.FAULTS.index(self.cause)])
        seed = int(rng.integers(2**31))
        word, _ = fp.judge(
            self.side.world, None, fp.wash(self.side.world, setting or self.side.setting, left, seed), rng
        )
        return left not in _BENT and word == "clean"


def tell_other(process: str, cause: str, seed: int, first: int) -> OtherTold | None:
    """A failed piece with this cause, on a material drawn from `first` on; None where it did not show."""
    side, burned = _side(process, seed % 3, first)
    rng = np.random.default_rng([seed, fp.FAULTS.index(cause), *map(ord, process), 88])
    for attempt in range(4):
        washed = fp.wash(side.world, side.setting, cause, seed * 10 + attempt)
        word, signs = fp.judge(side.world, cause, washed, rng)
        if word == "clean" and not signs:
            continue
        ticks = signs_of(burned.process, burned.substrate, turned=False)
        case = Case(
            burned, Rating(word) if word else None, {s: s in signs or bool(rng.random() < 0.006) for s in ticks}
        )
        if rng.random() < 0.4:
            seen = Measured(washed.ln_film + rng.standard_t(5) * 0.1, 0.12)
            case = replace(case, ln_film=seen, coat=fp.says_of_coat(cause, rng))
        if rng.random() < 0.5:
            case = replace(case, ln_time=Measured(washed.ln_time + rng.normal(0, 0.06), 0.06))
        after = [bool(rng.random() < _STAYS.get(cause, 0.08)) for _ in range(rng.integers(0, 3))]
        case = replace(case, after=tuple(Neighbour(9 + n, failed) for n, failed in enumerate(after)))
        return OtherTold(side, cause, seed * 10 + attempt, case)
    return None
