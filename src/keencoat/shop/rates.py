"""What the shop reckons with: rates of hands, machine, power, fees and tax, and the letterhead of what it sends out."""

from decimal import Decimal

from django.db import transaction

from keencoat.core.costing import Rates
from keencoat.shop.access import require_version
from keencoat.shop.models import Workshop

GUESSED = Rates(Decimal("18.00"), Decimal("2.50"), Decimal("0.35"), Decimal(150), Decimal(0), Decimal(0))
"""Until a shop says its own (our own guess, in any currency)."""


def rates_of(workshop: Workshop) -> Rates:
    """The shop's rates, or our guess of them; a practice bench reckons with those of its shop."""
    said = (workshop.practice_of or workshop).rates
    return Rates(**{name: Decimal(text) for name, text in said.items()}) if said else GUESSED


@transaction.atomic
def set_rates(workshop: Workshop, rates: Rates, letterhead: str, seen: int) -> Workshop:
    """Store the shop's rates and letterhead, if nobody changed the workshop since version `seen`."""
    row = Workshop.objects.select_for_update().get(pk=workshop.pk)
    require_version(row, seen, "list of rates")
    row.rates = {name: str(getattr(rates, name)) for name in Rates.__dataclass_fields__}
    row.letterhead, row.version = letterhead, seen + 1
    row.save(update_fields=["rates", "letterhead", "version"])
    return row
