"""Runs of whole pieces, by what came of them."""

from django.db import models

from keencoat.core.quantities import Setting
from keencoat.jobs.coat.models import CoatLot
from keencoat.jobs.job.models import Job
from keencoat.shop.stored_field import StoredField


class RunRecord(models.Model):
    """A run at a locked setting: how many pieces came out faint, clean and harsh; machine and setting as they were."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="runs")
    at = models.DateTimeField()
    lock_version = models.PositiveIntegerField()
    power_pct = models.FloatField()
    speed_mm_s = models.FloatField()
    interval_mm = models.FloatField()
    passes = models.PositiveIntegerField()
    machine_facts = StoredField("machine")
    machine_name = models.CharField(max_length=60)
    lot = models.ForeignKey(CoatLot, null=True, on_delete=models.PROTECT, related_name="runs")
    faint_pieces = models.PositiveIntegerField()
    clean_pieces = models.PositiveIntegerField()
    harsh_pieces = models.PositiveIntegerField()
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ("at", "id")

    def __str__(self) -> str:
        return f"run of {self.job}, {self.at:%Y-%m-%d}"

    def setting(self) -> Setting:
        """Its setting as core knows it."""
        return Setting(self.power_pct, self.speed_mm_s, self.interval_mm, self.passes)
