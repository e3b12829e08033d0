"""Machines, scatter and the catalogue of what Keen Coat knows."""

from django.http import HttpRequest
from ninja import Router, Status

from keencoat.core.grid import FACTOR_LABELS, counts_for
from keencoat.core.inspect import ON_PIECES
from keencoat.core.quantities import UNITS, BeamSource
from keencoat.core.safety import Pulsing
from keencoat.core.sources import SOURCES
from keencoat.core.substrate import DEFECTS, PROCESSES, SUBSTRATES
from keencoat.core.window import LEAST_CELLS, MOST_CELLS, USUAL_LEAST_CELLS, Scatter
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Asked, Name, Shown
from keencoat.shop.models import Machine
from keencoat.shop.services import save_machine, set_scatter
from keencoat.shop.shelf import shelf_of

router = Router(tags=["shop"])


class MachineIn(Asked):
    """A machine's figures."""

    name: Name
    source: BeamSource
    rated_w: float
    spot_mm: float
    min_speed_mm_s: float
    max_speed_mm_s: float
    min_power_pct: float
    accel_mm_s2: float
    bed_x_mm: float
    bed_y_mm: float
    pulsing: Pulsing | None = None
    pulse_mj: float | None = None
    pulse_rate_khz: float | None = None


class MachineChange(MachineIn):
    """A machine's figures, and the version they were read at."""

    version: int


class MachineOut(Shown, MachineChange):
    """A machine of the workshop."""

    id: int


class ScatterBody(Asked):
    """How much the shop varies (coefficients of variation), and the share of clean pieces it wants."""

    coat_cv: float
    power_cv: float
    focus_cv: float
    wanted_share: float
    version: int = 1


class SubstrateOut(Shown):
    """A substrate."""

    key: str
    label: str
    family: str
    passes_light: bool
    refused: str


class ProcessOut(Shown):
    """A process and how to rate it."""

    key: str
    label: str
    does: str
    substrates: list[str]
    clean: str
    too_little: str
    too_much: str
    defects: list[str]
    judge: str
    interval_mm: float


class CoatOut(Shown):
    """A coat, in short."""

    key: str
    label: str
    tools: list[str]
    colour: str
    why: str
    coats: int
    film_um: float
    removal: str


class UnitOut(Shown):
    """A unit: shown = base × per_base, or per_base / base if reciprocal."""

    key: str
    quantity: str
    label: str
    per_base: float
    reciprocal: bool
    decimals: int


class LabelOut(Shown):
    """A key with its label."""

    key: str
    label: str


class SourceOut(Shown):
    """Where values come from."""

    key: str
    kind: str
    text: str


class Catalogue(Shown):
    """What Keen Coat knows, for drawing choices."""

    substrates: list[SubstrateOut]
    processes: list[ProcessOut]
    coats: list[CoatOut]
    units: list[UnitOut]
    defects: list[LabelOut]
    beams: list[LabelOut]
    grid_sizes: list[int]
    grid_sizes_of_three: list[int]
    grid_sizes_of_next: list[int]
    fewest_cells_usual: int
    grid_factors: list[LabelOut]
    sources: list[SourceOut]


@router.get("/catalogue", response=Catalogue)
def read_catalogue(request: HttpRequest) -> dict[str, object]:
    """Substrates, processes, coats, units, defects, sources."""
    return {
        "substrates": list(SUBSTRATES.values()),
        "processes": [
            ProcessOut(
                key=p.key, label=p.label, does=p.does, substrates=list(p.substrates), clean=p.clean,
                too_little=p.too_little, too_much=p.too_much, defects=list(p.defects), judge=p.judge,
                interval_mm=p.interval_mm.value,
            )
            for p in PROCESSES.values()
        ],
        "coats": [
            CoatOut(key=c.key, label=c.label, tools=list(c.tools), colour=c.colour, why=c.why,
                    coats=round(c.coats.value.plan), film_um=c.dry_um_per_coat.value, removal=c.removal)
            for c in shelf_of(workshop_of(request)).values()
        ],
        "units": list(UNITS.values()),
        "defects": [{"key": k, "label": v} for k, v in (DEFECTS | ON_PIECES).items()],
        "beams": [{"key": b.value, "label": f"{b.label}, {b.wavelength_nm:.0f} nm"} for b in BeamSource],
        "grid_sizes": list(counts_for(2)),
        "grid_sizes_of_three": list(counts_for(3)),
        "grid_sizes_of_next": list(range(LEAST_CELLS, MOST_CELLS + 1)),
        "fewest_cells_usual": USUAL_LEAST_CELLS,
        "grid_factors": [LabelOut(key=f, label=label) for f, label in FACTOR_LABELS.items()],
        "sources": list(SOURCES.values()),
    }  # fmt: skip


@router.get("/machines", response=list[MachineOut])
def list_machines(request: HttpRequest) -> list[Machine]:
    """The workshop's machines."""
    return list(Machine.objects.filter(workshop=workshop_of(request)))


@router.post("/machines", response={201: MachineOut})
def add_machine(request: HttpRequest, payload: MachineIn) -> Status[Machine]:
    """Add a machine."""
    return Status(201, save_machine(workshop_of(request), payload.model_dump()))


@router.put("/machines/{machine_id}", response=MachineOut)
def change_machine(request: HttpRequest, machine_id: int, payload: MachineChange) -> Machine:
    """Change a machine; grids that it burned keep the figures of their day."""
    values = payload.model_dump(exclude={"version"})
    return save_machine(workshop_of(request), values, machine_id, payload.version)


@router.get("/scatter", response=ScatterBody)
def read_scatter(request: HttpRequest) -> object:
    """How much the shop varies."""
    return workshop_of(request)


@router.put("/scatter", response=ScatterBody)
def change_scatter(request: HttpRequest, payload: ScatterBody) -> object:
    """Say how much the shop varies."""
    scatter = Scatter(payload.coat_cv, payload.power_cv, payload.focus_cv)
    return set_scatter(workshop_of(request), scatter, payload.wanted_share, payload.version)
