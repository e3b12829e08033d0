"""All that is known of a piece that went wrong: what was seen of it, and the job's own evidence."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from keencoat.core.coat import Coat
from keencoat.core.quantities import Machine, Setting
from keencoat.core.rating import Rating
from keencoat.core.substrate import Process, Substrate
from keencoat.core.window import WANTED_SHARE, WindowFit


@dataclass(frozen=True)
class Measured:
    """A measured figure with its standard deviation."""

    value: float
    sd: float


@dataclass(frozen=True)
class Neighbour:
    """A piece of the same batch that was looked at: whether it failed alike."""

    number: int
    failed: bool


@dataclass(frozen=True)
class BurnedAs:
    """What the piece was burned with, the window that it was chosen from, the share of clean pieces that the shop
    wants, and the coat that lay on it, None where nobody knows."""

    process: Process
    substrate: Substrate
    setting: Setting
    machine: Machine
    fit: WindowFit
    wanted: float = WANTED_SHARE
    coat: Coat | None = None


@dataclass(frozen=True)
class Conditions:
    """How it lay, and what was otherwise than on the last good piece; None where nobody knows.

    turned: whether it turned under the head. fill_over_tested: side of its largest fill over that of the patch that the
    window was tested on. toned: whether its artwork has greys. dry_h_left: hours until its coat counted as dry when it
    burned (below 0: it was dry for so long). air_c: air when it burned; cooler_k: against the last good piece.
    drift_pct: energy that the newest run wanted over what the window says, per cent, where it has moved.
    both_ways_mm: how far lines to and fro lie apart at this speed, by the machine's stripe test.
    """

    turned: bool = False
    fill_over_tested: float | None = None
    toned: bool | None = None
    new_lot: bool | None = None
    dry_h_left: float | None = None
    air_c: float | None = None
    cooler_k: float | None = None
    drift_pct: float | None = None
    both_ways_mm: float | None = None


@dataclass(frozen=True)
class Case:
    """A failed piece.

    rating: None where it was spoilt otherwise. signs: what was looked for, by its key, and whether it was there; what
    nobody looked for is missing. coat: likewise, what a photo of its coat shows. answers: to the tests that were asked
    for. ln_film: film over the job's, from that photo. ln_time: seconds that it burned over those expected. before: the
    piece before it; after: those after it.
    """

    burned: BurnedAs
    rating: Rating | None
    signs: Mapping[str, bool]
    conditions: Conditions = field(default_factory=Conditions)
    coat: Mapping[str, bool] = field(default_factory=dict)
    answers: Mapping[str, str] = field(default_factory=dict)
    ln_film: Measured | None = None
    ln_time: Measured | None = None
    before: Neighbour | None = None
    after: tuple[Neighbour, ...] = ()
