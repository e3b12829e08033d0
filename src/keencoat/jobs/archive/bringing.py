"""Bringing an archive in: what is the shop's one by one, each job whole or not at all, nothing twice."""

from collections import Counter, defaultdict
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from tempfile import TemporaryFile
from typing import IO

from django.db import DatabaseError, models, transaction
from django.utils import timezone

from keencoat.core.errors import UNREADABLE, KeenCoatError, NotAllowedError
from keencoat.core.states import BURN_MOVES, BurnState, move
from keencoat.jobs import models as jobs
from keencoat.jobs.archive.again import read_again, read_alone
from keencoat.jobs.archive.kinds import KINDS, Kind, fields_of
from keencoat.jobs.archive.making import Into, make_row
from keencoat.jobs.archive.models import BroughtArchive, BroughtRow
from keencoat.jobs.archive.opening import Facts, OpenedArchive, look_over, open_archive, tables_of, unpack
from keencoat.jobs.job.lost import Lost, mend_lost
from keencoat.jobs.job.room_taken import require_room_for_job, require_room_for_photo
from keencoat.logbook.models import LogEntry
from keencoat.shop import models as shop
from keencoat.shop.access import find_one
from keencoat.shop.aside import aside
from keencoat.shop.models import Workshop

_LOST = timedelta(minutes=5)
_KINDS = tuple(kind.name for kind in KINDS)
_KEPT, _MOST_TOLD = 5, 200
_PART_BYTES = 4_000_000
_JOBS = next(kind for kind in KINDS if kind.model is jobs.Job)
_REFUSED = (*UNREADABLE, DatabaseError)


@dataclass(eq=False)
class Report:
    """What came of an archive, by kind: brought now, here already; and what was left out, with the reason."""

    source: str
    brought: Counter[str] = field(default_factory=Counter)
    here: Counter[str] = field(default_factory=Counter)
    skipped: list[dict[str, str]] = field(default_factory=list)
    more: int = 0

    def skip(self, what: str, why: str) -> None:
        """Left out; after a while only counted."""
        if len(self.skipped) < _MOST_TOLD:
            self.skipped.append({"what": what[:120], "why": why[:300]})
        else:
            self.more += 1

    def facts(self) -> dict[str, object]:
        """As it is kept."""
        told = {"source": self.source, "skipped": self.skipped, "more": self.more}
        return told | {"brought": dict(self.brought), "here": dict(self.here)}


@transaction.atomic
def keep_archive(workshop: Workshop, name: str, file: IO[bytes], at: datetime) -> BroughtArchive:
    """Keep an archive until a worker reads it. Raises BadValueError for what is no archive, NotAllowedError while
    another one is under way."""
    if workshop.practice_of_id is not None:
        raise NotAllowedError("Practice keeps no records.", field="file", hint="Bring it into your workshop.")
    aside(look_over, tables_of(unpack(file)), _KINDS)
    Workshop.objects.select_for_update().get(pk=workshop.pk)
    rows = BroughtArchive.objects.filter(workshop=workshop)
    if rows.filter(ended_at=None).exists():
        raise NotAllowedError("Another archive is being read.", field="file", hint="Wait until it is done.")
    rows.filter(pk__in=[row.pk for row in rows[_KEPT - 1 :]]).delete()
    kept = rows.create(workshop=workshop, name=name[:120] or "archive", state=BurnState.QUEUED, asked_at=at)
    file.seek(0)
    while data := file.read(_PART_BYTES):
        kept.parts.create(data=data)
    return kept


