"""What every burn on a laser that the app drives has, whatever is burned."""

from django.db import models


class LaserRow(models.Model):
    """Something on its way through a laser, on one piece. `moves` is what the head really did, packed (`driving`).

    `wanted` is what somebody asked of it since: pause, resume or stop.
    """

    piece = models.PositiveIntegerField(default=1)
    state = models.CharField(max_length=8)
    wanted = models.CharField(max_length=8, blank=True)
    pace = models.FloatField()
    lines = models.PositiveIntegerField(default=0)
    lines_done = models.PositiveIntegerField(default=0)
    clock_s = models.FloatField(default=0)
    now_at = models.CharField(max_length=40, blank=True)
    trouble = models.CharField(max_length=300, blank=True)
    asked_at = models.DateTimeField()
    beat_at = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)
    moves = models.BinaryField(null=True)

    class Meta:
        abstract = True
