"""What the endpoints of Grid take and give."""

from datetime import datetime
from decimal import Decimal

from pydantic import Field

from keencoat.core.grid import Factor
from keencoat.core.rating import Rating
from keencoat.core.states import GridState
from keencoat.jobs.job.schemas import LaserOut, SettingIn
from keencoat.jobs.models import GridKind
from keencoat.shop.fields import Asked, FindingOut, Key, Shown


class CellOut(Shown):
    """A cell with its setting, place and rating. mm from the centre of the piece, y up, as the mark is seen."""

    code: str
    row: int
    column: int
    power_pct: float
    speed_mm_s: float
    interval_mm: float
    passes: int
    focus_mm: float
    coats: int | None
    grey_pct: float
    energy_j_mm2: float
    dwell_ms: float
    spare: int
    x_mm: float
    y_mm: float
    burned: Key
    plain: bool
    rating: Rating | None
    defects: list[str]
    heard_snapping: bool
    strokes: Rating | None
    version: int


class FrameOut(Shown):
    """The frame: its outer edges, the width of its line, and corner and ticks as boxes (x, y, width, height; y up from
    the lower left of each), mm."""

    left_mm: float
    low_mm: float
    right_mm: float
    top_mm: float
    stroke_mm: float
    boxes: list[list[float]]


class SheetOut(Shown):
    """What lies on one spare besides the patches: codes and samples as polylines, and the frame."""

    spare: int
    codes: list[list[list[float]]]
    samples: list[list[list[float]]]
    frame: FrameOut | None


class GridHeatOut(Shown):
    """What the grid does to its piece, with low and high estimates of rises in K."""

    energy_j: float
    lines_least: int
    lines_most: int
    hottest: str
    patch_low_k: float
    patch_high_k: float
    plate_low_k: float
    plate_high_k: float


class BurnOut(LaserOut):
    """A spare of a grid on the simulated laser."""

    spare: int


class AheadOut(Shown):
    """What a search still takes until a setting may be locked; an estimate. Hours do not count a coat that is drying
    already."""

    pieces: int = Field(description="test pieces, the likeliest number")
    chance: float = Field(description="how likely so many do, 0…1")
    hours: float
    drying_hours: float = Field(description="of the hours")
    begun: str = Field(description="from what the window began besides the catalogue, in words; empty for nothing")
    cost: Decimal
    currency: str


class GridOut(Shown):
    """A grid, drawn true to scale."""

    id: int | None
    job_id: int
    label: str
    kind: GridKind
    factors: list[Factor]
    state: GridState
    rows: int
    columns: int
    cell_mm: float
    gap_mm: float
    mirrored: bool
    wait_s: float
    burn_seconds: float
    heat: GridHeatOut | None
    findings: list[FindingOut]
    ahead: AheadOut | None = Field(description="for a draft whose cells were chosen for what they tell")
    cells: list[CellOut]
    sheets: list[SheetOut]
    label_power_pct: float
    label_speed_mm_s: float
    drawn_at: datetime | None
    burned_at: datetime | None
    rating_event: int = Field(description="the newest change of ratings, which undo would take back; 0 for none")
    burn: BurnOut | None
    next_spare: int | None = Field(description="the spare that the next burn goes on; null when all are burned")


class BlindIn(Asked):
    """What a blind rectangle spans: ends and steps of power (%) and speed (mm/s)."""

    power_from: float
    power_to: float
    power_steps: int
    speed_from: float
    speed_to: float
    speed_steps: int


class GridWishIn(Asked):
    """What is asked of a grid; sizes left out are chosen, and so is mirroring."""

    kind: Key = "crossed"
    cells: int | None = Field(default=None, description="as many as pay, or twelve of a table, if left out")
    interval_mm: float
    passes: int = Field(default=1, ge=1, le=50)
    cell_mm: float | None = None
    gap_mm: float | None = None
    factors: list[Key] = Field(default=[], max_length=7)
    wait_s: float = 0
    mirrored: bool | None = None
    at: SettingIn | None = Field(
        default=None, description="the setting of a full patch or a grey wedge, for kinds “confirm” and “wedge”"
    )
    blind: BlindIn | None = Field(default=None, description="for kind “blind”; the machine's whole reach if left out")
    replaces: int | None = Field(default=None, description="the drawn grid that this one takes the place of")


class BurnIn(Asked):
    """How fast the simulated machine's clock runs against the wall's; chosen if left out."""

    pace: float | None = None
