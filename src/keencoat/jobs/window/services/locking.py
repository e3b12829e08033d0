"""The window of a job: reading it, and locking a setting with its evidence."""

import json
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from enum import StrEnum
from hashlib import sha256

from django.db import transaction

from keencoat.core.errors import NotAllowedError, StaleError
from keencoat.core.quantities import Art, Range, Setting, Slice, require_reachable
from keencoat.core.rating import Rating
from keencoat.core.states import JOB_MOVES, GridState, JobState, move
from keencoat.core.window import (
    Batch,
    DatedRun,
    Drift,
    RatedSetting,
    Recommendation,
    SettingOdds,
    WindowFit,
    WindowMap,
    map_window,
    odds_of,
    recommend,
    watch,
    with_scatter,
)
from keencoat.jobs.belief import fit_of, prior_of, scatter_of
from keencoat.jobs.evidence import gather_evidence, pieces_burned, rated_cells, rating_for, runs_of
from keencoat.jobs.job.services import burned_grids, lock_job, log
from keencoat.jobs.models import GridKind, Job, LockedSetting
from keencoat.logbook.models import EntryKind
from keencoat.shop.access import require_version
from keencoat.shop.models import Workshop

_ALIKE = 0.08
_SLACK = 0.1


class Evidence(StrEnum):
    """How well a job's setting is known."""

    GUESS = "guess"
    GRID = "grid"
    CONFIRMED = "confirmed"
    PROVEN = "proven"


@dataclass(frozen=True)
class OlderLock:
    """The newest lock, where an older model read it: that model's version, the share of clean pieces it gave, and what
    today's model gives there."""

    version: int
    model_version: str
    setting: Setting
    clean_then: Range
    clean_now: Range


@dataclass(frozen=True, eq=False)
class JobWindow:
    """Everything the Window chapter shows. `proven` counts the clean pieces of runs at the setting."""

    job: Job
    fit: WindowFit
    map: WindowMap
    recommendation: Recommendation
    rated: tuple[RatedSetting, ...]
    pieces_burned: int
    art: Art
    evidence: Evidence
    proven: int
    drift: Drift | None
    older: OlderLock | None


def read_window(
    job: Job, interval_mm: float | None = None, passes: int = 1, film_share: float = 1.0, art: Art = Art.FILLS
) -> JobWindow:
    """Fit and map the window at an interval (the job's own if None), number of passes and film against the job's."""
    at = Slice(job.machine.to_core(), interval_mm or job.interval_mm, passes, film_share)
    fit, rated, burned = fit_of(job, art=art), rated_cells(job, art), pieces_burned(job)
    window = map_window(fit, at)
    # A setting is for the film that the job has, whatever film the map is looked at for.
    batch = Batch(job.pieces, job.spare_worth)
    best = recommend(fit, replace(at, film_share=1.0), rated, job.workshop.wanted_share, batch)
    evidence, proven = evidence_of(job, best.point.setting if best.point else None, art)
    return JobWindow(
        job, fit, window, best, rated, burned, art, evidence, proven, drift_of(job), _older_lock(job, fit, art)
    )


def _older_lock(job: Job, fit: WindowFit, art: Art) -> OlderLock | None:
    lock = next(iter(job.locked.all()), None)
    setting = lock.by_art().get(art) if lock else None
    if lock is None or setting is None or lock.model_version() == fit.model_version:
        return None
    model_version, then = lock.model_version(), Range(**lock.reading(art)["clean"])
    return OlderLock(lock.version, model_version, setting, then, odds_of(fit, setting, job.machine.to_core()).clean)


def read_setting(job: Job, setting: Setting, art: Art = Art.FILLS) -> SettingOdds:
    """What the window says of one setting; raises BadValueError if the machine cannot run it."""
    machine = job.machine.to_core()
    require_reachable(setting, machine)
    return odds_of(fit_of(job, art=art), setting, machine)


