"""Practising: a job on the simulated bench, from a coat put on well or badly to a batch of twelve."""

import random
from dataclasses import asdict, dataclass, replace
from datetime import datetime, timedelta

import numpy as np
from django.db import transaction
from django.db.models import QuerySet

from keencoat.bench.batch import BatchSetting, run_batch
from keencoat.bench.coatshots import shoot_film
from keencoat.bench.faulty import Faulty
from keencoat.bench.filmfield import AS_MEANT, Coated, CoatFault
from keencoat.bench.gridshots import GridCamera, Trouble, draw_pose
from keencoat.bench.plant.exposure import read_exposure
from keencoat.bench.plant.many import Bench
from keencoat.bench.plant.materials import MATERIALS, Material, draw_piece, hidden_material
from keencoat.bench.plant.piece import BurnedPiece, Sheet
from keencoat.bench.scenarios import COATINGS, MACHINES, SCENARIOS, Scenario
from keencoat.bench.wallshots import camera_before
from keencoat.core.errors import NotAllowedError, require_known
from keencoat.core.piece import FlatPiece, Shape
from keencoat.core.placing import TurningKind
from keencoat.core.quantities import Machine as CoreMachine
from keencoat.core.safety import Pulsing
from keencoat.core.states import BurnState
from keencoat.core.substrate import find_substrate
from keencoat.jobs.artwork.models import ArtworkBurn, ArtworkPhoto
from keencoat.jobs.artwork.services.bringing import find_artwork
from keencoat.jobs.artwork.services.photos import Ask, compare_photo, keep_photo_of, tell_trouble
from keencoat.jobs.batch.services.moving import find_batch_piece
from keencoat.jobs.batch.services.photos import compare_piece_photo, keep_piece_photo
from keencoat.jobs.coat.services.proof import keep_photo
from keencoat.jobs.coat.services.putting_on import put_coat_on
from keencoat.jobs.coat.services.shots import shot_setup
from keencoat.jobs.grid.services.drawing import find_grid, piece_of
from keencoat.jobs.job.driving import unpack
from keencoat.jobs.job.laser_row import LaserRow
from keencoat.jobs.job.services import create_job, find_job, jobs_of, lock_job
from keencoat.jobs.models import CoatPhoto, GridBurn, GridPhoto, Job, PhotoLight, PiecePhoto, Practice, TestGrid
from keencoat.jobs.practice.faults import fault_of
from keencoat.jobs.practice.known import practice_of
from keencoat.jobs.reading.services.photos import PhotoWish, keep_grid_photo
from keencoat.shop.aside import aside
from keencoat.shop.models import Machine, TurningDevice, Workshop, machine_of

BATCH = 12


@dataclass(frozen=True)
class Score:
    """What a practice came to: pieces and cells spent, and how many of the batch came out clean."""

    pieces: int
    cells: int
    clean: int
    of: int


@transaction.atomic
def practice_bench(workshop: Workshop) -> Workshop:
    """The workshop's practice bench, with its machines; made when it is first asked for."""
    # Two members who practise for the first time at once both ask for it.
    bench, is_new = Workshop.objects.get_or_create(
        practice_of=workshop,
        defaults={
            "name": f"Practice bench of {workshop.name}"[:80],
            "simulated_sensor": True,
            "currency": workshop.currency,
        },
    )
    if is_new:
        for facts in MACHINES.values():
            Machine.objects.create(workshop=bench, pulsing=Pulsing.CONTINUOUS, **facts)
    return bench


def practices_of(workshop: Workshop) -> QuerySet[Job]:
    """Practice jobs, the newest first."""
    bench = Workshop.objects.filter(practice_of=workshop).first()
    return jobs_of(bench).filter(practice__isnull=False) if bench else Job.objects.none()


def odd_practices(workshop: Workshop) -> list[str]:
    """Names of jobs on the practice bench that the bench knows nothing of: passed over in lists, told of, deletable."""
    odd = Job.objects.filter(workshop__practice_of=workshop, practice__isnull=True)
    return list(odd.values_list("name", flat=True)[:10])


