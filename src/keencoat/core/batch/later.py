"""Later looks: what became of a mark after a scraper, a solvent, so many washes, or time alone."""

from dataclasses import dataclass
from datetime import timedelta
from enum import StrEnum

from keencoat.core.coat import Agent, never_on, wilson
from keencoat.core.errors import BadValueError, require_within
from keencoat.core.quantities import Range
from keencoat.core.sources import Cited, own_estimate
from keencoat.core.substrate import Substrate


class LaterTrial(StrEnum):
    """What a finished piece went through."""

    SCRAPER = "scraper"
    SOLVENT = "solvent"
    DISHWASHER = "dishwasher"
    TIME = "time"


LOOK_AGAIN: Cited[timedelta] = own_estimate(timedelta(days=14))
"""After so long a clean piece is asked for again."""

_SOLVENTS = {Agent.ALCOHOL, Agent.ACETONE, Agent.THINNER}


def trials_for(substrate: Substrate) -> tuple[LaterTrial, ...]:
    """What may be tried on this piece: a solvent only where none would ruin it."""
    ruins = any(clash.agent in _SOLVENTS for clash in never_on(substrate))
    return tuple(trial for trial in LaterTrial if not (ruins and trial is LaterTrial.SOLVENT))


def require_trial(substrate: Substrate, trial: LaterTrial, washes: int | None) -> None:
    """Raise BadValueError for a trial that would ruin the piece, and for washes that nobody counted."""
    if trial not in trials_for(substrate):
        reason = next(clash.reason for clash in never_on(substrate) if clash.agent in _SOLVENTS)
        raise BadValueError(f"No solvent on {substrate.label}. {reason}", field="trial", hint="Try another way.")
    if trial is LaterTrial.DISHWASHER:
        if washes is None:
            raise BadValueError("How many washes?", field="washes", hint="Give their number.")
        require_within(washes, 1, 10_000, "washes")
    elif washes is not None:
        raise BadValueError("Washes are those of a dishwasher.", field="washes", hint="Leave it empty.")


@dataclass(frozen=True)
class Lasted:
    """How many of the pieces that were looked at again still hold, and the share that this says of all (nine times in
    ten; Wilson 1927)."""

    held: int
    of: int

    @property
    def share(self) -> Range:
        """The share with its range; the middle is what was seen."""
        low, high = wilson(self.held, self.of)
        return Range(low, self.held / self.of if self.of else 0.5, high)
