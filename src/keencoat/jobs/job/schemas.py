"""What the job endpoints take and give."""

from datetime import datetime

from pydantic import Field

from keencoat.core.flow import StepCode
from keencoat.core.piece import Shape
from keencoat.core.rating import Rating
from keencoat.core.states import BurnState, GridState, JobState
from keencoat.shop.fields import Asked, FindingOut, Key, Name, Shown


class LaserOut(Shown):
    """Something on the simulated laser."""

    id: int
    state: BurnState
    lines: int
    lines_done: int
    clock_s: float
    pace: float
    now_at: str
    trouble: str


class ChoiceIn(Asked):
    """A choice, as far as it is made."""

    machine_id: int
    substrate: Key
    process: Key = ""
    coat: Key = ""


class CoatOffer(Shown):
    """A coat that helps, with the reason."""

    key: str
    label: str
    why: str
    coats: int
    ready: str


class ChoiceOut(Shown):
    """What is said of a choice, and what suits it."""

    findings: list[FindingOut]
    forbidden: bool
    processes: list[str]
    coats: list[CoatOffer]


class JobIn(Asked):
    """A job as its maker describes it."""

    name: Name
    shape: Shape
    width_mm: float
    height_mm: float
    narrow_mm: float = 0
    thickness_mm: float
    margin_mm: float
    pieces: int = Field(le=5000)
    spares: int = Field(le=200)
    spare_worth: float = Field(1.0, description="what a spare is worth, in pieces of the batch")
    substrate: Key
    process: Key
    machine_id: int
    coat: Key
    tool: Key = ""
    coats: int = Field(le=50)
    film_um: float | None = None
    last_wait_min: float | None = None
    interval_mm: float


class JobChange(JobIn):
    """A job's description, and the version it was read at."""

    version: int


class LearningIn(Asked):
    """Whether a job's window begins from the workshop's own locked ones; and the version it was read at."""

    learns: bool
    version: int


class PutAwayIn(Asked):
    """Off the lists, or back; and the version it was read at."""

    away: bool
    version: int


class StepOut(Shown):
    """The one next step."""

    code: StepCode
    chapter: str
    title: str
    detail: str
    due_at: datetime | None


class GroupOut(Shown):
    """Pieces that stand alike."""

    first: int
    last: int
    coats_on: int
    coats_planned: int
    put_on_at: datetime | None
    next_at: datetime | None
    earliest_at: datetime | None
    latest_at: datetime | None
    ready: bool
    seen_dry: bool


class DryingOut(GroupOut):
    """Where a coat stands: its leading group, and all groups. `all_on`: every coat is on every piece."""

    all_on: bool
    burnable_pieces: int
    groups: list[GroupOut]
    now: datetime


class LockedOut(Shown):
    """A locked setting, in short: that for filled art, and that for fine strokes where one was locked beside it."""

    version: int
    at: datetime
    power_pct: float
    speed_mm_s: float
    interval_mm: float
    passes: int
    energy_j_mm2: float
    clean_low: float
    clean_mid: float
    clean_high: float
    strokes: "SettingOut | None"


class GridShort(Shown):
    """A grid, in short."""

    id: int
    label: str
    state: GridState
    cells: int
    rated: int
    burned_at: datetime | None


class FaceOut(Shown):
    """What the beam meets: the piece itself, or the wall of a round one, unrolled."""

    shape: Shape
    width_mm: float
    height_mm: float
    narrow_mm: float
    margin_mm: float


class PracticeShort(Shown):
    """What a practice job shows of itself: it is simulated, always."""

    scenario: str
    hidden: bool
    coating: str
    coated: bool
    pieces: int
    cells: int
    clean: int
    of: int
    batch: list["BatchPieceOut"]
    batch_version: int | None


class BatchPieceOut(Shown):
    """A piece of the practice batch."""

    number: int
    verdict: Rating
    why: str


class JobOut(Shown, JobChange):
    """A job with where it stands."""

    id: int
    state: JobState
    machine: str
    beam: str
    substrate_label: str
    process_label: str
    coat_label: str
    coat_colour: str
    coat_put_on: bool
    tool_label: str
    layer_um: float
    face: FaceOut
    coated_cm2: float
    coat_cv: float | None
    learns: bool = Field(description="whether its window begins from the workshop's own locked ones")
    experiment_id: int | None
    updated_at: datetime
    put_away: bool
    next: StepOut
    drying: DryingOut
    grid: GridShort | None
    locked: LockedOut | None
    artworks: int = Field(description="how many were brought")
    seen_through: bool = Field(description="whether its marks are seen through the piece, and burned mirrored")
    placed: bool = Field(description="whether anybody told how its pieces lie or turn")
    practice: PracticeShort | None


class UnreadableOut(Shown):
    """A job that cannot be shown, and why."""

    id: int
    name: str
    version: int
    put_away: bool
    why: str


class SettingOut(Shown):
    """A setting."""

    power_pct: float
    speed_mm_s: float
    interval_mm: float
    passes: int


class SettingIn(Asked):
    """A setting, as asked for."""

    power_pct: float
    speed_mm_s: float
    interval_mm: float
    passes: int = Field(ge=1, le=50)


class FactOut(Shown):
    """Something known of each burn or piece, in their order; speeds in mm/s, distances of lines in mm."""

    name: str
    unit: str
    values: list[str | float]
    differs: bool