@transaction.atomic
def start_practice(workshop: Workshop, scenario_key: str, hidden: bool, at: datetime) -> Job:
    """A practice job on a scenario; with `hidden`, of a material whose figures nobody knows."""
    scenario = SCENARIOS[require_known(scenario_key, SCENARIOS, "scenario")]
    bench = practice_bench(workshop)
    machine = Machine.objects.get(workshop=bench, name=MACHINES[scenario.machine]["name"])
    job = create_job(bench, _values(scenario, machine, hidden), at)
    # Luck, not secrecy: a new practice is a new material and new pieces.
    seed = random.SystemRandom().randrange(1, 2**31)
    if scenario.shape not in (Shape.RECTANGLE, Shape.DISC):
        provide_devices(machine)
    Practice.objects.create(job=job, scenario=scenario.key, hidden=hidden, seed=seed)
    return job


def provide_devices(machine: Machine) -> None:
    """A chuck and rollers on a practice machine, with the figures that their maker prints on them."""
    Machine.objects.select_for_update().get(pk=machine.pk)
    if not machine.turning_devices.exists():
        TurningDevice.objects.create(
            machine=machine, name="Practice chuck", kind=TurningKind.CHUCK, mm_per_turn=110, stands_in_for="y"
        )
        TurningDevice.objects.create(
            machine=machine,
            name="Practice rollers",
            kind=TurningKind.ROLLERS,
            mm_per_turn=110,
            stands_in_for="x",
            roller_mm=40,
        )


def _values(scenario: Scenario, machine: Machine, hidden: bool) -> dict[str, object]:
    values = {k: v for k, v in asdict(scenario).items() if k not in ("key", "title", "words", "machine")}
    name = f"{scenario.title}, {'hidden material' if hidden else 'practice'}"
    return values | {
        "name": name,
        "machine_id": machine.pk,
        "margin_mm": 3.0,
        "pieces": BATCH,
        "spares": 6,
        "tool": "",
    }


@transaction.atomic
def coat_practice(workshop: Workshop, job_id: int, coating_key: str, at: datetime) -> Job:
    """Coat all pieces of a practice job at once, as chosen, and let them dry: its clock is set back."""
    job = lock_job(workshop, job_id)
    practice = practice_of(job)
    coating = COATINGS[require_known(coating_key, COATINGS, "coating")]
    if job.stamps.exists():
        raise NotAllowedError("These pieces are coated already.", field="coating", hint="Start another practice.")
    practice.coat_fault, practice.film_share = coating.fault.value, coating.film_share
    practice.save(update_fields=["coat_fault", "film_share"])
    if job.recipe().is_put_on:
        start = at - timedelta(days=12)
        for number in range(1, job.coats + 1):
            put_coat_on(workshop, job_id, number, at, start + timedelta(hours=12 * number))
    return find_job(workshop, job_id)


def material_of(job: Job) -> Material:
    """The plant's material of a practice job, under its machine's spot."""
    practice = practice_of(job)
    base = hidden_material(job.process, practice.seed) if practice.hidden else MATERIALS[job.process]
    return replace(base, spot_mm=job.machine.spot_mm)


def burned_piece(grid: TestGrid, burn: GridBurn) -> BurnedPiece:
    """The washed piece that a burn left behind."""
    return washed_piece(grid.job, machine_of(grid.machine_facts), piece_of(grid), burn)


def washed_piece(job: Job, machine: CoreMachine, face: FlatPiece, burn: LaserRow) -> BurnedPiece:
    """The washed piece that a burn on the practice laser left behind."""
    faulty = fault_of(practice_of(job), burn)
    washed = fresh_piece(job, machine, face, burn.piece, faulty)
    hatches, traces, stands = read_exposure(unpack(bytes(burn.moves or b"")))
    washed.expose([faulty.hatch(h) for h in hatches] if faulty else hatches, traces, stands)
    if faulty and faulty.turned_deg:
        washed.turn(faulty.turned_deg)
    return washed


def fresh_piece(
    job: Job, machine: CoreMachine, face: FlatPiece, number: int, faulty: Faulty | None = None
) -> BurnedPiece:
    """A coated piece of a practice job before anything is burned on it, by the order in which pieces are spent."""
    practice, material = practice_of(job), material_of(job)
    drawn = draw_piece(material, np.random.default_rng([practice.seed, number]))
    return BurnedPiece(
        material,
        Sheet(face.width_mm, face.height_mm, face.shape is Shape.DISC, face.thickness_mm),
        faulty.piece(drawn) if faulty else drawn,
        machine.rated_w,
        practice.seed % 100_000 + number,
        machine.source.wavelength_nm,
        faulty.coated if faulty and faulty.coated != AS_MEANT else _coated(practice),
    )


