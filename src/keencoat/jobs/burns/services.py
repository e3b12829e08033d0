"""Finding burns by what they were, and telling what each came to."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from enum import StrEnum

from django.db.models import Count, F, FloatField, Func, Q, QuerySet, TextField
from django.db.models.functions import Cast, NullIf
from django.utils import timezone

from keencoat.core.quantities import Machine, Setting
from keencoat.core.rating import Rating
from keencoat.core.states import PieceState
from keencoat.core.substrate import PROCESSES, SUBSTRATES
from keencoat.jobs.burns.models import BurnKind, LoggedBurn
from keencoat.jobs.job.kept_photo import KeptPhoto
from keencoat.jobs.models import ArtworkBurn, ArtworkPhoto, Batch, GridPhoto, PiecePhoto, RunRecord, TestGrid
from keencoat.shop.access import find_one
from keencoat.shop.models import Workshop, machine_of
from keencoat.shop.shelf import shelf_of

PAGE = 25
MARKS = 60
"""Cells or pieces of a burn that are told one by one, at most."""
_BURNED = (PieceState.BURNING, PieceState.COOLING, PieceState.WASHED, PieceState.LOOKED, PieceState.STOPPED)


class Outcome(StrEnum):
    """What may be looked for: burns with at least one such, with none but clean ones, with any that failed, or that
    nobody looked at."""

    CLEAN = "clean"
    FAINT = "faint"
    HARSH = "harsh"
    SPOILT = "spoilt"
    ALL_CLEAN = "all_clean"
    FAILED = "failed"
    UNSEEN = "unseen"


class Order(StrEnum):
    """What comes first."""

    NEWEST = "newest"
    OLDEST = "oldest"
    CLEANEST = "cleanest"
    WORST = "worst"
    LARGEST = "largest"


_FAILED = Q(faint_units__gt=0) | Q(harsh_units__gt=0) | Q(spoilt_units__gt=0)
_BY_OUTCOME = {
    Outcome.CLEAN: Q(clean_units__gt=0),
    Outcome.FAINT: Q(faint_units__gt=0),
    Outcome.HARSH: Q(harsh_units__gt=0),
    Outcome.SPOILT: Q(spoilt_units__gt=0),
    Outcome.ALL_CLEAN: Q(clean_units__gt=0) & ~_FAILED,
    Outcome.FAILED: _FAILED,
    Outcome.UNSEEN: Q(clean_units=0) & ~_FAILED,
}
_CLEAN_SHARE = Cast(F("clean_units"), FloatField()) / NullIf(
    F("clean_units") + F("faint_units") + F("harsh_units") + F("spoilt_units"), 0
)
_BY_ORDER = {
    Order.NEWEST: F("at").desc(),
    Order.OLDEST: F("at").asc(),
    Order.CLEANEST: _CLEAN_SHARE.desc(nulls_last=True),
    Order.WORST: _CLEAN_SHARE.asc(nulls_last=True),
    Order.LARGEST: F("units").desc(),
}


@dataclass(frozen=True)
class BurnsWanted:
    """What to look for; empty is anything. Days count whole, in the server's time."""

    words: str = ""
    kind: BurnKind | None = None
    substrate: str = ""
    process: str = ""
    coat: str = ""
    machine: str = ""
    outcome: Outcome | None = None
    defect: str = ""
    since: date | None = None
    until: date | None = None
    order: Order = Order.NEWEST


def find_burns(workshop: Workshop, wanted: BurnsWanted) -> QuerySet[LoggedBurn]:
    """The workshop's burns that fit all that is wanted, in the order that is wanted, then the newest first.

    Every word must be found: in the name of the job, machine, lot or piece, in a note, or in the labels of substrate,
    process and coat."""
    found = LoggedBurn.objects.filter(job__workshop=workshop).select_related("job")
    exact = {
        "kind": wanted.kind,
        "job__substrate": wanted.substrate,
        "job__process": wanted.process,
        "job__coat": wanted.coat,
        "machine_name": wanted.machine,
    }
    found = found.filter(**{field: value for field, value in exact.items() if value})
    if wanted.outcome:
        found = found.filter(_BY_OUTCOME[wanted.outcome])
    if wanted.defect:
        found = found.filter(defects__contains=[wanted.defect])
    if wanted.since:
        found = found.filter(at__gte=_midnight(wanted.since))
    if wanted.until:
        found = found.filter(at__lt=_midnight(wanted.until + timedelta(days=1)))
    catalogues = (("substrate", SUBSTRATES), ("process", PROCESSES), ("coat", shelf_of(workshop)))
    for word in wanted.words.split():
        fits = Q(job__name__icontains=word) | Q(words__icontains=word) | Q(machine_name__icontains=word)
        for field, catalogue in catalogues:
            keys = [key for key, thing in catalogue.items() if word.lower() in thing.label.lower()]
            fits |= Q(**{f"job__{field}__in": keys})
        found = found.filter(fits)
    return found.order_by(_BY_ORDER[wanted.order], "-at", "key")


def _midnight(day: date) -> datetime:
    return timezone.make_aware(datetime.combine(day, time.min))


@dataclass(frozen=True)
class FaultCount:
    """A defect: how often it was seen, and in how many burns."""

    defect: str
    times: int
    burns: int


def faults_of(found: QuerySet[LoggedBurn]) -> list[FaultCount]:
    """What went wrong in burns, the most frequent first."""
    each = Func(F("defects"), function="unnest", output_field=TextField())
    each.set_returning = True
    rows = (
        found.order_by()
        .annotate(defect=each)
        .values("defect")
        .annotate(times=Count("*"), burns=Count("key", distinct=True))
        .order_by("-times", "defect")
    )
    return [FaultCount(row["defect"], row["times"], row["burns"]) for row in rows]


