"""Artwork of a job: what was brought, how it is to be made, the versions that were taken, and what came of them."""

from dataclasses import asdict
from typing import Any

from django.db import models

from keencoat.core.artwork import ArtKind, ArtSpec, Crop, Placement, Screen, ToneWork, Typeface
from keencoat.core.quantities import Setting
from keencoat.jobs.job.kept_photo import KeptPhoto
from keencoat.jobs.job.laser_row import LaserRow
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
    def stem(self) -> str:
        """What its files begin with."""
        return f"keencoat-job{self.job_id}-artwork{self.pk}-v{self.version}"

    @property
    def brought(self) -> ArtKind:
        """What was brought, as core knows it."""
        return ArtKind(self.kind)

    def asked(self) -> ArtSpec:
        """What is asked of it, as core knows it."""
        return spec_of(self.spec)


class ArtworkVersion(models.Model):
    """An artwork as it was when a file of it was first taken, or a piece burned: evidence, which the database itself
    refuses to rewrite. `lock_version` and `setting` are what it was made for."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="artwork_versions")
    artwork = models.ForeignKey(Artwork, on_delete=models.CASCADE, related_name="versions")
    version = models.PositiveIntegerField()
    lock_version = models.PositiveIntegerField()
    at = models.DateTimeField()
    spec = StoredField("artwork-spec")
    setting = StoredField("setting")

    class Meta:
        ordering = ("id",)
        constraints = (
            models.UniqueConstraint(fields=("artwork", "version", "lock_version"), name="artwork_version_once"),
        )

    def __str__(self) -> str:
        return f"{self.artwork} v{self.version} for setting v{self.lock_version}"

    def made_with(self) -> Setting:
        """The setting that it was made for."""
        return Setting(**self.setting)

    def as_it_was(self) -> Artwork:
        """The artwork as it was asked for then; not to be saved."""
        return _as_asked(self.artwork, self.spec, self.version)


def _as_asked(artwork: Artwork, spec: dict[str, Any], version: int) -> Artwork:
    return Artwork(pk=artwork.pk, job=artwork.job, name=artwork.name, kind=artwork.kind, spec=spec, version=version)


class PackKind(models.TextChoices):
    """What all pieces of an artwork come in."""

    PROOF = "pdf", "a proof on paper"
    ALL = "zip", "PNG and G-code of every piece"


class ArtworkPack(models.Model):
    """All pieces of an artwork in one file, made by a worker: how far it is, what somebody asked of it since (stop),
    and the file."""

    artwork = models.ForeignKey(Artwork, on_delete=models.CASCADE, related_name="packs")
    version = models.PositiveIntegerField()
    lock_version = models.PositiveIntegerField()
    spec = StoredField("artwork-spec")
    kind = models.CharField(max_length=4, choices=PackKind)
    state = models.CharField(max_length=8)
    wanted = models.CharField(max_length=8, blank=True)
    pieces = models.PositiveIntegerField()
    pieces_done = models.PositiveIntegerField(default=0)
    trouble = models.CharField(max_length=300, blank=True)
    asked_at = models.DateTimeField()
    beat_at = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)
    data = models.BinaryField(null=True)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.kind} of {self.artwork}: {self.state}"

    def as_it_was(self) -> Artwork:
        """The artwork as it was asked for then; not to be saved."""
        return _as_asked(self.artwork, self.spec, self.version)


class ArtworkBurn(LaserRow):
    """A piece of artwork on its way through a laser that the app drives; `number` is the piece of a list, from 0."""

    made = models.ForeignKey(ArtworkVersion, on_delete=models.CASCADE, related_name="burns")
    number = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"burn of {self.made}: {self.state}"


class ArtworkPhoto(KeptPhoto):
    """A photo of a finished piece beside what was expected of it: `upright`, `difference`, and how alike they are."""

    made = models.ForeignKey(ArtworkVersion, on_delete=models.CASCADE, related_name="photos")
    number = models.PositiveIntegerField(default=0)
    difference = models.BinaryField(null=True)
    reading = StoredField("artwork-likeness", null=True)

    @property
    def is_waiting(self) -> bool:
        """Whether a worker has yet to compare it."""
        return self.reading is None and self.trouble is None

    class Meta:
        ordering = ("-at", "-id")

    def __str__(self) -> str:
        return f"photo of {self.made}, {self.at:%Y-%m-%d %H:%M}"


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
        facts["across"],
        facts["words"],
        facts["outlines"],
        facts["each_group"],
    )
