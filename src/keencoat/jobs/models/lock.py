"""Locked settings with their evidence."""

from django.db import models
from django.db.models import F

from keencoat.core.quantities.setting import Setting
from keencoat.jobs.models.job import Job


class LockedSetting(models.Model):
    """A setting with all its evidence. Never rewritten: a trigger refuses updates and deletions."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="locked")
    version = models.PositiveIntegerField()
    at = models.DateTimeField()
    power_pct = models.FloatField()
    speed_mm_s = models.FloatField()
    interval_mm = models.FloatField()
    passes = models.PositiveIntegerField()
    newest_grid = models.PositiveIntegerField()
    evidence = models.JSONField()

    class Meta:
        ordering = (F("version").desc(),)
        constraints = (models.UniqueConstraint(fields=("job", "version"), name="locked_version_once"),)

    def __str__(self) -> str:
        return f"{self.job} v{self.version}"

    def setting(self) -> Setting:
        """The setting as core knows it."""
        return Setting(self.power_pct, self.speed_mm_s, self.interval_mm, self.passes)
