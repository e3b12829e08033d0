"""What an entry of the table of causes holds."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from keencoat.core.coat import Use
from keencoat.core.inspect.case import Case
from keencoat.core.inspect.remedy import Action, Remedy


@dataclass(frozen=True)
class Shift:
    """By how much more energy than usual arrives, and on how much more film, in ln, with their spread."""

    energy: float = 0.0
    energy_sd: float = 0.0
    film: float = 0.0
    film_sd: float = 0.0


@dataclass(frozen=True)
class Rated:
    """How often a piece comes out faint, clean, harsh, or spoilt otherwise; they add up to 1."""

    faint: float
    clean: float
    harsh: float
    spoilt: float


@dataclass(frozen=True)
class Leaning:
    """What a circumstance does to the odds of a cause: ln of the factor, and why."""

    ln_odds: float
    words: str


Weighed = Callable[[Case], Leaning | None]
Mended = Callable[[Case, Shift], Remedy]


def told(action: Action, words: str, or_else: str = "") -> Mended:
    """A remedy that is the same for every case."""

    def remedy(_: Case, __: Shift) -> Remedy:
        return Remedy(action, words, or_else=or_else)

    return remedy


def used(action: Action, use: Use) -> Mended:
    """A remedy that puts something on the piece: what, is read from the table of what must not meet."""

    def remedy(case: Case, _: Shift) -> Remedy:
        return Remedy(action, use.said(case.burned.substrate, case.burned.coat))

    return remedy


def always(_: Case) -> bool:
    """Whether a cause can be at all: this one can."""
    return True


@dataclass(frozen=True)
class Cause:
    """Something that goes wrong.

    usual: how often, against the others. tells: chance that a sign is there when this is the cause; signs that are not
    named come by themselves now and then. What it does to the rating: `rated` as such, or through the window by
    `shift`. stays: chance that the next piece has it too. ln_time: seconds over those expected, in ln, and its spread.
    can_be: whether it can be the cause here. leanings: circumstances for and against. remedy: what to do, given the
    case and the shift as it is believed to be.
    """

    key: str
    label: str
    usual: float
    tells: Mapping[str, float]
    remedy: Mended
    source: str
    shift: Shift | None = None
    rated: Rated | None = None
    stays: float = 0.1
    ln_time: tuple[float, float] = (0.0, 0.0)
    can_be: Callable[[Case], bool] = always
    leanings: tuple[Weighed, ...] = field(default=())
