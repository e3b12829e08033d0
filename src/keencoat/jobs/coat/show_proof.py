"""From photos, hold-up tests and experiments to what the API gives."""

from dataclasses import asdict
from datetime import datetime

from keencoat.core.coat import HoldUp, density_of
from keencoat.jobs.coat import proof_schemas as p
from keencoat.jobs.coat.services.proof import darkness_of, face_of, holdups_of, way_of
from keencoat.jobs.compare.services import arms_of
from keencoat.jobs.job.show import show_job
from keencoat.jobs.models import CoatPhoto, Experiment, HoldUpTest, HoldUpWay, Job
from keencoat.jobs.practice.services import next_coat_to_photograph
from keencoat.jobs.window.services.locking import mark_cost
from keencoat.shop.fields import RangeOut


def show_photo(photo: CoatPhoto) -> p.CoatPhotoOut:
    """A kept photo, and what was measured on it."""
    return p.CoatPhotoOut(
        id=photo.pk,
        version=photo.version,
        at=photo.at,
        piece=photo.piece,
        simulated=photo.simulated,
        has_bare=photo.bare is not None,
        points=[p.PicturePoint(x=x, y=y) for x, y in photo.points] if photo.points else None,
        trouble=photo.trouble,
        cv=photo.cv,
        reading=photo.reading,
        findings=photo.findings,
    )


def show_holdup(test: HoldUpTest) -> p.HoldUpOut:
    """A hold-up test with its density."""
    density = density_of(HoldUp(test.coats, test.bare, test.coated))
    return p.HoldUpOut(
        id=test.pk,
        job_id=test.job_id,
        at=test.at,
        coats=test.coats,
        bare=test.bare,
        coated=test.coated,
        way=HoldUpWay(test.way),
        density=RangeOut.showing(density),
    )


def show_proof(job: Job) -> p.ProofOut:
    """The Prove step of a job."""
    way, tests = way_of(job), holdups_of(job)
    face, dark, cost = face_of(job, way), darkness_of(job, tests), mark_cost(job)
    # The pictures stay in the database until a page asks for one.
    photos = job.photos.defer("original", "upright")
    return p.ProofOut(
        way=way,
        frame=face.frame,
        face_width_mm=face.width_mm,
        face_height_mm=face.height_mm,
        coats=job.coats,
        photos=[show_photo(photo) for photo in photos],
        holdups=[show_holdup(t) for t in tests],
        darkness=p.DarknessOut.showing(dark) if dark else None,
        coat_cv=job.coat_cv,
        usual_cv=job.workshop.coat_cv,
        cost=p.MarkCostOut(**asdict(cost.setting), **{k: v for k, v in asdict(cost).items() if k != "setting"})
        if cost
        else None,
        practice_piece=next_coat_to_photograph(job) if job.is_practice else None,
    )


def show_experiment(experiment: Experiment, at: datetime) -> p.ExperimentOut:
    """An experiment with its table."""
    return p.ExperimentOut(
        id=experiment.pk,
        name=experiment.name,
        made_at=experiment.made_at,
        replicates=experiment.replicates,
        order=[p.AssignmentOut(**x) for x in experiment.order],
        arms=[
            p.ArmOut(
                job=show_job(row.job, at),
                label=row.label,
                **asdict(row.count),
                **asdict(row.verdict),
                fastest_clean_mm_s=row.fastest_clean_mm_s,
            )
            for row in arms_of(experiment)
        ],
    )
