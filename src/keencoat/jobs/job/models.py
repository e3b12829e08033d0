"""A job: one piece of work; and an experiment, which is several jobs that compare coats."""

from django.db import models

from keencoat.core.coat import Coat, Tool, find_tool
from keencoat.core.piece import Piece, Shape, make_piece
from keencoat.core.states import JobState
from keencoat.core.substrate import far_side_words, find_process, find_substrate
from keencoat.shop.models import Machine, Workshop
from keencoat.shop.shelf import coat_of
from keencoat.shop.stored_field import StoredField


class Experiment(models.Model):
    """A comparison of coats: each arm is a job of its own, and all burn the same small grid."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="experiments")
    name = models.CharField(max_length=40)
    replicates = models.PositiveIntegerField()
    order = StoredField("order")
    made_at = models.DateTimeField()

    class Meta:
        ordering = ("-id",)

    def __str__(self) -> str:
        return self.name


class Job(models.Model):
    """One piece of work: what the pieces are, what is wanted, on which machine, under which coat."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="jobs")
    name = models.CharField(max_length=60)
    shape = models.CharField(max_length=12, choices=[(s.value, s.value) for s in Shape])
    width_mm = models.FloatField()
    height_mm = models.FloatField()
    narrow_mm = models.FloatField(default=0)
    thickness_mm = models.FloatField()
    margin_mm = models.FloatField()
    pieces = models.PositiveIntegerField()
    spares = models.PositiveIntegerField()
    # Against a piece of the batch.
    spare_worth = models.FloatField(default=1.0)
    substrate = models.CharField(max_length=40)
    process = models.CharField(max_length=40)
    machine = models.ForeignKey(Machine, on_delete=models.PROTECT, related_name="jobs")
    coat = models.CharField(max_length=40)
    tool = models.CharField(max_length=20, default="")
    coats = models.PositiveIntegerField()
    film_um = models.FloatField(null=True)
    last_wait_min = models.FloatField(null=True)
    coat_cv = models.FloatField(null=True)
    coat_cv_pieces = models.PositiveIntegerField(default=0)
    interval_mm = models.FloatField()
    carried_from = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="carried_to")
    # Another workshop's setting that it began from.
    card = models.ForeignKey("jobs.BroughtCard", null=True, on_delete=models.SET_NULL, related_name="jobs")
    # Whether its window begins from the workshop's own locked ones.
    learns = models.BooleanField(default=True)
    experiment = models.ForeignKey(Experiment, null=True, on_delete=models.PROTECT, related_name="arms")
    state = models.CharField(max_length=10, default=JobState.OPEN, choices=[(s.value, s.value) for s in JobState])
    # Grids ever drawn: no label is given twice.
    grids_drawn = models.PositiveIntegerField(default=0)
    put_away_at = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=1)
    # Counts changes of it and of all that hangs on it; the database does the sum.
    changes = models.BigIntegerField(default=0, editable=False)
    created_at = models.DateTimeField()
    updated_at = models.DateTimeField()

    class Meta:
        ordering = ("-updated_at", "-id")

    def __str__(self) -> str:
        return self.name

    def piece(self) -> Piece:
        """The piece as core knows it."""
        return make_piece(
            Shape(self.shape), self.width_mm, self.height_mm, self.thickness_mm, self.margin_mm, self.narrow_mm
        )

    def recipe(self) -> Coat:
        """The coat as core knows it."""
        return coat_of(self.workshop, self.coat)

    @property
    def is_seen_through(self) -> bool:
        """Whether the finished mark is seen through the piece, so that it is burned mirrored."""
        return find_process(self.process).mirrored or self.recipe().lies_behind

    def focus_words(self) -> str:
        """Which side lies up, and where the focus goes."""
        if not self.recipe().lies_behind:
            return "coated side up; focus on the coat"
        face = self.piece().face
        words = far_side_words(find_substrate(self.substrate), self.machine.to_core().source, face.thickness_mm)
        return f"what absorbs lies under the piece; {words}"

    def layer_um(self) -> float:
        """The dry film of all coats, µm: as the job's own film a coat, else the recipe's."""
        return (self.film_um or self.recipe().dry_um_per_coat.value) * self.coats

    def brush(self) -> Tool:
        """The tool that puts the coat on."""
        return find_tool(self.tool)

    @property
    def is_practice(self) -> bool:
        """Whether it runs on the simulated bench."""
        return hasattr(self, "practice")

    @property
    def all_pieces(self) -> int:
        """Pieces and spares; the spares have the last numbers."""
        return self.pieces + self.spares
