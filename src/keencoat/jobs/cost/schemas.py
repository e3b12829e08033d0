"""What the endpoints of cost take and give. Money is decimal, in the workshop's currency."""

from datetime import date, datetime
from decimal import Decimal

from pydantic import Field

from keencoat.core.costing import CostKind, SlipKind
from keencoat.jobs.job.schemas import SettingOut
from keencoat.shop.fields import Asked, Note, RangeOut, Shown


class CostIn(Asked):
    """What a maker says of a job's money; none leaves a figure to us. `version`: 0 before anybody said anything."""

    blank: Decimal = Field(Decimal(0), ge=0, le=1_000_000, max_digits=9, decimal_places=2)
    consumables: Decimal = Field(Decimal(0), ge=0, le=1_000_000, max_digits=9, decimal_places=2)
    hands_min: Decimal | None = Field(None, ge=0, le=100_000, max_digits=8, decimal_places=2)
    finish_min: Decimal | None = Field(None, ge=0, le=100_000, max_digits=8, decimal_places=2)
    machine_min: Decimal | None = Field(None, ge=0, le=100_000, max_digits=8, decimal_places=2)
    setup_min: Decimal = Field(Decimal(20), ge=0, le=100_000, max_digits=8, decimal_places=2)
    by_wage: bool = False
    margin: Decimal = Field(Decimal("0.30"), ge=0, le=Decimal("0.95"), max_digits=5, decimal_places=4)
    wage: Decimal = Field(Decimal(25), ge=0, le=100_000, max_digits=8, decimal_places=2)
    for_whom: Note = Field("", max_length=80)
    version: int


class CostTold(Shown):
    """What was said."""

    blank: Decimal
    consumables: Decimal
    hands_min: Decimal | None
    finish_min: Decimal | None
    machine_min: Decimal | None
    setup_min: Decimal
    by_wage: bool
    margin: Decimal
    wage: Decimal
    for_whom: str


class UsualWork(Shown):
    """What stands in for what nobody said."""

    coat: Decimal
    hands_min: Decimal
    finish_min: Decimal
    machine_min: Decimal


class CostLineOut(Shown):
    """So much for that."""

    kind: CostKind
    amount: Decimal


class MoneyRangeOut(Shown):
    """An amount with the range that holds it nine times in ten; `high` none: nobody can say."""

    low: Decimal
    mid: Decimal
    high: Decimal | None


class PricedOut(Shown):
    """A batch by its lines, what a good piece costs, the price that follows, and what an hour of hands earns by it."""

    good: int
    burned: float
    lines: list[CostLineOut]
    total: Decimal
    per_good: MoneyRangeOut
    hands_h: Decimal
    price: Decimal
    asked: Decimal
    earned: Decimal | None


class WhatIfOut(Shown):
    """Another way: which figure is another, and what a good piece would cost."""

    kind: str
    words: str
    setting: SettingOut | None
    total: Decimal
    per_good: MoneyRangeOut


class OneMoreRoundOut(Shown):
    """A further grid round: what it costs, what it saves on this batch."""

    cells: int
    costs: Decimal
    saves: Decimal
    saved_pieces: float
    pays: bool


class SlipIn(Asked):
    """A quote or a receipt to be written: what a piece sells for before tax."""

    kind: SlipKind
    price: Decimal = Field(ge=0, le=1_000_000, max_digits=9, decimal_places=2)


class SlipOut(Shown):
    """A quote or a receipt as it was written: pieces, before tax, tax, and all together."""

    id: int
    kind: SlipKind
    code: str
    written: date
    for_whom: str
    good: int
    price: Decimal
    net: Decimal
    tax: Decimal
    asked: Decimal
    currency: str
    withdrawn_at: datetime | None


class CostOut(Shown):
    """What a job's pieces cost and sell for."""

    told: CostTold
    version: int
    usual: UsualWork
    machine_words: str
    currency: str
    rates_own: bool
    clean: RangeOut | None
    setting: SettingOut | None
    plan: PricedOut | None
    why_not: str
    done: PricedOut | None
    done_batch: int | None
    what_ifs: list[WhatIfOut]
    next_round: OneMoreRoundOut | None
    quoted_price: Decimal | None
    tax_share: Decimal
    slips: list[SlipOut]
