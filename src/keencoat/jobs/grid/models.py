"""Test grids, their cells, and how they were burned."""

from typing import Any

from django.db import models

from keencoat.core.grid import PlacedCell, PlannedCell
from keencoat.core.quantities import Setting
from keencoat.core.rating import Rating
from keencoat.core.states import GridState
from keencoat.jobs.coat.models import CoatLot
from keencoat.jobs.job.laser_row import LaserRow
from keencoat.jobs.job.models import Job
from keencoat.shop.stored_field import StoredField


class GridRows(models.QuerySet["TestGrid"]):
    """Grids as lists need them."""

    def counted(self) -> "GridRows":
        """With how many cells count and how many of those are rated, and no cells fetched. In their order: a model's
        own is left out where rows are counted together."""
        whole = models.Q(cells__burned="full")
        return self.annotate(
            whole=models.Count("cells", filter=whole),
            whole_rated=models.Count("cells", filter=whole & ~models.Q(cells__rating="")),
        ).order_by("number")


class GridKind(models.TextChoices):
    """How the cells were chosen."""

    CROSSED = "crossed", "crossed in energy and dwell"
    FACTORS = "factors", "two or three chosen factors"
    BLIND = "blind", "blind rectangle"
    BROUGHT = "brought", "made elsewhere"
    NEXT = "next", "the cells that tell most"
    CONFIRM = "confirm", "full patch"
    WEDGE = "wedge", "grey wedge"


class TestGrid(models.Model):
    """A test grid. Its cells are fixed once it is burned; machine and piece are kept as they were."""

    __test__ = False

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="grids")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=10, choices=GridKind)
    factors = StoredField("factors", default=list)
    state = models.CharField(max_length=10, default=GridState.DRAWN, choices=[(s.value, s.value) for s in GridState])
    cell_mm = models.FloatField()
    gap_mm = models.FloatField()
    sample_mm = models.FloatField(default=0)
    framed = models.BooleanField(default=False)
    mirrored = models.BooleanField(default=False)
    wait_s = models.FloatField(default=0)
    spares = models.PositiveIntegerField(default=1)
    rows = models.PositiveIntegerField()
    columns = models.PositiveIntegerField()
    label_setting = StoredField("setting")
    machine_facts = StoredField("machine")
    machine_name = models.CharField(max_length=60)
    piece_facts = StoredField("face")
    burn_seconds = models.FloatField()
    heat = StoredField("grid-heat", null=True)
    findings = StoredField("findings", default=list)
    drawn_at = models.DateTimeField()
    burned_at = models.DateTimeField(null=True)
    lot = models.ForeignKey(CoatLot, null=True, on_delete=models.PROTECT, related_name="grids")

    objects = GridRows.as_manager()

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("job", "number"), name="grid_number_once"),)

    def __str__(self) -> str:
        return self.label

    @property
    def label(self) -> str:
        """What people call it."""
        return f"G-{self.number:02d}"

    def rated_of(self) -> tuple[int, int]:
        """How many of the cells that count are rated, and how many count."""
        if "whole" in self.__dict__:
            return self.__dict__["whole_rated"], self.__dict__["whole"]
        cells = [c for c in self.cells.all() if c.counts]
        return sum(bool(c.rating) for c in cells), len(cells)


class Cell(models.Model):
    """A cell with its setting, its place, and what it did. `version` counts the changes of its rating."""

    class Burned(models.TextChoices):
        """How much of it was burned."""

        FULL = "full", "burned"
        PART = "part", "burned in part"
        NONE = "none", "not burned"

    grid = models.ForeignKey(TestGrid, on_delete=models.CASCADE, related_name="cells")
    row = models.PositiveIntegerField()
    column = models.PositiveIntegerField()
    code = models.CharField(max_length=4)
    power_pct = models.FloatField()
    speed_mm_s = models.FloatField()
    interval_mm = models.FloatField()
    passes = models.PositiveIntegerField()
    focus_mm = models.FloatField(default=0)
    coats = models.PositiveIntegerField(null=True)
    grey_pct = models.FloatField(default=100)
    spare = models.PositiveIntegerField(default=1)
    x_mm = models.FloatField()
    y_mm = models.FloatField()
    burned = models.CharField(max_length=4, default=Burned.FULL, choices=Burned)
    rating = models.CharField(max_length=6, blank=True, choices=[(r.value, r.value) for r in Rating])
    defects = StoredField("defects", default=list)
    heard_snapping = models.BooleanField(default=False)
    strokes = models.CharField(max_length=6, blank=True, choices=[(r.value, r.value) for r in Rating])
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("row", "column")
        constraints = (models.UniqueConstraint(fields=("grid", "code"), name="cell_code_once"),)

    def __str__(self) -> str:
        return self.code

    def setting(self) -> Setting:
        """Its setting as core knows it."""
        return Setting(self.power_pct, self.speed_mm_s, self.interval_mm, self.passes)

    def planned(self) -> PlannedCell:
        """The cell as core knows it."""
        return PlannedCell(self.row, self.column, self.setting(), self.focus_mm, self.coats, self.grey_pct)

    def placed(self, side_mm: float, sample_mm: float) -> PlacedCell:
        """The cell in its place."""
        return PlacedCell(self.planned(), self.x_mm, self.y_mm, side_mm, sample_mm)

    @property
    def counts(self) -> bool:
        """Whether it waits for a rating: it was burned to its end."""
        return self.burned == self.Burned.FULL

    def seen(self) -> dict[str, Any]:
        """What was seen at it, as kept for undo."""
        return {
            "rating": self.rating,
            "defects": self.defects,
            "heard_snapping": self.heard_snapping,
            "strokes": self.strokes,
        }

    @property
    def seen_rating(self) -> Rating | None:
        """What it did, if somebody said."""
        return Rating(self.rating) if self.rating else None

    @property
    def seen_strokes(self) -> Rating | None:
        """What its fine strokes did, if somebody said."""
        return Rating(self.strokes) if self.strokes else None


class GridBurn(LaserRow):
    """A grid on its way through a laser that the app drives."""

    grid = models.ForeignKey(TestGrid, on_delete=models.CASCADE, related_name="burns")
    spare = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"burn of {self.grid}: {self.state}"
