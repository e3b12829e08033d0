"""What the endpoints of Reading take and give."""

from datetime import datetime

from pydantic import Field

from keencoat.core.rating import Rating
from keencoat.core.states import GridState
from keencoat.jobs.coat.proof_schemas import TroubleOut
from keencoat.jobs.reading.models import PhotoLight
from keencoat.shop.fields import Asked, Key, Shown


class RatingIn(Asked):
    """What was seen at a cell, and the version it was read at. No rating clears it."""

    rating: Rating | None
    defects: list[Key] = Field(default=[], max_length=20)
    heard_snapping: bool = False
    strokes: Rating | None = Field(default=None, description="what the fine strokes beside the patch did")
    version: int


class CellSeenOut(Shown):
    """What was seen at a cell."""

    code: str
    rating: Rating | None
    defects: list[str]
    heard_snapping: bool
    strokes: Rating | None
    version: int


class RatingsOut(Shown):
    """A grid's ratings, after a change of them; what was drawn and burned stays as it was."""

    id: int
    state: GridState
    rating_event: int = Field(description="the newest change of ratings, which undo would take back; 0 for none")
    cells: list[CellSeenOut]


class UndoIn(Asked):
    """The newest change of ratings that was seen."""

    rating_event: int


class GridPhotoOut(Shown):
    """A kept photo of a grid. `points`: corners of the frame as shares of the picture, upper left first, clockwise."""

    id: int
    version: int
    at: datetime
    spare: int
    only: str
    light: PhotoLight
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
