"""The Window chapter."""

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from keencoat.core.quantities.setting import Setting
from keencoat.jobs.api import schemas as s
from keencoat.jobs.api.show import show_point, show_window
from keencoat.jobs.services.jobs import find_job
from keencoat.jobs.services.window import lock_setting, read_setting, read_window
from keencoat.shop.access import workshop_of

router = Router(tags=["window"])


@router.get("/jobs/{job_id}/window", response=s.WindowOut)
def window(request: HttpRequest, job_id: int, interval_mm: float | None = None, passes: int = 1) -> s.WindowOut:
    """The window: map, rated cells, the setting to lock; at the job's own interval unless another is asked for."""
    return show_window(read_window(find_job(workshop_of(request), job_id), interval_mm, passes))


@router.post("/jobs/{job_id}/window/point", response=s.PointOut)
def point(request: HttpRequest, job_id: int, payload: s.SettingIn) -> s.PointOut:
    """What the window says of one setting."""
    job = find_job(workshop_of(request), job_id)
    return show_point(read_setting(job, Setting(**payload.model_dump())))


@router.post("/jobs/{job_id}/window/lock", response=s.WindowOut)
def lock(request: HttpRequest, job_id: int, payload: s.LockIn) -> s.WindowOut:
    """Lock a setting with its evidence, as a new version."""
    workshop = workshop_of(request)
    setting = Setting(**payload.model_dump(exclude={"version"}))
    lock_setting(workshop, job_id, setting, payload.version, timezone.now())
    return show_window(read_window(find_job(workshop, job_id), setting.interval_mm, setting.passes))
