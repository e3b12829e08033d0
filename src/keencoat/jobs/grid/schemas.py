"""What the endpoints of Grid and Reading take and give."""

from datetime import datetime

from pydantic import Field

from keencoat.core.states import BurnState, GridState
from keencoat.core.window.model import Rating
from keencoat.jobs.coat.proof_schemas import TroubleOut
from keencoat.jobs.job.schemas import SettingIn
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


class BurnOut(Shown):
    """A burn on the simulated laser."""

    id: int
    spare: int
    state: BurnState
    lines: int
    lines_done: int
    clock_s: float
    pace: float
    now_at: str
    trouble: str


class GridOut(Shown):
    """A grid, drawn true to scale."""

    id: int | None
    job_id: int
    label: str
    kind: str
    factors: list[str]
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
    cells: list[CellOut]
    sheets: list[SheetOut]
    label_power_pct: float
    label_speed_mm_s: float
    drawn_at: datetime | None
    burned_at: datetime | None
    rating_event: int = Field(description="the newest change of ratings, which undo would take back; 0 for none")
    burn: BurnOut | None
    next_spare: int | None = Field(description="the spare that the next burn goes on; null when all are burned")


class GridWishIn(Asked):
    """What is asked of a grid; sizes left out are chosen, and so is mirroring."""

    kind: Key = "crossed"
    cells: int = 12
    interval_mm: float
    passes: int = Field(default=1, ge=1, le=50)
    cell_mm: float | None = None
    gap_mm: float | None = None
    factors: list[Key] = Field(default=[], max_length=7)
    wait_s: float = 0
    mirrored: bool | None = None
    at: SettingIn | None = Field(default=None, description="the setting of a full patch, for kind “confirm”")
    replaces: int | None = Field(default=None, description="the drawn grid that this one takes the place of")


class RatingIn(Asked):
    """What was seen at a cell, and the version it was read at. No rating clears it."""

    rating: Rating | None
    defects: list[Key] = Field(default=[], max_length=20)
    heard_snapping: bool = False
    strokes: Rating | None = Field(default=None, description="what the fine strokes beside the patch did")
    version: int


class UndoIn(Asked):
    """The newest change of ratings that was seen."""

    rating_event: int


class BurnIn(Asked):
    """How fast the simulated machine's clock runs against the wall's; chosen if left out."""

    pace: float | None = None


class GridPhotoOut(Shown):
    """A kept photo of a grid. `points`: corners of the frame as shares of the picture, upper left first, clockwise."""

    id: int
    version: int
    at: datetime
    spare: int
    only: str
    light: str
    light_label: str
    simulated: bool
    mirrored: bool
    points: list[list[float]] | None
    trouble: TroubleOut | None
    full_l: float | None
    px_per_mm: int | None
    cells: int


class CropOut(Shown):
    """Where a cell lies in a photo's straightened picture, in shares of its size, with something round it; `aspect` is
    width by height in mm."""

    photo: int
    x: float
    y: float
    width: float
    height: float
    aspect: float


class ProposalOut(Shown):
    """A proposed rating: its chances, whether it may be taken over unseen, the defects, and why."""

    rating: Rating
    faint: float
    clean: float
    harsh: float
    sure: bool
    defects: list[str]
    why: str


class CellReadingOut(Shown):
    """What photos show of a cell."""

    code: str
    photos: int
    contrast_l: float
    weber: float
    michelson: float
    full_share: float
    gap_share: float
    unevenness: float
    stripes: float | None
    speck_share: float
    speck_count: int
    roughness_mm: float
    haze: float
    tint_de: float
    strokes_seen: float | None
    strokes_merged: bool | None
    crop: CropOut
    proposal: ProposalOut


class TuningOut(Shown):
    """Where the workshop draws its lines against the usual ones."""

    full_at: float
    usual_full_at: float
    harm_factor: float
    cells: int


class GridReadingOut(Shown):
    """Photos of a grid, what they show of each cell, and what is proposed from that."""

    photos: list[GridPhotoOut]
    cells: list[CellReadingOut]
    tuning: TuningOut
    framed: bool
    spares: int


class SpotIn(Asked):
    """A point as shares of a picture."""

    x: float
    y: float


class CornersIn(Asked):
    """Corners of the frame marked by hand, or None to have it found anew; whether the grid is seen from behind."""

    points: list[SpotIn] | None = Field(default=None, max_length=8)
    mirrored: bool = False
    version: int


class PracticeStartIn(Asked):
    """What to practise on; hidden draws a material whose figures nobody knows."""

    scenario: Key
    hidden: bool = False


class CoatingIn(Asked):
    """How the practice pieces are coated."""

    coating: Key


class PracticeShotIn(Asked):
    """Which spare is photographed, and what is wrong with the photo."""

    spare: int = 1
    trouble: Key = "none"


class ScenarioOut(Shown):
    """A piece to practise on; `ground` and `mark` are how it looks beside a clean mark and on it, as #rrggbb."""

    key: str
    title: str
    words: str
    process: str
    width_mm: float
    height_mm: float
    ground: str
    mark: str


class NamedOut(Shown):
    """A choice with its label."""

    key: str
    label: str


class PracticePageOut(Shown):
    """The Practice page: what can be practised, and practices so far."""

    scenarios: list[ScenarioOut]
    coatings: list[NamedOut]
    troubles: list[NamedOut]
    jobs: list["PracticeJobOut"]
    odd: list[str]


class PracticeJobOut(Shown):
    """A practice so far, in short."""

    id: int
    name: str
    process_label: str
    hidden: bool
    pieces: int
    cells: int
    clean: int
    of: int
    updated_at: datetime
    next_title: str
    next_chapter: str