def evidence_of(job: Job, setting: Setting | None, art: Art) -> tuple[Evidence, int]:
    """How well the setting locked for this art (else this one) is known, and how many pieces came out clean with it."""
    locked = list(job.locked.all())
    chosen = locked[0].by_art().get(art, setting) if locked else setting
    if chosen is None or not pieces_burned(job):
        return (Evidence.GRID if pieces_burned(job) else Evidence.GUESS), 0
    proven, counted = pieces_run(job, chosen, art)
    # Runs that fail more often than wanted prove nothing; a few bad pieces of a small run may be chance.
    if proven and proven >= (job.workshop.wanted_share - _SLACK) * counted:
        return Evidence.PROVEN, proven
    patches = [cell for grid in burned_grids(job) if grid.kind == GridKind.CONFIRM for cell in grid.cells.all()]
    confirmed = any(rating_for(cell, art) is Rating.CLEAN and _alike(cell.setting(), chosen) for cell in patches)
    return (Evidence.CONFIRMED if confirmed else Evidence.GRID), 0


def pieces_run(job: Job, setting: Setting, art: Art) -> tuple[int, int]:
    """How many pieces of runs at a setting came out clean, and how many were run. Runs are of filled art: they tell
    nothing of strokes."""
    runs = [run for run in job.runs.all() if art is Art.FILLS and _alike(run.setting(), setting)]
    clean = sum(run.clean_pieces for run in runs)
    return clean, clean + sum(run.faint_pieces + run.harsh_pieces for run in runs)


def _alike(one: Setting, other: Setting) -> bool:
    """Whether two settings are one to within a hand's breadth."""
    return (
        one.passes == other.passes
        and abs(one.interval_mm / other.interval_mm - 1) < _ALIKE
        and abs(one.power_pct / other.power_pct - 1) < _ALIKE
        and abs(one.speed_mm_s / other.speed_mm_s - 1) < _ALIKE
    )


def drift_of(job: Job) -> Drift | None:
    """What the newest run says of the window that was fitted without it; None before the first."""
    runs = runs_of(job)
    locked = list(job.locked.all())
    if not runs or not locked:
        return None
    last = runs[-1][0]
    lock = next((x for x in locked if x.version == last.lock_version), locked[0])
    lots = lock.evidence.get("lots") or [{"code": ""}]
    dated = [
        DatedRun(run.at.date(), run.lot.code if run.lot else lots[-1]["code"], run.machine_name, outcome)
        for run, outcome in runs
    ]
    return watch(
        fit_of(job, with_last_run=False), dated, lock.at.date(), lots[-1]["code"], lock.evidence["machine"]["name"]
    )


def evidence_mark(job: Job) -> str:
    """A short mark of all that the window rests on; another one after any change."""
    gather_evidence(job)
    grids = burned_grids(job)
    facts = [
        [[c.pk, c.version] for grid in grids for c in grid.cells.all()],
        [run.pk for run in job.runs.all()],
        [[photo.pk, photo.mirrored, photo.points] for grid in grids for photo in grid.photos.all()],
        [job.coat_cv, job.coat_cv_pieces, job.version],
        prior_of(job).gaussian[0].tolist(),
        asdict(job.workshop.scatter()),
        job.workshop.wanted_share,
    ]
    return sha256(json.dumps(facts).encode()).hexdigest()[:16]


@dataclass(frozen=True)
class MarkCost:
    """What a measured coat costs the mark: clean shares at a setting with the usual coat scatter, and with the one that
    photos and guess give."""

    setting: Setting
    usual_cv: float
    taken_cv: float
    clean_usual: float
    clean_measured: float


def mark_cost(job: Job) -> MarkCost | None:
    """What the measured coat costs at the locked setting, else at the recommended one; None before a grid tells."""
    if job.coat_cv is None or not pieces_burned(job):
        return None
    locked = list(job.locked.all())
    point = read_window(job).recommendation.point
    setting = locked[0].setting() if locked else point.setting if point else None
    if setting is None:
        return None
    machine = job.machine.to_core()
    usual, taken = job.workshop.scatter(), scatter_of(job)
    fit = fit_of(job)
    return MarkCost(
        setting,
        usual.coat_cv,
        taken.coat_cv,
        odds_of(with_scatter(fit, usual), setting, machine).clean.mid,
        odds_of(fit, setting, machine).clean.mid,
    )


