"""What every kept photo has, whatever it shows."""

from collections.abc import Sequence
from typing import Any

from django.db import models

from keencoat.core.errors import KeenCoatError
from keencoat.shop.stored_field import StoredField

Corners = Sequence[Sequence[float]]


class KeptPhoto(models.Model):
    """A photo, kept from the moment it arrives: where in it the thing was found, and either what was measured there,
    with the thing squared up, or why nothing was. Each kind adds what it shows, and a `reading` in a shape of its own.

    `version` counts the times its corners were marked.
    """

    at = models.DateTimeField()
    original = models.BinaryField()
    kind = models.CharField(max_length=8)
    simulated = models.BooleanField(default=False)
    points = StoredField("corners", null=True)
    trouble = StoredField("trouble", null=True)
    upright = models.BinaryField(null=True)
    version = models.PositiveIntegerField(default=1)

    reading: Any
    """What was measured, as JSON: a StoredField of each kind's own shape."""

    class Meta:
        abstract = True

    def take_reading(self, points: Corners, reading: object, upright: bytes | None) -> None:
        """What was measured, and where it was found."""
        self.points, self.reading, self.upright, self.trouble = [list(p) for p in points], reading, upright, None

    def take_trouble(self, trouble: KeenCoatError | None, marked: Corners | None) -> None:
        """Why nothing was measured; corners that were marked by hand stay."""
        self.points, self.reading, self.upright = marked, None, None
        self.trouble = trouble.facts() if trouble else None
