"""What a job's pieces cost and sell for, as somebody said."""

from django.db import models

from keencoat.jobs.job.models import Job
from keencoat.shop.stored_field import StoredField


class JobCost(models.Model):
    """What was said of a job's money; `version` counts changes."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="cost")
    told = StoredField("job-cost")
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return f"cost of {self.job}"
