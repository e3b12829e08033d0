"""The window of a job: reading it, and locking a setting with its evidence."""

from dataclasses import asdict, dataclass
from datetime import datetime

from django.db import transaction

from keencoat.core.errors import NotAllowedError
from keencoat.core.quantities.setting import Machine, Setting, require_reachable
from keencoat.core.states import JOB_MOVES, GridState, JobState, move
from keencoat.core.window.fit import WindowFit
from keencoat.core.window.predict import PointReading, read_point
from keencoat.core.window.recommend import RatedSetting, Recommendation, WindowMap, map_window, recommend
from keencoat.jobs.models import Job, LockedSetting
from keencoat.jobs.services.jobs import burned_grids, lock_job, log
from keencoat.jobs.services.observations import fit_of, pieces_burned, rated_cells, scatter_of
from keencoat.logbook.models import LogEntry
from keencoat.shop.access import require_version
from keencoat.shop.models import Workshop


@dataclass(frozen=True, eq=False)
class JobWindow:
    """Everything the Window chapter shows."""

    job: Job
    machine: Machine
    fit: WindowFit
    map: WindowMap
    recommendation: Recommendation
    rated: list[RatedSetting]
    ln_sd: float
    pieces_burned: int


def read_window(job: Job, interval_mm: float | None = None, passes: int = 1) -> JobWindow:
    """Fit and map the window at an interval (the job's own if None) and number of passes."""
    machine = job.machine.to_core()
    interval = Setting(100, machine.max_speed_mm_s, interval_mm or job.interval_mm, passes).interval_mm
    fit, rated, burned = fit_of(job), rated_cells(job), pieces_burned(job)
    ln_sd = scatter_of(job).ln_sd(burned)
    window = map_window(fit, machine, interval, passes, ln_sd)
    best = recommend(fit, window, machine, rated, ln_sd, job.workshop.wanted_share)
    return JobWindow(job, machine, fit, window, best, rated, ln_sd, burned)


def read_setting(job: Job, setting: Setting) -> PointReading:
    """What the window says of one setting; raises BadValueError if the machine cannot run it."""
    machine = job.machine.to_core()
    require_reachable(setting, machine)
    return read_point(fit_of(job), setting, machine, scatter_of(job).ln_sd(pieces_burned(job)))


@dataclass(frozen=True)
class MarkCost:
    """What a measured coat costs the mark: clean shares at a setting with the usual coat scatter and with this one."""

    setting: Setting
    usual_cv: float
    measured_cv: float
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
    fit, machine, burned = fit_of(job), job.machine.to_core(), pieces_burned(job)
    usual, measured = job.workshop.scatter(), scatter_of(job)
    return MarkCost(
        setting,
        usual.coat_cv,
        measured.coat_cv,
        read_point(fit, setting, machine, usual.ln_sd(burned)).clean.mid,
        read_point(fit, setting, machine, measured.ln_sd(burned)).clean.mid,
    )


@transaction.atomic
def lock_setting(workshop: Workshop, job_id: int, setting: Setting, seen: int, at: datetime) -> LockedSetting:
    """Lock a setting with the evidence it rests on, as a new version. Raises NotAllowedError without a rated grid."""
    job = lock_job(workshop, job_id)
    require_version(job, seen, "job")
    grids = burned_grids(job)
    if not grids or any(g.state != GridState.RATED for g in grids):
        raise NotAllowedError(
            "A setting is locked on a rated grid, and one is missing.", field="state",
            hint="Burn a grid and rate all of its cells.",
        )  # fmt: skip
    reading = read_setting(job, setting)
    fit = fit_of(job)
    version = len(job.locked.all()) + 1
    locked = LockedSetting.objects.create(
        job=job,
        version=version,
        at=at,
        newest_grid=max(g.number for g in grids),
        evidence=_evidence(job, fit, reading),
        **asdict(setting),
    )
    job.state = move(JOB_MOVES, JobState(job.state), JobState.LOCKED)
    job.version += 1
    job.updated_at = at
    job.save(update_fields=["state", "version", "updated_at"])
    text = f"Setting locked, version {version}: {setting.power_pct:g} %, {setting.speed_mm_s:g} mm/s"
    log(
        job, LogEntry.Kind.LOCK, at, text, power_pct=setting.power_pct, speed_mm_s=setting.speed_mm_s,
        interval_mm=setting.interval_mm, passes=setting.passes, energy_j_mm2=round(reading.energy_j_mm2, 4),
        clean=round(reading.clean.mid, 4),
    )  # fmt: skip
    return locked


def _evidence(job: Job, fit: WindowFit, reading: PointReading) -> dict[str, object]:
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
        "fit": {
            "model_version": fit.model_version,
            "status": fit.status.value,
            "message": fit.message,
            "prior": asdict(fit.prior),
            "mode": [round(float(v), 6) for v in fit.mode],
            "draws": [[round(float(v), 5) for v in draw] for draw in fit.draws],
        },
        "reading": asdict(reading),
    }