def next_coat_to_photograph(job: Job) -> int | None:
    """The number of the first practice piece that is neither burned nor photographed; None if there is none."""
    seen = set(job.photos.values_list("piece", flat=True))
    return next((n for n in range(practice_of(job).pieces_spent + 1, job.all_pieces + 1) if n not in seen), None)


def photograph_coat(workshop: Workshop, job_id: int, at: datetime) -> CoatPhoto:
    """Photograph the next practice piece's own coat with the simulated phone, coated and bare, and measure it: among
    practice records it counts. Raises NotAllowedError where no coated piece is left to photograph."""
    job = find_job(workshop, job_id)
    practice, number = practice_of(job), next_coat_to_photograph(job)
    if number is None or (job.recipe().is_put_on and not job.stamps.exists()):
        raise NotAllowedError(
            "No coated practice piece is left to photograph.",
            field="job",
            hint="Coat the pieces first." if number else "All are burned or photographed already.",
        )
    film = fresh_piece(job, job.machine.to_core(), job.piece().face, number).film
    seed = practice.seed % 100_000 + number
    shot = aside(shoot_film, film, material_of(job).film_um, shot_setup(job), seed)
    return keep_photo(workshop, job_id, shot.coated, shot.bare, number, at, simulated=True)


def face_under(burn: ArtworkBurn, job: Job) -> FlatPiece:
    """The face of a job's piece as it lay when its artwork was burned."""
    face = job.piece().face
    if burn.made.as_it_was().asked().across:
        return replace(face, width_mm=face.height_mm, height_mm=face.width_mm)
    return face


def _coated(practice: Practice) -> Coated:
    return Coated(CoatFault(practice.coat_fault), practice.film_share)


def photograph_practice(workshop: Workshop, grid_id: int, trouble: str, spare: int, at: datetime) -> GridPhoto:
    """Photograph a burned practice grid with the simulated phone; `trouble` makes a bad photo of it."""
    require_known(trouble, [t.value for t in Trouble], "trouble")
    grid = find_grid(workshop, grid_id)
    practice = practice_of(grid.job)
    if grid.burns.filter(ended_at=None).exists():
        raise NotAllowedError("This grid is burning still.", field="spare", hint="Wait until it is done, then wash it.")
    burn = grid.burns.filter(spare=spare, moves__isnull=False).exclude(state=BurnState.QUEUED).last()
    if burn is None:
        raise NotAllowedError("This spare is not burned yet.", field="spare", hint="Burn it on the practice bench.")
    number = grid.photos.count() + 1
    pose = draw_pose(np.random.default_rng([practice.seed, grid.number, number]))
    seed = practice.seed % 100_000 + number
    camera = camera_before(burned_piece(grid, burn), grid.job.piece(), pose, seed, Trouble(trouble), grid.mirrored)
    light = PhotoLight.DARK_GROUND if find_substrate(grid.job.substrate).passes_light else PhotoLight.PLAIN
    return keep_grid_photo(workshop, grid_id, aside(camera.shoot), PhotoWish(spare, light, simulated=True), at)


def ask_art_shot(workshop: Workshop, artwork_id: int, trouble: str, at: datetime, ask: Ask) -> ArtworkPhoto:
    """`ask` that the piece of artwork which was burned last on the practice bench is photographed, and compared with
    what was expected."""
    require_known(trouble, [t.value for t in Trouble], "trouble")
    practice_of(find_job(workshop, find_artwork(workshop, artwork_id).job_id))
    burns = ArtworkBurn.objects.filter(made__artwork=artwork_id)
    burn = burns.filter(moves__isnull=False).defer("moves").last()
    if burn is None or burns.filter(ended_at=None).exists():
        raise NotAllowedError(
            "Nothing of it is burned to its end.", field="state", hint="Burn it on the practice bench, then wash it."
        )
    # Taken when the worker comes to it: its version and number tell which piece.
    waits = ArtworkPhoto(made=burn.made, number=burn.number, at=at, original=b"", kind="JPEG", simulated=True)
    return keep_photo_of(workshop, waits, ask)


