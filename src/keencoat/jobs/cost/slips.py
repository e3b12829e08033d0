"""Writing quotes and receipts, and taking them back: what stands on one never changes, and no number is left out."""

import csv
import io
from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from decimal import Decimal

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from keencoat.core.costing import Slip, SlipKind, money
from keencoat.core.errors import NotAllowedError
from keencoat.core.exchange import harmless
from keencoat.core.substrate import PROCESSES, SUBSTRATES
from keencoat.jobs.cost.models import told_on
from keencoat.jobs.cost.services import JobMoney, Priced, money_of
from keencoat.jobs.job.services import lock_job
from keencoat.jobs.models import MoneySlip
from keencoat.shop.access import find_one, within_reach
from keencoat.shop.models import Workshop


@transaction.atomic
def write_slip(workshop: Workshop, job_id: int, kind: SlipKind, price: Decimal, at: datetime) -> MoneySlip:
    """Write a quote for a job's pieces, or a receipt for the clean ones of its newest closed batch, at `price` each.

    Raises NotAllowedError where there is nothing to write it for."""
    job = lock_job(workshop, job_id)
    first = _first_of_year(money_of(job, at), kind, price, at)
    # Two at a time take different numbers.
    shop = Workshop.objects.select_for_update().get(pk=job.workshop_id)
    taken = MoneySlip.objects.filter(workshop=shop, kind=kind, year=first.year).aggregate(last=Max("number"))["last"]
    slip = replace(first, number=(taken or 0) + 1)
    return MoneySlip.objects.create(
        workshop=shop, job=job, kind=kind, series=shop.uid, year=slip.year, number=slip.number, told=told_on(slip)
    )


def _first_of_year(found: JobMoney, kind: SlipKind, price: Decimal, at: datetime) -> Slip:
    job, priced, day = found.job, _priced(found, kind), timezone.localdate(at)
    face, shop = job.piece().face, job.workshop.practice_of or job.workshop
    details: tuple[str, ...] = (
        f"{SUBSTRATES[job.substrate].label}, {job.piece().size}, {face.thickness_mm:g} mm thick",
        PROCESSES[job.process].label,
    )
    if kind is SlipKind.RECEIPT and found.done_batch:
        details = (*details, f"Batch {found.done_batch.number}")
    return Slip(
        kind=kind,
        year=day.year,
        number=1,
        written=day,
        seller=tuple(shop.letterhead.splitlines()) or (shop.name,),
        for_whom=found.told.for_whom,
        what=job.name,
        details=details,
        good=priced.cost.good,
        price=money(price),
        tax_share=found.rates.tax_share,
        currency=shop.currency,
    )


def _priced(found: JobMoney, kind: SlipKind) -> Priced:
    if kind is SlipKind.QUOTE:
        if found.plan is None:
            raise NotAllowedError("There is nothing to quote yet.", field="kind", hint=found.why_not)
        return found.plan
    if found.done is None:
        raise NotAllowedError("No batch with a clean piece is closed yet.", field="kind", hint="Close it in Run.")
    return found.done


@transaction.atomic
def withdraw_slip(workshop: Workshop, slip_id: int, at: datetime) -> MoneySlip:
    """Say that a slip does not count; it keeps its number. Once withdrawn it stays so."""
    slip = find_one(
        MoneySlip.objects.select_for_update(of=("self",)).filter(within_reach(workshop)), "quote or receipt", pk=slip_id
    )
    if slip.withdrawn_at is None:
        slip.withdrawn_at = at
        slip.save(update_fields=["withdrawn_at"])
    return slip


def find_slip(workshop: Workshop, slip_id: int) -> MoneySlip:
    """A slip of this workshop; raises MissingError."""
    return find_one(MoneySlip.objects.filter(within_reach(workshop)), "quote or receipt", pk=slip_id)


def quoted_price(slips: Sequence[MoneySlip]) -> Decimal | None:
    """What a piece was last offered for, by the first quote of these that still counts."""
    counting = (row for row in slips if row.kind == SlipKind.QUOTE and row.withdrawn_at is None)
    return next((row.to_core().price for row in counting), None)


def slips_csv(workshop: Workshop) -> str:
    """All quotes and receipts of a workshop, the oldest first."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(
        ("number", "kind", "written", "for", "what", "pieces", "each", "net", "tax", "asked", "currency", "withdrawn")
    )
    for row in MoneySlip.objects.filter(workshop=workshop).order_by("year", "kind", "number", "pk"):
        slip = row.to_core()
        table.writerow((slip.code, slip.kind.value, slip.written.isoformat(), harmless(slip.for_whom),
                        harmless(slip.what), slip.good, slip.price, slip.net, slip.tax, slip.asked, slip.currency,
                        row.withdrawn_at.date().isoformat() if row.withdrawn_at else ""))  # fmt: skip
    return out.getvalue()
