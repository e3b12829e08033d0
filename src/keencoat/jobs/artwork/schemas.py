"""What the endpoints of Artwork take and give."""

from datetime import datetime

from pydantic import Field

from keencoat.core.artwork import ArtKind, OtherWay, Screen, Typeface
from keencoat.core.quantities import Range
from keencoat.core.states import BurnState
from keencoat.jobs.artwork.models import PackKind
from keencoat.jobs.coat.proof_schemas import TroubleOut
from keencoat.jobs.job.schemas import LaserOut, SettingOut
from keencoat.jobs.reading.schemas import SpotIn
from keencoat.shop.fields import Asked, FindingOut, Key, Name, Shown


class CropIO(Asked):
    """What of a picture is kept, in shares from its upper left corner."""

    left: float = 0.0
    top: float = 0.0
    right: float = 1.0
    bottom: float = 1.0


class ToneIO(Asked):
    """What is done to a picture's tones."""

    crop: CropIO = CropIO()
    black: float = 0.0
    white: float = 1.0
    gamma: float = 1.0
    brightness: float = 0.0
    contrast: float = 1.0
    local: float = 0.0
    sharpen: float = 0.0
    ground: float = 0.0


class PlacementIO(Asked):
    """Where it lies: its middle from the middle of the piece (y up) and its width, mm; then quarter turns."""

    width_mm: float
    x_mm: float = 0.0
    y_mm: float = 0.0
    quarter_turns: int = 0


class SpecIO(Asked):
    """What is asked of an artwork."""

    placement: PlacementIO
    tone: ToneIO = ToneIO()
    screen: Screen = Screen.STUCKI
    serpentine: bool = True
    take_back_gain: bool = True
    bleed_mm: float = 0.0
    group: str = Field("", max_length=80)
    typeface: Typeface = Typeface.BOLD
    one_size: bool = True
    across: bool = False
    words: str = Field("", max_length=1000)
    outlines: bool = False
    each_group: bool = False


class FilmIn(Asked):
    """Film under which artwork is looked at: so much more or less of all, and that which the coat's photo told."""

    film_pct: float = 0.0
    film_map: bool = False


class ArtworkIn(Asked):
    """A change of what is asked, by somebody who saw `version`."""

    name: Name
    spec: SpecIO
    version: int


class SetNameOut(Shown):
    """A name of a list as it is set; `why` is empty where it fits."""

    row: int
    first: str
    second: str
    capital_mm: float
    why: str


class ArtworkOut(Shown):
    """An artwork: what was brought, and what is asked of it. `groups` are those of a drawing; `height_per_width` its
    proportions, 0 for names; `capital_of_width` how high capitals of typed text are for its width. `engraved`: drawn in
    lines, at the setting for fine strokes."""

    id: int
    name: str
    kind: ArtKind
    at: datetime
    version: int
    spec: SpecIO
    groups: list[str]
    pieces: int = Field(description="over how many pieces it is split")
    stem: str = Field(description="what its files begin with")
    height_per_width: float
    capital_of_width: float
    engraved: bool


class ArtBaseOut(Shown):
    """What artwork of the job is made on: the locked setting, what becomes of light and dark, and the coat's room."""

    lock_version: int
    setting: SettingOut
    says: str
    one_tone: str
    darkens: bool
    mirrored: bool
    focus: str
    width_mm: float
    height_mm: float
    room_width_mm: float = Field(description="of the box about the coat")
    room_height_mm: float
    line_mm: float
    gap_mm: float
    capital_mm: float
    capital_pt: float = Field(description="the same as the size of our plain typeface, in points of 1/72 inch")
    engraved_capital_mm: float
    engraving: SettingOut
    wedge: str
    film_photo: datetime | None = Field(description="when the photo was taken that tells this coat's film")
    stamp: str = Field(description="changes whenever a picture of any artwork may look otherwise")


class CurvePointOut(Shown):
    """Share of dots, and how full it comes out."""

    share: float
    fullness: Range


