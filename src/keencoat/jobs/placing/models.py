"""How a job's pieces lie or turn under the beam."""

from dataclasses import asdict
from typing import Any

from django.db import models

from keencoat.core.piece import Girth, GirthTool, NarrowEnd
from keencoat.core.placing import ArtWay, Mark, PlacingSpec
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.job.models import Job
from keencoat.shop.models import TurningDevice
from keencoat.shop.stored_field import StoredField


class Placing(models.Model):
    """What a job's maker told of it; `device` turns round pieces (None: a fixed head marks them), `artwork` is the mark
    that is placed (None: one of the size that is told). `version` counts changes."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="placing")
    device = models.ForeignKey(TurningDevice, null=True, on_delete=models.SET_NULL, related_name="placings")
    artwork = models.ForeignKey(Artwork, null=True, on_delete=models.SET_NULL, related_name="placings")
    spec = StoredField("placing-spec")
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return f"placing of {self.job}"

    def told(self) -> PlacingSpec:
        """What was told, as core knows it."""
        return placing_spec_of(self.spec)


def placing_spec_of(facts: dict[str, Any]) -> PlacingSpec:
    """What is told from kept figures; raises BadValueError."""
    girths = tuple(Girth(**(g | {"by": GirthTool(g["by"])})) for g in facts["girths"])
    points = tuple((float(x), float(y)) for x, y in facts["points"])
    mark = Mark(**(facts["mark"] | {"way": ArtWay(facts["mark"]["way"])}))
    narrow = NarrowEnd(facts["narrow_end"])
    return PlacingSpec(**(facts | {"girths": girths, "points": points, "mark": mark, "narrow_end": narrow}))


def placing_facts_of(spec: PlacingSpec) -> dict[str, Any]:
    """Figures to keep."""
    return asdict(spec)
