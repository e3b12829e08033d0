"""Comparing coats."""

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status

from keencoat.core.coat import Arm
from keencoat.jobs.coat import proof_schemas as p
from keencoat.jobs.coat.show_proof import show_experiment
from keencoat.jobs.compare.services import experiments_of, find_experiment, make_experiment, repeat_grid
from keencoat.jobs.grid.schemas import GridOut
from keencoat.jobs.grid.services.drawing import find_grid
from keencoat.jobs.grid.show import show_grid
from keencoat.jobs.job.schemas import JobIn
from keencoat.jobs.job.services import find_job
from keencoat.shop.access import workshop_of
from keencoat.shop.shelf import coat_of

router = Router(tags=["coat"])


@router.get("/experiments", response=list[p.ExperimentOut])
def list_experiments(request: HttpRequest) -> list[p.ExperimentOut]:
    """The workshop's experiments, the newest first."""
    now = timezone.now()
    return [show_experiment(e, now) for e in experiments_of(workshop_of(request))]


@router.post("/experiments", response={201: p.ExperimentOut})
def add_experiment(request: HttpRequest, payload: p.ExperimentIn) -> Status[p.ExperimentOut]:
    """Plan an experiment on pieces like those of a job."""
    workshop, now = workshop_of(request), timezone.now()
    like = find_job(workshop, payload.like_job)
    own = ("name", "coat", "tool", "coats", "pieces", "spares", "film_um", "last_wait_min")
    base = {name: getattr(like, name) for name in JobIn.model_fields if name not in own}
    arms = [Arm(a.coat, a.tool or coat_of(workshop, a.coat).tools[0], a.coats) for a in payload.arms]
    made = make_experiment(workshop, payload.name, base, arms, payload.replicates, payload.cells, now)
    return Status(201, show_experiment(made, now))


@router.get("/experiments/{experiment_id}", response=p.ExperimentOut)
def read_experiment(request: HttpRequest, experiment_id: int) -> p.ExperimentOut:
    """An experiment as it stands."""
    return show_experiment(find_experiment(workshop_of(request), experiment_id), timezone.now())


@router.post("/jobs/{job_id}/grids/again", response={201: GridOut})
def draw_again(request: HttpRequest, job_id: int) -> Status[GridOut]:
    """Draw an arm's grid once more, for its next piece."""
    workshop = workshop_of(request)
    grid = repeat_grid(workshop, job_id, timezone.now())
    return Status(201, show_grid(find_grid(workshop, grid.pk)))
