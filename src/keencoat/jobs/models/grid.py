"""Test grids, their cells, and every change of a rating."""

from typing import Any

from django.db import models

from keencoat.core.quantities.setting import Setting
from keencoat.core.states import GridState
from keencoat.core.window.model import Rating
from keencoat.jobs.models.coat import CoatLot
from keencoat.jobs.models.job import Job


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
