"""What things cost: packs and what is taken of them. Whatever a piece costs is summed from here."""

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Price:
    """What a pack costs in the workshop's currency, and how much is in it."""

    pack_ml: float
    amount: float

    def of(self, ml: float) -> float:
        """What so many millilitres of it cost.

        >>> Price(pack_ml=250, amount=10).of(50)
        2.0
        """
        return self.amount * ml / self.pack_ml


def price_of(thing: str, own: Mapping[str, Price], usual: Mapping[str, Price]) -> Price | None:
    """The workshop's own price, else the usual one; None for a thing that nobody gave a price."""
    return own.get(thing) or usual.get(thing)


def cost_of(thing: str, ml: float, own: Mapping[str, Price], usual: Mapping[str, Price]) -> float:
    """What so many millilitres cost; nothing where nobody knows a price."""
    price = price_of(thing, own, usual)
    return price.of(ml) if price else 0.0
