"""Why a piece of a batch failed: everything that the job knows of it, put before the table of causes."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from statistics import median

from django.db import transaction

from keencoat.core.artwork import flaws_from
from keencoat.core.errors import NotAllowedError
from keencoat.core.inspect import (
    BurnedAs,
    Case,
    Circumstances,
    Conditions,
    Explained,
    Measured,
    Neighbour,
    explain,
    out_of_place,
    require_answer,
    signs_seen,
    since_good,
)
from keencoat.core.piece import RoundPiece
from keencoat.core.rating import Rating
from keencoat.core.states import PieceState
from keencoat.core.substrate import find_process, find_substrate
from keencoat.core.window import SettingOdds, odds_of
from keencoat.jobs.batch.services.moving import find_batch_piece, pieces_of, ticks_of
from keencoat.jobs.batch.services.record import coats_on, photo_of_coat
from keencoat.jobs.belief import fit_of
from keencoat.jobs.coat.services.drying import drying_of
from keencoat.jobs.job.services import burned_grids, lock_job
from keencoat.jobs.models import BatchPiece, CoatPhoto, Job, PiecePhoto
from keencoat.jobs.window.services.locking import drift_of
from keencoat.shop.access import require_version
from keencoat.shop.models import Workshop, machine_of
from keencoat.shop.room import air_at
from keencoat.shop.spot import both_ways_of

_FILM_SD, _HAND_TIME_SD = 0.1, 0.3
_MOST_AFTER, _MOVED = 2, 0.5
_OF_COATS = {
    "coat-streaked": "streaked",
    "coat-pooled": "pooled",
    "coat-thin-spot": "thin_spot",
    "coat-bare": "touched",
    "coat-cracked": "cracked",
}


@dataclass(frozen=True)
class Why:
    """Why a piece failed: causes by rank, what the window says of its setting, how it differs from the last good piece
    (None: there is none) and which that was."""

    piece: BatchPiece
    explained: Explained
    odds: SettingOdds
    since: tuple[str, ...]
    good: int | None


def why_failed(workshop: Workshop, piece_id: int) -> Why:
    """Explain a piece that was looked at. Raises NotAllowedError for one that was not, or is as it should be."""
    piece = _failed(workshop, piece_id)
    beside = pieces_of(piece.batch)
    good = _last_good(piece, beside)
    now, then = circumstances_of(piece), circumstances_of(good) if good else None
    case = _case_of(piece, beside, _conditions(piece, now, then))
    odds = odds_of(case.burned.fit, case.burned.setting, case.burned.machine)
    since = tuple(since_good(now, then)) if then else ()
    return Why(piece, explain(case), odds, since, good.number if good else None)


@transaction.atomic
def tell_answer(workshop: Workshop, piece_id: int, test: str, answer: str | None, seen: int) -> BatchPiece:
    """Keep what a cheap test came to, or forget it (None). Raises UnknownNameError for no such test or answer."""
    piece = _failed(workshop, piece_id)
    lock_job(workshop, piece.batch.job_id)
    piece = _failed(workshop, piece_id)
    require_version(piece, seen, "piece")
    answers = {key: said for key, said in piece.answers.items() if key != test}
    if answer is not None:
        require_answer(test, answer)
        answers[test] = answer
    piece.answers, piece.version = answers, piece.version + 1
    piece.save(update_fields=["answers", "version"])
    return piece


def _failed(workshop: Workshop, piece_id: int) -> BatchPiece:
    piece = find_batch_piece(workshop, piece_id)
    if piece.state != PieceState.LOOKED:
        raise NotAllowedError(f"Piece {piece.number} is {piece.state}.", field="state", hint="Look at it washed first.")
    if piece.rating == Rating.CLEAN and not piece.defects:
        raise NotAllowedError(f"Piece {piece.number} is as it should be.", field="state", hint="Nothing to explain.")
    return piece


def _case_of(piece: BatchPiece, beside: Sequence[BatchPiece], conditions: Conditions) -> Case:
    batch = piece.batch
    job = batch.job
    machine = machine_of(batch.machine_facts)
    burned = BurnedAs(
        find_process(job.process),
        find_substrate(job.substrate),
        batch.burned_with(),
        machine,
        fit_of(job),
        job.workshop.wanted_share,
        job.recipe(),
    )
    seen = set(piece.defects) | _seen_by_photo(piece)
    coat = photo_of_coat(piece)
    near = [p for p in beside if p.state == PieceState.LOOKED and p.attempt == 1 and p.pk != piece.pk]
    before = [p for p in near if p.turn < piece.turn]
    after = [p for p in near if p.turn > piece.turn][:_MOST_AFTER]
    return Case(
        burned,
        Rating(piece.rating) if piece.rating else None,
        {sign: sign in seen for sign in ticks_of(job)},
        conditions,
        _shown(coat),
        piece.answers,
        _ln_film(coat, job),
        _ln_time(piece, beside),
        Neighbour(before[-1].number, _alike(before[-1], piece)) if before else None,
        tuple(Neighbour(p.number, _alike(p, piece)) for p in after),
    )


def _alike(one: BatchPiece, other: BatchPiece) -> bool:
    """Whether two pieces failed the same way."""
    if one.rating == Rating.CLEAN and not one.defects:
        return False
    return one.rating == other.rating or bool(set(one.defects) & set(other.defects))


def _last_good(piece: BatchPiece, beside: Sequence[BatchPiece]) -> BatchPiece | None:
    good = [p for p in beside if p.rating == Rating.CLEAN and not p.defects and p.turn < piece.turn]
    return good[-1] if good else None


def _seen_by_photo(piece: BatchPiece) -> set[str]:
    photo = PiecePhoto.objects.filter(piece=piece).only("reading").first()
    if photo is None or photo.reading is None:
        return set()
    lies = out_of_place(photo.reading["shift_mm"], photo.reading["askew_deg"], photo.reading["size_pct"])
    flaws = flaws_from(photo.reading["flaws"]) if photo.reading["flaws"] else None
    return signs_seen(lies, flaws, find_process(piece.batch.job.process))


def _conditions(piece: BatchPiece, now: Circumstances, good: Circumstances | None) -> Conditions:
    job, good_c = piece.batch.job, good.air_c if good else None
    drift = drift_of(job)
    both_ways = both_ways_of(job.machine)
    made = piece.batch.made
    return Conditions(
        turned=isinstance(job.piece(), RoundPiece),
        fill_over_tested=_fill_over_tested(piece),
        toned=made.spec["screen"] != "threshold" if made else None,
        new_lot=now.lots != good.lots if good and now.lots else None,
        dry_h_left=_dry_h_left(piece, now.burned_at),
        air_c=now.air_c,
        cooler_k=good_c - now.air_c if good_c is not None and now.air_c is not None else None,
        both_ways_mm=both_ways.offset_mm(now.setting.speed_mm_s) if both_ways else None,
        drift_pct=drift.energy_pct.mid if drift and drift.moved >= _MOVED else None,
    )


def _fill_over_tested(piece: BatchPiece) -> float | None:
    """The largest fill's side over that of the widest patch that was burned for the window."""
    tested = [grid.cell_mm for grid in burned_grids(piece.batch.job)]
    fill_mm = piece.batch.fill_mm
    return fill_mm / max(tested) if fill_mm and tested else None


