"""Every change of a rating, and photos of what came out."""

from django.db import models

from keencoat.jobs.grid.models import TestGrid
from keencoat.jobs.job.kept_photo import KeptPhoto
from keencoat.shop.stored_field import StoredField


class RatingEvent(models.Model):
    """One change of ratings, with what stood before: undo takes the newest back."""

    grid = models.ForeignKey(TestGrid, on_delete=models.CASCADE, related_name="rating_events")
    at = models.DateTimeField()
    before = StoredField("ratings-before")

    class Meta:
        ordering = ("-id",)

    def __str__(self) -> str:
        return f"{len(self.before)} cells"


class PhotoLight(models.TextChoices):
    """How it was lit or looked at."""

    PLAIN = "plain", "plain light"
    DARK_GROUND = "dark_ground", "on a dark ground"
    ASLANT = "aslant", "lamp from the side"
    LOUPE = "loupe", "through a loupe"


class GridPhoto(KeptPhoto):
    """A photo of a washed grid, with where its frame is and what was measured.

    `reading` holds `full_l`, `noise_l`, `px_per_mm` and the cells' figures. `only` names the one cell of a loupe shot.
    """

    grid = models.ForeignKey(TestGrid, on_delete=models.CASCADE, related_name="photos")
    spare = models.PositiveIntegerField(default=1)
    only = models.CharField(max_length=4, blank=True)
    light = models.CharField(max_length=12, default=PhotoLight.PLAIN, choices=PhotoLight)
    mirrored = models.BooleanField(default=False)
    reading = StoredField("grid-reading", null=True)

    class Meta:
        ordering = ("at", "id")

    def __str__(self) -> str:
        return f"photo of {self.grid}, {self.at:%Y-%m-%d %H:%M}"
