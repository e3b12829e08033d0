"""Every burn of a workshop as one row, whatever was burned: a view of the database, read only."""

from django.contrib.postgres.fields import ArrayField
from django.db import models

from keencoat.jobs.job.models import Job


class BurnKind(models.TextChoices):
    """What was burned."""

    GRID = "grid", "test grid"
    BATCH = "batch", "batch"
    RUN = "run", "run told afterwards"
    ARTWORK = "artwork", "artwork, one piece"


class LoggedBurn(models.Model):
    """A burn with what came of it: so many cells of a grid, or pieces, and how many were clean, faint, harsh, spoilt
    otherwise. `defects` has one entry for each time that one was seen; `words` is what it can be found by besides its
    job. `key` is its kind and its row's id.

    The view rests on columns of other tables: a migration that changes one of those drops it first and makes it anew.
    """

    key = models.CharField(primary_key=True, max_length=30)
    kind = models.CharField(max_length=8, choices=BurnKind)
    row_id = models.BigIntegerField()
    job = models.ForeignKey(Job, on_delete=models.DO_NOTHING, related_name="+")
    at = models.DateTimeField()
    machine_name = models.CharField(max_length=60)
    units = models.IntegerField()
    clean_units = models.IntegerField()
    faint_units = models.IntegerField()
    harsh_units = models.IntegerField()
    spoilt_units = models.IntegerField()
    defects = ArrayField(models.TextField())
    words = models.TextField()

    class Meta:
        managed = False
        db_table = "jobs_loggedburn"
        ordering = ("-at", "key")

    def __str__(self) -> str:
        return self.key

    @property
    def is_of_pieces(self) -> bool:
        """Whether whole pieces were burned at one setting, so that their share says something; a grid's cells are apart
        on purpose."""
        return self.kind in (BurnKind.BATCH, BurnKind.RUN)

    @property
    def seen(self) -> int:
        """How many were looked at."""
        return self.clean_units + self.faint_units + self.harsh_units + self.spoilt_units
