"""All pieces of an artwork in one file: asked for, made by a worker, watched, called off."""

from collections.abc import Callable
from datetime import datetime

from django.db import transaction
from django.utils import timezone

from keencoat.core.errors import KeenCoatError, MissingError, NotAllowedError
from keencoat.core.states import BURN_MOVES, BurnState, move
from keencoat.jobs.artwork.models import ArtworkPack, PackKind
from keencoat.jobs.artwork.proof_pdf import proof_pdf
from keencoat.jobs.artwork.services.bringing import find_artwork
from keencoat.jobs.artwork.services.files import all_pieces_of, zip_of
from keencoat.jobs.artwork.services.making import base_of
from keencoat.jobs.artwork.services.versions import keep_version
from keencoat.jobs.job.driving import LOST_AFTER
from keencoat.jobs.job.lost import Lost, mend_lost
from keencoat.jobs.job.services import find_job, take_turn
from keencoat.shop.access import find_one, within_reach
from keencoat.shop.models import Workshop

_LOST = 5 * LOST_AFTER
"""A worker tells after each piece, and a large one takes seconds."""
_WRITES = {PackKind.PROOF: proof_pdf, PackKind.ALL: zip_of}


class CalledOffError(Exception):
    """Somebody called the work off."""


@transaction.atomic
def ask_pack(workshop: Workshop, artwork_id: int, kind: PackKind, at: datetime) -> ArtworkPack:
    """Ask for all pieces of an artwork, as it is now, in one file; what was made of it before goes. Raises
    NotAllowedError while one is under way."""
    take_turn(workshop, "artwork", artworks=artwork_id)
    artwork = find_artwork(workshop, artwork_id)
    artwork.job = find_job(workshop, artwork.job_id)
    base = base_of(artwork.job)
    packs = ArtworkPack.objects.filter(artwork=artwork, kind=kind)
    if packs.filter(ended_at=None).exists():
        raise NotAllowedError("It is being made already.", field="state", hint="Wait, or call it off.")
    packs.delete()
    if kind is PackKind.ALL:
        keep_version(artwork, base, at)
    return ArtworkPack.objects.create(
        artwork=artwork,
        version=artwork.version,
        lock_version=base.key[1],
        spec=artwork.spec,
        kind=kind,
        state=BurnState.QUEUED,
        pieces=all_pieces_of(artwork),
        asked_at=at,
    )


def run_pack(pack_id: int) -> None:
    """Make what is queued. The worker's part; does nothing for one that is not queued."""
    with transaction.atomic():
        pack = ArtworkPack.objects.select_for_update().get(pk=pack_id)
        if pack.state != BurnState.QUEUED:
            return
        pack.state, pack.beat_at = move(BURN_MOVES, BurnState(pack.state), BurnState.RUNNING), timezone.now()
        pack.save(update_fields=["state", "beat_at"])

    def tell(done: int) -> None:
        rows = ArtworkPack.objects.filter(pk=pack.pk)
        rows.update(pieces_done=done, beat_at=timezone.now())
        if rows.filter(wanted="stop").exists():
            raise CalledOffError

    try:
        artwork = pack.as_it_was()
        artwork.job = find_job(pack.artwork.job.workshop, pack.artwork.job_id)
        base = base_of(artwork.job)
        if base.key[1] != pack.lock_version:
            raise NotAllowedError("Another setting was locked meanwhile.", field="setting", hint="Ask again.")
        data = _WRITES[PackKind(pack.kind)](artwork, base, tell)
    except CalledOffError:
        _end(pack, BurnState.STOPPED, None)
    except KeenCoatError as error:
        _end(pack, BurnState.FAILED, None, str(error))
    else:
        _end(pack, BurnState.DONE, data)


@transaction.atomic
def _end(pack: ArtworkPack, state: BurnState, data: bytes | None, trouble: str = "") -> None:
    pack = ArtworkPack.objects.select_for_update().get(pk=pack.pk)
    if BurnState(pack.state).over:
        return
    pack.state, pack.data, pack.trouble = move(BURN_MOVES, BurnState(pack.state), state), data, trouble[:300]
    pack.ended_at = timezone.now()
    if state is BurnState.DONE:
        pack.pieces_done = pack.pieces
    pack.save()


def call_off(workshop: Workshop, pack_id: int) -> ArtworkPack:
    """Call a file off that is not made yet; its worker stops after the piece that it is at."""
    pack = find_pack(workshop, pack_id)
    if BurnState(pack.state).over:
        raise NotAllowedError(f"This file is {pack.state}.", field="state", hint="There is nothing to call off.")
    ArtworkPack.objects.filter(pk=pack.pk).update(wanted="stop")
    return find_pack(workshop, pack_id)


def find_pack(workshop: Workshop, pack_id: int) -> ArtworkPack:
    """The file of that id in this workshop, without its bytes; raises MissingError."""
    rows = ArtworkPack.objects.filter(within_reach(workshop, "artwork__job__workshop")).select_related("artwork__job")
    return find_one(rows.defer("data", "artwork__source"), "file", pk=pack_id)


def bytes_of(pack: ArtworkPack) -> bytes:
    """The file itself; raises MissingError for one that is not made."""
    if pack.data is None:
        raise MissingError("This file is not made.", hint="Wait until it is, or ask for it again.")
    return bytes(pack.data)


def mend_packs(at: datetime, ask_again: Callable[..., object]) -> int:
    """End what nobody makes any more; have queued ones whose task is gone asked for again, by `art_pack_id`. How many
    were mended."""

    def end(pack: ArtworkPack) -> None:
        _end(pack, BurnState.FAILED, None, "What made it is gone: ask for it again.")

    return mend_lost(Lost(ArtworkPack.objects.all(), _LOST, "art_pack_id", end), at, ask_again)