def run_archive(archive_id: int) -> None:
    """Read an archive that is queued. The worker's part; does nothing for one that is not."""
    with transaction.atomic():
        row = BroughtArchive.objects.select_for_update().select_related("workshop").get(pk=archive_id)
        if row.state != BurnState.QUEUED:
            return
        row.state, row.beat_at = move(BURN_MOVES, BurnState(row.state), BurnState.RUNNING), timezone.now()
        row.save(update_fields=["state", "beat_at"])

    def beat() -> None:
        BroughtArchive.objects.filter(pk=row.pk).update(beat_at=timezone.now())

    try:
        with TemporaryFile() as file:
            for part in row.parts.iterator(chunk_size=1):
                file.write(part.data)
            report = bring_in(row.workshop, open_archive(file, _KINDS), beat)
    except KeenCoatError as error:
        _end(row, BurnState.FAILED, str(error))
    else:
        row.report = report.facts()
        _end(row, BurnState.DONE)


def _end(row: BroughtArchive, state: BurnState, trouble: str = "") -> None:
    row.state, row.trouble = move(BURN_MOVES, BurnState(row.state), state), trouble[:300]
    row.ended_at = timezone.now()
    row.save()
    row.parts.all().delete()


def mend_archives(at: datetime, ask_again: Callable[..., object]) -> int:
    """End what nobody reads any more; have queued ones whose task is gone asked for again, by `archive_id`. How many
    were mended."""

    def end(row: BroughtArchive) -> None:
        _end(row, BurnState.FAILED, "What read it is gone: send it again; what was brought already stays one.")

    return mend_lost(Lost(BroughtArchive.objects.all(), _LOST, "archive_id", end), at, ask_again)


def find_archive(workshop: Workshop, archive_id: int) -> BroughtArchive:
    """The archive of that id in this workshop; raises MissingError."""
    return find_one(BroughtArchive.objects.filter(workshop=workshop), "archive", pk=archive_id)


def bring_in(workshop: Workshop, opened: OpenedArchive, beat: Callable[[], object]) -> Report:
    """All of an archive that is not here yet. What cannot be read is left out and named; `beat` is called now and
    then."""
    report, into = Report(opened.name), Into(workshop)
    own, by_job = _parted(opened)
    for kind in KINDS:
        for facts in own[kind.name]:
            _bring_alone(kind, facts, opened, into, report)
        beat()
    for facts in opened.rows[_JOBS.name]:
        _bring_job(facts, by_job[facts["id"]], opened, into, report)
        beat()
    return report


def _parted(opened: OpenedArchive) -> tuple[dict[str, list[Facts]], dict[int, list[tuple[Kind, Facts]]]]:
    """Rows that stand for themselves, by kind, and those that belong to a job, by its id, in the order of KINDS."""
    own: dict[str, list[Facts]] = defaultdict(list)
    by_job: dict[int, list[tuple[Kind, Facts]]] = defaultdict(list)
    job_of: dict[type[models.Model], dict[int, int]] = {jobs.Job: {f["id"]: f["id"] for f in opened.rows[_JOBS.name]}}
    for kind in KINDS:
        if kind is _JOBS:
            continue
        ways = [(f.attname, f.related_model) for f in fields_of(kind) if isinstance(f, models.ForeignKey)]
        if kind.model is LogEntry:
            ways.append(("job_id", jobs.Job))
        for facts in opened.rows[kind.name]:
            found = (job_of.get(model, {}).get(_whole(facts.get(name))) for name, model in ways)
            job_id = next((one for one in found if one is not None), None)
            if job_id is None:
                own[kind.name].append(facts)
            else:
                job_of.setdefault(kind.model, {})[facts["id"]] = job_id
                by_job[job_id].append((kind, facts))
    return own, by_job


def _whole(found: object) -> int:
    return found if type(found) is int else -1


def _bring_alone(kind: Kind, facts: Facts, opened: OpenedArchive, into: Into, report: Report) -> None:
    """A row of the shop's own, unless it is here already or the like of it is."""
    if _is_here(kind, facts, opened, into):
        report.here[kind.name] += 1
        return
    if kind.model is LogEntry:
        # It tells of a job that is not in the archive: there is nothing to show it with.
        report.skip(f"a day's entry of {str(facts.get('job_name'))[:60]}", "its job is not in the archive")
        return
    try:
        with transaction.atomic():
            row = make_row(kind, facts, opened, into)
            alike = _alike(row, into.workshop)
            if alike is None:
                row.save()
                read_alone(row)
            _note(kind, facts["id"], (alike or row).pk, opened, into)
    except _REFUSED as error:
        report.skip(f"{kind.name} {facts['id']}", _why(error))
        return
    counted = report.here if alike else report.brought
    counted[kind.name] += 1


