"""Bringing artwork in, changing what is asked of it, throwing it away."""

from collections.abc import Hashable
from datetime import datetime
from functools import lru_cache
from threading import Condition

from cachetools import LRUCache, cached
from cachetools.keys import hashkey
from django.db import transaction

from keencoat.core.artwork import (
    ArtKind,
    ArtSpec,
    Picture,
    Source,
    Wording,
    height_per_width,
    look_of,
    read_source,
    sketch_source,
    start_of,
)
from keencoat.core.errors import BadValueError, MissingError, NotAllowedError
from keencoat.jobs.artwork.models import Artwork, facts_of
from keencoat.jobs.job.room_taken import require_room_for_photo
from keencoat.jobs.job.services import find_job, lock_job, log, take_turn
from keencoat.logbook.models import EntryKind
from keencoat.shop.access import find_one, require_version, within_reach
from keencoat.shop.aside import aside
from keencoat.shop.models import Workshop
from keencoat.shop.shared import shared

MOST_ARTWORKS = 40
_MOST_BYTES, _ANY_BYTES = 90_000_000, 2_000_000
"""One picture of the largest kind, see-through, or two that are not."""


def _bytes_of(source: Source) -> int:
    return source.light.nbytes * (1 if source.is_opaque else 2) if isinstance(source, Picture) else _ANY_BYTES


_sources: LRUCache[Hashable, Source] = LRUCache(_MOST_BYTES, _bytes_of)
_turn = Condition()


@cached(_sources, condition=_turn)
def source_of(artwork_id: int, kind: ArtKind) -> Source:
    """What was brought, read anew from the database where this process has not kept it: it never changes, and has been
    read in a process of its own before it was kept."""
    if kind is ArtKind.PICTURE:
        return read_source(kind, _data_of(artwork_id))
    return shared(f"source {artwork_id}", lambda: read_source(kind, _data_of(artwork_id)))


def sketch_of(artwork: Artwork) -> Source:
    """What was brought, of a photo its size alone."""
    kind = artwork.brought
    return _unread(artwork.pk) if kind is ArtKind.PICTURE else source_of(artwork.pk, kind)


@lru_cache(maxsize=256)
def _unread(artwork_id: int) -> Source:
    return sketch_source(ArtKind.PICTURE, _data_of(artwork_id))


def _data_of(artwork_id: int) -> bytes:
    data = Artwork.objects.filter(pk=artwork_id).values_list("source", flat=True).first()
    if data is None:
        raise MissingError("This artwork was thrown away meanwhile.", hint="Look at another one.")
    return bytes(data)


def picture_of(artwork: Artwork) -> Picture:
    """The photo that was brought. Raises BadValueError for artwork that is none."""
    source = source_of(artwork.pk, artwork.brought)
    if not isinstance(source, Picture):
        raise BadValueError("This artwork is no photo.", field="artwork", hint="Look at it on the piece.")
    return source


def bring_artwork(workshop: Workshop, job_id: int, kind: ArtKind, name: str, data: bytes, at: datetime) -> Artwork:
    """Keep an artwork as it was brought. Raises BadValueError where it cannot be read, NotAllowedError for too many."""
    if not data:
        raise BadValueError("The file is empty.", field="file", hint="Choose another one.")
    job = find_job(workshop, job_id)
    spec, source = aside(start_of, kind, data, job.piece().face.coated, bool(look_of(job.process).one_tone))
    with transaction.atomic():
        job = lock_job(workshop, job_id)
        require_room_for_photo(workshop)
        if job.artworks.count() >= MOST_ARTWORKS:
            raise NotAllowedError(
                f"This job has {MOST_ARTWORKS} artworks.", field="file", hint="Throw away what you do not need."
            )
        made = Artwork.objects.create(
            job=job, at=at, name=name[:60] or kind, kind=kind, source=data, spec=facts_of(spec)
        )
        log(job, EntryKind.ARTWORK, at, f"Artwork brought: {made.name}")
    if source is not None:
        with _turn:
            _sources[hashkey(made.pk, kind)] = source
    return made


def find_artwork(workshop: Workshop, artwork_id: int) -> Artwork:
    """The artwork of that id in this workshop, without its file; raises MissingError."""
    rows = Artwork.objects.defer("source").select_related("job__machine", "job__workshop")
    return find_one(rows.filter(within_reach(workshop, "job__workshop")), "artwork", pk=artwork_id)


@transaction.atomic
def change_artwork(workshop: Workshop, artwork_id: int, spec: ArtSpec, name: str, seen: int) -> Artwork:
    """Ask something else of an artwork that still is at version `seen`."""
    take_turn(workshop, "artwork", artworks=artwork_id)
    artwork = find_artwork(workshop, artwork_id)
    require_version(artwork, seen, "artwork")
    if artwork.brought is ArtKind.TEXT:
        # What cannot be set is refused here: nothing could show it afterwards.
        height_per_width(Wording(spec.words), spec)
    artwork.spec, artwork.name, artwork.version = facts_of(spec), name, artwork.version + 1
    artwork.save(update_fields=["spec", "name", "version"])
    return artwork


@transaction.atomic
def drop_artwork(workshop: Workshop, artwork_id: int, at: datetime) -> None:
    """Throw an artwork away. Raises NotAllowedError for one that was taken: its versions are evidence."""
    take_turn(workshop, "artwork", artworks=artwork_id)
    artwork = find_artwork(workshop, artwork_id)
    if artwork.versions.exists():
        raise NotAllowedError(
            f"“{artwork.name}” was taken or burned: what was made of it stays.", hint="Bring the next one beside it."
        )
    log(artwork.job, EntryKind.ARTWORK, at, f"Artwork thrown away: {artwork.name}")
    artwork.delete()
