"""What a job's pieces cost and sell for, as somebody said; the quotes and receipts that were written for them."""

from datetime import date
from decimal import Decimal

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from keencoat.core.costing import Slip, SlipKind
from keencoat.jobs.job.models import Job
from keencoat.shop.models import Workshop
from keencoat.shop.stored_field import StoredField


class JobCost(models.Model):
    """What was said of a job's money; `version` counts changes."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="cost")
    told = StoredField("job-cost")
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return f"cost of {self.job}"


def told_on(slip: Slip) -> dict[str, object]:
    """What stands on a slip, as it is kept; `MoneySlip.to_core` reads it."""
    return {
        "written": slip.written.isoformat(),
        "seller": slip.seller,
        "for_whom": slip.for_whom,
        "what": slip.what,
        "details": slip.details,
        "good": slip.good,
        "price": str(slip.price),
        "tax_share": str(slip.tax_share),
        "currency": slip.currency,
    }


class MoneySlip(models.Model):
    """A quote or a receipt as it was written; it outlives its job. Numbers of one `series` follow each other without a
    gap: the workshop's own uid, or that of the one that it was brought from."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="slips")
    job = models.ForeignKey(Job, on_delete=models.SET_NULL, null=True, related_name="slips")
    kind = models.CharField(max_length=10, choices=[(k.value, k.value) for k in SlipKind])
    series = models.UUIDField()
    year = models.PositiveIntegerField(validators=[MinValueValidator(1900), MaxValueValidator(2200)])
    number = models.PositiveIntegerField(validators=[MinValueValidator(1), MaxValueValidator(1_000_000)])
    told = StoredField("money-slip")
    withdrawn_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-year", "-number", "-pk")
        constraints = (
            models.UniqueConstraint(fields=("workshop", "series", "kind", "year", "number"), name="slip_number_once"),
        )

    def __str__(self) -> str:
        return self.to_core().code

    def to_core(self) -> Slip:
        """The slip as it was written."""
        told = self.told
        return Slip(
            kind=SlipKind(self.kind),
            year=self.year,
            number=self.number,
            written=date.fromisoformat(told["written"]),
            seller=tuple(told["seller"]),
            for_whom=told["for_whom"],
            what=told["what"],
            details=tuple(told["details"]),
            good=told["good"],
            price=Decimal(told["price"]),
            tax_share=Decimal(told["tax_share"]),
            currency=told["currency"],
        )
