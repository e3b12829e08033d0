"""Locked settings with their evidence."""

from typing import Any

from django.db import models
from django.db.models import F

from keencoat.core.quantities import Art, Setting
from keencoat.core.stored import SHAPES
from keencoat.jobs.job.models import Job
from keencoat.shop.stored_field import StoredField


class LockedRows(models.QuerySet["LockedSetting"]):
    """Locked settings as lists need them."""

    def in_short(self) -> "LockedRows":
        """With what was read at the setting, and the rest of the evidence left behind: it is long."""
        return self.defer("evidence").annotate(
            read_version=F("evidence__version"),
            readings=F("evidence__body__readings"),
            # As version 1 of the evidence had it.
            reading_1=F("evidence__body__reading"),
            model=F("evidence__body__fits__fills__model_version"),
            model_1=F("evidence__body__fit__model_version"),
        )


class LockedSetting(models.Model):
    """Settings by what they are for, filled art always among them, with all their evidence. Never rewritten: a trigger
    refuses updates and deletions."""

    job = models.ForeignKey(Job, on_delete=models.PROTECT, related_name="locked")
    version = models.PositiveIntegerField()
    at = models.DateTimeField()
    settings = StoredField("locked-settings")
    newest_grid = models.PositiveIntegerField()
    evidence = StoredField("lock-evidence")

    objects = LockedRows.as_manager()

    class Meta:
        ordering = (F("version").desc(),)
        constraints = (models.UniqueConstraint(fields=("job", "version"), name="locked_version_once"),)

    def __str__(self) -> str:
        return f"{self.job} v{self.version}"

    def reading(self, art: Art = Art.FILLS) -> dict[str, Any]:
        """What the window said of its setting for this art when it was locked."""
        row = self.__dict__
        if "read_version" not in row:
            return dict(self.evidence["readings"][art])
        found = {"readings": row["readings"]} if row["readings"] else {"reading": row["reading_1"]}
        return dict(SHAPES["lock-evidence"].renewed(found, row["read_version"])["readings"][art])

    def model_version(self) -> str:
        """The version of the model that read its evidence."""
        row = self.__dict__
        if "read_version" not in row:
            return str(self.evidence["fits"][Art.FILLS]["model_version"])
        return str(row["model"] or row["model_1"])

    def by_art(self) -> dict[Art, Setting]:
        """The settings as core knows them, by what they are for."""
        return {Art(name): Setting(**facts) for name, facts in self.settings.items()}

    def setting(self) -> Setting:
        """The setting for filled art, which every lock has."""
        return self.by_art()[Art.FILLS]
