"""Artwork of a job: what was brought, and how it is to be made."""

from dataclasses import asdict
from typing import Any

from django.db import models

from keencoat.core.artwork import ArtKind, ArtSpec, Crop, Placement, Screen, ToneWork, Typeface
from keencoat.jobs.job.models import Job
from keencoat.shop.stored_field import StoredField


class Artwork(models.Model):
    """A picture, a drawing or a list of names as it was brought, and what is asked of it; `version` counts changes."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="artworks")
    at = models.DateTimeField()
    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=8, choices=[(k.value, k.value) for k in ArtKind])
    source = models.BinaryField()
    spec = StoredField("artwork-spec")
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.name} of {self.job}"

    @property
    def brought(self) -> ArtKind:
        """What was brought, as core knows it."""
        return ArtKind(self.kind)

    def asked(self) -> ArtSpec:
        """What is asked of it, as core knows it."""
        return spec_of(self.spec)


def facts_of(spec: ArtSpec) -> dict[str, Any]:
    """What is asked of an artwork, to be kept."""
    return asdict(spec)


def spec_of(facts: dict[str, Any]) -> ArtSpec:
    """What is asked of an artwork, from what was kept."""
    tone = dict(facts["tone"])
    return ArtSpec(
        Placement(**facts["placement"]),
        ToneWork(**(tone | {"crop": Crop(**tone["crop"])})),
        Screen(facts["screen"]),
        facts["serpentine"],
        facts["take_back_gain"],
        facts["bleed_mm"],
        facts["group"],
        Typeface(facts["typeface"]),
        facts["one_size"],
    )