def _dry_h_left(piece: BatchPiece, at: datetime | None) -> float | None:
    job = piece.batch.job
    if at is None or piece.attempt > 1 or not job.recipe().is_put_on:
        return None
    for group in drying_of(job, at).groups:
        if group.first <= piece.number <= group.last and group.all_on and group.next_at:
            return 0.0 if group.seen_dry else (group.next_at - at).total_seconds() / 3600
    return None


def _stepped(piece: BatchPiece, to: PieceState) -> datetime | None:
    """When a piece came to a state last."""
    return next((datetime.fromisoformat(step["at"]) for step in reversed(piece.log) if step["to"] == to), None)


def _shown(photo: CoatPhoto | None) -> dict[str, bool]:
    if photo is None or photo.reading is None:
        return {}
    codes = {finding["code"] for finding in photo.findings}
    return {sign: code in codes for code, sign in _OF_COATS.items()}


def _ln_film(photo: CoatPhoto | None, job: Job) -> Measured | None:
    """Film of a photographed coat over that of the job's others, from light through both."""
    if photo is None or photo.cv is None or photo.reading is None:
        return None
    others = job.photos.filter(cv__isnull=False).exclude(pk=photo.pk).only("reading")
    signals = [other.reading["mean_signal"] for other in others if other.reading]
    if not signals or min(*signals, photo.reading["mean_signal"]) <= 0:
        return None
    return Measured(math.log(photo.reading["mean_signal"] / median(signals)), _FILM_SD)


def _ln_time(piece: BatchPiece, beside: Sequence[BatchPiece]) -> Measured | None:
    """How long it burned over what was expected; None where nothing says, or where others lay beside it."""
    batch = piece.batch
    start, end = _stepped(piece, PieceState.BURNING), _stepped(piece, PieceState.COOLING)
    alone = sum(p.turn == piece.turn for p in beside) == 1
    if not (start and end and batch.burn_s and alone) or batch.job.is_practice:
        # The practice laser's clock runs faster than its head.
        return None
    took = (end - start).total_seconds()
    return Measured(math.log(max(1.0, took) / batch.burn_s), _HAND_TIME_SD)


def circumstances_of(piece: BatchPiece) -> Circumstances:
    """How a piece was made."""
    batch, coats = piece.batch, coats_on(piece)
    at = _stepped(piece, PieceState.BURNING)
    air = air_at(batch.job.workshop, at) if at else None
    return Circumstances(
        piece.number,
        tuple(coat.lot for coat in coats),
        coats[-1].at if coats else None,
        at,
        air.temperature_c if air else None,
        air.humidity_pct if air else None,
        batch.burned_with(),
        batch.artwork_words,
        batch.machine_name,
    )
