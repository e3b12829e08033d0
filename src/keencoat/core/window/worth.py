"""What a further round is worth: pieces of the batch that it would save, against the spare that it takes.

The expected value of sample information (Raiffa & Schlaifer 1961): each draw in turn is taken as the truth, the cells'
ratings are drawn in it, all other draws weighted by them, and the setting that then looks best is tried in that truth.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from keencoat.core.errors import require_within
from keencoat.core.quantities import Setting, Slice
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.imagined import weighed_anew
from keencoat.core.window.parameters import FloatArray
from keencoat.core.window.predict import clean_and_harsh
from keencoat.core.window.reach import Settings, middles, speeds_of

_SPEEDS = 12
_SLOWEST = 0.5
"""Settings slower than this share of the chosen one's speed are no gain, however clean."""
_PLACES = (0.25, 0.5, 0.75)


@dataclass(frozen=True)
class Batch:
    """What is at stake: pieces to come, and what a spare is worth against one of them."""

    pieces: int
    spare_worth: float = 1.0

    def __post_init__(self) -> None:
        require_within(self.pieces, 0, 1_000_000, "pieces")
        require_within(self.spare_worth, 0, 1000, "spare_worth")


USUAL_BATCH = Batch(250)
"""What is at stake where nobody says: a setting that is locked serves many a batch (own estimate). With 120 and 500
pieces 82 and 86 of 100 strange materials held, on 2.8 and 3.2 test pieces."""


@dataclass(frozen=True)
class RoundWorth:
    """A further round: how many cells on one spare, pieces of the batch that it would save, and what the spare costs,
    in pieces."""

    cells: int
    saved_pieces: float
    batch: Batch

    @property
    def pays(self) -> bool:
        """Whether it saves more than it costs."""
        return self.saved_pieces > self.batch.spare_worth

    @property
    def words(self) -> str:
        """For people."""
        digits = 0 if self.saved_pieces >= 2 else 1
        saved = f"about {self.saved_pieces:.{digits}f}" if self.saved_pieces >= 0.05 else "next to none"
        spare = "a piece" if self.batch.spare_worth == 1 else f"{self.batch.spare_worth:g} pieces"
        told = f"A further {self.cells} cells may save {saved} of the batch's {self.batch.pieces} pieces"
        if self.pays:
            return f"{told}, more than the spare is worth ({spare})."
        return f"{told}, less than the spare is worth ({spare}): they hardly pay."


def worth_of(
    fit: WindowFit, at: Slice, slowest_mm_s: float, cells: Sequence[Setting], batch: Batch, seed: int = 1
) -> RoundWorth:
    """What burning these cells on one fresh piece would save, where a setting of about `slowest_mm_s` would be locked
    without them; slower ones by half are not counted as a gain."""
    if not cells or not batch.pieces:
        return RoundWorth(len(cells), 0.0, batch)
    gain = _gain(fit, _in_question(fit, at, _SLOWEST * slowest_mm_s), at, cells, np.random.default_rng(seed))
    return RoundWorth(len(cells), batch.pieces * max(0.0, gain), batch)


def _in_question(fit: WindowFit, at: Slice, slowest_mm_s: float) -> FloatArray:
    """Share of clean pieces of the settings that may be locked, shape (draws, settings)."""
    speeds = speeds_of(at.machine, _SPEEDS)
    fast = speeds[speeds >= min(slowest_mm_s, speeds[-1])]
    powers = np.quantile(middles(fit, at, fast).powers_pct, _PLACES, axis=0)
    settings = Settings(at, np.tile(fast, len(_PLACES)), powers.ravel())
    return clean_and_harsh(fit, settings.points())[0]


def _gain(fit: WindowFit, clean: FloatArray, at: Slice, cells: Sequence[Setting], rng: np.random.Generator) -> float:
    """How much larger the share of clean pieces is expected to be after the cells than before."""
    weight = weighed_anew(fit, at, cells, rng)
    after = (weight @ clean).argmax(axis=1)
    before = int(clean.mean(axis=0).argmax())
    return float(np.mean(clean[np.arange(len(clean)), after] - clean[:, before]))
