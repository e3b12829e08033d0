"""The Run chapter: the run sheet, as page and PDF, and what came of the runs."""

from dataclasses import asdict

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Status

from keencoat.jobs.artwork.on_sheet import artworks_on_sheet
from keencoat.jobs.job.marks import by_reader, for_a_spell, of_job
from keencoat.jobs.job.services import find_job
from keencoat.jobs.run.schemas import RunIn, RunOut, RunSheetOut
from keencoat.jobs.run.services.runs import record_run
from keencoat.jobs.run.services.sheet import newest_lock, run_sheet_of
from keencoat.jobs.run.sheet_pdf import run_sheet_pdf
from keencoat.jobs.run.show import show_run
from keencoat.shop.access import member_of, workshop_of
from keencoat.shop.fields import sends
from keencoat.shop.kept import kept

router = Router(tags=["run"])


@router.get("/jobs/{job_id}/run-sheet", response=RunSheetOut)
@kept(for_a_spell(by_reader(of_job)))
def run_sheet(request: HttpRequest, job_id: int) -> RunSheetOut:
    """The run sheet of the newest locked setting, in the member's units."""
    member = member_of(request)
    job = find_job(member.workshop, job_id)
    return RunSheetOut(**asdict(run_sheet_of(job, member, timezone.now())), version=newest_lock(job).version)


@router.get("/jobs/{job_id}/run-sheet.pdf", **sends("application/pdf", late=True))
def run_sheet_file(request: HttpRequest, job_id: int) -> HttpResponse:
    """The run sheet to print."""
    member = member_of(request)
    job = find_job(member.workshop, job_id)
    lock = newest_lock(job)
    version = f"version {lock.version}, locked {lock.at:%Y-%m-%d %H:%M} UTC"
    data = run_sheet_pdf(run_sheet_of(job, member, timezone.now()), version, artworks_on_sheet(job))
    name = f"keencoat-job{job.pk}-run-sheet-v{lock.version}.pdf"
    return HttpResponse(
        data, content_type="application/pdf", headers={"Content-Disposition": f'attachment; filename="{name}"'}
    )


@router.get("/jobs/{job_id}/runs", response=list[RunOut])
@kept(of_job)
def list_runs(request: HttpRequest, job_id: int) -> list[RunOut]:
    """The job's runs, the oldest first."""
    return [show_run(r) for r in find_job(workshop_of(request), job_id).runs.select_related("lot")]


@router.post("/jobs/{job_id}/runs", response={201: list[RunOut]})
def add_run(request: HttpRequest, job_id: int, payload: RunIn) -> Status[list[RunOut]]:
    """Write down what came of a run at the locked setting; the window learns from it."""
    workshop, counts = workshop_of(request), (payload.faint, payload.clean, payload.harsh)
    record_run(workshop, job_id, counts, payload.lock_version, payload.lot_id, payload.note.strip(), timezone.now())
    return Status(201, [show_run(r) for r in find_job(workshop, job_id).runs.select_related("lot")])
