"""What a setting from elsewhere says of a window here: a lesson with a stated doubt, never a fact."""

import math
from dataclasses import dataclass, replace

from keencoat.core.quantities import Machine, Setting
from keencoat.core.window.lessons import Kind, Lesson, lesson_at
from keencoat.core.window.model import points_of
from keencoat.core.window.priors import WindowPrior

CARD_SD = 0.35
"""Doubt of another workshop's setting: its watts, its brush, its eye (our own estimate). Nine times in ten it is right
within a factor of 1.8 of energy."""
GUESSED_SD = 0.6
"""The same where nobody there burned anything either."""
_NINE_IN_TEN = 1.645
_PLACE = 0.4
"""Where between enough and too much a locked setting lies: makers lock towards the fast side (our own estimate)."""


@dataclass(frozen=True)
class CardHint:
    """A setting that is said to be clean on that machine's beam; `proven` False: nobody burned it."""

    setting: Setting
    machine: Machine
    proven: bool = True

    @property
    def doubt_ln(self) -> float:
        """Standard deviation of the ln energy that it tells."""
        return CARD_SD if self.proven else GUESSED_SD

    @property
    def within_factor(self) -> float:
        """The factor of energy within which it is taken to be right, nine times in ten."""
        return math.exp(_NINE_IN_TEN * self.doubt_ln)


def lesson_of_card(prior: WindowPrior, here: Kind, hint: CardHint, film_um: float = 0.0) -> Lesson:
    """What a card tells of a window of that kind, by where the prior puts a locked setting; `film_um` is its film, 0 if
    it says none. Its doubt holds the other machine's plate as well, so it counts as burned on this one."""
    kind = replace(here, film_um=film_um)
    at = points_of([hint.setting], hint.machine)
    return lesson_at(kind, prior.mean, at, _PLACE, float(at.ln_energy[0]), hint.doubt_ln)
