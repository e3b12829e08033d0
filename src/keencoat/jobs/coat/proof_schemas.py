"""What the proof of a coat and the comparison of coats take and give."""

from datetime import datetime

from pydantic import Field

from keencoat.core.coat.evenness import FaultKind, LightWay, Reference
from keencoat.core.vision import EdgeKind
from keencoat.jobs.job.schemas import JobOut, SettingOut
from keencoat.jobs.models import HoldUpWay
from keencoat.shop.fields import Asked, FindingOut, Key, RangeOut, ShortName, Shown


class FaultOut(Shown):
    """A fault, mm from the upper left corner of the face."""

    kind: FaultKind
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    area_mm2: float
    film: float


class StreaksOut(Shown):
    """Streaks."""

    direction_deg: float
    spacing_mm: float
    depth: float
    coherence: float


class ReadingOut(Shown):
    """What was measured on a photo: film in 1 mm squares (1 = mean; null outside), faults, streaks."""

    frame: EdgeKind
    width_mm: float
    height_mm: float
    way: LightWay
    reference: Reference
    mean_signal: float
    blind_share: float
    trust: float
    faults: list[FaultOut]
    streaks: StreaksOut
    squares: list[list[float | None]]


class TroubleOut(Shown):
    """Why a photo could not be measured."""

    message: str
    hint: str
    field: str


class PicturePoint(Asked):
    """A point of a picture, as shares of its width and height, y down."""

    x: float
    y: float


class CoatPhotoOut(Shown):
    """A kept photo, and what was measured on it."""

    id: int
    version: int
    at: datetime
    piece: int | None
    simulated: bool
    has_bare: bool
    points: list[PicturePoint] | None
    trouble: TroubleOut | None
    cv: float | None
    reading: ReadingOut | None
    findings: list[FindingOut]


class MarkCostOut(SettingOut):
    """What the measured variation costs at a setting."""

    usual_cv: float
    taken_cv: float
    clean_usual: float
    clean_measured: float


class HoldUpOut(Shown):
    """A hold-up test."""

    id: int
    job_id: int
    at: datetime
    coats: int
    bare: float
    coated: float
    way: HoldUpWay
    density: RangeOut


class DarknessOut(Shown):
    """How many coats the wanted density takes."""

    wanted: float
    per_coat: RangeOut
    plan: int
    low: int
    high: int
    source: str


class ProofOut(Shown):
    """The Prove step. `darkness` is null where no light comes through the piece."""

    way: LightWay
    frame: EdgeKind
    face_width_mm: float
    face_height_mm: float
    coats: int
    photos: list[CoatPhotoOut]
    holdups: list[HoldUpOut]
    darkness: DarknessOut | None
    coat_cv: float | None
    usual_cv: float
    cost: MarkCostOut | None
    practice_piece: int | None = Field(description="the practice piece whose coat may be photographed next")


class MarkedIn(Asked):
    """Corners marked by hand, as shares of the picture; null finds them anew."""

    points: list[PicturePoint] | None = Field(default=None, max_length=8)
    version: int


class HoldUpIn(Asked):
    """Lux through the bare piece and through so many coats."""

    coats: int
    bare: float
    coated: float


class PracticeIn(Asked):
    """Which fault the simulated coat should have."""

    fault: Key
    with_bare: bool = True


class ArmIn(Asked):
    """One way to coat."""

    coat: Key
    tool: Key = ""
    coats: int = Field(le=50)


class ExperimentIn(Asked):
    """An experiment: the piece and process of a job, and the ways to compare on it."""

    name: ShortName
    like_job: int
    arms: list[ArmIn] = Field(max_length=20)
    replicates: int = 1
    cells: int = 8


class ArmOut(Shown):
    """An arm as it stands."""

    job: JobOut
    label: str
    pieces: int
    cells: int
    clean: int
    share: float
    low: float
    high: float
    best: float
    fastest_clean_mm_s: float | None


class AssignmentOut(Shown):
    """Which piece gets which arm."""

    piece: int
    arm: int


class ExperimentOut(Shown):
    """An experiment as it stands."""

    id: int
    name: str
    made_at: datetime
    replicates: int
    order: list[AssignmentOut]
    arms: list[ArmOut]