def _alike(row: models.Model, workshop: Workshop) -> models.Model | None:
    """The row here that a brought one stands for: a machine or a coat of the same name and figures, a price of the same
    ingredient, the same card. One of the same name with other figures gets another name."""
    if isinstance(row, shop.IngredientPrice):
        return workshop.prices.filter(ingredient=row.ingredient).first()
    if isinstance(row, jobs.BroughtCard):
        return workshop.brought_cards.filter(uid=row.uid).first()
    if not isinstance(row, (shop.Machine, shop.OwnCoat)):
        return None
    named = type(row)._default_manager.filter(workshop=workshop)
    found = named.filter(name=row.name).first()
    if found is None:
        return None
    figures = [f.attname for f in row._meta.concrete_fields if f.name not in ("id", "version", "added_at", "put_away")]
    if all(getattr(found, name) == getattr(row, name) for name in figures):
        return found
    taken = set(named.values_list("name", flat=True))
    row.name = next(name for n in range(2, len(taken) + 3) if (name := f"{row.name[:50]} ({n})") not in taken)
    return None


def _bring_job(facts: Facts, rows: list[tuple[Kind, Facts]], opened: OpenedArchive, into: Into, report: Report) -> None:
    """A job with all that hangs on it, or nothing of it. One that is here already is left as it is."""
    what = f"job {str(facts.get('name'))[:60]}"
    if _is_here(_JOBS, facts, opened, into):
        report.here[_JOBS.name] += 1
        return
    made: Counter[str] = Counter()
    try:
        with transaction.atomic():
            require_room_for_job(into.workshop)
            require_room_for_photo(into.workshop)
            job = make_row(_JOBS, facts, opened, into)
            job.save()
            _note(_JOBS, facts["id"], job.pk, opened, into)
            made[_JOBS.name] += 1
            for kind, one in rows:
                row = make_row(kind, _of_job(kind, one, job.pk), opened, into)
                row.save()
                into.note(kind.model, one["id"], row.pk)
                made[kind.name] += 1
            read_again(into.workshop, job.pk, timezone.now())
    except _REFUSED as error:
        into.ids.get(jobs.Job, {}).pop(facts["id"], None)
        report.skip(what, _why(error))
        return
    report.brought += made


def _of_job(kind: Kind, facts: Facts, job_id: int) -> Facts:
    return facts | {"job_id": job_id} if kind.model is LogEntry else facts


def _is_here(kind: Kind, facts: Facts, opened: OpenedArchive, into: Into) -> bool:
    """Whether a row came before, or is this very workshop's own; then it is noted what it is here."""
    old, rows = facts["id"], kind.model._default_manager
    if opened.source == into.workshop.uid:
        new = old if kind.rows(into.workshop).filter(pk=old).exists() else None
    else:
        before = BroughtRow.objects.filter(
            workshop=into.workshop, source=opened.source, kind=kind.name, source_id=old
        ).first()
        new = before.row_id if before and rows.filter(pk=before.row_id).exists() else None
    if new is not None:
        into.note(kind.model, old, new)
    return new is not None


def _note(kind: Kind, old: int, new: int, opened: OpenedArchive, into: Into) -> None:
    into.note(kind.model, old, new)
    BroughtRow.objects.update_or_create(
        workshop=into.workshop, source=opened.source, kind=kind.name, source_id=old, defaults={"row_id": new}
    )


def _why(error: Exception) -> str:
    """Words for whoever brought it."""
    if isinstance(error, KeenCoatError):
        return str(error)
    if isinstance(error, DatabaseError):
        return "It does not fit beside what is here."
    return "It cannot be read."
