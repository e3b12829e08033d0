"""The shop's rates."""

from decimal import Decimal

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from keencoat.core.costing import Rates
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Asked, Note, Shown
from keencoat.shop.models import Workshop
from keencoat.shop.rates import rates_of, set_rates

router = Router(tags=["shop"])


class RatesOut(Shown):
    """What the shop reckons with, in its currency. `own`: somebody of the shop said so; else it is our guess."""

    hand_hour: Decimal
    machine_hour: Decimal
    kwh: Decimal
    draw_w: Decimal
    fee_share: Decimal
    tax_share: Decimal
    letterhead: str
    own: bool
    currency: str
    version: int


class RatesIn(Asked):
    """What the shop reckons with, and what heads its quotes and receipts."""

    hand_hour: Decimal = Field(ge=0, max_digits=8, decimal_places=2)
    machine_hour: Decimal = Field(ge=0, max_digits=8, decimal_places=2)
    kwh: Decimal = Field(ge=0, max_digits=8, decimal_places=4)
    draw_w: Decimal = Field(ge=0, max_digits=6, decimal_places=0)
    fee_share: Decimal = Field(ge=0, max_digits=5, decimal_places=4)
    tax_share: Decimal = Field(ge=0, max_digits=5, decimal_places=4)
    letterhead: Note
    version: int


def _shown(workshop: Workshop) -> RatesOut:
    rates = rates_of(workshop)
    figures = {name: getattr(rates, name) for name in Rates.__dataclass_fields__}
    return RatesOut(
        **figures,
        letterhead=workshop.letterhead,
        own=bool(workshop.rates),
        currency=workshop.currency,
        version=workshop.version,
    )


@router.get("/rates", response=RatesOut)
def read(request: HttpRequest) -> RatesOut:
    """The shop's rates."""
    return _shown(workshop_of(request))


@router.put("/rates", response=RatesOut)
def change(request: HttpRequest, payload: RatesIn) -> RatesOut:
    """Say what the shop reckons with; refused if the shop's figures were changed in between."""
    rates = Rates(**payload.model_dump(include=set(Rates.__dataclass_fields__)))
    return _shown(set_rates(workshop_of(request), rates, payload.letterhead, payload.version))