@dataclass(frozen=True, eq=False)
class BurnSeen:
    """A burn with what is told of it: what people call it, the settings and the machine that it was burned with (None:
    an artwork made for a setting that is told, its machine as it is now), its cells or pieces in order (their rating,
    "spoilt", or nothing), how many stand in a row of them, the settings that came out clean, its newest photo."""

    burn: LoggedBurn
    label: str
    settings: tuple[Setting, ...]
    clean_settings: tuple[Setting, ...]
    machine: Machine
    marks: tuple[str, ...]
    columns: int
    photo: KeptPhoto | None


def tell_burns(burns: Sequence[LoggedBurn]) -> list[BurnSeen]:
    """What each burn came to; rows of one kind are fetched at once."""
    by_kind: dict[str, list[LoggedBurn]] = defaultdict(list)
    for burn in burns:
        by_kind[burn.kind].append(burn)
    told = {seen.burn.key: seen for kind, rows in by_kind.items() for seen in _TELLERS[BurnKind(kind)](rows)}
    return [told[burn.key] for burn in burns if burn.key in told]


def _grids(burns: Sequence[LoggedBurn]) -> Iterable[BurnSeen]:
    rows = TestGrid.objects.prefetch_related("cells").in_bulk([b.row_id for b in burns])
    photos = _newest_photos(BurnKind.GRID, rows)
    for burn in burns:
        grid = rows[burn.row_id]
        cells = [c for c in grid.cells.all() if c.counts]
        clean = tuple(c.setting() for c in cells if c.rating == Rating.CLEAN)
        yield BurnSeen(
            burn,
            grid.label,
            tuple(c.setting() for c in cells),
            clean,
            machine_of(grid.machine_facts),
            tuple(c.rating for c in cells),
            grid.columns,
            photos.get(grid.pk),
        )


def _batches(burns: Sequence[LoggedBurn]) -> Iterable[BurnSeen]:
    rows = Batch.objects.prefetch_related("pieces").in_bulk([b.row_id for b in burns])
    photos = _newest_photos(BurnKind.BATCH, rows)
    for burn in burns:
        batch = rows[burn.row_id]
        burned = [p for p in batch.pieces.all() if p.state in _BURNED]
        marks = tuple(p.rating or ("spoilt" if p.spoilt or p.state == PieceState.STOPPED else "") for p in burned)
        settings, machine = (batch.burned_with(),), machine_of(batch.machine_facts)
        clean = settings if burn.clean_units else ()
        yield BurnSeen(burn, f"batch {batch.number}", settings, clean, machine, marks, 0, photos.get(batch.pk))


def _runs(burns: Sequence[LoggedBurn]) -> Iterable[BurnSeen]:
    rows = RunRecord.objects.in_bulk([b.row_id for b in burns])
    for burn in burns:
        run = rows[burn.row_id]
        settings = (run.setting(),)
        marks = (
            [Rating.CLEAN] * burn.clean_units + [Rating.FAINT] * burn.faint_units + [Rating.HARSH] * burn.harsh_units
        )
        yield BurnSeen(
            burn,
            "run",
            settings,
            settings if burn.clean_units else (),
            machine_of(run.machine_facts),
            tuple(marks),
            0,
            None,
        )


def _artworks(burns: Sequence[LoggedBurn]) -> Iterable[BurnSeen]:
    rows = ArtworkBurn.objects.defer("moves").select_related("made__artwork", "made__job__machine")
    by_id = rows.in_bulk([b.row_id for b in burns])
    photos = _newest_photos(BurnKind.ARTWORK, by_id)
    for burn in burns:
        row = by_id[burn.row_id]
        made = row.made
        yield BurnSeen(
            burn, made.artwork.name, (made.made_with(),), (), made.job.machine.to_core(), ("",), 0, photos.get(row.pk)
        )


_TELLERS = {
    BurnKind.GRID: _grids,
    BurnKind.BATCH: _batches,
    BurnKind.RUN: _runs,
    BurnKind.ARTWORK: _artworks,
}


_PHOTOS: dict[BurnKind, tuple[type[KeptPhoto], str]] = {
    BurnKind.GRID: (GridPhoto, "grid"),
    BurnKind.BATCH: (PiecePhoto, "piece__batch"),
    BurnKind.ARTWORK: (ArtworkPhoto, "made__burns"),
}
"""What photos of a burn are, and the way from one to what was burned; a run that was told afterwards has none."""


def _newest_photos(kind: BurnKind, row_ids: Iterable[int]) -> dict[int, KeptPhoto]:
    """The newest photo of each that was squared up, without its pictures."""
    photos, path = _PHOTOS[kind]
    rows = photos._default_manager.filter(**{f"{path}__in": list(row_ids)}, upright__isnull=False)
    light = rows.defer("original", "upright").annotate(of=F(f"{path}__id")).order_by("at", "pk")
    return {photo.of: photo for photo in light}


def picture_of_burn(workshop: Workshop, kind: BurnKind, row_id: int) -> bytes | None:
    """The squared-up picture of a burn's newest photo, if it has one; raises MissingError for another's burn."""
    find_one(LoggedBurn.objects.filter(job__workshop=workshop, kind=kind), "burn", row_id=row_id)
    photo = _newest_photos(kind, [row_id]).get(row_id) if kind in _PHOTOS else None
    return bytes(photo.upright) if photo and photo.upright else None
