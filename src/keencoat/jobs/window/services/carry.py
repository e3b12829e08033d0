"""Carrying a window over: to another machine, other lines, passes or film; and finding the workshop's own windows."""

import math
from dataclasses import dataclass, replace
from datetime import datetime

from django.db import transaction
from django.db.models import Exists, OuterRef, Prefetch

from keencoat.core.errors import NotAllowedError
from keencoat.core.quantities import BeamSource, Setting, Slice
from keencoat.core.substrate import find_substrate
from keencoat.core.window import SettingChoice, SettingOdds, choose, fit_window, next_cells, odds_of
from keencoat.jobs.belief import Place, prior_of
from keencoat.jobs.evidence import pieces_burned
from keencoat.jobs.job.services import create_job, find_job
from keencoat.jobs.models import Cell, Job, LockedSetting, Practice
from keencoat.shop import models as shop
from keencoat.shop.access import find_one
from keencoat.shop.models import Workshop

_CHECK_CELLS = 4
_FAR = 5.0
_RECENT = 60


@dataclass(frozen=True)
class CarryWish:
    """Where a window is carried: machine, distance of lines, passes, film against the origin's."""

    machine_id: int
    interval_mm: float
    passes: int
    film_share: float


@dataclass(frozen=True, eq=False)
class Carried:
    """The window as predicted there: the choice, its reading, and the cells that would confirm it."""

    machine: shop.Machine
    choice: SettingChoice
    point: SettingOdds
    cells: list[Setting]


def carry_window(job: Job, wish: CarryWish) -> Carried:
    """Predict a job's window elsewhere. Raises NotAllowedError for another kind of beam: nothing carries there."""
    machine_row = find_one(shop.Machine.objects.filter(workshop=job.workshop), "machine", pk=wish.machine_id)
    machine = machine_row.to_core()
    at = Slice(machine, wish.interval_mm, wish.passes, wish.film_share)
    if not pieces_burned(job):
        raise NotAllowedError("There is no window to carry yet.", field="state", hint="Burn and rate a grid first.")
    if BeamSource(machine_row.source) is not BeamSource(job.machine.source):
        raise NotAllowedError(
            f"A window does not carry from {job.machine.to_core().source.label} to {machine.source.label}: another "
            f"wavelength is absorbed elsewhere.",
            field="machine_id",
            hint="Make a new job; its first grid begins from what is known of that beam.",
        )
    fit = fit_window((), prior_of(job, Place(machine_row, wish.film_share)))
    wanted = job.workshop.wanted_share
    own = replace(at, film_share=1.0)
    choice, cells = choose(fit, own, wanted), next_cells(fit, own, _CHECK_CELLS, wanted)
    return Carried(machine_row, choice, odds_of(fit, choice.setting, machine), cells)


@transaction.atomic
def carry_job(workshop: Workshop, job_id: int, wish: CarryWish, at: datetime) -> Job:
    """Make a job there that begins from the origin's cells."""
    origin = find_job(workshop, job_id)
    carry_window(origin, wish)
    values = {
        name: getattr(origin, name)
        for name in (
            "shape", "width_mm", "height_mm", "narrow_mm", "thickness_mm", "margin_mm", "pieces", "spares",
            "spare_worth", "substrate", "process", "coat", "tool", "last_wait_min",
        )
    }  # fmt: skip
    values |= {
        "name": f"{origin.name}, carried over"[:60],
        "machine_id": wish.machine_id,
        "interval_mm": wish.interval_mm,
        "coats": max(1, round(origin.coats * wish.film_share)),
        "film_um": origin.film_um,
        "carried_from": origin,
    }
    job = create_job(origin.workshop, values, at)
    if origin.is_practice:
        known = origin.practice
        Practice.objects.create(
            job=job,
            scenario=known.scenario,
            hidden=known.hidden,
            seed=known.seed,
            coat_fault=known.coat_fault,
            film_share=known.film_share,
        )
    return job


@dataclass(frozen=True)
class OwnWindow:
    """A window of the workshop's own: its job, how far it lies from what is asked (0: the same), and why, in words."""

    job: Job
    distance: float
    words: str


def windows_like(job: Job) -> list[OwnWindow]:
    """The workshop's own windows by nearness to a job, the nearest first; other beams and processes are none."""
    rated = Cell.objects.filter(grid__job=OuterRef("pk"), grid__burned_at__isnull=False).exclude(rating="")
    others = (
        Job.objects.filter(Exists(rated), workshop=job.workshop, process=job.process)
        .filter(machine__source=job.machine.source)
        .exclude(pk=job.pk)
        .select_related("machine")
        .prefetch_related(Prefetch("locked", LockedSetting.objects.in_short()))
        .order_by("-updated_at")[:_RECENT]
    )
    found = []
    for other in others:
        # One workshop for all: its own coats are fetched once.
        other.workshop = job.workshop
        found.append(OwnWindow(other, *_nearness(job, other)))
    return sorted(found, key=lambda w: (w.distance, -w.job.pk))[:6]


def _nearness(job: Job, other: Job) -> tuple[float, str]:
    distance = 0.0
    differs: list[str] = []
    if other.substrate != job.substrate:
        distance, differs = distance + 1.0, [*differs, find_substrate(other.substrate).label]
    if other.coat != job.coat:
        distance, differs = distance + 0.6, [*differs, other.recipe().label]
    if other.machine_id != job.machine_id:
        apart = abs(math.log(other.machine.rated_w / job.machine.rated_w))
        spots = abs(math.log(other.machine.spot_mm / job.machine.spot_mm))
        distance, differs = distance + 0.3 + 0.2 * apart + 0.4 * spots, [*differs, other.machine.name]
    lines = abs(math.log(other.interval_mm / job.interval_mm))
    if lines > 0.02:
        distance, differs = distance + 0.5 * lines, [*differs, f"lines in {other.interval_mm:g} mm"]
    if other.coats != job.coats:
        distance += 0.3 * abs(math.log(other.coats / job.coats))
        differs = [*differs, f"{other.coats} coats"]
    return (min(distance, _FAR), ", ".join(differs) or "same in all that counts")
