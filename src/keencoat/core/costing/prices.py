"""What things cost: packs and what is taken of them. Whatever a piece costs is summed from here."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal


@dataclass(frozen=True)
class Price:
    """What a pack costs in the workshop's currency, and how much is in it."""

    pack_ml: float
    amount: Decimal

    def of(self, ml: float) -> Decimal:
        """What so many millilitres of it cost, not rounded yet.

        >>> Price(pack_ml=250, amount=Decimal("10.10")).of(50)
        Decimal('2.02')
        """
        return self.amount * Decimal(str(ml)) / Decimal(str(self.pack_ml))


def price_of(thing: str, own: Mapping[str, Price], usual: Mapping[str, Price]) -> Price | None:
    """The workshop's own price, else the usual one; None for a thing that nobody gave a price."""
    return own.get(thing) or usual.get(thing)


def cost_of(thing: str, ml: float, own: Mapping[str, Price], usual: Mapping[str, Price]) -> Decimal:
    """What so many millilitres cost; nothing where nobody knows a price."""
    price = price_of(thing, own, usual)
    return price.of(ml) if price else Decimal(0)
