"""A batch at a locked setting, and every piece of it with what happened to it."""

from django.db import models

from keencoat.core.batch import LaterTrial
from keencoat.core.quantities import Range, Setting
from keencoat.core.states import PieceState
from keencoat.jobs.artwork.models import ArtworkBurn, ArtworkVersion
from keencoat.jobs.job.kept_photo import KeptPhoto
from keencoat.jobs.job.models import Job
from keencoat.jobs.run.models import RunRecord
from keencoat.shop.models import KeptJig
from keencoat.shop.stored_field import StoredField


class Batch(models.Model):
    """Pieces burned one after the other at the locked setting that `lock_version` is of: setting and machine as they
    were, the artwork (None: it comes from elsewhere), the jig (None: one piece at a time), who went through the gate
    and what was ticked each time, how long a piece burns and cools, s, and how wide its
    largest fill is, where something says so."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="batches")
    number = models.PositiveIntegerField()
    started_at = models.DateTimeField()
    lock_version = models.PositiveIntegerField()
    setting = StoredField("setting")
    expected = StoredField("range")
    machine_facts = StoredField("machine")
    machine_name = models.CharField(max_length=60)
    made = models.ForeignKey(ArtworkVersion, null=True, on_delete=models.SET_NULL, related_name="batches")
    # What it was called then: artwork may be thrown away, what was burned stays known.
    artwork_words = models.CharField(max_length=80, blank=True)
    jig = models.ForeignKey(KeptJig, null=True, on_delete=models.SET_NULL, related_name="+")
    gate = StoredField("gate-ticks")
    gate_at = models.DateTimeField()
    # How many times as fast the practice bench's clock runs.
    pace = models.FloatField(default=1.0)
    burn_s = models.FloatField(null=True)
    cool_low_s = models.FloatField(null=True)
    cool_most_s = models.FloatField(null=True)
    fill_mm = models.FloatField(null=True)
    finished = StoredField("finish-ticks", default=list)
    closed_at = models.DateTimeField(null=True)
    run = models.OneToOneField(RunRecord, null=True, on_delete=models.SET_NULL, related_name="batch")

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("job", "number"), name="batch_number_once"),)

    def __str__(self) -> str:
        return f"batch {self.number} of {self.job}"

    def burned_with(self) -> Setting:
        """Its setting as core knows it."""
        return Setting(**self.setting)

    def expected_clean(self) -> Range:
        """The share of clean pieces that was expected when it was begun."""
        return Range(**self.expected)


class BatchPiece(models.Model):
    """A piece of a batch. `number` counts the places of the batch from 1; a piece that is burned anew in the place of
    one that was lost has the next `attempt`. `turn`: when it lies under the laser; pieces of a load share one. `log`
    says who moved it when."""

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="pieces")
    number = models.PositiveIntegerField()
    attempt = models.PositiveIntegerField(default=1)
    turn = models.PositiveIntegerField()
    pocket = models.PositiveIntegerField(null=True)
    name = models.CharField(max_length=200, blank=True)
    state = models.CharField(max_length=8, default=PieceState.WAITING, choices=[(s.value, s.value) for s in PieceState])
    since = models.DateTimeField()
    log = StoredField("piece-log", default=list)
    burn = models.OneToOneField(ArtworkBurn, null=True, on_delete=models.SET_NULL, related_name="batch_piece")
    rating = models.CharField(max_length=6, blank=True)
    spoilt = models.BooleanField(default=False)
    defects = StoredField("defects", default=list)
    note = models.CharField(max_length=300, blank=True)
    looked_at = models.DateTimeField(null=True)
    # What the cheap tests came to that were asked for when it failed, by test.
    answers = StoredField("test-answers", default=dict)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("turn", "number", "attempt")
        constraints = (models.UniqueConstraint(fields=("batch", "number", "attempt"), name="batch_piece_once"),)

    def __str__(self) -> str:
        again = f", attempt {self.attempt}" if self.attempt > 1 else ""
        return f"piece {self.number}{again} of {self.batch}"


class PiecePhoto(KeptPhoto):
    """The photo of a washed piece beside what was expected of it: `upright`, `difference`, and how alike they are.
    A piece has one: another one takes its place."""

    piece = models.OneToOneField(BatchPiece, on_delete=models.CASCADE, related_name="photo")
    difference = models.BinaryField(null=True)
    reading = StoredField("artwork-likeness", null=True)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"photo of {self.piece}, {self.at:%Y-%m-%d %H:%M}"

    @property
    def is_waiting(self) -> bool:
        """Whether a worker has yet to compare it."""
        return self.reading is None and self.trouble is None


class LaterLook(models.Model):
    """A finished piece looked at again: after what, so many washes in a dishwasher, and whether it held. Never changed:
    the next look tells more."""

    piece = models.ForeignKey(BatchPiece, on_delete=models.CASCADE, related_name="later_looks")
    at = models.DateTimeField()
    by = models.CharField(max_length=150)
    trial = models.CharField(max_length=10, choices=[(t.value, t.value) for t in LaterTrial])
    washes = models.PositiveIntegerField(null=True)
    held = models.BooleanField()
    defects = StoredField("defects", default=list)
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ("at", "id")

    def __str__(self) -> str:
        return f"{self.piece} after {self.trial}: {'held' if self.held else 'failed'}"
