"""The demo workshop: the workshop of a small botanic garden. All invented."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.contrib.auth import get_user_model
from django.db import transaction

from keencoat.bench.coatshots import Lamp, ShotSetup, shoot_coat
from keencoat.bench.filmfield import CoatFault
from keencoat.core.artwork import ArtKind
from keencoat.core.coat import Arm
from keencoat.core.grid.formats import CellRating
from keencoat.core.jig import JigSpec
from keencoat.core.piece import Girth, GirthTool, NarrowEnd
from keencoat.core.placing import ArtWay, Mark, PlacingSpec, of_seam
from keencoat.core.rating import Rating
from keencoat.core.safety import Pulsing
from keencoat.core.substrate import find_process
from keencoat.core.window import MeasuredHeight, MeasuredLine, Verdict
from keencoat.jobs.artwork.services.bringing import bring_artwork
from keencoat.jobs.coat.services.proof import keep_photo
from keencoat.jobs.coat.services.putting_on import mix_lot, put_coat_on
from keencoat.jobs.compare.services import make_experiment
from keencoat.jobs.demo_art import LABELS, fern_photo, leaf_layers
from keencoat.jobs.demo_batch import run_batch, wear_eyewear
from keencoat.jobs.demo_shelf import put_on_shelf, reckon
from keencoat.jobs.grid.services.drawing import GridWish, burn_grid, draw_grid, find_grid
from keencoat.jobs.job.services import create_job, find_job
from keencoat.jobs.models import GridKind, Job, TestGrid
from keencoat.jobs.placing.services.placing import save_placing
from keencoat.jobs.reading.services.ratings import rate_cell
from keencoat.jobs.run.services.runs import record_run
from keencoat.jobs.window.services.locking import evidence_mark, lock_setting, read_window
from keencoat.shop.demo_account import DEMO_PASSWORD, DEMO_USER
from keencoat.shop.jigs import keep_jig
from keencoat.shop.models import Machine, Membership, Workshop
from keencoat.shop.spot import keep_ladder, keep_lines
from keencoat.shop.turning import add_device, add_ticks

_BLUE = {
    "source": "blue", "rated_w": 12.0, "spot_mm": 0.09, "min_speed_mm_s": 4.0, "max_speed_mm_s": 300.0,
    "min_power_pct": 2.0, "accel_mm_s2": 3000.0, "bed_x_mm": 400.0, "bed_y_mm": 380.0,
}  # fmt: skip
_LITTLE = {
    "source": "blue", "rated_w": 5.5, "spot_mm": 0.08, "min_speed_mm_s": 2.0, "max_speed_mm_s": 200.0,
    "min_power_pct": 2.0, "accel_mm_s2": 2000.0, "bed_x_mm": 300.0, "bed_y_mm": 280.0,
}  # fmt: skip
_CO2 = {
    "source": "co2", "rated_w": 55.0, "spot_mm": 0.18, "min_speed_mm_s": 8.0, "max_speed_mm_s": 450.0,
    "min_power_pct": 9.0, "accel_mm_s2": 6000.0, "bed_x_mm": 580.0, "bed_y_mm": 390.0,
}  # fmt: skip


@dataclass(frozen=True)
class _Bounds:
    """Invented: where cells of a demo piece turned clean and harsh, J/mm² at 1 ms dwell and as a power of dwell."""

    clean_from: float
    harsh_from: float
    power: float


@transaction.atomic
def load_demo(now: datetime) -> bool:
    """Load the demo workshop, once: False and no change if it is there already."""
    users = get_user_model().objects
    if users.filter(username=DEMO_USER).exists():
        return False
    user = users.create_user(DEMO_USER, password=DEMO_PASSWORD)
    shop = Workshop.objects.create(name="Garden workshop", simulated_sensor=True)
    member = Membership.objects.create(user=user, workshop=shop, owner=True)
    wear_eyewear(shop)
    blue = Machine.objects.create(workshop=shop, name="Blue twelve, potting shed", pulsing=Pulsing.CONTINUOUS, **_BLUE)
    Machine.objects.create(workshop=shop, name="Little blue, bench corner", pulsing=Pulsing.CONTINUOUS, **_LITTLE)
    co2 = Machine.objects.create(workshop=shop, name="Tube fifty-five, seed store", pulsing=Pulsing.CONTINUOUS, **_CO2)

    signs = _job(
        shop,
        blue,
        now - timedelta(days=3),
        "Light signs, orchid house",
        "clear_acrylic",
        "back_engrave",
        "tempera_thin",
        shape="rectangle",
        width_mm=120,
        height_mm=90,
        thickness_mm=5,
        coats=4,
        pieces=6,
    )
    _coat_fully(shop, signs, now - timedelta(days=2, hours=5))
    _rated_grid(shop, signs, 16, _Bounds(0.72, 2.3, 0.42), now - timedelta(days=2, hours=2))
    _rated_grid(shop, signs, 12, _Bounds(0.78, 2.2, 0.42), now - timedelta(days=1, hours=3))
    _lock(shop, signs, now - timedelta(days=1, hours=2))
    record_run(shop, signs.pk, (0, 6, 0), 1, None, "edge-lit, all even", now - timedelta(hours=22))
    named, *_ = (
        bring_artwork(shop, signs.pk, kind, name, data, now - timedelta(hours=21))
        for kind, name, data in (
            (ArtKind.NAMES, "Bed labels", LABELS.encode()),
            (ArtKind.DRAWING, "Leaves in five layers", leaf_layers()),
            (ArtKind.PICTURE, "Fern", fern_photo()),
        )
    )
    run_batch(member, signs, named, now)
    _own_spot(shop, blue, now - timedelta(days=6))

    cloches = _job(
        shop,
        blue,
        now - timedelta(hours=26),
        "Cloche labels, alpine house",
        "soda_lime_glass",
        "frost",
        "tempera_brushed",
        shape="disc",
        width_mm=110,
        height_mm=110,
        thickness_mm=4,
        coats=2,
        pieces=24,
    )
    _coat_fully(shop, cloches, now - timedelta(hours=4))
    grid = draw_grid(shop, cloches.pk, GridWish(GridKind.CROSSED, 12, 0.1, 1), now - timedelta(hours=2))
    burn_grid(shop, grid.pk, now - timedelta(hours=1))

    markers = _job(
        shop,
        blue,
        now - timedelta(hours=3),
        "Trail markers, fern walk",
        "white_glazed_tile",
        "fuse",
        "tio2_glue",
        shape="rectangle",
        width_mm=98,
        height_mm=98,
        thickness_mm=6.5,
        coats=2,
        pieces=16,
    )
    mix_lot(shop, markers.pk, "sieved twice, no lumps", now - timedelta(minutes=50))
    put_coat_on(shop, markers.pk, 1, now, now - timedelta(minutes=34), (1, 10))
    put_coat_on(shop, markers.pk, 1, now, now - timedelta(minutes=22), (11, 18))

    labels = _job(
        shop,
        co2,
        now - timedelta(hours=1),
        "Bed labels, kitchen garden",
        "powder_coated_steel",
        "ablate",
        "powder_coat",
        shape="rectangle",
        width_mm=140,
        height_mm=60,
        thickness_mm=2,
        coats=1,
        pieces=40,
    )
    _trays(shop, labels, signs, now - timedelta(days=5))
    tiles = _job(
        shop,
        blue,
        now - timedelta(hours=30),
        "Colour tiles, herb spiral",
        "painted_tile",
        "reveal",
        "colour_stack",
        shape="rectangle",
        width_mm=98,
        height_mm=98,
        thickness_mm=6.5,
        coats=4,
        pieces=6,
    )
    for number in range(1, 5):
        put_coat_on(shop, tiles.pk, number, now, now - timedelta(hours=12 - number))
    _compared_coats(shop, cloches, now - timedelta(days=4))
    _photographed(shop, signs, now - timedelta(days=1, hours=4))
    _turned(shop, blue, now - timedelta(hours=8))
    _last_month(shop, blue, now - timedelta(days=31))
    put_on_shelf(shop, now - timedelta(days=9))
    reckon(shop, signs, now)
    return True


def _last_month(shop: Workshop, machine: Machine, at: datetime) -> None:
    """Cloches of the spring frames: a good glass setting, proven by two runs."""
    frames = _job(
        shop, machine, at, "Cloche labels, spring frames", "soda_lime_glass", "frost", "tempera_brushed",
        shape="disc", width_mm=110, height_mm=110, thickness_mm=4, coats=2, pieces=18,
    )  # fmt: skip
    _coat_fully(shop, frames, at + timedelta(hours=1))
    _rated_grid(shop, frames, 16, _Bounds(1.3, 5.2, 0.5), at + timedelta(hours=5))
    _rated_grid(shop, frames, 12, _Bounds(1.4, 5.0, 0.5), at + timedelta(days=1))
    _lock(shop, frames, at + timedelta(days=1, hours=2))
    record_run(shop, frames.pk, (1, 11, 0), 1, None, "one pale at the rim", at + timedelta(days=2))
    record_run(shop, frames.pk, (0, 6, 0), 1, None, "", at + timedelta(days=3))


def _lock(shop: Workshop, job: Job, at: datetime) -> None:
    seen = find_job(shop, job.pk)
    best = read_window(seen).recommendation
    if best.verdict is Verdict.NONE or best.point is None:
        raise RuntimeError("The demo's own ratings leave no clean setting.")
    lock_setting(shop, job.pk, best.point.setting, (seen.version, evidence_mark(seen)), at)


def _turned(shop: Workshop, machine: Machine, at: datetime) -> None:
    """Tapered lanterns on rollers that two seams have calibrated; measured by tape at three heights, by invention."""
    lanterns = _job(
        shop, machine, at, "Lantern glasses, pond walk", "soda_lime_glass", "frost", "tempera_brushed",
        shape="frustum", width_mm=84, narrow_mm=66, height_mm=120, thickness_mm=3, coats=2, pieces=8,
    )  # fmt: skip
    _coat_fully(shop, lanterns, at + timedelta(hours=1))
    facts = {"name": "Long rollers", "kind": "rollers", "mm_per_turn": 98.4, "stands_in_for": "x", "roller_mm": 38.0}
    rollers = add_device(shop, machine.pk, facts)
    for turns, gap_mm in ((1, -1.2), (4, -3.9)):
        add_ticks(shop, rollers.pk, of_seam(turns, gap_mm, 251.0), at)
    girths = tuple(Girth(h, round_mm, GirthTool.TAPE) for h, round_mm in ((12, 258.4), (60, 235.3), (108, 213.0)))
    spec = PlacingSpec(Mark(62, 34, way=ArtWay.LEVEL), girths, 120, NarrowEnd.TOP, 0, 90)
    save_placing(shop, lanterns.pk, spec, rollers.pk, None, 0)


def _trays(shop: Workshop, labels: Job, signs: Job, at: datetime) -> None:
    """Jigs that stand in the shop: for the bed labels, their holes to the left, and for the signs, seen from behind."""
    keep_jig(shop, "Bed label tray", labels.piece().face, JigSpec((380, 330), finger_mm=8, gap_mm=20, hole_deg=180), at)
    keep_jig(shop, "Sign tray", signs.piece().face, JigSpec((380, 330), mirrored=True), at)


def _compared_coats(shop: Workshop, like: Job, at: datetime) -> None:
    """Two coats on spares of the cloches, rated: brushed tempera has the wider window, by invention."""
    base = {
        name: getattr(like, name)
        for name in (
            "shape",
            "width_mm",
            "height_mm",
            "thickness_mm",
            "margin_mm",
            "substrate",
            "process",
            "machine_id",
            "interval_mm",
        )
    } | {"tool": ""}
    arms = [Arm("tempera_brushed", "foam_brush", 2), Arm("tempera_sprayed", "gun", 1), Arm("chalk", "pen", 2)]
    experiment = make_experiment(shop, "Cloche coats", base, arms, 1, 8, at)
    bounds = [_Bounds(1.3, 5.5, 0.5), _Bounds(1.1, 4.6, 0.5), _Bounds(1.6, 2.2, 0.5)]
    for job, bound in zip(experiment.arms.order_by("id"), bounds, strict=True):
        _coat_fully(shop, job, at)
        grid = job.grids.get()
        burn_grid(shop, grid.pk, at + timedelta(hours=6))
        _rate(shop, grid, bound, at + timedelta(hours=7))


def _own_spot(shop: Workshop, machine: Machine, at: datetime) -> None:
    """Lines into black card that the workshop burned and measured; invented, about a spot of 90 µm."""
    measured = ((6, 22.0), (8, 41.5), (11, 55.0), (16, 67.5), (24, 78.0), (36, 89.0))
    keep_lines(shop, machine.pk, [MeasuredLine(power, width) for power, width in measured], 40.0, "", "", at)
    heights = ((-3, 121.0), (-2, 102.0), (-1, 83.0), (0, 71.5), (1, 76.0), (2, 93.0), (3, 113.0))
    keep_ladder(shop, machine.pk, [MeasuredHeight(z, width) for z, width in heights], at)


def _photographed(shop: Workshop, job: Job, at: datetime) -> None:
    """A simulated photo of a streaked coat, marked as such."""
    setup = ShotSetup(Lamp.BEHIND, job.width_mm - 6, job.height_mm - 6, mean_film_um=24.0)
    shot = shoot_coat(CoatFault.STREAKED, setup, 11)
    keep_photo(shop, job.pk, shot.coated, shot.bare, 1, at, simulated=True)


def _job(
    shop: Workshop, machine: Machine, at: datetime, name: str, substrate: str, process: str, coat: str, **piece: object
) -> Job:
    values = {
        "name": name, "substrate": substrate, "process": process, "machine_id": machine.pk, "coat": coat,
        "margin_mm": 3.0, "spares": 2, "interval_mm": 0.1, "tool": "",
    }  # fmt: skip
    return create_job(shop, values | piece, at)


def _coat_fully(shop: Workshop, job: Job, at: datetime) -> None:
    mix_lot(shop, job.pk, "", at)
    for number in range(1, job.coats + 1):
        put_coat_on(shop, job.pk, number, at + timedelta(minutes=25 * number))


def _rated_grid(shop: Workshop, job: Job, cells: int, bounds: _Bounds, at: datetime) -> None:
    drawn = draw_grid(shop, job.pk, GridWish(GridKind.CROSSED, cells, job.interval_mm, 1), at)
    burn_grid(shop, drawn.pk, at + timedelta(minutes=20))
    _rate(shop, drawn, bounds, at + timedelta(minutes=50))


def _rate(shop: Workshop, drawn: TestGrid, bounds: _Bounds, at: datetime) -> None:
    grid = find_grid(shop, drawn.pk)
    job = grid.job
    fault = next(d for d in ("pinholes", "chips") if d in find_process(job.process).defects)
    for cell in grid.cells.all():
        energy = job.machine.rated_w * cell.power_pct / 100 / (cell.speed_mm_s * cell.interval_mm)
        dwell_factor = (1000 * job.machine.spot_mm / cell.speed_mm_s) ** bounds.power
        if energy > bounds.harsh_from * dwell_factor:
            seen = CellRating(cell.code, Rating.HARSH, (fault,))
        elif energy > bounds.clean_from * dwell_factor:
            seen = CellRating(cell.code, Rating.CLEAN)
        else:
            seen = CellRating(cell.code, Rating.FAINT, ("coat_left",))
        rate_cell(shop, drawn.pk, seen, cell.version, at)
