"""What the newest photo of a job's coat told of its film."""

from dataclasses import dataclass
from datetime import datetime

import numpy as np

from keencoat.core.artwork import MadeDots, film_at_dots
from keencoat.core.vision import Floats
from keencoat.jobs.models import Job


@dataclass(frozen=True, eq=False)
class CoatFilm:
    """Film by squares of a face of that size, mm, as the coat is looked at; `key` names the photo and its reading."""

    key: tuple[int, int]
    at_time: datetime
    squares: Floats
    size_mm: tuple[float, float]

    def at(self, made: MadeDots, mirrored: bool) -> Floats:
        """ln of the film over its mean at each dot."""
        return film_at_dots(self.squares, self.size_mm, made, mirrored)


def film_of(job: Job) -> CoatFilm | None:
    """The film as the newest photo of the coat told it; None where none was measured."""
    photo = job.photos.filter(reading__isnull=False).defer("original", "upright", "bare").first()
    if photo is None:
        return None
    squares = np.array(photo.reading["squares"], dtype=np.float32)
    size_mm = photo.reading["width_mm"], photo.reading["height_mm"]
    return CoatFilm((photo.pk, photo.version), photo.at, squares, size_mm)
