"""Quotes and receipts: what a customer gets, for how much, under which number. Written once, they do not change."""

from dataclasses import dataclass
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from enum import StrEnum

from keencoat.core.errors import require_within

QUOTE_HOLDS = timedelta(days=30)
_CENT = Decimal("0.01")


class SlipKind(StrEnum):
    """An offer before the work, or what was paid after it."""

    QUOTE = "quote"
    RECEIPT = "receipt"


@dataclass(frozen=True)
class Slip:
    """A quote or a receipt: its place in the year's numbers, who writes it to whom, so many pieces at a price each
    before tax, and the share of that which the tax is."""

    kind: SlipKind
    year: int
    number: int
    written: date
    seller: tuple[str, ...]
    for_whom: str
    what: str
    details: tuple[str, ...]
    good: int
    price: Decimal
    tax_share: Decimal
    currency: str

    def __post_init__(self) -> None:
        require_within(self.year, 1900, 2200, "year")
        require_within(self.number, 1, 1_000_000, "number")
        require_within(self.good, 1, 1_000_000, "good", "pieces")
        require_within(float(self.price), 0, 1e9, "price")
        require_within(float(self.tax_share), 0, 1, "tax_share")

    @property
    def code(self) -> str:
        """What it is called by: its kind, year and number, `Q 2026-007`."""
        return f"{self.kind.value[0].upper()} {self.year}-{self.number:03d}"

    @property
    def net(self) -> Decimal:
        """What the pieces come to before tax."""
        return self.price * self.good

    @property
    def tax(self) -> Decimal:
        """The tax on all of them together, rounded to the cent, halves up (common practice, no source)."""
        return (self.net * self.tax_share).quantize(_CENT, ROUND_HALF_UP)

    @property
    def asked(self) -> Decimal:
        """What is to be paid."""
        return self.net + self.tax

    @property
    def holds_until(self) -> date:
        """The last day of an offer."""
        return self.written + QUOTE_HOLDS
