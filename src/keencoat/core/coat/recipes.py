"""What a coat is: its parts, how it goes on, when it may be burned, how it comes off."""

from dataclasses import dataclass
from enum import StrEnum

from keencoat.core.quantities import BeamSource
from keencoat.core.sources import Cited


class Carrier(StrEnum):
    """What must leave the coat before it may be burned."""

    WATER = "water"
    ALCOHOL = "alcohol"
    SOLVENT = "solvent"
    NONE = "none"


@dataclass(frozen=True)
class MixPart:
    """One ingredient of a mix, in parts by volume; `ingredient` is a key of INGREDIENTS, or a maker's own words."""

    ingredient: str
    parts: float


@dataclass(frozen=True)
class Span:
    """A range as makers give it, with the value that we plan with."""

    low: float
    plan: float
    high: float


@dataclass(frozen=True)
class Coat:
    """A layer.

    `absorbs` lists the beams that it turns into heat; `tools` are keys of TOOLS, the usual one first; `serves` names
    processes beyond those that list the coat themselves (a maker's own coats); `absorbs_per_mm` is the napierian
    absorption of the dry layer for blue light, 1/mm; `does_not_work` holds the reason or is empty;
    `lies_behind`: the beam goes through the piece to it.
    """

    key: str
    label: str
    parts: tuple[MixPart, ...]
    carrier: Carrier
    tools: tuple[str, ...]
    coats: Cited[Span]
    crossed: bool
    between_min: Cited[Span]
    before_burn_min: Cited[Span]
    dry_um_per_coat: Cited[float]
    volume_solids: Cited[float]
    removal: str
    absorbs: tuple[BeamSource, ...]
    why: str
    colour: str
    absorbs_per_mm: Cited[float]
    touch_safe: bool = True
    cautions: tuple[str, ...] = ()
    does_not_work: str = ""
    serves: tuple[str, ...] = ()
    lies_behind: bool = False

    @property
    def usual_um(self) -> float:
        """The dry film of as many coats as we plan with, µm."""
        return self.dry_um_per_coat.value * self.coats.value.plan

    @property
    def is_put_on(self) -> bool:
        """Whether somebody puts it on; a factory coat comes on the piece."""
        return bool(self.parts)

    @property
    def is_mixed(self) -> bool:
        """Whether there is something to mix or pour; a sheet, a card or a factory coat is all solid already."""
        return self.is_put_on and self.volume_solids.value < 1.0
