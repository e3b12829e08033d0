"""Versions of artwork that were taken or burned, kept as evidence."""

from dataclasses import asdict
from datetime import datetime

from keencoat.core.artwork import NameList, require_all_set, setting_changed
from keencoat.core.errors import NotAllowedError
from keencoat.core.findings import Finding
from keencoat.jobs.artwork.models import Artwork, ArtworkVersion
from keencoat.jobs.artwork.services.bringing import sketch_of
from keencoat.jobs.artwork.services.making import ArtBase, setting_for


def keep_version(artwork: Artwork, base: ArtBase, at: datetime) -> ArtworkVersion:
    """The artwork as it is now, made for the setting as it is now; kept once. Whatever is made of it is kept so: raises
    BadValueError first where a name on its list cannot be set."""
    source = sketch_of(artwork)
    if isinstance(source, NameList):
        require_all_set(source, artwork.asked().typeface)
    kept, _ = ArtworkVersion.objects.get_or_create(
        artwork=artwork,
        version=artwork.version,
        lock_version=base.key[1],
        defaults={"job": artwork.job, "at": at, "spec": artwork.spec, "setting": asdict(setting_for(artwork, base))},
    )
    return kept


def require_taken(artwork: Artwork, base: ArtBase) -> None:
    """Raise NotAllowedError unless the artwork, as it is now, was kept for the setting as it is now."""
    if not artwork.versions.filter(version=artwork.version, lock_version=base.key[1]).exists():
        raise NotAllowedError(
            f"Version {artwork.version} of this artwork was not taken yet.",
            hint="Send a POST to its address with /taken first; the buttons of its page do.",
        )


def version_findings(artwork: Artwork, base: ArtBase) -> list[Finding]:
    """Whether what was last taken was made for another setting."""
    last = artwork.versions.last()
    if last is None or last.lock_version == base.key[1]:
        return []
    return [setting_changed((last.lock_version, last.made_with()), (base.key[1], setting_for(artwork, base)))]
