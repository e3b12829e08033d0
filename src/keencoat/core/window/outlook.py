"""What a round of cells is likely to lead to: how many pieces a setting to lock still takes, before any is burned.

Each draw in turn is taken as the truth, the cells' ratings are drawn in it, and all other draws weighted by them (as in
`worth`): how often a setting is sure then, or a further spare cannot pay, as all that it could save of the batch is
worth less. Some of the other searches end all the same, at a setting that is likely enough.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from keencoat.core.quantities import Setting, Slice
from keencoat.core.window.choose import HELD, WANTED_SHARE
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.imagined import weighed_anew
from keencoat.core.window.predict import clean_and_harsh
from keencoat.core.window.reach import Settings, middles, speeds_of
from keencoat.core.window.recommend import WORTH_LOCKING, enough_pieces
from keencoat.core.window.worth import USUAL_BATCH, Batch

_SPEEDS, _PLACES = 12, (0.25, 0.5, 0.75)
_ENDS_ANYWAY = 0.4
"""Share of the searches without a sure setting that end after a round, of 240 in two worlds of simulated materials."""


@dataclass(frozen=True)
class Outlook:
    """The likeliest number of pieces until a setting may be locked, this round's among them, and the chance that so
    many do."""

    pieces: int
    chance: float


def outlook_of(
    fit: WindowFit,
    at: Slice,
    cells: Sequence[Setting],
    wanted: float = WANTED_SHARE,
    batch: Batch = USUAL_BATCH,
    seed: int = 1,
) -> Outlook:
    """What these cells on one fresh piece are likely to lead to, with that batch at stake."""
    speeds = speeds_of(at.machine, _SPEEDS)
    powers = np.quantile(middles(fit, at, speeds).powers_pct, _PLACES, axis=0)
    clean = clean_and_harsh(fit, Settings(at, np.tile(speeds, len(_PLACES)), powers.ravel()).points())[0]
    weight = weighed_anew(fit, at, cells, np.random.default_rng(seed))
    expected = weight @ clean
    is_sure = ((expected >= wanted) & (weight @ (clean >= wanted) >= HELD)).any(axis=1)
    best = expected.max(axis=1)
    is_cheap = (best >= WORTH_LOCKING) & (batch.pieces * (1 - best) <= batch.spare_worth)
    ends = _ENDS_ANYWAY + (1 - _ENDS_ANYWAY) * float((is_sure | is_cheap).mean())
    least = max(1, enough_pieces(fit) - len({o.piece for o in fit.observations}))
    # Two pieces end a search about as often as one more does after the first.
    return Outlook(least, ends) if ends >= 0.5 else Outlook(least + 1, ends + (1 - ends) * ends)
