"""The Practice page: simulated jobs, from a coat put on well or badly to a batch of twelve."""

from functools import partial

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Status

from keencoat.bench.camera import hex_of
from keencoat.bench.faulty import AT_THE_PIECE
from keencoat.bench.gridshots import Trouble
from keencoat.bench.plant.materials import MATERIALS
from keencoat.bench.scenarios import COATINGS, SCENARIOS
from keencoat.core.substrate import PROCESSES
from keencoat.jobs.artwork.schemas import ArtPiecesOut, ArtShotIn
from keencoat.jobs.artwork.services.bringing import find_artwork
from keencoat.jobs.artwork.show import show_pieces
from keencoat.jobs.batch.schemas import BatchOut
from keencoat.jobs.batch.services.moving import find_batch
from keencoat.jobs.batch.show import show_batch
from keencoat.jobs.coat.proof_schemas import CoatPhotoOut
from keencoat.jobs.coat.services.drying import drying_of
from keencoat.jobs.coat.show_proof import show_photo
from keencoat.jobs.grid.services.drawing import find_grid
from keencoat.jobs.job import schemas as s
from keencoat.jobs.job.services import find_job, step_of
from keencoat.jobs.job.show import show_job
from keencoat.jobs.models import Job
from keencoat.jobs.practice.faults import LABELS, SURPRISE, put_fault
from keencoat.jobs.practice.looking import look_of_piece
from keencoat.jobs.practice.schemas import (
    CoatingIn,
    NamedOut,
    PracticeJobOut,
    PracticePageOut,
    PracticeShotIn,
    PracticeStartIn,
    PutFaultIn,
    ScenarioOut,
)
from keencoat.jobs.practice.services import (
    ask_art_shot,
    coat_practice,
    odd_practices,
    photograph_coat,
    photograph_practice,
    practices_of,
    run_practice_batch,
    score_of,
    start_practice,
)
from keencoat.jobs.reading.schemas import GridReadingOut
from keencoat.jobs.reading.services.photos import tuning_of
from keencoat.jobs.reading.show import show_reading
from keencoat.jobs.tasks import art_photo as photo_task
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import sends

router = Router(tags=["practice"])
_TROUBLES = {
    Trouble.NONE: "a fair photo",
    Trouble.BLURRED: "a blurred one",
    Trouble.GLARE: "one with glare",
    Trouble.CUT_OFF: "one with the grid cut off",
    Trouble.DARK: "a dark one",
}


@router.get("/practice", response=PracticePageOut)
def page(request: HttpRequest) -> PracticePageOut:
    """What can be practised, and practices so far."""
    return PracticePageOut(
        scenarios=[
            ScenarioOut(
                key=x.key,
                title=x.title,
                words=x.words,
                process=PROCESSES[x.process].label,
                width_mm=x.width_mm,
                height_mm=x.height_mm,
                ground=hex_of(MATERIALS[x.process].look.ground),
                mark=hex_of(MATERIALS[x.process].look.mark),
            )
            for x in SCENARIOS.values()
        ],
        coatings=[NamedOut(key=c.key, label=c.label) for c in COATINGS.values()],
        troubles=[NamedOut(key=k.value, label=label) for k, label in _TROUBLES.items()],
        faults=[
            NamedOut(key=SURPRISE, label="a surprise: any fault, in any piece"),
            *(NamedOut(key=f.value, label=LABELS[f]) for f in AT_THE_PIECE),
        ],
        jobs=[_short(job) for job in practices_of(workshop_of(request))[:50]],
        odd=odd_practices(workshop_of(request)),
    )


def _short(job: Job) -> PracticeJobOut:
    score, step = score_of(job), step_of(job, drying_of(job, timezone.now()))
    return PracticeJobOut(
        id=job.pk,
        name=job.name,
        process_label=PROCESSES[job.process].label,
        hidden=job.practice.hidden,
        pieces=score.pieces,
        cells=score.cells,
        clean=score.clean,
        of=score.of,
        updated_at=job.updated_at,
        next_title=step.title,
        next_chapter=step.chapter,
    )


@router.post("/practice", response={201: s.JobOut})
def start(request: HttpRequest, payload: PracticeStartIn) -> Status[s.JobOut]:
    """Start a practice."""
    workshop, now = workshop_of(request), timezone.now()
    job = start_practice(workshop, payload.scenario, payload.hidden, now)
    return Status(201, show_job(find_job(workshop, job.pk), now))


@router.post("/jobs/{job_id}/practice/coat", response=s.JobOut)
def coat(request: HttpRequest, job_id: int, payload: CoatingIn) -> s.JobOut:
    """Coat all practice pieces at once, well or badly, and let them dry."""
    now = timezone.now()
    return show_job(coat_practice(workshop_of(request), job_id, payload.coating, now), now)


@router.post("/jobs/{job_id}/practice/coat-photo", response={201: CoatPhotoOut})
def shoot_coat(request: HttpRequest, job_id: int) -> Status[CoatPhotoOut]:
    """Photograph the next practice piece's own coat with the simulated phone: here it counts."""
    return Status(201, show_photo(photograph_coat(workshop_of(request), job_id, timezone.now())))


@router.post("/grids/{grid_id}/practice/photo", response={201: GridReadingOut})
def shoot(request: HttpRequest, grid_id: int, payload: PracticeShotIn) -> Status[GridReadingOut]:
    """Photograph a burned practice grid with the simulated phone."""
    workshop = workshop_of(request)
    photograph_practice(workshop, grid_id, payload.trouble, payload.spare, timezone.now())
    grid = find_grid(workshop, grid_id)
    return Status(201, show_reading(grid, tuning_of(grid.job.workshop)))


@router.post("/artworks/{artwork_id}/practice/photo", response={201: ArtPiecesOut})
def shoot_artwork(request: HttpRequest, artwork_id: int, payload: ArtShotIn) -> Status[ArtPiecesOut]:
    """Have burned practice artwork photographed with the simulated phone, and compared with what was expected."""
    workshop = workshop_of(request)
    ask_art_shot(
        workshop, artwork_id, payload.trouble, timezone.now(), partial(photo_task.defer, trouble=payload.trouble)
    )
    return Status(201, show_pieces(find_artwork(workshop, artwork_id)))


@router.get("/batch-pieces/{piece_id}/practice/look.png", **sends("image/png", late=True))
def look(request: HttpRequest, piece_id: int) -> HttpResponse:
    """A washed piece of a practice batch, straight on."""
    data = look_of_piece(workshop_of(request), piece_id)
    return HttpResponse(data, content_type="image/png", headers={"Cache-Control": "private, max-age=3600"})


@router.post("/jobs/{job_id}/practice/batch", response=s.JobOut)
def batch(request: HttpRequest, job_id: int) -> s.JobOut:
    """Run the batch of twelve at the locked setting."""
    return show_job(run_practice_batch(workshop_of(request), job_id), timezone.now())


@router.post("/batches/{batch_id}/practice/faults", response=BatchOut)
def spoil(request: HttpRequest, batch_id: int, payload: PutFaultIn) -> BatchOut:
    """Put a fault into practice pieces that still wait, to find it again."""
    workshop = workshop_of(request)
    put_fault(workshop, batch_id, payload.ids, payload.fault)
    return show_batch(find_batch(workshop, batch_id), timezone.now())
