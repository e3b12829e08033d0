"""What coating a job leaves behind: lots mixed, coats put on, looks at them, photos and hold-up tests."""

from django.db import models

from keencoat.core.coat import DryRecord, Heat, Stamp
from keencoat.jobs.job.kept_photo import KeptPhoto
from keencoat.jobs.job.models import Job
from keencoat.shop.models import Workshop
from keencoat.shop.stored_field import StoredField


class CoatLot(models.Model):
    """A mix: what was mixed when, for this job, in ml and g by ingredient."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="lots")
    code = models.CharField(max_length=12)
    mixed_at = models.DateTimeField()
    amounts_ml = StoredField("amounts", default=dict)
    amounts_g = StoredField("amounts", default=dict)
    note = models.CharField(max_length=500, blank=True)

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("job", "code"), name="lot_code_once"),)

    def __str__(self) -> str:
        return self.code


class CoatStamp(models.Model):
    """Coat `number` went on pieces `first` to `last` at that time."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="stamps")
    lot = models.ForeignKey(CoatLot, on_delete=models.PROTECT, related_name="stamps")
    number = models.PositiveIntegerField()
    first = models.PositiveIntegerField(default=1)
    last = models.PositiveIntegerField(default=1)
    heat = models.CharField(max_length=12, default=Heat.NONE, choices=[(h.value, h.label) for h in Heat])
    at = models.DateTimeField()
    seen_dry_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("number", "first", "id")

    def __str__(self) -> str:
        return f"coat {self.number} on {self.first}–{self.last}"

    def to_core(self) -> Stamp:
        """The stamp as core knows it."""
        return Stamp(self.number, self.first, self.last, self.at, Heat(self.heat), self.seen_dry_at)


class DryLook(models.Model):
    """Somebody looked: it was dry, or still wet. Minutes count in the reference air, beside what the model had said."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="dry_looks")
    stamp = models.ForeignKey(CoatStamp, on_delete=models.CASCADE, related_name="looks")
    coat = models.CharField(max_length=40)
    at = models.DateTimeField()
    dry = models.BooleanField()
    observed_min = models.FloatField()
    model_min = models.FloatField()

    class Meta:
        ordering = ("at",)

    def __str__(self) -> str:
        return f"{'dry' if self.dry else 'still wet'} at {self.at:%H:%M}"

    def to_core(self) -> DryRecord:
        """The record as core knows it."""
        return DryRecord(self.observed_min, self.model_min, self.dry)


class CoatPhoto(KeptPhoto):
    """A photo of a coated piece, of the bare one if there is one, and what was measured on it."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="photos")
    piece = models.PositiveIntegerField(null=True)
    bare = models.BinaryField(null=True)
    cv = models.FloatField(null=True)
    reading = StoredField("coat-reading", null=True)
    findings = StoredField("findings", default=list)

    class Meta:
        ordering = ("-at", "-id")

    def __str__(self) -> str:
        return f"photo of {self.job}, {self.at:%Y-%m-%d %H:%M}"


class HoldUpWay(models.TextChoices):
    """What read the light."""

    LUX = "lux", "lux readings"
    PHOTOS = "photos", "two photos"


class HoldUpTest(models.Model):
    """Light through the bare piece and through so many coats: lux readings, or the mean light of two photos."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="holdups")
    coat = models.CharField(max_length=40)
    tool = models.CharField(max_length=20)
    at = models.DateTimeField()
    coats = models.PositiveIntegerField()
    bare = models.FloatField()
    coated = models.FloatField()
    way = models.CharField(max_length=6, choices=HoldUpWay.choices)

    class Meta:
        ordering = ("at",)

    def __str__(self) -> str:
        return f"{self.coats} coats: {self.coated:g} of {self.bare:g}"
