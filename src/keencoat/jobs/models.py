"""A job and everything it leaves behind: coats put on, grids burned, ratings, locked settings."""

from typing import Any

from django.db import models
from django.db.models import F

from keencoat.core.coat.catalogue import find_coat
from keencoat.core.coat.recipes import Coat
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities.setting import Setting
from keencoat.core.states import GridState, JobState
from keencoat.core.window.model import Rating
from keencoat.shop.models import Machine, Workshop


class Job(models.Model):
    """One piece of work: what the pieces are, what is wanted, on which machine, under which coat."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="jobs")
    name = models.CharField(max_length=60)
    shape = models.CharField(max_length=12, choices=[(s.value, s.value) for s in Shape])
    width_mm = models.FloatField()
    height_mm = models.FloatField()
    thickness_mm = models.FloatField()
    margin_mm = models.FloatField()
    pieces = models.PositiveIntegerField()
    spares = models.PositiveIntegerField()
    substrate = models.CharField(max_length=40)
    process = models.CharField(max_length=40)
    machine = models.ForeignKey(Machine, on_delete=models.PROTECT, related_name="jobs")
    coat = models.CharField(max_length=40)
    coats = models.PositiveIntegerField()
    interval_mm = models.FloatField()
    state = models.CharField(max_length=10, default=JobState.OPEN, choices=[(s.value, s.value) for s in JobState])
    version = models.PositiveIntegerField(default=1)
    created_at = models.DateTimeField()
    updated_at = models.DateTimeField()

    class Meta:
        ordering = ("-updated_at", "-id")

    def __str__(self) -> str:
        return self.name

    def piece(self) -> FlatPiece:
        """The piece as core knows it."""
        return FlatPiece(Shape(self.shape), self.width_mm, self.height_mm, self.thickness_mm, self.margin_mm)

    def recipe(self) -> Coat:
        """The coat as core knows it."""
        return find_coat(self.coat)


class CoatLot(models.Model):
    """A mix: what was mixed when, for this job."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="lots")
    code = models.CharField(max_length=12)
    mixed_at = models.DateTimeField()
    amounts_ml = models.JSONField(default=dict)
    note = models.CharField(max_length=500, blank=True)

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("job", "code"), name="lot_code_once"),)

    def __str__(self) -> str:
        return self.code


class CoatStamp(models.Model):
    """Coat `number` was put on at that time."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="stamps")
    lot = models.ForeignKey(CoatLot, on_delete=models.PROTECT, related_name="stamps")
    number = models.PositiveIntegerField()
    at = models.DateTimeField()

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("job", "number"), name="coat_number_once"),)

    def __str__(self) -> str:
        return f"coat {self.number}"


class TestGrid(models.Model):
    """A test grid. Its cells are fixed once it is burned; machine and piece are kept as they were."""

    __test__ = False

    class Kind(models.TextChoices):
        """How the cells were chosen."""

        CROSSED = "crossed", "crossed in energy and dwell"
        BLIND = "blind", "blind rectangle"

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="grids")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=10, choices=Kind)
    state = models.CharField(max_length=10, default=GridState.DRAWN, choices=[(s.value, s.value) for s in GridState])
    cell_mm = models.FloatField()
    gap_mm = models.FloatField()
    rows = models.PositiveIntegerField()
    columns = models.PositiveIntegerField()
    label_setting = models.JSONField()
    machine_facts = models.JSONField()
    machine_name = models.CharField(max_length=60)
    piece_facts = models.JSONField()
    burn_seconds = models.FloatField()
    findings = models.JSONField(default=list)
    drawn_at = models.DateTimeField()
    burned_at = models.DateTimeField(null=True)
    lot = models.ForeignKey(CoatLot, null=True, on_delete=models.PROTECT, related_name="grids")

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("job", "number"), name="grid_number_once"),)

    def __str__(self) -> str:
        return self.label

    @property
    def label(self) -> str:
        """What people call it."""
        return f"G-{self.number:02d}"


class Cell(models.Model):
    """A cell with its setting, its place, and what it did. `version` counts the changes of its rating."""

    grid = models.ForeignKey(TestGrid, on_delete=models.CASCADE, related_name="cells")
    row = models.PositiveIntegerField()
    column = models.PositiveIntegerField()
    code = models.CharField(max_length=4)
    power_pct = models.FloatField()
    speed_mm_s = models.FloatField()
    interval_mm = models.FloatField()
    passes = models.PositiveIntegerField()
    x_mm = models.FloatField()
    y_mm = models.FloatField()
    rating = models.CharField(max_length=6, blank=True, choices=[(r.value, r.value) for r in Rating])
    defects = models.JSONField(default=list)
    heard_snapping = models.BooleanField(default=False)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("row", "column")
        constraints = (models.UniqueConstraint(fields=("grid", "code"), name="cell_code_once"),)

    def __str__(self) -> str:
        return self.code

    def setting(self) -> Setting:
        """Its setting as core knows it."""
        return Setting(self.power_pct, self.speed_mm_s, self.interval_mm, self.passes)

    def seen(self) -> dict[str, Any]:
        """What was seen at it, as kept for undo."""
        return {"rating": self.rating, "defects": self.defects, "heard_snapping": self.heard_snapping}


class RatingEvent(models.Model):
    """One change of ratings, with what stood before: undo takes the newest back."""

    grid = models.ForeignKey(TestGrid, on_delete=models.CASCADE, related_name="rating_events")
    at = models.DateTimeField()
    before = models.JSONField()

    class Meta:
        ordering = ("-id",)

    def __str__(self) -> str:
        return f"{len(self.before)} cells"


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
