"""What a setting from elsewhere says of a window here: a prior with a stated doubt, never a fact."""

import math
from dataclasses import dataclass, replace

import numpy as np

from keencoat.core.quantities import Machine, Setting
from keencoat.core.window.model import boundaries, points_of
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
    """A setting that is said to be clean on that machine's beam, under `film_share` times the film that the window here
    is for; `proven` False: nobody burned it."""

    setting: Setting
    machine: Machine
    film_share: float = 1.0
    proven: bool = True

    @property
    def doubt_ln(self) -> float:
        """Standard deviation of the ln energy that it tells."""
        return CARD_SD if self.proven else GUESSED_SD

    @property
    def within_factor(self) -> float:
        """The factor of energy within which it is taken to be right, nine times in ten."""
        return math.exp(_NINE_IN_TEN * self.doubt_ln)


def with_card(prior: WindowPrior, hint: CardHint) -> WindowPrior:
    """The prior with its centre drawn to the setting, as two estimates are combined: by their precisions."""
    at = points_of([hint.setting], hint.machine)
    at = replace(at, ln_film=np.full(1, np.log(hint.film_share)))
    enough, harm = (float(side[0, 0]) for side in boundaries(prior.mean[None, :], at))
    off = float(at.ln_energy[0]) - (enough + _PLACE * (harm - enough))
    share = prior.centre_sd_ln**2 / (prior.centre_sd_ln**2 + hint.doubt_ln**2)
    return replace(
        prior,
        centre_j_mm2=prior.centre_j_mm2 * float(np.exp(share * off)),
        centre_sd_ln=float(np.sqrt(1 - share) * prior.centre_sd_ln),
    )