@transaction.atomic
def lock_setting(
    workshop: Workshop, job_id: int, setting: Setting, seen: tuple[int, str], at: datetime, art: Art = Art.FILLS
) -> LockedSetting:
    """Lock a setting for filled art or for fine strokes with the evidence it rests on, as a new version; what was
    locked for other art stays in it. `seen`: the job's version, and the evidence's mark, at which it was chosen.

    Raises NotAllowedError without a rated grid, and for strokes before filled art; StaleError if what was seen has
    moved on."""
    job = lock_job(workshop, job_id)
    require_version(job, seen[0], "job")
    if evidence_mark(job) != seen[1]:
        raise StaleError(
            "Ratings, runs or photos changed since this window was read; nothing was locked.",
            field="evidence_mark",
            hint="Look at the window again: odds and setting may be others now.",
        )
    grids = burned_grids(job)
    if not grids or any(g.state != GridState.RATED for g in grids):
        raise NotAllowedError(
            "A setting is locked on a rated grid, and one is missing.",
            field="state",
            hint="Burn a grid and rate all of its cells.",
        )
    reading = read_setting(job, setting, art)
    before = list(job.locked.all())
    settings = (before[0].by_art() if before else {}) | {art: setting}
    if Art.FILLS not in settings:
        raise NotAllowedError(
            "A setting for fine strokes is locked beside one for filled art, and none is yet.",
            field="art",
            hint="Lock the setting for filled art first.",
        )
    version = len(before) + 1
    locked = LockedSetting.objects.create(
        job=job,
        version=version,
        at=at,
        newest_grid=max(g.number for g in grids),
        settings={name: asdict(kept) for name, kept in settings.items()},
        evidence=_evidence(job, settings),
    )
    job.state = move(JOB_MOVES, JobState(job.state), JobState.LOCKED)
    job.version += 1
    job.updated_at = at
    job.save(update_fields=["state", "version", "updated_at"])
    words = "Setting" if art is Art.FILLS else "Setting for fine strokes"
    text = f"{words} locked, version {version}: {setting.power_pct:g} %, {setting.speed_mm_s:g} mm/s"
    log(
        job,
        EntryKind.LOCK,
        at,
        text,
        power_pct=setting.power_pct,
        speed_mm_s=setting.speed_mm_s,
        interval_mm=setting.interval_mm,
        passes=setting.passes,
        energy_j_mm2=round(reading.energy_j_mm2, 4),
        clean=round(reading.clean.mid, 4),
    )
    return locked


def _evidence(job: Job, settings: dict[Art, Setting]) -> dict[str, object]:
    fits, machine = {art: fit_of(job, art=art) for art in settings}, job.machine.to_core()
    return {
        "piece": {
            "shape": job.shape,
            "width_mm": job.width_mm,
            "height_mm": job.height_mm,
            "narrow_mm": job.narrow_mm,
            "thickness_mm": job.thickness_mm,
            "margin_mm": job.margin_mm,
        },
        "substrate": job.substrate,
        "process": job.process,
        "machine": {"name": job.machine.name, **job.machine.facts()},
        "coat": job.coat,
        "coat_facts": asdict(job.recipe()),
        "tool": job.tool,
        "coats": job.coats,
        "lots": [{"code": lot.code, "mixed_at": lot.mixed_at.isoformat()} for lot in job.lots.all()],
        "grids": [
            {
                "label": grid.label,
                "burned_at": grid.burned_at.isoformat() if grid.burned_at else "",
                "lot": grid.lot.code if grid.lot else "",
                "machine": grid.machine_facts,
                "cells": [{"code": c.code, **asdict(c.setting()), **c.seen()} for c in grid.cells.all()],
            }
            for grid in job.grids.all()
            if grid.state == GridState.RATED
        ],
        "scatter": asdict(scatter_of(job)),
        "fits": {
            art: {
                "model_version": fit.model_version,
                "status": fit.status.value,
                "message": fit.message,
                "prior": asdict(fit.prior),
                "draws": [[round(float(v), 5) for v in draw] for draw in fit.draws],
            }
            for art, fit in fits.items()
        },
        "readings": {art: asdict(odds_of(fits[art], setting, machine)) for art, setting in settings.items()},
    }
