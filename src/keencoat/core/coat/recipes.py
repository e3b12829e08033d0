"""What a coat is: its parts, how it goes on, when it may be burned, how it comes off."""

from dataclasses import dataclass
from enum import StrEnum

from keencoat.core.quantities.setting import BeamSource
from keencoat.core.sources import Cited


class Carrier(StrEnum):
    """What must leave the coat before it may be burned."""

    WATER = "water"
    ALCOHOL = "alcohol"
    SOLVENT = "solvent"
    NONE = "none"


@dataclass(frozen=True)
class Part:
    """One ingredient of a mix, by volume."""

    name: str
    parts: float


@dataclass(frozen=True)
class Span:
    """A range as makers give it, with the value that we plan with."""

    low: float
    plan: float
    high: float


@dataclass(frozen=True)
class Coat:
    """A layer. `absorbs` lists the beams that it turns into heat; `does_not_work` holds the reason or is empty."""

    key: str
    label: str
    parts: tuple[Part, ...]
    carrier: Carrier
    tool: str
    coats: Cited[Span]
    crossed: bool
    between_min: Cited[Span]
    before_burn_min: Cited[Span]
    dry_um_per_coat: Cited[float]
    volume_solids: Cited[float]
    transfer: Cited[float]
    removal: str
    absorbs: tuple[BeamSource, ...]
    why: str
    colour: str
    cautions: tuple[str, ...] = ()
    does_not_work: str = ""

    @property
    def is_put_on(self) -> bool:
        """Whether somebody puts it on; a factory coat comes on the piece."""
        return bool(self.parts)
