"""What the endpoints of Window and Run take and give."""

from datetime import date
from decimal import Decimal

from pydantic import Field

from keencoat.core.quantities import Art
from keencoat.core.rating import Rating
from keencoat.core.window import Change, FitStatus, ScatterBasis, SettingSchool, Verdict
from keencoat.jobs.job.schemas import LockedOut, SettingIn, SettingOut
from keencoat.jobs.window.services.locking import Evidence
from keencoat.shop.fields import Asked, FindingOut, Key, RangeOut, Shown


class LockIn(SettingIn):
    """A setting to lock, what for, the job's version and the evidence it was read at."""

    art: Art = Art.FILLS
    version: int
    evidence_mark: Key = Field(description="as the window gave it")


class PointOut(SettingOut):
    """What the window says of one setting."""

    energy_j_mm2: float
    dwell_ms: float
    minutes_per_dm2: float
    clean: RangeOut
    faint: float
    harsh: float
    margin_to_faint_pct: RangeOut
    margin_to_harsh_pct: RangeOut
    harsh_beyond_machine: bool


class BoundaryOut(Shown):
    """A boundary in power over the map's speeds, with its band; may run above 100."""

    low_pct: list[float]
    mid_pct: list[float]
    high_pct: list[float]


class MapOut(Shown):
    """Shares of clean and harsh pieces, [power][speed], and both boundaries. What is neither is faint."""

    speeds_mm_s: list[float]
    powers_pct: list[float]
    clean: list[list[float]]
    harsh: list[list[float]]
    enough: BoundaryOut
    too_much: BoundaryOut
    film_share: float = Field(description="the film it is drawn for, against the job's")
    energy_factor: float = Field(description="areal energy = factor × power_pct / speed_mm_s, J/mm²")
    minutes_factor: float = Field(description="minutes for a filled dm² = factor / speed_mm_s")


class RatedOut(Shown):
    """A rated cell on the map."""

    code: str
    power_pct: float
    speed_mm_s: float
    interval_mm: float
    passes: int
    rating: Rating


class OtherOut(Shown):
    """What another school would take, and what it would cost."""

    school: SettingSchool
    code: str
    point: PointOut
    words: str


class OpenerOut(Shown):
    """What may open a window that is shut, or widen a narrow one: how likely, what share is expected clean then, and
    where to begin, if it is a setting here."""

    change: Change
    chance: float
    words: str
    clean: float
    saved_pieces: float | None = Field(description="of the batch, against the setting as it is; None without one")
    start: SettingOut | None


class RoundWorthOut(Shown):
    """What a further round would save of the batch, and whether that is more than its spare is worth."""

    cells: int
    saved_pieces: float
    pays: bool


class RecommendationOut(Shown):
    """The setting to lock with the chance that it holds, other schools beside it, or what would open the window."""

    verdict: Verdict
    wanted_share: float
    point: PointOut | None
    power_range_pct: list[float] | None = Field(description="powers that keep the wanted share at its speed")
    held: float
    open_share: float
    could_be_mm_s: float
    others: list[OtherOut]
    openers: list[OpenerOut]
    next_round: RoundWorthOut | None
    lock_now: bool = Field(description="whether locking comes before more cells")
    advice: str


class FitOut(Shown):
    """How far the fit may be trusted."""

    status: FitStatus
    message: str
    cells: int
    pieces: int
    model_version: str
    prior_centre_j_mm2: float
    prior_source: str
    scatter_pct: float
    scatter_basis: ScatterBasis
    scatter_words: str
    surprise: float


class DriftOut(Shown):
    """What the last run says of the window: energy wanted against before, in per cent."""

    run_on: date
    energy_pct: RangeOut
    expected_clean: float
    seen_clean: float
    findings: list[FindingOut]


class OlderLockOut(Shown):
    """A lock that an older model read: what it gave, and what today's gives there."""

    version: int
    model_version: str
    setting: SettingOut
    clean_then: RangeOut
    clean_now: RangeOut


class OwnWindowOut(Shown):
    """A window of the workshop's own that lies near: what differs, and the setting it found."""

    job_id: int
    name: str
    machine: str
    distance: float
    words: str
    setting: SettingOut | None


class BegunSourceOut(Shown):
    """What a window began from besides the catalogue: one of the workshop's own jobs, a card or a line test (`job_id`
    0); what differs there and how much it counts."""

    name: str
    job_id: int
    words: str


class BegunFromOut(Shown):
    """The card of another workshop that a window begins from, and within which factor of energy it is taken to be
    right, nine times in ten."""

    workshop: str
    title: str
    setting: SettingOut
    energy_j_mm2: float
    within_factor: float


class CarryIn(Asked):
    """Where a window is carried."""

    machine_id: int
    interval_mm: float
    passes: int = Field(default=1, ge=1, le=50)
    film_share: float = 1.0


class CarryOut(Shown):
    """The window as predicted elsewhere, and the cells that would confirm it."""

    machine: str
    point: PointOut
    held: float
    open_share: float
    cells: list[SettingOut]


class WindowOut(Shown):
    """The Window chapter."""

    job_version: int
    evidence_mark: str = Field(description="changes with every rating, run and photo that the window rests on")
    interval_mm: float
    passes: int
    map: MapOut
    rated: list[RatedOut]
    recommendation: RecommendationOut
    fit: FitOut
    art: Art
    has_strokes: bool = Field(description="whether fine strokes were rated, so that their window can be read")
    evidence: Evidence
    proven: int
    drift: DriftOut | None
    older: OlderLockOut | None = Field(description="the newest lock, if another model than today's read it")
    like: list[OwnWindowOut]
    begun: str = Field(description="from what it began besides the catalogue, in words; empty for nothing")
    sources: list[BegunSourceOut]
    begun_from: BegunFromOut | None
    fill_mm: float
    peak_words: str = Field(description="from which power on it is harmed at any speed; empty where cells do not tell")
    can_lock: bool
    locked: list[LockedOut]


class SearchOut(Shown):
    """What the test pieces of a job took so far."""

    pieces: int
    cells: int
    burn_min: float
    cost: Decimal
    currency: str
