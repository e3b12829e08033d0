"""The Window chapter: reading it, locking a setting, carrying it over."""

from dataclasses import asdict

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status

from keencoat.core.quantities import Art, Setting
from keencoat.jobs.cost.piece_work import search_of
from keencoat.jobs.job.marks import of_job, of_window
from keencoat.jobs.job.schemas import JobOut, SettingIn
from keencoat.jobs.job.services import find_job
from keencoat.jobs.job.show import show_job
from keencoat.jobs.models import Job
from keencoat.jobs.window import schemas as s
from keencoat.jobs.window.services.carry import CarryWish, carry_job, carry_window, windows_like
from keencoat.jobs.window.services.locking import lock_setting, read_setting, read_window
from keencoat.jobs.window.show import show_carried, show_point, show_window
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import asks_only
from keencoat.shop.kept import kept

router = Router(tags=["window"])


def _window(
    job: Job, interval_mm: float | None, passes: int, film_share: float = 1.0, art: Art = Art.FILLS
) -> s.WindowOut:
    return show_window(read_window(job, interval_mm, passes, film_share, art), windows_like(job))


@router.get("/jobs/{job_id}/search", response=s.SearchOut)
def search(request: HttpRequest, job_id: int) -> s.SearchOut:
    """What the test pieces took so far."""
    job = find_job(workshop_of(request), job_id)
    return s.SearchOut(**asdict(search_of(job, timezone.now())), currency=job.workshop.currency)


@router.get("/jobs/{job_id}/window", response=s.WindowOut)
@kept(of_window)
def window(
    request: HttpRequest,
    job_id: int,
    interval_mm: float | None = None,
    passes: int = 1,
    film_share: float = 1.0,
    art: Art = Art.FILLS,
) -> s.WindowOut:
    """The window: map, rated cells, the setting to lock; at the job's own interval unless another is asked for, and
    for filled art unless fine strokes are."""
    return _window(find_job(workshop_of(request), job_id), interval_mm, passes, film_share, art)


@router.post("/jobs/{job_id}/window/point", response=s.PointOut, **asks_only())
@kept(of_job)
def point(request: HttpRequest, job_id: int, payload: SettingIn, art: Art = Art.FILLS) -> s.PointOut:
    """What the window says of one setting, for filled art unless fine strokes are asked for."""
    job = find_job(workshop_of(request), job_id)
    return show_point(read_setting(job, Setting(**payload.model_dump()), art))


@router.post("/jobs/{job_id}/window/lock", response=s.WindowOut)
def lock(request: HttpRequest, job_id: int, payload: s.LockIn) -> s.WindowOut:
    """Lock a setting with its evidence, as a new version; one for fine strokes beside that for filled art."""
    workshop, seen = workshop_of(request), (payload.version, payload.evidence_mark)
    setting = Setting(**payload.model_dump(include=set(SettingIn.model_fields)))
    lock_setting(workshop, job_id, setting, seen, timezone.now(), payload.art)
    return _window(find_job(workshop, job_id), setting.interval_mm, setting.passes, art=payload.art)


@router.post("/jobs/{job_id}/window/carry", response=s.CarryOut, **asks_only())
def carry(request: HttpRequest, job_id: int, payload: s.CarryIn) -> s.CarryOut:
    """Predict the window on another machine, with other lines, passes or film."""
    return show_carried(carry_window(find_job(workshop_of(request), job_id), CarryWish(**payload.model_dump())))


@router.post("/jobs/{job_id}/window/carry/job", response={201: JobOut})
def carry_to_job(request: HttpRequest, job_id: int, payload: s.CarryIn) -> Status[JobOut]:
    """Make a job there that begins from this one's cells."""
    workshop, at = workshop_of(request), timezone.now()
    made = carry_job(workshop, job_id, CarryWish(**payload.model_dump()), at)
    return Status(201, show_job(find_job(workshop, made.pk), at))