def run_art_photo(photo_id: int, trouble: str) -> None:
    """Take the photo, if it is one of a practice piece, and compare it. The worker's part; does nothing for one that
    was thrown away."""
    photo = ArtworkPhoto.objects.select_related("made__job__workshop").filter(pk=photo_id).first()
    if photo is None:
        return
    if photo.simulated and not photo.original:
        try:
            photo.original = _shot_of(photo, Trouble(trouble))
        except NotAllowedError as error:
            tell_trouble(photo, error)
            return
        ArtworkPhoto.objects.filter(pk=photo_id).update(original=photo.original)
    compare_photo(photo)


def ask_piece_shot(workshop: Workshop, piece_id: int, trouble: str, at: datetime, ask: Ask) -> PiecePhoto:
    """`ask` that a washed piece of a practice batch is photographed, and compared with what was expected."""
    require_known(trouble, [t.value for t in Trouble], "trouble")
    practice_of(find_batch_piece(workshop, piece_id).batch.job)
    # Taken when the worker comes to it.
    return keep_piece_photo(workshop, piece_id, PiecePhoto(at=at, original=b"", kind="JPEG", simulated=True), ask)


def run_piece_photo(photo_id: int, trouble: str) -> None:
    """Take the photo of a piece of a batch, if it is one of practice, and compare it. The worker's part; does nothing
    for one that was replaced."""
    photo = PiecePhoto.objects.select_related("piece__burn", "piece__batch__made__artwork").filter(pk=photo_id).first()
    if photo is None:
        return
    if photo.simulated and not photo.original and photo.piece.burn:
        photo.original = _burned_shot(photo.piece.burn, photo.pk, Trouble(trouble))
        PiecePhoto.objects.filter(pk=photo_id).update(original=photo.original)
    compare_piece_photo(photo)


def _shot_of(photo: ArtworkPhoto, trouble: Trouble) -> bytes:
    burn = ArtworkBurn.objects.filter(made=photo.made, number=photo.number, moves__isnull=False).last()
    if burn is None:
        raise NotAllowedError("This piece is not there any more.", field="state", hint="Burn it again.")
    return _burned_shot(burn, photo.pk, trouble)


def _burned_shot(burn: ArtworkBurn, photo_id: int, trouble: Trouble) -> bytes:
    """What the simulated phone takes of a washed piece; each photo has a pose of its own."""
    job = find_job(burn.made.job.workshop, burn.made.job_id)
    practice = practice_of(job)
    pose = draw_pose(np.random.default_rng([practice.seed, burn.made.artwork_id, burn.pk, photo_id]))
    washed = washed_piece(job, job.machine.to_core(), face_under(burn, job), burn)
    seed = practice.seed % 100_000 + burn.pk
    camera = GridCamera(washed, pose, seed, trouble, job.is_seen_through)
    return camera.shoot()


@transaction.atomic
def run_practice_batch(workshop: Workshop, job_id: int) -> Job:
    """Burn the batch of twelve at the locked setting and write down what came of each piece."""
    job = lock_job(workshop, job_id)
    practice = practice_of(job)
    locked = job.locked.first()
    if locked is None:
        raise NotAllowedError("No setting is locked yet.", field="state", hint="Lock one in the Window chapter.")
    setting, machine = locked.setting(), job.machine.to_core()
    run = (practice.batch or {}).get("run", 0) + 1
    pieces = run_batch(
        Bench(material_of(job), machine.rated_w, machine.source.wavelength_nm, machine.accel_mm_s2, job.thickness_mm),
        BatchSetting(setting.power_pct / 100, setting.speed_mm_s, setting.interval_mm, setting.passes),
        BATCH,
        practice.seed % 1_000_000 + run,
        _coated(practice),
    )
    practice.batch = {
        "run": run,
        "version": locked.version,
        "pieces": [{"number": p.number, "verdict": p.truth.verdict.value, "why": p.why} for p in pieces],
    }
    practice.save(update_fields=["batch"])
    return find_job(workshop, job_id)


def score_of(job: Job) -> Score:
    """Pieces and cells spent so far, and the batch's yield if it was run."""
    practice = practice_of(job)
    cells = sum(c.counts for g in job.grids.all() if g.burned_at for c in g.cells.all())
    pieces = (practice.batch or {}).get("pieces", [])
    return Score(practice.pieces_spent, cells, sum(p["verdict"] == "clean" for p in pieces), len(pieces))
