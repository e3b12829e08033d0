"""Comparing coats: an experiment is one job an arm, all with the same piece, machine and small grid."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import QuerySet

from keencoat.core.coat import Arm, ArmCount, ArmVerdict, find_tool, judge_arms, plan_experiment
from keencoat.core.errors import NotAllowedError
from keencoat.core.states import GridState
from keencoat.jobs.grid.services.drawing import GridWish, draw_grid, free_number
from keencoat.jobs.job.services import create_job, jobs_of, lock_job
from keencoat.jobs.models import Cell, Experiment, GridKind, Job, TestGrid
from keencoat.shop.access import find_one
from keencoat.shop.models import Workshop
from keencoat.shop.shelf import coat_of

_SPARES = 1


@dataclass(frozen=True)
class ArmRow:
    """An arm as it stands: its job, what was seen, and the verdict."""

    job: Job
    label: str
    count: ArmCount
    verdict: ArmVerdict
    fastest_clean_mm_s: float | None


@transaction.atomic
def make_experiment(
    workshop: Workshop, name: str, base: dict[str, Any], arms: list[Arm], replicates: int, cells: int, at: datetime
) -> Experiment:
    """Plan an experiment: a job with its grid for each arm, and the order in which to coat the pieces.

    `base` holds a job's values without name, coat, tool, coats and pieces. All arms start from the same prior, so their
    grids are the same. Raises what making a job and drawing a grid raise.
    """
    seed = workshop.experiments.count() + 1
    order = plan_experiment(arms, replicates, seed)
    experiment = Experiment.objects.create(
        workshop=workshop,
        name=name,
        replicates=replicates,
        made_at=at,
        order=[{"piece": a.piece, "arm": a.arm} for a in order],
    )
    for arm in arms:
        label = f"{name}: {coat_of(workshop, arm.coat).label} × {arm.coats}"
        values = base | {
            "name": label[:60],
            "coat": arm.coat,
            "tool": arm.tool,
            "coats": arm.coats,
            "pieces": replicates,
            "spares": _SPARES,
        }
        job = create_job(workshop, values, at)
        job.experiment = experiment
        job.save(update_fields=["experiment"])
        draw_grid(workshop, job.pk, GridWish(GridKind.CROSSED, cells, job.interval_mm, 1), at)
    return experiment


def arm_label(workshop: Workshop, arm: Arm) -> str:
    """What people call an arm."""
    coats = f"{arm.coats} coat{'s' if arm.coats > 1 else ''}"
    return f"{coat_of(workshop, arm.coat).label}, {find_tool(arm.tool).label}, {coats}"


@transaction.atomic
def repeat_grid(workshop: Workshop, job_id: int, at: datetime) -> TestGrid:
    """Draw the arm's grid once more, cell for cell, for its next piece. The last one must be rated."""
    job = lock_job(workshop, job_id)
    grids = list(job.grids.all())
    if job.experiment is None or not grids:
        raise NotAllowedError("This job is no arm of an experiment.", hint="Draw a grid in its Grid chapter.")
    if grids[-1].state != GridState.RATED:
        raise NotAllowedError(f"Grid {grids[-1].label} is not rated yet.", field="state", hint="Rate it first.")
    if len(grids) >= job.all_pieces:
        raise NotAllowedError("All pieces of this arm carry a grid.", field="state", hint="The arm is done.")
    first = grids[0]
    cells = list(first.cells.all())
    first.pk, first.number, first.state = None, free_number(job, None), GridState.DRAWN
    first.drawn_at, first.burned_at, first.lot = at, None, None
    first._state.adding = True
    first.save()
    for cell in cells:
        cell.pk, cell.grid, cell.rating, cell.defects, cell.heard_snapping, cell.version = None, first, "", [], False, 1
        cell.strokes, cell.burned, cell._state.adding = "", Cell.Burned.FULL, True
    Cell.objects.bulk_create(cells)
    return first


def experiments_of(workshop: Workshop) -> QuerySet[Experiment]:
    """The workshop's experiments, the newest first."""
    return workshop.experiments.all()


def find_experiment(workshop: Workshop, experiment_id: int) -> Experiment:
    """The experiment of that id in this workshop; raises MissingError."""
    return find_one(experiments_of(workshop), "experiment", pk=experiment_id)


def arms_of(experiment: Experiment) -> list[ArmRow]:
    """The experiment's table."""
    jobs = list(jobs_of(experiment.workshop).filter(experiment=experiment).order_by("id"))
    counts, fastest = [], []
    for job in jobs:
        rated = [(c, g.pk) for g in job.grids.all() for c in g.cells.all() if c.rating]
        clean = [c for c, _ in rated if c.rating == "clean"]
        counts.append(ArmCount(len({grid for _, grid in rated}), len(rated), len(clean)))
        fastest.append(max((c.speed_mm_s for c in clean), default=None))
    verdicts = judge_arms(counts)
    return [
        ArmRow(job, arm_label(experiment.workshop, Arm(job.coat, job.tool, job.coats)), count, verdict, speed)
        for job, count, verdict, speed in zip(jobs, counts, verdicts, fastest, strict=True)
    ]
