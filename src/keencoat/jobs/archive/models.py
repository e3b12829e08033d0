"""Archives that were brought in, and what their rows became."""

from django.db import models

from keencoat.shop.models import Workshop
from keencoat.shop.stored_field import StoredField


class BroughtArchive(models.Model):
    """An archive on its way into a workshop: its parts until a worker has read them, how far that is, what came of
    it."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="brought_archives")
    name = models.CharField(max_length=120)
    state = models.CharField(max_length=8)
    report = StoredField("archive-report", null=True)
    trouble = models.CharField(max_length=300, blank=True)
    asked_at = models.DateTimeField()
    beat_at = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-id",)

    def __str__(self) -> str:
        return f"{self.name}: {self.state}"


class BroughtPart(models.Model):
    """A piece of an archive's bytes: all of them at once would fill the memory."""

    archive = models.ForeignKey(BroughtArchive, on_delete=models.CASCADE, related_name="parts")
    data = models.BinaryField()

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{len(self.data)} bytes of {self.archive_id}"


class BroughtRow(models.Model):
    """A row of another workshop's archive and the one that it became here: brought twice, it is one."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="brought_rows")
    source = models.UUIDField()
    kind = models.CharField(max_length=24)
    source_id = models.BigIntegerField()
    row_id = models.BigIntegerField()

    class Meta:
        ordering = ("id",)
        constraints = (
            models.UniqueConstraint(fields=("workshop", "source", "kind", "source_id"), name="brought_row_once"),
        )

    def __str__(self) -> str:
        return f"{self.kind} {self.source_id} became {self.row_id}"