class WedgeStepOut(Shown):
    """A grey of the wedge as it came out."""

    share: float
    fullness: float


class CurveOut(Shown):
    """From the share of dots burned to how full the mark is: expected, or read off the wedge of grid `wedge`."""

    screen: Screen
    wedge: str
    points: list[CurvePointOut]
    steps: list[WedgeStepOut]


class WayTimeOut(Shown):
    """What another way of burning the same would take; `tested`: whether the locked setting covers it."""

    way: OtherWay
    seconds: float
    tested: bool


class BurnedSharesOut(Shown):
    """How much of what is burned is expected faint or harsh on the whole, and how much is called so place by place:
    where that is likelier than seven in ten."""

    faint: float
    harsh: float
    called_faint: float
    called_harsh: float


class ArtFiguresOut(Shown):
    """Figures of one piece, and what to mind."""

    label: str
    why: str
    dots: int
    lit_mm2: float
    lit_mm: float
    seconds: float
    batch_seconds: float
    energy_j: float
    fill_mm: float
    fill_k: list[float]
    plate_k: list[float]
    shares: BurnedSharesOut
    ways: list[WayTimeOut]
    findings: list[FindingOut]


class ArtworksOut(Shown):
    """A job's artworks, and what they are made on; `base` is null while no setting is locked."""

    base: ArtBaseOut | None
    artworks: list[ArtworkOut]


class ArtBurnIn(Asked):
    """Which piece of a list is burned, from 0; 0 for all else."""

    piece: int = 0


class SeenFlawOut(Shown):
    """A flaw that a photo shows, in words; `sign` is "" for one that only eyes can name."""

    sign: str
    words: str


class PatchOut(Shown):
    """A part of the picture, as shares of its width and height from the upper left; `missing` a mark, or with one that
    was not meant."""

    left: float
    top: float
    width: float
    height: float
    missing: bool


class LikenessOut(Shown):
    """How a finished piece compares with what was expected (`core.artwork.compare.Likeness`)."""

    off_l: float
    off_l_most: float
    lean_l: float
    faint_share: float
    turned_deg: float
    anchored: bool
    shift_mm: list[float] | None
    askew_deg: float | None
    size_pct: list[float] | None
    seen: list[SeenFlawOut] | None = Field(description="null where the photo is no measure of it")
    patches: list[PatchOut]


class ArtPhotoOut(Shown):
    """A photo of a finished piece: of which version of the artwork, at which setting, of which piece of a list."""

    id: int
    version: int
    at: datetime
    simulated: bool
    waiting: bool = Field(description="whether a worker has yet to compare it")
    made_version: int
    lock_version: int
    piece: int
    points: list[list[float]] | None
    round: bool
    trouble: TroubleOut | None
    likeness: LikenessOut | None


class ArtPiecesOut(Shown):
    """What came of an artwork: its last burn on the simulated laser, photos, files of all its pieces, how many versions
    were taken."""

    burn: LaserOut | None
    photos: list[ArtPhotoOut]
    packs: list["ArtPackOut"]
    versions: int


class ArtCornersIn(Asked):
    """Corners of the piece marked by hand, or None to have it found anew."""

    points: list[SpotIn] | None = Field(default=None, max_length=8)
    version: int


class ArtShotIn(Asked):
    """What is wrong with the photo."""

    trouble: Key = "none"


class TakeIn(Asked):
    """Which version of an artwork somebody saw."""

    version: int


class TakenOut(Shown):
    """What was kept: a version of an artwork, for a version of the locked setting."""

    version: int
    lock_version: int


class ArtPackIn(Asked):
    """What all pieces are made into."""

    kind: PackKind


class ArtPackOut(Shown):
    """All pieces of an artwork in one file: of which version, at which setting, how far it is."""

    id: int
    kind: PackKind
    version: int
    lock_version: int
    state: BurnState
    pieces: int
    pieces_done: int
    trouble: str
