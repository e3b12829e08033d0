"""Burning artwork on a laser that the app drives: asked for, watched and stopped like a grid."""

from collections.abc import Callable
from datetime import datetime

from django.db import transaction
from django.utils import timezone

from keencoat.bench.laser.controller import Burned
from keencoat.bench.laser.driver import PracticeLaser
from keencoat.core.errors import BadValueError, NotAllowedError, require_within
from keencoat.core.states import BURN_MOVES, BurnState, move
from keencoat.core.toolpath import DotRaster, extent_of, gcode_lines
from keencoat.jobs.artwork.models import ArtworkBurn
from keencoat.jobs.artwork.services.bringing import find_artwork
from keencoat.jobs.artwork.services.making import base_of, made_of, seconds_of
from keencoat.jobs.artwork.services.versions import keep_version
from keencoat.jobs.job.driving import (
    LOST_AFTER,
    USUAL_WALL_S,
    BurnProgram,
    Streamed,
    bed_under,
    begin,
    pack,
    say_to,
    starts_of,
    stream,
)
from keencoat.jobs.job.lost import Lost, mend_lost
from keencoat.jobs.job.services import find_job, log, take_turn
from keencoat.logbook.models import EntryKind
from keencoat.shop.access import find_one, within_reach
from keencoat.shop.models import Workshop

MOST_DOTS = 2_000_000
"""What the practice laser takes: more would be hours of its clock."""


@transaction.atomic
def ask_art_burn(workshop: Workshop, artwork_id: int, number: int, at: datetime) -> ArtworkBurn:
    """Ask that piece `number` (from 0) of a practice job's artwork is burned on a fresh piece; a worker does it. Raises
    NotAllowedError for a real job, and while it burns already."""
    take_turn(workshop, "artwork", artworks=artwork_id)
    artwork = find_artwork(workshop, artwork_id)
    artwork.job = find_job(workshop, artwork.job_id)
    if not artwork.job.is_practice:
        raise NotAllowedError(
            "No laser is connected to this workshop.", hint="Take the G-code, burn it, and photograph the piece."
        )
    if ArtworkBurn.objects.filter(made__artwork=artwork, ended_at=None).exists():
        raise NotAllowedError("This artwork is burning already.", field="state", hint="Wait, or stop it.")
    base = base_of(artwork.job)
    program = base.program(made_of(artwork, base, number), artwork.asked().across)
    if isinstance(program, DotRaster) and program.dots.sum() > MOST_DOTS:
        raise BadValueError(
            f"These are {program.dots.sum() / 1e6:.1f} million dots; the practice laser takes {MOST_DOTS / 1e6:.0f}.",
            field="placement.width_mm",
            hint="Burn it smaller for practice.",
        )
    practice = artwork.job.practice
    practice.pieces_spent += 1
    practice.save(update_fields=["pieces_spent"])
    return ArtworkBurn.objects.create(
        made=keep_version(artwork, base, at),
        number=number,
        piece=practice.pieces_spent,
        state=BurnState.QUEUED,
        asked_at=at,
        pace=require_within(max(1.0, seconds_of(program, base) / USUAL_WALL_S), 1, 2000, "pace"),
    )


def run_art_burn(burn_id: int) -> None:
    """Burn queued artwork on the simulated laser. The worker's part; does nothing for one that is not queued."""
    with transaction.atomic():
        burn = ArtworkBurn.objects.select_for_update().get(pk=burn_id)
        if burn.state != BurnState.QUEUED:
            return
        begin(burn)
    try:
        program = _program_of(burn)
    except BadValueError as error:
        _end(burn, Streamed(BurnState.FAILED, 0, 0.0, str(error)), [])
        return
    ArtworkBurn.objects.filter(pk=burn.pk).update(lines=len(program.lines))
    with PracticeLaser(program.bed, burn.pace) as laser:
        ended = stream(laser, program, burn)
        burned = laser.burned
    _end(burn, ended, burned)


def _program_of(burn: ArtworkBurn) -> BurnProgram:
    """What was asked for, on the setting that it was asked for. Raises BadValueError if another one is locked since."""
    job = find_job(burn.made.job.workshop, burn.made.job_id)
    base = base_of(job)
    if base.key[1] != burn.made.lock_version:
        raise BadValueError("Another setting was locked meanwhile.", field="setting", hint="Burn it again.")
    artwork = burn.made.as_it_was()
    program = base.program(made_of(artwork, base, burn.number), artwork.asked().across)
    written = gcode_lines(program, base.machine, str(burn.made), base.mirrored, base.focus)
    items, lines = zip(*written, strict=True)
    return BurnProgram(lines, tuple(starts_of(items)), (), bed_under(base.machine, extent_of(program)))


@transaction.atomic
def _end(burn: ArtworkBurn, ended: Streamed, burned: list[Burned]) -> None:
    burn = ArtworkBurn.objects.select_for_update().get(pk=burn.pk)
    if BurnState(burn.state).over:
        return
    burn.state = move(BURN_MOVES, BurnState(burn.state), ended.state)
    burn.lines_done, burn.clock_s, burn.trouble = ended.done, ended.clock_s, ended.trouble
    burn.ended_at, burn.moves = timezone.now(), pack(burned)
    burn.save()
    if ended.state is BurnState.DONE:
        job = find_job(burn.made.job.workshop, burn.made.job_id)
        log(job, EntryKind.ARTWORK, burn.ended_at, f"Artwork burned: {burn.made}")


def mend_art_burns(at: datetime, ask_again: Callable[..., object]) -> int:
    """End burns of artwork that nobody drives any more: their piece is lost. Have queued ones whose task is gone asked
    for again, by `art_burn_id`. How many were mended."""

    def end(burn: ArtworkBurn) -> None:
        words = "What drove it is gone: burn it again on a fresh piece."
        _end(burn, Streamed(BurnState.FAILED, burn.lines_done, burn.clock_s, words), [])

    return mend_lost(Lost(ArtworkBurn.objects.defer("moves"), LOST_AFTER, "art_burn_id", end), at, ask_again)


def tell_art_burn(workshop: Workshop, burn_id: int, word: str) -> ArtworkBurn:
    """Ask a burn to pause, resume or stop."""
    say_to(find_art_burn(workshop, burn_id), word)
    return find_art_burn(workshop, burn_id)


def find_art_burn(workshop: Workshop, burn_id: int) -> ArtworkBurn:
    """The burn of that id in this workshop; raises MissingError."""
    rows = ArtworkBurn.objects.filter(within_reach(workshop, "made__job__workshop")).select_related("made__job")
    return find_one(rows.defer("moves"), "burn", pk=burn_id)
