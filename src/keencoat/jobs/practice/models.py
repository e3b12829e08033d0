"""Practice: jobs on the simulated bench. They live in a workshop of their own, so nothing of them counts as real."""

from django.db import models

from keencoat.jobs.job.models import Job
from keencoat.shop.stored_field import StoredField


class Practice(models.Model):
    """What the simulation knows of a practice job and the maker does not: material and luck, by seed.

    `coat_fault` and `film_share` say how the pieces were coated. `batch` is the result of the run of twelve. `faults`:
    what is put into single pieces of a batch, by the piece's id.
    """

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="practice")
    scenario = models.CharField(max_length=40)
    hidden = models.BooleanField(default=False)
    seed = models.PositiveIntegerField()
    coat_fault = models.CharField(max_length=12, default="even")
    film_share = models.FloatField(default=1.0)
    pieces_spent = models.PositiveIntegerField(default=0)
    batch = StoredField("practice-batch", null=True)
    faults = StoredField("practice-faults", default=dict)

    def __str__(self) -> str:
        return f"practice on {self.job}"
