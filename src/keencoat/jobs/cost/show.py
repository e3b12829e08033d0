"""From a job's money to what the API gives."""

from keencoat.jobs.cost import schemas as s
from keencoat.jobs.cost.services import JobMoney, Priced
from keencoat.jobs.cost.slips import quoted_price
from keencoat.jobs.job.schemas import SettingOut
from keencoat.jobs.models import MoneySlip
from keencoat.shop.fields import RangeOut


def show_money(found: JobMoney) -> s.CostOut:
    """What a job's pieces cost and sell for."""
    workshop = found.job.workshop.practice_of or found.job.workshop
    slips = list(found.job.slips.all())
    return s.CostOut(
        told=s.CostTold.showing(found.told),
        version=found.version,
        usual=s.UsualWork.showing(found.usual),
        machine_words=found.machine_words,
        currency=workshop.currency,
        rates_own=bool(workshop.rates),
        clean=RangeOut.showing(found.clean) if found.clean else None,
        setting=SettingOut.showing(found.setting) if found.setting else None,
        plan=_priced(found.plan) if found.plan else None,
        why_not=found.why_not,
        done=_priced(found.done) if found.done else None,
        done_batch=found.done_batch.number if found.done_batch else None,
        what_ifs=[
            s.WhatIfOut(
                kind=w.kind,
                words=w.words,
                setting=SettingOut.showing(w.setting) if w.setting else None,
                total=w.cost.total,
                per_good=s.MoneyRangeOut.showing(w.cost.per_good),
            )
            for w in found.what_ifs
        ],
        next_round=s.OneMoreRoundOut.showing(found.next_round) if found.next_round else None,
        quoted_price=quoted_price(slips),
        tax_share=found.rates.tax_share,
        slips=[show_slip(row) for row in slips],
    )


def _priced(priced: Priced) -> s.PricedOut:
    cost = priced.cost
    return s.PricedOut(
        good=cost.good,
        burned=cost.burned,
        lines=[s.CostLineOut.showing(line) for line in cost.lines],
        total=cost.total,
        per_good=s.MoneyRangeOut.showing(cost.per_good),
        hands_h=round(cost.hands_h, 2),
        price=priced.price,
        asked=priced.asked,
        earned=priced.earned,
    )


def show_slip(row: MoneySlip) -> s.SlipOut:
    """A quote or a receipt."""
    slip = row.to_core()
    return s.SlipOut(
        id=row.pk,
        kind=slip.kind,
        code=slip.code,
        written=slip.written,
        for_whom=slip.for_whom,
        good=slip.good,
        price=slip.price,
        net=slip.net,
        tax=slip.tax,
        asked=slip.asked,
        currency=slip.currency,
        withdrawn_at=row.withdrawn_at,
    )
