"""Locked settings with their evidence."""

from typing import Any

from django.db import models
from django.db.models import F

from keencoat.core.quantities.setting import Setting
from keencoat.core.stored import SHAPES
from keencoat.jobs.job.models import Job
from keencoat.shop.stored_field import StoredField


class LockedRows(models.QuerySet["LockedSetting"]):
    """Locked settings as lists need them."""

    def in_short(self) -> "LockedRows":
        """With what was read at the setting, and the rest of the evidence left behind: it is long."""
        return self.defer("evidence").annotate(read=F("evidence__body__reading"), read_version=F("evidence__version"))


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
    evidence = StoredField("lock-evidence")

    objects = LockedRows.as_manager()

    class Meta:
        ordering = (F("version").desc(),)
        constraints = (models.UniqueConstraint(fields=("job", "version"), name="locked_version_once"),)

    def __str__(self) -> str:
        return f"{self.job} v{self.version}"

    def reading(self) -> dict[str, Any]:
        """What the window said of it when it was locked."""
        part = self.__dict__
        if "read" not in part:
            return dict(self.evidence["reading"])
        return dict(SHAPES["lock-evidence"].renewed({"reading": part["read"]}, part["read_version"])["reading"])

    def setting(self) -> Setting:
        """The setting as core knows it."""
        return Setting(self.power_pct, self.speed_mm_s, self.interval_mm, self.passes)
