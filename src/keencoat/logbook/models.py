"""Log entries. The table only grows: a trigger refuses updates and deletions."""

from django.db import models

from keencoat.shop.models import Workshop
from keencoat.shop.stored_field import StoredField


class EntryKind(models.TextChoices):
    """What happened."""

    JOB = "job", "job made"
    COAT = "coat", "coat put on"
    GRID = "grid", "grid"
    RATING = "rating", "rated"
    LOCK = "lock", "setting locked"
    ARTWORK = "artwork", "artwork"
    RUN = "run", "pieces run"


class LogEntry(models.Model):
    """Something that happened to a job, with the words that it can be found by."""

    workshop = models.ForeignKey(Workshop, on_delete=models.PROTECT, related_name="log")
    job_id = models.BigIntegerField(db_index=True)
    job_name = models.CharField(max_length=60)
    kind = models.CharField(max_length=10, choices=EntryKind)
    at = models.DateTimeField()
    text = models.CharField(max_length=300)
    substrate = models.CharField(max_length=40)
    process = models.CharField(max_length=40)
    coat = models.CharField(max_length=40)
    machine = models.CharField(max_length=60)
    figures = StoredField("figures", default=dict)

    class Meta:
        ordering = ("-at", "-id")
        verbose_name_plural = "log entries"

    def __str__(self) -> str:
        return f"{self.at:%Y-%m-%d %H:%M} {self.job_name}: {self.text}"
